"""The wind as a vector: where it comes from, as components along north and east."""

import math
from dataclasses import replace

from neapfrost.core.records import Conditions


def wind_from_ms(conditions: Conditions) -> tuple[float, float]:
    """The wind's components [m/s] towards where it comes from, north and east.

    A vehicle that drives that way has it as headwind.
    """
    bearing = math.radians(conditions.wind_from_deg)
    return (
        conditions.wind_speed_ms * math.cos(bearing),
        conditions.wind_speed_ms * math.sin(bearing),
    )


def with_wind_added(conditions: Conditions, north_ms: float, east_ms: float) -> Conditions:
    """The conditions with so much more wind from the north and from the east [m/s]."""
    north, east = wind_from_ms(conditions)
    north, east = north + north_ms, east + east_ms
    return replace(
        conditions,
        wind_speed_ms=math.hypot(north, east),
        wind_from_deg=math.degrees(math.atan2(east, north)),
    )
