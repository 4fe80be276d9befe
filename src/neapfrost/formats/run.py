"""The run document: laps as they were driven, on what, and the log they were found in."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.formats.document import Document, Name
from neapfrost.formats.result import Revisions
from neapfrost.formats.weather import Moment

RUN_FORMAT: Literal["neapfrost/run"] = "neapfrost/run"
RUN_VERSION: Literal[1] = 1
LAPS_MOST = 2_000


class RunLapDocument(Document):
    """A lap of a run; one from line to line has a time.

    `begins_s` and `ends_s` are in the log.
    """

    number: Annotated[int, Field(ge=1, le=LAPS_MOST)]
    kind: Literal["timed", "slow", "stop", "out", "in"]
    begins_s: float
    ends_s: float
    lap_time_s: Annotated[float, Field(gt=0, le=36_000)] | None = None


class RunColumnDocument(Document):
    """Which column of the log a channel is in, from 0, and its unit."""

    number: Annotated[int, Field(ge=0, le=1_000)]
    unit: Annotated[str, Field(max_length=20)]


class RunDocument(Document):
    """A run: what it was driven on, its laps, and the log it was read from, by its content's hash.

    `simulated` says that no vehicle drove it. `alike` and `misfit_m` tell how well the log was laid
    along the circuit.
    """

    format: Literal["neapfrost/run"]
    version: Literal[1]
    name: Name
    made_at: Moment
    plan: Name = ""
    car: Name = ""
    setup: Name | None = None
    circuit: Name = ""
    conditions: Name = ""
    revisions: Revisions = Field(default_factory=Revisions)
    simulated: bool = False
    log: Annotated[str, Field(max_length=64)] | None = None
    columns: dict[Annotated[str, Field(max_length=20)], RunColumnDocument] = Field(
        default_factory=dict
    )
    about: dict[Annotated[str, Field(max_length=200)], Annotated[str, Field(max_length=500)]] = (
        Field(default_factory=dict)
    )
    alike: float = 0.0
    misfit_m: float = 0.0
    laps: Annotated[list[RunLapDocument], Field(max_length=LAPS_MOST)] = Field(default_factory=list)
    remarks: Annotated[str, Field(max_length=4000)] = ""
