"""Heights as loggers write them: with holes, and in feet as often as in metres."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.units import FOOT_M

HeightUnit = Literal["m", "ft"]

#: What loggers write where they know no height.
NO_HEIGHT = (-32768.0, 32767.0, -9999.0, 9999.0, -99999.0, 99999.0)
#: Heights of roads on earth [m].
LOWEST_M, HIGHEST_M = -1000.0, 9000.0
#: A track with more holes than this share of it has no heights.
HOLES_MOST = 0.5


@dataclass(frozen=True, eq=False)
class Heights:
    """Heights of a track (n,) [m], None where too few are known; their unit, and the holes filled.

    `holes` are points whose height was none, or none of a road on earth.
    """

    z_m: Floats | None
    unit: HeightUnit
    holes: int


def heights_of(z: Floats, unit: HeightUnit | None = None) -> Heights:
    """A track's heights (n,) as they stand in its file, in metres and without holes.

    Without a unit they are feet where they reach higher than any road in metres.
    """
    known = np.isfinite(z) & ~np.isin(z, NO_HEIGHT)
    highest = float(z[known].max(initial=0.0))
    if unit is None:
        unit = "ft" if HIGHEST_M < highest <= HIGHEST_M / FOOT_M else "m"
    metres = np.where(known, z, 0.0) * (FOOT_M if unit == "ft" else 1.0)
    known &= (metres >= LOWEST_M) & (metres <= HIGHEST_M)
    holes = int(len(z) - known.sum())
    if holes > HOLES_MOST * len(z):
        return Heights(None, unit, holes)
    if holes > 0:
        number = np.arange(len(z), dtype=np.float64)
        metres = np.interp(number, number[known], metres[known])
    return Heights(metres, unit, holes)
