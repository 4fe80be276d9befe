"""An open plan: its figures kept as they are changed, undone, redone, pinned and compared."""

import json
import logging
from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any

from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.document import Name
from neapfrost.formats.json_merge import carry_over, differences
from neapfrost.formats.plan import ComputedLineDocument, LineDocument, LineKind, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_sheet import ALIKE, PlanSheet
from neapfrost.formats.result import ResultDocument, Revisions
from neapfrost.services.circuits.circuit_edit import CircuitEdit, edited_circuit
from neapfrost.services.laps.comparison import Comparison, compare
from neapfrost.services.laps.figures import (
    Assumptions,
    Change,
    apply_changes,
    assumptions,
    change_label,
    owner_of,
)
from neapfrost.services.laps.on_edited_road import on_edited_road
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.plans.conflicts import Conflict, Conflicting, told
from neapfrost.services.plans.layouts import Layout, other_layouts, revise_with_layouts
from neapfrost.services.plans.parts import (
    PART_KINDS,
    Assembled,
    PartKind,
    assemble,
    content_of,
    mark_of,
    part_document,
)
from neapfrost.services.roads.wishes import named_wishes
from neapfrost.services.words.lap import LapWords, lap_words
from neapfrost.store.database import Store, now, reading, writing
from neapfrost.store.items import (
    NotThere,
    get_document,
    get_item,
    get_plan,
    plans_using,
    revise,
)
from neapfrost.store.steps import (
    add_step,
    joined,
    last_done,
    newest_step,
    next_undone,
    of_the_act,
)
from neapfrost.store.tables import Kind, Step
from neapfrost.store.trouble import StoreTrouble

LOG = logging.getLogger(__name__)


class Part(BaseModel):
    """The car, circuit or conditions of an open plan; `also_in` names the other plans using it."""

    id: int
    name: str
    revision: int
    newest: int
    pinned: bool
    also_in: list[str]


class Baseline(BaseModel):
    """What a plan is compared with: which plan, at which revisions, and its document."""

    title: str
    plan_id: int
    revisions: Revisions
    plan: PlanDocument


class OpenPlan(BaseModel):
    """A plan as the interface works on it; without a result `trouble` says why there is none.

    `lap_mark` changes with all that a lap answers to, `race_mark` with the race's rules as well.
    """

    id: int
    name: str
    revisions: Revisions
    lap_mark: str
    race_mark: str
    car: Part
    circuit: Part
    conditions: Part
    plan: PlanDocument
    undo: str | None
    redo: str | None
    baseline: Baseline | None
    assumptions: Assumptions
    layouts: list[Layout]
    result: ResultDocument | None
    words: LapWords | None
    comparison: Comparison | None
    trouble: str | None


class Choice(BaseModel):
    """Something about a plan that is not a figure; what is left out stays as it is.

    `pins` sets the revision at which a part is pinned, or null to follow its newest. `rename`
    gives a part a new name.
    """

    model_config = ConfigDict(extra="forbid")

    name: Name | None = None
    car_id: int | None = None
    circuit_id: int | None = None
    conditions_id: int | None = None
    pins: dict[PartKind, int | None] | None = None
    rename: dict[PartKind, Name] | None = None


def open_plan(store: Store, plan_id: int) -> OpenPlan:
    """A stored plan with its lap, set against its baseline. Raises NotThere.

    Every write ends with it, outside its own session: nobody waits to write while a lap is told.
    """
    with reading(store) as session:
        return _opened(session, plan_id)


def plan_at(store: Store, plan_id: int, revisions: Revisions) -> PlanDocument:
    """A plan as it stood at some revisions. Raises NotThere."""
    with reading(store) as session:
        return assemble(session, plan_id, revisions).document


#: Texts of plans that are kept in memory: of those that are being worked on.
TEXTS_MOST = 64


