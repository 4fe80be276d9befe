"""Runs kept: read from a file that was looked at, read at once, or begun to be typed."""

import hashlib
import json
from dataclasses import dataclass
from datetime import datetime

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.document import Name
from neapfrost.formats.event import EventDocument
from neapfrost.formats.faults import validated
from neapfrost.formats.json_text import parse_json_object
from neapfrost.formats.logs.log_file import look_at_file
from neapfrost.formats.run import (
    RUN_FORMAT,
    RUN_VERSION,
    RunColumnDocument,
    RunDocument,
    RunLapDocument,
    TyresDocument,
)
from neapfrost.services.logbook.kept import run_document, run_item, run_items
from neapfrost.services.logbook.measured import laid, read_looked_at
from neapfrost.services.logbook.readings import HeldFile, Remembered
from neapfrost.services.plans.parts import Assembled, assemble, content_of
from neapfrost.services.words.logbook import describe_doubt
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, get_document
from neapfrost.store.logs import keep_log
from neapfrost.store.steps import get_marks, set_mark

#: Under this and a kind of file is kept which column each channel is in.
COLUMNS_MARK = "log-columns"


class RunPlace(BaseModel):
    """What a new run is called, and the event's session it belongs to, if any.

    `certain` says that its log is of this circuit, where it fits it so badly that this is asked.
    """

    model_config = ConfigDict(extra="forbid")

    name: Name | None = None
    event_id: int | None = None
    session: int | None = Field(default=None, ge=1, le=200)
    certain: bool = False


#: What a file calls the day, or the moment, at which it was recorded, and a time of day beside it.
RECORDED = ("recorded", "log date", "date", "datum", "session date", "start", "start time")
TIMES = ("log time", "time", "uhrzeit", "session time")


@dataclass(frozen=True)
class FromLog:
    """What a run takes from its file."""

    data: bytes
    columns: dict[str, RunColumnDocument]
    about: dict[str, str]
    alike: float
    misfit_m: float
    laps: list[RunLapDocument]
    simulated: bool


def remembered_columns(store: Store) -> Remembered:
    """The columns that were chosen by hand for files of each kind."""
    with reading(store) as session:
        texts = get_marks(session, f"{COLUMNS_MARK}:")
    return {
        kind: {
            role: RunColumnDocument.model_validate(value)
            for role, value in json.loads(text).items()
        }
        for kind, text in texts.items()
    }


def remember_columns(store: Store, kind: str, columns: dict[str, RunColumnDocument]) -> None:
    """Keep the columns chosen for files of a kind, for the next one."""
    text = json.dumps({role: column.model_dump() for role, column in columns.items()})
    with writing(store) as session:
        set_mark(session, f"{COLUMNS_MARK}:{kind}", text)


def keep_reading(store: Store, held: HeldFile, place: RunPlace) -> int:
    """Keep a file that was looked at as a run; returns its number.

    The same log on the same plan is recognised. Raises InputRefused for a file without laps.
    """
    preview = held.preview
    if preview.faults or not preview.laps:
        said = preview.faults or ["no lap was found in it"]
        raise InputRefused([Fault("", fault) for fault in said])
    if preview.doubt is not None and not place.certain:
        raise InputRefused([Fault("certain", preview.doubt)])
    if preview.kind is not None:
        remember_columns(store, preview.kind, preview.columns)
    taken = FromLog(
        held.data,
        preview.columns,
        preview.about,
        preview.alike,
        preview.misfit_m,
        preview.laps,
        False,
    )
    named = place if place.name else place.model_copy(update={"name": preview.name[:200]})
    return _add(store, held.plan_id, named, taken)


def keep_run(
    store: Store,
    plan_id: int,
    name: str,
    data: bytes,
    simulated: bool = False,
    place: RunPlace | None = None,
    driven_at: str | None = None,
) -> int:
    """Read a file, find its laps on a plan's circuit, and keep both; returns the run's number.

    Raises InputRefused for a file that cannot be read or is of another circuit; nothing is kept.
    """
    with reading(store) as session:
        plan = assemble(session, plan_id).document
    file = look_at_file(data)
    read = read_looked_at(file, None)
    run = laid(read.log, plan, lambda _: None)
    doubt = describe_doubt(run.aligned)
    if doubt is not None and not (place or RunPlace()).certain:
        raise InputRefused([Fault("certain", doubt)])
    taken = FromLog(
        file.kept,
        read.columns,
        read.about,
        round(run.aligned.alike, 4),
        round(run.aligned.misfit_m, 3),
        list(run.laps),
        simulated,
    )
    where = (place or RunPlace()).model_copy(update={"name": name[:200]})
    return _add(store, plan_id, where, taken, driven_at)


