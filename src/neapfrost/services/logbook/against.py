"""A driven lap held against the predicted one, or against a benchmark: any other lap."""

import re
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel

from neapfrost.core.driven.laps import DrivenLog, as_if_logged
from neapfrost.core.driven.losses import CornerLoss, losses, running_loss_s
from neapfrost.core.driven.measures import DrivenCorner, measure_corners, more_neither_s, sources
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import RunCornerDocument, RunDocument, RunLapDocument
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.logbook.kept import driven_log, driven_on, plan_of_run, read_run
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.words.logbook import Beside, describe_corner, describe_lap_losses
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store


class LossParts(BaseModel):
    """Time driven less time of the other lap at a corner [s], in the parts of the way through."""

    braking_s: float
    entry_s: float
    middle_s: float
    exit_s: float
    straight_s: float
    all_s: float


class CornerAgainst(BaseModel):
    """A corner as it was driven beside the other lap (`plan_*`); null where a figure is missing.

    `neither_s` is the time with neither pedal beyond what the other lap has.
    """

    name: str
    action: str
    plan_action: str | None
    brake_start_to_corner_m: float | None
    plan_brake_start_to_corner_m: float | None
    braking_distance_m: float | None
    peak_decel_g: float | None
    gear: int | None
    plan_gear: int | None
    min_speed_ms: float
    plan_min_speed_ms: float | None
    min_speed_at_m: float
    full_throttle_at_m: float | None
    plan_full_throttle_at_m: float | None
    exit_speed_ms: float
    plan_exit_speed_ms: float | None
    neither_s: float | None
    loss: LossParts | None
    said: str


class LapAgainst(BaseModel):
    """A driven lap against another; columns stand at places of the predicted lap.

    `against` names the other lap. Of one that was typed there are no columns.
    """

    number: int
    lap_time_s: float
    against: str
    predicted_s: float
    at_m: list[float]
    driven_ms: list[float]
    predicted_ms: list[float]
    loss_s: list[float]
    corners: list[CornerAgainst]
    channels: dict[str, str]
    said: list[str]


@dataclass(frozen=True, eq=False)
class Other:
    """A lap that others are held against: its name, time, corners, and the lap where it is known.

    `log` None: it was typed, and only its time and some speeds are known.
    """

    name: str
    lap_time_s: float
    log: DrivenLog | None
    corners: dict[str, Beside]
    measured: dict[str, DrivenCorner]


#: How another lap is named: the plan itself, another plan, or a lap of a run.
NAMED = re.compile(r"^(plan|plan:(\d+)|run:(\d+):(\d+))$")


def lap_against(
    store: Store, run_id: int, number: int, units: Units = "metric", against: str = "plan"
) -> LapAgainst:
    """A lap of a run against the one predicted on the revisions it was driven on, or another.

    Raises NotThere, StoreTrouble where a log is gone, and InputRefused for a lap without a time or
    one that was typed.
    """
    run, plan = plan_of_run(store, run_id)
    lap = lap_numbered(run, number)
    prediction = recall(plan, TRACE_POINTS)
    driven = driven_log(store, run, plan, lap)
    if driven is None:
        raise InputRefused([Fault("lap", f"lap {number} was typed; it has no speed trace")])
    other = other_lap(store, against, prediction)
    return _told(number, driven, prediction, other, Saying(units))


def lap_numbered(run: RunDocument, number: int) -> RunLapDocument:
    """A lap of a run from line to line. Raises InputRefused for any other."""
    lap = next((one for one in run.laps if one.number == number), None)
    if lap is None or lap.lap_time_s is None:
        raise InputRefused(
            [Fault("lap", f"lap {number} was asked for; a complete lap is expected")]
        )
    return lap


def other_lap(store: Store, against: str, prediction: Prediction) -> Other:
    """The lap that is named: "plan", "plan:3" or "run:5:4". Raises InputRefused, NotThere."""
    named = NAMED.match(against)
    if named is None:
        raise InputRefused(
            [Fault("against", f'"{against[:40]}" is not a lap; use plan, plan:3 or run:5:4')]
        )
    if against == "plan":
        return _predicted("the prediction", prediction)
    if named.group(2) is not None:
        plan = kept_plan(store, int(named.group(2)))
        other = recall(plan, TRACE_POINTS)
        _refuse_elsewhere(other, prediction, plan.name)
        return _predicted(plan.name, other)
    run, plan_id = read_run(store, int(named.group(3)))
    return _driven(store, run, driven_on(store, run, plan_id), int(named.group(4)), prediction)


def _predicted(name: str, prediction: Prediction) -> Other:
    lap = prediction.driven.lap
    log = as_if_logged(lap)
    measured = measure_corners(log, lap.path)
    return Other(
        name,
        lap.lap_time_s,
        log,
        {corner.name: _beside(corner) for corner in prediction.driven.corners},
        {corner.name: corner for corner in measured},
    )


