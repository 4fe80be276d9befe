"""The fastest line: path and speed found together, the time itself made least."""

from dataclasses import dataclass

import casadi as ca
import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels import case as c
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.geometry import (
    SCALES,
    line_bounds,
    line_step,
    packed,
    road_steps,
    unpacked,
)
from neapfrost.core.line.shape import Shape
from neapfrost.core.line.solver import (
    PLAIN,
    Columns,
    Outcome,
    Progress,
    Step,
    Strategy,
    solve_steps,
)
from neapfrost.core.line.vehicle import (
    SLOWEST_MS,
    Lie,
    Moment,
    forces,
    lies,
    place,
    places,
    pull,
)
from neapfrost.core.line.wishes import CornerWish, Hold
from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions, Driver, Vehicle

#: How fast a driver turns the front wheels [rad/s]: the line's curvature changes no faster than
#: this over the wheelbase.
STEERING_RATE_RAD_S = 0.6
SPEED_SCALE_MS = 10.0
#: Driving and braking forces are looked for up to this many times the weight.
FORCE_MOST_G = 8.0
#: Weights that only settle what the time leaves open: nodes alternating, both pedals at once. With
#: less on the first many searches do not settle; with this they lose 0.01 % of the time at most.
CURVATURE_SMOOTHING_S = 5e-3
BOTH_PEDALS_S = 1e-4


@dataclass(frozen=True, eq=False)
class Fastest:
    """The fastest line and the speed along it [m/s], (n + 1,), by the search's own smooth model.

    `outcome` says how the search for it ended; None where there was none.
    """

    shape: Shape
    v_ms: Floats
    outcome: Outcome | None = None


@dataclass(frozen=True, eq=False)
class Task:
    """What a line is looked for in: the corridor, who drives there, and what is asked of it."""

    field: Corridor
    vehicle: Vehicle
    conditions: Conditions
    driver: Driver
    wishes: tuple[CornerWish, ...] = ()
    holds: tuple[Hold, ...] = ()


def fastest_line(
    task: Task,
    start: Fastest,
    progress: Progress | None = None,
    strategy: Strategy = PLAIN,
) -> Fastest:
    """The true minimum-time path inside a corridor, by direct collocation.

    Offset, relative heading, curvature and speed at the nodes, drive and braking in the steps
    (Perantoni and Limebeer 2014; trapezoidal instead of their scheme). The search
    begins at `start`. Raises LineImpossible where no line meets the wishes.
    """
    field, road = task.field, task.field.road
    case = pack_case(task.vehicle, task.conditions, task.driver, road.altitude_m)
    lower, upper = line_bounds(field, task.wishes, task.holds)
    slowest, quickest = _speed_bounds(case, road.closed, road.start_speed_ms, len(lower))
    number = len(road.s_m) - 1
    count = 2 if case[c.BRAKE_FRONT] >= 0.0 else 3
    speed = start.v_ms[:-1] if road.closed else start.v_ms
    gained = np.diff(start.v_ms**2) / (2.0 * np.diff(road.s_m)) / STANDARD_GRAVITY_MS2
    pedals = np.column_stack(
        (np.maximum(gained, 0.0) + 0.05, *[np.maximum(-gained, 0.0) / (count - 1)] * (count - 1))
    )
    found, outcome = solve_steps(
        _step(case, field, task.vehicle.wheelbase_m),
        np.hstack((road_steps(road), places(field))),
        road.closed,
        (
            Columns(np.column_stack((lower, slowest)), np.zeros((number, count))),
            Columns(np.column_stack((upper, quickest)), np.full((number, count), FORCE_MOST_G)),
        ),
        Columns(np.column_stack((packed(road, start.shape), speed / SPEED_SCALE_MS)), pedals),
        progress,
        "the fastest line",
        strategy,
    )
    return fastest_of(field, found.nodes, outcome)


