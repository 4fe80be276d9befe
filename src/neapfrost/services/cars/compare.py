"""Two ways a car stands, side by side: what differs, and what each difference does to the lap."""

from typing import Any

from pydantic import BaseModel, ConfigDict

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.car_document import CarDocument, SetupDocument
from neapfrost.formats.document import Name
from neapfrost.formats.escaping import markdown_table, markdown_text, sheet_text
from neapfrost.formats.json_merge import differences
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect, named
from neapfrost.services.figures.register import label_at, place_in_words
from neapfrost.services.laps.comparison import Comparison, compare
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall

#: What is changed together: parts of the car, and what they are called.
GROUPS: dict[str, str] = {
    "mass_kg": "Mass",
    "driver_kg": "Driver",
    "driver_height_m": "Height of the driver",
    "fuel_kg": "Fuel",
    "wheelbase_m": "Wheelbase",
    "cg_height_m": "Height of the centre of gravity",
    "front_weight_fraction": "Weight distribution (front)",
    "max_lean_deg": "Maximum lean",
    "tyres": "Tyres",
    "aero": "Wing and body",
    "attitude": "Downforce by speed and attitude",
    "inertia": "Rotating inertia",
    "engine": "Engine",
    "gearbox": "Gears",
    "drive": "Drive",
    "brakes": "Brakes",
}
TYRE_GRIP = "tyre grip"


class CarSide(BaseModel):
    """One side: a revision of the car (null: as it is) and one of its setups (null: none)."""

    model_config = ConfigDict(extra="forbid")

    revision: int | None = None
    setup: Name | None = None


class FigureDifference(BaseModel):
    """A figure that differs, in words, on both sides; `computed` is False for records only."""

    place: str
    a: str
    b: str
    computed: bool


class GroupEffect(BaseModel):
    """What taking one group of figures from A to B alone does to the lap [s]; null: no lap."""

    group: str
    lap_s: float | None


class CarComparison(BaseModel):
    """B against A on the plan's circuit: differences, effects alone, and all of them together."""

    a_name: str
    b_name: str
    a_lap_s: float
    b_lap_s: float
    differences: list[FigureDifference]
    effects: list[GroupEffect]
    together_s: float
    comparison: Comparison


def compare_cars(
    plan: PlanDocument, a: CarDocument, b: CarDocument, sides: tuple[CarSide, CarSide]
) -> CarComparison:
    """Two cars (or setups of one) on the plan's circuit. Raises InputRefused for an unknown setup.

    Each group of differing figures is put into A alone; together is B's lap.
    """
    faults = [
        Fault("setup", f'"{side.setup}" was given; {car.name} has no setup of that name')
        for car, side in zip((a, b), sides, strict=True)
        if side.setup is not None and named(car.setups, side.setup) is None
    ]
    if faults:
        raise InputRefused(faults)
    plans = [_plan_of(plan, car, side) for car, side in zip((a, b), sides, strict=True)]
    laps = [recall(one, TRACE_POINTS) for one in plans]
    driven = [in_effect(one) for one in plans]
    effects = []
    for field, label in GROUPS.items():
        first, second = (getattr(one.car, field) for one in driven)
        if first != second:
            car = driven[0].car.model_copy(update={field: second})
            effects.append(_effect(label, driven[0].model_copy(update={"car": car}), laps[0]))
    if driven[0].conditions != driven[1].conditions:
        changed = driven[0].model_copy(update={"conditions": driven[1].conditions})
        effects.append(_effect("Tyre compound", changed, laps[0]))
    return CarComparison(
        a_name=_name(a, sides[0]),
        b_name=_name(b, sides[1]),
        a_lap_s=laps[0].result.lap_time_s,
        b_lap_s=laps[1].result.lap_time_s,
        differences=_differences(driven, (_setup(a, sides[0]), _setup(b, sides[1]))),
        effects=effects,
        together_s=laps[1].result.lap_time_s - laps[0].result.lap_time_s,
        comparison=compare(laps[1], laps[0]),
    )


