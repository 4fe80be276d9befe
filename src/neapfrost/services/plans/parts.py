"""A plan document taken apart into what is kept of it, and put together again."""

import hashlib
import json
import logging
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import ValidationError
from sqlalchemy.orm import Session

from neapfrost.core.car.headline import peak_power_w
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.circuit_facts import circuit_length_m, corner_names
from neapfrost.formats.event import EventDocument
from neapfrost.formats.fit import FitDocument
from neapfrost.formats.plan import (
    PLAN_FORMAT,
    PLAN_VERSION,
    CircuitDocument,
    ConditionsDocument,
    LineDocument,
    PlanDocument,
)
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_sheet import ALIKE, PlanSheet
from neapfrost.formats.result import Revisions
from neapfrost.formats.run import RunDocument
from neapfrost.formats.weather import WeatherRecordDocument
from neapfrost.store.items import Content, damaged, get_document, get_item, get_plan
from neapfrost.store.tables import Item, Kind

PartKind = Literal["car", "circuit", "conditions"]
PART_KINDS: tuple[PartKind, ...] = ("car", "circuit", "conditions")

LOG = logging.getLogger(__name__)


@dataclass(frozen=True)
class Assembled:
    """A plan put together: its sheet, the revisions it stands on, and the whole document."""

    sheet: PlanSheet
    revisions: Revisions
    document: PlanDocument


def part_document(plan: PlanDocument, kind: PartKind) -> dict[str, Any]:
    """What is kept of a plan's car, circuit or conditions; the fuel belongs to the plan."""
    document: dict[str, Any] = getattr(plan, kind).model_dump(mode="json")
    if kind == "car":
        document["fuel_kg"] = 0.0
    return document


#: What is written beside the road and changes no lap.
NOTES = ("note", "corner_notes")


