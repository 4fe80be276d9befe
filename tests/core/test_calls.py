"""The calls: each alternative against a lap solved alone, break-evens and worths by hand."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.builders import AIR_12, PURE, RHO, SHORT_LAP, G, plain_vehicle, road_car, solve_lap
from neapfrost.core.lap.altered_road import following, with_braking
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.drive import CornerOrder, Drive
from neapfrost.core.lap.orders import approach_m
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import (
    Aero,
    Conditions,
    Driver,
    Engine,
    Gearbox,
    GearSchool,
    Tyres,
    Vehicle,
)
from neapfrost.core.studies.braking import braking_call
from neapfrost.core.studies.flat import flat_call
from neapfrost.core.studies.gear import gear_call
from neapfrost.core.studies.hold import hold_call
from neapfrost.core.studies.linked import complexes
from neapfrost.core.studies.racing import RaceState, racing_laps
from neapfrost.core.studies.stretch import stretch_after
from neapfrost.core.studies.worth import worths

RPM = math.pi / 30.0


def combination(
    circuit: Circuit,
    vehicle: Vehicle,
    conditions: Conditions = AIR_12,
    driver: Driver = PURE,
    orders: tuple[CornerOrder, ...] = (),
) -> DrivenLap:
    return drive_lap(Drive(build_path(circuit), vehicle, conditions, driver, orders))


def one_corner(
    straight_m: float, radius_m: float, angle_deg: float = 120.0, ramps_m: float = 0.0
) -> Circuit:
    """A lap of one straight and one corner; driven segments need not close on the map."""
    bend = Bend("T1", 1, radius_m, angle_deg, transition_m=ramps_m)
    return Circuit("one", True, (Straight(straight_m), bend))


def limited(speed_ms: float, **changes: object) -> Vehicle:
    """A plain vehicle whose only gear ends at a speed."""
    rpm = speed_ms / 0.3 * 3.0 / RPM
    engine = Engine(((0.1, 3000.0), (rpm, 3000.0)), rpm, 1.0, 0.0)
    # A breath of drag, so that the limiter is held on the throttle.
    return plain_vehicle(**{"engine": engine, "aero": Aero(0.0, 0.02, 0.5), **changes})


HAIRPIN = one_corner(500.0, 28.0, ramps_m=20.0)


@pytest.fixture(scope="module")
def hairpin() -> DrivenLap:
    return combination(HAIRPIN, road_car(), driver=Driver())


def test_every_gear_costs_what_a_lap_in_it_costs(hairpin: DrivenLap) -> None:
    call = gear_call(hairpin, 0)
    assert call is not None
    path = hairpin.lap.path
    best = min(
        solve_lap(path, road_car(), AIR_12, replace(Driver(), gear_school=school)).lap_time_s
        for school in GearSchool
    )
    for school in (GearSchool.LOWER, GearSchool.HIGHER):
        lap = solve_lap(path, road_car(), AIR_12, replace(Driver(), gear_school=school))
        option = next(one for one in call.options if school.value in one.schools)
        assert option.gear == corner_results(lap, [])[0].gear
        assert option.cost_s == pytest.approx(lap.lap_time_s - best, abs=1e-6)
    reached = [one for one in call.options if one.reached]
    assert len(reached) >= 3
    assert call.planned == call.quickest
    assert min(one.cost_s or 0.0 for one in reached) == 0.0
    downs = [len(one.downshifts) for one in reached]
    assert downs == sorted(downs, reverse=True)
    assert all(3000.0 <= one.rpm <= 7800.0 for one in reached if one.gear > 1)


def test_a_gear_that_is_ordered_is_driven_and_named_in_the_result(hairpin: DrivenLap) -> None:
    planned = hairpin.corners[0].gear
    ordered = combination(
        HAIRPIN,
        road_car(),
        driver=Driver(),
        orders=(CornerOrder(0, gear=planned + 1),),
    )
    assert ordered.corners[0].gear == planned + 1
    assert ordered.lap.lap_time_s > hairpin.lap.lap_time_s
    beyond = combination(HAIRPIN, road_car(), driver=Driver(), orders=(CornerOrder(0, gear=9),))
    assert beyond.corners[0].gear <= hairpin.corners[0].gear_before


def test_the_break_even_of_a_shift_by_hand() -> None:
    def car(upshift_s: float) -> Vehicle:
        return plain_vehicle(
            engine=Engine(((500.0, 300.0), (6000.0, 300.0)), 6000.0, 1.0, 0.0),
            gearbox=Gearbox((2.0, 1.0), 3.0, upshift_s, 0.1),
            tyres=Tyres(5.0, 5.0, 0.0, 0.3, 0.1),
        )

    straight, radius, rolling = 100.0, 10.0, 0.1 * G
    top, brakes, drive = 6000.0 * RPM * 0.3 / 6.0, 5.0 * G + rolling, 3.0 - rolling
    slow = math.sqrt(math.sqrt((5.0 * G) ** 2 - rolling**2) * radius)
    reach = straight - (top**2 - slow**2) / (2.0 * (6.0 - rolling))

    def taken_s(shift_s: float) -> float:
        """From the limiter of first on: coast, drive in second, and brake into the corner."""
        rolled = top - rolling * shift_s
        left = reach - 0.5 * (top + rolled) * shift_s
        gained = 2.0 * drive * brakes * left + brakes * rolled**2 + drive * slow**2
        peak = math.sqrt(gained / (drive + brakes))
        return shift_s + (peak - rolled) / drive + (peak - slow) / brakes

    held_s = (reach - (top**2 - slow**2) / (2.0 * brakes)) / top + (top - slow) / brakes
    low, high = 0.0, 1.5
    while high - low > 1e-6:
        middle = 0.5 * (low + high)
        low, high = (middle, high) if taken_s(middle) < held_s else (low, middle)
    call = hold_call(combination(one_corner(straight, radius), car(0.2)), 0)
    assert call is not None
    assert (call.taken, call.quickest_top) == (2, 2)
    assert call.break_even_shift_s == pytest.approx(low, abs=0.004)
    cost = {one.top_gear: one.cost_s for one in call.options}
    assert cost[1] == pytest.approx(held_s - taken_s(0.2), abs=0.002)
    assert call.paid_back_m is not None
    assert 0.0 < call.paid_back_m < reach
    # A shift slower than the break-even: holding is quicker, and the time is not won back.
    slower = hold_call(combination(one_corner(straight, radius), car(low + 0.1)), 0)
    assert slower is not None
    assert slower.quickest_top == 1
    assert slower.paid_back_m is None


def test_a_touch_of_the_limiter_on_the_way_up_does_not_ask_for_a_gear_above_the_top_one() -> None:
    found = combination(one_corner(420.0, 14.0), road_car(), driver=Driver())
    stretch = stretch_after(found, 0)
    call = hold_call(found, 0)
    assert stretch is not None
    assert call is not None
    assert stretch.gear_to - stretch.gear_from >= 2
    assert call.taken == stretch.gear_to
    assert {one.top_gear for one in call.options} == {call.taken - 1, call.taken}
    held = next(one for one in call.options if one.top_gear == call.taken - 1)
    assert held.limiter_s > 0.0


def test_flat_until_the_grip_falls_by_a_share_known_by_hand() -> None:
    circuit = one_corner(300.0, 120.0, 60.0)
    call = flat_call(combination(circuit, limited(40.0)), 0)
    assert call.action == "flat"
    share = 40.0**2 / (1.5 * G * 120.0)
    assert call.grip_left_pct == pytest.approx(100.0 * (1.0 - share), abs=0.2)
    # Without downforce neither wind nor fuel bears on it: mass is on both sides.
    assert [(one.figure, one.up, one.action) for one in call.thresholds] == [
        ("grip", False, "lift")
    ]
    assert call.thresholds[0].value == pytest.approx(share, abs=2e-3)


def test_flat_until_a_tailwind_known_by_hand() -> None:
    car = limited(40.0, aero=Aero(2.0, 0.02, 0.5), tyres=Tyres(1.0, 1.0, 0.0, 0.3, 0.0))
    radius, half = 145.0, 0.5 * RHO * 2.0
    call = flat_call(combination(one_corner(300.0, radius, 6.0), car), 0)
    tail = 40.0 - math.sqrt((1000.0 * 40.0**2 / radius - 1000.0 * G) / half)
    found = [one for one in call.thresholds if one.figure == "tailwind" and one.up]
    assert len(found) == 1
    assert found[0].value == pytest.approx(tail, abs=0.25)
    # The same wind turned about is a headwind and changes nothing.
    assert not [one for one in call.thresholds if one.figure == "tailwind" and not one.up]


def test_the_margin_of_a_corner_beyond_doubt_has_no_thresholds() -> None:
    call = flat_call(combination(one_corner(400.0, 20.0), limited(60.0)), 0)
    assert not call.in_doubt
    assert call.thresholds == ()
    assert call.overspeed_ms is not None
    assert call.overspeed_ms > 8.0


def test_the_schools_of_braking_are_laps_driven_so(hairpin: DrivenLap) -> None:
    call = braking_call(hairpin, 0)
    assert call is not None
    by_school = {one.school: one for one in call.options}
    path = hairpin.lap.path
    for school, exponent in (("straight", 1.0), ("trail", 2.0)):
        driver = replace(Driver(), entry_exponent=exponent)
        lap = solve_lap(path, road_car(), AIR_12, driver)
        alone = corner_results(lap, [])[0]
        assert by_school[school].cost_s == pytest.approx(
            lap.lap_time_s - hairpin.lap.lap_time_s, abs=2e-4
        )
        assert alone.brake_start_to_corner_m is not None
        assert by_school[school].brake_start_to_corner_m == pytest.approx(
            alone.brake_start_to_corner_m, abs=0.1
        )
    gentle = by_school["gentle"]
    assert gentle.peak_effort_pct == pytest.approx(75.0, abs=0.5)
    assert gentle.cost_s > by_school["planned"].cost_s == 0.0
    assert gentle.braking_distance_m > by_school["planned"].braking_distance_m
    assert by_school["planned"].peak_effort_pct == pytest.approx(100.0, abs=0.5)
    assert by_school["straight"].turn_in_effort_pct is not None
    assert by_school["trail"].turn_in_effort_pct is not None
    assert by_school["straight"].turn_in_effort_pct < by_school["trail"].turn_in_effort_pct
    assert all(point.axle_use <= 1.01 for point in by_school["planned"].effort)


def test_half_of_the_effort_takes_twice_the_distance() -> None:
    found = combination(one_corner(500.0, 20.0), limited(50.0))
    path, corner = found.lap.path, found.corners[0]
    road = with_braking(found.road, np.arange(len(found.road)), share=0.5)
    lap = solve_lap(path, found.drive.vehicle, AIR_12, PURE, road)
    half = corner_results(lap, [])[0]
    assert corner.braking_distance_m == pytest.approx(
        (50.0**2 - 1.5 * G * 20.0) / (2.0 * 1.5 * G), rel=2e-3
    )
    whole = corner.braking_distance_m or 0.0
    assert half.braking_distance_m == pytest.approx(2.0 * whole, rel=2e-3)


def test_downhill_braking_is_told_in_metres() -> None:
    def hill(grade_pct: float) -> DrivenLap:
        segments = (
            Straight(600.0, grade_pct=grade_pct),
            Bend("T1", 1, 20.0, 90.0, grade_pct=grade_pct),
            Straight(100.0, grade_pct=grade_pct),
        )
        return combination(Circuit("hill", False, segments, start_speed_ms=50.0), limited(50.0))

    call = braking_call(hill(-6.0), 0)
    level, sloping = hill(0.0).corners[0], hill(-6.0).corners[0]
    assert call is not None
    assert sloping.brake_start_to_corner_m is not None
    assert level.brake_start_to_corner_m is not None
    expected = sloping.brake_start_to_corner_m - level.brake_start_to_corner_m
    assert expected > 2.0
    assert call.grade_m == pytest.approx(expected, abs=0.15)
    assert call.crest_m == pytest.approx(0.0, abs=0.05)
    assert call.steepest_pct == pytest.approx(-6.0, abs=0.01)


def test_braking_over_a_crest_is_told_in_metres() -> None:
    segments = (
        Straight(500.0, grade_pct=6.0),
        Straight(110.0, grade_pct=-6.0),
        Bend("T1", 1, 20.0, 90.0, grade_pct=-6.0),
        Straight(100.0, grade_pct=-6.0),
    )
    crest = Circuit("crest", False, segments, start_speed_ms=50.0, grade_blend_m=100.0)
    call = braking_call(combination(crest, limited(50.0)), 0)
    assert call is not None
    assert call.crest_m > 1.0


def test_worth_of_minimum_speed_against_laps_with_other_radii() -> None:
    base = combination(one_corner(500.0, 28.0), road_car(), driver=Driver())

    def lap(share: float) -> tuple[float, float]:
        # The same length of corner at another radius: the turned angle gives way.
        circuit = one_corner(500.0, 28.0 * share, 120.0 / share)
        found = combination(circuit, road_car(), driver=Driver())
        return found.lap.lap_time_s, found.corners[0].min_speed_ms

    (slow_s, slow), (quick_s, quick) = lap(0.98), lap(1.02)
    worth = worths(base)[0]
    assert worth.per_min_speed_s == pytest.approx((slow_s - quick_s) / (quick - slow), rel=0.03)


def test_worth_of_exit_speed_and_of_a_brake_metre_by_hand() -> None:
    radius, straight = 30.0, 400.0
    car = plain_vehicle(
        engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0),
        gearbox=Gearbox((1.0,), 3.0, 0.0, 0.0),
    )
    drive, brakes = 3.0, 1.5 * G
    slow = math.sqrt(1.5 * G * radius)
    found = combination(one_corner(straight, radius), car)

    def stretch_s(start: float) -> float:
        peak = math.sqrt(
            (2.0 * drive * brakes * straight + brakes * start**2 + drive * slow**2)
            / (drive + brakes)
        )
        return (peak - start) / drive + (peak - slow) / brakes

    worth = worths(found)[0]
    by_hand = (stretch_s(slow - 0.25) - stretch_s(slow + 0.25)) / 0.5
    assert worth.per_exit_speed_s == pytest.approx(by_hand, rel=0.01)
    peak = math.sqrt(
        (2.0 * drive * brakes * straight + (brakes + drive) * slow**2) / (drive + brakes)
    )
    assert worth.per_brake_metre_s == pytest.approx(1.0 / slow - 1.0 / peak, rel=2e-3)
    assert (worth.time_rank, worth.exit_rank) == (1, 1)


def test_the_two_rankings_disagree_where_a_quick_corner_leads_onto_the_long_straight() -> None:
    circuit = Circuit(
        "two",
        True,
        (
            Straight(120.0),
            Bend("slow", 1, 15.0, 150.0),
            Straight(120.0),
            Bend("quick", -1, 70.0, 80.0),
            Straight(900.0),
            Bend("end", 1, 30.0, 90.0),
        ),
    )
    found = combination(circuit, road_car(), driver=Driver())
    by_name = dict(zip([c.name for c in found.corners], worths(found), strict=True))
    assert by_name["quick"].exit_rank == 1
    assert by_name["quick"].time_rank > by_name["slow"].time_rank
    stretch = stretch_after(found, 1)
    assert stretch is not None
    assert stretch.next_corner == 2
    assert 700.0 < stretch.length_m < 950.0


def test_linked_corners_are_one_and_their_trade_is_the_ratio_of_their_prices() -> None:
    circuit = Circuit(
        "linked",
        True,
        (
            Straight(400.0),
            Bend("in", 1, 40.0, 60.0),
            Straight(10.0),
            Bend("out", -1, 30.0, 80.0),
            Straight(500.0),
            Bend("far", 1, 50.0, 90.0),
        ),
    )
    found = combination(circuit, road_car(), driver=Driver())
    worth = worths(found)
    complex_ = complexes(found, worth)
    assert [one.corners for one in complex_] == [(0, 1)]
    assert complex_[0].tightest == 1
    assert complex_[0].throttle_corner == 1
    trade = complex_[0].trades[0]
    assert trade.first_s is not None
    assert trade.second_s is not None
    assert trade.break_even == pytest.approx(trade.first_s / trade.second_s)

    def lap_s(out_m: float) -> float:
        segments = tuple(
            replace(s, radius_m=out_m, angle_deg=80.0 * 30.0 / out_m)
            if isinstance(s, Bend) and s.name == "out"
            else s
            for s in circuit.segments
        )
        changed = replace(circuit, segments=segments)
        return combination(changed, road_car(), driver=Driver()).lap.lap_time_s

    assert trade.second_s == pytest.approx((lap_s(29.5) - lap_s(30.5)) / 1.0, rel=0.1)


def test_racing_is_each_difference_and_all_of_them() -> None:
    found = combination(SHORT_LAP, road_car(), driver=Driver())
    state = RaceState(fuel_kg=80.0, grip_left=0.94)
    laps = racing_laps(found, state)
    assert laps.fuel
    assert laps.tyres
    assert laps.behind
    assert laps.together
    path = found.lap.path
    heavier = solve_lap(path, replace(road_car(), fuel_kg=80.0), AIR_12, Driver())
    assert laps.fuel.lap.lap_time_s == pytest.approx(heavier.lap_time_s, abs=1e-9)
    worn = solve_lap(path, road_car(), replace(AIR_12, grip_factor=0.94), Driver())
    assert laps.tyres.lap.lap_time_s == pytest.approx(worn.lap_time_s, abs=1e-9)
    assert laps.behind.corners[0].min_speed_ms < found.corners[0].min_speed_ms
    assert laps.together.lap.lap_time_s > laps.tyres.lap.lap_time_s
    alone = following(path, found.road, 1.0, 1.0)
    assert np.array_equal(alone, found.road)


def test_less_drag_everywhere_is_a_smaller_drag_area() -> None:
    straight = Circuit("run", False, (Straight(800.0),), start_speed_ms=30.0)
    path = build_path(straight)
    towed = solve_lap(path, road_car(), AIR_12, PURE, following(path, pack_road(path)[0], 1.0, 0.7))
    slim = replace(road_car(), aero=replace(road_car().aero, drag_area_m2=0.7 * 1.05))
    assert towed.lap_time_s == pytest.approx(
        solve_lap(path, slim, AIR_12, PURE).lap_time_s, abs=1e-9
    )


def test_an_order_for_braking_reaches_from_the_slowest_point_before_to_its_own() -> None:
    found = combination(SHORT_LAP, road_car(), driver=Driver())
    for number, corner in enumerate(found.corners):
        from_m, to_m = approach_m(found, number)
        if corner.lift_at_m is not None:
            lead = (to_m - corner.lift_at_m) % found.lap.path.length_m
            assert lead < to_m - from_m
    gentle = combination(
        SHORT_LAP, road_car(), driver=Driver(), orders=(CornerOrder(2, braking=0.6),)
    )
    before, after = found.corners, gentle.corners
    assert (after[2].braking_distance_m or 0.0) > 1.3 * (before[2].braking_distance_m or 0.0)
    assert after[0].braking_distance_m == pytest.approx(before[0].braking_distance_m, abs=0.6)


def test_a_grip_order_is_the_corner_on_another_surface() -> None:
    slippery = combination(
        SHORT_LAP, road_car(), driver=Driver(), orders=(CornerOrder(0, grip_factor=0.8),)
    )
    segments = tuple(
        replace(s, grip_factor=0.8) if isinstance(s, Bend) and s.name == "T1" else s
        for s in SHORT_LAP.segments
    )
    other = combination(replace(SHORT_LAP, segments=segments), road_car(), driver=Driver())
    assert slippery.lap.lap_time_s == pytest.approx(other.lap.lap_time_s, abs=1e-6)
