"""The figures of a record of the weather: how each is named, in which unit, and what it means."""

from typing import Literal

from pydantic import BaseModel

from neapfrost.services.figures.figure import Quantity

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
        quantity=quantity,
        decimals=decimals,
        says=says,
    )


WEATHER_FIGURES: tuple[WeatherFigure, ...] = (
    _figure("reading", "air_temp_c", "Air", "°C", "Temperature of the air", "temperature"),
    _figure("reading", "track_temp_c", "Road", "°C", "Temperature of the surface", "temperature"),
    _figure("reading", "wind_speed_ms", "Wind", "m/s", "Mean speed of the wind", "wind"),
    _figure("reading", "wind_from_deg", "From", "°", "Where the wind comes from", decimals=0),
    _figure("reading", "gust_ms", "Gusts", "m/s", "Speed of the gusts; may be empty", "wind"),
    _figure("reading", "rain_mm_h", "Rain", "mm/h", "Falls until the next reading"),
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
        "Full film",
        "mm",
        "The depth of water that counts as 100 % wet",
        decimals=2,
    ),
    _figure(
        "water",
        "wet_at_start_pct",
        "Wet at the start",
        "%",
        "How wet the road is at the first reading",
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
        "Quicker by wind",
        "% per m/s",
        "Evaporation is so much quicker for each m/s of wind",
        decimals=0,
    ),
    _figure(
        "water",
        "warmth_pct_per_c",
        "Quicker by warmth",
        "% per °C",
        "Evaporation is so much quicker for each °C of the road above 20",
    ),
    _figure(
        "water",
        "cars_per_min",
        "Cars a minute",
        "",
        "Vehicles that pass any place of the line in a minute: they dry it and lay rubber",
    ),
    _figure(
        "water",
        "dried_pct_per_car",
        "Dried by each",
        "%",
        "What one vehicle that passes takes of the water on the line",
        decimals=2,
    ),
    _figure(
        "rubber",
        "green_loss_pct",
        "A green track lacks",
        "%",
        "Grip that a track without rubber lacks",
    ),
    _figure(
        "rubber",
        "laps_to_grip",
        "Laps to grip",
        "laps",
        "Laps of anybody in which 63 % of what is lacking is gained",
        decimals=0,
    ),
    _figure(
        "rubber",
        "laps_before",
        "Laps driven before",
        "laps",
        "Laps of anybody before the first reading",
        decimals=0,
    ),
    _figure(
        "rubber",
        "washed_by_mm",
        "Washed off by",
        "mm",
        "Rain that takes 63 % of the rubber's laps away",
    ),
)
