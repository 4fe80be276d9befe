"""Gears for a circuit: the sets there are, a series proposed, and what half a step would bring."""

import math
from collections.abc import Mapping, Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.trade.gearing import (
    SERIES_AT_ONCE,
    SERIES_ROUNDS,
    Bounds,
    Series,
    best_series,
    gears_used,
    ratios_of,
    series_like,
)
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.planned import planned
from neapfrost.services.trade.axes import RATIO, RATIOS, Setting, Settings, as_settings, put
from neapfrost.services.trade.laps import WeighedPlan
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.trade import describe_gears, describe_half_step

#: Ratios are proposed so far from what the car has, either way.
FIRST_REACH, TOP_REACH = 0.25, 0.2
DECIMALS = 3


class GearsRequest(BaseModel):
    """Within which ratios a series is proposed, and by how much a tow lowers the drag."""

    model_config = ConfigDict(extra="forbid")

    first_low: Annotated[float | None, Field(gt=0, le=20)] = None
    first_high: Annotated[float | None, Field(gt=0, le=20)] = None
    top_low: Annotated[float | None, Field(gt=0, le=20)] = None
    top_high: Annotated[float | None, Field(gt=0, le=20)] = None
    tow_pct: Annotated[float, Field(ge=0, le=60)] = 0.0


class GearChoice(BaseModel):
    """Gears that could be driven; `top_rpm_pct` is of the limit at the top speed, then in a tow."""

    name: str
    ratios: list[float]
    final_drive: float
    settings: list[Setting]
    lap_time_s: float
    change_s: float
    top_speed_ms: float
    top_rpm_pct: float
    tow_rpm_pct: float | None
    shifts_in_corners: list[str]
    idle: list[int]


class HalfStep(BaseModel):
    """One gear half a step longer and shorter, and what that does to the lap; null where no lap."""

    gear: int
    ratio: float
    corners: list[str]
    longer: float
    longer_s: float | None
    shorter: float
    shorter_s: float | None
    said: str


class GearStudy(BaseModel):
    """Gears there are and one proposal, the quickest first; and each gear half a step off."""

    present_s: float
    tow_pct: float
    choices: list[GearChoice]
    half_steps: list[HalfStep]
    said: list[str] = []


class Candidate(BaseModel):
    """Gears to be driven."""

    name: str
    settings: list[Setting]

    @property
    def put(self) -> Settings:
        """What is put where."""
        return as_settings(self.settings)


def candidates(plan: PlanDocument) -> list[Candidate]:
    """The gears as the plan has them, and every set of the car."""
    sets = [
        Candidate(name=gears.name, settings=[Setting(axis="gear_set", value=gears.name)])
        for gears in plan.car.gear_sets
    ]
    return [Candidate(name="as the plan", settings=[]), *sets]


def bounds_of(plan: PlanDocument, wanted: GearsRequest) -> tuple[Series, Bounds]:
    """The series nearest to the plan's gears, and what a proposal keeps to.

    Raises InputRefused for bounds that are none.
    """
    ratios = in_effect(plan).car.gearbox.ratios
    begin = series_like(ratios)
    first = (
        wanted.first_low or (1.0 - FIRST_REACH) * ratios[0],
        wanted.first_high or (1.0 + FIRST_REACH) * ratios[0],
    )
    top = (
        wanted.top_low or (1.0 - TOP_REACH) * ratios[-1],
        wanted.top_high or (1.0 + TOP_REACH) * ratios[-1],
    )
    faults = [
        Fault(f"{name}_low", f"{low:g} to {high:g} was given; the first must be the lower")
        for name, (low, high) in (("first", first), ("top", top))
        if low >= high
    ]
    if not faults and top[0] >= first[1]:
        faults = [
            Fault("top_low", f"{top[0]:g} was given; it must be below first gear's {first[1]:g}")
        ]
    if faults:
        raise InputRefused(faults)
    inside = Series(
        min(max(begin.first, first[0]), first[1]),
        min(max(begin.top, top[0]), top[1]),
        begin.progression,
    )
    return inside, Bounds(first, top)


def settings_for(series: Series, count: int) -> Settings:
    """A series as what is put into a plan."""
    text = " ".join(f"{ratio:.{DECIMALS}f}" for ratio in ratios_of(series, count))
    return ((RATIOS, text),)


def timed(laps: Sequence[WeighedPlan | str]) -> list[float]:
    """Lap times; infinite where no lap is possible."""
    return [math.inf if isinstance(lap, str) else lap.lap.lap_time_s for lap in laps]


def choice_of(
    plan_json: str, candidate: Candidate, present_s: float, tow_pct: float
) -> GearChoice | None:
    """Gears driven, with and without a tow; None where no lap is possible."""
    plan = PlanDocument.model_validate_json(plan_json)
    try:
        varied = put(plan, candidate.put)
        driven = drive_lap(planned(varied).drive)
    except InputRefused:
        return None
    used = gears_used(driven)
    gearbox = in_effect(varied).car.gearbox
    lap = driven.lap
    return GearChoice(
        name=candidate.name,
        ratios=gearbox.ratios,
        final_drive=gearbox.final_drive,
        settings=candidate.settings,
        lap_time_s=lap.lap_time_s,
        change_s=lap.lap_time_s - present_s,
        top_speed_ms=float(lap.v_ms.max()),
        top_rpm_pct=100.0 * used.top_rpm_share,
        tow_rpm_pct=_in_tow(varied, tow_pct) if tow_pct > 0.0 else None,
        shifts_in_corners=[driven.corners[number].name for number in used.shifts_in_corners],
        idle=list(used.idle),
    )


