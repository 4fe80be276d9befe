"""Honest bands: many laps with what is uncertain drawn at random, and where most of them lie."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import ndtri

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.drive import Drive, road_of
from neapfrost.core.lap.driven_radii import redrawn
from neapfrost.core.lap.light import LightLap, columns, light
from neapfrost.core.lap.solve import Solved, in_parallel, never, solved
from neapfrost.core.wind import with_wind_added

#: Half of the width from the 10th to the 90th percentile of a normal distribution, in σ.
TEN_TO_NINETY = 1.2815515655446004
LOW_PCT, HIGH_PCT = 10.0, 90.0
#: Laps that a corner's gear may go another way in before it is said to be in doubt.
DOUBT_SHARE = 0.1


@dataclass(frozen=True)
class Uncertainty:
    """Uncertainty: each the half-width within which the truth lies four times in five.

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
    """So many draws of everything uncertain, the same for the same seed.

    A Latin hypercube (McKay, Beckman and Conover, Technometrics 21, 1979): each figure's normal
    distribution is cut into as many equally likely slices as there are laps, and one value taken
    from each, so that the ends of a band do not hang on the seed.
    """
    random = np.random.default_rng(seed)
    sigma = 1.0 / TEN_TO_NINETY
    slices = random.permuted(np.tile(np.arange(laps), (5 + corners, 1)), axis=1)
    scores = sigma * ndtri((slices + random.uniform(0.02, 0.98, slices.shape)) / laps)
    half_widths = (uncertainty.grip, uncertainty.downforce, uncertainty.power)
    # Factors cannot fall to nothing, however wide somebody makes them.
    grip, downforce, power = (
        (1.0 + half * row).clip(min=0.2) for half, row in zip(half_widths, scores[:3], strict=True)
    )
    wind = uncertainty.wind_ms * scores[3:5]
    radii = (1.0 + uncertainty.radius * scores[5:]).clip(min=0.2)
    return [
        Drawn(
            float(grip[lap]),
            float(downforce[lap]),
            float(power[lap]),
            (float(wind[0, lap]), float(wind[1, lap])),
            radii[:, lap],
        )
        for lap in range(laps)
    ]


def drawn_laps(
    drive: Drive, draws: Sequence[Drawn], stopped: Callable[[], bool] = never
) -> Bands | None:
    """Drive every draw and say where nine in ten and one in ten lie.

    Draws that no lap can be driven with are left out; None where fewer than two are left. Raises
    Stopped when `stopped` says so.
    """

    def lap(one: Drawn) -> LightLap | None:
        other, at_m = varied(drive, one)
        try:
            return _placed(solved(other), at_m)
        except LapImpossible:
            return None

    laps = [found for found in in_parallel(lap, draws, stopped) if found is not None]
    return None if len(laps) < 2 else _bands(laps, len(drive.path.corners))


def _placed(found: Solved, at_m: Floats) -> LightLap:
    """The figures of a lap, by the places on the road that its nodes have (n + 1,) [m].

    Brake starts are told from where the corner begins on the plan: boards and marks stay.
    """
    path, lap = found.drive.path, light(found)
    begins = np.array([corner.begins_at_m for corner in path.corners])
    starts = begins - lap.brake_to_corner_m
    shift = path.ring.fold(starts) - starts if len(starts) else starts
    placed = np.interp(starts + shift, path.s_m, at_m) - shift
    lines = np.array([0.0, *path.sectors_at_m, path.length_m])
    sectors = (
        np.diff(np.interp(lines, at_m, found.lap.time_s)) if path.sectors_at_m else np.zeros(0)
    )
    return replace(
        lap,
        brake_to_corner_m=begins - placed,
        sectors_s=sectors,
        speed_ms=np.interp(path.s_m, at_m, lap.speed_ms),
    )


def varied(drive: Drive, one: Drawn) -> tuple[Drive, Floats]:
    """A drive with a draw's factors, wind and driven radii in it, and where its nodes lie [m]."""
    vehicle, air = drive.vehicle, drive.conditions
    aero = replace(vehicle.aero, lift_area_m2=vehicle.aero.lift_area_m2 * one.downforce)
    engine = replace(vehicle.engine, efficiency=vehicle.engine.efficiency * one.power)
    windy = with_wind_added(air, *one.wind_ms)
    other = redrawn(drive.path, road_of(drive), one.radii)
    drawn = replace(
        drive,
        vehicle=replace(vehicle, aero=aero, engine=engine),
        conditions=replace(windy, grip_factor=air.grip_factor * one.grip),
        road=other.road,
        lengths_m=other.lengths_m,
    )
    return drawn, other.at_m


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
