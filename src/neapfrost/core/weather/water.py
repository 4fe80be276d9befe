"""Water on the road: rain in; run-off, evaporation and traffic out."""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Drying:
    """How a road gets wet and dries: assumptions, each a figure of its own.

    `full_depth_mm` is the film that counts as 100 % wet. Run-off and evaporation (in still air on a
    road of 20 °C) each have the time in which they take 63 % of a film [min]; evaporation is
    quicker by a share for every m/s of wind and every °C of the road above 20. Each of
    `cars_per_min` vehicles that pass takes a share of what is left on the line.
    """

    full_depth_mm: float = 1.0
    run_off_min: float = 40.0
    evaporation_min: float = 80.0
    wind_share_per_ms: float = 0.10
    warmth_share_per_c: float = 0.04
    cars_per_min: float = 5.0
    share_per_car: float = 0.0075
    wet_at_start_pct: float = 0.0


#: Temperature of the road that the time of evaporation is stated for [°C].
STATED_ROAD_C = 20.0
#: A cold road evaporates no less than this share of what is stated.
LEAST_WARMTH = 0.1
#: More water than this many full films runs off at once.
DEEPEST = 2.0


@dataclass(frozen=True)
class Rates:
    """How fast water leaves the line and what lies beside it: shares of it each second [1/s]."""

    line_per_s: float
    beside_per_s: float


def drying_rates(drying: Drying, wind_ms: float, road_c: float) -> Rates:
    """Rates of drying 1/τ in a wind [m/s], at a temperature of the road [°C].

    Run-off, evaporation and traffic are each of the first order, so that their rates add up.
    """
    windy = 1.0 + drying.wind_share_per_ms * wind_ms
    warm = max(1.0 + drying.warmth_share_per_c * (road_c - STATED_ROAD_C), LEAST_WARMTH)
    beside = (1.0 / drying.run_off_min + windy * warm / drying.evaporation_min) / 60.0
    traffic = drying.cars_per_min * drying.share_per_car / 60.0
    return Rates(beside + traffic, beside)


def depth_after(depth_mm: float, rain_mm_h: float, rate_per_s: float, after_s: float) -> float:
    """Depth of the water after some seconds of even rain and drying [mm].

    The closed form of dw/dt = r − w/τ: w = r τ + (w₀ − r τ) e^(−t/τ).
    """
    rain_mm_s = rain_mm_h / 3600.0
    if rate_per_s <= 0.0:
        return depth_mm + rain_mm_s * after_s
    settles_mm = rain_mm_s / rate_per_s
    return settles_mm + (depth_mm - settles_mm) * math.exp(-rate_per_s * after_s)


def wetness_pct(drying: Drying, depth_mm: float) -> float:
    """Wetness by the depth of the water [%], at most 100."""
    return min(100.0 * depth_mm / drying.full_depth_mm, 100.0)
