"""The quickest lap of a fixed path as one nonlinear programme, solved by IPOPT.

It shares nothing with the lap solver but the path and the records (and how much of its torque the
air leaves the engine, a figure handed in): no passes, no limit speed, no gears; all speeds and
forces of the lap are found at once. Pure driving of a closed path with full ellipses (p = 2), no
overrun, the strongest gear at every speed, and one pedal at a time.
"""

import math
from typing import Any

import casadi as ca
import numpy as np

from core.agreement import OtherLap
from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions, Vehicle, VehicleKind

G = 9.80665
W_UNIT = 1000.0  # of the squared speeds [m²/s²], so that the programme's figures are near 1
F_UNIT = 1e4  # of the forces [N]
BRAKES_FROM_N = 100.0
# Shares of the squared speeds to begin from: from one or another of them a search may go astray.
BEGINS_BELOW = (0.85, 0.95, 0.7)


def solve_optimal_control(
    path: Path,
    vehicle: Vehicle,
    conditions: Conditions,
    density: float,
    begin_v_ms: Floats,
    torque_factor: float = 1.0,
) -> OtherLap:
    """Least lap time over the path's steps; `begin_v_ms` (n + 1,) is where the search begins.

    Forces hold for a step and are taken in its middle. Raises RuntimeError where IPOPT finds none.
    """
    assert path.closed
    n = len(path.s_m) - 1
    steps = np.diff(path.s_m)
    mass = vehicle.mass_kg + vehicle.driver_kg + vehicle.fuel_kg
    tyres, aero = vehicle.tyres, vehicle.aero
    standing = (vehicle.mass_kg + vehicle.driver_kg) * G
    share = vehicle.front_weight_fraction
    front_reference = tyres.front_reference_n or standing * share
    rear_reference = tyres.rear_reference_n or standing * (1.0 - share)
    curvature = middle(path.curvature_start, path.curvature_end)
    bank = middle(path.bank_start, path.bank_end)
    slope = middle(path.slope.angle_start, path.slope.angle_end)
    vertical = middle(path.slope.curvature_start, path.slope.curvature_end)
    surface = middle(path.grip_start, path.grip_end)
    bearing = math.radians(path.north_deg) - middle(path.heading_rad[:-1], path.heading_rad[1:])
    headwind = conditions.wind_speed_ms * np.cos(bearing - math.radians(conditions.wind_from_deg))

    lap = ca.Opti()
    w = lap.variable(n + 1)
    force = lap.variable(n)
    w_mid = 0.5 * (w[:-1] + w[1:]) * W_UNIT
    v = ca.sqrt(w_mid)
    air = v + headwind
    lift_area: Any = aero.lift_area_m2
    drag_area: Any = aero.drag_area_m2
    aero_front: Any = aero.front_fraction
    if aero.by_speed:
        at, *rows = (list(column) for column in zip(*aero.by_speed, strict=True))
        at = [-1.0, *at, 200.0]
        lift_factor, drag_factor, shift = (
            ca.interpolant("air", "linear", [at], [row[0], *row, row[-1]])(air.T).T for row in rows
        )
        lift_area, drag_area = lift_factor * lift_area, drag_factor * drag_area
        aero_front = aero_front + shift
    across = w_mid * (curvature * np.cos(bank) - vertical * np.sin(bank))
    across -= G * np.cos(slope) * np.sin(bank)
    lift_area *= 1.0 - aero.lift_lost_turning * ca.fabs(across)
    downforce = 0.5 * density * lift_area * air**2
    weight = mass * (
        G * np.cos(slope) * np.cos(bank)
        + w_mid * (vertical * np.cos(bank) + curvature * np.sin(bank))
    )
    lateral = mass * across
    normal = weight + downforce
    level = 0.5 * density * drag_area * air * ca.fabs(air)
    level += vehicle.tyres.rolling_resistance * normal
    front = share * weight + aero_front * downforce
    rear = normal - front
    if tyres.cornering_stiffness_front:
        level += (share * lateral) ** 2 / (tyres.cornering_stiffness_front * front)
    if tyres.cornering_stiffness_rear:
        level += ((1.0 - share) * lateral) ** 2 / (tyres.cornering_stiffness_rear * rear)
    level += tyres.scrub_moment_nm * np.abs(curvature * np.cos(bank) - vertical * np.sin(bank))
    resistance = level + mass * G * np.sin(slope)
    sensitivity = vehicle.tyres.load_sensitivity
    grip_front = ca.fmax(front / front_reference, 0.05) ** -sensitivity * surface
    grip_rear = ca.fmax(rear / rear_reference, 0.05) ** -sensitivity * surface
    height: Any = vehicle.cg_height_m
    if vehicle.kind is VehicleKind.MOTORCYCLE:
        lean = ca.atan(ca.sqrt(lateral**2 + 1e-6) / normal)
        crown = 0.5 * tyres.width_m
        lean += ca.asin(crown * ca.sin(lean) / (height - crown))
        height = crown + (height - crown) * ca.cos(lean)
    moved = height / vehicle.wheelbase_m * (force * F_UNIT - level)
    assert aero.braking_drag_area_m2 is None
    # Braking takes downforce off both axles.
    gone = aero.lift_lost_braking * ca.fmax(-force, 0.0) * F_UNIT / mass * downforce
    front -= gone * aero_front
    rear -= gone * (1.0 - aero_front)

    brake_share: Any = vehicle.brakes.front_fraction
    liking: Any = 0.0
    if brake_share is None:
        brake_share = lap.variable(n)
        lap.subject_to(lap.bounded(0.0, brake_share, 1.0))
        lap.set_initial(brake_share, 0.6)
        # Where nothing brakes any share will do; without a liking for one the search wanders.
        liking = 1e-7 * ca.sumsqr(brake_share - 0.6)
    drives, brakes = ca.fmax(force, 0.0) * F_UNIT, ca.fmin(force, 0.0) * F_UNIT
    rear_drive = vehicle.rear_drive_fraction
    axles: Any = (
        ((1.0 - rear_drive) * drives + brake_share * brakes, share, front - moved, grip_front),
        (rear_drive * drives + (1.0 - brake_share) * brakes, 1.0 - share, rear + moved, grip_rear),
    )
    unit = 1.0 / (mass * G)
    for along, part, load, grip in axles:
        used = (along / (vehicle.tyres.mu_longitudinal * grip)) ** 2
        used += (part * lateral / (vehicle.tyres.mu_lateral * grip)) ** 2
        lap.subject_to((used - load**2) * unit**2 <= 0.0)
        lap.subject_to(load * unit >= 0.0)

    speeds, strongest, turning = strongest_forces(vehicle, density, torque_factor)
    engine = ca.interpolant("engine", "linear", [speeds], strongest / F_UNIT)
    # Of the engine's force a part turns itself and the wheels: m_eq·a, with a = (force - R)/m.
    turned = ca.interpolant("turned", "linear", [speeds], turning)(v.T).T
    lap.subject_to(force + turned * (force - resistance / F_UNIT) <= engine(v.T).T)
    if vehicle.brakes.max_force_n is not None:
        inertia = vehicle.inertia
        wheels = (inertia.front_wheels_kgm2 + inertia.rear_wheels_kgm2) / mass
        wheels /= tyres.rolling_radius_m**2
        assert not (inertia.engine_kgm2 and inertia.clutch_in_braking)
        asked = force + wheels * (force - resistance / F_UNIT)
        lap.subject_to(asked >= -vehicle.brakes.max_force_n / F_UNIT)
    net = force * F_UNIT - resistance
    gain = (w[1:] - w[:-1]) * W_UNIT / (2.0 * steps) * mass
    lap.subject_to((gain - net) * unit == 0.0)
    lap.subject_to(w[0] == w[-1])
    lap.subject_to(lap.bounded(1.0 / W_UNIT, w, speeds[strongest > 0.0].max() ** 2 / W_UNIT))
    at_nodes = ca.sqrt(w * W_UNIT)
    time = ca.sum1(2.0 * steps / (at_nodes[:-1] + at_nodes[1:]))
    lap.minimize(time + liking)

    options: dict[str, Any] = {"print_level": 0, "sb": "yes", "max_iter": 400, "tol": 1e-7}
    options["mu_strategy"] = "adaptive"
    lap.solver("ipopt", {"print_time": False}, options)
    for below in BEGINS_BELOW:
        begin = below * begin_v_ms**2
        lap.set_initial(w, begin / W_UNIT)
        lap.set_initial(force, np.diff(begin) / (2.0 * steps) * mass / F_UNIT)
        try:
            found = lap.solve()
            break
        except RuntimeError:
            if below == BEGINS_BELOW[-1]:
                raise
    forces = found.value(force) * F_UNIT
    on = np.asarray(forces < -BRAKES_FROM_N)
    return OtherLap(
        np.sqrt(found.value(w) * W_UNIT),
        float(found.value(time)),
        [float(path.s_m[k]) for k in range(1, n) if on[k] and not on[k - 1]],
    )


