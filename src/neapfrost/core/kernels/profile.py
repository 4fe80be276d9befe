"""What forces and grip a finished lap uses, interval by interval."""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.case import LIMITER_W, MASS
from neapfrost.core.kernels.forces import (
    BOTH,
    LEAST,
    axle_use,
    balance,
    driven_force,
    force_range,
    limiting_cause,
    resistance_at,
)
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import drive_force, overrun_force

FULL_SHARE = 0.999  # of the engine's force counts as full throttle
GAINING_MS2 = 0.05  # a vehicle that gains this much is not held back

# Columns of what `interval_profile` fills.
ACCELERATION, FORCE, DRIVE_SHARE, BRAKE_SHARE, TYRE_LIMITED = range(5)
PROFILE_COLUMNS = 5


class Intervals(NamedTuple):
    """The m intervals between m + 1 points of a lap.

    `step` and `share` (m,) place the middle of each; `length` (m,) [m]; `w` (m + 1,); `gear` (m,).
    """

    step: Integers
    share: Floats
    length: Floats
    w: Floats
    gear: Integers


@kernel
def interval_profile(
    case: Floats, road: Floats, straight: Floats, intervals: Intervals, out: Floats
) -> None:
    """Fill `out` (m, 5) for m intervals; `straight` is the road without its lateral demand.

    DRIVE_SHARE is of the engine's
    force in that gear, BRAKE_SHARE of the largest force that brakes and tyres could give straight
    ahead at that speed, TYRE_LIMITED 1 where the tyres and not the engine bound the drive.
    """
    step, share, length, w, gear = intervals
    for i in range(len(step)):
        k, x = step[i], share[i]
        middle = 0.5 * (w[i] + w[i + 1])
        v = math.sqrt(middle)
        acceleration = (w[i + 1] - w[i]) / (2.0 * length[i])
        force = case[MASS] * acceleration + resistance_at(case, road, k, x, middle)
        out[i, ACCELERATION] = acceleration
        out[i, FORCE] = force
        engine = drive_force(case, road, k, gear[i], v)
        out[i, DRIVE_SHARE] = 0.0
        if force > 0.0 and engine > 0.0:
            out[i, DRIVE_SHARE] = min(force / engine, 1.0)
        if middle >= case[LIMITER_W + gear[i]] * (1.0 - 1e-6) and force > 0.0:
            out[i, DRIVE_SHARE] = 1.0
        out[i, BRAKE_SHARE] = 0.0
        overrun = overrun_force(case, gear[i], v)
        if force < -1.02 * overrun - 1.0:
            least = force_range(case, straight, k, x, middle, LEAST)[0]
            if least < 0.0:
                out[i, BRAKE_SHARE] = min(force / least, 1.0)
        held = driven_force(case, road, k, x, middle, engine)[0]
        out[i, TYRE_LIMITED] = 1.0 if held < engine else 0.0


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
        force = case[MASS] * rate + resistance_at(case, road, k, 0.5, middle)
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
def lean_tangent(case: Floats, road: Floats, step: Integers, share: Floats, w: Floats) -> float:
    """Largest lateral force over normal force, the tangent of the lean; all arrays (m,)."""
    most = 0.0
    for i in range(len(step)):
        figures = balance(case, road, step[i], share[i], w[i])
        most = max(most, figures[3] / max(figures[2], 1.0))
    return most
