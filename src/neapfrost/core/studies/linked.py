"""Corners with no full throttle between them are one: which part counts, and what to trade."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.studies.stretch import points_between
from neapfrost.core.studies.worth import Worth

#: Full throttle for less than this is no stretch of its own [s].
STRETCH_SHORTEST_S = 0.5


@dataclass(frozen=True)
class Trade:
    """Two corners of a complex: a metre of driven radius given in the first, taken in the second.

    `first_s`, `second_s` are seconds of lap for each metre of driven radius; `break_even` how many
    metres the second must gain for each that the first gives. None where a corner has no price.
    """

    first: int
    second: int
    first_s: float | None
    second_s: float | None
    break_even: float | None


@dataclass(frozen=True)
class Complex:
    """Corners (0 is the first) that are one: its tightest part, where the throttle belongs.

    `throttle_m` is where the speed rises for good, after the corner `throttle_corner`.
    """

    corners: tuple[int, ...]
    tightest: int
    throttle_corner: int
    throttle_m: float | None
    trades: tuple[Trade, ...]


def complexes(driven: DrivenLap, worth: Sequence[Worth]) -> tuple[Complex, ...]:
    """Every run of corners without a full-throttle stretch between; flat corners belong to none."""
    count = len(driven.corners)
    held = [corner.action != "flat" for corner in driven.corners]
    joined = [
        held[n]
        and held[(n + 1) % count]
        and (driven.lap.path.closed or n + 1 < count)
        and count > 1
        and _full_s(driven, n, (n + 1) % count) < STRETCH_SHORTEST_S
        for n in range(count)
    ]
    if count == 0 or all(joined):
        return ()
    runs: list[list[int]] = []
    first = next((n for n in range(count) if not joined[n - 1]), 0)
    run = [first]
    for offset in range(count):
        number = (first + offset) % count
        if joined[number]:
            run.append((number + 1) % count)
        else:
            if len(run) > 1:
                runs.append(run)
            run = [(number + 1) % count]
    return tuple(_complex(driven, run, worth) for run in runs)


def _full_s(driven: DrivenLap, one: int, other: int) -> float:
    """Time on full throttle between the slowest points of two corners [s]."""
    lap = driven.lap
    start = driven.corners[one].min_speed_at_m
    ahead = lap.path.ring.ahead(start, driven.corners[other].min_speed_at_m)
    points = points_between(driven, start, start + ahead)
    points = points[points < len(lap.t_s) - 1]
    duration = np.diff(lap.t_s)[points]
    free = (lap.on_full_throttle[points] > 0.0) & (lap.tyre_limited[points] == 0.0)
    return float(duration[free].sum())


def _complex(driven: DrivenLap, run: Sequence[int], worth: Sequence[Worth]) -> Complex:
    corners = driven.corners
    tightest = min(run, key=lambda n: corners[n].min_speed_ms)
    # The throttle is for good after the last corner that still holds it back.
    throttle = run[-1]
    trades = tuple(_trade(driven, one, other, worth) for one, other in itertools.pairwise(run))
    return Complex(tuple(run), tightest, throttle, corners[throttle].throttle_at_m, trades)


def _trade(driven: DrivenLap, one: int, other: int, worth: Sequence[Worth]) -> Trade:
    first, second = (_per_radius_s(driven, number, worth[number]) for number in (one, other))
    even = first / second if first is not None and second is not None and second > 0.0 else None
    return Trade(one, other, first, second, even)


def _per_radius_s(driven: DrivenLap, number: int, worth: Worth) -> float | None:
    """Seconds of lap for each metre of driven radius: v grows as its root, dv/dR = v/(2R).

    With R = v²/a_y of the slowest point; with downforce the speed grows somewhat faster.
    """
    corner = driven.corners[number]
    if worth.per_min_speed_s is None or corner.lateral_g <= 0.0:
        return None
    radius = corner.min_speed_ms**2 / (corner.lateral_g * STANDARD_GRAVITY_MS2)
    return worth.per_min_speed_s * corner.min_speed_ms / (2.0 * radius)
