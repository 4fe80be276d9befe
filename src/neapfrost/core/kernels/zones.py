"""Braking zones: where the throttle is shut, and how lift and ramp join the ceiling."""

import math

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import STANDARD_GRAVITY_MS2, ZONE_SHORTEST_S
from neapfrost.core.kernels.between_nodes import ceiling_at, driven_bend, excess_over_ceiling
from neapfrost.core.kernels.bundles import GEAR, RIDES, Course, Driven
from neapfrost.core.kernels.case import (
    BRAKE_RAMP_S,
    MASS,
    ROTATING,
    TRANSITION_S,
)
from neapfrost.core.kernels.forces import BOTH, LEAST, force_range, resistance_at
from neapfrost.core.kernels.gear_race import NOTHING, asked_force
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.off_throttle import goes_on
from neapfrost.core.kernels.powertrain import left_at_tyres, overrun_force
from neapfrost.core.kernels.road import COAST
from neapfrost.core.kernels.step import FAR_BELOW, cap_w

# Columns of a zone, all numbers: node positions are unfolded (a zone may end beyond node n).
FIRST_STEP, JOIN, MET_W, LAST_NODE, LIFTED, TIME_BEGIN, TIME_END, END_W = range(8)
ZONE_COLUMNS = 8

# Columns of a sample on the way from the lift to the ceiling; STEP is unfolded.
STEP, SHARE, SPEED_W, TIME, FORCE = range(5)
SAMPLE_COLUMNS = 5
SAMPLE_S = 0.02

JOINED_M = 1e-4  # the lift's place is known when its bracket is no wider
JOINED_W = 1e-3  # or when the ramp ends so little below the ceiling [m²/s²]

HELD_WITHIN = 1e-6  # a share of w: speed inside a zone that rises by less does not rise


@kernel
def lower_ceiling(course: Course, driven: Driven) -> None:
    """Make the lap as driven the ceiling where the tyres ask for brakes below it.

    In a tightening corner the ceiling can fall more gently than the front axle allows: it holds
    the speed of the ceiling only while braking loads it. The lap is then slower there, with the
    brakes on, and every zone is measured against the lap.
    """
    case = course.case
    ceiling = course.ceiling
    n = len(course.lengths)
    threshold = -NOTHING * case[MASS] * STANDARD_GRAVITY_MS2
    for k in range(n):
        start, end = driven.w[k], driven.w[k + 1]
        shifts = driven.waiting[k] > 0.0 or driven.waiting[k + 1] > 0.0
        if driven.track[k, RIDES] == 1 or end >= start or shifts:
            continue
        if asked_force(course, k, start, end, driven.track[k, GEAR]) >= threshold:
            continue
        driven.track[k, RIDES] = 1
        driven.join[k] = 0.0
        ceiling[k], ceiling[k + 1] = start, end
        if course.closed and k == 0:
            ceiling[n] = start
        if course.closed and k == n - 1:
            ceiling[0] = end


