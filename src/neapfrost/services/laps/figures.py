"""Single figures of a plan changed: what stands where, in effect, and what a change is called."""

from collections.abc import Sequence
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.document import Key
from neapfrost.formats.faults import field_path
from neapfrost.formats.plan import CornerDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object, with_part
from neapfrost.services.circuits.radius_edit import radius_edited
from neapfrost.services.figures.figure import Figure
from neapfrost.services.figures.register import PLAN_WIDE, figure_named, figures_of
from neapfrost.services.laps.on_edited_road import on_edited_road

#: Parts of a plan that a changed figure leaves the rest of the plan sound with.
Part = Literal["car", "conditions", "driver"]
WRITTEN_ALONE: tuple[Part, ...] = ("car", "conditions", "driver")

POWER, GRIP, BRAKE_SHARE, RADIUS = "peak_power_kw", "grip", "brake_front_fraction", "radius_m"
OF_SEGMENTS = figures_of("corner")
#: What goes along with a figure: where that stands, and what it is called.
ALONG = {
    GRIP: ("car.tyres.mu_longitudinal", "friction along the road"),
    POWER: ("car.engine.torque_curve", "a torque of the engine"),
}


class Change(BaseModel):
    """One figure to be changed: one of the register, or the radius of the corner with this name.

    Null takes an optional one away. With `hold_straights` a new radius leaves the straights at
    their lengths; otherwise it moves the corner's tangent points along them.
    """

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False, frozen=True)

    field: Key
    corner: Key | None = None
    value: float | None
    hold_straights: bool = False


class Assumptions(BaseModel):
    """The figures of a plan in effect by their names, and the radius of each corner that has one.

    `lives_in` names the part of the car that a figure in effect stands in, where that is not the
    car's own sheet: "wing Step 3", "setup Rain".
    """

    figures: dict[str, float | None]
    lives_in: dict[str, str]
    radii_m: list[float | None]


def assumptions(plan: PlanDocument) -> Assumptions:
    """The figures of a plan as they are in effect."""
    figures = [figure for figure in PLAN_WIDE if figure.applies_to(plan.car.kind)]
    places = {figure.name: place_of(figure, plan) for figure in figures}
    return Assumptions(
        figures={figure.name: _figure(plan, figure, places[figure.name]) for figure in figures},
        lives_in={
            name: _holder(plan, path)
            for name, path in places.items()
            if len(path) > 2 and isinstance(path[2], int)
        },
        radii_m=[s.radius_m for s in plan.circuit.segments or [] if isinstance(s, CornerDocument)],
    )


def _figure(plan: PlanDocument, figure: Figure, place: tuple[str | int, ...]) -> float | None:
    if figure.name == POWER:
        return _peak_power_kw(plan)
    if figure.name == BRAKE_SHARE and _ideal_by_setup(plan):
        return None
    return figure.number_of(_stands_at(plan, place))


def _holder(plan: PlanDocument, path: tuple[str | int, ...]) -> str:
    word = {"wings": "wing", "gear_sets": "gear set", "setups": "setup"}[str(path[1])]
    return f"{word} {_stands_at(plan, path[:3]).name}"


def apply_changes(plan: PlanDocument, changes: Sequence[Change]) -> PlanDocument:
    """The plan with every change made, in their order.

    Raises InputRefused, naming the field of the plan, when one is not allowed.
    """
    for change in changes:
        plan = _changed(plan, change)
    return plan


def change_label(change: Change, plan: PlanDocument) -> str:
    """What a change does to a plan, in words: "Grip 1.52 to 1.48"."""
    if change.field == RADIUS:
        row = OF_SEGMENTS[RADIUS]
        before = row.in_words(_radius(plan, change), unit=False)
        held = ", straights held" if change.hold_straights else ""
        return f"Radius of {change.corner} {before} to {row.in_words(change.value)}{held}"
    figure = figure_named(change.field)
    present = _figure(plan, figure, place_of(figure, plan))
    if figure.options and present is not None and change.value is not None:
        return f"{figure.label}: {figure.option(present)} to {figure.option(change.value)}"
    # A peak power is found on the torque curve and has no end of decimals.
    pair = [
        round(one, 1) if change.field == POWER and one is not None else one
        for one in (present, change.value)
    ]
    before = figure.in_words(pair[0], unit=False)
    return f"{figure.label} {before} to {figure.in_words(pair[1])}"


def owner_of(change: Change, plan: PlanDocument) -> str:
    """Which document a change is kept in: car, circuit, conditions, or the plan itself."""
    if change.field == RADIUS:
        return "circuit"
    figure = figure_named(change.field)
    in_setup = isinstance(next(iter(place_of(figure, plan)[2:]), None), int)
    return "car" if in_setup else figure.owner


def _radius(plan: PlanDocument, change: Change) -> float | None:
    for segment in plan.circuit.segments or []:
        if isinstance(segment, CornerDocument) and segment.name == change.corner:
            return segment.radius_m
    return None


def _peak_power_kw(plan: PlanDocument) -> float:
    engine = plan.car.engine
    curve = tuple((point.rpm, point.torque_nm) for point in engine.torque_curve)
    return peak_power_w(curve, engine.rev_limit_rpm) / 1000.0


