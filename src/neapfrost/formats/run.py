"""The run document: laps as they were driven, on what, and the log they were found in."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.formats.document import Document, Name
from neapfrost.formats.result import Revisions
from neapfrost.formats.weather import Moment

RUN_FORMAT: Literal["neapfrost/run"] = "neapfrost/run"
RUN_VERSION: Literal[1] = 1
LAPS_MOST = 2_000

LapKind = Literal["timed", "slow", "stop", "out", "in", "traffic", "void"]
Fault = Literal[
    "braked_early",
    "braked_late",
    "turned_in_early",
    "over_slowed",
    "ran_wide",
    "neither_pedal",
    "missed_shift",
    "wrong_reference",
]
Remark = Annotated[str, Field(max_length=500)]
Speed = Annotated[float, Field(ge=0, le=200)]
Gear = Annotated[int, Field(ge=1, le=16)]
Fuel = Annotated[float, Field(ge=0, le=1_000)]


class RunLossDocument(Document):
    """Time driven less time predicted at a corner [s], in the parts of the way through it."""

    braking_s: float
    entry_s: float
    middle_s: float
    exit_s: float
    straight_s: float


class RunCornerDocument(Document):
    """A corner of a lap as it was measured in the log; null where a figure has no meaning."""

    name: Name
    action: Literal["flat", "lift", "brake"]
    brake_start_to_corner_m: float | None = None
    braking_distance_m: float | None = None
    peak_decel_g: float | None = None
    min_speed_ms: float
    min_speed_at_m: float
    gear: int | None = None
    full_throttle_at_m: float | None = None
    exit_speed_ms: float
    neither_s: float | None = None
    loss: RunLossDocument


class RunLapDocument(Document):
    """A lap of a run; one from line to line has a time.

    `begins_s` and `ends_s` are in the log. A lap in traffic or void was marked so by hand.
    """

    number: Annotated[int, Field(ge=1, le=LAPS_MOST)]
    kind: LapKind
    begins_s: float | None = None
    ends_s: float | None = None
    lap_time_s: Annotated[float, Field(gt=0, le=36_000)] | None = None
    sectors_s: Annotated[list[float], Field(max_length=51)] = Field(default_factory=list)
    corners: Annotated[list[RunCornerDocument], Field(max_length=500)] = Field(default_factory=list)


class RunColumnDocument(Document):
    """Which column of the log a channel is in, from 0, and its unit."""

    number: Annotated[int, Field(ge=0, le=1_000)]
    unit: Annotated[str, Field(max_length=20)]


class SeenDocument(Document):
    """What was seen at a corner, by whoever drove or stood there; all of it may be left out.

    `braking_said` is the braking point as it was said, `brake_start_to_corner_m` what that comes to
    by the circuit's boards. `lap` null: on most laps.
    """

    corner: Name
    lap: Annotated[int, Field(ge=1, le=LAPS_MOST)] | None = None
    min_speed_ms: Speed | None = None
    braking_said: Annotated[str, Field(max_length=120)] = ""
    brake_start_to_corner_m: Annotated[float, Field(ge=-500, le=5_000)] | None = None
    gear: Gear | None = None
    fault: Fault | None = None
    remark: Remark = ""


class TyresDocument(Document):
    """The set of tyres of a run, and the laps on it before the run."""

    set: Annotated[str, Field(max_length=80)] = ""
    laps_before: Annotated[int, Field(ge=0, le=2_000)] | None = None


class RunDocument(Document):
    """A run: what it was driven on, its laps, and the log it was read from, by its content's hash.

    `simulated` says that no vehicle drove it. `alike` and `misfit_m` tell how well the log was laid
    along the circuit. `record` holds what was otherwise than in the setup of what the model does
    not compute (bars, pressures …); `typed` the laps as they were typed, whatever was understood.
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
    driver: Annotated[str, Field(max_length=120)] = ""
    revisions: Revisions = Field(default_factory=Revisions)
    tyres: TyresDocument = Field(default_factory=TyresDocument)
    fuel_out_kg: Fuel | None = None
    fuel_in_kg: Fuel | None = None
    record: dict[Annotated[str, Field(max_length=80)], Annotated[str, Field(max_length=200)]] = (
        Field(default_factory=dict)
    )
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
    typed: Annotated[str, Field(max_length=60_000)] = ""
    seen: Annotated[list[SeenDocument], Field(max_length=2_000)] = Field(default_factory=list)
    remarks: Annotated[str, Field(max_length=4000)] = ""
