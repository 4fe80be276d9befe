"""Which stretches without throttle are one braking zone, which are none: the whole rule.

Closer than 0.3 s they are one, when the later one ends the slower: the vehicle is held between
them and not driven up again. Shorter than 0.1 s a stretch is none: it neither begins a zone, where
more throttle follows than there was brake, nor ends one, where the speed has risen before it.
"""

from neapfrost.core.constants import ZONE_SHORTEST_S, ZONES_MERGE_WITHIN_S
from neapfrost.core.kernels.jit import kernel


@kernel
def false_start(lasted_s: float, gap_s: float) -> bool:
    """Whether a stretch of such a length is no braking, seen from one that follows after a gap."""
    return lasted_s < ZONE_SHORTEST_S and gap_s > lasted_s


@kernel
def goes_on(lasted_s: float, gap_s: float, ended_w: float, ends_w: float) -> bool:
    """Whether a stretch without throttle goes on with the one before it.

    That one lasted `lasted_s` and ended at `ended_w`; after a gap this one ends at `ends_w`.
    """
    if gap_s >= ZONES_MERGE_WITHIN_S or false_start(lasted_s, gap_s):
        return False
    return ends_w <= ended_w
