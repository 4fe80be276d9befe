"""Effects that act together, drawn by lot, against what a hand works out; tolerance 0.1 %."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.integrate import quad, solve_ivp
from scipy.optimize import brentq

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
from neapfrost.core.arrays import Floats
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.path.circuit import Bend, Straight
from neapfrost.core.records import (
    Aero,
    Brakes,
    Conditions,
    Driver,
    DriverUse,
    Engine,
    Gearbox,
    Tyres,
    Vehicle,
    VehicleKind,
)

MASS = 1000.0
#: A long straight that ends in a corner so slow that all of the braking is on the straight.
STOP = Bend("T1", 1, 20.0, 90.0)

radii = st.floats(25.0, 180.0)
frictions = st.floats(0.6, 1.9)
lift_areas = st.floats(0.0, 4.0)


def tyres(friction: float, sensitivity: float = 0.0, rolling: float = 0.0) -> Tyres:
    return Tyres(friction, friction, sensitivity, 0.3, rolling)


@given(radii, st.floats(-8.0, 25.0), frictions, lift_areas)
def test_a_bank_and_downforce_together(
    radius: float, bank_deg: float, friction: float, lift_area: float
) -> None:
    """m(v²κ·cos β - g·sin β) = μ[m(g·cos β + v²κ·sin β) + kv²]."""
    bank, k = math.radians(bank_deg), 0.5 * RHO * lift_area
    across = MASS / radius * (math.cos(bank) - friction * math.sin(bank)) - friction * k
    w = MASS * G * (math.sin(bank) + friction * math.cos(bank)) / across
    assume(across > 0.0 and w < 80.0**2)
    vehicle = plain_vehicle(tyres=tyres(friction), aero=Aero(lift_area, 0.0, 0.5))
    lap = lap_of(ring(radius, banking_deg=bank_deg), vehicle)
    assert lap.v_ms.min() ** 2 == close(w)
    assert lap.v_ms.max() ** 2 == close(w)


@given(radii, st.floats(0.40, 0.60), st.floats(0.30, 0.70), st.floats(0.5, 3.0))
def test_the_axle_that_the_downforce_leaves_out_ends_the_turn(
    radius: float, weight: float, aero: float, lift_area: float
) -> None:
    """Each axle turns its share of the weight on its own load: m·wf·v²/R = μ(m·g·wf + k·af·v²)."""
    friction, k = 1.2, 0.5 * RHO * lift_area

    def limit_w(share: float, pressed: float) -> float:
        left = MASS * share / radius - friction * k * pressed
        return friction * MASS * G * share / left if left > 0.0 else math.inf

    front, rear = limit_w(weight, aero), limit_w(1.0 - weight, 1.0 - aero)
    assume(min(front, rear) < 80.0**2)
    vehicle = plain_vehicle(
        tyres=tyres(friction), front_weight_fraction=weight, aero=Aero(lift_area, 0.0, aero)
    )
    assert lap_of(ring(radius), vehicle).v_ms.max() ** 2 == close(min(front, rear))


@given(radii, frictions, st.floats(0.0, 0.25), st.floats(0.0, 3.0), st.floats(0.0, 150.0))
def test_downforce_and_fuel_press_tyres_that_tire_of_it(
    radius: float, friction: float, sensitivity: float, lift_area: float, fuel: float
) -> None:
    """Mv²/R = μ₀·(N/N_ref)^-ε·N with N = mg + kv², N_ref without fuel; ε takes what N gives."""
    mass, k = MASS + fuel, 0.5 * RHO * lift_area

    def left_over(w: float) -> float:
        load = mass * G + k * w
        return friction * math.pow(load / (MASS * G), -sensitivity) * load - mass * w / radius

    most = 80.0**2
    assume(left_over(most) < 0.0)
    expected = brentq(left_over, 1.0, most)
    vehicle = plain_vehicle(
        tyres=tyres(friction, sensitivity), aero=Aero(lift_area, 0.0, 0.5), fuel_kg=fuel
    )
    assert lap_of(ring(radius), vehicle).v_ms.max() ** 2 == close(expected)


@given(radii, frictions, st.floats(0.5, 4.0), st.floats(1.3, 3.0))
def test_drag_takes_its_share_of_the_grip_by_the_driver_s_exponent(
    radius: float, friction: float, drag_area: float, exponent: float
) -> None:
    """(D/μN)^p + (mv²/R/μN)^p = 1 where drive holds the speed."""
    grip = friction * MASS * G

    def over(w: float) -> float:
        drag = 0.5 * RHO * drag_area * w
        turn = MASS * w / radius
        return math.pow(drag / grip, exponent) + math.pow(turn / grip, exponent) - 1.0

    expected = brentq(over, 1.0, friction * G * radius)
    driver = replace(PURE, entry_exponent=exponent, exit_exponent=exponent)
    vehicle = plain_vehicle(tyres=tyres(friction), aero=Aero(0.0, drag_area, 0.5))
    lap = lap_of(ring(radius), vehicle, driver=driver)
    assert lap.v_ms.min() ** 2 == close(expected)


def braking_car(share: float, height: float, weight: float, friction: float) -> Vehicle:
    return plain_vehicle(
        brakes=Brakes(share, None),
        cg_height_m=height,
        front_weight_fraction=weight,
        tyres=tyres(friction),
    )


@given(st.floats(0.5, 0.85), st.floats(0.0, 0.55), st.floats(0.42, 0.60), st.floats(0.8, 1.4))
def test_the_first_axle_to_lock_with_the_load_it_then_has(
    share: float, height: float, weight: float, friction: float
) -> None:
    """Front: a·f = μ(g·wf + a·h/L); rear: a(1 - f) = μ(g(1 - wf) - a·h/L); the lower of the two."""
    moved = friction * height / 2.5
    front = friction * G * weight / (share - moved)
    rear = friction * G * (1.0 - weight) / (1.0 - share + moved)
    decel = min(front, rear)
    lap = lap_of(course(Straight(1500.0), STOP), braking_car(share, height, weight, friction))
    assert braking_distance_between(lap, 60.0, 30.0) == close((60.0**2 - 30.0**2) / 2.0 / decel)


def forces(
    v: float, slope: float, headwind: float, aero: Aero, rolling: float
) -> tuple[float, float]:
    """Load on the road, and drag, rolling resistance and the weight's share along it [N]."""
    air = v + headwind
    load = MASS * G * math.cos(slope) + 0.5 * RHO * aero.lift_area_m2 * air**2
    drag = 0.5 * RHO * aero.drag_area_m2 * air * abs(air)
    return load, drag + rolling * load + MASS * G * math.sin(slope)


