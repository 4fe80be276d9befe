"""One step along the path: dw/ds = 2a(s, w), solved so that the grip limit is no cliff.

Far below the limit nothing is stiff and the explicit midpoint rule does. Close to it the scheme is
the two-stage, L-stable, second-order SDIRK method (R. Alexander, SIAM J. Numer. Anal. 14 (1977)
1006-1021): there the tyres' spare force falls with the root of the distance to the limit, so an
explicit step would oscillate about the speed at which drive and resistance balance.

Steps have many parameters: arrays and numbers are handed on singly, because a bundle of arrays
taken apart at some hundred thousand calls a lap costs more than the step itself.
"""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import (
    MASS,
)
from neapfrost.core.kernels.forces import BOTH, GREATEST, LEAST, force_range
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.limits import CEILING_W
from neapfrost.core.kernels.powertrain import engine_force, overrun_force

GAMMA = 1.0 - math.sqrt(0.5)

# What is done with the pedals; the first two are followed against the direction of travel.
BRAKING_BACKWARDS, COASTING_BACKWARDS, DRIVING, NEUTRAL = 0, 1, 2, 3

OUTSIDE = -200.0  # dw/ds above the limit [m/s²]: far below anything a vehicle does
TOLERANCE = 1e-9
FAR_BELOW = 0.8  # share of the limit's w below which a step is taken explicitly


@kernel
def pedal_force(
    case: Floats, least: float, greatest: float, mode: int, gear: int, v: float
) -> float:
    """Tyre force [N] under a pedal mode, within what the tyres allow."""
    if mode == BRAKING_BACKWARDS:
        return least
    if mode == COASTING_BACKWARDS:
        return min(max(-overrun_force(case, gear, v), least), greatest)
    if mode == DRIVING:
        return min(engine_force(case, gear, v), greatest)
    return min(max(0.0, least), greatest)


@kernel
def slope(case: Floats, road: Floats, k: int, x: float, w: float, mode: int, gear: int) -> float:
    """Dw along the direction in which the mode is followed [m/s²]; OUTSIDE above the limit."""
    want = LEAST if mode == BRAKING_BACKWARDS else (GREATEST if mode == DRIVING else BOTH)
    least, greatest, resistance, possible = force_range(case, road, k, x, w, want)
    if not possible:
        return OUTSIDE
    force = pedal_force(case, least, greatest, mode, gear, math.sqrt(w))
    change = 2.0 * (force - resistance) / case[MASS]
    return -change if mode <= COASTING_BACKWARDS else change


@kernel
def cap_w(limit: Floats, k: int, x: float) -> float:
    """Limit inside a step: 1/w linear between its ends, exact for a linear curvature ramp."""
    first, last = limit[k, 0], limit[k, 1]
    if first == last:
        return first
    return first * last / (last + (first - last) * x)


# Many parameters: see `step.py`.
@kernel
def _stage(
    case: Floats,
    road: Floats,
    k: int,
    x: float,
    known: float,
    h: float,
    mode: int,
    gear: int,
    guess: float,
    cap: float,
) -> float:
    """Solve w = known + h·slope(w) for w in [0, cap]; returns cap where the solution lies above."""
    tolerance = TOLERANCE * (1.0 + known)
    first = min(max(guess, 0.0), cap)
    tried_cap = False
    if first > 0.98 * cap and cap < CEILING_W:
        tried_cap = True
        at_cap = known + h * slope(case, road, k, x, cap, mode, gear)
        if at_cap >= cap:
            return cap
    second = min(max(known + h * slope(case, road, k, x, first, mode, gear), 0.0), cap)
    if abs(second - first) <= tolerance:
        return second
    third = known + h * slope(case, road, k, x, second, mode, gear)
    ratio = abs(third - second) / abs(second - first)
    if ratio < 0.1 and 0.0 <= third <= cap and abs(third - second) * ratio * ratio <= tolerance:
        # Aitken's step on a fixed-point iteration that contracts this fast.
        change, last = second - first, third - second
        if last != change:
            better = third - last * last / (last - change)
            if 0.0 <= better <= cap:
                return better
        return third
    if not tried_cap and known + h * slope(case, road, k, x, cap, mode, gear) >= cap:
        return cap
    # Residual w - known - h·slope(w): negative at low, positive at high. Illinois' method.
    low, high = 0.0, cap
    residual_low = low - known - h * slope(case, road, k, x, low, mode, gear)
    residual_high = high - known - h * slope(case, road, k, x, high, mode, gear)
    if residual_low >= 0.0:
        return 0.0
    for turn in range(100):
        if turn == 0:
            w = min(max(third, 0.5 * (low + high)), high * (1.0 - 1e-12))
        elif turn % 3 == 2:
            w = 0.5 * (low + high)
        else:
            w = high - residual_high * (high - low) / (residual_high - residual_low)
        residual = w - known - h * slope(case, road, k, x, w, mode, gear)
        if residual < 0.0:
            low = w
            residual_low = residual
        else:
            high = w
            residual_high = residual
        if abs(residual) <= tolerance:
            return w
        if high - low <= tolerance:
            break
    # No root but a jump, at the limit itself: stay on its possible side.
    return low


