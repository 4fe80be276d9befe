"""The vehicle inside the search for the fastest line: the solver's own forces, made smooth.

The same loads, tyres and resistance as the lap solver's, as expressions. Two things are smoother
than there: the engine's pull over all gears is one curve through their sawtooth, and shifts cost
nothing. The lap that is reported on a line is always the lap solver's own.
"""

import math
from dataclasses import dataclass
from typing import Any

import casadi as ca
import numpy as np
from numpy.polynomial import Chebyshev

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import LOAD_RATIO_FLOOR, STANDARD_GRAVITY_MS2
from neapfrost.core.kernels import case as c
from neapfrost.core.kernels.balance import (
    air_speed,
    axle_loads,
    cornering_drag,
    held_back,
    pressed,
)
from neapfrost.core.kernels.jit import plain
from neapfrost.core.kernels.powertrain import left_at_tyres, strongest_force, strongest_gear
from neapfrost.core.lap.pack_road import road_figures
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.ground import Ground, at_nodes, ground_of, slopes_under

PULL_DEGREE = 10
SLOWEST_MS = 3.0


@dataclass(frozen=True, eq=False)
class Forces:
    """Forces at a node as expressions: along the line [N], and what may not be positive.

    `net_n` drives the vehicle; each row of `limits` is scaled by the vehicle's weight.
    """

    net_n: Any
    limits: Any


def pull(case: Floats) -> tuple[Chebyshev, Chebyshev | None, float]:
    """The engine's greatest force [N] over all gears as a polynomial of speed, and its top speed.

    In between, the equivalent mass of what turns along, over the vehicle's; None for nothing. Least
    squares weighted by speed, so that power is fitted evenly; true within a gear's tooth.
    """
    top = math.sqrt(case[c.LIMITER_W + int(case[c.GEARS]) - 1])
    speeds = np.linspace(0.0, top, 400)
    weights = np.maximum(speeds, SLOWEST_MS)
    force = np.array([strongest_force(case, v) for v in speeds])
    turning = None
    if case[c.ROTATING] > 0.0:
        shares = np.array([case[c.ROTATING + strongest_gear(case, v)] for v in speeds])
        turning = Chebyshev.fit(speeds, shares, PULL_DEGREE, w=weights)
    return Chebyshev.fit(speeds, force, PULL_DEGREE, w=weights), turning, top


@dataclass(frozen=True, eq=False)
class Place:
    """What the road does at one node, as symbols; the columns that `places` fills."""

    free: Any
    ground: Ground
    bearing: Any
    grip: Any
    dust: tuple[tuple[Any, Any], tuple[Any, Any]]


def place() -> Place:
    """One node of the road as symbols."""
    free = ca.SX.sym("place", 10)
    rise, tilt, twist, bend, bearing, grip = (free[i] for i in range(6))
    dust = ((free[6], free[7]), (free[8], free[9]))
    return Place(free, Ground(rise, tilt, twist, bend), bearing, grip, dust)


def places(field: Corridor) -> Floats:
    """The ground, bearing, grip and each side's dust at the two nodes of every step, (n, 20).

    Angles in radians. Dust is the offset of its border [m] and the grip it takes away; a side
    without any takes none.
    """
    road = field.road
    ground = ground_of(road)
    columns = [
        ground.rise,
        ground.tilt,
        ground.twist,
        ground.bend,
        math.radians(road.north_deg) - road.heading_rad,
        at_nodes(road.grip_start, road.grip_end, road.closed),
    ]
    for border, factor in (
        (field.dust_left_m, field.dust_grip_left),
        (field.dust_right_m, field.dust_grip_right),
    ):
        dusty = np.isfinite(border)
        columns += [np.where(dusty, border, 0.0), np.where(dusty, 1.0 - factor, 0.0)]
    nodes = np.column_stack(columns)
    return np.hstack((nodes[:-1], nodes[1:]))


@dataclass(frozen=True, eq=False)
class Lie:
    """How the road lies under a line at one node: its slope along it, its bank across it.

    `vertical` is the curvature of the line up and down [1/m], positive in a dip.
    """

    cos_slope: Any = 1.0
    sin_slope: Any = 0.0
    cos_bank: Any = 1.0
    sin_bank: Any = 0.0
    vertical: Any = 0.0


