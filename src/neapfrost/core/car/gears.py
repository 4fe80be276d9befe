"""Speed in each gear, drive force in each of them, and where to change up."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.car.level import LevelCar, engine_force_n, forces_at, gear_count, pull_n
from neapfrost.core.kernels.case import LIMITER_W, REV_LIMIT, RPM_PER_MS, UPSHIFT_W

FORCE_POINTS = 240


@dataclass(frozen=True)
class Shift:
    """One gear (from 1): speed at the limiter, and the change up that loses least.

    `shift_rpm` is where the next gear pulls as hard, the limiter where this gear pulls harder all
    the way; `rpm_after` what the engine turns at then. Both are None in the last gear.
    """

    gear: int
    limiter_ms: float
    rpm_per_ms: float
    shift_ms: float | None
    shift_rpm: float | None
    rpm_after: float | None
    at_limiter: bool


@dataclass(frozen=True, eq=False)
class DriveForces:
    """Forces over speed; shapes (n,) and (gears, n), zero where a gear cannot be used [N].

    `by_gear_n` reaches the road on full throttle; `engine_n` is the most of any gear before what
    turns along has taken its part.
    """

    v_ms: Floats
    by_gear_n: Floats
    engine_n: Floats
    resistance_n: Floats
    traction_n: Floats


def shifts(car: LevelCar) -> tuple[Shift, ...]:
    """Every gear with its best change up (the force at the tyres decides)."""
    count = gear_count(car)
    found = []
    for gear in range(count):
        limiter = float(np.sqrt(car.case[LIMITER_W + gear]))
        rpm_per_ms = float(car.case[RPM_PER_MS + gear])
        speed = float(np.sqrt(car.case[UPSHIFT_W + gear]))
        last = gear == count - 1 or not np.isfinite(speed)
        found.append(
            Shift(
                gear=gear + 1,
                limiter_ms=limiter,
                rpm_per_ms=rpm_per_ms,
                shift_ms=None if last else speed,
                shift_rpm=None if last else speed * rpm_per_ms,
                rpm_after=None if last else speed * float(car.case[RPM_PER_MS + gear + 1]),
                at_limiter=not last and speed * rpm_per_ms > 0.999 * float(car.case[REV_LIMIT]),
            )
        )
    return tuple(found)


def drive_forces(car: LevelCar) -> DriveForces:
    """Force in each gear against what resists and what the tyres carry, up to the last limiter."""
    count = gear_count(car)
    most = float(np.sqrt(car.case[LIMITER_W : LIMITER_W + count].max()))
    speeds = np.linspace(1.0, most, FORCE_POINTS)
    found = [forces_at(car, float(v)) for v in speeds]
    return DriveForces(
        v_ms=speeds,
        by_gear_n=np.array(
            [
                [
                    max(pull_n(car, float(v), f.resistance_n, gear), 0.0)
                    for v, f in zip(speeds, found, strict=True)
                ]
                for gear in range(count)
            ]
        ),
        engine_n=np.array([engine_force_n(car, float(v)) for v in speeds]),
        resistance_n=np.array([f.resistance_n for f in found]),
        traction_n=np.array([f.greatest_n for f in found]),
    )
