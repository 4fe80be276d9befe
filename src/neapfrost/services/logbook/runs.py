"""A kept run as it is opened: its record, where it belongs, and its laps in short."""

from pydantic import BaseModel

from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.run import LapKind, RunDocument
from neapfrost.formats.typed_laps import typed_laps
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.logbook.events import read_event, session_name
from neapfrost.services.logbook.kept import driven_on, run_document, run_item, timed_laps
from neapfrost.services.words.logbook import FAULTS, LAP_KINDS, describe_run
from neapfrost.store.database import Store, reading


class RunRecord(BaseModel):
    """A figure that is only recorded: as the setup has it, and as the run had it if otherwise."""

    name: str
    setup: str
    run: str | None


class LapKindWord(BaseModel):
    """What a kind of lap is called, and the key that marks a lap so, if one does."""

    kind: LapKind
    said: str
    key: str


class OpenRun(BaseModel):
    """A run with what it is held against: the lap predicted on the revisions it was driven on.

    `best` is the number of its quickest timed lap, null without one; `revision` that of the run.
    `typed_faults` are the typed lines that were not understood.
    """

    id: int
    revision: int
    plan_id: int | None
    event_id: int | None
    session: int | None
    event: str
    session_name: str
    run: RunDocument
    predicted_s: float | None
    corner_names: list[str]
    record: list[RunRecord]
    best: int | None
    typed_faults: list[str]
    lap_kinds: list[LapKindWord]
    fault_names: dict[str, str]
    said: list[str]


def open_run(store: Store, run_id: int) -> OpenRun:
    """A kept run. Raises NotThere."""
    with reading(store) as session:
        item = run_item(session, run_id)
        run = run_document(session, run_id)
        plan_id, event_id, number, newest = item.plan_id, item.event_id, item.session, item.newest
        event = None if event_id is None else read_event(session, event_id)
    plan = driven_on(store, run, plan_id)
    prediction = None if plan is None else recall(plan, TRACE_POINTS)
    predicted = None if prediction is None else prediction.result.lap_time_s
    timed = [(lap.lap_time_s or 0.0, lap.number) for lap in timed_laps(run)]
    place = next((one for one in (event.sessions if event else []) if one.number == number), None)
    return OpenRun(
        id=run_id,
        revision=newest,
        plan_id=plan_id,
        event_id=event_id,
        session=number,
        event=event.name if event else "",
        session_name=session_name(place) if place else "",
        run=run,
        predicted_s=predicted,
        corner_names=[] if prediction is None else [c.name for c in prediction.result.corners],
        record=_record(run, None if plan is None else plan.car),
        best=min(timed)[1] if timed else None,
        lap_kinds=[
            LapKindWord(kind=kind, said=said, key=key) for kind, (said, key) in LAP_KINDS.items()
        ],
        fault_names=FAULTS,
        typed_faults=list(typed_laps(run.typed).faults),
        said=describe_run([time for time, _ in timed], predicted),
    )


def _record(run: RunDocument, car: CarDocument | None) -> list[RunRecord]:
    setups = [] if car is None else car.setups
    setup = next((one for one in setups if one.name == run.setup), None)
    stated = {} if setup is None else setup.record
    return [
        RunRecord(name=name, setup=stated.get(name, ""), run=run.record.get(name))
        for name in dict.fromkeys((*stated, *run.record))
    ]
