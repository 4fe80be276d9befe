"""Trials of one combination: laps driven with something otherwise, side by side."""

import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.solve import SOLVED, UNSETTLED, solve_kernel
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.solve import solve_lap
from neapfrost.core.records import Conditions, Driver, Vehicle


@dataclass(frozen=True, eq=False)
class Combination:
    """A solved lap and what it was driven with; `driven.lap.workings.road` is its packed road."""

    vehicle: Vehicle
    conditions: Conditions
    driver: Driver
    driven: DrivenLap

    @property
    def road(self) -> Floats:
        """The packed road, with the orders that the lap was driven under."""
        return self.driven.lap.workings.road


@dataclass(frozen=True, eq=False)
class Trial:
    """What is otherwise; None where the combination's own is taken."""

    road: Floats | None = None
    vehicle: Vehicle | None = None
    conditions: Conditions | None = None
    driver: Driver | None = None


def drive_all(combination: Combination, trials: Sequence[Trial]) -> list[DrivenLap | None]:
    """Every trial driven, with the results of its corners; None where no lap is possible."""

    def drive(trial: Trial) -> DrivenLap | None:
        try:
            lap = solve_lap(
                combination.driven.lap.path,
                trial.vehicle or combination.vehicle,
                trial.conditions or combination.conditions,
                trial.driver or combination.driver,
                combination.road if trial.road is None else trial.road,
            )
        except LapImpossible:
            return None
        return DrivenLap(lap, corner_results(lap, []))

    with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
        return list(pool.map(drive, trials))


def lap_times_s(combination: Combination, trials: Sequence[Trial]) -> list[float | None]:
    """Lap times alone, which is quicker; None where no lap is possible."""
    path = combination.driven.lap.path
    lengths = combination.driven.lap.workings.lengths

    def drive(trial: Trial) -> float | None:
        case = pack_case(
            trial.vehicle or combination.vehicle,
            trial.conditions or combination.conditions,
            trial.driver or combination.driver,
            path.altitude_m,
        )
        road = combination.road if trial.road is None else trial.road
        outcome = solve_kernel(case, road, lengths, path.closed, path.start_speed_ms**2)
        return float(outcome[12]) if outcome[0] in (SOLVED, UNSETTLED) else None

    with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
        return list(pool.map(drive, trials))
