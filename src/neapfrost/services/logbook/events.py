"""Events, their sessions, and the season: every run where it belongs, searched."""

import logging
from datetime import date
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy.orm import Session

from neapfrost.formats.document import NAME_MOST, Key
from neapfrost.formats.event import (
    EVENT_FORMAT,
    EVENT_VERSION,
    EventDocument,
    SessionDocument,
    SessionKind,
)
from neapfrost.formats.faults import validated
from neapfrost.services.logbook.kept import run_items
from neapfrost.services.plans.parts import assemble, content_of
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import (
    Content,
    add_item,
    get_document,
    list_items,
    newest_texts,
    object_in,
    revise,
)
from neapfrost.store.tables import Run
from neapfrost.store.trouble import StoreTrouble

LOG = logging.getLogger(__name__)

#: What each kind of session is called.
SESSION_NAMES: dict[SessionKind, str] = {
    "test": "Test",
    "practice": "Practice",
    "qualifying": "Qualifying",
    "race": "Race",
}


class ListedRun(BaseModel):
    """A kept run, as one chooses it; `here` says that it was driven on the open plan's circuit."""

    id: int
    name: str
    plan_id: int | None
    circuit: str
    car: str
    driven_at: str
    lap_count: int
    best_lap_s: float | None
    event_id: int | None
    session: int | None
    here: bool


class SessionOfEvent(BaseModel):
    """A session with its runs, the first driven first."""

    number: int
    kind: SessionKind
    name: str
    runs: list[ListedRun]


class EventOfSeason(BaseModel):
    """An event with its sessions; `runs` are those of none of them."""

    id: int
    name: str
    circuit: str
    held_on: str
    remarks: str
    here: bool
    sessions: list[SessionOfEvent]
    runs: list[ListedRun]


class Season(BaseModel):
    """Every event, the last held first, and the runs that belong to none, the last driven first."""

    events: list[EventOfSeason]
    runs: list[ListedRun]
    session_names: dict[str, str]


class NewEvent(BaseModel):
    """What a new event is called, when it is held, and its first sessions."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=NAME_MOST)]
    held_on: Key | None = None
    sessions: list[SessionKind] | None = None


class EventEdit(BaseModel):
    """What is to be otherwise of an event; what is left out stays."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str | None, Field(min_length=1, max_length=NAME_MOST)] = None
    held_on: Key | None = None
    remarks: Annotated[str | None, Field(max_length=4000)] = None
    add_session: SessionKind | None = None


def _readable(session: Session, event_id: int) -> list[EventDocument]:
    """The document of an event; nothing of one that is damaged, so that the season is shown."""
    try:
        return [EventDocument.model_validate(get_document(session, "event", event_id))]
    except (StoreTrouble, ValidationError) as error:
        LOG.warning("event %d cannot be read", event_id, exc_info=error)
        return []


def season(store: Store, plan_id: int, search: str = "") -> Season:
    """The season as a list; with words, the runs that hold every one of them anywhere.

    Words are looked for in names, cars, circuits, drivers, remarks and the corners remarked on.
    Raises NotThere.
    """
    words = search.casefold().split()
    with reading(store) as session:
        circuit = assemble(session, plan_id).document.circuit.name
        found = run_items(session)
        if words:
            texts = newest_texts(session, "run")
            found = [run for run in found if _holds(object_in(texts.get(run.id, "")) or {}, words)]
        runs = sorted((_listed(run, circuit) for run in found), key=lambda run: run.driven_at)
        events = [
            _event(item.id, document, circuit, runs)
            for item in list_items(session, "event")
            for document in _readable(session, item.id)
        ]
    if words:
        events = [
            one
            for one in events
            if one.runs
            or any(session_.runs for session_ in one.sessions)
            or all(word in f"{one.name} {one.circuit} {one.remarks}".casefold() for word in words)
        ]
    known = {one.id for one in events}
    events.sort(key=lambda one: (one.held_on, one.id), reverse=True)
    single = [run for run in reversed(runs) if run.event_id is None or run.event_id not in known]
    return Season(
        events=events,
        runs=single,
        session_names={str(kind): name for kind, name in SESSION_NAMES.items()},
    )


def make_event(store: Store, plan_id: int, wanted: NewEvent) -> int:
    """Make an event at a plan's circuit; returns its number. Raises NotThere."""
    kinds: list[SessionKind] = ["test"] if wanted.sessions is None else wanted.sessions
    with writing(store) as session:
        circuit = assemble(session, plan_id).document.circuit.name
        document = validated(
            EventDocument,
            {
                "format": EVENT_FORMAT,
                "version": EVENT_VERSION,
                "name": wanted.name,
                "circuit": circuit,
                "held_on": date.today().isoformat() if wanted.held_on is None else wanted.held_on,
                "sessions": [
                    {"number": number, "kind": kind} for number, kind in enumerate(kinds, start=1)
                ],
            },
        )
        return add_item(session, "event", _content(document), "Created")


def edit_event(store: Store, event_id: int, edit: EventEdit) -> None:
    """Change an event as its next revision. Raises NotThere, and InputRefused for a date."""
    with writing(store) as session:
        before = EventDocument.model_validate(get_document(session, "event", event_id))
        given = edit.model_dump(exclude_none=True, exclude={"add_session"})
        after = validated(EventDocument, {**before.model_dump(), **given})
        if edit.add_session is not None:
            number = max((one.number for one in after.sessions), default=0) + 1
            added = SessionDocument(number=number, kind=edit.add_session)
            after = after.model_copy(update={"sessions": [*after.sessions, added]})
        if after != before:
            revise(session, "event", event_id, _content(after), "Changed")


def session_name(one: SessionDocument | SessionOfEvent) -> str:
    """What a session is called."""
    return one.name or f"{SESSION_NAMES[one.kind]} {one.number}"


def read_event(session: Session, event_id: int) -> EventDocument:
    """An event's document. Raises NotThere."""
    return EventDocument.model_validate(get_document(session, "event", event_id))


def _content(document: EventDocument) -> Content:
    return content_of("event", document.model_dump(mode="json"))


def _listed(run: Run, circuit: str) -> ListedRun:
    names = [name for name in ListedRun.model_fields if name != "here"]
    return ListedRun(**{name: getattr(run, name) for name in names}, here=run.circuit == circuit)


def _event(
    event_id: int, document: EventDocument, circuit: str, runs: list[ListedRun]
) -> EventOfSeason:
    own = [run for run in runs if run.event_id == event_id]
    numbers = {one.number for one in document.sessions}
    return EventOfSeason(
        id=event_id,
        name=document.name,
        circuit=document.circuit,
        held_on=document.held_on,
        remarks=document.remarks,
        here=document.circuit == circuit,
        sessions=[
            SessionOfEvent(
                number=one.number,
                kind=one.kind,
                name=session_name(one),
                runs=[run for run in own if run.session == one.number],
            )
            for one in document.sessions
        ],
        runs=[run for run in own if run.session not in numbers],
    )


def _holds(document: dict[str, object], words: list[str]) -> bool:
    """Whether a run's document holds every word in what people write and choose."""
    named = ("name", "car", "circuit", "plan", "setup", "driver", "remarks", "conditions", "typed")
    texts = [str(document.get(name) or "") for name in named]
    seen = document.get("seen")
    for one in seen if isinstance(seen, list) else []:
        texts += [str(one.get(name) or "") for name in ("corner", "remark", "fault")]
    record = document.get("record")
    texts += [
        f"{key} {value}" for key, value in (record if isinstance(record, dict) else {}).items()
    ]
    text = " ".join(texts).casefold()
    return all(word in text for word in words)
