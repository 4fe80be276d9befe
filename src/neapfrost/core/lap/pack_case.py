"""One case to solve, packed flat for the kernels: vehicle, air, track state and driver."""

import math
from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.atmosphere import density_kgm3
from neapfrost.core.constants import (
    SPEED_CEILING_MS,
    STANDARD_GRAVITY_MS2,
)
from neapfrost.core.kernels.case import (
    BRAKE_FRONT,
    BRAKE_MOST,
    BRAKE_RAMP_S,
    CG_OVER_WHEELBASE,
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
    LIFT_THRESHOLD,
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
    RPM_PER_MS,
    SCHOOL,
    SENSITIVE,
    SENSITIVE_CELLS,
    SENSITIVE_FROM,
    SENSITIVE_PER,
    TORQUE_CURVE,
    TRANSITION_S,
    UPSHIFT_S,
    UPSHIFT_W,
    WIND_EAST,
    WIND_NORTH,
)
from neapfrost.core.records import Conditions, Driver, GearSchool, Vehicle, VehicleKind
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
    # Fuel costs grip: the reference load is the flat static load with driver, without fuel.
    reference = (vehicle.mass_kg + vehicle.driver_kg) * STANDARD_GRAVITY_MS2
    wind_north, wind_east = wind_from_ms(conditions)

    torque_rpm = np.array([point[0] for point in engine.torque_curve])
    torque_nm = np.array([point[1] for point in engine.torque_curve])
    total_ratios = np.array(gearbox.ratios) * gearbox.final_drive
    rpm_per_ms = total_ratios / tyres.rolling_radius_m * RPM_PER_RAD_S
    overrun = engine.overrun_nm
    force_per_nm = total_ratios * engine.efficiency / tyres.rolling_radius_m
    limiter = np.minimum(engine.rev_limit_rpm / rpm_per_ms, SPEED_CEILING_MS)
    brakes = vehicle.brakes
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
        FRONT_REFERENCE: reference * vehicle.front_weight_fraction,
        REAR_REFERENCE: reference * (1.0 - vehicle.front_weight_fraction),
        ENTRY_EXPONENT: driver.entry_exponent,
        EXIT_EXPONENT: driver.exit_exponent,
        BRAKE_FRONT: IDEAL_BRAKES if brakes.front_fraction is None else brakes.front_fraction,
        BRAKE_MOST: math.inf if brakes.max_force_n is None else brakes.max_force_n,
        DRIVE_REAR: vehicle.rear_drive_fraction,
        LEAN_TANGENT: (
            math.inf
            if vehicle.max_lean_deg is None
            else math.tan(math.radians(vehicle.max_lean_deg))
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
    }
    told = (torque_rpm, torque_nm, rpm_per_ms, force_per_nm, limiter)
    upshift = np.array(_upshift_speeds_ms(*(tuple(values.tolist()) for values in told)))
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
    }
    case = np.zeros(TORQUE_CURVE + 2 * len(torque_rpm))
    for place, figure in figures.items():
        case[place] = figure
    for place, block in blocks.items():
        case[place : place + len(block)] = block
    case[SENSITIVE:TORQUE_CURVE] = _sensitivity_table(tyres.load_sensitivity)
    case[TORQUE_CURVE::2] = torque_rpm
    case[TORQUE_CURVE + 1 :: 2] = torque_nm
    return case


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
) -> tuple[float, ...]:
    """Speed from which the next gear pulls at least as hard, up to this gear's limiter [m/s].

    Infinite in the top gear, and where the next gear finds no torque even at the limiter. Kept, for
    most of many laps are driven with the same engine and gears.
    """
    count = len(rpm_per_ms)
    speeds = np.full(count, np.inf)

    def pull(gear: int, speed: Floats) -> Floats:
        rpm = speed * rpm_per_ms[gear]
        torque = np.interp(rpm, torque_rpm, torque_nm)
        if gear > 0:
            torque = np.where(rpm < torque_rpm[0], 0.0, torque)
        force: Floats = torque * force_per_nm[gear]
        return force

    for gear in range(count - 1):
        speed = np.linspace(0.0, limiter[gear], 4001)[1:]
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
