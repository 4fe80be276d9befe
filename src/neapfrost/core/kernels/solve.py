"""One lap from limits to joined braking zones, all compiled."""

import math
from typing import NamedTuple

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.backward import backward_pass
from neapfrost.core.kernels.bundles import GEAR, RIDES, TRACK_COLUMNS, Course, Driven
from neapfrost.core.kernels.case import LIFT_THRESHOLD
from neapfrost.core.kernels.forward import NO_REPEAT, STALLED, forward_pass
from neapfrost.core.kernels.jit import allocating_kernel, kernel
from neapfrost.core.kernels.limits import limit_pass
from neapfrost.core.kernels.powertrain import strongest_gear
from neapfrost.core.kernels.redo import alike, drive_again, lower_again
from neapfrost.core.kernels.road import COAST
from neapfrost.core.kernels.step import mark_strides
from neapfrost.core.kernels.zones import (
    FIRST_STEP,
    JOIN,
    LAST_NODE,
    LIFTED,
    SAMPLE_COLUMNS,
    SHARE,
    STEP,
    TIME,
    ZONE_COLUMNS,
    find_zones,
    hold_within_zones,
    join_zone,
    lower_ceiling,
    met_w,
    time_between,
)


class SolvedLap(NamedTuple):
    """What the kernel returns, for n steps and m braking zones.

    `status`, with the node of trouble; limits (n, 2), those of strides (n,); ceiling, squared
    speed, time, and the rest of a running shift at the nodes (n + 1,); track (n + 1, 8); join and
    coast gear (n,); zones (m, 8) with their samples (m, r, 5), of which `rows` (m,) each count;
    lap time, and what it would be with no lift [s].
    """

    status: int
    trouble: int
    limit_w: Floats
    stride_limit_w: Floats
    ceiling_w: Floats
    node_w: Floats
    time_s: Floats
    waiting_s: Floats
    track: Integers
    join: Floats
    coast_gear: Integers
    zones: Floats
    rows: Integers
    samples: Floats
    lap_time_s: float
    pure_time_s: float


SOLVED, NO_LIMIT_FOUND, STUCK, UNSETTLED = 0, 1, 2, 3
ZONES_MOST = 512
SAMPLES_MOST = 420
#: So far before a zone a lift may reach; what changes farther off does not bear on it.
REACH_STEPS = 120
LIFT_ROUNDS = 4
HOLD_ROUNDS = 3


# Long: its arrays are made here, once, and a lap is its rounds over them.
@allocating_kernel
def solve_kernel(
    case: Floats, road: Floats, lengths: Floats, closed: bool, start_w: float
) -> SolvedLap:
    """Solve one lap over a packed road (n, 2, 16) of steps `lengths` (n,)."""
    n = len(lengths)
    limit = np.empty((n, 2))
    ceiling = np.empty(n + 1)
    coast_gear = np.full(n, -1, dtype=np.int64)
    w = np.zeros(n + 1)
    time = np.zeros(n + 1)
    waiting = np.zeros(n + 1)
    track = np.zeros((n + 1, TRACK_COLUMNS), dtype=np.int64)
    join = np.full(n, -1.0)
    clock = np.zeros(1)
    zones = np.zeros((ZONES_MOST, ZONE_COLUMNS))
    stride_limit = np.empty(n)
    course = Course(case, road, lengths, limit, stride_limit, ceiling, closed)
    driven = Driven(w, time, waiting, track, join, clock)
    count = 0
    rows = np.zeros(0, dtype=np.int64)
    samples = np.zeros((0, 0, SAMPLE_COLUMNS))
    lap_time = 0.0
    pure_time = 0.0

    status = SOLVED
    node = limit_pass(case, road, limit)
    if node >= 0:
        status = NO_LIMIT_FOUND
    else:
        mark_strides(road, lengths, limit, stride_limit)
        changed = np.zeros(n, dtype=np.int64)
        before = Before(w, ceiling, zones[:0], rows, samples)
        lifts = 0
        for turn in range(LIFT_ROUNDS + HOLD_ROUNDS + 1):
            if turn == 0:
                backward_pass(course, coast_gear)
                begin_w = ceiling[0] if closed else min(start_w, ceiling[0])
                gear = strongest_gear(case, math.sqrt(begin_w))
                outcome, node = forward_pass(course, driven, coast_gear, begin_w, gear)
            else:
                before = Before(w.copy(), ceiling.copy(), zones[:count].copy(), rows, samples)
                lower_again(course, coast_gear, changed)
                outcome, node = drive_again(course, driven, coast_gear, changed, before.ceiling)
            if outcome == STALLED:
                status = STUCK
                break
            lower_ceiling(course, driven)
            status = UNSETTLED if outcome == NO_REPEAT else SOLVED
            count = find_zones(course, driven, coast_gear, zones)
            rows, samples, lap_time = _join_all(course, driven, zones[:count], before)
            if lifts == 0:
                pure_time = lap_time
            changed[:] = 0
            if turn - lifts < HOLD_ROUNDS and hold_within_zones(
                course, driven, zones, count, changed
            ):
                mark_strides(road, lengths, limit, stride_limit)
                continue
            if lifts == LIFT_ROUNDS or not _mark_lifts(
                course, driven, zones, count, coast_gear, changed
            ):
                break
            lifts += 1
    return SolvedLap(
        status,
        node,
        limit,
        stride_limit,
        ceiling,
        w,
        time,
        waiting,
        track,
        join,
        coast_gear,
        zones[:count].copy(),
        rows,
        samples,
        lap_time,
        pure_time,
    )