def mark_of(document: PlanDocument, race: bool) -> str:
    """A short name for all that a plan's lap answers to, and with `race` what its race does.

    It stays the same while notes are written, or the plan is renamed.
    """
    beside = {"name", "first_laps"} if race else {"name", "first_laps", "race"}
    value = document.model_dump(mode="json", exclude=beside)
    text = json.dumps(_without_notes(value), sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def _without_notes(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_notes(one) for key, one in value.items() if key not in NOTES}
    return [_without_notes(one) for one in value] if isinstance(value, list) else value


def content_of(kind: Kind, document: dict[str, Any]) -> Content:
    """What the store writes of a document of some kind."""
    columns: dict[str, Any]
    if kind == "car":
        car = CarDocument.model_validate(document)
        columns = {
            "vehicle_kind": car.kind,
            "mass_kg": car.mass_kg,
            "peak_power_kw": _peak_power_kw(car),
        }
    elif kind == "circuit":
        circuit = CircuitDocument.model_validate(document)
        columns = {
            "length_m": circuit_length_m(circuit),
            "corner_count": len(corner_names(circuit)),
            "closed": circuit.closed,
        }
    elif kind == "conditions":
        air = ConditionsDocument.model_validate(document)
        columns = {
            "air_temp_c": air.air_temp_c,
            "wind_speed_ms": air.wind_speed_ms,
            "wetness_pct": air.wetness_pct,
        }
    elif kind == "weather":
        record = WeatherRecordDocument.model_validate(document)
        every = [*record.readings, *(one for w in record.weathers for one in w.readings)]
        columns = {
            "begins_at": min(one.at for one in every),
            "reading_count": len(record.readings),
            "weather_count": len(record.weathers),
        }
    elif kind == "event":
        event = EventDocument.model_validate(document)
        columns = {"circuit": event.circuit, "held_on": event.held_on}
    elif kind == "fit":
        fit = FitDocument.model_validate(document)
        columns = {"circuit": fit.circuit, "car": fit.car}
    elif kind == "run":
        run = RunDocument.model_validate(document)
        times = [lap.lap_time_s for lap in run.laps if lap.kind == "timed" and lap.lap_time_s]
        columns = {
            "circuit": run.circuit,
            "car": run.car,
            "driven_at": run.made_at,
            "lap_count": len(times),
            "best_lap_s": min(times, default=None),
        }
    else:
        sheet = PlanSheet.model_validate(document)
        columns = {
            "car_id": sheet.car_id,
            "circuit_id": sheet.circuit_id,
            "conditions_id": sheet.conditions_id,
        }
    return Content(name=document["name"], document=document, columns=columns)


def present_revisions(session: Session, plan_id: int) -> Revisions:
    """The revisions that a stored plan stands on now."""
    sheet = get_document(session, "plan", plan_id)
    parts = {kind: get_item(session, kind, sheet[f"{kind}_id"]) for kind in PART_KINDS}
    return standing_on(sheet, get_item(session, "plan", plan_id), parts)


def standing_on(sheet: dict[str, Any], plan: Item, parts: Mapping[PartKind, Item]) -> Revisions:
    """The revisions that a plan with this sheet stands on: those it pins, else the newest."""
    numbers = {"plan": plan.newest}
    for kind, item in parts.items():
        pinned: int | None = sheet.get(f"{kind}_pin")
        numbers[kind] = item.newest if pinned is None else pinned
    return Revisions(**numbers)


def assemble(session: Session, plan_id: int, at: Revisions | None = None) -> Assembled:
    """A stored plan put together, as it stands or as it stood at some revisions.

    Raises NotThere for revisions that do not exist, and StoreTrouble for damaged ones.
    """
    try:
        revisions = present_revisions(session, plan_id) if at is None else at
        return _assembled(session, plan_id, revisions)
    except (KeyError, TypeError, AttributeError, ValidationError) as error:
        LOG.warning("plan %d cannot be put together", plan_id, exc_info=error)
        number = None if at is None else at.plan
        raise damaged("plan", plan_id, number or get_plan(session, plan_id).newest) from None


def _assembled(session: Session, plan_id: int, revisions: Revisions) -> Assembled:
    sheet = PlanSheet.model_validate(get_document(session, "plan", plan_id, revisions.plan))
    parts: dict[str, dict[str, Any]] = {
        kind: get_document(session, kind, getattr(sheet, f"{kind}_id"), getattr(revisions, kind))
        for kind in PART_KINDS
    }
    parts["car"]["fuel_kg"] = sheet.fuel_kg
    document = plan_from_object(
        {
            "format": PLAN_FORMAT,
            "version": PLAN_VERSION,
            "name": sheet.name,
            **parts,
            **sheet.model_dump(include=set(ALIKE)),
            "line": _line_on(sheet.line, parts["circuit"]),
            "setup": _setup_of(sheet.setup, parts["car"]),
        }
    )
    return Assembled(sheet, revisions, document)


def _setup_of(setup: str | None, car: dict[str, Any]) -> str | None:
    """A plan's setup, as long as its car, edited since, still has it."""
    return setup if setup in {one["name"] for one in car.get("setups", [])} else None


def _line_on(line: LineDocument | None, circuit: dict[str, Any]) -> dict[str, Any] | None:
    """A plan's line as far as its circuit, edited since, still has a place for it."""
    if line is None or circuit["segments_describe"] != "road":
        return None
    value = line.model_dump()
    document = CircuitDocument.model_validate(circuit)
    corners, length = len(corner_names(document)), circuit_length_m(document)
    value["corners"] = [
        wish for wish in value["corners"] if wish["name"] or wish["corner"] < corners
    ]
    value["holds"] = [hold for hold in value["holds"] if 0.0 <= hold["at_m"] <= length]
    return value


def _peak_power_kw(car: CarDocument) -> float:
    curve = tuple((point.rpm, point.torque_nm) for point in car.engine.torque_curve)
    return peak_power_w(curve, car.engine.rev_limit_rpm) / 1000.0
