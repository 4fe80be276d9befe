"""What sweeps, maps and rankings are told in: points, stretches, boards."""

from collections.abc import Sequence

from pydantic import BaseModel

from neapfrost.core.trade.weighed import gained_by_end_speed_m, gained_m
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.trade.axes import Value
from neapfrost.services.trade.laps import Basis, WeighedPlan


class StretchName(BaseModel):
    """A corner, or the straight after one, as the time is charged to it."""

    label: str
    corner: int
    straight: bool
    length_m: float


class BoardPlace(BaseModel):
    """A board or a reference that the speed is told at."""

    label: str
    at_m: float


class CornerPoint(BaseModel):
    """What is done at a corner; the brake start is null where nothing is braked for."""

    min_speed_ms: float
    gear: int
    action: str
    brake_start_to_corner_m: float | None


class LapFigures(BaseModel):
    """A lap in the figures that a change is weighed by.

    Of each stretch `stretches_s` has the time, `ends_ms` the speed where it ends.
    """

    lap_time_s: float
    sectors_s: list[float]
    top_speed_ms: float
    top_rpm: float
    fuel_litres: float
    stretches_s: list[float]
    ends_ms: list[float]
    board_speeds_ms: list[float]
    corners: list[CornerPoint]


class Point(BaseModel):
    """One place on an axis; without figures `trouble` says why no lap is possible there.

    `change_s` is against the plan as it stands; bands come once its draws are driven. `gained_m`
    are the metres gained on a rival over each stretch, null without one and where nothing is known
    of him.
    """

    value: Value
    figures: LapFigures | None = None
    trouble: str | None = None
    change_s: float | None = None
    lap_band: Band | None = None
    change_band: Band | None = None
    best_share: float | None = None
    gained_m: list[float | None] | None = None


class Rival(BaseModel):
    """Another car on the plan's line and its lap, or a speed it reaches where one is fastest."""

    name: str
    figures: LapFigures | None = None
    end_speed_ms: float | None = None


def gained_on(
    figures: LapFigures, rival: Rival | None, straights: Sequence[bool]
) -> list[float | None] | None:
    """Metres gained on a rival over each stretch; None without one.

    Of a rival who is but a speed something is known on the straight that ends the fastest.
    """
    if rival is None:
        return None
    if rival.figures is not None:
        return [
            gained_m(own, theirs, end)
            for own, theirs, end in zip(
                figures.stretches_s, rival.figures.stretches_s, rival.figures.ends_ms, strict=True
            )
        ]
    ends = [
        end if straight else -1.0 for end, straight in zip(figures.ends_ms, straights, strict=True)
    ]
    fastest = max(range(len(ends)), key=ends.__getitem__)
    speed = rival.end_speed_ms or 0.0
    return [
        gained_by_end_speed_m(figures.stretches_s[n], figures.ends_ms[n], speed)
        if n == fastest and straights[n]
        else None
        for n in range(len(ends))
    ]


def figures_of(weighed: WeighedPlan) -> LapFigures:
    """A weighed lap as it is told."""
    lap = weighed.lap
    return LapFigures(
        lap_time_s=lap.lap_time_s,
        sectors_s=list(lap.sectors_s),
        top_speed_ms=lap.top_speed_ms,
        top_rpm=lap.top_rpm,
        fuel_litres=weighed.fuel_litres,
        stretches_s=lap.stretches_s.tolist(),
        ends_ms=lap.ends_ms.tolist(),
        board_speeds_ms=lap.speeds_ms.tolist(),
        corners=[CornerPoint(**vars(corner)) for corner in lap.corners],
    )


def stretch_names(base: Basis) -> list[StretchName]:
    """The stretches of a lap by their corners' names."""
    names = base.corners
    found = []
    for one in base.cut:
        if not one.straight:
            label = names[one.corner]
        elif one.corner < 0:
            label = f"start to {names[0]}" if names else "all of it"
        else:
            label = f"after {names[one.corner]}"
        found.append(
            StretchName(
                label=label,
                corner=one.corner,
                straight=one.straight,
                length_m=one.to_m - one.from_m,
            )
        )
    return found


def board_places(base: Basis) -> list[BoardPlace]:
    """The boards that speeds are told at."""
    return [BoardPlace(label=label, at_m=at_m) for label, at_m in base.boards]
