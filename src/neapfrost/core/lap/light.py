"""The few figures that a batch needs of each lap, straight from what the kernel returns."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.bundles import GEAR
from neapfrost.core.kernels.profile import held_back_s
from neapfrost.core.kernels.solve import SolvedLap
from neapfrost.core.kernels.zones import (
    FIRST_STEP,
    LAST_NODE,
    LIFTED,
    SHARE,
    SPEED_W,
    STEP,
)
from neapfrost.core.lap.altered_road import corner_steps
from neapfrost.core.lap.record import lap_time_of, node_m, zone_starts_m
from neapfrost.core.lap.solve import Solved
from neapfrost.core.path.build import Path
from neapfrost.core.path.reach import corners_reached

#: Held back for less than this, a corner still counts as flat [s].
HELD_SHORTEST_S = 0.1


@dataclass(frozen=True, eq=False)
class Extents:
    """Nodes and steps of each corner of a path."""

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
    top_speed_ms: float
    sectors_s: Floats
    min_speed_ms: Floats
    brake_to_corner_m: Floats
    actions: tuple[str, ...]
    gear: Integers
    speed_ms: Floats


@lru_cache(maxsize=16)
def extents(path: Path) -> Extents:
    """Where the corners of a path lie on its grid; kept for when it is asked for again."""
    return Extents(
        tuple(_nodes_within(path, c.begins_at_m, c.ends_at_m) for c in path.corners),
        tuple(corner_steps(path, number) for number in range(len(path.corners))),
    )


def _nodes_within(path: Path, begins_m: float, ends_m: float) -> Integers:
    """Grid nodes of a corner, which may lie across the line."""
    inside = np.zeros(len(path.s_m), dtype=bool)
    for shift in path.ring.shifts:
        at = path.s_m + shift
        inside |= (at >= begins_m - 1e-9) & (at <= ends_m + 1e-9)
    return np.flatnonzero(inside)


def lowest_ms(found: Solved, corner: int) -> float:
    """Minimum speed of a corner [m/s], of its own part as in a whole lap's results."""
    w, zones = _with_zones(found)
    return float(np.sqrt(w[_lowest(found.drive.path, w, corner, float(zones.from_m[corner]))]))


def light(found: Solved) -> LightLap:
    """The figures of one lap of a batch."""
    path, work, lap = found.drive.path, found.packed, found.lap
    where = extents(path)
    w, zones = _with_zones(found)
    brake, lifted = zones.brake_to_corner_m, zones.lifted
    speed = np.sqrt(w)
    lowest = [_lowest(path, w, corner, float(zones.from_m[corner])) for corner in range(len(brake))]
    lines = np.array([0.0, *path.sectors_at_m, path.length_m])
    sectors = np.diff(np.interp(lines, path.s_m, lap.time_s)) if path.sectors_at_m else np.zeros(0)
    held = [
        held_back_s(
            work.case,
            work.road,
            work.lengths,
            steps,
            lap.node_w,
            lap.track[:, GEAR],
            lap.waiting_s,
        )
        for steps in where.steps
    ]
    actions = [
        "brake" if braked else ("lift" if off or held_s >= HELD_SHORTEST_S else "flat")
        for braked, off, held_s in zip(np.isfinite(brake), lifted, held, strict=True)
    ]
    return LightLap(
        # On a road with other steps than its path's, only the kernel knows the time.
        lap_time_s=lap_time_of(path, lap) if found.drive.lengths_m is None else lap.lap_time_s,
        top_speed_ms=_top_speed_ms(lap),
        sectors_s=sectors,
        min_speed_ms=speed[lowest],
        brake_to_corner_m=brake,
        actions=tuple(actions),
        gear=lap.track[lowest, GEAR] + 1,
        speed_ms=speed,
    )


@dataclass(frozen=True, eq=False)
class _Zones:
    """For each corner (c,): metres from brake start to it, and whether it is lifted for.

    `from_m` is how far into the corner its own zone begins; not a number where there is none.
    """

    brake_to_corner_m: Floats
    lifted: NDArray[np.bool_]
    from_m: Floats


def _with_zones(found: Solved) -> tuple[Floats, _Zones]:
    """Squared speeds at the nodes with every zone's lift and ramp, and the corners' zones."""
    path, lap = found.drive.path, found.lap
    corners = len(path.corners)
    w = lap.node_w.copy()
    zones = _Zones(
        np.full(corners, np.nan), np.zeros(corners, dtype=bool), np.full(corners, np.nan)
    )
    ends = np.array([node_m(path, int(zone[LAST_NODE])) for zone in lap.zones])
    for number, (corner, shift) in enumerate(zip(*corners_reached(path, ends), strict=True)):
        if lap.rows[number] > 0:
            _lay_samples(w, len(w) - 1, lap.samples[number, : lap.rows[number]])
        if corner < 0:
            continue
        lift, start = (at + shift for at in zone_starts_m(path, found.packed, lap, number))
        begins = path.corners[corner].begins_at_m
        zones.from_m[corner] = np.fmin(zones.from_m[corner], lift - begins)
        if lap.zones[number, LIFTED] > 0.0:
            zones.lifted[corner] = True
        else:
            zones.brake_to_corner_m[corner] = np.fmax(
                zones.brake_to_corner_m[corner], begins - start
            )
    return w, zones


def _lowest(path: Path, w: Floats, corner: int, zone_from_m: float) -> int:
    """The slowest node of a corner, from where its own zone begins after the corner has [m]."""
    nodes = extents(path).nodes[corner]
    if zone_from_m > 0.0:
        ahead = path.ring.fold(path.s_m[nodes] - path.corners[corner].begins_at_m)
        own = nodes[ahead >= zone_from_m - 1e-9]
        nodes = own if len(own) > 0 else nodes[-1:]
    return int(nodes[int(np.argmin(w[nodes]))])


def _top_speed_ms(lap: SolvedLap) -> float:
    """Highest speed of a lap, with each zone's lift in place of what lay beyond it."""
    count = len(lap.node_w) - 1
    driven = np.ones(count + 1, dtype=bool)
    lifts = [0.0]
    for zone, rows, samples in zip(lap.zones, lap.rows, lap.samples, strict=True):
        if rows > 0:
            beyond = np.arange(int(samples[0, STEP]) + 1, int(zone[FIRST_STEP]) + 2) % count
            driven[beyond] = False
            lifts.append(float(samples[0, SPEED_W]))
    return float(np.sqrt(max(float(lap.node_w[driven].max(initial=0.0)), *lifts)))


def _lay_samples(w: Floats, count: int, taken: Floats) -> None:
    """Put a zone's lift and ramp in the place of the nodes that it passes."""
    nodes = np.arange(int(taken[0, STEP]) + 1, int(taken[-1, STEP]) + 1)
    if nodes.size == 0:
        return
    w[nodes % count] = np.interp(nodes, taken[:, STEP] + taken[:, SHARE], taken[:, SPEED_W])
    if (nodes % count == 0).any():
        w[count] = w[0]


def columns(laps: Sequence[LightLap], name: str) -> Floats:
    """One figure of many laps as an array, a row for each lap."""
    return np.array([getattr(lap, name) for lap in laps], dtype=np.float64)