@kernel
def find_zones(
    course: Course,
    driven: Driven,
    coast_gear: Integers,
    zones: Floats,
) -> int:
    """Fill `zones` (m, 8) with the stretches without throttle on the ceiling; returns how many.

    A zone starts where the full-throttle lap meets the ceiling, or where on a falling limit the
    tyre force first turns negative. Which stretches belong together is `off_throttle`'s to say.
    """
    lengths = course.lengths
    closed = course.closed
    time = driven.time
    w = driven.w
    n = len(lengths)
    origin = 0
    if closed:
        # Begin the search where the vehicle is on the throttle, so that no zone is cut in two.
        while origin < n and _is_off(course, driven, coast_gear, origin):
            origin += 1
        if origin == n:
            return 0
    lap = time[n] - time[0]
    count = 0
    inside = False
    for unfolded in range(origin, origin + n + 1):
        k = unfolded if unfolded < n else unfolded - n
        last = unfolded == origin + n
        off = not last and _is_off(course, driven, coast_gear, k)
        if off == inside:
            continue
        if off:
            if count == len(zones):
                return count
            share = max(driven.join[k], 0.0)
            zones[count, FIRST_STEP] = unfolded
            zones[count, JOIN] = share
            zones[count, MET_W] = met_w(course, driven, k)
            zones[count, LIFTED] = 1.0 if coast_gear[k] >= 0 else 0.0
            zones[count, TIME_BEGIN] = (
                time[k] + lap * (unfolded // n) + _part_time(course, driven, k, share)
            )
            inside = True
        else:
            inside = False
            zones[count, LAST_NODE] = unfolded
            at_end = last and not closed
            zones[count, TIME_END] = time[n] if at_end else time[k] + lap * (unfolded // n)
            zones[count, END_W] = w[n] if at_end else w[k]
            count = _with_the_last(zones, count)
    if count > 0 and _lasted(zones, count - 1) < ZONE_SHORTEST_S:
        count -= 1
    return count


@kernel
def _with_the_last(zones: Floats, number: int) -> int:
    """Join stretch `number` to the zone before it, or put it after it; returns how many there are.

    The zone before it is dropped where it turns out to have been none.
    """
    while number > 0:
        before = number - 1
        gap = zones[number, TIME_BEGIN] - zones[before, TIME_END]
        lasted = _lasted(zones, before)
        alike = zones[before, LIFTED] == zones[number, LIFTED]
        if alike and goes_on(lasted, gap, zones[before, END_W], zones[number, END_W]):
            for column in (LAST_NODE, TIME_END, END_W):
                zones[before, column] = zones[number, column]
            return number
        if lasted >= ZONE_SHORTEST_S:
            break
        # It was none; without it the stretch may go on with the zone before that.
        for column in range(ZONE_COLUMNS):
            zones[before, column] = zones[number, column]
        number = before
    return number + 1


@kernel
def hold_within_zones(
    course: Course, driven: Driven, zones: Floats, count: int, changed: Integers
) -> bool:
    """Lower the limit where speed rises inside a zone to what it had come down to there.

    Between the two stretches of a zone a driver holds the vehicle on part throttle, or on the
    brakes; nobody drives it up for a tenth of a second. Returns whether any limit was lowered, and
    marks the steps beside it in `changed` (n,).
    """
    n = len(course.lengths)
    lowered = False
    for i in range(count):
        if zones[i, LIFTED] > 0.0:
            continue
        first, last = int(zones[i, FIRST_STEP]) + 1, int(zones[i, LAST_NODE])
        held = driven.w[first % n if course.closed else first]
        for node in range(first + 1, last):
            w = driven.w[node % n if course.closed else node]
            if w > held * (1.0 + HELD_WITHIN):
                course.limit[(node - 1) % n, 1] = min(course.limit[(node - 1) % n, 1], held)
                course.limit[node % n, 0] = min(course.limit[node % n, 0], held)
                changed[(node - 1) % n] = changed[node % n] = 1
                lowered = True
            else:
                held = min(held, w)
    return lowered


@kernel
def _lasted(zones: Floats, number: int) -> float:
    return float(zones[number, TIME_END] - zones[number, TIME_BEGIN])


@kernel
def _is_off(
    course: Course,
    driven: Driven,
    coast_gear: Integers,
    k: int,
) -> bool:
    """Whether step k is driven on the ceiling with no more than a closed throttle."""
    case = course.case
    road = course.road
    lengths = course.lengths
    w = driven.w
    track = driven.track
    join = driven.join
    if track[k, RIDES] == 0:
        return False
    share = max(join[k], 0.0)
    rest = (1.0 - share) * lengths[k]
    if rest <= 1e-9:
        return False
    start = met_w(course, driven, k)
    middle = 0.5 * (start + w[k + 1])
    resistance = resistance_at(case, road, k, 0.5 * (1.0 + share), middle)
    turning = case[MASS] * (1.0 + case[ROTATING + track[k, GEAR]])
    force = turning * (w[k + 1] - start) / (2.0 * rest) + resistance
    threshold = NOTHING * case[MASS] * STANDARD_GRAVITY_MS2
    return force < (threshold if coast_gear[k] >= 0 else -threshold)


@kernel
def met_w(course: Course, driven: Driven, k: int) -> float:
    """Squared speed where the ceiling is met in step k."""
    return ceiling_at(course, k, max(driven.join[k], 0.0))


@kernel
def _part_time(course: Course, driven: Driven, k: int, share: float) -> float:
    met = ceiling_at(course, k, share)
    way = share * course.lengths[k]
    return 2.0 * way / max(math.sqrt(driven.w[k]) + math.sqrt(met), 1e-9)


@kernel
def _driven_w(course: Course, driven: Driven, first_step: int, k: int, x: float) -> float:
    """Squared speed of the lap before the zone at share x of step k (folded)."""
    w = driven.w
    join = driven.join
    if k == first_step:
        share = max(join[k], 0.0)
        if x <= share and share > 0.0:
            return w[k] + (met_w(course, driven, k) - w[k]) * x / share
        return ceiling_at(course, k, x)
    chord = w[k] + (w[k + 1] - w[k]) * x
    if x <= 0.0 or x >= 1.0:
        return chord
    return chord - driven_bend(course, driven, k) * x * (1.0 - x)


@kernel
def _shoot(
    course: Course,
    step: int,
    x: float,
    w: float,
    gear: int,
    last_node: int,
    transition_s: float,
    samples: Floats,
) -> tuple[float, int, int]:
    """Follow lift, coast and ramp from a place into `samples`; returns (worst excess, row, rows).

    The excess is w over the ceiling. Midpoint rule in steps of 20 ms; ends when the ramp is done
    or the zone is over.
    """
    case = course.case
    lengths = course.lengths
    n = len(lengths)
    total = transition_s + case[BRAKE_RAMP_S]
    count = max(2, math.ceil(total / SAMPLE_S))
    count = min(count, len(samples) - 1)
    dt = total / count
    v = math.sqrt(w)
    worst = -math.inf
    worst_row = 0
    row = 0
    for i in range(count + 1):
        k = step % n
        now = i * dt
        force, resistance = _pedal(course, k, x, v, gear, now, transition_s)
        samples[i, STEP] = step
        samples[i, SHARE] = x
        samples[i, SPEED_W] = v * v
        samples[i, TIME] = now
        samples[i, FORCE] = force
        row = i
        excess = excess_over_ceiling(course, k, x, v * v)
        if excess > worst:
            worst = excess
            worst_row = i
        if i == count:
            break
        v_half = max(v + 0.5 * dt * (force - resistance) / case[MASS], 0.1)
        step_half, x_half = _moved(lengths, step, x, 0.5 * dt * v)
        if step_half >= last_node:
            break
        force, resistance = _pedal(
            course, step_half % n, x_half, v_half, gear, now + 0.5 * dt, transition_s
        )
        v = max(v + dt * (force - resistance) / case[MASS], 0.1)
        step, x = _moved(lengths, step, x, dt * v_half)
        if step >= last_node:
            break
    return worst, worst_row, row + 1


@kernel
def _pedal(
    course: Course, k: int, x: float, v: float, gear: int, now: float, transition_s: float
) -> tuple[float, float]:
    """Tyre force [N] and resistance at a time after the lift: overrun, then the rising brake."""
    case, road = course.case, course.road
    # Far below the limit nothing forces the vehicle to be braked, or to be driven.
    far_below = v * v < FAR_BELOW * cap_w(course.limit, k, x)
    want = LEAST if far_below else BOTH
    least, greatest, resistance, possible = force_range(case, road, k, x, v * v, want)
    overrun = left_at_tyres(case[ROTATING + gear], -overrun_force(case, gear, v), resistance)
    if possible:
        overrun = max(overrun, least)
        if not far_below:
            overrun = min(overrun, greatest)
    if now <= transition_s:
        return overrun, resistance
    share = (now - transition_s) / case[BRAKE_RAMP_S]
    if share >= 1.0:
        return least, resistance
    return overrun + share * (least - overrun), resistance


@kernel
def _moved(lengths: Floats, step: int, x: float, distance: float) -> tuple[int, float]:
    """The place `distance` metres on, as (step, share)."""
    n = len(lengths)
    left = (1.0 - x) * lengths[step % n]
    if distance < left:
        return step, x + distance / lengths[step % n]
    while distance >= left:
        distance -= left
        step += 1
        x = 0.0
        left = lengths[step % n]
    return step, distance / left


@kernel
def _moved_back(lengths: Floats, step: int, x: float, distance: float) -> tuple[int, float]:
    n = len(lengths)
    left = x * lengths[step % n]
    while distance > left:
        distance -= left
        step -= 1
        x = 1.0
        left = lengths[step % n]
    return step, x - distance / lengths[step % n]


@kernel
def zone_transition_s(case: Floats, road: Floats, zone: Floats) -> float:
    """From closing the throttle to the first brake force of a zone [s], with ordered coasting."""
    crossing = int(zone[FIRST_STEP]) % len(road)
    return case[TRANSITION_S] + road[crossing, 0, COAST]


@kernel
def join_zone(
    course: Course,
    driven: Driven,
    zone: Floats,
    floor_step: int,
    samples: Floats,
) -> int:
    """Find the latest lift from which coast and ramp stay under the ceiling, and fill `samples`.

    `floor_step` is the earliest (unfolded) step the lift may fall in. Returns the number of rows
    up to where the ceiling is met; 0 where neither pedal time nor ramp is asked for, or where no
    room is left for them.
    """
    case = course.case
    lengths = course.lengths
    transition_s = zone_transition_s(case, course.road, zone)
    total = transition_s + case[BRAKE_RAMP_S]
    if total <= 0.0:
        return 0
    n = len(lengths)
    crossing_step = int(zone[FIRST_STEP])
    crossing_x = zone[JOIN]
    last_node = int(zone[LAST_NODE])
    first = crossing_step % n
    v = math.sqrt(met_w(course, driven, first))
    room = crossing_x * lengths[first]
    for step in range(floor_step, crossing_step):
        room += lengths[step % n]
    reach = min(room, 1.5 * v * total + 1.0)
    if reach <= 0.0:
        return 0
    near, far = 0.0, reach
    excess_far, _, _ = _shoot_from(
        course, driven, crossing_step, crossing_x, far, last_node, transition_s, samples
    )
    if excess_far > 0.0:
        return 0
    excess_near, _, _ = _shoot_from(
        course, driven, crossing_step, crossing_x, near, last_node, transition_s, samples
    )
    # Illinois' method: the end that stays has its value halved.
    excess, row, stayed = -math.inf, 0, 0
    for _ in range(60):
        if excess <= 0.0 and excess > -JOINED_W:
            break
        if far - near < JOINED_M:
            excess, row, _rows = _shoot_from(
                course, driven, crossing_step, crossing_x, far, last_node, transition_s, samples
            )
            break
        back = far + (near - far) * excess_far / (excess_far - excess_near)
        if not near < back < far:
            back = 0.5 * (near + far)
        excess, row, _rows = _shoot_from(
            course, driven, crossing_step, crossing_x, back, last_node, transition_s, samples
        )
        if excess > 0.0:
            near, excess_near = back, excess
            if stayed == 1:
                excess_far *= 0.5
            stayed = 1
        else:
            far, excess_far = back, excess
            if stayed == -1:
                excess_near *= 0.5
            stayed = -1
    _raise_to_ceiling(samples, row, excess, transition_s)
    return row + 1


@kernel
def _raise_to_ceiling(samples: Floats, row: int, excess: float, transition_s: float) -> None:
    """Let a ramp end on the ceiling that the latest lift leaves it just below.

    At the cornering limit the brake's force answers so sharply to the speed that no place of the
    lift meets the ceiling exactly; the little that is missing is braked less over the ramp.
    """
    ramp_s = samples[row, TIME] - transition_s
    if excess >= 0.0 or ramp_s <= 0.0:
        return
    for i in range(row + 1):
        share = max(samples[i, TIME] - transition_s, 0.0) / ramp_s
        samples[i, SPEED_W] -= share * excess


@kernel
def _shoot_from(
    course: Course,
    driven: Driven,
    crossing_step: int,
    crossing_x: float,
    back: float,
    last_node: int,
    transition_s: float,
    samples: Floats,
) -> tuple[float, int, int]:
    lengths = course.lengths
    track = driven.track
    n = len(lengths)
    step, x = _moved_back(lengths, crossing_step, crossing_x, back)
    k = step % n
    start = _driven_w(course, driven, crossing_step % n, k, x)
    return _shoot(course, step, x, start, track[k, GEAR], last_node, transition_s, samples)


@kernel
def time_between(
    course: Course,
    driven: Driven,
    zone_step: int,
    from_step: int,
    from_x: float,
    to_step: int,
    to_x: float,
) -> float:
    """Time of the lap as it was before lift and ramp, between two unfolded places [s]."""
    lengths = course.lengths
    join = driven.join
    n = len(lengths)
    total = 0.0
    step, x = from_step, from_x
    first = zone_step % n
    while step < to_step or (step == to_step and x < to_x):
        k = step % n
        until = to_x if step == to_step else 1.0
        if k == first and x < join[k] < until:
            until = join[k]
        speed_in = math.sqrt(max(_driven_w(course, driven, first, k, x), 0.0))
        speed_out = math.sqrt(max(_driven_w(course, driven, first, k, until), 0.0))
        total += 2.0 * (until - x) * lengths[k] / max(speed_in + speed_out, 1e-9)
        x = until
        if x >= 1.0:
            step += 1
            x = 0.0
    return total
