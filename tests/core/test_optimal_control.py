"""Against optimal control of the same fixed path: 0.03 % of lap time, 0.1 m/s, 2 m of braking.

A path of half-metre steps, so that a programme that sees each step's middle alone sees the peaks.
"""

from dataclasses import replace

import numpy as np
import pytest

from core.agreement import assert_agree
from core.builders import AIR_12, PURE, RHO, lap_of, road_car
from core.optimal_control import solve_optimal_control
from core.test_reference import MOTORCYCLE, without_shift_loss
from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import (
    Aero,
    Aspiration,
    Brakes,
    Engine,
    Inertia,
    Intake,
    Tyres,
    Vehicle,
)

STEP_M = 0.5
WINDY = replace(AIR_12, wind_speed_ms=6.0, wind_from_deg=200.0)

#: Weight in front, downforce behind: the front axle ends the grip, and braking loads it.
NOSE_HEAVY = without_shift_loss(
    road_car(
        aero=Aero(5.2, 1.2, 0.31),
        front_weight_fraction=0.53,
        tyres=Tyres(1.5, 1.4, 0.08, 0.32, 0.013),
        brakes=Brakes(0.55, 16_000.0),
        engine=Engine(((2500.0, 260.0), (5000.0, 330.0), (7800.0, 280.0)), 7800.0, 0.93, 0.0),
    )
)
WEAK = without_shift_loss(
    road_car(
        cg_height_m=0.5,
        rear_drive_fraction=0.5,
        aero=Aero(0.0, 1.45, 0.5),
        engine=Engine(((2500.0, 140.0), (5000.0, 174.0), (7800.0, 148.0)), 7800.0, 0.93, 0.0),
    )
)

TIGHTENING = Circuit(
    "tightening",
    True,
    (
        Straight(180.0),
        Bend("T1", -1, 110.0, 80.0, end_radius_m=80.0, transition_m=10.0),
        Straight(90.0),
        Bend("T2", 1, 110.0, 45.0),
        Straight(110.0),
        Bend("T3", -1, 24.0, 100.0),
        Straight(160.0),
    ),
)
#: T2 is driven up to under power and held on part throttle, in a gear too high to leave it in.
HELD = Circuit(
    "held",
    True,
    (
        Straight(200.0),
        Bend("T1", -1, 30.0, 120.0, transition_m=10.0),
        Straight(150.0),
        Bend("T2", -1, 70.0, 110.0, end_radius_m=56.0, transition_m=18.0),
        Straight(120.0),
    ),
)
HILLS = Circuit(
    "hills",
    True,
    (
        Straight(260.0, grade_pct=3.0),
        Bend("T1", 1, 55.0, 70.0, transition_m=10.0, banking_deg=6.0, grade_pct=-2.0),
        Straight(150.0, grade_pct=-4.0),
        Bend("T2", 1, 26.0, 140.0, end_radius_m=40.0, grip_factor=0.9),
        Straight(210.0),
    ),
    grade_blend_m=80.0,
    north_deg=120.0,
)


@pytest.mark.parametrize(
    ("vehicle", "circuit"),
    [
        pytest.param(NOSE_HEAVY, TIGHTENING, id="the front axle ends a tightening corner"),
        pytest.param(
            replace(NOSE_HEAVY, brakes=Brakes(None, 16_000.0)), TIGHTENING, id="with ideal brakes"
        ),
        pytest.param(NOSE_HEAVY, HELD, id="a corner held on part throttle"),
        pytest.param(WEAK, HELD, id="little power on four wheels"),
        pytest.param(NOSE_HEAVY, HILLS, id="hills, bank and wind"),
        pytest.param(without_shift_loss(MOTORCYCLE), HELD, id="a motorcycle"),
    ],
)
def test_no_lap_of_the_path_is_quicker(vehicle: Vehicle, circuit: Circuit) -> None:
    lap = lap_of(circuit, vehicle, WINDY, PURE, STEP_M)
    path = build_path(circuit, STEP_M)
    begin = np.interp(path.s_m, lap.s_m, lap.v_ms)
    best = solve_optimal_control(path, vehicle, WINDY, RHO, begin)
    assert_agree(lap, path, best, lap_time_share=3e-4)


def with_every_effect(vehicle: Vehicle) -> Vehicle:
    """The vehicle with what turns along, drags in a corner, breathes, and carries another load."""
    front, rear = vehicle.reference_loads_n
    return replace(
        vehicle,
        inertia=Inertia(1.6, 1.9, 0.14, clutch_in_braking=False),
        tyres=replace(
            vehicle.tyres,
            front_reference_n=0.9 * front,
            rear_reference_n=1.1 * rear,
            cornering_stiffness_front=14.0,
            cornering_stiffness_rear=17.0,
        ),
        engine=replace(vehicle.engine, intake=Intake(Aspiration.NATURAL)),
    )


BY_SPEED = ((0.0, 1.2, 1.1, 0.0), (40.0, 1.05, 1.05, 0.0), (80.0, 0.85, 1.0, 0.02))
RIDER = with_every_effect(without_shift_loss(MOTORCYCLE))
EFFECTS = {
    "a car": with_every_effect(NOSE_HEAVY),
    "a car without power": with_every_effect(WEAK),
    "a kart's axle": replace(
        with_every_effect(WEAK),
        tyres=replace(with_every_effect(WEAK).tyres, scrub_moment_nm=9_000.0),
    ),
    "a motorcycle": replace(
        RIDER,
        inertia=Inertia(0.5, 0.7, 0.03),
        tyres=replace(RIDER.tyres, width_m=0.18),
    ),
    "downforce by speed and attitude": replace(
        without_shift_loss(road_car()),
        aero=replace(
            road_car().aero, by_speed=BY_SPEED, lift_lost_braking=0.008, lift_lost_turning=0.004
        ),
    ),
}


#: Every kind over the hills; those that part throttle asks most of also where it is held.
DRIVEN = [*((kind, HILLS) for kind in EFFECTS), *((kind, HELD) for kind in list(EFFECTS)[:2])]


@pytest.mark.parametrize(("kind", "circuit"), DRIVEN, ids=[f"{k}-{c.name}" for k, c in DRIVEN])
def test_every_effect_is_driven_as_well_as_can_be(kind: str, circuit: Circuit) -> None:
    vehicle = EFFECTS[kind]
    lap = lap_of(circuit, vehicle, WINDY, PURE, STEP_M)
    path = build_path(circuit, STEP_M)
    begin = np.interp(path.s_m, lap.s_m, lap.v_ms)
    torque_factor = engine_air(vehicle.engine.intake, WINDY).factor
    best = solve_optimal_control(path, vehicle, WINDY, RHO, begin, torque_factor)
    assert_agree(lap, path, best, lap_time_share=5e-4)
