"""A lap driven by its rhythm: what is pressed when, held against when the plan does it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.record import Lap, elapsed_s, time_at
from neapfrost.core.path.ring import Ring

Deed = Literal["brake", "down", "turn", "throttle"]
DEEDS: tuple[Deed, ...] = get_args(Deed)

#: Nobody presses a key better than this [s]: it is right either way.
PRESSED_S = 0.15
#: A press farther than this from every beat of its kind belongs to none [s].
APART_MOST_S = 2.5
#: Early for the throttle and late for the brakes runs out of road.
LATE_IS_DANGEROUS: tuple[Deed, ...] = ("brake",)
EARLY_IS_DANGEROUS: tuple[Deed, ...] = ("throttle",)


@dataclass(frozen=True)
class Beat:
    """Something that is done at a place of the lap [m], at a time of it [s], for a corner."""

    corner: int
    deed: Deed
    at_m: float
    at_s: float
    gear: int | None = None


@dataclass(frozen=True)
class Press:
    """A key pressed at a time of the lap [s]."""

    deed: Deed
    at_s: float


@dataclass(frozen=True)
class Held:
    """A beat and how far off its press was: later is positive [s, m]; None where none came."""

    beat: Beat
    off_s: float | None
    off_m: float | None
    inside: bool
    dangerous: bool


def beats_of(lap: Lap, corners: Sequence[CornerResult]) -> tuple[Beat, ...]:
    """Everything that is done along a lap, in its order; nothing at corners passed flat."""
    found: list[tuple[int, Deed, float, int | None]] = []
    for number, corner in enumerate(corners):
        slows = corner.brake_start_at_m if corner.brake_start_at_m is not None else corner.lift_at_m
        if corner.action in ("brake", "lift") and slows is not None:
            found.append((number, "brake", slows, None))
            found += [(number, "down", one.at_m, one.to_gear) for one in corner.downshifts]
        if corner.action != "flat":
            found.append((number, "turn", corner.turn_in_at_m, None))
        if corner.action in ("brake", "lift") and corner.throttle_at_m is not None:
            found.append((number, "throttle", corner.throttle_at_m, None))
    return timed(lap, found)


def timed(lap: Lap, found: Sequence[tuple[int, Deed, float, int | None]]) -> tuple[Beat, ...]:
    """Deeds at places as beats of a lap, in its order."""
    ring = lap.path.ring
    beats = []
    for number, deed, at_m, gear in found:
        place = float(np.clip(ring.fold(at_m), 0.0, lap.path.length_m))
        at_s = float(time_at(lap, np.array([place]))[0])
        beats.append(Beat(number, deed, place, at_s, gear))
    return tuple(sorted(beats, key=lambda beat: beat.at_s))


def held_against(
    lap: Lap, beats: Sequence[Beat], presses: Sequence[Press], bands_m: Sequence[float]
) -> tuple[tuple[Held, ...], tuple[Press, ...]]:
    """Each beat with the press that is its own, and the presses that belong to none.

    A press belongs to the nearest beat of its kind, and a beat takes the nearest of its presses.
    `bands_m` is how far off each beat may be and still be right [m].
    """
    ring = Ring(lap.lap_time_s, lap.path.closed)
    own: dict[int, float] = {}
    stray: list[Press] = []
    for press in sorted(presses, key=lambda one: one.at_s):
        alike = [n for n, beat in enumerate(beats) if beat.deed == press.deed]
        nearest = min(alike, key=lambda n: abs(ring.apart(beats[n].at_s, press.at_s)), default=None)
        off = None if nearest is None else ring.apart(beats[nearest].at_s, press.at_s)
        if nearest is None or off is None or abs(off) > APART_MOST_S:
            stray.append(press)
        elif nearest not in own or abs(off) < abs(own[nearest]):
            own[nearest] = off
    held = [
        _held(lap, beat, own.get(number), band)
        for number, (beat, band) in enumerate(zip(beats, bands_m, strict=True))
    ]
    return tuple(held), tuple(stray)


def place_after_m(lap: Lap, at_m: float, after_s: float) -> float:
    """How far on one is from a place, some seconds later or earlier [m]."""
    now_s = float(elapsed_s(lap, np.array([at_m]))[0])
    laps = (-1.0, 0.0, 1.0) if lap.path.closed else (0.0,)
    times = np.concatenate([lap.t_s + n * lap.lap_time_s for n in laps])
    places = np.concatenate([lap.s_m + n * lap.path.length_m for n in laps])
    return float(np.interp(now_s + after_s, times, places)) - at_m


def _held(lap: Lap, beat: Beat, off_s: float | None, band_m: float) -> Held:
    if off_s is None:
        return Held(beat, None, None, False, False)
    off_m = place_after_m(lap, beat.at_m, off_s)
    inside = abs(off_m) <= band_m or abs(off_s) <= PRESSED_S
    late = not inside and off_s > 0.0 and beat.deed in LATE_IS_DANGEROUS
    early = not inside and off_s < 0.0 and beat.deed in EARLY_IS_DANGEROUS
    return Held(beat, off_s, off_m, inside, late or early)
