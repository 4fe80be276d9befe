"""Where the brakes should stand: which axle locks first at each zone, and what each share costs."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.car.brake_share import hardest_share
from neapfrost.core.car.level import LevelCar, level_car
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import lap_time_s, solve_many
from neapfrost.core.records import Brakes

#: Shares are tried this far around the ideal one, in these steps.
AROUND, STEP = 0.12, 0.02


@dataclass(frozen=True)
class BrakeZone:
    """A braking zone: the share at which both axles lock together, and which locks first.

    Where braking starts, straight on and as hard as the tyres can; `ideal_front_low` where the
    speed is lowest. `locks_first` is None with an ideal distribution.
    """

    corner: str
    speed_ms: float
    decel_g: float
    ideal_front: float
    ideal_front_low: float
    locks_first: str | None


@dataclass(frozen=True)
class BrakeCost:
    """The lap with a fixed front share, and what it costs against the best fixed one."""

    front_share: float
    lap_time_s: float
    cost_s: float


@dataclass(frozen=True)
class BrakeStudy:
    """Braking zones, laps over the front share, the quickest fixed share and the safe one.

    The safe one is the least share at which no zone locks its rear axle first.
    """

    front_share: float | None
    zones: list[BrakeZone]
    costs: list[BrakeCost]
    best: float | None
    safe: float | None
    ideal_lap_s: float | None


def brake_study(driven: DrivenLap) -> BrakeStudy:
    """Study the brake distribution of a lap's car, on its road and with what is asked there."""
    drive = driven.drive
    set_to = drive.vehicle.brakes.front_fraction
    free = replace(drive.vehicle, brakes=Brakes(None, None))
    car = level_car(free, drive.conditions, drive.driver, drive.path.altitude_m)
    found = [_zone(corner, car, set_to) for corner in driven.corners]
    zones = [zone for zone in found if zone is not None]
    if not zones:
        return BrakeStudy(set_to, [], [], None, None, None)
    middle = round(float(np.mean([zone.ideal_front for zone in zones])), 2)
    tried = np.arange(middle - AROUND, middle + AROUND + 1e-9, STEP).tolist()
    shares = [round(share, 3) for share in tried if 0.0 < share < 1.0]
    *times, ideal_s = solve_many([_shared(drive, share) for share in (*shares, None)], lap_time_s)
    solved = {share: time for share, time in zip(shares, times, strict=True) if time is not None}
    return BrakeStudy(
        front_share=set_to,
        zones=zones,
        costs=[
            BrakeCost(share, time, time - min(solved.values())) for share, time in solved.items()
        ],
        best=min(solved, key=solved.__getitem__, default=None),
        safe=max(max(zone.ideal_front, zone.ideal_front_low) for zone in zones),
        ideal_lap_s=ideal_s,
    )


def _zone(corner: CornerResult, car: LevelCar, set_to: float | None) -> BrakeZone | None:
    """The zone before a corner; None where there is none. `car` has ideal brakes."""
    if corner.brake_start_speed_ms is None or corner.peak_decel_g is None:
        return None
    high = hardest_share(car, corner.brake_start_speed_ms).ideal_front
    low = hardest_share(car, corner.min_speed_ms).ideal_front
    return BrakeZone(
        corner=corner.name,
        speed_ms=corner.brake_start_speed_ms,
        decel_g=corner.peak_decel_g,
        ideal_front=high,
        ideal_front_low=low,
        # The axle of which a fixed share asks too much first.
        locks_first=None if set_to is None else "front" if set_to > high else "rear",
    )


def _shared(drive: Drive, share: float | None) -> Drive:
    """The drive with another share on the front; None is the ideal one everywhere."""
    brakes = replace(drive.vehicle.brakes, front_fraction=share)
    return replace(drive, vehicle=replace(drive.vehicle, brakes=brakes))