def along(headwind: float) -> Conditions:
    """Air that meets a road to the north head-on, or from behind."""
    bearing = 0.0 if headwind > 0.0 else 180.0
    return replace(AIR_12, wind_speed_ms=abs(headwind), wind_from_deg=bearing)


slopes = st.floats(-8.0, 8.0)
headwinds = st.floats(-12.0, 12.0)
rollings = st.floats(0.0, 0.02)


@given(frictions, st.floats(0.0, 3.0), st.floats(0.3, 1.5), headwinds, slopes, rollings)
def test_braking_on_a_slope_into_a_wind_that_presses_as_well(
    friction: float,
    lift_area: float,
    drag_area: float,
    headwind: float,
    grade_pct: float,
    rolling: float,
) -> None:
    """All that slows at once: ∫ m·v dv / (μN + resistance)."""
    slope, aero = math.atan(grade_pct / 100.0), Aero(lift_area, drag_area, 0.5)

    def metres_per_ms(v: float) -> float:
        load, resistance = forces(v, slope, headwind, aero, rolling)
        return MASS * v / (friction * load + resistance)

    expected, _ = quad(metres_per_ms, 30.0, 50.0)
    vehicle = plain_vehicle(tyres=tyres(friction, rolling=rolling), aero=aero)
    stop = replace(STOP, grade_pct=grade_pct)
    road = course(Straight(1500.0, grade_pct=grade_pct), stop, north_deg=0.0)
    lap = lap_of(road, vehicle, along(headwind))
    assert braking_distance_between(lap, 50.0, 30.0) == close(expected)


