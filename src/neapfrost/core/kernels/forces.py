"""Loads, resistance, and the least and the greatest force that the tyres allow along the road."""

import math
from typing import NamedTuple

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import LOAD_RATIO_FLOOR
from neapfrost.core.kernels.balance import (
    air_speed,
    axle_loads,
    cornering_drag,
    held_back,
    pressed,
)
from neapfrost.core.kernels.case import (
    AERO,
    AERO_BY_SPEED,
    AERO_NODES,
    AERO_STEP_MS,
    BRAKE_FRONT,
    BRAKE_MOST,
    CG_OVER_WHEELBASE,
    CLUTCH_IN,
    CORNERING_FRONT,
    CORNERING_REAR,
    CROWN,
    DRIVE_REAR,
    ENTRY_EXPONENT,
    EXIT_EXPONENT,
    FRONT_AERO,
    FRONT_REFERENCE,
    FRONT_WEIGHT,
    LEAN_TANGENT,
    LIFT_BRAKING,
    LIFT_TURNING,
    LOAD_SENSITIVITY,
    MASS,
    MOTORCYCLE,
    MU_BRAKING,
    MU_LATERAL,
    MU_TRACTION,
    REAR_REFERENCE,
    ROTATING,
    ROTATING_WHEELS,
    SCRUB,
    SITS_UP,
    SITS_UP_ARM,
)
from neapfrost.core.kernels.jit import inlined, kernel, leaf_kernel
from neapfrost.core.kernels.load_sensitivity import loaded_share
from neapfrost.core.kernels.powertrain import (
    easy_at_tyres,
    left_at_tyres,
    lowest_gear,
    strongest_at_tyres,
)
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
AIR_BRAKES_MOST = 0.25  # of the tyres' braking: so much a rider who sits up adds at the most
NEARLY = 0.05  # share of the load: with more to spare no axle is near its limit

# Which end of the range of tyre forces is asked for.
LEAST, GREATEST, BOTH = 0, 1, 2


@inlined
def _between(road: Floats, k: int, x: float, column: int) -> float:
    first = road[k, 0, column]
    return first + (road[k, 1, column] - first) * x


@kernel
def aero_at(case: Floats, air: float, column: int) -> float:
    """A column of the table of the air's figures at a speed through the air [m/s]."""
    place = min(max(abs(air) / AERO_STEP_MS, 0.0), AERO_NODES - 1.001)
    node = int(place)
    at = AERO + 3 * node + column
    return case[at] + (place - node) * (case[at + 3] - case[at])


class Air(NamedTuple):
    """Weight onto the road, downforce and its part on the front [N], speed through the air [m/s].

    And the lateral force [N] and the factor on drag.
    """

    weight: float
    downforce: float
    on_front: float
    air: float
    lateral: float
    drag: float


@leaf_kernel
def _pressed_at(case: Floats, road: Floats, k: int, x: float, w: float) -> Air:
    """What presses the vehicle onto the road and to its side at share x of step k."""
    north, east = _between(road, k, x, NORTH), _between(road, k, x, EAST)
    air = air_speed(case, math.sqrt(w), north, east)
    n0, n2 = _between(road, k, x, N0), _between(road, k, x, N2)
    across = abs(_between(road, k, x, Y0) + _between(road, k, x, Y2) * w)
    lift, drag, front = road[k, 0, LIFT], road[k, 0, DRAG], case[FRONT_AERO]
    if case[AERO_BY_SPEED] > 0.0:
        lift *= aero_at(case, air, 0)
        drag *= aero_at(case, air, 1)
        front = aero_at(case, air, 2)
    if case[LIFT_TURNING] > 0.0:
        lift *= max(1.0 - case[LIFT_TURNING] * across, 0.0)
    weight, downforce = pressed(case, n0, n2, lift, w, air)
    return Air(weight, downforce, front, air, case[MASS] * across, drag)


@leaf_kernel
def _held_back_at(case: Floats, road: Floats, k: int, x: float, by: Air) -> float:
    """Drag, rolling resistance and what turning costs, on the level [N]."""
    level = held_back(case, by.drag, by.air, by.weight + by.downforce)
    if case[CORNERING_FRONT] + case[CORNERING_REAR] + case[SCRUB] > 0.0:
        front, rear = axle_loads(case, by.weight, by.downforce, by.on_front)
        # An axle about to lift carries nothing sideways that could drag.
        front = max(front, LOAD_RATIO_FLOOR * case[FRONT_REFERENCE])
        rear = max(rear, LOAD_RATIO_FLOOR * case[REAR_REFERENCE])
        level += cornering_drag(case, by.lateral, abs(_between(road, k, x, Y2)), front, rear)
    return level


