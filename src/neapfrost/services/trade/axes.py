"""What can be varied in a plan: its figures, and what its car has to choose from."""

import difflib
from collections.abc import Iterable
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused, refused_in
from neapfrost.formats.car_document import SetupDocument, WingStep
from neapfrost.formats.document import Key
from neapfrost.formats.faults import validated
from neapfrost.formats.plan import ConditionsDocument, PlanDocument
from neapfrost.formats.plan_file import with_part
from neapfrost.formats.plan_setup import in_effect, named
from neapfrost.services.figures.figure import Figure, Quantity
from neapfrost.services.figures.register import PLAN_WIDE
from neapfrost.services.figures.setups import SETUP_FIGURES
from neapfrost.services.laps.figures import Change, apply_changes, assumptions

#: Figures that no lap on a given line answers to.
NOT_VARIED = {
    "fuel_capacity_kg",
    "width_m",
    "driver_height_m",
    "track_width_m",
    "lateral_transfer_front",
    "slip_at_limit_pct",
}
#: A range that nobody has stated reaches so many steps to either side of the present value.
STEPS_EITHER_SIDE = 8
#: What bears on the lap by its direction or its share is looked at over all of it.
WHOLE_RANGE = {"wind_from_deg": (0.0, 345.0), "wetness_pct": (0.0, 60.0)}
#: The name that a setup gets which is only there because something is varied in it.
VARIED_SETUP = "Other"
DOWNFORCE_TABLE = "wing_downforce"
RATIO = "ratio_"
#: All conditions at once, as a document's text: what a moment of a session puts.
CONDITIONS = "conditions"
#: All ratios at once, first gear first, as text: what a proposal of gears puts.
RATIOS = "ratios"
#: What a setup chooses from the car: its label, and the list of the car it is chosen from.
CHOICES = {
    "wing": ("Wing step", "wings"),
    "gear_set": ("Gear set", "gear_sets"),
    "compound": ("Tyre compound", "compounds"),
}

Group = Literal["Available parts", "Setup", "Car", "Gears", "Driver", "Conditions"]
#: Where a figure is listed: by whose it is, but for these.
GROUPS: dict[str, Group] = {"car": "Car", "plan": "Driver", "conditions": "Conditions"}
GROUP_OF: dict[str, Group] = {
    "fuel_kg": "Car",
    "final_drive": "Gears",
    "upshift_s": "Gears",
    "downshift_s": "Gears",
}
#: A place on an axis: a figure's value, or the name of what is chosen.
Value = float | Key
#: Places on several axes, by their names.
Settings = tuple[tuple[str, Value], ...]


class Axis(BaseModel):
    """Something that can be varied, from `low` to `high`, or among `choices`.

    `said_unit` follows a value in a sentence. `present` is where the plan stands, `chosen` what it
    has chosen; null where it has none.
    """

    name: str
    label: str
    group: Group
    unit: str = ""
    said_unit: str = ""
    quantity: Quantity = "none"
    decimals: int = 0
    step: float = 1.0
    present: float | None = None
    low: float = 0.0
    high: float = 0.0
    choices: list[str] = []
    chosen: str | None = None
    says: str = ""


class Setting(BaseModel):
    """A place on an axis, as documents and the page have it."""

    axis: Key
    value: Value


def as_settings(told: Iterable[Setting]) -> Settings:
    """Places on several axes, from how they are told."""
    return tuple((one.axis, one.value) for one in told)


def axes_of(plan: PlanDocument) -> list[Axis]:
    """Everything that can be varied in a plan, what the car has to choose from first."""
    return [*_choices(plan), *_of_setup(plan), *_gears(plan), *_figures(plan)]


def axis_named(plan: PlanDocument, name: str) -> Axis:
    """What can be varied by its name. Raises InputRefused with the nearest known name."""
    known = {axis.name: axis for axis in axes_of(plan)}
    if name in known:
        return known[name]
    close = difflib.get_close_matches(name, known, n=1, cutoff=0.5)
    hint = f'; did you mean "{close[0]}"?' if close else ""
    raise InputRefused(
        [Fault("axis", f'nothing that can be varied in this plan is named "{name}"{hint}')]
    )


