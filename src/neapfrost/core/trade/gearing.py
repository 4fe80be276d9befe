"""Gears for a course: how a set of ratios is told by three figures, and how the best is looked for.

Ratios fall from first to top gear; how much closer they lie at the top is one figure more. With n
gears, r_k = r_1·(r_n/r_1)^(x + (1 - x)·x·q), x = (k - 1)/(n - 1): q = 0 is a geometric series,
q > 0 has the larger steps below, as gearboxes do.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.facts import idle_gears

PROGRESSION_MOST = 0.9
#: Rounds over the three figures, and how many values of one are tried at once.
SERIES_ROUNDS, SERIES_AT_ONCE = 4, 5


@dataclass(frozen=True)
class Series:
    """A series of ratios: first gear, top gear, and how much the steps shrink."""

    first: float
    top: float
    progression: float


def ratios_of(series: Series, count: int) -> tuple[float, ...]:
    """The ratios of a series, falling; a single gear is the top one."""
    if count == 1:
        return (series.top,)
    x = np.linspace(0.0, 1.0, count)
    shape = x + (1.0 - x) * x * series.progression
    return tuple((series.first * (series.top / series.first) ** shape).tolist())


def series_like(ratios: Sequence[float]) -> Series:
    """The series nearest to some ratios: their ends, and the progression by least squares."""
    if len(ratios) < 3:
        return Series(ratios[0], ratios[-1], 0.0)
    x = np.linspace(0.0, 1.0, len(ratios))
    share = np.log(np.array(ratios) / ratios[0]) / np.log(ratios[-1] / ratios[0])
    bump = (1.0 - x) * x
    q = float((bump * (share - x)).sum() / (bump * bump).sum())
    return Series(ratios[0], ratios[-1], min(max(q, -PROGRESSION_MOST), PROGRESSION_MOST))


@dataclass(frozen=True)
class Bounds:
    """Between which series a proposal is looked for: lowest and highest of each figure."""

    first: tuple[float, float]
    top: tuple[float, float]
    progression: tuple[float, float] = (-PROGRESSION_MOST, PROGRESSION_MOST)


def best_series(
    begin: Series,
    bounds: Bounds,
    lap_times_s: Callable[[Sequence[Series]], Sequence[float]],
) -> Series:
    """The series of least lap time, one figure after the other on ever finer grids.

    `lap_times_s` drives many at once; not a number, or infinity, where no lap is possible.
    """
    best, best_s = begin, float(lap_times_s([begin])[0])
    width = 1.0
    for _ in range(SERIES_ROUNDS):
        for name in ("top", "progression", "first"):
            low, high = getattr(bounds, name)
            reach = 0.5 * width * (high - low)
            middle = getattr(best, name)
            values = np.clip(np.linspace(middle - reach, middle + reach, SERIES_AT_ONCE), low, high)
            tried = [
                Series(**{**vars(best), name: float(value)}) for value in dict.fromkeys(values)
            ]
            tried = [one for one in tried if one.first > one.top]
            times = lap_times_s(tried)
            for one, time_s in zip(tried, times, strict=True):
                if time_s < best_s:
                    best, best_s = one, float(time_s)
        width *= 0.5
    return best


@dataclass(frozen=True)
class GearsUsed:
    """How a lap uses its gears.

    `shifts_in_corners` are the corners (from 0) in which a gear is taken upwards while the vehicle
    still turns; `top_rpm_share` the engine's speed at the top speed over its limit; `idle` gears
    (from 1) that are never used; `corners` for each gear (from 1) the corners it is slowest in.
    """

    shifts_in_corners: tuple[int, ...]
    top_rpm_share: float
    idle: tuple[int, ...]
    corners: dict[int, tuple[int, ...]]


def gears_used(driven: DrivenLap) -> GearsUsed:
    """Gears of a lap: where they are changed in corners, and which corner is driven in which."""
    lap = driven.lap
    path, gearbox = lap.path, lap.drive.vehicle.gearbox
    up = np.flatnonzero(np.diff(lap.gear) > 0) + 1
    places: Floats = lap.s_m[up]
    inside = []
    for number, (corner, result) in enumerate(zip(path.corners, driven.corners, strict=True)):
        since: Floats = path.ring.fold(places - corner.begins_at_m)
        length = corner.ends_at_m - corner.begins_at_m
        slowest = float(path.ring.ahead(corner.begins_at_m, result.min_speed_at_m))
        if np.any((since > min(slowest, length)) & (since < length - 1e-6) & (since >= 0.0)):
            inside.append(number)
    fastest = int(np.argmax(lap.v_ms))
    by_gear: dict[int, list[int]] = {}
    for number, result in enumerate(driven.corners):
        by_gear.setdefault(result.gear, []).append(number)
    return GearsUsed(
        shifts_in_corners=tuple(inside),
        top_rpm_share=float(lap.rpm[fastest]) / lap.drive.vehicle.engine.rev_limit_rpm,
        idle=idle_gears(lap, driven.corners, len(gearbox.ratios)),
        corners={gear: tuple(numbers) for gear, numbers in sorted(by_gear.items())},
    )
