"""Logger's files being looked at: read elsewhere, shown with their columns and laps, then kept.

Nothing of a file is kept before it is accepted.
"""

import threading
import uuid
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel, ConfigDict

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import Log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.solve import never
from neapfrost.formats.document import Key
from neapfrost.formats.logs.channels import LABELS, UNITS, Channel, LogLayout
from neapfrost.formats.logs.log_file import LogFile, look_at_file
from neapfrost.formats.logs.recognise import KIND_NAMES
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import RunColumnDocument, RunLapDocument
from neapfrost.services.logbook.channels import (
    ChannelFound,
    UnitDoubt,
    channels_found,
    unit_doubts,
)
from neapfrost.services.logbook.measured import (
    STEPS,
    Tell,
    kind_of,
    laid,
    layout_with,
    read_looked_at,
)
from neapfrost.services.readers import InReaders, InThisProcess, Watches
from neapfrost.services.words.logbook import describe_doubt, describe_reading

#: Files looked at that are remembered, and points of a strip.
REMEMBERED = 12
STRIP_POINTS = 240
#: A file of 50 MB takes as long and as much as this at the most.
SECONDS_MOST, MEMORY_MOST_BYTES = 90.0, 2 * 2**30
#: Roles without which no lap is found.
NEEDED: tuple[Channel, ...] = ("time", "speed")


def load_for_logs() -> None:
    """What the first log would load."""
    import polars  # noqa: F401 -- loaded for its own sake
    import pymap3d  # noqa: F401 -- loaded for its own sake


def log_readers() -> InReaders:
    """Processes that logs are read in."""
    return InReaders(load_for_logs, SECONDS_MOST, MEMORY_MOST_BYTES)


class Strip(BaseModel):
    """A channel in small: its values along the file, in the unit that it is logged in."""

    role: str
    label: str
    unit: str
    values: list[float]


class ChannelChoice(BaseModel):
    """What may be chosen for a channel; `needed` says that no lap is found without it."""

    role: str
    label: str
    units: list[str]
    needed: bool


class ReadingProgress(BaseModel):
    """How far a file is: which step of how many is being done, and its name."""

    step: int
    steps: int
    doing: str


class LogPreview(BaseModel):
    """A file as it was understood: its columns, strips and laps; `faults` say why there are none.

    `channels` are all that the file holds, `doubts` those that are probably in another unit.
    `file_kind` is what the file is; `header` names its columns, `first` their first samples; a
    track (GPX) has none. `columns` is where each channel was taken from. `remembered` says that it
    was so chosen before.
    `doubt` asks whether the file is of this circuit at all; it is kept once somebody is certain.
    """

    id: str
    name: str
    kind: str | None
    file_kind: str
    header: list[str]
    first: list[list[str]]
    choices: list[ChannelChoice]
    columns: dict[str, RunColumnDocument]
    remembered: bool
    strips: list[Strip]
    channels: list[ChannelFound]
    doubts: list[UnitDoubt]
    samples: int
    rate_hz: float
    lasts_s: float
    laps: list[RunLapDocument]
    best_s: float | None
    about: dict[str, str]
    alike: float
    misfit_m: float
    doubt: str | None
    faults: list[str]
    said: list[str]


class ReadingChoice(BaseModel):
    """Columns chosen by hand for a file's channels."""

    model_config = ConfigDict(extra="forbid")

    columns: dict[Key, RunColumnDocument]


@dataclass(frozen=True, eq=False)
class GivenFile:
    """A file as it came, for a plan; `file_kind` is what it came as, where that is known."""

    plan_id: int
    plan: PlanDocument
    name: str
    data: bytes
    file_kind: str | None = None


@dataclass(frozen=True, eq=False)
class HeldFile:
    """What is kept of a file, and what was made of it."""

    plan_id: int
    data: bytes
    preview: LogPreview


#: Columns that were chosen by hand, by the kind of file.
Remembered = dict[str, dict[str, RunColumnDocument]]


@dataclass(frozen=True, eq=False)
class Looked:
    """A file as it was understood, and what is kept of it: text as it came, else a table."""

    preview: LogPreview
    kept: bytes


