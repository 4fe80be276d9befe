"""The ground under a line: one surface for the lap's clock and for the search alike.

The road's middle has its height, and every place beside it lies on the straight across the road,
which a bank tilts about the middle. With the height z over a place s of the middle and n to its
left, z = z₀(s) + n·b(s), a line that heads ξ to the left of the road climbs and leans by the slope
of that surface along itself and across itself.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path

#: Where a bend or a bank begins on paper from one metre to the next, the ground beside the middle
#: would have an edge across it. No road is built like that: the change is spread over this length.
BLEND_M = 20.0


@dataclass(frozen=True, eq=False)
class Ground:
    """The road at its nodes, (n + 1,) each, or as expressions at one of them.

    `rise` is tan γ along the middle, `tilt` the height gained for each metre to the left (negative
    where the left side lies lower), `twist` how the tilt changes along the middle [1/m], `bend` the
    middle's curvature [1/m], both blended.
    """

    rise: Any
    tilt: Any
    twist: Any
    bend: Any


def ground_of(road: Path) -> Ground:
    """The ground at a road's nodes; the mean of both sides where a figure jumps."""
    rise_start, rise_end = np.tan(road.slope.angle_start), np.tan(road.slope.angle_end)
    tilt_start = -np.tan(road.bank_start) / np.cos(road.slope.angle_start)
    tilt_end = -np.tan(road.bank_end) / np.cos(road.slope.angle_end)
    twist = (tilt_end - tilt_start) / np.diff(road.s_m)
    bend = at_nodes(road.curvature_start, road.curvature_end, road.closed)
    return Ground(
        at_nodes(rise_start, rise_end, road.closed),
        at_nodes(tilt_start, tilt_end, road.closed),
        blended(road.s_m, at_nodes(twist, twist, road.closed), road.closed),
        blended(road.s_m, bend, road.closed),
    )


def blended(at_m: Floats, values: Floats, closed: bool) -> Floats:
    """The mean of a figure over `BLEND_M` around each node."""
    steps = 0.5 * (values[1:] + values[:-1]) * np.diff(at_m)
    summed = np.concatenate(([0.0], np.cumsum(steps)))

    def sum_to(place: Floats) -> Floats:
        laps, inside = np.divmod(place, at_m[-1]) if closed else (0.0 * place, place)
        total: Floats = np.interp(inside, at_m, summed) + laps * summed[-1]
        # Beyond the ends of an open course the road goes on as it is there.
        total += np.maximum(inside - at_m[-1], 0.0) * values[-1]
        total += np.minimum(inside, 0.0) * values[0]
        return total

    return (sum_to(at_m + 0.5 * BLEND_M) - sum_to(at_m - 0.5 * BLEND_M)) / BLEND_M


def slopes_under(
    ground: Ground, offset: Any, cos_heading: Any, sin_heading: Any
) -> tuple[Any, Any]:
    """Grade along a line, and the tangent of its bank to the left, of arrays or expressions.

    tan γ = (z′ + n·b′)·cos ξ/(1 - nκ) + b·sin ξ along it, the same turned by a right angle across
    it; the bank is measured square to the line as it climbs.
    """
    ahead = (ground.rise + offset * ground.twist) / (1.0 - offset * ground.bend)
    grade = ahead * cos_heading + ground.tilt * sin_heading
    across = ground.tilt * cos_heading - ahead * sin_heading
    return grade, -across / (1.0 + grade * grade) ** 0.5


def at_nodes(first: Floats, last: Floats, closed: bool) -> Floats:
    """One value a node: the mean of both sides where a quantity jumps."""
    values = np.append(first, last[-1])
    values[1:-1] = 0.5 * (first[1:] + last[:-1])
    if closed:
        values[0] = values[-1] = 0.5 * (first[0] + last[-1])
    return values
