"""One figure of a plan changed, and the lap that follows; nothing is stored."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.headline import peak_power_w, radius_change
from neapfrost.core.path.circuit import Bend
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.plan import (
    CircuitDocument,
    CornerDocument,
    PlanDocument,
    StraightDocument,
)
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_records import segment_record
from neapfrost.formats.result import ResultDocument
from neapfrost.services.predict import predict_lap

Field = Literal[
    "grip",
    "lift_area_m2",
    "drag_area_m2",
    "peak_power_kw",
    "mass_kg",
    "fuel_kg",
    "air_temp_c",
    "pressure_hpa",
    "wind_speed_ms",
    "wind_from_deg",
    "wetness_pct",
]

#: Where the figures that a plan holds as they are stand in it.
PLACES: dict[str, tuple[str, ...]] = {
    "grip": ("car", "tyres", "mu_lateral"),
    "lift_area_m2": ("car", "aero", "lift_area_m2"),
    "drag_area_m2": ("car", "aero", "drag_area_m2"),
    "mass_kg": ("car", "mass_kg"),
    "fuel_kg": ("car", "fuel_kg"),
    "air_temp_c": ("conditions", "air_temp_c"),
    "pressure_hpa": ("conditions", "pressure_hpa"),
    "wind_speed_ms": ("conditions", "wind_speed_ms"),
    "wind_from_deg": ("conditions", "wind_from_deg"),
    "wetness_pct": ("conditions", "wetness_pct"),
}


class Change(BaseModel):
    """One figure to be changed: a headline figure, or the radius of the corner with this name."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)

    field: Field | Literal["radius_m"]
    corner: str | None = None
    value: float


class Assumptions(BaseModel):
    """The headline figures of a plan, and the radius of each corner that has one."""

    grip: float
    lift_area_m2: float
    drag_area_m2: float
    peak_power_kw: float
    mass_kg: float
    fuel_kg: float
    air_temp_c: float
    pressure_hpa: float | None
    wind_speed_ms: float
    wind_from_deg: float
    wetness_pct: float
    radii_m: list[float | None]


class WhatIf(BaseModel):
    """A plan with its change made, its headline figures, and its lap."""

    plan: PlanDocument
    assumptions: Assumptions
    result: ResultDocument


def what_if(plan: PlanDocument, change: Change | None, trace_points: int | None = None) -> WhatIf:
    """Make one change to a plan and predict its lap.

    Raises InputRefused, naming the field of the plan, when the change is not allowed.
    """
    changed = plan if change is None else _changed(plan, change)
    result = predict_lap(changed, trace_points=trace_points)
    return WhatIf(plan=changed, assumptions=assumptions(changed), result=result)


def assumptions(plan: PlanDocument) -> Assumptions:
    """The headline figures of a plan."""
    car, air = plan.car, plan.conditions
    segments = plan.circuit.segments
    return Assumptions(
        grip=car.tyres.mu_lateral,
        lift_area_m2=car.aero.lift_area_m2,
        drag_area_m2=car.aero.drag_area_m2,
        peak_power_kw=_peak_power_kw(plan),
        mass_kg=car.mass_kg,
        fuel_kg=car.fuel_kg,
        air_temp_c=air.air_temp_c,
        pressure_hpa=air.pressure_hpa,
        wind_speed_ms=air.wind_speed_ms,
        wind_from_deg=air.wind_from_deg,
        wetness_pct=air.wetness_pct,
        radii_m=[s.radius_m for s in segments if isinstance(s, CornerDocument)] if segments else [],
    )


def _peak_power_kw(plan: PlanDocument) -> float:
    engine = plan.car.engine
    curve = tuple((point.rpm, point.torque_nm) for point in engine.torque_curve)
    return peak_power_w(curve, engine.rev_limit_rpm) / 1000.0


def _changed(plan: PlanDocument, change: Change) -> PlanDocument:
    value = plan.model_dump(mode="json")
    if change.field == "radius_m":
        value["circuit"] = _with_radius(plan.circuit, change)
    elif change.field == "peak_power_kw":
        if change.value <= 0.0:
            raise InputRefused(
                [
                    Fault(
                        "car.engine.torque_curve",
                        f"{change.value:g} kW was given; more than 0 is expected",
                    )
                ]
            )
        scale = change.value / _peak_power_kw(plan)
        for point in value["car"]["engine"]["torque_curve"]:
            point["torque_nm"] *= scale
    else:
        _put(value, PLACES[change.field], change.value)
        if change.field == "grip" and change.value > 0.0:
            # One grip, two directions: the longitudinal friction keeps its share of the lateral.
            tyres = plan.car.tyres
            along = tyres.mu_longitudinal * change.value / tyres.mu_lateral
            _put(value, ("car", "tyres", "mu_longitudinal"), along)
    return plan_from_object(value)


def _put(value: dict[str, Any], place: tuple[str, ...], figure: float) -> None:
    for key in place[:-1]:
        value = value[key]
    value[place[-1]] = figure


def _with_radius(circuit: CircuitDocument, change: Change) -> dict[str, Any]:
    """The circuit with one corner's radius changed and everything beside the road left in place."""
    segments = list(circuit.segments or [])
    index = next(
        (
            number
            for number, segment in enumerate(segments)
            if isinstance(segment, CornerDocument) and segment.name == change.corner
        ),
        None,
    )
    if index is None:
        raise InputRefused([Fault("corner", f'no corner with a radius is named "{change.corner}"')])
    corner = segments[index]
    assert isinstance(corner, CornerDocument)
    value = circuit.model_dump(mode="json")
    value["segments"][index]["radius_m"] = change.value
    if change.value <= 1.0:
        return value  # refused by the plan's own rules, with the field's path
    before = _straight(circuit, index - 1)
    after = _straight(circuit, index + 1)
    old = segment_record(corner)
    new = segment_record(corner.model_copy(update={"radius_m": change.value}))
    assert isinstance(old, Bend)
    assert isinstance(new, Bend)
    effect = radius_change(
        old, new, 0.0 if before is None else before[1], 0.0 if after is None else after[1]
    )
    if before is not None and after is not None and effect.straight_change_m != 0.0:
        for number, length in (before, after):
            value["segments"][number]["length_m"] = length + effect.straight_change_m
    begins = sum(segment_length_m(segment_record(segment)) for segment in segments[:index])
    if before is not None and before[0] > index:
        # The straight before lies at the end of the list: the line itself moves with its start.
        moved = effect.corner_change_m + effect.straight_change_m
    else:
        moved = effect.corner_change_m + 2.0 * effect.straight_change_m
    _move_things(value, begins + 0.5 * segment_length_m(old), moved)
    return value


def _straight(circuit: CircuitDocument, index: int) -> tuple[int, float] | None:
    """Number and length of the straight beside a corner; around the line on a closed circuit."""
    segments = circuit.segments or []
    if not circuit.closed and not 0 <= index < len(segments):
        return None
    number = index % len(segments)
    segment = segments[number]
    return (number, segment.length_m) if isinstance(segment, StraightDocument) else None


def _move_things(circuit: dict[str, Any], after_m: float, by_m: float) -> None:
    """Carry what stands beyond a place along with the road it stands on."""
    for name in ("boards", "references"):
        for thing in circuit[name]:
            if thing["at_m"] >= after_m:
                thing["at_m"] += by_m
    circuit["sectors_at_m"] = [at + by_m if at >= after_m else at for at in circuit["sectors_at_m"]]
    for point in circuit["elevation"] or []:
        if point["at_m"] >= after_m:
            point["at_m"] += by_m
