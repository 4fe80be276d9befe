"""Honest bands: many laps with what is uncertain drawn at random, and where most of them lie."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.altered_road import with_curvature
from neapfrost.core.lap.drive import Drive, packed
from neapfrost.core.lap.light import LightLap, columns, extents, light
from neapfrost.core.lap.solve import never, solve_many
from neapfrost.core.wind import with_wind_added

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
    drive: Drive, draws: Sequence[Drawn], stopped: Callable[[], bool] = never
) -> Bands | None:
    """Drive every draw and say where nine in ten and one in ten lie.

    Draws that no lap can be driven with are left out; None where fewer than two are left. Raises
    Stopped when `stopped` says so.
    """
    found = solve_many([varied(drive, one) for one in draws], light, stopped)
    laps = [lap for lap in found if lap is not None]
    return None if len(laps) < 2 else _bands(laps, len(drive.path.corners))


def varied(drive: Drive, one: Drawn) -> Drive:
    """A drive with a draw's factors, wind and driven radii in it."""
    vehicle, air = drive.vehicle, drive.conditions
    aero = replace(vehicle.aero, lift_area_m2=vehicle.aero.lift_area_m2 * one.downforce)
    engine = replace(vehicle.engine, efficiency=vehicle.engine.efficiency * one.power)
    windy = with_wind_added(air, *one.wind_ms)
    road = packed(drive).road
    wider = np.ones(len(road))
    for steps, factor in zip(extents(drive.path).steps, one.radii, strict=True):
        wider[steps] = 1.0 / factor
    return replace(
        drive,
        vehicle=replace(vehicle, aero=aero, engine=engine),
        conditions=replace(windy, grip_factor=air.grip_factor * one.grip),
        road=with_curvature(drive.path, road, np.arange(len(road)), wider),
    )


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
