"""What is asked of the driver at single corners: a gear, less braking, another grip."""

from collections.abc import Sequence
from dataclasses import dataclass

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.altered_road import (
    corner_steps,
    steps_between,
    with_braking,
    with_corner_gear,
    with_grip,
)
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult, corner_results
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.lap.solve import solve_lap
from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions, Driver, Vehicle


@dataclass(frozen=True)
class CornerOrder:
    """What is otherwise at one corner (0 is the first); None where the lap is left alone.

    `gear` counts from 1; `braking` is a share of what tyres and brakes give on the way to the
    corner; `entry_exponent` how braking is combined with cornering there; `grip_factor` multiplies
    the surface's grip in the corner.
    """

    corner: int
    gear: int | None = None
    braking: float | None = None
    entry_exponent: float | None = None
    grip_factor: float | None = None

    @property
    def changes_approach(self) -> bool:
        """Whether the braking before the corner is otherwise."""
        return self.braking is not None or self.entry_exponent is not None


def ordered_road(
    path: Path,
    vehicle: Vehicle,
    conditions: Conditions,
    driver: Driver,
    orders: Sequence[CornerOrder],
) -> Floats | None:
    """The packed road with every order in its place; None where there is none.

    Where the approach of a corner begins is seen on the lap without the orders for braking.
    Raises LapImpossible as `solve_lap` does.
    """
    if not orders:
        return None
    road = pack_road(path)[0]
    for order in orders:
        if order.grip_factor is not None:
            road = with_grip(road, corner_steps(path, order.corner), order.grip_factor)
        if order.gear is not None:
            road = with_corner_gear(path, road, order.corner, order.gear)
    if any(order.changes_approach for order in orders):
        lap = solve_lap(path, vehicle, conditions, driver, road)
        free = DrivenLap(lap, corner_results(lap, []))
        for order in orders:
            if order.changes_approach:
                from_m, to_m = approach_m(free, order.corner)
                steps = steps_between(path, from_m, to_m)
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
