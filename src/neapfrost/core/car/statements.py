"""What people say of a vehicle, and what the model makes of each such statement."""

from dataclasses import dataclass

from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.car.level import LevelCar, level_car, steady_limit, top_speed_ms
from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.runs import Run, braking_run, standing_run
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.case import HALF_RHO_CLA
from neapfrost.core.records import Conditions, Vehicle
from neapfrost.core.units import KMH_PER_MS

#: A speed slow enough for downforce to be next to nothing [m/s].
SLOW_MS = 14.0
#: A run as long as the longest distance that is spoken of [m].
LONGEST_RUN_M = 1010.0


#: How exactly each is usually known, as a share of it (one standard deviation).
KNOWN_TO = {
    Quantity.MASS: 0.01,
    Quantity.POWER: 0.01,
    Quantity.TORQUE: 0.015,
    Quantity.TOP_SPEED: 0.01,
    Quantity.TOP_GEAR: 0.01,
    Quantity.TIME_TO_SPEED: 0.02,
    Quantity.TIME_TO_DISTANCE: 0.01,
    Quantity.BRAKING: 0.02,
    Quantity.LATERAL_SLOW: 0.015,
    Quantity.LATERAL_FAST: 0.015,
    Quantity.DOWNFORCE: 0.02,
}


@dataclass(frozen=True)
class Statement:
    """One thing that is known: how much of what, at which speed [m/s] or distance [m]."""

    quantity: Quantity
    value: float
    at: float | None = None


class Measured:
    """A vehicle measured once for as many statements as are asked.

    `getaway_s` is what people lose before the vehicle pulls as hard as it can; standing starts
    that are spoken of have it in them, the model's own have not.
    """

    def __init__(self, vehicle: Vehicle, conditions: Conditions, getaway_s: float = 0.0) -> None:
        self.vehicle = vehicle
        self.conditions = conditions
        self.getaway_s = getaway_s
        self.car: LevelCar = level_car(vehicle, conditions)
        self._run: Run | None = None
        self._stuck = False

    def run(self) -> Run | None:
        """The run from standstill; None where the vehicle does not move off."""
        if self._run is None and not self._stuck:
            try:
                self._run = standing_run(
                    self.vehicle, self.conditions, length_m=LONGEST_RUN_M, step_m=2.0
                )
            except LapImpossible:
                self._stuck = True
        return self._run

    def of(self, statement: Statement) -> float | None:
        """What the model does for a statement; None where it never gets there."""
        quantity, at = statement.quantity, statement.at
        engine = self.vehicle.engine
        if quantity is Quantity.MASS:
            return self.vehicle.mass_kg
        if quantity is Quantity.POWER:
            return peak_power_w(engine.torque_curve, engine.rev_limit_rpm)
        if quantity is Quantity.TORQUE:
            return max(torque for _, torque in engine.torque_curve)
        if quantity is Quantity.TOP_SPEED:
            return top_speed_ms(self.car)[0]
        if quantity is Quantity.TOP_GEAR:
            return top_gear_ms(self.vehicle)
        if quantity is Quantity.BRAKING:
            return float(braking_run(self.car, at or 100.0 / KMH_PER_MS).s_m[-1])
        if quantity is Quantity.LATERAL_SLOW:
            return steady_limit(self.car, SLOW_MS)[0] / STANDARD_GRAVITY_MS2
        if quantity is Quantity.LATERAL_FAST:
            return steady_limit(self.car, at or 50.0)[0] / STANDARD_GRAVITY_MS2
        if quantity is Quantity.DOWNFORCE:
            return float(self.car.case[HALF_RHO_CLA]) * (at or 50.0) ** 2
        run = self.run()
        if run is None:
            return None
        if quantity is Quantity.TIME_TO_SPEED:
            time = run.time_to_s(at or 100.0 / KMH_PER_MS)
            return None if time is None else time + self.getaway_s
        return run.time_at_s(at or 1000.0) + self.getaway_s


def top_gear_ms(vehicle: Vehicle) -> float:
    """Speed at the rev limit in the top gear [m/s]."""
    overall = vehicle.gearbox.ratios[-1] * vehicle.gearbox.final_drive
    turning = vehicle.engine.rev_limit_rpm * 3.141592653589793 / 30.0
    return turning / overall * vehicle.tyres.rolling_radius_m
