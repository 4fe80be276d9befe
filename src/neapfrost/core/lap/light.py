"""The few figures that a batch needs of each lap, straight from what the kernel returns."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import CORNER_REACH_M
from neapfrost.core.kernels.bundles import GEAR
from neapfrost.core.kernels.case import TRANSITION_S
from neapfrost.core.kernels.profile import held_back_s
from neapfrost.core.kernels.solve import SOLVED, UNSETTLED, solve_kernel
from neapfrost.core.kernels.zones import (
    FIRST_STEP,
    JOIN,
    LAST_NODE,
    LIFTED,
    SHARE,
    SPEED_W,
    STEP,
    TIME,
)
from neapfrost.core.lap.altered_road import corner_steps
from neapfrost.core.lap.batch import nodes_within
from neapfrost.core.path.build import Path

#: Held back for less than this, a corner still counts as flat [s].
HELD_SHORTEST_S = 0.1


@dataclass(frozen=True, eq=False)
class Extents:
    """Nodes and steps of each corner of a path, found once for a whole batch."""

    nodes: tuple[Integers, ...]
    steps: tuple[Integers, ...]


@dataclass(frozen=True, eq=False)
class LightLap:
    """A lap's time and sectors [s], what its c corners do, and `speed_ms` (n + 1,) at the nodes.

    Shapes (c,): minimum speed, metres from brake start to corner (not a number where nothing is
    braked for), brake | lift | flat (held back for the next corner counts
    as lift), gear from 1.
    """

    lap_time_s: float
    sectors_s: Floats
    min_speed_ms: Floats
    brake_to_corner_m: Floats
    actions: tuple[str, ...]
    gear: Integers
    speed_ms: Floats


def extents(path: Path) -> Extents:
    """Where the corners of a path lie on its grid."""
    return Extents(
        tuple(nodes_within(path, c.begins_at_m, c.ends_at_m) for c in path.corners),
        tuple(corner_steps(path, number) for number in range(len(path.corners))),
    )


def light_lap(
    path: Path, where: Extents, case: Floats, road: Floats, lengths: Floats
) -> LightLap | None:
    """Drive a packed case over a packed road; None where no lap is possible."""
    out = solve_kernel(case, road, lengths, path.closed, path.start_speed_ms**2)
    if out[0] not in (SOLVED, UNSETTLED):
        return None
    w, time, track, zones, rows, samples = out[4].copy(), out[5], out[6], out[9], out[10], out[11]
    count = len(w) - 1
    brake = np.full(len(where.nodes), np.nan)
    lifted = np.zeros(len(where.nodes), dtype=bool)
    for zone, number, taken in zip(zones, rows, samples, strict=True):
        if number > 0:
            _lay_samples(w, count, taken[:number])
        corner, shift = _ending_in(path, zone)
        if corner < 0:
            continue
        if zone[LIFTED] > 0.0:
            lifted[corner] = True
            continue
        start = _brake_start_m(path, float(case[TRANSITION_S]), zone, int(number), taken) + shift
        lead = path.corners[corner].begins_at_m - start
        if math.isnan(brake[corner]) or lead > brake[corner]:
            brake[corner] = lead
    speed = np.sqrt(w)
    lowest = [nodes[int(np.argmin(w[nodes]))] for nodes in where.nodes]
    lines = np.array([0.0, *path.sectors_at_m, path.length_m])
    sectors = np.diff(np.interp(lines, path.s_m, time)) if path.sectors_at_m else np.zeros(0)
    held = [
        held_back_s(case, road, lengths, steps, out[4], track[:, GEAR], out[14])
        for steps in where.steps
    ]
    actions = [
        "brake" if braked else ("lift" if off or held_s >= HELD_SHORTEST_S else "flat")
        for braked, off, held_s in zip(np.isfinite(brake), lifted, held, strict=True)
    ]
    return LightLap(
        lap_time_s=float(out[12]),
        sectors_s=sectors,
        min_speed_ms=speed[lowest],
        brake_to_corner_m=brake,
        actions=tuple(actions),
        gear=track[lowest, GEAR] + 1,
        speed_ms=speed,
    )


def _lay_samples(w: Floats, count: int, taken: Floats) -> None:
    """Put a zone's lift and ramp in the place of the nodes that it passes."""
    nodes = np.arange(int(taken[0, STEP]) + 1, int(taken[-1, STEP]) + 1)
    if nodes.size == 0:
        return
    w[nodes % count] = np.interp(nodes, taken[:, STEP] + taken[:, SHARE], taken[:, SPEED_W])
    if (nodes % count == 0).any():
        w[count] = w[0]


def _ending_in(path: Path, zone: Floats) -> tuple[int, float]:
    """The corner that a zone ends at, and the shift that lays the zone beside it; -1 for none."""
    last, count = int(zone[LAST_NODE]), len(path.s_m) - 1
    laps, node = divmod(last, count) if path.closed else (0, last)
    end = float(path.s_m[node]) + laps * path.length_m
    best = (CORNER_REACH_M + 1e-9, 1, -1, 0.0)
    for number, corner in enumerate(path.corners):
        for shift in (-path.length_m, 0.0, path.length_m) if path.closed else (0.0,):
            at = end + shift
            outside = max(corner.begins_at_m - at, at - corner.ends_at_m, 0.0)
            best = min(best, (outside, 0 if at < corner.ends_at_m - 1e-6 else 1, number, shift))
    return best[2], best[3]


def _brake_start_m(
    path: Path, transition_s: float, zone: Floats, number: int, taken: Floats
) -> float:
    def place(step: Any, share: Any) -> Any:
        laps, k = np.divmod(np.asarray(step).astype(np.int64), len(path.s_m) - 1)
        return path.s_m[k] + share * (path.s_m[k + 1] - path.s_m[k]) + laps * path.length_m

    if number == 0:
        return float(place(zone[FIRST_STEP], max(zone[JOIN], 0.0)))
    at = place(taken[:number, STEP], taken[:number, SHARE])
    return float(np.interp(transition_s, taken[:number, TIME], at))


def columns(laps: Sequence[LightLap], name: str) -> Floats:
    """One figure of many laps as an array, a row for each lap."""
    return np.array([getattr(lap, name) for lap in laps], dtype=np.float64)
