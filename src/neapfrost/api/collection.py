"""Routes of everything that is kept: lists, copies, deletion, the demo world."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from neapfrost.api.plans import Kept, MadePlan
from neapfrost.demo.plans import demo_plans
from neapfrost.demo.practice import PRACTICE
from neapfrost.demo.season import SEASON, season_log, season_measured
from neapfrost.demo.weather import demo_weathers
from neapfrost.services.drill.given_practice import (
    GivenEvening,
    GivenPractice,
    keep_practice_once,
)
from neapfrost.services.logbook.given_season import GivenEvent, GivenRun, keep_season_once
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
from neapfrost.store.database import Store, now
from neapfrost.store.tables import Kind

router = APIRouter()
DEMO_MARK, DEMO_WEATHER_MARK = "demo-plans", "demo-weather"
DEMO_SEASON_MARK, DEMO_PRACTICE_MARK = "demo-season", "demo-practice"


def put_demo_world(store: Store) -> None:
    """Put what was never put there of the demo world into a store."""
    import_once(store, DEMO_MARK, ((plan.id, plan.document) for plan in demo_plans()))
    give_weather_once(store, DEMO_WEATHER_MARK, demo_weathers())
    keep_season_once(store, DEMO_SEASON_MARK, _season())
    keep_practice_once(store, DEMO_PRACTICE_MARK, _practice(), now())


def _practice() -> GivenPractice:
    """Somebody in the demo world who learns the plan that opens first."""
    names = {plan.id: plan.document.name for plan in demo_plans()}
    return GivenPractice(
        driver=PRACTICE.driver,
        plan=names[PRACTICE.plan_id],
        seed=PRACTICE.seed,
        evenings=[GivenEvening(*evening) for evening in PRACTICE.evenings],
    )


def _season() -> list[GivenEvent]:
    """The demo world's season, as the logbook takes it in."""
    names = {plan.id: plan.document.name for plan in demo_plans()}
    return [
        GivenEvent(
            name=event.name,
            plan=names[event.plan_id],
            held_on=event.held_on,
            sessions=event.sessions,
            remarks=event.remarks,
            runs=[
                GivenRun(
                    name=run.name,
                    session=run.session,
                    driven_at=f"{event.held_on}T{run.clock}:00",
                    log=season_log(event, number) if run.typed is None else None,
                    measured=season_measured(event, number) if run.typed is None else {},
                    typed=run.typed or "",
                    said={
                        **({} if run.fuel_kg is None else {"fuel_out_kg": run.fuel_kg}),
                        **run.said,
                    },
                )
                for number, run in enumerate(event.runs)
            ],
        )
        for event in SEASON
    ]


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
