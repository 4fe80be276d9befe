"""What a study found, taken into its plan as one step."""

from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import Revisions
from neapfrost.services.plans.workbench import OpenPlan, keep_document
from neapfrost.services.trade.axes import Settings, axis_named, put
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.trade import describe_value
from neapfrost.store.database import Store


def take_settings(
    store: Store, plan_id: int, base: Revisions, settings: Settings, units: Units = "metric"
) -> OpenPlan:
    """Put a plan somewhere on some axes, for good. Raises as `keep_changes` does."""
    say = Saying(units)

    def said(before: PlanDocument, _after: PlanDocument) -> list[str]:
        axes = [(axis_named(before, name), value) for name, value in settings]
        return [f"{axis.label}: {describe_value(axis, value, say)}" for axis, value in axes]

    return keep_document(store, plan_id, base, lambda plan: put(plan, settings), said)