class Readings:
    """The files being looked at, in memory alone."""

    def __init__(self, reader: InThisProcess | InReaders | None = None) -> None:
        self._reader = reader or InThisProcess()
        self._lock = threading.Lock()
        self._held: dict[str, HeldFile] = {}
        self._watches = Watches()

    def look(
        self,
        file: GivenFile,
        remembered: Remembered,
        watch: str | None = None,
        gone: Callable[[], bool] = never,
    ) -> LogPreview:
        """Read a new file; the columns that were chosen for its kind are taken again."""
        return self._look(uuid.uuid4().hex, file, remembered, None, watch, gone)

    def again(
        self,
        reading_id: str,
        plan: PlanDocument,
        choice: ReadingChoice,
        watch: str | None = None,
        gone: Callable[[], bool] = never,
    ) -> LogPreview:
        """Read a file once more with other columns. Raises InputRefused."""
        held = self.known(reading_id)
        file = GivenFile(held.plan_id, plan, held.preview.name, held.data, held.preview.file_kind)
        return self._look(reading_id, file, {}, choice.columns, watch, gone)

    def known(self, reading_id: str) -> HeldFile:
        """A file that is being looked at. Raises InputRefused where it is not any more."""
        with self._lock:
            if reading_id not in self._held:
                raise InputRefused(
                    [Fault("reading", "this file is no longer in memory; choose it again")]
                )
            return self._held[reading_id]

    def forget(self, reading_id: str) -> None:
        """Let go of a file."""
        with self._lock:
            self._held.pop(reading_id, None)

    def progress(self, watch: str) -> ReadingProgress:
        """How far a file is that is watched under a name; the first step before it begins."""
        step = self._watches.step(watch)
        return ReadingProgress(step=step, steps=len(STEPS), doing=STEPS[step])

    def stop(self, watch: str) -> None:
        """Stop a file on its way: at once in a process of its own, else at its next step."""
        self._watches.stop(watch)

    def close(self) -> None:
        """End whatever reads files elsewhere."""
        self._reader.stop()

    def _look(
        self,
        reading_id: str,
        file: GivenFile,
        remembered: Remembered,
        columns: dict[str, RunColumnDocument] | None,
        watch: str | None,
        gone: Callable[[], bool],
    ) -> LogPreview:
        with self._watches.watching(watch) as watched:
            looked: Looked = self._reader.run(
                look_and_measure,
                file.plan.model_dump_json(),
                file.name,
                file.data,
                remembered,
                columns,
                tell=watched.tell,
                wanted=lambda: not (watched.stop.is_set() or gone()),
            )
        told = {"id": reading_id, "file_kind": file.file_kind or looked.preview.file_kind}
        preview = looked.preview.model_copy(update=told)
        with self._lock:
            self._held.pop(reading_id, None)
            while len(self._held) >= REMEMBERED:
                self._held.pop(next(iter(self._held)))
            self._held[reading_id] = HeldFile(file.plan_id, looked.kept, preview)
        return preview


def look_and_measure(
    plan_json: str,
    name: str,
    data: bytes,
    remembered: Remembered,
    columns: dict[str, RunColumnDocument] | None,
    tell: Tell,
) -> Looked:
    """What a file is, and its laps where they can be found.

    Raises InputRefused for a file that is no log at all; what is wrong with its columns or its laps
    is told in the preview, where columns can be chosen.
    """
    try:
        tell(0)
        file = look_at_file(data)
        known = None
        if file.layout is not None and columns is None:
            known = remembered.get(kind_of(file.layout))
        preview = _looked(plan_json, name, file, known if columns is None else columns, tell)
        return Looked(preview.model_copy(update={"remembered": known is not None}), file.kept)
    except InputRefused:
        raise
    except (ArithmeticError, LookupError, RuntimeError, TypeError, ValueError):
        # A file from outside may hold what nobody thought of; whoever sent it gets a sentence.
        said = "this file is not a log; samples of one run, in order, are expected"
        raise InputRefused([Fault("", said)]) from None


