"""Laps of a plan with other grip and other fuel, solved in any process, and the table of them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from neapfrost.core.car.fuel import FuelUse, fuel_burnt_kg
from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.record import engine_work_j, lap_of
from neapfrost.core.lap.solve import solved
from neapfrost.core.race.lap_table import LapTable
from neapfrost.core.race.tyre_work import TyreFigures, tyre_work
from neapfrost.core.studies.bands import draw, varied
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_records import cg_height_m
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.planned import planned
from neapfrost.services.laps.uncertainty import uncertainty_of

#: Draws of what is uncertain, for the band of a race, and their grid [m].
DRAWS, DRAWN_STEP_M = 12, 2.0


@dataclass(frozen=True)
class RaceLap:
    """A lap: its time [s], the fuel burnt [kg], the energy into the tyres [MJ]."""

    time_s: float
    burnt_kg: float
    tyre_mj: float


#: A lap to solve: grip against the plan's tyres without a compound, fuel on board [kg].
Node = tuple[float, float]


def race_laps(plan_json: str, wanted: Sequence[Node]) -> list[RaceLap | None]:
    """A plan's lap at several grips and loads; None where no lap is possible."""
    drive, use, figures = _base(plan_json)
    return [_lap(at_grip(drive, grip, fuel), use, figures) for grip, fuel in wanted]


def drawn_race_laps(plan_json: str, wanted: Sequence[Node]) -> list[list[RaceLap | None]]:
    """For each of several grips and loads the lap with what is uncertain drawn, a few times."""
    plan = PlanDocument.model_validate_json(plan_json)
    drive = without_compound(plan, DRAWN_STEP_M)
    _, use, figures = _base(plan_json)
    drawn = draw(uncertainty_of(plan), len(drive.path.corners), DRAWS, plan.uncertainty.seed)
    return [
        [_lap(varied(at_grip(drive, grip, fuel), one)[0], use, figures) for one in drawn]
        for grip, fuel in wanted
    ]


def without_compound(plan: PlanDocument, step_m: float | None = None) -> Drive:
    """A plan's drive on tyres as the car's sheet has them, on a dry road."""
    made = planned(plan) if step_m is None else planned(plan, step_m)
    grip = plan.conditions.grip_factor * plan.conditions.rubber_factor
    conditions = replace(made.drive.conditions, grip_factor=grip, wetness_pct=0.0)
    return replace(made.drive, conditions=conditions)


def at_grip(drive: Drive, grip: float, fuel_kg: float) -> Drive:
    """A drive with another grip and another load of fuel."""
    return replace(
        drive,
        vehicle=replace(drive.vehicle, fuel_kg=fuel_kg),
        conditions=replace(drive.conditions, grip_factor=drive.conditions.grip_factor * grip),
    )


def table_of(nodes: Sequence[Node], laps: Sequence[RaceLap | None]) -> LapTable | None:
    """The table of solved laps over a grid of grips and loads; None where one is not possible."""
    grips = sorted({grip for grip, _ in nodes})
    fuels = sorted({fuel for _, fuel in nodes})
    values = np.full((3, len(grips), len(fuels)), np.nan)
    for (grip, fuel), lap in zip(nodes, laps, strict=True):
        if lap is not None:
            place = grips.index(grip), fuels.index(fuel)
            values[:, place[0], place[1]] = lap.time_s, lap.burnt_kg, lap.tyre_mj
    if not np.isfinite(values).all():
        return None
    return LapTable(np.array(grips), np.array(fuels), *values)


def fuel_use(plan: PlanDocument) -> FuelUse:
    """How a plan's car burns fuel."""
    return FuelUse(**plan.car.fuel_use.model_dump())


def tyre_figures(plan: PlanDocument) -> TyreFigures:
    """What the work of a plan's tyres stands on."""
    car = in_effect(plan).car
    front = car.lateral_transfer_front
    return TyreFigures(
        slip_at_limit=car.tyres.slip_at_limit_pct / 100.0,
        track_width_m=car.track_width_m if car.kind == "car" else None,
        cg_height_m=cg_height_m(car),
        transfer_front=car.front_weight_fraction if front is None else front,
    )


def _lap(drive: Drive, use: FuelUse, figures: TyreFigures) -> RaceLap | None:
    try:
        found = solved(drive)
    except LapImpossible:
        return None
    lap = lap_of(found.drive, found.packed, found.lap)
    work = engine_work_j(lap, drive.vehicle.engine.efficiency)
    return RaceLap(lap.lap_time_s, fuel_burnt_kg(use, work), tyre_work(lap, figures).total_mj)


@lru_cache(maxsize=8)
def _base(plan_json: str) -> tuple[Drive, FuelUse, TyreFigures]:
    plan = PlanDocument.model_validate_json(plan_json)
    return without_compound(plan), fuel_use(plan), tyre_figures(plan)
