"""How friction falls as the load grows: μ goes as (load / reference)^-ε.

A lap asks for that power some ten thousand times, and a logarithm and an exponential were a fifth
of it. Between half and four and a half times the reference load it is read from a table instead:
cubics between values and slopes that are exact, within 1e-9 of the power.
"""

import math

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import LOAD_RATIO_FLOOR
from neapfrost.core.kernels.case import (
    LOAD_SENSITIVITY,
    SENSITIVE,
    SENSITIVE_CELLS,
    SENSITIVE_FROM,
    SENSITIVE_PER,
)
from neapfrost.core.kernels.jit import kernel


@kernel
def loaded_share(case: Floats, ratio: float) -> float:
    """Friction at a load over that at the reference load; `ratio` is of the loads."""
    at = (ratio - SENSITIVE_FROM) * SENSITIVE_PER
    if not 0.0 <= at < SENSITIVE_CELLS:
        return math.exp(-case[LOAD_SENSITIVITY] * math.log(max(ratio, LOAD_RATIO_FLOOR)))
    cell = int(at)
    x = at - cell
    i = SENSITIVE + 2 * cell
    value, slope = case[i], case[i + 1]
    rise = case[i + 2] - value
    bend, twist = 3.0 * rise - 2.0 * slope - case[i + 3], slope + case[i + 3] - 2.0 * rise
    return value + x * (slope + x * (bend + x * twist))
