"""The kernels one by one, on roads of a few steps whose answers are known."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.builders import AIR_12, PURE, G, course, plain_vehicle, ring, road_car
from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.backward import backward_pass
from neapfrost.core.kernels.bundles import Course
from neapfrost.core.kernels.case import FORCE_PER_NM, LIMITER_W, MASS, UPSHIFT_W
from neapfrost.core.kernels.drive import AT_NODE, HOLD, SHIFT_DUE, SHIFT_WHEN_STRONGER, advance
from neapfrost.core.kernels.forces import BOTH, GREATEST, LEAST, axle_use, force_range
from neapfrost.core.kernels.limits import CEILING_W, limit_pass
from neapfrost.core.kernels.powertrain import (
    engine_force,
    engine_torque,
    overrun_force,
    strongest_force,
    strongest_gear,
)
from neapfrost.core.kernels.step import (
    BRAKING_BACKWARDS,
    DRIVING,
    NEUTRAL,
    UNKNOWN,
    step_back,
    step_on,
)
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Circuit, Straight
from neapfrost.core.records import Aero, Brakes, Driver, DriverUse, Engine, Vehicle, VehicleKind


def packed(vehicle: Vehicle, driver: Driver = PURE) -> Floats:
    return pack_case(vehicle, AIR_12, driver)


def road_of(circuit: Circuit, step_m: float = 1.0) -> tuple[Floats, Floats]:
    return pack_road(build_path(circuit, step_m))


def limits(case: Floats, road: Floats) -> Floats:
    limit = np.empty((len(road), 2))
    assert limit_pass(case, road, limit) == -1
    return limit


FLAT = course(Straight(200.0))


def test_the_torque_curve_is_linear_between_its_points_and_held_beyond_them() -> None:
    case = packed(road_car())
    assert engine_torque(case, 2, 4000.0) == pytest.approx(310.0)
    assert engine_torque(case, 2, 3000.0) == pytest.approx(280.0)
    assert engine_torque(case, 2, 7700.0) == pytest.approx(345.0 - 45.0 * 1200.0 / 1300.0)
    assert engine_torque(case, 2, 9000.0) == pytest.approx(300.0)
    # The clutch slips in first gear only.
    assert engine_torque(case, 0, 1000.0) == pytest.approx(280.0)
    assert engine_torque(case, 1, 2999.0) == 0.0


def test_force_at_the_tyres_is_torque_times_ratio_times_efficiency_over_radius() -> None:
    case = packed(road_car())
    assert case[FORCE_PER_NM + 2] == pytest.approx(1.7 * 3.9 * 0.93 / 0.32)
    speed = 5000.0 * math.pi / 30.0 * 0.32 / (1.7 * 3.9)
    assert engine_force(case, 2, speed) == pytest.approx(340.0 * 1.7 * 3.9 * 0.93 / 0.32)
    # 12 % of the peak torque at the rev limit, linear in rpm, without the efficiency.
    assert overrun_force(case, 2, speed) == pytest.approx(
        0.12 * 345.0 * 5000.0 / 7800.0 * 1.7 * 3.9 / 0.32
    )


def test_the_strongest_gear_is_the_lowest_that_may_still_turn() -> None:
    case = packed(road_car())
    for speed in (5.0, 15.0, 25.0, 40.0, 60.0):
        forces = [
            engine_force(case, gear, speed)
            for gear in range(6)
            if speed * speed <= case[LIMITER_W + gear]
        ]
        assert strongest_force(case, speed) == pytest.approx(max(forces))
    assert strongest_gear(case, 5.0) == 0
    assert strongest_force(case, 120.0) == 0.0


def test_upshifts_are_due_where_the_next_gear_pulls_as_hard_or_at_the_limiter() -> None:
    falling = Engine(((1000.0, 400.0), (4000.0, 400.0), (8000.0, 80.0)), 8000.0, 1.0)
    case = packed(replace(road_car(), engine=falling))
    for gear in range(5):
        speed = math.sqrt(case[UPSHIFT_W + gear])
        assert engine_force(case, gear + 1, speed) == pytest.approx(
            engine_force(case, gear, speed), rel=1e-3
        )
        assert case[UPSHIFT_W + gear] < case[LIMITER_W + gear]
    flat = packed(replace(road_car(), engine=Engine(((1000.0, 300.0), (8000.0, 300.0)), 8000.0, 1)))
    assert flat[UPSHIFT_W] == flat[LIMITER_W]
    assert flat[UPSHIFT_W + 5] == math.inf


def test_the_range_of_forces_of_a_rear_driven_car_on_the_flat() -> None:
    vehicle = plain_vehicle(cg_height_m=0.5, rear_drive_fraction=1.0, brakes=Brakes(0.6, None))
    road, _ = road_of(FLAT)
    least, greatest, resistance, possible = force_range(packed(vehicle), road, 3, 0.5, 400.0, BOTH)
    assert possible
    assert resistance == 0.0
    weight, moved = 1000.0 * G, 0.5 / 2.5
    assert greatest == pytest.approx(1.5 * 0.5 * weight / (1.0 - 1.5 * moved))
    front = 1.5 * 0.5 * weight / (0.6 - 1.5 * moved)
    rear = 1.5 * 0.5 * weight / (0.4 + 1.5 * moved)
    assert least == pytest.approx(-min(front, rear))


def test_asking_for_one_end_gives_the_same_end() -> None:
    case = packed(road_car())
    road, _ = road_of(ring(60.0, banking_deg=4.0))
    for w in (50.0, 300.0, 600.0, 800.0):
        least, greatest, _, possible = force_range(case, road, 5, 0.3, w, BOTH)
        assert possible
        assert force_range(case, road, 5, 0.3, w, LEAST)[0] == pytest.approx(least)
        assert force_range(case, road, 5, 0.3, w, GREATEST)[1] == pytest.approx(greatest)


@pytest.mark.parametrize("exponent", [1.2, 2.0, 2.8])
@pytest.mark.parametrize(
    "vehicle",
    [
        road_car(),
        road_car(rear_drive_fraction=0.0),
        road_car(rear_drive_fraction=0.55),
        road_car(aero=Aero(5.0, 1.2, 0.6)),
        road_car(kind=VehicleKind.MOTORCYCLE, cg_height_m=0.65, wheelbase_m=1.42),
    ],
    ids=["rear", "front", "four-wheel", "wings", "motorcycle"],
)
def test_at_both_ends_of_the_range_one_axle_is_at_its_limit(
    vehicle: Vehicle, exponent: float
) -> None:
    driver = replace(PURE, entry_exponent=exponent, exit_exponent=exponent)
    case = packed(vehicle, driver)
    road, _ = road_of(ring(70.0))
    for w in (100.0, 400.0, 700.0):
        least, greatest, _, possible = force_range(case, road, 4, 0.0, w, BOTH)
        assert possible
        for force in (least, greatest):
            use = axle_use(case, road, 4, 0.0, w, force)
            lifted = min(use[2], use[3]) < 1.0
            assert lifted or max(use[:2]) == pytest.approx(1.0, abs=1e-5)


@pytest.mark.parametrize("radius", [20.0, 60.0, 150.0])
@pytest.mark.parametrize("lift", [0.0, 3.0])
def test_just_below_the_limit_a_force_exists_and_just_above_none_does(
    radius: float, lift: float
) -> None:
    case = packed(road_car(aero=Aero(lift, 1.0, 0.45)))
    road, _ = road_of(ring(radius, banking_deg=3.0))
    limit = limits(case, road)
    assert limit[2, 0] < CEILING_W
    assert force_range(case, road, 2, 0.0, limit[2, 0], BOTH)[3]
    assert not force_range(case, road, 2, 0.0, limit[2, 0] * (1.0 + 1e-5), BOTH)[3]


def test_a_straight_has_no_limit() -> None:
    road, _ = road_of(FLAT)
    assert limits(packed(road_car()), road).min() == CEILING_W


def test_driver_use_scales_each_direction_alone() -> None:
    road, _ = road_of(FLAT)
    plain = force_range(packed(plain_vehicle()), road, 0, 0.0, 100.0, BOTH)
    used = replace(PURE, use=DriverUse(braking=0.8, cornering=0.9, traction=0.7))
    shared = force_range(packed(plain_vehicle(), used), road, 0, 0.0, 100.0, BOTH)
    assert shared[0] == pytest.approx(0.8 * plain[0])
    assert shared[1] == pytest.approx(0.7 * plain[1])
    curve, _ = road_of(ring(50.0))
    assert limits(packed(plain_vehicle(), used), curve)[0, 0] == pytest.approx(
        0.9 * 1.5 * G * 50.0, rel=1e-5
    )


def after(length: float, count: int, w: float, mode: int) -> float:
    """Squared speed after `count` equal steps over a straight with drag."""
    vehicle = plain_vehicle(aero=Aero(0.0, 2.0, 0.5))
    case = packed(vehicle)
    road, lengths = road_of(course(Straight(length * 2)), length / count)
    limit = limits(case, road)
    guess = 0.0
    for k in range(count):
        w, guess = step_on(case, road, limit, k, 0.0, 1.0, lengths[k], w, mode, 0, guess)
    return w


def test_rolling_against_drag_follows_the_exponential_to_second_order() -> None:
    """dw/ds = -2·(½ρCdA/m)·w."""
    rate = 1.2 * 2.0 / 1000.0
    exact = 2500.0 * math.exp(-rate * 100.0)
    coarse = abs(after(100.0, 5, 2500.0, NEUTRAL) - exact)
    fine = abs(after(100.0, 10, 2500.0, NEUTRAL) - exact)
    assert coarse / fine == pytest.approx(4.0, rel=0.1)
    assert after(100.0, 100, 2500.0, NEUTRAL) == pytest.approx(exact, rel=1e-6)


def test_a_step_back_undoes_a_step_of_braking() -> None:
    case = packed(road_car())
    road, lengths = road_of(FLAT)
    limit = limits(case, road)
    given = (lengths[10], 900.0, BRAKING_BACKWARDS, 0, 0.0, UNKNOWN)
    w, _, _ = step_back(case, road, limit, 10, *given)
    least, _, resistance, _ = force_range(case, road, 10, 0.5, 0.5 * (w + 900.0), LEAST)
    slowed = 2.0 * lengths[10] * (resistance - least) / case[MASS]
    assert w - 900.0 == pytest.approx(slowed, rel=1e-5)


def test_a_corner_is_left_below_its_limit_and_never_above_it() -> None:
    """Full throttle on a ring settles where drive and drag balance, without swinging about it."""
    case = packed(road_car())
    road, lengths = road_of(ring(60.0))
    limit = limits(case, road)
    w, guess = limit[0, 0], 0.0
    speeds = [w]
    for k in range(len(lengths)):
        w, guess = step_on(case, road, limit, k, 0.0, 1.0, lengths[k], w, DRIVING, 2, guess)
        speeds.append(w)
    assert max(speeds) <= limit[0, 0] * (1.0 + 1e-6)
    # A swing shows as changes of direction beyond rounding.
    moves = np.diff(speeds)
    swings = np.flatnonzero((moves[1:] * moves[:-1] < 0.0) & (np.abs(moves[1:]) > 1e-4))
    assert len(swings) == 0
    assert 0.99 * limit[0, 0] < speeds[-1] < limit[0, 0]


def test_advance_stops_exactly_where_a_shift_is_due() -> None:
    vehicle = plain_vehicle(
        engine=Engine(((500.0, 300.0), (6000.0, 300.0)), 6000.0, 1.0, 0.0),
    )
    vehicle = replace(vehicle, gearbox=replace(vehicle.gearbox, ratios=(2.0, 1.0)))
    case = packed(vehicle)
    road, lengths = road_of(FLAT)
    limit = limits(case, road)
    due = case[UPSHIFT_W]
    start = due - 6.0  # 6 m/s²: half a metre before the shift
    why, share, w, waiting, time, _ = advance(
        case, road, limit, 0, 0.0, lengths[0], start, 0, 0.0, SHIFT_WHEN_STRONGER, 0.0
    )
    assert why == SHIFT_DUE
    assert share == pytest.approx(0.5)
    assert w == pytest.approx(due)
    assert time == pytest.approx(2.0 * 0.5 / (math.sqrt(start) + math.sqrt(due)))
    assert waiting == 0.0
    # Holding instead, the limiter keeps the speed.
    why, share, w, _, _, _ = advance(
        case, road, limit, 0, 0.0, lengths[0], start, 0, 0.0, HOLD, 0.0
    )
    assert (why, share) == (AT_NODE, 1.0)
    assert w == pytest.approx(due)


@pytest.mark.parametrize(
    ("grade_pct", "kept"),
    [(0.0, True), (3.0, True), (8.0, True), (-1.0, True), (45.0, False), (-20.0, False)],
)
def test_the_limiter_is_held_where_the_road_allows_it(grade_pct: float, kept: bool) -> None:
    """The engine gives 47 % of the weight at the limiter of this gear."""
    vehicle = road_car()
    case = packed(vehicle)
    road, lengths = road_of(course(Straight(200.0, grade_pct=grade_pct)))
    limit = limits(case, road)
    gear = 2
    at_most = case[LIMITER_W + gear]
    k = 90  # where the grade is what it says
    why, share, w, waiting, time, _ = advance(
        case, road, limit, k, 0.0, lengths[k], at_most, gear, 0.0, HOLD, 0.0
    )
    assert (why, share, waiting) == (AT_NODE, 1.0, 0.0)
    v = math.sqrt(at_most)
    if kept:
        assert w == at_most
    else:
        # Downhill it rolls on past the limiter, off the throttle; uphill the engine is too weak.
        force = 0.0 if grade_pct < 0.0 else engine_force(case, gear, v)
        held_back = force_range(case, road, k, 0.5, at_most, BOTH)[2]
        gained = 2.0 * lengths[k] * (force - held_back) / case[MASS]
        assert w - at_most == pytest.approx(gained, rel=0.02)
        assert (w > at_most) == (grade_pct < 0.0)
    assert time == pytest.approx(2.0 * lengths[k] / (v + math.sqrt(w)), rel=1e-9)


def test_a_shift_that_ends_inside_a_step_splits_it() -> None:
    vehicle = plain_vehicle(engine=Engine(((500.0, 300.0), (6000.0, 300.0)), 6000.0, 1.0, 0.0))
    case = packed(vehicle)
    road, lengths = road_of(FLAT)
    limit = limits(case, road)
    speed, wait = 20.0, 0.02  # 0.4 m without drive, 0.6 m with 3 m/s²
    _, _, w, waiting, _, _ = advance(
        case, road, limit, 0, 0.0, lengths[0], speed**2, 0, wait, SHIFT_WHEN_STRONGER, 0.0
    )
    assert waiting == 0.0
    assert w == pytest.approx(speed**2 + 2.0 * 3.0 * 0.6, rel=1e-6)


def test_the_backward_pass_of_a_closed_lap_agrees_with_itself_at_the_line() -> None:
    circuit = Circuit("ring", True, (Straight(80.0), *ring(30.0).segments))
    case = packed(road_car())
    road, lengths = road_of(circuit)
    limit = limits(case, road)
    ceiling = np.empty(len(lengths) + 1)
    free = np.full(len(lengths), -1, dtype=np.int64)
    backward_pass(Course(case, road, lengths, limit, np.zeros(len(lengths)), ceiling, True), free)
    assert ceiling[0] == ceiling[-1]
    assert bool(np.all(ceiling[:-1] <= limit[:, 0] * (1.0 + 1e-9)))
    in_corner = ceiling[-1]
    assert ceiling[40] > in_corner
