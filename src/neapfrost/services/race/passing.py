"""Where a pass is possible, and where one has to be defended against."""

from collections.abc import Iterator

from pydantic import BaseModel

from neapfrost.core.errors import InputRefused, LapImpossible
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.race.energy import attack
from neapfrost.core.race.passing import (
    PassingPlace,
    Wake,
    later_needed,
    passing_places,
    straights,
)
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.planned import planned
from neapfrost.services.race.energy import store_record
from neapfrost.services.trade.axes import axes_of, put
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import describe_maker, describe_passing
from neapfrost.services.words.saying import Saying

#: What else a car may have that is tried on the car behind; a gain of less is none [m].
MAKING, LESS_M = ("wing", "gear_set", "setup"), 2.0


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


class Maker(BaseModel):
    """Something else on the car behind, and what a pass asks for with it.

    `what` is it, `present` what stands there now; `lap_cost_s` is what it costs the lap alone,
    negative where it is quicker; null for energy, of which `spent_mj` is taken.
    """

    corner: int
    name: str
    what: str
    later_now_m: float
    later_needed_m: float
    possible: bool
    lap_cost_s: float | None
    spent_mj: float | None
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
    makers: list[Maker] = []
    said: list[str]


def passing_course(plan: PlanDocument, units: Units = "metric") -> Course:
    """How places to pass are looked for, then what else on the car would make one."""

    def drive(run: Run) -> None:
        found = passing(plan, units)
        run.count(passing=found)
        run.count(passing=found.model_copy(update={"makers": makers(plan, found, units)}))

    return Course(2, drive)


def passing(plan: PlanDocument, units: Units = "metric") -> Passing:
    """Where a pass is possible with the plan's own car behind another of its kind."""
    race, say = plan.race, Saying(units)
    driven = drive_lap(planned(plan).drive)
    found = passing_places(driven, _wake(plan), race.gap_s, race.inside_radius_pct / 100.0)
    places = [_place(one, plan, driven, say) for one in found]
    return Passing(
        gap_s=race.gap_s,
        drag_left_pct=race.drag_left_pct,
        downforce_left_pct=race.downforce_left_pct,
        wake_m=race.wake_m,
        later_braking_m=race.later_braking_m,
        inside_radius_pct=race.inside_radius_pct,
        places=places,
        said=describe_passing(
            [(one.name, one.side, one.later_needed_m) for one in places if one.possible],
            [(one.name, one.later_needed_m) for one in places],
            say,
        ),
    )


def makers(plan: PlanDocument, found: Passing, units: Units = "metric") -> list[Maker]:
    """What else the car has that makes a place, or nearly: wings, gears, setups, a full store.

    Of each kind the one that asks for least; none where the place is there already, or nothing
    asks for a metre less.
    """
    driven = drive_lap(planned(plan).drive)
    missing = {place.corner: place for place in found.places if not place.possible}
    if not missing:
        return []
    best: dict[tuple[int, str], Maker] = {}
    for kind, what, behind, spent_mj, only in _others(plan, driven, list(missing)):
        needed = later_needed(driven, _wake(plan), plan.race.gap_s, behind)
        for corner, place in missing.items():
            if only not in (None, corner) or place.later_needed_m - needed[corner] < LESS_M:
                continue
            maker = _maker(plan, place, what, needed[corner], driven, behind, spent_mj, units)
            known = best.get((corner, kind))
            if known is None or maker.later_needed_m < known.later_needed_m:
                best[corner, kind] = maker
    order = {place.corner: n for n, place in enumerate(found.places)}
    told: list[Maker] = []
    # A setup that is the same as its wing alone is told once: kinds come in their order.
    for maker in best.values():
        if not any(_as_good(maker, one) for one in told):
            told.append(maker)
    return sorted(told, key=lambda one: (order[one.corner], one.later_needed_m))


def _as_good(one: Maker, other: Maker) -> bool:
    same = one.corner == other.corner and one.lap_cost_s == other.lap_cost_s
    return same and one.later_needed_m == other.later_needed_m


def _others(
    plan: PlanDocument, driven: DrivenLap, corners: list[int]
) -> Iterator[tuple[str, str, DrivenLap, float | None, int | None]]:
    """Other cars behind: kind, what is other, the lap alone, energy spent, and for which corner."""
    for axis in axes_of(plan):
        if axis.name not in MAKING:
            continue
        for choice in axis.choices:
            if choice == axis.chosen:
                continue
            try:
                lap = drive_lap(planned(put(plan, ((axis.name, choice),))).drive)
            except (InputRefused, LapImpossible):
                continue
            yield axis.name, f"{axis.label.lower()} {choice}", lap, None, None
    energy = in_effect(plan).car.energy
    if energy is None:
        return
    for _after, corner, from_m, to_m in straights(driven):
        if corner in corners:
            spent = attack(driven.drive, store_record(energy), from_m, to_m)
            lap = DrivenLap(spent.lap, corner_results(spent.lap, []))
            yield "energy", "a full store on the straight", lap, spent.spent_j / 1e6, corner


def _maker(
    plan: PlanDocument,
    place: Place,
    what: str,
    later_m: float,
    driven: DrivenLap,
    behind: DrivenLap,
    spent_mj: float | None,
    units: Units,
) -> Maker:
    possible = later_m <= plan.race.later_braking_m
    cost_s = None if spent_mj is not None else behind.lap.lap_time_s - driven.lap.lap_time_s
    return Maker(
        corner=place.corner,
        name=place.name,
        what=what,
        later_now_m=place.later_needed_m,
        later_needed_m=later_m,
        possible=possible,
        lap_cost_s=cost_s,
        spent_mj=spent_mj,
        said=describe_maker(what, later_m, possible, cost_s, spent_mj, Saying(units)),
    )


def _wake(plan: PlanDocument) -> Wake:
    race = plan.race
    return Wake(
        drag_lost=1.0 - race.drag_left_pct / 100.0,
        downforce_lost=1.0 - race.downforce_left_pct / 100.0,
        length_m=race.wake_m,
    )


def _place(one: PassingPlace, plan: PlanDocument, driven: DrivenLap, say: Saying) -> Place:
    name, direction = driven.corners[one.corner].name, driven.corners[one.corner].direction
    possible = one.later_needed_m <= plan.race.later_braking_m
    needed = one.exit_needed_ms if one.exit_needed_ms < 100.0 else None
    if possible:
        said = f"on the {direction}, braking {say.length(one.later_needed_m)} later"
    else:
        said = f"{say.length(one.later_needed_m)} later needed"
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
