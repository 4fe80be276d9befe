"""How the brakes should be shared between the axles, and which axle locks first."""

from dataclasses import dataclass

from neapfrost.core.car.level import LevelCar, forces_at, level_road
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.forces import axle_demand, balance


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
    place = (car.case, level_road(), 0, 0.0, v_ms * v_ms)
    figures = balance(*place)
    level, grip_front, grip_rear = figures[4], figures[7], figures[8]
    # Tyres and air brake together; the air's share moves no load over the ground by itself.
    tyre_force = max(decel_g * car.mass_kg * STANDARD_GRAVITY_MS2 - level, 0.0)
    asked = axle_demand(*place, -tyre_force)
    held_front = grip_front * asked.front
    held_rear = grip_rear * max(asked.rear, 0.0)
    return BrakeShare(v_ms, decel_g, float(held_front / (held_front + held_rear)))


def hardest_share(car: LevelCar, v_ms: float) -> BrakeShare:
    """The share at which both axles lock together: the ideal one at the hardest braking.

    `car` must have ideal brakes, or its own share would bound the deceleration.
    """
    found = forces_at(car, v_ms)
    decel = (found.resistance_n - found.least_n) / car.mass_kg
    return ideal_share(car, v_ms, decel / STANDARD_GRAVITY_MS2)
