"""Driving on under full throttle: gears, shifts and the limiter inside a step."""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.case import (
    LIMITER_W,
    UPSHIFT_W,
)
from neapfrost.core.kernels.forces import resistance_at
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.step import (
    DRIVING,
    FAR_BELOW,
    NEUTRAL,
    STRIDE,
    UNKNOWN,
    StrideOf,
    slope,
    step_on,
    stride_from,
    stride_w,
)

# Why `advance` came back.
AT_NODE, SHIFT_DUE = 0, 1

# Until when a gear is held: shift where the next gear pulls harder, at the limiter, or not at all.
SHIFT_WHEN_STRONGER, SHIFT_AT_LIMITER, HOLD = 0, 1, 2


@kernel
def shift_w(case: Floats, gear: int, hold: int) -> float:
    """Squared speed at which an upshift out of a gear is due under a holding rule."""
    if hold == HOLD:
        return math.inf
    due = case[UPSHIFT_W + gear]
    if hold == SHIFT_AT_LIMITER and due < math.inf:
        return case[LIMITER_W + gear]
    return due


@kernel
def stride_on(
    course: Course, k: int, w: float, gear: int, hold: int, known: float
) -> tuple[StrideOf, float]:
    """Full throttle through STRIDE steps from node k as one, where nothing happens in them.

    `known` is the slope at its beginning, or UNKNOWN. Returns the stride and its time [s], which is
    infinite where the steps must be taken one by one: near the limit or the ceiling, where a shift
    falls due or the limiter is met, or where the vehicle slows.
    """
    case, road, lengths, _limit, stride_limit, ceiling, _closed = course
    if k + STRIDE > len(lengths) or w >= FAR_BELOW * stride_limit[k]:
        return StrideOf(0.0, 0.0, 0.0, UNKNOWN), math.inf
    stride = stride_from(case, road, lengths, k, 1, w, DRIVING, gear, known)
    if stride.first <= 0.0 or stride.last <= 0.0:
        return stride, math.inf
    stop = min(shift_w(case, gear, hold), case[LIMITER_W + gear])
    way, time, v = 0.0, 0.0, math.sqrt(w)
    for i in range(k, k + STRIDE):
        way += lengths[i]
        there = stride_w(w, stride, way)
        if there >= stop or there >= ceiling[i + 1]:
            return stride, math.inf
        v_there = math.sqrt(there)
        time += 2.0 * lengths[i] / max(v + v_there, 1e-9)
        v = v_there
    return stride, time


# Many parameters: see `step.py`.
@kernel
def advance(
    case: Floats,
    road: Floats,
    limit: Floats,
    k: int,
    x: float,
    length: float,
    w: float,
    gear: int,
    waiting: float,
    hold: int,
    guess: float,
) -> tuple[int, float, float, float, float, float]:
    """Drive on in step k from share x, to its end or to where an upshift is due.

    `waiting` is the rest of a running shift [s], without drive. Returns (why, share reached, w,
    waiting, time [s], slope). A shift that ends inside the step splits it.
    """
    time = 0.0
    limiter = case[LIMITER_W + gear]
    due = shift_w(case, gear, hold)
    for _ in range(8):
        if x >= 1.0:
            break
        part = (1.0 - x) * length
        if waiting > 0.0:
            reached, slope_now = step_on(
                case, road, limit, k, x, 1.0, length, w, NEUTRAL, gear, 0.0
            )
            v = math.sqrt(w)
            taken = 2.0 * part / max(v + math.sqrt(reached), 1e-9)
            if taken <= waiting:
                waiting -= taken
                time += taken
                w = reached
                x = 1.0
                guess = slope_now
                break
            rate = (reached - w) / (2.0 * part)
            done = min(max(v * waiting + 0.5 * rate * waiting * waiting, 0.0), part)
            time += waiting
            waiting = 0.0
            w += 2.0 * rate * done
            x += done / length
            continue
        if w >= due * (1.0 - 1e-12):
            return SHIFT_DUE, x, w, waiting, time, guess
        if w >= limiter * (1.0 - 1e-12):
            reached, slope_now = _on_the_limiter(case, road, limit, k, x, length, w, gear, limiter)
            time += 2.0 * part / max(math.sqrt(w) + math.sqrt(reached), 1e-9)
            w = reached
            x = 1.0
            guess = slope_now
            break
        reached, slope_now = step_on(case, road, limit, k, x, 1.0, length, w, DRIVING, gear, guess)
        stop = min(due, limiter)
        guess = slope_now
        if reached <= stop:
            time += 2.0 * part / max(math.sqrt(w) + math.sqrt(reached), 1e-9)
            w = reached
            x = 1.0
            break
        share = (stop - w) / (reached - w)
        time += 2.0 * share * part / max(math.sqrt(w) + math.sqrt(stop), 1e-9)
        x += share * (1.0 - x)
        w = stop
    return AT_NODE, 1.0, w, waiting, time, guess


# Many parameters: see `step.py`.
@kernel
def _on_the_limiter(
    case: Floats,
    road: Floats,
    limit: Floats,
    k: int,
    x: float,
    length: float,
    w: float,
    gear: int,
    limiter: float,
) -> tuple[float, float]:
    """At or above the rev limit: roll on if the road lets it, else hold the limiter if it can."""
    held_back = resistance_at(case, road, k, x, limiter) > 0.0
    held_back = held_back and resistance_at(case, road, k, 1.0, limiter) > 0.0
    far_below = limiter < FAR_BELOW * min(limit[k, 0], limit[k, 1])
    at_limiter = w <= limiter * (1.0 + 1e-12)
    if at_limiter and far_below and held_back:
        # Nearly always: it would slow by itself, and the engine has something to spare.
        spare = slope(case, road, k, x, limiter, DRIVING, gear)
        if spare > 0.0:
            return limiter, 0.0
    rolled, slope_rolled = step_on(case, road, limit, k, x, 1.0, length, w, NEUTRAL, gear, 0.0)
    if rolled >= limiter:
        return rolled, slope_rolled
    driven, slope_driven = step_on(
        case, road, limit, k, x, 1.0, length, min(w, limiter), DRIVING, gear, 0.0
    )
    if driven < limiter:
        return driven, slope_driven
    return max(rolled, limiter), 0.0