@lru_cache(maxsize=TEXTS_MOST)
def plan_text_at(store: Store, plan_id: int, revisions: Revisions) -> str:
    """A plan as it stood at some revisions, as JSON; what stood there never changes.

    Raises NotThere, and InputRefused where a revision is not told.
    """
    untold = [kind for kind, number in revisions if number is None]
    if untold:
        raise InputRefused(
            [Fault(f"revisions.{untold[0]}", "null was given; a number is expected")]
        )
    return plan_at(store, plan_id, revisions).model_dump_json()


def predict_at(store: Store, plan_id: int, revisions: Revisions | None = None) -> ResultDocument:
    """The lap of a stored plan, as it stands or as it stood; names its revisions."""
    with reading(store) as session:
        assembled = assemble(session, plan_id, revisions)
    result = recall(assembled.document, None).result
    return result.model_copy(update={"revisions": assembled.revisions})


def keep_changes(
    store: Store, plan_id: int, base: Revisions, changes: Sequence[Change]
) -> OpenPlan:
    """Write changed figures as new revisions of what they belong to, one step for each of these.

    Raises InputRefused when a change is not allowed or its lap cannot be driven, Conflicting when
    `base` is not what the plan stands on now. Nothing is written then.
    """
    with reading(store) as session:
        present = _present(session, plan_id, base)
    stages: list[tuple[str, PlanDocument]] = []
    document = present.document
    for group in _by_owner(changes, present.document):
        label = "; ".join(change_label(change, document) for change in group)
        document = apply_changes(document, group)
        stages.append((label, document))
    return _keep(store, plan_id, base, present.document, stages)


def keep_circuit_edits(
    store: Store, plan_id: int, base: Revisions, edits: Sequence[CircuitEdit]
) -> OpenPlan:
    """Write an edited sheet of straights and corners as one step. Raises as `keep_changes` does."""
    with reading(store) as session:
        present = _present(session, plan_id, base)
    document, labels = present.document, []
    for edit in edits:
        edited = edited_circuit(document.circuit, edit)
        document, lost = on_edited_road(document, edited)
        labels.append(edited.said + "".join(f"; what was asked at {name} is lost" for name in lost))
    return _keep(store, plan_id, base, present.document, [("; ".join(labels), document)])


def keep_document(
    store: Store,
    plan_id: int,
    base: Revisions,
    changed: Callable[[PlanDocument], PlanDocument],
    said_of: Callable[[PlanDocument, PlanDocument], list[str]],
) -> OpenPlan:
    """Write a plan as something makes it anew, as one step that names what `said_of` tells.

    Raises as `keep_changes` does.
    """
    with reading(store) as session:
        present = _present(session, plan_id, base)
    before = present.document
    after = plan_from_object(changed(before).model_dump(mode="json"))
    said = said_of(before, after)
    more = f"; and {len(said) - NAMED_MOST} more" if len(said) > NAMED_MOST else ""
    label = "; ".join(said[:NAMED_MOST]) + more
    return _keep(store, plan_id, base, before, [(label, after)])


def keep_circuit(
    store: Store, plan_id: int, base: Revisions, circuit: dict[str, Any], label: str
) -> OpenPlan:
    """Write a circuit's document as one step. Raises as `keep_changes` does."""
    with reading(store) as session:
        present = _present(session, plan_id, base)
    document = plan_from_object({**present.document.model_dump(mode="json"), "circuit": circuit})
    return _keep(store, plan_id, base, present.document, [(label, document)])


#: So many differences are named in the label of one step.
NAMED_MOST = 2

LINE_NAMES: dict[LineKind, str] = {
    "centre": "the middle of the road",
    "short": "the shortest line",
    "widest": "widest arcs",
    "late_apex": "late apexes",
    "fastest": "the fastest line",
}


