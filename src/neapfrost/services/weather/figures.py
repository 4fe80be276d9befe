"""The figures of a record of the weather: how each is named, in which unit, and what it means."""

from typing import Literal

from pydantic import BaseModel

from neapfrost.services.figures.figure import BY_UNIT, Quantity

Part = Literal["reading", "water", "rubber"]


class WeatherFigure(BaseModel):
    """A figure of a reading, of the water on the road, or of the rubber on the track."""

    part: Part
    name: str
    label: str
    unit: str
    quantity: Quantity = "none"
    decimals: int = 1
    says: str = ""


def _figure(
    part: Part,
    name: str,
    label: str,
    unit: str,
    says: str,
    quantity: Quantity = "none",
    decimals: int = 1,
) -> WeatherFigure:
    return WeatherFigure(
        part=part,
        name=name,
        label=label,
        unit=unit,
        quantity=BY_UNIT.get(unit, "none") if quantity == "none" else quantity,
        decimals=decimals,
        says=says,
    )


WEATHER_FIGURES: tuple[WeatherFigure, ...] = (
    _figure("reading", "air_temp_c", "Air", "°C", "Temperature of the air", "temperature"),
    _figure("reading", "track_temp_c", "Road", "°C", "Temperature of the surface", "temperature"),
    _figure("reading", "wind_speed_ms", "Wind", "m/s", "Mean speed of the wind", "wind"),
    _figure("reading", "wind_from_deg", "From", "°", "Where the wind comes from", decimals=0),
    _figure("reading", "gust_ms", "Gusts", "m/s", "Speed of the gusts; may be empty", "wind"),
    _figure("reading", "rain_mm_h", "Rain", "mm/h", "Rate until the next reading"),
    _figure("reading", "humidity_pct", "Humidity", "%", "Relative humidity", decimals=0),
    _figure(
        "reading",
        "pressure_hpa",
        "Pressure",
        "hPa",
        "At the circuit, not reduced to sea level; may be empty",
    ),
    _figure(
        "water",
        "full_depth_mm",
        "Full water film",
        "mm",
        "Water depth that counts as 100 % wet",
        decimals=2,
    ),
    _figure(
        "water",
        "wet_at_start_pct",
        "Wet at the start",
        "%",
        "Wetness of the road at the first reading",
        decimals=0,
    ),
    _figure(
        "water",
        "run_off_min",
        "Run-off",
        "min",
        "The time in which 63 % of a film runs off",
        decimals=0,
    ),
    _figure(
        "water",
        "evaporation_min",
        "Evaporation",
        "min",
        "The time in which 63 % of a film evaporates in still air from a road of 20 °C",
        decimals=0,
    ),
    _figure(
        "water",
        "wind_pct_per_ms",
        "Faster with wind",
        "% per m/s",
        "Increase of evaporation per m/s of wind",
        decimals=0,
    ),
    _figure(
        "water",
        "warmth_pct_per_c",
        "Faster with heat",
        "% per °C",
        "Increase of evaporation per °C of road above 20",
    ),
    _figure(
        "water",
        "cars_per_min",
        "Cars per minute",
        "",
        "Vehicles passing a place on the line per minute: they dry it and lay rubber",
    ),
    _figure(
        "water",
        "dried_pct_per_car",
        "Drying per pass",
        "%",
        "Share of the water on the line removed by each pass",
        decimals=2,
    ),
    _figure(
        "rubber",
        "green_loss_pct",
        "Green-track grip loss",
        "%",
        "Grip missing on a track without rubber",
    ),
    _figure(
        "rubber",
        "laps_to_grip",
        "Laps to rubber in",
        "laps",
        "Laps (all cars) to gain 63 % of the missing grip",
        decimals=0,
    ),
    _figure(
        "rubber",
        "laps_before",
        "Laps before",
        "laps",
        "Laps (all cars) before the first reading",
        decimals=0,
    ),
    _figure(
        "rubber",
        "washed_by_mm",
        "Rubber washed off by",
        "mm",
        "Rain that removes 63 % of the rubber",
    ),
)
