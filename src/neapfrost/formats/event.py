"""The event document: where and when, and the sessions that runs belong to."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.formats.document import Document, Name

EVENT_FORMAT: Literal["neapfrost/event"] = "neapfrost/event"
EVENT_VERSION: Literal[1] = 1

SessionKind = Literal["test", "practice", "qualifying", "race"]


class SessionDocument(Document):
    """A session of an event, by its number, which no other session of the event has."""

    number: Annotated[int, Field(ge=1, le=200)]
    kind: SessionKind
    name: Annotated[str, Field(max_length=120)] = ""


class EventDocument(Document):
    """An event at a circuit; `held_on` is its first day, year-month-day."""

    format: Literal["neapfrost/event"]
    version: Literal[1]
    name: Name
    circuit: Annotated[str, Field(max_length=200)] = ""
    held_on: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    sessions: Annotated[list[SessionDocument], Field(max_length=200)] = Field(default_factory=list)
    remarks: Annotated[str, Field(max_length=4000)] = ""
