"""The debrief of an event: one page for each run, as data and as text."""

from collections.abc import Sequence

from pydantic import BaseModel

from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.units import Units
from neapfrost.formats.escaping import markdown_table, markdown_text
from neapfrost.formats.run import RunCornerDocument, RunDocument, RunLapDocument, SeenDocument
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.logbook.against import lap_against
from neapfrost.services.logbook.changed import changed_since
from neapfrost.services.logbook.events import read_event, session_name
from neapfrost.services.logbook.kept import (
    driven_on,
    run_document,
    run_items,
    timed_laps,
)
from neapfrost.services.logbook.several import lost_s, several
from neapfrost.services.words.cautions import CAUTIONS
from neapfrost.services.words.lap import lap_time
from neapfrost.services.words.logbook import (
    FAULTS,
    LAP_KINDS,
    Beside,
    describe_corner,
    describe_run,
)
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store, reading
from neapfrost.store.trouble import StoreTrouble


class DebriefTrace(BaseModel):
    """The best lap's speed on the predicted one along the lap, and the time lost up to there."""

    length_m: float
    at_m: list[float]
    driven_ms: list[float]
    predicted_ms: list[float]
    loss_s: list[float]


class DebriefCorner(BaseModel):
    """A corner of the run's best lap: seconds lost, and what was otherwise; what people saw.

    `number` counts as the lap does, from 0; `at_m` is where the model is slowest in it.
    """

    name: str
    number: int
    at_m: float
    lost_s: float | None
    said: str
    seen: list[str]


class DebriefLap(BaseModel):
    """A lap of the run, as it is listed."""

    number: int
    said: str


class DebriefRun(BaseModel):
    """A page of the debrief: a run with its facts, laps, corners and remarks."""

    run_id: int
    name: str
    session: str
    facts: list[str]
    changed: list[str]
    laps: list[DebriefLap]
    best_s: float | None
    predicted_s: float | None
    said: list[str]
    trace: DebriefTrace | None
    corners: list[DebriefCorner]
    remarks: str


class Debrief(BaseModel):
    """An event's runs in the order in which they were driven."""

    event: str
    circuit: str
    held_on: str
    remarks: str
    cautions: list[str]
    runs: list[DebriefRun]


def debrief(store: Store, event_id: int, units: Units = "metric") -> Debrief:
    """An event as it is talked over. Raises NotThere."""
    with reading(store) as session:
        event = read_event(session, event_id)
        items = [
            (item.id, item.session, item.plan_id, run_document(session, item.id))
            for item in run_items(session)
            if item.event_id == event_id
        ]
    names = {one.number: session_name(one) for one in event.sessions}
    items.sort(key=lambda one: (one[3].made_at, one[0]))
    return Debrief(
        event=event.name,
        circuit=event.circuit,
        held_on=event.held_on,
        remarks=event.remarks,
        cautions=list(CAUTIONS),
        runs=[
            _run(store, run_id, names.get(number or 0, ""), plan_id, run, units)
            for run_id, number, plan_id, run in items
        ],
    )


def _run(
    store: Store,
    run_id: int,
    session: str,
    plan_id: int | None,
    run: RunDocument,
    units: Units,
) -> DebriefRun:
    say = Saying(units)
    plan = driven_on(store, run, plan_id)
    prediction = None if plan is None else recall(plan, TRACE_POINTS)
    predicted = None if prediction is None else prediction.result.lap_time_s
    timed = timed_laps(run)
    best = min(timed, key=lambda lap: lap.lap_time_s or 0.0, default=None)
    said = describe_run([lap.lap_time_s or 0.0 for lap in timed], predicted)
    if len(timed) > 1 and plan is not None:
        said += several(store, [run_id], units).said[1:]
    corners = () if prediction is None else prediction.driven.corners
    return DebriefRun(
        run_id=run_id,
        name=run.name,
        session=session,
        facts=_facts(run, say),
        changed=changed_since(store, run_id).said,
        laps=[DebriefLap(number=lap.number, said=_describe_lap(lap)) for lap in run.laps],
        best_s=None if best is None else best.lap_time_s,
        predicted_s=predicted,
        said=said,
        trace=None if best is None or prediction is None else _trace(store, run_id, best),
        corners=_corners(run, best, corners, say),
        remarks=run.remarks,
    )


def _trace(store: Store, run_id: int, lap: RunLapDocument) -> DebriefTrace | None:
    """The lap against its prediction; None of one that was typed, and where its log is gone."""
    try:
        against = lap_against(store, run_id, lap.number)
    except (InputRefused, StoreTrouble):
        return None
    return DebriefTrace(
        length_m=against.at_m[-1],
        at_m=against.at_m,
        driven_ms=against.driven_ms,
        predicted_ms=against.predicted_ms,
        loss_s=against.loss_s,
    )


