"""Routes of a plan's calls: at a corner, over the lap, in a race; bands, workings, edits."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, ConfigDict

from neapfrost.api.documents import written
from neapfrost.api.files import a_file
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.api.waiting import while_waited_for
from neapfrost.core.lap.solve import Stopped
from neapfrost.core.studies.first_laps import Confidence
from neapfrost.formats.document import UnitsSpoken
from neapfrost.formats.result import Revisions
from neapfrost.services.briefs.brief import BRIEF_MEDIA, Brief, BriefFormat, brief, brief_text
from neapfrost.services.corners.bands import PlanBands, plan_bands
from neapfrost.services.corners.calls import CornerCalls, corner_calls
from neapfrost.services.corners.map import CornerMap, corner_map
from neapfrost.services.corners.racing import Racing, racing
from neapfrost.services.corners.workings import WorkingPart, plan_workings
from neapfrost.services.corners.worth import LapWorth, lap_worth
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.plan_edit import PlanEdit, edit_plan
from neapfrost.services.plans.workbench import OpenPlan, spoken

router = APIRouter()


class EditPlanRequest(BaseModel):
    """An edit of what is the plan's own, and the revisions it was made on."""

    model_config = ConfigDict(extra="forbid")

    base: Revisions
    edit: PlanEdit


@router.get("/api/plans/{plan_id}/calls/{corner}")
def calls_at_corner(
    store: Kept, plan_id: int, corner: int, units: UnitsSpoken = "metric"
) -> CornerCalls:
    """Gear, hold or shift, flat or lift, braking: every alternative at a corner, priced."""
    return corner_calls(kept_plan(store, plan_id), corner, units)


@router.get("/api/plans/{plan_id}/corner-map/{corner}")
def map_of_corner(store: Kept, plan_id: int, corner: int) -> CornerMap:
    """A corner to scale with its line, edges, boards and marks."""
    return corner_map(kept_plan(store, plan_id), corner)


@router.get("/api/plans/{plan_id}/worth")
def worth_of_lap(store: Kept, plan_id: int, units: UnitsSpoken = "metric") -> LapWorth:
    """What a little more is worth at each corner, both rankings, linked corners."""
    return lap_worth(kept_plan(store, plan_id), units)


@router.get("/api/plans/{plan_id}/racing")
def racing_lap(store: Kept, plan_id: int, units: Spoken) -> Racing:
    """The corners with race fuel, worn tyres, close behind another, and all of it."""
    return racing(kept_plan(store, plan_id), units)


@router.get("/api/plans/{plan_id}/workings/{corner}")
def workings_at_corner(store: Kept, plan_id: int, corner: int) -> list[WorkingPart]:
    """The arithmetic behind every figure of a corner, and behind the lap time."""
    return plan_workings(kept_plan(store, plan_id), corner)


@router.get("/api/plans/{plan_id}/bands", response_model=PlanBands)
async def bands_of_plan(store: Kept, plan_id: int, request: Request) -> Response:
    """The 10-90 bands of the plan; the batch ends early when nobody waits for it any more."""
    try:
        found = await while_waited_for(
            request, lambda gone: plan_bands(kept_plan(store, plan_id), gone)
        )
    except Stopped:
        return Response(status_code=499)
    return written(found)


@router.post("/api/plans/{plan_id}/edit", response_model=OpenPlan)
def edit_kept_plan(store: Kept, plan_id: int, units: Spoken, request: EditPlanRequest) -> Response:
    """Ask for something at a corner, state what is uncertain, the race, notes on a corner."""
    return written(spoken(edit_plan(store, plan_id, request.base, request.edit), units))


@router.get("/api/plans/{plan_id}/brief")
def brief_of_plan(
    store: Kept,
    plan_id: int,
    units: UnitsSpoken = "metric",
    confidence: Confidence = "new",
    bands: bool = True,
) -> Brief:
    """The sheet that a driver takes along, a line for each corner."""
    return brief(store, plan_id, units, confidence, bands)


@router.get(
    "/api/plans/{plan_id}/brief/{form}",
    response_class=Response,
    responses=a_file("md", "csv", "json", "svg"),
)
def brief_as_text(
    store: Kept,
    plan_id: int,
    form: BriefFormat,
    units: UnitsSpoken = "metric",
    confidence: Confidence = "new",
    bands: Annotated[bool, Query(description="With the 10-90 bands")] = True,
) -> Response:
    """The same sheet as Markdown, CSV, JSON or SVG."""
    text = brief_text(brief(store, plan_id, units, confidence, bands), form)
    return Response(text, media_type=BRIEF_MEDIA[form])
