"""Straights and corners laid end to end, and places and headings along them."""

import math
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
    """Segments from poses of their own, or end to end: pieces, edges and poses, (k + 1,) each.

    `flat` are the pieces' columns (share, x, y, heading) one after the other, (m, 4); `first` and
    `count` (k,) say where each piece stands in them, and of how many equal parts it is.
    """

    pieces: list[Piece]
    edges_m: Floats
    x_m: Floats
    y_m: Floats
    heading_rad: Floats
    flat: Floats
    first: Integers
    count: Integers


def laid_from(segments: list[Segment], pieces: list[Piece], poses: Floats) -> Laid:
    """Segments each from its own pose (x, y, heading), the end's as the last one; (k + 1, 3)."""
    lengths = [segment_length_m(segment) for segment in segments]
    sizes = np.array([len(piece.share) for piece in pieces])
    return Laid(
        pieces,
        np.concatenate(([0.0], np.cumsum(lengths))),
        poses[:, 0],
        poses[:, 1],
        poses[:, 2],
        np.vstack(
            [np.column_stack((p.share, p.x_m, p.y_m, p.heading_rad)) for p in pieces],
        ),
        np.concatenate(([0], np.cumsum(sizes)[:-1])),
        sizes - 1,
    )


def lay(segments: list[Segment], start: Floats) -> Laid:
    """Segments laid end to end from a start's pose (3,)."""
    pieces = [laid_piece(segment) for segment in segments]
    poses = [(float(start[0]), float(start[1]), float(start[2]))]
    for piece in pieces:
        x, y, heading = poses[-1]
        cos, sin = math.cos(heading), math.sin(heading)
        own_x, own_y = float(piece.x_m[-1]), float(piece.y_m[-1])
        poses.append(
            (
                x + cos * own_x - sin * own_y,
                y + sin * own_x + cos * own_y,
                heading + float(piece.heading_rad[-1]),
            )
        )
    return laid_from(segments, pieces, np.array(poses))


def places_at(laid: Laid, segment: Integers, share: Floats) -> tuple[Floats, Floats, Floats]:
    """Place and heading at shares of segments; (n,) each."""
    parts = laid.count[segment]
    into = share * parts
    part = np.clip(into.astype(np.int64), 0, parts - 1)
    row = laid.first[segment] + part
    # Beyond the ends of a segment stands what stands at its end.
    rest = np.clip(into - part, 0.0, 1.0)[:, None]
    _, px, py, turned = (laid.flat[row] + rest * (laid.flat[row + 1] - laid.flat[row])).T
    heading = laid.heading_rad[segment]
    cos, sin = np.cos(heading), np.sin(heading)
    x = laid.x_m[segment] + cos * px - sin * py
    y = laid.y_m[segment] + sin * px + cos * py
    return x, y, heading + turned


def shares(laid: Laid, places: Floats) -> tuple[Integers, Floats]:
    """The segment beside each point, and its share of it."""
    edges = laid.edges_m
    segment = np.clip(np.searchsorted(edges, places, side="right") - 1, 0, len(edges) - 2)
    return segment.astype(np.int64), (places - edges[segment]) / np.diff(edges)[segment]
