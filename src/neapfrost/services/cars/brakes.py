"""Where the brakes should stand: which axle locks first at each zone, and what each share costs."""

from dataclasses import replace

import numpy as np
from pydantic import BaseModel

from neapfrost.core.car.brake_share import hardest_share
from neapfrost.core.car.level import level_car
from neapfrost.core.lap.batch import Variant, solve_batch
from neapfrost.core.records import Brakes
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_records import conditions_record, driver_record, vehicle_record
from neapfrost.formats.plan_setup import in_effect
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
    plan = in_effect(plan)
    vehicle = vehicle_record(plan.car)
    conditions, driver = conditions_record(plan.conditions), driver_record(plan.driver)
    best_shared = replace(vehicle, brakes=Brakes(None, None))
    car = level_car(best_shared, conditions, driver, plan.circuit.altitude_m)
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
    variants = [
        Variant(replace(vehicle, brakes=Brakes(share, most)), conditions, driver)
        for share in (*shares, None)
    ]
    batch = solve_batch(driven.lap.path, variants)
    times = batch.lap_time_s[:-1]
    best = int(np.argmin(np.where(batch.solved[:-1], times, np.inf)))
    return BrakeStudy(
        front_share=set_to,
        zones=zones,
        costs=[
            BrakeCost(front_share=share, lap_time_s=float(time), cost_s=float(time - times[best]))
            for share, time, solved in zip(shares, times, batch.solved, strict=False)
            if solved
        ],
        best=shares[best],
        safe=max(max(zone.ideal_front, zone.ideal_front_low) for zone in zones),
        ideal_lap_s=float(batch.lap_time_s[-1]) if batch.solved[-1] else None,
    )


def _first(share: float, ideal: float) -> str:
    """The axle of which a fixed front share asks too much first."""
    return "front" if share > ideal else "rear"