@given(
    st.floats(80e3, 500e3), frictions, st.floats(0.0, 3.0), st.floats(0.3, 1.5), headwinds, slopes
)
def test_a_run_by_another_integrator(
    power: float,
    friction: float,
    lift_area: float,
    drag_area: float,
    headwind: float,
    grade_pct: float,
) -> None:
    """As much as the tyres hold, then constant power: LSODA over time, to 1e-9."""
    slope, aero, start = math.atan(grade_pct / 100.0), Aero(lift_area, drag_area, 0.5), 12.0

    def change(_: float, at: Floats) -> list[float]:
        load, resistance = forces(at[1], slope, headwind, aero, 0.012)
        drive = min(friction * load, power / at[1])
        return [at[1], (drive - resistance) / MASS]

    def arrived(_: float, at: Floats) -> float:
        return float(at[0]) - 700.0

    arrived.terminal = True  # type: ignore[attr-defined]  # so does scipy ask for it
    run = solve_ivp(
        change, (0.0, 300.0), [0.0, start], "LSODA", events=arrived, rtol=1e-9, atol=1e-9
    )
    assert run.t_events is not None
    assert run.y_events is not None
    (seconds,), ((_, last),) = run.t_events[0], run.y_events[0]
    rpm = np.linspace(300.0, 20000.0, 2000)
    curve = tuple((float(n), power / (n * math.pi / 30.0)) for n in rpm)
    vehicle = plain_vehicle(
        tyres=tyres(friction, rolling=0.012), aero=aero, engine=Engine(curve, 20000.0, 1.0, 0.0)
    )
    road = course(Straight(700.0, grade_pct=grade_pct), start_speed_ms=start, north_deg=0.0)
    lap = lap_of(road, vehicle, along(headwind))
    assert lap.v_ms[-1] == close(last)
    assert lap.lap_time_s == close(seconds)


@given(st.floats(0.45, 0.7), st.floats(0.4, 0.6), slopes)
def test_a_motorcycle_s_rear_wheel_leaves_a_slope_later_or_earlier(
    height: float, weight: float, grade_pct: float
) -> None:
    """The rear wheel is light at d = g(cos γ·(1 - wf)·L/h + sin γ), whatever the front holds."""
    slope = math.atan(grade_pct / 100.0)
    shed = G * (math.cos(slope) * (1.0 - weight) * 1.4 / height + math.sin(slope))
    vehicle = plain_vehicle(
        kind=VehicleKind.MOTORCYCLE,
        cg_height_m=height,
        wheelbase_m=1.4,
        front_weight_fraction=weight,
        brakes=Brakes(1.0, None),
        tyres=tyres(2.5),
    )
    stop = replace(STOP, grade_pct=grade_pct)
    lap = lap_of(course(Straight(1500.0, grade_pct=grade_pct), stop), vehicle)
    assert braking_distance_between(lap, 60.0, 30.0) == close((60.0**2 - 30.0**2) / 2.0 / shed)


@given(st.floats(-6.0, 6.0), st.floats(0.5, 1.5), st.floats(0.0, 0.02))
def test_the_top_speed_of_a_slope(grade_pct: float, drag_area: float, rolling: float) -> None:
    """Drive meets drag, rolling resistance and the slope's share of the weight."""
    slope = math.atan(grade_pct / 100.0)
    drive = 300.0 * 3.0 / 0.3
    left = drive - MASS * G * (math.sin(slope) + rolling * math.cos(slope))
    vehicle = plain_vehicle(
        aero=Aero(0.0, drag_area, 0.5),
        tyres=tyres(1.5, rolling=rolling),
        engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0),
    )
    road = course(Straight(20000.0, grade_pct=grade_pct), start_speed_ms=40.0)
    lap = lap_of(road, vehicle, step_m=5.0)
    assert lap.v_ms[-1] == close(math.sqrt(left / (0.5 * RHO * drag_area)))


