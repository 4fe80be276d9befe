"""Corners of a measured path, found by its curvature."""

import itertools

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import CORNER_EDGE_SHARE, CORNER_LARGEST_RADIUS_M
from neapfrost.core.path.plan_view import Extent


def find_corners(at_m: Floats, curvature_per_m: Floats, closed: bool) -> tuple[Extent, ...]:
    """Corners where |κ| peaks above 1/800 m, named T1, T2, … in the order of the lap.

    A corner reaches from where |κ| first to where it last exceeds 10 % of its peak. Two peaks of
    one sign are two corners when |κ| between them falls below half of the smaller. On a closed
    path a corner may end beyond the finish line. Shapes: both (n,).
    """
    length = at_m[-1] - at_m[0]
    offset = 0
    if closed:
        # Start at the straightest place, so that no corner is cut by the line.
        offset = int(np.argmin(np.abs(curvature_per_m[:-1])))
        at_m = np.concatenate((at_m[offset:-1], at_m[: offset + 1] + length))
        curvature_per_m = np.concatenate(
            (curvature_per_m[offset:-1], curvature_per_m[: offset + 1])
        )

    extents: list[Extent] = []
    sign = np.sign(curvature_per_m)
    for begin, end in _runs_of_one_sign(sign):
        bend = np.abs(curvature_per_m[begin:end])
        for first, last in _split_at_dips(bend):
            extents.append(
                _extent(at_m, curvature_per_m, begin + first, begin + last, int(sign[begin]))
            )
    extents = [
        Extent(
            e.name,
            e.turn,
            e.begins_at_m % length,
            e.begins_at_m % length + e.ends_at_m - e.begins_at_m,
        )
        if closed
        else e
        for e in extents
    ]
    extents.sort(key=lambda extent: extent.begins_at_m)
    return tuple(
        Extent(f"T{number}", e.turn, e.begins_at_m, e.ends_at_m)
        for number, e in enumerate(extents, start=1)
    )


def _runs_of_one_sign(sign: Floats) -> list[tuple[int, int]]:
    """Half-open index ranges in which the sign is constant and not zero."""
    edges = np.flatnonzero(np.diff(sign)) + 1
    bounds = np.concatenate(([0], edges, [len(sign)]))
    return [(int(b), int(e)) for b, e in itertools.pairwise(bounds) if sign[b] != 0]


def _split_at_dips(bend: Floats) -> list[tuple[int, int]]:
    """Inclusive index ranges, one for each corner in a run of one sign.

    Walks along the run, keeping the highest point since the last cut and the lowest after it; a
    new peak counts once the dip before it lies below half of the smaller of the two.
    """
    threshold = 1.0 / CORNER_LARGEST_RADIUS_M
    peaks: list[int] = []
    dips: list[int] = []
    peak, dip = 0, 0
    for index in range(1, len(bend)):
        if bend[index] < bend[dip]:
            dip = index
        if bend[dip] < 0.5 * min(bend[peak], bend[index]) and bend[index] > threshold:
            if bend[peak] > threshold:
                peaks.append(peak)
                dips.append(dip)
            peak, dip = index, index
        elif bend[index] > bend[peak]:
            peak, dip = index, index
    if bend[peak] > threshold:
        peaks.append(peak)
    cuts = [0, *dips[: max(0, len(peaks) - 1)], len(bend) - 1]
    return [(cuts[i], cuts[i + 1]) for i in range(len(peaks))]


def _extent(at: Floats, curvature: Floats, first: int, last: int, turn: int) -> Extent:
    """Extent of one corner within the inclusive range, edges interpolated between stations."""
    bend = np.abs(curvature[first : last + 1])
    edge = CORNER_EDGE_SHARE * bend.max()
    above = np.flatnonzero(bend > edge)
    low, high = first + int(above[0]), first + int(above[-1])
    begins = at[low] if low == 0 else _crossing(at, curvature * turn, low - 1, low, edge)
    at_end = high == len(at) - 1
    ends = at[high] if at_end else _crossing(at, curvature * turn, high + 1, high, edge)
    return Extent("", turn, float(begins), float(ends))


def _crossing(at: Floats, bend: Floats, outside: int, inside: int, level: float) -> float:
    """Where the line between two stations passes `level`; the inside one when it never does."""
    rise = bend[inside] - bend[outside]
    if bend[outside] >= level or rise <= 0.0:
        return float(at[inside])
    share = (level - bend[outside]) / rise
    return float(at[outside] + share * (at[inside] - at[outside]))
