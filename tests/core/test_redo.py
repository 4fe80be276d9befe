"""What is driven again and taken in strides is what the whole lap, step by step, comes to."""

import numpy as np
import pytest

from neapfrost.core.kernels.backward import backward_pass
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.forces import GREATEST, force_range, holding_margin
from neapfrost.core.kernels.limits import CEILING_W, LIMIT_WIDTH, limit_pass
from neapfrost.core.kernels.redo import lower_again
from neapfrost.core.kernels.step import mark_strides
from neapfrost.core.lap.drive import packed
from neapfrost.demo.plans import composed
from neapfrost.services.laps.planned import planned

PLANS = pytest.mark.parametrize(
    "plan_id", ["k4-dry", "garganey-damp", "sanderling-fen", "dunlin-samphire", "turnstone-bowl"]
)


def course_of(plan_id: str, strides: bool = True) -> Course:
    """A demo plan's road with its limits; the ceiling is still to be filled."""
    work = packed(planned(composed(plan_id)).drive)
    n = len(work.lengths)
    limit, low = np.empty((n, 2)), np.zeros(n)
    assert limit_pass(work.case, work.road, limit) < 0
    if strides:
        mark_strides(work.road, work.lengths, limit, low)
    return Course(work.case, work.road, work.lengths, limit, low, np.empty(n + 1), work.closed)


@PLANS
def test_a_limit_is_held_and_nothing_above_it(plan_id: str) -> None:
    course = course_of(plan_id)
    case, road, limit = course.case, course.road, course.limit
    draw = np.random.default_rng(3)
    for k in range(0, len(limit), 23):
        for end in (0, 1):
            w = float(limit[k, end])
            assert force_range(case, road, k, float(end), w, GREATEST)[3]
            # Where the margin has a kink the limit is known a few times less closely.
            above = w * (1.0 + 6.0 * LIMIT_WIDTH)
            assert w >= CEILING_W or not force_range(case, road, k, float(end), above, GREATEST)[3]
            for share in draw.uniform(0.2, 2.5, 2):
                there = (case, road, k, float(end), w * share)
                assert (holding_margin(*there)[0] >= 0.0) == force_range(*there, GREATEST)[3]


@PLANS
def test_strides_brake_as_single_steps_do(plan_id: str) -> None:
    course, single = course_of(plan_id), course_of(plan_id, strides=False)
    assert (course.stride_limit > 0.0).any()
    free = np.full(len(course.lengths), -1)
    backward_pass(course, free)
    backward_pass(single, free)
    assert course.ceiling == pytest.approx(single.ceiling, rel=2e-4)


@PLANS
def test_a_ceiling_brought_up_to_date_is_the_one_of_a_whole_pass(plan_id: str) -> None:
    """Also where what is lowered bears on the end of the lap across the line."""
    course = course_of(plan_id)
    n = len(course.lengths)
    free, changed = np.full(n, -1), np.zeros(n, dtype=np.int64)
    backward_pass(course, free)
    for node in (2, n // 3, n - 40):
        held = 0.3 * min(course.ceiling[node], 900.0)
        course.limit[node - 1, 1] = course.limit[node, 0] = held
        changed[node - 1] = changed[node] = 1
    mark_strides(course.road, course.lengths, course.limit, course.stride_limit)
    whole = course._replace(ceiling=np.empty(n + 1))
    backward_pass(whole, free)
    lower_again(course, free, changed)
    assert course.ceiling == pytest.approx(whole.ceiling, rel=2e-4)
