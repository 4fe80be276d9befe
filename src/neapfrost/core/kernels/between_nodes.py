"""Squared speed between the nodes of a grid, and where the full-throttle lap meets the ceiling.

Between nodes w is a parabola with the slope that tyres and engine give at one end. A straight line
would give the last centimetres of a step the mean force of the whole step: up to 5 % more than the
tyres hold there, where a corner's ramp takes the grip away.
"""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.bundles import GEAR, RIDES, UPSHIFTS, Course, Driven
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.step import BRAKING_BACKWARDS, DRIVING, OUTSIDE, slope

NEAR = 0.02  # a share of w: further below the ceiling's chord nobody asks for its bend
BEND_MOST = 1.0  # a share of a step's change: a larger bend is not of the mode it is taken for


@kernel
def ceiling_bend(course: Course, k: int) -> float:
    """How far the ceiling's middle in step k lies below its chord, times four [m²/s²]."""
    case, road, lengths, _limit, _stride_limit, ceiling, closed = course
    change = ceiling[k + 1] - ceiling[k]
    at_end = slope(case, road, k, 1.0, ceiling[k + 1], BRAKING_BACKWARDS, 0)
    if at_end != OUTSIDE:
        bend = -at_end * lengths[k] - change
        if abs(bend) <= BEND_MOST * abs(change):
            return bend
    return neighbours_bend(ceiling, lengths, closed, k)


@kernel
def driven_bend(course: Course, driven: Driven, k: int) -> float:
    """As `ceiling_bend`, of a lap that has been driven."""
    w, track = driven.w, driven.track
    if track[k, RIDES] == 1:
        return neighbours_bend(w, course.lengths, course.closed, k)
    if track[k, UPSHIFTS] > 0 or driven.waiting[k] > 0.0 or driven.waiting[k + 1] > 0.0:
        return 0.0
    return throttle_bend(course, k, w[k], w[k + 1], track[k, GEAR])


@kernel
def throttle_bend(course: Course, k: int, w: float, end: float, gear: int) -> float:
    """As `ceiling_bend`, of step k on full throttle in a gear from w to `end`."""
    change = end - w
    at_start = slope(course.case, course.road, k, 0.0, w, DRIVING, gear)
    bend = change - at_start * course.lengths[k]
    return bend if abs(bend) <= BEND_MOST * abs(change) else 0.0


@kernel
def neighbours_bend(values: Floats, lengths: Floats, closed: bool, k: int) -> float:
    """The bend that the slopes on both sides of step k agree on.

    Of the two changes of slope at its ends the smaller one counts, and none where they differ in
    sign: a kink belongs to one side only (the limiter of B. van Leer, J. Comput. Phys. 32, 1979).
    """
    n = len(lengths)
    before, after = k - 1, k + 1
    if closed:
        before, after = before % n, after % n
    elif before < 0 or after >= n:
        return 0.0
    here = (values[k + 1] - values[k]) / lengths[k]
    first = here - (values[before + 1] - values[before]) / lengths[before]
    last = (values[after + 1] - values[after]) / lengths[after] - here
    if first * last <= 0.0:
        return 0.0
    first *= 2.0 / (lengths[before] + lengths[k])
    last *= 2.0 / (lengths[k] + lengths[after])
    return 0.5 * (first if abs(first) < abs(last) else last) * lengths[k] * lengths[k]


@kernel
def ceiling_at(course: Course, k: int, x: float) -> float:
    """Squared speed of the ceiling at share x of step k."""
    ceiling = course.ceiling
    chord = ceiling[k] + (ceiling[k + 1] - ceiling[k]) * x
    if x <= 0.0 or x >= 1.0:
        return chord
    return chord - ceiling_bend(course, k) * x * (1.0 - x)


@kernel
def excess_over_ceiling(course: Course, k: int, x: float, w: float) -> float:
    """How far w is above the ceiling; far below it, above the ceiling's chord [m²/s²]."""
    ceiling = course.ceiling
    chord = ceiling[k] + (ceiling[k + 1] - ceiling[k]) * x
    if w < (1.0 - NEAR) * chord or w > (1.0 + NEAR) * chord or x <= 0.0 or x >= 1.0:
        return w - chord
    return w - chord + ceiling_bend(course, k) * x * (1.0 - x)


@kernel
def meeting_share(course: Course, k: int, w: float, end: float, gear: int) -> float:
    """Share of step k at which a lap that goes from w to `end`, beyond the ceiling, meets it.

    `gear` is that of the whole step on full throttle; -1 where it was shifted in it.
    """
    here = course.ceiling[k] - w
    there = end - course.ceiling[k + 1]
    if here <= 0.0:
        return 0.0 if there > 0.0 else 1.0
    bend = ceiling_bend(course, k)
    if gear >= 0:
        bend -= throttle_bend(course, k, w, end, gear)
    total = here + there + bend
    inside = total * total - 4.0 * bend * here
    if total <= 0.0 or inside < 0.0:
        return here / (here + there)
    return min(2.0 * here / (total + math.sqrt(inside)), 1.0)