def _in_tow(plan: PlanDocument, tow_pct: float) -> float | None:
    """Engine's speed at the top speed with less drag, in percent of the limit."""
    drag = in_effect(plan).car.aero.drag_area_m2 * (1.0 - tow_pct / 100.0)
    try:
        towed = put(plan, (("drag_area_m2", drag),))
        return 100.0 * gears_used(drive_lap(planned(towed).drive)).top_rpm_share
    except InputRefused:
        return None


def half_steps(plan: PlanDocument) -> list[tuple[int, float, float]]:
    """Every gear with its ratio half a step longer and half a step shorter: (gear, ratio, ratio).

    A step is that to the neighbour; the last gears take the one step they have.
    """
    ratios = in_effect(plan).car.gearbox.ratios
    found = []
    for number, ratio in enumerate(ratios):
        below = ratios[number + 1] / ratio if number + 1 < len(ratios) else None
        above = ratios[number - 1] / ratio if number > 0 else None
        down = below if below is not None else 1.0 / (above or 1.2)
        up = above if above is not None else 1.0 / (below or 1.0 / 1.2)
        found.append((number + 1, ratio * math.sqrt(down), ratio * math.sqrt(up)))
    return found


def half_step_settings(steps: Sequence[tuple[int, float, float]]) -> list[Settings]:
    """What is put for each half step, longer and shorter in turn."""
    return [
        ((f"{RATIO}{gear}", round(ratio, DECIMALS)),)
        for gear, longer, shorter in steps
        for ratio in (longer, shorter)
    ]


def corners_by_gear(plan_json: str) -> dict[int, list[str]]:
    """The corners that are slowest in each gear, from 1, in the plan's own lap."""
    driven = drive_lap(planned(PlanDocument.model_validate_json(plan_json)).drive)
    names = [corner.name for corner in driven.corners]
    return {
        gear: [names[number] for number in numbers]
        for gear, numbers in gears_used(driven).corners.items()
    }


def laps_of_gears(sets: int, gears: int) -> int:
    """Laps that are driven at the most: sets, a proposal looked for, and half steps."""
    return sets + 1 + SERIES_ROUNDS * 3 * SERIES_AT_ONCE + 1 + 2 * gears


def told(
    plan: PlanDocument,
    choices: Sequence[GearChoice],
    steps: Sequence[tuple[int, float, float]],
    laps: Sequence[WeighedPlan | str],
    corners: Mapping[int, list[str]],
    present_s: float,
    tow_pct: float,
) -> GearStudy:
    """What the gears come to, with half steps once their laps have been driven."""
    ratios = in_effect(plan).car.gearbox.ratios
    times = [None if math.isinf(one) else one - present_s for one in timed(laps)]
    rows = []
    for number, (gear, longer, shorter) in enumerate(steps if laps else []):
        own, pair = corners.get(gear, []), (times[2 * number], times[2 * number + 1])
        rows.append(
            HalfStep(
                gear=gear,
                ratio=ratios[gear - 1],
                corners=own,
                longer=longer,
                longer_s=pair[0],
                shorter=shorter,
                shorter_s=pair[1],
                said=describe_half_step(own, *pair),
            )
        )
    best = sorted(choices, key=lambda one: one.lap_time_s)
    return GearStudy(
        present_s=present_s,
        tow_pct=tow_pct,
        choices=best,
        half_steps=rows,
        said=[describe_gears(one.name, one.change_s, one.top_rpm_pct) for one in best[:1]],
    )


def gears_course(plan: PlanDocument, wanted: GearsRequest) -> Course:
    """How gears are looked for. Raises InputRefused for bounds that are none."""
    begin, bounds = bounds_of(plan, wanted)
    count = len(in_effect(plan).car.gearbox.ratios)
    steps = half_steps(plan)
    sets = candidates(plan)

    def drive(run: Run) -> None:
        _, present = run.present()
        present_s = present.lap.lap_time_s
        by_gear = corners_by_gear(run.plan_json)
        choices: list[GearChoice] = []
        half: list[WeighedPlan | str] = []

        def so_far() -> GearStudy:
            return told(plan, choices, steps, half, by_gear, present_s, wanted.tow_pct)

        def choose(candidate: Candidate) -> None:
            found = choice_of(run.plan_json, candidate, present_s, wanted.tow_pct)
            if found is not None:
                choices.append(found)
            run.count(gears=so_far())

        def times_of(tried: Sequence[Series]) -> list[float]:
            found = run.all_laps([(n, settings_for(one, count)) for n, one in enumerate(tried)])
            return timed([found[n] for n in range(len(tried))])

        for candidate in sets:
            choose(candidate)
        series = best_series(begin, bounds, times_of)
        ((_, text),) = settings_for(series, count)
        choose(Candidate(name="a proposed gear set", settings=[Setting(axis=RATIOS, value=text)]))
        asked = list(enumerate(half_step_settings(steps)))
        found = run.all_laps(asked)
        half += [found[n] for n in range(len(asked))]
        run.tell(gears=so_far())

    return Course(laps_of_gears(len(sets), len(steps)), drive)
