"""Routes of the logbook: logs read, runs kept, and their laps held against the plan."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.services.logbook.runs import (
    LapAgainst,
    ListedRun,
    OpenRun,
    keep_run,
    lap_against,
    open_run,
    remark_run,
    run_csv,
    run_json,
    runs_of,
)
from neapfrost.services.logbook.simulated import SimulatedRun
from neapfrost.services.logbook.simulated_kept import keep_simulated

router = APIRouter()


class MadeRun(BaseModel):
    """A run that was kept."""

    run_id: int


class RemarkRequest(BaseModel):
    """What is said of a run; what is left out stays."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str | None, Field(min_length=1, max_length=200)] = None
    remarks: Annotated[str | None, Field(max_length=4000)] = None


@router.post(
    "/api/plans/{plan_id}/logs",
    status_code=201,
    response_model=MadeRun,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string"}}},
        }
    },
)
async def read_a_log(
    http: Request,
    store: Kept,
    plan_id: int,
    name: Annotated[str, Query(min_length=1, max_length=200, description="The file's name")],
) -> MadeRun:
    """Read a logger's file, find its laps on the plan's circuit, and keep both."""
    data = await http.body()
    run_id = await run_in_threadpool(keep_run, store, plan_id, name, data)
    return MadeRun(run_id=run_id)


@router.post("/api/plans/{plan_id}/logs/simulated", status_code=201)
def simulate_a_run(store: Kept, plan_id: int, wanted: SimulatedRun) -> MadeRun:
    """Have the simulated driver drive the plan, log it, and keep the run."""
    name = f"Simulated run {wanted.seed}"
    return MadeRun(run_id=keep_simulated(store, plan_id, name, wanted))


@router.get("/api/plans/{plan_id}/runs")
def plan_runs(store: Kept, plan_id: int) -> list[ListedRun]:
    """Runs on the plan's circuit, the last driven first."""
    return runs_of(store, plan_id)


@router.get("/api/runs/{run_id}", response_model=OpenRun)
def read_run(store: Kept, run_id: int) -> Response:
    """A run with its laps."""
    return written(open_run(store, run_id))


@router.put("/api/runs/{run_id}", response_model=OpenRun)
def say_of_run(store: Kept, run_id: int, request: RemarkRequest) -> Response:
    """Name a run anew, or write its remarks."""
    remark_run(store, run_id, request.name, request.remarks)
    return written(open_run(store, run_id))


@router.get("/api/runs/{run_id}/laps/{number}", response_model=LapAgainst)
def run_lap(store: Kept, run_id: int, number: int, units: Spoken) -> Response:
    """A lap of a run against the lap predicted for it."""
    return written(lap_against(store, run_id, number, units))


@router.get(
    "/api/runs/{run_id}/run.{kind}",
    response_class=Response,
    responses=a_file("csv", "json"),
)
def run_file(store: Kept, run_id: int, kind: Literal["csv", "json"]) -> Response:
    """A run as a document, or its laps as a table."""
    if kind == "json":
        return download(run_json(store, run_id), "run.json")
    return download(run_csv(store, run_id), "run.csv")
