"""A logger's file understood: its channels, laid along a plan's circuit, its laps measured."""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import cast

from neapfrost.core.driven.alignment import Aligned, align
from neapfrost.core.driven.laps import LoggedLap, find_laps, lap_of_log
from neapfrost.core.driven.log import Log
from neapfrost.core.driven.losses import PARTS, CornerLoss, losses
from neapfrost.core.driven.measures import DrivenCorner, measure_corners
from neapfrost.core.driven.together import sector_times
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.channels import Channel, LogColumn, LogLayout
from neapfrost.formats.logs.log_file import LogFile, log_of_file, look_at_file
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import (
    RunColumnDocument,
    RunCornerDocument,
    RunLapDocument,
    RunLossDocument,
)
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall

#: What is done with a file, one after the other.
STEPS = ("reading the samples", "aligning them to the circuit", "measuring the laps")
Tell = Callable[[int], None]


@dataclass(frozen=True, eq=False)
class ReadFile:
    """A file's channels, and how they were found in it; `layout` is None for a track (GPX)."""

    log: Log
    layout: LogLayout | None
    about: dict[str, str]

    @property
    def columns(self) -> dict[str, RunColumnDocument]:
        """Columns of the channels; none of a track."""
        chosen = {} if self.layout is None else self.layout.columns
        return {
            role: RunColumnDocument(number=column.number, unit=column.unit)
            for role, column in chosen.items()
        }


@dataclass(frozen=True, eq=False)
class LaidRun:
    """A file laid along a plan's circuit, with its laps measured."""

    aligned: Aligned
    laps: tuple[RunLapDocument, ...]


def read_file(data: bytes, columns: dict[str, RunColumnDocument] | None = None) -> ReadFile:
    """The channels of a file, in the columns that are told where they are. Raises InputRefused."""
    return read_looked_at(look_at_file(data), columns)


def read_looked_at(file: LogFile, columns: dict[str, RunColumnDocument] | None) -> ReadFile:
    """The channels of a file that was looked at. Raises InputRefused."""
    layout = None if file.layout is None else layout_with(file.layout, columns)
    log, about = log_of_file(file, layout)
    return ReadFile(log, layout, about)


def layout_with(layout: LogLayout, columns: dict[str, RunColumnDocument] | None) -> LogLayout:
    """A layout with the channels where they are told to be."""
    if columns is None:
        return layout
    chosen = {
        cast(Channel, role): LogColumn(column.number, column.unit)
        for role, column in columns.items()
    }
    return replace(layout, columns=chosen)


def kind_of(layout: LogLayout) -> str:
    """What files with the same columns have in common, as a short name."""
    text = "\n".join((layout.separator, *layout.header))
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def laid(log: Log, plan: PlanDocument, tell: Tell) -> LaidRun:
    """A log's laps on a plan's circuit, measured. Raises InputRefused."""
    prediction = recall(plan, TRACE_POINTS)
    path = prediction.driven.lap.path
    tell(1)
    aligned = align(log, path)
    laps = find_laps(log, aligned, path.length_m, path.closed)
    if not any(lap.lap_time_s for lap in laps):
        raise InputRefused(
            [
                Fault(
                    "",
                    "no complete lap was found in this log; at least one is needed"
                    if path.closed
                    else "this log has no run from the start to the finish of this course",
                )
            ]
        )
    tell(2)
    return LaidRun(aligned, tuple(_lap(log, aligned, lap, prediction) for lap in laps))


def _lap(log: Log, aligned: Aligned, lap: LoggedLap, prediction: Prediction) -> RunLapDocument:
    path = prediction.driven.lap.path
    corners: list[RunCornerDocument] = []
    sectors: list[float] = []
    if lap.kind in ("timed", "slow"):
        driven = lap_of_log(log, aligned, lap, path.length_m)
        measured = measure_corners(driven, path)
        corners = corner_documents(measured, losses(driven, prediction.driven))
        if path.sectors_at_m:
            lines = [0.0, *path.sectors_at_m, path.length_m]
            sectors = [round(float(t), 4) for t in sector_times(driven, lines)]
    return RunLapDocument(
        number=lap.number,
        kind=lap.kind,
        begins_s=lap.begins_s,
        ends_s=lap.ends_s,
        lap_time_s=lap.lap_time_s,
        sectors_s=sectors,
        corners=corners,
    )


def corner_documents(
    measured: Sequence[DrivenCorner], lost: Sequence[CornerLoss]
) -> list[RunCornerDocument]:
    """Measured corners as they are kept."""
    return [_corner(corner, loss) for corner, loss in zip(measured, lost, strict=True)]


def _corner(corner: DrivenCorner, loss: CornerLoss) -> RunCornerDocument:
    parts = {f"{part}_s": round(getattr(loss, f"{part}_s"), 5) for part in PARTS}

    def short(value: float | None, decimals: int) -> float | None:
        return None if value is None else round(value, decimals)

    return RunCornerDocument(
        name=corner.name,
        action=corner.action,
        brake_start_to_corner_m=short(corner.brake_start_to_corner_m, 2),
        braking_distance_m=short(corner.braking_distance_m, 2),
        peak_decel_g=short(corner.peak_decel_g, 3),
        min_speed_ms=round(corner.min_speed_ms, 4),
        min_speed_at_m=round(corner.min_speed_at_m, 2),
        gear=corner.gear,
        full_throttle_at_m=short(corner.full_throttle_at_m, 2),
        exit_speed_ms=round(corner.exit_speed_ms, 4),
        neither_s=short(corner.neither_s, 3),
        loss=RunLossDocument(**parts),
    )