@inlined
def entry_exponent(case: Floats, road: Floats, k: int) -> float:
    """Exponent of combined braking and cornering in step k: the place's own, else the driver's."""
    own = road[k, 0, ENTRY]
    return own if own > 0.0 else case[ENTRY_EXPONENT]


@inlined
def balance(
    case: Floats, road: Floats, k: int, x: float, w: float
) -> tuple[float, float, float, float, float, float, float, float, float, float, float, float]:
    """Loads and demands at a place (step k, share x of it) and a squared speed w.

    Returns front and rear load without longitudinal transfer [N], total normal and lateral force
    [N], resistance on the level and with the slope [N], the load moved per newton of net
    longitudinal force, each axle's lateral friction coefficient before the driver's use of
    the longitudinal one (as μ of the load, with load sensitivity), downforce [N] with the front
    axle's share of it, and the speed through the air [m/s].
    """
    by = _pressed_at(case, road, k, x, w)
    normal, lateral = by.weight + by.downforce, by.lateral
    level = _held_back_at(case, road, k, x, by)
    resistance = level + case[MASS] * _between(road, k, x, SLOPE)
    front, rear = axle_loads(case, by.weight, by.downforce, by.on_front)
    transfer = case[CG_OVER_WHEELBASE]
    if case[MOTORCYCLE] > 0.0 and normal > 0.0:
        transfer *= height_left(case[CROWN], normal, lateral)
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
        by.downforce,
        by.on_front,
        by.air,
    )


@inlined
def height_left(crown: float, normal: float, lateral: float) -> float:
    """Height of a leaning motorcycle's centre of gravity, as a share of its height upright.

    It leans by φ_i = atan(F_y/N) and, on tyres of radius t, by asin(t·sin φ_i/(h - t)) more, and
    rolls onto their side: t + (h - t)·cos φ (V. Cossalter, Motorcycle Dynamics, 2006, chapter 4).
    `crown` is t/(h - t); 0 for tyres without width.
    """
    whole = math.sqrt(normal * normal + lateral * lateral)
    upright = normal / whole
    if crown == 0.0:
        return upright
    side = lateral / whole
    more = crown * side
    leant = upright * math.sqrt(max(1.0 - more * more, 0.0)) - side * more
    return (crown + leant) / (1.0 + crown)


class Stand(NamedTuple):
    """How a vehicle stands on the road at a place and a speed, before any force of the tyres.

    `margin` is below 0 where no force can hold it, since it takes off or leans too far; else what
    is left before it does [N]. Axle loads with what the resistance has moved, the load moved for
    each newton along the road, each axle's friction as a share of its own, its lateral force over
    its friction coefficient [N], the resistance with the slope [N], downforce [N] with the front
    axle's share of it, and the speed through the air [m/s].
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
    downforce: float
    on_front: float
    air: float


@inlined
def standing(case: Floats, road: Floats, k: int, x: float, w: float) -> Stand:
    """The vehicle at share x of step k at a squared speed."""
    (
        front,
        rear,
        normal,
        lateral,
        level,
        resistance,
        transfer,
        grip_front,
        grip_rear,
        downforce,
        on_front,
        air,
    ) = balance(case, road, k, x, w)
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
        downforce,
        on_front,
        air,
    )


@inlined
def _sat_up(case: Floats, air: float, braking: float) -> float:
    """Drag that a rider adds who sits up behind the brakes [N].

    No more than a share of what the tyres brake with: nobody sits up in mid-corner, where they have
    nothing left for it.
    """
    return min(case[SITS_UP] * air * abs(air), AIR_BRAKES_MOST * max(braking, 0.0))


@inlined
def _less_downforce(case: Floats, downforce: float) -> float:
    """Downforce that goes with each newton of braking."""
    return case[LIFT_BRAKING] * downforce / case[MASS]


@leaf_kernel
def _braked(case: Floats, road: Floats, k: int, stand: Stand, by_air: float) -> Axles:
    """Both axles under the brakes, without any share of them: what is asked is x beyond `by_air`.

    Of the braking X of a rider who sits up the tyres do X less what the air does, while all of it
    moves load. Downforce that goes with braking goes from both axles.
    """
    goes = _less_downforce(case, stand.downforce)
    gains = stand.transfer - goes * stand.on_front
    loses = stand.transfer + goes * (1.0 - stand.on_front)
    arm = case[SITS_UP_ARM]
    slip = case[MU_BRAKING]
    return Axles(
        stand.front + (gains - arm) * by_air,
        stand.rear - (loses - arm) * by_air,
        gains,
        loses,
        1.0 / (slip * stand.grip_front),
        1.0 / (slip * stand.grip_rear),
        stand.lateral_front,
        stand.lateral_rear,
        entry_exponent(case, road, k),
    )


@leaf_kernel
def _hardware_most(case: Floats, w: float, resistance: float) -> float:
    """The most that the brakes' hardware brings to the road [N], past what turns along."""
    most = case[BRAKE_MOST]
    rotating = case[ROTATING_WHEELS]
    if case[CLUTCH_IN] > 0.0:
        gear = lowest_gear(case, w)
        if gear >= 0:
            rotating = case[ROTATING + gear]
    return max(-left_at_tyres(rotating, -most, resistance), 0.0)


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


