"""The lap point by point, as it is drawn and exported."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.corner_results import CornerResult
from neapfrost.core.kernels.case import LOWEST_RPM, RPM_PER_MS
from neapfrost.core.lap import Lap


@dataclass(frozen=True)
class LapTrace:
    """Columns of a lap, all of shape (m,); the map's gap is spread along a closed lap."""

    s_m: Floats
    x_m: Floats
    y_m: Floats
    curvature_per_m: Floats
    v_ms: Floats
    t_s: Floats
    ax_g: Floats
    ay_g: Floats
    gear: Integers
    rpm: Floats
    throttle_pct: Floats
    brake_pct: Floats


def lap_trace(lap: Lap, corners: tuple[CornerResult, ...], points: int | None = None) -> LapTrace:
    """Trace of a lap; with `points`, thinned to about that many.

    Thinning always keeps every extreme of the speed and every event of the corners.
    """
    path = lap.path
    x = np.interp(lap.s_m, path.s_m, path.x_m)
    y = np.interp(lap.s_m, path.s_m, path.y_m)
    if path.closed:
        along = lap.s_m / path.length_m
        x = x - along * (path.x_m[-1] - path.x_m[0])
        y = y - along * (path.y_m[-1] - path.y_m[0])
    curvature = path.curvature_start[lap.step] + lap.share * (
        path.curvature_end[lap.step] - path.curvature_start[lap.step]
    )
    gear = _gears_with_downshifts(lap, corners)
    case = lap.workings.case
    rpm = lap.v_ms * case[RPM_PER_MS + gear - 1]
    rpm = np.where(gear == 1, np.maximum(rpm, case[LOWEST_RPM]), rpm)
    keep = np.arange(len(lap.s_m)) if points is None else _kept(lap, corners, points)
    throttle = np.where(lap.on_full_throttle > 0.0, 1.0, lap.throttle)
    return LapTrace(
        s_m=np.round(lap.s_m[keep], 4),
        x_m=np.round(x[keep], 3),
        y_m=np.round(y[keep], 3),
        curvature_per_m=np.round(curvature[keep], 8),
        v_ms=np.round(lap.v_ms[keep], 5),
        t_s=np.round(lap.t_s[keep], 6),
        ax_g=np.round(lap.ax_ms2[keep] / STANDARD_GRAVITY_MS2, 5),
        ay_g=np.round(lap.ay_ms2[keep] / STANDARD_GRAVITY_MS2, 5),
        gear=gear[keep],
        rpm=np.round(rpm[keep], 1),
        throttle_pct=np.round(100.0 * throttle[keep], 2),
        brake_pct=np.round(100.0 * lap.brake[keep], 2),
    )


def _gears_with_downshifts(lap: Lap, corners: tuple[CornerResult, ...]) -> Integers:
    """Gear at each point: the solver's, stepped down where the corners' downshifts fall."""
    gear = lap.gear.copy()
    length = lap.path.length_m
    for corner in corners:
        for index, shift in enumerate(corner.downshifts):
            last = index + 1 == len(corner.downshifts)
            until = corner.min_speed_at_m if last else corner.downshifts[index + 1].at_m
            span = (until - shift.at_m) % length
            gear[(lap.s_m - shift.at_m) % length <= span] = shift.to_gear
    return gear


def _kept(lap: Lap, corners: tuple[CornerResult, ...], points: int) -> Integers:
    count = len(lap.s_m)
    if count <= points:
        return np.arange(count)
    places = np.linspace(0.0, lap.path.length_m, points)
    nearest = np.clip(np.searchsorted(lap.s_m, places), 0, count - 1)
    change = np.sign(np.diff(lap.v_ms))
    turns = np.flatnonzero(change[1:] != change[:-1]) + 1
    events: list[float] = []
    for corner in corners:
        events.extend(
            place
            for place in (
                corner.begins_at_m,
                corner.turn_in_at_m,
                corner.apex_at_m,
                corner.min_speed_at_m,
                corner.ends_at_m,
                corner.lift_at_m,
                corner.brake_start_at_m,
                corner.throttle_at_m,
                corner.full_throttle_at_m,
            )
            if place is not None
        )
    happened = np.clip(np.searchsorted(lap.s_m, np.array(events) - 1e-6), 0, count - 1)
    shifts = np.flatnonzero(np.diff(lap.gear) != 0) + 1
    return np.unique(
        np.concatenate((nearest, turns, happened.astype(np.int64), shifts, [0, count - 1]))
    )
