"""Single figures of a plan changed: where each stands, which document it belongs to, its name."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import CornerDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.circuits.radius_edit import radius_edited
from neapfrost.services.laps.on_edited_road import on_edited_road

Field = Literal[
    "grip",
    "lift_area_m2",
    "drag_area_m2",
    "peak_power_kw",
    "mass_kg",
    "driver_kg",
    "mu_longitudinal",
    "load_sensitivity",
    "rolling_resistance",
    "rolling_radius_m",
    "aero_front_fraction",
    "rev_limit_rpm",
    "efficiency",
    "final_drive",
    "upshift_s",
    "downshift_s",
    "rear_drive_fraction",
    "brake_front_fraction",
    "brake_max_force_n",
    "wheelbase_m",
    "cg_height_m",
    "front_weight_fraction",
    "fuel_kg",
    "braking_use",
    "cornering_use",
    "traction_use",
    "entry_exponent",
    "exit_exponent",
    "brake_ramp_s",
    "transition_s",
    "lift_threshold_ms",
    "air_temp_c",
    "pressure_hpa",
    "humidity_pct",
    "wind_speed_ms",
    "wind_from_deg",
    "track_temp_c",
    "wetness_pct",
    "track_grip",
]


@dataclass(frozen=True)
class Place:
    """Where a figure stands in the plan document, and what it is called there."""

    path: tuple[str, ...]
    label: str
    unit: str


PLACES: dict[str, Place] = {
    "grip": Place(("car", "tyres", "mu_lateral"), "Grip", ""),
    "lift_area_m2": Place(("car", "aero", "lift_area_m2"), "Downforce", "m² ClA"),
    "drag_area_m2": Place(("car", "aero", "drag_area_m2"), "Drag", "m² CdA"),
    "mass_kg": Place(("car", "mass_kg"), "Mass", "kg"),
    "driver_kg": Place(("car", "driver_kg"), "Driver", "kg"),
    "mu_longitudinal": Place(("car", "tyres", "mu_longitudinal"), "Grip along", ""),
    "load_sensitivity": Place(("car", "tyres", "load_sensitivity"), "Load sensitivity", ""),
    "rolling_resistance": Place(("car", "tyres", "rolling_resistance"), "Rolling resistance", ""),
    "rolling_radius_m": Place(("car", "tyres", "rolling_radius_m"), "Rolling radius", "m"),
    "aero_front_fraction": Place(("car", "aero", "front_fraction"), "Downforce on the front", ""),
    "rev_limit_rpm": Place(("car", "engine", "rev_limit_rpm"), "Rev limit", "rpm"),
    "efficiency": Place(("car", "engine", "efficiency"), "Driveline efficiency", ""),
    "final_drive": Place(("car", "gearbox", "final_drive"), "Final drive", ""),
    "upshift_s": Place(("car", "gearbox", "upshift_s"), "Upshift", "s"),
    "downshift_s": Place(("car", "gearbox", "downshift_s"), "Downshift", "s"),
    "rear_drive_fraction": Place(("car", "drive", "rear_fraction"), "Drive on the rear", ""),
    "brake_front_fraction": Place(("car", "brakes", "front_fraction"), "Brakes on the front", ""),
    "brake_max_force_n": Place(("car", "brakes", "max_force_n"), "Largest brake force", "N"),
    "wheelbase_m": Place(("car", "wheelbase_m"), "Wheelbase", "m"),
    "cg_height_m": Place(("car", "cg_height_m"), "Height of the centre of gravity", "m"),
    "front_weight_fraction": Place(("car", "front_weight_fraction"), "Weight on the front", ""),
    "fuel_kg": Place(("car", "fuel_kg"), "Fuel", "kg"),
    "braking_use": Place(("driver", "use", "braking"), "Share of grip used, braking", ""),
    "cornering_use": Place(("driver", "use", "cornering"), "Share of grip used, cornering", ""),
    "traction_use": Place(("driver", "use", "traction"), "Share of grip used, traction", ""),
    "entry_exponent": Place(("driver", "entry_exponent"), "Braking into the corner, exponent", ""),
    "exit_exponent": Place(("driver", "exit_exponent"), "Throttle out of it, exponent", ""),
    "brake_ramp_s": Place(("driver", "brake_ramp_s"), "Rise of the brake", "s"),
    "transition_s": Place(("driver", "transition_s"), "Change of pedals", "s"),
    "lift_threshold_ms": Place(
        ("driver", "lift_threshold_ms"), "Lift instead of brake up to", "m/s"
    ),
    "air_temp_c": Place(("conditions", "air_temp_c"), "Air temperature", "°C"),
    "pressure_hpa": Place(("conditions", "pressure_hpa"), "Pressure", "hPa"),
    "humidity_pct": Place(("conditions", "humidity_pct"), "Humidity", "%"),
    "wind_speed_ms": Place(("conditions", "wind_speed_ms"), "Wind", "m/s"),
    "wind_from_deg": Place(("conditions", "wind_from_deg"), "Wind from", "°"),
    "track_temp_c": Place(("conditions", "track_temp_c"), "Track temperature", "°C"),
    "wetness_pct": Place(("conditions", "wetness_pct"), "Wetness", "%"),
    "track_grip": Place(("conditions", "grip_factor"), "Track grip", ""),
}
POWER = Place(("car", "engine", "torque_curve"), "Power", "kW")


class Change(BaseModel):
    """One figure to be changed: a headline figure, or the radius of the corner with this name.

    With `hold_straights` a new radius leaves the straights at their lengths; otherwise it moves
    the corner's tangent points along them.
    """

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)

    field: Field | Literal["radius_m"]
    corner: str | None = None
    value: float
    hold_straights: bool = False


class Assumptions(BaseModel):
    """The headline figures of a plan, and the radius of each corner that has one."""

    grip: float
    lift_area_m2: float
    drag_area_m2: float
    peak_power_kw: float
    mass_kg: float
    driver_kg: float
    mu_longitudinal: float
    load_sensitivity: float
    rolling_resistance: float
    rolling_radius_m: float
    aero_front_fraction: float
    rev_limit_rpm: float
    efficiency: float
    final_drive: float
    upshift_s: float
    downshift_s: float
    rear_drive_fraction: float
    brake_front_fraction: float | None
    brake_max_force_n: float | None
    wheelbase_m: float
    cg_height_m: float
    front_weight_fraction: float
    fuel_kg: float
    braking_use: float
    cornering_use: float
    traction_use: float
    entry_exponent: float
    exit_exponent: float
    brake_ramp_s: float
    transition_s: float
    lift_threshold_ms: float
    air_temp_c: float
    pressure_hpa: float | None
    humidity_pct: float
    wind_speed_ms: float
    wind_from_deg: float
    track_temp_c: float
    wetness_pct: float
    track_grip: float
    radii_m: list[float | None]


def assumptions(plan: PlanDocument) -> Assumptions:
    """The headline figures of a plan."""
    value = plan.model_dump()
    segments = plan.circuit.segments
    return Assumptions(
        **{field: _get(value, place_of(field, plan)) for field in PLACES},
        peak_power_kw=_peak_power_kw(plan),
        radii_m=[s.radius_m for s in segments if isinstance(s, CornerDocument)] if segments else [],
    )


def apply_changes(plan: PlanDocument, changes: Sequence[Change]) -> PlanDocument:
    """The plan with every change made, in their order.

    Raises InputRefused, naming the field of the plan, when one is not allowed.
    """
    for change in changes:
        plan = _changed(plan, change)
    return plan


def change_label(change: Change, plan: PlanDocument) -> str:
    """What a change does to a plan, in words: "Grip 1.52 to 1.48"."""
    # A peak power is found on the torque curve and has no end of decimals.
    decimals = 1 if change.field == "peak_power_kw" else 4
    before, after = _said(_present(plan, change), decimals), _said(change.value, decimals)
    if change.field == "radius_m":
        held = ", straights held" if change.hold_straights else ""
        return f"Radius of {change.corner} {before} to {after} m{held}"
    place = POWER if change.field == "peak_power_kw" else PLACES[change.field]
    text = f"{place.label} {before} to {after}"
    return f"{text} {place.unit}" if place.unit else text


def _present(plan: PlanDocument, change: Change) -> float | None:
    """The figure as it stands; None where there is none of that name."""
    if change.field == "peak_power_kw":
        return _peak_power_kw(plan)
    if change.field != "radius_m":
        figure: float | None = _get(plan.model_dump(), place_of(change.field, plan))
        return figure
    for segment in plan.circuit.segments or []:
        if isinstance(segment, CornerDocument) and segment.name == change.corner:
            return segment.radius_m
    return None


def _said(value: float | None, decimals: int) -> str:
    return "not set" if value is None else f"{round(value, decimals):g}"


def _peak_power_kw(plan: PlanDocument) -> float:
    engine = plan.car.engine
    curve = tuple((point.rpm, point.torque_nm) for point in engine.torque_curve)
    return peak_power_w(curve, engine.rev_limit_rpm) / 1000.0


def _changed(plan: PlanDocument, change: Change) -> PlanDocument:
    if change.value == _present(plan, change):
        return plan  # scaling by one would still leave its rounding behind
    if change.field == "radius_m":
        edited = radius_edited(plan.circuit, change.corner, change.value, change.hold_straights)
        return on_edited_road(plan, edited)[0]
    value = plan.model_dump(mode="json")
    if change.field == "peak_power_kw":
        if change.value <= 0.0:
            raise InputRefused(
                [
                    Fault(
                        ".".join(POWER.path),
                        f"{change.value:g} kW was given; more than 0 is expected",
                    )
                ]
            )
        scale = change.value / _peak_power_kw(plan)
        for point in value["car"]["engine"]["torque_curve"]:
            point["torque_nm"] *= scale
    else:
        _put(value, place_of(change.field, plan), change.value)
        if change.field == "grip" and change.value > 0.0:
            # One grip, two directions: the longitudinal friction keeps its share of the lateral.
            tyres = plan.car.tyres
            along = tyres.mu_longitudinal * change.value / tyres.mu_lateral
            _put(value, ("car", "tyres", "mu_longitudinal"), along)
    return plan_from_object(value)


def place_of(field: str, plan: PlanDocument) -> tuple[str | int, ...]:
    """Where a figure is changed: where the plan's setup overrides the car, in the setup's own."""
    path = PLACES[field].path
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
    if path == ("car", "brakes", "front_fraction") and setup.brake_front_fraction is not None:
        return ("car", "setups", number, "brake_front_fraction")
    if path == ("car", "fuel_kg") and setup.fuel_kg is not None:
        return ("car", "setups", number, "fuel_kg")
    return path


def _get(value: Any, path: tuple[str | int, ...]) -> Any:
    for key in path:
        value = value[key]
    return value


def _put(value: dict[str, Any], path: tuple[str | int, ...], figure: float) -> None:
    _get(value, path[:-1])[path[-1]] = figure
