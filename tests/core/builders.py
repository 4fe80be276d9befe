"""Vehicles and paths for the core's tests: plain ones, whose answers a hand can compute."""

from dataclasses import replace

import numpy as np
import pytest

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.drive import CornerOrder, Drive
from neapfrost.core.lap.record import Lap
from neapfrost.core.lap.solve import solve
from neapfrost.core.path.build import Path, build_path
from neapfrost.core.path.circuit import Bend, Circuit, Segment, Straight
from neapfrost.core.records import (
    Aero,
    Brakes,
    Conditions,
    Driver,
    Engine,
    Gearbox,
    Tyres,
    Vehicle,
    VehicleKind,
)

G = 9.80665
PURE = Driver(brake_ramp_s=0.0, transition_s=0.0, lift_threshold_ms=0.0)
#: Dry air at a density of exactly 1.2 kg/m³: p = 1.2 · 287.05 · 293.15 Pa.
AIR_12 = Conditions(air_temp_c=20.0, pressure_hpa=1.2 * 287.05 * 293.15 / 100.0, humidity_pct=0.0)
RHO = 1.2


def plain_vehicle(**changes: object) -> Vehicle:
    """A 1000 kg vehicle without drag, downforce, rolling resistance, load transfer or sensitivity.

    Friction 1.5 both ways, ideal brakes, four driven wheels, and one gear with 3 kNm to spare.
    """
    vehicle = Vehicle(
        name="plain",
        kind=VehicleKind.CAR,
        mass_kg=1000.0,
        driver_kg=0.0,
        fuel_kg=0.0,
        wheelbase_m=2.5,
        cg_height_m=0.0,
        front_weight_fraction=0.5,
        tyres=Tyres(1.5, 1.5, 0.0, 0.3, 0.0),
        aero=Aero(0.0, 0.0, 0.5),
        engine=Engine(((0.1, 3000.0), (20000.0, 3000.0)), 20000.0, 1.0, 0.0),
        gearbox=Gearbox((1.0,), 3.0, 0.0, 0.0),
        rear_drive_fraction=0.5,
        brakes=Brakes(None, None),
    )
    return replace(vehicle, **changes)  # type: ignore[arg-type]


def road_car(**changes: object) -> Vehicle:
    """A rear-driven 1200 kg car with every effect switched on."""
    vehicle = Vehicle(
        name="road car",
        kind=VehicleKind.CAR,
        mass_kg=1150.0,
        driver_kg=80.0,
        fuel_kg=30.0,
        wheelbase_m=2.6,
        cg_height_m=0.42,
        front_weight_fraction=0.47,
        tyres=Tyres(1.45, 1.5, 0.06, 0.32, 0.013),
        aero=Aero(2.1, 1.05, 0.43),
        engine=Engine(
            ((3000.0, 280.0), (5000.0, 340.0), (6500.0, 345.0), (7800.0, 300.0)), 7800.0, 0.93
        ),
        gearbox=Gearbox((3.1, 2.2, 1.7, 1.35, 1.12, 0.95), 3.9, 0.08, 0.12),
        rear_drive_fraction=1.0,
        brakes=Brakes(0.6, None),
    )
    return replace(vehicle, **changes)  # type: ignore[arg-type]


def ring(radius_m: float, **bend: float) -> Circuit:
    """A full circle to the left."""
    return Circuit("ring", True, (Bend("T1", 1, radius_m, 360.0, **bend),))


def course(*segments: Segment, start_speed_ms: float = 0.0, **fields: object) -> Circuit:
    """An open course."""
    return Circuit("course", False, segments, start_speed_ms=start_speed_ms, **fields)  # type: ignore[arg-type]


SHORT_LAP = Circuit(
    "short",
    True,
    (
        Straight(320.0),
        Bend("T1", -1, 45.0, 100.0, transition_m=12.0),
        Straight(110.0),
        Bend("T2", 1, 90.0, 70.0, transition_m=10.0),
        Straight(240.0),
        Bend("T3", -1, 32.0, 150.0, transition_m=10.0),
        Straight(160.0),
    ),
)


def solve_lap(
    path: Path,
    vehicle: Vehicle,
    conditions: Conditions = AIR_12,
    driver: Driver = PURE,
    road: Floats | None = None,
    orders: tuple[CornerOrder, ...] = (),
) -> Lap:
    """Solve one lap over a path."""
    return solve(Drive(path, vehicle, conditions, driver, orders, road))


def lap_of(
    circuit: Circuit,
    vehicle: Vehicle,
    conditions: Conditions = AIR_12,
    driver: Driver = PURE,
    step_m: float = 1.0,
) -> Lap:
    """Solve one lap; still air at 1.2 kg/m³ and pure driving unless said otherwise."""
    return solve_lap(build_path(circuit, step_m), vehicle, conditions, driver)


def braking_distance_between(lap: Lap, fast: float, slow: float) -> float:
    """Distance between two speeds on the last descent of the speed curve [m]."""
    start = int(np.argmax(lap.v_ms))
    s, v = lap.s_m[start:], lap.v_ms[start:]
    return float(np.interp(-slow, -v, s) - np.interp(-fast, -v, s))


def close(value: float) -> object:
    """Within the 0.1 % that closed forms are held to."""
    return pytest.approx(value, rel=1e-3)
