"""What a driver does at each corner of a solved lap, in the order of doing it."""

import math
from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import (
    STANDARD_GRAVITY_MS2,
)
from neapfrost.core.kernels.along_lap import (
    downshift_places,
    first_free,
    first_from,
    lowest_between,
    rises_at,
    step_value,
    value_at,
)
from neapfrost.core.kernels.bundles import GEAR
from neapfrost.core.kernels.case import MOTORCYCLE, RPM_PER_MS, UPSHIFT_S
from neapfrost.core.kernels.forces import FRONT, LEAN, REAR, UNLOADING
from neapfrost.core.kernels.profile import cause_at, grip_in_use, most_lean
from neapfrost.core.kernels.without_corner import arrivals_w
from neapfrost.core.lap.boards import BoardCall, Mark, call_for
from neapfrost.core.lap.record import FULL, Lap, Zone, node_before, node_m
from neapfrost.core.path.build import Corner
from neapfrost.core.path.reach import corners_reached

CAUSES = {FRONT: "front", REAR: "rear", UNLOADING: "unloading", LEAN: "lean"}


@dataclass(frozen=True)
class Downshift:
    """A downshift: where it falls [m], into which gear, and the engine speed after it."""

    at_m: float
    to_gear: int
    rpm_after: float


@dataclass(frozen=True)
class CornerResult:
    """One corner of a lap, SI units, positions folded; None where a figure has no meaning.

    `trend` says of a corner passed through, which has no minimum of its own, whether the speed is
    `rising` or `falling` there.
    """

    name: str
    direction: str
    action: str
    trend: str | None
    begins_at_m: float
    ends_at_m: float
    turn_in_at_m: float
    turn_in_speed_ms: float
    apex_at_m: float
    min_speed_ms: float
    min_speed_at_m: float
    limited_by: str
    lateral_g: float
    lift_at_m: float | None
    brake_start_at_m: float | None
    brake_start_to_corner_m: float | None
    brake_start_speed_ms: float | None
    braking_distance_m: float | None
    braking_time_s: float | None
    peak_decel_g: float | None
    brake_energy_kj: float | None
    gear_before: int
    gear: int
    downshifts: tuple[Downshift, ...]
    throttle_at_m: float | None
    full_throttle_at_m: float | None
    exit_speed_ms: float
    time_in_corner_s: float
    board_call: BoardCall | None
    grip_left_pct: float | None
    overspeed_ms: float | None
    lean_deg: float | None


@dataclass(frozen=True)
class _Unrolled:
    """A lap laid out three times when closed, so that no corner or zone is cut by the line.

    `lifts` are the places at which the throttle is shut, in their order.
    """

    s: Floats
    v: Floats
    t: Floats
    ax: Floats
    full: Floats
    throttle: Floats
    tyre_limited: Floats
    gear: Floats
    index: Floats
    work: Floats
    lifts: tuple[float, ...] = field(kw_only=True)

    def at(self, values: Floats, place: float) -> float:
        """Value at a place, linear between points."""
        return float(value_at(self.s, values, place))

    def between(self, low: float, high: float) -> slice:
        first = first_from(self.s, low - 1e-7)
        return slice(first, max(first_from(self.s, high + 1e-7), first + 1))


def corner_results(lap: Lap, marks: list[Mark]) -> tuple[CornerResult, ...]:
    """Results of every corner of the lap, in the order of the lap."""
    unrolled = _unroll(lap)
    claims = _claims(lap, unrolled)
    return tuple(
        _corner_result(lap, unrolled, corner, claims.get(number), marks)
        for number, corner in enumerate(lap.path.corners)
    )


def unclaimed_zones(lap: Lap) -> tuple[Zone, ...]:
    """Braking zones that end at no corner: for a crest, or for a change of grip."""
    numbers, _ = _zone_corners(lap)
    return tuple(zone for zone, number in zip(lap.zones, numbers, strict=True) if number < 0)


def _zone_corners(lap: Lap) -> tuple[Integers, Floats]:
    """The corner that each zone ends at, and what lays the zone beside it."""
    return corners_reached(lap.path, np.array([zone.brake_end_at_m for zone in lap.zones]))


def _unroll(lap: Lap) -> _Unrolled:
    columns = (
        lap.s_m,
        lap.v_ms,
        lap.t_s,
        lap.ax_ms2,
        lap.on_full_throttle,
        lap.throttle,
        lap.tyre_limited,
        lap.gear.astype(np.float64),
        np.arange(len(lap.s_m), dtype=np.float64),
        lap.brake_work_j,
    )
    lifts = tuple(
        sorted(zone.lift_at_m + shift for zone in lap.zones for shift in lap.path.ring.shifts)
    )
    if not lap.path.closed:
        return _Unrolled(*columns, lifts=lifts)
    # Position, time and work go on rising from lap to lap; the rest repeats.
    rises = {0: lap.path.length_m, 2: lap.lap_time_s, len(columns) - 1: float(columns[-1][-1])}
    # The first point of a lap is the last of the one before.
    count = len(lap.s_m) - 1
    laid = np.empty((len(columns), 3 * count + 1))
    for number, column in enumerate(columns):
        row, shift = laid[number], rises.get(number, 0.0)
        row[:count] = row[count : 2 * count] = column[:count]
        row[2 * count :] = column
        if shift != 0.0:
            row[:count] -= shift
            row[2 * count :] += shift
    return _Unrolled(*laid, lifts=lifts)


