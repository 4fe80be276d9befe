"""What the model's vehicle would do at places and speeds of a driven lap with a pedal all down."""

import math

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.case import LIMITER_W, MASS
from neapfrost.core.kernels.forces import LEAST, driven_force, force_range
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.powertrain import engine_force

# Columns of what the kernels fill.
RATE, BY_PEDAL = 0, 1


@kernel
def pulls(
    case: Floats,
    road: Floats,
    step: Integers,
    share: Floats,
    w: Floats,
    gear: Integers,
    out: Floats,
) -> None:
    """Acceleration with the throttle down [m/s²], and 1 where the engine alone bounds it.

    Places, squared speeds and gears (from 0) are (m,); `out` is (m, 2).
    """
    for i in range(len(step)):
        engine = engine_force(case, gear[i], math.sqrt(w[i]))
        held, resistance, possible, by_tyres = driven_force(
            case, road, step[i], share[i], w[i], gear[i], engine
        )
        bound = possible and not by_tyres and w[i] < case[LIMITER_W + gear[i]]
        out[i, RATE] = (held - resistance) / case[MASS]
        out[i, BY_PEDAL] = 1.0 if bound else 0.0


@kernel
def stops(
    case: Floats, straight: Floats, step: Integers, share: Floats, w: Floats, out: Floats
) -> None:
    """Acceleration with the brakes used in full, straight ahead [m/s²]; shapes as in `pulls`.

    `straight` is the road without its lateral demand; the second column is 1 where it is possible.
    """
    for i in range(len(step)):
        least, _, resistance, possible = force_range(case, straight, step[i], share[i], w[i], LEAST)
        out[i, RATE] = (least - resistance) / case[MASS]
        out[i, BY_PEDAL] = 1.0 if possible else 0.0
