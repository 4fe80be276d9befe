"""The highest speed at each end of each step at which the tyres can hold the vehicle at all."""

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import SPEED_CEILING_MS
from neapfrost.core.kernels.case import WIND_EAST, WIND_NORTH
from neapfrost.core.kernels.forces import holding_margin
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.road import BEARING_ON_LIMIT, EAST, NORTH, Y2

CEILING_W = SPEED_CEILING_MS**2
LIMIT_WIDTH = 1e-6  # of w: at 40 m/s the limit is known to 0.02 mm/s
TURNS_MOST = 200
SECANTS = 7  # so many turns before one in three halves the bracket
# Without a bracket a step leads no further than this, as a factor on w.
FARTHEST_DOWN, FARTHEST_UP = 0.7, 2.0
# Of the bend, and in 1/m: a smaller change says nothing of how the limit goes with it.
BENDS_ON, BENDS_AT_ALL = 1e-3, 1e-9
CRAWL_W = 0.25  # 0.5 m/s: a place that cannot even be crawled through is reported as impossible


@kernel
def limit_w(
    case: Floats, road: Floats, k: int, x: float, guess: float, slope: float
) -> tuple[float, float]:
    """Greatest squared speed at which some force keeps both axles inside their grip.

    `slope` is the margin's change with w as it was at another place, 0 where nothing is known.
    From `guess` on a secant of the margin (`holding_margin`) finds its way, within a bracket as
    soon as there is one, until that is no wider than LIMIT_WIDTH of itself, or what is left by the
    slope is no more. CEILING_W stands for no limit; 0 for a place where not even a crawl is
    possible. Returns (w, slope).
    """
    w = min(guess, CEILING_W)
    margin, ends = holding_margin(case, road, k, x, w)
    slope_before = slope
    low, high = 0.0, CEILING_W
    at_low = at_high = 0.0
    for turn in range(TURNS_MOST):
        if margin >= 0.0:
            if w >= CEILING_W:
                return CEILING_W, slope
            # The flatter of two slopes counts: a secant over a jump is steep and says nothing.
            if ends and turn > 0 and margin <= min(-slope, -slope_before) * LIMIT_WIDTH * w:
                return w, slope
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
            # A little short of the limit, so that the place it leads to is held.
            following = w + step - 0.5 * LIMIT_WIDTH * w
            following = min(max(following, FARTHEST_DOWN * w), FARTHEST_UP * w, CEILING_W)
            if bracketed and not low < following < high:
                following = low + (high - low) * at_low / (at_low - at_high)
                following = min(max(following, 0.9 * low + 0.1 * high), 0.1 * low + 0.9 * high)
        there, ends = holding_margin(case, road, k, x, following)
        slope_before = slope
        if there != margin:
            slope = (there - margin) / (following - w)
        w, margin = following, there
    return low, slope


@kernel
def limit_pass(case: Floats, road: Floats, limit: Floats) -> int:
    """Fill `limit` (n, 2) with the limit at both ends of each step; -1, or a step that has none."""
    calm = case[WIND_NORTH] == 0.0 and case[WIND_EAST] == 0.0
    bend, last = 0.0, CEILING_W  # the last place with a limit: its bend, and w there
    rate = drift = slope = 0.0  # how 1/w goes with the bend, and from place to place without it
    for k in range(len(road)):
        for end in range(2):
            if end == 0 and k > 0 and _same(road, k, 0, k - 1, 1, calm):
                limit[k, 0] = limit[k - 1, 1]
                continue
            if end == 1 and _same(road, k, 1, k, 0, calm):
                limit[k, 1] = limit[k, 0]
                continue
            # 1/w goes on with the bend as it did, which is exact for friction and downforce alone;
            # in an even bend, as it goes on from place to place.
            change = abs(road[k, end, Y2]) - bend
            bends_on = abs(change) > max(BENDS_ON * bend, BENDS_AT_ALL)
            expected = 1.0 / last + rate * change
            guess = 1.0 / max(expected if bends_on else expected + drift, 1.0 / CEILING_W)
            w, slope = limit_w(case, road, k, float(end), guess, slope)
            limit[k, end] = w
            if w == 0.0:
                return k
            drift = 0.0
            if w == CEILING_W:
                continue
            if bends_on:
                rate = max((1.0 / w - 1.0 / last) / change, 0.0)
            else:
                drift = 1.0 / w - expected
            bend += change
            last = w
    return -1


@kernel
def _same(road: Floats, k: int, end: int, other_k: int, other_end: int, calm: bool) -> bool:
    """Whether two places are alike for the limit; without wind the direction does not count."""
    # Counted and not broken off at the first, so that all columns are compared at once.
    differ = 0
    for column in range(BEARING_ON_LIMIT):
        differ += road[k, end, column] != road[other_k, other_end, column]
    if calm:
        for column in (NORTH, EAST):
            differ -= road[k, end, column] != road[other_k, other_end, column]
    return differ == 0