def lies(
    grounds: tuple[Ground, Ground], offsets: tuple[Any, Any], headings: tuple[Any, Any], length: Any
) -> tuple[Lie, Lie]:
    """How the road lies under a line at both ends of a step of some length [m].

    As in the lap: the grade changes evenly over the step, κ_v = (dtan γ/ds)·cos²γ.
    """
    slopes = [
        slopes_under(ground, offset, ca.cos(heading), ca.sin(heading))
        for ground, offset, heading in zip(grounds, offsets, headings, strict=True)
    ]
    change = (slopes[1][0] - slopes[0][0]) / length
    first, last = (_lie(grade, bank, change) for grade, bank in slopes)
    return first, last


def _lie(grade: Any, bank: Any, change: Any) -> Lie:
    cos_slope, cos_bank = 1.0 / ca.sqrt(1.0 + grade**2), 1.0 / ca.sqrt(1.0 + bank**2)
    return Lie(cos_slope, grade * cos_slope, cos_bank, bank * cos_bank, change * cos_slope**2)


@dataclass(frozen=True, eq=False)
class Moment:
    """The line, the speed and the pedals at one place: expressions in metres, m/s and newtons.

    Offset, heading against the road, curvature, speed; drive, and the front and rear axle's brakes.
    """

    n: Any
    xi: Any
    kappa: Any
    v: Any
    drive_n: Any
    brakes_n: tuple[Any, Any]


# Long: one expression after the other, as loads, grip and resistance are put together.
def forces(
    case: Floats,
    road: Place,
    lie: Lie,
    half_width_m: float,
    dusty: bool,
    moment: Moment,
) -> Forces:
    """Loads, resistance and grip at one end of a step.

    Loads and resistance are the kernels' own lines, with the line's own curvature.
    """
    n, kappa, v = moment.n, moment.kappa, moment.v
    drive_n, brakes_n = moment.drive_n, moment.brakes_n
    mass, w = float(case[c.MASS]), v * v
    bearing = road.bearing - moment.xi
    air = plain(air_speed)(case, v, ca.cos(bearing), ca.sin(bearing))
    n0, n2, y0, y2 = road_figures(kappa, lie.vertical, lie.cos_bank, lie.sin_bank, lie.cos_slope)
    across = y0 + y2 * w
    lift, drag, aero_front = _air_figures(case, air, across)
    weight, downforce = plain(pressed)(case, n0, n2, lift, w, air)
    lateral = mass * across
    normal = weight + downforce
    front0, rear0 = plain(axle_loads)(case, weight, downforce, aero_front)
    level = plain(held_back)(case, drag, air, normal)
    if case[c.CORNERING_FRONT] + case[c.CORNERING_REAR] + case[c.SCRUB] > 0.0:
        level += plain(cornering_drag)(
            case,
            lateral,
            ca.sqrt(y2**2 + 1e-8),
            _floored(front0 / case[c.FRONT_REFERENCE]) * case[c.FRONT_REFERENCE],
            _floored(rear0 / case[c.REAR_REFERENCE]) * case[c.REAR_REFERENCE],
        )
    resistance = level + mass * STANDARD_GRAVITY_MS2 * lie.sin_slope

    transfer = case[c.CG_OVER_WHEELBASE]
    if case[c.MOTORCYCLE] > 0.0:
        transfer = transfer * _height_left(float(case[c.CROWN]), normal, lateral)
    grip = road.grip * _dust(road, half_width_m, n) if dusty else road.grip
    braking = brakes_n[0] + brakes_n[1]
    # A rider who sits up brakes with the air as well, as far as there is braking at all.
    sat_up: Any = 0.0
    if case[c.SITS_UP] > 0.0:
        most = case[c.SITS_UP] * air**2
        sat_up = most * braking / (braking + most)
    moved = transfer * (drive_n - braking - sat_up - level)
    goes = 0.0
    if case[c.LIFT_BRAKING] > 0.0:
        goes = case[c.LIFT_BRAKING] * downforce / mass * (braking + sat_up)
    lifted = case[c.SITS_UP_ARM] * sat_up
    front = front0 - moved - goes * aero_front - lifted
    rear = rear0 + moved - goes * (1.0 - aero_front) + lifted
    front_grip = grip * _sensitivity(case, front0, case[c.FRONT_REFERENCE])
    rear_grip = grip * _sensitivity(case, rear0, case[c.REAR_REFERENCE])
    front_side = case[c.FRONT_WEIGHT] * lateral / (case[c.MU_LATERAL] * front_grip)
    rear_side = (1.0 - case[c.FRONT_WEIGHT]) * lateral / (case[c.MU_LATERAL] * rear_grip)

    driven = (
        (front, (1.0 - case[c.DRIVE_REAR]) * drive_n / (case[c.MU_TRACTION] * front_grip)),
        (rear, case[c.DRIVE_REAR] * drive_n / (case[c.MU_TRACTION] * rear_grip)),
    )
    braked = (
        (front, brakes_n[0] / (case[c.MU_BRAKING] * front_grip)),
        (rear, brakes_n[1] / (case[c.MU_BRAKING] * rear_grip)),
    )
    sides = (front_side, rear_side)
    exit_p, entry_p = float(case[c.EXIT_EXPONENT]), float(case[c.ENTRY_EXPONENT])
    limits = []
    if exit_p == entry_p:
        for (load, drive), (_, brake), side in zip(driven, braked, sides, strict=True):
            limits.append(_norm(drive + brake, side, exit_p) - load)
    else:
        for p, uses in ((exit_p, driven), (entry_p, braked)):
            for (load, use), side in zip(uses, sides, strict=True):
                limits.append(_norm(use, side, p) - load)
    if math.isfinite(case[c.LEAN_TANGENT]):
        leant = float(case[c.LEAN_TANGENT]) * normal
        limits += [lateral - leant, -lateral - leant]
    curve, turning, _ = pull(case)
    engine = _polynomial(curve, v)
    if turning is not None:
        engine = plain(left_at_tyres)(_polynomial(turning, v), engine, resistance)
    limits.append(drive_n - engine)
    return Forces(
        drive_n - braking - sat_up - resistance,
        ca.vertcat(*limits) / (mass * STANDARD_GRAVITY_MS2),
    )


