"""Routes of what is learned: a fit begun as a study, taken into the plan, and its evidence."""

from typing import Annotated

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.api.trade import begun, studies
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.fit import FitDocument
from neapfrost.formats.result import Revisions
from neapfrost.services.logbook.fits import FitRequest, fit_course
from neapfrost.services.logbook.taking import (
    BlameChoice,
    KeptFit,
    TakenList,
    blame_choices,
    kept_fit,
    kept_fits,
    take_fit,
)
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.workbench import OpenPlan, spoken
from neapfrost.services.studies.jobs import StudyJob

router = APIRouter()


class TakeFitRequest(BaseModel):
    """Which fit is taken over, the revisions it was found on, and what is blamed for what."""

    model_config = ConfigDict(extra="forbid")

    base: Revisions
    job_id: Annotated[str, Field(max_length=64)]
    taken: TakenList


@router.post("/api/plans/{plan_id}/fits", response_model=StudyJob, status_code=202)
def begin_fit(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: FitRequest
) -> Response:
    """Begin to learn the plan's figures from some runs."""
    course = fit_course(store, plan_id, request, units)
    return begun(http, plan_id, kept_plan(store, plan_id), course, units)


@router.post("/api/plans/{plan_id}/fits/take", response_model=OpenPlan)
def take_a_fit(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: TakeFitRequest
) -> Response:
    """Take what was learned into the plan; the evidence is kept."""
    job = studies(http).look(request.job_id)
    if job.fit is None or job.plan_id != plan_id:
        raise InputRefused([Fault("job", "this plan has no fit of this name")])
    return written(spoken(take_fit(store, plan_id, request.base, job.fit, request.taken), units))


@router.get("/api/plans/{plan_id}/fits")
def fits_of_plan(store: Kept, plan_id: int) -> list[KeptFit]:
    """The evidence behind the plan's figures, the newest first."""
    return kept_fits(store, plan_id)


@router.get("/api/blames")
def all_blames() -> list[BlameChoice]:
    """What may be blamed for each figure."""
    return blame_choices()


@router.get("/api/fits/{fit_id}", response_model=FitDocument)
def read_fit(store: Kept, fit_id: int) -> Response:
    """The evidence of a change."""
    return written(kept_fit(store, fit_id))


@router.get("/api/fits/{fit_id}/fit.json", response_class=Response, responses=a_file("json"))
def fit_file(store: Kept, fit_id: int) -> Response:
    """The evidence as a document."""
    return download(kept_fit(store, fit_id).model_dump_json(indent=2) + "\n", "fit.json")
