"""A line over the nodes of a road."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path


@dataclass(frozen=True, eq=False)
class Shape:
    """Offset left of the middle [m], heading relative to it [rad], curvature [1/m]; (n + 1,)."""

    offset_m: Floats
    heading_rad: Floats
    curvature_per_m: Floats


def centre_line(road: Path) -> Shape:
    """The middle of the road as a line; its curvature at a node is the mean of both sides'."""
    count = len(road.s_m)
    curvature = np.zeros(count)
    curvature[:-1] += road.curvature_start
    curvature[1:] += road.curvature_end
    curvature[1:-1] /= 2.0
    if road.closed:
        curvature[0] = curvature[-1] = 0.5 * (curvature[0] + curvature[-1])
    return Shape(np.zeros(count), np.zeros(count), curvature)
