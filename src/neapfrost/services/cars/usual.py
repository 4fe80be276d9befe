"""What a new car is given of which nobody has said anything, as its document holds it."""

from neapfrost.core.car.starting_car import (
    CORNERING_STIFFNESS,
    SITS_UP,
    SITS_UP_HEIGHT_M,
    TYRE_WIDTH_M,
)
from neapfrost.core.constants import STANDARD_GRAVITY_MS2


def usual_tyres(kind: str, standing_kg: float, front_fraction: float) -> dict[str, float]:
    """Stiffness, width, and the loads at which the grip holds: those of a car without fuel."""
    front, rear = CORNERING_STIFFNESS[kind]
    return {
        "cornering_stiffness_front": front,
        "cornering_stiffness_rear": rear,
        "width_m": TYRE_WIDTH_M if kind == "motorcycle" else 0.0,
        **reference_loads(standing_kg, front_fraction),
    }


def reference_loads(standing_kg: float, front_fraction: float) -> dict[str, float]:
    """Axle loads of a standing car [N], with its driver and without fuel."""
    load = standing_kg * STANDARD_GRAVITY_MS2
    return {
        "front_reference_n": round(load * front_fraction, 1),
        "rear_reference_n": round(load * (1.0 - front_fraction), 1),
    }


def usual_attitude(kind: str, drag_area_m2: float) -> dict[str, float]:
    """A rider sits up behind the brakes; a car's downforce stays as it is stated."""
    if kind != "motorcycle":
        return {}
    return {
        "braking_drag_area_m2": round(SITS_UP * drag_area_m2, 4),
        "braking_drag_height_m": SITS_UP_HEIGHT_M,
    }
