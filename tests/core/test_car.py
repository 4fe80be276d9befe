"""A vehicle by itself: runs, limits, gears, envelope and brakes against closed forms."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, RHO, G, plain_vehicle, road_car
from neapfrost.core.car.brake_share import hardest_share, ideal_share
from neapfrost.core.car.compound import Compound, lap_factor, tyre_state
from neapfrost.core.car.envelope import envelope, turning
from neapfrost.core.car.gears import drive_forces, shifts
from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.car.level import (
    engine_force_n,
    forces_at,
    level_car,
    steady_limit,
    top_speed_ms,
    turning_limit,
)
from neapfrost.core.car.runs import braking_run, standing_run
from neapfrost.core.car.torque_shape import torque_curve
from neapfrost.core.car.tyre_code import rolling_radius_m
from neapfrost.core.errors import InputRefused
from neapfrost.core.records import (
    Aero,
    Brakes,
    Engine,
    Gearbox,
    Tyres,
    VehicleKind,
)


def test_top_speed_where_power_meets_drag() -> None:
    # One gear whose torque times speed is constant near the crossing: P = (½ρCdA v² + mgC)·v.
    car = plain_vehicle(
        tyres=Tyres(1.5, 1.5, 0.0, 0.3, 0.012),
        aero=Aero(0.0, 0.7, 0.5),
        engine=Engine(((1000.0, 200.0), (12000.0, 200.0)), 12000.0, 0.9, 0.0),
        gearbox=Gearbox((1.0,), 4.0, 0.0, 0.0),
    )
    force = 200.0 * 4.0 * 0.9 / 0.3
    expected = math.sqrt((force - 1000.0 * G * 0.012) / (0.5 * RHO * 0.7))
    found, by = top_speed_ms(level_car(car, AIR_12))
    assert by == "drag"
    assert found == pytest.approx(expected, rel=1e-6)
    short = replace(car, gearbox=Gearbox((1.0,), 6.0, 0.0, 0.0))
    found, by = top_speed_ms(level_car(short, AIR_12))
    assert by == "limiter"
    assert found == pytest.approx(12000.0 * math.pi / 30.0 / 6.0 * 0.3, rel=1e-9)


def test_a_standing_start_at_constant_force() -> None:
    car = plain_vehicle(engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0))
    acceleration = 300.0 * 3.0 / 0.3 / 1000.0
    run = standing_run(car, AIR_12, length_m=400.0, step_m=0.5)
    speed = 40.0
    assert run.time_to_s(speed) == pytest.approx(speed / acceleration, rel=2e-3)
    assert run.time_at_s(300.0) == pytest.approx(math.sqrt(600.0 / acceleration), rel=2e-3)
    assert run.time_to_s(500.0) is None


def test_braking_with_downforce_and_drag() -> None:
    # a = μg + k v² with k = ρ(μ ClA + CdA)/2m; s = ln((a₁)/(a₂))/2k.
    car = plain_vehicle(aero=Aero(2.0, 1.0, 0.5))
    k = RHO * (1.5 * 2.0 + 1.0) / 2000.0
    first, last = 1.5 * G + k * 70.0**2, 1.5 * G + k * 20.0**2
    run = braking_run(level_car(car, AIR_12), 70.0, 20.0)
    assert run.s_m[-1] == pytest.approx(math.log(first / last) / (2.0 * k), rel=1e-6)
    root = math.sqrt(k / (1.5 * G))
    time = (math.atan(70.0 * root) - math.atan(20.0 * root)) / math.sqrt(k * 1.5 * G)
    assert run.t_s[-1] == pytest.approx(time, rel=1e-6)
    assert (np.diff(run.s_m) > 0.0).all()


def test_the_hardest_turn_with_downforce() -> None:
    car = level_car(plain_vehicle(aero=Aero(2.0, 0.0, 0.5)), AIR_12)
    for v in (15.0, 45.0):
        expected = 1.5 * (G + RHO * 2.0 * v * v / 2000.0)
        assert turning_limit(car, v)[0] == pytest.approx(expected, rel=1e-6)
        assert steady_limit(car, v)[0] == pytest.approx(expected, rel=1e-6)


def test_holding_the_speed_costs_some_of_the_turn() -> None:
    car = level_car(plain_vehicle(aero=Aero(0.0, 1.5, 0.5), rear_drive_fraction=1.0), AIR_12)
    instant, _ = turning_limit(car, 50.0)
    steady, cause = steady_limit(car, 50.0)
    # The rear carries all of the drag's force on half of the weight: μ²(N/2)² = F² + (F_y/2)².
    drag = 0.5 * RHO * 1.5 * 2500.0
    across = math.sqrt((1.5 * 500.0 * G) ** 2 - drag**2) * 2.0 / 1000.0
    assert cause == "rear"
    assert steady == pytest.approx(across, rel=1e-6)
    assert steady < instant


def test_the_envelope_meets_what_the_tyres_and_the_engine_give() -> None:
    car = level_car(road_car(), AIR_12)
    edge = envelope(car, 30.0)
    straight = forces_at(car, 30.0)
    drive = min(engine_force_n(car, 30.0), straight.greatest_n) - straight.resistance_n
    assert edge.drive_g[0] == pytest.approx(drive / car.mass_kg / G)
    assert edge.brake_g[0] == pytest.approx(
        (straight.least_n - straight.resistance_n) / car.mass_kg / G
    )
    assert edge.lateral_g[-1] == pytest.approx(turning_limit(car, 30.0)[0] / G, rel=1e-5)
    assert (np.diff(edge.lateral_g) > 0.0).all()
    assert (edge.drive_g >= edge.brake_g - 1e-9).all()
    assert set(edge.drive_limit) <= {"engine", "tyres", "lift"}


def test_a_motorcycle_lifts_its_wheels() -> None:
    # Without aero or tyres in the way: a = g·(distance to the loaded axle)/h both ways.
    bike = plain_vehicle(
        kind=VehicleKind.MOTORCYCLE,
        cg_height_m=0.6,
        wheelbase_m=1.4,
        front_weight_fraction=0.5,
        tyres=Tyres(3.0, 3.0, 0.0, 0.3, 0.0),
        rear_drive_fraction=1.0,
        brakes=Brakes(None, None),
    )
    car = level_car(bike, AIR_12)
    edge = envelope(car, 20.0)
    assert edge.brake_g[0] == pytest.approx(-0.7 / 0.6, rel=1e-3)
    assert edge.drive_g[0] == pytest.approx(0.7 / 0.6, rel=1e-3)
    assert edge.brake_limit[0] == "lift"
    assert edge.drive_limit[0] == "lift"


def test_brakes_of_their_own_limit() -> None:
    car = level_car(plain_vehicle(brakes=Brakes(None, 8000.0)), AIR_12)
    edge = envelope(car, 40.0)
    assert edge.brake_g[0] == pytest.approx(-8.0 / G, rel=1e-6)
    assert edge.brake_limit[0] == "brakes"


def test_the_ideal_brake_share_by_hand() -> None:
    # F_f/F = b/L + a·h/(g·L) where friction is the same on both axles.
    vehicle = plain_vehicle(cg_height_m=0.5, front_weight_fraction=0.46)
    car = level_car(vehicle, AIR_12)
    for decel in (0.2, 0.8, 1.4):
        expected = 0.46 + decel * 0.5 / 2.5
        assert ideal_share(car, 30.0, decel).ideal_front == pytest.approx(expected, rel=1e-9)
    together = hardest_share(car, 30.0)
    assert together.decel_g == pytest.approx(1.5, rel=1e-6)
    # A fixed share there loses nothing; on either side of it one axle locks early.
    hardest = forces_at(car, 30.0).least_n
    for share, less in ((together.ideal_front, 0.0), (0.7, 1.0), (0.8, 1.0)):
        fixed = level_car(replace(vehicle, brakes=Brakes(share, None)), AIR_12)
        force = forces_at(fixed, 30.0).least_n
        assert force == pytest.approx(hardest, rel=1e-6) if less == 0.0 else force > hardest + 1.0


def test_the_balance_names_the_axle_that_ends_the_turn() -> None:
    nose = level_car(plain_vehicle(aero=Aero(2.0, 0.0, 0.7)), AIR_12)
    tail = level_car(plain_vehicle(aero=Aero(2.0, 0.0, 0.3)), AIR_12)
    first, second = turning(nose, 50.0), turning(tail, 50.0)
    assert (first.limited_by, second.limited_by) == ("rear", "front")
    assert first.front_use < first.rear_use == pytest.approx(1.0, abs=1e-6)
    assert second.rear_use < second.front_use == pytest.approx(1.0, abs=1e-6)


def test_changing_up_where_the_next_gear_pulls_as_hard() -> None:
    car = level_car(road_car(), AIR_12)
    forces = drive_forces(car)
    for one in shifts(car)[:-1]:
        assert one.shift_ms is not None
        speeds = np.linspace(0.3 * one.limiter_ms, one.limiter_ms, 20_001)
        here = np.array([engine_force_n(car, float(v), one.gear - 1) for v in speeds[::50]])
        after = np.array([engine_force_n(car, float(v), one.gear) for v in speeds[::50]])
        better = np.flatnonzero((after >= here) & (here > 0.0))
        if one.at_limiter:
            assert one.shift_ms == pytest.approx(one.limiter_ms)
            assert len(better) == 0 or speeds[::50][better[0]] > 0.98 * one.limiter_ms
        else:
            fine = speeds[::50][better[0]]
            assert one.shift_ms == pytest.approx(fine, abs=2.0 * 50.0 * (speeds[1] - speeds[0]))
        assert one.shift_rpm == pytest.approx(one.shift_ms * one.rpm_per_ms)
    assert forces.by_gear_n.shape == (len(shifts(car)), len(forces.v_ms))


@given(
    power_kw=st.floats(20.0, 900.0),
    rpm=st.floats(3000.0, 14000.0),
    ratio=st.floats(1.02, 1.45),
)
@settings(max_examples=60, deadline=None)
def describe_test_a_torque_curve_has_its_peaks_where_they_are(
    power_kw: float, rpm: float, ratio: float
) -> None:
    curve = torque_curve(1000.0 * power_kw, rpm, 1.06 * rpm, ratio)
    rpms = [point[0] for point in curve]
    assert rpms == sorted(set(rpms))
    assert peak_power_w(curve, 1.06 * rpm) == pytest.approx(1000.0 * power_kw, rel=0.012)
    torque = 1000.0 * power_kw / (rpm * math.pi / 30.0)
    assert max(point[1] for point in curve) == pytest.approx(ratio * torque, rel=1e-9)
    assert min(point[1] for point in curve) > 0.0


@pytest.mark.parametrize(
    ("code", "radius_m"),
    [
        ("205/55 R16", 0.97 * (0.5 * 16 * 25.4 + 112.75) / 1000.0),
        ("205/55R16 91V", 0.97 * (0.5 * 16 * 25.4 + 112.75) / 1000.0),
        (" 190/55 ZR17", 0.97 * (0.5 * 17 * 25.4 + 104.5) / 1000.0),
        ("120/70-17", 0.97 * (0.5 * 17 * 25.4 + 84.0) / 1000.0),
    ],
)
def test_a_tyre_code_gives_its_radius(code: str, radius_m: float) -> None:
    assert rolling_radius_m(code) == pytest.approx(radius_m, rel=1e-9)


@pytest.mark.parametrize("code", ["", "round", "205/55", "999/55 R16", "205/10 R16", "205/55 R40"])
def test_another_text_is_no_tyre_code(code: str) -> None:
    with pytest.raises(InputRefused):
        rolling_radius_m(code)


def test_a_compound_warms_up_fades_and_has_its_window() -> None:
    compound = Compound(1.02, (0.92, 0.98), 0.01, (20.0, 40.0), 0.03, ((0.0, 1.0), (100.0, 0.5)))
    assert [lap_factor(compound, lap) for lap in (None, 0, 1, 2, 12)] == pytest.approx(
        [1.0, 0.92, 0.98, 1.0, 0.9]
    )
    assert lap_factor(compound, 400) == 0.2
    for track, factor in ((30.0, 1.0), (10.0, 0.97), (50.0, 0.97), (60.0, 0.94)):
        assert tyre_state(compound, None, track, 0.0).temperature == pytest.approx(factor)
    wet = tyre_state(compound, 0, 10.0, 50.0)
    assert wet.water == pytest.approx(0.75)
    assert wet.all == pytest.approx(1.02 * 0.92 * 0.97 * 0.75)
