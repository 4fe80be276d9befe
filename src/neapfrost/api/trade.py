"""Routes about what to trade for what: axes, sweeps, maps of two figures, rankings."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.core.units import Units
from neapfrost.formats.document import Key, UnitsSpoken
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import Revisions
from neapfrost.services.briefs.event import (
    Event,
    OtherPlan,
    event,
    event_csv,
    event_markdown,
    others_of,
)
from neapfrost.services.plans.exchange import kept_car, kept_plan
from neapfrost.services.plans.taken import take_settings
from neapfrost.services.plans.weather_kept import record_along
from neapfrost.services.plans.workbench import OpenPlan, spoken
from neapfrost.services.studies.drawing import study_svg
from neapfrost.services.studies.jobs import StudyJob, StudyJobs
from neapfrost.services.studies.tables import table_csv
from neapfrost.services.trade.axes import Axis, Setting, as_settings, axes_of
from neapfrost.services.trade.gears import GearsRequest, gears_course
from neapfrost.services.trade.grid import GridRequest, Limits, grid_course
from neapfrost.services.trade.ranking import RankRequest, RankStep, rank_course, rank_steps
from neapfrost.services.trade.run import Course
from neapfrost.services.trade.search import SearchRequest, search_course
from neapfrost.services.trade.sweep import SweepRequest, sweep_course
from neapfrost.services.weather.moments import weighed_moments
from neapfrost.services.weather.winds import WindLap, WindsRequest, wind_lap, winds_course

router = APIRouter()

Bound = Annotated[float | None, Query(ge=0, allow_inf_nan=False)]


def studies(request: Request) -> StudyJobs:
    """The studies of this application."""
    jobs: StudyJobs = request.app.state.study_jobs
    return jobs


def begun(
    http: Request, plan_id: int, plan: PlanDocument, course: Course, units: Units
) -> Response:
    """A study that has begun."""
    return written(studies(http).start(plan_id, plan, course, units), 202)


@router.get("/api/plans/{plan_id}/axes")
def plan_axes(store: Kept, plan_id: int) -> list[Axis]:
    """Everything that can be varied in a plan."""
    return axes_of(kept_plan(store, plan_id))


@router.get("/api/plans/{plan_id}/steps")
def plan_steps(store: Kept, plan_id: int) -> list[RankStep]:
    """The figures of a plan that a ranking steps, with their usual steps."""
    return rank_steps(kept_plan(store, plan_id))


@router.post("/api/plans/{plan_id}/sweeps", response_model=StudyJob, status_code=202)
def begin_sweep(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: SweepRequest
) -> Response:
    """Begin to drive the plan along one figure."""
    plan = kept_plan(store, plan_id)
    rival = None if request.rival is None else kept_car(store, request.rival)
    return begun(http, plan_id, plan, sweep_course(plan, request, units, rival), units)


@router.post("/api/plans/{plan_id}/grids", response_model=StudyJob, status_code=202)
def begin_grid(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: GridRequest
) -> Response:
    """Begin to drive the plan over two figures."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, grid_course(plan, request), units)


@router.post("/api/plans/{plan_id}/rankings", response_model=StudyJob, status_code=202)
def begin_ranking(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: RankRequest
) -> Response:
    """Begin to step every figure of the plan."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, rank_course(plan, request, units), units)


@router.post("/api/plans/{plan_id}/searches", response_model=StudyJob, status_code=202)
def begin_search(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: SearchRequest
) -> Response:
    """Begin to drive every combination of what the car has."""
    plan = kept_plan(store, plan_id)
    moments = weighed_moments(plan, record_along(store, plan_id)) if request.over_session else []
    return begun(http, plan_id, plan, search_course(plan, request, units, moments), units)


@router.post("/api/plans/{plan_id}/gears", response_model=StudyJob, status_code=202)
def begin_gears(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: GearsRequest
) -> Response:
    """Begin to look for gears for the plan's circuit."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, gears_course(plan, request), units)


