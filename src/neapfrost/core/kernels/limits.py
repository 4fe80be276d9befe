"""The highest speed at each end of each step at which the tyres can hold the vehicle at all."""

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import SPEED_CEILING_MS
from neapfrost.core.kernels.case import WIND_EAST, WIND_NORTH
from neapfrost.core.kernels.forces import GREATEST, force_range
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.road import COEFFICIENTS, EAST, NORTH

CEILING_W = SPEED_CEILING_MS**2
CRAWL_W = 0.25  # 0.5 m/s: a place that cannot even be crawled through is reported as impossible


@kernel
def limit_w(case: Floats, road: Floats, k: int, x: float, guess: float) -> float:
    """Greatest squared speed at which some force keeps both axles inside their grip.

    Brackets from `guess` outwards, then bisects to 5e-8 of itself. CEILING_W stands for no limit;
    0 for a place where not even a crawl is possible.
    """
    if force_range(case, road, k, x, CEILING_W, GREATEST)[3]:
        return CEILING_W
    low = min(guess, CEILING_W)
    high = low
    factor = 1.0 + 1e-6
    if force_range(case, road, k, x, low, GREATEST)[3]:
        while force_range(case, road, k, x, high, GREATEST)[3]:
            low = high
            high = min(high * factor, CEILING_W)
            factor = min(factor**4, 2.0)
    else:
        while not force_range(case, road, k, x, low, GREATEST)[3]:
            high = low
            low = low / factor
            factor = min(factor**4, 1.3)
            if low < CRAWL_W:
                return 0.0
    while high - low > 5e-8 * high:
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
    for column in range(COEFFICIENTS):
        if calm and (column in (NORTH, EAST)):
            continue
        if road[k, end, column] != road[other_k, other_end, column]:
            return False
    return True
