"""Drives solved: one, or many side by side."""

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from typing import TypeVar

from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.solve import SolvedLap, solve_kernel
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.drive import Drive, Packed, packed
from neapfrost.core.lap.orders import road_with_orders, with_ordered_braking
from neapfrost.core.lap.record import (
    Lap,
    lap_of,
    lap_time_of,
    refuse_failure,
    sample_places_m,
)

Task = TypeVar("Task")
Read = TypeVar("Read")


@dataclass(frozen=True, eq=False)
class Solved:
    """A drive, what the kernel read of it, and what it came to."""

    drive: Drive
    packed: Packed
    lap: SolvedLap


class Stopped(Exception):
    """Many laps were not wanted any more."""


def never() -> bool:
    """What stops nothing."""
    return False


def solve(drive: Drive) -> Lap:
    """Drive one vehicle over one path as fast as the model allows.

    Quasi-steady state on the path's grid: limits, backward pass, forward pass, then each braking
    zone with its lift, pedal change and ramp (Siegler, Deakin and Crolla 2000; Brayshaw and
    Harrison 2005). A flying lap on a closed path, otherwise from the path's start speed.
    Raises LapImpossible where no speed holds the road or the vehicle comes to a stop.
    """
    found = solved(drive)
    return lap_of(found.drive, found.packed, found.lap)


def drive_lap(drive: Drive) -> DrivenLap:
    """A lap with the results of its corners, said by no board. Raises as `solve` does."""
    lap = solve(drive)
    return DrivenLap(lap, corner_results(lap, []))


def solve_many(
    drives: Sequence[Drive],
    read: Callable[[Solved], Read],
    stopped: Callable[[], bool] = never,
    told: Callable[[int], None] | None = None,
) -> list[Read | None]:
    """What `read` takes from each drive's lap, in their order; None where no lap is possible.

    Raises Stopped once `stopped` says so; `told` is given the number of laps done so far.
    """

    def one(drive: Drive) -> Read | None:
        try:
            return read(solved(drive))
        except LapImpossible:
            return None

    return in_parallel(one, drives, stopped, told)


def in_parallel(
    do: Callable[[Task], Read],
    tasks: Sequence[Task],
    stopped: Callable[[], bool] = never,
    told: Callable[[int], None] | None = None,
) -> list[Read]:
    """Do something for each of many tasks, on every core. Stops and tells as `solve_many` does.

    The kernels run without the interpreter's lock, so plain threads use every core; numba's own
    parallel layer, which must not be entered from two threads, stays out of it.
    """

    def unless_stopped(task: Task) -> Read:
        if stopped():
            raise Stopped
        return do(task)

    found = []
    with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
        for number, result in enumerate(pool.map(unless_stopped, tasks), start=1):
            found.append(result)
            if told is not None:
                told(number)
            if stopped():
                raise Stopped
    return found


def lap_time_s(found: Solved) -> float:
    """The lap time alone [s], which is quicker than a whole lap."""
    path = found.drive.path
    return lap_time_of(path, found.lap, sample_places_m(path, found.lap))


def driven(found: Solved) -> DrivenLap:
    """The whole lap with the results of its corners."""
    lap = lap_of(found.drive, found.packed, found.lap)
    return DrivenLap(lap, corner_results(lap, []))


def solved(drive: Drive) -> Solved:
    """What the kernel makes of a drive. Raises LapImpossible as `solve` does."""
    drive = _with_road(drive)
    work = packed(drive)
    lap = solve_kernel(work.case, work.road, work.lengths, work.closed, work.start_w)
    refuse_failure(drive.path, lap)
    return Solved(drive, work, lap)


def _with_road(drive: Drive) -> Drive:
    """The drive with its orders in its road; one that has a road of its own has them there."""
    if drive.road is not None or not drive.orders:
        return drive
    road = road_with_orders(drive)
    if any(order.changes_approach for order in drive.orders):
        free = drive_lap(replace(drive, road=road))
        road = with_ordered_braking(road, drive.orders, free)
    return replace(drive, road=road)
