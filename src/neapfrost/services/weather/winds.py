"""Wind at each corner, and the wind from which each flat corner is flat no more."""

from collections.abc import Mapping, Sequence
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.lap.compare import DrivenLap, compare_laps
from neapfrost.core.records import Conditions
from neapfrost.core.weather.wind_at import wind_at
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_records import conditions_record
from neapfrost.services.laps.predict import Prediction, recall
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.trade.axes import Settings
from neapfrost.services.trade.laps import WeighedPlan
from neapfrost.services.trade.run import Course, Run

#: Directions that thresholds are looked for in, and the strongest wind that is tried [m/s].
DIRECTIONS = 24
#: Places of the lap at which wind and lost time are given for a picture.
PLACES = 240
STRONGEST_MS = 24.0
#: Speeds that bracket a threshold, and halvings of what is left between two of them.
SPEEDS = 6
HALVINGS = 5


class WindCorner(BaseModel):
    """Wind at one corner: from ahead at three places, from the left in it, and what it moves.

    Moves are against still air: braking earlier [m] is null unless both laps brake. `gust_…` are
    from a lull to a gust.
    """

    name: str
    braking_head_ms: float | None
    corner_head_ms: float
    corner_left_ms: float
    exit_head_ms: float
    braking_earlier_m: float | None
    min_speed_ms: float
    exit_speed_ms: float
    time_s: float
    action: str
    still_action: str
    gust_earlier_m: Band | None
    gust_speed_ms: Band


class WindAlong(BaseModel):
    """Along the lap, at `at_m`: wind from ahead [m/s], and time lost to still air so far [s]."""

    at_m: list[float]
    head_ms: list[float]
    lost_s: list[float]


class WindLap(BaseModel):
    """A lap in some wind against still air, corner by corner and along the road."""

    wind_speed_ms: float
    wind_from_deg: float
    gust_ms: float
    lap_time_s: float
    still_lap_s: float
    lull_lap_s: float
    gust_lap_s: float
    corners: list[WindCorner]
    along: WindAlong


def wind_lap(plan: PlanDocument, speed_ms: float, from_deg: float, gust_ms: float) -> WindLap:
    """The plan's lap in a wind from somewhere, with gusts so much above and lulls below it.

    Raises InputRefused as `recall` does.
    """

    def in_wind(speed: float) -> Prediction:
        air = plan.conditions.model_copy(
            update={"wind_speed_ms": max(speed, 0.0), "wind_from_deg": from_deg % 360.0}
        )
        return recall(plan.model_copy(update={"conditions": air}), None)

    lap, still = in_wind(speed_ms), in_wind(0.0)
    lull, gust = in_wind(speed_ms - gust_ms), in_wind(speed_ms + gust_ms)
    return WindLap(
        wind_speed_ms=speed_ms,
        wind_from_deg=from_deg % 360.0,
        gust_ms=gust_ms,
        lap_time_s=lap.result.lap_time_s,
        still_lap_s=still.result.lap_time_s,
        lull_lap_s=lull.result.lap_time_s,
        gust_lap_s=gust.result.lap_time_s,
        corners=[
            _corner(number, plan, (speed_ms, from_deg), lap, still, (lull, gust))
            for number in range(len(lap.result.corners))
        ],
        along=_along(plan, (speed_ms, from_deg), lap.driven, still.driven),
    )


def _in_air(plan: PlanDocument, wind: tuple[float, float]) -> Conditions:
    return conditions_record(
        plan.conditions.model_copy(update={"wind_speed_ms": wind[0], "wind_from_deg": wind[1]})
    )


def _along(
    plan: PlanDocument, wind: tuple[float, float], lap: DrivenLap, still: DrivenLap
) -> WindAlong:
    path, air = lap.lap.path, _in_air(plan, wind)
    at_m = np.linspace(0.0, path.length_m, PLACES + 1)
    difference = compare_laps(lap, still, at_m)
    return WindAlong(
        at_m=[float(one) for one in at_m],
        head_ms=[wind_at(path, air, float(one)).head_ms for one in at_m],
        lost_s=[] if difference is None else [float(one) for one in difference.time_s],
    )


def _corner(
    number: int,
    plan: PlanDocument,
    wind: tuple[float, float],
    lap: Prediction,
    still: Prediction,
    gusts: tuple[Prediction, Prediction],
) -> WindCorner:
    driven: DrivenLap = lap.driven
    path = driven.lap.path
    air = _in_air(plan, wind)
    now, before = lap.result.corners[number], still.result.corners[number]
    inside = wind_at(path, air, now.min_speed_at_m)
    brake = now.brake_start_at_m
    ends = [one.result.corners[number] for one in gusts]
    starts = [one.brake_start_to_corner_m for one in ends]
    earlier = None
    if None not in starts and before.brake_start_to_corner_m is not None:
        moves = sorted((one or 0.0) - before.brake_start_to_corner_m for one in starts)
        earlier = Band(low=moves[0], high=moves[1])
    speeds = sorted(one.min_speed_ms for one in ends)
    moved = None
    if now.brake_start_to_corner_m is not None and before.brake_start_to_corner_m is not None:
        moved = now.brake_start_to_corner_m - before.brake_start_to_corner_m
    return WindCorner(
        name=now.name,
        braking_head_ms=None if brake is None else wind_at(path, air, brake).head_ms,
        corner_head_ms=inside.head_ms,
        corner_left_ms=inside.left_ms,
        exit_head_ms=wind_at(path, air, now.ends_at_m).head_ms,
        braking_earlier_m=moved,
        min_speed_ms=now.min_speed_ms - before.min_speed_ms,
        exit_speed_ms=now.exit_speed_ms - before.exit_speed_ms,
        time_s=now.time_in_corner_s - before.time_in_corner_s,
        action=now.action,
        still_action=before.action,
        gust_earlier_m=earlier,
        gust_speed_ms=Band(
            low=speeds[0] - before.min_speed_ms, high=speeds[1] - before.min_speed_ms
        ),
    )


