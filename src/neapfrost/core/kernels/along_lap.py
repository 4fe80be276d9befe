"""Places and values along a finished lap: small searches, made many times for each corner.

A lap is given by columns (m,) over rising positions `s` (m,); between two points values run
linearly.
"""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import DOWNSHIFT_REV_SHARE, MINIMUM_REACHED_MS, THROTTLE_RISE_MS
from neapfrost.core.kernels.case import DOWNSHIFT_S, REV_LIMIT, RPM_PER_MS
from neapfrost.core.kernels.jit import kernel

NOWHERE = math.nan  # stands for a place that does not exist


@kernel
def first_from(s: Floats, place: float) -> int:
    """Index of the first point at or behind a place; m where there is none."""
    low, high = 0, len(s)
    while low < high:
        middle = (low + high) // 2
        if s[middle] < place:
            low = middle + 1
        else:
            high = middle
    return low


@kernel
def value_at(s: Floats, values: Floats, place: float) -> float:
    """Value at a place; beyond the ends that of the end."""
    after = first_from(s, place)
    if after == 0:
        return values[0]
    if after == len(s):
        return values[after - 1]
    share = (place - s[after - 1]) / (s[after] - s[after - 1])
    return values[after - 1] + share * (values[after] - values[after - 1])


# Many parameters: see `downshift_places`.
@kernel
def times_at(s: Floats, v: Floats, t: Floats, ax: Floats, at: Floats, out: Floats) -> None:
    """Running time at places [s], into `out`; the acceleration `ax` is constant between points."""
    for i in range(len(at)):
        k = min(max(first_from(s, at[i]) - 1, 0), len(s) - 2)
        into = at[i] - s[k]
        reached = math.sqrt(max(v[k] * v[k] + 2.0 * ax[k] * into, 0.0))
        out[i] = t[k] + 2.0 * into / max(v[k] + reached, 1e-9)


@kernel
def step_value(s: Floats, values: Floats, place: float) -> float:
    """Value of the interval that begins at or before a place."""
    index = first_from(s, place + 1e-6) - 1
    return values[min(max(index, 0), len(values) - 1)]


@kernel
def lowest_between(s: Floats, v: Floats, begins: float, ends: float) -> tuple[float, float]:
    """Where the lowest speed between two places is first reached, and that speed."""
    entry, leaving = value_at(s, v, begins), value_at(s, v, ends)
    first = first_from(s, begins - 1e-7)
    last = max(first_from(s, ends + 1e-7), first + 1)
    lowest = min(entry, leaving)
    for i in range(first, last):
        lowest = min(lowest, v[i])
    reached = lowest + MINIMUM_REACHED_MS
    if entry <= reached:
        return begins, lowest
    for i in range(first, last):
        if v[i] <= reached:
            return min(max(s[i], begins), ends), lowest
    return ends, lowest


@kernel
def rises_at(s: Floats, v: Floats, first: int, last: int, lowest: float) -> float:
    """Where, between two points, the speed has finally risen above a minimum for throttle.

    NOWHERE where it does not, or only with the last point.
    """
    level = lowest + THROTTLE_RISE_MS
    top = first
    above = False
    for i in range(first, last):
        above = above or v[i] > level
        if v[i] > v[top]:
            top = i
    if not above:
        return NOWHERE
    below = top
    while below >= first and v[below] > level:
        below -= 1
    if below < first:
        return s[first]
    if below + 1 >= last:
        return NOWHERE
    share = (level - v[below]) / (v[below + 1] - v[below])
    return s[below] + share * (s[below + 1] - s[below])


@kernel
def first_free(throttle: Floats, tyre_limited: Floats, first: int, last: int, full: float) -> int:
    """First of some points on full throttle that the tyres do not limit; `last` for none."""
    for i in range(first, last):
        if throttle[i] >= full and tyre_limited[i] == 0.0:
            return i
    return last


# Many parameters: a lap's columns are handed on singly, and its results into an array.
@kernel
def downshift_places(
    case: Floats,
    s: Floats,
    v: Floats,
    t: Floats,
    begin: float,
    end: float,
    gears: tuple[int, int],
    out: Floats,
) -> None:
    """Place [m] and speed [m/s] of each downshift from `gears[0]` to `gears[1]`, into `out` (k, 2).

    Gears count from 1. Each comes as early as the revs after it and the shift before it allow, and
    at the end at the latest.
    """
    first = first_from(s, begin - 1e-7)
    last = max(first_from(s, end + 1e-7), first + 1)
    free = -math.inf
    for target in range(gears[0] - 1, gears[1] - 1, -1):
        highest = DOWNSHIFT_REV_SHARE * case[REV_LIMIT] / case[RPM_PER_MS + target - 1]
        i = first
        while i < last and not (v[i] <= highest + 1e-9 and t[i] >= free - 1e-9):
            i += 1
        if i == last:
            place, speed, now = end, v[last - 1], t[last - 1]
        elif i == first:
            place, speed, now = s[i], v[i], t[i]
        else:
            share = 0.0
            if v[i - 1] > highest:
                share = (v[i - 1] - highest) / (v[i - 1] - v[i])
            if t[i - 1] < free:
                share = max(share, (free - t[i - 1]) / (t[i] - t[i - 1]))
            share = min(max(share, 0.0), 1.0)
            place = s[i - 1] + share * (s[i] - s[i - 1])
            speed = v[i - 1] + share * (v[i] - v[i - 1])
            now = t[i - 1] + share * (t[i] - t[i - 1])
        out[gears[0] - 1 - target, 0] = place
        out[gears[0] - 1 - target, 1] = speed
        free = now + case[DOWNSHIFT_S]
