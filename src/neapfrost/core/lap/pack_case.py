"""One case to solve, packed flat for the kernels: vehicle, air, track state and driver."""

import math
from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.atmosphere import density_kgm3
from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.constants import SPEED_CEILING_MS, STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.case import (
    AERO,
    AERO_BY_SPEED,
    AERO_NODES,
    AERO_STEP_MS,
    BRAKE_FRONT,
    BRAKE_MOST,
    BRAKE_RAMP_S,
    CG_OVER_WHEELBASE,
    CLUTCH_IN,
    CORNERING_FRONT,
    CORNERING_REAR,
    CROWN,
    DOWNSHIFT_S,
    DRIVE_REAR,
    ENTRY_EXPONENT,
    EXIT_EXPONENT,
    FORCE_PER_NM,
    FRONT_AERO,
    FRONT_REFERENCE,
    FRONT_WEIGHT,
    GEARS,
    HALF_RHO_CDA,
    HALF_RHO_CLA,
    IDEAL_BRAKES,
    LEAN_TANGENT,
    LIFT_BRAKING,
    LIFT_THRESHOLD,
    LIFT_TURNING,
    LIMITER_W,
    LOAD_SENSITIVITY,
    LOWEST_RPM,
    MASS,
    MOTORCYCLE,
    MU_BRAKING,
    MU_LATERAL,
    MU_TRACTION,
    OVERRUN_PER_MS,
    POINTS,
    REAR_REFERENCE,
    REV_LIMIT,
    ROLLING,
    ROTATING,
    ROTATING_WHEELS,
    RPM_PER_MS,
    SCHOOL,
    SCRUB,
    SENSITIVE,
    SENSITIVE_CELLS,
    SENSITIVE_FROM,
    SENSITIVE_PER,
    SITS_UP,
    SITS_UP_ARM,
    TORQUE_CURVE,
    TRANSITION_S,
    UPSHIFT_S,
    UPSHIFT_W,
    WIND_EAST,
    WIND_NORTH,
)
from neapfrost.core.records import Aero, Conditions, Driver, GearSchool, Vehicle, VehicleKind
from neapfrost.core.surface import wetness_grip
from neapfrost.core.wind import wind_from_ms

RPM_PER_RAD_S = 30.0 / math.pi
SCHOOLS = {GearSchool.FASTEST: 0, GearSchool.LOWER: 1, GearSchool.HIGHER: 2}