def put(plan: PlanDocument, settings: Settings) -> PlanDocument:
    """A plan put somewhere on several axes. Raises InputRefused.

    What is chosen comes first: a setup, then its wing and gears, then figures that stand in them.
    """
    first = [CONDITIONS, "setup", *CHOICES, DOWNFORCE_TABLE]
    for name, value in sorted(
        settings, key=lambda one: first.index(one[0]) if one[0] in first else len(first)
    ):
        plan = _put(plan, name, value)
    return plan


def _put(plan: PlanDocument, name: str, value: Value) -> PlanDocument:
    if name == CONDITIONS:
        air = ConditionsDocument.model_validate_json(str(value))
        return plan.model_copy(update={"conditions": air})
    if name in CHOICES:
        return _with_chosen(plan, name, value)
    if name == "setup":
        return plan.model_copy(update={"setup": _one_of(value, [s.name for s in plan.car.setups])})
    if name == "ballast_kg":
        return _with_setup(plan, ballast_kg=_number(value))
    if name == DOWNFORCE_TABLE:
        return _between_wings(plan, _number(value))
    if name == RATIOS:
        return _with_ratios(plan, value)
    if name.startswith(RATIO) and name.removeprefix(RATIO).isdecimal():
        return _with_ratio(plan, int(name.removeprefix(RATIO)) - 1, _number(value))
    return apply_changes(plan, [Change(field=name, value=_number(value))])


def _choices(plan: PlanDocument) -> list[Axis]:
    """Wing, gear set, compound and setup, where the car has more than one of them."""
    setup = named(plan.car.setups, plan.setup)
    found = []
    for name, (label, part) in CHOICES.items():
        choices = [one.name for one in getattr(plan.car, part)]
        if len(choices) > 1:
            chosen = None if setup is None else getattr(setup, name)
            found.append(
                Axis(
                    name=name, label=label, group="Available parts", choices=choices, chosen=chosen
                )
            )
    names = [one.name for one in plan.car.setups]
    if len(names) > 1:
        found.append(
            Axis(
                name="setup",
                label="Setup",
                group="Available parts",
                choices=names,
                chosen=plan.setup,
            )
        )
    return found


def _one_of(value: Value, choices: list[str]) -> str:
    if not isinstance(value, str) or value not in choices:
        raise InputRefused(
            [Fault("value", f'"{value}" was given; one of {", ".join(choices)} is expected')]
        )
    return value


def _with_chosen(plan: PlanDocument, name: str, value: Value) -> PlanDocument:
    choices = [one.name for one in getattr(plan.car, CHOICES[name][1])]
    return _with_setup(plan, **{name: _one_of(value, choices)})


def _with_setup(plan: PlanDocument, **changes: object) -> PlanDocument:
    """A plan whose setup is otherwise; one without a setup gets one that is otherwise the sheet."""
    own = named(plan.car.setups, plan.setup) or SetupDocument(name=VARIED_SETUP)
    setup = validated(SetupDocument, {**own.model_dump(mode="json"), **changes}, "car.setup")
    others = [setup if one.name == own.name else one for one in plan.car.setups]
    setups = others if setup in others else [*others, setup]
    car = plan.car.model_copy(update={"setups": setups})
    return plan.model_copy(update={"car": car, "setup": setup.name})


