"""What a vehicle may use of a road: how far left and right of the middle its own middle may go."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.path.build import Path

#: Where the middle of the vehicle may still be moved, at the least [m].
NARROWEST_M = 0.02


class EdgeKind(StrEnum):
    """What lies along an edge of the road."""

    KERB = "kerb"
    DUST = "dust"
    WALL = "wall"


class KerbUse(StrEnum):
    """How much of a kerb the wheels may use: all of it, half of it, nothing."""

    TAKE = "take"
    STRADDLE = "straddle"
    KEEP_OFF = "keep_off"


KERB_SHARE = {KerbUse.TAKE: 1.0, KerbUse.STRADDLE: 0.5, KerbUse.KEEP_OFF: 0.0}


@dataclass(frozen=True)
class EdgeStretch:
    """Something along one edge, between two road positions [m].

    `side` is +1 left, -1 right. A kerb lies outside the edge and is `width_m` wide; dust lies
    inside it, `width_m` wide, with `grip_factor`; from a wall, which stands on the edge, the
    vehicle's side keeps `distance_m`. On a closed road a stretch may end before it begins.
    """

    side: int
    kind: EdgeKind
    from_m: float
    to_m: float
    width_m: float = 0.0
    use: KerbUse = KerbUse.KEEP_OFF
    grip_factor: float = 1.0
    distance_m: float = 0.0


@dataclass(frozen=True, eq=False)
class Corridor:
    """What may be used of a road at its n + 1 nodes.

    Shapes (n + 1,): `left_m` and `right_m` are the largest and the least offset of the vehicle's
    middle (left positive); `dust_left_m`, `dust_right_m` offsets from which a wheel is in the
    dust of that edge (infinite without), with their grip factors. `half_width_m` is half of the
    vehicle's width.
    """

    road: Path
    left_m: Floats
    right_m: Floats
    dust_left_m: Floats
    dust_right_m: Floats
    dust_grip_left: Floats
    dust_grip_right: Floats
    half_width_m: float


def corridor(
    road: Path,
    width_left_m: Floats,
    width_right_m: Floats,
    vehicle_width_m: float,
    margin_m: float = 0.0,
    edges: Sequence[EdgeStretch] = (),
) -> Corridor:
    """The corridor of a vehicle on a road whose middle line is `road`.

    Shapes: widths from the middle line to each edge (n + 1,). `margin_m` is kept to the usable
    edge. Raises InputRefused where the vehicle does not fit, naming the position.
    """
    half = 0.5 * vehicle_width_m
    allowed = {+1: width_left_m.copy(), -1: width_right_m.copy()}
    dust = {side: np.full(len(road.s_m), np.inf) for side in (+1, -1)}
    grip = {side: np.ones(len(road.s_m)) for side in (+1, -1)}
    widths = {+1: width_left_m, -1: width_right_m}
    for edge in edges:
        inside = within(road, edge.from_m, edge.to_m)
        if edge.kind is EdgeKind.KERB:
            allowed[edge.side][inside] = np.maximum(
                allowed[edge.side][inside],
                widths[edge.side][inside] + KERB_SHARE[edge.use] * edge.width_m,
            )
        elif edge.kind is EdgeKind.DUST:
            dust[edge.side][inside] = widths[edge.side][inside] - edge.width_m
            grip[edge.side][inside] = edge.grip_factor
    for edge in edges:  # a wall bounds whatever else stands there
        if edge.kind is EdgeKind.WALL:
            inside = within(road, edge.from_m, edge.to_m)
            allowed[edge.side][inside] = np.minimum(
                allowed[edge.side][inside], widths[edge.side][inside] - edge.distance_m
            )
    left = allowed[+1] - half - margin_m
    right = -(allowed[-1] - half - margin_m)
    tight = np.flatnonzero(left - right < NARROWEST_M)
    if len(tight) > 0:
        k = int(tight[0])
        usable = float(allowed[+1][k] + allowed[-1][k])
        needed = 2 * (half + margin_m) + NARROWEST_M
        raise InputRefused(
            [
                Fault(
                    "circuit.width_m",
                    f"at {metres(float(road.s_m[k]))} {metres(usable, 2)} of the road may be used, "
                    f"but the vehicle needs {metres(needed, 2)} there with its margin",
                )
            ]
        )
    return Corridor(
        road=road,
        left_m=left,
        right_m=right,
        dust_left_m=dust[+1],
        dust_right_m=-dust[-1],
        dust_grip_left=grip[+1],
        dust_grip_right=grip[-1],
        half_width_m=half,
    )


def within(road: Path, from_m: float, to_m: float) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Nodes between two road positions; across the line on a closed road where `to` < `from`."""
    s = road.s_m
    if road.closed and to_m < from_m:
        return (s >= from_m) | (s <= to_m)
    return (s >= from_m) & (s <= to_m)


def dust_grip(field: Corridor, offset_m: Floats) -> Floats:
    """Grip factor of the edges' dust at offsets of the vehicle's middle; shapes (n + 1,).

    Each side's wheels carry half of the grip. A wheel is in the dust by degrees, over 0.4 m.
    """
    left = wheel_in_dust(offset_m + field.half_width_m - field.dust_left_m)
    right = wheel_in_dust(field.dust_right_m - offset_m + field.half_width_m)
    # A wheel of the far side gets there last, when the vehicle is in the dust as a whole.
    left += wheel_in_dust(offset_m - field.half_width_m - field.dust_left_m)
    right += wheel_in_dust(field.dust_right_m - offset_m - field.half_width_m)
    grip: Floats = (
        1.0
        - 0.5 * (1.0 - field.dust_grip_left) * left
        - 0.5 * (1.0 - field.dust_grip_right) * right
    )
    return grip


def wheel_in_dust(beyond_m: Floats) -> Floats:
    """Share of a wheel's grip that is the dust's, by how far the wheel is beyond its border."""
    with np.errstate(over="ignore"):
        share: Floats = 1.0 / (1.0 + np.exp(np.clip(-beyond_m / 0.1, -60.0, 60.0)))
    return share
