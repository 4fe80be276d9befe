"""A path packed for the kernels: what the road does to forces, at both ends of every step.

Each row holds eight coefficients. With w = v² the normal acceleration is N0 + N2·w (downforce
aside), the lateral one Y0 + Y2·w, both along the road's own axes; SLOPE is g·sin γ; NORTH and
EAST are the direction of travel; GRIP is the surface's grip factor.
"""

from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.path.build import Path

N0, N2, Y0, Y2, SLOPE, NORTH, EAST, GRIP = range(8)
COEFFICIENTS = 8


@lru_cache(maxsize=16)
def pack_road(path: Path) -> tuple[Floats, Floats]:
    """Coefficients (n, 2, 8) and step lengths (n,) of a path; kept, and not to be written to.

    N = m[g cosγ cosβ + v²(κ_v cosβ + κ sinβ)] and F_y = m[v²(κ cosβ - κ_v sinβ) - g cosγ sinβ]
    (Milliken, Race Car Vehicle Dynamics, 1995, for the banked and vertically curved road).
    """
    road = np.empty((len(path.curvature_start), 2, COEFFICIENTS))
    ends = (
        (
            path.curvature_start,
            path.bank_start,
            path.slope.angle_start,
            path.slope.curvature_start,
            path.heading_rad[:-1],
            path.grip_start,
        ),
        (
            path.curvature_end,
            path.bank_end,
            path.slope.angle_end,
            path.slope.curvature_end,
            path.heading_rad[1:],
            path.grip_end,
        ),
    )
    north = np.radians(path.north_deg)
    for end, (curvature, bank, slope, vertical, heading, grip) in enumerate(ends):
        cos_bank, sin_bank = np.cos(bank), np.sin(bank)
        weight = STANDARD_GRAVITY_MS2 * np.cos(slope)
        bearing = north - heading  # headings turn counter-clockwise, bearings clockwise
        row = road[:, end, :]
        row[:, N0] = weight * cos_bank
        row[:, N2] = vertical * cos_bank + curvature * sin_bank
        row[:, Y0] = -weight * sin_bank
        row[:, Y2] = curvature * cos_bank - vertical * sin_bank
        row[:, SLOPE] = STANDARD_GRAVITY_MS2 * np.sin(slope)
        row[:, NORTH] = np.cos(bearing)
        row[:, EAST] = np.sin(bearing)
        row[:, GRIP] = grip
    return road, np.diff(path.s_m)


@lru_cache(maxsize=16)
def pack_straightened_road(path: Path) -> Floats:
    """The coefficients of `pack_road` with nothing asked for sideways; not to be written to."""
    road = pack_road(path)[0].copy()
    road[:, :, (Y0, Y2)] = 0.0
    return road
