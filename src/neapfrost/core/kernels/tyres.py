"""What one axle can give along the road while it also holds the vehicle in the corner."""

import math
from typing import NamedTuple

from neapfrost.core.kernels.jit import kernel, leaf_kernel

NONE = (1.0, 0.0)  # an empty interval: its low end lies above its high end
GOLDEN = 0.5 * (math.sqrt(5.0) - 1.0)


@kernel
def axle_interval(
    load: float, gain: float, slip: float, lateral: float, p: float
) -> tuple[float, float]:
    """Interval of x >= 0 with load + gain·x >= ((slip·x)^p + lateral^p)^(1/p); empty: low > high.

    x is the vehicle's total driving or braking force [N]; `load` the axle's load at x = 0 and
    `gain` its change with x (load transfer); `slip` the axle's share of x over its friction
    coefficient; `lateral` its lateral force over its friction coefficient [N]. The difference of
    the two sides is concave in x, so the set is always one interval. (Combined slip as a
    superellipse of exponent p, Brayshaw and Harrison 2005; p = 2 has closed forms.)
    """
    if slip == 0.0:
        return _undriven_interval(load, gain, lateral)
    if p == 2.0:
        return _ellipse_interval(load, gain, slip, lateral)
    return _superellipse_interval(load, gain, slip, lateral, p)


@leaf_kernel
def axle_most(load: float, gain: float, slip: float, lateral: float, p: float) -> float:
    """The high end of `axle_interval` for an axle that holds without a force: load >= lateral."""
    square = slip * slip - gain * gain
    if slip == 0.0 or p != 2.0 or square <= 0.0:
        return axle_interval(load, gain, slip, lateral, p)[1]
    spare = (load - lateral) * (load + lateral)
    half = gain * load
    root = math.sqrt(half * half + square * spare)
    # The root that loses no digits: `square` may be next to nothing.
    return (half + root) / square if half >= 0.0 else spare / (root - half)


@kernel
def axle_reach(
    load: float, gain: float, slip: float, lateral: float, p: float
) -> tuple[float, float, float]:
    """The interval of `axle_interval`, and what the axle has left at the force that suits it best.

    What is left is the largest load + gain·x - ((slip·x)^p + lateral^p)^(1/p) [N]: at x = 0 where
    no load comes with the force, else where the slope of the norm is `gain`, which leaves
    load - lateral·c. It is smooth in the loads, where the ends of the interval meet with an
    infinite slope. Where no force holds the axle both ends are the one that suits it best.
    """
    best = 0.0
    left = load - lateral
    if gain >= slip and gain > 0.0:
        left = math.inf
    elif gain > 0.0:
        ratio = gain / slip
        if p == 2.0:
            root = math.sqrt(1.0 - ratio * ratio)
            left = load - lateral * root
            best = lateral / slip * ratio / root
        elif p > 1.0:
            drawn = ratio ** (p / (p - 1.0))
            left = load - lateral * (1.0 - drawn) ** ((p - 1.0) / p)
            best = lateral / slip * (drawn / (1.0 - drawn)) ** (1.0 / p)
    if left >= 0.0:
        low, high = axle_interval(load, gain, slip, lateral, p)
        if low <= high:
            return low, high, left
    return best, best, left


@kernel
def _undriven_interval(load: float, gain: float, lateral: float) -> tuple[float, float]:
    spare = load - lateral
    if spare >= 0.0:
        return 0.0, (math.inf if gain >= 0.0 else -spare / gain)
    if gain <= 0.0:
        return NONE
    return -spare / gain, math.inf


@kernel
def _ellipse_interval(load: float, gain: float, slip: float, lateral: float) -> tuple[float, float]:
    """Roots of (slip² - gain²)x² - 2·gain·load·x + lateral² = load² where load + gain·x >= 0."""
    square = slip * slip - gain * gain
    excess = (lateral - load) * (lateral + load)
    half = gain * load
    if square > 0.0:
        inside = half * half - square * excess
        if inside < 0.0:
            return NONE
        root = math.sqrt(inside)
        # Of the two roots the one without cancellation first: `square` may be next to nothing.
        if half >= 0.0:
            far = half + root
            high = far / square
            low = excess / far if far > 0.0 else 0.0
        else:
            far = half - root
            low = far / square
            high = excess / far
        if high < 0.0 or load + gain * 0.5 * (low + high) < 0.0:
            return NONE
        return max(low, 0.0), high
    # Load transfer outgrows the demand: the difference is monotone in x.
    spare = load - lateral
    if gain > 0.0:
        if spare >= 0.0:
            return 0.0, math.inf
        if square == 0.0:
            return (excess / (2.0 * half), math.inf) if half > 0.0 else NONE
        root = math.sqrt(max(half * half - square * excess, 0.0))
        return max(excess / (half + root), 0.0) if half + root > 0.0 else 0.0, math.inf
    if spare < 0.0:
        return NONE
    root = math.sqrt(max(half * half - square * excess, 0.0))
    bottom = root - half
    return 0.0, (-excess / bottom if bottom > 0.0 else 0.0)


