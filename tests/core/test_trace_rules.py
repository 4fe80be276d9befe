"""What the trace of a lap may hold: grip is kept to, brakes come before throttle, gears in time."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import PURE, lap_of, road_car
from core.test_random_plans import STEP_M, cars, courses
from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.off_throttle import false_start, goes_on
from neapfrost.core.kernels.profile import axles_in_use
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.record import Lap, places_on_grid
from neapfrost.core.lap.solve import solve
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Aero, Brakes, Driver, Tyres, Vehicle
from neapfrost.demo.plans import demo_plans
from neapfrost.services.laps.planned import planned

BRAKES = (Brakes(0.6, None), Brakes(None, None), Brakes(0.68, 9000.0))

#: In a ramp of 8 m the grip changes by a tenth within a metre: the mean force of a step at the
#: limit is a little more than its middle holds. At most roads it is a hundredth of that.
USE_MOST_IN_RAMPS = 1.03
USE_MOST = 1.007
#: Known fault: in the one step that ends where a tightening bend turns straight at once, the brake
#: may ask for a twelfth too much.
USE_MOST_AT_JUMPS = 1.09


def axle_use(lap: Lap) -> Floats:
    """The larger axle's use of its grip, at the middle of each interval of the lap."""
    w = lap.v_ms**2
    step, share = places_on_grid(lap.path, 0.5 * (lap.s_m[:-1] + lap.s_m[1:]))
    use = np.empty((len(step), 2))
    middle = 0.5 * (w[:-1] + w[1:])
    axles_in_use(lap.packed.case, lap.packed.road, step, share, middle, lap.force_n[:-1], use)
    most: Floats = use.max(axis=1)
    return most


def uses(lap: Lap, step_m: float) -> tuple[float, float, float]:
    """The most that is used anywhere, in intervals shorter than a step, and in whole steps.

    Intervals that touch a place where the curvature jumps are looked at by themselves.
    """
    path, use = lap.path, axle_use(lap)
    jumps = np.abs(path.curvature_end[:-1] - path.curvature_start[1:]) > 1e-6
    places = path.s_m[1:-1][jumps]
    beside = np.zeros(len(use), dtype=bool)
    for place in places:
        beside |= (lap.s_m[:-1] <= place + 1e-6) & (lap.s_m[1:] >= place - 1e-6)
    assert use[beside].max(initial=0.0) < USE_MOST_AT_JUMPS
    whole = np.diff(lap.s_m) > 0.9 * step_m
    use = np.where(beside, 0.0, use)
    return float(use.max()), float(use[~whole].max(initial=0.0)), float(use[whole].max())


@pytest.mark.parametrize("plan", demo_plans(), ids=lambda plan: plan.id)
def test_no_axle_of_a_demo_lap_is_asked_for_more_than_it_has(plan) -> None:  # type: ignore[no-untyped-def]
    """Motorcycles too: brakes without a stated share use each axle to its own limit."""
    use = axle_use(solve(planned(plan.document).drive))
    assert use.max() < USE_MOST


@given(
    course=courses(),
    car=cars(),
    brakes=st.sampled_from(BRAKES),
    driver=st.sampled_from((Driver(), PURE)),
)
def test_no_axle_is_asked_for_more_than_it_has(
    course: Circuit, car: Vehicle, brakes: Brakes, driver: Driver
) -> None:
    braked = replace(car, brakes=brakes)
    most, short, whole = uses(lap_of(course, braked, driver=driver), STEP_M)
    # Where a lift or a ramp begins or ends inside a step nothing sticks out of its surroundings.
    if most < USE_MOST_IN_RAMPS and short < max(USE_MOST, whole):
        return
    # Beyond that, in a steep ramp, it is the step's own: it goes as the steps become shorter.
    finer = uses(lap_of(course, braked, driver=driver, step_m=0.25 * STEP_M), 0.25 * STEP_M)[0]
    assert finer - 1.0 < max(0.5 * (max(most, short) - 1.0), USE_MOST - 1.0)


@given(course=courses(), car=cars(), driver=st.sampled_from((Driver(), PURE)))
def test_nothing_is_driven_up_between_two_touches_of_the_brake(
    course: Circuit, car: Vehicle, driver: Driver
) -> None:
    lap = lap_of(course, car, driver=driver)
    for zone in lap.zones:
        inside = (lap.s_m > zone.brake_start_at_m) & (lap.s_m < zone.brake_end_at_m - 1e-6)
        v = lap.v_ms[inside]
        assert (np.diff(v) <= 5e-3).all()


@given(
    course=courses(),
    car=cars(),
    shifts_s=st.sampled_from(((0.0, 0.0), (0.08, 0.0), (0.0, 0.12), (0.08, 0.12))),
)
def test_downshifts_are_made_in_the_zone_or_before_the_slowest_point(
    course: Circuit, car: Vehicle, shifts_s: tuple[float, float]
) -> None:
    box = replace(car.gearbox, upshift_s=shifts_s[0], downshift_s=shifts_s[1])
    lap = lap_of(course, replace(car, gearbox=box), driver=Driver())
    for corner in corner_results(lap, []):
        ends = [zone.brake_end_at_m for zone in lap.zones if zone.lift_at_m == corner.lift_at_m]
        latest = max([corner.min_speed_at_m, *ends])
        assert all(shift.at_m <= latest + STEP_M for shift in corner.downshifts)


def test_a_gear_left_open_is_chosen_where_the_throttle_opens() -> None:
    """Held in a long tightening corner after braking, the car does not leave it in fourth.

    At the slowest point the gear is left open, because the corner asks for the brakes once more;
    it is then held on part throttle to the end, and no braking comes that would settle it.
    """
    segments = (
        Straight(138.1, grade_pct=2.1),
        Bend("Long", 1, 62.1, 113.4, end_radius_m=49.7, banking_deg=-1.7),
        Straight(218.1, grade_pct=2.2),
        Bend("On", 1, 92.4, 40.7, end_radius_m=120.1, transition_m=8.0, banking_deg=6.2),
        Straight(251.7, grade_pct=3.8),
        Straight(150.0),
    )
    course = Circuit("held", False, segments, start_speed_ms=43.0, grade_blend_m=40.0)
    weak = road_car()
    curve = tuple((rpm, 0.71 * torque) for rpm, torque in weak.engine.torque_curve)
    car = replace(
        weak,
        tyres=Tyres(1.587, 1.508, 0.08, 0.32, 0.013),
        aero=Aero(1.083, 0.831, 0.42),
        engine=replace(weak.engine, torque_curve=curve),
    )
    corners = corner_results(lap_of(course, car, driver=Driver()), [])
    assert [corner.gear for corner in corners] == [2, 4]


@pytest.mark.parametrize(
    ("lasted_s", "gap_s", "ended_w", "ends_w", "one"),
    [
        (1.0, 0.29, 400.0, 399.0, True),
        (1.0, 0.31, 400.0, 399.0, False),
        (1.0, 0.05, 400.0, 401.0, False),  # the later one ends faster: another zone
        (0.05, 0.04, 400.0, 399.0, True),
        (0.05, 0.06, 400.0, 399.0, False),  # more throttle than there was brake
    ],
)
def test_which_stretches_are_one_zone(
    lasted_s: float, gap_s: float, ended_w: float, ends_w: float, one: bool
) -> None:
    assert goes_on(lasted_s, gap_s, ended_w, ends_w) is one
    assert false_start(lasted_s, gap_s) is (lasted_s < 0.1 and gap_s > lasted_s)
