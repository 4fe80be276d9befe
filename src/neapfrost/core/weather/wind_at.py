"""The wind as a vehicle has it at places of its road."""

import math
from dataclasses import dataclass

import numpy as np

from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions


@dataclass(frozen=True)
class WindAt:
    """Wind at a place [m/s]: from ahead (negative: from behind), and from the left."""

    at_m: float
    head_ms: float
    left_ms: float


def bearing_deg(path: Path, at_m: float) -> float:
    """Compass bearing of the road at a place of the lap, clockwise from north, below 360."""
    heading = float(np.interp(path.ring.fold(at_m), path.s_m, path.heading_rad))
    return (path.north_deg - math.degrees(heading)) % 360.0


def wind_at(path: Path, conditions: Conditions, at_m: float) -> WindAt:
    """The wind's components at a place; its bearing is where it comes from."""
    from_ahead = math.radians(conditions.wind_from_deg - bearing_deg(path, at_m))
    return WindAt(
        at_m,
        conditions.wind_speed_ms * math.cos(from_ahead),
        -conditions.wind_speed_ms * math.sin(from_ahead),
    )
