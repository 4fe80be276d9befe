"""Routes of the weather: records kept and read, the session along one, and the station."""

import json
from collections.abc import AsyncIterator
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, ConfigDict, Field
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.api.trade import begun
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import ConditionsDocument
from neapfrost.formats.result import Revisions
from neapfrost.formats.weather import ReadingDocument, WeatherRecordDocument
from neapfrost.formats.weather_csv import write_weather_csv
from neapfrost.formats.weather_file import write_weather
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.weather_kept import (
    KeptWeather,
    PlanWeather,
    WeatherChoice,
    add_weather,
    begin_weather,
    change_weather,
    choose_weather,
    kept_weather,
    record_along,
    take_conditions,
    type_forecasts,
    weather_of,
)
from neapfrost.services.plans.workbench import OpenPlan, spoken
from neapfrost.services.studies.jobs import StudyJob
from neapfrost.services.weather.figures import WEATHER_FIGURES, WeatherFigure
from neapfrost.services.weather.files import (
    WeatherPreview,
    WeatherText,
    preview,
    record_in,
    record_of,
)
from neapfrost.services.weather.moments import SessionRequest
from neapfrost.services.weather.session import session_course
from neapfrost.services.weather.since import Since, since_plan
from neapfrost.services.weather.station import (
    StationGone,
    StationLook,
    StationSettings,
    look_at_station,
    set_station,
    station_record,
    station_settings,
    with_threshold,
)
from neapfrost.services.weather.station_stream import heard_from
from neapfrost.services.weather.weathers import weathers_course

router = APIRouter()


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class ChangeRequest(_Body):
    """A record anew, and the revision it was made on."""

    base: int
    record: WeatherRecordDocument
    remark: Annotated[str, Field(max_length=200)] = "Changed"


class TakeWeatherRequest(_Body):
    """The conditions of a moment to be taken, what they are of, and the revisions they are for."""

    base: Revisions
    conditions: ConditionsDocument
    source: Annotated[str, Field(min_length=1, max_length=200)]


class TypedForecasts(BaseModel):
    """Forecasts in words, a line each."""

    model_config = ConfigDict(extra="forbid")

    text: Annotated[str, Field(max_length=5_000)]


class MadeWeather(BaseModel):
    """A record that was kept."""

    weather_id: int


@router.get("/api/weather-figures")
def weather_figures() -> list[WeatherFigure]:
    """The figures of a record of the weather, with their names and units."""
    return list(WEATHER_FIGURES)


@router.post("/api/weather/look", response_model=WeatherPreview)
def look_at_weather_text(text: WeatherText) -> Response:
    """Look at a file of weather before it is kept."""
    return written(preview(text))


@router.post("/api/weather/keep", status_code=201)
def keep_weather_text(store: Kept, text: WeatherText) -> MadeWeather:
    """Keep a file of weather as a record."""
    return MadeWeather(weather_id=add_weather(store, record_in(text), "From a file"))


@router.post("/api/weather", status_code=201)
def make_weather(store: Kept, record: WeatherRecordDocument) -> MadeWeather:
    """Keep a record."""
    return MadeWeather(weather_id=add_weather(store, record))


@router.get("/api/weather/{weather_id}", response_model=KeptWeather)
def read_kept_weather(store: Kept, weather_id: int, revision: int | None = None) -> Response:
    """A kept record, at its newest revision unless one is named."""
    return written(kept_weather(store, weather_id, revision))


@router.put("/api/weather/{weather_id}", response_model=KeptWeather)
def write_weather_anew(store: Kept, weather_id: int, request: ChangeRequest) -> Response:
    """Write a record anew as its next revision."""
    return written(change_weather(store, weather_id, request.base, request.record, request.remark))


@router.get(
    "/api/weather/{weather_id}/record.{kind}",
    response_class=Response,
    responses=a_file("csv", "json"),
)
def weather_file(store: Kept, weather_id: int, kind: Literal["csv", "json"]) -> Response:
    """A record as a document, or its measured readings as a table."""
    record = kept_weather(store, weather_id).record
    if kind == "json":
        return download(write_weather(record).decode(), "weather.json")
    return download(write_weather_csv(record.readings), "weather.csv")


@router.get("/api/plans/{plan_id}/weather", response_model=PlanWeather)
def plan_weather(store: Kept, plan_id: int) -> Response:
    """The record that a plan is looked at along."""
    return written(weather_of(store, plan_id))


@router.post("/api/plans/{plan_id}/weather", status_code=201)
def begin_plan_weather(store: Kept, plan_id: int) -> MadeWeather:
    """Begin a record that is typed, with the plan's own conditions as its first reading."""
    return MadeWeather(weather_id=begin_weather(store, plan_id))


