"""Straights and corners laid end to end, and places and headings along them."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.path.circuit import Bend, Segment, Straight
from neapfrost.core.path.plan_view import ramps_m, segment_length_m

PIECE_STEP_M = 2.0


@dataclass(frozen=True, eq=False)
class Piece:
    """One segment from its own start along its own first heading, at shares of it; (m,) each."""

    share: Floats
    x_m: Floats
    y_m: Floats
    heading_rad: Floats


def laid_piece(segment: Segment) -> Piece:
    length = segment_length_m(segment)
    if isinstance(segment, Straight):
        ends = np.array([0.0, 1.0])
        return Piece(ends, length * ends, np.zeros(2), np.zeros(2))
    count = max(8, int(np.ceil(length / PIECE_STEP_M)))
    share = np.linspace(0.0, 1.0, 2 * count + 1)
    heading = _turned(segment, length * share)
    step = length / count
    cos, sin = np.cos(heading), np.sin(heading)
    dx = step / 6.0 * (cos[:-2:2] + 4.0 * cos[1:-1:2] + cos[2::2])
    dy = step / 6.0 * (sin[:-2:2] + 4.0 * sin[1:-1:2] + sin[2::2])
    zero = np.zeros(1)
    return Piece(
        share[::2],
        np.concatenate((zero, np.cumsum(dx))),
        np.concatenate((zero, np.cumsum(dy))),
        heading[::2],
    )


def _turned(bend: Bend, s: Floats) -> Floats:
    """Heading turned through at distances along a bend of one radius with its ramps [rad]."""
    length, bent = segment_length_m(bend), bend.turn / bend.radius_m
    ramp_in, ramp_out = ramps_m(bend)
    total = bent * (length - 0.5 * (ramp_in + ramp_out))
    turned = bent * (s - 0.5 * ramp_in)
    if ramp_in > 0.0:
        turned = np.where(s < ramp_in, bent * s**2 / (2.0 * ramp_in), turned)
    if ramp_out > 0.0:
        falling = total - bent * (length - s) ** 2 / (2.0 * ramp_out)
        turned = np.where(s > length - ramp_out, falling, turned)
    return turned


@dataclass(frozen=True, eq=False)
class Laid:
    """Segments laid end to end from a start: each one's piece, and its start, (k + 1,) each."""

    pieces: list[Piece]
    edges_m: Floats
    x_m: Floats
    y_m: Floats
    heading_rad: Floats


def lay(segments: list[Segment], start: Floats) -> Laid:
    pieces = [laid_piece(segment) for segment in segments]
    x, y, heading = [start[0]], [start[1]], [start[2]]
    for piece in pieces:
        cos, sin = np.cos(heading[-1]), np.sin(heading[-1])
        x.append(x[-1] + cos * piece.x_m[-1] - sin * piece.y_m[-1])
        y.append(y[-1] + sin * piece.x_m[-1] + cos * piece.y_m[-1])
        heading.append(heading[-1] + piece.heading_rad[-1])
    lengths = [segment_length_m(segment) for segment in segments]
    return Laid(
        pieces,
        np.concatenate(([0.0], np.cumsum(lengths))),
        np.array(x),
        np.array(y),
        np.array(heading),
    )


def places_at(laid: Laid, segment: Integers, share: Floats) -> tuple[Floats, Floats, Floats]:
    """Place and heading at shares of segments; (n,) each."""
    x, y, heading = np.empty(len(share)), np.empty(len(share)), np.empty(len(share))
    for number, piece in enumerate(laid.pieces):
        own = segment == number
        if not own.any():
            continue
        px, py = (
            np.interp(share[own], piece.share, piece.x_m),
            np.interp(share[own], piece.share, piece.y_m),
        )
        cos, sin = np.cos(laid.heading_rad[number]), np.sin(laid.heading_rad[number])
        x[own] = laid.x_m[number] + cos * px - sin * py
        y[own] = laid.y_m[number] + sin * px + cos * py
        heading[own] = laid.heading_rad[number] + np.interp(
            share[own], piece.share, piece.heading_rad
        )
    return x, y, heading


def shares(laid: Laid, places: Floats) -> tuple[Integers, Floats]:
    """The segment beside each point, and its share of it."""
    edges = laid.edges_m
    segment = np.clip(np.searchsorted(edges, places, side="right") - 1, 0, len(edges) - 2)
    return segment.astype(np.int64), (places - edges[segment]) / np.diff(edges)[segment]
