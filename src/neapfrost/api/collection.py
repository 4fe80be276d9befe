"""Routes of everything that is kept: lists, copies, deletion, the demo world."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from neapfrost.api.plans import Kept, MadePlan
from neapfrost.demo.plans import demo_plans
from neapfrost.demo.runs import DEMO_RUNS
from neapfrost.demo.weather import demo_weathers
from neapfrost.services.logbook.simulated_kept import drive_runs_once
from neapfrost.services.plans.collection import (
    ListedRevision,
    delete,
    duplicate,
    restore,
    revisions_of,
)
from neapfrost.services.plans.exchange import import_once
from neapfrost.services.plans.listing import Listed, listed
from neapfrost.services.plans.weather_kept import give_weather_once
from neapfrost.store.database import Store
from neapfrost.store.tables import Kind

router = APIRouter()
DEMO_MARK, DEMO_WEATHER_MARK, DEMO_RUNS_MARK = "demo-plans", "demo-weather", "demo-runs"


def put_demo_world(store: Store) -> None:
    """Put what was never put there of the demo world into a store."""
    import_once(store, DEMO_MARK, ((plan.id, plan.document) for plan in demo_plans()))
    give_weather_once(store, DEMO_WEATHER_MARK, demo_weathers())
    drive_runs_once(store, DEMO_RUNS_MARK, DEMO_RUNS)


class MadeCopy(BaseModel):
    """A copy that was made."""

    id: int


@router.get("/api/library/{kind}")
def list_kind(
    store: Kept,
    kind: Kind,
    search: Annotated[str, Query(max_length=200)] = "",
    deleted: bool = False,
) -> list[Listed]:
    """Items of a kind, the last changed first."""
    return listed(store, kind, search, deleted)


@router.get("/api/library/{kind}/{item_id}/revisions")
def list_revisions(store: Kept, kind: Kind, item_id: int) -> list[ListedRevision]:
    """Revisions of an item, the newest first."""
    return revisions_of(store, kind, item_id)


@router.post("/api/library/{kind}/{item_id}/copy", status_code=201)
def copy_item(store: Kept, kind: Kind, item_id: int, own_parts: bool = False) -> MadeCopy:
    """Copy an item; a plan with `own_parts` gets copies of its car, circuit and conditions."""
    return MadeCopy(id=duplicate(store, kind, item_id, own_parts))


@router.delete("/api/library/{kind}/{item_id}", status_code=204)
def delete_kept(store: Kept, kind: Kind, item_id: int) -> Response:
    """Delete an item; it can be brought back."""
    delete(store, kind, item_id)
    return Response(status_code=204)


@router.post("/api/library/{kind}/{item_id}/restore", status_code=204)
def restore_kept(store: Kept, kind: Kind, item_id: int) -> Response:
    """Bring a deleted item back."""
    restore(store, kind, item_id)
    return Response(status_code=204)


@router.post("/api/demo", status_code=201)
def open_demo(store: Kept) -> MadePlan:
    """Put the demo plans that were never put there into the store; names the one to open."""
    put_demo_world(store)
    plans = listed(store, "plan")
    return MadePlan(plan_id=min(plan.id for plan in plans))
