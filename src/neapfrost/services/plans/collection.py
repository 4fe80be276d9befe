"""Everything that is kept: found, made, duplicated, deleted and brought back."""

from datetime import UTC, datetime

from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.document import NAME_MOST, Name
from neapfrost.formats.faults import validated
from neapfrost.formats.plan_sheet import PlanSheet
from neapfrost.services.laps.predict import recall
from neapfrost.services.plans.parts import PART_KINDS, assemble, content_of
from neapfrost.store.database import Store, now, reading, writing
from neapfrost.store.items import (
    add_item,
    delete_item,
    get_document,
    get_item,
    get_plan,
    list_items,
    list_revisions,
    plans_using,
    restore_item,
)
from neapfrost.store.steps import add_step
from neapfrost.store.tables import Kind, Step


class ListedRevision(BaseModel):
    """A revision of an item: what it changed, and when."""

    number: int
    remark: str
    made_at: datetime


class NewPlan(BaseModel):
    """What a new plan puts together."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    car_id: int
    circuit_id: int
    conditions_id: int
    fuel_kg: float = 0.0


def revisions_of(store: Store, kind: Kind, item_id: int) -> list[ListedRevision]:
    """Revisions of an item, the newest first. Raises NotThere."""
    with reading(store) as session:
        get_item(session, kind, item_id)
        return [
            ListedRevision(
                number=revision.number,
                remark=revision.remark,
                made_at=revision.made_at.replace(tzinfo=UTC),
            )
            for revision in list_revisions(session, kind, item_id)
        ]


def add_plan(store: Store, wanted: NewPlan) -> int:
    """Make a plan of kept parts; returns its id. Raises NotThere and InputRefused."""
    sheet = validated(PlanSheet, {**wanted.model_dump(), "driver": {}})
    if not wanted.name.strip():
        raise InputRefused([Fault("name", "the name is empty; a name is expected")])
    with writing(store) as session:
        for kind in PART_KINDS:
            get_item(session, kind, getattr(sheet, f"{kind}_id"))
        return write_new_plan(session, sheet, "Created")


def duplicate(store: Store, kind: Kind, item_id: int, own_parts: bool = False) -> int:
    """Copy an item under a name of its own; returns the copy's id. Raises NotThere.

    A copied plan shares its car, circuit and conditions, unless it is to have its `own_parts`.
    """
    with writing(store) as session:
        item = get_item(session, kind, item_id)
        document = get_document(session, kind, item_id)
        remark = f"Copy of {item.name}, revision {item.newest}"
        document["name"] = _free_name(session, kind, f"{item.name}, copy")
        if kind != "plan":
            return add_item(session, kind, content_of(kind, document), remark)
        sheet = PlanSheet.model_validate(document)
        if own_parts:
            for part in PART_KINDS:
                part_id: int = getattr(sheet, f"{part}_id")
                copy = get_document(session, part, part_id, getattr(sheet, f"{part}_pin"))
                copy["name"] = _free_name(session, part, f"{copy['name'] or part}, copy")
                copy_id = add_item(session, part, content_of(part, copy), remark)
                sheet = sheet.model_copy(update={f"{part}_id": copy_id, f"{part}_pin": None})
        copy_id = write_new_plan(session, sheet, remark)
        own, copied = get_plan(session, item_id), get_plan(session, copy_id)
        copied.weather_id, copied.follows_station = own.weather_id, own.follows_station
        return copy_id


def delete(store: Store, kind: Kind, item_id: int) -> None:
    """Delete an item; it can be brought back. Raises InputRefused while plans stand on it.

    No plan stands on a record of the weather: it is looked at along none then.
    """
    with writing(store) as session:
        item = get_item(session, kind, item_id)
        users = plans_using(session, kind, item_id)
        if users and kind != "weather":
            names = ", ".join(f'"{plan.name}"' for plan in users)
            raise InputRefused(
                [Fault("", f'"{item.name}" is used by {names}; delete these plans first')]
            )
        delete_item(session, kind, item_id)


def restore(store: Store, kind: Kind, item_id: int) -> None:
    """Bring a deleted item back; with a plan come its car, circuit and conditions."""
    with writing(store) as session:
        restore_item(session, kind, item_id)
        if kind == "plan":
            sheet = PlanSheet.model_validate(get_document(session, "plan", item_id))
            for part in PART_KINDS:
                restore_item(session, part, getattr(sheet, f"{part}_id"))


def write_new_plan(session: Session, sheet: PlanSheet, remark: str) -> int:
    """Write a new plan with the step its history starts from; returns its id.

    Raises InputRefused when its lap cannot be driven.
    """
    plan_id = add_item(session, "plan", content_of("plan", sheet.model_dump(mode="json")), remark)
    assembled = assemble(session, plan_id)
    lap_s = recall(assembled.document, None).result.lap_time_s
    step = Step(
        plan_id=plan_id,
        state="done",
        label=remark,
        kind="plan",
        item_id=plan_id,
        before=0,
        after=1,
        lap_before_s=None,
        lap_after_s=lap_s,
        made_at=now(),
        **assembled.revisions.model_dump(),
    )
    add_step(session, step)
    return plan_id


def _free_name(session: Session, kind: Kind, wanted: str) -> str:
    """A name that no item of the kind has: the wanted one, or with a number after it."""
    taken = {item.name for item in list_items(session, kind)}
    number, name = 1, wanted
    while name in taken:
        number += 1
        name = f"{wanted} {number}"
    return name[:NAME_MOST]
