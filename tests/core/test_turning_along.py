"""Wheels and engine that turn along: run-up, coasting and braking by hand, gears, and by lot."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import (
    AIR_12,
    PURE,
    RHO,
    SHORT_LAP,
    braking_distance_between,
    close,
    course,
    lap_of,
    plain_vehicle,
    road_car,
)
from neapfrost.core.car.gears import shifts
from neapfrost.core.car.level import level_car, pull_n, top_speed_ms
from neapfrost.core.lap.record import engine_work_j
from neapfrost.core.path.circuit import Bend, Straight
from neapfrost.core.records import Aero, Brakes, Driver, Engine, Gearbox, Inertia

#: At a radius of 0.3 m and geared 3 to 1: 2.7 kg m² of wheels are 30 kg, 0.2 of engine 20 kg.
TURNING = Inertia(1.2, 1.5, 0.2)
EQUIVALENT_KG = 2.7 / 0.09 + 0.2 * 9.0 / 0.09
TORQUE = Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0)


def test_run_up_in_one_gear() -> None:
    vehicle = plain_vehicle(engine=TORQUE, inertia=TURNING)
    lap = lap_of(course(Straight(300.0)), vehicle)
    gain = 300.0 * 3.0 / 0.3 / (1000.0 + EQUIVALENT_KG)
    assert lap.v_ms[-1] ** 2 == close(2.0 * gain * 300.0)
    assert lap.lap_time_s == close(math.sqrt(2.0 * 300.0 / gain))


def test_the_engine_turns_itself_with_the_efficiency_of_the_driveline() -> None:
    vehicle = plain_vehicle(engine=replace(TORQUE, efficiency=0.8), inertia=Inertia(0.0, 0.0, 0.2))
    lap = lap_of(course(Straight(300.0)), vehicle)
    gain = 0.8 * 3000.0 / (1000.0 + 0.8 * 20.0)
    assert lap.v_ms[-1] ** 2 == close(2.0 * gain * 300.0)


def test_run_up_against_drag() -> None:
    """v² = F/b·(1 - exp(-2bs/m_eq)) with b = ½ρ·CdA."""
    vehicle = plain_vehicle(engine=TORQUE, inertia=TURNING, aero=Aero(0.0, 1.4, 0.5))
    lap = lap_of(course(Straight(600.0)), vehicle)
    b, m = 0.5 * RHO * 1.4, 1000.0 + EQUIVALENT_KG
    assert lap.v_ms[-1] ** 2 == close(3000.0 / b * (1.0 - math.exp(-2.0 * b * 600.0 / m)))


def test_coasting_down_takes_longer_by_what_turns() -> None:
    """A lift only: the speed falls by overrun and drag, v² + F/b = (v₀² + F/b)·exp(-2bs/m_eq)."""
    overrun = replace(TORQUE, overrun_torque_nm=60.0, rev_limit_rpm=20000.0)
    vehicle = plain_vehicle(engine=overrun, inertia=TURNING, aero=Aero(0.0, 1.4, 0.5))
    coasting = Driver(brake_ramp_s=0.0, transition_s=3.0, lift_threshold_ms=0.0)
    lap = lap_of(course(Straight(500.0), Bend("T1", 1, 30.0, 90.0)), vehicle, driver=coasting)
    zone = lap.zones[0]
    first, last = (
        int(np.searchsorted(lap.s_m, at)) for at in (zone.lift_at_m + 2, zone.brake_start_at_m - 2)
    )
    s, v = lap.s_m[first:last], lap.v_ms[first:last]
    force = 60.0 / 20000.0 * (v * 3.0 / 0.3 * 30.0 / math.pi) * 3.0 / 0.3
    slowed = (0.5 * RHO * 1.4 * v**2 + force) / (1000.0 + EQUIVALENT_KG)
    lost = np.trapezoid(2.0 * slowed, s)
    assert v[0] ** 2 - v[-1] ** 2 == pytest.approx(lost, rel=2e-3)


def test_brakes_that_the_tyres_end_take_no_notice() -> None:
    heavy, light = (
        lap_of(
            course(Straight(700.0), Bend("T1", 1, 30.0, 90.0)),
            plain_vehicle(engine=TORQUE, inertia=inertia),
        )
        for inertia in (TURNING, Inertia())
    )
    assert braking_distance_between(heavy, 40.0, 25.0) == close(
        braking_distance_between(light, 40.0, 25.0)
    )


@pytest.mark.parametrize(
    ("clutch_in", "equivalent_kg"), [(True, EQUIVALENT_KG), (False, 2.7 / 0.09)]
)
def test_brakes_at_the_end_of_their_hardware_slow_what_turns_as_well(
    clutch_in: bool, equivalent_kg: float
) -> None:
    vehicle = plain_vehicle(
        engine=TORQUE,
        inertia=replace(TURNING, clutch_in_braking=clutch_in),
        brakes=Brakes(None, 6000.0),
    )
    lap = lap_of(course(Straight(900.0), Bend("T1", 1, 30.0, 90.0)), vehicle)
    expected = (40.0**2 - 25.0**2) / (2.0 * 6000.0 / (1000.0 + equivalent_kg))
    assert braking_distance_between(lap, 40.0, 25.0) == close(expected)


def test_a_speed_that_is_held_turns_nothing_faster() -> None:
    still, turning = (
        top_speed_ms(level_car(road_car(inertia=inertia), AIR_12))
        for inertia in (Inertia(), Inertia(2.0, 2.0, 0.2))
    )
    assert turning == still


def test_work_of_the_engine_holds_what_turns() -> None:
    """Without any resistance the engine's work is the energy of all that moves."""
    vehicle = plain_vehicle(engine=TORQUE, inertia=TURNING)
    lap = lap_of(course(Straight(300.0)), vehicle)
    energy = 0.5 * (1000.0 + EQUIVALENT_KG) * lap.v_ms[-1] ** 2
    assert engine_work_j(lap, 1.0) == close(energy)