# Long: one table of all the figures that the kernels read, in the order of their places.
def pack_case(
    vehicle: Vehicle, conditions: Conditions, driver: Driver, altitude_m: float = 0.0
) -> Floats:
    """Flatten a vehicle, conditions and a driver into the one array that the kernels read."""
    density = density_kgm3(conditions, altitude_m)
    grip = conditions.grip_factor * wetness_grip(conditions.wetness_pct)
    tyres, engine, gearbox = vehicle.tyres, vehicle.engine, vehicle.gearbox
    front_reference, rear_reference = vehicle.reference_loads_n
    aero = vehicle.aero
    wind_north, wind_east = wind_from_ms(conditions)

    torque_rpm = np.array([point[0] for point in engine.torque_curve])
    breathed = engine_air(engine.intake, conditions, altitude_m).factor
    torque_nm = breathed * np.array([point[1] for point in engine.torque_curve])
    total_ratios = np.array(gearbox.ratios) * gearbox.final_drive
    rpm_per_ms = total_ratios / tyres.rolling_radius_m * RPM_PER_RAD_S
    overrun = engine.overrun_nm
    force_per_nm = total_ratios * engine.efficiency / tyres.rolling_radius_m
    limiter = np.minimum(engine.rev_limit_rpm / rpm_per_ms, SPEED_CEILING_MS)
    brakes = vehicle.brakes
    wheels, rotating = _rotating_shares(vehicle, total_ratios)
    cornering_front, cornering_rear = _cornering_shares(vehicle)
    crown = _crown(vehicle)
    more_drag = 0.0
    if aero.braking_drag_area_m2 is not None:
        more_drag = max(aero.braking_drag_area_m2 - aero.drag_area_m2, 0.0)
    figures = {
        MASS: vehicle.total_mass_kg,
        MOTORCYCLE: float(vehicle.kind is VehicleKind.MOTORCYCLE),
        FRONT_WEIGHT: vehicle.front_weight_fraction,
        FRONT_AERO: vehicle.aero.front_fraction,
        CG_OVER_WHEELBASE: vehicle.cg_height_m / vehicle.wheelbase_m,
        HALF_RHO_CLA: 0.5 * density * vehicle.aero.lift_area_m2,
        HALF_RHO_CDA: 0.5 * density * vehicle.aero.drag_area_m2,
        ROLLING: tyres.rolling_resistance,
        MU_LATERAL: tyres.mu_lateral * grip * driver.use.cornering,
        MU_BRAKING: tyres.mu_longitudinal * grip * driver.use.braking,
        MU_TRACTION: tyres.mu_longitudinal * grip * driver.use.traction,
        LOAD_SENSITIVITY: tyres.load_sensitivity,
        FRONT_REFERENCE: front_reference,
        REAR_REFERENCE: rear_reference,
        ENTRY_EXPONENT: driver.entry_exponent,
        EXIT_EXPONENT: driver.exit_exponent,
        BRAKE_FRONT: IDEAL_BRAKES if brakes.front_fraction is None else brakes.front_fraction,
        BRAKE_MOST: math.inf if brakes.max_force_n is None else brakes.max_force_n,
        DRIVE_REAR: vehicle.rear_drive_fraction,
        LEAN_TANGENT: (
            math.inf
            if vehicle.max_lean_deg is None
            else _lean_tangent(crown, math.radians(vehicle.max_lean_deg))
        ),
        WIND_NORTH: wind_north,
        WIND_EAST: wind_east,
        REV_LIMIT: engine.rev_limit_rpm,
        UPSHIFT_S: gearbox.upshift_s,
        DOWNSHIFT_S: gearbox.downshift_s,
        BRAKE_RAMP_S: driver.brake_ramp_s,
        TRANSITION_S: driver.transition_s,
        LIFT_THRESHOLD: driver.lift_threshold_ms,
        SCHOOL: float(SCHOOLS[driver.gear_school]),
        GEARS: float(len(total_ratios)),
        LOWEST_RPM: float(torque_rpm[0]),
        POINTS: float(len(torque_rpm)),
        CORNERING_FRONT: cornering_front,
        CORNERING_REAR: cornering_rear,
        SCRUB: tyres.scrub_moment_nm,
        CROWN: crown,
        SITS_UP: 0.5 * density * more_drag,
        SITS_UP_ARM: aero.braking_drag_height_m / vehicle.wheelbase_m,
        ROTATING_WHEELS: wheels,
        CLUTCH_IN: float(vehicle.inertia.clutch_in_braking),
        LIFT_BRAKING: aero.lift_lost_braking,
        LIFT_TURNING: aero.lift_lost_turning,
        AERO_BY_SPEED: float(bool(aero.by_speed)),
    }
    told = (torque_rpm, torque_nm, rpm_per_ms, force_per_nm, limiter)
    turned = (0.0, 0.0, 0.0, 0.0)
    if rotating.any():
        weight = vehicle.total_mass_kg * STANDARD_GRAVITY_MS2
        turned = (
            figures[HALF_RHO_CDA],
            figures[ROLLING] * figures[HALF_RHO_CLA],
            figures[ROLLING] * weight,
            1.0,
        )
    upshift = np.array(
        _upshift_speeds_ms(
            *(tuple(values.tolist()) for values in told), tuple(rotating.tolist()), turned
        )
    )
    blocks = {
        RPM_PER_MS: rpm_per_ms,
        FORCE_PER_NM: force_per_nm,
        # Linear in rpm and given at the tyres: the driveline's losses brake as well, so the
        # efficiency, which only ever lowers drive, is left out here.
        OVERRUN_PER_MS: (
            overrun / engine.rev_limit_rpm * rpm_per_ms * total_ratios / tyres.rolling_radius_m
        ),
        UPSHIFT_W: upshift**2,
        LIMITER_W: limiter**2,
        ROTATING: rotating,
    }
    case = np.zeros(TORQUE_CURVE + 2 * len(torque_rpm))
    for place, figure in figures.items():
        case[place] = figure
    for place, block in blocks.items():
        case[place : place + len(block)] = block
    case[SENSITIVE:AERO] = _sensitivity_table(tyres.load_sensitivity)
    if aero.by_speed:
        case[AERO:TORQUE_CURVE] = _aero_table(aero)
    case[TORQUE_CURVE::2] = torque_rpm
    case[TORQUE_CURVE + 1 :: 2] = torque_nm
    return case


def _rotating_shares(vehicle: Vehicle, total_ratios: Floats) -> tuple[float, Floats]:
    """Equivalent mass of the wheels over the vehicle's, and of all that turns, gear by gear.

    ΣI_wheel/r² and I_engine·(i_gear·i_final)²·η/r² (T. D. Gillespie, Fundamentals of Vehicle
    Dynamics, 1992, chapter 2).
    """
    inertia, radius = vehicle.inertia, vehicle.tyres.rolling_radius_m
    mass = vehicle.total_mass_kg
    wheels = (inertia.front_wheels_kgm2 + inertia.rear_wheels_kgm2) / radius**2 / mass
    engine = inertia.engine_kgm2 * vehicle.engine.efficiency * total_ratios**2 / radius**2 / mass
    return wheels, wheels + engine


