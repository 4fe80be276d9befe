"""The fastest line with a guarantee: several searches in turn, each judged by the lap's own clock.

One search may end without having settled, on a road that another takes without trouble. They follow
each other until one has settled on a line that is quicker than every line known; if none does, the
quickest line of all is kept, and it is told that it may not be the fastest.
"""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.line.fastest import Fastest, Task, fastest_line
from neapfrost.core.line.shape import Shape
from neapfrost.core.line.solver import LineImpossible, Outcome, Progress, Strategy

#: The searches in their order, and the line that each begins on: one of those known, or the
#: quickest of all so far. The first is the quickest where it settles; where it does not, its line
#: is by this iteration still slower than the one it began on, and the second takes its place.
PLAN: tuple[tuple[Strategy, str], ...] = (
    (Strategy("adaptive", "quality-function", 60, promising_by=26), "widest"),
    (Strategy("steady", "monotone", 80), "widest"),
    (Strategy("steady", "monotone", 80), "centre"),
    (Strategy("adaptive", "quality-function", 70), "quickest"),
    (Strategy("quick", "loqo", 60), "centre"),
)
#: No search is begun after so much processor time, and none goes on longer [s]. By the clock on the
#: wall, a busy machine would find another line than an idle one.
SECONDS_MOST = 13.0
#: A search begins at this share of the speed that its line is driven at.
START_SHARE = 0.97
#: Lines whose lap times differ by less than this share are equally quick.
SAME_SHARE = 2e-4
#: A search that ended with its barrier below this was near the best, settled or not.
NEAR_BARRIER = 1e-6

#: The lap time on a line, and the speed at the road's nodes.
Clock = Callable[[Shape], tuple[float, Floats]]


class Ended(StrEnum):
    """How a search for the fastest line ended.

    Settled, which searches begun on different lines have as well that end equally quick; not
    settled, the best so far is kept; or a line known before is the quickest.
    """

    SETTLED = "settled"
    BEST_SO_FAR = "best_so_far"
    KNOWN_LINE = "known_line"


@dataclass(frozen=True)
class Attempt:
    """One search: its strategy, the line it began on, how it ended, its lap time [s] if any."""

    strategy: str
    begun_on: str
    outcome: Outcome | None
    lap_time_s: float | None


@dataclass(frozen=True, eq=False)
class Quickest:
    """The quickest line found, its lap time [s], how the search ended, and all that was tried."""

    shape: Shape
    lap_time_s: float
    ended: Ended
    attempts: tuple[Attempt, ...]


@dataclass(frozen=True, eq=False)
class _Judged:
    name: str
    shape: Shape
    lap_time_s: float
    v_ms: Floats


def quickest_line(
    task: Task,
    clock: Clock,
    known: Mapping[str, Shape],
    progress: Progress | None = None,
    seconds_most: float = SECONDS_MOST,
) -> Quickest:
    """The fastest line, never slower by the clock than any of the lines `known` by name.

    Raises LineImpossible where no line meets the wishes, and LapImpossible where no line known can
    be driven.
    """
    lines = _judged(known, clock)
    least_known = min(line.lap_time_s for line in lines.values())
    deadline = time.process_time() + seconds_most
    attempts: list[Attempt] = []
    for strategy, wanted in PLAN:
        best = min(lines.values(), key=lambda line: line.lap_time_s)
        left = deadline - time.process_time()
        if left <= 0.0:
            break
        begun = lines.get(wanted, best)
        bounded = replace(strategy, seconds_most=left, above=begun.lap_time_s)
        found = _attempt(task, begun, progress, bounded)
        driven = None if found is None else _driven("found", found.shape, clock)
        attempts.append(
            Attempt(
                strategy.name,
                begun.name,
                None if found is None else found.outcome,
                None if driven is None else driven.lap_time_s,
            )
        )
        if driven is None:
            continue
        if "found" not in lines or driven.lap_time_s < lines["found"].lap_time_s:
            lines["found"] = driven
        if _is_settled(attempts, min(line.lap_time_s for line in lines.values())):
            return _ended(lines, Ended.SETTLED, attempts)
    found_s = lines["found"].lap_time_s if "found" in lines else np.inf
    ended = Ended.BEST_SO_FAR if found_s < least_known else Ended.KNOWN_LINE
    return _ended(lines, ended, attempts)


def _is_settled(attempts: list[Attempt], best_s: float) -> bool:
    """Whether a search has settled on the best, or two begun on different lines have met there."""
    there = [
        attempt
        for attempt in attempts
        if attempt.lap_time_s is not None and attempt.lap_time_s <= (1.0 + SAME_SHARE) * best_s
    ]
    settled = any(one.outcome is not None and one.outcome.settled for one in there)
    near = {
        one.begun_on
        for one in there
        if one.outcome is not None and one.outcome.barrier <= NEAR_BARRIER
    }
    return settled or len(near - {"found"}) >= 2


def _ended(lines: dict[str, _Judged], ended: Ended, attempts: list[Attempt]) -> Quickest:
    best = min(lines.values(), key=lambda line: line.lap_time_s)
    return Quickest(best.shape, best.lap_time_s, ended, tuple(attempts))


def _judged(known: Mapping[str, Shape], clock: Clock) -> dict[str, _Judged]:
    """The lines that can be driven, by name. Raises LapImpossible where there is none."""
    lines, refused = {}, None
    for name, shape in known.items():
        try:
            lines[name] = _Judged(name, shape, *clock(shape))
        except LapImpossible as error:
            refused = error
    if not lines:
        raise refused or ValueError("no line is known")
    return lines


def _driven(name: str, shape: Shape, clock: Clock) -> _Judged | None:
    try:
        return _Judged(name, shape, *clock(shape))
    except LapImpossible:
        return None


def _attempt(
    task: Task, begun: _Judged, progress: Progress | None, strategy: Strategy
) -> Fastest | None:
    """One search; None where it found nothing that may be driven."""
    start = Fastest(begun.shape, START_SHARE * begun.v_ms)
    try:
        return fastest_line(task, start, progress, strategy)
    except LineImpossible:
        return None
