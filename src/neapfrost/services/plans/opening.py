"""Which plan the page opens with."""

from pydantic import BaseModel

from neapfrost.services.plans.workbench import OpenPlan, open_plan
from neapfrost.store.database import Store, reading
from neapfrost.store.items import list_items


class Opening(BaseModel):
    """The plan that the page opens with; null where no plan is kept."""

    plan: OpenPlan | None


def opening(store: Store, wanted: int | None = None) -> Opening:
    """Open the plan that is wanted, else, or where that is not kept, the first there is."""
    with reading(store) as session:
        kept = {item.id for item in list_items(session, "plan")}
    chosen = wanted if wanted in kept else min(kept, default=None)
    return Opening(plan=None if chosen is None else open_plan(store, chosen))
