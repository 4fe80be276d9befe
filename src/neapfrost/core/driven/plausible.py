"""Whether a log's channels can be in the units they are taken for, by what they say of each other.

Speed against the places driven through, lateral acceleration against speed and turning.
"""

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import (
    AVERAGED_S,
    STANDING_MS,
    Log,
    averaged_over,
    filled,
    speed_by_places,
)

#: Of so many moments at least something is said.
MOMENTS_LEAST = 50
#: Less alike than this two channels say nothing of each other's units.
ALIKE_LEAST = 0.6


def speed_ratio(log: Log) -> float | None:
    """Speed through the places over the speed logged; None where either says nothing."""
    if log.east_m is None or log.north_m is None or not log.moves:
        return None
    placed = speed_by_places(log.t_s, log.east_m, log.north_m)
    logged = filled(log.t_s, log.v_ms)
    if float(np.nanmax(logged)) <= 0.0:
        return None
    # Where both are quick for themselves, whatever their units.
    quick = (logged > 0.4 * np.percentile(logged, 95)) & (placed > 0.4 * np.percentile(placed, 95))
    if int(quick.sum()) < MOMENTS_LEAST:
        return None
    return float(np.median(placed[quick] / logged[quick]))


def lateral_ratio(log: Log) -> float | None:
    """Lateral acceleration by speed and turning over the one logged; None without either."""
    if log.ay_ms2 is None or log.east_m is None or log.north_m is None or not log.moves:
        return None
    placed = np.maximum(speed_by_places(log.t_s, log.east_m, log.north_m), STANDING_MS)
    turned = placed**2 * _turning(log, placed)
    logged = averaged_over(log.t_s, log.ay_ms2, 8.0 * AVERAGED_S)
    spread = float(np.std(turned) * np.std(logged))
    if spread <= 0.0 or len(turned) < MOMENTS_LEAST:
        return None
    alike = float(np.mean((turned - turned.mean()) * (logged - logged.mean())) / spread)
    if abs(alike) < ALIKE_LEAST:
        return None
    return float(np.std(turned) / np.std(logged))


def _turning(log: Log, placed_ms: Floats) -> Floats:
    assert log.east_m is not None  # as its caller has asked
    assert log.north_m is not None  # likewise
    over = 8.0 * AVERAGED_S
    x, y = averaged_over(log.t_s, log.east_m, over), averaged_over(log.t_s, log.north_m, over)
    heading = np.unwrap(np.arctan2(np.gradient(y, log.t_s), np.gradient(x, log.t_s)))
    turning: Floats = averaged_over(log.t_s, np.gradient(heading, log.t_s), over) / placed_ms
    return turning


def fitting_unit(ratio: float, units: dict[str, float], taken: str) -> str | None:
    """The unit in which a channel would agree, where it is another than the one it is taken for."""
    if abs(ratio - 1.0) < 0.15:
        return None
    for unit, factor in units.items():
        if unit != taken and abs(ratio * units[taken] / factor - 1.0) < 0.1:
            return unit
    return None
