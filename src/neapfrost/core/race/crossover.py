"""At how much water one tyre takes over from another."""

from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np
from scipy.optimize import brentq

#: Water is looked along in steps of this [%]; between two of them one crossing is looked for.
STEP_PCT = 1.0


def crossovers(
    first_s: Callable[[float], float], second_s: Callable[[float], float]
) -> list[tuple[float, bool]]:
    """Wetnesses [%] at which two tyres' laps take as long, and whether the second leads beyond."""
    at = np.arange(0.0, 100.0 + STEP_PCT, STEP_PCT)
    apart = np.array([first_s(float(one)) - second_s(float(one)) for one in at])
    found = []
    for n in range(len(at) - 1):
        if apart[n] == 0.0 and apart[n + 1] == 0.0:
            continue
        if apart[n] < 0.0 <= apart[n + 1] or apart[n] > 0.0 >= apart[n + 1]:
            root = brentq(
                lambda x: first_s(x) - second_s(x), float(at[n]), float(at[n + 1]), xtol=1e-6
            )
            found.append((float(root), bool(apart[n] < 0.0)))
    return found


def quickest_ranges(
    times_s: Sequence[Callable[[float], float]],
) -> list[tuple[int, float, float]]:
    """Which tyre is quickest from which wetness to which [%], from dry to wet."""
    edges = {0.0, 100.0}
    for n in range(len(times_s)):
        for m in range(n):
            edges |= {at for at, _ in crossovers(times_s[m], times_s[n])}
    ordered = sorted(edges)
    found: list[tuple[int, float, float]] = []
    for low, high in pairwise(ordered):
        middle = 0.5 * (low + high)
        best = min(range(len(times_s)), key=lambda n: times_s[n](middle))
        if found and found[-1][0] == best:
            found[-1] = (best, found[-1][1], high)
        else:
            found.append((best, low, high))
    return found
