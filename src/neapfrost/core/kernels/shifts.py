"""When gears are changed: the whole rule, from the torque curve to the driver's orders.

**Up**, a shift is due where the next gear pulls harder (`drive.shift_w`). There three ways are
raced: shift now, hold this gear to its limiter and shift there, or hold it to the next braking; the
quickest is taken (`upshift_rule`). **Down**, before a corner, each shift comes as early as the revs
after it are at most 97 % of the limit, one downshift's time after the one before, and is done by
the slowest point; the gear to leave in is the one ordered, the school's, or the quickest of those
that can be reached (`corner_gear`). A corner held on part throttle leaves time for the same
(`gear_while_held`). On full throttle and slowing the gear below is taken where it pulls harder
(`kick_down`).
"""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import DOWNSHIFT_REV_SHARE, ZONE_SHORTEST_S
from neapfrost.core.kernels.bundles import GEAR, Course, Driven
from neapfrost.core.kernels.case import (
    DOWNSHIFT_S,
    LIMITER_W,
    LOWEST_RPM,
    REV_LIMIT,
    ROTATING,
    RPM_PER_MS,
    SCHOOL,
    UPSHIFT_S,
    UPSHIFT_W,
)
from neapfrost.core.kernels.drive import HOLD, SHIFT_AT_LIMITER, SHIFT_WHEN_STRONGER
from neapfrost.core.kernels.forces import GREATEST, force_range, resistance_at
from neapfrost.core.kernels.gear_race import ALIKE_SOON, B_WINS, Way, race, race_and_held
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force, engine_force, left_at_tyres
from neapfrost.core.kernels.road import CORNER_GEAR, TOP_GEAR

LOWER_SCHOOL, HIGHER_SCHOOL = 1, 2
# A corner is held within a few hundredths of its lowest speed, at which the gear was chosen.
HELD_REVS = 1.002
FREE_REV_SHARE = 0.999  # of the rev limit: up to here a lower gear is taken where that is free


@kernel
def holding_rule(course: Course, k: int, x: float, w: float, gear: int) -> int:
    """Best of shifting now, holding to the limiter, and holding it for good, where a shift is due.

    Returns the holding rule for this gear; SHIFT_WHEN_STRONGER means shift now.
    """
    case = course.case
    if case[UPSHIFT_S] == 0.0:
        return SHIFT_WHEN_STRONGER
    best = SHIFT_WHEN_STRONGER
    way = Way(gear + 1, case[UPSHIFT_S], SHIFT_WHEN_STRONGER)
    hold_for_good = Way(gear, 0.0, HOLD)
    if race(course, k, x, w, way, hold_for_good) == B_WINS:
        best = HOLD
        way = hold_for_good
    due_early = w < case[LIMITER_W + gear] * (1.0 - 1e-9)
    if due_early and race(course, k, x, w, way, Way(gear, 0.0, SHIFT_AT_LIMITER)) == B_WINS:
        best = SHIFT_AT_LIMITER
    return best


@kernel
def upshift_rule(course: Course, k: int, x: float, w: float, gear: int) -> int:
    """The holding rule for a gear: what is quickest, up to the highest gear ordered here."""
    top = int(course.road[k, 0, TOP_GEAR])
    if 0 <= top <= gear:
        return HOLD
    rule = holding_rule(course, k, x, w, gear)
    return SHIFT_WHEN_STRONGER if top >= 0 and rule == HOLD else rule


@kernel
def quickest_gear(course: Course, k: int, w: float, lowest: int, highest: int) -> tuple[int, bool]:
    """Gear of `lowest` … `highest` in which the lap goes on quickest from node k at speed w.

    Gears are tried upwards until one loses: a gear above one that is already too high is not
    looked at, nor one whose curve does not reach down to these revs. A lower gear that loses
    because of its shift is tried once more holding its limiter. On a tie the higher gear wins
    (one shift fewer). Returns the gear, and whether the choice is still open because the next
    braking comes so soon.
    """
    case = course.case
    v = math.sqrt(w)
    best = lowest
    still_open = False
    for gear in range(lowest + 1, highest + 1):
        if v * case[RPM_PER_MS + gear] < case[LOWEST_RPM]:
            break
        higher = Way(gear, 0.0, SHIFT_WHEN_STRONGER)
        lower = Way(best, 0.0, SHIFT_WHEN_STRONGER)
        outcome, held = race_and_held(course, k, w, higher, lower)
        if outcome == B_WINS:
            break
        still_open = outcome == ALIKE_SOON
        if case[UPSHIFT_S] > 0.0 and held == B_WINS:
            break
        best = gear
    return best, still_open


