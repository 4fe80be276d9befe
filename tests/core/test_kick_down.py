"""A gear taken on a climb is shifted up from again, whatever was decided for the gear above."""

import numpy as np
import pytest

from core.builders import AIR_12, PURE, road_car
from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.backward import backward_pass
from neapfrost.core.kernels.bundles import GEAR, HOLDING, OFF_SINCE, TRACK_COLUMNS, Course, Driven
from neapfrost.core.kernels.case import LIMITER_W
from neapfrost.core.kernels.drive import HOLD, SHIFT_WHEN_STRONGER
from neapfrost.core.kernels.forward import REPEATS, forward_range
from neapfrost.core.kernels.limits import limit_pass
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Circuit, Straight
from neapfrost.core.records import Engine

#: So steep that the fourth gear does not hold its speed, and then level to the end.
CLIMB = Circuit(
    "climb", False, (Straight(250.0, grade_pct=12.0), Straight(900.0)), grade_blend_m=20.0
)
FOURTH = 3
#: With this little torque it is the engine, and not the tyres, that gives way on the climb.
WEAK = road_car(
    engine=Engine(
        ((3000.0, 110.0), (5000.0, 135.0), (6500.0, 138.0), (7800.0, 120.0)), 7800.0, 0.93
    )
)


def driven_on(rule: int) -> tuple[Floats, Integers, Floats]:
    """Squared speeds and the track of a lap begun in fourth at 30 m/s with some holding rule."""
    path = build_path(CLIMB)
    case = pack_case(WEAK, AIR_12, PURE, path.altitude_m)
    road, lengths = pack_road(path)
    n = len(lengths)
    course = Course(case, road, lengths, np.empty((n, 2)), np.zeros(n), np.empty(n + 1), False)
    assert limit_pass(case, road, course.limit) < 0
    coast_gear = np.full(n, -1, dtype=np.int64)
    backward_pass(course, coast_gear)
    driven = Driven(
        np.zeros(n + 1),
        np.zeros(n + 1),
        np.zeros(n + 1),
        np.zeros((n + 1, TRACK_COLUMNS), dtype=np.int64),
        np.full(n, -1.0),
        np.full(1, -1e9),
    )
    driven.w[0] = 30.0**2
    driven.track[0, [GEAR, HOLDING, OFF_SINCE]] = FOURTH, rule, -1
    status, node = forward_range(course, driven, coast_gear, 0, n, n)
    assert (status, node) == (REPEATS, n)
    return driven.w, driven.track, case


@pytest.mark.parametrize("rule", [SHIFT_WHEN_STRONGER, HOLD])
def test_what_was_held_above_is_not_held_below(rule: int) -> None:
    w, track, case = driven_on(rule)
    lowest = int(track[:, GEAR].min())
    assert lowest < FOURTH
    # Out of the climb it is driven up through the gears, not on the limiter to the end.
    assert track[-1, GEAR] > lowest
    at_limiter = w >= case[LIMITER_W + track[:, GEAR]] * (1.0 - 1e-6)
    assert at_limiter.mean() < 0.05


def test_the_same_lap_whatever_had_been_decided_before() -> None:
    plain, held = driven_on(SHIFT_WHEN_STRONGER)[0], driven_on(HOLD)[0]
    np.testing.assert_allclose(held, plain, rtol=1e-12)
