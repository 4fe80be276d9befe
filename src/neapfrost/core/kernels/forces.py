"""Loads, resistance, and the least and the greatest force that the tyres allow along the road."""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.balance import air_speed, axle_loads, held_back, pressed
from neapfrost.core.kernels.case import (
    BRAKE_FRONT,
    BRAKE_MOST,
    CG_OVER_WHEELBASE,
    DRIVE_REAR,
    ENTRY_EXPONENT,
    EXIT_EXPONENT,
    FRONT_REFERENCE,
    FRONT_WEIGHT,
    LEAN_TANGENT,
    LOAD_SENSITIVITY,
    MASS,
    MOTORCYCLE,
    MU_BRAKING,
    MU_LATERAL,
    MU_TRACTION,
    REAR_REFERENCE,
)
from neapfrost.core.kernels.jit import inlined, kernel, leaf_kernel
from neapfrost.core.kernels.load_sensitivity import loaded_share
from neapfrost.core.kernels.powertrain import easy_force, strongest_force
from neapfrost.core.kernels.road import (
    BRAKING,
    DRAG,
    EAST,
    ENTRY,
    GRIP,
    LIFT,
    N0,
    N2,
    NORTH,
    SLOPE,
    Y0,
    Y2,
)
from neapfrost.core.kernels.tyres import (
    Axles,
    axle_holds,
    axle_interval,
    axle_most,
    axle_reach,
    ideal_brake_interval,
    ideal_brake_reach,
    longitudinal_left,
    norm,
)

FRONT, REAR, UNLOADING, LEAN = 1, 2, 3, 4

# What an axle has left counts so much more than the room between two axles' forces: their ends
# move some twenty times as fast with the speed.
LEFT_COUNTS = 20.0
NEARLY = 0.05  # share of the load: with more to spare no axle is near its limit

# Which end of the range of tyre forces is asked for.
LEAST, GREATEST, BOTH = 0, 1, 2


@inlined
def _between(road: Floats, k: int, x: float, column: int) -> float:
    first = road[k, 0, column]
    return first + (road[k, 1, column] - first) * x


@inlined
def _pressed_at(
    case: Floats, road: Floats, k: int, x: float, w: float
) -> tuple[float, float, float]:
    """Weight onto the road and downforce [N], and the speed through the air [m/s]."""
    north, east = _between(road, k, x, NORTH), _between(road, k, x, EAST)
    air = air_speed(case, math.sqrt(w), north, east)
    n0, n2 = _between(road, k, x, N0), _between(road, k, x, N2)
    weight, downforce = pressed(case, n0, n2, road[k, 0, LIFT], w, air)
    return weight, downforce, air


@inlined
def entry_exponent(case: Floats, road: Floats, k: int) -> float:
    """Exponent of combined braking and cornering in step k: the place's own, else the driver's."""
    own = road[k, 0, ENTRY]
    return own if own > 0.0 else case[ENTRY_EXPONENT]


@inlined
def balance(
    case: Floats, road: Floats, k: int, x: float, w: float
) -> tuple[float, float, float, float, float, float, float, float, float]:
    """Loads and demands at a place (step k, share x of it) and a squared speed w.

    Returns front and rear load without longitudinal transfer [N], total normal and lateral force
    [N], resistance on the level and with the slope [N], the load moved per newton of net
    longitudinal force, and each axle's lateral friction coefficient before the driver's use of
    the longitudinal one (as μ of the load, with load sensitivity).
    """
    weight, downforce, air = _pressed_at(case, road, k, x, w)
    normal = weight + downforce
    lateral = abs(case[MASS] * (_between(road, k, x, Y0) + _between(road, k, x, Y2) * w))
    level = held_back(case, road[k, 0, DRAG], air, normal)
    resistance = level + case[MASS] * _between(road, k, x, SLOPE)
    front, rear = axle_loads(case, weight, downforce)
    transfer = case[CG_OVER_WHEELBASE]
    if case[MOTORCYCLE] > 0.0 and normal > 0.0:
        transfer *= normal / math.sqrt(normal * normal + lateral * lateral)  # cos(lean)
    grip = _between(road, k, x, GRIP)
    sensitivity_front = grip
    sensitivity_rear = grip
    if case[LOAD_SENSITIVITY] > 0.0:
        sensitivity_front *= loaded_share(case, front / case[FRONT_REFERENCE])
        sensitivity_rear *= loaded_share(case, rear / case[REAR_REFERENCE])
    return (
        front,
        rear,
        normal,
        lateral,
        level,
        resistance,
        transfer,
        sensitivity_front,
        sensitivity_rear,
    )


