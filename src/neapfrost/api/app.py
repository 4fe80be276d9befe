"""The application: routes under /api, and the page for everything else."""

from pathlib import Path
from typing import Annotated, Any, Literal

from fastapi import FastAPI, HTTPException, Query, Response
from fastapi.staticfiles import StaticFiles
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

import neapfrost
from neapfrost.api.errors import RESPONSES, install_error_handlers
from neapfrost.api.guard import Guard
from neapfrost.core.constants import DEFAULT_STEP_M
from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plan, demo_plans
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_rules import plan_faults
from neapfrost.formats.result import ResultDocument
from neapfrost.formats.schemas import json_schema
from neapfrost.services.predict import predict_lap
from neapfrost.services.what_if import Change, WhatIf, what_if

STATIC = Path(__file__).parent / "static"
TRACE_POINTS = 800


class PlanSummary(BaseModel):
    """A plan one can open."""

    id: str
    name: str
    car: str
    circuit: str
    length_m: float
    corner_count: int


class WhatIfRequest(BaseModel):
    """A plan and the one figure to be changed in it; without a change the plan is only solved."""

    plan: PlanDocument
    change: Change | None = None


class Health(BaseModel):
    """That the application is up, and which version."""

    status: Literal["ready"]
    version: str


def create_app(static: Path = STATIC) -> FastAPI:
    """Build the application; `static` is the folder of the built page."""
    app = FastAPI(
        title="Neapfrost",
        version=neapfrost.__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses=RESPONSES,
        generate_unique_id_function=lambda route: route.name,
    )
    install_error_handlers(app)

    @app.get("/api/health")
    def health() -> Health:
        return Health(status="ready", version=neapfrost.__version__)

    @app.get("/api/demo-plans")
    def list_demo_plans() -> list[PlanSummary]:
        return [
            PlanSummary(
                id=plan.id,
                name=plan.document.name,
                car=plan.document.car.name,
                circuit=plan.document.circuit.name,
                length_m=plan.length_m,
                corner_count=plan.corner_count,
            )
            for plan in demo_plans()
        ]

    @app.get("/api/demo-plans/{plan_id}")
    def get_demo_plan(plan_id: str) -> PlanDocument:
        plan = demo_plan(plan_id)
        if plan is None:
            raise HTTPException(404, f'there is no demo plan "{plan_id}"')
        return plan.document

    @app.post("/api/solve", response_model=ResultDocument)
    async def solve(
        plan: PlanDocument,
        step_m: Annotated[
            float, Query(description="Largest step of the grid [m]")
        ] = DEFAULT_STEP_M,
        full_trace: Annotated[bool, Query(description="Keep every point of the trace")] = False,
    ) -> Response:
        # Solving takes a core for some milliseconds; the event loop goes on meanwhile.
        return await run_in_threadpool(_solve, plan, step_m, None if full_trace else TRACE_POINTS)

    @app.post("/api/what-if", response_model=WhatIf)
    async def change_and_solve(request: WhatIfRequest) -> Response:
        return await run_in_threadpool(_what_if, request)

    @app.get("/api/schemas/{document}")
    def schema(document: str) -> dict[str, Any]:
        if document == "plan":
            return json_schema("plan")
        if document == "result":
            return json_schema("result")
        raise HTTPException(404, f'there is no document "{document}"; "plan" and "result" exist')

    @app.api_route("/api/{rest:path}", methods=["GET", "POST"], include_in_schema=False)
    def unknown(rest: str) -> Response:
        raise HTTPException(404, f'there is no route "/api/{rest}"')

    if static.is_dir():
        app.mount("/", StaticFiles(directory=static, html=True), name="page")
    app.add_middleware(Guard)
    return app


def _solve(plan: PlanDocument, step_m: float, trace_points: int | None) -> Response:
    _refuse_faults(plan)
    return _written(predict_lap(plan, step_m, trace_points))


def _what_if(request: WhatIfRequest) -> Response:
    _refuse_faults(request.plan)
    return _written(what_if(request.plan, request.change, TRACE_POINTS))


def _written(document: BaseModel) -> Response:
    """A document as it is: it was validated when it was made, and a trace is long."""
    return Response(document.model_dump_json(), media_type="application/json")


def _refuse_faults(plan: PlanDocument) -> None:
    """Rules between fields, which the typed body alone does not check."""
    faults = plan_faults(plan)
    if faults:
        raise InputRefused(faults)
