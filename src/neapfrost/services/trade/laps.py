"""Laps of a plan with some of it put otherwise, weighed a few at a time in any process."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.car.fuel import FuelUse, fuel_burnt_kg
from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.solve import drive_lap, solve
from neapfrost.core.studies.bands import Drawn, draw
from neapfrost.core.trade.doubt import drawn_times_s
from neapfrost.core.trade.stretches import Stretch, stretches
from neapfrost.core.trade.weighed import Weighed, weighed
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_records import vehicle_record
from neapfrost.services.laps.planned import planned
from neapfrost.services.laps.uncertainty import uncertainty_of
from neapfrost.services.trade.axes import Settings, put

#: Draws a variant is driven with to see how far a difference can be trusted, and their grid.
DRAWS = 12
DRAWN_STEP_M = 2.0


@dataclass(frozen=True)
class Basis:
    """The plan's own lap: its stretches, corners' names, and the boards to tell speeds at [m]."""

    cut: tuple[Stretch, ...]
    corners: tuple[str, ...]
    boards: tuple[tuple[str, float], ...]


@dataclass(frozen=True, eq=False)
class WeighedPlan:
    """A varied plan's lap weighed, with the fuel it burns."""

    lap: Weighed
    fuel_kg: float
    fuel_litres: float


def basis(plan_json: str) -> Basis:
    """What the variants of a plan are laid beside. Raises InputRefused as `predict_lap` does."""
    return _base(plan_json)[1]


def weigh(plan_json: str, wanted: Sequence[Settings]) -> list[WeighedPlan | str]:
    """A plan put in several ways, each weighed; a sentence where no lap is possible."""
    plan, base = _base(plan_json)
    places = [at_m for _, at_m in base.boards]
    found: list[WeighedPlan | str] = []
    for settings in wanted:
        try:
            varied = put(plan, settings)
            made = planned(varied)
            lap = weighed(drive_lap(made.drive), base.cut, places)
        except InputRefused as error:
            found.append("; ".join(str(fault) for fault in error.faults))
            continue
        use = FuelUse(**varied.car.fuel_use.model_dump())
        burnt_kg = fuel_burnt_kg(use, lap.work_j)
        found.append(WeighedPlan(lap, burnt_kg, burnt_kg / use.kg_per_litre))
    return found


def weigh_rivals(plan_json: str, cars_json: Sequence[str]) -> list[WeighedPlan | str]:
    """Other cars on a plan's own line and in its air, weighed over its stretches.

    They are driven as their sheets have them, with the plan's fuel; a sentence where no lap is
    possible.
    """
    plan, base = _base(plan_json)
    drive = planned(plan).drive
    found: list[WeighedPlan | str] = []
    for car_json in cars_json:
        car = CarDocument.model_validate_json(car_json)
        car = car.model_copy(update={"fuel_kg": plan.car.fuel_kg})
        try:
            rival = replace(drive, vehicle=vehicle_record(car), orders=(), road=None)
            lap = weighed(drive_lap(rival), base.cut, [at_m for _, at_m in base.boards])
        except InputRefused as error:
            found.append("; ".join(str(fault) for fault in error.faults))
            continue
        use = FuelUse(**car.fuel_use.model_dump())
        burnt_kg = fuel_burnt_kg(use, lap.work_j)
        found.append(WeighedPlan(lap, burnt_kg, burnt_kg / use.kg_per_litre))
    return found


def draw_times(plan_json: str, wanted: Sequence[Settings], count: int = DRAWS) -> list[Floats]:
    """Lap times of a plan put in several ways, each with the same draws [s] (count,)."""
    plan, _ = _base(plan_json)
    found = []
    for settings in wanted:
        try:
            made = planned(put(plan, settings), DRAWN_STEP_M)
            # Orders belong where the plan's own lap has them, whatever is drawn.
            drive = solve(made.drive).drive
        except InputRefused:
            found.append(np.full(count, np.nan))
            continue
        found.append(drawn_times_s(drive, _draws(plan_json, len(drive.path.corners), count)))
    return found


@lru_cache(maxsize=8)
def _base(plan_json: str) -> tuple[PlanDocument, Basis]:
    plan = PlanDocument.model_validate_json(plan_json)
    made = planned(plan)
    driven: DrivenLap = drive_lap(made.drive)
    return plan, Basis(
        cut=stretches(driven),
        corners=tuple(corner.name for corner in driven.corners),
        boards=tuple(
            (f"{mark.label} of {mark.corner}" if mark.corner else mark.label, mark.at_m)
            for mark in sorted(made.marks, key=lambda mark: mark.at_m)
        ),
    )


@lru_cache(maxsize=8)
def _draws(plan_json: str, corners: int, count: int) -> tuple[Drawn, ...]:
    plan, _ = _base(plan_json)
    return tuple(draw(uncertainty_of(plan), corners, count, plan.uncertainty.seed))
