"""Channels that were logged at rates of their own, put onto one time base."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats

#: A finer base than this tells nothing more of a vehicle [Hz].
RATE_MOST_HZ = 100.0
#: Between samples farther apart than this a channel is not known [s].
GAP_S = 2.0
#: So few whole numbers, each seen so often, are states (gears, switches): nothing lies between.
STATES_MOST, SEEN_LEAST = 20, 3.0


@dataclass(frozen=True, eq=False)
class Series:
    """A channel with its own times [s] (n,) and values (n,); NaN where a sample is missing."""

    t_s: Floats
    values: Floats

    @property
    def rate_hz(self) -> float:
        """Samples in a second, by their median distance; 0 of fewer than two."""
        steps = np.diff(self.t_s)
        steps = steps[steps > 0.0]
        return 1.0 / float(np.median(steps)) if len(steps) else 0.0


def rising(t_s: Floats, values: Floats) -> Series:
    """A channel whose times rise: what has no time goes, and of a moment told twice the first."""
    known = np.isfinite(t_s)
    t, v = t_s[known], values[known]
    highest = np.maximum.accumulate(t) if len(t) else t
    later = np.concatenate(([True], t[1:] > highest[:-1])) if len(t) else known[:0]
    return Series(t[later], v[later])


def base_of(series: Sequence[Series], samples_most: int) -> Floats | None:
    """Times from the first sample of any channel to the last, at the highest of their rates [s].

    None where that would be more than so many samples; empty without channels.
    """
    some = [one for one in series if one.rate_hz > 0.0]
    if not some:
        return np.zeros(0, dtype=np.float64)
    rate = min(max(one.rate_hz for one in some), RATE_MOST_HZ)
    begin = min(float(one.t_s[0]) for one in some)
    end = max(float(one.t_s[-1]) for one in some)
    count = np.floor((end - begin) * rate + 1e-6) + 1.0
    if not count <= samples_most:
        return None
    base: Floats = begin + np.arange(int(count)) / rate
    return base


def is_states(values: Floats) -> bool:
    """Whether a channel holds a few whole numbers again and again, as gears and switches do."""
    known = values[np.isfinite(values)]
    if len(known) == 0 or not np.array_equal(known, np.round(known)):
        return False
    seen = len(np.unique(known))
    return seen <= STATES_MOST and seen * SEEN_LEAST <= len(known)


def on_base(series: Series, base_s: Floats) -> Floats:
    """A channel at the times of a base (m,): linear between samples, states held until the next.

    NaN before its first sample, after its last, and in gaps of more than two seconds.
    """
    known = np.isfinite(series.values)
    t, values = series.t_s[known], series.values[known]
    if len(t) == 0:
        return np.full(len(base_s), np.nan)
    after = np.searchsorted(t, base_s, side="right")
    before = np.clip(after - 1, 0, len(t) - 1)
    following = np.clip(after, 0, len(t) - 1)
    found: Floats = values[before] if is_states(values) else np.interp(base_s, t, values)
    # A hair of rounding at the ends is none.
    outside = (base_s < t[0] - 1e-6) | (base_s > t[-1] + 1e-6)
    inside_gap = (t[following] - t[before] > GAP_S) & (base_s > t[before]) & (base_s < t[following])
    return np.where(outside | inside_gap, np.nan, found)
