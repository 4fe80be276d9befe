"""Routes of the logbook: files looked at, runs kept and typed, events, and laps held together."""

from collections.abc import Callable
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.api.waiting import Watch, while_waited_for
from neapfrost.formats.document import Key
from neapfrost.services.logbook.against import LapAgainst, lap_against, plan_against
from neapfrost.services.logbook.changed import Changed, changed_since
from neapfrost.services.logbook.debrief import Debrief, debrief, debrief_markdown
from neapfrost.services.logbook.editing import RunEdit, edit_run
from neapfrost.services.logbook.events import (
    EventEdit,
    NewEvent,
    Season,
    edit_event,
    make_event,
    season,
)
from neapfrost.services.logbook.exports import channels_csv, run_csv, run_json
from neapfrost.services.logbook.history import CornerHistory, corner_history, history_csv
from neapfrost.services.logbook.keeping import (
    RunPlace,
    begin_run,
    keep_reading,
    remembered_columns,
    take_run,
)
from neapfrost.services.logbook.readings import (
    GivenFile,
    LogPreview,
    ReadingChoice,
    ReadingProgress,
    Readings,
)
from neapfrost.services.logbook.runs import OpenRun, open_run
from neapfrost.services.logbook.several import SeveralLaps, several
from neapfrost.services.logbook.simulated import SimulatedRun
from neapfrost.services.logbook.simulated_kept import keep_simulated
from neapfrost.services.plans.exchange import kept_plan

router = APIRouter()


class MadeRun(BaseModel):
    """A run that was kept."""

    run_id: int


class MadeEvent(BaseModel):
    """An event that was made."""

    event_id: int


Against = Annotated[
    str,
    Query(max_length=60, description="The lap it is compared with: plan, plan:3 or run:5:4"),
]


def readings(request: Request) -> Readings:
    """The logger's files that are being looked at."""
    held: Readings = request.app.state.readings
    return held


@router.post(
    "/api/plans/{plan_id}/readings",
    response_model=LogPreview,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
            },
        }
    },
)
async def look_at_a_log(
    http: Request,
    store: Kept,
    plan_id: int,
    name: Annotated[str, Query(min_length=1, max_length=200, description="The file's name")],
    watch: Watch = None,
) -> Response:
    """Read a logger's file and find its laps on the plan's circuit; nothing is kept yet."""
    data = await http.body()
    held = readings(http)

    def look(gone: Callable[[], bool]) -> LogPreview:
        plan = kept_plan(store, plan_id)
        known = remembered_columns(store)
        return held.look(GivenFile(plan_id, plan, name, data), known, watch, gone)

    return written(await while_waited_for(http, look))


@router.post("/api/readings/{reading_id}", response_model=LogPreview)
async def look_at_a_log_again(
    http: Request, store: Kept, reading_id: Key, choice: ReadingChoice, watch: Watch = None
) -> Response:
    """Look at a file once more with the channels in other columns."""
    held = readings(http)

    def look(gone: Callable[[], bool]) -> LogPreview:
        plan = kept_plan(store, held.known(reading_id).plan_id)
        return held.again(reading_id, plan, choice, watch, gone)

    return written(await while_waited_for(http, look))


@router.get("/api/readings/watch/{watch}")
def reading_progress(http: Request, watch: Key) -> ReadingProgress:
    """How far a file is that was sent under this name."""
    return readings(http).progress(watch)


@router.delete("/api/readings/watch/{watch}", status_code=204)
def stop_reading(http: Request, watch: Key) -> None:
    """Stop looking at a file."""
    readings(http).stop(watch)


@router.post("/api/readings/{reading_id}/keep", status_code=201)
def keep_a_log(http: Request, store: Kept, reading_id: Key, place: RunPlace) -> MadeRun:
    """Keep a file that was looked at, with its laps; columns chosen by hand are remembered."""
    held = readings(http)
    run_id = keep_reading(store, held.known(reading_id), place)
    held.forget(reading_id)
    return MadeRun(run_id=run_id)


@router.delete("/api/readings/{reading_id}", status_code=204)
def forget_a_log(http: Request, reading_id: Key) -> None:
    """Let go of a file."""
    readings(http).forget(reading_id)


class SimulationRequest(BaseModel):
    """A simulated run, and where it belongs."""

    wanted: SimulatedRun
    place: RunPlace | None = None


@router.post("/api/plans/{plan_id}/logs/simulated", status_code=201)
def simulate_a_run(store: Kept, plan_id: int, request: SimulationRequest) -> MadeRun:
    """Have the simulated driver drive the plan, log it, and keep the run."""
    name = f"Simulated run {request.wanted.seed}"
    run_id = keep_simulated(store, plan_id, name, request.wanted, request.place)
    return MadeRun(run_id=run_id)


