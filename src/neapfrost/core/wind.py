"""The wind as a vector: where it comes from, as components along north and east."""

import math
from dataclasses import replace

from neapfrost.core.records import Conditions


def components_ms(speed_ms: float, from_deg: float) -> tuple[float, float]:
    """A wind's components [m/s] towards where it comes from, north and east."""
    bearing = math.radians(from_deg)
    return speed_ms * math.cos(bearing), speed_ms * math.sin(bearing)


def from_components(north_ms: float, east_ms: float) -> tuple[float, float]:
    """Speed [m/s] and bearing [°], below 360, of a wind by its components."""
    bearing_deg = math.degrees(math.atan2(east_ms, north_ms))
    return math.hypot(north_ms, east_ms), bearing_deg % 360.0


def wind_from_ms(conditions: Conditions) -> tuple[float, float]:
    """The wind's components [m/s] towards where it comes from, north and east.

    A vehicle that drives that way has it as headwind.
    """
    return components_ms(conditions.wind_speed_ms, conditions.wind_from_deg)


def with_wind_added(conditions: Conditions, north_ms: float, east_ms: float) -> Conditions:
    """The conditions with so much more wind from the north and from the east [m/s]."""
    north, east = wind_from_ms(conditions)
    speed, from_deg = from_components(north + north_ms, east + east_ms)
    return replace(conditions, wind_speed_ms=speed, wind_from_deg=from_deg)
