"""Two ways of driving on from one place, raced against each other until one has won.

Both run node by node under the ceiling that the next corners set; `shifts` decides by them.
"""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.case import (
    GEARS,
    LIMITER_W,
    MASS,
    UPSHIFT_S,
    UPSHIFT_W,
)
from neapfrost.core.kernels.drive import (
    SHIFT_AT_LIMITER,
    SHIFT_DUE,
    SHIFT_WHEN_STRONGER,
    advance,
    stride_on,
)
from neapfrost.core.kernels.forces import GREATEST, force_range, resistance_at
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force
from neapfrost.core.kernels.step import STRIDE, UNKNOWN, stride_w

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
            case, road, limit, k, x, course.lengths[k], w, gear, waiting, hold, guess
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


class Way(NamedTuple):
    """A way of driving on: in which gear, with how much of a shift to come [s], held until when."""

    gear: int
    waiting: float
    hold: int


# Long: both ways are driven on step by step with six figures each, which parts would hand about.
@kernel
def race(course: Course, k: int, x: float, w: float, way_a: Way, way_b: Way) -> int:
    """Which of two ways is quicker from share x of step k: A_WINS, B_WINS, ALIKE or ALIKE_SOON.

    A way has won when it is ahead in time and speed with no shift running and the other has
    nothing left to gain: its lower gear no longer pulls harder, or both are alike; or when
    both brake along the ceiling, after which they are alike; or at the end of a lap. Two that
    reach the next braking together within two seconds are ALIKE_SOON: the choice is still open.
    """
    case = course.case
    ceiling = course.ceiling
    n = len(course.lengths)
    gear_a, waiting_a, hold_a = way_a
    gear_b, waiting_b, hold_b = way_b
    w_a = w_b = w
    time_a = time_b = 0.0
    guess_a = guess_b = 0.0
    known_a = known_b = UNKNOWN
    for _ in range(n):
        if x == 0.0 and waiting_a == 0.0 and waiting_b == 0.0:
            stride_a, taken_a = stride_on(course, k, w_a, gear_a, hold_a, known_a)
            if taken_a < math.inf:
                stride_b, taken_b = stride_on(course, k, w_b, gear_b, hold_b, known_b)
                if taken_b < math.inf:
                    way = 0.0
                    for i in range(k, k + STRIDE):
                        way += course.lengths[i]
                    w_a = stride_w(w_a, stride_a, way)
                    w_b = stride_w(w_b, stride_b, way)
                    guess_a = known_a = stride_a.last
                    guess_b = known_b = stride_b.last
                    time_a += taken_a
                    time_b += taken_b
                    k += STRIDE - 1
                    won = _won(
                        case,
                        (w_a, gear_a, hold_a, 0.0, time_a),
                        (w_b, gear_b, hold_b, 0.0, time_b),
                    )
                    if won != ALIKE_SOON:
                        return won
                    k += 1
                    if k == n:
                        if not course.closed:
                            break
                        k = 0
                    continue
        known_a = known_b = UNKNOWN
        alike = w_a == w_b and time_a == time_b and waiting_a == waiting_b
        w_a, gear_a, waiting_a, taken_a, guess_a, met_a = drive_to_node(
            course, k, x, w_a, gear_a, waiting_a, hold_a, guess_a
        )
        if alike and _tyres_bound_both(case, course.road, k, w_a, gear_a, gear_b):
            w_b, taken_b, guess_b, met_b = w_a, taken_a, guess_a, met_a
        else:
            w_b, gear_b, waiting_b, taken_b, guess_b, met_b = drive_to_node(
                course, k, x, w_b, gear_b, waiting_b, hold_b, guess_b
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
        won = _won(
            case,
            (w_a, gear_a, hold_a, waiting_a, time_a),
            (w_b, gear_b, hold_b, waiting_b, time_b),
        )
        if won != ALIKE_SOON:
            return won
        x = 0.0
        k += 1
        if k == n:
            if not course.closed:
                break
            k = 0
    return _verdict(time_a, time_b)


@kernel
def _won(
    case: Floats,
    a: tuple[float, int, int, float, float],
    b: tuple[float, int, int, float, float],
) -> int:
    """Which way has won at a place, or ALIKE_SOON while neither has.

    Of each way w, gear, holding rule, the rest of a running shift [s] and the time so far [s].
    """
    w_a, gear_a, hold_a, waiting_a, time_a = a
    w_b, gear_b, hold_b, waiting_b, time_b = b
    a_ahead = _nothing_to_gain(case, w_a, gear_a, hold_a, gear_b, hold_b)
    b_ahead = _nothing_to_gain(case, w_b, gear_b, hold_b, gear_a, hold_a)
    if a_ahead and waiting_a == 0.0 and time_a <= time_b and w_a >= w_b:
        return A_WINS if time_a < time_b or w_a > w_b else ALIKE
    if b_ahead and waiting_b == 0.0 and time_b < time_a and w_b >= w_a:
        return B_WINS
    return ALIKE_SOON


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
    weaker = min(drive_force(case, road, k, gear_a, v), drive_force(case, road, k, gear_b, v))
    return weaker > 1.02 * greatest


@kernel
def _nothing_to_gain(
    case: Floats, w: float, gear: int, hold: int, other_gear: int, other_hold: int
) -> bool:
    """Whether the other way can no longer catch one that is ahead at w, in `gear`."""
    if gear == other_gear:
        return hold == other_hold
    return gear > other_gear and w >= case[UPSHIFT_W + gear - 1]
