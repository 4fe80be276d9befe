"""Runs on a level straight: from standstill, and braking."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.car.level import LevelCar, forces_at
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import solve
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Circuit, Straight
from neapfrost.core.records import Conditions, Driver, Vehicle

RUN_M = 2000.0
BRAKING_POINTS = 101


@dataclass(frozen=True, eq=False)
class Run:
    """Speed over time and distance; shapes (n,)."""

    t_s: Floats
    s_m: Floats
    v_ms: Floats
    gear: Floats

    def time_to_s(self, v_ms: float) -> float | None:
        """When a speed is first reached [s]; None where it is not on the run."""
        above = np.flatnonzero(self.v_ms >= v_ms)
        if len(above) == 0:
            return None
        k = int(above[0])
        if k == 0:
            return 0.0
        rise = self.v_ms[k] - self.v_ms[k - 1]
        share = (v_ms - self.v_ms[k - 1]) / rise if rise > 0.0 else 1.0
        return float(self.t_s[k - 1] + share * (self.t_s[k] - self.t_s[k - 1]))

    def time_at_s(self, s_m: float) -> float:
        """When a distance is reached [s]."""
        return float(np.interp(s_m, self.s_m, self.t_s))


def standing_run(
    vehicle: Vehicle,
    conditions: Conditions,
    driver: Driver | None = None,
    length_m: float = RUN_M,
    step_m: float = 1.0,
    from_ms: float = 0.0,
    altitude_m: float = 0.0,
) -> Run:
    """Full throttle from standstill (or a speed) on a level straight, shifts and launch included.

    Raises LapImpossible where the drive does not overcome the resistance.
    """
    circuit = Circuit(
        "", False, (Straight(length_m),), start_speed_ms=from_ms, altitude_m=altitude_m
    )
    calm = Conditions(**{**vars(conditions), "wind_speed_ms": 0.0})
    lap = solve(Drive(build_path(circuit, step_m), vehicle, calm, driver or Driver()))
    return Run(lap.t_s, lap.s_m, lap.v_ms, lap.gear.astype(np.float64))


def braking_run(car: LevelCar, from_ms: float, to_ms: float = 0.0) -> Run:
    """The hardest braking in a straight line between two speeds, from the first brake force on.

    Distance by Simpson's rule of v/a over v, time of 1/a; the driver's reaction and the rise of
    the brake are not in it. Distances are from where braking starts.
    """
    v = np.linspace(from_ms, to_ms, BRAKING_POINTS)
    slowing = np.array(
        [(f.resistance_n - f.least_n) / car.mass_kg for f in (forces_at(car, float(x)) for x in v)]
    )
    step = (from_ms - to_ms) / (BRAKING_POINTS - 1)
    zero = np.zeros(1)

    def summed(rate: Floats) -> Floats:
        # Simpson over each pair of steps; odd points by the trapezoid, which only the curve shows.
        pieces = 0.5 * step * (rate[1:] + rate[:-1])
        total = np.concatenate((zero, np.cumsum(pieces)))
        pairs = step / 3.0 * (rate[:-2:2] + 4.0 * rate[1:-1:2] + rate[2::2])
        total[2::2] = np.cumsum(pairs)
        return total

    return Run(summed(1.0 / slowing), summed(v / slowing), v, np.zeros(len(v)))
