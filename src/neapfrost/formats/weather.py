"""The conditions document: a record of the weather, what may come, and how the road answers to it.

Its times are the circuit's own clock.
"""

from datetime import datetime, timedelta
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from neapfrost.core.weather.track_state import Rubber
from neapfrost.core.weather.water import Drying
from neapfrost.formats.document import Document, Name
from neapfrost.formats.plan import ConditionsDocument

WEATHER_FORMAT: Literal["neapfrost/conditions"] = "neapfrost/conditions"
WEATHER_VERSION: Literal[1] = 1
READINGS_MOST = 10_000
WEATHERS_MOST = 6
#: Seconds are counted from here; any midnight would do.
EPOCH = datetime(2000, 1, 1)


def canonical_moment(text: str) -> str:
    """A moment as year, month, day, hour, minute and second. Raises ValueError for what is none."""
    try:
        moment = datetime.fromisoformat(text.strip())
    except ValueError:
        raise ValueError(
            f'"{text[:40]}" was given; a day and a time as 2031-05-17T13:40 are expected'
        ) from None
    if moment.tzinfo is not None:
        raise ValueError(
            f'"{text[:40]}" was given; the clock of the circuit is expected, without a zone'
        )
    return moment.replace(microsecond=0).isoformat()


def seconds_of(at: str) -> float:
    """A moment in seconds [s]."""
    return (datetime.fromisoformat(at) - EPOCH).total_seconds()


def moment_of(at_s: float) -> str:
    """Seconds as a moment."""
    return (EPOCH + timedelta(seconds=round(at_s))).isoformat()


Moment = Annotated[str, Field(max_length=40), AfterValidator(canonical_moment)]


class ReadingDocument(Document):
    """What a station reads at a moment. `pressure_hpa` null: not read.

    `gust_ms` is the speed of the gusts, null where none is read; `rain_mm_h` falls until the next
    reading. What a station does not read is as usual.
    """

    at: Moment
    air_temp_c: Annotated[float, Field(ge=-40, le=60)] = ConditionsDocument().air_temp_c
    pressure_hpa: Annotated[float, Field(ge=400, le=1_100)] | None = None
    humidity_pct: Annotated[float, Field(ge=0, le=100)] = ConditionsDocument().humidity_pct
    wind_speed_ms: Annotated[float, Field(ge=0, le=60)] = 0.0
    wind_from_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    gust_ms: Annotated[float, Field(ge=0, le=90)] | None = None
    track_temp_c: Annotated[float, Field(ge=-40, le=90)] = ConditionsDocument().track_temp_c
    rain_mm_h: Annotated[float, Field(ge=0, le=300)] = 0.0


class WeatherDocument(Document):
    """A weather that may come, with its chance; it takes over where the measured readings end."""

    name: Annotated[Name, Field(min_length=1)]
    chance_pct: Annotated[float, Field(ge=0, le=100)] = 100.0
    readings: Annotated[list[ReadingDocument], Field(min_length=1, max_length=READINGS_MOST)]


class WaterDocument(Document):
    """How the road gets wet and dries: assumptions.

    `full_depth_mm` is the film that counts as 100 % wet; `run_off_min` and `evaporation_min` (in
    still air, on a road of 20 °C) are the times in which each takes 63 % of a film.
    """

    full_depth_mm: Annotated[float, Field(ge=0.05, le=20)] = Drying.full_depth_mm
    run_off_min: Annotated[float, Field(ge=0.5, le=10_000)] = Drying.run_off_min
    evaporation_min: Annotated[float, Field(ge=0.5, le=10_000)] = Drying.evaporation_min
    wind_pct_per_ms: Annotated[float, Field(ge=0, le=100)] = 100.0 * Drying.wind_share_per_ms
    warmth_pct_per_c: Annotated[float, Field(ge=0, le=50)] = 100.0 * Drying.warmth_share_per_c
    cars_per_min: Annotated[float, Field(ge=0, le=60)] = Drying.cars_per_min
    dried_pct_per_car: Annotated[float, Field(ge=0, le=20)] = round(100.0 * Drying.share_per_car, 6)
    wet_at_start_pct: Annotated[float, Field(ge=0, le=100)] = Drying.wet_at_start_pct


class RubberDocument(Document):
    """How the track gains grip with laps driven by anybody, and loses it in rain: assumptions."""

    green_loss_pct: Annotated[float, Field(ge=0, le=30)] = 100.0 * Rubber.green_loss_share
    laps_to_grip: Annotated[float, Field(ge=1, le=10_000)] = Rubber.laps_to_grip
    laps_before: Annotated[float, Field(ge=0, le=100_000)] = Rubber.laps_before
    washed_by_mm: Annotated[float, Field(ge=0.01, le=1_000)] = Rubber.washed_by_mm


class WeatherRecordDocument(Document):
    """A record of the weather: measured readings, the weathers that may follow, water and rubber.

    `simulated` says that no instrument read it.
    """

    format: Literal["neapfrost/conditions"]
    version: Literal[1]
    name: Name = ""
    simulated: bool = False
    readings: Annotated[list[ReadingDocument], Field(max_length=READINGS_MOST)] = Field(
        default_factory=list
    )
    weathers: Annotated[list[WeatherDocument], Field(max_length=WEATHERS_MOST)] = Field(
        default_factory=list
    )
    water: WaterDocument = Field(default_factory=WaterDocument)
    rubber: RubberDocument = Field(default_factory=RubberDocument)
    note: Annotated[str, Field(max_length=2000)] = ""
