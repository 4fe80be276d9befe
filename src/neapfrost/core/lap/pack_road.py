"""A path packed for the kernels: what the road does to forces, at both ends of every step."""

from functools import lru_cache
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.road import (
    BRAKING,
    COAST,
    COEFFICIENTS,
    CORNER_GEAR,
    DRAG,
    EAST,
    ELECTRIC,
    ENTRY,
    GRIP,
    LIFT,
    N0,
    N2,
    NORTH,
    SLOPE,
    TOP_GEAR,
    Y0,
    Y2,
)
from neapfrost.core.path.build import Path


def leave_ways_alone(road: Floats) -> None:
    """Write into every row that nothing is to be otherwise than on the rest of the lap."""
    road[:, :, (LIFT, DRAG, BRAKING)] = 1.0
    road[:, :, ENTRY] = 0.0
    road[:, :, (CORNER_GEAR, TOP_GEAR)] = -1.0
    road[:, :, (ELECTRIC, COAST)] = 0.0


def road_figures(
    curvature: Any, vertical: Any, cos_bank: Any, sin_bank: Any, cos_slope: Any
) -> tuple[Any, Any, Any, Any]:
    """N0, N2, Y0 and Y2 of a road, of numbers, arrays or expressions alike.

    N = m[g cosγ cosβ + v²(κ_v cosβ + κ sinβ)] and F_y = m[v²(κ cosβ - κ_v sinβ) - g cosγ sinβ]
    (Milliken, Race Car Vehicle Dynamics, 1995, for the banked and vertically curved road).
    """
    weight = STANDARD_GRAVITY_MS2 * cos_slope
    return (
        weight * cos_bank,
        vertical * cos_bank + curvature * sin_bank,
        -weight * sin_bank,
        curvature * cos_bank - vertical * sin_bank,
    )


@lru_cache(maxsize=16)
def pack_road(path: Path) -> tuple[Floats, Floats]:
    """Figures (n, 2, 16) and step lengths (n,) of a path; kept, and not to be written to."""
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
        bearing = north - heading  # headings turn counter-clockwise, bearings clockwise
        row = road[:, end, :]
        row[:, (N0, N2, Y0, Y2)] = np.column_stack(
            road_figures(curvature, vertical, cos_bank, sin_bank, np.cos(slope))
        )
        row[:, SLOPE] = STANDARD_GRAVITY_MS2 * np.sin(slope)
        row[:, NORTH] = np.cos(bearing)
        row[:, EAST] = np.sin(bearing)
        row[:, GRIP] = grip
    leave_ways_alone(road)
    return road, np.diff(path.s_m)


def straightened_road(road: Floats) -> Floats:
    """A packed road with nothing asked for sideways, and the brakes free to be used in full."""
    straight = road.copy()
    straight[:, :, (Y0, Y2)] = 0.0
    straight[:, :, BRAKING] = 1.0
    return straight
