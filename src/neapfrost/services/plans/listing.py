"""What is kept of each kind, with what one chooses it by."""

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy.orm import Session

from neapfrost.core.errors import InputRefused
from neapfrost.formats.result import Revisions
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.plans.parts import PART_KINDS, PartKind, assemble, standing_on
from neapfrost.store.database import Store, reading
from neapfrost.store.items import (
    NotThere,
    all_items,
    list_items,
    newest_texts,
    object_in,
    users_of,
)
from neapfrost.store.steps import last_steps
from neapfrost.store.tables import Item, Kind, Plan, Step
from neapfrost.store.trouble import StoreTrouble


class Listed(BaseModel):
    """A kept item with what one chooses it by; figures of other kinds are null."""

    id: int
    name: str
    revision: int
    changed_at: datetime
    deleted: bool
    used_by: list[str]
    vehicle_kind: str | None = None
    mass_kg: float | None = None
    peak_power_kw: float | None = None
    length_m: float | None = None
    corner_count: int | None = None
    closed: bool | None = None
    air_temp_c: float | None = None
    wind_speed_ms: float | None = None
    wetness_pct: float | None = None
    begins_at: str | None = None
    reading_count: int | None = None
    weather_count: int | None = None
    driven_at: str | None = None
    lap_count: int | None = None
    best_lap_s: float | None = None
    held_on: str | None = None
    car: str | None = None
    circuit: str | None = None
    conditions: str | None = None
    lap_time_s: float | None = None


LAPS_AT_ONCE = 20

_COLUMNS = (
    "vehicle_kind",
    "mass_kg",
    "peak_power_kw",
    "length_m",
    "corner_count",
    "closed",
    "air_temp_c",
    "wind_speed_ms",
    "wetness_pct",
    "begins_at",
    "reading_count",
    "weather_count",
    "driven_at",
    "lap_count",
    "best_lap_s",
    "held_on",
    "car",
    "circuit",
)


def listed(store: Store, kind: Kind, search: str = "", deleted: bool = False) -> list[Listed]:
    """Items of a kind whose name (for plans also its parts' names) holds every word."""
    with reading(store) as session:
        if kind != "plan":
            users = users_of(session, kind)
            items = list_items(session, kind, search, deleted)
            return [_item(item, users.get(item.id, [])) for item in items]
        found = _plans(session, deleted)
    words = search.casefold().split()
    wanted = [
        plan
        for plan in found
        if all(
            word in f"{plan.name} {plan.car} {plan.circuit} {plan.conditions}".casefold()
            for word in words
        )
    ]
    return sorted(_with_laps(store, wanted), key=lambda plan: plan.changed_at, reverse=True)


def _item(item: Item, users: Iterable[str] = ()) -> Listed:
    return Listed(
        id=item.id,
        name=item.name,
        revision=item.newest,
        changed_at=item.changed_at.replace(tzinfo=UTC),
        deleted=item.deleted_at is not None,
        used_by=list(users),
        **{column: getattr(item, column) for column in _COLUMNS if hasattr(item, column)},
    )


def _plans(session: Session, deleted: bool) -> list[Listed]:
    """Plans with their parts' names, and with their laps where nothing has gone on since."""
    items: dict[PartKind, dict[int, Item]] = {
        kind: {item.id: item for item in all_items(session, kind)} for kind in PART_KINDS
    }
    texts, steps = newest_texts(session, "plan"), last_steps(session)
    found = []
    for plan in list_items(session, "plan", deleted=deleted):
        assert isinstance(plan, Plan)  # as all items of this kind
        parts = {kind: items[kind][getattr(plan, f"{kind}_id")] for kind in PART_KINDS}
        done, worked_on = steps.get(plan.id, (None, plan.changed_at))
        present = standing_on(_pins(texts.get(plan.id, "")), plan, parts)
        found.append(
            _item(plan).model_copy(
                update={
                    **{kind: part.name for kind, part in parts.items()},
                    "lap_time_s": _lap_then(done, present),
                    "changed_at": max(plan.changed_at, worked_on).replace(tzinfo=UTC),
                }
            )
        )
    return found


def _pins(text: str) -> dict[str, Any]:
    """The document of a plan; nothing of one that is damaged, which opening it says in words."""
    document = object_in(text) or {}
    pins = {f"{kind}_pin": document.get(f"{kind}_pin") for kind in PART_KINDS}
    return {name: pin for name, pin in pins.items() if isinstance(pin, int)}


def _lap_then(done: Step | None, present: Revisions) -> float | None:
    """The lap time that the last step noted, if the plan still stands on what it stood on then."""
    if done is None:
        return None
    stood_on = Revisions(
        car=done.car, circuit=done.circuit, conditions=done.conditions, plan=done.plan
    )
    return done.lap_after_s if stood_on == present else None


def _with_laps(store: Store, plans: list[Listed]) -> list[Listed]:
    """Plans whose car, circuit or conditions went on in another plan get the lap they have now.

    No more than some at a time, since a part may be shared by hundreds; the others have none.
    """
    told, left = [], LAPS_AT_ONCE
    with reading(store) as session:
        for plan in plans:
            if plan.lap_time_s is not None or left == 0:
                told.append(plan)
                continue
            left -= 1
            try:
                document = assemble(session, plan.id).document
                lap_s = recall(document, TRACE_POINTS).result.lap_time_s
            except (InputRefused, NotThere, StoreTrouble):
                told.append(plan)  # it cannot be driven any more, which opening it says in words
                continue
            told.append(plan.model_copy(update={"lap_time_s": lap_s}))
    return told
