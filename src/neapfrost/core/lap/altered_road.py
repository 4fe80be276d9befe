"""A packed road with something otherwise on part of it: an order, a trial, another car in front.

Every function returns a new packed road (n, 2, 16) and leaves the one it was given alone.
"""

from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.road import (
    BRAKING,
    COAST,
    CORNER_GEAR,
    DRAG,
    ELECTRIC,
    ENTRY,
    GRIP,
    LIFT,
    N0,
    N2,
    SLOPE,
    TOP_GEAR,
    Y0,
    Y2,
)
from neapfrost.core.lap.pack_road import road_figures
from neapfrost.core.path.build import Path
from neapfrost.core.path.reach import corners_reached


def steps_between(path: Path, from_m: float, to_m: float) -> Integers:
    """Steps whose middle lies between two places, which may lie in the lap before or after."""
    middle = 0.5 * (path.s_m[:-1] + path.s_m[1:])
    inside = np.zeros(len(middle), dtype=bool)
    for shift in path.ring.shifts:
        inside |= (middle + shift >= from_m) & (middle + shift <= to_m)
    return np.flatnonzero(inside)


def corner_steps(path: Path, corner: int) -> Integers:
    """Steps of a corner, with its ramps."""
    return steps_between(path, path.corners[corner].begins_at_m, path.corners[corner].ends_at_m)


def steps_leaving(path: Path, corner: int) -> Integers:
    """Steps in which a lowest point counts as this corner's.

    Its own, and those within the reach of a zone from its ends that no other corner is nearer to.
    """
    return np.flatnonzero(corners_reached(path, path.s_m[:-1])[0] == corner)


def with_corner_gear(path: Path, road: Floats, corner: int, gear: int) -> Floats:
    """A corner to be left in a gear (counted from 1), as far as downshifts and revs allow."""
    altered = road.copy()
    altered[steps_leaving(path, corner), :, CORNER_GEAR] = gear - 1
    return altered


def with_top_gear(road: Floats, steps: Integers, gear: int) -> Floats:
    """Upshifts as far as a gear (counted from 1) and no farther, whether that pays or not."""
    altered = road.copy()
    altered[steps, :, TOP_GEAR] = gear - 1
    return altered


def with_braking(
    road: Floats, steps: Integers, share: float | None = None, exponent: float | None = None
) -> Floats:
    """A share of the braking that tyres and brakes give, and how it is combined with cornering."""
    altered = road.copy()
    if share is not None:
        altered[steps, :, BRAKING] = share
    if exponent is not None:
        altered[steps, :, ENTRY] = exponent
    return altered


def with_grip(road: Floats, steps: Integers, factor: float) -> Floats:
    """The surface's grip times a factor."""
    altered = road.copy()
    altered[steps, :, GRIP] *= factor
    return altered


def with_curvature(path: Path, road: Floats, steps: Integers, factor: float | Floats) -> Floats:
    """The driven curvature times a factor, or a factor a step, on the same length of road.

    A driven radius larger by a share is a factor of 1/(1 + share).
    """
    altered = road.copy()
    more = factor - 1.0
    for end, (n2, y2) in enumerate(_demand_of_bends(path)):
        altered[steps, end, Y2] += more * y2[steps]
        altered[steps, end, N2] += more * n2[steps]
    return altered


@lru_cache(maxsize=16)
def _demand_of_bends(path: Path) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats]]:
    """N2 and Y2 that the path's curvature makes at both ends of its steps (n,).

    Kept, not to be written to: a path is altered many times over.
    """

    def of(curvature: Floats, bank: Floats) -> tuple[Floats, Floats]:
        _, n2, _, y2 = road_figures(curvature, 0.0, np.cos(bank), np.sin(bank), 1.0)
        return n2, y2

    return of(path.curvature_start, path.bank_start), of(path.curvature_end, path.bank_end)


def without_grade(path: Path, road: Floats, steps: Integers) -> Floats:
    """No slope along the road; crests and dips stay."""
    altered = road.copy()
    for end, bank in ((0, path.bank_start[steps]), (1, path.bank_end[steps])):
        n0, _, y0, _ = road_figures(0.0, 0.0, np.cos(bank), np.sin(bank), 1.0)
        altered[steps, end, SLOPE] = 0.0
        altered[steps, end, N0] = n0
        altered[steps, end, Y0] = y0
    return altered


def without_crests(path: Path, road: Floats, steps: Integers) -> Floats:
    """No crest or dip; the slope stays."""
    altered = road.copy()
    for end, vertical, bank in (
        (0, path.slope.curvature_start, path.bank_start),
        (1, path.slope.curvature_end, path.bank_end),
    ):
        _, n2, _, y2 = road_figures(0.0, vertical, np.cos(bank), np.sin(bank), 1.0)
        altered[steps, end, N2] -= n2[steps]
        altered[steps, end, Y2] -= y2[steps]
    return altered


def with_coasting(road: Floats, steps: Integers, coast_s: float) -> Floats:
    """The throttle shut so much earlier before a braking zone that begins in some steps [s]."""
    altered = road.copy()
    altered[steps, :, COAST] = coast_s
    return altered


def with_electric_power(road: Floats, power_w: Floats) -> Floats:
    """Power beside the engine's in each step while the throttle is down; (n,) [W] at the tyres."""
    altered = road.copy()
    altered[:, :, ELECTRIC] = power_w[:, None]
    return altered


def with_flap(road: Floats, steps: Integers, downforce_left: float, drag_left: float) -> Floats:
    """Shares of downforce and drag that are left in some steps, where a flap is open."""
    altered = road.copy()
    altered[steps, :, LIFT] *= downforce_left
    altered[steps, :, DRAG] *= drag_left
    return altered


def following(path: Path, road: Floats, downforce_left: float, drag_left: float) -> Floats:
    """Close behind another vehicle: less downforce in the corners, less drag before them."""
    altered = road.copy()
    cornering = np.zeros(len(road), dtype=bool)
    for corner in range(len(path.corners)):
        cornering[corner_steps(path, corner)] = True
    altered[cornering, :, LIFT] *= downforce_left
    altered[~cornering, :, DRAG] *= drag_left
    return altered
