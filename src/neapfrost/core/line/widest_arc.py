"""The widest arc through a single corner, in closed form."""

import math


def widest_arc_radius_m(inner_radius_m: float, outer_radius_m: float, angle_deg: float) -> float:
    """Radius [m] of the one arc that leaves the outer edge, touches the inner, and comes back.

    Between straights long enough for it: the arc is tangent to both outer edges of the straights
    and to the inner circle at half of the angle. R = Rᵢ + (Rₒ − Rᵢ)/(1 − cos(θ/2)), from the
    distance of the arc's centre to the corner's along the line that halves the angle.
    Raises ValueError for radii out of order or an angle outside 0 … 360 degrees.
    """
    if not 0.0 < inner_radius_m < outer_radius_m:
        raise ValueError(
            f"the inner radius must lie between 0 and the outer one, {outer_radius_m:g} m; "
            f"{inner_radius_m:g} m was given"
        )
    if not 0.0 < angle_deg < 360.0:
        raise ValueError(f"an angle between 0 and 360° is expected; {angle_deg:g}° was given")
    half = math.radians(angle_deg) / 2.0
    return inner_radius_m + (outer_radius_m - inner_radius_m) / (1.0 - math.cos(half))
