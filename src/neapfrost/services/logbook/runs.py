"""Runs: read from a log, kept, listed, and each lap held against the plan it was driven on."""

import json
from dataclasses import replace
from datetime import datetime
from functools import lru_cache
from typing import cast

import numpy as np
from pydantic import BaseModel
from sqlalchemy.orm import Session

from neapfrost.core.driven.alignment import Aligned, align
from neapfrost.core.driven.laps import (
    DrivenLog,
    LoggedLap,
    as_if_logged,
    find_laps,
    lap_of_log,
)
from neapfrost.core.driven.log import Log
from neapfrost.core.driven.losses import PARTS, CornerLoss, losses, running_loss_s
from neapfrost.core.driven.measures import DrivenCorner, measure_corners, more_neither_s, sources
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.units import Units
from neapfrost.formats.escaping import sheet_text
from neapfrost.formats.log_csv import Channel, LogColumn, LogLayout, look_at_log, read_log
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import (
    RUN_FORMAT,
    RUN_VERSION,
    RunColumnDocument,
    RunDocument,
    RunLapDocument,
)
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.plans.parts import assemble, content_of
from neapfrost.services.words.logbook import corner_said, lap_losses_said, run_said
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import NotThere, add_item, get_document, get_item, list_items, revise
from neapfrost.store.logs import keep_log, kept_log
from neapfrost.store.tables import Run


class ListedRun(BaseModel):
    """A kept run, as one chooses it."""

    id: int
    name: str
    plan_id: int | None
    circuit: str
    car: str
    driven_at: str
    lap_count: int
    best_lap_s: float | None


class OpenRun(BaseModel):
    """A run with what it is held against: the lap predicted on the revisions it was driven on.

    `best` is the number of its quickest timed lap, null without one.
    """

    id: int
    plan_id: int | None
    run: RunDocument
    predicted_s: float | None
    best: int | None
    said: list[str]


class LossParts(BaseModel):
    """Time driven less time predicted at a corner [s], in the parts of the way through it."""

    braking_s: float
    entry_s: float
    middle_s: float
    exit_s: float
    straight_s: float
    all_s: float


class CornerAgainst(BaseModel):
    """A corner as it was driven beside how it was predicted; null where a figure is missing.

    `neither_s` is the time with neither pedal beyond what the predicted lap has.
    """

    name: str
    action: str
    plan_action: str
    brake_start_to_corner_m: float | None
    plan_brake_start_to_corner_m: float | None
    braking_distance_m: float | None
    peak_decel_g: float | None
    gear: int | None
    plan_gear: int
    min_speed_ms: float
    plan_min_speed_ms: float
    min_speed_at_m: float
    full_throttle_at_m: float | None
    plan_full_throttle_at_m: float | None
    exit_speed_ms: float
    plan_exit_speed_ms: float
    neither_s: float | None
    loss: LossParts
    said: str


class LapAgainst(BaseModel):
    """A driven lap against the predicted one; columns stand at places of the predicted lap."""

    number: int
    lap_time_s: float
    predicted_s: float
    at_m: list[float]
    driven_ms: list[float]
    predicted_ms: list[float]
    loss_s: list[float]
    corners: list[CornerAgainst]
    channels: dict[str, str]
    said: list[str]


def keep_run(
    store: Store,
    plan_id: int,
    name: str,
    data: bytes,
    columns: dict[Channel, LogColumn] | None = None,
    simulated: bool = False,
) -> int:
    """Read a log, find its laps on a plan's circuit, and keep both; returns the run's number.

    The same log for the same plan is recognised. Raises InputRefused for a log that cannot be read
    or is of another circuit; nothing is kept then.
    """
    layout = _with(look_at_log(data), columns)
    log = read_log(data, layout)
    with reading(store) as session:
        assembled = assemble(session, plan_id)
    plan = assembled.document
    prediction = recall(plan, TRACE_POINTS)
    path = prediction.driven.lap.path
    if not path.closed:
        raise InputRefused(
            [Fault("plan", "runs on an open course are not read from logs; a circuit is expected")]
        )
    aligned = align(log, path)
    laps = find_laps(log, aligned, path.length_m)
    if not any(lap.lap_time_s for lap in laps):
        raise InputRefused(
            [Fault("", "no lap from line to line was found in this log; one at least is expected")]
        )
    document = RunDocument(
        format=RUN_FORMAT,
        version=RUN_VERSION,
        name=name,
        made_at=datetime.now().isoformat(timespec="seconds"),
        plan=assembled.sheet.name,
        car=plan.car.name,
        setup=plan.setup,
        circuit=plan.circuit.name,
        conditions=plan.conditions.name,
        revisions=assembled.revisions,
        simulated=simulated,
        log=keep_log(store, data),
        columns={
            role: RunColumnDocument(number=column.number, unit=column.unit)
            for role, column in layout.columns.items()
        },
        about={key[:200]: value[:500] for key, value in layout.about},
        alike=round(aligned.alike, 4),
        misfit_m=round(aligned.misfit_m, 3),
        laps=[
            RunLapDocument(
                number=lap.number,
                kind=lap.kind,
                begins_s=lap.begins_s,
                ends_s=lap.ends_s,
                lap_time_s=lap.lap_time_s,
            )
            for lap in laps
        ],
    )
    with writing(store) as session:
        known = _same_log(session, document, plan_id)
        if known is not None:
            return known
        content = content_of("run", document.model_dump(mode="json"))
        run_id = add_item(session, "run", content, "Read")
        _run(session, run_id).plan_id = plan_id
        return run_id


