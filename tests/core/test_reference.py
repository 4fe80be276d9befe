"""Against the slow reference solver: 0.1 % of lap time, 0.1 m/s at corners, 2 m of braking."""

from dataclasses import replace

import pytest

from core.agreement import assert_agree
from core.builders import AIR_12, PURE, RHO, SHORT_LAP, lap_of, road_car
from core.reference import solve_reference
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit
from neapfrost.core.records import (
    Aero,
    Brakes,
    Conditions,
    Engine,
    Gearbox,
    Inertia,
    Tyres,
    Vehicle,
    VehicleKind,
)

WINDY = replace(AIR_12, wind_speed_ms=7.0, wind_from_deg=40.0)

MOTORCYCLE = Vehicle(
    name="motorcycle",
    kind=VehicleKind.MOTORCYCLE,
    mass_kg=185.0,
    driver_kg=78.0,
    fuel_kg=8.0,
    wheelbase_m=1.42,
    cg_height_m=0.64,
    front_weight_fraction=0.51,
    tyres=Tyres(1.35, 1.35, 0.03, 0.31, 0.015),
    aero=Aero(0.0, 0.36, 0.5),
    engine=Engine(((5000.0, 75.0), (9000.0, 105.0), (13500.0, 95.0)), 13500.0, 0.92),
    gearbox=Gearbox((2.6, 2.05, 1.75, 1.55, 1.42, 1.32), 4.6, 0.04, 0.08),
    rear_drive_fraction=1.0,
    brakes=Brakes(0.9, None),
)


#: Sits up behind the brakes, on tyres that roll onto their side; wheels and engine turn along.
RIDER = replace(
    MOTORCYCLE,
    tyres=replace(
        MOTORCYCLE.tyres,
        width_m=0.18,
        cornering_stiffness_front=16.0,
        cornering_stiffness_rear=18.0,
    ),
    inertia=Inertia(0.5, 0.7, 0.03),
    aero=Aero(0.0, 0.36, 0.5, braking_drag_area_m2=0.62, braking_drag_height_m=0.85),
)
#: Dives and rolls off its downforce, with a locked axle.
ATTITUDE = road_car(
    aero=Aero(3.1, 1.1, 0.44, lift_lost_braking=0.009, lift_lost_turning=0.006),
    tyres=replace(road_car().tyres, scrub_moment_nm=4_000.0),
    inertia=Inertia(1.8, 2.0, 0.15),
)


def hilly(circuit: Circuit) -> Circuit:
    """The short lap over hills, banked in its first corner."""
    grades = (0.0, 4.0, -5.0, 2.0, -3.0, 5.0, 0.0)
    segments = [replace(s, grade_pct=g) for s, g in zip(circuit.segments, grades, strict=True)]
    assert isinstance(segments[1], Bend)
    segments[1] = replace(segments[1], banking_deg=5.0)
    return replace(circuit, segments=tuple(segments), grade_blend_m=80.0, north_deg=70.0)


def without_shift_loss(vehicle: Vehicle) -> Vehicle:
    return replace(vehicle, gearbox=replace(vehicle.gearbox, upshift_s=0.0, downshift_s=0.0))


@pytest.mark.parametrize(
    ("circuit", "conditions", "vehicle", "exponents"),
    [
        pytest.param(
            SHORT_LAP,
            AIR_12,
            road_car(rear_drive_fraction=0.0, aero=Aero(0.3, 0.8, 0.5)),
            (2.0, 2.0),
            id="front-driven",
        ),
        pytest.param(
            SHORT_LAP,
            AIR_12,
            road_car(aero=Aero(4.5, 1.3, 0.55)),
            (2.0, 2.0),
            id="rear-limited with wings",
        ),
        pytest.param(
            SHORT_LAP,
            AIR_12,
            road_car(rear_drive_fraction=0.6),
            (1.4, 1.6),
            id="four-wheel drive, driven straight",
        ),
        pytest.param(
            hilly(SHORT_LAP), WINDY, MOTORCYCLE, (2.0, 2.0), id="motorcycle over hills, in wind"
        ),
        pytest.param(SHORT_LAP, AIR_12, RIDER, (2.0, 2.0), id="a rider who sits up, wide tyres"),
        pytest.param(
            hilly(SHORT_LAP), WINDY, ATTITUDE, (2.0, 2.0), id="downforce that goes with attitude"
        ),
    ],
)
def test_agrees_with_the_reference(
    circuit: Circuit, conditions: Conditions, vehicle: Vehicle, exponents: tuple[float, float]
) -> None:
    vehicle = without_shift_loss(vehicle)
    driver = replace(PURE, entry_exponent=exponents[0], exit_exponent=exponents[1])
    lap = lap_of(circuit, vehicle, conditions, driver)
    path = build_path(circuit, 1.0)
    reference = solve_reference(path, vehicle, conditions, RHO, exponents)

    assert_agree(lap, path, reference, lap_time_share=1e-3)