class Stand(NamedTuple):
    """How a vehicle stands on the road at a place and a speed, before any force of the tyres.

    `margin` is below 0 where no force can hold it, since it takes off or leans too far; else what
    is left before it does [N]. Axle loads with what the resistance has moved, the load moved for
    each newton along the road, each axle's friction as a share of its own, its lateral force over
    its friction coefficient [N], and the resistance with the slope [N].
    """

    margin: float
    normal: float
    front: float
    rear: float
    transfer: float
    grip_front: float
    grip_rear: float
    lateral_front: float
    lateral_rear: float
    resistance: float


@inlined
def standing(case: Floats, road: Floats, k: int, x: float, w: float) -> Stand:
    """The vehicle at share x of step k at a squared speed."""
    front, rear, normal, lateral, level, resistance, transfer, grip_front, grip_rear = balance(
        case, road, k, x, w
    )
    margin = normal * case[LEAN_TANGENT] - lateral if normal > 0.0 else min(normal, -1e-9)
    side = case[MU_LATERAL]
    return Stand(
        margin,
        normal,
        # Without any tyre force the resistance on the level already moves load forwards.
        front + transfer * level,
        rear - transfer * level,
        transfer,
        grip_front,
        grip_rear,
        case[FRONT_WEIGHT] * lateral / (side * grip_front),
        (1.0 - case[FRONT_WEIGHT]) * lateral / (side * grip_rear),
        resistance,
    )


@kernel
def force_range(
    case: Floats, road: Floats, k: int, x: float, w: float, want: int
) -> tuple[float, float, float, bool]:
    """Least (braking) and greatest (driving) tyre force, resistance [N], and whether one exists.

    The engine's power does not bound the greatest force here; the brakes' hardware bounds the
    least. When no force lets both axles hold the vehicle the speed is above the limit. `want` says
    which end is asked for (LEAST, GREATEST or BOTH): the other one is then only looked at when
    this one does not settle whether any force is possible, and is returned as 0.
    """
    stand = standing(case, road, k, x, w)
    if stand.margin < 0.0:
        return 0.0, 0.0, stand.resistance, False
    least, greatest, possible = _range_of(case, road, k, w, stand, want)
    return least, greatest, stand.resistance, possible


@kernel
def driven_force(
    case: Floats, road: Floats, k: int, x: float, w: float, asked: float
) -> tuple[float, float, bool]:
    """As much of a driving force as the tyres allow [N], the resistance, and whether any is held.

    What is asked is tried first: where the tyres hold it nobody needs to know what more they would.
    """
    stand = standing(case, road, k, x, w)
    if stand.margin < 0.0:
        return 0.0, stand.resistance, False
    slip = case[MU_TRACTION]
    p = case[EXIT_EXPONENT]
    slip_front = (1.0 - case[DRIVE_REAR]) / (slip * stand.grip_front)
    slip_rear = case[DRIVE_REAR] / (slip * stand.grip_rear)
    if axle_holds(
        stand.front, -stand.transfer, slip_front, stand.lateral_front, p, asked
    ) and axle_holds(stand.rear, stand.transfer, slip_rear, stand.lateral_rear, p, asked):
        return asked, stand.resistance, True
    _least, greatest, possible = _range_of(case, road, k, w, stand, GREATEST)
    return min(asked, greatest), stand.resistance, possible


@leaf_kernel
def _range_of(
    case: Floats, road: Floats, k: int, w: float, stand: Stand, want: int
) -> tuple[float, float, bool]:
    """Least and greatest tyre force of a vehicle that stands [N], and whether one exists."""
    front, rear, transfer = stand.front, stand.rear, stand.transfer
    p = entry_exponent(case, road, k)
    slip = case[MU_BRAKING]
    braked = Axles(
        front,
        rear,
        transfer,
        1.0 / (slip * stand.grip_front),
        1.0 / (slip * stand.grip_rear),
        stand.lateral_front,
        stand.lateral_rear,
        p,
    )
    brake_low, brake_high = 1.0, 0.0
    if want != GREATEST:
        brake_low, brake_high = _brake_interval(case, road, k, braked)
        if want == LEAST and brake_low <= brake_high:
            return -brake_high, 0.0, True

    slip = case[MU_TRACTION]
    p = case[EXIT_EXPONENT]
    slip_front = (1.0 - case[DRIVE_REAR]) / (slip * stand.grip_front)
    slip_rear = case[DRIVE_REAR] / (slip * stand.grip_rear)
    drive_low, drive_high = _both_axles(
        Axles(
            front,
            rear,
            -transfer,
            slip_front,
            slip_rear,
            stand.lateral_front,
            stand.lateral_rear,
            p,
        )
    )
    drives = drive_low <= drive_high
    if drives and drive_low > 0.0:
        drives = drive_low <= strongest_force(case, math.sqrt(w))
    if want == GREATEST and drives:
        return drive_low, drive_high, True

    if want == GREATEST:
        brake_low, brake_high = _brake_interval(case, road, k, braked)
    brakes = brake_low <= brake_high
    if not (brakes or drives):
        return 0.0, 0.0, False
    least = -brake_high if brakes else drive_low
    greatest = drive_high if drives else -brake_low
    return least, greatest, True


