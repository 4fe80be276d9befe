"""What must hold for every vehicle and every circuit."""

from dataclasses import replace

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.builders import AIR_12, SHORT_LAP, lap_of, road_car
from neapfrost.core.kernels.profile import axles_in_use
from neapfrost.core.lap.record import is_finite, places_on_grid
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Segment, Straight
from neapfrost.core.records import Aero, Brakes, Driver, Gearbox, Tyres, Vehicle

NO_SHIFT_LOSS = Gearbox((3.1, 2.2, 1.7, 1.35, 1.12, 0.95), 3.9, 0.0, 0.0)
TIE_S = 1e-4  # laps nearer than this are equal: far below what anyone measures


def quick_car(**changes: object) -> Vehicle:
    return replace(road_car(gearbox=NO_SHIFT_LOSS), **changes)  # type: ignore[arg-type]


def grip(mu: float) -> Tyres:
    return Tyres(mu, mu, 0.06, 0.32, 0.013)


def mirrored(circuit: Circuit) -> Circuit:
    segments: tuple[Segment, ...] = tuple(
        replace(s, turn=-s.turn) if isinstance(s, Bend) else s for s in circuit.segments
    )
    return replace(circuit, segments=segments)


@given(mu=st.floats(0.5, 2.5), more=st.floats(0.01, 0.5))
def test_more_grip_is_never_slower(mu: float, more: float) -> None:
    less = lap_of(SHORT_LAP, quick_car(tyres=grip(mu)), step_m=2.0)
    better = lap_of(SHORT_LAP, quick_car(tyres=grip(mu + more)), step_m=2.0)
    assert better.lap_time_s <= less.lap_time_s + TIE_S


@given(factor=st.floats(1.01, 1.6))
def test_more_power_is_never_slower(factor: float) -> None:
    car = quick_car()
    curve = tuple((rpm, torque * factor) for rpm, torque in car.engine.torque_curve)
    stronger = replace(car, engine=replace(car.engine, torque_curve=curve))
    assert (
        lap_of(SHORT_LAP, stronger, step_m=2.0).lap_time_s
        <= lap_of(SHORT_LAP, car, step_m=2.0).lap_time_s + TIE_S
    )


@given(lighter=st.floats(10.0, 400.0))
def test_less_mass_is_never_slower(lighter: float) -> None:
    car = quick_car()
    lighter_car = replace(car, mass_kg=car.mass_kg - lighter)
    assert (
        lap_of(SHORT_LAP, lighter_car, step_m=2.0).lap_time_s
        <= lap_of(SHORT_LAP, car, step_m=2.0).lap_time_s + TIE_S
    )


@given(mu=st.floats(0.6, 2.2), lift=st.floats(0.0, 5.0))
def test_a_mirrored_circuit_takes_the_same_time(mu: float, lift: float) -> None:
    car = road_car(tyres=grip(mu), aero=Aero(lift, 1.0, 0.43))
    there = lap_of(SHORT_LAP, car, driver=Driver(), step_m=2.0)
    back = lap_of(mirrored(SHORT_LAP), car, driver=Driver(), step_m=2.0)
    assert abs(there.lap_time_s - back.lap_time_s) < 1e-9


def test_halving_the_default_step_moves_the_lap_by_less_than_2_ms() -> None:
    for driver in (Driver(), Driver(entry_exponent=1.5, exit_exponent=1.4)):
        coarse = lap_of(SHORT_LAP, road_car(), driver=driver, step_m=1.0)
        fine = lap_of(SHORT_LAP, road_car(), driver=driver, step_m=0.5)
        assert abs(coarse.lap_time_s - fine.lap_time_s) < 0.002