def keep_line(
    store: Store,
    plan_id: int,
    base: Revisions,
    settings: LineDocument,
    computed: ComputedLineDocument | None = None,
) -> OpenPlan:
    """Write the line wanted on a plan's road as one step, with its geometry where one is given.

    Without one the geometry that the plan has stays. Raises as `keep_changes` does.
    """
    with reading(store) as session:
        present = _present(session, plan_id, base)
    before = present.document.line
    if computed is None and before is not None:
        computed = before.computed
    line = named_wishes(settings, present.document.circuit).model_copy(
        update={"computed": computed}
    )
    document = plan_from_object(
        {**present.document.model_dump(mode="json"), "line": line.model_dump(mode="json")}
    )
    label = f"Line: {LINE_NAMES[settings.kind]}"
    return _keep(store, plan_id, base, present.document, [(label, document)])


def _keep(
    store: Store,
    plan_id: int,
    base: Revisions,
    before: PlanDocument,
    stages: Sequence[tuple[str, PlanDocument]],
) -> OpenPlan:
    """Write a plan's stages, one step each, once every lap of them has been driven."""
    document, laps = before, [_lap_s(before)]
    changed: list[tuple[str, PlanDocument]] = []
    for label, after in stages:
        if after == document:
            continue
        document = after
        changed.append((label, after))
        laps.append(recall(after, TRACE_POINTS).result.lap_time_s)
    with writing(store) as session:
        newest = newest_step(session, plan_id)
        for number, (label, after) in enumerate(changed):
            # Once more under the lock: nobody wrote while the laps were being solved.
            present = _present(session, plan_id, base if number == 0 else None)
            _write_parts(session, plan_id, present, after, label, (laps[number], laps[number + 1]))
        # What was sent together is one act, whichever documents it went to.
        joined(session, plan_id, newest)
    return open_plan(store, plan_id)


def choose(store: Store, plan_id: int, base: Revisions, choice: Choice) -> OpenPlan:
    """Write a choice as one step. Raises as `keep_changes` does, and NotThere."""
    with writing(store) as session:
        choose_in(session, plan_id, base, choice)
    return open_plan(store, plan_id)


def choose_in(session: Session, plan_id: int, base: Revisions, choice: Choice) -> None:
    """As `choose`, with whatever else is written in a session."""
    present = _present(session, plan_id, base)
    lap_before = _lap_s(present.document)
    if choice.rename:
        for kind, name in choice.rename.items():
            _rename(session, plan_id, present, kind, name, lap_before)
    sheet, label = _chosen(session, present, choice)
    if sheet != present.sheet:
        before = get_item(session, "plan", plan_id).newest
        document = sheet.model_dump(mode="json")
        after = revise(session, "plan", plan_id, content_of("plan", document), label)
        lap_after = recall(assemble(session, plan_id).document, TRACE_POINTS).result.lap_time_s
        _add_step(
            session, plan_id, "plan", plan_id, label, (before, after), (lap_before, lap_after)
        )


def undo(store: Store, plan_id: int, force: bool = False) -> OpenPlan:
    """Take back the last step that was done.

    Raises InputRefused when there is none, Conflicting when the same figures have been changed
    since elsewhere; `force` takes the step back all the same.
    """
    return _turn(store, plan_id, back=True, force=force)


def redo(store: Store, plan_id: int, force: bool = False) -> OpenPlan:
    """Do the last step that was taken back again. Raises as `undo` does."""
    return _turn(store, plan_id, back=False, force=force)


def pin_baseline(
    store: Store, plan_id: int, base_plan_id: int, revisions: Revisions | None, title: str | None
) -> OpenPlan:
    """Compare a plan's lap with a plan at some revisions, or as it stands now. Raises NotThere."""
    with writing(store) as session:
        plan = get_plan(session, plan_id)
        base = assemble(session, base_plan_id, revisions)
        if title is None:
            title = base.sheet.name
        plan.baseline = json.dumps(
            {
                "title": title,
                "plan_id": base_plan_id,
                "revisions": base.revisions.model_dump(),
            }
        )
    return open_plan(store, plan_id)


