"""Edits of what is a plan's own: orders at corners, uncertainty, the race; and corner notes."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.document import Key, Name
from neapfrost.formats.plan import (
    CornerNoteDocument,
    FirstLapsDocument,
    PlanDocument,
    RaceDocument,
    UncertaintyDocument,
)
from neapfrost.formats.result import Revisions
from neapfrost.services.figures.figure import Owner
from neapfrost.services.figures.register import figures_of
from neapfrost.services.laps.orders import ASKED, with_order
from neapfrost.services.laps.predict import recall
from neapfrost.services.plans.workbench import OpenPlan, keep_document
from neapfrost.store.database import Store

#: The schools of the gear in a corner, as a person calls them.
SCHOOLS = {"fastest": "the quickest gear", "lower": "the lower gear", "higher": "the higher gear"}


class OrderEdit(BaseModel):
    """A figure asked for at a corner (0 is the first); null asks for it no more."""

    model_config = ConfigDict(extra="forbid")

    corner: int = Field(ge=0)
    name: Name
    field: Key
    value: float | None


class PlanEdit(BaseModel):
    """What is to be otherwise; what is left out stays."""

    model_config = ConfigDict(extra="forbid")

    order: OrderEdit | None = None
    uncertainty: UncertaintyDocument | None = None
    first_laps: FirstLapsDocument | None = None
    race: RaceDocument | None = None
    note: CornerNoteDocument | None = None
    gear_school: Literal["fastest", "lower", "higher"] | None = None


def edit_plan(store: Store, plan_id: int, base: Revisions, edit: PlanEdit) -> OpenPlan:
    """Write an edit as one step. Raises as `keep_changes` does."""

    def changed(plan: PlanDocument) -> PlanDocument:
        update: dict[str, object] = {}
        if edit.order is not None:
            update["corners"] = _ordered(plan, edit.order)
        if edit.uncertainty is not None:
            update["uncertainty"] = edit.uncertainty
        if edit.first_laps is not None:
            update["first_laps"] = edit.first_laps
        if edit.race is not None:
            update["race"] = edit.race
        if edit.gear_school is not None:
            update["driver"] = plan.driver.model_copy(update={"gear_school": edit.gear_school})
        if edit.note is not None:
            update["circuit"] = plan.circuit.model_copy(
                update={"corner_notes": _noted(plan, edit.note)}
            )
        return plan.model_copy(update=update)

    return keep_document(store, plan_id, base, changed, _differences)


def _ordered(plan: PlanDocument, order: OrderEdit) -> object:
    names = [corner.name for corner in recall(plan, None).result.corners]
    if order.corner >= len(names) or names[order.corner] != order.name:
        raise InputRefused(
            [Fault("order.corner", f'corner {order.corner + 1} is not named "{order.name}" here')]
        )
    gears = len(plan.car.gearbox.ratios)
    if order.field == "gear" and order.value is not None and not 1 <= order.value <= gears:
        raise InputRefused(
            [Fault("order.value", f"{order.value:g} was given; use a gear from 1 to {gears}")]
        )
    return with_order(plan, order.corner, order.name, order.field, order.value)


def _noted(plan: PlanDocument, note: CornerNoteDocument) -> list[CornerNoteDocument]:
    kept = [one for one in plan.circuit.corner_notes if one.corner != note.corner]
    empty = CornerNoteDocument(corner=note.corner)
    return kept if note == empty else [*kept, note]


def _differences(before: PlanDocument, after: PlanDocument) -> list[str]:
    """What an edit did, in words."""
    said = []
    for was, now, name in _pairs(before, after):
        for field, label in ASKED.items():
            old, new = getattr(was, field, None), getattr(now, field, None)
            if old != new:
                asked = "as calculated" if new is None else f"{new:g}"
                said.append(f"{name}: {label} {asked}")
    parts: tuple[tuple[Owner, str], ...] = (
        ("uncertainty", "Uncertainty"),
        ("first_laps", "First laps"),
        ("race", "Race"),
    )
    for part, word in parts:
        old, new = getattr(before, part).model_dump(), getattr(after, part).model_dump()
        said += [
            f"{word}: {row.label.lower()} {row.in_words(old[field], unit=False)} to "
            f"{row.in_words(new[field])}"
            for field, row in figures_of(part).items()
            if old[field] != new[field]
        ]
    said += _describe_rules(before, after)
    if before.driver.gear_school != after.driver.gear_school:
        said.append(f"Gears in corners: {SCHOOLS[after.driver.gear_school]}")
    notes = {note.corner: note for note in before.circuit.corner_notes}
    for note in after.circuit.corner_notes:
        if notes.pop(note.corner, None) != note:
            said.append(f"Notes on {note.corner}")
    said += [f"Notes on {name} removed" for name in notes]
    return said or ["Nothing changed"]


#: Rules of a race that are yes or no, or a moment.
RULES = {
    "stop_at_once": "Tyres and fuel at once",
    "keep_tyres": "Tyres may stay on",
    "starts_at": "Race begins",
}


def _describe_rules(before: PlanDocument, after: PlanDocument) -> list[str]:
    said = []
    if before.race.flap_zones != after.race.flap_zones:
        said.append(f"Zones of the flap: {len(after.race.flap_zones)}")
    for field, label in RULES.items():
        now = getattr(after.race, field)
        if getattr(before.race, field) != now:
            shown = "not along a record" if now is None else now
            said.append(f"{label}: {('no', 'yes')[now] if isinstance(now, bool) else shown}")
    return said


def _pairs(before: PlanDocument, after: PlanDocument) -> list[tuple[object, object, str]]:
    was = {(o.corner, o.name): o for o in before.corners}
    now = {(o.corner, o.name): o for o in after.corners}
    return [(was.get(key), now.get(key), key[1]) for key in {**was, **now}]