def _sensitivity(case: Floats, load: Any, reference: float) -> Any:
    if case[c.LOAD_SENSITIVITY] <= 0.0:
        return 1.0
    return _floored(load / reference) ** (-float(case[c.LOAD_SENSITIVITY]))


def _floored(ratio: Any) -> Any:
    """A smooth floor under a load over its reference, well below what limits any tyre."""
    floor = LOAD_RATIO_FLOOR
    return 0.5 * (ratio + floor + ca.sqrt((ratio - floor) ** 2 + 1e-4))


def _air_figures(case: Floats, air: Any, across: Any) -> tuple[Any, Any, Any]:
    """Factors on downforce and on drag, and the front axle's share of the downforce."""
    lift: Any = 1.0
    drag: Any = 1.0
    front: Any = case[c.FRONT_AERO]
    if case[c.AERO_BY_SPEED] > 0.0:
        speeds = c.AERO_STEP_MS * np.arange(c.AERO_NODES)
        table = case[c.AERO : c.TORQUE_CURVE].reshape(-1, 3)
        lift, drag, front = (
            _polynomial(Chebyshev.fit(speeds, table[:, column], PULL_DEGREE), air)
            for column in range(3)
        )
    if case[c.LIFT_TURNING] > 0.0:
        lift = lift * (1.0 - case[c.LIFT_TURNING] * ca.sqrt(across**2 + 1e-4))
    return lift, drag, front


def _height_left(crown: float, normal: Any, lateral: Any) -> Any:
    """`height_left` of the kernels as an expression."""
    whole = ca.sqrt(normal**2 + lateral**2)
    if crown == 0.0:
        return normal / whole
    side = ca.sqrt(lateral**2 + 1e-6) / whole
    more = crown * side
    return (crown + normal / whole * ca.sqrt(1.0 - more**2) - side * more) / (1.0 + crown)


def _norm(along: Any, side: Any, p: float) -> Any:
    """The use of an axle, rounded within a few newtons of zero so that it has a slope there."""
    if p == 2.0:
        return ca.sqrt(along**2 + side**2 + 25.0)
    total = (along**2 + 25.0) ** (0.5 * p) + (side**2 + 25.0) ** (0.5 * p)
    return total ** (1.0 / p)


def _polynomial(curve: Chebyshev, v: Any) -> Any:
    """A Chebyshev series as an expression (Clenshaw's recurrence)."""
    low, high = curve.domain
    x = (2.0 * v - low - high) / (high - low)
    b1, b2 = 0.0, 0.0
    for coefficient in curve.coef[:0:-1]:
        b1, b2 = 2.0 * x * b1 - b2 + coefficient, b1
    return x * b1 - b2 + curve.coef[0]


def _dust(road: Place, half: float, n: Any) -> Any:
    """`dust_grip` as an expression."""
    grip: Any = 1.0
    for (border, loss), outwards in zip(road.dust, (1.0, -1.0), strict=True):
        beyond = outwards * (n - border)
        grip -= 0.5 * loss * (_in_dust(beyond + half) + _in_dust(beyond - half))
    return grip


def _in_dust(beyond: Any) -> Any:
    return 0.5 * (1.0 + ca.tanh(beyond / 0.2))
