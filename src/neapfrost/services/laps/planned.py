"""From a plan document to everything its lap is solved from, in one place."""

from dataclasses import dataclass
from functools import lru_cache

from neapfrost.core.constants import DEFAULT_STEP_M, STEP_RANGE_M
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.boards import Mark
from neapfrost.core.lap.drive import Drive
from neapfrost.core.line.driven import DrivenLine
from neapfrost.core.path.build import Path, build_path
from neapfrost.formats.document import text_of
from neapfrost.formats.plan import CircuitDocument, PlanDocument
from neapfrost.formats.plan_records import (
    circuit_record,
    conditions_record,
    driver_record,
    mark_records,
    vehicle_record,
)
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.orders import order_records, with_driven_radii
from neapfrost.services.roads.road import OnRoad, driven_path, is_road, on_road, to_line


@dataclass(frozen=True, eq=False)
class Planned:
    """A plan with all that is in effect in it, its drive, its marks, and the line on its road."""

    plan: PlanDocument
    drive: Drive
    marks: list[Mark]
    laid: OnRoad | None


def planned(plan: PlanDocument, step_m: float = DEFAULT_STEP_M) -> Planned:
    """What a plan's lap is solved from: its setup, driven radii, line and orders in effect.

    Raises InputRefused for a step outside 0.1 … 10 m, and where the vehicle does not fit its road.
    """
    low, high = STEP_RANGE_M
    if not low <= step_m <= high:
        raise InputRefused(
            [Fault("step_m", f"{step_m:g} was given; between {low:g} and {high:g} m is allowed")]
        )
    plan = with_driven_radii(in_effect(plan))
    if is_road(plan):
        laid = on_road(plan)
        path = _path_on_road(laid.line, text_of(plan.circuit), step_m)
        marks = mark_records(plan.circuit, to_line(laid))
        return Planned(plan, _drive(plan, path), marks, laid)
    path = _path(text_of(plan.circuit), step_m)
    return Planned(plan, _drive(plan, path), mark_records(plan.circuit), None)


def drive_on_line(plan: PlanDocument, line: DrivenLine, step_m: float = DEFAULT_STEP_M) -> Drive:
    """A plan's drive on a line of its road that it may not have: all else as `planned` has it."""
    plan = in_effect(plan)
    return _drive(plan, driven_path(plan.circuit, line, step_m))


def _drive(plan: PlanDocument, path: Path) -> Drive:
    return Drive(
        path=path,
        vehicle=vehicle_record(plan.car),
        conditions=conditions_record(plan.conditions),
        driver=driver_record(plan.driver),
        orders=tuple(order_records(plan.corners, path)),
    )


@lru_cache(maxsize=16)
def _path(circuit_json: str, step_m: float) -> Path:
    """The path of a circuit document; kept, since most changes leave the circuit alone."""
    return build_path(circuit_record(CircuitDocument.model_validate_json(circuit_json)), step_m)


@lru_cache(maxsize=16)
def _path_on_road(line: DrivenLine, circuit_json: str, step_m: float) -> Path:
    """As `_path`, along a line; lines are kept too, and told apart by being the same one."""
    return driven_path(CircuitDocument.model_validate_json(circuit_json), line, step_m)
