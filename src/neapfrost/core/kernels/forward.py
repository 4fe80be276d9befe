"""The forward pass: full throttle under the ceiling, with gears, shifts and the corner's gear."""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import STANDARD_GRAVITY_MS2, ZONES_MERGE_WITHIN_S
from neapfrost.core.kernels.between_nodes import meeting_share
from neapfrost.core.kernels.bundles import (
    GEAR,
    GEAR_BEFORE,
    HOLDING,
    OFF_SINCE,
    OFF_THROTTLE,
    OPEN,
    RIDES,
    TRACK_COLUMNS,
    UPSHIFTS,
    Course,
    Driven,
)
from neapfrost.core.kernels.case import GEARS, LIMITER_W, MASS, ROTATING, UPSHIFT_S
from neapfrost.core.kernels.drive import (
    HOLD,
    SHIFT_AT_LIMITER,
    SHIFT_DUE,
    SHIFT_WHEN_STRONGER,
    advance,
    stride_on,
)
from neapfrost.core.kernels.forces import GREATEST, force_range, resistance_at
from neapfrost.core.kernels.gear_race import NOTHING, SOON_S, asked_force, needed_force
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force, left_at_tyres
from neapfrost.core.kernels.shifts import (
    corner_gear,
    gear_while_held,
    kick_down,
    lowest_reachable_gear,
    may_kick_down,
    take_while_held,
    upshift_rule,
)
from neapfrost.core.kernels.step import FAR_BELOW, STRIDE, UNKNOWN, StrideOf, stride_w

LAPS_MOST = 60  # until a flying lap repeats itself; a slow oval needs some thirty

REPEATS, STALLED, NO_REPEAT = 0, 1, 2

# Where part throttle began, if not at a node: nowhere, or at a corner whose gear is decided.
NOWHERE, DECIDED = -1, -2


@kernel
def _follows_ceiling(
    course: Course, k: int, w_end: float, force: float, asked: float, gear: int
) -> bool:
    """Whether tyres and engine can give what following the ceiling needs in step k.

    The `force` goes through the tyres; `asked` is what the engine has to give for it.
    """
    case = course.case
    road = course.road
    v = math.sqrt(w_end)
    if force < 0.0:
        # Only at the limit can it be that the tyres hold the vehicle by braking harder alone:
        # what ends the grip is the front axle, which a slowing vehicle loads.
        if w_end < FAR_BELOW * course.limit[k, 1]:
            return True
    elif w_end > case[LIMITER_W + gear] or asked > drive_force(case, road, k, gear, v):
        return False
    possible = force_range(case, road, k, 1.0, w_end, GREATEST)
    return possible[3] and force <= possible[1]


class Stride(NamedTuple):
    """What driving over one step comes to.

    `w` at its end, the gear, the rest of a running shift [s] and the holding rule there; upshifts
    in it and the time it took [s]; `guess`, the slope to begin the next with; `rides` is 1 where it
    ends on the ceiling, met at share `join` of it; `force`, what following the ceiling asks of
    engine and brakes [N].
    """

    w: float
    gear: int
    wait: float
    hold: int
    shifts: int
    taken: float
    guess: float
    rides: int
    join: float
    force: float


