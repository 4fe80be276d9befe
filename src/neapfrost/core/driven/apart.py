"""Whether two runs differ by more than their own laps scatter."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.chance import HELD, SURE, half_width

PAIRS_FEWEST = 3


@dataclass(frozen=True)
class RunsApart:
    """Lap time of the later run less that of the earlier one [s]: by the clock, and within what.

    `within_s` holds four times in five; `noise_s` is what chance alone may make of it. Of `pairs`
    laps, each the same count into its run, so that warming up and learning are alike in both.
    """

    change_s: float
    within_s: float
    noise_s: float
    pairs: int
    beyond_noise: bool


def runs_apart(
    before: Sequence[tuple[int, float]], after: Sequence[tuple[int, float]]
) -> RunsApart | None:
    """Two runs' laps, each (count into the run, time [s]), against one another.

    None where fewer than three laps are the same count into both. Student's t of the pairs; of
    more than four the most extreme on either side are left out as mistakes are (Yuen, Biometrika
    61, 1974).
    """
    first = dict(before)
    pairs = np.sort([time - first[n] for n, time in after if n in first])
    if len(pairs) < PAIRS_FEWEST:
        return None
    cut = 1 if len(pairs) > 4 else 0
    kept = pairs[cut : len(pairs) - cut]
    # The scatter is that of all pairs with the extremes drawn in to their neighbours.
    drawn_in = np.clip(pairs, kept[0], kept[-1])
    free = len(kept) - 1
    share = len(kept) / len(pairs)
    error = float(np.std(drawn_in, ddof=1)) / (share * float(np.sqrt(len(pairs))))
    noise = half_width(SURE, free) * error
    change = float(kept.mean())
    return RunsApart(
        change_s=change,
        within_s=half_width(HELD, free) * error,
        noise_s=noise,
        pairs=len(pairs),
        beyond_noise=abs(change) > noise,
    )