def fastest_of(field: Corridor, nodes: Floats, outcome: Outcome | None = None) -> Fastest:
    """The line and its speed from the unknowns at the nodes, (nodes, 4)."""
    v = nodes[:, 3] * SPEED_SCALE_MS
    speeds = np.append(v, v[0]) if field.road.closed else v.copy()
    return Fastest(unpacked(field.road, nodes), speeds, outcome)


def _weight(case: Floats) -> float:
    return float(case[c.MASS]) * STANDARD_GRAVITY_MS2


def _speed_bounds(case: Floats, closed: bool, start_ms: float, count: int) -> tuple[Floats, Floats]:
    *_, top = pull(case)
    slowest = np.full(count, (SLOWEST_MS if closed else 0.5) / SPEED_SCALE_MS)
    quickest = np.full(count, top / SPEED_SCALE_MS)
    if not closed:
        slowest[0] = quickest[0] = start_ms / SPEED_SCALE_MS
    return slowest, quickest


def _step(case: Floats, field: Corridor, wheelbase_m: float) -> Step:
    line, ends = line_step(), (place(), place())
    speeds = ca.SX.sym("v", 2)
    shared = case[c.BRAKE_FRONT] >= 0.0
    pedals = ca.SX.sym("pedals", 2 if shared else 3)
    v0, v1 = SPEED_SCALE_MS * speeds[0], SPEED_SCALE_MS * speeds[1]
    first, last = line.first, line.last
    dusty = bool(np.isfinite(field.dust_left_m).any() or np.isfinite(field.dust_right_m).any())
    drive_n = _weight(case) * pedals[0]
    # Ideal brakes are two forces of their own.
    front_share = float(case[c.BRAKE_FRONT])
    brakes = (
        (front_share * pedals[1], (1.0 - front_share) * pedals[1])
        if shared
        else (pedals[1], pedals[2])
    )
    brakes_n = (_weight(case) * brakes[0], _weight(case) * brakes[1])
    # What turns with the wheels takes its part of the hardware's force.
    most = float(case[c.BRAKE_MOST]) / (1.0 + float(case[c.ROTATING_WHEELS])) / _weight(case)
    hardware = brakes[0] + brakes[1] - min(most, FORCE_MOST_G)
    # At both ends: held to the step's middle alone, curvature would alternate between nodes.
    nodes = (first, last)
    lie = (
        (Lie(), Lie())
        if _level(field.road)
        else lies(
            (ends[0].ground, ends[1].ground),
            (first.n, last.n),
            (first.xi, last.xi),
            line.length_m,
        )
    )
    acting = [
        forces(
            case,
            ends[k],
            lie[k],
            field.half_width_m,
            dusty,
            Moment(nodes[k].n, nodes[k].xi, nodes[k].kappa, v, drive_n, brakes_n),
        )
        for k, v in enumerate((v0, v1))
    ]
    net_n = 0.5 * (acting[0].net_n + acting[1].net_n)
    gained = 2.0 * line.length_m * net_n / float(case[c.MASS])
    time = 2.0 * line.length_m / (v0 + v1)
    bend = (last.kappa - first.kappa) / SCALES[2]
    steered = STEERING_RATE_RAD_S / wheelbase_m * time / SCALES[2]
    return Step(
        first=ca.vertcat(first.free, speeds[0]),
        last=ca.vertcat(last.free, speeds[1]),
        inside=pedals,
        given=ca.vertcat(line.road, ends[0].free, ends[1].free),
        cost=time
        + CURVATURE_SMOOTHING_S * bend**2
        + BOTH_PEDALS_S * pedals[0] * (brakes[0] + brakes[1]),
        equal=ca.vertcat(line.defects, (v1**2 - v0**2 - gained) / SPEED_SCALE_MS**2),
        limits=ca.vertcat(
            acting[0].limits, acting[1].limits, hardware, bend - steered, -bend - steered
        ),
    )


def _level(road: Path) -> bool:
    """Whether a road has neither slope nor bank anywhere."""
    figures = (road.slope.angle_start, road.slope.angle_end, road.bank_start, road.bank_end)
    return not any(figure.any() for figure in figures)
