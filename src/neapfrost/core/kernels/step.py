"""One step along the path: dw/ds = 2a(s, w), solved so that the grip limit is no cliff.

Far below the limit nothing is stiff and the explicit midpoint rule does. Close to it the scheme is
the two-stage, L-stable, second-order SDIRK method (R. Alexander, SIAM J. Numer. Anal. 14 (1977)
1006-1021): there the tyres' spare force falls with the root of the distance to the limit, so an
explicit step would oscillate about the speed at which drive and resistance balance.

Steps have many parameters: arrays and numbers are handed on singly, because a bundle of arrays
taken apart at some hundred thousand calls a lap costs more than the step itself.
"""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import MASS, ROTATING, ROTATING_WHEELS
from neapfrost.core.kernels.forces import BOTH, LEAST, driven_force, force_range
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force, left_at_tyres, overrun_force
from neapfrost.core.kernels.road import COEFFICIENTS

GAMMA = 1.0 - math.sqrt(0.5)

# What is done with the pedals; the first two are followed against the direction of travel.
BRAKING_BACKWARDS, COASTING_BACKWARDS, DRIVING, NEUTRAL = 0, 1, 2, 3

UNKNOWN = -1e9  # stands for a slope that is not known
OUTSIDE = -200.0  # dw/ds above the limit [m/s²]: far below anything a vehicle does
TOLERANCE = 1e-7
# Below this share of the limit's w a step is taken explicitly, and STRIDE of them as one.
FAR_BELOW = 0.8
STRIDE = 4
KINK_MOST = 0.001  # of the slope: a stride whose slope bends by more is taken step by step
ALIKE = 1e-6  # of a road's coefficient: a larger jump between two steps ends a stride


# Many parameters: see above.
@kernel
def pedal_force(
    case: Floats,
    least: float,
    greatest: float,
    resistance: float,
    mode: int,
    gear: int,
    v: float,
) -> float:
    """Tyre force [N] under a pedal mode, within what the tyres allow."""
    if mode == BRAKING_BACKWARDS:
        return least
    # With the clutch out only the wheels turn along.
    asked = left_at_tyres(case[ROTATING_WHEELS], 0.0, resistance)
    if mode == COASTING_BACKWARDS:
        asked = left_at_tyres(case[ROTATING + gear], -overrun_force(case, gear, v), resistance)
    return min(max(asked, least), greatest)


@kernel
def slope(case: Floats, road: Floats, k: int, x: float, w: float, mode: int, gear: int) -> float:
    """Dw along the direction in which the mode is followed [m/s²]; OUTSIDE above the limit."""
    if mode == DRIVING:
        asked = drive_force(case, road, k, gear, math.sqrt(w))
        force, resistance, possible, _ = driven_force(case, road, k, x, w, gear, asked)
        return 2.0 * (force - resistance) / case[MASS] if possible else OUTSIDE
    want = LEAST if mode == BRAKING_BACKWARDS else BOTH
    least, greatest, resistance, possible = force_range(case, road, k, x, w, want)
    if not possible:
        return OUTSIDE
    force = pedal_force(case, least, greatest, resistance, mode, gear, math.sqrt(w))
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
    """Solve w = known + h·slope(w) for w in [0, cap]; returns cap where the solution lies above.

    Secants of the residual w - known - h·slope(w), within a bracket as soon as there is one.
    """
    tolerance = TOLERANCE * (1.0 + known)
    last = min(max(guess, 0.0), cap)
    reached = known + h * slope(case, road, k, x, last, mode, gear)
    residual_last = last - reached
    if abs(residual_last) <= tolerance:
        return min(max(reached, 0.0), cap)
    low, high = 0.0, cap
    bracketed = False
    if residual_last < 0.0:
        low = last
    else:
        high = last
        bracketed = True
    w = min(max(reached, 0.0), cap)
    for turn in range(100):
        residual = w - known - h * slope(case, road, k, x, w, mode, gear)
        if w >= cap and residual <= 0.0:
            return cap
        if abs(residual) <= tolerance:
            return w
        if residual < 0.0:
            low = max(low, w)
        else:
            high = min(high, w)
            bracketed = True
        if bracketed and high - low <= tolerance:
            # No root but a jump, at the limit itself: stay on its possible side.
            return low
        following = cap
        if residual != residual_last:
            following = w - residual * (w - last) / (residual - residual_last)
        ratio = abs(residual / residual_last)
        left = abs(following - w) * ratio * ratio
        if ratio < 0.1 and low <= following <= high and left <= tolerance:
            # So fast does it converge that the next residual need not be asked for.
            return following
        if not low < following < high or (turn > 4 and turn % 3 == 0):
            following = 0.5 * (low + high) if bracketed else cap
        last, residual_last = w, residual
        w = following
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
    known: float,
) -> tuple[float, float, float]:
    """From the end of step k to its start; returns (w there, slope to start the next with, slope).

    `known` is the slope at the end of the step where it has been asked for, else UNKNOWN; the last
    figure returned is the slope at its start in the same way.
    """
    if w_end < FAR_BELOW * min(limit[k, 0], limit[k, 1]):
        at_end = known if known != UNKNOWN else slope(case, road, k, 1.0, w_end, mode, gear)
        half = w_end + 0.5 * length * at_end
        rate = slope(case, road, k, 0.5, max(half, 0.0), mode, gear)
        return max(w_end + length * rate, 0.0), rate, UNKNOWN
    top = limit[k, 0]
    if top <= 1.02 * w_end and w_end > 0.9 * limit[k, 1]:
        # Along the limit, or falling away from it backwards: is all of the step held by the tyres?
        rise = (top - w_end) / length
        at_end = known if known != UNKNOWN else slope(case, road, k, 1.0, w_end, mode, gear)
        if rise <= at_end:
            at_start = slope(case, road, k, 0.0, top, mode, gear)
            if rise <= at_start:
                return top, rise, at_start
    h = GAMMA * length
    x = 1.0 - GAMMA
    cap = cap_w(limit, k, x)
    inner = _stage(case, road, k, x, w_end, h, mode, gear, w_end + h * guess, cap)
    if inner >= cap:
        # The limit cuts the step: go on from the limit alone.
        rest = (1.0 - GAMMA) * length
        w = _stage(case, road, k, 0.0, inner, rest, mode, gear, inner, limit[k, 0])
        return w, (w - inner) / rest, UNKNOWN
    first = (inner - w_end) / h
    reached = w_end + (1.0 - GAMMA) * length * first
    w = _stage(case, road, k, 0.0, reached, h, mode, gear, reached + h * first, limit[k, 0])
    return w, (w - reached) / h, UNKNOWN


