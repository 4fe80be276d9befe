"""The demo plans, put together from one file a circuit, a car, conditions and a plan."""

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.plan import PLAN_FORMAT, PLAN_VERSION, CornerDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object, write_plan
from neapfrost.formats.plan_records import segment_record

#: The order in which they are offered; the first one opens.
PLAN_IDS = (
    "k4-samphire",
    "k4-dry",
    "k4-race-wind",
    "garganey-dry",
    "garganey-damp",
    "phalarope-qualifying",
    "phalarope-race-wind",
    "sanderling-fen",
    "dunlin-heath",
    "dunlin-heath-damp",
    "turnstone-qualifying",
    "turnstone-race-wind",
    "garganey-bowl",
    "turnstone-bowl",
    "dunlin-hill",
    "garganey-hill-drizzle",
    "sanderling-hill",
    "garganey-samphire",
    "dunlin-samphire",
)


@dataclass(frozen=True)
class DemoPlan:
    """A plan of the demo world under its short name."""

    id: str
    document: PlanDocument

    @property
    def length_m(self) -> float:
        """Length of the lap [m]."""
        segments = self.document.circuit.segments or []
        return sum(segment_length_m(segment_record(segment)) for segment in segments)

    @property
    def corner_count(self) -> int:
        """Number of corners."""
        segments = self.document.circuit.segments or []
        return sum(isinstance(segment, CornerDocument) for segment in segments)


@cache
def demo_plans() -> tuple[DemoPlan, ...]:
    """Every demo plan, in the order in which they are offered."""
    return tuple(DemoPlan(plan_id, composed(plan_id)) for plan_id in PLAN_IDS)


def demo_plan(plan_id: str) -> DemoPlan | None:
    """The demo plan with a short name; None where there is none."""
    return next((plan for plan in demo_plans() if plan.id == plan_id), None)


def write_demo_plans(folder: Path) -> list[Path]:
    """Write every demo plan as a plan document into a folder; returns the files."""
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    for plan in demo_plans():
        path = folder / f"{plan.id}.json"
        path.write_bytes(write_plan(plan.document))
        written.append(path)
    return written


def line_names() -> list[tuple[str, str]]:
    """The plans that come with a computed line, and the line's short name."""
    found = ((plan_id, _read("plans", plan_id).get("line")) for plan_id in PLAN_IDS)
    return [(plan_id, str(name)) for plan_id, name in found if name is not None]


def composed(plan_id: str, with_line: bool = True) -> PlanDocument:
    """A demo plan put together from its files; its line may be left out."""
    plan = _read("plans", plan_id)
    line = None
    if with_line and "line" in plan:
        line = {"kind": "fastest", "computed": _read("lines", plan["line"])}
    return plan_from_object(
        {
            "format": PLAN_FORMAT,
            "version": PLAN_VERSION,
            "name": plan["name"],
            "car": {**_read("cars", plan["car"]), "fuel_kg": plan["fuel_kg"]},
            "circuit": _read("circuits", plan["circuit"]),
            "conditions": _read("conditions", plan["conditions"]),
            "driver": plan["driver"],
            "line": line,
            "setup": plan.get("setup"),
            "race": plan.get("race", {}),
        }
    )


def _read(kind: str, name: str) -> dict[str, Any]:
    text = (files(__package__) / "data" / kind / f"{name}.json").read_text(encoding="utf-8")
    value: dict[str, Any] = json.loads(text)
    return value
