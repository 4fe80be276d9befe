"""The corners of a driven lap, measured as those of a predicted one are defined.

A figure whose channel was not logged is left out, never guessed. Where the brake was not logged,
braking begins where the deceleration does.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.driven.laps import DrivenLog
from neapfrost.core.path.build import Corner, Path

Action = Literal["flat", "lift", "brake"]

#: The brake is touched from this share of its hardest on, and let go of for longer than this [s].
BRAKED_FROM, LET_GO_S = 0.04, 0.15
#: Without a brake channel, a deceleration of more than this is braking [g].
BRAKING_G = 0.45
#: The throttle is off below the first share, lifted from below the second, full from the last on.
OFF_BELOW, SHUT_BELOW, FULL_FROM = 0.05, 0.5, 0.97
#: A throttle shut for less than this is no lift [s].
LIFT_S = 0.1
#: Gears are compared so many samples beside a shut throttle, to know a shift from a lift.
BESIDE_SHIFT = 5
#: The speed has risen for good once it is so far above its lowest [m/s], as in a predicted lap.
RISEN_MS = 0.1


@dataclass(frozen=True)
class DrivenCorner:
    """A corner of a driven lap; None where a figure has no meaning or its channel is missing.

    Places [m] are in the lap. `neither_s` is the time with neither pedal on the way into it.
    """

    name: str
    action: Action
    lift_at_m: float | None
    brake_start_at_m: float | None
    brake_start_to_corner_m: float | None
    brake_start_speed_ms: float | None
    braking_distance_m: float | None
    peak_decel_g: float | None
    min_speed_ms: float
    min_speed_at_m: float
    gear: int | None
    throttle_at_m: float | None
    full_throttle_at_m: float | None
    exit_speed_ms: float
    time_in_corner_s: float
    neither_s: float | None


def measure_corners(lap: DrivenLog, path: Path) -> tuple[DrivenCorner, ...]:
    """Every corner of a driven lap."""
    lows: list[float] = []
    for corner in path.corners:
        lows.append(_lowest(lap, corner.begins_at_m, corner.ends_at_m)[0])
    found = []
    for number, corner in enumerate(path.corners):
        first = lows[-1] - lap.length_m if path.closed else -1.0
        before = lows[number - 1] if number > 0 else first
        found.append(_measured(lap, corner, before, path))
    return tuple(found)


def more_neither_s(driven: DrivenCorner, predicted: DrivenCorner) -> float | None:
    """Seconds coasting beyond those of the predicted lap, measured alike."""
    if driven.neither_s is None or predicted.neither_s is None:
        return None
    return driven.neither_s - predicted.neither_s


def sources(lap: DrivenLog) -> dict[str, str]:
    """Which channel each kind of figure came from, in words; one that is missing is left out."""
    found = {"speeds": "speed", "times": "speed and place"}
    found["braking"] = "brake" if lap.brake is not None else "deceleration"
    if lap.gear is not None:
        found["gears"] = "gear"
    if lap.throttle is not None:
        found["throttle"] = "throttle"
    return found


def _lowest(lap: DrivenLog, from_m: float, to_m: float) -> tuple[float, float]:
    """Place and speed of the slowest sample between two places."""
    inside = np.flatnonzero((lap.at_m >= from_m) & (lap.at_m <= to_m))
    if len(inside) == 0:
        at = 0.5 * (from_m + to_m)
        return at, float(np.interp(at, lap.at_m, lap.v_ms))
    index = inside[int(np.argmin(lap.v_ms[inside]))]
    return float(lap.at_m[index]), float(lap.v_ms[index])


def _measured(lap: DrivenLog, corner: Corner, after_m: float, path: Path) -> DrivenCorner:
    begins, ends = corner.begins_at_m, corner.ends_at_m
    low_at, low = _lowest(lap, begins, ends)
    braking = _braking(lap, after_m, low_at, ends)
    lift = _lift(lap, after_m, low_at if braking is None else braking[0], braking is not None)
    if braking is None and lift is None:
        lift = _lift_inside(lap, begins, ends)
    if lift is not None or braking is not None:
        own = max(begins, min(one for one in (lift, braking and braking[0]) if one is not None))
        low_at, low = _lowest(lap, min(own, ends), ends)
    action: Action = "flat"
    if braking is not None:
        action = "brake"
    elif lift is not None:
        action = "lift"
    throttle = None if action == "flat" else _risen(lap, low_at, low)
    fold = path.ring.fold

    def folded(at_m: float | None) -> float | None:
        return None if at_m is None else float(fold(at_m))

    brake = None if braking is None else braking[0]
    return DrivenCorner(
        name=corner.name,
        action=action,
        lift_at_m=folded(lift),
        brake_start_at_m=folded(brake),
        brake_start_to_corner_m=None if brake is None else begins - brake,
        brake_start_speed_ms=None if brake is None else _at(lap, lap.v_ms, brake),
        braking_distance_m=None if braking is None else braking[1] - braking[0],
        peak_decel_g=None if braking is None else _peak_g(lap, *braking),
        min_speed_ms=low,
        min_speed_at_m=float(fold(low_at)),
        gear=_gear(lap, low_at),
        throttle_at_m=folded(throttle),
        full_throttle_at_m=folded(None if action == "flat" else _full(lap, low_at)),
        exit_speed_ms=_at(lap, lap.v_ms, ends),
        time_in_corner_s=_at(lap, lap.t_s, ends) - _at(lap, lap.t_s, begins),
        neither_s=_neither_s(lap, after_m, low_at),
    )


def _at(lap: DrivenLog, values: Floats, at_m: float) -> float:
    return float(np.interp(at_m, lap.at_m, values))


def _braking(
    lap: DrivenLog, after_m: float, low_m: float, ends_m: float
) -> tuple[float, float] | None:
    """From where to where is braked for a corner: the touch that sheds the most speed."""
    pressed = (
        lap.brake > BRAKED_FROM
        if lap.brake is not None
        else lap.ax_ms2 < -BRAKING_G * STANDARD_GRAVITY_MS2
    )
    inside = (lap.at_m > after_m) & (lap.at_m < min(max(low_m, after_m) + 25.0, ends_m))
    index = np.flatnonzero(pressed & inside)
    if len(index) == 0:
        return None
    cuts = np.flatnonzero(np.diff(lap.t_s[index]) > LET_GO_S)
    starts = np.concatenate(([0], cuts + 1))
    stops = np.concatenate((cuts, [len(index) - 1]))
    shed = [
        float(lap.v_ms[index[a]] - lap.v_ms[index[b]]) for a, b in zip(starts, stops, strict=True)
    ]
    best = int(np.argmax(shed))
    if shed[best] < 0.5:
        return None
    return float(lap.at_m[index[starts[best]]]), float(lap.at_m[index[stops[best]]])


def _lift(lap: DrivenLog, after_m: float, before_m: float, brakes: bool) -> float | None:
    """Where the throttle was last shut on the way to a place; None where it was not, or unknown.

    A throttle shut for a moment alone is no lift, unless the brake follows.
    """
    if lap.throttle is None:
        return None
    on_the_way = (lap.at_m > after_m) & (lap.at_m <= before_m)
    shut = np.flatnonzero((lap.throttle < SHUT_BELOW) & on_the_way)
    if len(shut) == 0:
        return None
    # The last time it is shut: the throttle before it belongs to the corner before.
    cuts = np.flatnonzero(np.diff(shut) > 1)
    first = shut[cuts[-1] + 1] if len(cuts) else shut[0]
    lasts_s = float(lap.t_s[shut[-1]] - lap.t_s[first])
    if brakes:
        return float(lap.at_m[first])
    # On the way out of the corner before, the throttle is not yet open: that is no lift; nor is
    # a moment in which the next gear is taken.
    opened = np.flatnonzero((lap.throttle >= SHUT_BELOW) & on_the_way)
    was_open = len(opened) > 0 and opened[0] < first
    is_lift = was_open and lasts_s >= LIFT_S and not _shifts_up(lap, int(first), int(shut[-1]))
    return float(lap.at_m[first]) if is_lift else None


def _lift_inside(lap: DrivenLog, begins_m: float, ends_m: float) -> float | None:
    """Where the throttle is let go of in a corner and taken up again before its end."""
    if lap.throttle is None:
        return None
    found = _lift(lap, begins_m, ends_m, False)
    if found is None:
        return None
    later = (lap.at_m > found) & (lap.at_m < ends_m)
    shut = np.flatnonzero(later & (lap.throttle < SHUT_BELOW))
    again = np.flatnonzero(later & (lap.throttle >= SHUT_BELOW))
    taken_up = len(shut) > 0 and len(again) > 0 and again[-1] > shut[-1]
    # Held on part of the throttle while the speed still rises, it is no lift.
    slowed = taken_up and lap.v_ms[later].min() < _at(lap, lap.v_ms, found) - RISEN_MS
    return found if slowed else None


def _shifts_up(lap: DrivenLog, first: int, last: int) -> bool:
    """Whether a throttle that was shut between two samples was so to take the next gear."""
    if lap.gear is None:
        return False
    before, after = lap.gear[max(first - BESIDE_SHIFT, 0) : first + 1], lap.gear[last:]
    return bool(after[: BESIDE_SHIFT + 1].max() > before.min())


def _risen(lap: DrivenLog, low_m: float, low_ms: float) -> float | None:
    """Where the speed has risen above its lowest for good."""
    later = np.flatnonzero((lap.at_m >= low_m) & (lap.at_m < low_m + 400.0))
    risen = later[lap.v_ms[later] > low_ms + RISEN_MS]
    return float(lap.at_m[risen[0]]) if len(risen) else None


def _full(lap: DrivenLog, low_m: float) -> float | None:
    """Where the throttle is first fully open after the slowest place."""
    if lap.throttle is None:
        return None
    later = np.flatnonzero((lap.at_m >= low_m) & (lap.throttle >= FULL_FROM))
    return float(lap.at_m[later[0]]) if len(later) else None


def _gear(lap: DrivenLog, at_m: float) -> int | None:
    if lap.gear is None:
        return None
    index = min(int(np.searchsorted(lap.at_m, at_m)), len(lap.at_m) - 1)
    near = lap.gear[max(index - 2, 0) : index + 3]
    return int(np.median(near))


def _peak_g(lap: DrivenLog, from_m: float, to_m: float) -> float:
    inside = (lap.at_m >= from_m) & (lap.at_m <= to_m)
    return float(-lap.ax_ms2[inside].min() / STANDARD_GRAVITY_MS2)


def _neither_s(lap: DrivenLog, after_m: float, low_m: float) -> float | None:
    """Seconds coasting between the way out of the corner before and the slowest place."""
    if lap.throttle is None or lap.brake is None:
        return None
    inside = (lap.at_m > after_m) & (lap.at_m < low_m)
    neither = inside & (lap.throttle < OFF_BELOW) & (lap.brake < BRAKED_FROM)
    steps = np.gradient(lap.t_s)
    return float(steps[neither].sum())
