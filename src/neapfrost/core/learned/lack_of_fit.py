"""Whether the figures can describe what was driven at all, whatever values they are given.

A fit finds the best values of a model's figures; where the model itself is another car's (another
power curve, another layout) its intervals say nothing. What is left over then comes again at the
same place lap after lap (lack of fit against pure error: Draper and Smith, Applied Regression
Analysis, 1998, ch. 2), the fit takes speeds further from what was driven, or the best lap is
quicker than the car with these figures at its limit.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import chdtri

from neapfrost.core.chance import SURE
from neapfrost.core.learned.conclusions import SIGNIFICANT, Misfit, TimePart
from neapfrost.core.learned.fit import Posterior
from neapfrost.core.studies.bands import TEN_TO_NINETY

LackOf = Literal["pulls", "speeds", "driver"]

#: Pulls whose middles lie this close together on one straight are the same one on other laps [m].
SAME_PULL_M = 40.0
#: Less than this left over, again and again, is a grade or a gust [m/s²].
PULLS_LEFT_MS2 = 0.08
#: Speeds that the fit takes further off by less than this are as they were [m/s].
SPEEDS_LEFT_MS = 0.25


@dataclass(frozen=True)
class Lack:
    """What the figures cannot describe, and its size: m/s², m/s, or seconds of the lap."""

    of: LackOf
    size: float


def lack_of_fit(
    found: Posterior, misfits: Sequence[Misfit], parts: Sequence[TimePart]
) -> tuple[Lack, ...]:
    """What a fit's figures cannot describe; nothing where they can."""
    told = []
    left = pulls_left_ms2(found)
    if left is not None and left > PULLS_LEFT_MS2:
        told.append(Lack("pulls", left))
    if misfits:
        before, after = (
            float(np.sqrt(np.mean([getattr(one, name) ** 2 for one in misfits])))
            for name in ("before_ms", "after_ms")
        )
        if after > before + SPEEDS_LEFT_MS:
            told.append(Lack("speeds", after))
    for part in parts:
        sure = SIGNIFICANT / TEN_TO_NINETY * part.within_s
        if part.cause == "driver" and part.time_s < -sure:
            told.append(Lack("driver", -part.time_s))
    return tuple(told)


def pulls_left_ms2(found: Posterior) -> float | None:
    """What pulls leave over at the same places on every lap [m/s²]; None where that is chance.

    The root mean square of what comes again, beyond what the scatter from lap to lap makes of it.
    """
    rows, where = found.rows, found.where
    cells: dict[tuple[str, int], list[float]] = {}
    for row in rows.of("pull"):
        name = rows.group[row][1]
        # What the straight was given for itself is left over as well.
        left = float(found.left[row] + found.x[where.straight[name]])
        cells.setdefault((name, round(float(rows.at_m[row]) / SAME_PULL_M)), []).append(left)
    again = [np.array(one) for one in cells.values() if len(one) >= 2]
    if not again:
        return None
    apart = sum(float(((one - one.mean()) ** 2).sum()) for one in again)
    scatter = apart / max(sum(len(one) - 1 for one in again), 1)
    repeated = np.array([one.mean() ** 2 for one in again])
    counts = np.array([len(one) for one in again])
    if float((counts * repeated).sum()) < scatter * float(chdtri(len(again), 1.0 - SURE)):
        return None
    return float(np.sqrt(max(float((repeated - scatter / counts).mean()), 0.0)))
