"""How the brakes should be shared between the axles, and which axle locks first."""

from dataclasses import dataclass

from neapfrost.core.car.level import LevelCar, forces_at
from neapfrost.core.constants import LOAD_RATIO_FLOOR, STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.case import (
    CG_OVER_WHEELBASE,
    FRONT_AERO,
    FRONT_REFERENCE,
    FRONT_WEIGHT,
    HALF_RHO_CDA,
    HALF_RHO_CLA,
    LOAD_SENSITIVITY,
    REAR_REFERENCE,
    ROLLING,
)


@dataclass(frozen=True)
class BrakeShare:
    """At a speed and a deceleration [g]: the share of the brake force both axles use alike."""

    v_ms: float
    decel_g: float
    ideal_front: float


def ideal_share(car: LevelCar, v_ms: float, decel_g: float) -> BrakeShare:
    """The front share at which both axles use the same part of their grip, braking straight on.

    F_f/F = μ_f N_f/(μ_f N_f + μ_r N_r) with the loads N as they are at that deceleration, and μ as
    the load without longitudinal transfer gives it (Milliken, Race Car Vehicle Dynamics, 1995).
    """
    case = car.case
    weight = car.mass_kg * STANDARD_GRAVITY_MS2
    downforce = case[HALF_RHO_CLA] * v_ms * v_ms
    resistance = case[HALF_RHO_CDA] * v_ms * v_ms + case[ROLLING] * (weight + downforce)
    front = case[FRONT_WEIGHT] * weight + case[FRONT_AERO] * downforce
    rear = weight + downforce - front
    grip_front = max(front / case[FRONT_REFERENCE], LOAD_RATIO_FLOOR) ** -case[LOAD_SENSITIVITY]
    grip_rear = max(rear / case[REAR_REFERENCE], LOAD_RATIO_FLOOR) ** -case[LOAD_SENSITIVITY]
    # Tyres and air brake together; the air's share moves no load over the ground by itself.
    tyre_force = max(decel_g * weight - resistance, 0.0)
    moved = case[CG_OVER_WHEELBASE] * (tyre_force + resistance)
    held_front = grip_front * (front + moved)
    held_rear = grip_rear * max(rear - moved, 0.0)
    return BrakeShare(v_ms, decel_g, float(held_front / (held_front + held_rear)))


def hardest_share(car: LevelCar, v_ms: float) -> BrakeShare:
    """The share at which both axles lock together: the ideal one at the hardest braking.

    `car` must have ideal brakes, or its own share would bound the deceleration.
    """
    found = forces_at(car, v_ms)
    decel = (found.resistance_n - found.least_n) / car.mass_kg
    return ideal_share(car, v_ms, decel / STANDARD_GRAVITY_MS2)
