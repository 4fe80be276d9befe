"""How fast a corner would be arrived at if it were not there: what its limit costs in speed."""

import math

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.backward import backward_range
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.drive import SHIFT_WHEN_STRONGER, stride_on
from neapfrost.core.kernels.gear_race import drive_to_node
from neapfrost.core.kernels.jit import allocating_kernel, kernel
from neapfrost.core.kernels.limits import CEILING_W
from neapfrost.core.kernels.road import COEFFICIENTS, Y0, Y2
from neapfrost.core.kernels.step import STRIDE, UNKNOWN, mark_strides, stride_w


@allocating_kernel
def arrivals_w(
    course: Course,
    at_m: Floats,
    start_w: float,
    gear: int,
    nodes: tuple[int, int, int],
    corner_m: tuple[float, float],
) -> tuple[float, float]:
    """Squared speeds at the nodes before and at `nodes[1]`, on full throttle from `nodes[0]`.

    Between the two places of `corner_m` the road asks for nothing sideways and has no limit;
    behind them, up to `nodes[2]`, the lap's own ceiling holds. Nodes are unfolded: on a closed
    lap they go on beyond its ends. `at_m` (n + 1,) are the positions of the lap's nodes.
    """
    case, road, lengths, limit, _stride_limit, ceiling, closed = course
    first, target, last = nodes
    n = len(lengths)
    count = last - first
    own_road = np.empty((count, 2, COEFFICIENTS))
    own_lengths = np.empty(count)
    own_limit = np.empty((count, 2))
    own_ceiling = np.empty(count + 1)
    coast = np.full(count, -1, dtype=np.int64)
    for i in range(count):
        k = (first + i) % n
        lap = (first + i) // n
        own_lengths[i] = lengths[k]
        for end in range(2):
            own_limit[i, end] = limit[k, end]
            for column in range(COEFFICIENTS):
                own_road[i, end, column] = road[k, end, column]
        middle = 0.5 * (at_m[k] + at_m[k + 1]) + lap * at_m[n]
        if corner_m[0] < middle < corner_m[1]:
            for end in range(2):
                own_road[i, end, Y0] = 0.0
                own_road[i, end, Y2] = 0.0
                own_limit[i, end] = CEILING_W
    own_ceiling[count] = ceiling[last % n] if closed else ceiling[last]
    own_stride_limit = np.empty(count)
    mark_strides(own_road, own_lengths, own_limit, own_stride_limit)
    own = Course(case, own_road, own_lengths, own_limit, own_stride_limit, own_ceiling, False)
    backward_range(own, coast, 0, count, False)
    return _driven_w(own, min(start_w, own_ceiling[0]), gear, target - first)


@kernel
def _driven_w(course: Course, w: float, gear: int, steps: int) -> tuple[float, float]:
    """Squared speeds after all but one and after all of so many steps under the ceiling."""
    waiting, guess, known = 0.0, 0.0, UNKNOWN
    before = w
    k = 0
    while k < steps:
        before = w
        if waiting == 0.0 and k + STRIDE < steps:
            stride, taken = stride_on(course, k, w, gear, SHIFT_WHEN_STRONGER, known)
            if taken < math.inf:
                way = 0.0
                for i in range(k, k + STRIDE):
                    way += course.lengths[i]
                w = stride_w(w, stride, way)
                guess = known = stride.last
                k += STRIDE
                continue
        w, gear, waiting, _, guess, _ = drive_to_node(
            course, k, 0.0, w, gear, waiting, SHIFT_WHEN_STRONGER, guess
        )
        known = UNKNOWN
        k += 1
    return before, w
