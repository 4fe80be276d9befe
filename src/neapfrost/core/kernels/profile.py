"""What forces and grip a finished lap uses, interval by interval."""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.bundles import GEAR
from neapfrost.core.kernels.case import (
    CROWN,
    LIMITER_W,
    LOWEST_RPM,
    MASS,
    REV_LIMIT,
    ROTATING,
    ROTATING_WHEELS,
    RPM_PER_MS,
)
from neapfrost.core.kernels.forces import (
    BOTH,
    LEAST,
    axle_use,
    balance,
    driven_force,
    force_range,
    limiting_cause,
    normal_at,
    resistance_at,
)
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force, overrun_force

FULL_SHARE = 0.999  # of the engine's force counts as full throttle
GAINING_MS2 = 0.05  # a vehicle that gains this much is not held back

# Rows of what `along_the_lap` fills: a figure a point, an interval's at its first point.
(
    SPEED,
    RPM,
    ACROSS,
    LOAD,
    ALONG,
    THROTTLE,
    FULL,
    BRAKE,
    SHIFTING,
    TYRE_LIMITED,
    FORCE,
    ASKED,
) = range(12)
POINT_ROWS = 12
#: From this row on a figure is an interval's.
OF_INTERVALS = ALONG

REVS_SHOWN_MOST = 1.2  # of the limit


class Grid(NamedTuple):
    """What the points of a lap lie on: n steps.

    Nodes `s` (n + 1,) [m], curvature at both ends of each step (n,) [1/m]; `track` and `waiting` of
    the driven lap, (n + 1, 8) and (n + 1,).
    """

    s: Floats
    curvature_start: Floats
    curvature_end: Floats
    track: Integers
    waiting: Floats


# Many parameters: a lap's columns are handed on singly, as to all kernels along a lap.
@kernel
def along_the_lap(
    case: Floats,
    road: Floats,
    straight: Floats,
    grid: Grid,
    s: Floats,
    w: Floats,
    step: Integers,
    share: Floats,
    gear: Integers,
    rows: Floats,
) -> None:
    """Fill `rows` (12, m) for the m points `s`, `w` (m,) of a lap, and where each is on the grid.

    `straight` is the road without its lateral demand. `step`, `share` (m,) place each point, `gear`
    (m,) counts from 1. THROTTLE is of the engine's force in that gear, BRAKE of the largest force
    that brakes and tyres could give straight ahead at that speed, FULL 1 where the pedal is down:
    full drive, a running upshift, or the limiter; LOAD is the normal force, TYRE_LIMITED 1 where
    the tyres and not the engine bound the drive; FORCE goes through the tyres, ASKED is what engine
    and brakes give at the wheels for it, with what turns along.
    """
    last = len(s) - 1
    k = 0
    for i in range(len(s)):
        k = _step_at(grid.s, k, s[i])
        step[i] = k
        share[i] = (s[i] - grid.s[k]) / (grid.s[k + 1] - grid.s[k])
        bend = grid.curvature_start[k]
        bend += share[i] * (grid.curvature_end[k] - grid.curvature_start[k])
        rows[ACROSS, i] = bend * w[i]
        v = math.sqrt(w[i])
        rows[SPEED, i] = v
        rows[LOAD, i] = normal_at(case, road, k, share[i], w[i])
        if i == last:
            gear[i] = gear[i - 1]
            for row in range(OF_INTERVALS, POINT_ROWS):
                rows[row, i] = rows[row, i - 1]
        else:
            middle = 0.5 * (s[i] + s[i + 1])
            at = _step_at(grid.s, k, middle)
            gear[i] = grid.track[at, GEAR] + 1
            x = (middle - grid.s[at]) / (grid.s[at + 1] - grid.s[at])
            waits = grid.waiting[at] > 0.0
            _interval(case, road, straight, at, x, s[i + 1] - s[i], w, i, gear[i] - 1, waits, rows)
        rpm = v * case[RPM_PER_MS + gear[i] - 1]
        if gear[i] == 1:
            rpm = max(rpm, case[LOWEST_RPM])
        rows[RPM, i] = min(rpm, case[REV_LIMIT] * REVS_SHOWN_MOST)


@kernel
def _step_at(nodes: Floats, k: int, place: float) -> int:
    """The step that a place at or behind step k lies in."""
    while k + 2 < len(nodes) and nodes[k + 1] <= place:
        k += 1
    return k


