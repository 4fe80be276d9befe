"""The backward pass: the highest speed from which every later limit can still be met."""

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.step import (
    BRAKING_BACKWARDS,
    COASTING_BACKWARDS,
    FAR_BELOW,
    STRIDE,
    UNKNOWN,
    goes_on,
    step_back,
    stride_from,
    stride_w,
)


@kernel
def node_limit(limit: Floats, node: int, closed: bool) -> float:
    """Limit at a node: the lower of what the steps on its two sides allow there."""
    n = len(limit)
    if node == 0 or node == n:
        if closed:
            return min(limit[0, 0], limit[n - 1, 1])
        return limit[0, 0] if node == 0 else limit[n - 1, 1]
    return min(limit[node - 1, 1], limit[node, 0])


@kernel
def backward_range(
    course: Course, coast_gear: Integers, first: int, last: int, compare: bool
) -> bool:
    """Fill the course's ceiling (n + 1,) from node `last`, where it has its value, to node `first`.

    `coast_gear` (n,) is -1 where the brakes may be used, otherwise the gear in which the vehicle
    rolls with the throttle shut. With `compare` the pass stops where it falls into the values
    that are already there; returns whether it did.
    """
    case, road, lengths, limit, stride_limit, ceiling, closed = course
    guess, known = 0.0, UNKNOWN
    k = last
    while k > first:
        k -= 1
        gear = coast_gear[k]
        mode = BRAKING_BACKWARDS if gear < 0 else COASTING_BACKWARDS
        if known != UNKNOWN and not (coast_gear[k + 1] == gear and goes_on(road, k)):
            known = UNKNOWN  # the slope jumps here
        begin = k + 1 - STRIDE
        far_below = begin >= first and ceiling[k + 1] < FAR_BELOW * stride_limit[begin]
        if far_below and _alike(coast_gear, begin, gear):
            stride = stride_from(
                case, road, lengths, k, -1, ceiling[k + 1], mode, max(gear, 0), known
            )
            if stride.last != UNKNOWN:
                w_end, way = ceiling[k + 1], 0.0
                for node in range(k, begin - 1, -1):
                    way += lengths[node]
                    w = stride_w(w_end, stride, way)
                    if compare and w == ceiling[node]:
                        return True
                    ceiling[node] = w
                guess = known = stride.last
                k = begin
                continue
            known = stride.first
        reached, guess, known = step_back(
            case, road, limit, k, lengths[k], ceiling[k + 1], mode, max(gear, 0), guess, known
        )
        w = min(reached, node_limit(limit, k, closed))
        if w != reached:
            known = UNKNOWN
        if compare and w == ceiling[k]:
            return True
        ceiling[k] = w
    return False


@kernel
def _alike(coast_gear: Integers, begin: int, gear: int) -> bool:
    """Whether a stride's steps are all braked, or all rolled through in one gear."""
    alike = True
    for k in range(begin, begin + STRIDE):
        alike = alike and coast_gear[k] == gear
    return alike


@kernel
def backward_pass(course: Course, coast_gear: Integers) -> None:
    """Fill the course's ceiling for the whole lap; on a closed lap until its two ends agree."""
    n = len(course.lengths)
    ceiling = course.ceiling
    ceiling[n] = node_limit(course.limit, n, course.closed)
    backward_range(course, coast_gear, 0, n, False)
    if course.closed:
        let_ends_agree(course, coast_gear)


@kernel
def let_ends_agree(course: Course, coast_gear: Integers) -> None:
    """Carry what a closed lap's ceiling begins with round to its end, until both are the same."""
    n = len(course.lengths)
    ceiling = course.ceiling
    for _ in range(4):
        if ceiling[0] >= ceiling[n]:
            break
        ceiling[n] = ceiling[0]
        if backward_range(course, coast_gear, 0, n, True):
            break
    ceiling[0] = ceiling[n] = min(ceiling[0], ceiling[n])
