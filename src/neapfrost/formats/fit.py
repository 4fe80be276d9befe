"""The fit document: what some runs taught of a plan's figures, kept as the evidence of a change."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.formats.document import Document, Name
from neapfrost.formats.result import Revisions
from neapfrost.formats.weather import Moment

FIT_FORMAT: Literal["neapfrost/fit"] = "neapfrost/fit"
FIT_VERSION: Literal[1] = 1

FigureName = Literal[
    "grip", "along", "downforce", "drag", "power", "mass", "wind_north", "wind_east"
]
Blamed = Literal["car", "circuit", "conditions", "driver"]
Words = Annotated[str, Field(max_length=600)]


class FitRunDocument(Document):
    """A run that was learned from: its number, name, revision and the laps taken."""

    id: int
    name: Name
    revision: int
    laps: Annotated[list[int], Field(max_length=2_000)]


class FitSourceDocument(Document):
    """Where a figure is known from (a speed held, a pull, a stop), and its share of that."""

    kind: Literal["held", "pull", "stop"]
    corner: Name
    share: float


class FitFigureDocument(Document):
    """A figure after the fit: otherwise by a share or m/s, and within what, four times in five."""

    name: FigureName
    label: str
    value: float
    within: float
    stated_within: float
    claim: Literal["otherwise", "perhaps", "as_stated", "unknown"]
    claim_said: Words
    contradicts: bool
    sources: list[FitSourceDocument]
    said: Words


class FitMisfitDocument(Document):
    """A corner's speed held less the predicted one, before and after the fit [m/s]."""

    corner: Name
    laps: int
    before_ms: float
    after_ms: float
    unlike_ms: float


class FitPartDocument(Document):
    """Seconds beyond the plan by a cause, and within what."""

    cause: Literal["surface", "car", "wind", "driver"]
    time_s: float
    within_s: float
    said: Words


class FitTakenDocument(Document):
    """A figure that was taken over, and what was blamed for it."""

    name: FigureName
    blamed: Blamed


class FitDocument(Document):
    """What some runs taught: figures, what is left over, and what was taken over of it.

    `lack` names what the figures cannot describe; where it does, their intervals do not hold.
    """

    format: Literal["neapfrost/fit"]
    version: Literal[1]
    name: Name
    made_at: Moment
    plan: Name
    car: Name
    circuit: Name
    revisions: Revisions
    runs: list[FitRunDocument]
    figures: list[FitFigureDocument]
    misfits: list[FitMisfitDocument]
    parts: list[FitPartDocument]
    said: list[Words]
    lack: list[Words] = Field(default_factory=list)
    apart: list[Words]
    driver: list[Words]
    working: list[Words]
    scatter: dict[str, float]
    spread: dict[str, float]
    taken: list[FitTakenDocument] = Field(default_factory=list)
