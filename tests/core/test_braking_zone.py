"""Lift, pedal change and ramp against a zone computed by hand, and lifting instead of braking."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.builders import PURE, course, lap_of, plain_vehicle, road_car
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.path.circuit import Bend, Straight
from neapfrost.core.records import Engine

G = 9.80665


def test_a_zone_with_lift_pedal_change_and_ramp_by_hand() -> None:
    """Constant speed to the lift: no drive (limiter), no drag, no overrun; 1.5 g of brakes.

    From the lift at v: 0.1 s of coasting at v; a ramp of 0.2 s in which the deceleration grows
    linearly to d sheds 0.1·d and covers v·0.2 - d·0.2²/6; then v₁ down to the corner at d.
    """
    top = 20000.0 * math.pi / 30.0 * 0.3 / 12.0
    vehicle = plain_vehicle(
        engine=Engine(((0.1, 3000.0), (20000.0, 3000.0)), 20000.0, 1.0, 0.0),
    )
    vehicle = replace(vehicle, gearbox=replace(vehicle.gearbox, ratios=(4.0,)))
    driver = replace(PURE, transition_s=0.1, brake_ramp_s=0.2)
    lap = lap_of(
        course(Straight(900.0), Bend("T1", 1, 30.0, 90.0), start_speed_ms=top),
        vehicle,
        driver=driver,
    )
    (zone,) = lap.zones
    deceleration = 1.5 * G
    corner_speed = math.sqrt(1.5 * G * 30.0)
    after_ramp = top - 0.1 * deceleration
    ramp = top * 0.2 - deceleration * 0.2**2 / 6.0
    full = (after_ramp**2 - corner_speed**2) / (2 * deceleration)
    assert zone.brake_end_at_m == pytest.approx(900.0, abs=0.01)
    assert zone.brake_start_at_m == pytest.approx(900.0 - full - ramp, abs=0.1)
    assert zone.lift_at_m == pytest.approx(900.0 - full - ramp - 0.1 * top, abs=0.1)

    (corner,) = corner_results(lap, [])
    assert corner.action == "brake"
    assert corner.braking_distance_m == pytest.approx(full + ramp, abs=0.1)
    assert corner.brake_start_to_corner_m == pytest.approx(full + ramp, abs=0.1)
    assert corner.peak_decel_g == pytest.approx(1.5, rel=1e-3)
    assert corner.braking_time_s == pytest.approx(
        0.2 + (after_ramp - corner_speed) / deceleration, abs=2e-3
    )
    shed_kj = 0.5 * 1000.0 * (top**2 - corner_speed**2) / 1000.0
    assert corner.brake_energy_kj == pytest.approx(shed_kj, rel=5e-3)
    assert lap.brake_work_j[-1] == pytest.approx(1000.0 * shed_kj, rel=5e-3)

    straight_before = zone.lift_at_m / top
    in_corner = (math.pi / 2 * 30.0) / corner_speed
    by_hand = straight_before + 0.1 + 0.2 + (after_ramp - corner_speed) / deceleration + in_corner
    assert lap.lap_time_s == pytest.approx(by_hand, abs=2e-3)


def test_the_pedals_cost_what_the_zone_takes_longer() -> None:
    road = course(Straight(700.0), Bend("T1", 1, 40.0, 90.0), start_speed_ms=20.0)
    pure = lap_of(road, road_car())
    human = lap_of(road, road_car(), driver=replace(PURE, transition_s=0.1, brake_ramp_s=0.2))
    # Some 2.5 m/s² of coasting against driving on, for 0.2 s at 60 m/s: a millisecond or two.
    assert 0.0005 < human.lap_time_s - pure.lap_time_s < 0.01
    assert human.zones[0].lift_at_m < human.zones[0].brake_start_at_m < pure.zones[0].lift_at_m


def test_a_longer_ramp_or_pedal_change_is_never_quicker() -> None:
    road = course(Straight(700.0), Bend("T1", 1, 40.0, 90.0), start_speed_ms=20.0)
    times = [
        lap_of(road, road_car(), driver=replace(PURE, transition_s=t, brake_ramp_s=r)).lap_time_s
        for t, r in ((0.0, 0.0), (0.05, 0.1), (0.1, 0.2), (0.2, 0.4), (0.4, 0.8))
    ]
    assert times == sorted(times)


def lifted_course(threshold: float) -> tuple[float, str, float]:
    """Lap time, action and lift cost where the corner asks for some 1 m/s less than arrives."""
    road = course(Straight(900.0), Bend("T1", 1, 205.0, 40.0), Straight(300.0), start_speed_ms=50.0)
    lap = lap_of(road, road_car(), driver=replace(PURE, lift_threshold_ms=threshold))
    (corner,) = corner_results(lap, [])
    return lap.lap_time_s, corner.action, lap.lift_cost_s


def test_a_corner_that_asks_for_little_is_lifted_for_and_says_what_that_costs() -> None:
    braked, action, no_cost = lifted_course(0.0)
    assert action == "brake"
    assert no_cost == 0.0
    lifted, action, cost = lifted_course(8.0)
    assert action == "lift"
    assert cost > 0.0
    assert lifted - braked == pytest.approx(cost, abs=1e-4)


def test_a_lift_rolls_on_overrun_and_drag_alone() -> None:
    road = course(Straight(900.0), Bend("T1", 1, 205.0, 40.0), Straight(300.0), start_speed_ms=50.0)
    lap = lap_of(road, road_car(), driver=replace(PURE, lift_threshold_ms=8.0))
    (corner,) = corner_results(lap, [])
    assert corner.brake_start_at_m is None
    assert corner.braking_distance_m is None
    assert corner.lift_at_m is not None
    rolling = (lap.s_m > corner.lift_at_m + 1.0) & (lap.s_m < corner.begins_at_m - 1.0)
    # 12 % of 345 Nm at the rev limit, linear in rpm.
    rpm = lap.rpm[rolling]
    ratio = np.array([3.1, 2.2, 1.7, 1.35, 1.12, 0.95])[lap.gear[rolling] - 1] * 3.9 / 0.32
    overrun = 0.12 * 345.0 * rpm / 7800.0 * ratio
    assert -lap.force_n[rolling] == pytest.approx(overrun, rel=0.02)
