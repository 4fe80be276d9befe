"""Which gear to drive a corner in: every gear that the revs allow, driven and priced."""

import math
from dataclasses import dataclass, replace

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import GEARS, LOWEST_RPM, REV_LIMIT, RPM_PER_MS
from neapfrost.core.lap.altered_road import with_corner_gear
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import Downshift
from neapfrost.core.lap.solve import driven as whole
from neapfrost.core.lap.solve import solve_many


@dataclass(frozen=True)
class GearOption:
    """A corner driven in one gear (counted from 1).

    `cost_s` is the lap against the quickest gear's. `reached` is False where the downshifts are
    not done in time, and nothing else is told then. `schools` names who would take it.
    """

    gear: int
    rpm: float
    reached: bool
    cost_s: float | None
    downshifts: tuple[Downshift, ...]
    full_throttle_at_m: float | None
    exit_speed_ms: float | None
    schools: tuple[str, ...]


@dataclass(frozen=True)
class GearCall:
    """The gears of a corner, lowest first, and the quickest of them."""

    planned: int
    quickest: int
    options: tuple[GearOption, ...]


def gear_call(driven: DrivenLap, corner: int) -> GearCall | None:
    """Drive a corner in every gear its revs allow; None where no gear is chosen there.

    The revs are those at the minimum speed: within the torque curve (first gear slips its clutch
    below it) and up to the rev limit, in no higher gear than one arrives in.
    """
    result = driven.corners[corner]
    if result.action not in ("brake", "lift"):
        return None
    case = driven.lap.packed.case
    highest = max(result.gear_before, result.gear)
    gears = [
        gear
        for gear in range(1, min(highest, int(case[GEARS])) + 1)
        if _turns(case, gear, result.min_speed_ms)
    ]
    path = driven.lap.path
    roads = [with_corner_gear(path, driven.road, corner, gear) for gear in gears]
    laps = solve_many([replace(driven.drive, road=road) for road in roads], whole)
    reached = {
        gear: lap
        for gear, lap in zip(gears, laps, strict=True)
        if lap is not None and lap.corners[corner].gear == gear
    }
    if not reached:
        return None
    quickest = min(reached, key=lambda gear: (reached[gear].lap.lap_time_s, -gear))
    best_s = reached[quickest].lap.lap_time_s
    lowest = min(reached)
    schools: dict[int, list[str]] = {gear: [] for gear in gears}
    schools[lowest].append("lower")
    schools[lowest + 1 if lowest + 1 in reached else lowest].append("higher")
    schools[quickest].append("quickest")
    options = []
    for gear in gears:
        rpm = result.min_speed_ms * float(case[RPM_PER_MS + gear - 1])
        if gear not in reached:
            options.append(GearOption(gear, rpm, False, None, (), None, None, ()))
            continue
        lap = reached[gear]
        there = lap.corners[corner]
        options.append(
            GearOption(
                gear=gear,
                rpm=there.min_speed_ms * float(case[RPM_PER_MS + gear - 1]),
                reached=True,
                cost_s=lap.lap.lap_time_s - best_s,
                downshifts=there.downshifts,
                full_throttle_at_m=there.full_throttle_at_m,
                exit_speed_ms=there.exit_speed_ms,
                schools=tuple(schools[gear]),
            )
        )
    return GearCall(result.gear, quickest, tuple(options))


def _turns(case: Floats, gear: int, speed_ms: float) -> bool:
    rpm = speed_ms * float(case[RPM_PER_MS + gear - 1])
    lowest = -math.inf if gear == 1 else float(case[LOWEST_RPM])
    return lowest <= rpm <= float(case[REV_LIMIT])