@leaf_kernel
def norm(a: float, b: float, p: float) -> float:
    """(a^p + b^p)^(1/p) of two numbers >= 0."""
    largest, other = max(a, b), min(a, b)
    if other <= 0.0:
        return max(largest, 0.0)
    if p == 2.0:
        return math.sqrt(a * a + b * b)
    return float(largest * (1.0 + (other / largest) ** p) ** (1.0 / p))


@leaf_kernel
def axle_holds(
    load: float, gain: float, slip: float, lateral: float, p: float, force: float
) -> bool:
    """Whether a force lies in the interval of `axle_interval`, without looking for its ends."""
    left, drawn = load + gain * force, slip * force
    # Of the two the norm is no less than the larger and no more than the sum: no powers for these.
    if left < max(drawn, lateral):
        return False
    return left >= drawn + lateral or left >= norm(drawn, lateral, p)


@kernel
def _superellipse_gap(
    load: float, gain: float, slip: float, lateral: float, p: float, x: float
) -> tuple[float, float]:
    """Left side minus right side, and its slope; two powers."""
    drawn = slip * x
    if drawn <= 0.0:
        # The norm's slope at x = 0 is `slip` without lateral force and 0 with it (p > 1).
        return load - lateral, gain - (slip if lateral == 0.0 or p == 1.0 else 0.0)
    if drawn >= lateral:
        ratio = (lateral / drawn) ** p
        total = drawn * (1.0 + ratio) ** (1.0 / p)
        share = 1.0 / (1.0 + ratio)
    else:
        ratio = (drawn / lateral) ** p
        total = lateral * (1.0 + ratio) ** (1.0 / p)
        share = ratio / (1.0 + ratio)
    return load + gain * x - total, gain - share * total / x


@kernel
def _superellipse_interval(
    load: float, gain: float, slip: float, lateral: float, p: float
) -> tuple[float, float]:
    """Newton towards each end, from the ellipse's: monotone from outside, the gap being concave."""
    near_low, near_high = _ellipse_interval(load, gain, slip, lateral)
    low, high = 0.0, math.inf
    if gain < slip:
        # Beyond this the longitudinal share alone is more than the load.
        high = load / (slip - gain)
        if high <= 0.0:
            return NONE
        if lateral <= 0.0:
            return 0.0, high
        if near_low < near_high < high:
            high = _superellipse_end(load, gain, slip, lateral, p, near_high, high, -1.0)
        else:
            high = _superellipse_end(load, gain, slip, lateral, p, high, high, -1.0)
        if high < 0.0:
            return NONE
    if load - lateral < 0.0:
        begin = near_low if near_low < near_high else 0.0
        low = _superellipse_end(load, gain, slip, lateral, p, begin, 0.0, 1.0)
        if low < 0.0:
            return NONE
    return low, high


@kernel
def _superellipse_end(
    load: float,
    gain: float,
    slip: float,
    lateral: float,
    p: float,
    near: float,
    outside: float,
    rises: float,
) -> float:
    """An end of the interval, from a place near it; below 0 where there is none.

    `rises` is 1 where the gap rises there with x, at the low end, and -1 at the high one. Where the
    place near it lies on the gap's other flank the search begins `outside`.
    """
    x = near
    tolerance = 1e-9 * (1.0 + lateral)
    for turn in range(60):
        gap, slope = _superellipse_gap(load, gain, slip, lateral, p, x)
        if abs(gap) <= tolerance:
            return x
        if slope * rises <= 0.0:
            if turn > 0 or x == outside:
                # Past the top without having come to 0 from outside: nothing is held.
                return x if gap >= 0.0 else -1.0
            x = outside
            continue
        x -= gap / slope
        if x < 0.0:
            if rises < 0.0:
                return -1.0
            x = 0.0
    return x