# Many parameters: see `step.py`.
@kernel
def driven_force(
    case: Floats, road: Floats, k: int, x: float, w: float, gear: int, asked: float
) -> tuple[float, float, bool, bool]:
    """As much of a driving force in a gear as the tyres allow [N], and the resistance [N].

    What is asked at the wheels is tried first, less what wheels and engine take to be turned
    faster: where the tyres hold it nobody needs to know what more they would. Then whether any
    force is held, and whether the tyres hold less than is asked.
    """
    stand = standing(case, road, k, x, w)
    if stand.margin < 0.0:
        return 0.0, stand.resistance, False, True
    asked = left_at_tyres(case[ROTATING + gear], asked, stand.resistance)
    slip = case[MU_TRACTION]
    p = case[EXIT_EXPONENT]
    slip_front = (1.0 - case[DRIVE_REAR]) / (slip * stand.grip_front)
    slip_rear = case[DRIVE_REAR] / (slip * stand.grip_rear)
    if axle_holds(
        stand.front, -stand.transfer, slip_front, stand.lateral_front, p, asked
    ) and axle_holds(stand.rear, stand.transfer, slip_rear, stand.lateral_rear, p, asked):
        return asked, stand.resistance, True, False
    _least, greatest, possible = _range_of(case, road, k, w, stand, GREATEST)
    return min(asked, greatest), stand.resistance, possible, greatest < asked


@leaf_kernel
def _range_of(
    case: Floats, road: Floats, k: int, w: float, stand: Stand, want: int
) -> tuple[float, float, bool]:
    """Least and greatest tyre force of a vehicle that stands [N], and whether one exists."""
    front, rear, transfer = stand.front, stand.rear, stand.transfer
    brake_low, brake_high = 1.0, 0.0
    if want != GREATEST:
        brake_low, brake_high = _brake_interval(case, road, k, w, stand)
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
        drives = drive_low <= strongest_at_tyres(case, math.sqrt(w), stand.resistance)
    if want == GREATEST and drives:
        return drive_low, drive_high, True

    if want == GREATEST:
        brake_low, brake_high = _brake_interval(case, road, k, w, stand)
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
        if driven > easy_at_tyres(case, v, stand.resistance) - needed:
            driven = min(driven, strongest_at_tyres(case, v, stand.resistance) - needed)
    if driven >= 0.0:
        return min(driven, stand.margin), front - lateral_front >= rear - lateral_rear

    axles = _braked(case, road, k, stand, 0.0)
    share = case[BRAKE_FRONT]
    if share < 0.0:
        low, high, braked = ideal_brake_reach(axles)
    else:
        front, rear, gains, loses, slip_front, slip_rear, lateral_front, lateral_rear, p = axles
        low, high, left = axle_reach(front, gains, share * slip_front, lateral_front, p)
        low_rear, high_rear, left_rear = axle_reach(
            rear, -loses, (1.0 - share) * slip_rear, lateral_rear, p
        )
        low = max(low, low_rear)
        braked = min(LEFT_COUNTS * min(left, left_rear), min(high, high_rear) - low)
    if low > 0.0:
        braked = min(braked, _hardware_most(case, w, stand.resistance) - low)
    return (min(braked, stand.margin) if braked >= 0.0 else max(braked, driven)), True


@leaf_kernel
def _both_axles(axles: Axles) -> tuple[float, float]:
    """Least and greatest force that both axles hold [N], each with its share; low > high for none.

    The force loads the front axle by `gain` for each newton and unloads the rear by `loses`.
    """
    front, rear, gain, loses, slip_front, slip_rear, lateral_front, lateral_rear, p = axles
    if front >= lateral_front and rear >= lateral_rear:
        # Nearly always the vehicle holds by itself, and only the high end is to be found.
        most_front = axle_most(front, gain, slip_front, lateral_front, p)
        return 0.0, min(most_front, axle_most(rear, -loses, slip_rear, lateral_rear, p))
    low, high = axle_interval(front, gain, slip_front, lateral_front, p)
    low_rear, high_rear = axle_interval(rear, -loses, slip_rear, lateral_rear, p)
    return max(low, low_rear), min(high, high_rear)