class WindsRequest(BaseModel):
    """The strongest wind that is tried [m/s]."""

    model_config = ConfigDict(extra="forbid")

    strongest_ms: Annotated[float | None, Field(gt=0, le=40)] = None

    @property
    def strongest(self) -> float:
        """The strongest wind that is tried, as told or as usual [m/s]."""
        return STRONGEST_MS if self.strongest_ms is None else self.strongest_ms


class FlatCorner(BaseModel):
    """The wind from which a corner is flat no more, for each direction; null where it stays so."""

    name: str
    corner: int
    from_ms: list[float | None]


class WindStudy(BaseModel):
    """Thresholds of every corner that is flat in still air, over directions the wind comes from."""

    directions_deg: list[float]
    strongest_ms: float
    corners: list[FlatCorner]


def directions_deg() -> list[float]:
    """Directions that thresholds are looked for in."""
    return [360.0 * n / DIRECTIONS for n in range(DIRECTIONS)]


def bracketing(strongest_ms: float) -> list[tuple[tuple[int, int], Settings]]:
    """What is driven first: each direction at each speed, by their numbers."""
    speeds = speeds_ms(strongest_ms)
    return [
        ((direction, speed), in_wind(directions_deg()[direction], speeds[speed]))
        for direction in range(DIRECTIONS)
        for speed in range(len(speeds))
    ]


def speeds_ms(strongest_ms: float) -> list[float]:
    """Speeds that bracket a threshold, still air first."""
    return [float(value) for value in np.linspace(0.0, strongest_ms, SPEEDS + 1)]


def in_wind(from_deg: float, speed_ms: float) -> Settings:
    """What puts a plan into a wind."""
    return (("wind_from_deg", from_deg), ("wind_speed_ms", speed_ms))


def flat_at(lap: WeighedPlan | str) -> list[bool]:
    """Whether each corner is flat; none is where no lap is possible."""
    return [] if isinstance(lap, str) else [c.action == "flat" for c in lap.lap.corners]


def brackets(
    driven: Mapping[tuple[int, int], WeighedPlan | str], corner: int, strongest_ms: float
) -> list[tuple[float, float] | None]:
    """For each direction between which speeds a flat corner stops being it; None for never."""
    speeds = speeds_ms(strongest_ms)
    found: list[tuple[float, float] | None] = []
    for direction in range(DIRECTIONS):
        flats = [flat_at(driven[direction, n]) for n in range(len(speeds))]
        flat = [bool(one) and one[corner] for one in flats]
        first = next((n for n, one in enumerate(flat) if not one), None)
        found.append(None if first is None else (speeds[first - 1], speeds[first]))
    return found


def flat_corners(driven: Mapping[tuple[int, int], WeighedPlan | str]) -> list[int]:
    """Corners that are flat in still air."""
    return [number for number, flat in enumerate(flat_at(driven[0, 0])) if flat]


def narrowed(
    bracket: Sequence[tuple[float, float] | None], flat: Mapping[int, bool]
) -> list[tuple[float, float] | None]:
    """Brackets halved, by whether the corner is flat in their middles (by direction)."""
    found = list(bracket)
    for direction, is_flat in flat.items():
        one = found[direction]
        assert one is not None  # only what has a bracket is halved
        middle = 0.5 * (one[0] + one[1])
        found[direction] = (middle, one[1]) if is_flat else (one[0], middle)
    return found


def told_winds(
    names: Sequence[str],
    found: Mapping[int, Sequence[tuple[float, float] | None]],
    strongest_ms: float,
) -> WindStudy:
    """Thresholds as they are told: the lower ends of what is left between flat and not."""
    return WindStudy(
        directions_deg=directions_deg(),
        strongest_ms=strongest_ms,
        corners=[
            FlatCorner(
                name=names[corner],
                corner=corner,
                from_ms=[None if one is None else 0.5 * (one[0] + one[1]) for one in bracket],
            )
            for corner, bracket in sorted(found.items())
        ],
    )


def laps_most(flat: int) -> int:
    """Laps that are driven at the most for so many corners."""
    return DIRECTIONS * (SPEEDS + 1) + HALVINGS * DIRECTIONS * flat


def winds_course(wanted: WindsRequest) -> Course:
    """How the winds from which flat corners are flat no more are looked for."""
    strongest = wanted.strongest

    def drive(run: Run) -> None:
        base, _ = run.present()
        driven = run.all_laps(bracketing(strongest))
        corners = flat_corners(driven)
        run.tell(of=laps_most(len(corners)))
        found = {corner: brackets(driven, corner, strongest) for corner in corners}
        for _ in range(HALVINGS):
            run.tell(winds=told_winds(base.corners, found, strongest))
            asked = [
                ((corner, direction), in_wind(directions_deg()[direction], sum(one) / 2.0))
                for corner in corners
                for direction, one in enumerate(found[corner])
                if one is not None and one[0] < one[1]
            ]
            flats: dict[int, dict[int, bool]] = {corner: {} for corner in corners}
            for (corner, direction), lap in run.all_laps(asked).items():
                flat = flat_at(lap)
                flats[corner][direction] = bool(flat) and flat[corner]
            found = {corner: narrowed(found[corner], flats[corner]) for corner in corners}
        run.tell(winds=told_winds(base.corners, found, strongest))

    return Course(laps_most(1), drive)
