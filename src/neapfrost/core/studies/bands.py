"""Honest bands: many laps with what is uncertain drawn at random, and where most of them lie."""

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import (
    FORCE_PER_NM,
    GEARS,
    HALF_RHO_CLA,
    MU_BRAKING,
    MU_LATERAL,
    MU_TRACTION,
    WIND_EAST,
    WIND_NORTH,
)
from neapfrost.core.lap.altered_road import with_curvature
from neapfrost.core.lap.light import LightLap, columns, extents, light_lap
from neapfrost.core.path.build import Path

#: Half of the width from the 10th to the 90th percentile of a normal distribution, in σ.
TEN_TO_NINETY = 1.2815515655446004
LOW_PCT, HIGH_PCT = 10.0, 90.0
#: Laps that a corner's gear may go another way in before it is said to be in doubt.
DOUBT_SHARE = 0.1


@dataclass(frozen=True)
class Uncertainty:
    """What is uncertain: each the half-width within which the truth lies four times in five.

    Grip, downforce and power as shares, common to the lap; wind [m/s] from any side, common;
    driven radius as a share, each corner's its own.
    """

    grip: float = 0.03
    downforce: float = 0.05
    power: float = 0.02
    wind_ms: float = 1.0
    radius: float = 0.02


@dataclass(frozen=True)
class Drawn:
    """One draw: factors on grip, downforce, power; wind to add (north, east) [m/s]; radii (c,)."""

    grip: float
    downforce: float
    power: float
    wind_ms: tuple[float, float]
    radii: Floats


@dataclass(frozen=True)
class Bands:
    """Results of m laps with c corners; `speed_ms` (3, n + 1) at the path's nodes.

    Rows are the 10th, 50th and 90th percentile: `lap_time_s` (3,), `min_speed_ms` and
    `brake_start_to_corner_m` (3, c), the latter not a number where fewer than nine in ten laps
    brake. `gears` (c,) maps each gear, from 1, to the share of laps in it.
    """

    laps: int
    lap_time_s: Floats
    sector_times_s: Floats
    min_speed_ms: Floats
    brake_start_to_corner_m: Floats
    braked_share: Floats
    gears: tuple[dict[int, float], ...]
    speed_ms: Floats


def draw(uncertainty: Uncertainty, corners: int, laps: int, seed: int) -> list[Drawn]:
    """So many draws of everything uncertain, the same for the same seed."""
    random = np.random.default_rng(seed)
    sigma = 1.0 / TEN_TO_NINETY

    def factor(half_width: float) -> float:
        # Factors cannot fall to nothing, however wide somebody makes them.
        return max(1.0 + half_width * sigma * float(random.standard_normal()), 0.2)

    draws = []
    for _ in range(laps):
        grip, downforce, power = (
            factor(uncertainty.grip),
            factor(uncertainty.downforce),
            factor(uncertainty.power),
        )
        wind = uncertainty.wind_ms * sigma * random.standard_normal(2)
        radii = 1.0 + uncertainty.radius * sigma * random.standard_normal(corners)
        draws.append(
            Drawn(grip, downforce, power, (float(wind[0]), float(wind[1])), radii.clip(min=0.2))
        )
    return draws


def drawn_laps(
    path: Path,
    case: Floats,
    road: Floats,
    lengths: Floats,
    draws: list[Drawn],
    stopped: Callable[[], bool] = lambda: False,
) -> Bands | None:
    """Drive every draw and say where nine in ten and one in ten lie; None when stopped.

    `case` and `road` are packed as the plan has them. Draws that no lap can be driven with are
    left out; at least two must be left.
    """
    where = extents(path)

    def drive(one: Drawn) -> LightLap | None:
        if stopped():
            return None
        wider = np.ones(len(road))
        for steps, factor in zip(where.steps, one.radii, strict=True):
            wider[steps] = 1.0 / factor
        own_road = with_curvature(path, road, np.arange(len(road)), wider)
        return light_lap(path, where, varied_case(case, one), own_road, lengths)

    with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
        found = [lap for lap in pool.map(drive, draws) if lap is not None]
    if stopped() or len(found) < 2:
        return None
    return _bands(found, len(path.corners))


def varied_case(case: Floats, one: Drawn) -> Floats:
    """A packed case with a draw's factors and wind in it."""
    own = case.copy()
    own[[MU_LATERAL, MU_BRAKING, MU_TRACTION]] *= one.grip
    own[HALF_RHO_CLA] *= one.downforce
    count = int(own[GEARS])
    own[FORCE_PER_NM : FORCE_PER_NM + count] *= one.power
    own[WIND_NORTH] += one.wind_ms[0]
    own[WIND_EAST] += one.wind_ms[1]
    return own


def _bands(found: list[LightLap], corners: int) -> Bands:
    levels = (LOW_PCT, 50.0, HIGH_PCT)

    def percentiles(name: str) -> Floats:
        values: Floats = np.percentile(columns(found, name), levels, axis=0)
        return values

    brakes = columns(found, "brake_to_corner_m").reshape(len(found), corners)
    braked = np.isfinite(brakes)
    share = braked.mean(axis=0)
    starts = np.full((3, corners), np.nan)
    for corner in range(corners):
        if share[corner] >= 1.0 - DOUBT_SHARE:
            starts[:, corner] = np.percentile(brakes[braked[:, corner], corner], levels)
    gears: list[dict[int, float]] = []
    for corner in range(corners):
        values, counts = np.unique([one.gear[corner] for one in found], return_counts=True)
        gears.append({int(g): float(n) / len(found) for g, n in zip(values, counts, strict=True)})
    return Bands(
        laps=len(found),
        lap_time_s=percentiles("lap_time_s"),
        sector_times_s=percentiles("sectors_s"),
        min_speed_ms=percentiles("min_speed_ms"),
        brake_start_to_corner_m=starts,
        braked_share=share,
        gears=tuple(gears),
        speed_ms=percentiles("speed_ms"),
    )
