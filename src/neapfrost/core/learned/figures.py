"""The figures that are learned, and a plan's drive with other values of them."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.drive import Drive
from neapfrost.core.studies.bands import TEN_TO_NINETY
from neapfrost.core.wind import with_wind_added

#: In this order wherever they stand in an array: logarithms of factors, then wind [m/s].
FIGURES = ("grip", "along", "downforce", "drag", "power", "mass", "wind_north", "wind_east")
WINDS = ("wind_north", "wind_east")


@dataclass(frozen=True)
class Priors:
    """What is known before a run: half-widths within which the truth lies four times in five.

    Shares, and the wind in m/s from any side. `along` is what braking and traction differ by from
    the grip across; `radius` each corner's own.
    """

    grip: float = 0.03
    along: float = 0.025
    downforce: float = 0.05
    drag: float = 0.04
    power: float = 0.02
    mass: float = 0.01
    wind_ms: float = 1.0
    radius: float = 0.02

    def sd(self) -> Floats:
        """Standard deviations of the figures, in their order (8,)."""
        own = [getattr(self, name) for name in FIGURES if name not in WINDS]
        found: Floats = np.array([*own, self.wind_ms, self.wind_ms]) / TEN_TO_NINETY
        return found


def with_figures(drive: Drive, values: Floats) -> Drive:
    """A drive with each figure otherwise by its value (8,)."""
    grip, along, downforce, drag, power, mass = np.exp(values[:6]).tolist()
    car, air = drive.vehicle, with_wind_added(drive.conditions, float(values[6]), float(values[7]))
    curve = tuple((rpm, torque * power) for rpm, torque in car.engine.torque_curve)
    return replace(
        drive,
        vehicle=replace(
            car,
            mass_kg=car.mass_kg * mass,
            tyres=replace(car.tyres, mu_longitudinal=car.tyres.mu_longitudinal * along),
            aero=replace(
                car.aero,
                lift_area_m2=car.aero.lift_area_m2 * downforce,
                drag_area_m2=car.aero.drag_area_m2 * drag,
            ),
            engine=replace(car.engine, torque_curve=curve),
        ),
        conditions=replace(air, grip_factor=air.grip_factor * grip),
    )
