"""Routes of one kept plan: open, keep changes, undo, redo, history, baseline, out as documents."""

from collections.abc import Hashable
from functools import partial
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool

from neapfrost.api.answers import Answer, Answers, Work, answer_to, foresee
from neapfrost.api.documents import answered, solved_apart, written
from neapfrost.api.files import a_file
from neapfrost.api.spoken import Spoken
from neapfrost.core.studies.first_laps import Confidence
from neapfrost.formats.corner_table import corner_table_text
from neapfrost.formats.document import Name, Text, UnitsSpoken
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import read_plan
from neapfrost.formats.result import ResultDocument, Revisions
from neapfrost.services.circuits.circuit_edit import CircuitEdit
from neapfrost.services.corners.first_laps import FirstLaps, first_laps
from neapfrost.services.laps.figures import Change
from neapfrost.services.laps.solver_processes import answer_kept_what_if, processes_ready
from neapfrost.services.laps.what_if import AskedOfKept, ForeseenWhatIfs, KeptWhatIf, WhatIf
from neapfrost.services.plans.collection import NewPlan, add_plan
from neapfrost.services.plans.exchange import Imported, import_plan, kept_plan
from neapfrost.services.plans.first_steps import FirstPlan, first_plan
from neapfrost.services.plans.history import HistoryStep, history
from neapfrost.services.plans.new_layout import new_layout
from neapfrost.services.plans.opening import Opening, opening
from neapfrost.services.plans.workbench import (
    Choice,
    OpenPlan,
    choose,
    drop_baseline,
    keep_changes,
    keep_circuit_edits,
    open_plan,
    pin_baseline,
    plan_text_at,
    predict_at,
    redo,
    spoken,
    undo,
)
from neapfrost.store.database import Store

router = APIRouter()


def kept(request: Request) -> Store:
    """The store the application was made with."""
    store: Store = request.app.state.store
    return store


Kept = Annotated[Store, Depends(kept)]


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class KeepRequest(_Body):
    """Changed figures, and the revisions they were made on."""

    base: Revisions
    changes: list[Change]


class EditCircuitRequest(_Body):
    """Edits of the sheet of straights and corners, and the revisions they were made on."""

    base: Revisions
    edits: Annotated[list[CircuitEdit], Field(min_length=1, max_length=50)]


class ChooseRequest(_Body):
    """A choice, and the revisions it was made on."""

    base: Revisions
    choice: Choice


class LayoutRequest(_Body):
    """The name of a new layout of the plan's venue, and the revisions it is made from."""

    base: Revisions
    name: Annotated[Name, Field(min_length=1)]


class BaselineRequest(_Body):
    """Which plan to compare with; without revisions as it stands now."""

    plan_id: int
    revisions: Revisions | None = None
    title: Text | None = None


class MadePlan(BaseModel):
    """A plan that was made."""

    plan_id: int


@router.post("/api/plans", status_code=201)
def make_plan(store: Kept, wanted: NewPlan) -> MadePlan:
    """Make a plan of kept parts."""
    return MadePlan(plan_id=add_plan(store, wanted))


@router.post("/api/plans/first", status_code=201)
def make_first_plan(store: Kept, wanted: FirstPlan) -> MadePlan:
    """Make a first car, circuit and conditions, and a plan of them."""
    return MadePlan(plan_id=import_plan(store, first_plan(wanted)).plan_id)


@router.post(
    "/api/plans/import",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/json": {"schema": {"type": "object"}}},
        }
    },
)
async def import_document(store: Kept, request: Request) -> Imported:
    """Keep a plan document. The file is read here as it is, so that faults name line and column."""
    data = await request.body()
    return await run_in_threadpool(lambda: import_plan(store, read_plan(data)))


@router.get("/api/opening", response_model=Opening)
def open_first(store: Kept, units: Spoken, plan: int | None = None) -> Response:
    """The plan that is wanted with its lap, else the first that is kept: all that opens a page."""
    opened = opening(store, plan).plan
    return written(Opening(plan=None if opened is None else spoken(opened, units)))


@router.get("/api/plans/{plan_id}", response_model=OpenPlan)
def open_kept_plan(store: Kept, plan_id: int, units: Spoken) -> Response:
    """A plan with its lap, set against its baseline."""
    return written(spoken(open_plan(store, plan_id), units))


@router.post("/api/plans/{plan_id}/changes", response_model=OpenPlan)
def keep_plan_changes(store: Kept, plan_id: int, units: Spoken, request: KeepRequest) -> Response:
    """Keep changed figures."""
    return written(spoken(keep_changes(store, plan_id, request.base, request.changes), units))


@router.post("/api/plans/{plan_id}/circuit", response_model=OpenPlan)
def edit_circuit(store: Kept, plan_id: int, units: Spoken, request: EditCircuitRequest) -> Response:
    """Edit the circuit's sheet."""
    return written(spoken(keep_circuit_edits(store, plan_id, request.base, request.edits), units))


@router.post("/api/plans/{plan_id}/layouts", status_code=201)
def make_layout(store: Kept, plan_id: int, request: LayoutRequest) -> MadePlan:
    """Make another layout of the plan's venue, sharing all of its road, and a plan on it."""
    return MadePlan(plan_id=new_layout(store, plan_id, request.base, request.name))


