"""Two laps laid over each other: where the time goes, and what each corner does otherwise."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.record import Lap, sector_times_s, time_at
from neapfrost.core.path.ring import Ring


@dataclass(frozen=True, eq=False)
class DrivenLap:
    """A lap with the results of its corners."""

    lap: Lap
    corners: tuple[CornerResult, ...]

    @property
    def drive(self) -> Drive:
        """What it was driven with; orders are in its road."""
        return self.lap.drive

    @property
    def road(self) -> Floats:
        """The packed road it was driven over (n, 2, 16), orders and all."""
        return self.lap.packed.road


@dataclass(frozen=True)
class CornerDifference:
    """What a corner does otherwise than in the base lap.

    `base_*` is what the base lap does. `braking_earlier_m` is how much farther before the corner
    the brake is applied, None unless both laps brake; speeds [m/s] and times [s] are present minus
    base. `time_s` runs from where the driver first lifts for this corner to where he lifts for
    the next one, so that all corners add up to the lap.
    """

    base_action: str
    base_trend: str | None
    base_gear_before: int
    base_gear: int
    braking_earlier_m: float | None
    min_speed_ms: float
    exit_speed_ms: float
    time_s: float


@dataclass(frozen=True)
class LapDifference:
    """Present lap minus base lap.

    `time_s` and `base_speed_ms` have one entry for each position asked for. `sectors_s` and
    `corners` are empty where the two laps do not have the same ones.
    """

    lap_s: float
    sectors_s: tuple[float, ...]
    time_s: Floats
    base_speed_ms: Floats
    corners: tuple[CornerDifference, ...]


def same_course(lap: DrivenLap, base: DrivenLap) -> bool:
    """Whether two laps go through the same corners in the same order."""
    return lap.lap.path.closed == base.lap.path.closed and [
        (corner.name, corner.direction) for corner in lap.corners
    ] == [(corner.name, corner.direction) for corner in base.corners]


def compare_laps(lap: DrivenLap, base: DrivenLap, at_m: Floats) -> LapDifference | None:
    """Difference of two laps at positions of the present one, shape (m,); None between courses.

    Where a radius has changed, places are matched corner by corner and linearly between, so that
    a corner is compared with itself and not with the same distance from the line.
    """
    if not same_course(lap, base):
        return None
    here, there = same_places(lap, base)
    base_m = np.interp(at_m, here, there)
    now, before = sector_times_s(lap.lap), sector_times_s(base.lap)
    return LapDifference(
        lap_s=lap.lap.lap_time_s - base.lap.lap_time_s,
        sectors_s=tuple(a - b for a, b in zip(now, before, strict=True))
        if len(now) == len(before)
        else (),
        time_s=time_at(lap.lap, at_m) - time_at(base.lap, base_m),
        base_speed_ms=np.interp(base_m, base.lap.s_m, base.lap.v_ms),
        corners=_corner_differences(lap, base, here, there),
    )


def same_places(lap: DrivenLap, base: DrivenLap) -> tuple[Floats, Floats]:
    """Positions that are the same place in both laps of one course, rising in both."""
    here, there = [0.0], [0.0]
    pairs = [
        pair
        for now, before in zip(lap.corners, base.corners, strict=True)
        for pair in ((now.begins_at_m, before.begins_at_m), (now.ends_at_m, before.ends_at_m))
    ]
    last_here, last_there = lap.lap.path.length_m, base.lap.path.length_m
    for now_m, before_m in sorted(pairs):
        rises = now_m > here[-1] + 1e-6 and before_m > there[-1] + 1e-6
        if rises and now_m < last_here - 1e-6 and before_m < last_there - 1e-6:
            here.append(now_m)
            there.append(before_m)
    return np.array([*here, last_here]), np.array([*there, last_there])


def _corner_differences(
    lap: DrivenLap, base: DrivenLap, here: Floats, there: Floats
) -> tuple[CornerDifference, ...]:
    if not lap.corners:
        return ()
    edges = _edges(lap, base)
    total = lap.lap.lap_time_s - base.lap.lap_time_s
    laps, at = lap.lap.path.ring.laps_and_place(edges)
    at = np.clip(at, 0.0, lap.lap.path.length_m)
    gained = time_at(lap.lap, at) - time_at(base.lap, np.interp(at, here, there)) + laps * total
    return tuple(
        CornerDifference(
            base_action=before.action,
            base_trend=before.trend,
            base_gear_before=before.gear_before,
            base_gear=before.gear,
            braking_earlier_m=_earlier(now, before),
            min_speed_ms=now.min_speed_ms - before.min_speed_ms,
            exit_speed_ms=now.exit_speed_ms - before.exit_speed_ms,
            time_s=float(gained[number + 1] - gained[number]),
        )
        for number, (now, before) in enumerate(zip(lap.corners, base.corners, strict=True))
    )


def _edges(lap: DrivenLap, base: DrivenLap) -> Floats:
    """Where one corner's stretch ends and the next begins (c + 1,), unfolded and never falling.

    A stretch begins where the earlier of the two laps lifts for its corner, but not before the
    slowest point of the corner before. On an open course the first begins at the start and the
    last ends at the finish.
    """
    length, closed = lap.lap.path.length_m, lap.lap.path.closed
    ring, base_ring = lap.lap.path.ring, base.lap.path.ring
    edges = [
        now.begins_at_m - max(lead_m(now, ring), lead_m(before, base_ring))
        for now, before in zip(lap.corners, base.corners, strict=True)
    ]
    edges = _kept_after_lows(edges, lap.corners, length, closed)
    if closed:
        return np.array([*edges, edges[0] + length])
    return np.array([0.0, *edges[1:], length])


def _kept_after_lows(
    edges: Sequence[float], corners: Sequence[CornerResult], length: float, closed: bool
) -> list[float]:
    kept: list[float] = []
    for number, edge in enumerate(edges):
        if number > 0:
            low = corners[number - 1].min_speed_at_m
        elif closed:
            low = corners[-1].min_speed_at_m - length
        else:
            low = 0.0
        # A low beyond the line, of a corner that lies across it, is a lap farther on.
        if number > 0 and low < kept[-1]:
            low = kept[-1]
        kept.append(max(edge, low))
    return kept


def lead_m(corner: CornerResult, ring: Ring) -> float:
    """Metres before the corner begins at which its driver first lifts; 0 for a lift inside it."""
    first = corner.lift_at_m if corner.lift_at_m is not None else corner.brake_start_at_m
    if first is None:
        return 0.0
    return max(ring.apart(first, corner.begins_at_m), 0.0)


def _earlier(now: CornerResult, before: CornerResult) -> float | None:
    if now.brake_start_to_corner_m is None or before.brake_start_to_corner_m is None:
        return None
    return now.brake_start_to_corner_m - before.brake_start_to_corner_m