def middle(a: Floats, b: Floats) -> Floats:
    return 0.5 * (a + b)


def strongest_forces(
    vehicle: Vehicle, density: float = 1.2, torque_factor: float = 1.0
) -> tuple[Floats, Floats, Floats]:
    """Speeds [m/s], the force of the gear that pulls hardest at each [N], and what it turns along.

    That as a share of the mass. The force is 0 above the last limiter. The gear is the best on the
    level, where what turns makes a difference to which it is.
    """
    speeds = np.linspace(0.5, 120.0, 4781)
    rpm_points, torques = zip(*vehicle.engine.torque_curve, strict=True)
    best = np.zeros_like(speeds)
    turning, most_left = np.zeros_like(speeds), np.full_like(speeds, -np.inf)
    mass = vehicle.mass_kg + vehicle.driver_kg + vehicle.fuel_kg
    inertia, radius = vehicle.inertia, vehicle.tyres.rolling_radius_m
    wheels = (inertia.front_wheels_kgm2 + inertia.rear_wheels_kgm2) / radius**2
    load = 0.5 * density * vehicle.aero.drag_area_m2 * speeds**2
    load += vehicle.tyres.rolling_resistance * (
        mass * G + 0.5 * density * vehicle.aero.lift_area_m2 * speeds**2
    )
    for number, ratio in enumerate(vehicle.gearbox.ratios):
        total = ratio * vehicle.gearbox.final_drive / vehicle.tyres.rolling_radius_m
        rpm = speeds * total * 30.0 / math.pi
        force = np.interp(rpm, rpm_points, torques) * total * vehicle.engine.efficiency
        force *= torque_factor
        out = (rpm > vehicle.engine.rev_limit_rpm) | ((number > 0) & (rpm < rpm_points[0]))
        along = (wheels + inertia.engine_kgm2 * vehicle.engine.efficiency * total**2) / mass
        left = np.where(out, -np.inf, (force - load) / (1.0 + along))
        better = left > most_left
        most_left = np.where(better, left, most_left)
        best, turning = np.where(better, force, best), np.where(better, along, turning)
    return speeds, best, turning
