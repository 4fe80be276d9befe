"""The highest speed at each end of each step at which the tyres can hold the vehicle at all."""

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import SPEED_CEILING_MS
from neapfrost.core.kernels.case import WIND_EAST, WIND_NORTH
from neapfrost.core.kernels.forces import GREATEST, force_range
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.road import BEARING_ON_LIMIT, EAST, NORTH

CEILING_W = SPEED_CEILING_MS**2
LIMIT_WIDTH = 1e-6  # of w: at 40 m/s the limit is known to 0.02 mm/s
CRAWL_W = 0.25  # 0.5 m/s: a place that cannot even be crawled through is reported as impossible


@kernel
def limit_w(case: Floats, road: Floats, k: int, x: float, guess: float) -> float:
    """Greatest squared speed at which some force keeps both axles inside their grip.

    Brackets from `guess` outwards, each stride eight times the last, then bisects to LIMIT_WIDTH
    of itself. CEILING_W stands for no limit; 0 for a place where not even a crawl is possible.
    """
    low = min(guess, CEILING_W)
    high = low
    stride = 2.0 * LIMIT_WIDTH
    if force_range(case, road, k, x, low, GREATEST)[3]:
        if force_range(case, road, k, x, CEILING_W, GREATEST)[3]:
            return CEILING_W
        while high == low or force_range(case, road, k, x, high, GREATEST)[3]:
            low = high
            high = min(high * (1.0 + stride), CEILING_W)
            stride = min(8.0 * stride, 1.0)
    else:
        while high == low or not force_range(case, road, k, x, low, GREATEST)[3]:
            high = low
            low = low * (1.0 - stride)
            stride = min(8.0 * stride, 0.3)
            if low < CRAWL_W:
                return 0.0
    while high - low > LIMIT_WIDTH * high:
        middle = 0.5 * (low + high)
        if force_range(case, road, k, x, middle, GREATEST)[3]:
            low = middle
        else:
            high = middle
    return low


@kernel
def limit_pass(case: Floats, road: Floats, limit: Floats) -> int:
    """Fill `limit` (n, 2) with the limit at both ends of each step; -1, or a step that has none."""
    calm = case[WIND_NORTH] == 0.0 and case[WIND_EAST] == 0.0
    last = 900.0
    earlier = last
    for k in range(len(road)):
        if k > 0 and _same(road, k, 0, k - 1, 1, calm):
            limit[k, 0] = limit[k - 1, 1]
        else:
            limit[k, 0] = limit_w(case, road, k, 0.0, last)
            earlier = last = limit[k, 0]
        if _same(road, k, 1, k, 0, calm):
            limit[k, 1] = limit[k, 0]
        else:
            # 1/w goes on as it did: exact for friction alone on a linear ramp of curvature.
            guess = 1.0 / max(2.0 / last - 1.0 / earlier, 1.0 / CEILING_W) if last > 0.0 else last
            limit[k, 1] = limit_w(case, road, k, 1.0, guess)
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