# Many parameters: see `step.py`.
@kernel
def step_back(
    case: Floats,
    road: Floats,
    limit: Floats,
    k: int,
    length: float,
    w_end: float,
    mode: int,
    gear: int,
    guess: float,
) -> tuple[float, float]:
    """From the end of step k to its start; returns (w there, slope to start the next with)."""
    if w_end < FAR_BELOW * min(limit[k, 0], limit[k, 1]):
        half = w_end + 0.5 * length * slope(case, road, k, 1.0, w_end, mode, gear)
        rate = slope(case, road, k, 0.5, max(half, 0.0), mode, gear)
        return max(w_end + length * rate, 0.0), rate
    top = limit[k, 0]
    if top <= 1.02 * w_end and w_end > 0.9 * limit[k, 1]:
        # Along the limit, or falling away from it backwards: is all of the step held by the tyres?
        rise = (top - w_end) / length
        if rise <= slope(case, road, k, 1.0, w_end, mode, gear) and rise <= slope(
            case, road, k, 0.0, top, mode, gear
        ):
            return top, rise
    h = GAMMA * length
    x = 1.0 - GAMMA
    cap = cap_w(limit, k, x)
    inner = _stage(case, road, k, x, w_end, h, mode, gear, w_end + h * guess, cap)
    if inner >= cap:
        # The limit cuts the step: go on from the limit alone.
        rest = (1.0 - GAMMA) * length
        w = _stage(case, road, k, 0.0, inner, rest, mode, gear, inner, limit[k, 0])
        return w, (w - inner) / rest
    first = (inner - w_end) / h
    known = w_end + (1.0 - GAMMA) * length * first
    w = _stage(case, road, k, 0.0, known, h, mode, gear, known + h * first, limit[k, 0])
    return w, (w - known) / h


# Many parameters: see `step.py`.
@kernel
def step_on(
    case: Floats,
    road: Floats,
    limit: Floats,
    k: int,
    x0: float,
    x1: float,
    length: float,
    w_start: float,
    mode: int,
    gear: int,
    guess: float,
) -> tuple[float, float]:
    """From share x0 of step k to share x1; `length` is of the whole step. Returns (w, slope)."""
    part = (x1 - x0) * length
    if w_start < FAR_BELOW * min(cap_w(limit, k, x0), cap_w(limit, k, x1)):
        half = w_start + 0.5 * part * slope(case, road, k, x0, w_start, mode, gear)
        rate = slope(case, road, k, 0.5 * (x0 + x1), max(half, 0.0), mode, gear)
        return max(w_start + part * rate, 0.0), rate
    h = GAMMA * part
    x = x0 + GAMMA * (x1 - x0)
    cap = cap_w(limit, k, x)
    inner = _stage(case, road, k, x, w_start, h, mode, gear, w_start + h * guess, cap)
    if inner >= cap:
        rest = (1.0 - GAMMA) * part
        w = _stage(case, road, k, x1, inner, rest, mode, gear, inner, cap_w(limit, k, x1))
        return w, (w - inner) / rest
    first = (inner - w_start) / h
    known = w_start + (1.0 - GAMMA) * part * first
    w = _stage(case, road, k, x1, known, h, mode, gear, known + h * first, cap_w(limit, k, x1))
    return w, (w - known) / h
