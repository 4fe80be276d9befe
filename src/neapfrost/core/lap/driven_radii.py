"""A path with other driven radii in its corners, on the grid that it has.

As when a corner is redrawn between its straights, the tangent points move along them by
ΔR·tan(θ/2), so that braking begins elsewhere on the road; the turned angle stays. The nodes keep
their corners and straights, and their steps become longer or shorter.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import STRAIGHTS_HELD_FROM_DEG
from neapfrost.core.lap.altered_road import with_curvature
from neapfrost.core.path.build import Path

STRAIGHT_SHORTEST_M = 1.0  # a straight that would become shorter has no room to give


@dataclass(frozen=True, eq=False)
class Redrawn:
    """A packed road (n, 2, 16), its steps (n,), and where its nodes (n + 1,) lie on the old one."""

    road: Floats
    lengths_m: Floats
    at_m: Floats


@dataclass(frozen=True, eq=False)
class _Bends:
    """Of c corners: edges on the grid [m], metres a unit of the radius's factor moves them, room.

    `corner` (n,) is the number of the corner that each step belongs to, else -1.
    """

    begins_m: Floats
    ends_m: Floats
    shift_m: Floats
    room_m: Floats
    corner: Integers


def redrawn(path: Path, road: Floats, factors: Floats) -> Redrawn:
    """The path's road with each corner's driven radius times its factor (c,).

    A corner that turns 160° or more, or that has no straight beside it with room to give, keeps its
    beginning and its end, and what changes is its length alone.
    """
    bends = _bends(path)
    moved = (factors - 1.0) * bends.shift_m
    moved = np.where(bends.room_m - moved < STRAIGHT_SHORTEST_M, 0.0, moved)
    inside = bends.corner >= 0
    wider = np.where(inside, factors[bends.corner], 1.0) if len(factors) else np.ones(len(road))
    places = np.concatenate((bends.begins_m, bends.ends_m))
    moves = np.concatenate((-moved, moved))
    if not path.closed:
        places = np.concatenate((places, (0.0, path.length_m)))
        moves = np.concatenate((moves, (0.0, 0.0)))
    if len(places) == 0:
        return Redrawn(road, np.diff(path.s_m), path.s_m)
    if path.closed:
        move = np.interp(path.s_m, places, moves, period=path.length_m)
    else:
        order = np.argsort(places, kind="stable")
        move = np.interp(path.s_m, places[order], moves[order])
    at_m = path.s_m + move
    lengths_m = np.where(inside, np.diff(path.s_m) * wider, np.diff(at_m))
    altered = with_curvature(path, road, np.arange(len(road)), 1.0 / wider)
    return Redrawn(altered, lengths_m, at_m)


@lru_cache(maxsize=16)
def _bends(path: Path) -> _Bends:
    """What redrawing the corners of a path takes; kept for when it is asked for again."""
    count = len(path.corners)
    nodes = [(_node(path, c.begins_at_m), _node(path, c.ends_at_m)) for c in path.corners]
    corner = np.full(len(path.s_m) - 1, -1, dtype=np.int64)
    shift, room = np.zeros(count), np.zeros(count)
    length, lengths = path.length_m, np.diff(path.s_m)
    curvature = np.abs(0.5 * (path.curvature_start + path.curvature_end))
    for number, (first, last) in enumerate(nodes):
        steps = np.arange(first, last) % len(corner)
        corner[steps] = number
        turned = float((curvature * lengths)[steps].sum())
        sharpness = float((curvature**2 * lengths)[steps].sum())
        half = 0.5 * turned
        if sharpness > 0.0 and math.degrees(turned) < STRAIGHTS_HELD_FROM_DEG:
            shift[number] = turned / sharpness * math.tan(half)
        before = nodes[number - 1][1] if number > 0 or path.closed else 0
        after = nodes[(number + 1) % count][0] if number + 1 < count or path.closed else None
        ahead = length if after is None else _at(path, after)
        gaps = (_at(path, first) - _at(path, before), ahead - _at(path, last))
        # On a closed path the neighbour may lie across the line, any number of laps away.
        room[number] = min(gap % length if path.closed else gap for gap in gaps)
    begins = np.array([path.ring.fold(_at(path, first)) for first, _ in nodes])
    ends = np.array(
        [_at(path, last) % length if path.closed else _at(path, last) for _, last in nodes]
    )
    return _Bends(begins, ends, shift, room, corner)


def _node(path: Path, at_m: float) -> int:
    """The node nearest to a place, unfolded like it."""
    count = len(path.s_m) - 1
    laps = math.floor(at_m / path.length_m) if path.closed else 0
    within = at_m - laps * path.length_m
    after = int(np.clip(path.s_m.searchsorted(within), 1, count))
    nearer = after if path.s_m[after] - within <= within - path.s_m[after - 1] else after - 1
    return nearer + laps * count


def _at(path: Path, node: int) -> float:
    count = len(path.s_m) - 1
    laps, within = divmod(node, count) if path.closed else (0, node)
    return float(path.s_m[within] + laps * path.length_m)
