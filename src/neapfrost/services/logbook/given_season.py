"""A season that is given with its logs and what was measured in them: kept once."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from neapfrost.formats.event import EVENT_FORMAT, EVENT_VERSION, EventDocument, SessionDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import Revisions
from neapfrost.formats.run import RUN_FORMAT, RUN_VERSION, RunDocument
from neapfrost.formats.typed_laps import typed_laps
from neapfrost.services.logbook.kept import run_item
from neapfrost.services.plans.parts import assemble, content_of
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, list_items
from neapfrost.store.logs import keep_log
from neapfrost.store.steps import get_mark, set_mark


@dataclass(frozen=True)
class GivenRun:
    """A run: its session, when it was driven, its log and what was measured there, or typed."""

    name: str
    session: int
    driven_at: str
    log: bytes | None
    measured: dict[str, Any]
    typed: str
    said: dict[str, Any]


@dataclass(frozen=True)
class GivenEvent:
    """An event on a plan by its name."""

    name: str
    plan: str
    held_on: str
    sessions: Sequence[str]
    remarks: str
    runs: Sequence[GivenRun]


def keep_season_once(store: Store, mark: str, events: Iterable[GivenEvent]) -> None:
    """Keep events and their runs, leaving out those kept under this mark before.

    Runs stand on the first revisions of their plan, which are what they were driven on.
    """
    with reading(store) as session:
        done = set((get_mark(session, mark) or "").splitlines())
        plans = {plan.name: plan.id for plan in list_items(session, "plan")}
    for event in events:
        if event.name in done or event.plan not in plans:
            continue
        names = [None if run.log is None else keep_log(store, run.log) for run in event.runs]
        done.add(event.name)
        with writing(store) as session:
            _keep(session, event, plans[event.plan], names)
            set_mark(session, mark, "\n".join(sorted(done)))


def _keep(session: Session, event: GivenEvent, plan_id: int, logs: Sequence[str | None]) -> None:
    first = Revisions(car=1, circuit=1, conditions=1, plan=1)
    plan = assemble(session, plan_id, first).document
    sessions = [
        SessionDocument.model_validate({"number": number, "kind": kind})
        for number, kind in enumerate(event.sessions, start=1)
    ]
    document = EventDocument(
        format=EVENT_FORMAT,
        version=EVENT_VERSION,
        name=event.name,
        circuit=plan.circuit.name,
        held_on=event.held_on,
        sessions=sessions,
        remarks=event.remarks,
    )
    content = content_of("event", document.model_dump(mode="json"))
    event_id = add_item(session, "event", content, "Given")
    for run, log in zip(event.runs, logs, strict=True):
        kept = _run(run, log, plan, first)
        run_id = add_item(session, "run", content_of("run", kept.model_dump(mode="json")), "Given")
        item = run_item(session, run_id)
        item.plan_id, item.event_id, item.session = plan_id, event_id, run.session


def _run(run: GivenRun, log: str | None, plan: PlanDocument, on: Revisions) -> RunDocument:
    value: dict[str, Any] = {
        "format": RUN_FORMAT,
        "version": RUN_VERSION,
        "name": run.name,
        "made_at": run.driven_at,
        "plan": plan.name,
        "car": plan.car.name,
        "setup": plan.setup,
        "circuit": plan.circuit.name,
        "conditions": plan.conditions.name,
        "revisions": on.model_dump(),
        "fuel_out_kg": plan.car.fuel_kg or None,
        "simulated": log is not None,
        "log": log,
        **run.measured,
        **run.said,
    }
    if run.typed:
        value["typed"] = run.typed
        value["laps"] = [lap.model_dump() for lap in typed_laps(run.typed).laps]
    return RunDocument.model_validate(value)
