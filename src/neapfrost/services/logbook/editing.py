"""A run changed: what is typed of it, marks on its laps, what was seen, where it belongs."""

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.document import NAME_MOST, Key, Text
from neapfrost.formats.faults import validated
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import LapKind, RunDocument, SeenDocument, TyresDocument
from neapfrost.formats.typed_laps import typed_laps
from neapfrost.services.laps.planned import planned
from neapfrost.services.logbook.keeping import refuse_place
from neapfrost.services.logbook.kept import driven_on_in, run_document, run_item
from neapfrost.services.logbook.places import braking_point_m
from neapfrost.services.plans.parts import content_of
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store, writing
from neapfrost.store.items import get_document, revise


class Belonging(BaseModel):
    """The event and session that a run belongs to; both null: to none."""

    model_config = ConfigDict(extra="forbid")

    event_id: int | None
    session: int | None


class LapMark(BaseModel):
    """A mark on a lap of a run."""

    model_config = ConfigDict(extra="forbid")

    number: int
    kind: LapKind


class RunEdit(BaseModel):
    """What is to be otherwise of a run; what is left out stays, and fuel that is null is unsaid.

    `typed` is the text of laps, a line each. `seen` stands for all that was seen at its corner and
    lap; one with nothing in it takes that away. A record's empty text takes its figure away.
    """

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str | None, Field(min_length=1, max_length=NAME_MOST)] = None
    remarks: Annotated[str | None, Field(max_length=4000)] = None
    driver: Annotated[str | None, Field(max_length=120)] = None
    made_at: Annotated[str | None, Field(max_length=40)] = None
    tyres: TyresDocument | None = None
    fuel_out_kg: Annotated[float | None, Field(ge=0, le=1_000)] = None
    fuel_in_kg: Annotated[float | None, Field(ge=0, le=1_000)] = None
    record: dict[Key, Text] | None = None
    typed: Annotated[str | None, Field(max_length=60_000)] = None
    mark: LapMark | None = None
    seen: SeenDocument | None = None
    belongs: Belonging | None = None


def edit_run(store: Store, run_id: int, edit: RunEdit, units: Units = "metric") -> list[str]:
    """Write an edit as the run's next revision; returns what of the typed laps was not understood.

    What was typed is kept all the same. Raises NotThere, and InputRefused for what makes no sense.
    """
    faults: list[str] = []
    with writing(store) as session:
        item = run_item(session, run_id)
        before = run_document(session, run_id)
        plain = edit.model_dump(
            exclude_none=True, exclude={"typed", "mark", "seen", "belongs", "record", "tyres"}
        )
        # Fuel that was said can be unsaid.
        plain |= {
            name: None
            for name in ("fuel_out_kg", "fuel_in_kg")
            if name in edit.model_fields_set and getattr(edit, name) is None
        }
        after = validated(RunDocument, {**before.model_dump(), **plain})
        if edit.tyres is not None:
            after = after.model_copy(update={"tyres": edit.tyres})
        if edit.record is not None:
            record = {**after.record, **edit.record}
            after = after.model_copy(update={"record": {k: v for k, v in record.items() if v}})
        if edit.typed is not None:
            after, faults = _typed(after, edit.typed)
        if edit.mark is not None:
            after = _marked(after, edit.mark)
        if edit.belongs is not None:
            refuse_place(session, edit.belongs.event_id, edit.belongs.session)
            item.event_id, item.session = edit.belongs.event_id, edit.belongs.session
        if edit.seen is not None:
            plan = driven_on_in(session, after, item.plan_id)
            after = _seen(after, edit.seen, plan, Saying(units))
        document = after.model_dump(mode="json")
        if document != get_document(session, "run", run_id):
            revise(session, "run", run_id, content_of("run", document), _remark(edit))
    return faults


def _remark(edit: RunEdit) -> str:
    """What an edit did, for the list of revisions."""
    names = {"typed": "laps", "mark": "a lap's mark", "seen": "a corner", "belongs": "its session"}
    given = [names.get(name, name.replace("_", " ")) for name in edit.model_dump(exclude_none=True)]
    return f"Changed {', '.join(given)}"[:200]


def _typed(run: RunDocument, text: str) -> tuple[RunDocument, list[str]]:
    if run.log is not None or any(lap.corners for lap in run.laps):
        raise InputRefused(
            [Fault("typed", "the laps of this run were read from a log; they can be marked")]
        )
    found = typed_laps(text)
    return run.model_copy(update={"typed": text, "laps": list(found.laps)}), list(found.faults)


def _marked(run: RunDocument, mark: LapMark) -> RunDocument:
    lap = next((one for one in run.laps if one.number == mark.number), None)
    if lap is None:
        raise InputRefused([Fault("mark", f"the run has no lap {mark.number}")])
    if mark.kind == "timed" and lap.lap_time_s is None:
        raise InputRefused([Fault("mark", f"lap {mark.number} has no time")])
    changed = lap.model_copy(update={"kind": mark.kind})
    laps = [changed if one.number == mark.number else one for one in run.laps]
    return run.model_copy(update={"laps": laps})


def _seen(
    run: RunDocument, seen: SeenDocument, plan: PlanDocument | None, say: Saying
) -> RunDocument:
    """What was seen at a corner in place of what was there of the same lap."""
    if seen.braking_said:
        seen = seen.model_copy(update={"brake_start_to_corner_m": _place(seen, plan, say)})
    kept = [one for one in run.seen if (one.corner, one.lap) != (seen.corner, seen.lap)]
    empty = SeenDocument(corner=seen.corner, lap=seen.lap)
    return run.model_copy(update={"seen": kept if seen == empty else [*kept, seen]})


def _place(seen: SeenDocument, plan: PlanDocument | None, say: Saying) -> float:
    if plan is None:
        raise InputRefused(
            [
                Fault(
                    "braking_said",
                    "the plan with this run's boards was deleted; enter metres instead",
                )
            ]
        )
    found = planned(plan)
    corner: Any = next((c for c in found.drive.path.corners if c.name == seen.corner), None)
    if corner is None:
        raise InputRefused([Fault("seen", f'there is no corner "{seen.corner}" on this circuit')])
    marks = [mark for mark in found.marks if mark.corner == seen.corner]
    ring = found.drive.path.ring
    return round(braking_point_m(seen.braking_said, marks, corner.begins_at_m, ring, say), 1)
