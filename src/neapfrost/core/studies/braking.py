"""How to brake for a corner: the effort along the zone, the schools, and what the road does."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.profile import axles_in_use
from neapfrost.core.lap.altered_road import (
    steps_between,
    with_braking,
    without_crests,
    without_grade,
)
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.orders import approach_m
from neapfrost.core.lap.solve import driven as whole
from neapfrost.core.lap.solve import solve_many
from neapfrost.core.studies.stretch import points_between

STRAIGHT_EXPONENT, TRAIL_EXPONENT = 1.0, 2.0
GENTLE_SHARE = 0.75
#: Effort falls below this share of its peak: the release has begun.
RELEASED = 0.9
#: The effort has been taken up again when it rises by this much [percentage points].
REAPPLIED_PCT = 8.0


@dataclass(frozen=True)
class EffortPoint:
    """Effort at a place of the zone, `at_m` metres from the brake start.

    In percent of what brakes and tyres could give straight ahead there, with the deceleration
    [m/s²] and the axle nearer to its limit.
    """

    at_m: float
    effort_pct: float
    decel_ms2: float
    axle: str
    axle_use: float


@dataclass(frozen=True)
class BrakingOption:
    """One way to brake: `cost_s` is the lap against the plan's, distances as in the results.

    `release_m` is where, from the brake start, the pedal is first eased; `turn_in_m` where one
    turns in, negative where that comes first; `turn_in_effort_pct` what is left of the effort
    there, None where nothing is braked. `reapplied_m` are the places
    where it is taken up again.
    """

    school: str
    cost_s: float
    brake_start_to_corner_m: float
    braking_distance_m: float
    peak_effort_pct: float
    mean_effort_pct: float
    turn_in_m: float
    turn_in_effort_pct: float | None
    release_m: float
    reapplied_m: tuple[float, ...]
    effort: tuple[EffortPoint, ...]


@dataclass(frozen=True)
class BrakingCall:
    """The plan's own braking first, then the schools; and what the road adds to the distance.

    `grade_m`, `crest_m` are metres by which braking starts earlier (positive) than it would
    without the slope, without crests and dips.
    """

    options: tuple[BrakingOption, ...]
    grade_m: float
    crest_m: float
    steepest_pct: float


def braking_call(driven: DrivenLap, corner: int) -> BrakingCall | None:
    """Brake for a corner by each school; None where it is not braked for."""
    if driven.corners[corner].action != "brake":
        return None
    path, road = driven.lap.path, driven.road
    steps = steps_between(path, *approach_m(driven, corner))
    roads = (
        with_braking(road, steps, exponent=STRAIGHT_EXPONENT),
        with_braking(road, steps, exponent=TRAIL_EXPONENT),
        with_braking(road, steps, share=GENTLE_SHARE),
        without_grade(path, road, steps),
        without_crests(path, road, steps),
    )
    laps = solve_many([replace(driven.drive, road=other) for other in roads], whole)
    plan_s = driven.lap.lap_time_s
    options = [
        option
        for school, lap in zip(
            ("planned", "straight", "trail", "gentle"), (driven, *laps[:3]), strict=True
        )
        if lap is not None and (option := _option(school, lap, corner, plan_s)) is not None
    ]
    slope = np.tan(np.append(path.slope.angle_start, path.slope.angle_end[-1]))
    zone = points_between(driven, *_zone_m(driven, corner))
    at = np.interp(driven.lap.s_m[zone], path.s_m, slope)
    return BrakingCall(
        options=tuple(options),
        grade_m=_earlier_m(driven, laps[3], corner),
        crest_m=_earlier_m(driven, laps[4], corner),
        steepest_pct=100.0 * float(at[np.argmax(np.abs(at))]) if len(at) else 0.0,
    )


def _earlier_m(driven: DrivenLap, other: DrivenLap | None, corner: int) -> float:
    """By how much the plan brakes earlier than another lap [m]."""
    if other is None:
        return 0.0
    own = driven.corners[corner].brake_start_to_corner_m
    its = other.corners[corner].brake_start_to_corner_m
    return 0.0 if own is None or its is None else own - its


def _zone_m(driven: DrivenLap, corner: int) -> tuple[float, float]:
    result = driven.corners[corner]
    start = result.brake_start_at_m or 0.0
    return start, start + (result.braking_distance_m or 0.0)


def _option(school: str, driven: DrivenLap, corner: int, plan_s: float) -> BrakingOption | None:
    result = driven.corners[corner]
    if result.brake_start_to_corner_m is None or result.braking_distance_m is None:
        return None
    effort = effort_along(driven, corner)
    if not effort:
        return None
    percent = np.array([point.effort_pct for point in effort])
    at = np.array([point.at_m for point in effort])
    peak = float(percent.max())
    held = np.flatnonzero(percent >= RELEASED * peak)
    path = driven.lap.path
    turn_in = path.ring.apart(result.brake_start_at_m or 0.0, result.turn_in_at_m)
    inside = 0.0 <= turn_in < result.braking_distance_m
    width = np.gradient(at) if len(at) > 1 else np.ones(1)
    return BrakingOption(
        school=school,
        cost_s=driven.lap.lap_time_s - plan_s,
        brake_start_to_corner_m=result.brake_start_to_corner_m,
        braking_distance_m=result.braking_distance_m,
        peak_effort_pct=peak,
        mean_effort_pct=float((percent * width).sum() / width.sum()),
        turn_in_m=turn_in,
        turn_in_effort_pct=float(np.interp(turn_in, at, percent)) if inside else None,
        release_m=float(at[held[-1]]) if len(held) else 0.0,
        reapplied_m=_reapplied(at, percent),
        effort=tuple(effort),
    )


def effort_along(driven: DrivenLap, corner: int) -> list[EffortPoint]:
    """The effort from the brake start to the end of the braking, place by place."""
    lap = driven.lap
    start, end = _zone_m(driven, corner)
    points: Integers = points_between(driven, start - 1e-6, end)
    if len(points) == 0:
        return []
    work = lap.packed
    use: Floats = np.empty((len(points), 2))
    axles_in_use(
        work.case,
        work.road,
        lap.step[points],
        lap.share[points],
        lap.v_ms[points] ** 2,
        lap.force_n[points],
        use,
    )
    ahead = lap.s_m[points] - start
    if lap.path.closed:
        ahead = np.mod(ahead + 1e-5, lap.path.length_m) - 1e-5
    return [
        EffortPoint(
            at_m=float(at),
            effort_pct=100.0 * float(lap.brake[point]),
            decel_ms2=-float(lap.ax_ms2[point]),
            axle="front" if pair[0] >= pair[1] else "rear",
            axle_use=float(max(pair)),
        )
        for at, point, pair in zip(ahead, points, use, strict=True)
    ]


def _reapplied(at: Floats, percent: Floats) -> tuple[float, ...]:
    """Places where the effort, once eased, begins to rise again."""
    places = []
    lowest, lowest_at, highest = percent[0], float(at[0]), percent[0]
    eased = False
    for place, value in zip(at, percent, strict=True):
        if not eased:
            highest = max(highest, value)
            if highest - value >= REAPPLIED_PCT:
                eased, lowest, lowest_at = True, value, float(place)
        elif value < lowest:
            lowest, lowest_at = value, float(place)
        elif value - lowest >= REAPPLIED_PCT:
            places.append(lowest_at)
            eased, highest = False, value
    return tuple(places)
