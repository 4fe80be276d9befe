"""A corner's history: minimum speeds and braking points of every timed lap ever logged there.

Laps marked as slow, in traffic or void are left out, as they are wherever laps are compared.
"""

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.escaping import sheet_text
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.logbook.kept import run_document, run_items, timed_laps
from neapfrost.services.logbook.several import lost_s
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.words.logbook import FAULTS
from neapfrost.store.database import Store, reading


class LapThere(BaseModel):
    """A lap's figures at the corner; null where it is not known. `typed`: seen, not measured."""

    run_id: int
    lap: int | None
    min_speed_ms: float | None
    brake_start_to_corner_m: float | None
    gear: int | None
    lost_s: float | None
    typed: bool
    said: str


class RunThere(BaseModel):
    """A run's laps at the corner, in their order."""

    run_id: int
    name: str
    car: str
    driven_at: str
    conditions: str
    laps: list[LapThere]


class CornerHistory(BaseModel):
    """Every lap through one corner, run after run, beside what the open plan predicts."""

    corner: str
    plan_min_speed_ms: float
    plan_brake_start_to_corner_m: float | None
    plan_gear: int
    runs: list[RunThere]


def corner_history(store: Store, plan_id: int, corner: int) -> CornerHistory:
    """All runs on a plan's circuit at a corner (0 is the first), the first driven first.

    Raises NotThere, and InputRefused for a corner that is not there.
    """
    plan = kept_plan(store, plan_id)
    corners = recall(plan, TRACE_POINTS).driven.corners
    if not 0 <= corner < len(corners):
        raise InputRefused([Fault("corner", f"there is no corner {corner + 1} on this circuit")])
    own = corners[corner]
    found = []
    with reading(store) as session:
        runs = [run for run in run_items(session) if run.circuit == plan.circuit.name]
        for item in sorted(runs, key=lambda one: (one.driven_at, one.id)):
            run = run_document(session, item.id)
            laps = [
                LapThere(
                    run_id=item.id,
                    lap=lap.number,
                    min_speed_ms=there.min_speed_ms,
                    brake_start_to_corner_m=there.brake_start_to_corner_m,
                    gear=there.gear,
                    lost_s=lost_s(there),
                    typed=False,
                    said="",
                )
                for lap in timed_laps(run)
                for there in lap.corners
                if there.name == own.name
            ]
            laps += [
                LapThere(
                    run_id=item.id,
                    lap=seen.lap,
                    min_speed_ms=seen.min_speed_ms,
                    brake_start_to_corner_m=seen.brake_start_to_corner_m,
                    gear=seen.gear,
                    lost_s=None,
                    typed=True,
                    said="; ".join(
                        text
                        for text in (FAULTS[seen.fault] if seen.fault else "", seen.remark)
                        if text
                    ),
                )
                for seen in run.seen
                if seen.corner == own.name
            ]
            if laps:
                found.append(
                    RunThere(
                        run_id=item.id,
                        name=item.name,
                        car=item.car,
                        driven_at=item.driven_at,
                        conditions=run.conditions,
                        laps=laps,
                    )
                )
    return CornerHistory(
        corner=own.name,
        plan_min_speed_ms=own.min_speed_ms,
        plan_brake_start_to_corner_m=own.brake_start_to_corner_m,
        plan_gear=own.gear,
        runs=found,
    )


def history_csv(found: CornerHistory) -> str:
    """A corner's history as a table, in SI."""
    rows: list[list[object]] = [
        ["Run", "Driven", "Car", "Lap", "Minimum [m/s]", "Brake to corner [m]", "Gear", "Lost [s]",
         "Typed", "Remark"]
    ]  # fmt: skip
    for run in found.runs:
        for lap in run.laps:
            rows.append(
                [run.name, run.driven_at, run.car, lap.lap, lap.min_speed_ms,
                 lap.brake_start_to_corner_m, lap.gear, lap.lost_s, "yes" if lap.typed else "",
                 lap.said]
            )  # fmt: skip
    return sheet_text(rows)
