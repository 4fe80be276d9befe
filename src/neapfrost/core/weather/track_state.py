"""The track's own grip: rubber laid by every lap driven, and washed off by rain."""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Rubber:
    """How a green track gains grip: assumptions, each a figure of its own.

    Green-track grip loss `green_loss_share` of the grip; with every `laps_to_grip` laps of any
    vehicle 63 % of what is lacking is gained. `washed_by_mm` of rain take 63 % of the laps away.
    """

    green_loss_share: float = 0.03
    laps_to_grip: float = 150.0
    laps_before: float = 600.0
    washed_by_mm: float = 3.0


def grip_factor(rubber: Rubber, laps: float) -> float:
    """Grip with so many laps driven against a track that is rubbered in: 1 − g₀ e^(−n/L)."""
    return 1.0 - rubber.green_loss_share * math.exp(-laps / rubber.laps_to_grip)


def laps_after(
    rubber: Rubber, laps: float, cars_per_min: float, rain_mm_h: float, after_s: float
) -> float:
    """Laps that count on the track after some seconds of even traffic and rain.

    The closed form of dn/dt = q − n r/m, with q laps and r mm of rain each second.
    """
    driven_per_s = cars_per_min / 60.0
    washed_per_s = rain_mm_h / 3600.0 / rubber.washed_by_mm
    if washed_per_s * after_s < 1e-12:
        return laps + driven_per_s * after_s
    settles = driven_per_s / washed_per_s
    return settles + (laps - settles) * math.exp(-washed_per_s * after_s)