def take_run(store: Store, plan_id: int, data: bytes) -> int:
    """Keep a run document of somebody else's, on a plan as it stands; returns the run's number.

    Its laps and corners stay as they were measured; its log stays where it is. Raises InputRefused,
    with line and column or with the field, for what is no such document.
    """
    given = validated(RunDocument, parse_json_object(data))
    with writing(store) as session:
        assembled = assemble(session, plan_id)
        if given.circuit and given.circuit != assembled.document.circuit.name:
            raise InputRefused(
                [
                    Fault(
                        "circuit",
                        f"the run was driven on {given.circuit}; the plan is on "
                        f"{assembled.document.circuit.name}",
                    )
                ]
            )
        known: dict[str, object] = {"log": None, "columns": {}, "revisions": assembled.revisions}
        document = given.model_copy(update=known)
        content = content_of("run", document.model_dump(mode="json"))
        run_id = add_item(session, "run", content, "Imported")
        run_item(session, run_id).plan_id = plan_id
        return run_id


def begin_run(store: Store, plan_id: int, place: RunPlace) -> int:
    """A run without laps yet, on a plan as it stands; returns its number. Raises NotThere."""
    return _add(store, plan_id, place, None)


def _add(
    store: Store,
    plan_id: int,
    place: RunPlace,
    taken: FromLog | None,
    driven_at: str | None = None,
) -> int:
    with writing(store) as session:
        assembled = assemble(session, plan_id)
        refuse_place(session, place.event_id, place.session)
        document = _document(assembled, place, taken, driven_at)
        known = _same_log(session, document, plan_id)
        if known is not None:
            assert taken is not None  # as of a run with a log
            keep_log(store, taken.data)  # which heals one that was damaged
            return known
        document = _as_the_run_before(session, document, place)
        if taken is not None:
            # Last of all: a run that is refused leaves no file behind.
            keep_log(store, taken.data)
        content = content_of("run", document.model_dump(mode="json"))
        run_id = add_item(session, "run", content, "Typed" if taken is None else "Read")
        run = run_item(session, run_id)
        run.plan_id, run.event_id, run.session = plan_id, place.event_id, place.session
        return run_id


def refuse_place(session: Session, event_id: int | None, number: int | None) -> None:
    """Raises NotThere and InputRefused for a session that the event does not have."""
    if event_id is None:
        if number is not None:
            raise InputRefused([Fault("session", "a session belongs to an event; none is named")])
        return
    event = EventDocument.model_validate(get_document(session, "event", event_id))
    if number is not None and number not in {one.number for one in event.sessions}:
        raise InputRefused([Fault("session", f"{event.name} has no session {number}")])


def recorded_at(about: dict[str, str]) -> str | None:
    """When a log was recorded, as its file says: a moment, or a day and a time of day beside it.

    A moment with a zone is told by this machine's clock, which is the circuit's. None where no such
    thing can be read.
    """
    told = {name.strip().casefold(): value.strip() for name, value in about.items()}
    day = next((told[name] for name in RECORDED if told.get(name)), None)
    if day is None:
        return None
    time = next((told[name] for name in TIMES if told.get(name)), "")
    for text in (f"{day} {time}".strip(), day):
        try:
            moment = datetime.fromisoformat(text)
        except ValueError:
            continue
        if moment.tzinfo is not None:
            moment = moment.astimezone().replace(tzinfo=None)
        return moment.replace(microsecond=0).isoformat()
    return None


def _document(
    assembled: Assembled, place: RunPlace, taken: FromLog | None, driven_at: str | None
) -> RunDocument:
    plan = assembled.document
    now = datetime.now().isoformat(timespec="seconds")
    run = RunDocument(
        format=RUN_FORMAT,
        version=RUN_VERSION,
        name=place.name or f"Run of {now[:16].replace('T', ' ')}",
        made_at=driven_at or (None if taken is None else recorded_at(taken.about)) or now,
        plan=assembled.sheet.name,
        car=plan.car.name,
        setup=plan.setup,
        circuit=plan.circuit.name,
        conditions=plan.conditions.name,
        revisions=assembled.revisions,
        fuel_out_kg=plan.car.fuel_kg or None,
    )
    if taken is None:
        return run
    found = {name: getattr(taken, name) for name in FromLog.__dataclass_fields__ if name != "data"}
    return run.model_copy(update={**found, "log": hashlib.sha256(taken.data).hexdigest()})


def _as_the_run_before(session: Session, run: RunDocument, place: RunPlace) -> RunDocument:
    """The driver and the tyres of the run before in the same event, with its laps on them."""
    earlier = [
        one
        for one in run_items(session)
        if place.event_id is not None
        and one.event_id == place.event_id
        and one.car == run.car
        and one.driven_at <= run.made_at
    ]
    if not earlier:
        return run
    last = run_document(session, max(earlier, key=lambda one: (one.driven_at, one.id)).id)
    tyres = last.tyres
    if tyres.laps_before is not None:
        tyres = TyresDocument(set=tyres.set, laps_before=tyres.laps_before + len(last.laps))
    return run.model_copy(update={"driver": last.driver, "tyres": tyres, "record": last.record})


def _same_log(session: Session, document: RunDocument, plan_id: int) -> int | None:
    """A run of the same log on the same revisions of a plan, if there is one."""
    if document.log is None:
        return None
    for run in run_items(session):
        if run.plan_id != plan_id:
            continue
        known = run_document(session, run.id)
        if (known.log, known.revisions) == (document.log, document.revisions):
            return run.id
    return None
