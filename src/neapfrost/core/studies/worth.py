"""What a little more is worth at each corner: of minimum speed, of exit speed, of brake point."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.carried import times_carried_s
from neapfrost.core.lap.altered_road import corner_steps, with_curvature
from neapfrost.core.lap.compare import DrivenLap, lead_m
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.light import lowest_ms
from neapfrost.core.lap.record import elapsed_s
from neapfrost.core.lap.solve import in_parallel, lap_time_s, solved
from neapfrost.core.studies.stretch import stretch_after

#: A corner's curvature is changed by this much either way.
CURVATURE_SHARE = 0.01
#: A corner whose minimum speed moves by less than this share of what its own radius would move it
#: by has it from its neighbour, and nothing of it is to be had here.
OWN_SHARE = 0.05
#: So much exit speed is carried more, either way [m/s].
EXIT_MS = 0.25


@dataclass(frozen=True)
class Worth:
    """What a corner's figures are worth; None where there is nothing to be had.

    `per_min_speed_s` seconds of lap for each m/s of minimum speed: the corner held so much faster
    throughout. `per_exit_speed_s` seconds for each m/s carried out of it to the next lift.
    `per_brake_metre_s` seconds lost at most for each metre braked too early: 1/v_slowest -
    1/v_braking is the price of a pedal that is kept down as planned, which nobody does.
    `stretch_m` is how far the exit speed is carried. `slow_s` is the time from the lift to the
    corner's end. Ranks count from 1.
    """

    per_min_speed_s: float | None
    per_exit_speed_s: float | None
    per_brake_metre_s: float | None
    stretch_m: float | None
    slow_s: float
    time_rank: int
    exit_rank: int | None


def worths(driven: DrivenLap) -> tuple[Worth, ...]:
    """What a little more is worth, corner by corner."""
    speeds = _per_min_speed(driven)
    found = []
    for number, corner in enumerate(driven.corners):
        stretch = stretch_after(driven, number)
        exit_worth = None
        if stretch is not None and corner.action != "through":
            exit_worth = _per_exit_speed(driven, number, stretch.lift_m)
        brake = None
        if corner.brake_start_speed_ms is not None:
            brake = 1.0 / corner.min_speed_ms - 1.0 / corner.brake_start_speed_ms
        found.append(
            (
                speeds[number],
                exit_worth,
                brake,
                None if stretch is None else stretch.length_m,
                _slow_s(driven, number),
            )
        )
    by_time = sorted(range(len(found)), key=lambda n: -found[n][4])
    by_exit = sorted(
        (n for n in range(len(found)) if found[n][1] is not None), key=lambda n: -(found[n][1] or 0)
    )
    return tuple(
        Worth(
            per_min_speed_s=min_speed,
            per_exit_speed_s=exit_speed,
            per_brake_metre_s=brake,
            stretch_m=stretch_m,
            slow_s=slow_s,
            time_rank=by_time.index(number) + 1,
            exit_rank=by_exit.index(number) + 1 if number in by_exit else None,
        )
        for number, (min_speed, exit_speed, brake, stretch_m, slow_s) in enumerate(found)
    )


def _per_min_speed(driven: DrivenLap) -> list[float | None]:
    """Central difference of the lap time by the minimum speed of each corner [s per m/s]."""
    path = driven.lap.path
    corners = range(len(path.corners))
    trials = [
        (corner, replace(driven.drive, road=with_curvature(path, driven.road, steps, factor)))
        for corner, steps in ((corner, corner_steps(path, corner)) for corner in corners)
        for factor in (1.0 - CURVATURE_SHARE, 1.0 + CURVATURE_SHARE)
    ]

    def ends_of(trial: tuple[int, Drive]) -> tuple[float, float] | None:
        """Lap time [s], and the trial's own corner's minimum speed [m/s]."""
        corner, drive = trial
        try:
            found = solved(drive)
        except LapImpossible:
            return None
        return lap_time_s(found), lowest_ms(found, corner)

    ends = in_parallel(ends_of, trials)
    worth: list[float | None] = []
    for number, (wider, tighter) in enumerate(zip(ends[::2], ends[1::2], strict=True)):
        held = driven.corners[number].action not in ("flat", "through")
        least = OWN_SHARE * CURVATURE_SHARE * driven.corners[number].min_speed_ms
        if wider is None or tighter is None or not held or wider[1] - tighter[1] < least:
            worth.append(None)
        else:
            worth.append(max(0.0, (tighter[0] - wider[0]) / (wider[1] - tighter[1])))
    return worth


def _per_exit_speed(driven: DrivenLap, corner: int, lift_m: float) -> float | None:
    """Time won to the next braking for each m/s more at the corner's end [s per m/s].

    Full throttle under the ceiling that the next corner sets: central difference of the time from
    the corner's end to beyond the lift.
    """
    lap = driven.lap
    path, course, solved = lap.path, lap.course, lap.solved
    count = len(course.lengths)
    ends = path.corners[corner].ends_at_m
    ahead = path.ring.ahead(ends, lift_m)
    first = int(path.s_m.searchsorted(path.ring.fold(ends)))
    first = first % count if path.closed else min(first, count)
    steps = int(np.searchsorted(path.s_m, min(path.s_m[first] + ahead, path.length_m))) - first
    if path.closed and path.s_m[first] + ahead > path.length_m:
        steps = (
            count - first + int(np.searchsorted(path.s_m, path.s_m[first] + ahead - path.length_m))
        )
    # On to where even the faster of the two has met the braking curve.
    steps += int(np.ceil(40.0 / max(float(course.lengths.mean()), 0.1)))
    steps = min(steps, count - 1 if path.closed else count - first)
    if steps < 2:
        return None
    speed = float(np.sqrt(solved.node_w[first]))
    slower, faster = times_carried_s(
        course, solved.track, solved.waiting_s, first, steps, speed, EXIT_MS
    )
    return max(0.0, (slower - faster) / (2.0 * EXIT_MS))


def _slow_s(driven: DrivenLap, corner: int) -> float:
    """Time from the lift, or the corner's beginning, to its end [s]."""
    extent = driven.lap.path.corners[corner]
    begins = extent.begins_at_m - lead_m(driven.corners[corner], driven.lap.path.ring)
    start_s, end_s = elapsed_s(driven.lap, np.array([begins, extent.ends_at_m]))
    return float(end_s - start_s)
