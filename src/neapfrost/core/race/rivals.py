"""One stop against another's: who comes out ahead, by the laps on old and on new tyres."""

from collections.abc import Callable
from dataclasses import dataclass

#: The time of a lap [s] by the laps driven, and the age of the tyres.
LapTime = Callable[[int, int], float]


@dataclass(frozen=True)
class Stopping:
    """A car that stops once: after lap `stop`, its time there [s], tyre ages now and as fitted."""

    stop: int
    stop_s: float
    age: int
    old_s: LapTime
    new_s: LapTime
    new_age: int = 0


def race_time_s(car: Stopping, first: int, laps: int) -> float:
    """Time from lap `first` (laps driven) over so many laps, its stop included [s]."""
    total = 0.0
    for lap in range(first, first + laps):
        if lap < car.stop:
            total += car.old_s(lap, car.age + lap - first)
        else:
            total += car.new_s(lap, car.new_age + lap - car.stop)
        if lap + 1 == car.stop:
            total += car.stop_s
    return total


def gap_after_s(own: Stopping, rival: Stopping, first: int, laps: int, gap_s: float) -> float:
    """How far one is ahead after so many laps [s], from a gap now (ahead is positive)."""
    return gap_s + race_time_s(rival, first, laps) - race_time_s(own, first, laps)
