"""The few figures that a batch needs of each lap, straight from what the kernel returns."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.bundles import GEAR
from neapfrost.core.kernels.profile import held_back_s
from neapfrost.core.kernels.zone_samples import lay_zones, top_speed_w
from neapfrost.core.kernels.zones import LAST_NODE, LIFTED
from neapfrost.core.lap.altered_road import corner_steps
from neapfrost.core.lap.record import lap_time_of, node_m, sample_places_m, zone_starts_m
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
    placed = sample_places_m(found.drive.path, found.lap)
    w, zones = _with_zones(found, placed)
    return float(np.sqrt(w[_lowest(found.drive.path, w, corner, float(zones.from_m[corner]))]))


def light(found: Solved) -> LightLap:
    """The figures of one lap of a batch."""
    path, work, lap = found.drive.path, found.packed, found.lap
    where = extents(path)
    placed = sample_places_m(path, lap)
    w, zones = _with_zones(found, placed)
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
        lap_time_s=lap.lap_time_s
        if found.drive.lengths_m is not None
        else lap_time_of(path, lap, placed),
        top_speed_ms=math.sqrt(top_speed_w(lap.zones, lap.rows, lap.samples, lap.node_w)),
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


def _with_zones(found: Solved, placed: Floats) -> tuple[Floats, _Zones]:
    """Squared speeds at the nodes with every zone's lift and ramp, and the corners' zones.

    `placed` are the places of the lap's samples.
    """
    path, lap = found.drive.path, found.lap
    corners = len(path.corners)
    w = lap.node_w.copy()
    lay_zones(lap.rows, lap.samples, w)
    zones = _Zones(
        np.full(corners, np.nan), np.zeros(corners, dtype=bool), np.full(corners, np.nan)
    )
    ends = np.array([node_m(path, int(zone[LAST_NODE])) for zone in lap.zones])
    reached, shifts = corners_reached(path, ends)
    starts = zone_starts_m(path, found.packed, lap, placed) + shifts[:, None]
    for number, (corner, (lift, start)) in enumerate(
        zip(reached.tolist(), starts.tolist(), strict=True)
    ):
        if corner < 0:
            continue
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


def columns(laps: Sequence[LightLap], name: str) -> Floats:
    """One figure of many laps as an array, a row for each lap."""
    return np.array([getattr(lap, name) for lap in laps], dtype=np.float64)
