"""Where a car close behind another can pass: what the tow closes, and what is left to the brakes.

The car behind is driven over the same path with less drag and less downforce, by how close it is:
drag × (1 - a·e^(-d/l)), downforce × (1 - b·e^(-d/l)). How close it is follows from both laps laid
over each other; both are found in turn until they agree. It leaves every corner at the same gap.
"""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Flags, Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.road import DRAG, LIFT
from neapfrost.core.lap.altered_road import corner_steps, with_curvature
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.record import elapsed_s
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import Path
from neapfrost.core.studies.stretch import stretch_after
from neapfrost.core.studies.worth import worths

#: Laps until the tow and the gap agree.
TURNS = 6
#: Beside the other, a car's nose has come as far as this behind the other's [m].
BESIDE_M = 2.5
#: A straight shorter than this is none to pass on [s].
SHORTEST_S = 1.5


@dataclass(frozen=True)
class Wake:
    """Shares of drag and downforce lost right behind another car, and over what length [m] they go.

    At a distance d what is lost is the share times e^(-d/l).
    """

    drag_lost: float
    downforce_lost: float
    length_m: float

    def drag_left(self, distance_m: Floats) -> Floats:
        """Share of the drag left at distances."""
        left: Floats = 1.0 - self.drag_lost * np.exp(-distance_m / self.length_m)
        return left

    def downforce_left(self, distance_m: Floats) -> Floats:
        """Share of the downforce left at distances."""
        left: Floats = 1.0 - self.downforce_lost * np.exp(-distance_m / self.length_m)
        return left


@dataclass(frozen=True)
class PassingPlace:
    """A braking that somebody may be passed at, in SI units.

    From leaving corner `after` to the brakes for `corner`. The gap there [s, m] that began as the
    stated one, what of it the tow has closed [m], by how much quicker the car behind is then,
    how much quicker it would have to leave the corner to be beside [m/s], how many metres later it
    would have to brake instead, and what taking the inside costs [s].
    """

    after: int
    corner: int
    straight_m: float
    straight_s: float
    exit_slower_ms: float
    gap_begin_m: float
    gap_end_s: float
    gap_end_m: float
    closed_m: float
    quicker_ms: float
    exit_needed_ms: float
    later_needed_m: float
    inside_s: float | None
    end_speed_ms: float
    min_speed_ms: float


@dataclass(frozen=True)
class _Approach:
    """The way from a corner to the brakes, by whoever leads and by whoever is towed.

    Times of the leader, the gap at the brakes [s], speeds of both at the corner and at the brakes
    [m/s]; `missing_s` is what is left to be beside, `per_metre_s` what a metre of later braking is
    worth.
    """

    straight_s: float
    gap_end_s: float
    exits_ms: tuple[float, float]
    ends_ms: tuple[float, float]
    missing_s: float
    per_metre_s: float

    @property
    def later_m(self) -> float:
        """How much later whoever is behind would have to brake to be beside."""
        return self.missing_s / self.per_metre_s


def passing_places(
    driven: DrivenLap, wake: Wake, gap_s: float, inside_radius: float
) -> tuple[PassingPlace, ...]:
    """Every braking at the end of a straight, with what a pass there asks for.

    `inside_radius` is the radius of the inside as a share of the driven one.
    """
    chaser = towed(driven, wake, gap_s)
    value = worths(driven)
    found = []
    for after, number, from_m, to_m in straights(driven):
        way = _approach(driven, chaser, gap_s, number, from_m, to_m)
        if way.straight_s < SHORTEST_S:
            continue
        lead_v, chase_v = way.ends_ms
        own_exit, exit_v = way.exits_ms
        carried = abs(value[after].per_exit_speed_s or 0.0)
        found.append(
            PassingPlace(
                after=after,
                corner=number,
                straight_m=to_m - from_m,
                straight_s=way.straight_s,
                exit_slower_ms=own_exit - exit_v,
                gap_begin_m=gap_s * exit_v,
                gap_end_s=way.gap_end_s,
                gap_end_m=way.gap_end_s * chase_v,
                closed_m=gap_s * chase_v - way.gap_end_s * chase_v,
                quicker_ms=chase_v - lead_v,
                exit_needed_ms=way.missing_s / carried if carried > 0.0 else float("inf"),
                later_needed_m=way.later_m,
                inside_s=_inside_s(driven, number, inside_radius),
                end_speed_ms=lead_v,
                min_speed_ms=driven.corners[number].min_speed_ms,
            )
        )
    return tuple(sorted(found, key=lambda one: one.later_needed_m))


