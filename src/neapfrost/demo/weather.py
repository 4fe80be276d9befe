"""Weather for the demo circuits: a morning that was measured, and what may come after it."""

import math
from dataclasses import dataclass, replace

from neapfrost.core.weather.along_session import Reading
from neapfrost.formats.weather import (
    WEATHER_FORMAT,
    WEATHER_VERSION,
    ReadingDocument,
    RubberDocument,
    WaterDocument,
    WeatherDocument,
    WeatherRecordDocument,
    seconds_of,
)
from neapfrost.formats.weather_records import reading_document
from neapfrost.standins.weather.days import StationDay, without_unrest

#: The day of all demo sessions, and how often its station reads and its forecasts are [s].
DAY = "2031-05-17"
MEASURED_EVERY_S, FORECAST_EVERY_S = 300.0, 600.0
#: A forecast keeps so much of what is measured now: 37 % after this time [s].
COMES_TO_ITS_OWN_S = 3600.0


@dataclass(frozen=True)
class DemoWeather:
    """A day at a circuit: measured from hour to hour, then what may come until the last hour."""

    id: str
    circuit: str
    name: str
    measured: str
    hours: tuple[float, float, float]
    coming: tuple[tuple[str, str, float], ...]
    wet_at_start_pct: float = 0.0
    laps_before: float = 600.0
    follows_station: bool = False


WEATHERS = (
    DemoWeather(
        "samphire",
        "Samphire Ring",
        "Samphire Ring, Saturday",
        "sea-breeze",
        (9.0, 11.5, 16.5),
        (
            ("Sea breeze", "sea-breeze", 50.0),
            ("Shower", "shower", 30.0),
            ("Settled", "settled", 20.0),
        ),
        laps_before=150.0,
        follows_station=True,
    ),
    DemoWeather(
        "fen",
        "Sallow Fen",
        "Sallow Fen, after the rain",
        "drying",
        (9.0, 10.5, 15.0),
        (("Dries on", "drying", 65.0), ("Another shower", "shower", 35.0)),
        wet_at_start_pct=70.0,
        laps_before=40.0,
    ),
    DemoWeather(
        "heath",
        "Crake Heath",
        "Crake Heath, into the evening",
        "evening",
        (16.0, 17.5, 21.0),
        (("Cools down", "evening", 70.0), ("Stays as it is", "settled", 30.0)),
    ),
    DemoWeather(
        "bowl",
        "Marram Bowl",
        "Marram Bowl, windy afternoon",
        "sea-breeze",
        (9.0, 11.0, 15.0),
        (("Sea breeze", "sea-breeze", 60.0), ("Settled", "settled", 40.0)),
    ),
    DemoWeather(
        "hill",
        "Tarn Edge",
        "Tarn Edge, first runs",
        "settled",
        (9.0, 10.0, 15.0),
        (("Settled", "settled", 55.0), ("Shower", "shower", 45.0)),
        laps_before=20.0,
    ),
)


def demo_weathers() -> list[tuple[str, str, bool, WeatherRecordDocument]]:
    """Each record with its short name, its circuit, and whether plans there follow the station."""
    return [(one.id, one.circuit, one.follows_station, _record(one)) for one in WEATHERS]


def _record(wanted: DemoWeather) -> WeatherRecordDocument:
    begin, now, end = wanted.hours
    count = round((now - begin) * 3600.0 / MEASURED_EVERY_S) + 1
    station = StationDay(wanted.measured, 3, begin * 3600.0, MEASURED_EVERY_S)
    measured = station.readings(count)
    steps = round((end - now) * 3600.0 / FORECAST_EVERY_S)
    coming_s = [now * 3600.0 + n * FORECAST_EVERY_S for n in range(1, steps + 1)]
    return WeatherRecordDocument(
        format=WEATHER_FORMAT,
        version=WEATHER_VERSION,
        name=wanted.name,
        simulated=True,
        readings=[_on_the_day(one) for one in measured],
        weathers=[
            WeatherDocument(
                name=name,
                chance_pct=chance,
                readings=[_on_the_day(_going_on(measured[-1], day, at_s)) for at_s in coming_s],
            )
            for name, day, chance in wanted.coming
        ],
        water=WaterDocument(wet_at_start_pct=wanted.wet_at_start_pct),
        rubber=RubberDocument(laps_before=wanted.laps_before),
    )


def _going_on(last: Reading, day: str, at_s: float) -> Reading:
    """A forecast that begins where the measured readings end, and comes to its own day."""
    then, now = without_unrest(day, at_s), without_unrest(day, last.at_s)
    left = math.exp(-(at_s - last.at_s) / COMES_TO_ITS_OWN_S)

    def gone_on(name: str, decimals: int = 1) -> float:
        apart: float = getattr(last, name) - getattr(now, name)
        own: float = getattr(then, name)
        return round(own + left * apart, decimals)

    pressure = then.pressure_hpa or 0.0
    apart_hpa = (last.pressure_hpa or 0.0) - (now.pressure_hpa or 0.0)
    return replace(
        then,
        air_temp_c=gone_on("air_temp_c"),
        track_temp_c=gone_on("track_temp_c"),
        humidity_pct=min(max(gone_on("humidity_pct", 0), 5.0), 100.0),
        pressure_hpa=round(pressure + left * apart_hpa, 1),
    )


def _on_the_day(reading: Reading) -> ReadingDocument:
    """A reading whose time counts from midnight, on the day of the demo sessions."""
    midnight = seconds_of(f"{DAY}T00:00:00")
    return reading_document(replace(reading, at_s=midnight + reading.at_s))