# Many parameters: what `along_the_lap` knows of one interval.
@kernel
def _interval(
    case: Floats,
    road: Floats,
    straight: Floats,
    k: int,
    x: float,
    length: float,
    w: Floats,
    i: int,
    gear: int,
    waits: bool,
    rows: Floats,
) -> None:
    """Fill the rows of an interval, whose middle is at share x of step k, into column i."""
    middle = 0.5 * (w[i] + w[i + 1])
    v = math.sqrt(middle)
    acceleration = (w[i + 1] - w[i]) / (2.0 * length)
    force = case[MASS] * acceleration + resistance_at(case, road, k, x, middle)
    rows[ALONG, i] = acceleration
    rows[FORCE, i] = force
    # What engine and brakes are asked for: the force at the tyres, and what turns along.
    asked = force + case[ROTATING + gear] * case[MASS] * acceleration
    engine = drive_force(case, road, k, gear, v)
    throttle = 0.0
    if asked > 0.0 and engine > 0.0:
        throttle = min(asked / engine, 1.0)
    rows[ASKED, i] = asked
    if middle >= case[LIMITER_W + gear] * (1.0 - 1e-6) and asked > 0.0:
        throttle = 1.0
    rows[THROTTLE, i] = throttle
    shifting = waits and force + case[ROTATING_WHEELS] * case[MASS] * acceleration <= 1.0
    rows[SHIFTING, i] = 1.0 if shifting else 0.0
    rows[FULL, i] = 1.0 if throttle >= FULL_SHARE or shifting else 0.0
    rows[BRAKE, i] = 0.0
    if asked < -1.02 * overrun_force(case, gear, v) - 1.0:
        least = force_range(case, straight, k, x, middle, LEAST)[0]
        if least < 0.0:
            rows[BRAKE, i] = min(force / least, 1.0)
    by_tyres = driven_force(case, road, k, x, middle, gear, engine)[3]
    rows[TYRE_LIMITED, i] = 1.0 if by_tyres else 0.0


@kernel
def held_back_s(
    case: Floats,
    road: Floats,
    lengths: Floats,
    steps: Integers,
    w: Floats,
    gear: Integers,
    waiting: Floats,
) -> float:
    """Time in some steps of a lap with the throttle held back and no speed gained [s].

    `w`, `waiting` (n + 1,) at the nodes; `gear` (n + 1,) counted from 0.
    """
    total = 0.0
    for k in steps:
        rate = (w[k + 1] - w[k]) / (2.0 * lengths[k])
        if waiting[k] > 0.0 or rate > GAINING_MS2:
            continue
        middle = 0.5 * (w[k] + w[k + 1])
        v = math.sqrt(middle)
        if middle >= case[LIMITER_W + gear[k]] * (1.0 - 1e-6):
            continue
        turning = case[MASS] * (1.0 + case[ROTATING + gear[k]])
        force = turning * rate + resistance_at(case, road, k, 0.5, middle)
        if force < FULL_SHARE * drive_force(case, road, k, gear[k], v):
            total += lengths[k] / v
    return total


@kernel
def grip_in_use(
    case: Floats, road: Floats, step: Integers, share: Floats, w: Floats, force: Floats
) -> float:
    """Largest share of an axle's grip in use over some places; all arrays (m,)."""
    most = 0.0
    for i in range(len(step)):
        use_front, use_rear, _front, _rear = axle_use(case, road, step[i], share[i], w[i], force[i])
        most = max(most, use_front, use_rear)
    return most


@kernel
def axles_in_use(
    case: Floats,
    road: Floats,
    step: Integers,
    share: Floats,
    w: Floats,
    force: Floats,
    out: Floats,
) -> None:
    """Share of the grip in use at some places, front and rear, into `out` (m, 2)."""
    for i in range(len(step)):
        use_front, use_rear, _front, _rear = axle_use(case, road, step[i], share[i], w[i], force[i])
        out[i, 0] = use_front
        out[i, 1] = use_rear


@kernel
def held_force(case: Floats, road: Floats, k: int, x: float, w: float, force: float) -> float:
    """The tyre force nearest to one that the grip allows at a place and squared speed [N].

    Where braking turns into driving the force jumps, and neither side of the jump fits the place.
    """
    least, greatest, _, possible = force_range(case, road, k, x, w * (1.0 - 2e-6), BOTH)
    if not possible:
        return force
    return min(max(force, least), greatest)


@kernel
def cause_at(case: Floats, road: Floats, k: int, x: float, w: float, force: float) -> int:
    """What ends the grip at one place."""
    return limiting_cause(case, road, k, x, w, held_force(case, road, k, x, w, force))


@kernel
def most_lean(case: Floats, road: Floats, step: Integers, share: Floats, w: Floats) -> float:
    """Largest lean against the road's own upright [rad]; all arrays (m,).

    atan(F_y/N), and what tyres of some width add to it: asin(t·sin φ_i/(h - t)).
    """
    most = 0.0
    for i in range(len(step)):
        figures = balance(case, road, step[i], share[i], w[i])
        most = max(most, figures[3] / max(figures[2], 1.0))
    ideal = math.atan(most)
    return ideal + math.asin(min(case[CROWN] * math.sin(ideal), 1.0))
