"""How far a difference between laps can be trusted: all of them driven with the same few draws.

Grip that is lower than assumed is lower with either wing: what matters for a choice is how the
difference spreads, not the lap. So every variant is driven with the same draws.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import solved
from neapfrost.core.studies.bands import TEN_TO_NINETY, Drawn, varied

#: Two sides of a test that is wrong one time in ten: the normal score.
ONE_IN_TEN = 1.6448536269514722
#: Draws in which one of two is ahead for their order to count as certain.
CERTAIN_SHARE = 0.9


@dataclass(frozen=True)
class Spread:
    """Half-widths [s] of the 10 to 90 band of a lap time and of its difference to another."""

    lap_s: float
    change_s: float


def drawn_times_s(drive: Drive, draws: Sequence[Drawn]) -> Floats:
    """Lap time with each of k draws [s] (k,); not a number where no lap is possible."""
    times = np.full(len(draws), np.nan)
    for number, one in enumerate(draws):
        try:
            times[number] = solved(varied(drive, one)[0]).lap.lap_time_s
        except LapImpossible:
            continue
    return times


def spread(times_s: Floats, base_s: Floats) -> Spread | None:
    """Bands of a lap from its k drawn times (k,) and those of the lap it is set against.

    From the standard deviation, as of a normal distribution: so few draws have no percentiles.
    None where fewer than three could be driven.
    """
    both = np.isfinite(times_s) & np.isfinite(base_s)
    if both.sum() < 3:
        return None
    return Spread(
        lap_s=TEN_TO_NINETY * float(times_s[both].std(ddof=1)),
        change_s=TEN_TO_NINETY * float((times_s[both] - base_s[both]).std(ddof=1)),
    )


def best_shares(times_s: Floats) -> Floats:
    """For each of v variants the share of draws in which it is the quickest; times (v, k)."""
    shares = np.zeros(len(times_s))
    for column in times_s.T:
        if np.isfinite(column).any():
            shares[int(np.nanargmin(column))] += 1.0 / times_s.shape[1]
    return shares


def order_is_certain(first_s: Floats, second_s: Floats) -> bool:
    """Whether the first of two gains is the larger in nearly every draw; gains [s] (k,) each.

    From mean and scatter of their difference, as of a normal distribution.
    """
    both = np.isfinite(first_s) & np.isfinite(second_s)
    if both.sum() < 3:
        return False
    apart = first_s[both] - second_s[both]
    scatter = float(apart.std(ddof=1))
    mean = float(apart.mean())
    if scatter < 1e-9:
        return mean > 0.0
    share = 0.5 * (1.0 + math.erf(mean / scatter / math.sqrt(2.0)))
    return share >= CERTAIN_SHARE


def laps_to_see(gain_s: float, scatter_s: float) -> int | None:
    """Laps before and as many after that show a gain among laps that scatter by so much [s].

    Two means of n laps differ by scatter·√(2/n); the gain shows once that is a 1.645th of it, so
    that chance alone feigns it one time in ten. None for no gain.
    """
    if gain_s <= 0.0 or not math.isfinite(gain_s):
        return None
    return max(1, math.ceil(2.0 * (ONE_IN_TEN * scatter_s / gain_s) ** 2))
