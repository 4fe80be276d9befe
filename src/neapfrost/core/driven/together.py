"""Several driven laps together: the usual figure and its spread, and the lap that was possible."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.laps import DrivenLog
from neapfrost.core.driven.losses import CornerLoss
from neapfrost.core.driven.measures import DrivenCorner
from neapfrost.core.lap.record import Lap

#: The median's standard deviation is so many times that of the mean, of normal figures.
MIDDLE_SD = 1.4826


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

    `time_s` is from where the predicted lap lifts for it to where it lifts for the next one;
    `gears` maps each gear to the laps in it. `lost_s` is the median's loss against the prediction.
    """

    name: str
    time_s: Range
    lost_s: float
    min_speed_ms: Range
    brake_start_to_corner_m: Range | None
    exit_speed_ms: Range
    full_throttle_at_m: Range | None
    gears: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class LapsTogether:
    """Some laps together: their times, and the best corners and sectors joined [s].

    `possible_s` is the lap of the best corners; `sectors_s` each sector's best, `best_sectors_s`
    their sum. Joined corners are not quite drivable: one's exit is the next one's entry.
    """

    lap_s: Range
    possible_s: float
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
    laps: Sequence[DrivenLog],
    corners: Sequence[Sequence[DrivenCorner]],
    losses: Sequence[Sequence[CornerLoss]],
    predicted: Lap,
) -> LapsTogether:
    """At least two laps of one path together; each with its corners and its losses."""
    times = [lap.lap_time_s for lap in laps]
    lost = np.array([[loss.all_s for loss in row] for row in losses]).reshape(len(laps), -1)
    found = [_corner(index, corners, lost) for index in range(lost.shape[1])]
    best_of = tuple(int(np.argmin(lost[:, index])) for index in range(lost.shape[1]))
    possible = predicted.lap_time_s + float(lost.min(axis=0).sum()) if len(found) else min(times)
    lines = (0.0, *predicted.path.sectors_at_m, predicted.path.length_m)
    by_sector = np.array([sector_times(lap, np.array(lines)) for lap in laps])
    sectors = tuple(_sure(by_sector[:, n].tolist()) for n in range(len(lines) - 1))
    return LapsTogether(
        lap_s=_sure(times),
        possible_s=possible,
        best_of=best_of,
        sectors_s=sectors if len(sectors) > 1 else (),
        best_sectors_s=sum(one.best for one in sectors) if len(sectors) > 1 else None,
        corners=tuple(found),
    )


def sector_times(lap: DrivenLog, lines_m: Floats) -> Floats:
    """A lap's time between lines across the path [s]; the first is the start, the last the end."""
    inner = lap.time_at(lines_m[1:-1])
    found: Floats = np.diff(np.concatenate(([0.0], inner, [lap.lap_time_s])))
    return found


def _corner(index: int, corners: Sequence[Sequence[DrivenCorner]], lost: Floats) -> CornerTogether:
    here = [row[index] for row in corners]
    gears = [one.gear for one in here if one.gear is not None]
    return CornerTogether(
        name=here[0].name,
        time_s=_sure(lost[:, index].tolist()),
        lost_s=float(np.median(lost[:, index])),
        min_speed_ms=_sure([one.min_speed_ms for one in here], "most"),
        brake_start_to_corner_m=ranged([one.brake_start_to_corner_m for one in here]),
        exit_speed_ms=_sure([one.exit_speed_ms for one in here], "most"),
        full_throttle_at_m=ranged([one.full_throttle_at_m for one in here]),
        gears=tuple((gear, gears.count(gear)) for gear in sorted(set(gears))),
    )


def _sure(values: Sequence[float], best: str = "least") -> Range:
    found = ranged(values, best)
    assert found is not None  # two laps at least, as whoever asks has made sure
    return found
