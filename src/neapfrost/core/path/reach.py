"""Which corner a lowest point on the lap belongs to."""

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import CORNER_REACH_M
from neapfrost.core.path.build import Path

AT_THE_END_M = 1e-6
#: Of two corners that meet, the one that a place leads into comes first by this much [m].
LEADS_INTO_M = 1e-3


def corners_reached(path: Path, at_m: Floats) -> tuple[Integers, Floats]:
    """For each of m places the corner it lies in, or within the reach of a zone from; -1 for none.

    Places may be unfolded. Returns the numbers (m,), and what lays each place beside its corner,
    whose extent may lie across the line [m] (m,).
    """
    if not path.corners or len(at_m) == 0:
        return np.full(len(at_m), -1, dtype=np.int64), np.zeros(len(at_m))
    shifts = np.array(path.ring.shifts)
    begins = np.array([corner.begins_at_m for corner in path.corners])[:, None]
    ends = np.array([corner.ends_at_m for corner in path.corners])[:, None]
    at = at_m[:, None, None] + shifts
    outside = np.maximum(np.maximum(begins - at, at - ends), 0.0)
    rank = np.where(at < ends - AT_THE_END_M, outside, outside + LEADS_INTO_M)
    rank[outside > CORNER_REACH_M] = np.inf
    flat = rank.reshape(len(at_m), rank.shape[1] * rank.shape[2])
    best = np.argmin(flat, axis=1)
    found = np.isfinite(flat[np.arange(len(at_m)), best])
    return np.where(found, best // len(shifts), -1), shifts[best % len(shifts)]
