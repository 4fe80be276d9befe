"""Edits of a car by what is meant: its tables and setups, its ratios, its torque curve."""

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.car_document import (
    AirPoint,
    CarDocument,
    CompoundDocument,
    EnergyDocument,
    FlapDocument,
    PowerPoint,
    SetupDocument,
    TorquePoint,
)
from neapfrost.formats.document import Key, Name, Text
from neapfrost.formats.faults import validated
from neapfrost.formats.plan import PlanDocument

Table = Literal["wings", "gear_sets", "compounds", "setups"]

#: What a new row is called, and by which field setups name the rows of a table.
WORDS: dict[Table, str] = {
    "wings": "Step",
    "gear_sets": "Set",
    "compounds": "Compound",
    "setups": "Setup",
}
NAMED_BY: dict[str, str] = {"wings": "wing", "gear_sets": "gear_set", "compounds": "compound"}
#: A gear added above the last is so much longer; a torque point lies so far on and so much lower.
LONGER, HIGHER_RPM, LOWER_TORQUE = 0.85, 500.0, 0.93

#: What a car begins with that is given a store.
SMALL_STORE = EnergyDocument(
    power=[PowerPoint(speed_ms=0.0, power_kw=60.0)], usable_mj=1.0, recovery_kw=60.0
)