def test_a_change_up_comes_earlier_where_the_lower_gear_turns_more() -> None:
    """Where (F₁ - R)/(1 + μ₁) falls to (F₂ - R)/(1 + μ₂), the shift is due."""
    # Torque that falls to the limiter, so that changing up pays before it.
    engine = Engine(((3000.0, 280.0), (5000.0, 340.0), (7800.0, 190.0)), 7800.0, 0.93)
    still = level_car(road_car(engine=engine), AIR_12)
    turning = level_car(road_car(engine=engine, inertia=Inertia(2.0, 2.0, 0.25)), AIR_12)
    for before, after in zip(shifts(still)[:2], shifts(turning)[:2], strict=True):
        assert before.shift_ms is not None
        assert after.shift_ms is not None
        assert after.shift_ms < before.shift_ms
        load = 0.5 * RHO * 1.05 * after.shift_ms**2
        load += 0.013 * (1260.0 * 9.80665 + 0.5 * RHO * 2.1 * after.shift_ms**2)
        pulls = [pull_n(turning, after.shift_ms, load, after.gear - 1 + more) for more in (0, 1)]
        assert pulls[0] == pytest.approx(pulls[1], rel=1e-3)


@given(wheels=st.floats(0.0, 4.0), engine=st.floats(0.0, 0.4), power=st.floats(0.4, 1.5))
def test_more_that_turns_is_never_quicker(wheels: float, engine: float, power: float) -> None:
    car = road_car(gearbox=Gearbox((3.1, 2.2, 1.7, 1.35, 1.12, 0.95), 3.9, 0.0, 0.0))
    curve = tuple((rpm, power * torque) for rpm, torque in car.engine.torque_curve)
    car = replace(car, engine=replace(car.engine, torque_curve=curve))
    more = replace(car, inertia=Inertia(wheels, wheels, engine))
    assert lap_of(SHORT_LAP, more, AIR_12, PURE, 2.0).lap_time_s >= (
        lap_of(SHORT_LAP, car, AIR_12, PURE, 2.0).lap_time_s - 1e-6
    )


def test_brakes_take_what_the_wheels_hold() -> None:
    """All of the car's energy and its wheels' goes into the brakes where nothing else slows it."""
    vehicle = plain_vehicle(engine=TORQUE, inertia=Inertia(1.2, 1.5, 0.0))
    lap = lap_of(course(Straight(700.0), Bend("T1", 1, 30.0, 90.0)), vehicle)
    zone = lap.zones[0]
    fast, slow = (
        float(np.interp(at, lap.s_m, lap.v_ms))
        for at in (zone.brake_start_at_m, zone.brake_end_at_m)
    )
    equivalent = 1000.0 + 2.7 / 0.09
    # The bend's own ramp-in takes a little of the tyres, and a part of the last step.
    assert lap.brake_work_j[-1] == pytest.approx(0.5 * equivalent * (fast**2 - slow**2), rel=5e-3)