# Long: every step reads and writes the same dozen figures of the lap, which parts would hand about.
@kernel
def forward_range(
    course: Course, driven: Driven, coast_gear: Integers, first: int, last: int, compare_after: int
) -> tuple[int, int]:
    """Drive from node `first` to node `last`, from the state at `first`, writing it onwards.

    Beyond node `compare_after` the pass stops where it falls into the track that an earlier lap
    left; what follows there keeps its speeds, and is as much earlier or later. Returns (status,
    node).
    """
    case = course.case
    time, track = driven.time, driven.track
    w = driven.w[first]
    now = time[first]
    wait = driven.waiting[first]
    gear = track[first, GEAR]
    hold = track[first, HOLDING]
    off = track[first, OFF_THROTTLE]
    off_since = track[first, OFF_SINCE]
    before = track[first, GEAR_BEFORE]
    undecided = track[first, OPEN]
    off_until = driven.clock[0]
    held_since = NOWHERE
    lowest_at = first
    guess, known = 0.0, UNKNOWN
    k = first - 1
    while k < last - 1:
        k += 1
        if off == 0 and wait == 0.0 and held_since == NOWHERE and not may_kick_down(case, w, gear):
            on, taken = stride_on(course, k, w, gear, hold, known)
            if taken < math.inf:
                state = (gear, hold, off, off_since, before, undecided)
                w, now, met = _write_stride(course, driven, k, w, now, on, state, compare_after)
                if met >= 0:
                    return REPEATS, met
                guess = known = on.last
                k += STRIDE - 1
                continue
        known = UNKNOWN
        stride = _stride(course, k, w, gear, wait, hold, guess)
        if not (stride.w > 1e-4):
            return STALLED, k
        shut = _throttle_shut(course, coast_gear, k, w, track[k, GEAR], stride)
        if shut and off == 0:
            if off_since < 0 or not _belongs_to_the_last(now - off_until, undecided):
                off_since, before = k, track[k, GEAR]
            off, undecided = 1, 0
        if shut:
            stride = _without_shift(stride, track[k, GEAR])
        elif off == 1:
            # The lowest point: choose the gear here and do this step again in it.
            off = 0
            off_until = now
            driven.clock[0] = now
            gear, undecided = _gear_left_open(course, driven, k, w, off_since, before)
            track[k, GEAR] = gear
            stride = _leave(course, k, w, gear)
            held_since = DECIDED
            lowest_at = k
        held = off == 0 and _held(course, k, stride)
        if held and held_since == NOWHERE:
            held_since = k
        elif not held and off == 0 and held_since != NOWHERE:
            # Out of a corner held on part throttle: there was time to take a lower gear in it.
            chosen = stride.gear
            if held_since >= 0:
                chosen = gear_while_held(course, driven, held_since, k, w, now, stride.gear)
            elif undecided == 1 or case[UPSHIFT_S] == 0.0:
                chosen, undecided = _gear_left_open(course, driven, k, w, off_since, before)
            if chosen < stride.gear:
                since = held_since if held_since >= 0 else lowest_at
                take_while_held(course, driven, since, k, now, stride.gear, chosen)
                stride = _leave(course, k, w, chosen)
        if not held:
            held_since = NOWHERE
        gear, wait, hold = stride.gear, stride.wait, stride.hold
        if stride.rides == 1:
            hold = SHIFT_WHEN_STRONGER
        elif off == 0:
            lower, wait = kick_down(case, course.road, k, stride.w, gear, wait)
            # What was decided for the gear above is no decision for this one.
            hold = hold if lower == gear else SHIFT_WHEN_STRONGER
            gear = lower

        w, guess = stride.w, stride.guess
        now += stride.taken
        track[k, UPSHIFTS] = stride.shifts
        track[k, RIDES] = stride.rides
        driven.join[k] = stride.join
        state = (gear, hold, off, off_since, before, undecided)
        later = now - driven.time[k + 1]
        if _write_node(driven, k + 1, w, now, wait, state) and k >= compare_after:
            _move(driven.time, k + 2, later)
            return REPEATS, k + 1
    return REPEATS, last


# Many parameters: see `step.py`.
@kernel
def _write_stride(
    course: Course,
    driven: Driven,
    first: int,
    w: float,
    now: float,
    on: StrideOf,
    state: tuple[int, int, int, int, int, int],
    compare_after: int,
) -> tuple[float, float, int]:
    """Write the nodes of a stride; returns w and time at its end.

    And the node at which the track of an earlier lap is met, as in `forward_range`, else -1.
    """
    begin_w, way = w, 0.0
    for k in range(first, first + STRIDE):
        way += course.lengths[k]
        following = stride_w(begin_w, on, way)
        now += 2.0 * course.lengths[k] / (math.sqrt(w) + math.sqrt(following))
        w = following
        driven.track[k, UPSHIFTS] = 0
        driven.track[k, RIDES] = 0
        driven.join[k] = -1.0
        later = now - driven.time[k + 1]
        if _write_node(driven, k + 1, w, now, 0.0, state) and k >= compare_after:
            _move(driven.time, k + 2, later)
            return w, now, k + 1
    return w, now, -1


@kernel
def _belongs_to_the_last(gap_s: float, undecided: int) -> bool:
    """Whether a zone counts for the gears with the one before: it follows at once, or left it open.

    Gears may be changed down as well where the vehicle is held between the two.
    """
    return gap_s <= (SOON_S if undecided == 1 else ZONES_MERGE_WITHIN_S)


@kernel
def _gear_left_open(
    course: Course, driven: Driven, k: int, w: float, off_since: int, before: int
) -> tuple[int, int]:
    """Gear to leave node k in, of those that can be reached since the throttle was shut.

    Asked at a corner's lowest point; and where the throttle opens at last, when that left the gear
    open and no braking came that would settle it, or when shifting costs nothing. Returns the gear,
    and 1 where it is still open.
    """
    n = len(course.lengths)
    since = off_since if off_since <= k else off_since - n
    lowest = lowest_reachable_gear(course.case, driven.w, driven.time, since + n, k + n, before)
    return corner_gear(course, k, w, lowest, before)


