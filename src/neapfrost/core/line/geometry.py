"""Equations of a line in a road's own coordinates: offset, relative heading, curvature.

With n the offset to the left of the middle line of curvature κᵣ and ξ the line's heading relative
to it, one metre of road is S = (1 − nκᵣ)/cos ξ metres of line, and n′ = (1 − nκᵣ)tan ξ,
ξ′ = κS − κᵣ, with κ the line's own curvature (Perantoni and Limebeer 2014, section 2).
"""

from dataclasses import dataclass
from typing import Any

import casadi as ca
import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.shape import Shape
from neapfrost.core.line.wishes import CornerWish, Hold, bounds
from neapfrost.core.path.build import Path

#: The line's heading stays within this of the road's [rad].
HEADING_MOST_RAD = 0.9
#: Tightest curvature looked at, a radius of 2.5 m [1/m].
CURVATURE_MOST_PER_M = 0.4
#: Scales of the unknowns: offset 1 m, heading 0.1 rad, curvature 0.01 1/m.
SCALES = np.array([1.0, 0.1, 0.01])
#: A line that leaves its bounds by less than this of those scales is within them.
MET_WITHIN = 1e-3


@dataclass(frozen=True, eq=False)
class LineNode:
    """A line at one node: offset [m], heading [rad], curvature [1/m], and the unknowns behind."""

    free: Any
    n: Any
    xi: Any
    kappa: Any


@dataclass(frozen=True, eq=False)
class LineStep:
    """A line over one step: its two nodes, its length [m], and what must vanish."""

    first: LineNode
    last: LineNode
    road: Any
    length_m: Any
    defects: Any


def line_step() -> LineStep:
    """One trapezoidal step. `road` is the column of what `road_steps` gives for each step."""
    first, last = _node("first"), _node("last")
    road = ca.SX.sym("road", 3)
    step, bend0, bend1 = road[0], road[1], road[2]
    along0, along1 = 1.0 - first.n * bend0, 1.0 - last.n * bend1
    stretch0, stretch1 = along0 / ca.cos(first.xi), along1 / ca.cos(last.xi)
    offset = last.n - first.n
    offset -= 0.5 * step * (along0 * ca.tan(first.xi) + along1 * ca.tan(last.xi))
    turn = last.xi - first.xi
    turn -= 0.5 * step * (first.kappa * stretch0 - bend0 + last.kappa * stretch1 - bend1)
    return LineStep(
        first,
        last,
        road,
        0.5 * step * (stretch0 + stretch1),
        ca.vertcat(offset, turn / SCALES[1]),
    )


def _node(name: str) -> LineNode:
    free = ca.SX.sym(name, 3)
    return LineNode(free, SCALES[0] * free[0], SCALES[1] * free[1], SCALES[2] * free[2])


def road_steps(road: Path) -> Floats:
    """Length of each step and the road's curvature at its two ends, seen from inside; (n, 3)."""
    return np.column_stack((np.diff(road.s_m), road.curvature_start, road.curvature_end))


def line_bounds(
    field: Corridor, wishes: tuple[CornerWish, ...], holds: tuple[Hold, ...]
) -> tuple[Floats, Floats]:
    """Least and largest values of the unknowns at each node, (nodes, 3)."""
    limits = bounds(field, wishes, holds, HEADING_MOST_RAD, CURVATURE_MOST_PER_M)
    lower = np.column_stack((limits.right_m, limits.heading_low, limits.curvature_low)) / SCALES
    upper = np.column_stack((limits.left_m, limits.heading_high, limits.curvature_high)) / SCALES
    if field.road.closed:
        lower[0], upper[0] = np.maximum(lower[0], lower[-1]), np.minimum(upper[0], upper[-1])
        lower, upper = lower[:-1], upper[:-1]
    return lower, upper


def meets(
    field: Corridor, wishes: tuple[CornerWish, ...], holds: tuple[Hold, ...], shape: Shape
) -> bool:
    """Whether a line stays inside the corridor and does what is asked of it."""
    lower, upper = line_bounds(field, wishes, holds)
    values = packed(field.road, shape)
    return bool(((values >= lower - MET_WITHIN) & (values <= upper + MET_WITHIN)).all())


def packed(road: Path, shape: Shape) -> Floats:
    """A line as unknowns, (nodes, 3)."""
    columns = (shape.offset_m, shape.heading_rad, shape.curvature_per_m)
    values: Floats = np.column_stack(columns) / SCALES
    return values[:-1] if road.closed else values


def unpacked(road: Path, nodes: Floats) -> Shape:
    """A line from the first three unknowns of each node."""
    values = nodes[:, :3] * SCALES
    if road.closed:
        values = np.vstack((values, values[:1]))
    return Shape(values[:, 0].copy(), values[:, 1].copy(), values[:, 2].copy())