@kernel
def lowest_reachable_gear(
    case: Floats, w: Floats, time: Floats, off_since: int, node: int, gear_before: int
) -> int:
    """Lowest gear that downshifts can reach between two nodes (`off_since` … `node`, unfolded).

    Each downshift comes as early as the revs after it are at most 97 % of the limit, at least
    downshift_s after the one before, and is done by `node`. Without a shift time any gear that
    turns below the limit can be had at `node` itself.
    """
    n = len(w) - 1
    gear = gear_before
    lap = time[n] - time[0]
    end = time[node % n] + lap * (node // n)
    free = time[off_since % n] + lap * (off_since // n)
    at = off_since
    while gear > 0:
        slow = DOWNSHIFT_REV_SHARE * case[REV_LIMIT] / case[RPM_PER_MS + gear - 1]
        while at <= node and w[at % n] > slow * slow:
            at += 1
        if at > node:
            break
        # Between two nodes the revs allow it where the speed has fallen so far, so that what can
        # be reached does not depend on where nodes are.
        allowed = time[at % n] + lap * (at // n)
        if at > off_since:
            before = math.sqrt(w[(at - 1) % n])
            share = (before - slow) / max(before - math.sqrt(w[at % n]), 1e-12)
            begun = time[(at - 1) % n] + lap * ((at - 1) // n)
            allowed = begun + min(max(share, 0.0), 1.0) * (allowed - begun)
        made = max(allowed, free)
        if made + case[DOWNSHIFT_S] > end + 1e-9:
            break
        gear -= 1
        free = made + case[DOWNSHIFT_S]
    if case[UPSHIFT_S] == 0.0:
        v = math.sqrt(w[node % n])
        while gear > 0 and v * case[RPM_PER_MS + gear - 1] <= _revs_most(case):
            gear -= 1
    return gear


@kernel
def _revs_most(case: Floats) -> float:
    """Revs up to which a lower gear is taken where the pedal is not all the way down [rpm]."""
    free = case[UPSHIFT_S] == 0.0
    return float((FREE_REV_SHARE if free else DOWNSHIFT_REV_SHARE) * case[REV_LIMIT])


@kernel
def corner_gear(
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
def gear_while_held(
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
        and v * case[RPM_PER_MS + lowest - 1] <= _revs_most(case)
        and (gear - lowest + 1) * each <= time
    ):
        lowest -= 1
    resistance = resistance_at(case, course.road, min(k, len(course.road) - 1), 0.0, w)
    if not _pulls_harder(case, w, lowest, gear, resistance):
        return gear
    chosen, _ = corner_gear(course, k, w, lowest, gear)
    return chosen


@kernel
def _pulls_harder(case: Floats, w: float, lowest: int, gear: int, resistance: float) -> bool:
    """Whether any gear from `lowest` up pulls harder than `gear` at a squared speed."""
    v = math.sqrt(w)
    now = left_at_tyres(case[ROTATING + gear], engine_force(case, gear, v), resistance)
    for lower in range(lowest, gear):
        force = engine_force(case, lower, v)
        if force > 0.0 and left_at_tyres(case[ROTATING + lower], force, resistance) > now:
            return True
    return False


@kernel
def take_while_held(
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
        slow_enough = revs <= HELD_REVS * _revs_most(case) and time >= free
        if gear > chosen and (slow_enough or last_call):
            gear -= 1
            free = time + each
        driven.track[node, GEAR] = gear
    driven.track[k, GEAR] = chosen


@kernel
def may_kick_down(case: Floats, w: float, gear: int) -> bool:
    """Whether the vehicle is slow enough for the gear below, if that pulls harder."""
    if gear == 0:
        return False
    # Without a shift time the best gear is simply the strongest; with one, no to and fro.
    if w >= (1.0 if case[UPSHIFT_S] == 0.0 else 0.94) * case[UPSHIFT_W + gear - 1]:
        return False
    return math.sqrt(w) * case[RPM_PER_MS + gear - 1] <= _revs_most(case)


@kernel
def kick_down(
    case: Floats, road: Floats, k: int, w: float, gear: int, wait: float
) -> tuple[int, float]:
    """Full throttle and slowing, where the gear below would pull harder: take it."""
    if wait > 0.0 or not may_kick_down(case, w, gear):
        return gear, wait
    v = math.sqrt(w)
    free = case[UPSHIFT_S] == 0.0
    _least, greatest, resistance, possible = force_range(case, road, k, 1.0, w, GREATEST)
    now = left_at_tyres(case[ROTATING + gear], drive_force(case, road, k, gear, v), resistance)
    lower = drive_force(case, road, k, gear - 1, v)
    below = left_at_tyres(case[ROTATING + gear - 1], lower, resistance)
    if possible and now < greatest and (free or now <= resistance) and below > now:
        return gear - 1, (0.0 if free else case[DOWNSHIFT_S])
    return gear, wait
