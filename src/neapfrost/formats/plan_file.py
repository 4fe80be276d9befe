"""Reading and writing plan documents."""

import json
from typing import Any, Literal

from neapfrost.core.errors import InputRefused
from neapfrost.formats.faults import validated
from neapfrost.formats.json_text import parse_json_object
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_rules import car_faults, plan_faults


def read_plan(data: bytes) -> PlanDocument:
    """Read a plan from a file's bytes. Raises InputRefused with every fault found."""
    return plan_from_object(parse_json_object(data))


def plan_from_object(value: dict[str, Any]) -> PlanDocument:
    """Validate a parsed plan document. Raises InputRefused with every fault found."""
    plan = validated(PlanDocument, value)
    faults = plan_faults(plan)
    if faults:
        raise InputRefused(faults)
    return plan


def with_part(
    plan: PlanDocument, part: Literal["car", "conditions", "driver"], value: dict[str, Any]
) -> PlanDocument:
    """A plan with its car, conditions or driver as another document has them.

    Only this part is looked at, and the rules that it has to keep. Raises InputRefused as
    `plan_from_object` does.
    """
    document = validated(type(getattr(plan, part)), value, part)
    changed = plan.model_copy(update={part: document})
    faults = car_faults(changed.car, changed.setup) if part == "car" else []
    if faults:
        raise InputRefused(faults)
    return changed


def write_plan(plan: PlanDocument) -> bytes:
    """Write a plan as indented JSON; reading it back gives the same plan."""
    text = json.dumps(plan.model_dump(mode="json"), indent=2, ensure_ascii=False)
    return (text + "\n").encode()
