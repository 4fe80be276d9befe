"""The forward pass: full throttle under the ceiling, with gears, shifts and the corner's gear."""

import math

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import (
    DOWNSHIFT_REV_SHARE,
    STANDARD_GRAVITY_MS2,
    ZONE_SHORTEST_S,
    ZONES_MERGE_WITHIN_S,
)
from neapfrost.core.kernels.bundles import Course, Driven
from neapfrost.core.kernels.case import (
    DOWNSHIFT_S,
    GEARS,
    LIMITER_W,
    LOWEST_RPM,
    MASS,
    REV_LIMIT,
    RPM_PER_MS,
    SCHOOL,
    UPSHIFT_S,
    UPSHIFT_W,
)
from neapfrost.core.kernels.drive import (
    HOLD,
    SHIFT_AT_LIMITER,
    SHIFT_DUE,
    SHIFT_WHEN_STRONGER,
    advance,
)
from neapfrost.core.kernels.forces import GREATEST, force_range, resistance_at
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import engine_force
from neapfrost.core.kernels.race import NOTHING, SOON_S, holding_rule, needed_force, quickest_gear
from neapfrost.core.kernels.road import CORNER_GEAR, TOP_GEAR
from neapfrost.core.kernels.step import FAR_BELOW

LOWER_SCHOOL, HIGHER_SCHOOL = 1, 2
FREE_REV_SHARE = 0.999  # of the rev limit: up to here a lower gear is taken where that is free
LAPS_MOST = 60  # until a flying lap repeats itself; a slow oval needs some thirty

# Columns of the whole-number track, one row a node.
GEAR, HOLDING, UPSHIFTS, RIDES, OFF_THROTTLE, OFF_SINCE, GEAR_BEFORE, OPEN = range(8)
TRACK_COLUMNS = 8

REPEATS, STALLED, NO_REPEAT = 0, 1, 2

# Where part throttle began, if not at a node: nowhere, or at a corner whose gear is decided.
NOWHERE, DECIDED = -1, -2


@kernel
def _follows_ceiling(course: Course, k: int, w_end: float, force: float, gear: int) -> bool:
    """Whether tyres and engine can give the force that following the ceiling needs in step k."""
    case = course.case
    road = course.road
    v = math.sqrt(w_end)
    if force < 0.0:
        # Only at the limit can it be that the tyres hold the vehicle by braking harder alone:
        # what ends the grip is the front axle, which a slowing vehicle loads.
        if w_end < FAR_BELOW * course.limit[k, 1]:
            return True
    elif w_end > case[LIMITER_W + gear] or force > engine_force(case, gear, v):
        return False
    possible = force_range(case, road, k, 1.0, w_end, GREATEST)
    return possible[3] and force <= possible[1]


