"""First laps: braking safely earlier and turning slower, and from there towards the plan."""

from collections.abc import Sequence

from pydantic import BaseModel

from neapfrost.core.lap.boards import Mark, call_for
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.path.ring import Ring
from neapfrost.core.studies.first_laps import (
    SHARES,
    Confidence,
    Step,
    hazard_count,
    margin_m,
    never_later,
    share_with,
    with_margin,
)
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import tyre_state_of
from neapfrost.formats.result import Action, BoardCallResult, CornerResultPart, Trend
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.words.corners import action_words, braking_place
from neapfrost.services.words.saying import Saying


class StepCorner(BaseModel):
    """A corner on one of the laps: never later and never faster than on the lap after it.

    `earlier_m` is how much sooner than the plan the brakes come; null without brakes in both.
    `widened` says that what lies beside the corner asks for more margin; `said` where one brakes,
    or what is done instead.
    """

    name: str
    action: Action
    trend: Trend | None
    brake_start_to_corner_m: float | None
    board_call: BoardCallResult | None
    earlier_m: float | None
    min_speed_ms: float
    gear: int
    widened: bool = False
    said: str


class StepLap(BaseModel):
    """One lap: the share of the grip used on it, the lap on the tyres, and its corners."""

    number: int
    grip_share_pct: float
    tyre_lap: int | None
    lap_time_s: float
    corners: list[StepCorner]


class FirstLaps(BaseModel):
    """Laps to begin with, the first one first; the last is the plan itself."""

    confidence: Confidence
    laps: list[StepLap]


def first_laps(plan: PlanDocument, confidence: Confidence, units: Units = "metric") -> FirstLaps:
    """Laps driven with growing shares of the grip, each solved as a lap of its own.

    Braking, cornering and traction all use the share; with a compound the laps are the first ones
    on the tyres. A corner noted as blind, walled or without run-off is taken from a lap with a
    smaller share. Less grip can also mean arriving slower, and then braking later would do: a
    braking point is never later than on the lap after it, and by the plan's margins earlier than
    planned.
    """
    shares = SHARES[confidence]
    hazards = _hazards(plan)
    driven: list[tuple[float, int | None, list[CornerResultPart], float]] = []
    for number, share in enumerate(shares, start=1):
        by_hazards = {
            count: recall(plan_of_step(plan, confidence, number, count), TRACE_POINTS).result
            for count in {0, *hazards.values()}
        }
        corners = [
            by_hazards[hazards.get(corner.name, 0)].corners[number]
            for number, corner in enumerate(by_hazards[0].corners)
        ]
        driven.append((share, _tyre_lap(plan, number), corners, by_hazards[0].lap_time_s))
    prediction = recall(plan, TRACE_POINTS)
    planned = prediction.result
    say = Saying(units)
    margins_m = (plan.first_laps.first_m, plan.first_laps.second_m, plan.first_laps.later_m)
    ring = Ring(planned.length_m, plan.circuit.closed)
    following = [_planned(corner, say) for corner in planned.corners]

    def called(step: Step, base: CornerResultPart, widened: bool) -> StepCorner:
        start = step.brake_start_to_corner_m
        call = None if start is None else call_before(base, start, prediction.marks, ring)
        return _told(step, base, call, widened, say)

    laps = [
        StepLap(
            number=len(shares) + 1,
            grip_share_pct=100.0,
            tyre_lap=plan.conditions.tyre_lap,
            lap_time_s=planned.lap_time_s,
            corners=following,
        )
    ]
    for number, (share, tyre_lap, corners, lap_s) in reversed(list(enumerate(driven, start=1))):
        following = [
            called(
                with_margin(
                    never_later(_step(own), _step(after)), _step(base), margin_m(margins_m, number)
                ),
                base,
                own.name in hazards,
            )
            for own, after, base in zip(corners, following, planned.corners, strict=True)
        ]
        laps.insert(
            0,
            StepLap(
                number=number,
                grip_share_pct=100.0 * share,
                tyre_lap=tyre_lap,
                lap_time_s=lap_s,
                corners=following,
            ),
        )
    return FirstLaps(confidence=confidence, laps=laps)


def plan_of_step(
    plan: PlanDocument, confidence: Confidence, number: int, hazards: int = 0
) -> PlanDocument:
    """The plan as it is driven on one of the first laps (from 1), with so many hazards beside."""
    share = share_with(SHARES[confidence][number - 1], hazards)
    return _with_share(plan, share, _tyre_lap(plan, number))


def _tyre_lap(plan: PlanDocument, number: int) -> int | None:
    """The lap that the tyres are on; None where they do not warm, or their lap is stated."""
    warming = tyre_state_of(plan) is not None
    return number if warming and plan.conditions.tyre_lap is None else None


def _hazards(plan: PlanDocument) -> dict[str, int]:
    """How many things beside each corner ask for more margin, at most two; none is left out."""
    counts = {
        note.corner: hazard_count(note.blind, note.wall, note.no_run_off)
        for note in plan.circuit.corner_notes
    }
    return {name: count for name, count in counts.items() if count > 0}


def _with_share(plan: PlanDocument, share: float, tyre_lap: int | None) -> PlanDocument:
    use = plan.driver.use
    less = use.model_copy(
        update={
            "braking": share * use.braking,
            "cornering": share * use.cornering,
            "traction": share * use.traction,
        }
    )
    update: dict[str, object] = {"driver": plan.driver.model_copy(update={"use": less})}
    if tyre_lap is not None:
        update["conditions"] = plan.conditions.model_copy(update={"tyre_lap": tyre_lap})
    return plan.model_copy(update=update)


def call_before(
    corner: CornerResult | CornerResultPart, to_corner_m: float, marks: Sequence[Mark], ring: Ring
) -> BoardCallResult | None:
    """A place before a corner by the nearest of its boards; None where it has none."""
    at_m = ring.fold(corner.begins_at_m - to_corner_m)
    call = call_for(at_m, corner.name, list(marks), ring)
    return None if call is None else BoardCallResult.model_validate(vars(call))


def _planned(corner: CornerResultPart, say: Saying) -> StepCorner:
    return _told(_step(corner), corner, corner.board_call, False, say)


def _step(corner: CornerResultPart | StepCorner) -> Step:
    return Step(
        action=corner.action,
        trend=corner.trend,
        brake_start_to_corner_m=corner.brake_start_to_corner_m,
        min_speed_ms=corner.min_speed_ms,
        gear=corner.gear,
    )


def _told(
    step: Step,
    planned: CornerResultPart,
    call: BoardCallResult | None,
    widened: bool,
    say: Saying,
) -> StepCorner:
    start, base = step.brake_start_to_corner_m, planned.brake_start_to_corner_m
    told = StepCorner.model_validate(
        {
            **vars(step),
            "name": planned.name,
            "board_call": call,
            "earlier_m": None if start is None or base is None else start - base,
            "widened": widened,
            "said": "",
        }
    )
    said = (
        action_words(told.action, told.trend) if start is None else braking_place(call, start, say)
    )
    return told.model_copy(update={"said": said})
