"""Where a pass is possible, and where one has to be defended against."""

from pydantic import BaseModel

from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.race.passing import PassingPlace, Wake, passing_places
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.planned import planned
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import passing_said
from neapfrost.services.words.saying import Saying


class Place(BaseModel):
    """A braking that somebody may be passed at; see `core.race.passing` for the figures.

    `possible` says that no more later braking is asked for than the race's figures allow. The
    inside is on the side the corner turns to.
    """

    corner: int
    name: str
    after: str
    side: str
    straight_m: float
    straight_s: float
    gap_begin_m: float
    gap_end_m: float
    gap_end_s: float
    closed_m: float
    quicker_ms: float
    exit_slower_ms: float
    exit_needed_ms: float | None
    later_needed_m: float
    possible: bool
    inside_s: float | None
    said: str


class Passing(BaseModel):
    """Every braking, the easiest to pass at first."""

    gap_s: float
    drag_left_pct: float
    downforce_left_pct: float
    wake_m: float
    later_braking_m: float
    inside_radius_pct: float
    places: list[Place]
    said: list[str]


def passing_course(plan: PlanDocument, units: Units = "metric") -> Course:
    """How places to pass are looked for."""

    def drive(run: Run) -> None:
        run.count(passing=passing(plan, units))

    return Course(1, drive)


def passing(plan: PlanDocument, units: Units = "metric") -> Passing:
    """Where a pass is possible with the plan's own car behind another of its kind."""
    race, say = plan.race, Saying(units)
    driven = drive_lap(planned(plan).drive)
    wake = Wake(
        drag_lost=1.0 - race.drag_left_pct / 100.0,
        downforce_lost=1.0 - race.downforce_left_pct / 100.0,
        length_m=race.wake_m,
    )
    found = passing_places(driven, wake, race.gap_s, race.inside_radius_pct / 100.0)
    places = [_place(one, plan, driven, say) for one in found]
    return Passing(
        gap_s=race.gap_s,
        drag_left_pct=race.drag_left_pct,
        downforce_left_pct=race.downforce_left_pct,
        wake_m=race.wake_m,
        later_braking_m=race.later_braking_m,
        inside_radius_pct=race.inside_radius_pct,
        places=places,
        said=passing_said(
            [(one.name, one.side, one.later_needed_m) for one in places if one.possible],
            [(one.name, one.later_needed_m) for one in places],
            say,
        ),
    )


def _place(one: PassingPlace, plan: PlanDocument, driven: DrivenLap, say: Saying) -> Place:
    name, direction = driven.corners[one.corner].name, driven.corners[one.corner].direction
    possible = one.later_needed_m <= plan.race.later_braking_m
    needed = one.exit_needed_ms if one.exit_needed_ms < 100.0 else None
    if possible:
        said = f"on the {direction}, braking {say.length(one.later_needed_m)} later"
    else:
        said = f"{say.length(one.later_needed_m)} later would be needed"
        if needed is not None:
            said += f", or {say.speed(needed, 1)} more out of {driven.corners[one.after].name}"
    return Place(
        corner=one.corner,
        name=name,
        after=driven.corners[one.after].name,
        side=direction,
        straight_m=one.straight_m,
        straight_s=one.straight_s,
        gap_begin_m=one.gap_begin_m,
        gap_end_m=one.gap_end_m,
        gap_end_s=one.gap_end_s,
        closed_m=one.closed_m,
        quicker_ms=one.quicker_ms,
        exit_slower_ms=one.exit_slower_ms,
        exit_needed_ms=needed,
        later_needed_m=one.later_needed_m,
        possible=possible,
        inside_s=one.inside_s,
        said=said,
    )
