"""Plan documents in and out of the store; the same content twice is recognised."""

from collections.abc import Iterable
from typing import Literal

from pydantic import BaseModel
from sqlalchemy.orm import Session

from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_sheet import ALIKE, PlanSheet
from neapfrost.services.laps.predict import recall
from neapfrost.services.plans.collection import write_new_plan
from neapfrost.services.plans.parts import PART_KINDS, PartKind, assemble, content_of, part_document
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, find_content, get_document, get_item, list_items
from neapfrost.store.steps import get_mark, set_mark


class Imported(BaseModel):
    """Where an imported plan is now: made anew, or known already with exactly this content."""

    plan_id: int
    name: str
    outcome: Literal["made", "known"]


def import_plan(store: Store, document: PlanDocument) -> Imported:
    """Keep a plan document. Parts whose content is known are used, not made again.

    A part known at an older revision is pinned there, since the plan means just that content.
    Raises InputRefused when the lap cannot be driven; nothing is written then.
    """
    recall(document, None)  # refuses before the store is locked
    with writing(store) as session:
        return _import(session, document)


def import_once(store: Store, mark: str, documents: Iterable[tuple[str, PlanDocument]]) -> int:
    """Import documents by short name, leaving out those imported under this mark before.

    Returns how many were made.
    """
    made = 0
    with writing(store) as session:
        done = set((get_mark(session, mark) or "").split())
        for name, document in documents:
            if name not in done:
                made += _import(session, document).outcome == "made"
                done.add(name)
        set_mark(session, mark, " ".join(sorted(done)))
    return made


def kept_plan(store: Store, plan_id: int) -> PlanDocument:
    """The plan document of a stored plan. Raises NotThere."""
    with reading(store) as session:
        return assemble(session, plan_id).document


def kept_car(store: Store, car_id: int) -> CarDocument:
    """The newest revision of a kept car. Raises NotThere."""
    with reading(store) as session:
        return CarDocument.model_validate(get_document(session, "car", car_id))


def kept_plans(store: Store) -> list[tuple[int, PlanDocument]]:
    """Id and document of every plan that is not deleted, by id."""
    with reading(store) as session:
        ids = sorted(item.id for item in list_items(session, "plan"))
        return [(plan_id, assemble(session, plan_id).document) for plan_id in ids]


def _import(session: Session, document: PlanDocument) -> Imported:
    name = document.name.strip() or "Imported plan"
    refs: dict[str, int | None] = {}
    for kind in PART_KINDS:
        refs[f"{kind}_id"], refs[f"{kind}_pin"] = _part(session, kind, document)
    sheet = PlanSheet.model_validate(
        {
            "name": name,
            **refs,
            "fuel_kg": document.car.fuel_kg,
            **{field: getattr(document, field) for field in ALIKE},
        }
    )
    content = content_of("plan", sheet.model_dump(mode="json"))
    known = find_content(session, "plan", content.document)
    if known is not None and known.number == get_item(session, "plan", known.item_id).newest:
        return Imported(plan_id=known.item_id, name=name, outcome="known")
    plan_id = write_new_plan(session, sheet, "Imported")
    return Imported(plan_id=plan_id, name=name, outcome="made")


def _part(session: Session, kind: PartKind, document: PlanDocument) -> tuple[int, int | None]:
    """Id of a part with this content and the revision it is pinned at; made when unknown."""
    value = part_document(document, kind)
    if not value["name"].strip():
        value["name"] = _name_of(kind, document)
    known = find_content(session, kind, value)
    if known is None:
        return add_item(session, kind, content_of(kind, value), "Imported"), None
    newest = get_item(session, kind, known.item_id).newest
    return known.item_id, None if known.number == newest else known.number


def _name_of(kind: PartKind, document: PlanDocument) -> str:
    """A name for a part that came without one."""
    if kind != "conditions":
        return f"Imported {kind}"
    air = document.conditions
    wet = "dry" if air.wetness_pct == 0.0 else f"{air.wetness_pct:g} % wet"
    wind = "calm" if air.wind_speed_ms == 0.0 else f"wind {air.wind_speed_ms:g} m/s"
    return f"Air {air.air_temp_c:g} °C, {wet}, {wind}"