@router.post("/api/plans/{plan_id}/winds", response_model=StudyJob, status_code=202)
def begin_winds(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: WindsRequest
) -> Response:
    """Begin to look for the winds from which flat corners are flat no more."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, winds_course(request), units)


@router.get("/api/plans/{plan_id}/wind", response_model=WindLap)
def plan_wind(
    store: Kept,
    plan_id: int,
    speed_ms: Annotated[float, Query(ge=0, le=60, allow_inf_nan=False)],
    from_deg: Annotated[float, Query(ge=-360, le=360, allow_inf_nan=False)],
    gust_ms: Annotated[float, Query(ge=0, le=40, allow_inf_nan=False)] = 0.0,
) -> Response:
    """The plan's lap in a wind, against still air and with its gusts, corner by corner."""
    return written(wind_lap(kept_plan(store, plan_id), speed_ms, from_deg, gust_ms))


class TakeRequest(BaseModel):
    """Where a plan is to be put on some axes, and the revisions that was found on."""

    model_config = ConfigDict(extra="forbid")

    base: Revisions
    settings: Annotated[list[Setting], Field(min_length=1, max_length=4)]


@router.post("/api/plans/{plan_id}/take", response_model=OpenPlan)
def take_found(store: Kept, plan_id: int, units: Spoken, request: TakeRequest) -> Response:
    """Take what a study found into the plan, as one step."""
    settings = as_settings(request.settings)
    return written(spoken(take_settings(store, plan_id, request.base, settings, units), units))


With = Annotated[list[int], Query(alias="with")]


@router.get("/api/plans/{plan_id}/beside")
def plans_beside(store: Kept, plan_id: int) -> list[OtherPlan]:
    """Other plans on the same circuit."""
    return others_of(store, plan_id)


@router.get("/api/plans/{plan_id}/event", response_model=Event)
def plan_event(store: Kept, plan_id: int, units: Spoken, others: With = []) -> Response:  # noqa: B006 -- FastAPI copies it
    """The plan beside others on its circuit."""
    return written(event(store, plan_id, others, units))


@router.get(
    "/api/plans/{plan_id}/event.{kind}", response_class=Response, responses=a_file("csv", "md")
)
def event_file(
    store: Kept,
    plan_id: int,
    kind: Literal["csv", "md"],
    others: With = [],  # noqa: B006 -- FastAPI copies it
    units: UnitsSpoken = "metric",
) -> Response:
    """The event as one brief for all of its plans."""
    found = event(store, plan_id, others, units)
    text = event_csv(found, units) if kind == "csv" else event_markdown(found, units)
    return download(text, f"event.{kind}")


@router.get("/api/studies/{job_id}", response_model=StudyJob)
def look_at_study(
    http: Request,
    job_id: Key,
    top_speed_at_least_ms: Bound = None,
    top_rpm_at_most: Bound = None,
    fuel_at_most_litres: Bound = None,
) -> Response:
    """How a study stands; a map with its best within some limits."""
    limits = Limits(
        top_speed_at_least_ms=top_speed_at_least_ms,
        top_rpm_at_most=top_rpm_at_most,
        fuel_at_most_litres=fuel_at_most_litres,
    )
    return written(studies(http).look(job_id, limits))


@router.delete("/api/studies/{job_id}", response_model=StudyJob)
def end_study(http: Request, job_id: Key) -> Response:
    """End a study; what it has come to stays."""
    return written(studies(http).cancel(job_id))


@router.get(
    "/api/studies/{job_id}/study.{kind}",
    response_class=Response,
    responses=a_file("csv", "svg"),
)
def study_file(http: Request, job_id: Key, kind: Literal["csv", "svg"]) -> Response:
    """What a study has come to, as a table or as a picture; figures in SI."""
    job = studies(http).look(job_id)
    return download(table_csv(job) if kind == "csv" else study_svg(job), f"study.{kind}")
