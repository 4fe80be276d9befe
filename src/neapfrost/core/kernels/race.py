"""Two ways of driving on from one place, raced against each other until one has won.

Used for the choices that are the driver's: take the next gear or hold this one, and which gear to
come out of a corner in. Both run node by node under the ceiling that the next corners set.
"""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.case import (
    GEARS,
    LIMITER_W,
    LOWEST_RPM,
    MASS,
    RPM_PER_MS,
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

A_WINS, B_WINS, ALIKE, ALIKE_SOON = 1, -1, 0, 2
NOTHING = 2e-3  # share of the weight below which a tyre force counts as none
SOON_S = 2.0  # two brakings closer together than this leave the gear between them open


@kernel
def needed_force(course: Course, k: int, w_start: float, w_end: float) -> float:
    """Mean tyre force [N] that takes the vehicle from one squared speed to another over step k."""
    case = course.case
    road = course.road
    lengths = course.lengths
    w = 0.5 * (w_start + w_end)
    resistance = resistance_at(case, road, k, 0.5, w)
    return case[MASS] * (w_end - w_start) / (2.0 * lengths[k]) + resistance


@kernel
def drive_to_node(
    course: Course,
    k: int,
    x: float,
    length: float,
    w: float,
    gear: int,
    waiting: float,
    hold: int,
    guess: float,
) -> tuple[float, int, float, float, float, bool]:
    """Drive to the end of step k, shifting as the holding rule says.

    Returns (w, gear, waiting, time, slope, whether the ceiling was met).
    """
    case = course.case
    road = course.road
    limit = course.limit
    ceiling = course.ceiling
    time = 0.0
    for _ in range(int(case[GEARS]) + 2):
        why, x, w, waiting, taken, guess = advance(
            case, road, limit, k, x, length, w, gear, waiting, hold, guess
        )
        time += taken
        if why != SHIFT_DUE:
            break
        gear += 1
        waiting = case[UPSHIFT_S]
        if hold == SHIFT_AT_LIMITER:
            hold = SHIFT_WHEN_STRONGER
    met = w >= ceiling[k + 1]
    if met:
        w = ceiling[k + 1]
    return w, gear, waiting, time, guess, met


@kernel
def race(
    course: Course,
    k: int,
    x: float,
    w: float,
    gear_a: int,
    waiting_a: float,
    hold_a: int,
    gear_b: int,
    waiting_b: float,
    hold_b: int,
) -> int:
    """Which of two ways is quicker from share x of step k: A_WINS, B_WINS, ALIKE or ALIKE_SOON.

    A way has won when it is ahead in time and speed with no shift running and the other has
    nothing left to gain: its lower gear no longer pulls harder, or both are alike; or when
    both brake along the ceiling, after which they are alike; or at the end of a lap. Two that
    reach the next braking together within two seconds are ALIKE_SOON: the choice is still open.
    """
    case = course.case
    road = course.road
    lengths = course.lengths
    ceiling = course.ceiling
    closed = course.closed
    n = len(lengths)
    w_a = w
    w_b = w
    time_a = 0.0
    time_b = 0.0
    guess_a = 0.0
    guess_b = 0.0
    for _ in range(n):
        alike = w_a == w_b and time_a == time_b and waiting_a == waiting_b
        w_a, gear_a, waiting_a, taken_a, guess_a, met_a = drive_to_node(
            course, k, x, lengths[k], w_a, gear_a, waiting_a, hold_a, guess_a
        )
        if alike and _tyres_bound_both(case, road, k, w_a, gear_a, gear_b):
            w_b, taken_b, guess_b, met_b = w_a, taken_a, guess_a, met_a
        else:
            w_b, gear_b, waiting_b, taken_b, guess_b, met_b = drive_to_node(
                course,
                k,
                x,
                lengths[k],
                w_b,
                gear_b,
                waiting_b,
                hold_b,
                guess_b,
            )
        time_a += taken_a
        time_b += taken_b
        if hold_a == SHIFT_AT_LIMITER and waiting_a > 0.0:
            hold_a = SHIFT_WHEN_STRONGER
        if hold_b == SHIFT_AT_LIMITER and waiting_b > 0.0:
            hold_b = SHIFT_WHEN_STRONGER
        if (
            met_a
            and met_b
            and ceiling[k + 1] < ceiling[k]
            and (
                gear_a == gear_b
                or needed_force(course, k, ceiling[k], ceiling[k + 1])
                < -NOTHING * case[MASS] * STANDARD_GRAVITY_MS2
            )
        ):
            return _verdict(time_a, time_b)
        a_ahead = _nothing_to_gain(case, w_a, gear_a, hold_a, gear_b, hold_b)
        b_ahead = _nothing_to_gain(case, w_b, gear_b, hold_b, gear_a, hold_a)
        if a_ahead and waiting_a == 0.0 and time_a <= time_b and w_a >= w_b:
            return A_WINS if time_a < time_b or w_a > w_b else ALIKE
        if b_ahead and waiting_b == 0.0 and time_b < time_a and w_b >= w_a:
            return B_WINS
        x = 0.0
        k += 1
        if k == n:
            if not closed:
                break
            k = 0
    return _verdict(time_a, time_b)


@kernel
def _verdict(time_a: float, time_b: float) -> int:
    if abs(time_a - time_b) <= 1e-9:
        return ALIKE_SOON if time_a < SOON_S else ALIKE
    return A_WINS if time_a < time_b else B_WINS


@kernel
def _tyres_bound_both(
    case: Floats, road: Floats, k: int, w: float, gear_a: int, gear_b: int
) -> bool:
    """Whether at the end of step k both gears give more than the tyres take, short of a shift."""
    if w >= min(case[UPSHIFT_W + gear_a], case[UPSHIFT_W + gear_b]) or w >= min(
        case[LIMITER_W + gear_a], case[LIMITER_W + gear_b]
    ):
        return False
    v = math.sqrt(w)
    greatest = force_range(case, road, k, 1.0, w, GREATEST)[1]
    return min(engine_force(case, gear_a, v), engine_force(case, gear_b, v)) > 1.02 * greatest


@kernel
def _nothing_to_gain(
    case: Floats, w: float, gear: int, hold: int, other_gear: int, other_hold: int
) -> bool:
    """Whether the other way can no longer catch one that is ahead at w, in `gear`."""
    if gear == other_gear:
        return hold == other_hold
    return gear > other_gear and w >= case[UPSHIFT_W + gear - 1]


@kernel
def holding_rule(
    course: Course,
    k: int,
    x: float,
    w: float,
    gear: int,
) -> int:
    """Best of shifting now, holding to the limiter, and holding it for good, where a shift is due.

    Returns the holding rule for this gear; SHIFT_WHEN_STRONGER means shift now.
    """
    case = course.case
    if case[UPSHIFT_S] == 0.0:
        return SHIFT_WHEN_STRONGER
    due_early = w < case[LIMITER_W + gear] * (1.0 - 1e-9)
    best = SHIFT_WHEN_STRONGER
    outcome = race(
        course,
        k,
        x,
        w,
        gear + 1,
        case[UPSHIFT_S],
        SHIFT_WHEN_STRONGER,
        gear,
        0.0,
        HOLD,
    )
    if outcome == B_WINS:
        best = HOLD
    if due_early:
        gear_best = gear + 1 if best == SHIFT_WHEN_STRONGER else gear
        waiting_best = case[UPSHIFT_S] if best == SHIFT_WHEN_STRONGER else 0.0
        outcome = race(
            course,
            k,
            x,
            w,
            gear_best,
            waiting_best,
            best,
            gear,
            0.0,
            SHIFT_AT_LIMITER,
        )
        if outcome == B_WINS:
            best = SHIFT_AT_LIMITER
    return best


@kernel
def quickest_gear(
    course: Course,
    k: int,
    w: float,
    lowest: int,
    highest: int,
) -> tuple[int, bool]:
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
        outcome = race(
            course,
            k,
            0.0,
            w,
            gear,
            0.0,
            SHIFT_WHEN_STRONGER,
            best,
            0.0,
            SHIFT_WHEN_STRONGER,
        )
        if outcome == B_WINS:
            break
        still_open = outcome == ALIKE_SOON
        if case[UPSHIFT_S] > 0.0 and outcome == A_WINS:
            outcome = race(
                course,
                k,
                0.0,
                w,
                gear,
                0.0,
                SHIFT_WHEN_STRONGER,
                best,
                0.0,
                HOLD,
            )
            if outcome == B_WINS:
                break
        best = gear
    return best, still_open