@leaf_kernel
def _brake_interval(
    case: Floats, road: Floats, k: int, w: float, stand: Stand
) -> tuple[float, float]:
    """Least and greatest braking of tyres, brake share and hardware [N]; low > high for none.

    What a rider who sits up brakes with the air counts as braking.
    """
    low, high = _tyres_brake(case, road, k, w, stand, 0.0)
    if low > high:
        return low, high
    if case[SITS_UP] > 0.0:
        high, _by_air = _sitting_up(case, road, k, w, stand, high)
    return low, max(low, high * road[k, 0, BRAKING])


@kernel
def _sitting_up(
    case: Floats, road: Floats, k: int, w: float, stand: Stand, high: float
) -> tuple[float, float]:
    """The hardest braking of a rider who sits up, and how much of it the air does [N].

    `high` is what the tyres brake with alone.
    """
    by_air = _sat_up(case, stand.air, high)
    _low, most = _tyres_brake(case, road, k, w, stand, by_air)
    return (most + by_air, by_air) if most + by_air > high else (high, 0.0)


@kernel
def _tyres_brake(
    case: Floats, road: Floats, k: int, w: float, stand: Stand, by_air: float
) -> tuple[float, float]:
    """Least and greatest braking of the tyres beside the air's [N]; low > high for none."""
    braked = _braked(case, road, k, stand, by_air)
    share = case[BRAKE_FRONT]
    if share < 0.0:
        low, high = ideal_brake_interval(braked)
    else:
        front, rear, gain, loses, slip_front, slip_rear, lateral_front, lateral_rear, p = braked
        low, high = _both_axles(
            Axles(
                front,
                rear,
                gain,
                loses,
                share * slip_front,
                (1.0 - share) * slip_rear,
                lateral_front,
                lateral_rear,
                p,
            )
        )
    return low, min(high, _hardware_most(case, w, stand.resistance))


class Demand(NamedTuple):
    """What is asked of both axles at a place, a speed and a tyre force.

    Loads with what is moved along the vehicle [N]; the share of the force that the front carries;
    forces along and across over their friction coefficients [N]; the exponent of combined slip;
    what a rider who sits up brakes with the air [N].
    """

    front: float
    rear: float
    on_front: float
    along_front: float
    along_rear: float
    across_front: float
    across_rear: float
    p: float
    by_air: float


@kernel
def axle_demand(case: Floats, road: Floats, k: int, x: float, w: float, force: float) -> Demand:
    """Loads and demands of both axles at share x of step k and a tyre force [N]."""
    (
        front,
        rear,
        _normal,
        lateral,
        level,
        _resistance,
        transfer,
        grip_front,
        grip_rear,
        downforce,
        on_front,
        _air,
    ) = balance(case, road, k, x, w)
    moved = transfer * (force - level)
    front -= moved
    rear += moved
    asked, by_air = abs(force), 0.0
    if force >= 0.0:
        p = case[EXIT_EXPONENT]
        slip = case[MU_TRACTION]
        share = 1.0 - case[DRIVE_REAR]
    else:
        p = entry_exponent(case, road, k)
        slip = case[MU_BRAKING]
        share = case[BRAKE_FRONT]
        if case[SITS_UP] > 0.0:
            stand = standing(case, road, k, x, w)
            high = _tyres_brake(case, road, k, w, stand, 0.0)[1]
            most, by_air = _sitting_up(case, road, k, w, stand, high)
            # The further up, the harder he brakes.
            by_air *= min(asked / max(most, 1.0), 1.0)
        goes = _less_downforce(case, downforce) * asked
        front -= goes * on_front + case[SITS_UP_ARM] * by_air
        rear -= goes * (1.0 - on_front) - case[SITS_UP_ARM] * by_air
        asked -= by_air
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
        by_air,
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
    """Drag, rolling resistance, what turning costs, and slope [N]."""
    by = _pressed_at(case, road, k, x, w)
    return _held_back_at(case, road, k, x, by) + case[MASS] * _between(road, k, x, SLOPE)


@kernel
def normal_at(case: Floats, road: Floats, k: int, x: float, w: float) -> float:
    """Normal force of the whole vehicle [N]."""
    by = _pressed_at(case, road, k, x, w)
    return by.weight + by.downforce