@given(st.floats(-10.0, 10.0), st.floats(0.0, 0.6), st.floats(0.7, 1.3))
def test_a_standing_start_on_a_slope_with_the_load_on_the_driven_axle(
    grade_pct: float, height: float, friction: float
) -> None:
    """F = μ(mg·cos γ·wr + F·h/L): what moves load to the rear is the whole of the drive."""
    slope = math.atan(grade_pct / 100.0)
    force = friction * MASS * G * math.cos(slope) * 0.5 / (1.0 - friction * height / 2.5)
    gain = force / MASS - G * math.sin(slope)
    vehicle = plain_vehicle(cg_height_m=height, rear_drive_fraction=1.0, tyres=tyres(friction))
    lap = lap_of(course(Straight(200.0, grade_pct=grade_pct)), vehicle)
    assert lap.v_ms[-1] ** 2 == close(2.0 * gain * 200.0)
    assert lap.lap_time_s == close(math.sqrt(2.0 * 200.0 / gain))


@given(radii, frictions, st.floats(0.6, 1.0), st.floats(0.6, 1.0), st.floats(0.6, 1.0))
def test_each_use_of_the_driver_scales_its_own_limit_alone(
    radius: float, friction: float, braking: float, cornering: float, traction: float
) -> None:
    driver: Driver = replace(PURE, use=DriverUse(braking, cornering, traction))
    vehicle = plain_vehicle(tyres=tyres(friction))
    turned = lap_of(ring(radius), vehicle, driver=driver)
    assert turned.v_ms.max() ** 2 == close(cornering * friction * G * radius)
    straight = lap_of(course(Straight(1000.0), STOP), vehicle, driver=driver)
    assert straight.v_ms[100] ** 2 == close(2.0 * traction * friction * G * straight.s_m[100])
    fast, slow = 55.0, 30.0
    assume(straight.v_ms.max() > fast + 1.0)
    expected = (fast**2 - slow**2) / 2.0 / (braking * friction * G)
    assert braking_distance_between(straight, fast, slow) == close(expected)


@given(radii, st.floats(-5.0, 15.0), st.floats(35.0, 55.0))
def test_a_motorcycle_leans_against_its_road(
    radius: float, bank_deg: float, lean_deg: float
) -> None:
    """Lean is measured from the road's normal: tan(lean) is to it what friction is to a tyre."""
    bank = math.radians(bank_deg)
    expected = G * radius * math.tan(bank + math.radians(lean_deg))
    vehicle = plain_vehicle(
        kind=VehicleKind.MOTORCYCLE, max_lean_deg=lean_deg, tyres=tyres(2.5), cg_height_m=0.6
    )
    lap = lap_of(ring(radius, banking_deg=bank_deg), vehicle)
    assert lap.v_ms.max() ** 2 == close(expected)


@given(st.floats(20.0, 60.0), st.floats(150.0, 900.0), frictions, st.floats(0.4, 1.0))
def test_where_to_brake_for_a_corner_at_the_end_of_a_straight(
    radius: float, straight_m: float, friction: float, traction: float
) -> None:
    """Gaining at a and shedding at d: top² = (start²·d + low²·a + 2·a·d·S)/(a + d)."""
    gain, shed = traction * friction * G, friction * G
    low_w = friction * G * radius
    start = math.sqrt(low_w)
    top_w = (low_w * shed + low_w * gain + 2.0 * gain * shed * straight_m) / (gain + shed)
    assume(top_w < 95.0**2)
    top, distance = math.sqrt(top_w), (top_w - low_w) / (2.0 * shed)
    driver = replace(PURE, use=DriverUse(traction=traction))
    road = course(Straight(straight_m), Bend("T1", 1, radius, 90.0), start_speed_ms=start)
    lap = lap_of(road, plain_vehicle(tyres=tyres(friction)), driver=driver)
    (corner,) = corner_results(lap, [])
    assert corner.action == "brake"
    assert corner.brake_start_at_m == pytest.approx(straight_m - distance, abs=0.5)
    assert corner.brake_start_to_corner_m == pytest.approx(distance, abs=0.5)
    assert corner.braking_distance_m == pytest.approx(distance, abs=0.5)
    assert corner.brake_start_speed_ms == close(top)
    assert corner.min_speed_ms == close(start)
    assert corner.braking_time_s == pytest.approx((top - start) / shed, abs=0.02)
    assert corner.brake_energy_kj == pytest.approx(0.5 * MASS * (top_w - low_w) / 1000.0, rel=5e-3)
    in_corner = 0.5 * math.pi * radius / start
    assert lap.lap_time_s == close((top - start) / gain + (top - start) / shed + in_corner)