def drop_baseline(store: Store, plan_id: int) -> OpenPlan:
    """Compare a plan's lap with nothing any more. Raises NotThere."""
    with writing(store) as session:
        get_plan(session, plan_id).baseline = None
    return open_plan(store, plan_id)


def _opened(session: Session, plan_id: int) -> OpenPlan:
    item = get_plan(session, plan_id)
    if item.deleted_at is not None:
        raise NotThere(f'the plan "{item.name}" was deleted; restore it to open it')
    assembled = assemble(session, plan_id)
    baseline = _baseline(session, item.baseline)
    done, undone = last_done(session, plan_id), next_undone(session, plan_id)
    prediction, trouble = _try(assembled.document)
    base, _ = (None, None) if baseline is None else _try(baseline.plan)
    result = None
    if prediction is not None:
        result = prediction.result.model_copy(update={"revisions": assembled.revisions})
    return OpenPlan(
        id=plan_id,
        name=assembled.sheet.name,
        revisions=assembled.revisions,
        lap_mark=mark_of(assembled.document, race=False),
        race_mark=mark_of(assembled.document, race=True),
        **{kind: _part(session, plan_id, assembled, kind) for kind in PART_KINDS},
        plan=assembled.document,
        undo=None if done is None else done.label,
        redo=None if undone is None else undone.label,
        baseline=baseline,
        assumptions=assumptions(assembled.document),
        layouts=other_layouts(
            session, assembled.sheet.circuit_id, assembled.document.circuit.venue
        ),
        result=result,
        words=_words(prediction, "metric"),
        comparison=None if prediction is None or base is None else compare(prediction, base),
        trouble=trouble,
    )


def _words(prediction: Prediction | None, units: Units) -> LapWords | None:
    if prediction is None:
        return None
    return lap_words(prediction.result, prediction.notes, units)


def spoken(opened: OpenPlan, units: Units) -> OpenPlan:
    """An open plan with everything that is said of its lap said in some units."""
    if units == "metric" or opened.result is None:
        return opened
    prediction = recall(opened.plan, TRACE_POINTS)
    against = opened.baseline.plan if opened.baseline is not None else None
    base = None if against is None or opened.comparison is None else recall(against, TRACE_POINTS)
    return opened.model_copy(
        update={
            "words": _words(prediction, units),
            "comparison": None if base is None else compare(prediction, base, units),
        }
    )


def _try(document: PlanDocument) -> tuple[Prediction | None, str | None]:
    """The lap of a plan; a sentence where a change made elsewhere has left it without one."""
    try:
        return recall(document, TRACE_POINTS), None
    except InputRefused as error:
        return None, "; ".join(fault.message for fault in error.faults)


def _lap_s(document: PlanDocument) -> float | None:
    prediction, _ = _try(document)
    return None if prediction is None else prediction.result.lap_time_s


def _part(session: Session, plan_id: int, assembled: Assembled, kind: PartKind) -> Part:
    item = get_item(session, kind, getattr(assembled.sheet, f"{kind}_id"))
    return Part(
        id=item.id,
        name=getattr(assembled.document, kind).name,
        revision=getattr(assembled.revisions, kind),
        newest=item.newest,
        pinned=getattr(assembled.sheet, f"{kind}_pin") is not None,
        also_in=[plan.name for plan in plans_using(session, kind, item.id) if plan.id != plan_id],
    )


def _baseline(session: Session, text: str | None) -> Baseline | None:
    if text is None:
        return None
    try:
        kept = json.loads(text)
        revisions = Revisions(**kept["revisions"])
        base = assemble(session, kept["plan_id"], revisions)
        return Baseline(
            title=kept["title"], plan_id=kept["plan_id"], revisions=revisions, plan=base.document
        )
    except (ValueError, KeyError, TypeError, NotThere, StoreTrouble) as error:
        # A plan is opened without a baseline that cannot be read; choosing another heals it.
        LOG.warning("a baseline cannot be read", exc_info=error)
        return None


