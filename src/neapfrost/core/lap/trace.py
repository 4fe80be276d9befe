"""The lap point by point, as it is drawn and exported."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.case import LOWEST_RPM, RPM_PER_MS
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.record import Lap, along_grid, places_on_grid, time_at


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
    kept = lap.s_m if points is None else lap.s_m[_kept(lap, points)]
    s = np.unique(np.concatenate((kept, _events(lap, corners))))
    # The last point at or before each position carries what belongs to the interval after it.
    at = np.clip(np.searchsorted(lap.s_m, s + 1e-7, side="right") - 1, 0, len(lap.s_m) - 1)
    x, y, curvature = _on_the_map(lap, s)
    v = np.interp(s, lap.s_m, lap.v_ms)
    gear = _gears_with_downshifts(lap, corners, s, at)
    case = lap.packed.case
    rpm = v * case[RPM_PER_MS + gear - 1]
    rpm = np.where(gear == 1, np.maximum(rpm, case[LOWEST_RPM]), rpm)
    throttle = np.where(lap.on_full_throttle > 0.0, 1.0, lap.throttle)
    return LapTrace(
        s_m=np.round(s, 4),
        x_m=np.round(x, 3),
        y_m=np.round(y, 3),
        curvature_per_m=np.round(curvature, 8),
        v_ms=np.round(v, 5),
        t_s=np.round(time_at(lap, s), 6),
        ax_g=np.round(lap.ax_ms2[at] / STANDARD_GRAVITY_MS2, 5),
        ay_g=np.round(v**2 * curvature / STANDARD_GRAVITY_MS2, 5),
        gear=gear,
        rpm=np.round(rpm, 1),
        throttle_pct=np.round(100.0 * throttle[at], 2),
        brake_pct=np.round(100.0 * lap.brake[at], 2),
    )


def _on_the_map(lap: Lap, s: Floats) -> tuple[Floats, Floats, Floats]:
    """Plan position and curvature at positions, the gap of a closed lap spread along it."""
    path = lap.path
    x = np.interp(s, path.s_m, path.x_m)
    y = np.interp(s, path.s_m, path.y_m)
    if path.closed:
        along = s / path.length_m
        x = x - along * (path.x_m[-1] - path.x_m[0])
        y = y - along * (path.y_m[-1] - path.y_m[0])
    step, share = places_on_grid(path, s)
    return x, y, along_grid(path.curvature_start, path.curvature_end, step, share)


def _events(lap: Lap, corners: tuple[CornerResult, ...]) -> Floats:
    """Positions at which something happens at a corner, within the lap."""
    places = [
        place
        for corner in corners
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
            *(shift.at_m for shift in corner.downshifts),
        )
        if place is not None and 0.0 <= place <= lap.path.length_m
    ]
    return np.array(places, dtype=np.float64)


def _gears_with_downshifts(
    lap: Lap, corners: tuple[CornerResult, ...], s: Floats, at: Integers
) -> Integers:
    """Gear at positions: the solver's, stepped down where the corners' downshifts fall."""
    gear: Integers = lap.gear[at]
    for corner in corners:
        for index, shift in enumerate(corner.downshifts):
            last = index + 1 == len(corner.downshifts)
            until = corner.min_speed_at_m if last else corner.downshifts[index + 1].at_m
            first, end = s.searchsorted(shift.at_m), s.searchsorted(until, side="right")
            if until >= shift.at_m:
                gear[first:end] = shift.to_gear
            elif lap.path.closed:
                gear[first:] = gear[:end] = shift.to_gear
    return gear


def _kept(lap: Lap, points: int) -> Integers:
    """Indices of about so many points, with every extreme of the speed and every upshift."""
    count = len(lap.s_m)
    if count <= points:
        return np.arange(count)
    places = np.linspace(0.0, lap.path.length_m, points)
    nearest = np.clip(np.searchsorted(lap.s_m, places), 0, count - 1)
    change = np.sign(np.diff(lap.v_ms))
    turns = np.flatnonzero(change[1:] != change[:-1]) + 1
    shifts = np.flatnonzero(np.diff(lap.gear) != 0) + 1
    return np.unique(np.concatenate((nearest, turns, shifts, [0, count - 1])))
