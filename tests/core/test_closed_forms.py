"""The lap against formulas that a hand can work out; tolerance 0.1 % unless a line says why not."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.builders import (
    AIR_12,
    PURE,
    RHO,
    G,
    braking_distance_between,
    close,
    course,
    lap_of,
    plain_vehicle,
    ring,
)
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Straight
from neapfrost.core.records import Aero, Brakes, DriverUse, Engine, Gearbox, Tyres, VehicleKind


def test_flat_skidpad() -> None:
    lap = lap_of(ring(50.0), plain_vehicle())
    assert lap.v_ms.min() == close(math.sqrt(1.5 * G * 50.0))
    assert lap.v_ms.max() == close(math.sqrt(1.5 * G * 50.0))
    assert lap.lap_time_s == close(2 * math.pi * 50.0 / math.sqrt(1.5 * G * 50.0))


def test_skidpad_with_downforce() -> None:
    lift_area, radius = 3.0, 80.0
    lap = lap_of(ring(radius), plain_vehicle(aero=Aero(lift_area, 0.0, 0.5)))
    expected = 1.5 * G * radius / (1.0 - 1.5 * RHO * lift_area * radius / (2.0 * 1000.0))
    assert lap.v_ms[0] ** 2 == close(expected)


def test_skidpad_whose_downforce_leaves_no_limit() -> None:
    lift_area, radius, drag_area = 6.0, 400.0, 1.0
    assert 1.5 * RHO * lift_area * radius / 2000.0 > 1.0
    vehicle = plain_vehicle(
        aero=Aero(lift_area, drag_area, 0.5),
        engine=Engine(((0.1, 200.0), (20000.0, 200.0)), 20000.0, 1.0, 0.0),
    )
    lap = lap_of(ring(radius), vehicle)
    drive = 200.0 * 3.0 / 0.3
    assert lap.v_ms.max() == close(math.sqrt(2.0 * drive / (RHO * drag_area)))


def test_banked_turn_with_friction() -> None:
    bank = math.radians(20.0)
    lap = lap_of(ring(60.0, banking_deg=20.0), plain_vehicle(tyres=Tyres(0.8, 0.8, 0.0, 0.3, 0.0)))
    grip = 0.8
    expected = (
        G
        * 60.0
        * (math.sin(bank) + grip * math.cos(bank))
        / (math.cos(bank) - grip * math.sin(bank))
    )
    assert lap.v_ms[0] ** 2 == close(expected)


def test_falling_camber_lowers_the_limit_by_the_same_formula() -> None:
    bank = math.radians(-6.0)
    lap = lap_of(ring(60.0, banking_deg=-6.0), plain_vehicle())
    expected = (
        G * 60.0 * (math.sin(bank) + 1.5 * math.cos(bank)) / (math.cos(bank) - 1.5 * math.sin(bank))
    )
    assert lap.v_ms[0] ** 2 == close(expected)


def test_braking_with_downforce_and_drag() -> None:
    lift_area, drag_area = 2.5, 1.2
    vehicle = plain_vehicle(aero=Aero(lift_area, drag_area, 0.5))
    lap = lap_of(course(Straight(1500.0), Bend("T1", 1, 20.0, 90.0)), vehicle)
    k = 0.5 * RHO * (1.5 * lift_area + drag_area)
    fast, slow = 80.0, 30.0
    expected = (
        1000.0
        / (2 * k)
        * math.log((1.5 * 1000.0 * G + k * fast**2) / (1.5 * 1000.0 * G + k * slow**2))
    )
    assert braking_distance_between(lap, fast, slow) == close(expected)


def test_first_axle_to_lock_bounds_a_fixed_distribution() -> None:
    """H = 0: the front carries half the load and 70 % of the force, so it locks first."""
    vehicle = plain_vehicle(brakes=Brakes(0.7, None))
    lap = lap_of(course(Straight(1500.0), Bend("T1", 1, 20.0, 90.0)), vehicle)
    deceleration = 1.5 * 0.5 * G / 0.7
    assert braking_distance_between(lap, 70.0, 30.0) == close((70**2 - 30**2) / 2 / deceleration)


def test_brake_hardware_bounds_the_deceleration() -> None:
    vehicle = plain_vehicle(brakes=Brakes(None, 8000.0))
    lap = lap_of(course(Straight(1500.0), Bend("T1", 1, 20.0, 90.0)), vehicle)
    assert braking_distance_between(lap, 70.0, 30.0) == close((70**2 - 30**2) / 2 / 8.0)


def test_rear_lift_bounds_the_braking_of_a_motorcycle() -> None:
    vehicle = plain_vehicle(
        kind=VehicleKind.MOTORCYCLE, cg_height_m=0.7, wheelbase_m=1.4, brakes=Brakes(1.0, None)
    )
    lap = lap_of(course(Straight(1500.0), Bend("T1", 1, 20.0, 90.0)), vehicle)
    # The front could give 1.5·N, but the rear leaves the ground at a = g·(1 - wf)·L/h.
    deceleration = G * 0.5 * 1.4 / 0.7
    assert braking_distance_between(lap, 70.0, 30.0) == close((70**2 - 30**2) / 2 / deceleration)


def test_driver_use_scales_braking() -> None:
    driver = replace(PURE, use=DriverUse(braking=0.8))
    lap = lap_of(
        course(Straight(1500.0), Bend("T1", 1, 20.0, 90.0)), plain_vehicle(), driver=driver
    )
    assert braking_distance_between(lap, 70.0, 30.0) == close((70**2 - 30**2) / 2 / (0.8 * 1.5 * G))


def test_acceleration_at_constant_power() -> None:
    power, start = 200e3, 20.0
    rpm = np.linspace(500.0, 20000.0, 2000)
    curve = tuple((float(n), power / (n * math.pi / 30.0)) for n in rpm)
    vehicle = plain_vehicle(
        engine=Engine(curve, 20000.0, 1.0, 0.0), tyres=Tyres(5.0, 5.0, 0.0, 0.3, 0.0)
    )
    lap = lap_of(course(Straight(800.0), start_speed_ms=start), vehicle)
    assert lap.v_ms[-1] ** 3 == close(start**3 + 3.0 * power * 800.0 / 1000.0)
    assert lap.lap_time_s == close(1000.0 * (lap.v_ms[-1] ** 2 - start**2) / (2.0 * power))


def test_top_speed_is_where_drive_meets_resistance() -> None:
    vehicle = plain_vehicle(
        aero=Aero(0.0, 0.9, 0.5),
        tyres=Tyres(1.5, 1.5, 0.0, 0.3, 0.015),
        engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 0.9, 0.0),
    )
    lap = lap_of(course(Straight(20000.0), start_speed_ms=30.0), vehicle, step_m=5.0)
    drive = 300.0 * 3.0 * 0.9 / 0.3
    expected = math.sqrt((drive - 0.015 * 1000.0 * G) / (0.5 * RHO * 0.9))
    assert lap.v_ms[-1] == close(expected)


@pytest.mark.parametrize("headwind", [8.0, -8.0])
def test_wind_shifts_the_top_speed_by_itself(headwind: float) -> None:
    """A wind from north meets a heading of north head-on."""
    vehicle = plain_vehicle(
        aero=Aero(0.0, 0.9, 0.5), engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0)
    )
    wind = replace(AIR_12, wind_speed_ms=8.0, wind_from_deg=30.0 if headwind > 0 else 210.0)
    lap = lap_of(
        course(Straight(20000.0), start_speed_ms=30.0, north_deg=30.0), vehicle, wind, step_m=5.0
    )
    still = math.sqrt(3000.0 / (0.5 * RHO * 0.9))
    assert lap.v_ms[-1] == close(still - headwind)


def test_wind_from_the_side_changes_nothing() -> None:
    vehicle = plain_vehicle(aero=Aero(2.0, 0.9, 0.5))
    road = course(Straight(1500.0), start_speed_ms=30.0, north_deg=120.0)
    side = replace(AIR_12, wind_speed_ms=9.0, wind_from_deg=210.0)
    assert lap_of(road, vehicle, side).lap_time_s == pytest.approx(
        lap_of(road, vehicle).lap_time_s, rel=1e-9
    )


def test_a_left_turn_turns_the_wind_the_right_way() -> None:
    """Heading north, then 90° to the left is west: a west wind comes from ahead."""
    vehicle = plain_vehicle(
        aero=Aero(0.0, 0.9, 0.5), engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0)
    )
    road = course(Bend("T1", 1, 300.0, 90.0), Straight(20000.0), start_speed_ms=30.0)
    west = replace(AIR_12, wind_speed_ms=8.0, wind_from_deg=270.0)
    still = math.sqrt(3000.0 / (0.5 * RHO * 0.9))
    assert lap_of(road, vehicle, west, step_m=5.0).v_ms[-1] == close(still - 8.0)


@pytest.mark.parametrize("grade_pct", [12.0, -12.0])
def test_grade_shortens_or_lengthens_braking(grade_pct: float) -> None:
    slope = math.atan(grade_pct / 100.0)
    lap = lap_of(
        course(
            Straight(1500.0, grade_pct=grade_pct), Bend("T1", 1, 20.0, 90.0, grade_pct=grade_pct)
        ),
        plain_vehicle(),
    )
    deceleration = G * (1.5 * math.cos(slope) + math.sin(slope))
    assert braking_distance_between(lap, 60.0, 30.0) == close((60**2 - 30**2) / 2 / deceleration)


def test_traction_of_a_rear_driven_car_grows_with_its_own_load_transfer() -> None:
    vehicle = plain_vehicle(
        cg_height_m=0.5, rear_drive_fraction=1.0, tyres=Tyres(1.0, 1.0, 0, 0.3, 0)
    )
    lap = lap_of(course(Straight(200.0)), vehicle)
    expected = 1.0 * G * 0.5 / (1.0 - 1.0 * 0.5 / 2.5)
    assert lap.v_ms[-1] ** 2 == close(2 * expected * 200.0)
    assert lap.lap_time_s == close(math.sqrt(2 * 200.0 / expected))


def test_traction_of_a_front_driven_car_shrinks_with_it() -> None:
    vehicle = plain_vehicle(
        cg_height_m=0.5, rear_drive_fraction=0.0, tyres=Tyres(1.0, 1.0, 0, 0.3, 0)
    )
    lap = lap_of(course(Straight(200.0)), vehicle)
    expected = 1.0 * G * 0.5 / (1.0 + 1.0 * 0.5 / 2.5)
    assert lap.v_ms[-1] ** 2 == close(2 * expected * 200.0)


def test_front_lift_bounds_the_drive() -> None:
    vehicle = plain_vehicle(
        cg_height_m=0.75, wheelbase_m=1.4, rear_drive_fraction=1.0, kind=VehicleKind.MOTORCYCLE
    )
    lap = lap_of(course(Straight(200.0)), vehicle)
    assert lap.v_ms[-1] ** 2 == close(2 * G * 0.5 * 1.4 / 0.75 * 200.0)


def test_a_crest_unloads_the_vehicle_at_the_root_of_g_over_its_curvature() -> None:
    road = course(
        Straight(400.0, grade_pct=12.0),
        Straight(400.0, grade_pct=-12.0),
        grade_blend_m=60.0,
        start_speed_ms=20.0,
    )
    path = build_path(road, 1.0)
    lap = lap_of(road, plain_vehicle())
    vertical = 0.24 / 60.0
    top = int(np.searchsorted(path.s_m, 400.0))
    assert path.slope.curvature_end[top - 1] == close(-vertical)
    assert lap.solved.limit_w[top - 1, 1] == close(G / vertical)
    # Nothing could hold it back on the far side, so it arrives a little slower than that:
    # over the rest of the crest gravity alone may not lift it off.
    assert np.interp(400.0, lap.s_m, lap.v_ms) < math.sqrt(G / vertical)
    assert bool(np.all(lap.v_ms[:-1] ** 2 <= lap.solved.limit_w.max()))


def test_a_dip_presses_the_vehicle_into_its_corner() -> None:
    radius, vertical = 80.0, 0.10 / 60.0
    road = course(
        Bend("T1", 1, radius, 90.0, grade_pct=-5.0),
        Bend("T2", 1, radius, 90.0, grade_pct=5.0),
        start_speed_ms=20.0,
    )
    lap = lap_of(road, plain_vehicle())
    meets = int(np.searchsorted(lap.path.s_m, math.pi * radius / 2 - 1e-6))
    # μ(g + v²κ_v) = v²/R where the grade passes through zero.
    expected = 1.5 * G / (1.0 / radius - 1.5 * vertical)
    assert lap.solved.limit_w[meets - 1, 1] == close(expected)


def test_a_lean_limit_bounds_a_motorcycle_in_its_corner() -> None:
    vehicle = plain_vehicle(kind=VehicleKind.MOTORCYCLE, max_lean_deg=45.0)
    assert lap_of(ring(50.0), vehicle).v_ms[0] ** 2 == close(G * 50.0)


def test_load_sensitivity_makes_fuel_cost_grip() -> None:
    """Reference loads are without fuel: μ = μ₀·(1100/1000)^(-ε)."""
    vehicle = plain_vehicle(fuel_kg=100.0, tyres=Tyres(1.5, 1.5, 0.1, 0.3, 0.0))
    expected = 1.5 * 1.1**-0.1 * G * 50.0
    assert lap_of(ring(50.0), vehicle).v_ms[0] ** 2 == close(expected)


def test_wetness_and_surface_grip_multiply() -> None:
    damp = replace(AIR_12, wetness_pct=35.0, grip_factor=0.9)
    lap = lap_of(ring(50.0, grip_factor=0.95), plain_vehicle(), damp)
    grip = 1.5 * 0.9 * 0.95 * (0.88 + (0.70 - 0.88) * 15.0 / 30.0)
    assert lap.v_ms[0] ** 2 == close(grip * G * 50.0)


def test_holding_a_corner_costs_the_drive_that_its_drag_asks_for() -> None:
    """On a ring with drag the tyre limit drag and turn together: (D)² + (mv²/R)² = (μmg)²."""
    drag_area = 4.0
    vehicle = plain_vehicle(aero=Aero(0.0, drag_area, 0.5))
    lap = lap_of(ring(60.0), vehicle)
    k = 0.5 * RHO * drag_area
    expected = 1.5 * 1000.0 * G / math.sqrt(k**2 + (1000.0 / 60.0) ** 2)
    assert lap.v_ms.min() ** 2 == close(expected)
    assert lap.v_ms.max() ** 2 == close(expected)


def test_an_unstated_pressure_follows_the_altitude() -> None:
    vehicle = plain_vehicle(
        aero=Aero(0.0, 0.9, 0.5), engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0)
    )
    thin = replace(AIR_12, pressure_hpa=None, air_temp_c=8.5)
    lap = lap_of(
        course(Straight(20000.0), start_speed_ms=30.0, altitude_m=1000.0), vehicle, thin, step_m=5.0
    )
    # ISO 2533 at 1000 m: 898.75 hPa, 1.1117 kg/m³ (its temperature there is 8.5 °C).
    assert lap.v_ms[-1] == close(math.sqrt(3000.0 / (0.5 * 1.1117 * 0.9)))


def test_single_gear_runs_into_its_limiter() -> None:
    vehicle = plain_vehicle(
        engine=Engine(((1000.0, 300.0), (6000.0, 300.0)), 6000.0, 1.0, 0.0),
        gearbox=Gearbox((2.0,), 3.0, 0.05, 0.05),
    )
    lap = lap_of(course(Straight(1500.0)), vehicle)
    assert lap.v_ms.max() == close(6000.0 * math.pi / 30.0 * 0.3 / 6.0)