def _describe_lap(lap: RunLapDocument) -> str:
    """A lap's time, and what kind it was where it was not driven for that."""
    kind = "" if lap.kind == "timed" else LAP_KINDS[lap.kind][0]
    time = lap_time(lap.lap_time_s) if lap.lap_time_s else ""
    return " ".join(text for text in (time, kind) if text)


def _facts(run: RunDocument, say: Saying) -> list[str]:
    """What a run was driven on and by, as far as it is known."""
    tyres = run.tyres
    gone = "" if tyres.laps_before is None else f", {tyres.laps_before} laps before"
    revisions = run.revisions
    facts = [
        f"{run.car}{f', setup {run.setup}' if run.setup else ''}",
        f"Conditions: {run.conditions}" if run.conditions else "",
        f"Driver: {run.driver}" if run.driver else "",
        f"Tyres: {tyres.set}{gone}" if tyres.set or gone else "",
        f"Fuel out: {say.figure(run.fuel_out_kg, 'mass', 1)}"
        if run.fuel_out_kg is not None
        else "",
        f"Fuel in: {say.figure(run.fuel_in_kg, 'mass', 1)}" if run.fuel_in_kg is not None else "",
        f"Plan {run.plan}, revision {revisions.plan} (car {revisions.car}, circuit "
        f"{revisions.circuit}, conditions {revisions.conditions})",
        "Simulated: not a real run" if run.simulated else "",
        *(f"{name}: {value}" for name, value in run.record.items()),
    ]
    return [fact for fact in facts if fact]


def _corners(
    run: RunDocument,
    best: RunLapDocument | None,
    predicted: Sequence[CornerResult],
    say: Saying,
) -> list[DebriefCorner]:
    driven: dict[str, RunCornerDocument] = {
        corner.name: corner for corner in (best.corners if best else [])
    }
    found = []
    for number, plan in enumerate(predicted):
        own = driven.get(plan.name)
        seen = [_seen(one, say) for one in run.seen if one.corner == plan.name]
        if own is None and not seen:
            continue
        beside = Beside(
            plan.action,
            plan.brake_start_to_corner_m,
            plan.gear,
            plan.min_speed_ms,
            plan.full_throttle_at_m,
            plan.exit_speed_ms,
        )
        found.append(
            DebriefCorner(
                name=plan.name,
                number=number,
                at_m=plan.min_speed_at_m,
                lost_s=None if own is None else lost_s(own),
                said="" if own is None else describe_corner(own, beside, None, None, say),
                seen=seen,
            )
        )
    return found


def _seen(one: SeenDocument, say: Saying) -> str:
    """What was seen at a corner, in a line."""
    parts = [
        f"lap {one.lap}" if one.lap else "",
        f"minimum {say.speed(one.min_speed_ms, 1)}" if one.min_speed_ms is not None else "",
        f"braked {one.braking_said}" if one.braking_said else "",
        f"gear {one.gear}" if one.gear else "",
        FAULTS[one.fault] if one.fault else "",
        one.remark,
    ]
    return ", ".join(part for part in parts if part)


def debrief_markdown(found: Debrief) -> str:
    """The debrief as text."""
    lines = [f"# {markdown_text(found.event)}", ""]
    lines += [f"{markdown_text(found.circuit)}, {found.held_on or 'no date'}", ""]
    if found.remarks:
        lines += [markdown_text(found.remarks), ""]
    for run in found.runs:
        session = f" ({markdown_text(run.session)})" if run.session else ""
        lines += [f"## {markdown_text(run.name)}{session}", ""]
        lines += [f"- {markdown_text(fact)}" for fact in run.facts] + [""]
        lines += [markdown_text(text) for text in (*run.changed, *run.said)] + [""]
        laps = ", ".join(f"{lap.number}: {lap.said}" for lap in run.laps)
        lines += [f"Laps: {laps}" if laps else "No laps.", ""]
        if run.corners:
            lines += markdown_table(
                ["Corner", "Lost (s)", "Difference", "Observed"],
                [
                    [
                        corner.name,
                        "" if corner.lost_s is None else f"{corner.lost_s:+.2f}",
                        corner.said,
                        "; ".join(corner.seen),
                    ]
                    for corner in run.corners
                ],
            )
            lines.append("")
        if run.remarks:
            lines += [markdown_text(run.remarks), ""]
    lines += [markdown_text(one) for one in found.cautions]
    return "\n".join(lines) + "\n"
