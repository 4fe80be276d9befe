"""Force of the engine at the tyres, in a gear and at a speed."""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import (
    FORCE_PER_NM,
    GEARS,
    LIMITER_W,
    LOWEST_RPM,
    OVERRUN_PER_MS,
    POINTS,
    ROTATING,
    RPM_PER_MS,
    TORQUE_CURVE,
)
from neapfrost.core.kernels.jit import inlined, kernel
from neapfrost.core.kernels.road import ELECTRIC

SLOWEST_MS = 1.0  # below it a power gives no more force than here


@kernel
def engine_torque(case: Floats, gear: int, rpm: float) -> float:
    """Full-throttle torque [Nm]; the rev limit is not looked at here.

    Below its curve the engine gives its first torque in first gear (the clutch slips) and nothing
    in the others; beyond the last point the last torque holds.
    """
    points = int(case[POINTS])
    if rpm < case[LOWEST_RPM]:
        return case[TORQUE_CURVE + 1] if gear == 0 else 0.0
    last = TORQUE_CURVE + 2 * (points - 1)
    if rpm >= case[last]:
        return case[last + 1]
    i = TORQUE_CURVE
    while rpm >= case[i + 2]:
        i += 2
    share = (rpm - case[i]) / (case[i + 2] - case[i])
    return case[i + 1] + share * (case[i + 3] - case[i + 1])


@kernel
def engine_force(case: Floats, gear: int, v: float) -> float:
    """Full-throttle force at the tyres [N] in a gear (0 is first), the rev limit not looked at."""
    return engine_torque(case, gear, v * case[RPM_PER_MS + gear]) * case[FORCE_PER_NM + gear]


@kernel
def drive_force(case: Floats, road: Floats, k: int, gear: int, v: float) -> float:
    """Full-throttle force at the tyres [N] in step k: the engine's, and a machine's beside it."""
    force = engine_force(case, gear, v)
    power = road[k, 0, ELECTRIC]
    return force if power == 0.0 else max(force + power / max(v, SLOWEST_MS), 0.0)


@inlined
def left_at_tyres(rotating: float, force: float, resistance: float) -> float:
    """What reaches the road of a force at the wheels, once what turns has taken its part [N].

    With the equivalent mass μ·m of wheels and engine the vehicle gains a = (F - R)/(m(1 + μ)), so
    that m·a + R = (F + μ·R)/(1 + μ) goes through the tyres (T. D. Gillespie, Fundamentals of
    Vehicle Dynamics, 1992, chapter 2). It holds for a closed throttle and for brakes as well.
    """
    return (force + rotating * resistance) / (1.0 + rotating)


@kernel
def overrun_force(case: Floats, gear: int, v: float) -> float:
    """Retarding force [N] of the engine with the throttle shut, linear in rpm."""
    return case[OVERRUN_PER_MS + gear] * v


@kernel
def strongest_gear(case: Floats, v: float) -> int:
    """The gear that pulls hardest at a speed below its limiter; the top gear when none may turn."""
    count = int(case[GEARS])
    best = count - 1
    most = -1.0
    for gear in range(count):
        if v * v <= case[LIMITER_W + gear]:
            force = engine_force(case, gear, v)
            if force > most:
                most = force
                best = gear
    return best


@kernel
def strongest_force(case: Floats, v: float) -> float:
    """The most the engine gives at a speed in any gear below its limiter [N]."""
    gear = strongest_gear(case, v)
    if v * v > case[LIMITER_W + gear]:
        return 0.0
    return engine_force(case, gear, v)


@kernel
def lowest_gear(case: Floats, w: float) -> int:
    """The lowest gear below its limiter at a squared speed; -1 where there is none."""
    for gear in range(int(case[GEARS])):
        if w <= case[LIMITER_W + gear]:
            return gear
    return -1


@kernel
def easy_at_tyres(case: Floats, v: float, resistance: float) -> float:
    """What the lowest gear below its limiter brings to the road at a speed [N], 0 in none.

    No more than `strongest_at_tyres`, and nearly always just that.
    """
    gear = lowest_gear(case, v * v)
    if gear < 0:
        return 0.0
    return left_at_tyres(case[ROTATING + gear], engine_force(case, gear, v), resistance)


@kernel
def strongest_at_tyres(case: Floats, v: float, resistance: float) -> float:
    """The most that any gear below its limiter brings to the road at a speed [N], 0 in none."""
    most = -math.inf
    for gear in range(int(case[GEARS])):
        if v * v <= case[LIMITER_W + gear]:
            force = engine_force(case, gear, v)
            most = max(most, left_at_tyres(case[ROTATING + gear], force, resistance))
    return most if most > -math.inf else 0.0
