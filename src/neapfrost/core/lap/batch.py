"""Many laps of one path at once: cars, conditions and drivers varied, solved on every core."""

import os
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.bundles import GEAR
from neapfrost.core.kernels.solve import SOLVED, UNSETTLED, solve_kernel
from neapfrost.core.kernels.zones import FIRST_STEP, SPEED_W, STEP
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions, Driver, Vehicle


@dataclass(frozen=True)
class Variant:
    """One combination to be driven."""

    vehicle: Vehicle
    conditions: Conditions
    driver: Driver


@dataclass(frozen=True)
class BatchResult:
    """Results of m variants over a path with c corners.

    Shapes: `solved` (m,) of bool, `lap_time_s` and `top_speed_ms` (m,), `min_speed_ms` and `gear`
    (m, c), gear counted from 1 at the minimum. Rows that were not solved hold zeros.
    """

    solved: np.ndarray
    lap_time_s: Floats
    top_speed_ms: Floats
    min_speed_ms: Floats
    gear: Integers


def solve_batch(path: Path, variants: Sequence[Variant], workers: int | None = None) -> BatchResult:
    """Solve every variant over one path.

    The kernels run without the interpreter's lock, so plain threads use every core; numba's own
    parallel layer, which must not be entered from two threads, stays out of it.
    """
    road, lengths = pack_road(path)
    spans = [nodes_within(path, c.begins_at_m, c.ends_at_m) for c in path.corners]
    count, corners = len(variants), len(path.corners)
    result = BatchResult(
        solved=np.zeros(count, dtype=bool),
        lap_time_s=np.zeros(count),
        top_speed_ms=np.zeros(count),
        min_speed_ms=np.zeros((count, corners)),
        gear=np.zeros((count, corners), dtype=np.int64),
    )

    def drive(number: int) -> None:
        variant = variants[number]
        case = pack_case(variant.vehicle, variant.conditions, variant.driver, path.altitude_m)
        outcome = solve_kernel(case, road, lengths, path.closed, path.start_speed_ms**2)
        if outcome[0] not in (SOLVED, UNSETTLED):
            return
        w, track = outcome[4], outcome[6]
        result.solved[number] = True
        result.lap_time_s[number] = outcome[12]
        result.top_speed_ms[number] = np.sqrt(_top_w(w, outcome[9], outcome[10], outcome[11]))
        for corner, nodes in enumerate(spans):
            lowest = nodes[int(np.argmin(w[nodes]))]
            result.min_speed_ms[number, corner] = np.sqrt(w[lowest])
            result.gear[number, corner] = track[lowest, GEAR] + 1

    with ThreadPoolExecutor(max_workers=workers or os.cpu_count() or 1) as pool:
        list(pool.map(drive, range(count)))
    return result


def _top_w(w: Floats, zones: Floats, rows: Integers, samples: Floats) -> float:
    """Highest squared speed of the lap, with each zone's lift in place of what lay beyond it."""
    count = len(w) - 1
    driven = np.ones(count + 1, dtype=bool)
    lifts = [0.0]
    for zone, number, path in zip(zones, rows, samples, strict=True):
        if number > 0:
            beyond = np.arange(int(path[0, STEP]) + 1, int(zone[FIRST_STEP]) + 2) % count
            driven[beyond] = False
            lifts.append(float(path[0, SPEED_W]))
    return max(float(w[driven].max(initial=0.0)), *lifts)


def nodes_within(path: Path, begins: float, ends: float) -> Integers:
    """Grid nodes of a corner, which may lie across the line."""
    s, length = path.s_m, path.length_m
    inside = (s >= begins - 1e-9) & (s <= ends + 1e-9)
    if ends > length:
        inside |= s <= ends - length + 1e-9
    return np.flatnonzero(inside)
