"""What is asked of the driver at single corners: a gear, less braking, another grip."""

from collections.abc import Sequence

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.altered_road import (
    corner_steps,
    steps_between,
    with_braking,
    with_corner_gear,
    with_grip,
)
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.drive import CornerOrder, Drive
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.path.build import Path


def road_with_orders(drive: Drive) -> Floats:
    """The path's packed road with every order in its place that asks for grip or a gear."""
    path = drive.path
    road = pack_road(path)[0]
    for order in drive.orders:
        if order.grip_factor is not None:
            road = with_grip(road, corner_steps(path, order.corner), order.grip_factor)
        if order.gear is not None:
            road = with_corner_gear(path, road, order.corner, order.gear)
    return road


def with_ordered_braking(road: Floats, orders: Sequence[CornerOrder], free: DrivenLap) -> Floats:
    """A packed road with every order for the braking before a corner.

    Where the approach of a corner begins is seen on `free`, the lap without these orders.
    """
    for order in orders:
        if order.changes_approach:
            steps = steps_between(free.lap.path, *approach_m(free, order.corner))
            road = with_braking(road, steps, order.braking, order.entry_exponent)
    return road


def approach_m(driven: DrivenLap, corner: int) -> tuple[float, float]:
    """From where to where a driver slows for a corner, unfolded [m].

    From the slowest point before it that the driver slowed for, or the start of an open course,
    to its own slowest point or, where nothing is shed, its beginning.
    """
    path = driven.lap.path
    own = driven.corners[corner]
    begins = path.corners[corner].begins_at_m
    to_m = _slowest_m(own, begins, path.corners[corner].ends_at_m, path)
    before = 0.0 if not path.closed else begins - path.length_m
    count = len(driven.corners)
    for back in range(1, count + (1 if path.closed else 0)):
        number = corner - back
        if number < 0 and not path.closed:
            break
        other = driven.corners[number]
        if other.action in ("brake", "lift"):
            shift = path.length_m if number < 0 else 0.0
            extent = path.corners[number]
            before = _slowest_m(other, extent.begins_at_m, extent.ends_at_m, path) - shift
            break
    return min(before, to_m), to_m


def _slowest_m(corner: CornerResult, begins: float, ends: float, path: Path) -> float:
    """A corner's slowest point beside its own extent, which may lie across the line."""
    at = corner.min_speed_at_m
    if path.closed and at < begins - 1e-6 and ends > path.length_m:
        at += path.length_m
    return min(max(at, begins), ends)
