"""What was done to a plan, step by step, and what each step was worth."""

from datetime import UTC, datetime

from pydantic import BaseModel

from neapfrost.formats.result import Revisions
from neapfrost.store.database import Store, reading
from neapfrost.store.items import get_plan
from neapfrost.store.steps import list_steps


class HistoryStep(BaseModel):
    """One thing that was done, the revisions it led to, and what it was worth."""

    id: int
    label: str
    undone: bool
    made_at: datetime
    revisions: Revisions
    lap_time_s: float | None
    worth_s: float | None


def history(store: Store, plan_id: int) -> list[HistoryStep]:
    """Steps of a plan, the newest first, with what each was worth. Raises NotThere."""
    with reading(store) as session:
        get_plan(session, plan_id)
        return [
            HistoryStep(
                id=step.id,
                label=step.label,
                undone=step.state == "undone",
                made_at=step.made_at.replace(tzinfo=UTC),
                revisions=Revisions(
                    car=step.car,
                    circuit=step.circuit,
                    conditions=step.conditions,
                    plan=step.plan,
                ),
                lap_time_s=step.lap_after_s,
                worth_s=None
                if step.lap_after_s is None or step.lap_before_s is None
                else step.lap_after_s - step.lap_before_s,
            )
            for step in list_steps(session, plan_id)
        ]
