"""A second, slow lap solver that shares nothing with the kernels but the path and the records.

It scans the tyre force instead of solving for it, and walks explicit steps. Only pure driving: no
lift, ramp, shift loss or overrun; fixed brake distribution; the best gear at every speed.
"""

import math

import numpy as np

from core.agreement import OtherLap
from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions, Vehicle, VehicleKind

G = 9.80665


def solve_reference(
    path: Path,
    vehicle: Vehicle,
    conditions: Conditions,
    density: float,
    exponents: tuple[float, float] = (2.0, 2.0),
) -> OtherLap:
    """Lap of a closed path by brute force; `density` in kg/m³, `exponents` of entry and exit."""
    n = len(path.s_m) - 1
    steps = np.diff(path.s_m)
    mass = vehicle.mass_kg + vehicle.driver_kg + vehicle.fuel_kg
    tyres, aero = vehicle.tyres, vehicle.aero
    reference_front, reference_rear = vehicle.reference_loads_n
    inertia, radius = vehicle.inertia, tyres.rolling_radius_m
    wheels = (inertia.front_wheels_kgm2 + inertia.rear_wheels_kgm2) / radius**2 / mass
    more_drag = max((aero.braking_drag_area_m2 or 0.0) - aero.drag_area_m2, 0.0)
    scan = np.linspace(-3.0, 3.0, 1201) * mass * G
    full_ellipse = exponents == (2.0, 2.0)

    def feasible_forces(k: int, w: float) -> tuple[float, float, float, bool]:
        """Lowest and highest possible force, and resistance, in the middle of step k."""
        curvature = 0.5 * (path.curvature_start[k] + path.curvature_end[k])
        bank = 0.5 * (path.bank_start[k] + path.bank_end[k])
        slope = 0.5 * (path.slope.angle_start[k] + path.slope.angle_end[k])
        vertical = 0.5 * (path.slope.curvature_start[k] + path.slope.curvature_end[k])
        surface = 0.5 * (path.grip_start[k] + path.grip_end[k])
        heading = 0.5 * (path.heading_rad[k] + path.heading_rad[k + 1])
        bearing = math.radians(path.north_deg) - heading
        v = math.sqrt(w)
        air = v + conditions.wind_speed_ms * math.cos(
            bearing - math.radians(conditions.wind_from_deg)
        )
        across = w * (curvature * math.cos(bank) - vertical * math.sin(bank))
        across -= G * math.cos(slope) * math.sin(bank)
        lift = 0.5 * density * aero.lift_area_m2 * air**2
        lift *= 1.0 - aero.lift_lost_turning * abs(across)
        weight = mass * (
            G * math.cos(slope) * math.cos(bank)
            + w * (vertical * math.cos(bank) + curvature * math.sin(bank))
        )
        lateral = mass * abs(across)
        drag = 0.5 * density * vehicle.aero.drag_area_m2 * air * abs(air)
        level = drag + vehicle.tyres.rolling_resistance * (weight + lift)
        front_share = vehicle.front_weight_fraction
        front = front_share * weight + vehicle.aero.front_fraction * lift
        rear = weight + lift - front
        for stiffness, part, load in (
            (tyres.cornering_stiffness_front, front_share, front),
            (tyres.cornering_stiffness_rear, 1.0 - front_share, rear),
        ):
            # An axle that carries F_y at the slip F_y/C drags F_y times that slip.
            carried = part * lateral
            level += carried * carried / (stiffness * load) if stiffness else 0.0
        level += tyres.scrub_moment_nm * abs(curvature * math.cos(bank) - vertical * math.sin(bank))
        resistance = level + mass * G * math.sin(slope)
        epsilon = vehicle.tyres.load_sensitivity
        fall_front = max(front / reference_front, 0.05) ** -epsilon * surface
        fall_rear = max(rear / reference_rear, 0.05) ** -epsilon * surface
        # m·a + m·g·sinγ is the tyre force less the resistance on the level.
        height = vehicle.cg_height_m
        if vehicle.kind is VehicleKind.MOTORCYCLE:
            ideal = math.atan(lateral / (weight + lift))
            crown = 0.5 * tyres.width_m
            lean = ideal + math.asin(crown * math.sin(ideal) / (height - crown))
            height = crown + (height - crown) * math.cos(lean)
        moved = height / vehicle.wheelbase_m * (scan - level)
        split = np.where(
            scan < 0.0, vehicle.brakes.front_fraction or 0.0, 1.0 - vehicle.rear_drive_fraction
        )
        mu_x, mu_y = vehicle.tyres.mu_longitudinal, vehicle.tyres.mu_lateral
        p = np.where(scan < 0.0, exponents[0], exponents[1])
        braking, sideways = np.maximum(-scan, 0.0), lateral / mu_y

        def spare_with(sat_up: float) -> Floats:
            """What both axles have left when the air brakes first; it pushes high up."""
            by_air = np.minimum(braking, sat_up)
            arm = aero.braking_drag_height_m / vehicle.wheelbase_m * by_air
            # Braking dives and loses downforce.
            gone = aero.lift_lost_braking * braking / mass * lift
            load_front = front - moved - arm - aero.front_fraction * gone
            load_rear = rear + moved + arm - (1.0 - aero.front_fraction) * gone
            along = (np.abs(scan) - by_air) / mu_x
            use_front = norm(split * along, front_share * sideways, p) / fall_front
            use_rear = norm((1 - split) * along, (1 - front_share) * sideways, p) / fall_rear
            left: Floats = np.minimum(load_front - use_front, load_rear - use_rear)
            return left

        spare = spare_with(0.0)
        possible = np.flatnonzero(spare >= 0.0)
        if len(possible) == 0:
            return 0.0, 0.0, resistance, False
        low, high = int(possible[0]), int(possible[-1])
        least, greatest = edge(spare, low, low - 1), edge(spare, high, high + 1)
        if more_drag > 0.0 and least < 0.0:
            # A rider sits up for a quarter of what the tyres brake with at the most.
            upright = spare_with(min(0.5 * density * more_drag * air * abs(air), -0.25 * least))
            held = np.flatnonzero((upright >= 0.0) & (scan < 0.0))
            if len(held) > 0:
                least = min(least, edge(upright, int(held[0]), int(held[0]) - 1))
        return least, greatest, resistance, True

    def norm(a: Floats, b: float, p: Floats) -> Floats:
        if full_ellipse:
            return np.hypot(a, b)
        result: Floats = (a**p + b**p) ** (1.0 / p)
        return result

    def edge(spare: Floats, inside: int, outside: int) -> float:
        if not 0 <= outside < len(scan):
            return float(scan[inside])
        share = spare[inside] / (spare[inside] - spare[outside])
        return float(scan[inside] + share * (scan[outside] - scan[inside]))

    def engine(v: float, resistance: float) -> float:
        """What the best gear brings to the road, once wheels and engine are turned faster."""
        best = 0.0
        rpm_points = [point[0] for point in vehicle.engine.torque_curve]
        torques = [point[1] for point in vehicle.engine.torque_curve]
        for number, ratio in enumerate(vehicle.gearbox.ratios):
            total = ratio * vehicle.gearbox.final_drive / vehicle.tyres.rolling_radius_m
            rpm = v * total * 30.0 / math.pi
            if rpm > vehicle.engine.rev_limit_rpm or (number > 0 and rpm < rpm_points[0]):
                continue
            force = float(np.interp(rpm, rpm_points, torques)) * total * vehicle.engine.efficiency
            engine_share = inertia.engine_kgm2 * vehicle.engine.efficiency * total**2 / mass
            turned = wheels + engine_share
            best = max(best, (force + turned * resistance) / (1.0 + turned))
        return best

    limit = np.empty(n)
    for k in range(n):
        low, high = 1.0, 150.0**2
        if feasible_forces(k, high)[3]:
            low = high
        while high - low > 1e-4:
            middle = 0.5 * (low + high)
            low, high = (middle, high) if feasible_forces(k, middle)[3] else (low, middle)
        limit[k] = low
    node_limit = np.minimum(limit, np.roll(limit, 1))
    node_limit = np.append(node_limit, node_limit[0])

    ceiling = node_limit.copy()
    for _ in range(2):
        ceiling[n] = min(ceiling[n], ceiling[0])
        for k in range(n - 1, -1, -1):
            w = min(ceiling[k + 1], limit[k])
            least, _, resistance, _ = feasible_forces(k, w)
            ceiling[k] = min(
                node_limit[k], ceiling[k + 1] - 2.0 * steps[k] * (least - resistance) / mass
            )
    w_lap = ceiling.copy()
    start = ceiling[0]
    for _ in range(2):
        w_lap[0] = start
        for k in range(n):
            w = min(w_lap[k], limit[k])
            _, greatest, resistance, _ = feasible_forces(k, w)
            force = min(greatest, engine(math.sqrt(w), resistance))
            w_lap[k + 1] = min(
                ceiling[k + 1], w_lap[k] + 2.0 * steps[k] * (force - resistance) / mass
            )
        start = w_lap[n]
    v = np.sqrt(w_lap)
    starts = [
        float(path.s_m[k])
        for k in range(1, n)
        if w_lap[k] > w_lap[k - 1] and w_lap[k + 1] < w_lap[k] - 2.0 * steps[k] * 2.0
    ]
    return OtherLap(v, float(np.sum(2.0 * steps / (v[:-1] + v[1:]))), starts)