@router.post("/api/plans/{plan_id}/choice", response_model=OpenPlan)
def make_choice(store: Kept, plan_id: int, units: Spoken, request: ChooseRequest) -> Response:
    """Choose or rename parts, pin revisions, rename the plan."""
    return written(spoken(choose(store, plan_id, request.base, request.choice), units))


@router.post("/api/plans/{plan_id}/undo", response_model=OpenPlan)
def undo_step(store: Kept, plan_id: int, units: Spoken, force: bool = False) -> Response:
    """Take back the last step."""
    return written(spoken(undo(store, plan_id, force), units))


@router.post("/api/plans/{plan_id}/redo", response_model=OpenPlan)
def redo_step(store: Kept, plan_id: int, units: Spoken, force: bool = False) -> Response:
    """Do the last step that was taken back again."""
    return written(spoken(redo(store, plan_id, force), units))


@router.get("/api/plans/{plan_id}/history")
def plan_history(store: Kept, plan_id: int) -> list[HistoryStep]:
    """What was done to the plan, and what each step was worth."""
    return history(store, plan_id)


@router.post("/api/plans/{plan_id}/what-if", response_model=WhatIf)
async def change_kept_and_solve(
    http: Request, store: Kept, plan_id: int, request: KeptWhatIf
) -> Response:
    """Predict the lap of a kept plan with figures changed; nothing is written.

    The plan stands at the revisions that are named, and so does what it is set against.
    """
    asked, work = _what_if(http, store, plan_id, request, request.changes)
    return answered(await answer_to(http.app.state.answers, asked, work))


@router.post("/api/plans/{plan_id}/foresee", status_code=204)
async def work_ahead(
    http: Request, store: Kept, plan_id: int, request: ForeseenWhatIfs
) -> Response:
    """Work out what-ifs that will most likely be asked next, as long as a process is free."""
    answers: Answers = http.app.state.answers
    answers.processes = processes_ready(http.app.state.solvers)
    coming = [_what_if(http, store, plan_id, request, changes) for changes in request.ways]
    foresee(answers, coming)
    return Response(status_code=204)


def _what_if(
    http: Request, store: Store, plan_id: int, request: AskedOfKept, changes: list[Change]
) -> tuple[Hashable, Work]:
    """What tells a what-if of a kept plan from others, and what answers it."""
    against, units = request.against, request.units

    def texts() -> tuple[str, str | None]:
        return (
            plan_text_at(store, plan_id, request.revisions),
            None if against is None else plan_text_at(store, against.plan_id, against.revisions),
        )

    async def work() -> Answer:
        plan, other = await run_in_threadpool(texts)
        answer = partial(answer_kept_what_if, plan, other, changes, units)
        return await solved_apart(http.app.state.solvers, answer)

    return (plan_id, request.revisions, tuple(changes), against, units), work


@router.put("/api/plans/{plan_id}/baseline", response_model=OpenPlan)
def set_baseline(store: Kept, plan_id: int, units: Spoken, request: BaselineRequest) -> Response:
    """Compare the plan's lap with another."""
    return written(
        spoken(
            pin_baseline(store, plan_id, request.plan_id, request.revisions, request.title), units
        )
    )


@router.delete("/api/plans/{plan_id}/baseline", response_model=OpenPlan)
def clear_baseline(store: Kept, plan_id: int, units: Spoken) -> Response:
    """Compare the plan's lap with nothing."""
    return written(spoken(drop_baseline(store, plan_id), units))


@router.get("/api/plans/{plan_id}/document")
def plan_document(store: Kept, plan_id: int) -> PlanDocument:
    """The plan document."""
    return kept_plan(store, plan_id)


@router.get("/api/plans/{plan_id}/result", response_model=ResultDocument)
def plan_result(
    store: Kept,
    plan_id: int,
    car: Annotated[int | None, Query(description="Revision; the newest if left out")] = None,
    circuit: int | None = None,
    conditions: int | None = None,
    plan: int | None = None,
) -> Response:
    """The result document of a plan, as it stands or at stated revisions."""
    at = Revisions(car=car, circuit=circuit, conditions=conditions, plan=plan)
    return written(predict_at(store, plan_id, None if at == Revisions() else at))


@router.get("/api/plans/{plan_id}/first-laps")
def plan_first_laps(
    store: Kept, plan_id: int, units: Spoken, confidence: Confidence = "new"
) -> FirstLaps:
    """Laps to begin with, safely earlier and slower, step by step up to the plan."""
    return first_laps(kept_plan(store, plan_id), confidence, units)


@router.get("/api/plans/{plan_id}/corners", response_class=Response, responses=a_file("csv"))
def plan_corners(
    store: Kept,
    plan_id: int,
    units: UnitsSpoken = "metric",
    separator: Annotated[str, Query(pattern="^(comma|tab)$")] = "comma",
) -> Response:
    """The corner table as CSV, or with tabs for a spreadsheet's clipboard."""
    text = corner_table_text(predict_at(store, plan_id), units, "\t" if separator == "tab" else ",")
    return Response(text, media_type="text/csv; charset=utf-8")