def _driven(
    store: Store,
    run: RunDocument,
    plan: PlanDocument | None,
    number: int,
    prediction: Prediction,
) -> Other:
    """A lap of another run as a benchmark: logged, or typed with a few speeds."""
    lap = lap_numbered(run, number)
    assert lap.lap_time_s is not None  # as one from line to line
    name = f"lap {number} of {run.name}"
    log = None if plan is None else driven_log(store, run, plan, lap)
    if log is None and lap.corners:
        return Other(name, lap.lap_time_s, None, {c.name: _beside(c) for c in lap.corners}, {})
    if log is None:
        seen = {
            one.corner: Beside(
                action=None,
                brake_start_to_corner_m=one.brake_start_to_corner_m,
                gear=one.gear,
                min_speed_ms=one.min_speed_ms,
                full_throttle_at_m=None,
                exit_speed_ms=None,
            )
            for one in run.seen
            if one.lap in (None, number)
        }
        return Other(name, lap.lap_time_s, None, seen, {})
    path = prediction.driven.lap.path
    if abs(log.length_m - path.length_m) > 0.02 * path.length_m:
        raise InputRefused([Fault("against", f"{name} was driven on another circuit")])
    measured = measure_corners(log, path)
    return Other(
        name,
        lap.lap_time_s,
        log,
        {corner.name: _beside(corner) for corner in measured},
        {corner.name: corner for corner in measured},
    )


def _beside(corner: CornerResult | DrivenCorner | RunCornerDocument) -> Beside:
    """What a predicted, measured or kept corner shows of itself beside another."""
    return Beside(
        action=corner.action,
        brake_start_to_corner_m=corner.brake_start_to_corner_m,
        gear=corner.gear,
        min_speed_ms=corner.min_speed_ms,
        full_throttle_at_m=corner.full_throttle_at_m,
        exit_speed_ms=corner.exit_speed_ms,
    )


def _refuse_elsewhere(other: Prediction, prediction: Prediction, name: str) -> None:
    names = [[c.name for c in one.driven.corners] for one in (other, prediction)]
    if names[0] != names[1]:
        raise InputRefused([Fault("against", f"{name} has other corners")])


def _told(
    number: int, driven: DrivenLog, prediction: Prediction, other: Other, say: Saying
) -> LapAgainst:
    predicted = prediction.driven
    path = predicted.lap.path
    against = None if other.name == "the prediction" else other.log
    lost: list[CornerLoss | None] = [None] * len(predicted.corners)
    if other.log is not None:
        lost = list(losses(driven, predicted, against))
    at = np.array(prediction.result.trace.s_m)
    change = driven.lap_time_s - other.lap_time_s
    corners = measure_corners(driven, path)
    speeds: list[float] = []
    running: list[float] = []
    if other.log is not None:
        speeds = np.round(other.log.speed_at(at), 3).tolist()
        running = np.round(
            running_loss_s(driven, predicted.lap if against is None else against, at), 4
        ).tolist()
    if against is None and other.log is not None:
        speeds = prediction.result.trace.v_ms
    known = [(c.name, loss) for c, loss in zip(corners, lost, strict=True) if loss is not None]
    return LapAgainst(
        number=number,
        lap_time_s=driven.lap_time_s,
        against=other.name,
        predicted_s=other.lap_time_s,
        at_m=at.tolist(),
        driven_ms=np.round(driven.speed_at(at), 3).tolist(),
        predicted_ms=speeds,
        loss_s=running,
        corners=[_corner(own, other, loss, say) for own, loss in zip(corners, lost, strict=True)],
        channels=sources(driven),
        said=describe_lap_losses(
            [name for name, _ in known], [loss for _, loss in known], change, other.name
        ),
    )


def _corner(
    driven: DrivenCorner, other: Other, loss: CornerLoss | None, say: Saying
) -> CornerAgainst:
    beside = other.corners.get(driven.name, Beside())
    same = other.measured.get(driven.name)
    neither = None if same is None else more_neither_s(driven, same)
    return CornerAgainst(
        name=driven.name,
        action=driven.action,
        plan_action=beside.action,
        brake_start_to_corner_m=driven.brake_start_to_corner_m,
        plan_brake_start_to_corner_m=beside.brake_start_to_corner_m,
        braking_distance_m=driven.braking_distance_m,
        peak_decel_g=driven.peak_decel_g,
        gear=driven.gear,
        plan_gear=beside.gear,
        min_speed_ms=driven.min_speed_ms,
        plan_min_speed_ms=beside.min_speed_ms,
        min_speed_at_m=driven.min_speed_at_m,
        full_throttle_at_m=driven.full_throttle_at_m,
        plan_full_throttle_at_m=beside.full_throttle_at_m,
        exit_speed_ms=driven.exit_speed_ms,
        plan_exit_speed_ms=beside.exit_speed_ms,
        neither_s=neither,
        loss=None if loss is None else loss_parts(loss),
        said=describe_corner(driven, beside, neither, loss, say),
    )


def loss_parts(loss: CornerLoss) -> LossParts:
    """A loss with all of its parts together."""
    return LossParts(
        braking_s=loss.braking_s,
        entry_s=loss.entry_s,
        middle_s=loss.middle_s,
        exit_s=loss.exit_s,
        straight_s=loss.straight_s,
        all_s=loss.all_s,
    )


def plan_against(store: Store, plan_id: int, against: str, units: Units = "metric") -> LapAgainst:
    """A plan's own lap against a benchmark, as if it had been driven. Raises as `lap_against`."""
    prediction = recall(kept_plan(store, plan_id), TRACE_POINTS)
    other = other_lap(store, against, prediction)
    return _told(0, as_if_logged(prediction.driven.lap), prediction, other, Saying(units))
