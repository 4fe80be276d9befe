"""Routes of the race desk: the race planned, fuel saved, energy spent, places to pass, lanes."""

from typing import Literal

from fastapi import APIRouter, Request
from starlette.responses import Response

from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.api.trade import begun
from neapfrost.formats.document import UnitsSpoken
from neapfrost.formats.weather import WeatherRecordDocument
from neapfrost.services.logbook.for_races import measured_for_races
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.weather_kept import weather_of
from neapfrost.services.race.course import race_course
from neapfrost.services.race.energy import EnergyRequest, energy_course
from neapfrost.services.race.flap import flap_course
from neapfrost.services.race.lanes import LanesRequest, lanes_course
from neapfrost.services.race.passing import passing_course
from neapfrost.services.race.planning import RaceRequest
from neapfrost.services.race.saving import SavingRequest, saving_course
from neapfrost.services.race.sheet import sheet_csv, sheet_markdown
from neapfrost.services.race.work import work_course
from neapfrost.services.studies.jobs import StudyJob
from neapfrost.services.studies.race_alone import whole_race
from neapfrost.store.database import Store

router = APIRouter()


def record_of(store: Store, plan_id: int) -> WeatherRecordDocument | None:
    """The record of the weather that a plan is looked at along, None for none."""
    weather = weather_of(store, plan_id).weather
    return None if weather is None else weather.record


@router.post("/api/plans/{plan_id}/races", response_model=StudyJob, status_code=202)
def begin_race(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: RaceRequest
) -> Response:
    """Begin to plan the race: laps over grip and fuel, then the stops."""
    plan = kept_plan(store, plan_id)
    measured = measured_for_races(store, plan_id)
    course = race_course(plan, request, record_of(store, plan_id), measured)
    return begun(http, plan_id, plan, course, units)


@router.post("/api/plans/{plan_id}/savings", response_model=StudyJob, status_code=202)
def begin_saving(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: SavingRequest
) -> Response:
    """Begin to look for the cheapest way to save fuel."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, saving_course(plan, request, units), units)


@router.post("/api/plans/{plan_id}/deployments", response_model=StudyJob, status_code=202)
def begin_deployment(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: EnergyRequest
) -> Response:
    """Begin to look for where a store's energy is worth most."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, energy_course(plan, request), units)


@router.post("/api/plans/{plan_id}/flap", response_model=StudyJob, status_code=202)
def begin_flap(http: Request, store: Kept, plan_id: int, units: Spoken) -> Response:
    """Begin to weigh a flap in its zones."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, flap_course(plan), units)


@router.post("/api/plans/{plan_id}/passing", response_model=StudyJob, status_code=202)
def begin_passing(http: Request, store: Kept, plan_id: int, units: Spoken) -> Response:
    """Begin to look for places to pass."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, passing_course(plan, units), units)


@router.post("/api/plans/{plan_id}/tyre-work", response_model=StudyJob, status_code=202)
def begin_work(http: Request, store: Kept, plan_id: int, units: Spoken) -> Response:
    """Begin to look at what each tyre is worked with."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, work_course(plan, units), units)


@router.post("/api/plans/{plan_id}/lanes", response_model=StudyJob, status_code=202)
def begin_lanes(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: LanesRequest
) -> Response:
    """Begin to drive every lane of a banked circuit."""
    plan = kept_plan(store, plan_id)
    return begun(http, plan_id, plan, lanes_course(plan, request), units)


@router.get(
    "/api/plans/{plan_id}/race.{kind}",
    response_class=Response,
    responses=a_file("csv", "md", "json"),
)
def race_file(
    store: Kept, plan_id: int, kind: Literal["csv", "md", "json"], units: UnitsSpoken = "metric"
) -> Response:
    """The race sheet, as a file; figures in SI."""
    plan = kept_plan(store, plan_id)
    record, measured = record_of(store, plan_id), measured_for_races(store, plan_id)
    sheet = whole_race(plan, record, measured, units)
    if kind == "json":
        return download(sheet.model_dump_json(indent=2), "race.json")
    text = sheet_csv(sheet) if kind == "csv" else sheet_markdown(sheet, units)
    return download(text, f"race.{kind}")
