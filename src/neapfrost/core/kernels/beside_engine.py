"""What a machine beside the engine can give along a finished lap."""

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.case import ROTATING
from neapfrost.core.kernels.forces import axle_demand, driven_force
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import SLOWEST_MS, engine_force

# Columns of what is filled.
ENGINE_W, SPARE_W, BRAKED_FRONT = 0, 1, 2


# Many parameters: a lap's columns are handed on singly, as to all kernels along a lap.
@kernel
def beside_engine(
    case: Floats,
    road: Floats,
    step: Integers,
    share: Floats,
    v: Floats,
    gear: Integers,
    force: Floats,
    most_w: Floats,
    out: Floats,
) -> None:
    """Fill `out` (m, 3) for places, speeds [m/s], gears (from 0) and tyre forces [N], all (m,).

    The engine's power at the tyres [W], how much of `most_w` (m,) the tyres take beside it [W], and
    the front axle's share of the force where the vehicle brakes.
    """
    for i in range(len(step)):
        engine = engine_force(case, gear[i], v[i])
        more = most_w[i] / max(v[i], SLOWEST_MS)
        w = v[i] * v[i]
        held, resistance, _, _ = driven_force(
            case, road, step[i], share[i], w, gear[i], engine + more
        )
        # What engine and machine give for it, with what turns along.
        held += case[ROTATING + gear[i]] * (held - resistance)
        out[i, ENGINE_W] = engine * v[i]
        out[i, SPARE_W] = max(held - engine, 0.0) * v[i]
        out[i, BRAKED_FRONT] = 0.0
        if force[i] < 0.0:
            out[i, BRAKED_FRONT] = axle_demand(case, road, step[i], share[i], w, force[i]).on_front