def _of_setup(plan: PlanDocument) -> list[Axis]:
    """Ballast, and downforce between the steps of the wing's table."""
    setup = named(plan.car.setups, plan.setup) or SetupDocument(name=VARIED_SETUP)
    ballast = next(figure for figure in SETUP_FIGURES if figure.path[-1] == "ballast_kg")
    found = [_numeric(ballast, setup.ballast_kg, "Setup", name="ballast_kg", least=0.0)]
    wings = sorted(plan.car.wings, key=lambda wing: wing.lift_area_m2)
    if len({wing.lift_area_m2 for wing in wings}) > 1:
        low, high = wings[0].lift_area_m2, wings[-1].lift_area_m2
        present = in_effect(plan).car.aero.lift_area_m2
        found.append(
            Axis(
                name=DOWNFORCE_TABLE,
                label="Downforce from the wing table",
                group="Setup",
                unit="m² ClA",
                said_unit=" m² ClA",
                decimals=3,
                step=0.05,
                present=present if low <= present <= high else None,
                low=low,
                high=high,
                says="Drag and balance follow, linear between the steps of the table",
            )
        )
    return found


def _between_wings(plan: PlanDocument, lift_area_m2: float) -> PlanDocument:
    """A plan with a wing between two steps of its table."""
    wings = sorted(plan.car.wings, key=lambda wing: wing.lift_area_m2)
    lifts = np.array([wing.lift_area_m2 for wing in wings])
    if not lifts[0] - 1e-9 <= lift_area_m2 <= lifts[-1] + 1e-9:
        raise InputRefused(
            [
                Fault(
                    "value",
                    f"{lift_area_m2:g} m² was given; the wing's table goes from {lifts[0]:g} to "
                    f"{lifts[-1]:g} m²",
                )
            ]
        )

    def along(field: str) -> float:
        return float(np.interp(lift_area_m2, lifts, [getattr(wing, field) for wing in wings]))

    name = f"ClA {lift_area_m2:.3f}"
    step = WingStep(
        name=name,
        lift_area_m2=lift_area_m2,
        drag_area_m2=along("drag_area_m2"),
        front_fraction=along("front_fraction"),
    )
    others = [wing for wing in plan.car.wings if wing.name != name]
    car = plan.car.model_copy(update={"wings": [*others, step]})
    return _with_setup(plan.model_copy(update={"car": car}), wing=name)


def _gears(plan: PlanDocument) -> list[Axis]:
    """Each single ratio of the gears in effect."""
    ratios = in_effect(plan).car.gearbox.ratios
    found = []
    for number, ratio in enumerate(ratios):
        above = ratios[number - 1] if number > 0 else ratio * 1.3
        below = ratios[number + 1] if number + 1 < len(ratios) else ratio / 1.2
        found.append(
            Axis(
                name=f"{RATIO}{number + 1}",
                label=f"Ratio of gear {number + 1}",
                group="Gears",
                unit="to 1",
                decimals=3,
                step=0.02,
                present=ratio,
                low=round(ratio - 0.7 * (ratio - below), 3),
                high=round(ratio + 0.7 * (above - ratio), 3),
                says="The other ratios and the final drive do not change",
            )
        )
    return found


def _with_ratios(plan: PlanDocument, value: Value) -> PlanDocument:
    try:
        ratios = [float(word) for word in str(value).split()]
    except ValueError:
        ratios = []
    count = len(in_effect(plan).car.gearbox.ratios)
    if len(ratios) != count:
        raise InputRefused(
            [Fault("value", f'"{value}" was given; {count} ratios with spaces are expected')]
        )
    car, holder = _gears_of(plan)
    holder["ratios"] = ratios
    return with_part(plan, "car", car)


def _gears_of(plan: PlanDocument) -> tuple[dict[str, Any], dict[str, Any]]:
    """A car as an object, and the part of it that holds the gears in effect."""
    setup = named(plan.car.setups, plan.setup)
    gears = None if setup is None else named(plan.car.gear_sets, setup.gear_set)
    car = plan.car.model_dump(mode="json")
    if gears is None:
        return car, car["gearbox"]
    return car, car["gear_sets"][plan.car.gear_sets.index(gears)]


def _with_ratio(plan: PlanDocument, number: int, ratio: float) -> PlanDocument:
    """A plan with one ratio otherwise, of the gear set in effect or of the car's own gears."""
    car, holder = _gears_of(plan)
    if not 0 <= number < len(holder["ratios"]):
        raise InputRefused(
            [Fault("axis", f"gear {number + 1} was given; this car has {len(holder['ratios'])}")]
        )
    holder["ratios"][number] = ratio
    return with_part(plan, "car", car)


