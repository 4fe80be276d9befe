"""Downforce that goes with speed and attitude, reference loads, and how a motorcycle leans."""

import math
from dataclasses import replace

import pytest

from core.builders import AIR_12, RHO, G, close, lap_of, plain_vehicle, ring, road_car
from core.test_reference import MOTORCYCLE
from neapfrost.core.car.level import forces_at, level_car, level_road, steady_limit
from neapfrost.core.kernels.forces import axle_use
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import build_path
from neapfrost.core.records import Aero, Brakes, Tyres

TABLE = ((20.0, 1.25, 1.2, -0.04), (60.0, 0.8, 0.9, 0.04))


@pytest.mark.parametrize(
    ("v_ms", "lift_area", "drag_area"),
    [
        (10.0, 3.0, 1.32),
        (20.0, 3.0, 1.32),
        (40.0, 2.46, 1.155),
        (60.0, 1.92, 0.99),
        (90.0, 1.92, 0.99),
    ],
)
def test_a_table_over_speed_is_linear_between_its_points_and_held_beyond(
    v_ms: float, lift_area: float, drag_area: float
) -> None:
    vehicle = plain_vehicle(aero=Aero(2.4, 1.1, 0.44, TABLE))
    found = forces_at(level_car(vehicle, AIR_12), v_ms)
    pressure = 0.5 * RHO * v_ms**2
    assert found.resistance_n == close(pressure * drag_area)
    assert -found.least_n == close(1.5 * (1000.0 * G + pressure * lift_area))


def test_the_balance_moves_with_the_speed() -> None:
    vehicle = plain_vehicle(aero=Aero(2.4, 0.0, 0.44, TABLE))
    for v_ms, front in ((20.0, 0.40), (60.0, 0.48)):
        lift = 0.5 * RHO * v_ms**2 * (3.0 if v_ms == 20.0 else 1.92)
        _, _, on_front, on_rear = axle_use(
            level_car(vehicle, AIR_12).case, level_road(), 0, 0.0, v_ms**2, 0.0
        )
        assert on_front == close(500.0 * G + front * lift)
        assert on_rear == close(500.0 * G + (1.0 - front) * lift)


def test_a_skidpad_with_downforce_that_rolls_off() -> None:
    """v²/R = μ(g + ½ρ·ClA·v²(1 - s·v²/R)/m), solved by turns."""
    share, radius = 0.012, 80.0
    vehicle = plain_vehicle(aero=Aero(3.0, 0.0, 0.5, lift_lost_turning=share))
    w = 0.0
    for _ in range(200):
        lift = 0.5 * RHO * 3.0 * w * (1.0 - share * w / radius)
        w = radius * 1.5 * (G + lift / 1000.0)
    assert lap_of(ring(radius), vehicle).v_ms[0] ** 2 == close(w)


def test_braking_dives_off_its_downforce() -> None:
    """X = μ(m·g + L(1 - s·X/m)): what the tyres brake with is linear in itself."""
    share, v_ms = 0.01, 50.0
    vehicle = plain_vehicle(aero=Aero(3.0, 0.0, 0.5, lift_lost_braking=share))
    lift = 0.5 * RHO * 3.0 * v_ms**2
    braking = 1.5 * (1000.0 * G + lift) / (1.0 + 1.5 * lift * share / 1000.0)
    assert -forces_at(level_car(vehicle, AIR_12), v_ms).least_n == close(braking)
    # Both axles lock together where nothing is moved along the car, and use all they have.
    front, rear, _, _ = axle_use(
        level_car(vehicle, AIR_12).case, level_road(), 0, 0.0, v_ms**2, -braking
    )
    assert front == close(1.0)
    assert rear == close(1.0)


def test_a_reference_load_that_is_stated_stays() -> None:
    """More mass then costs grip by itself, as fuel does: μ falls with (N/N_ref)^ε."""
    tyres = Tyres(1.5, 1.5, 0.1, 0.3, 0.0, front_reference_n=500.0 * G, rear_reference_n=500.0 * G)
    vehicle = plain_vehicle(tyres=tyres, mass_kg=1300.0)
    limit, _ = steady_limit(level_car(vehicle, AIR_12), 20.0)
    assert limit == close(1.5 * G * 1.3**-0.1)
    moved = replace(vehicle, tyres=Tyres(1.5, 1.5, 0.1, 0.3, 0.0))
    limit, _ = steady_limit(level_car(moved, AIR_12), 20.0)
    assert limit == close(1.5 * G)