def _changed(plan: PlanDocument, change: Change) -> PlanDocument:
    if change.field == RADIUS:
        return _with_radius(plan, change)
    figure = figure_named(change.field)
    path = place_of(figure, plan)
    # Only the part that the figure stands in: a computed line is long.
    part = next((name for name in WRITTEN_ALONE if name == path[0]), None)
    alone: set[str] | None = None if part is None else {part}
    if change.value == _figure(plan, figure, path):
        return plan  # scaling by one would still leave its rounding behind
    if figure.options and change.value is not None and figure.value_of(change.value) is None:
        names = "; ".join(f"{n} for {name}" for n, (_, name) in enumerate(figure.options))
        raise InputRefused(
            [Fault(field_path(path), f"{change.value:g} was given; expected are {names}")]
        )
    if change.value is None and figure.unstated is None:
        raise InputRefused([Fault(field_path(path), "null was given; a number is expected")])
    value: dict[str, Any] = plan.model_dump(mode="json", include=alone)
    if figure.name == POWER:
        _scale_torque(value, plan, change.value)
    elif figure.name == BRAKE_SHARE and path[1] == "setups":
        # A setup without a share brakes as the sheet does; ideal is something of its own.
        _put(value, path, change.value)
        _put(value, (*path[:3], "brakes_ideal"), change.value is None)
    else:
        _put(value, path, figure.value_of(change.value))
    if figure.name == GRIP and change.value is not None and change.value > 0.0:
        # One grip, two directions: the longitudinal friction keeps its share of the lateral.
        tyres = plan.car.tyres
        along = tyres.mu_longitudinal * change.value / tyres.mu_lateral
        _put(value, ("car", "tyres", "mu_longitudinal"), along)
    try:
        return plan_from_object(value) if part is None else with_part(plan, part, value[part])
    except InputRefused as refused:
        faults = [_naming_what_goes_along(fault, figure.name) for fault in refused.faults]
        raise InputRefused(faults) from refused


def _naming_what_goes_along(fault: Fault, figure: str) -> Fault:
    """A fault of what nobody typed says whose it is."""
    along = ALONG.get(figure)
    if along is None or not fault.path.startswith(along[0]):
        return fault
    return Fault(fault.path, f"{along[1]} goes with it: {fault.marked}")


def _with_radius(plan: PlanDocument, change: Change) -> PlanDocument:
    if change.value is None:
        raise InputRefused([Fault("value", "null was given; a radius is expected")])
    if change.value == _radius(plan, change):
        return plan
    edited = radius_edited(plan.circuit, change.corner, change.value, change.hold_straights)
    return on_edited_road(plan, edited)[0]


def _scale_torque(value: dict[str, Any], plan: PlanDocument, power_kw: float | None) -> None:
    if power_kw is None or power_kw <= 0.0:
        given = "null" if power_kw is None else f"{power_kw:g} kW"
        place = ".".join(figure_named(POWER).path)
        raise InputRefused([Fault(place, f"{given} was given; more than 0 is expected")])
    scale = power_kw / _peak_power_kw(plan)
    for point in value["car"]["engine"]["torque_curve"]:
        point["torque_nm"] *= scale


def place_of(figure: Figure, plan: PlanDocument) -> tuple[str | int, ...]:
    """Where a figure in effect stands: where the plan's setup overrides the car, in the setup's."""
    path = figure.path
    names = [one.name for one in plan.car.setups]
    if plan.setup not in names:
        return path
    number = names.index(plan.setup)
    setup = plan.car.setups[number]
    if path[:2] == ("car", "aero") and setup.wing is not None:
        return ("car", "wings", [w.name for w in plan.car.wings].index(setup.wing), path[2])
    if path == ("car", "gearbox", "final_drive") and setup.gear_set is not None:
        sets = [gears.name for gears in plan.car.gear_sets]
        return ("car", "gear_sets", sets.index(setup.gear_set), "final_drive")
    own_share = setup.brake_front_fraction is not None or setup.brakes_ideal
    if path == ("car", "brakes", "front_fraction") and own_share:
        return ("car", "setups", number, "brake_front_fraction")
    if path == ("car", "fuel_kg") and setup.fuel_kg is not None:
        return ("car", "setups", number, "fuel_kg")
    return path


def _ideal_by_setup(plan: PlanDocument) -> bool:
    return any(setup.name == plan.setup and setup.brakes_ideal for setup in plan.car.setups)


def _stands_at(plan: PlanDocument, path: tuple[str | int, ...]) -> Any:
    """What stands in a plan at a path of names and of numbers in lists."""
    value: Any = plan
    for key in path:
        value = value[key] if isinstance(key, int) else getattr(value, key)
    return value


def _get(value: Any, path: tuple[str | int, ...]) -> Any:
    for key in path:
        value = value[key]
    return value


def _put(value: dict[str, Any], path: tuple[str | int, ...], figure: float | bool | None) -> None:
    _get(value, path[:-1])[path[-1]] = figure
