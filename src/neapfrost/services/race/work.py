"""What each tyre is worked with along a lap, where, and what easing one corner saves it."""

from dataclasses import replace

import numpy as np
from pydantic import BaseModel

from neapfrost.core.lap.altered_road import corner_steps, with_grip
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.solve import drive_lap, solve_many
from neapfrost.core.lap.solve import driven as whole
from neapfrost.core.race.tyre_work import TYRES, TyreFigures, corner_work_j, tyre_work
from neapfrost.core.units import KMH_PER_MS, Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.planned import planned
from neapfrost.services.race.laps import race_laps, tyre_figures
from neapfrost.services.race.tyres import own_tyre, race_tyres
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import describe_eased, describe_warm_up, describe_work
from neapfrost.services.words.saying import Saying

#: A corner is eased by so much minimum speed [m/s]: one km/h.
EASED_MS = 1.0 / KMH_PER_MS


class WorkCorner(BaseModel):
    """What goes into each tyre at a corner [kJ], and what easing it by one km/h costs and saves.

    `eased_kj` is what the hardest worked tyre is spared; null where the corner is not held at the
    limit.
    """

    corner: int
    name: str
    each_kj: list[float]
    eased_s: float | None
    eased_kj: float | None


class WarmLap(BaseModel):
    """A lap of a set that is not warm yet: grip, time, and what has gone into the set by then."""

    age: int
    grip_pct: float
    lap_s: float
    slower_s: float
    total_mj: float


class WarmUp(BaseModel):
    """What a cold set takes until it is warm, on the plan's own compound.

    `needs_mj` is the energy that has gone into it by then; `off_window_c` how far the road is from
    the compound's window, colder below 0, and `off_window_s` what that costs a lap.
    """

    compound: str
    laps: list[WarmLap]
    needs_mj: float
    cost_s: float
    off_window_c: float
    off_window_s: float
    said: str


class Work(BaseModel):
    """The energy that slides into each tyre in a lap [kJ].

    Where no track width is stated left and right are not told apart: both have half of the axle's.
    """

    tyres: list[str]
    each_kj: list[float]
    total_mj: float
    sides: bool
    hardest: int
    corners: list[WorkCorner]
    slip_at_limit_pct: float
    warm_up: WarmUp | None = None
    said: list[str]


def work_course(plan: PlanDocument, units: Units = "metric") -> Course:
    """How the tyres' work is looked at."""

    def drive(run: Run) -> None:
        run.count(work=work_of(plan, units))

    return Course(1, drive)


def work_of(plan: PlanDocument, units: Units = "metric") -> Work:
    """The work of a plan's tyres along its lap."""
    driven = drive_lap(planned(plan).drive)
    figures = tyre_figures(plan)
    own = tyre_work(driven.lap, figures)
    by_corner = corner_work_j(driven.lap, own)
    each = own.each_j
    hardest = int(np.argmax(each))
    say = Saying(units)
    corners = _eased(driven, figures, by_corner, hardest, 1.0 / say.per_speed)
    order = sorted(range(len(corners)), key=lambda n: -by_corner[n, hardest])
    named = [corners[n].name for n in order[:3]]
    eased = [one for one in corners if one.eased_s is not None and (one.eased_kj or 0.0) > 0.0]
    cheapest = min(
        eased, key=lambda one: (one.eased_s or 0.0) / (one.eased_kj or 1.0), default=None
    )
    return Work(
        tyres=list(TYRES),
        each_kj=[float(one) / 1000.0 for one in each],
        total_mj=own.total_mj,
        sides=figures.track_width_m is not None,
        hardest=hardest,
        corners=corners,
        slip_at_limit_pct=100.0 * figures.slip_at_limit,
        warm_up=warm_up_of(plan, say),
        said=describe_work(
            _tyre_name(hardest, figures),
            100.0 * float(each[hardest]) / max(float(each.sum()), 1e-9),
            named,
            ""
            if cheapest is None
            else describe_eased(
                cheapest.name, cheapest.eased_s or 0.0, cheapest.eased_kj or 0.0, say
            ),
        ),
    )


def warm_up_of(plan: PlanDocument, say: Saying) -> WarmUp | None:
    """What the first laps of a cold set take and what they put into it; None without a warm-up."""
    tyres = race_tyres(plan, 1, None)
    tyre = tyres[own_tyre(plan, tyres)]
    if tyre.warm_age == 0:
        return None
    wet, fuel = plan.conditions.wetness_pct, in_effect(plan).car.fuel_kg
    low, high = tyre.compound.window_c
    inside = replace(tyre, track_temp_c=min(max(tyre.track_temp_c, low), high))
    grips = [*tyre.grips(tyre.warm_age + 1, wet), inside.warm_grip(wet)]
    *cold, warm, at_best = race_laps(plan.model_dump_json(), [(float(g), fuel) for g in grips])
    if warm is None or at_best is None or any(lap is None for lap in cold):
        return None
    laps, total = [], 0.0
    for age, (lap, grip) in enumerate(zip(cold, grips, strict=False)):
        assert lap is not None  # as looked at above
        total += lap.tyre_mj
        laps.append(
            WarmLap(
                age=age,
                grip_pct=100.0 * float(grip) / tyre.warm_grip(wet),
                lap_s=lap.time_s,
                slower_s=lap.time_s - warm.time_s,
                total_mj=total,
            )
        )
    cost_s = sum(lap.slower_s for lap in laps)
    off_c = tyre.track_temp_c - inside.track_temp_c
    off_s = warm.time_s - at_best.time_s
    return WarmUp(
        compound=tyre.name,
        laps=laps,
        needs_mj=total,
        cost_s=cost_s,
        off_window_c=off_c,
        off_window_s=off_s,
        said=describe_warm_up(tyre.name, len(laps), total, cost_s, (off_c, off_s), say),
    )


def _tyre_name(number: int, figures: TyreFigures) -> str:
    return (
        f"{TYRES[number]} tyre"
        if figures.track_width_m is not None
        else ("front tyres" if number < 2 else "rear tyres")
    )


def _eased(
    driven: DrivenLap,
    figures: TyreFigures,
    by_corner: np.ndarray,
    hardest: int,
    step_ms: float,
) -> list[WorkCorner]:
    """Every corner with its work, and driven one of the reader's units of speed slower."""
    path = driven.lap.path
    drives = []
    for number, corner in enumerate(driven.corners):
        share = max(1.0 - EASED_MS / corner.min_speed_ms, 0.5) ** 2
        road = with_grip(driven.road, corner_steps(path, number), share)
        drives.append(replace(driven.drive, road=road))
    laps = solve_many(drives, whole)
    before = tyre_work(driven.lap, figures).each_j[hardest]
    found = []
    for number, corner in enumerate(driven.corners):
        lap = laps[number]
        eased_s = eased_kj = None
        if lap is not None and corner.action != "flat":
            slower = corner.min_speed_ms - lap.corners[number].min_speed_ms
            if slower > 0.1 * EASED_MS:
                # To one unit of speed, whatever the corner has answered with.
                scale = step_ms / slower
                eased_s = scale * (lap.lap.lap_time_s - driven.lap.lap_time_s)
                saved = before - tyre_work(lap.lap, figures).each_j[hardest]
                eased_kj = scale * float(saved) / 1000.0
        found.append(
            WorkCorner(
                corner=number,
                name=corner.name,
                each_kj=[float(one) / 1000.0 for one in by_corner[number]],
                eased_s=eased_s,
                eased_kj=eased_kj,
            )
        )
    return found