@kernel
def mark_strides(road: Floats, lengths: Floats, limit: Floats, low: Floats) -> None:
    """For each step the lowest limit of the STRIDE steps that begin with it, into `low` (n,).

    0 where they do not go on into each other smoothly, so that no speed is far below it: a stride
    would run over a jump of grip or slope, or over the end of the road.
    """
    n = len(lengths)
    smooth = 0
    for k in range(n - 1, -1, -1):
        low[k] = 0.0
        smooth = smooth + 1 if k + 1 < n and goes_on(road, k) else 0
        if smooth >= STRIDE - 1:
            least = math.inf
            for i in range(k, k + STRIDE):
                least = min(least, limit[i, 0], limit[i, 1])
            low[k] = least


@kernel
def goes_on(road: Floats, k: int) -> bool:
    """Whether step k goes on into the next without a jump."""
    # Counted and not broken off at the first, so that all columns are compared at once.
    jumps = 0
    for column in range(COEFFICIENTS):
        end, start = road[k, 1, column], road[k + 1, 0, column]
        jumps += abs(start - end) > ALIKE * (1.0 + abs(end))
    return jumps == 0


class StrideOf(NamedTuple):
    """A stride: w goes as w + first·s + bend·s²/2 + twist·s³/3; `last` is the slope at its end."""

    first: float
    bend: float
    twist: float
    last: float


# Many parameters: see `step.py`.
@kernel
def stride_from(
    case: Floats,
    road: Floats,
    lengths: Floats,
    k: int,
    way: int,
    w: float,
    mode: int,
    gear: int,
    known: float,
) -> StrideOf:
    """STRIDE steps as one, from the start of step k on (`way` 1) or from its end back (-1).

    Kutta's third-order method over two and two of them. `known` is the slope at the beginning
    where it has been asked for, else UNKNOWN. `last` is UNKNOWN where the limit is met after all,
    or where the slope bends so much that the steps must be taken one by one.
    """
    half = whole = 0.0
    for i in range(STRIDE):
        whole += lengths[k + way * i]
        if i < STRIDE // 2:
            half = whole
    x = 0.0 if way > 0 else 1.0
    first = known if known != UNKNOWN else slope(case, road, k, x, w, mode, gear)
    ahead = max(w + half * first, 0.0)
    middle = slope(case, road, k + way * (STRIDE // 2), x, ahead, mode, gear)
    ahead = max(w + whole * (2.0 * middle - first), 0.0)
    last = slope(case, road, k + way * (STRIDE - 1), 1.0 - x, ahead, mode, gear)
    kink = abs(first - 2.0 * middle + last)
    if kink > KINK_MOST * abs(first) or OUTSIDE in (first, middle, last):
        return StrideOf(first, 0.0, 0.0, UNKNOWN)
    to_middle, to_last = (middle - first) / half, (last - first) / whole
    twist = (to_last - to_middle) / (whole - half)
    return StrideOf(first, to_middle - twist * half, twist, last)


@kernel
def stride_w(w: float, stride: StrideOf, way: float) -> float:
    """Squared speed so far into a stride."""
    change = stride.first + way * (0.5 * stride.bend + way * stride.twist / 3.0)
    return max(w + way * change, 0.0)


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
