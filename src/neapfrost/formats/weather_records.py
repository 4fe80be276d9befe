"""From a conditions document to the core's records, and from a moment to a plan's conditions."""

from collections.abc import Sequence
from dataclasses import asdict

from neapfrost.core.weather.along_session import Reading, State
from neapfrost.core.weather.track_state import Rubber
from neapfrost.core.weather.water import Drying
from neapfrost.formats.plan import ConditionsDocument
from neapfrost.formats.weather import (
    ReadingDocument,
    RubberDocument,
    WaterDocument,
    WeatherRecordDocument,
    moment_of,
    seconds_of,
)


def reading_record(reading: ReadingDocument) -> Reading:
    """The core's reading; without gusts they are the wind."""
    values = reading.model_dump(exclude={"at", "gust_ms"})
    gust = reading.wind_speed_ms if reading.gust_ms is None else reading.gust_ms
    return Reading(at_s=seconds_of(reading.at), gust_ms=gust, **values)


def reading_document(reading: Reading) -> ReadingDocument:
    """A reading as documents have it."""
    values = {name: value for name, value in asdict(reading).items() if name != "at_s"}
    return ReadingDocument(at=moment_of(reading.at_s), **values)


def readings_along(record: WeatherRecordDocument, weather: int | None) -> list[Reading]:
    """Measured readings, and from where they end those of a weather, by its number from 0."""
    measured = [reading_record(one) for one in record.readings]
    if weather is None:
        return measured
    coming = [reading_record(one) for one in record.weathers[weather].readings]
    ends_s = measured[-1].at_s if measured else float("-inf")
    return [*measured, *(one for one in coming if one.at_s > ends_s)]


def drying_record(water: WaterDocument) -> Drying:
    """The core's figures of drying."""
    return Drying(
        full_depth_mm=water.full_depth_mm,
        run_off_min=water.run_off_min,
        evaporation_min=water.evaporation_min,
        wind_share_per_ms=water.wind_pct_per_ms / 100.0,
        warmth_share_per_c=water.warmth_pct_per_c / 100.0,
        cars_per_min=water.cars_per_min,
        share_per_car=water.dried_pct_per_car / 100.0,
        wet_at_start_pct=water.wet_at_start_pct,
    )


def rubber_record(rubber: RubberDocument) -> Rubber:
    """The core's figures of the track."""
    return Rubber(
        green_loss_share=rubber.green_loss_pct / 100.0,
        laps_to_grip=rubber.laps_to_grip,
        laps_before=rubber.laps_before,
        washed_by_mm=rubber.washed_by_mm,
    )


def conditions_at(state: State, usual: ConditionsDocument) -> ConditionsDocument:
    """A plan's conditions at a moment, as finely as anybody reads them.

    What is not read stays as in the plan.
    """
    reading = state.reading
    pressure = usual.pressure_hpa if reading.pressure_hpa is None else reading.pressure_hpa
    return usual.model_copy(
        update={
            "air_temp_c": round(reading.air_temp_c, 2),
            "pressure_hpa": None if pressure is None else round(pressure, 1),
            "humidity_pct": round(reading.humidity_pct, 1),
            "wind_speed_ms": round(reading.wind_speed_ms, 2),
            "wind_from_deg": round(reading.wind_from_deg, 1),
            "track_temp_c": round(reading.track_temp_c, 2),
            "wetness_pct": round(state.line_pct, 2),
            "rubber_factor": round(state.rubber_factor, 5),
        }
    )


def moments_between(begin_s: float, end_s: float, every_s: float) -> Sequence[float]:
    """Moments from a begin to an end [s], both among them."""
    count = max(int((end_s - begin_s) // every_s), 0)
    found = [begin_s + n * every_s for n in range(count + 1)]
    return found if end_s - found[-1] < 1.0 else [*found, end_s]