def runs_of(store: Store, plan_id: int) -> list[ListedRun]:
    """Runs on the circuit of a plan, the last driven first. Raises NotThere."""
    with reading(store) as session:
        circuit = assemble(session, plan_id).document.circuit.name
        runs = [run for run in _runs(session) if run.circuit == circuit]
        return sorted(
            (ListedRun.model_validate(run, from_attributes=True) for run in runs),
            key=lambda run: run.driven_at,
            reverse=True,
        )


def open_run(store: Store, run_id: int) -> OpenRun:
    """A kept run. Raises NotThere."""
    with reading(store) as session:
        plan_id = _run(session, run_id).plan_id
        run = RunDocument.model_validate(get_document(session, "run", run_id))
    plan = _plan_of(store, run, plan_id)
    predicted = None if plan is None else recall(plan, TRACE_POINTS).result.lap_time_s
    timed = [
        (lap.lap_time_s, lap.number) for lap in run.laps if lap.kind == "timed" and lap.lap_time_s
    ]
    return OpenRun(
        id=run_id,
        plan_id=plan_id,
        run=run,
        predicted_s=predicted,
        best=min(timed)[1] if timed else None,
        said=run_said([time for time, _ in timed], predicted),
    )


def lap_against(store: Store, run_id: int, number: int, units: Units = "metric") -> LapAgainst:
    """A lap of a run against the one predicted on the revisions it was driven on.

    Raises NotThere, StoreTrouble where the log is gone, and InputRefused for a lap without a time.
    """
    with reading(store) as session:
        plan_id = _run(session, run_id).plan_id
        run = RunDocument.model_validate(get_document(session, "run", run_id))
    lap = next((one for one in run.laps if one.number == number), None)
    if lap is None or lap.lap_time_s is None or run.log is None:
        raise InputRefused(
            [Fault("lap", f"lap {number} was asked for; a lap from line to line is expected")]
        )
    plan = _plan_of(store, run, plan_id)
    if plan is None:
        raise InputRefused([Fault("plan", "the plan that this run was driven on is gone")])
    prediction = recall(plan, TRACE_POINTS)
    path = prediction.driven.lap.path
    log, aligned = _laid(store, run.log, _columns_text(run), plan.model_dump_json())
    logged = LoggedLap(lap.number, lap.begins_s, lap.ends_s, lap.kind)
    driven = lap_of_log(log, aligned, logged, path.length_m)
    return _told(number, driven, prediction, Saying(units))


def remark_run(store: Store, run_id: int, name: str | None, remarks: str | None) -> None:
    """Name a run anew, or write its remarks, as its next revision. Raises NotThere."""
    with writing(store) as session:
        _run(session, run_id)
        document = get_document(session, "run", run_id)
        changed = {
            **document,
            **({} if name is None else {"name": name}),
            **({} if remarks is None else {"remarks": remarks}),
        }
        if changed != document:
            revise(session, "run", run_id, content_of("run", changed), "Remarks")


def run_json(store: Store, run_id: int) -> str:
    """A run as a document. Raises NotThere."""
    with reading(store) as session:
        _run(session, run_id)
        document = get_document(session, "run", run_id)
    return json.dumps(document, indent=2, ensure_ascii=False) + "\n"


def run_csv(store: Store, run_id: int) -> str:
    """The laps of a run, with every corner of each timed one as it was driven, in SI."""
    opened = open_run(store, run_id)
    timed = [lap for lap in opened.run.laps if lap.kind in ("timed", "slow")]
    told = {lap.number: lap_against(store, run_id, lap.number) for lap in timed}
    names = [corner.name for corner in next(iter(told.values())).corners] if told else []
    head: list[object] = ["Lap", "Kind", "Time [s]"]
    for name in names:
        head += [f"{name}, minimum [m/s]", f"{name}, brake to corner [m]", f"{name}, gear"]
        head += [f"{name}, loss [s]"]
    rows = [head]
    for lap in opened.run.laps:
        row: list[object] = [lap.number, lap.kind, lap.lap_time_s]
        for corner in told[lap.number].corners if lap.number in told else []:
            row += [corner.min_speed_ms, corner.brake_start_to_corner_m, corner.gear]
            row += [corner.loss.all_s]
        rows.append(row)
    return sheet_text(rows)