def _claims(lap: Lap, unrolled: _Unrolled) -> dict[int, tuple[Zone, float]]:
    """For each corner the zone that ends at it, with the shift that lays the zone beside it.

    Of several zones ending in one corner the one that sheds most speed is the corner's own.
    """
    best: dict[int, tuple[float, Zone, float]] = {}
    for zone, number, laid in zip(lap.zones, *_zone_corners(lap), strict=True):
        index, shift = int(number), float(laid)
        if index < 0:
            continue
        shed = unrolled.at(unrolled.v, zone.lift_at_m) - unrolled.at(
            unrolled.v, zone.brake_end_at_m
        )
        if index not in best or shed > best[index][0]:
            best[index] = (shed, zone, shift)
    return {index: (zone, shift) for index, (_, zone, shift) in best.items()}


# Long: one result is filled from one lap, and parts would hand the same figures about.
def _corner_result(
    lap: Lap,
    unrolled: _Unrolled,
    corner: Corner,
    claim: tuple[Zone, float] | None,
    marks: list[Mark],
) -> CornerResult:
    ring = lap.path.ring
    fold = ring.fold_exactly
    begins, ends = corner.begins_at_m, corner.ends_at_m
    min_at, min_speed = lowest_between(unrolled.s, unrolled.v, _own_from(corner, claim), ends)
    inside_at = max(min(min_at, ends - 1e-3), begins)  # the interval before the corner's end
    action = _action(lap, unrolled, corner, claim)
    trend = _trend(unrolled, begins) if action == "through" else None
    lift = brake = None
    braking = None
    gear_before = int(step_value(unrolled.s, unrolled.gear, begins))
    downshifts: tuple[Downshift, ...] = ()
    gear = int(step_value(unrolled.s, unrolled.gear, min_at))
    if claim is not None:
        zone, shift = claim
        lift = zone.lift_at_m + shift
        brake_end = zone.brake_end_at_m + shift
        gear_before = zone.gear_before
        # Where shifting costs no time the strongest gear is taken as the throttle opens: that is
        # no downshift of the braking.
        free = lap.packed.case[UPSHIFT_S] == 0.0
        gear, last_end = _gear_out(unrolled, brake_end, min_at if free else ends)
        begin = lift
        if not zone.lifted:
            brake = zone.brake_start_at_m + shift
            begin = brake
            braking = _braking(unrolled, brake, brake_end)
        downshifts = _downshifts(lap, unrolled, begin, last_end, gear_before, gear, fold)
    elif action == "lift":
        lift = _first_off_throttle(unrolled, begins, ends)

    next_lift = _next_lift(unrolled, min_at)
    throttle_at = full_at = None
    if action != "flat":
        throttle_at = _throttle_point(unrolled, min_at, min_speed, next_lift)
        full_at = _full_throttle_point(unrolled, min_at, next_lift)
    grip_left = overspeed = None
    if action == "flat" or trend == "rising":
        until = min(ends, _next_lift(unrolled, begins))
        grip_left = _grip_left(lap, unrolled, begins, until)
    else:
        overspeed = _overspeed(lap, unrolled, corner, claim, min_at, min_speed)
    return CornerResult(
        name=corner.name,
        direction="left" if corner.turn > 0 else "right",
        action=action,
        trend=trend,
        begins_at_m=fold(begins),
        ends_at_m=fold(ends) if ends != ring.length_m else ends,
        turn_in_at_m=fold(corner.turn_in_at_m),
        turn_in_speed_ms=unrolled.at(unrolled.v, corner.turn_in_at_m),
        apex_at_m=fold(corner.apex_at_m),
        min_speed_ms=min_speed,
        min_speed_at_m=fold(min_at),
        limited_by=_limited_by(lap, unrolled, inside_at, action),
        lateral_g=_lateral_g(lap, unrolled, inside_at),
        lift_at_m=None if lift is None else fold(lift),
        brake_start_at_m=None if brake is None else fold(brake),
        brake_start_to_corner_m=None if brake is None else begins - brake,
        brake_start_speed_ms=None if brake is None else unrolled.at(unrolled.v, brake),
        braking_distance_m=braking[0] if braking else None,
        braking_time_s=braking[1] if braking else None,
        peak_decel_g=braking[2] if braking else None,
        brake_energy_kj=braking[3] if braking else None,
        gear_before=gear_before,
        gear=gear,
        downshifts=downshifts,
        throttle_at_m=None if throttle_at is None else fold(throttle_at),
        full_throttle_at_m=None if full_at is None else fold(full_at),
        exit_speed_ms=unrolled.at(unrolled.v, ends),
        time_in_corner_s=unrolled.at(unrolled.t, ends) - unrolled.at(unrolled.t, begins),
        board_call=(None if brake is None else call_for(brake, corner.name, marks, ring)),
        grip_left_pct=grip_left,
        overspeed_ms=overspeed,
        lean_deg=_lean_deg(lap, unrolled, begins, ends),
    )


