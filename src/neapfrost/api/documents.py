"""Routes that keep nothing: solve, what-if, schemas."""

import logging
from asyncio import wrap_future
from collections.abc import Callable
from concurrent.futures.process import BrokenProcessPool
from functools import partial
from typing import Annotated, Any

from fastapi import APIRouter, HTTPException, Query, Request, Response
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

from neapfrost.core.constants import DEFAULT_STEP_M
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_rules import plan_faults
from neapfrost.formats.result import ResultDocument
from neapfrost.formats.schemas import DOCUMENTS, DocumentName, json_schema
from neapfrost.services.laps.predict import TRACE_POINTS, predict_lap
from neapfrost.services.laps.solver_processes import (
    Solvers,
    answer_what_if,
    ready,
)
from neapfrost.services.laps.what_if import WhatIf, WhatIfRequest
from neapfrost.services.roads.road import is_road

LOG = logging.getLogger(__name__)

router = APIRouter()


@router.post("/api/solve", response_model=ResultDocument)
async def solve(
    plan: PlanDocument,
    step_m: Annotated[float, Query(description="Largest step of the grid [m]")] = DEFAULT_STEP_M,
    full_trace: Annotated[bool, Query(description="Include every point of the trace")] = False,
) -> Response:
    """Predict the lap of a plan document."""
    # Solving takes a core for some milliseconds; the event loop goes on meanwhile.
    return await run_in_threadpool(_solve, plan, step_m, None if full_trace else TRACE_POINTS)


@router.post("/api/what-if", response_model=WhatIf)
async def change_and_solve(http: Request, request: WhatIfRequest) -> Response:
    """Predict the lap of a plan document with figures changed."""
    answer = partial(answer_what_if, request.model_dump_json())
    return answered(await solved_apart(http.app.state.solvers, answer))


def answered(answer: str | list[Fault]) -> Response:
    """What-if's answer as it is, or its faults."""
    if not isinstance(answer, str):
        raise InputRefused(answer)
    return Response(answer, media_type="application/json")


@router.get("/api/schemas/{document}")
def schema(document: Key) -> dict[str, Any]:
    """JSON Schema of a published document."""
    known: dict[str, DocumentName] = {name: name for name in DOCUMENTS}
    if document in known:
        return json_schema(known[document])
    exist = ", ".join(f'"{name}"' for name in known)
    raise HTTPException(404, f'there is no document "{document}"; {exist} exist')


def written(document: BaseModel, status: int = 200) -> Response:
    """A document as it is: it was validated when it was made, and a trace is long."""
    return Response(document.model_dump_json(), status, media_type="application/json")


def refuse_faults(plan: PlanDocument) -> None:
    """Rules between fields, which the typed body alone does not check."""
    faults = plan_faults(plan)
    if faults:
        raise InputRefused(faults)


def _solve(plan: PlanDocument, step_m: float, trace_points: int | None) -> Response:
    refuse_faults(plan)
    if is_road(plan):
        # The search for a line loads a solver of its own, which most plans do without.
        from neapfrost.services.lines.search import plan_with_line

        plan = plan_with_line(plan)
    return written(predict_lap(plan, step_m, trace_points))


async def solved_apart(
    solvers: Solvers | None, answer: Callable[[], str | list[Fault]]
) -> str | list[Fault]:
    """A what-if answered in a process of its own, or here while there is none."""
    if solvers is not None and ready(solvers):
        try:
            return await wrap_future(solvers.pool.submit(answer))
        except BrokenProcessPool:
            LOG.warning("A solver process ended unexpectedly; what-ifs go on without them.")
    return await run_in_threadpool(answer)
