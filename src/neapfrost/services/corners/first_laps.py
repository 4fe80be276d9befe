"""The first laps: braking safely earlier and turning slower, and from there towards the plan."""

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel

from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import tyre_state_of
from neapfrost.formats.result import Action, BoardCallResult, CornerResultPart
from neapfrost.services.laps.predict import TRACE_POINTS, recall

Confidence = Literal["new", "some", "known"]

#: Share of the grip that is used lap by lap, by how well the driver knows the circuit.
SHARES: dict[Confidence, tuple[float, ...]] = {
    "new": (0.82, 0.88, 0.93, 0.97),
    "some": (0.88, 0.94, 0.98),
    "known": (0.94, 0.98),
}


#: A blind crest, a wall or no run-off each take so much more off the share, at most twice.
HAZARD_SHARE, HAZARDS_MOST = 0.03, 2


class StepCorner(BaseModel):
    """A corner on one of the laps: never later and never faster than on the lap after it.

    `earlier_m` is how much sooner than the plan the brakes come; null without brakes in both.
    `widened` says that what lies beside the corner asks for more margin.
    """

    name: str
    action: Action
    brake_start_to_corner_m: float | None
    board_call: BoardCallResult | None
    earlier_m: float | None
    min_speed_ms: float
    gear: int
    widened: bool = False


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


def first_laps(plan: PlanDocument, confidence: Confidence) -> FirstLaps:
    """Laps driven with growing shares of the grip, each solved as a lap of its own.

    Braking, cornering and traction all use the share; with a compound the laps are the first ones
    on the tyres. A corner noted as blind, walled or without run-off is taken from a lap with a
    smaller share. Less grip can also mean arriving slower, and then braking later would do: a
    braking point is never later than on the lap after it, and no later than planned.
    """
    shares = SHARES[confidence]
    warming = tyre_state_of(plan) is not None
    hazards = _hazards(plan)
    driven: list[tuple[float, int | None, list[CornerResultPart], float]] = []
    for number, share in enumerate(shares, start=1):
        tyre_lap = number if warming and plan.conditions.tyre_lap is None else None
        by_hazards = {
            count: recall(
                _with_share(plan, share - HAZARD_SHARE * count, tyre_lap), TRACE_POINTS
            ).result
            for count in {0, *hazards.values()}
        }
        corners = [
            by_hazards[hazards.get(corner.name, 0)].corners[number]
            for number, corner in enumerate(by_hazards[0].corners)
        ]
        driven.append((share, tyre_lap, corners, by_hazards[0].lap_time_s))
    planned = recall(plan, TRACE_POINTS).result
    following = [_planned(corner) for corner in planned.corners]
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
        following = _steps(corners, following, planned.corners, hazards)
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


def _hazards(plan: PlanDocument) -> dict[str, int]:
    """How many things beside each corner ask for more margin, at most two; none is left out."""
    counts = {
        note.corner: min(note.blind + note.wall + note.no_run_off, HAZARDS_MOST)
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


def _planned(corner: CornerResultPart) -> StepCorner:
    braked = corner.brake_start_to_corner_m is not None
    return StepCorner(
        name=corner.name,
        action=corner.action,
        brake_start_to_corner_m=corner.brake_start_to_corner_m,
        board_call=corner.board_call,
        earlier_m=0.0 if braked else None,
        min_speed_ms=corner.min_speed_ms,
        gear=corner.gear,
    )


def _steps(
    lap: Sequence[CornerResultPart],
    following: Sequence[StepCorner],
    planned: Sequence[CornerResultPart],
    hazards: dict[str, int],
) -> list[StepCorner]:
    """A lap's corners, held to brake no later and to turn no faster than the lap after it."""
    steps = []
    for own, after, plan in zip(lap, following, planned, strict=True):
        start, call = own.brake_start_to_corner_m, own.board_call
        later = after.brake_start_to_corner_m
        if later is not None and (start is None or start < later):
            start, call = later, after.board_call
        action = (
            after.action if own.action in ("flat", "lift") and start is not None else own.action
        )
        base = plan.brake_start_to_corner_m
        slower = own.min_speed_ms <= after.min_speed_ms
        steps.append(
            StepCorner(
                name=own.name,
                action=action,
                brake_start_to_corner_m=start,
                board_call=call,
                earlier_m=None if start is None or base is None else start - base,
                min_speed_ms=min(own.min_speed_ms, after.min_speed_ms),
                gear=own.gear if slower else after.gear,
                widened=own.name in hazards,
            )
        )
    return steps