def test_mass_costs_what_fuel_costs_once_the_reference_load_is_stated() -> None:
    car = road_car()
    front, rear = car.reference_loads_n
    stated = replace(car, tyres=replace(car.tyres, front_reference_n=front, rear_reference_n=rear))
    path = build_path(ring(70.0), 1.0)
    base = drive_lap(Drive(path, stated, AIR_12)).lap.lap_time_s
    assert base == drive_lap(Drive(path, car, AIR_12)).lap.lap_time_s
    heavier = drive_lap(Drive(path, replace(stated, mass_kg=stated.mass_kg + 30.0), AIR_12))
    fuelled = drive_lap(Drive(path, replace(stated, fuel_kg=stated.fuel_kg + 30.0), AIR_12))
    assert heavier.lap.lap_time_s == pytest.approx(fuelled.lap.lap_time_s, abs=1e-9)
    assert heavier.lap.lap_time_s > base


def test_a_motorcycle_on_wide_tyres_leans_further() -> None:
    """Tan φ_i = F_y/N; with tyres of radius t, sin(φ - φ_i)·(h - t) = t·sin φ_i."""
    wide = replace(MOTORCYCLE, tyres=replace(MOTORCYCLE.tyres, width_m=0.18))
    driven = drive_lap(Drive(build_path(ring(60.0), 1.0), wide, AIR_12))
    lean = driven.corners[0].lean_deg
    assert lean is not None
    ideal = math.atan(driven.lap.v_ms.max() ** 2 / 60.0 / G)
    expected = ideal + math.asin(0.09 * math.sin(ideal) / (0.64 - 0.09))
    assert lean == pytest.approx(math.degrees(expected), abs=0.05)
    assert lean > math.degrees(ideal) + 4.0


def test_a_greatest_lean_is_the_true_one() -> None:
    limited = replace(MOTORCYCLE, max_lean_deg=45.0, tyres=replace(MOTORCYCLE.tyres, width_m=0.18))
    driven = drive_lap(Drive(build_path(ring(60.0), 1.0), limited, AIR_12))
    assert driven.corners[0].lean_deg == pytest.approx(45.0, abs=0.02)
    assert driven.corners[0].limited_by == "lean"
    # By hand: tan φ_i = (h - t)·sin φ/(t + (h - t)·cos φ).
    side, up = 0.55 * math.sin(math.pi / 4.0), 0.09 + 0.55 * math.cos(math.pi / 4.0)
    assert driven.lap.v_ms.max() ** 2 / 60.0 == close(G * side / up)


def test_a_rider_who_sits_up_brakes_with_the_air_and_holds_the_rear_down() -> None:
    v_ms = 60.0
    upright = replace(MOTORCYCLE, brakes=Brakes(1.0, None), tyres=Tyres(3.0, 3.0, 0.0, 0.31, 0.0))
    sitting = replace(
        upright, aero=Aero(0.0, 0.36, 0.5, braking_drag_area_m2=0.6, braking_drag_height_m=0.9)
    )
    low, high = (forces_at(level_car(bike, AIR_12), v_ms) for bike in (upright, sitting))
    more = 0.5 * RHO * 0.24 * v_ms**2
    mass, height, base = 271.0, 0.64, 1.42
    # The rear lifts at m·a·h = rear·L + ΔD·h_d, so that both help: m·a = X + D.
    drag = 0.5 * RHO * 0.36 * v_ms**2
    rear = 0.49 * mass * G * base
    assert -low.least_n + drag == close(rear / height)
    assert -high.least_n + drag == close((rear + more * 0.9) / height)
    assert high.resistance_n == low.resistance_n
    # In mid-corner the tyres have nothing for the brakes, and the rider stays down.
    leant = [
        forces_at(level_car(bike, AIR_12), v_ms, 2.9 * G / v_ms**2) for bike in (upright, sitting)
    ]
    assert leant[0] == leant[1]
