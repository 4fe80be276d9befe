"""How lap times go along a run: what warming up and learning take off, and what fading adds."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from neapfrost.core.arrays import Floats
from neapfrost.core.chance import HELD, MIDDLE_SD, SURE, half_width

#: Fewer laps say nothing of how they go; fewer again beyond the warm-up nothing of fading.
LAPS_FEWEST = 5
#: A lap so many scatters off counts little.
MISTAKE_FROM = 2.0
#: In so many laps the warm-up falls to 37 %, as far as laps can say.
SETTLES_LAPS = (0.5, 5.0)


@dataclass(frozen=True)
class Trend:
    """Lap times of a run: settled at `level_s`, `early_s` slower on its first lap, then fading.

    `fade_s` is for each lap. Half-widths hold four times in five. `scatter_s` is what is left.
    `beyond_noise` says which of both stand out of it.
    """

    level_s: float
    early_s: float
    early_within_s: float
    settles_laps: float
    fade_s: float
    fade_within_s: float
    scatter_s: float
    early_beyond_noise: bool
    fade_beyond_noise: bool


def trend(on_run: Sequence[int], times_s: Sequence[float]) -> Trend | None:
    """T(n) = level + early·exp(−n/settles) + fade·n by robust least squares; None for few laps.

    `on_run` counts laps from 0 since the vehicle left the pits.
    """
    n, y = np.array(on_run, dtype=np.float64), np.array(times_s, dtype=np.float64)
    if len(y) < LAPS_FEWEST:
        return None

    def residuals(x: Floats) -> Floats:
        found: Floats = x[0] + x[1] * np.exp(-n / x[3]) + x[2] * n - y
        return found

    scale = max(float(np.median(np.abs(np.diff(y)))), 0.02)
    low, high = SETTLES_LAPS
    bounds = ([-np.inf, -np.inf, -np.inf, low], [np.inf, np.inf, np.inf, high])
    start = np.array([float(np.median(y)), 0.0, 0.0, 1.5])
    answer = least_squares(
        residuals, start, loss="soft_l1", f_scale=MISTAKE_FROM * scale, bounds=bounds
    )
    x: Floats = answer.x
    # The shape of the warm-up costs an unknown too, though its own slope is left out here.
    slopes = np.column_stack((np.ones_like(n), np.exp(-n / x[3]), n))
    free = max(len(y) - 4, 1)
    left = residuals(x)
    sd = MIDDLE_SD * float(np.median(np.abs(left))) * float(np.sqrt(len(y) / free))
    sd = max(sd, 1e-4)
    covariance = sd**2 * np.linalg.pinv(slopes.T @ slopes)
    errors = np.sqrt(np.diag(covariance))
    within, sure = half_width(HELD, free) * errors, half_width(SURE, free) * errors
    return Trend(
        level_s=float(x[0]),
        early_s=float(x[1]),
        early_within_s=float(within[1]),
        settles_laps=float(x[3]),
        fade_s=float(x[2]),
        fade_within_s=float(within[2]),
        scatter_s=sd,
        early_beyond_noise=bool(abs(x[1]) > sure[1]),
        fade_beyond_noise=bool(abs(x[2]) > sure[2]),
    )
