"""A vehicle scaled until it does what is stated of it."""

from dataclasses import replace

from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.statements import Measured, Statement
from neapfrost.core.records import Conditions, Vehicle

#: Rounds after which it does so to a part in a thousand; the figures hardly touch each other.
ROUNDS = 4


def doing_as_stated(
    vehicle: Vehicle, lateral_g: float, top_speed_ms: float, downforce: tuple[float, float]
) -> Vehicle:
    """The vehicle with grip, drag and downforce such that it does what is stated of it.

    A slow corner's lateral g, a top speed [m/s], and a downforce [N] at a speed [m/s]. Closed forms
    leave out what turning, load and the day's air cost; this measures and scales: grip by the ratio
    of the accelerations, drag by the cube of the speeds, for power is force times speed.
    """
    newtons, at_ms = downforce
    for _ in range(ROUNDS):
        does = Measured(vehicle, Conditions())
        lateral = does.of(Statement(Quantity.LATERAL_SLOW, lateral_g))
        top = does.of(Statement(Quantity.TOP_SPEED, top_speed_ms))
        pressed = does.of(Statement(Quantity.DOWNFORCE, newtons, at_ms))
        grip = lateral_g / lateral if lateral else 1.0
        drag = (top / top_speed_ms) ** 3 if top else 1.0
        lift = newtons / pressed if pressed else 1.0
        vehicle = replace(
            vehicle,
            tyres=replace(
                vehicle.tyres,
                mu_lateral=grip * vehicle.tyres.mu_lateral,
                mu_longitudinal=grip * vehicle.tyres.mu_longitudinal,
            ),
            aero=replace(
                vehicle.aero,
                lift_area_m2=lift * vehicle.aero.lift_area_m2,
                drag_area_m2=drag * vehicle.aero.drag_area_m2,
            ),
        )
    return vehicle
