"""What a person asks of the line at a corner or a place, beside the kind of line."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.path.build import Corner, Path

#: How near a held place the offset must be [m].
HELD_WITHIN_M = 0.05
#: Share of a corner's turned angle before which a late apex does not lie.
LATE_APEX_SHARE = 0.6


@dataclass(frozen=True)
class CornerWish:
    """What is asked of one corner, by its place among the road's corners.

    The apex lies no earlier or no later than a share of the turned angle; the driven radius at
    its tightest is `radius_m`. None: not asked.
    """

    corner: int
    no_earlier: float | None = None
    no_later: float | None = None
    radius_m: float | None = None


@dataclass(frozen=True)
class Hold:
    """The line held at an offset [m, left positive] at a road position [m]."""

    at_m: float
    offset_m: float


@dataclass(frozen=True, eq=False)
class Bounds:
    """Bounds of every node's offset [m], heading [rad] and curvature [1/m], (n + 1,) each."""

    right_m: Floats
    left_m: Floats
    heading_low: Floats
    heading_high: Floats
    curvature_low: Floats
    curvature_high: Floats


def turned_share_at_m(road: Path, corner: Corner, share: float) -> float:
    """Road position where a corner has turned a share of its angle [m], unfolded."""
    heading = _unrolled(road, np.array([corner.begins_at_m, corner.ends_at_m]))
    places = np.linspace(corner.begins_at_m, corner.ends_at_m, 401)
    turned = np.abs(_unrolled(road, places) - heading[0])
    return float(np.interp(share * abs(heading[1] - heading[0]), turned, places))


def _unrolled(road: Path, at_m: Floats) -> Floats:
    laps, inside = np.divmod(at_m, road.length_m) if road.closed else (0.0 * at_m, at_m)
    heading: Floats = np.interp(inside, road.s_m, road.heading_rad) + laps * road.heading_rad[-1]
    return heading


def stretch(road: Path, from_m: float, to_m: float) -> Floats:
    """Indices of the nodes between two positions, which may lie beyond the line."""
    inside = [np.flatnonzero((road.s_m >= from_m - 1e-9) & (road.s_m <= to_m + 1e-9))]
    if road.closed:
        for shift in (-road.length_m, road.length_m):
            at = road.s_m + shift
            inside.append(np.flatnonzero((at >= from_m - 1e-9) & (at <= to_m + 1e-9)))
    return np.unique(np.concatenate(inside))


def bounds(
    field: Corridor,
    wishes: tuple[CornerWish, ...],
    holds: tuple[Hold, ...],
    heading_most: float,
    curvature_most: float,
) -> Bounds:
    """The corridor with the wishes as bounds.

    An apex no earlier than a place: up to there the line may only move inwards. No later: from
    there it may only move outwards. A driven radius bounds the curvature of the whole corner and
    is reached where the road has turned half.
    """
    road = field.road
    count = len(road.s_m)
    made = Bounds(
        field.right_m.copy(),
        field.left_m.copy(),
        np.full(count, -heading_most),
        np.full(count, heading_most),
        np.full(count, -curvature_most),
        np.full(count, curvature_most),
    )
    for wish in wishes:
        corner = road.corners[wish.corner]
        inward = (made.heading_low, 0.0) if corner.turn > 0 else (made.heading_high, 0.0)
        outward = (made.heading_high, 0.0) if corner.turn > 0 else (made.heading_low, 0.0)
        if wish.no_earlier is not None:
            at = turned_share_at_m(road, corner, wish.no_earlier)
            inward[0][stretch(road, corner.begins_at_m, at)] = 0.0
        if wish.no_later is not None:
            at = turned_share_at_m(road, corner, wish.no_later)
            outward[0][stretch(road, at, corner.ends_at_m)] = 0.0
        if wish.radius_m is not None:
            nodes = stretch(road, corner.begins_at_m, corner.ends_at_m)
            middle = turned_share_at_m(road, corner, 0.5)
            apex = nodes[np.argmin(np.abs(_apart(road, road.s_m[nodes], middle)))]
            most = corner.turn / wish.radius_m
            if corner.turn > 0:
                made.curvature_high[nodes] = most
            else:
                made.curvature_low[nodes] = most
            made.curvature_low[apex] = made.curvature_high[apex] = most
    for hold in holds:
        node = int(np.argmin(np.abs(_apart(road, road.s_m, hold.at_m))))
        low, high = hold.offset_m - HELD_WITHIN_M, hold.offset_m + HELD_WITHIN_M
        made.right_m[node] = min(max(made.right_m[node], low), made.left_m[node] - 0.01)
        made.left_m[node] = max(min(made.left_m[node], high), made.right_m[node] + 0.01)
    return made


def _apart(road: Path, at_m: Floats, place_m: float) -> Floats:
    """Signed distance along the road, the short way round on a closed one."""
    apart = at_m - place_m
    if road.closed:
        apart = (apart + 0.5 * road.length_m) % road.length_m - 0.5 * road.length_m
    return apart