def later_needed(
    driven: DrivenLap, wake: Wake, gap_s: float, behind: DrivenLap
) -> dict[int, float]:
    """Metres of later braking that a pass asks for at each corner, by a car that is another [m].

    `behind` is its lap alone. It leaves every corner at the stated gap, as whoever leads drives.
    """
    chaser = towed(driven, wake, gap_s, behind)
    return {
        number: _approach(driven, chaser, gap_s, number, from_m, to_m).later_m
        for _after, number, from_m, to_m in straights(driven)
    }


def _approach(
    driven: DrivenLap, chaser: DrivenLap, gap_s: float, number: int, from_m: float, to_m: float
) -> _Approach:
    begins, ends = (float(one) for one in _elapsed(driven, from_m, to_m))
    chased, reached = (float(one) for one in _elapsed(chaser, from_m, to_m))
    straight_s = ends - begins
    gap_end = gap_s + (reached - chased) - straight_s
    lead_v, chase_v = (_speed(one, to_m) for one in (driven, chaser))
    least = driven.corners[number].min_speed_ms
    return _Approach(
        straight_s=straight_s,
        gap_end_s=gap_end,
        exits_ms=(_speed(driven, from_m), _speed(chaser, from_m)),
        ends_ms=(lead_v, chase_v),
        missing_s=max(gap_end - BESIDE_M / chase_v, 0.0),
        per_metre_s=1.0 / least - 1.0 / max(lead_v, least + 0.1),
    )


def towed(
    driven: DrivenLap, wake: Wake, gap_s: float, behind: DrivenLap | None = None
) -> DrivenLap:
    """The lap of a car behind another that drives `driven`, at a gap [s] out of every corner.

    `behind` is that car's own lap, where it is another than the one ahead.
    """
    own = driven if behind is None else behind
    path = driven.lap.path
    middle = 0.5 * (path.s_m[:-1] + path.s_m[1:])
    chaser = own
    for _ in range(TURNS):
        gap = np.full(len(middle), gap_s)
        for _after, _number, from_m, to_m in straights(driven):
            inside = _inside(path, middle, from_m, to_m)
            places = from_m + path.ring.ahead(np.full(inside.sum(), from_m), middle[inside])
            lead = _elapsed(driven, *places) - _elapsed(driven, from_m)
            chase = _elapsed(chaser, *places) - _elapsed(chaser, from_m)
            gap[inside] = np.maximum(gap_s + chase - lead, 0.0)
        distance = gap * np.interp(middle, chaser.lap.s_m, chaser.lap.v_ms)
        road = own.road.copy()
        road[:, :, DRAG] *= wake.drag_left(distance)[:, None]
        road[:, :, LIFT] *= wake.downforce_left(distance)[:, None]
        chaser = drive_lap(replace(own.drive, road=road))
    return chaser


def straights(driven: DrivenLap) -> list[tuple[int, int, float, float]]:
    """Corner left, corner braked for, from where to where (unfolded) [m], of every straight."""
    found: list[tuple[int, int, float, float]] = []
    for after in range(len(driven.corners)):
        stretch = stretch_after(driven, after)
        if (
            stretch is None
            or stretch.next_corner is None
            or driven.corners[after].action == "through"
        ):
            continue
        own = driven.corners[stretch.next_corner]
        if own.action != "brake" or own.brake_start_at_m is None:
            continue
        from_m = driven.corners[after].min_speed_at_m
        # Only from the last corner before it that anybody slows for.
        later = [one for one in found if one[1] == stretch.next_corner]
        to_m = from_m + driven.lap.path.ring.ahead(from_m, own.brake_start_at_m)
        if later and later[0][3] - later[0][2] <= to_m - from_m:
            continue
        found = [one for one in found if one[1] != stretch.next_corner]
        found.append((after, stretch.next_corner, from_m, to_m))
    return found


def _inside(path: Path, places_m: Floats, from_m: float, to_m: float) -> Flags:
    """Which places lie between two, the first of them in the lap and the other maybe beyond it."""
    return (
        path.ring.fold(places_m - from_m) <= to_m - from_m
        if path.closed
        else ((places_m >= from_m) & (places_m <= to_m))
    )


def _elapsed(driven: DrivenLap, *places_m: float) -> Floats:
    return elapsed_s(driven.lap, np.array(places_m, dtype=np.float64))


def _speed(driven: DrivenLap, at_m: float) -> float:
    lap = driven.lap
    return float(np.sqrt(np.interp(lap.path.ring.fold(at_m), lap.s_m, lap.v_ms**2)))


def _inside_s(driven: DrivenLap, corner: int, radius: float) -> float | None:
    """What a corner driven on a tighter radius costs the lap [s]."""
    if radius >= 1.0:
        return 0.0
    path = driven.lap.path
    road = with_curvature(path, driven.road, corner_steps(path, corner), 1.0 / radius)
    try:
        lap = drive_lap(replace(driven.drive, road=road))
    except LapImpossible:
        return None
    return lap.lap.lap_time_s - driven.lap.lap_time_s