def _own_from(corner: Corner, claim: tuple[Zone, float] | None) -> float:
    """Where a corner's own part begins; ahead of its zone lies the way out of the one before."""
    if claim is None:
        return corner.begins_at_m
    zone, shift = claim
    return max(corner.begins_at_m, zone.lift_at_m + shift)


def _action(lap: Lap, unrolled: _Unrolled, corner: Corner, claim: tuple[Zone, float] | None) -> str:
    if claim is not None:
        return "lift" if claim[0].lifted else "brake"
    for zone in lap.zones:
        for shift in lap.path.ring.shifts:
            start, end = zone.brake_start_at_m + shift, zone.brake_end_at_m + shift
            if start < corner.ends_at_m and end > corner.ends_at_m - 1e-6:
                return "through"
    inside = unrolled.between(corner.begins_at_m, corner.ends_at_m - 1e-3)
    # On the way out of the corner before, the tyres may bound the drive: nothing is held back.
    free = (unrolled.full[inside] > 0.0) | (unrolled.ax[inside] > 0.05)
    return "flat" if bool(np.all(free)) or _nearly_flat(unrolled, inside, free) else "lift"


def _trend(unrolled: _Unrolled, begins: float) -> str:
    """Whether a corner without a minimum of its own is entered on rising or on falling speed."""
    return "rising" if step_value(unrolled.s, unrolled.ax, begins) > 0.0 else "falling"


def _nearly_flat(unrolled: _Unrolled, inside: slice, free: NDArray[np.bool_]) -> bool:
    """Throttle shut for less than a tenth of a second in all: no driver would notice."""
    duration = np.diff(unrolled.t[inside.start : inside.stop + 1])
    held_back = ~free[: len(duration)].astype(bool)
    return float(duration[held_back].sum()) < 0.1


def _first_off_throttle(unrolled: _Unrolled, begins: float, ends: float) -> float:
    inside = unrolled.between(begins, ends)
    off = np.flatnonzero(unrolled.full[inside] == 0.0)
    return begins if len(off) == 0 else float(max(unrolled.s[inside.start + int(off[0])], begins))


def _braking(unrolled: _Unrolled, start: float, end: float) -> tuple[float, float, float, float]:
    """Braking distance [m], time [s], peak deceleration [g] and energy [kJ]."""
    inside = unrolled.between(start, end - 1e-3)
    peak = -float(unrolled.ax[inside].min()) / STANDARD_GRAVITY_MS2
    return (
        end - start,
        unrolled.at(unrolled.t, end) - unrolled.at(unrolled.t, start),
        peak,
        (unrolled.at(unrolled.work, end) - unrolled.at(unrolled.work, start)) / 1000.0,
    )


def _downshifts(
    lap: Lap,
    unrolled: _Unrolled,
    begin: float,
    end: float,
    gear_before: int,
    gear: int,
    fold: Callable[[float], float],
) -> tuple[Downshift, ...]:
    """Downshifts from one gear to another: each as early as the revs and the one before allow."""
    case = lap.packed.case
    found = np.empty((max(gear_before - gear, 0), 2))
    downshift_places(
        case, unrolled.s, unrolled.v, unrolled.t, begin, end, (gear_before, gear), found
    )
    return tuple(
        Downshift(fold(place), target, speed * float(case[RPM_PER_MS + target - 1]))
        for target, (place, speed) in zip(
            range(gear_before - 1, gear - 1, -1), found.tolist(), strict=True
        )
    )


def _gear_out(unrolled: _Unrolled, after: float, ends: float) -> tuple[int, float]:
    """Lowest gear from a place to a corner's end, and where it is first in; upshifts come later."""
    inside = unrolled.between(after, max(ends - 1e-3, after))
    gears = unrolled.gear[inside]
    lowest = int(np.argmin(gears))
    return int(gears[lowest]), max(float(unrolled.s[inside.start + lowest]), after)


def _next_lift(unrolled: _Unrolled, after: float) -> float:
    """Where the throttle is next shut after a place; the end of the lap laid out if nowhere."""
    later = bisect_right(unrolled.lifts, after + 1e-3)
    return unrolled.lifts[later] if later < len(unrolled.lifts) else float(unrolled.s[-1])


