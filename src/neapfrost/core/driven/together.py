"""Several driven laps together: the usual figure and its spread, and the lap that was possible."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.chance import MIDDLE_SD
from neapfrost.core.driven.laps import DrivenLog


@dataclass(frozen=True)
class CornerOfLap:
    """A corner of one lap as it was measured, and what it lost [s]; None where not known."""

    name: str
    lost_s: float
    min_speed_ms: float
    brake_start_to_corner_m: float | None
    exit_speed_ms: float
    full_throttle_at_m: float | None
    neither_s: float | None
    gear: int | None


@dataclass(frozen=True)
class MeasuredLap:
    """A lap as it was measured: its sectors [s] and its corners."""

    sectors_s: tuple[float, ...]
    corners: tuple[CornerOfLap, ...]


@dataclass(frozen=True)
class Range:
    """A figure over some laps: best, median, scatter (robust standard deviation), and how many."""

    best: float
    median: float
    spread: float
    count: int


@dataclass(frozen=True)
class CornerTogether:
    """A corner over some laps; None where too few have the figure.

    `lost_s` is the loss against the prediction, from where it lifts for this corner to where it
    lifts for the next one; `gears` each gear with the laps in it.
    """

    name: str
    lost_s: Range
    min_speed_ms: Range
    brake_start_to_corner_m: Range | None
    exit_speed_ms: Range
    full_throttle_at_m: Range | None
    neither_s: Range | None
    gears: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class LapsTogether:
    """Some laps together: their times, and the best corners and sectors joined [s].

    `possible_s` is the lap of the best corners, each of the lap that `best_of` counts from 0. One
    corner's exit is the next one's entry, so that joined corners are not quite drivable.
    """

    lap_s: Range
    possible_s: float | None
    best_of: tuple[int, ...]
    sectors_s: tuple[Range, ...]
    best_sectors_s: float | None
    corners: tuple[CornerTogether, ...]


def ranged(values: Sequence[float | None], best: str = "least") -> Range | None:
    """A figure over laps, its best the least or the most; None with fewer than two."""
    known = np.array([value for value in values if value is not None], dtype=np.float64)
    if len(known) < 2:
        return None
    middle = float(np.median(known))
    spread = MIDDLE_SD * float(np.median(np.abs(known - middle)))
    top = known.min() if best == "least" else known.max()
    return Range(float(top), middle, spread, len(known))


def laps_together(
    times_s: Sequence[float], laps: Sequence[MeasuredLap], predicted_s: float
) -> LapsTogether:
    """Two lap times at least, and those laps of the same corners that were measured, if any."""
    count = len(laps[0].corners) if len(laps) > 1 else 0
    lost = np.array([[corner.lost_s for corner in lap.corners] for lap in laps if count > 0])
    lost = lost.reshape(len(lost), count)
    measured = count > 0
    lines = min((len(lap.sectors_s) for lap in laps), default=0)
    sectors = (
        tuple(_sure([lap.sectors_s[n] for lap in laps]) for n in range(lines))
        if len(laps) > 1
        else ()
    )
    return LapsTogether(
        lap_s=_sure(times_s),
        possible_s=predicted_s + float(lost.min(axis=0).sum()) if measured else None,
        best_of=tuple(int(n) for n in np.argmin(lost, axis=0)) if measured else (),
        sectors_s=sectors,
        best_sectors_s=sum(one.best for one in sectors) if len(sectors) > 1 else None,
        corners=tuple(_corner(index, laps) for index in range(count)) if measured else (),
    )


def sector_times(lap: DrivenLog, lines_m: Sequence[float]) -> Sequence[float]:
    """A lap's time between lines across the path [s]; the first is the start, the last the end."""
    inner = lap.time_at(np.array(lines_m[1:-1]))
    found: list[float] = np.diff(np.concatenate(([0.0], inner, [lap.lap_time_s]))).tolist()
    return found


def _corner(index: int, laps: Sequence[MeasuredLap]) -> CornerTogether:
    here = [lap.corners[index] for lap in laps]
    gears = [one.gear for one in here if one.gear is not None]
    return CornerTogether(
        name=here[0].name,
        lost_s=_sure([one.lost_s for one in here]),
        min_speed_ms=_sure([one.min_speed_ms for one in here], "most"),
        brake_start_to_corner_m=ranged([one.brake_start_to_corner_m for one in here]),
        exit_speed_ms=_sure([one.exit_speed_ms for one in here], "most"),
        full_throttle_at_m=ranged([one.full_throttle_at_m for one in here]),
        neither_s=ranged([one.neither_s for one in here]),
        gears=tuple((gear, gears.count(gear)) for gear in sorted(set(gears))),
    )


def _sure(values: Sequence[float], best: str = "least") -> Range:
    found = ranged(values, best)
    assert found is not None  # two laps at least, as whoever asks has made sure
    return found
