"""What turning itself costs: drag of slip angles, scrub of a locked axle, by hand and by lot."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import (
    AIR_12,
    PURE,
    RHO,
    SHORT_LAP,
    G,
    close,
    lap_of,
    plain_vehicle,
    ring,
    road_car,
)
from neapfrost.core.car.level import forces_at, level_car
from neapfrost.core.lap.record import engine_work_j
from neapfrost.core.records import Aero, Brakes, Engine, Tyres


def with_stiffness(tyres: Tyres, front: float, rear: float, scrub_nm: float = 0.0) -> Tyres:
    return replace(
        tyres,
        cornering_stiffness_front=front,
        cornering_stiffness_rear=rear,
        scrub_moment_nm=scrub_nm,
    )


def test_drag_in_a_steady_circle() -> None:
    """Each axle carries its share of F_y at α = F_y/(C·N): D = F_y²·Σ share²/(C·N)."""
    tyres = with_stiffness(Tyres(1.5, 1.5, 0.0, 0.3, 0.0), 12.0, 16.0)
    vehicle = plain_vehicle(tyres=tyres, front_weight_fraction=0.45)
    v, radius = 25.0, 60.0
    found = forces_at(level_car(vehicle, AIR_12), v, 1.0 / radius)
    lateral = 1000.0 * v**2 / radius
    front_n, rear_n = 0.45 * 1000.0 * G, 0.55 * 1000.0 * G
    expected = (0.45 * lateral) ** 2 / (12.0 * front_n) + (0.55 * lateral) ** 2 / (16.0 * rear_n)
    assert found.resistance_n == pytest.approx(expected, rel=1e-9)
    # The same as the mean slip angle times the force across, for axles of one stiffness.
    alike = with_stiffness(tyres, 14.0, 14.0)
    found = forces_at(level_car(plain_vehicle(tyres=alike), AIR_12), v, 1.0 / radius)
    slip_angle = lateral / (14.0 * 1000.0 * G)
    assert found.resistance_n == pytest.approx(lateral * slip_angle, rel=1e-9)


def test_scrub_of_a_locked_axle_is_a_moment_over_the_radius() -> None:
    vehicle = plain_vehicle(tyres=replace(plain_vehicle().tyres, scrub_moment_nm=180.0))
    for radius in (8.0, 30.0):
        found = forces_at(level_car(vehicle, AIR_12), 10.0, -1.0 / radius)
        assert found.resistance_n == pytest.approx(180.0 / radius, rel=1e-9)


def test_a_car_without_power_turns_as_fast_as_its_drive_overcomes_both_drags() -> None:
    """F = ½ρ·CdA·v² + (m·v²/R)²/(C·m·g): a quadratic in v²."""
    force, radius, stiffness, drag_area = 1500.0, 90.0, 12.0, 0.9
    engine = Engine(((0.1, force * 0.1), (20000.0, force * 0.1)), 20000.0, 1.0, 0.0)
    tyres = with_stiffness(Tyres(2.5, 2.5, 0.0, 0.3, 0.0), stiffness, stiffness)
    lap = lap_of(
        ring(radius), plain_vehicle(tyres=tyres, engine=engine, aero=Aero(0.0, drag_area, 0.5))
    )
    a = 1000.0 / (radius**2 * stiffness * G)
    b = 0.5 * RHO * drag_area
    w = (-b + math.sqrt(b * b + 4.0 * a * force)) / (2.0 * a)
    assert lap.v_ms.max() ** 2 == close(w)
    # And the engine works for it all the way round.
    assert engine_work_j(lap, 1.0) == close(force * 2.0 * math.pi * radius)


def test_turning_helps_to_slow_down() -> None:
    """Brakes at the end of their hardware stop a car sooner in a bend that drags."""
    tyres = Tyres(2.5, 2.5, 0.0, 0.3, 0.0)
    weak = plain_vehicle(tyres=tyres, brakes=Brakes(None, 3000.0))
    dragged = replace(weak, tyres=with_stiffness(tyres, 10.0, 10.0))
    slowed = [forces_at(level_car(car, AIR_12), 30.0, 1.0 / 70.0) for car in (weak, dragged)]
    lateral = 1000.0 * 30.0**2 / 70.0
    assert slowed[0].least_n == slowed[1].least_n == -3000.0
    assert slowed[1].resistance_n - slowed[0].resistance_n == pytest.approx(
        lateral**2 / (10.0 * 1000.0 * G)
    )


@given(soft=st.floats(8.0, 30.0), share=st.floats(0.5, 1.0), scrub=st.floats(0.0, 400.0))
def test_softer_tyres_are_never_quicker(soft: float, share: float, scrub: float) -> None:
    car = road_car()
    laps = [
        lap_of(SHORT_LAP, replace(car, tyres=tyres), AIR_12, PURE, 2.0).lap_time_s
        for tyres in (
            car.tyres,
            with_stiffness(car.tyres, soft, soft),
            with_stiffness(car.tyres, share * soft, share * soft, scrub),
        )
    ]
    # Where the tyres end the speed a drag can help a driven front axle by a hair.
    assert laps[0] <= laps[1] + 2e-3
    assert laps[1] <= laps[2] + 2e-3
