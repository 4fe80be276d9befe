"""How many laps a race has: by count, by distance, by the clock, whichever is over first."""

import math
from collections.abc import Callable
from dataclasses import dataclass

#: A race longer than this is not looked at.
LAPS_MOST = 2_000


@dataclass(frozen=True)
class Distance:
    """What ends a race: laps, metres, seconds; None where it does not count."""

    laps: int | None = None
    distance_m: float | None = None
    time_s: float | None = None


@dataclass(frozen=True)
class RaceLaps:
    """Laps to drive, what ended them, and the total time of them [s].

    For a race by the clock, `spare_s` is how long before the end the last lap was begun, and
    `faster_s` by how much every lap would have to be quicker for one lap more [s].
    """

    laps: int
    ended_by: str
    total_s: float
    spare_s: float | None = None
    faster_s: float | None = None


def laps_of_distance(distance_m: float, lap_m: float) -> int:
    """Whole laps that cover at least a distance; a hair's breadth is no lap."""
    return max(1, math.ceil(distance_m / lap_m - 1e-9))


def race_laps(
    distance: Distance, lap_m: float, total_s: Callable[[int], float], at_most: int = LAPS_MOST
) -> RaceLaps:
    """The laps of a race, whichever of its ends comes first, and no more than some.

    `total_s` is the time of a race of so many laps [s] and rises with them. By the clock the last
    lap is the first that ends at or after the time: one begun before the end is driven to it.
    Raises ValueError where nothing ends the race.
    """
    counts = [
        (distance.laps, "laps"),
        (
            None if distance.distance_m is None else laps_of_distance(distance.distance_m, lap_m),
            "distance",
        ),
    ]
    known = [(count, by) for count, by in counts if count is not None]
    if not known and distance.time_s is None:
        raise ValueError("nothing ends the race: laps, a distance or a time is expected")
    most, by = min(known) if known else (at_most, "time")
    if distance.time_s is None:
        return RaceLaps(most, by, total_s(most))
    first = laps_by_the_clock(distance.time_s, total_s, most)
    if first is None:
        return RaceLaps(most, by, total_s(most))
    before = total_s(first - 1) if first > 1 else 0.0
    spare = distance.time_s - before
    total = total_s(first)
    # One lap more is begun where this one ends before the time.
    faster = (total - distance.time_s) / first
    return RaceLaps(first, "time", total, spare, faster)


def laps_by_the_clock(time_s: float, total_s: Callable[[int], float], most: int) -> int | None:
    """The fewest laps that take at least so long; None where `most` of them do not.

    Laps are nearly alike, so that each guess is as far off as the time is by its mean lap.
    """
    whole = total_s(most)
    if whole < time_s:
        return None
    low, high, mean = 0, most, whole / most
    guess, total = most, whole
    while high - low > 1:
        guess += math.ceil((time_s - total) / mean)
        if not low < guess < high:
            guess = low + 1 if guess <= low else high - 1
        total = total_s(guess)
        if total >= time_s:
            high = guess
        else:
            low = guess
    return high
