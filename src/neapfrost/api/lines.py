"""Routes about the line on a road: the road drawn, lines searched for, one taken into the plan."""

from typing import Annotated

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.formats.document import Key
from neapfrost.formats.plan import LineDocument, LineKind
from neapfrost.formats.result import Revisions
from neapfrost.services.lines.drawing import RoadDrawing, road_drawing
from neapfrost.services.lines.jobs import LineJob, LineJobs
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.road_lines import lines_beside
from neapfrost.services.plans.workbench import OpenPlan, keep_line, spoken

router = APIRouter()

ALL: tuple[LineKind, ...] = ("centre", "short", "widest", "late_apex", "fastest")


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class SearchRequest(_Body):
    """Which lines to look for, with which wishes; without them the plan's own."""

    kinds: Annotated[list[LineKind], Field(min_length=1, max_length=5)] = list(ALL)
    settings: LineDocument | None = None


class LineRequest(_Body):
    """The line wanted in the plan; its geometry from a search, or as it was."""

    base: Revisions
    settings: LineDocument
    job: Key | None = None


def searches(request: Request) -> LineJobs:
    """The searches of this application."""
    jobs: LineJobs = request.app.state.line_jobs
    return jobs


@router.get("/api/plans/{plan_id}/road", response_model=RoadDrawing)
def plan_road(store: Kept, plan_id: int) -> Response:
    """The plan's road to scale with the line driven on it."""
    return written(road_drawing(kept_plan(store, plan_id)))


@router.post("/api/plans/{plan_id}/lines", response_model=LineJob, status_code=202)
def search_lines(http: Request, store: Kept, plan_id: int, request: SearchRequest) -> Response:
    """Begin a search for lines on the plan's road."""
    plan = kept_plan(store, plan_id)
    if request.settings is not None:
        plan = plan.model_copy(update={"line": request.settings})
    known = lines_beside(store, plan_id)
    return written(searches(http).start(plan, request.kinds, known), 202)


@router.get("/api/lines/{job_id}", response_model=LineJob)
def look_at_search(http: Request, job_id: Key) -> Response:
    """How a search stands."""
    return written(searches(http).look(job_id))


@router.delete("/api/lines/{job_id}", response_model=LineJob)
def cancel_search(http: Request, job_id: Key) -> Response:
    """End a search; the best it had found stays."""
    return written(searches(http).cancel(job_id))


@router.post("/api/plans/{plan_id}/line", response_model=OpenPlan)
def take_line(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: LineRequest
) -> Response:
    """Take a line into the plan."""
    computed = None
    if request.job is not None and request.settings.kind != "centre":
        computed = searches(http).line_of(request.job, request.settings.kind)
    return written(
        spoken(keep_line(store, plan_id, request.base, request.settings, computed), units)
    )