def _figures(plan: PlanDocument) -> list[Axis]:
    """Every figure of car, driver and conditions that the lap answers to."""
    present = assumptions(plan).figures
    found = []
    for figure in PLAN_WIDE:
        if figure.name in NOT_VARIED or figure.options or not figure.applies_to(plan.car.kind):
            continue
        group = GROUP_OF.get(figure.name) or GROUPS[figure.owner]
        value = present[figure.name]
        usual = figure.usual_for(plan.car.kind)
        if value is None and usual is None and figure.unstated is None:
            continue
        axis = _within_what_is_allowed(plan, _numeric(figure, value, group, usual=usual))
        if axis.low < axis.high:
            found.append(axis)
    return found


def _numeric(
    figure: Figure,
    present: float | None,
    group: Group,
    name: str | None = None,
    usual: tuple[float, float] | None = None,
    least: float | None = None,
) -> Axis:
    """The axis of a figure of the register, with a range to begin with."""
    reach = STEPS_EITHER_SIDE * figure.step
    if figure.name in WHOLE_RANGE:
        low, high = WHOLE_RANGE[figure.name]
    elif present is None:
        usual_value = None if figure.unstated is None else figure.unstated.usual
        low, high = usual or (usual_value or 0.0, usual_value or 0.0)
        if low == high:
            low, high = low - reach, high + reach
    else:
        low, high = present - reach, present + reach
    if least is not None:
        low, high = max(low, least), max(high, least + reach)
    return Axis(
        name=name or figure.name,
        label=figure.label,
        group=group,
        unit=figure.unit,
        said_unit=figure.said_unit,
        quantity=figure.quantity,
        decimals=figure.decimals,
        step=figure.step,
        present=present,
        low=round(low, 6),
        high=round(high, 6),
        says=figure.changes,
    )


def _within_what_is_allowed(plan: PlanDocument, axis: Axis) -> Axis:
    """The axis with a range drawn in to what the document allows."""
    if axis.present is None or axis.name in WHOLE_RANGE:
        return axis
    return axis.model_copy(
        update={
            "low": _furthest(plan, axis, axis.low, -1.0),
            "high": _furthest(plan, axis, axis.high, 1.0),
        }
    )


def _furthest(plan: PlanDocument, axis: Axis, end: float, way: float) -> float:
    """An end of a range, or as many steps towards it as the document allows."""
    present = axis.present or 0.0
    steps = [present + way * n * axis.step for n in range(STEPS_EITHER_SIDE - 1, 0, -1)]
    for value in (end, *(round(step, 6) for step in steps)):
        try:
            apply_changes(plan, [Change(field=axis.name, value=value)])
        except InputRefused:
            continue
        return value
    return present


def _number(value: Value) -> float:
    if isinstance(value, str):
        raise InputRefused([Fault("value", f'"{value}" was given; a number is expected')])
    return value


def values_between(axis: Axis, low: float, high: float, count: int) -> list[float]:
    """Evenly spaced values, and the present one among them where it lies inside.

    Raises InputRefused for a range that is none and for too few or too many values.
    """
    with refused_in(axis.name):
        if not low < high:
            raise InputRefused(
                [Fault("low", f"{low:g} to {high:g} was given; the first must be the lower")]
            )
    values = [round(float(value), 9) for value in np.linspace(low, high, count)]
    if axis.present is not None and low < axis.present < high:
        nearest = min(range(count), key=lambda n: abs(values[n] - (axis.present or 0.0)))
        apart = (high - low) / max(count - 1, 1)
        if abs(values[nearest] - axis.present) < 0.25 * apart and 0 < nearest < count - 1:
            values[nearest] = axis.present
        elif axis.present not in values:
            values = sorted([*values, axis.present])
    return values