@kernel
def lowest_reachable_gear(
    case: Floats, w: Floats, time: Floats, off_since: int, node: int, gear_before: int
) -> int:
    """Lowest gear that downshifts can reach between two nodes (`off_since` … `node`, unfolded).

    Each downshift comes as early as the revs after it are at most 97 % of the limit, at least
    downshift_s after the one before, and is done by `node`.
    """
    n = len(w) - 1
    gear = gear_before
    lap = time[n] - time[0]
    end = time[node % n] + lap * (node // n)
    free = -math.inf
    for at in range(off_since, node + 1):
        now = time[at % n] + lap * (at // n)
        v = math.sqrt(w[at % n])
        while (
            gear > 0
            and v * case[RPM_PER_MS + gear - 1] <= DOWNSHIFT_REV_SHARE * case[REV_LIMIT]
            and now >= free - 1e-9
            and now + case[DOWNSHIFT_S] <= end + 1e-9
        ):
            gear -= 1
            free = now + case[DOWNSHIFT_S]
            if case[DOWNSHIFT_S] > 0.0:
                break
    return gear


@kernel
def _corner_gear(
    course: Course,
    k: int,
    w: float,
    lowest: int,
    before: int,
) -> tuple[int, int]:
    """Gear to leave a corner in, as ordered or by the driver's school; 1 where it is still open.

    An order is followed as far as downshifts and revs allow.
    """
    case = course.case
    v = math.sqrt(w)
    highest = max(before, lowest)
    ordered = int(course.road[k, 0, CORNER_GEAR])
    if ordered >= 0:
        gear = max(lowest, min(ordered, highest))
        while gear > lowest and v * case[RPM_PER_MS + gear] < case[LOWEST_RPM]:
            gear -= 1
        return gear, 0
    if case[SCHOOL] == LOWER_SCHOOL:
        return lowest, 0
    if case[SCHOOL] == HIGHER_SCHOOL:
        above = min(lowest + 1, highest)
        turns = v * case[RPM_PER_MS + above] >= case[LOWEST_RPM]
        return (above if turns else lowest), 0
    gear, still_open = quickest_gear(course, k, w, lowest, highest)
    return gear, (1 if still_open else 0)


@kernel
def forward_range(
    course: Course,
    driven: Driven,
    coast_gear: Integers,
    first: int,
    last: int,
    compare: bool,
) -> tuple[int, int]:
    """Drive from node `first` to node `last`, from the state at `first`, writing it onwards.

    With `compare` the pass stops where it falls into the track
    that an earlier lap left. Returns (status, node).
    """
    case = course.case
    road = course.road
    lengths = course.lengths
    ceiling = course.ceiling
    w = driven.w
    time = driven.time
    waiting = driven.waiting
    track = driven.track
    join = driven.join
    clock = driven.clock
    n = len(lengths)
    guess = 0.0
    v_state = w[first]
    now = time[first]
    wait = waiting[first]
    gear = track[first, GEAR]
    hold = track[first, HOLDING]
    off = track[first, OFF_THROTTLE]
    off_since = track[first, OFF_SINCE]
    before = track[first, GEAR_BEFORE]
    undecided = track[first, OPEN]
    off_until = clock[0]
    held_since = NOWHERE
    for k in range(first, last):
        length = lengths[k]
        start = v_state
        top = ceiling[k + 1]
        rides = 0
        shifts = 0
        join[k] = -1.0
        force = 0.0
        if start >= ceiling[k]:
            force = needed_force(course, k, start, top)
            ready = wait == 0.0 or force <= 0.0
            if ready and _follows_ceiling(course, k, top, force, gear):
                rides = 1
                join[k] = 0.0
        if rides == 0:
            end, gear, wait, hold, shifts, taken, guess = _drive_step(
                course, k, start, gear, wait, hold, guess
            )
            if end >= top:
                # Full throttle would pass the ceiling inside this step: find where.
                rides = 1
                here = ceiling[k] - start
                there = end - top
                join[k] = here / (here + there) if here + there > 0.0 else 1.0
                met = start + (end - start) * join[k]
                rest = (1.0 - join[k]) * length
                force = 0.0
                if rest > 0.0:
                    resistance = resistance_at(
                        case, road, k, 0.5 * (1.0 + join[k]), 0.5 * (met + top)
                    )
                    force = case[MASS] * (top - met) / (2.0 * rest) + resistance
                taken = 2.0 * join[k] * length / max(
                    math.sqrt(start) + math.sqrt(met), 1e-9
                ) + 2.0 * rest / max(math.sqrt(met) + math.sqrt(top), 1e-9)
                end = top
        else:
            end = top
            taken = 2.0 * length / max(math.sqrt(start) + math.sqrt(end), 1e-9)
        if not (end > 1e-4):
            return STALLED, k

        threshold = NOTHING * case[MASS] * STANDARD_GRAVITY_MS2
        braked = rides == 1
        if rides == 0 and wait == 0.0 and end < start:
            # Below the ceiling the tyres can ask for brakes too, where a corner tightens.
            force = needed_force(course, k, start, end)
            braked = force < -threshold
        is_off = braked and force < (threshold if coast_gear[k] >= 0 else -threshold)
        if is_off:
            if off == 0:
                # A zone that follows at once, or that left the gear open, belongs to the last.
                within = SOON_S if undecided == 1 else ZONES_MERGE_WITHIN_S
                if now - off_until > within or off_since < 0:
                    off_since = k
                    before = track[k, GEAR]
                undecided = 0
                off = 1
            # No upshift in a zone, also not where the tyres and not the ceiling ask for brakes.
            wait = 0.0
            hold = SHIFT_WHEN_STRONGER
            gear = track[k, GEAR]
            shifts = 0
        elif off == 1:
            # The lowest point: choose the gear here and do this step again in it.
            off = 0
            off_until = now
            clock[0] = now
            since = off_since if off_since <= k else off_since - n
            lowest = lowest_reachable_gear(case, w, time, since + n, k + n, before)
            chosen, undecided = _corner_gear(course, k, start, lowest, before)
            track[k, GEAR] = chosen
            gear = chosen
            wait = 0.0
            hold = SHIFT_WHEN_STRONGER
            end, gear, wait, hold, shifts, taken, guess, rides, join[k] = _leave(
                course, k, start, gear
            )
            held_since = DECIDED
        held = off == 0 and (rides == 1 or (wait == 0.0 and _tyres_hold(course, k, end, gear)))
        if held and held_since == NOWHERE:
            held_since = k
        elif not held and held_since >= 0 and off == 0:
            # Out of a corner held on part throttle: there was time to take a lower gear in it.
            chosen = _gear_while_held(course, driven, held_since, k, start, now, gear)
            if chosen < gear:
                _take_while_held(course, driven, held_since, k, now, gear, chosen)
                gear = chosen
                end, gear, wait, hold, shifts, taken, guess, rides, join[k] = _leave(
                    course, k, start, gear
                )
        if not held:
            held_since = NOWHERE
        if rides == 1:
            hold = SHIFT_WHEN_STRONGER
        elif off == 0:
            gear, wait = _kick_down(case, road, k, end, gear, wait)

        now += taken
        v_state = end
        node = k + 1
        same = (
            compare
            and w[node] == end
            and track[node, GEAR] == gear
            and track[node, HOLDING] == hold
            and track[node, OFF_THROTTLE] == off
            and waiting[node] == wait
            and off == 0
            and wait == 0.0
        )
        track[k, UPSHIFTS] = shifts
        track[k, RIDES] = rides
        w[node] = end
        time[node] = now
        waiting[node] = wait
        track[node, GEAR] = gear
        track[node, HOLDING] = hold
        track[node, OFF_THROTTLE] = off
        track[node, OFF_SINCE] = off_since
        track[node, GEAR_BEFORE] = before
        track[node, OPEN] = undecided
        if same:
            return REPEATS, node
    return REPEATS, last


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
        rule = _rule_as_ordered(course, k, x, w, gear)
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
def _rule_as_ordered(course: Course, k: int, x: float, w: float, gear: int) -> int:
    """The holding rule for a gear: what is quickest, up to the highest gear ordered here."""
    top = int(course.road[k, 0, TOP_GEAR])
    if 0 <= top <= gear:
        return HOLD
    rule = holding_rule(course, k, x, w, gear)
    return SHIFT_WHEN_STRONGER if top >= 0 and rule == HOLD else rule


@kernel
def _leave(
    course: Course,
    k: int,
    w: float,
    gear: int,
) -> tuple[float, int, float, int, int, float, float, int, float]:
    """The first step out of a corner's lowest point, in the gear chosen there."""
    lengths = course.lengths
    ceiling = course.ceiling
    top = ceiling[k + 1]
    force = needed_force(course, k, w, top)
    if w >= ceiling[k] and _follows_ceiling(course, k, top, force, gear):
        taken = 2.0 * lengths[k] / max(math.sqrt(w) + math.sqrt(top), 1e-9)
        return top, gear, 0.0, SHIFT_WHEN_STRONGER, 0, taken, 0.0, 1, 0.0
    end, gear, wait, hold, shifts, taken, guess = _drive_step(
        course, k, w, gear, 0.0, SHIFT_WHEN_STRONGER, 0.0
    )
    if end >= top:
        return top, gear, wait, hold, shifts, taken, guess, 1, 1.0
    return end, gear, wait, hold, shifts, taken, guess, 0, -1.0


@kernel
def _tyres_hold(course: Course, k: int, w: float, gear: int) -> bool:
    """Whether at the end of step k the tyres and not the engine bound the drive."""
    if w < FAR_BELOW * course.limit[k, 1]:
        return False
    greatest = force_range(course.case, course.road, k, 1.0, w, GREATEST)[1]
    return bool(greatest < engine_force(course.case, gear, math.sqrt(w)))


@kernel
def _gear_while_held(
    course: Course, driven: Driven, since: int, k: int, w: float, now: float, gear: int
) -> int:
    """Gear to leave a corner in that was held on part throttle from node `since` to node k."""
    case = course.case
    v = math.sqrt(w)
    each = case[DOWNSHIFT_S]
    time = now - driven.time[since]
    if time < ZONE_SHORTEST_S and case[UPSHIFT_S] > 0.0:
        return gear
    lowest = gear
    while (
        lowest > 0
        and v * case[RPM_PER_MS + lowest - 1] <= DOWNSHIFT_REV_SHARE * case[REV_LIMIT]
        and (gear - lowest + 1) * each <= time
    ):
        lowest -= 1
    if not _pulls_harder(case, w, lowest, gear):
        return gear
    chosen, _ = _corner_gear(course, k, w, lowest, gear)
    return chosen


@kernel
def _pulls_harder(case: Floats, w: float, lowest: int, gear: int) -> bool:
    """Whether any gear from `lowest` up pulls harder than `gear` at a squared speed."""
    v = math.sqrt(w)
    most = 0.0
    for lower in range(lowest, gear):
        most = max(most, engine_force(case, lower, v))
    return most > engine_force(case, gear, v)


@kernel
def _take_while_held(
    course: Course, driven: Driven, since: int, k: int, now: float, gear: int, chosen: int
) -> None:
    """Write the downshifts from `gear` to `chosen` in between two nodes, as early as revs allow.

    The pedal is not all the way down there, so that they cost nothing.
    """
    case = course.case
    each = case[DOWNSHIFT_S]
    free = driven.time[since]
    for node in range(since, k):
        time = driven.time[node]
        revs = math.sqrt(driven.w[node]) * case[RPM_PER_MS + gear - 1]
        last_call = now - time <= (gear - chosen) * each + 1e-9
        slow_enough = revs <= DOWNSHIFT_REV_SHARE * case[REV_LIMIT] and time >= free
        if gear > chosen and (slow_enough or last_call):
            gear -= 1
            free = time + each
        driven.track[node, GEAR] = gear
    driven.track[k, GEAR] = chosen


@kernel
def _kick_down(
    case: Floats, road: Floats, k: int, w: float, gear: int, wait: float
) -> tuple[int, float]:
    """Full throttle and slowing, where the gear below would pull harder: take it."""
    if gear == 0 or wait > 0.0:
        return gear, wait
    v = math.sqrt(w)
    # Without a shift time the best gear is simply the strongest; with one, no to and fro.
    free = case[UPSHIFT_S] == 0.0
    if w >= (1.0 if free else 0.94) * case[UPSHIFT_W + gear - 1]:
        return gear, wait
    revs_most = (FREE_REV_SHARE if free else DOWNSHIFT_REV_SHARE) * case[REV_LIMIT]
    if v * case[RPM_PER_MS + gear - 1] > revs_most:
        return gear, wait
    _least, greatest, resistance, possible = force_range(case, road, k, 1.0, w, GREATEST)
    now = engine_force(case, gear, v)
    below = engine_force(case, gear - 1, v)
    if possible and now < greatest and (free or now <= resistance) and below > now:
        return gear - 1, (0.0 if free else case[DOWNSHIFT_S])
    return gear, wait


@kernel
def forward_pass(
    course: Course,
    driven: Driven,
    coast_gear: Integers,
    start_w: float,
    start_gear: int,
) -> tuple[int, int]:
    """Drive the lap; on a closed one again and again until it repeats. Returns (status, node)."""
    lengths = course.lengths
    ceiling = course.ceiling
    closed = course.closed
    w = driven.w
    time = driven.time
    waiting = driven.waiting
    track = driven.track
    join = driven.join
    clock = driven.clock
    n = len(lengths)
    w[0] = min(start_w, ceiling[0])
    time[0] = 0.0
    waiting[0] = 0.0
    clock[0] = -1e9
    for column in range(TRACK_COLUMNS):
        track[0, column] = 0
    track[0, GEAR] = start_gear
    track[0, OFF_SINCE] = -1
    track[0, GEAR_BEFORE] = start_gear
    track[0, OPEN] = 0
    status, node = forward_range(
        course,
        driven,
        coast_gear,
        0,
        n,
        False,
    )
    if status != REPEATS or not closed:
        return status, node
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
        status, node = forward_range(
            course,
            driven,
            coast_gear,
            0,
            n,
            True,
        )
        if status != REPEATS:
            return status, node
        if node < n:
            _retime(lengths, w, time, join, node)
            return REPEATS, n
    return NO_REPEAT, n


@kernel
def _retime(lengths: Floats, w: Floats, time: Floats, join: Floats, first: int) -> None:
    """Times from node `first` on, where an earlier lap's speeds were kept."""
    for k in range(first, len(lengths)):
        time[k + 1] = time[k] + 2.0 * lengths[k] / max(math.sqrt(w[k]) + math.sqrt(w[k + 1]), 1e-9)