class _Edit(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ChooseSetup(_Edit):
    """The setup that the plan drives; null for as on the sheet."""

    op: Literal["setup"]
    name: Name | None


class ChooseTyreLap(_Edit):
    """The lap on the tyres, 0 the out lap; null for warm and new ones."""

    op: Literal["tyre_lap"]
    lap: Annotated[int, Field(ge=0, le=500)] | None


class SetInRow(_Edit):
    """A field of a row of a table set; its name is changed by `rename_row`."""

    op: Literal["set_in_row"]
    table: Table
    row: int
    field: Key
    value: float | Text | bool | list[float] | list[dict[Key, float]] | None


class AddRow(_Edit):
    """A row added: like the last one, or like the car as it is; a compound as is usual."""

    op: Literal["add_row"]
    table: Table


class RemoveRow(_Edit):
    """A row taken away."""

    op: Literal["remove_row"]
    table: Table
    row: int


class RenameRow(_Edit):
    """A row named; setups that name it go along, and so does a plan that drives it."""

    op: Literal["rename_row"]
    table: Table
    row: int
    name: Annotated[Name, Field(min_length=1)]


class RecordInSetup(_Edit):
    """Something recorded with a setup in the user's own words; an empty text takes it away."""

    op: Literal["record"]
    setup: int
    key: Annotated[str, Field(min_length=1, max_length=80)]
    text: Annotated[str, Field(max_length=200)]


class SetRatio(_Edit):
    """A gear's ratio, first gear is 0; null takes the gear away."""

    op: Literal["ratio"]
    gear: int
    value: float | None


class AddGear(_Edit):
    """A longer gear above the last."""

    op: Literal["add_gear"]


class SetTorquePoint(_Edit):
    """A point of the torque curve moved; what is null stays."""

    op: Literal["torque_point"]
    point: int
    rpm: float | None = None
    torque_nm: float | None = None


class AddTorquePoint(_Edit):
    """A point beyond the last one."""

    op: Literal["add_torque_point"]


class RemoveTorquePoint(_Edit):
    """A point taken away."""

    op: Literal["remove_torque_point"]
    point: int


class SetAirTable(_Edit):
    """The whole table of downforce, drag and balance over speed; empty for figures that stay."""

    op: Literal["air_table"]
    points: Annotated[list[AirPoint], Field(max_length=20)]


class SetTorqueCurve(_Edit):
    """The whole torque curve."""

    op: Literal["torque_curve"]
    points: list[TorquePoint]


class AddPart(_Edit):
    """A store or a flap for a car that has none, as is usual."""

    op: Literal["add_part"]
    part: Literal["energy", "flap"]


class SetEnergy(_Edit):
    """The car's machine and store; null for a car without one."""

    op: Literal["energy"]
    energy: EnergyDocument | None


class SetFlap(_Edit):
    """The car's flap; null for a car without one."""

    op: Literal["flap"]
    flap: FlapDocument | None


class ReplaceCar(_Edit):
    """Another car's document in the place of this one's, under this one's name."""

    op: Literal["replace"]
    car: CarDocument


CarEdit = Annotated[
    ChooseSetup
    | ChooseTyreLap
    | SetInRow
    | AddRow
    | RemoveRow
    | RenameRow
    | RecordInSetup
    | SetRatio
    | AddGear
    | SetTorquePoint
    | AddTorquePoint
    | RemoveTorquePoint
    | SetAirTable
    | SetTorqueCurve
    | AddPart
    | SetEnergy
    | SetFlap
    | ReplaceCar,
    Field(discriminator="op"),
]


def edited_plan(plan: PlanDocument, edit: CarEdit) -> PlanDocument:
    """A plan with its car, its setup or its tyres edited.

    Raises InputRefused where there is no such row, gear or point, or a value is not allowed.
    """
    match edit:
        case ChooseSetup():
            return plan.model_copy(update={"setup": edit.name or None})
        case ChooseTyreLap():
            conditions = plan.conditions.model_copy(update={"tyre_lap": edit.lap})
            return plan.model_copy(update={"conditions": conditions})
        case ReplaceCar():
            # The name stays, and the fuel belongs to the plan.
            own = {"name": plan.car.name, "fuel_kg": plan.car.fuel_kg}
            car = edit.car.model_copy(update=own)
            return plan.model_copy(update={"car": car, "setup": _setup_in(car, plan.setup)})
        case RenameRow():
            return _renamed(plan, edit)
        case AddPart():
            usual = SMALL_STORE if edit.part == "energy" else FlapDocument()
            car = plan.car.model_copy(update={edit.part: usual})
            return plan.model_copy(update={"car": car})
        case SetEnergy():
            car = plan.car.model_copy(update={"energy": edit.energy})
            return plan.model_copy(update={"car": car})
        case SetFlap():
            car = plan.car.model_copy(update={"flap": edit.flap})
            return plan.model_copy(update={"car": car})
    value = plan.car.model_dump(mode="json")
    _edit_car(plan, value, edit)
    car = validated(CarDocument, value, "car")
    return plan.model_copy(update={"car": car, "setup": _setup_in(car, plan.setup)})


def _setup_in(car: CarDocument, setup: str | None) -> str | None:
    """The plan's setup, as long as its car has it."""
    return setup if setup in [one.name for one in car.setups] else None


def _edit_car(plan: PlanDocument, value: dict[str, Any], edit: CarEdit) -> None:
    match edit:
        case SetInRow():
            row = _at(value[edit.table], edit.row, f"car.{edit.table}")
            if edit.field not in row or edit.field in ("name", "record"):
                known = ", ".join(name for name in row if name not in ("name", "record"))
                _refuse(f"car.{edit.table}[{edit.row}]", f'"{edit.field}"', f"one of {known}")
            row[edit.field] = edit.value
            if edit.field == "brake_front_fraction" and edit.value is not None:
                row["brakes_ideal"] = False
        case AddRow():
            value[edit.table].append(_new_row(plan, value, edit.table))
        case RemoveRow():
            _at(value[edit.table], edit.row, f"car.{edit.table}")
            del value[edit.table][edit.row]
        case RecordInSetup():
            setup = _at(value["setups"], edit.setup, "car.setups")
            setup["record"][edit.key] = edit.text
            setup["record"] = {key: text for key, text in setup["record"].items() if text}
        case SetRatio():
            ratios = value["gearbox"]["ratios"]
            _at(ratios, edit.gear, "car.gearbox.ratios")
            ratios[edit.gear : edit.gear + 1] = [] if edit.value is None else [edit.value]
        case SetAirTable():
            value["attitude"]["by_speed"] = [point.model_dump() for point in edit.points]
        case AddGear():
            ratios = value["gearbox"]["ratios"]
            ratios.append(round(ratios[-1] * LONGER, 3))
        case _:
            _edit_torque(value["engine"], edit)


def _edit_torque(engine: dict[str, Any], edit: CarEdit) -> None:
    curve = engine["torque_curve"]
    match edit:
        case SetTorquePoint():
            point = _at(curve, edit.point, "car.engine.torque_curve")
            if edit.rpm is not None:
                point["rpm"] = edit.rpm
            if edit.torque_nm is not None:
                point["torque_nm"] = edit.torque_nm
        case AddTorquePoint():
            last = curve[-1]
            lower = float(round(last["torque_nm"] * LOWER_TORQUE))
            curve.append({"rpm": last["rpm"] + HIGHER_RPM, "torque_nm": lower})
        case RemoveTorquePoint():
            _at(curve, edit.point, "car.engine.torque_curve")
            del curve[edit.point]
        case SetTorqueCurve():
            engine["torque_curve"] = [point.model_dump() for point in edit.points]


def _new_row(plan: PlanDocument, value: dict[str, Any], table: Table) -> dict[str, Any]:
    """A row like the last one, or the chosen setup; the first is like the car, or as is usual."""
    rows = value[table]
    name = _free_name([row["name"] for row in rows], WORDS[table])
    begun: dict[Table, Callable[[], dict[str, Any]]] = {
        "wings": lambda: dict(rows[-1] if rows else value["aero"]),
        "gear_sets": lambda: {key: value["gearbox"][key] for key in ("ratios", "final_drive")},
        "compounds": lambda: CompoundDocument(name=name).model_dump(mode="json"),
        "setups": lambda: dict(_like(rows, plan.setup)),
    }
    return {**begun[table](), "name": name}


def _like(setups: list[dict[str, Any]], chosen: str | None) -> dict[str, Any]:
    fresh = SetupDocument(name="new").model_dump(mode="json")
    return next((one for one in setups if one["name"] == chosen), setups[-1] if setups else fresh)


def _free_name(names: list[str], word: str) -> str:
    number = len(names) + 1
    while f"{word} {number}" in names:
        number += 1
    return f"{word} {number}"


def _renamed(plan: PlanDocument, edit: RenameRow) -> PlanDocument:
    value = plan.car.model_dump(mode="json")
    row = _at(value[edit.table], edit.row, f"car.{edit.table}")
    before, row["name"] = row["name"], edit.name
    field = NAMED_BY.get(edit.table)
    for setup in value["setups"] if field is not None else []:
        if setup[field] == before:
            setup[field] = edit.name
    driven = edit.table == "setups" and plan.setup == before
    car = validated(CarDocument, value, "car")
    return plan.model_copy(update={"car": car, "setup": edit.name if driven else plan.setup})


def _at(rows: list[Any], index: int, path: str) -> Any:
    if not 0 <= index < len(rows):
        raise InputRefused(
            [Fault(path, f"{index} was given; there are {len(rows)}, counted from 0")]
        )
    return rows[index]


def _refuse(path: str, given: str, expected: str) -> None:
    raise InputRefused([Fault(path, f"{given} was given; {expected} is expected")])
