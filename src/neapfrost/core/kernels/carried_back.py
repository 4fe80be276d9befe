"""What speed is worth at every step of a lap: carried backwards from each braking."""

import math

from neapfrost.core.arrays import Flags, Floats
from neapfrost.core.kernels.jit import kernel

#: A vehicle that gains less than this is not said to gain [m²/s² a metre].
SLOPE_LEAST = 0.05


# Many parameters: a lap's columns are handed on singly, as to `downshift_places`.
@kernel
def carried_back(
    length: Floats,
    w: Floats,
    grown: Floats,
    slope: Floats,
    join: Floats,
    free: Flags,
    shifting: Flags,
    limited: Flags,
    lifted: Floats,
    beyond: Floats,
    closed: bool,
    worth: Floats,
) -> None:
    """Time saved [s] by each m²/s² more of w in the middle of every step; fills `worth` (n,).

    All (n,) but `w` (n + 1,): step lengths [m], w = v² at the nodes, by what factor a difference of
    w grows over a step, the slope dw/ds on full throttle, the share of a step at which the ceiling
    is met, whether a step is driven free of it, in an upshift, or at a gear's limiter; where in a
    step the throttle is closed for a corner (a share, else -1) and what w is worth from there on.
    """
    n = len(length)
    a, in_shift, later = 0.0, False, 0.0
    for _ in range(2 if closed else 1):
        for k in range(n - 1, -1, -1):
            changed = w[k + 1] - w[k]
            slower = 0.5 * length[k] / max(0.5 * (w[k] + w[k + 1]), 1e-6) ** 1.5
            # What its own speed is worth over a step, as far as the throttle is open in it.
            own = slower * (lifted[k] if lifted[k] >= 0.0 else 1.0)
            if not free[k]:
                a, in_shift = slower * join[k], False
                worth[k] = 0.5 * a
            elif lifted[k] >= 0.0 and not shifting[k]:
                a, in_shift = beyond[k] + own, False
                worth[k] = beyond[k] + 0.5 * own
            elif limited[k]:
                a, in_shift = 0.0, False
                worth[k] = 0.0
            elif shifting[k]:
                # A quicker vehicle shifts earlier and is afterwards where it would have been so
                # much farther on: what it carries is changed as the slopes before and after are,
                # and it gains what its speed changes by in the shift.
                before = k
                while shifting[before] and before > k - n:
                    before -= 1
                begun = max(slope[before], SLOPE_LEAST)
                ends = not in_shift
                if lifted[k] >= 0.0:
                    later = beyond[k]
                    a, ends = later * changed / length[k] / begun, True
                elif ends:
                    later = a
                    a *= max(slope[(k + 1) % n], SLOPE_LEAST) / begun
                in_shift = True
                a += own / length[k] * changed / begun
                # What is spent in the step where a shift ends, or begins, is spent beside it.
                worth[k] = later if ends else a
                if ends and not shifting[k - 1]:
                    worth[k] = 0.5 * (later + a)
            else:
                in_shift = False
                # In the middle of a step half of it is still to come.
                worth[k] = 0.5 * slower + a * math.sqrt(grown[k])
                a = slower + a * grown[k]
