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
    ROTATING,
    UPSHIFT_S,
    UPSHIFT_W,
)
from neapfrost.core.kernels.drive import (
    HOLD,
    SHIFT_AT_LIMITER,
    SHIFT_DUE,
    SHIFT_WHEN_STRONGER,
    advance,
    stride_on,
)
from neapfrost.core.kernels.forces import GREATEST, force_range, resistance_at
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force, left_at_tyres
from neapfrost.core.kernels.step import STRIDE, UNKNOWN, StrideOf, stride_w

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
def asked_force(course: Course, k: int, w_start: float, w_end: float, gear: int) -> float:
    """What engine and brakes are asked for at the wheels over step k [N].

    The force through the tyres, and what turns the wheels and the engine faster or slower.
    """
    gained = (w_end - w_start) / (2.0 * course.lengths[k])
    turned = course.case[ROTATING + gear] * course.case[MASS] * gained
    return needed_force(course, k, w_start, w_end) + turned


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


class Racer(NamedTuple):
    """One of two that race: its way, w and time so far [s].

    `guess` is the slope to begin the next step with, `known` the one at this place, or UNKNOWN.
    """

    w: float
    gear: int
    waiting: float
    hold: int
    time: float
    guess: float
    known: float


class Fork(NamedTuple):
    """Where the second of two racers first shifts up, at the node before; step -1 for nowhere."""

    k: int
    x: float
    a: Racer
    b: Racer


@kernel
def _sets_out(w: float, way: Way) -> Racer:
    return Racer(w, way.gear, way.waiting, way.hold, 0.0, 0.0, UNKNOWN)


@kernel
def _strides(racer: Racer, stride: StrideOf, way: float, taken: float) -> Racer:
    """A racer after a stride over `way` metres that took so long [s]."""
    w = stride_w(racer.w, stride, way)
    time = racer.time + taken
    return Racer(w, racer.gear, 0.0, racer.hold, time, stride.last, stride.last)


@kernel
def _to_node(course: Course, k: int, x: float, racer: Racer) -> tuple[Racer, bool]:
    """A racer at the end of step k, and whether it met the ceiling.

    A limiter is held once: behind that shift the next gear is raced in the ordinary way.
    """
    w, gear, waiting, hold, time, guess, _known = racer
    w, gear, waiting, taken, guess, met = drive_to_node(course, k, x, w, gear, waiting, hold, guess)
    if hold == SHIFT_AT_LIMITER and waiting > 0.0:
        hold = SHIFT_WHEN_STRONGER
    return Racer(w, gear, waiting, hold, time + taken, guess, UNKNOWN), met


@kernel
def race(course: Course, k: int, x: float, w: float, way_a: Way, way_b: Way) -> int:
    """Which of two ways is quicker from share x of step k: A_WINS, B_WINS, ALIKE or ALIKE_SOON.

    A way has won when it is ahead in time and speed with no shift running and the other has
    nothing left to gain: its lower gear no longer pulls harder, or both are alike; or when
    both brake along the ceiling, after which they are alike; or at the end of a lap. Two that
    reach the next braking together within two seconds are ALIKE_SOON: the choice is still open.
    """
    return _race_on(course, k, x, _sets_out(w, way_a), _sets_out(w, way_b))[0]


@kernel
def race_and_held(course: Course, k: int, w: float, way_a: Way, way_b: Way) -> tuple[int, int]:
    """As `race` from node k, and once more with the second gear held at its limiter for good.

    The second race is the first until b shifts up; it is only run where a has won the first.
    """
    outcome, fork = _race_on(course, k, 0.0, _sets_out(w, way_a), _sets_out(w, way_b))
    if outcome != A_WINS or fork.k < 0:
        return outcome, outcome
    w_b, gear, waiting, _hold, time, guess, known = fork.b
    held = Racer(w_b, gear, waiting, HOLD, time, guess, known)
    return outcome, _race_on(course, fork.k, fork.x, fork.a, held)[0]


@kernel
def _race_on(course: Course, k: int, x: float, a: Racer, b: Racer) -> tuple[int, Fork]:
    """The outcome of a race that has come to share x of step k, and where b first shifts."""
    case = course.case
    ceiling = course.ceiling
    n = len(course.lengths)
    fork = Fork(-1, 0.0, a, b)
    for _ in range(n):
        if x == 0.0 and a.waiting == 0.0 and b.waiting == 0.0:
            stride_a, taken_a = stride_on(course, k, a.w, a.gear, a.hold, a.known)
            if taken_a < math.inf:
                stride_b, taken_b = stride_on(course, k, b.w, b.gear, b.hold, b.known)
                if taken_b < math.inf:
                    way = 0.0
                    for i in range(k, k + STRIDE):
                        way += course.lengths[i]
                    a = _strides(a, stride_a, way, taken_a)
                    b = _strides(b, stride_b, way, taken_b)
                    won = _won(case, a, b)
                    if won != ALIKE_SOON:
                        return won, fork
                    k += STRIDE
                    if k == n:
                        if not course.closed:
                            break
                        k = 0
                    continue
        alike = a.w == b.w and a.time == b.time and a.waiting == b.waiting
        before_a, before_b = a, b
        a, met_a = _to_node(course, k, x, a)
        if alike and _tyres_bound_both(case, course.road, k, a.w, a.gear, b.gear):
            b = Racer(a.w, b.gear, a.waiting, b.hold, a.time, a.guess, UNKNOWN)
            met_b = met_a
        else:
            b, met_b = _to_node(course, k, x, b)
        if fork.k < 0 and b.gear != before_b.gear:
            fork = Fork(k, x, before_a, before_b)
        if (
            met_a
            and met_b
            and ceiling[k + 1] < ceiling[k]
            and (
                a.gear == b.gear
                or asked_force(course, k, ceiling[k], ceiling[k + 1], a.gear)
                < -NOTHING * case[MASS] * STANDARD_GRAVITY_MS2
            )
        ):
            return _verdict(a.time, b.time), fork
        won = _won(case, a, b)
        if won != ALIKE_SOON:
            return won, fork
        x = 0.0
        k += 1
        if k == n:
            if not course.closed:
                break
            k = 0
    return _verdict(a.time, b.time), fork


@kernel
def _won(case: Floats, a: Racer, b: Racer) -> int:
    """Which racer has won at a place, or ALIKE_SOON while neither has."""
    a_ahead = _nothing_to_gain(case, a, b)
    b_ahead = _nothing_to_gain(case, b, a)
    if a_ahead and a.waiting == 0.0 and a.time <= b.time and a.w >= b.w:
        return A_WINS if a.time < b.time or a.w > b.w else ALIKE
    if b_ahead and b.waiting == 0.0 and b.time < a.time and b.w >= a.w:
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
    _least, greatest, resistance, _possible = force_range(case, road, k, 1.0, w, GREATEST)
    weaker = min(
        left_at_tyres(case[ROTATING + gear_a], drive_force(case, road, k, gear_a, v), resistance),
        left_at_tyres(case[ROTATING + gear_b], drive_force(case, road, k, gear_b, v), resistance),
    )
    return weaker > 1.02 * greatest


@kernel
def _nothing_to_gain(case: Floats, ahead: Racer, other: Racer) -> bool:
    """Whether the other racer can no longer catch one that is ahead."""
    if ahead.gear == other.gear:
        return ahead.hold == other.hold
    return ahead.gear > other.gear and ahead.w >= case[UPSHIFT_W + ahead.gear - 1]
