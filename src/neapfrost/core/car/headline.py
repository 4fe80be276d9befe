"""The few figures a person changes first, and what a change of one of them means for the rest."""

import itertools
import math
from dataclasses import dataclass

from neapfrost.core.constants import STRAIGHTS_HELD_FROM_DEG
from neapfrost.core.path.circuit import Bend
from neapfrost.core.path.plan_view import segment_length_m

WATTS_PER_RPM_NM = math.pi / 30.0


def peak_power_w(torque_curve: tuple[tuple[float, float], ...], rev_limit_rpm: float) -> float:
    """Largest power along a torque curve of (rpm, Nm) points, linear between them [W].

    Between two points power is a parabola in rpm; its top counts when it lies between them.
    Beyond the last point the last torque holds up to the rev limit.
    """
    best = 0.0
    points = [*torque_curve, (max(rev_limit_rpm, torque_curve[-1][0]), torque_curve[-1][1])]
    for (rpm0, torque0), (rpm1, torque1) in itertools.pairwise(points):
        if rpm0 > rev_limit_rpm or rpm1 <= rpm0:
            continue
        slope = (torque1 - torque0) / (rpm1 - rpm0)
        candidates = [rpm0, min(rpm1, rev_limit_rpm)]
        if slope < 0.0:
            candidates.append((slope * rpm0 - torque0) / (2.0 * slope))
        for rpm in candidates:
            if candidates[0] <= rpm <= candidates[1]:
                best = max(best, rpm * (torque0 + slope * (rpm - rpm0)))
    return best * WATTS_PER_RPM_NM


@dataclass(frozen=True)
class RadiusChange:
    """What a new radius does to the road: each tangent point moves, the corner's length changes.

    `straight_change_m` is added to the straight on each side, `corner_change_m` to the corner.
    """

    straight_change_m: float
    corner_change_m: float


def radius_change(bend: Bend, new: Bend, before_m: float, after_m: float) -> RadiusChange:
    """Effect of redrawing a bend with another radius between two straights of given lengths [m].

    The straights' directions stay where they are, so the tangent points move by ΔR·tan(θ/2). The
    straights are held instead when the corner turns half round or more, or when one of them has
    no room to give.
    """
    corner = segment_length_m(new) - segment_length_m(bend)
    half = math.radians(bend.angle_deg) / 2.0
    if bend.angle_deg >= STRAIGHTS_HELD_FROM_DEG:
        return RadiusChange(0.0, corner)
    shift = -(new.radius_m - bend.radius_m) * math.tan(half)
    if min(before_m, after_m) + shift < 1.0:
        return RadiusChange(0.0, corner)
    return RadiusChange(shift, corner)