@kernel
def _stride(
    course: Course, k: int, w: float, gear: int, wait: float, hold: int, guess: float
) -> Stride:
    """Step k on full throttle, or along the ceiling where that is met."""
    ceiling = course.ceiling
    length = course.lengths[k]
    top = ceiling[k + 1]
    if w >= ceiling[k]:
        force = needed_force(course, k, w, top)
        asked = asked_force(course, k, w, top, gear)
        ready = wait == 0.0 or force <= 0.0
        if ready and _follows_ceiling(course, k, top, force, asked, gear):
            taken = 2.0 * length / max(math.sqrt(w) + math.sqrt(top), 1e-9)
            return Stride(top, gear, wait, hold, 0, taken, guess, 1, 0.0, asked)
    driven_in = gear if wait == 0.0 else -1
    end, gear, wait, hold, shifts, taken, guess = _drive_step(course, k, w, gear, wait, hold, guess)
    if end < top:
        return Stride(end, gear, wait, hold, shifts, taken, guess, 0, -1.0, 0.0)
    # Full throttle would pass the ceiling inside this step: find where.
    join = meeting_share(course, k, w, end, driven_in if shifts == 0 else -1)
    met = w + (end - w) * join
    rest = (1.0 - join) * length
    force = 0.0
    if rest > 0.0:
        middle = 0.5 * (1.0 + join)
        resistance = resistance_at(course.case, course.road, k, middle, 0.5 * (met + top))
        turning = course.case[MASS] * (1.0 + course.case[ROTATING + gear])
        force = turning * (top - met) / (2.0 * rest) + resistance
    taken = 2.0 * join * length / max(math.sqrt(w) + math.sqrt(met), 1e-9) + 2.0 * rest / max(
        math.sqrt(met) + math.sqrt(top), 1e-9
    )
    return Stride(top, gear, wait, hold, shifts, taken, guess, 1, join, force)


@kernel
def _throttle_shut(
    course: Course, coast_gear: Integers, k: int, w: float, gear: int, stride: Stride
) -> bool:
    """Whether step k, begun in a gear, is driven on no more than a closed throttle."""
    threshold = NOTHING * course.case[MASS] * STANDARD_GRAVITY_MS2
    force = stride.force
    if stride.rides == 0:
        # Below the ceiling the tyres can ask for brakes too, where a corner tightens.
        if stride.wait != 0.0 or stride.w >= w:
            return False
        force = asked_force(course, k, w, stride.w, gear)
        if force >= -threshold:
            return False
    return force < (threshold if coast_gear[k] >= 0 else -threshold)


@kernel
def _without_shift(stride: Stride, gear: int) -> Stride:
    """No upshift in a zone, also not where the tyres and not the ceiling ask for brakes."""
    return Stride(
        stride.w,
        gear,
        0.0,
        SHIFT_WHEN_STRONGER,
        0,
        stride.taken,
        stride.guess,
        stride.rides,
        stride.join,
        stride.force,
    )


@kernel
def _held(course: Course, k: int, stride: Stride) -> bool:
    """Whether step k is driven on part throttle: along the ceiling, or as the tyres allow."""
    if stride.rides == 1:
        return True
    return stride.wait == 0.0 and _tyres_hold(course, k, stride.w, stride.gear)


@kernel
def _write_node(
    driven: Driven,
    node: int,
    w: float,
    now: float,
    wait: float,
    state: tuple[int, int, int, int, int, int],
) -> bool:
    """Write the lap's state at a node; whether an earlier lap came through it just like that.

    `state` is the track's gear, holding rule, throttle off, since which node, the gear before, and
    whether the gear is still open.
    """
    track = driven.track
    gear, hold, off, off_since, before, undecided = state
    same = (
        driven.w[node] == w
        and track[node, GEAR] == gear
        and track[node, HOLDING] == hold
        and track[node, OFF_THROTTLE] == off
        and driven.waiting[node] == wait
        and off == 0
        and wait == 0.0
    )
    driven.w[node] = w
    driven.time[node] = now
    driven.waiting[node] = wait
    track[node, GEAR] = gear
    track[node, HOLDING] = hold
    track[node, OFF_THROTTLE] = off
    track[node, OFF_SINCE] = off_since
    track[node, GEAR_BEFORE] = before
    track[node, OPEN] = undecided
    return same