def _plan_of(plan: PlanDocument, car: CarDocument, side: CarSide) -> PlanDocument:
    fuelled = car.model_copy(update={"fuel_kg": plan.car.fuel_kg})
    return plan.model_copy(update={"car": fuelled, "setup": side.setup})


def _effect(label: str, plan: PlanDocument, base: Prediction) -> GroupEffect:
    try:
        lap = recall(plan, TRACE_POINTS).result.lap_time_s
    except InputRefused:
        return GroupEffect(group=label, lap_s=None)
    return GroupEffect(group=label, lap_s=lap - base.result.lap_time_s)


def _setup(car: CarDocument, side: CarSide) -> SetupDocument | None:
    return named(car.setups, side.setup)


def _name(car: CarDocument, side: CarSide) -> str:
    parts = [car.name]
    if side.revision is not None:
        parts.append(f"revision {side.revision}")
    if side.setup is not None:
        parts.append(side.setup)
    return ", ".join(parts)


def _differences(
    driven: list[PlanDocument], setups: tuple[SetupDocument | None, SetupDocument | None]
) -> list[FigureDifference]:
    cars = [
        one.car.model_dump(
            mode="json",
            exclude={"name", "note", "wings", "gear_sets", "compounds", "setups", "fuel_use"},
        )
        for one in driven
    ]
    found = [
        FigureDifference(
            place=_place(difference.path),
            a=_said(difference.before),
            b=_said(difference.after),
            computed=True,
        )
        for difference in differences(cars[0], cars[1])
    ]
    grips = [one.conditions.grip_factor for one in driven]
    if grips[0] != grips[1]:
        found.append(
            FigureDifference(
                place="Grip of the tyres and the track",
                a=_said(grips[0]),
                b=_said(grips[1]),
                computed=True,
            )
        )
    records = [setup.record if setup is not None else {} for setup in setups]
    for key in dict.fromkeys([*records[0], *records[1]]):
        first, second = (record.get(key, "") for record in records)
        if first != second:
            found.append(
                FigureDifference(place=key, a=first or "–", b=second or "–", computed=False)
            )
    return found


def _place(path: tuple[str | int, ...]) -> str:
    known = label_at(("car", *path))
    unit = "" if known is None else known.said_unit.strip()
    words = place_in_words(("car", *path))
    return f"{words} ({unit})" if unit else words


def _said(value: Any) -> str:
    if value is None:
        return "not set"
    if isinstance(value, float):
        return f"{round(value, 4):g}"
    if isinstance(value, list):
        return ", ".join(_said(one) for one in value)
    if isinstance(value, dict):
        return " ".join(_said(one) for one in value.values())
    return str(value)


def comparison_csv(found: CarComparison) -> str:
    """Differences and effects as rows of text."""
    rows = [
        ("what", found.a_name, found.b_name, "lap_s"),
        ("Lap", f"{found.a_lap_s:.3f}", f"{found.b_lap_s:.3f}", ""),
    ]
    for one in found.differences:
        rows.append((one.place, one.a, one.b, "" if one.computed else "not modelled"))
    for effect in found.effects:
        lap = "" if effect.lap_s is None else f"{effect.lap_s:+.3f}"
        rows.append((f"{effect.group} alone", "", "", lap))
    rows.append(("All together", "", "", f"{found.together_s:+.3f}"))
    return sheet_text(rows)


def comparison_markdown(found: CarComparison) -> str:
    """Differences and effects as a page of Markdown."""
    lines = [
        f"# {markdown_text(found.a_name)} and {markdown_text(found.b_name)}",
        "",
        f"Lap {found.a_lap_s:.3f} s and {found.b_lap_s:.3f} s: {found.together_s:+.3f} s.",
        "",
        *markdown_table(
            ["", found.a_name, found.b_name],
            [
                [one.place + ("" if one.computed else " (not modelled)"), one.a, one.b]
                for one in found.differences
            ],
        ),
        "",
        *markdown_table(
            ["On its own", "Lap (s)"],
            [
                *(
                    [one.group, "no lap" if one.lap_s is None else f"{one.lap_s:+.3f}"]
                    for one in found.effects
                ),
                ["All together", f"{found.together_s:+.3f}"],
            ],
        ),
    ]
    return "\n".join(lines) + "\n"