@router.post("/api/plans/{plan_id}/runs", status_code=201)
def begin_a_run(store: Kept, plan_id: int, place: RunPlace) -> MadeRun:
    """Begin a run whose laps are typed."""
    return MadeRun(run_id=begin_run(store, plan_id, place))


@router.post(
    "/api/plans/{plan_id}/runs/document",
    status_code=201,
    response_model=MadeRun,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/json": {"schema": {"type": "object"}}},
        }
    },
)
async def take_a_run(http: Request, store: Kept, plan_id: int) -> MadeRun:
    """Take in a run document of somebody else's, as a benchmark or to be talked over."""
    data = await http.body()
    return MadeRun(run_id=await run_in_threadpool(take_run, store, plan_id, data))


@router.get("/api/plans/{plan_id}/season", response_model=Season)
def the_season(
    store: Kept, plan_id: int, search: Annotated[str, Query(max_length=200)] = ""
) -> Response:
    """Events with their sessions and runs; with words, the runs that hold them."""
    return written(season(store, plan_id, search))


@router.post("/api/plans/{plan_id}/events", status_code=201)
def make_an_event(store: Kept, plan_id: int, wanted: NewEvent) -> MadeEvent:
    """Make an event at the plan's circuit."""
    return MadeEvent(event_id=make_event(store, plan_id, wanted))


@router.put("/api/events/{event_id}", status_code=204)
def change_an_event(store: Kept, event_id: int, edit: EventEdit) -> None:
    """Name an event, date it, remark on it, or add a session."""
    edit_event(store, event_id, edit)


@router.get("/api/events/{event_id}/debrief", response_model=Debrief)
def event_debrief(store: Kept, event_id: int, units: Spoken) -> Response:
    """The event as it is talked over: a page for each run."""
    return written(debrief(store, event_id, units))


@router.get(
    "/api/events/{event_id}/debrief.{kind}",
    response_class=Response,
    responses=a_file("md"),
)
def event_debrief_file(store: Kept, event_id: int, kind: Literal["md"], units: Spoken) -> Response:
    """The debrief as text."""
    return download(debrief_markdown(debrief(store, event_id, units)), f"debrief.{kind}")


@router.get("/api/runs/{run_id}", response_model=OpenRun)
def read_run(store: Kept, run_id: int) -> Response:
    """A run with its laps."""
    return written(open_run(store, run_id))


@router.put("/api/runs/{run_id}", response_model=OpenRun)
def change_a_run(store: Kept, run_id: int, units: Spoken, edit: RunEdit) -> Response:
    """Write what is known of a run: its laps, marks, record, remarks, what was seen."""
    edit_run(store, run_id, edit, units)
    return written(open_run(store, run_id))


@router.get("/api/runs/{run_id}/changed", response_model=Changed)
def run_changed(store: Kept, run_id: int) -> Response:
    """What changed since the run before, what it should be worth, and what the clock said."""
    return written(changed_since(store, run_id))


@router.get("/api/runs/{run_id}/laps/{number}", response_model=LapAgainst)
def run_lap(
    store: Kept, run_id: int, number: int, units: Spoken, against: Against = "plan"
) -> Response:
    """A lap of a run against the lap predicted for it, or against a benchmark."""
    return written(lap_against(store, run_id, number, units, against))


@router.get("/api/plans/{plan_id}/against", response_model=LapAgainst)
def plan_beside_benchmark(store: Kept, plan_id: int, units: Spoken, lap: Against) -> Response:
    """The plan's own lap against a benchmark."""
    return written(plan_against(store, plan_id, lap, units))


@router.get(
    "/api/runs/{run_id}/laps/{number}/channels.csv",
    response_class=Response,
    responses=a_file("csv"),
)
def run_lap_channels(store: Kept, run_id: int, number: int) -> Response:
    """A lap's channels along the circuit."""
    return download(channels_csv(store, run_id, number), f"lap-{number}.csv")


@router.get("/api/laps", response_model=SeveralLaps)
def laps_together(
    store: Kept, units: Spoken, runs: Annotated[list[int], Query(min_length=1, max_length=30)]
) -> Response:
    """The timed laps of some runs together."""
    return written(several(store, runs, units))


@router.get("/api/plans/{plan_id}/corners/{corner}/history", response_model=CornerHistory)
def history_of_corner(store: Kept, plan_id: int, corner: int) -> Response:
    """Every lap ever logged or seen at a corner of the plan's circuit (0 is the first)."""
    return written(corner_history(store, plan_id, corner))


@router.get(
    "/api/plans/{plan_id}/corners/{corner}/history.csv",
    response_class=Response,
    responses=a_file("csv"),
)
def history_of_corner_file(store: Kept, plan_id: int, corner: int) -> Response:
    """A corner's history as a table."""
    return download(history_csv(corner_history(store, plan_id, corner)), "corner.csv")


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
