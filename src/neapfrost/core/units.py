"""The units that people speak, and how a figure reads in them."""

from typing import Literal

Units = Literal["metric", "feet", "yards"]
#: The kinds of figures whose unit depends on who reads them.
Kind = Literal["length", "speed", "wind"]

KMH_PER_MS = 3.6
MS_PER_MPH = 0.44704
MS_PER_KNOT = 1852.0 / 3600.0
FOOT_M = 0.3048
PSI_BAR = 0.0689476
INCH_MERCURY_HPA = 33.8639
FAHRENHEIT_PER_CELSIUS = 1.8
FAHRENHEIT_AT_ZERO = 32.0
MPH_PER_MS = 1.0 / MS_PER_MPH
METRES_PER: dict[Units, float] = {"metric": 1.0, "feet": FOOT_M, "yards": 3.0 * FOOT_M}
LENGTH_UNIT: dict[Units, str] = {"metric": "m", "feet": "ft", "yards": "yd"}


def shown(value: float, kind: Kind, units: Units) -> float:
    """A figure in SI as it is shown in some units."""
    if kind == "length":
        return value / METRES_PER[units]
    if kind == "wind" and units == "metric":
        return value
    return value * (KMH_PER_MS if units == "metric" else MPH_PER_MS)


def fahrenheit(celsius: float) -> float:
    """A temperature [°C] in °F."""
    return FAHRENHEIT_PER_CELSIUS * celsius + FAHRENHEIT_AT_ZERO


def unit_of(kind: Kind, units: Units) -> str:
    """The unit that a kind of figure is shown in."""
    if kind == "length":
        return LENGTH_UNIT[units]
    if units != "metric":
        return "mph"
    return "m/s" if kind == "wind" else "km/h"