@given(st.floats(20.0, 60.0), frictions, st.floats(0.0, 0.3), st.floats(0.0, 0.5))
def test_the_feet_move_where_the_braking_begins(
    radius: float, friction: float, transition_s: float, ramp_s: float
) -> None:
    """From a lift at v: v·t₁ rolled; a ramp over t₂ sheds d·t₂/2 and covers v·t₂ - d·t₂²/6."""
    ratio = 4.0
    top = 20000.0 * math.pi / 30.0 * 0.3 / (3.0 * ratio)
    shed, low = friction * G, math.sqrt(friction * G * radius)
    after_ramp = top - 0.5 * shed * ramp_s
    ramp = top * ramp_s - shed * ramp_s**2 / 6.0
    full = (after_ramp**2 - low**2) / (2.0 * shed)
    driver = replace(PURE, transition_s=transition_s, brake_ramp_s=ramp_s)
    vehicle = plain_vehicle(tyres=tyres(friction), gearbox=Gearbox((ratio,), 3.0, 0.0, 0.0))
    road = course(Straight(900.0), Bend("T1", 1, radius, 90.0), start_speed_ms=top)
    lap = lap_of(road, vehicle, driver=driver)
    (corner,) = corner_results(lap, [])
    assert corner.brake_start_to_corner_m == pytest.approx(full + ramp, abs=0.2)
    assert corner.braking_distance_m == pytest.approx(full + ramp, abs=0.2)
    assert corner.lift_at_m == pytest.approx(900.0 - full - ramp - top * transition_s, abs=0.3)
    before = (900.0 - full - ramp) / top
    in_corner = 0.5 * math.pi * radius / low
    by_hand = before + ramp_s + (after_ramp - low) / shed + in_corner
    assert lap.lap_time_s == pytest.approx(by_hand, abs=4e-3)


@given(st.floats(20.0, 90.0), frictions, st.lists(st.floats(0.72, 0.88), min_size=3, max_size=5))
def test_the_gear_of_a_corner_is_the_lowest_that_its_revs_allow(
    radius: float, friction: float, falls: list[float]
) -> None:
    """Even torque: a lower gear pulls harder, is entered at 97 % of the revs, and lasts a while."""
    most_rpm, wheel_m = 8000.0, 0.3
    ratios = (3.2, *(3.2 * math.prod(falls[: n + 1]) for n in range(len(falls))))
    low = math.sqrt(friction * G * radius)

    def rpm(ratio: float) -> float:
        return low / wheel_m * ratio * 3.0 * 30.0 / math.pi

    allowed = [number for number, ratio in enumerate(ratios, 1) if rpm(ratio) <= 0.97 * most_rpm]
    assume(allowed and all(abs(rpm(ratio) / (0.97 * most_rpm) - 1.0) > 0.01 for ratio in ratios))
    vehicle = plain_vehicle(
        tyres=tyres(friction),
        engine=Engine(((300.0, 150.0), (most_rpm, 150.0)), most_rpm, 1.0, 0.0),
        gearbox=Gearbox(ratios, 3.0, 0.01, 0.01),
        aero=Aero(0.0, 0.6, 0.5),
    )
    road = course(
        Straight(300.0), Bend("T1", 1, radius, 90.0), Straight(200.0), start_speed_ms=50.0
    )
    (corner,) = corner_results(lap_of(road, vehicle), [])
    assume(corner.action == "brake")
    # With few revs left the next shift comes at once, and the gear above may be the quicker.
    at_once = rpm(ratios[min(allowed) - 1]) > 0.85 * most_rpm
    assert corner.gear == min(allowed) or (at_once and corner.gear == min(allowed) + 1)
    assert all(shift.rpm_after <= 0.97 * most_rpm + 1.0 for shift in corner.downshifts)
    assert [shift.to_gear for shift in corner.downshifts] == list(
        range(corner.gear_before - 1, corner.gear - 1, -1)
    )
