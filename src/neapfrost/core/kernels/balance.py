"""Loads and resistance of the vehicle: the one place in which they are put together.

Sums and products alone, so that kernels have them compiled, and whoever works with whole arrays or
with expressions takes the same lines by `plain`.
"""

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import (
    CORNERING_FRONT,
    CORNERING_REAR,
    FRONT_WEIGHT,
    HALF_RHO_CDA,
    HALF_RHO_CLA,
    MASS,
    ROLLING,
    SCRUB,
    WIND_EAST,
    WIND_NORTH,
)
from neapfrost.core.kernels.jit import inlined


@inlined
def air_speed(case: Floats, v: float, north: float, east: float) -> float:
    """Speed through the air [m/s]: v_a = v + the wind's component along the way that is driven."""
    return v + case[WIND_NORTH] * north + case[WIND_EAST] * east


@inlined
def pressed(
    case: Floats, n0: float, n2: float, lift: float, w: float, air: float
) -> tuple[float, float]:
    """Weight onto the road at a squared speed, and downforce [N].

    N = m[g cosγ cosβ + v²(κ_v cosβ + κ sinβ)] + ½ρ·ClA·v_a² (Milliken, Race Car Vehicle Dynamics,
    1995); the road's two figures are packed in N0 and N2.
    """
    return case[MASS] * (n0 + n2 * w), case[HALF_RHO_CLA] * lift * air * air


@inlined
def held_back(case: Floats, drag: float, air: float, normal: float) -> float:
    """Drag and rolling resistance [N]: D = ½ρ·CdA·v_a|v_a| + C_rr·N."""
    return case[HALF_RHO_CDA] * drag * air * abs(air) + case[ROLLING] * normal


@inlined
def axle_loads(
    case: Floats, weight: float, downforce: float, aero_front: float
) -> tuple[float, float]:
    """Front and rear load before any is moved along the vehicle [N]."""
    front = case[FRONT_WEIGHT] * weight + aero_front * downforce
    return front, weight + downforce - front


@inlined
def cornering_drag(case: Floats, lateral: float, bend: float, front: float, rear: float) -> float:
    """What turning itself costs along the road [N].

    An axle that carries F_y at the slip angle α = F_y/C_α drags F_y·sin α ≈ F_y²/C_α, with C_α
    in proportion to its load (Milliken, Race Car Vehicle Dynamics, 1995, chapter 2); an axle whose
    wheels turn alike puts up a moment M against the turning, which costs M times the bend [1/m].
    """
    by_load = case[CORNERING_FRONT] / front + case[CORNERING_REAR] / rear
    return lateral * lateral * by_load + case[SCRUB] * bend
