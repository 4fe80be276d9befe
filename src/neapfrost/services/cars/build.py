"""A car from what is known of it: statements in, a car's document and its doubts out."""

from itertools import pairwise
from typing import Annotated

from pydantic import BaseModel, Field

from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.quick_build import Assumption, Built, Known, quick_build
from neapfrost.core.car.starting_kinds import rear_drive
from neapfrost.core.car.statements import Statement
from neapfrost.core.car.tyre_code import rolling_radius_m
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.records import Conditions, Vehicle
from neapfrost.formats.car_document import CarDocument, IntakeDocument, KnownDocument
from neapfrost.formats.document import Name
from neapfrost.formats.faults import validated
from neapfrost.formats.plan_records import intake_record
from neapfrost.services.cars.usual import reference_loads, usual_attitude
from neapfrost.services.figures.figure import BY_UNIT
from neapfrost.services.figures.figure import Quantity as ShownQuantity

FIGURE_LABELS = {
    "mass_kg": ("Mass", "kg"),
    "peak_power_w": ("Power", "kW"),
    "torque_ratio": ("Peak torque / torque at peak power", ""),
    "mu_lateral": ("Grip", "μ"),
    "grip_along_ratio": ("Longitudinal / lateral grip", ""),
    "front_weight_fraction": ("Weight distribution (front)", ""),
    "brake_front_fraction": ("Brake bias (front)", ""),
    "cg_height_m": ("Height of the centre of gravity", "m"),
    "lift_area_m2": ("Downforce", "m² ClA"),
    "drag_area_m2": ("Drag", "m² CdA"),
    "efficiency": ("Driveline efficiency", ""),
    "upshift_s": ("Upshift time", "s"),
    "getaway_s": ("Launch loss in the stated times", "s"),
    "first_gear_ms": ("First gear runs to", "m/s"),
    "top_gear_ms": ("Top gear runs to", "m/s"),
}


class QuickCar(KnownDocument):
    """What somebody knows of a vehicle; what is left out is found or assumed.

    `intake` says how the engine takes its air, and in which air its power was measured.
    """

    name: Annotated[Name, Field(min_length=1)] = "New car"
    fuel_kg: Annotated[float, Field(ge=0, le=500, strict=True)] = 20.0
    driver_kg: Annotated[float, Field(ge=0, le=300, strict=True)] = 80.0
    intake: IntakeDocument = Field(default_factory=lambda: IntakeDocument(aspiration="natural"))


class BuiltRow(BaseModel):
    """A statement beside what the model now does; null where it never gets there."""

    quantity: Quantity
    at: float | None
    stated: float
    model: float | None
    misfit_pct: float


class BuiltContradiction(BaseModel):
    """A statement that the others speak against, what they say instead, and by how much."""

    quantity: Quantity
    at: float | None
    stated: float
    others_say: float | None
    off_pct: float | None


class BuiltAssumption(BaseModel):
    """A figure that the statements leave open, with its usual range, as a document holds it."""

    figure: str
    label: str
    unit: str
    quantity: ShownQuantity
    value: float
    low: float
    high: float
    open_pct: float


class QuickBuilt(BaseModel):
    """The car found, each statement beside the model, contradictions, assumptions.

    `applied` is a plan's car with it, where a plan was named, and `changes` what that changes.
    """

    car: CarDocument
    rows: list[BuiltRow]
    contradictions: list[BuiltContradiction]
    assumptions: list[BuiltAssumption]
    applied: CarDocument | None = None
    changes: list[str] = []


def built_car(wanted: QuickCar) -> QuickBuilt:
    """The car that fits what is known best. Raises InputRefused for what makes no sense."""
    if wanted.rev_limit_rpm and wanted.power_rpm and wanted.rev_limit_rpm < wanted.power_rpm:
        raise InputRefused(
            [
                Fault(
                    "rev_limit_rpm",
                    f"{wanted.rev_limit_rpm:g} was given, but power peaks at "
                    f"{wanted.power_rpm:g} rpm; the limit lies above that",
                )
            ]
        )
    if any(after >= before for before, after in pairwise(wanted.ratios)):
        raise InputRefused(
            [
                Fault(
                    "ratios",
                    f"{', '.join(f'{ratio:g}' for ratio in wanted.ratios)} was given; list first "
                    "gear first, each ratio lower than the one before",
                )
            ]
        )
    code = wanted.tyre_code.strip()
    known = Known(
        starting=wanted.kind,
        driven_rear=rear_drive(wanted.kind, wanted.driven),
        gears=len(wanted.ratios) or wanted.gears,
        ratios=tuple(wanted.ratios),
        final_drive=wanted.final_drive,
        power_rpm=wanted.power_rpm,
        rev_limit_rpm=wanted.rev_limit_rpm,
        rolling_radius_m=_radius_m(code) if code else None,
        fuel_kg=wanted.fuel_kg,
        driver_kg=wanted.driver_kg,
        intake=intake_record(wanted.intake),
    )
    statements = tuple(Statement(s.quantity, s.value, s.at) for s in wanted.stated)
    built = quick_build(known, statements, Conditions())
    return QuickBuilt(
        car=car_document(built.vehicle, wanted.name, _note(built)).model_copy(
            update={
                "known": KnownDocument(**wanted.model_dump(include=set(KnownDocument.model_fields)))
            }
        ),
        rows=[
            BuiltRow(
                quantity=row.statement.quantity,
                at=row.statement.at,
                stated=row.statement.value,
                model=row.model,
                misfit_pct=100.0 * row.misfit,
            )
            for row in built.rows
        ],
        contradictions=[
            BuiltContradiction(
                quantity=one.statement.quantity,
                at=one.statement.at,
                stated=one.statement.value,
                others_say=one.others_say,
                off_pct=None
                if one.others_say is None
                else 100.0 * (one.others_say / one.statement.value - 1.0),
            )
            for one in built.contradictions
        ],
        assumptions=[_assumption(one) for one in built.assumptions],
    )