@kernel
def holding_margin(case: Floats, road: Floats, k: int, x: float, w: float) -> tuple[float, bool]:
    """How far a place is from where no force holds the vehicle [N]: 0 or more where one does.

    The sign is `force_range`'s answer; the amount has no meaning of its own, but goes smoothly
    through 0 at the limit, so that a secant finds it. Also whether that is where it comes to 0:
    where driving is what holds, and the front axle is the first to slide, braking holds beyond.
    """
    stand = standing(case, road, k, x, w)
    if stand.margin < 0.0:
        return stand.margin, True
    front, rear, transfer = stand.front, stand.rear, stand.transfer
    lateral_front, lateral_rear = stand.lateral_front, stand.lateral_rear
    slip = case[MU_TRACTION]
    p = case[EXIT_EXPONENT]
    slip_front = (1.0 - case[DRIVE_REAR]) / (slip * stand.grip_front)
    slip_rear = case[DRIVE_REAR] / (slip * stand.grip_rear)
    low, high, left = axle_reach(front, -transfer, slip_front, lateral_front, p)
    low_rear, high_rear, left_rear = axle_reach(rear, transfer, slip_rear, lateral_rear, p)
    low = max(low, low_rear)
    driven = min(LEFT_COUNTS * min(left, left_rear), min(high, high_rear) - low)
    start = min(front - lateral_front, rear - lateral_rear)
    if driven >= 0.0 and start < NEARLY * stand.normal:
        # From `low` on the engine must give it; where that is next to nothing, so is `start`.
        needed = low if low > 0.0 else -start / max(transfer, 1e-9)
        v = math.sqrt(w)
        # Only where one gear does not do need it be known which is the best.
        if driven > easy_force(case, v) - needed:
            driven = min(driven, strongest_force(case, v) - needed)
    if driven >= 0.0:
        return min(driven, stand.margin), front - lateral_front >= rear - lateral_rear

    slip = case[MU_BRAKING]
    p = entry_exponent(case, road, k)
    slip_front = 1.0 / (slip * stand.grip_front)
    slip_rear = 1.0 / (slip * stand.grip_rear)
    share = case[BRAKE_FRONT]
    if share < 0.0:
        low, high, braked = ideal_brake_reach(
            Axles(front, rear, transfer, slip_front, slip_rear, lateral_front, lateral_rear, p)
        )
    else:
        low, high, left = axle_reach(front, transfer, share * slip_front, lateral_front, p)
        low_rear, high_rear, left_rear = axle_reach(
            rear, -transfer, (1.0 - share) * slip_rear, lateral_rear, p
        )
        low = max(low, low_rear)
        braked = min(LEFT_COUNTS * min(left, left_rear), min(high, high_rear) - low)
    if low > 0.0:
        braked = min(braked, case[BRAKE_MOST] - low)
    return (min(braked, stand.margin) if braked >= 0.0 else max(braked, driven)), True


@leaf_kernel
def _both_axles(axles: Axles) -> tuple[float, float]:
    """Least and greatest force that both axles hold [N], each with its share; low > high for none.

    The force loads the front axle by `gain` for each newton and unloads the rear.
    """
    front, rear, gain, slip_front, slip_rear, lateral_front, lateral_rear, p = axles
    if front >= lateral_front and rear >= lateral_rear:
        # Nearly always the vehicle holds by itself, and only the high end is to be found.
        most_front = axle_most(front, gain, slip_front, lateral_front, p)
        return 0.0, min(most_front, axle_most(rear, -gain, slip_rear, lateral_rear, p))
    low, high = axle_interval(front, gain, slip_front, lateral_front, p)
    low_rear, high_rear = axle_interval(rear, -gain, slip_rear, lateral_rear, p)
    return max(low, low_rear), min(high, high_rear)


@leaf_kernel
def _brake_interval(case: Floats, road: Floats, k: int, braked: Axles) -> tuple[float, float]:
    """Least and greatest force of tyres, brake share and hardware [N]; low > high for none."""
    share = case[BRAKE_FRONT]
    if share < 0.0:
        low, high = ideal_brake_interval(braked)
    else:
        front, rear, gain, slip_front, slip_rear, lateral_front, lateral_rear, p = braked
        low, high = _both_axles(
            Axles(
                front,
                rear,
                gain,
                share * slip_front,
                (1.0 - share) * slip_rear,
                lateral_front,
                lateral_rear,
                p,
            )
        )
    high = min(high, case[BRAKE_MOST])
    if low > high:
        return low, high
    return low, max(low, high * road[k, 0, BRAKING])