@router.post("/api/plans/{plan_id}/weather/forecasts", status_code=201)
def type_plan_forecasts(store: Kept, plan_id: int, typed: TypedForecasts) -> MadeWeather:
    """Add forecasts typed in words to the plan's record, or to one that is begun for them."""
    return MadeWeather(weather_id=type_forecasts(store, plan_id, typed.text))


@router.put("/api/plans/{plan_id}/weather", response_model=PlanWeather)
def choose_plan_weather(store: Kept, plan_id: int, choice: WeatherChoice) -> Response:
    """Look at a plan along another record, or along none; follow the station or not."""
    return written(choose_weather(store, plan_id, choice))


@router.post("/api/plans/{plan_id}/sessions", response_model=StudyJob, status_code=202)
def begin_session(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: SessionRequest
) -> Response:
    """Begin to drive a lap every few minutes of the plan's record."""
    plan, record = kept_plan(store, plan_id), record_along(store, plan_id)
    wanted = with_threshold(request, station_settings(store))
    return begun(http, plan_id, plan, session_course(plan, record, wanted, units), units)


@router.post("/api/plans/{plan_id}/weathers", response_model=StudyJob, status_code=202)
def begin_weathers(
    http: Request, store: Kept, plan_id: int, units: Spoken, request: SessionRequest
) -> Response:
    """Begin to drive every weather that may come."""
    plan, record = kept_plan(store, plan_id), record_along(store, plan_id)
    wanted = with_threshold(request, station_settings(store))
    return begun(http, plan_id, plan, weathers_course(plan, record, wanted, units), units)


@router.post("/api/plans/{plan_id}/conditions", response_model=OpenPlan)
def take_weather(store: Kept, plan_id: int, units: Spoken, request: TakeWeatherRequest) -> Response:
    """Take the weather of a moment into the plan, as one step."""
    opened = take_conditions(
        store, plan_id, request.base, request.conditions, request.source, units
    )
    return written(spoken(opened, units))


@router.get("/api/plans/{plan_id}/since", response_model=Since)
def plan_since(store: Kept, plan_id: int, units: Spoken) -> Response:
    """What the station's present weather has done to the plan."""
    settings = station_settings(store)
    try:
        readings = station_record(_address(settings))
    except StationGone as gone:
        raise InputRefused([Fault("station", gone.sentence)]) from None
    kept = weather_of(store, plan_id).weather
    record = None if kept is None else kept.record
    plan = kept_plan(store, plan_id)
    return written(since_plan(plan, readings, record, settings.threshold, units))


@router.get("/api/station", response_model=StationLook)
def station_now(store: Kept) -> Response:
    """The weather station as it is now."""
    return written(look_at_station(station_settings(store)))


@router.put("/api/station", response_model=StationLook)
def set_station_address(store: Kept, settings: StationSettings) -> Response:
    """Set where the station is, and by how much a braking point has to move to be told."""
    return written(look_at_station(set_station(store, settings)))


@router.post("/api/station/keep", status_code=201)
def keep_station_record(
    store: Kept, name: Annotated[str, Query(min_length=1, max_length=200)]
) -> MadeWeather:
    """Keep what the station has read so far as a record."""
    address = _address(station_settings(store))
    try:
        look = look_at_station(StationSettings(address=address))
        readings = station_record(address)
    except StationGone as gone:
        raise InputRefused([Fault("station", gone.sentence)]) from None
    record = record_of(readings, name, look.simulated)
    return MadeWeather(weather_id=add_weather(store, record, "From the station"))


@router.get(
    "/api/station/stream",
    response_class=EventSourceResponse,
    responses={
        200: {
            "description": 'Events named "reading", and "gone" while no station answers',
            "content": {"text/event-stream": {"schema": {"type": "string"}}},
        }
    },
)
def station_stream(store: Kept) -> EventSourceResponse:
    """The station's readings as they come, as server-sent events."""
    return EventSourceResponse(_sent(_address(station_settings(store))))


async def _sent(address: str) -> AsyncIterator[ServerSentEvent]:
    async for heard in heard_from(address):
        if isinstance(heard, ReadingDocument):
            yield ServerSentEvent(heard.model_dump_json(), event="reading")
        else:
            yield ServerSentEvent(json.dumps({"sentence": heard}), event="gone")


def _address(settings: StationSettings) -> str:
    if settings.address is None:
        raise InputRefused([Fault("address", "no weather station is set; enter its address")])
    return settings.address
