"""Lines of equal lap time over two figures, where it is best, and what the plateau takes in."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from contourpy import contour_generator
from numpy.typing import NDArray

from neapfrost.core.arrays import Floats

#: Spacings that a reader counts in [s].
SPACINGS_S = (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0)
LINES_WANTED = 8


@dataclass(frozen=True)
class Isobar:
    """A line of equal lap time [s]: its pieces, each of places (p, 2) in the two figures."""

    lap_time_s: float
    pieces: tuple[Floats, ...]


@dataclass(frozen=True)
class Optimum:
    """The quickest that is allowed: row and column of the grid."""

    row: int
    column: int


def isobars(x: Floats, y: Floats, lap_time_s: Floats) -> tuple[Isobar, ...]:
    """Lines at round distances from the quickest lap; x (n,), y (m,), times (m, n), NaN allowed."""
    if len(x) < 2 or len(y) < 2 or np.isfinite(lap_time_s).sum() < 3:
        return ()
    least, most = float(np.nanmin(lap_time_s)), float(np.nanmax(lap_time_s))
    wanted = (most - least) / LINES_WANTED
    apart = next((spacing for spacing in SPACINGS_S if spacing >= wanted), SPACINGS_S[-1])
    first = math.ceil(least / apart - 1e-9)
    levels = [n * apart for n in range(first, math.floor(most / apart + 1e-9) + 1)]
    lines = contour_generator(x=x, y=y, z=np.ma.masked_invalid(lap_time_s))
    found = []
    for level in levels:
        pieces = tuple(np.asarray(piece) for piece in lines.lines(level))
        if pieces:
            found.append(Isobar(level, pieces))
    return tuple(found)


def allowed(
    shape: tuple[int, int],
    at_least: Sequence[tuple[Floats, float]],
    at_most: Sequence[tuple[Floats, float]],
) -> NDArray[np.bool_]:
    """Where every constraint holds; each is a figure over the grid (m, n) and its bound."""
    fits = np.ones(shape, dtype=bool)
    for values, bound in at_least:
        fits &= np.nan_to_num(values, nan=-np.inf) >= bound - 1e-9
    for values, bound in at_most:
        fits &= np.nan_to_num(values, nan=np.inf) <= bound + 1e-9
    return fits


def optimum(lap_time_s: Floats, fits: NDArray[np.bool_]) -> Optimum | None:
    """The quickest place of a grid (m, n) among those that fit; None where none does."""
    times = np.where(fits & np.isfinite(lap_time_s), lap_time_s, np.inf)
    if not np.isfinite(times).any():
        return None
    row, column = np.unravel_index(int(np.argmin(times)), times.shape)
    return Optimum(int(row), int(column))