def _cornering_shares(vehicle: Vehicle) -> tuple[float, float]:
    """What each axle drags for the square of the lateral force, times its load."""
    front, rear = vehicle.front_weight_fraction, 1.0 - vehicle.front_weight_fraction
    tyres = vehicle.tyres
    return (
        0.0 if not tyres.cornering_stiffness_front else front**2 / tyres.cornering_stiffness_front,
        0.0 if not tyres.cornering_stiffness_rear else rear**2 / tyres.cornering_stiffness_rear,
    )


def _crown(vehicle: Vehicle) -> float:
    """Radius of a round tyre over the height of the centre of gravity above its middle."""
    radius = 0.5 * vehicle.tyres.width_m
    if vehicle.kind is not VehicleKind.MOTORCYCLE or radius == 0.0:
        return 0.0
    return radius / max(vehicle.cg_height_m - radius, 0.1 * vehicle.cg_height_m)


def _lean_tangent(crown: float, lean_rad: float) -> float:
    """Lateral over normal force at a lean: tan φ_i = sin φ/(t/(h - t) + cos φ)."""
    return math.sin(lean_rad) / (crown + math.cos(lean_rad))


def _aero_table(aero: Aero) -> Floats:
    """Factors on downforce and drag and the balance over speed, as `AERO` holds them."""
    speeds = AERO_STEP_MS * np.arange(AERO_NODES)
    at, *columns = (np.array(column) for column in zip(*aero.by_speed, strict=True))
    lift, drag, shift = (np.interp(speeds, at, column) for column in columns)
    return np.column_stack((lift, drag, aero.front_fraction + shift)).ravel()


@lru_cache(maxsize=256)
def _sensitivity_table(exponent: float) -> Floats:
    """Values and slopes of the power by which friction falls with load; see `loaded_share`."""
    ratio = SENSITIVE_FROM + np.arange(SENSITIVE_CELLS + 1) / SENSITIVE_PER
    value = ratio**-exponent
    return np.column_stack((value, -exponent * value / ratio / SENSITIVE_PER)).ravel()


@lru_cache(maxsize=256)
def _upshift_speeds_ms(
    torque_rpm: tuple[float, ...],
    torque_nm: tuple[float, ...],
    rpm_per_ms: tuple[float, ...],
    force_per_nm: tuple[float, ...],
    limiter: tuple[float, ...],
    rotating: tuple[float, ...],
    road_load: tuple[float, float, float, float],
) -> tuple[float, ...]:
    """Speed from which the next gear pulls at least as hard, up to this gear's limiter [m/s].

    Infinite in the top gear, and where the next gear finds no torque even at the limiter. Kept, for
    most of many laps are driven with the same engine and gears. Rotating inertia takes more in
    the lower gear; what is left of a pull then hangs on the road load, taken on the level and in a
    calm, where it decides: a little off the best place next to nothing is lost.
    """
    drag, rolling_lift, rolling, turns = road_load
    count = len(rpm_per_ms)
    speeds = np.full(count, np.inf)

    def pull(gear: int, speed: Floats) -> Floats:
        rpm = speed * rpm_per_ms[gear]
        torque = np.interp(rpm, torque_rpm, torque_nm)
        if gear > 0:
            torque = np.where(rpm < torque_rpm[0], 0.0, torque)
        force: Floats = torque * force_per_nm[gear]
        if turns == 0.0:
            return force
        load = (drag + rolling_lift) * speed**2 + rolling
        left: Floats = np.where(force > 0.0, (force - load) / (1.0 + rotating[gear]), -load)
        return left

    for gear in range(count - 1):
        speed = np.linspace(0.0, limiter[gear], 4001 if turns == 0.0 else 1001)[1:]
        gain = pull(gear + 1, speed) - pull(gear, speed)
        if gain[-1] < 0.0:
            next_pulls = limiter[gear] * rpm_per_ms[gear + 1] >= torque_rpm[0]
            speeds[gear] = limiter[gear] if next_pulls else np.inf
            continue
        worse = np.flatnonzero(gain < 0.0)
        if len(worse) == 0:
            speeds[gear] = speed[0]
            continue
        last = int(worse[-1])
        low, high = speed[last], speed[last + 1]
        rise = gain[last + 1] - gain[last]
        speeds[gear] = low - gain[last] / rise * (high - low)
    return tuple(speeds.tolist())
