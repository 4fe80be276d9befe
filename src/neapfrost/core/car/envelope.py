"""What a vehicle can do at each speed: the g-g envelope, and how its axles share the turning."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.car.level import (
    LevelCar,
    engine_force_n,
    forces_at,
    level_road,
    pull_n,
    steady_limit,
    turning_limit,
)
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.case import BRAKE_MOST, CG_OVER_WHEELBASE
from neapfrost.core.kernels.forces import axle_use

#: Places around the envelope, from straight on to turning as hard as can be.
ENVELOPE_POINTS = 41


@dataclass(frozen=True, eq=False)
class Envelope:
    """The edge of the g-g diagram at one speed, for one hand; shapes (n,), in g.

    `drive_limit` says what ends each acceleration (`engine`, `tyres` or `lift`), `brake_limit`
    what ends each deceleration (`tyres`, `brakes` or `lift`).
    """

    v_ms: float
    lateral_g: Floats
    drive_g: Floats
    brake_g: Floats
    drive_limit: tuple[str, ...]
    brake_limit: tuple[str, ...]


@dataclass(frozen=True)
class Turning:
    """The hardest turn at a speed: lateral g, what limits it, and each axle's share of its grip."""

    v_ms: float
    lateral_g: float
    limited_by: str
    front_use: float
    rear_use: float


def envelope(car: LevelCar, v_ms: float) -> Envelope:
    """The g-g envelope at a speed, drag and rolling resistance included (net acceleration)."""
    hardest, _ = turning_limit(car, v_ms)
    shares = np.sin(np.linspace(0.0, 0.5 * np.pi, ENVELOPE_POINTS))
    lateral = hardest * shares * (1.0 - 1e-7)
    drive, brake = np.empty(len(lateral)), np.empty(len(lateral))
    why_drive: list[str] = []
    why_brake: list[str] = []
    stronger = _with_endless_brakes(car)
    for index, across in enumerate(lateral.tolist()):
        curvature = across / (v_ms * v_ms)
        found = forces_at(car, v_ms, curvature)
        engine = pull_n(car, v_ms, found.resistance_n)
        force = min(engine, found.greatest_n)
        drive[index] = (force - found.resistance_n) / car.mass_kg
        brake[index] = (found.least_n - found.resistance_n) / car.mass_kg
        lifted = _lifted(car, v_ms, curvature, found.greatest_n)
        why_drive.append(
            "engine" if engine < found.greatest_n else "lift" if lifted == "front" else "tyres"
        )
        lifted = _lifted(car, v_ms, curvature, found.least_n)
        hardware = stronger is not None and (
            found.least_n > forces_at(stronger, v_ms, curvature).least_n * (1.0 - 1e-9)
        )
        why_brake.append("brakes" if hardware else "lift" if lifted == "rear" else "tyres")
    g = STANDARD_GRAVITY_MS2
    return Envelope(v_ms, lateral / g, drive / g, brake / g, tuple(why_drive), tuple(why_brake))


def _with_endless_brakes(car: LevelCar) -> LevelCar | None:
    """The same vehicle with brakes whose hardware has no end; None where it has such ones."""
    if np.isinf(car.case[BRAKE_MOST]):
        return None
    case = car.case.copy()
    case[BRAKE_MOST] = np.inf
    return LevelCar(case, car.mass_kg)


def turning(car: LevelCar, v_ms: float) -> Turning:
    """The hardest turn at a speed that is held, and how near each axle is to its own limit."""
    hardest, cause = steady_limit(car, v_ms)
    curvature = hardest / (v_ms * v_ms)
    force = min(forces_at(car, v_ms, curvature).resistance_n, engine_force_n(car, v_ms))
    front, rear, _, _ = axle_use(car.case, level_road(curvature), 0, 0.0, v_ms * v_ms, force)
    return Turning(v_ms, hardest / STANDARD_GRAVITY_MS2, cause, float(front), float(rear))


def _lifted(car: LevelCar, v_ms: float, curvature_per_m: float, force_n: float) -> str | None:
    """Which axle a force along the road leaves without load."""
    _, _, front, rear = axle_use(
        car.case, level_road(curvature_per_m), 0, 0.0, v_ms * v_ms, force_n
    )
    nothing = 0.002 * car.mass_kg * STANDARD_GRAVITY_MS2
    if car.case[CG_OVER_WHEELBASE] > 0.0:
        if front < nothing:
            return "front"
        if rear < nothing:
            return "rear"
    return None
