"""What an error would cost, or what it would ask for, by the lap that it makes of the plan's."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.drill.cards import Figure
from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.case import REV_LIMIT, RPM_PER_MS
from neapfrost.core.lap.altered_road import corner_steps, with_corner_gear, with_curvature
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.light import lowest_ms
from neapfrost.core.lap.record import elapsed_s, speeds_at
from neapfrost.core.lap.solve import driven as whole
from neapfrost.core.lap.solve import lap_time_s, solved
from neapfrost.core.studies.stretch import next_lift

#: A slower lap is looked for until its minimum speed is the one that was said [m/s].
SPEED_WITHIN_MS = 0.02
TRIALS_MOST = 6


@dataclass(frozen=True)
class Price:
    """Seconds that an error costs, None where it costs none or no lap can be driven so.

    `too_fast_ms` is how much faster than the plan one comes to the turn-in, braking late;
    `grip_more_pct` how much more grip a faster corner asks for; `over_rpm` how far beyond the rev
    limit a gear would turn the engine. `at_most` says that the seconds are a bound, no solved lap.
    """

    cost_s: float | None = None
    too_fast_ms: float | None = None
    grip_more_pct: float | None = None
    over_rpm: float | None = None
    at_most: bool = False


def price_of_figure(driven: DrivenLap, corner: int, figure: Figure, given: float) -> Price:
    """What a wrong figure at a corner is worth; nothing where it is on the plan's own value."""
    off = given - figure.value
    if figure.name == "to_corner_m":
        return brake_early(driven, corner, off) if off > 0.0 else brake_late(driven, corner, -off)
    if figure.name == "min_speed_ms":
        return slower(driven, corner, given) if off < 0.0 else faster(driven, corner, given)
    if figure.name == "throttle_after_m" and off > 0.0:
        return throttle_late(driven, corner, off)
    return Price()


def brake_early(driven: DrivenLap, corner: int, early_m: float) -> Price:
    """Braking so much too early [m]: as hard as planned, and then on at the minimum speed.

    The zone lies so much earlier, what is left to the slowest place is driven at its speed, and
    that much less of the way is driven at the speed of before. Whoever lets the pedal up loses
    less, so that it is the most that it costs.
    """
    result = driven.corners[corner]
    start = result.brake_start_at_m if result.brake_start_at_m is not None else result.lift_at_m
    if start is None or early_m <= 0.0:
        return Price()
    before, there = elapsed_s(driven.lap, np.array([start - early_m, start]))
    cost_s = max(0.0, early_m / result.min_speed_ms - float(there - before))
    return Price(cost_s=cost_s, at_most=True)


def brake_late(driven: DrivenLap, corner: int, late_m: float) -> Price:
    """Braking so much too late [m]: how much too fast one is where one turns in.

    The same braking, laid so much later, is this far from done there; where it would begin only
    beyond the turn-in, at the slowest place.
    """
    result = driven.corners[corner]
    start = result.brake_start_at_m if result.brake_start_at_m is not None else result.lift_at_m
    if start is None or late_m <= 0.0:
        return Price()
    ring = driven.lap.path.ring
    turns = start + ring.apart(start, result.turn_in_at_m)
    there = turns if turns > start else start + ring.ahead(start, result.min_speed_at_m)
    planned, still = speeds_at(driven.lap, np.array([there, max(there - late_m, start)]))
    return Price(too_fast_ms=max(0.0, float(still - planned)))


def slower(driven: DrivenLap, corner: int, min_speed_ms: float) -> Price:
    """A corner held to a lower minimum speed [m/s] throughout: its lap less the plan's.

    Its curvature is raised until its minimum is the one that was said.
    """
    path, own = driven.lap.path, driven.corners[corner].min_speed_ms
    steps = corner_steps(path, corner)
    wanted = max(min_speed_ms, 0.3 * own)
    if wanted >= own:
        return Price()
    known = [(0.0, own, driven.lap.lap_time_s)]
    log_factor = 2.0 * float(np.log(own / wanted))
    for _ in range(TRIALS_MOST):
        drive = replace(
            driven.drive, road=with_curvature(path, driven.road, steps, float(np.exp(log_factor)))
        )
        try:
            found = solved(drive)
        except LapImpossible:
            return Price()
        known.append((log_factor, lowest_ms(found, corner), lap_time_s(found)))
        (from_log, from_ms, _), (to_log, to_ms, _) = known[-2:]
        if abs(to_ms - wanted) < SPEED_WITHIN_MS or abs(to_ms - from_ms) < 1e-6:
            break
        log_factor = to_log + (wanted - to_ms) * (to_log - from_log) / (to_ms - from_ms)
    return Price(cost_s=max(0.0, known[-1][2] - driven.lap.lap_time_s))


def faster(driven: DrivenLap, corner: int, min_speed_ms: float) -> Price:
    """How much more grip a higher minimum speed asks for: speeds squared on one radius [%]."""
    own = driven.corners[corner].min_speed_ms
    return Price(grip_more_pct=100.0 * ((min_speed_ms / own) ** 2 - 1.0))


def throttle_late(driven: DrivenLap, corner: int, late_m: float) -> Price:
    """On the throttle so much too late [m]: the minimum speed for longer, then as planned.

    Until where the next corner is lifted for everything comes so much later.
    """
    result = driven.corners[corner]
    if result.throttle_at_m is None or late_m <= 0.0:
        return Price()
    opens = result.throttle_at_m
    until = opens + next_lift(driven, corner, opens)[0]
    late_m = min(late_m, until - opens)
    later_s, slows_s = elapsed_s(driven.lap, np.array([until - late_m, until]))
    held = float(speeds_at(driven.lap, np.array([opens]))[0])
    return Price(cost_s=max(0.0, late_m / held + float(later_s - slows_s)))


def in_gear(driven: DrivenLap, corner: int, gear: int) -> Price:
    """A corner driven in another gear (from 1): the lap, or how far it would turn the engine."""
    case, own = driven.lap.packed.case, driven.corners[corner]
    over = own.min_speed_ms * float(case[RPM_PER_MS + gear - 1]) - float(case[REV_LIMIT])
    if over > 0.0:
        return Price(over_rpm=over)
    drive = replace(driven.drive, road=with_corner_gear(driven.lap.path, driven.road, corner, gear))
    try:
        lap = whole(solved(drive))
    except LapImpossible:
        return Price()
    if lap.corners[corner].gear != gear:
        return Price()
    return Price(cost_s=max(0.0, lap.lap.lap_time_s - driven.lap.lap_time_s))