def _present(session: Session, plan_id: int, base: Revisions | None) -> Assembled:
    """The plan as it stands. Raises NotThere, and Conflicting when `base` is something else."""
    item = get_plan(session, plan_id)
    if item.deleted_at is not None:
        raise NotThere(f'the plan "{item.name}" was deleted; restore it to change it')
    present = assemble(session, plan_id)
    if base is None or base == present.revisions:
        return present
    try:
        old = assemble(session, plan_id, base).document.model_dump(mode="json")
    except NotThere as error:
        raise InputRefused([Fault("base", error.sentence)]) from None
    new = present.document.model_dump(mode="json")
    changes = told(differences(old, new))
    raise Conflicting(
        f'"{present.sheet.name}" has been changed since this page read it',
        Conflict(
            reason="stale",
            changes=changes or ["only its revisions; every figure is as it was"],
            revisions=present.revisions,
        ),
    )


def _by_owner(changes: Sequence[Change], plan: PlanDocument) -> list[list[Change]]:
    """Changes in groups that belong to one document, in the order of their first."""
    groups: dict[str, list[Change]] = {}
    for change in changes:
        groups.setdefault(owner_of(change, plan), []).append(change)
    return list(groups.values())


def _write_parts(
    session: Session,
    plan_id: int,
    present: Assembled,
    after: PlanDocument,
    label: str,
    laps: tuple[float | None, float | None],
) -> None:
    """Write what differs between the plan as it stands and a document, with one step each."""
    for kind in PART_KINDS:
        document = part_document(after, kind)
        if document == part_document(present.document, kind):
            continue
        pinned = getattr(present.sheet, f"{kind}_pin")
        if pinned is not None:
            raise InputRefused(
                [
                    Fault(
                        kind,
                        f'"{document["name"]}" is pinned at revision {pinned} in this plan; let '
                        "it follow the newest, or choose a copy of it, to change it",
                    )
                ]
            )
        item_id: int = getattr(present.sheet, f"{kind}_id")
        _revise_with_step(session, plan_id, kind, item_id, document, label, laps)
    # A circuit that is no road any more leaves the line where it is, for when it is one again.
    road = after.circuit.segments_describe == "road"
    line = after.line if road else present.sheet.line
    own = {
        **{field: getattr(after, field) for field in ALIKE},
        "fuel_kg": after.car.fuel_kg,
        "line": line,
        "setup": _setup_kept(present.sheet.setup, after),
    }
    sheet = present.sheet.model_copy(update=own)
    if sheet != present.sheet:
        document = sheet.model_dump(mode="json")
        _revise_with_step(session, plan_id, "plan", plan_id, document, label, laps)


def _setup_kept(before: str | None, after: PlanDocument) -> str | None:
    """The setup to write: one that the car has lost stays chosen, for when it has it again."""
    names = {setup.name for setup in after.car.setups}
    return (
        before
        if after.setup is None and before is not None and before not in names
        else after.setup
    )


def _revise_with_step(
    session: Session,
    plan_id: int,
    kind: Kind,
    item_id: int,
    document: dict[str, Any],
    label: str,
    laps: tuple[float | None, float | None],
) -> None:
    before = get_item(session, kind, item_id).newest
    after = revise_with_layouts(session, kind, item_id, content_of(kind, document), label)
    _add_step(session, plan_id, kind, item_id, label, (before, after), laps)


def _add_step(
    session: Session,
    plan_id: int,
    kind: Kind,
    item_id: int,
    label: str,
    numbers: tuple[int, int],
    laps: tuple[float | None, float | None],
) -> None:
    stands_on = assemble(session, plan_id).revisions
    step = Step(
        plan_id=plan_id,
        state="done",
        label=label,
        kind=kind,
        item_id=item_id,
        before=numbers[0],
        after=numbers[1],
        lap_before_s=laps[0],
        lap_after_s=laps[1],
        made_at=now(),
        **stands_on.model_dump(),
    )
    add_step(session, step)


