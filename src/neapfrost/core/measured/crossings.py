"""Where a road crosses itself."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.measured.smoothing import SmoothLine

#: Two ways this far apart in height are a bridge [m].
BRIDGE_M = 3.5


@dataclass(frozen=True)
class Crossing:
    """Where a line crosses itself: both places along it [m]."""

    first_at_m: float
    second_at_m: float


def find_crossings(line: SmoothLine) -> tuple[Crossing, ...]:
    """Every crossing of a line with itself, found between samples about 4 m apart."""
    every = max(1, round(4.0 / float(np.diff(line.s_m).mean())))
    index = np.arange(0, len(line.s_m), every)
    if index[-1] != len(line.s_m) - 1:
        index = np.append(index, len(line.s_m) - 1)
    x, y, s = line.x_m[index], line.y_m[index], line.s_m[index]
    dx, dy = np.diff(x), np.diff(y)
    found = []
    count = len(dx)
    for i in range(count - 2):
        last = count - 1 if line.closed and i == 0 else count
        j = np.arange(i + 2, last)
        if len(j) == 0:
            continue
        turn = dx[i] * dy[j] - dy[i] * dx[j]
        with np.errstate(divide="ignore", invalid="ignore"):
            own = ((x[j] - x[i]) * dy[j] - (y[j] - y[i]) * dx[j]) / turn
            other = ((x[j] - x[i]) * dy[i] - (y[j] - y[i]) * dx[i]) / turn
        hit = (own >= 0.0) & (own < 1.0) & (other >= 0.0) & (other < 1.0) & (np.abs(turn) > 1e-12)
        for k in np.flatnonzero(hit):
            found.append(
                Crossing(
                    float(s[i] + own[k] * (s[i + 1] - s[i])),
                    float(s[j[k]] + other[k] * (s[j[k] + 1] - s[j[k]])),
                )
            )
    return tuple(found)
