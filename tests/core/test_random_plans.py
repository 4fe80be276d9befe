"""What holds of every lap, whatever the course and the vehicle: drawn by lot, open and hilly."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import AIR_12, G, lap_of, road_car
from neapfrost.core.lap.corners import CornerResult, corner_results
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.light import light
from neapfrost.core.lap.record import Lap
from neapfrost.core.lap.solve import solve_many
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Aero, Driver, Gearbox, Tyres, Vehicle

#: As fine as a lap is told: places to the step [m], times to the millisecond.
STEP_M = 1.0


@st.composite
def courses(draw: st.DrawFn) -> Circuit:
    """Three to six corners of all radii, some right after each other, up and down hill."""
    segments: list[Straight | Bend] = [Straight(draw(st.floats(60.0, 250.0)))]
    for number in range(draw(st.integers(3, 6))):
        radius = draw(st.floats(15.0, 160.0))
        segments.append(
            Bend(
                f"T{number + 1}",
                draw(st.sampled_from((1, -1))),
                radius,
                draw(st.floats(25.0, 130.0)),
                end_radius_m=draw(st.sampled_from((None, 0.8 * radius, 1.3 * radius))),
                transition_m=draw(st.sampled_from((0.0, 8.0))),
                banking_deg=draw(st.floats(-2.0, 7.0)),
            )
        )
        if draw(st.booleans()):
            length, grade = draw(st.floats(30.0, 260.0)), draw(st.floats(-7.0, 7.0))
            segments.append(Straight(length, grade_pct=grade))
    segments.append(Straight(150.0))
    begun = draw(st.floats(12.0, 45.0))
    return Circuit("by lot", False, tuple(segments), start_speed_ms=begun, grade_blend_m=40.0)


@st.composite
def cars(draw: st.DrawFn) -> Vehicle:
    """A car of more or less grip, wing and power, on its own gears."""
    car = road_car()
    mu = draw(st.floats(0.9, 1.6))
    power = draw(st.floats(0.5, 1.6))
    curve = tuple((rpm, power * torque) for rpm, torque in car.engine.torque_curve)
    return replace(
        car,
        tyres=Tyres(mu, 0.95 * mu, draw(st.sampled_from((0.0, 0.08))), 0.32, 0.013),
        aero=Aero(draw(st.floats(0.0, 2.5)), draw(st.floats(0.5, 1.3)), 0.42),
        engine=replace(car.engine, torque_curve=curve),
    )


def results(lap: Lap) -> tuple[CornerResult, ...]:
    return corner_results(lap, [])


@given(course=courses(), car=cars())
def test_the_events_of_a_corner_follow_each_other(course: Circuit, car: Vehicle) -> None:
    """Lift, brake, slowest point, throttle; on a climb the speed may fall again after that."""
    for corner in results(lap_of(course, car, driver=Driver())):
        powered = [at for at in (corner.throttle_at_m, corner.full_throttle_at_m) if at is not None]
        events = [corner.lift_at_m, corner.brake_start_at_m, corner.min_speed_at_m]
        if corner.action == "brake":
            told = [event for event in (*events, *powered[:1]) if event is not None]
            assert all(a <= b + STEP_M for a, b in pairwise(told)), (corner.name, told)
            assert all(corner.min_speed_at_m <= at + STEP_M for at in powered)
        assert corner.begins_at_m - 1e-6 <= corner.min_speed_at_m <= corner.ends_at_m + 1e-6


@given(course=courses(), car=cars())
def test_the_minimum_is_the_least_of_the_corner_s_own_part(course: Circuit, car: Vehicle) -> None:
    lap = lap_of(course, car, driver=Driver())
    for corner in results(lap):
        begins = corner.begins_at_m
        if corner.lift_at_m is not None:
            begins = max(begins, corner.lift_at_m)
        own = (lap.s_m >= begins - 1e-6) & (lap.s_m <= corner.ends_at_m + 1e-6)
        if own.any():
            assert corner.min_speed_ms <= lap.v_ms[own].min() + 0.02
        at_ms = float(np.interp(corner.min_speed_at_m, lap.s_m, lap.v_ms))
        assert corner.min_speed_ms == pytest.approx(at_ms, abs=0.1)


@given(course=courses(), car=cars(), more=st.floats(1.02, 1.3))
def test_more_power_is_never_slower(course: Circuit, car: Vehicle, more: float) -> None:
    curve = tuple((rpm, more * torque) for rpm, torque in car.engine.torque_curve)
    stronger = replace(car, engine=replace(car.engine, torque_curve=curve))
    slower_s = lap_of(course, stronger).lap_time_s - lap_of(course, car).lap_time_s
    assert slower_s < 5e-3


@given(course=courses(), car=cars(), more=st.floats(1.02, 1.3))
def test_more_grip_is_never_slower_and_no_corner_is(
    course: Circuit, car: Vehicle, more: float
) -> None:
    tyres = replace(
        car.tyres,
        mu_lateral=more * car.tyres.mu_lateral,
        mu_longitudinal=more * car.tyres.mu_longitudinal,
    )
    before, after = lap_of(course, car), lap_of(course, replace(car, tyres=tyres))
    assert after.lap_time_s < before.lap_time_s + 5e-3


@given(course=courses(), car=cars())
def test_the_lap_keeps_to_its_own_clock(course: Circuit, car: Vehicle) -> None:
    """Time, way and speed agree point by point, and nothing drives backwards."""
    lap = lap_of(course, car, driver=Driver())
    ways, times = np.diff(lap.s_m), np.diff(lap.t_s)
    assert (ways >= 0.0).all()
    assert (times >= 0.0).all()
    mean = 0.5 * (lap.v_ms[1:] + lap.v_ms[:-1])
    moved = ways > 1e-6
    np.testing.assert_allclose(times[moved], (ways / mean)[moved], rtol=2e-3, atol=2e-5)
    assert lap.t_s[-1] == pytest.approx(lap.lap_time_s, abs=1e-6)


@given(course=courses(), car=cars())
def test_nobody_brakes_harder_than_the_road_holds(course: Circuit, car: Vehicle) -> None:
    """Deceleration stays under what weight, wing and drag can give at the speed that is driven."""
    lap = lap_of(course, car, driver=Driver())
    wing = 0.5 * 1.2 * car.aero.lift_area_m2 * lap.v_ms**2 / car.mass_kg
    drag = 0.5 * 1.2 * car.aero.drag_area_m2 * lap.v_ms**2 / car.mass_kg
    # Load sensitivity gives more grip than the figure to a light axle; a dip and a bank press.
    most = 1.35 * car.tyres.mu_longitudinal * (1.25 * G + wing) + drag + 0.12 * G
    assert (-lap.ax_ms2 <= most).all()


@given(course=courses(), car=cars())
def test_downshifts_go_down_one_by_one_to_the_corner_s_gear(course: Circuit, car: Vehicle) -> None:
    for corner in results(lap_of(course, car, driver=Driver())):
        if corner.action != "brake" or not corner.downshifts:
            continue
        gears = [shift.to_gear for shift in corner.downshifts]
        assert gears == list(range(corner.gear_before - 1, corner.gear - 1, -1))
        places = [shift.at_m for shift in corner.downshifts]
        assert places == sorted(places)
        assert corner.brake_start_at_m is not None
        assert places[0] >= corner.brake_start_at_m - STEP_M
        rev_limit = car.engine.rev_limit_rpm
        assert all(shift.rpm_after <= rev_limit * 1.0001 for shift in corner.downshifts)


@given(course=courses(), car=cars())
def test_a_batch_tells_the_same_minima(course: Circuit, car: Vehicle) -> None:
    (batch,) = solve_many([Drive(build_path(course), car, AIR_12, Driver())], light)
    assert batch is not None
    lap = lap_of(course, car, driver=Driver())
    assert batch.lap_time_s == pytest.approx(lap.lap_time_s, abs=1e-3)
    for number, corner in enumerate(results(lap)):
        assert batch.min_speed_ms[number] == pytest.approx(corner.min_speed_ms, abs=0.35)


@given(course=courses(), car=cars(), shift_s=st.floats(0.05, 0.4))
def test_a_slower_shift_is_never_quicker(course: Circuit, car: Vehicle, shift_s: float) -> None:
    def with_shift(upshift_s: float) -> Vehicle:
        box: Gearbox = replace(car.gearbox, upshift_s=upshift_s)
        return replace(car, gearbox=box)

    quick, slow = (lap_of(course, with_shift(s)).lap_time_s for s in (0.0, shift_s))
    assert slow >= quick - 5e-3