class Axles(NamedTuple):
    """Both axles under brakes that use each to its own limit.

    Loads without any braking [N]; `gain` is the load that comes to the front for each newton of
    braking, `loses` what goes from the rear, the same where downforce stays; `slip_*` are 1/μ
    along the road; `lateral_*` lateral forces over their friction coefficients [N]; `p` the
    exponent of combined slip.
    """

    front: float
    rear: float
    gain: float
    loses: float
    slip_front: float
    slip_rear: float
    lateral_front: float
    lateral_rear: float
    p: float


@kernel
def ideal_brake_interval(axles: Axles) -> tuple[float, float]:
    """As `axle_interval`, for brakes that use each axle to its own limit.

    The total braking force x loads the front by `gain`·x and unloads the rear by `loses`·x; it may
    not exceed what both axles give together at those loads.
    """
    front, rear, gain, loses, _, _, lateral_front, lateral_rear, _ = axles
    low = 0.0
    if front < lateral_front:
        if gain <= 1e-9:
            return NONE
        low = (lateral_front - front) / gain
    if rear - loses * low < lateral_rear:
        return NONE
    high = (rear - lateral_rear) / loses if loses > 1e-9 else 1e9
    if _ideal_spare(axles, low) < 0.0:
        # The front axle may just hold the corner and, braked a little harder, help to brake.
        low = _least_ideal(axles, low, high)
        if low > high:
            return NONE
    if _ideal_spare(axles, high) >= 0.0:
        return low, high
    # Concave and positive at `low`: exactly one root above it.
    return low, _ideal_edge(axles, low, high)


@kernel
def ideal_brake_reach(axles: Axles) -> tuple[float, float, float]:
    """The interval of `ideal_brake_interval`, and how far it is from empty [N]; below 0 it is.

    As with `axle_reach` the amount goes through 0 where the interval closes.
    """
    front, rear, gain, _, _, _, lateral_front, lateral_rear, _ = axles
    short = min(front - lateral_front, 0.0)
    held = rear - lateral_rear + short
    if held < 0.0:
        return 0.0, 0.0, held
    low, high = ideal_brake_interval(axles)
    if low <= high:
        return low, high, min(held, high - low)
    least = -short / gain if gain > 1e-9 else 0.0
    return 0.0, 0.0, min(_ideal_spare(axles, least), -1e-9)


@kernel
def _least_ideal(axles: Axles, low: float, high: float) -> float:
    """Least braking force from which the axles hold the vehicle; infinite where none does.

    The spare is concave and negative at `low`: a golden section climbs until it is no longer
    negative, then the root below is bisected.
    """
    left, right = low, high
    inner = right - GOLDEN * (right - left)
    outer = left + GOLDEN * (right - left)
    at_inner = _ideal_spare(axles, inner)
    at_outer = _ideal_spare(axles, outer)
    for _ in range(60):
        if at_inner >= 0.0 or at_outer >= 0.0 or right - left < 1e-7 * right:
            break
        if at_inner > at_outer:
            right, outer, at_outer = outer, inner, at_inner
            inner = right - GOLDEN * (right - left)
            at_inner = _ideal_spare(axles, inner)
        else:
            left, inner, at_inner = inner, outer, at_outer
            outer = left + GOLDEN * (right - left)
            at_outer = _ideal_spare(axles, outer)
    if at_inner >= 0.0:
        return _ideal_edge(axles, inner, low)
    if at_outer >= 0.0:
        return _ideal_edge(axles, outer, low)
    return math.inf


@kernel
def _ideal_edge(axles: Axles, held: float, slides: float) -> float:
    """The last braking force that the axles hold on the way from one held to one that slides."""
    for _ in range(60):
        middle = 0.5 * (held + slides)
        if _ideal_spare(axles, middle) >= 0.0:
            held = middle
        else:
            slides = middle
        if abs(held - slides) < 1e-7 * max(held, slides):
            break
    return held


@kernel
def _ideal_spare(axles: Axles, x: float) -> float:
    """What both axles could still brake beyond x [N]."""
    return (
        longitudinal_left(axles.front + axles.gain * x, axles.lateral_front, axles.p)
        / axles.slip_front
        + longitudinal_left(axles.rear - axles.loses * x, axles.lateral_rear, axles.p)
        / axles.slip_rear
        - x
    )


@kernel
def longitudinal_left(load: float, lateral: float, p: float) -> float:
    """Share of an axle's load that its lateral force leaves for braking or driving."""
    if load <= lateral:
        return 0.0
    if p == 2.0:
        return math.sqrt((load - lateral) * (load + lateral))
    return load * (1.0 - (lateral / load) ** p) ** (1.0 / p)
