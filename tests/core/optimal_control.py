"""The quickest lap of a fixed path as one nonlinear programme, solved by IPOPT.

It shares nothing with the lap solver but the path and the records: no passes, no limit speed, no
gears; all speeds and forces of the lap are found at once. Pure driving of a closed path with full
ellipses (p = 2), no overrun, the strongest gear at every speed, and one pedal at a time.
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
    path: Path, vehicle: Vehicle, conditions: Conditions, density: float, begin_v_ms: Floats
) -> OtherLap:
    """Least lap time over the path's steps; `begin_v_ms` (n + 1,) is where the search begins.

    Forces hold for a step and are taken in its middle. Raises RuntimeError where IPOPT finds none.
    """
    assert path.closed
    n = len(path.s_m) - 1
    steps = np.diff(path.s_m)
    mass = vehicle.mass_kg + vehicle.driver_kg + vehicle.fuel_kg
    dry = vehicle.mass_kg + vehicle.driver_kg
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
    downforce = 0.5 * density * vehicle.aero.lift_area_m2 * air**2
    weight = mass * (
        G * np.cos(slope) * np.cos(bank)
        + w_mid * (vertical * np.cos(bank) + curvature * np.sin(bank))
    )
    lateral = mass * (
        w_mid * (curvature * np.cos(bank) - vertical * np.sin(bank))
        - G * np.cos(slope) * np.sin(bank)
    )
    normal = weight + downforce
    level = 0.5 * density * vehicle.aero.drag_area_m2 * air * ca.fabs(air)
    level += vehicle.tyres.rolling_resistance * normal
    share = vehicle.front_weight_fraction
    front = share * weight + vehicle.aero.front_fraction * downforce
    rear = normal - front
    sensitivity = vehicle.tyres.load_sensitivity
    grip_front = ca.fmax(front / (dry * G * share), 0.05) ** -sensitivity * surface
    grip_rear = ca.fmax(rear / (dry * G * (1.0 - share)), 0.05) ** -sensitivity * surface
    height: Any = vehicle.cg_height_m
    if vehicle.kind is VehicleKind.MOTORCYCLE:
        height = height * ca.cos(ca.atan(ca.sqrt(lateral**2 + 1e-6) / normal))
    moved = height / vehicle.wheelbase_m * (force * F_UNIT - level)

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

    speeds, strongest = strongest_forces(vehicle)
    engine = ca.interpolant("engine", "linear", [speeds], strongest / F_UNIT)
    lap.subject_to(force <= engine(v.T).T)
    if vehicle.brakes.max_force_n is not None:
        lap.subject_to(force >= -vehicle.brakes.max_force_n / F_UNIT)
    net = force * F_UNIT - level - mass * G * np.sin(slope)
    gain = (w[1:] - w[:-1]) * W_UNIT / (2.0 * steps) * mass
    lap.subject_to((gain - net) * unit == 0.0)
    lap.subject_to(w[0] == w[-1])
    lap.subject_to(lap.bounded(1.0 / W_UNIT, w, speeds[strongest > 0.0].max() ** 2 / W_UNIT))
    at_nodes = ca.sqrt(w * W_UNIT)
    time = ca.sum1(2.0 * steps / (at_nodes[:-1] + at_nodes[1:]))
    lap.minimize(time + liking)

    options: dict[str, Any] = {"print_level": 0, "sb": "yes", "max_iter": 200, "tol": 1e-7}
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


def strongest_forces(vehicle: Vehicle) -> tuple[Floats, Floats]:
    """Speeds [m/s] and the most force of any gear at each [N]; 0 above the last limiter."""
    speeds = np.linspace(0.5, 120.0, 4781)
    rpm_points, torques = zip(*vehicle.engine.torque_curve, strict=True)
    best = np.zeros_like(speeds)
    for number, ratio in enumerate(vehicle.gearbox.ratios):
        total = ratio * vehicle.gearbox.final_drive / vehicle.tyres.rolling_radius_m
        rpm = speeds * total * 30.0 / math.pi
        force = np.interp(rpm, rpm_points, torques) * total * vehicle.engine.efficiency
        out = (rpm > vehicle.engine.rev_limit_rpm) | ((number > 0) & (rpm < rpm_points[0]))
        best = np.maximum(best, np.where(out, 0.0, force))
    return speeds, best
