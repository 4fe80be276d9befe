"""The full-throttle stretch that a corner leads onto, up to where the throttle is next shut."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Integers
from neapfrost.core.kernels.case import REV_LIMIT
from neapfrost.core.lap.compare import DrivenLap


@dataclass(frozen=True)
class Stretch:
    """From a corner's slowest point to the next lift, unfolded [m], and how it is driven.

    `gear_from`, `gear_to` are the first gear and the highest (counted from 1); `upshifts` how
    many; `limiter_s` the time on the limiter in the highest one; `next_corner` whose lift ends
    it, None where nothing does before the finish.
    """

    from_m: float
    lift_m: float
    next_corner: int | None
    gear_from: int
    gear_to: int
    upshifts: int
    limiter_s: float

    @property
    def length_m(self) -> float:
        """From the slowest point to the lift."""
        return self.lift_m - self.from_m


def stretch_after(driven: DrivenLap, corner: int) -> Stretch | None:
    """The stretch after a corner; None where nothing is driven on full throttle before the next.

    A closed lap's may run across the line. Corners passed flat belong to the stretch.
    """
    lap = driven.lap
    own = driven.corners[corner]
    start = own.min_speed_at_m
    ahead, following = next_lift(driven, corner, start)
    points = points_between(driven, start, start + ahead)
    on = lap.on_full_throttle[points] > 0.0
    if len(points) == 0 or not on.any():
        return None
    gears = lap.gear[points]
    rising = int((np.diff(gears) > 0).sum())
    return Stretch(
        from_m=start,
        lift_m=start + ahead,
        next_corner=following,
        gear_from=int(gears[0]),
        gear_to=int(gears.max()),
        upshifts=rising,
        limiter_s=_limiter_s(driven, points[gears == gears.max()]),
    )


def next_lift(driven: DrivenLap, corner: int, from_m: float) -> tuple[float, int | None]:
    """How far it is from a place of a corner to the next lift [m], and for which corner.

    To the finish, and for none, where nobody lifts before it; a whole lap where nobody ever does.
    """
    path = driven.lap.path
    lifts = []
    for number, other in enumerate(driven.corners):
        at = other.lift_at_m if other.lift_at_m is not None else other.brake_start_at_m
        if at is None:
            continue
        ahead = path.ring.ahead(from_m, at)
        if path.closed and ahead < 1e-3:
            # A lap with one braking zone comes back to its own lift.
            ahead += path.length_m
        if ahead > 1e-3:
            lifts.append((ahead, number))
    if lifts:
        return min(lifts)
    if path.closed:
        return path.length_m, corner
    return path.length_m - from_m, None


def points_between(driven: DrivenLap, from_m: float, to_m: float) -> Integers:
    """Points of a lap from one unfolded place to another, in the order of driving."""
    lap, path = driven.lap, driven.lap.path
    if not path.closed:
        return np.flatnonzero((lap.s_m >= from_m) & (lap.s_m < to_m))
    s = lap.s_m[:-1]
    ahead = path.ring.fold(s - from_m)
    inside = np.flatnonzero(ahead < to_m - from_m)
    return inside[np.argsort(ahead[inside], kind="stable")]


def _limiter_s(driven: DrivenLap, points: Integers) -> float:
    """Time on the limiter [s]: full throttle in a gear that turns at its highest revs."""
    lap = driven.lap
    highest = float(lap.packed.case[REV_LIMIT])
    at_limit = (lap.rpm[points] >= highest * (1.0 - 1e-4)) & (lap.throttle[points] > 0.0)
    duration = np.diff(lap.t_s)[np.minimum(points, len(lap.t_s) - 2)]
    return float(duration[at_limit].sum())