class Before(NamedTuple):
    """The lap of the round before: w and ceiling (n + 1,), its zones, their rows and samples."""

    w: Floats
    ceiling: Floats
    zones: Floats
    rows: Integers
    samples: Floats


@allocating_kernel
def _join_all(
    course: Course, driven: Driven, zones: Floats, before: Before
) -> tuple[Integers, Floats, float]:
    """Shoot every braking zone; returns rows a zone, their samples, and the lap time with them.

    A zone that is as it was in the round before keeps what was found then.
    """
    count = len(zones)
    lengths = course.lengths
    closed = course.closed
    time = driven.time
    track = driven.track
    n = len(lengths)
    rows = np.zeros(count, dtype=np.int64)
    samples = np.zeros((count, SAMPLES_MOST, SAMPLE_COLUMNS))
    lap_time = time[n] - time[0]
    for i in range(count):
        zone = zones[i]
        if zone[LIFTED] > 0.0:
            continue
        crossing = int(zone[FIRST_STEP])
        floor = _earliest_lift(track, crossing, n, closed)
        if i > 0:
            floor = max(floor, int(zones[i - 1, LAST_NODE]))
        same = _same_zone(course, driven, zone, before)
        if same >= 0:
            rows[i] = before.rows[same]
            # Not copied as a whole: numba would compile its words for shapes that differ.
            for row in range(rows[i]):
                for column in range(SAMPLE_COLUMNS):
                    samples[i, row, column] = before.samples[same, row, column]
        else:
            rows[i] = join_zone(course, driven, zone, floor, samples[i])
        if rows[i] > 0:
            last = samples[i, rows[i] - 1]
            taken = time_between(
                course,
                driven,
                crossing,
                int(samples[i, 0, STEP]),
                samples[i, 0, SHARE],
                int(last[STEP]),
                last[SHARE],
            )
            lap_time += last[TIME] - taken
    return rows, samples, lap_time


@kernel
def _same_zone(course: Course, driven: Driven, zone: Floats, before: Before) -> int:
    """Number of the zone of the round before that this one is, with all that it is shot over."""
    first, last = int(zone[FIRST_STEP]), int(zone[LAST_NODE])
    if course.road[first % len(course.road), 0, COAST] > 0.0:
        return -1  # its lift reaches farther than what is looked at here
    for number in range(len(before.zones)):
        other = before.zones[number]
        if (
            other[FIRST_STEP] == zone[FIRST_STEP]
            and other[JOIN] == zone[JOIN]
            and other[LAST_NODE] == zone[LAST_NODE]
            and other[LIFTED] == zone[LIFTED]
            and alike(driven.w, before.w, first - REACH_STEPS, last, course.closed)
            and alike(course.ceiling, before.ceiling, first - REACH_STEPS, last, course.closed)
        ):
            return number
    return -1


@kernel
def _earliest_lift(track: Integers, crossing: int, n: int, closed: bool) -> int:
    """First step of the full-throttle run that ends in a zone."""
    step = crossing
    lowest = crossing - n if closed else 0
    while step > lowest and track[(step - 1) % n, RIDES] == 0:
        step -= 1
    return step


@kernel
def _mark_lifts(
    course: Course,
    driven: Driven,
    zones: Floats,
    count: int,
    coast_gear: Integers,
    changed: Integers,
) -> bool:
    """Mark for lifting every zone that sheds no more than the threshold; True if any is new.

    The steps that are rolled through instead are marked in `changed` (n,).
    """
    case = course.case
    lengths = course.lengths
    closed = course.closed
    w = driven.w
    track = driven.track
    if case[LIFT_THRESHOLD] <= 0.0:
        return False
    n = len(lengths)
    new = False
    for i in range(count):
        if zones[i, LIFTED] > 0.0:
            continue
        first = int(zones[i, FIRST_STEP])
        last = int(zones[i, LAST_NODE])
        shed = math.sqrt(met_w(course, driven, first % n)) - math.sqrt(
            w[last % n if closed else last]
        )
        if shed > case[LIFT_THRESHOLD]:
            continue
        gear = track[first % n, GEAR]
        begin = _earliest_lift(track, first, n, closed)
        if i > 0:
            begin = max(begin, int(zones[i - 1, LAST_NODE]))
        for step in range(begin, last):
            coast_gear[step % n] = gear
            changed[step % n] = 1
        new = True
    return new
