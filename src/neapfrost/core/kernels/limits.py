"""The highest speed at each end of each step at which the tyres can hold the vehicle at all."""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import SPEED_CEILING_MS
from neapfrost.core.kernels.case import WIND_EAST, WIND_NORTH
from neapfrost.core.kernels.forces import holding_margin
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.road import BEARING_ON_LIMIT, EAST, NORTH

CEILING_W = SPEED_CEILING_MS**2
LIMIT_WIDTH = 1e-6  # of w: at 40 m/s the limit is known to 0.02 mm/s
TURNS_MOST = 200
SECANTS = 7  # so many turns before one in three halves the bracket
# Without a bracket a step leads no further than this, as a factor on w.
FARTHEST_DOWN, FARTHEST_UP = 0.7, 2.0
CRAWL_W = 0.25  # 0.5 m/s: a place that cannot even be crawled through is reported as impossible


@kernel
def limit_w(
    case: Floats, road: Floats, k: int, x: float, guess: float, slope: float
) -> tuple[float, float]:
    """Greatest squared speed at which some force keeps both axles inside their grip.

    `slope` is the margin's change with w as it was at another place, 0 where nothing is known.
    From `guess` on a secant of the margin (`holding_margin`) finds its way, within a bracket as
    soon as there is one, until that is no wider than LIMIT_WIDTH of itself. CEILING_W stands for
    no limit; 0 for a place where not even a crawl is possible. Returns (w, slope).
    """
    w = min(guess, CEILING_W)
    margin = holding_margin(case, road, k, x, w)
    low, high = 0.0, CEILING_W
    at_low = at_high = 0.0
    for turn in range(TURNS_MOST):
        if margin >= 0.0:
            if w >= CEILING_W:
                return CEILING_W, slope
            low, at_low = w, margin
        else:
            high, at_high = w, margin
        if low > 0.0 and high - low <= LIMIT_WIDTH * high:
            break
        if high < CRAWL_W:
            return 0.0, slope
        bracketed = low > 0.0 and at_high < 0.0
        if bracketed and turn >= SECANTS and turn % 3 == 0:
            following = 0.5 * (low + high)
        else:
            step = -margin / slope if slope < 0.0 else (0.1 if margin >= 0.0 else -0.1) * w
            if turn >= SECANTS and not bracketed:
                step = w if margin >= 0.0 else -w
            # A little further, so that the bracket closes from both sides.
            step += math.copysign(0.45 * LIMIT_WIDTH * w, step)
            following = min(max(w + step, FARTHEST_DOWN * w), FARTHEST_UP * w, CEILING_W)
            if bracketed and not low < following < high:
                following = low + (high - low) * at_low / (at_low - at_high)
                following = min(max(following, 0.9 * low + 0.1 * high), 0.1 * low + 0.9 * high)
        there = holding_margin(case, road, k, x, following)
        if there != margin:
            slope = (there - margin) / (following - w)
        w, margin = following, there
    return low, slope


@kernel
def limit_pass(case: Floats, road: Floats, limit: Floats) -> int:
    """Fill `limit` (n, 2) with the limit at both ends of each step; -1, or a step that has none."""
    calm = case[WIND_NORTH] == 0.0 and case[WIND_EAST] == 0.0
    last = 900.0
    earlier = last
    slope = 0.0
    for k in range(len(road)):
        if k > 0 and _same(road, k, 0, k - 1, 1, calm):
            limit[k, 0] = limit[k - 1, 1]
        else:
            limit[k, 0], slope = limit_w(case, road, k, 0.0, last, slope)
            earlier = last = limit[k, 0]
        if _same(road, k, 1, k, 0, calm):
            limit[k, 1] = limit[k, 0]
        else:
            # 1/w goes on as it did: exact for friction alone on a linear ramp of curvature.
            guess = 1.0 / max(2.0 / last - 1.0 / earlier, 1.0 / CEILING_W) if last > 0.0 else last
            limit[k, 1], slope = limit_w(case, road, k, 1.0, guess, slope)
        if limit[k, 0] == 0.0 or limit[k, 1] == 0.0:
            return k
        earlier = limit[k, 0]
        last = limit[k, 1]
    return -1


@kernel
def _same(road: Floats, k: int, end: int, other_k: int, other_end: int, calm: bool) -> bool:
    """Whether two places are alike for the limit; without wind the direction does not count."""
    for column in range(BEARING_ON_LIMIT):
        if calm and (column in (NORTH, EAST)):
            continue
        if road[k, end, column] != road[other_k, other_end, column]:
            return False
    return True
