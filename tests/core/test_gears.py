"""Shifts, the limiter, and the gear a corner is driven in."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.builders import AIR_12, PURE, course, lap_of, plain_vehicle, road_car, solve_lap
from neapfrost.core.kernels.road import CORNER_GEAR
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.record import Lap
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Aero, Driver, Engine, Gearbox, GearSchool, Tyres, Vehicle

RPM = math.pi / 30.0


def two_gears(upshift_s: float) -> Vehicle:
    """No resistance; 600 Nm to 6000 rpm: 6 kN in first to 31.4 m/s, 3 kN in second to 62.8 m/s."""
    return plain_vehicle(
        engine=Engine(((500.0, 300.0), (6000.0, 300.0)), 6000.0, 1.0, 0.0),
        gearbox=Gearbox((2.0, 1.0), 3.0, upshift_s, 0.1),
        tyres=Tyres(5.0, 5.0, 0.0, 0.3, 0.0),
    )


def test_shift_loss_against_a_run_computed_by_hand() -> None:
    lap = lap_of(course(Straight(500.0)), two_gears(0.4))
    shift_speed = 6000.0 * RPM * 0.3 / 6.0
    first = shift_speed**2 / (2 * 6.0)
    coasting = shift_speed * 0.4
    rest = 500.0 - first - coasting
    final = math.sqrt(shift_speed**2 + 2 * 3.0 * rest)
    time = shift_speed / 6.0 + 0.4 + (final - shift_speed) / 3.0
    assert lap.lap_time_s == pytest.approx(time, abs=0.002)
    assert lap.v_ms[-1] == pytest.approx(final, rel=1e-3)
    assert lap.upshift_count == 1
    flat = (lap.s_m > first + 1.0) & (lap.s_m < first + coasting - 1.0)
    assert lap.v_ms[flat] == pytest.approx(shift_speed, rel=1e-3)


def test_without_shift_loss_the_lap_is_the_envelope_of_the_gears() -> None:
    car = replace(road_car(), gearbox=replace(road_car().gearbox, upshift_s=0.0, downshift_s=0.0))
    lap = lap_of(course(Straight(1200.0), start_speed_ms=20.0), car)
    engine, tyres = car.engine, car.tyres
    rpm_points, torques = zip(*engine.torque_curve, strict=True)

    def strongest(v: float) -> float:
        forces = []
        for number, ratio in enumerate(car.gearbox.ratios):
            total = ratio * car.gearbox.final_drive / tyres.rolling_radius_m
            rpm = v * total / RPM
            if rpm <= engine.rev_limit_rpm and (number == 0 or rpm >= rpm_points[0]):
                forces.append(
                    float(np.interp(rpm, rpm_points, torques)) * total * engine.efficiency
                )
        return max(forces)

    free = (lap.tyre_limited == 0.0) & (lap.s_m < 1199.0)
    drawn = lap.force_n[free]
    middle = np.sqrt(0.5 * (lap.v_ms[:-1] ** 2 + lap.v_ms[1:] ** 2))[free[:-1]]
    expected = np.array([strongest(v) for v in middle])
    # A step in which the gear changes mixes two forces; everywhere else they agree.
    agree = np.abs(drawn - expected) < 2e-3 * expected
    assert agree.mean() > 0.99
    assert np.abs(drawn - expected).max() < 0.05 * expected.max()


def test_a_shift_that_does_not_pay_before_the_braking_is_not_made() -> None:
    """Second gear is due at 31.4 m/s; with so little road left the limiter is held instead.

    Drag makes the shift cost speed; without it, rolling and holding would be a tie.
    """
    corner = Bend("T1", 1, 8.0, 90.0)
    vehicle = replace(two_gears(0.4), aero=Aero(0.0, 1.5, 0.5))
    short = lap_of(course(Straight(110.0), corner), vehicle)
    assert short.upshift_count == 0
    assert short.v_ms.max() == pytest.approx(6000.0 * RPM * 0.3 / 6.0, rel=1e-3)
    long = lap_of(course(Straight(400.0), corner), vehicle)
    assert long.upshift_count == 1


def test_holding_or_shifting_is_always_the_quicker_of_the_two() -> None:
    corner = Bend("T1", 1, 8.0, 90.0)
    vehicle = replace(two_gears(0.4), aero=Aero(0.0, 1.5, 0.5))
    only_first = replace(vehicle, gearbox=Gearbox((2.0,), 3.0, 0.4, 0.1))
    for length in (100.0, 120.0, 140.0, 160.0, 200.0):
        free = lap_of(course(Straight(length), corner), vehicle)
        held = lap_of(course(Straight(length), corner), only_first)
        assert free.lap_time_s <= held.lap_time_s + 1e-3


def test_downshifts_wait_for_the_revs_and_for_each_other() -> None:
    lap = lap_of(
        course(Straight(900.0), Bend("T1", 1, 25.0, 120.0), Straight(300.0)),
        road_car(),
        driver=replace(PURE, gear_school=GearSchool.LOWER),
    )
    (corner,) = corner_results(lap, [])
    shifts = corner.downshifts
    assert [shift.to_gear for shift in shifts] == list(
        range(corner.gear_before - 1, corner.gear - 1, -1)
    )
    assert len(shifts) >= 2
    times = [float(np.interp(shift.at_m, lap.s_m, lap.t_s)) for shift in shifts]
    assert min(np.diff(times)) >= 0.12 - 1e-6
    for shift in shifts:
        assert shift.rpm_after <= 0.97 * 7800.0 + 1e-6
    lowest = float(np.interp(corner.min_speed_at_m, lap.s_m, lap.t_s))
    assert times[-1] + 0.12 <= lowest + 1e-6


def test_too_little_time_for_the_downshifts_means_a_higher_gear() -> None:
    slow_box = replace(road_car(), gearbox=replace(road_car().gearbox, downshift_s=1.2))
    course_ = course(Straight(900.0), Bend("T1", 1, 25.0, 120.0), Straight(300.0))
    quick = corner_results(lap_of(course_, road_car()), [])[0]
    slow = corner_results(lap_of(course_, slow_box), [])[0]
    assert slow.gear > quick.gear


@pytest.mark.parametrize("length", [120.0, 300.0, 700.0])
def test_the_fastest_school_is_no_slower_than_the_others(length: float) -> None:
    circuit = course(
        Straight(700.0),
        Bend("T1", 1, 28.0, 110.0, transition_m=8.0),
        Straight(length),
        Bend("T2", -1, 40.0, 90.0, transition_m=8.0),
        Straight(200.0),
        start_speed_ms=30.0,
    )
    times = {
        school: lap_of(circuit, road_car(), driver=Driver(gear_school=school)).lap_time_s
        for school in GearSchool
    }
    assert times[GearSchool.FASTEST] <= times[GearSchool.LOWER] + 1e-3
    assert times[GearSchool.FASTEST] <= times[GearSchool.HIGHER] + 1e-3


def test_a_gear_below_its_curve_gives_nothing_but_first_gear_slips() -> None:
    """From a standstill the first torque holds below the curve: 2 kN on 1000 kg."""
    vehicle = plain_vehicle(
        engine=Engine(((2000.0, 100.0), (6000.0, 100.0)), 6000.0, 1.0, 0.0),
        gearbox=Gearbox((2.0, 1.0), 3.0, 0.0, 0.0),
    )
    lap = lap_of(course(Straight(100.0)), vehicle)
    assert lap.v_ms[-1] == pytest.approx(math.sqrt(2 * 2.0 * 100.0), rel=1e-3)


def test_a_corner_held_on_part_throttle_is_left_in_the_gear_that_pays() -> None:
    """It is driven up to in fourth without braking, and slows until third pulls harder."""
    tightens = Bend("T2", -1, 140.0, 150.0, end_radius_m=84.0, transition_m=18.0)
    circuit = Circuit(
        "long corner",
        True,
        (
            Straight(200.0),
            Bend("T1", -1, 30.0, 120.0, transition_m=10.0),
            Straight(250.0),
            tightens,
            Straight(250.0),
        ),
    )
    car = road_car(aero=Aero(1.0, 3.0, 0.47))
    lap = lap_of(circuit, car)
    corner = lap.path.corners[1]
    begins, ends = corner.begins_at_m, corner.ends_at_m
    assert all(zone.brake_end_at_m < begins or zone.lift_at_m > ends for zone in lap.zones)
    assert gear_at(lap, begins) == 4
    assert gear_at(lap, ends - 1.0) == 3

    in_fourth = lap.packed.road.copy()
    inside = (lap.path.s_m[:-1] >= begins) & (lap.path.s_m[:-1] <= ends)
    in_fourth[inside, :, CORNER_GEAR] = 3.0
    held = solve_lap(lap.path, car, AIR_12, PURE, road=in_fourth)
    assert gear_at(held, ends - 1.0) == 4
    assert lap.lap_time_s < held.lap_time_s - 0.005


def gear_at(lap: Lap, place_m: float) -> int:
    return int(lap.gear[np.searchsorted(lap.s_m, place_m, side="right") - 1])