def _radius_m(text: str) -> float:
    """A rolling radius typed in metres, or a tyre's code."""
    try:
        radius = float(text.replace(",", "."))
    except ValueError:
        return rolling_radius_m(text)
    if not 0.15 <= radius <= 0.6:
        raise InputRefused(
            [Fault("tyre_code", f"{radius:g} m was given; 0.15 to 0.6 m are expected")]
        )
    return radius


def _assumption(one: Assumption) -> BuiltAssumption:
    label, unit = FIGURE_LABELS[one.name]
    size = 0.001 if unit == "kW" else 1.0
    return BuiltAssumption(
        figure=one.name,
        label=label,
        unit=unit,
        quantity="speed" if unit == "m/s" else BY_UNIT.get(unit, "none"),
        value=size * one.value,
        low=size * one.low,
        high=size * one.high,
        open_pct=100.0 * min(one.kept_share, 1.0),
    )


def _note(built: Built) -> str:
    names = ", ".join(FIGURE_LABELS[one.name][0].lower() for one in built.assumptions)
    assumed = f" Typical values assumed for: {names}." if names else ""
    return f"Built from {len(built.rows)} statements.{assumed}"[:2000]


def car_document(vehicle: Vehicle, name: str, note: str = "") -> CarDocument:
    """A core's vehicle as a document."""
    engine, gearbox, brakes = vehicle.engine, vehicle.gearbox, vehicle.brakes
    return validated(
        CarDocument,
        {
            "name": name,
            "kind": vehicle.kind.value,
            "mass_kg": round(vehicle.mass_kg, 1),
            "driver_kg": vehicle.driver_kg,
            "fuel_kg": vehicle.fuel_kg,
            "wheelbase_m": vehicle.wheelbase_m,
            "cg_height_m": round(vehicle.cg_height_m, 3),
            "front_weight_fraction": round(vehicle.front_weight_fraction, 4),
            "max_lean_deg": vehicle.max_lean_deg,
            "tyres": {
                **{
                    name: round(value, 4)
                    for name, value in vars(vehicle.tyres).items()
                    if value is not None
                },
                **reference_loads(
                    round(vehicle.mass_kg, 1) + vehicle.driver_kg,
                    round(vehicle.front_weight_fraction, 4),
                ),
            },
            "aero": {
                name: round(getattr(vehicle.aero, name), 4)
                for name in ("lift_area_m2", "drag_area_m2", "front_fraction")
            },
            "attitude": usual_attitude(vehicle.kind.value, vehicle.aero.drag_area_m2),
            "inertia": {
                name: value if isinstance(value, bool) else round(value, 4)
                for name, value in vars(vehicle.inertia).items()
            },
            "engine": {
                "intake": vars(engine.intake),
                "torque_curve": [
                    {"rpm": round(rpm, 1), "torque_nm": round(torque, 2)}
                    for rpm, torque in engine.torque_curve
                ],
                "rev_limit_rpm": round(engine.rev_limit_rpm, 1),
                "efficiency": round(engine.efficiency, 4),
                "overrun_torque_nm": engine.overrun_torque_nm,
            },
            "gearbox": {
                "ratios": [round(ratio, 4) for ratio in gearbox.ratios],
                "final_drive": round(gearbox.final_drive, 4),
                "upshift_s": round(gearbox.upshift_s, 3),
                "downshift_s": gearbox.downshift_s,
            },
            "drive": {"rear_fraction": vehicle.rear_drive_fraction},
            "brakes": {
                "front_fraction": None
                if brakes.front_fraction is None
                else round(brakes.front_fraction, 4),
                "max_force_n": brakes.max_force_n,
            },
            "note": note,
        },
        "car",
    )
