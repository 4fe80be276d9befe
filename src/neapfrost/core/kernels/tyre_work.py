"""Energy that slides into the tyres along a finished lap."""

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.case import MU_BRAKING, MU_LATERAL, MU_TRACTION
from neapfrost.core.kernels.forces import axle_demand, balance
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.tyres import norm

FRONT, REAR = 0, 1


@kernel
def sliding_share(use: float) -> float:
    """Slip as a share of the slip at the limit, for a share of the limit's force.

    The brush model with a parabolic pressure: F/F_max = 1 - (1 - σ/σ_lim)³, solved for σ (Pacejka,
    Tyre and Vehicle Dynamics, chapter 3).
    """
    return 1.0 - (1.0 - min(max(use, 0.0), 1.0)) ** (1.0 / 3.0)


@kernel
def axle_work(
    case: Floats,
    road: Floats,
    step: Integers,
    share: Floats,
    w: Floats,
    force: Floats,
    slip_at_limit: float,
    out: Floats,
) -> None:
    """Work of the sliding at each axle for each metre [J/m], and its loads [N], into `out` (m, 4).

    Places, squared speeds and tyre forces are (m,). Columns: work front, rear, load front, rear.
    The force of an axle is that of both directions together, each by its own friction.
    """
    for i in range(len(step)):
        k, x = step[i], share[i]
        asked = axle_demand(case, road, k, x, w[i], force[i])
        figures = balance(case, road, k, x, w[i])
        grip_front, grip_rear = figures[7], figures[8]
        along = case[MU_TRACTION] if force[i] >= 0.0 else case[MU_BRAKING]
        side = case[MU_LATERAL]
        use = norm(asked.along_front, asked.across_front, asked.p) / max(asked.front, 1.0)
        total = norm(
            asked.along_front * along * grip_front, asked.across_front * side * grip_front, 2.0
        )
        out[i, FRONT] = total * slip_at_limit * sliding_share(use)
        use = norm(asked.along_rear, asked.across_rear, asked.p) / max(asked.rear, 1.0)
        total = norm(
            asked.along_rear * along * grip_rear, asked.across_rear * side * grip_rear, 2.0
        )
        out[i, REAR] = total * slip_at_limit * sliding_share(use)
        out[i, 2] = asked.front
        out[i, 3] = asked.rear