def _looked(
    plan_json: str,
    name: str,
    file: LogFile,
    columns: dict[str, RunColumnDocument] | None,
    tell: Tell,
) -> LogPreview:
    layout = None if file.layout is None else layout_with(file.layout, columns)
    preview = _empty(name, layout, file)
    if layout is not None:
        found = channels_found(file, layout, "by its name" if columns is None else "as chosen")
        preview = preview.model_copy(update={"channels": found})
    try:
        read = read_looked_at(file, columns)
    except InputRefused as refused:
        if layout is None:
            raise
        return preview.model_copy(update={"faults": [str(fault) for fault in refused.faults]})
    t = read.log.t_s
    preview = preview.model_copy(
        update={
            "strips": _strips(read.log, layout),
            "doubts": [] if layout is None else unit_doubts(read.log, layout),
            "samples": len(t),
            "rate_hz": 1.0 / float(np.median(np.diff(t))),
            "lasts_s": float(t[-1] - t[0]),
            "about": read.about,
        }
    )
    try:
        run = laid(read.log, PlanDocument.model_validate_json(plan_json), tell)
    except InputRefused as refused:
        return preview.model_copy(update={"faults": [str(fault) for fault in refused.faults]})
    times = [lap.lap_time_s for lap in run.laps if lap.kind == "timed" and lap.lap_time_s]
    # Whichever way positions are written, they are told once.
    missing = [
        LABELS[role].lower()
        for role in LABELS
        if role not in ("x", "y") and not _has(read.log, role)
    ]
    return preview.model_copy(
        update={
            "laps": list(run.laps),
            "best_s": min(times, default=None),
            "alike": round(run.aligned.alike, 4),
            "misfit_m": round(run.aligned.misfit_m, 3),
            "doubt": describe_doubt(run.aligned),
            "said": [
                *file.said,
                *describe_reading(
                    times, len(run.laps), missing, run.aligned.scale, run.aligned.mirrored
                ),
            ],
        }
    )


def _empty(name: str, layout: LogLayout | None, file: LogFile) -> LogPreview:
    chosen = {} if layout is None else layout.columns
    return LogPreview(
        id="",
        name=name,
        kind=None if layout is None else kind_of(layout),
        file_kind=KIND_NAMES[file.kind],
        header=[] if layout is None else list(layout.header),
        first=file.first,
        choices=[]
        if layout is None
        else [
            ChannelChoice(role=role, label=label, units=list(UNITS[role]), needed=role in NEEDED)
            for role, label in LABELS.items()
        ],
        columns={
            role: RunColumnDocument(number=column.number, unit=column.unit)
            for role, column in chosen.items()
        },
        remembered=False,
        strips=[],
        channels=[],
        doubts=[],
        samples=0,
        rate_hz=0.0,
        lasts_s=0.0,
        laps=[],
        best_s=None,
        about={},
        alike=0.0,
        misfit_m=0.0,
        doubt=None,
        faults=[],
        said=list(file.said),
    )


#: Which field of a log each channel is in.
FIELDS: dict[Channel, str] = {
    "speed": "v_ms",
    "lat": "north_m",
    "lon": "east_m",
    "x": "east_m",
    "y": "north_m",
    "lateral": "ay_ms2",
    "along": "ax_ms2",
    "rpm": "rpm",
    "gear": "gear",
    "throttle": "throttle",
    "brake": "brake",
}


#: Channels that are positions.
PLACES = ("lat", "lon", "x", "y")


def _has(log: Log, role: Channel) -> bool:
    return role == "time" or getattr(log, FIELDS[role]) is not None


def _strips(log: Log, layout: LogLayout | None) -> list[Strip]:
    """Each channel at some moments, evenly along the file."""
    index = np.unique(np.linspace(0, len(log.t_s) - 1, STRIP_POINTS).astype(np.int64))
    strips = []
    for role, name in FIELDS.items():
        values: Floats | None = getattr(log, name)
        in_metres = layout is not None and role in layout.columns
        if values is None or (role in ("x", "y") and not in_metres):
            continue
        unit = "m/s" if layout is None or role not in layout.columns else layout.columns[role].unit
        factor = UNITS[role].get(unit, 1.0) if role not in PLACES and role != "brake" else 1.0
        shown = np.nan_to_num(values[index] / factor)
        told = "m" if role in PLACES else "of the hardest" if role == "brake" else unit
        strips.append(
            Strip(role=role, label=LABELS[role], unit=told, values=np.round(shown, 3).tolist())
        )
    return strips