def _rename(
    session: Session,
    plan_id: int,
    present: Assembled,
    kind: PartKind,
    name: str,
    lap_s: float | None,
) -> None:
    document = part_document(present.document, kind)
    old = document["name"]
    if name == old:
        return
    if not name.strip():
        raise InputRefused([Fault(f"{kind}.name", "the name is empty; a name is expected")])
    renamed = present.document.model_copy(
        update={kind: getattr(present.document, kind).model_copy(update={"name": name.strip()})}
    )
    label = f"{kind.capitalize()} renamed from {old or 'no name'} to {name.strip()}"
    _write_parts(session, plan_id, present, renamed, label, (lap_s, lap_s))


def _chosen(session: Session, present: Assembled, choice: Choice) -> tuple[PlanSheet, str]:
    """The sheet with a choice made, and what was chosen, in words."""
    sheet = assemble_sheet = present.sheet
    labels: list[str] = []
    if choice.name is not None and choice.name.strip() != sheet.name:
        if not choice.name.strip():
            raise InputRefused([Fault("name", "the name is empty; a name is expected")])
        sheet = sheet.model_copy(update={"name": choice.name.strip()})
        labels.append(f"Plan renamed from {assemble_sheet.name} to {sheet.name}")
    for kind in PART_KINDS:
        wanted: int | None = getattr(choice, f"{kind}_id")
        if wanted is not None and wanted != getattr(sheet, f"{kind}_id"):
            item = get_item(session, kind, wanted)
            if item.deleted_at is not None:
                raise InputRefused([Fault(f"{kind}_id", f'"{item.name}" was deleted')])
            sheet = sheet.model_copy(update={f"{kind}_id": wanted, f"{kind}_pin": None})
            before = getattr(present.document, kind).name
            labels.append(f"{kind.capitalize()} {before} to {item.name}")
        if choice.pins is None or kind not in choice.pins:
            continue
        pin = choice.pins[kind]
        if pin == getattr(sheet, f"{kind}_pin"):
            continue
        item_id = getattr(sheet, f"{kind}_id")
        if pin is not None:
            get_document(session, kind, item_id, pin)  # raises where there is none
        sheet = sheet.model_copy(update={f"{kind}_pin": pin})
        name = get_item(session, kind, item_id).name
        labels.append(
            f"{name} follows its newest revision" if pin is None else f"{name} pinned at {pin}"
        )
    return sheet, "; ".join(labels)


def _turn(store: Store, plan_id: int, back: bool, force: bool) -> OpenPlan:
    with writing(store) as session:
        _present(session, plan_id, None)
        step = last_done(session, plan_id) if back else next_undone(session, plan_id)
        if step is None:
            word = "undo" if back else "redo"
            raise InputRefused([Fault("", f"there is nothing to {word} in this plan")])
        steps = of_the_act(session, step)
        turned, clashes = [], []
        for one in reversed(steps) if back else steps:
            kind: Kind = one.kind  # type: ignore[assignment]  # written from a Kind, read as text
            old, new = (one.after, one.before) if back else (one.before, one.after)
            present = get_document(session, kind, one.item_id)
            outcome, clashing = carry_over(
                get_document(session, kind, one.item_id, old),
                get_document(session, kind, one.item_id, new),
                present,
            )
            clashes += clashing
            if outcome != present:
                turned.append((kind, one.item_id, outcome))
        if clashes and not force:
            raise Conflicting(
                f'"{step.label}" cannot be {"undone" if back else "redone"} without undoing '
                "what was changed since, perhaps in another plan",
                Conflict(
                    reason="clash",
                    changes=told([other for _, other in clashes]),
                    revisions=assemble(session, plan_id).revisions,
                ),
            )
        label = f"{'Undone' if back else 'Redone'}: {step.label}"
        for kind, item_id, outcome in turned:
            revise_with_layouts(session, kind, item_id, content_of(kind, outcome), label)
        for one in steps:
            one.state = "undone" if back else "done"
    return open_plan(store, plan_id)