def _told(number: int, driven: DrivenLog, prediction: Prediction, say: Saying) -> LapAgainst:
    predicted = prediction.driven
    path = predicted.lap.path
    lost = losses(driven, predicted)
    corners = measure_corners(driven, path)
    alike = measure_corners(as_if_logged(predicted.lap), path)
    at = np.array(prediction.result.trace.s_m)
    change = driven.lap_time_s - predicted.lap.lap_time_s
    return LapAgainst(
        number=number,
        lap_time_s=driven.lap_time_s,
        predicted_s=predicted.lap.lap_time_s,
        at_m=at.tolist(),
        driven_ms=np.round(driven.speed_at(at), 3).tolist(),
        predicted_ms=prediction.result.trace.v_ms,
        loss_s=np.round(running_loss_s(driven, predicted.lap, at), 4).tolist(),
        corners=[
            _corner(own, plan, more_neither_s(own, same), loss, say)
            for own, plan, same, loss in zip(corners, predicted.corners, alike, lost, strict=True)
        ],
        channels=sources(driven),
        said=lap_losses_said([corner.name for corner in corners], lost, change),
    )


def _corner(
    driven: DrivenCorner,
    plan: CornerResult,
    neither_s: float | None,
    loss: CornerLoss,
    say: Saying,
) -> CornerAgainst:
    parts = {f"{part}_s": getattr(loss, f"{part}_s") for part in PARTS}
    return CornerAgainst(
        name=driven.name,
        action=driven.action,
        plan_action=plan.action,
        brake_start_to_corner_m=driven.brake_start_to_corner_m,
        plan_brake_start_to_corner_m=plan.brake_start_to_corner_m,
        braking_distance_m=driven.braking_distance_m,
        peak_decel_g=driven.peak_decel_g,
        gear=driven.gear,
        plan_gear=plan.gear,
        min_speed_ms=driven.min_speed_ms,
        plan_min_speed_ms=plan.min_speed_ms,
        min_speed_at_m=driven.min_speed_at_m,
        full_throttle_at_m=driven.full_throttle_at_m,
        plan_full_throttle_at_m=plan.full_throttle_at_m,
        exit_speed_ms=driven.exit_speed_ms,
        plan_exit_speed_ms=plan.exit_speed_ms,
        neither_s=neither_s,
        loss=LossParts(**parts, all_s=loss.all_s),
        said=corner_said(driven, plan, neither_s, loss, say),
    )


def _plan_of(store: Store, run: RunDocument, plan_id: int | None) -> PlanDocument | None:
    """The plan of a run on the revisions it was driven on; None where it is not there any more."""
    if plan_id is None:
        return None
    try:
        with reading(store) as session:
            return assemble(session, plan_id, run.revisions).document
    except NotThere:
        return None


@lru_cache(maxsize=4)
def _laid(store: Store, log_name: str, columns: str, plan_json: str) -> tuple[Log, Aligned]:
    """A kept log laid along a plan's path; the last few are remembered."""
    data = kept_log(store, log_name)
    chosen = {
        cast(Channel, role): LogColumn(int(number), unit)
        for role, number, unit in (line.split("|") for line in columns.splitlines())
    }
    log = read_log(data, _with(look_at_log(data), chosen))
    plan = PlanDocument.model_validate_json(plan_json)
    return log, align(log, recall(plan, TRACE_POINTS).driven.lap.path)


def _columns_text(run: RunDocument) -> str:
    return "\n".join(f"{role}|{one.number}|{one.unit}" for role, one in run.columns.items())


def _with(layout: LogLayout, columns: dict[Channel, LogColumn] | None) -> LogLayout:
    return layout if columns is None else replace(layout, columns=columns)


def _same_log(session: Session, document: RunDocument, plan_id: int) -> int | None:
    """A run of the same log on the same revisions of a plan, if there is one."""
    for run in _runs(session):
        if run.plan_id != plan_id:
            continue
        known = RunDocument.model_validate(get_document(session, "run", run.id))
        if (known.log, known.revisions) == (document.log, document.revisions):
            return run.id
    return None


def _runs(session: Session) -> list[Run]:
    return [run for run in list_items(session, "run") if isinstance(run, Run)]


def _run(session: Session, run_id: int) -> Run:
    run = get_item(session, "run", run_id)
    assert isinstance(run, Run)  # as all items of this kind
    return run
