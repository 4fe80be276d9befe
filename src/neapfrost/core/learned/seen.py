"""What a run shows of the figures behind it: speeds held in corners, pulls and stops.

A speed held is the mean beside the place where the plan's lap is slowest: unlike a lowest sample it
is not drawn down by noise. A pull is a stretch in one gear with the throttle down, a stop a stretch
with the brakes on; each gives the acceleration that was really there, by the speeds at its ends.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from neapfrost.core.arrays import Flags, Floats, Integers
from neapfrost.core.driven.laps import DrivenLog
from neapfrost.core.driven.measures import BRAKED_FROM, FULL_FROM, measure_corners
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.drive import Drive

#: A speed is held from so far before the slowest place to so far after it [m].
BESIDE_M = 8.0
#: Places at which speeds, pulls and stops are looked at [m].
EVERY_M = 2.0
#: A pull begins and ends so long after and before a shift or another throttle [s].
CLEAR_OF_SHIFTS_S = 0.35
#: Shortest pull and stop, and the longest piece of a pull, which shows how it goes with speed [s].
PULL_SHORTEST_S, PULL_LONGEST_S, STOP_SHORTEST_S = 0.6, 2.5, 0.35
#: The pedal is not yet down so long after the brakes are touched [s].
BRAKES_BUILD_S = 0.35
#: Corners that end the grip of these are what is held by grip.
BY_GRIP = ("front", "rear", "lean", "unloading")


@dataclass(frozen=True, eq=False)
class Pull:
    """A stretch with one pedal down: lap (from 0), the corner it leads from or to, places, speeds.

    `at_m`, `v_ms` (k,); `gear` from 1, None for a stop; `rate_ms2` is what the speeds at its ends
    make of it.
    """

    lap: int
    corner: int
    at_m: Floats
    v_ms: Floats
    gear: int | None
    rate_ms2: float


@dataclass(frozen=True)
class TyreStated:
    """The compound of a run as it is stated: after so many laps it is warm and begins to degrade.

    `degradation` is the share of the grip that each lap from then on takes.
    """

    compound: str = ""
    degradation: float = 0.0015
    warm_up_laps: int = 2


@dataclass(frozen=True, eq=False)
class RunSeen:
    """A run as it is learned from: how it was planned to be driven, and what its laps show.

    `predicted` is the plan's lap. `on_run` (n,) counts each lap from 0 since the vehicle left the
    pits. `held` (n, c) is the logarithm of the speed held in each corner, not a number where none
    is held by grip. `tyre` is what is stated of the set.
    """

    name: str
    drive: Drive
    predicted: DrivenLap
    on_run: Integers
    held: Floats
    pulls: tuple[Pull, ...]
    stops: tuple[Pull, ...]
    lap_times_s: Floats
    tyre: TyreStated = TyreStated()


def run_seen(
    name: str,
    drive: Drive,
    predicted: DrivenLap,
    laps: Sequence[DrivenLog],
    on_run: Sequence[int],
    spoiled: Sequence[frozenset[str]] = (),
    tyre: TyreStated = TyreStated(),
) -> RunSeen:
    """What the laps of a run show; `spoiled` names corners of each lap to be left out."""
    corners = predicted.corners
    held = np.full((len(laps), len(corners)), np.nan)
    pulls: list[Pull] = []
    stops: list[Pull] = []
    for number, lap in enumerate(laps):
        left_out = spoiled[number] if number < len(spoiled) else frozenset()
        for index, corner in enumerate(corners):
            if holds(corner) and corner.name not in left_out:
                at = beside(corner)
                held[number, index] = float(np.log(np.maximum(lap.speed_at(at), 0.5)).mean())
        pulls += _pulls(lap, number, corners)
        stops += _stops(lap, number, drive, left_out)
    return RunSeen(
        name,
        drive,
        predicted,
        np.array(on_run, dtype=np.int64),
        held,
        tuple(pulls),
        tuple(stops),
        np.array([lap.lap_time_s for lap in laps]),
        tyre,
    )


def holds(corner: CornerResult) -> bool:
    """Whether grip holds the speed of a corner, so that the speed tells of the grip."""
    return corner.action in ("brake", "lift") and corner.limited_by in BY_GRIP


def beside(corner: CornerResult) -> Floats:
    """Places beside the slowest of a corner [m] (k,), not folded."""
    return corner.min_speed_at_m + np.arange(-BESIDE_M, BESIDE_M + 0.5, EVERY_M)


def _pulls(lap: DrivenLog, number: int, corners: Sequence[CornerResult]) -> list[Pull]:
    """Stretches of a lap in one gear with the throttle down."""
    if lap.throttle is None or lap.gear is None:
        return []
    inside = (lap.at_m >= 0.0) & (lap.at_m <= lap.length_m)
    down = inside & (lap.throttle >= FULL_FROM) & (lap.gear >= 1.0)
    if lap.brake is not None:
        down &= lap.brake < BRAKED_FROM
    found = []
    for first, last in _stretches(down, lap.gear):
        begins = float(lap.t_s[first]) + CLEAR_OF_SHIFTS_S
        ends = float(lap.t_s[last]) - CLEAR_OF_SHIFTS_S
        pieces = max(1, int(np.ceil((ends - begins) / PULL_LONGEST_S)))
        edges = np.linspace(begins, ends, pieces + 1)
        for one, other in pairwise(edges):
            if other - one >= PULL_SHORTEST_S:
                at = float(np.interp(one, lap.t_s, lap.at_m))
                after = _corner_before(corners, at)
                gear = int(lap.gear[first])
                found.append(_stretch(lap, number, after, gear, float(one), float(other)))
    return found


def _stops(lap: DrivenLog, number: int, drive: Drive, left_out: frozenset[str]) -> list[Pull]:
    """The straight part of each braking: from the pedal down to the corner, or its release."""
    if lap.brake is None:
        return []
    found = []
    for index, corner in enumerate(measure_corners(lap, drive.path)):
        if corner.brake_start_to_corner_m is None or corner.name in left_out:
            continue
        begins_m = drive.path.corners[index].begins_at_m
        from_m = begins_m - corner.brake_start_to_corner_m
        one = float(np.interp(from_m, lap.at_m, lap.t_s)) + BRAKES_BUILD_S
        window = (lap.at_m > from_m) & (lap.at_m <= begins_m)
        if not window.any():
            continue
        hard = window & (lap.brake >= 0.6 * lap.brake[window].max())
        other = float(lap.t_s[np.flatnonzero(hard)[-1]])
        if other - one >= STOP_SHORTEST_S:
            found.append(_stretch(lap, number, index, None, one, other))
    return found


def _stretch(
    lap: DrivenLog, number: int, corner: int, gear: int | None, begins_s: float, ends_s: float
) -> Pull:
    from_m, to_m = (float(np.interp(t, lap.t_s, lap.at_m)) for t in (begins_s, ends_s))
    at = np.linspace(from_m, to_m, max(3, round((to_m - from_m) / EVERY_M)))
    v = lap.speed_at(at)
    rate = (v[-1] ** 2 - v[0] ** 2) / (2.0 * max(to_m - from_m, 1.0))
    return Pull(number, corner, at, v, gear, float(rate))


def _stretches(down: Flags, gear: Floats) -> list[tuple[int, int]]:
    """First and last samples of each stretch with the pedal down in one gear."""
    index = np.flatnonzero(down)
    if len(index) == 0:
        return []
    apart = (np.diff(index) > 1) | (np.diff(gear[index]) != 0.0)
    cuts = np.flatnonzero(apart)
    firsts, lasts = np.concatenate(([0], cuts + 1)), np.concatenate((cuts, [len(index) - 1]))
    return [(int(index[a]), int(index[b])) for a, b in zip(firsts, lasts, strict=True)]


def _corner_before(corners: Sequence[CornerResult], at_m: float) -> int:
    """The corner that a place of the lap comes after; the last one before the first."""
    before = [n for n, corner in enumerate(corners) if corner.begins_at_m <= at_m]
    return before[-1] if before else len(corners) - 1
