"""A first car, circuit and conditions from what a person knows, put together as a first plan."""

import math
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.car.as_stated import doing_as_stated
from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.starting_car import (
    DRIVER_KG,
    EFFICIENCY,
    LOAD_SENSITIVITY,
    MAX_LEAN_DEG,
    ROLLING_RESISTANCE,
    StartingFigures,
    lift_area_m2,
    starting_figures,
    usual_inertia,
)
from neapfrost.core.car.starting_kinds import (
    DOWNFORCE_SPEED_MS,
    STARTING,
    DrivenWheels,
    StartingKind,
    model_kind,
    rear_drive,
    usual_front,
)
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.car_document import Aspiration, CarDocument, IntakeDocument
from neapfrost.formats.document import NAME_MOST, Name
from neapfrost.formats.faults import validated
from neapfrost.formats.plan import PLAN_FORMAT, PLAN_VERSION, BoardUnit, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_records import intake_record, vehicle_record
from neapfrost.services.cars.usual import usual_attitude, usual_tyres
from neapfrost.services.circuits.roadside_edit import BOARD_M, USUAL_BOARDS


class _Step(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class FirstCar(_Step):
    """What somebody knows of a vehicle; `downforce_kg` is at 200 km/h."""

    name: Annotated[Name, Field(min_length=1)]
    kind: StartingKind = "car"
    driven: DrivenWheels = "rear"
    mass_kg: Annotated[float, Field(gt=50, le=20_000)]
    peak_power_kw: Annotated[float, Field(gt=1, le=3_000)]
    top_speed_ms: Annotated[float, Field(gt=15, le=150)]
    lateral_g: Annotated[float, Field(gt=0.2, le=4)]
    downforce_kg: Annotated[float, Field(ge=0, le=5_000)] = 0.0
    fuel_kg: Annotated[float, Field(ge=0, le=500)] = 20.0
    aspiration: Aspiration = "natural"


class FirstSegment(_Step):
    """A straight by its length, or a corner by radius and angle."""

    turn: Literal["straight", "left", "right"]
    name: Name = ""
    length_m: float | None = None
    radius_m: float | None = None
    angle_deg: float | None = None


class FirstCircuit(_Step):
    """A circuit as read off a map, in the order it is driven."""

    name: Annotated[Name, Field(min_length=1)]
    closed: bool = True
    segments: Annotated[list[FirstSegment], Field(min_length=1, max_length=200)]
    boards: bool = True
    board_unit: BoardUnit = "m"


class FirstConditions(_Step):
    """The air and the track."""

    name: Annotated[Name, Field(min_length=1)] = "Dry, calm"
    air_temp_c: float = 20.0
    wind_speed_ms: float = 0.0
    wind_from_deg: float = 0.0
    wetness_pct: float = 0.0


class FirstDrive(_Step):
    """What is driven and in what: the steps without the circuit."""

    car: FirstCar
    conditions: FirstConditions = Field(default_factory=FirstConditions)


class FirstPlan(FirstDrive):
    """The three steps together."""

    circuit: FirstCircuit


def first_plan(wanted: FirstPlan) -> PlanDocument:
    """The plan document of a first car on a first circuit.

    Raises InputRefused, naming the field.
    """
    return plan_from_object(
        {
            **first_drive(wanted),
            "name": plan_name(wanted.car.name, wanted.circuit.name),
            "circuit": _circuit(wanted.circuit),
        }
    )


def first_drive(wanted: FirstDrive) -> dict[str, object]:
    """All of a plan but its name and circuit, as a document holds it."""
    car = wanted.car
    intake = intake_record(IntakeDocument(aspiration=car.aspiration))
    figures = starting_figures(
        model_kind(car.kind), car.mass_kg, 1000.0 * car.peak_power_kw, car.top_speed_ms, intake
    )
    return {
        "format": PLAN_FORMAT,
        "version": PLAN_VERSION,
        "car": _doing_as_stated(car, validated(CarDocument, _car(car, figures), "car")),
        "conditions": {
            **wanted.conditions.model_dump(),
            "track_temp_c": wanted.conditions.air_temp_c + 8.0,
        },
    }


def plan_name(car: str, circuit: str) -> str:
    """What a plan is called that was given no name."""
    return f"{car} at {circuit}"[:NAME_MOST]


def _car(car: FirstCar, figures: StartingFigures) -> dict[str, object]:
    kind, starting = model_kind(car.kind), STARTING[car.kind]
    bike = kind == "motorcycle"
    share = rear_drive(car.kind, car.driven)
    front = usual_front(car.kind, share)
    ratios = figures.ratios[-starting.gears :] if starting.gears else figures.ratios
    return {
        "name": car.name,
        "kind": kind,
        "mass_kg": car.mass_kg,
        "driver_kg": DRIVER_KG,
        "fuel_kg": car.fuel_kg,
        "wheelbase_m": starting.wheelbase_m,
        "cg_height_m": starting.cg_height_m,
        "front_weight_fraction": front,
        "max_lean_deg": MAX_LEAN_DEG if bike else None,
        "tyres": {
            "mu_lateral": car.lateral_g,
            "mu_longitudinal": 1.04 * car.lateral_g,
            "load_sensitivity": LOAD_SENSITIVITY[kind],
            "rolling_radius_m": figures.rolling_radius_m,
            "rolling_resistance": ROLLING_RESISTANCE,
            **usual_tyres(kind, car.mass_kg + DRIVER_KG, front),
        },
        "aero": {
            "lift_area_m2": lift_area_m2(
                STANDARD_GRAVITY_MS2 * car.downforce_kg, DOWNFORCE_SPEED_MS
            ),
            "drag_area_m2": figures.drag_area_m2,
            "front_fraction": 0.45,
        },
        "attitude": usual_attitude(kind, figures.drag_area_m2),
        "inertia": vars(
            usual_inertia(kind, car.mass_kg, 1000.0 * car.peak_power_kw, figures.rolling_radius_m)
        ),
        "engine": {
            "intake": {"aspiration": car.aspiration},
            "torque_curve": [{"rpm": rpm, "torque_nm": nm} for rpm, nm in figures.torque_curve],
            "rev_limit_rpm": figures.rev_limit_rpm,
            "efficiency": EFFICIENCY,
        },
        "gearbox": {"ratios": list(ratios), "final_drive": figures.final_drive},
        "drive": {"rear_fraction": share},
        "brakes": {"front_fraction": None},
        "known": _known(car, len(ratios)),
        "note": "From mass, power, top speed and lateral g; engine shape, gears, weight "
        "distribution and ideal brake bias are typical values, not known ones.",
    }


def _doing_as_stated(stated: FirstCar, car: CarDocument) -> dict[str, object]:
    """The car with grip, drag and downforce such that it does what is stated of it."""
    newtons = STANDARD_GRAVITY_MS2 * stated.downforce_kg
    found = doing_as_stated(
        vehicle_record(car), stated.lateral_g, stated.top_speed_ms, (newtons, DOWNFORCE_SPEED_MS)
    )
    tyres, aero = found.tyres, found.aero
    return car.model_copy(
        update={
            "tyres": car.tyres.model_copy(
                update={
                    "mu_lateral": tyres.mu_lateral,
                    "mu_longitudinal": tyres.mu_longitudinal,
                }
            ),
            "aero": car.aero.model_copy(
                update={"lift_area_m2": aero.lift_area_m2, "drag_area_m2": aero.drag_area_m2}
            ),
        }
    ).model_dump(mode="json")


def _known(car: FirstCar, gears: int) -> dict[str, object]:
    """What was stated of the car, as it is gone on from when more is known."""
    stated: list[tuple[Quantity, float, float | None]] = [
        (Quantity.MASS, car.mass_kg, None),
        (Quantity.POWER, 1000.0 * car.peak_power_kw, None),
        (Quantity.TOP_SPEED, car.top_speed_ms, None),
        (Quantity.LATERAL_SLOW, car.lateral_g, None),
    ]
    if car.downforce_kg > 0.0:
        newtons = STANDARD_GRAVITY_MS2 * car.downforce_kg
        stated.append((Quantity.DOWNFORCE, newtons, DOWNFORCE_SPEED_MS))
    return {
        "kind": car.kind,
        "driven": car.driven,
        "gears": gears,
        "stated": [
            {"quantity": quantity, "value": value, "at": at} for quantity, value, at in stated
        ],
    }


def _circuit(circuit: FirstCircuit) -> dict[str, object]:
    segments: list[dict[str, object]] = []
    boards: list[dict[str, object]] = []
    at_m = 0.0
    since_corner_m = 0.0
    number = 0
    board_m = BOARD_M[circuit.board_unit]
    for index, segment in enumerate(circuit.segments):
        if segment.turn == "straight":
            length = _needed(segment.length_m, index, "length_m", "a straight")
            segments.append({"kind": "straight", "length_m": length})
            at_m += length
            since_corner_m += length
            continue
        number += 1
        radius = _needed(segment.radius_m, index, "radius_m", "a corner")
        angle = _needed(segment.angle_deg, index, "angle_deg", "a corner")
        name = segment.name.strip() or f"T{number}"
        segments.append(
            {
                "kind": "corner",
                "name": name,
                "direction": segment.turn,
                "radius_m": radius,
                "angle_deg": angle,
            }
        )
        if circuit.boards:
            boards.extend(
                {"label": f"{label}", "corner": name, "at_m": at_m - label * board_m}
                for label in USUAL_BOARDS
                if label * board_m < since_corner_m
            )
        at_m += radius * math.radians(angle)
        since_corner_m = 0.0
    return {
        "name": circuit.name,
        "closed": circuit.closed,
        "start_speed_ms": None if circuit.closed else 0.0,
        "segments": segments,
        "boards": boards,
        "board_unit": circuit.board_unit,
    }


def _needed(value: float | None, index: int, field: str, what: str) -> float:
    if value is None or value <= 0.0:
        said = "nothing" if value is None else f"{value:g}"
        unit = "degrees" if field == "angle_deg" else "metres"
        raise InputRefused(
            [
                Fault(
                    f"circuit.segments[{index}].{field}",
                    f"{said} was given; {what} needs its {field.split('_')[0]} in {unit}",
                )
            ]
        )
    return value
