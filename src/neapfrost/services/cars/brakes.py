"""Where the brakes should stand: which axle locks first at each zone, and what each share costs."""

from dataclasses import replace

import numpy as np
from pydantic import BaseModel

from neapfrost.core.car.brake_share import hardest_share
from neapfrost.core.car.level import level_car
from neapfrost.core.lap.solve import lap_time_s, solve_many
from neapfrost.core.records import Brakes
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.predict import recall

#: Shares are tried this far around the ideal one, in these steps.
AROUND, STEP = 0.12, 0.02


class BrakeZone(BaseModel):
    """A braking zone: the share at which both axles lock together, and which locks first.

    Where braking starts, straight on and as hard as the tyres can; `ideal_front_low` where the
    speed is lowest. `locks_first` is null with an ideal distribution.
    """

    corner: str
    speed_ms: float
    decel_g: float
    ideal_front: float
    ideal_front_low: float
    locks_first: str | None


class BrakeCost(BaseModel):
    """The lap with a fixed front share, and what it costs against the best fixed one."""

    front_share: float
    lap_time_s: float
    cost_s: float


class BrakeStudy(BaseModel):
    """Braking zones, laps over the front share, the quickest fixed share and the safe one.

    The safe one is the least share at which no zone locks its rear axle first.
    """

    front_share: float | None
    zones: list[BrakeZone]
    costs: list[BrakeCost]
    best: float | None
    safe: float | None
    ideal_lap_s: float | None


def brake_study(plan: PlanDocument) -> BrakeStudy:
    """Study the brake distribution of a plan's car on its circuit, as it is set up."""
    driven = recall(plan, None).driven
    drive = driven.drive
    vehicle = drive.vehicle
    best_shared = replace(vehicle, brakes=Brakes(None, None))
    car = level_car(best_shared, drive.conditions, drive.driver, drive.path.altitude_m)
    set_to = vehicle.brakes.front_fraction
    zones = []
    for corner in driven.corners:
        if corner.brake_start_speed_ms is None or corner.peak_decel_g is None:
            continue
        high, low = (
            hardest_share(car, speed)
            for speed in (corner.brake_start_speed_ms, corner.min_speed_ms)
        )
        zones.append(
            BrakeZone(
                corner=corner.name,
                speed_ms=corner.brake_start_speed_ms,
                decel_g=corner.peak_decel_g,
                ideal_front=high.ideal_front,
                ideal_front_low=low.ideal_front,
                locks_first=None if set_to is None else _first(set_to, high.ideal_front),
            )
        )
    if not zones:
        return BrakeStudy(
            front_share=set_to, zones=[], costs=[], best=None, safe=None, ideal_lap_s=None
        )
    middle = round(float(np.mean([zone.ideal_front for zone in zones])), 2)
    shares = [
        round(share, 3)
        for share in np.arange(middle - AROUND, middle + AROUND + 1e-9, STEP).tolist()
        if 0.0 < share < 1.0
    ]
    most = vehicle.brakes.max_force_n
    trials = [
        replace(drive, vehicle=replace(vehicle, brakes=Brakes(share, most)))
        for share in (*shares, None)
    ]
    *times, ideal_s = solve_many(trials, lap_time_s)
    solved = {share: time for share, time in zip(shares, times, strict=True) if time is not None}
    best = min(solved, key=solved.__getitem__, default=None)
    return BrakeStudy(
        front_share=set_to,
        zones=zones,
        costs=[
            BrakeCost(front_share=share, lap_time_s=time, cost_s=time - min(solved.values()))
            for share, time in solved.items()
        ],
        best=best,
        safe=max(max(zone.ideal_front, zone.ideal_front_low) for zone in zones),
        ideal_lap_s=ideal_s,
    )


def _first(share: float, ideal: float) -> str:
    """The axle of which a fixed front share asks too much first."""
    return "front" if share > ideal else "rear"
