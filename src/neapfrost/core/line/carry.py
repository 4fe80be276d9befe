"""A line kept while its road is edited: its offsets go along with the segments they lie on."""

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.line.shape import Shape
from neapfrost.core.path.build import Path


def carried(
    shape: Shape, old_at_m: Floats, old_edges_m: Floats, road: Path, edges_m: Floats
) -> Shape | None:
    """A line of another state of the road laid over this one; None where it does not fit.

    `old_at_m` (k,) are the positions of the line's nodes, `old_edges_m` and `edges_m` where the
    road's segments met then and meet now. On the same road the line comes back as it was.
    Otherwise offset and heading keep their shares of each segment, and the curvature follows from
    the road's: κ = (κᵣ + ξ′)cos ξ/(1 − nκᵣ).
    """
    if len(old_edges_m) != len(edges_m):
        return None
    same = len(old_at_m) == len(road.s_m) and np.allclose(old_at_m, road.s_m, atol=1e-6)
    if same and np.allclose(old_edges_m, edges_m, atol=1e-6):
        return shape
    at = np.interp(road.s_m, edges_m, old_edges_m)
    offset = np.interp(at, old_at_m, shape.offset_m)
    heading = np.interp(at, old_at_m, shape.heading_rad)
    turned = np.diff(heading)
    steps = np.diff(road.s_m)
    mean = 0.5 * (offset[:-1] + offset[1:])
    leaning = 0.5 * (heading[:-1] + heading[1:])
    bend = 0.5 * (road.curvature_start + road.curvature_end)
    within = (bend + turned / steps) * np.cos(leaning) / (1.0 - mean * bend)
    middles = 0.5 * (road.s_m[:-1] + road.s_m[1:])
    if road.closed:
        middles = np.concatenate(
            (middles[-1:] - road.length_m, middles, middles[:1] + road.length_m)
        )
        within = np.concatenate((within[-1:], within, within[:1]))
    curvature = np.interp(road.s_m, middles, within)
    return Shape(offset, heading, curvature)
