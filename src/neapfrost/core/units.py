"""The units that people speak, and how a figure reads in them."""

from typing import Literal

Units = Literal["metric", "feet", "yards"]
#: The kinds of figures whose unit depends on who reads them.
Kind = Literal["length", "speed", "wind"]

KMH_PER_MS = 3.6
MPH_PER_MS = 3600.0 / 1609.344
METRES_PER: dict[Units, float] = {"metric": 1.0, "feet": 0.3048, "yards": 0.9144}
LENGTH_UNIT: dict[Units, str] = {"metric": "m", "feet": "ft", "yards": "yd"}


def shown(value: float, kind: Kind, units: Units) -> float:
    """A figure in SI as it is shown in some units."""
    if kind == "length":
        return value / METRES_PER[units]
    if kind == "wind" and units == "metric":
        return value
    return value * (KMH_PER_MS if units == "metric" else MPH_PER_MS)


def unit_of(kind: Kind, units: Units) -> str:
    """The unit that a kind of figure is shown in."""
    if kind == "length":
        return LENGTH_UNIT[units]
    if units != "metric":
        return "mph"
    return "m/s" if kind == "wind" else "km/h"