@given(
    mu=st.floats(0.4, 2.5),
    lift=st.floats(-0.5, 6.0),
    split=st.sampled_from([0.0, 0.4, 1.0]),
    exponents=st.tuples(st.floats(1.0, 3.0), st.floats(1.0, 3.0)),
    wind=st.floats(0.0, 20.0),
)
def test_a_flying_lap_joins_itself_and_every_figure_is_a_number(
    mu: float, lift: float, split: float, exponents: tuple[float, float], wind: float
) -> None:
    car = road_car(tyres=grip(mu), aero=Aero(lift, 1.0, 0.43), rear_drive_fraction=split)
    driver = Driver(entry_exponent=exponents[0], exit_exponent=exponents[1])
    lap = lap_of(SHORT_LAP, car, replace(AIR_12, wind_speed_ms=wind), driver, step_m=2.0)
    assert is_finite(lap)
    assert lap.settled
    assert abs(lap.v_ms[0] - lap.v_ms[-1]) < 1e-4
    assert bool(np.all(np.diff(lap.s_m) > 0.0))
    assert bool(np.all(np.diff(lap.t_s) > 0.0))
    limit = np.minimum(lap.solved.limit_w[:, 0], lap.solved.limit_w[:, 1])
    reached = np.minimum(lap.solved.node_w[:-1], lap.solved.node_w[1:])
    assert bool(np.all(reached <= limit * (1.0 + 1e-6)))


@given(
    weight_front=st.floats(0.42, 0.6),
    aero_front=st.floats(0.3, 0.55),
    lift=st.floats(0.0, 5.5),
    bias=st.sampled_from([0.5, 0.58, 0.66]),
    radius=st.floats(40.0, 140.0),
    tightens=st.floats(0.6, 1.4),
    rear_drive=st.sampled_from([0.0, 0.5, 1.0]),
)
def test_no_axle_is_asked_for_more_grip_than_it_has(
    weight_front: float,
    aero_front: float,
    lift: float,
    bias: float,
    radius: float,
    tightens: float,
    rear_drive: float,
) -> None:
    """Also where a corner tightens and the front axle holds the speed only under braking."""
    car = quick_car(
        front_weight_fraction=weight_front,
        aero=Aero(lift, 1.0, aero_front),
        brakes=Brakes(bias, None),
        rear_drive_fraction=rear_drive,
    )
    corner = Bend("T1", -1, radius, 90.0, end_radius_m=radius * tightens, transition_m=8.0)
    circuit = Circuit("ring", True, (Straight(200.0), corner, Straight(150.0)))
    lap = lap_of(circuit, car)
    step, share = places_on_grid(lap.path, 0.5 * (lap.s_m[:-1] + lap.s_m[1:]))
    w = 0.5 * (lap.v_ms[:-1] ** 2 + lap.v_ms[1:] ** 2)
    use = np.empty((len(w), 2))
    axles_in_use(lap.packed.case, lap.packed.road, step, share, w, lap.force_n[: len(w)], use)
    # 1 % for what changes within a step: the downforce under braking, the curvature, the pedal.
    assert use.max() < 1.01


def test_an_oval_that_is_flat_all_round_settles_without_a_slowest_point() -> None:
    oval = Circuit(
        "oval",
        True,
        (
            Straight(400.0),
            Bend("Low end", 1, 260.0, 180.0, transition_m=60.0, banking_deg=24.0),
            Straight(400.0),
            Bend("High end", 1, 260.0, 180.0, transition_m=60.0, banking_deg=24.0),
        ),
    )
    lap = lap_of(oval, road_car(), driver=Driver())
    assert lap.settled
    assert not lap.zones
    assert abs(lap.v_ms[0] - lap.v_ms[-1]) < 1e-4
    # No slower than the straight-line top speed allows, no faster either.
    assert lap.v_ms.max() < 75.0


def test_what_is_far_away_does_not_depend_on_the_step_grid() -> None:
    """Boundaries are nodes: a corner is as long at a step of 7 m as at one of 0.3 m."""
    for step in (0.3, 7.0):
        path = build_path(SHORT_LAP, step)
        assert abs(path.corners[0].ends_at_m - path.corners[0].begins_at_m - 90.5398) < 1e-3
        assert abs(path.length_m - build_path(SHORT_LAP, 1.0).length_m) < 1e-9