def _throttle_point(
    unrolled: _Unrolled, min_at: float, min_speed: float, until: float
) -> float | None:
    """Where the speed has finally risen 0.1 m/s above the minimum, before the next lift."""
    inside = unrolled.between(min_at, until)
    place = rises_at(unrolled.s, unrolled.v, inside.start, inside.stop, min_speed)
    return None if math.isnan(place) else place


def _full_throttle_point(unrolled: _Unrolled, min_at: float, until: float) -> float | None:
    """First place after the minimum where the tyres no longer limit the drive."""
    inside = unrolled.between(min_at, until)
    first = first_free(unrolled.throttle, unrolled.tyre_limited, inside.start, inside.stop, FULL)
    return None if first == inside.stop else float(unrolled.s[first])


def _point(unrolled: _Unrolled, place: float) -> int:
    """Index into the lap's own points of the last point at or before a place."""
    return int(step_value(unrolled.s, unrolled.index, place))


def _limited_by(lap: Lap, unrolled: _Unrolled, min_at: float, action: str) -> str:
    index = _point(unrolled, min_at)
    full = lap.throttle[index] >= FULL and lap.tyre_limited[index] == 0.0
    if full:
        # Still gaining speed there, the corner's slowest point is only where it begins.
        return "none" if lap.ax_ms2[index] > 0.02 else "power"
    if action == "flat":
        return "none"
    w = lap.v_ms[index] ** 2
    cause = cause_at(
        lap.packed.case,
        lap.packed.road,
        lap.step[index],
        lap.share[index],
        w,
        lap.force_n[index],
    )
    return CAUSES[int(cause)]


def _lateral_g(lap: Lap, unrolled: _Unrolled, min_at: float) -> float:
    index = _point(unrolled, min_at)
    return abs(float(lap.ay_ms2[index])) / STANDARD_GRAVITY_MS2


def _grip_left(lap: Lap, unrolled: _Unrolled, begins: float, ends: float) -> float:
    """Grip that a flat corner leaves unused at its most demanding place [%]."""
    points = _within(unrolled, begins, ends)
    use = grip_in_use(*_states(lap, points), lap.force_n[points])
    return max(0.0, 100.0 * (1.0 - float(use)))


def _lean_deg(lap: Lap, unrolled: _Unrolled, begins: float, ends: float) -> float | None:
    """Largest lean of a motorcycle in a corner, from the road's own upright [degrees]."""
    if lap.packed.case[MOTORCYCLE] == 0.0:
        return None
    return math.degrees(most_lean(*_states(lap, _within(unrolled, begins, ends))))


def _within(unrolled: _Unrolled, begins: float, ends: float) -> Integers:
    """The lap's own points inside a corner; shape (m,)."""
    inside = unrolled.between(begins, ends - 1e-3)
    return unrolled.index[inside].astype(np.int64)


def _states(lap: Lap, points: Integers) -> tuple[Floats, Floats, Integers, Floats, Floats]:
    """Case, road, and step, share of it and w at some points, as the kernels take them."""
    w = lap.v_ms[points] ** 2
    return lap.packed.case, lap.packed.road, lap.step[points], lap.share[points], w


def _overspeed(
    lap: Lap,
    unrolled: _Unrolled,
    corner: Corner,
    claim: tuple[Zone, float] | None,
    min_at: float,
    min_speed: float,
) -> float:
    """Speed that would arrive at the minimum without this corner's limit, less the minimum [m/s].

    The corner's lateral demand is taken away; full throttle is kept from where the zone began,
    under the ceiling that the corners after this one set.
    """
    solved = lap.solved
    n = len(solved.join)
    from_m = corner.begins_at_m if claim is None else claim[0].lift_at_m + claim[1]
    from_m = min(from_m, corner.begins_at_m)
    if not lap.path.closed:
        from_m = max(from_m, 0.0)
    first = node_before(lap.path, from_m)
    target = node_before(lap.path, min_at) + 1
    last = min(node_before(lap.path, corner.ends_at_m) + 2, first + n - 1)
    if not lap.path.closed:
        last = min(last, n)
    target = min(target, last)
    if target <= first:
        return 0.0
    before, after = arrivals_w(
        lap.course,
        lap.path.s_m,
        float(solved.node_w[first % n]),
        int(solved.track[first % n, GEAR]),
        (first, target, last),
        (corner.begins_at_m, corner.ends_at_m),
    )
    place, next_place = (node_m(lap.path, node) for node in (target - 1, target))
    share = (min_at - place) / (next_place - place)
    arriving = before + min(max(share, 0.0), 1.0) * (after - before)
    return max(0.0, math.sqrt(arriving) - min_speed)