class Demand(NamedTuple):
    """What is asked of both axles at a place, a speed and a tyre force.

    Loads with what is moved along the vehicle [N]; the share of the force that the front carries;
    forces along and across over their friction coefficients [N]; the exponent of combined slip.
    """

    front: float
    rear: float
    on_front: float
    along_front: float
    along_rear: float
    across_front: float
    across_rear: float
    p: float


@kernel
def axle_demand(case: Floats, road: Floats, k: int, x: float, w: float, force: float) -> Demand:
    """Loads and demands of both axles at share x of step k and a tyre force [N]."""
    front, rear, _normal, lateral, level, _resistance, transfer, grip_front, grip_rear = balance(
        case, road, k, x, w
    )
    moved = transfer * (force - level)
    front -= moved
    rear += moved
    if force >= 0.0:
        p = case[EXIT_EXPONENT]
        slip = case[MU_TRACTION]
        share = 1.0 - case[DRIVE_REAR]
    else:
        p = entry_exponent(case, road, k)
        slip = case[MU_BRAKING]
        share = case[BRAKE_FRONT]
    asked = abs(force)
    side = case[MU_LATERAL]
    across_front = case[FRONT_WEIGHT] * lateral / (side * grip_front)
    across_rear = (1.0 - case[FRONT_WEIGHT]) * lateral / (side * grip_rear)
    if share < 0.0:
        share = ideal_front_share(
            longitudinal_left(front, across_front, p) * grip_front,
            longitudinal_left(rear, across_rear, p) * grip_rear,
            front,
            rear,
        )
    return Demand(
        front,
        rear,
        share,
        share * asked / (slip * grip_front),
        (1.0 - share) * asked / (slip * grip_rear),
        across_front,
        across_rear,
        p,
    )


@kernel
def ideal_front_share(left_front: float, left_rear: float, front: float, rear: float) -> float:
    """Share of the braking at the front axle, of brakes that use each axle to its own limit.

    In proportion to what the corner leaves each axle to brake with (`left_*`, in any unit), so
    that both reach their limits together; where it leaves nothing, to the loads.
    """
    if left_front + left_rear > 0.0:
        return left_front / (left_front + left_rear)
    return min(max(front / max(front + rear, 1.0), 0.0), 1.0)


@kernel
def axle_use(
    case: Floats, road: Floats, k: int, x: float, w: float, force: float
) -> tuple[float, float, float, float]:
    """Share of each axle's grip in use at a tyre force [N], and each axle's load [N].

    1.0 is the limit. Returns (front use, rear use, front load, rear load); loads include the
    longitudinal transfer.
    """
    asked = axle_demand(case, road, k, x, w, force)
    use_front = norm(asked.along_front, asked.across_front, asked.p) / max(asked.front, 1.0)
    use_rear = norm(asked.along_rear, asked.across_rear, asked.p) / max(asked.rear, 1.0)
    return use_front, use_rear, asked.front, asked.rear


@kernel
def limiting_cause(case: Floats, road: Floats, k: int, x: float, w: float, force: float) -> int:
    """What ends the grip at a place: FRONT, REAR, UNLOADING of an axle, or LEAN."""
    use_front, use_rear, front, rear = axle_use(case, road, k, x, w, force)
    normal = front + rear
    if front < 0.02 * case[FRONT_REFERENCE] or rear < 0.02 * case[REAR_REFERENCE]:
        return UNLOADING
    lateral = abs(case[MASS] * (_between(road, k, x, Y0) + _between(road, k, x, Y2) * w))
    if lateral > 0.9999 * normal * case[LEAN_TANGENT]:
        return LEAN
    return FRONT if use_front >= use_rear else REAR


@kernel
def resistance_at(case: Floats, road: Floats, k: int, x: float, w: float) -> float:
    """Drag, rolling resistance and slope [N]."""
    weight, downforce, air = _pressed_at(case, road, k, x, w)
    level = held_back(case, road[k, 0, DRAG], air, weight + downforce)
    return level + case[MASS] * _between(road, k, x, SLOPE)


@kernel
def normal_at(case: Floats, road: Floats, k: int, x: float, w: float) -> float:
    """Normal force of the whole vehicle [N]."""
    weight, downforce, _air = _pressed_at(case, road, k, x, w)
    return weight + downforce