@kernel
def _drive_step(
    course: Course,
    k: int,
    w: float,
    gear: int,
    wait: float,
    hold: int,
    guess: float,
) -> tuple[float, int, float, int, int, float, float]:
    """Full throttle through step k, deciding at each shift that falls due whether it pays."""
    case = course.case
    road = course.road
    lengths = course.lengths
    limit = course.limit
    x = 0.0
    time = 0.0
    shifts = 0
    for _ in range(int(case[GEARS]) + 2):
        why, x, w, wait, taken, guess = advance(
            case, road, limit, k, x, lengths[k], w, gear, wait, hold, guess
        )
        time += taken
        if why != SHIFT_DUE:
            break
        rule = upshift_rule(course, k, x, w, gear)
        at_limiter = w >= case[LIMITER_W + gear] * (1.0 - 1e-9)
        if rule == SHIFT_WHEN_STRONGER:
            gear += 1
            wait = case[UPSHIFT_S]
            hold = SHIFT_WHEN_STRONGER
            shifts += 1
        else:
            hold = rule
            # A gear held past its best shift point is looked at once more on the limiter.
            if rule == HOLD and not at_limiter:
                hold = SHIFT_AT_LIMITER
    return w, gear, wait, hold, shifts, time, guess


@kernel
def _leave(course: Course, k: int, w: float, gear: int) -> Stride:
    """The first step out of a corner's lowest point, in the gear chosen there."""
    ceiling = course.ceiling
    top = ceiling[k + 1]
    force = needed_force(course, k, w, top)
    asked = asked_force(course, k, w, top, gear)
    if w >= ceiling[k] and _follows_ceiling(course, k, top, force, asked, gear):
        taken = 2.0 * course.lengths[k] / max(math.sqrt(w) + math.sqrt(top), 1e-9)
        return Stride(top, gear, 0.0, SHIFT_WHEN_STRONGER, 0, taken, 0.0, 1, 0.0, asked)
    end, gear, wait, hold, shifts, taken, guess = _drive_step(
        course, k, w, gear, 0.0, SHIFT_WHEN_STRONGER, 0.0
    )
    if end >= top:
        return Stride(top, gear, wait, hold, shifts, taken, guess, 1, 1.0, asked)
    return Stride(end, gear, wait, hold, shifts, taken, guess, 0, -1.0, asked)


@kernel
def _tyres_hold(course: Course, k: int, w: float, gear: int) -> bool:
    """Whether at the end of step k the tyres and not the engine bound the drive."""
    if w < FAR_BELOW * course.limit[k, 1]:
        return False
    case, road = course.case, course.road
    _least, greatest, resistance, _possible = force_range(case, road, k, 1.0, w, GREATEST)
    force = drive_force(case, road, k, gear, math.sqrt(w))
    return bool(greatest < left_at_tyres(case[ROTATING + gear], force, resistance))


@kernel
def forward_pass(
    course: Course,
    driven: Driven,
    coast_gear: Integers,
    start_w: float,
    start_gear: int,
) -> tuple[int, int]:
    """Drive the lap; on a closed one again and again until it repeats. Returns (status, node)."""
    ceiling = course.ceiling
    track = driven.track
    n = len(course.lengths)
    driven.w[0] = min(start_w, ceiling[0])
    driven.time[0] = 0.0
    driven.waiting[0] = 0.0
    driven.clock[0] = -1e9
    for column in range(TRACK_COLUMNS):
        track[0, column] = 0
    track[0, GEAR] = start_gear
    track[0, OFF_SINCE] = -1
    track[0, GEAR_BEFORE] = start_gear
    track[0, OPEN] = 0
    status, node = forward_range(course, driven, coast_gear, 0, n, n)
    if status != REPEATS or not course.closed:
        return status, node
    return repeated(course, driven, coast_gear)


@kernel
def repeated(course: Course, driven: Driven, coast_gear: Integers) -> tuple[int, int]:
    """Drive a closed lap again and again from how it ended until it repeats. (status, node)."""
    w, time, waiting, track = driven.w, driven.time, driven.waiting, driven.track
    clock = driven.clock
    n = len(course.lengths)
    for _ in range(LAPS_MOST):
        change = abs(w[n] - w[0])
        settled = (
            change <= 1e-9 * w[n]
            and track[0, GEAR] == track[n, GEAR]
            and abs(waiting[0] - waiting[n]) <= 1e-9
            and track[0, HOLDING] == track[n, HOLDING]
            and track[0, OFF_THROTTLE] == track[n, OFF_THROTTLE]
        )
        if settled:
            return REPEATS, n
        w[0] = w[n]
        waiting[0] = waiting[n]
        clock[0] -= time[n]
        time[0] = 0.0
        for column in range(TRACK_COLUMNS):
            if column != UPSHIFTS and column != RIDES:
                track[0, column] = track[n, column]
        status, node = forward_range(course, driven, coast_gear, 0, n, 0)
        if status != REPEATS:
            return status, node
        if node < n:
            return REPEATS, n
    return NO_REPEAT, n


@kernel
def _move(time: Floats, first: int, later: float) -> None:
    """Make the times from node `first` on so much later [s]."""
    for node in range(first, len(time)):
        time[node] += later
