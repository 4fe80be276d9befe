"""Saving fuel: the cheapest way for what is to be saved, its curve, and the rules of thumb."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.car.fuel import JOULES_PER_KWH
from neapfrost.core.lap.record import engine_work_j
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.race.saving import (
    COAST,
    POWER,
    REVS,
    Saved,
    Savings,
    by_rule,
    cheapest,
    savings,
)
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.planned import planned
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import describe_saving
from neapfrost.services.words.saying import Saying

#: Shares of a lap's fuel that the curve is told at [%].
CURVE_PCT = (1.0, 2.0, 3.0, 4.0, 5.0, 7.0, 9.0, 12.0, 15.0)
#: What is asked for where nothing is said [%].
USUAL_PCT = 5.0
RULES = {
    COAST: "lift and coast before every braking zone",
    REVS: "lower shift points everywhere",
    POWER: "less power everywhere",
}


class SavingRequest(BaseModel):
    """How much of a lap's fuel is to be saved, in percent of it."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    saved_pct: Annotated[float, Field(gt=0, le=60)] = USUAL_PCT


class SavingCorner(BaseModel):
    """How much earlier the throttle is shut for a corner [m], and for how long it coasts more."""

    corner: int
    name: str
    lift_earlier_m: float
    coast_s: float
    said: str


class SavingPoint(BaseModel):
    """A saving and what it costs a lap; by the rules of thumb null where they cannot save it.

    `rules_s` are in the order of `Saving.rules`.
    """

    saved_pct: float
    saved_kg: float
    cost_s: float | None
    rules_s: list[float | None]


class Saving(BaseModel):
    """The cheapest way to save so much, and the curve of seconds against kilograms.

    `revs_pct`, `power_pct` are what is left of the rev limit and of the power, where those are
    lowered too.
    """

    burnt_kg: float
    kg_per_litre: float
    lap_s: float
    wanted_pct: float
    rules: list[str]
    found: SavingPoint | None = None
    corners: list[SavingCorner] = []
    revs_pct: float | None = None
    power_pct: float | None = None
    curve: list[SavingPoint] = []
    said: list[str] = []


def saving_course(plan: PlanDocument, wanted: SavingRequest, units: Units = "metric") -> Course:
    """How the cheapest saving is looked for."""
    say = Saying(units)
    steps = 1 + 1 + len(CURVE_PCT)

    def drive(run: Run) -> None:
        made = planned(plan)
        driven = drive_lap(made.drive)
        work_j = engine_work_j(driven.lap, driven.drive.vehicle.engine.efficiency)
        found = savings(driven, _kg_per_j(plan, work_j))
        told = Saving(
            burnt_kg=found.burnt_kg,
            kg_per_litre=plan.car.fuel_use.kg_per_litre,
            lap_s=driven.lap.lap_time_s,
            wanted_pct=wanted.saved_pct,
            rules=list(RULES.values()),
        )
        run.count(saving=told)
        told = _with_wanted(told, found, wanted.saved_pct, say)
        run.count(saving=told)
        for pct in CURVE_PCT:
            point = _point(found, pct)
            if point.cost_s is None:
                break
            told = told.model_copy(update={"curve": [*told.curve, point]})
            run.count(saving=told)

    return Course(steps, drive)


def _kg_per_j(plan: PlanDocument, work_j: float) -> float:
    """Fuel for a joule of the engine's work [kg/J]; of a lap that was measured, by that lap."""
    use = plan.car.fuel_use
    if use.litres_per_lap is not None:
        return use.litres_per_lap * use.kg_per_litre / work_j
    return use.g_per_kwh / 1000.0 / JOULES_PER_KWH


def _with_wanted(told: Saving, found: Savings, pct: float, say: Saying) -> Saving:
    saved_kg = pct / 100.0 * found.burnt_kg
    best = cheapest(found, saved_kg)
    if best is None:
        return told.model_copy(update={"said": [f"{pct:g} % cannot be saved in these ways."]})
    point = _point(found, pct, best)
    amounts = {(means.kind, means.corner): amount for means, amount in best.mixture.amounts}
    corners = []
    for number, earlier in enumerate(best.lift_earlier_m):
        coast = amounts.get((COAST, number), 0.0)
        if coast > 0.0 and earlier is not None:
            name = found.driven.corners[number].name
            corners.append(
                SavingCorner(
                    corner=number,
                    name=name,
                    lift_earlier_m=earlier,
                    coast_s=coast,
                    said=f"{name}: lift {say.length(earlier)} earlier",
                )
            )
    revs, power = amounts.get((REVS, -1)), amounts.get((POWER, -1))
    rule = point.rules_s[0]
    return told.model_copy(
        update={
            "found": point,
            "corners": sorted(corners, key=lambda one: -one.lift_earlier_m),
            "revs_pct": None if revs is None else 100.0 * revs,
            "power_pct": None if power is None else 100.0 * power,
            "said": [describe_saving(best.saved_kg, best.cost_s, found.burnt_kg, rule)],
        }
    )


def _point(found: Savings, pct: float, best: Saved | None = None) -> SavingPoint:
    saved_kg = pct / 100.0 * found.burnt_kg
    best = best or cheapest(found, saved_kg)
    rules = [by_rule(found, rule, saved_kg) for rule in RULES]
    return SavingPoint(
        saved_pct=pct,
        saved_kg=saved_kg,
        cost_s=None if best is None else best.cost_s,
        rules_s=[None if one is None else one.cost_s for one in rules],
    )
