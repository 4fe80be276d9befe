"""From a plan document to a predicted lap."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

import neapfrost
from neapfrost.core.atmosphere import density_kgm3
from neapfrost.core.car.fuel import FuelUse, fuel_burnt_kg
from neapfrost.core.constants import DEFAULT_STEP_M
from neapfrost.core.lap.boards import Mark
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult, corner_results
from neapfrost.core.lap.facts import lap_facts
from neapfrost.core.lap.record import (
    Lap,
    engine_work_j,
    full_throttle_share,
    mean_speed_ms,
    sector_times_s,
)
from neapfrost.core.lap.solve import solve
from neapfrost.core.lap.trace import lap_trace
from neapfrost.core.path.build import Path
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import CornerResultPart, ResultDocument, Trace
from neapfrost.services.laps.orders import lost_orders
from neapfrost.services.laps.planned import planned
from neapfrost.services.roads.road import OnRoad
from neapfrost.services.roads.wishes import number_of
from neapfrost.services.words.notes import (
    GearNotDriven,
    LostOrder,
    NoLineYet,
    Note,
    OpenRing,
    UnsettledLine,
    describe_note,
)
from neapfrost.services.words.saying import Saying

#: Points to which a trace is thinned for the page.
TRACE_POINTS = 800
#: A closed circuit that misses its start by this share of its length is said not to close.
OPEN_SHARE = 0.05


@dataclass(frozen=True)
class Prediction:
    """A predicted lap, as the core has it and as a document; `marks` are what one can see."""

    driven: DrivenLap
    marks: tuple[Mark, ...]
    notes: tuple[Note, ...]
    result: ResultDocument


def predict_lap(
    plan: PlanDocument, step_m: float = DEFAULT_STEP_M, trace_points: int | None = None
) -> ResultDocument:
    """Predict the lap of a plan; `trace_points` thins the trace to about that many points.

    Raises InputRefused for a step outside 0.1 … 10 m and for a lap that cannot be driven.
    """
    return predict(plan, step_m, trace_points).result


def recall(
    plan: PlanDocument, trace_points: int | None = None, known_as: Hashable = None
) -> Prediction:
    """The predicted lap of a plan, kept for when it is asked for again.

    It is kept by the plan's text, or by what is shorter and says as much.
    """
    known_as = plan.model_dump_json() if known_as is None else known_as
    return _recalled(_Same(known_as, plan), trace_points)


@dataclass(frozen=True)
class _Same:
    """A plan that is the same as another that is known as the same."""

    known_as: Hashable
    plan: PlanDocument = field(compare=False)


@lru_cache(maxsize=64)
def _recalled(same: _Same, trace_points: int | None) -> Prediction:
    return predict(same.plan, trace_points=trace_points)


def predict(
    plan: PlanDocument, step_m: float = DEFAULT_STEP_M, trace_points: int | None = None
) -> Prediction:
    """Predict the lap of a plan, with the core's own results beside the document.

    Raises InputRefused as `predict_lap` does.
    """
    made = planned(plan, step_m)
    plan, path, laid = made.plan, made.drive.path, made.laid
    lap = solve(made.drive)
    corners = corner_results(lap, made.marks)
    notes = _notes(plan, lap, corners, laid)
    use = FuelUse(**plan.car.fuel_use.model_dump())
    fuel_kg = fuel_burnt_kg(use, engine_work_j(lap, plan.car.engine.efficiency))
    trace = lap_trace(lap, corners, trace_points)
    result = ResultDocument(
        plan_name=plan.name,
        solver_version=neapfrost.__version__,
        step_m=step_m,
        lap_time_s=lap.lap_time_s,
        sector_times_s=list(sector_times_s(lap)),
        length_m=path.length_m,
        map_gap_m=path.closing_gap_m if path.closed else 0.0,
        top_speed_ms=float(lap.v_ms.max()),
        mean_speed_ms=mean_speed_ms(lap),
        full_throttle_pct=100.0 * full_throttle_share(lap),
        upshift_count=lap.upshift_count,
        downshift_count=sum(len(corner.downshifts) for corner in corners),
        brake_energy_kj=float(lap.brake_work_j[-1]) / 1000.0,
        air_density_kgm3=density_kgm3(made.drive.conditions, path.altitude_m),
        lift_cost_s=lap.lift_cost_s,
        fuel_kg=fuel_kg,
        fuel_litres=fuel_kg / use.kg_per_litre,
        corners=[_corner_part(corner, path, i) for i, corner in enumerate(corners)],
        line=None if laid is None else laid.told,
        trace=Trace(**{name: column.tolist() for name, column in vars(trace).items()}),
        warnings=[describe_note(note, Saying("metric")) for note in notes],
    )
    return Prediction(DrivenLap(lap, corners), tuple(made.marks), notes, result)


def _notes(
    plan: PlanDocument, lap: Lap, corners: tuple[CornerResult, ...], laid: OnRoad | None
) -> tuple[Note, ...]:
    """What a reader of the lap should know, from the lap, its line and its orders."""
    told = None if laid is None else laid.told
    lineless = told is not None and told.driven != told.wanted and told.driven == "centre"
    return (
        *lap_facts(lap, corners),
        *_open_ring(lap),
        *((NoLineYet(),) if lineless else ()),
        *((UnsettledLine(told.ended),) if told and told.ended not in (None, "settled") else ()),
        *_order_notes(plan, corners),
    )


def _open_ring(lap: Lap) -> tuple[OpenRing, ...]:
    """That a closed circuit hardly closes; driven radii leave it open by a little."""
    path = lap.path
    if not path.closed or path.closing_gap_m < OPEN_SHARE * path.length_m:
        return ()
    return (OpenRing(path.closing_gap_m, path.length_m),)


def _order_notes(plan: PlanDocument, corners: Sequence[CornerResult]) -> list[Note]:
    names = [corner.name for corner in corners]
    found: list[Note] = [LostOrder(name) for name in lost_orders(plan.corners, names)]
    for order in plan.corners:
        number = number_of(order.corner, order.name, names)
        if order.gear is None or number is None or corners[number].gear == order.gear:
            continue
        chosen = corners[number].action in ("brake", "lift")
        found.append(
            GearNotDriven(order.name, order.gear, corners[number].gear if chosen else None)
        )
    return found


def _corner_part(corner: CornerResult, path: Path, index: int) -> CornerResultPart:
    call = corner.board_call
    return CornerResultPart.model_validate(
        {
            **vars(corner),
            "angle_deg": _turned_deg(path, index),
            "downshifts": [vars(shift) for shift in corner.downshifts],
            "board_call": None if call is None else vars(call),
        }
    )


def _turned_deg(path: Path, index: int) -> float:
    """Angle that a corner turns through [degrees], without sign."""
    corner = path.corners[index]
    heading = np.interp(
        [corner.begins_at_m, min(corner.ends_at_m, path.length_m)], path.s_m, path.heading_rad
    )
    turned = heading[1] - heading[0]
    beyond = corner.ends_at_m - path.length_m
    if beyond > 0.0:
        turned += np.interp(beyond, path.s_m, path.heading_rad)
    return float(abs(np.degrees(turned)))
