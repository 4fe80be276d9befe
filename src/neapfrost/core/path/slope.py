"""Grade and vertical curvature: constant grades blended where they meet, or an elevation spline."""

from dataclasses import dataclass

import numpy as np
from scipy.interpolate import CubicSpline

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.path.channel import Channel, from_pieces, step_values

#: Steepest slope the model accepts, as the sine of the angle (about 58 %).
STEEPEST_SINE = 0.5


@dataclass(frozen=True)
class Slope:
    """Slope angle γ [rad] and vertical curvature dγ/ds [1/m] at both ends of each step."""

    angle_start: Floats
    angle_end: Floats
    curvature_start: Floats
    curvature_end: Floats


def blended_grades(stretches: list[tuple[float, float]], blend_m: float, closed: bool) -> Channel:
    """Grade (tan γ) from (length, grade) stretches, each change spread over `blend_m`.

    The change is centred where the grades meet, so the height is kept, and is at most half as
    long as the shorter of the two stretches of constant grade.
    """
    merged: list[tuple[float, float]] = []
    for length, grade in stretches:
        if merged and merged[-1][1] == grade:
            merged[-1] = (merged[-1][0] + length, grade)
        else:
            merged.append((length, grade))
    if len(merged) == 1:
        return from_pieces([(merged[0][0], merged[0][1], merged[0][1])])

    wraps = closed and merged[0][1] == merged[-1][1]
    lengths = [length for length, _ in merged]
    around = list(lengths)
    if wraps:
        around[0] = around[-1] = lengths[0] + lengths[-1]

    count = len(merged)
    blends = []  # blends[i] lies between stretch i and the next
    for index in range(count):
        following = (index + 1) % count
        last = index == count - 1
        if last and (not closed or wraps):
            blends.append(0.0)
        else:
            blends.append(min(blend_m, 0.5 * around[index], 0.5 * around[following]))

    pieces: list[tuple[float, float, float]] = []
    for index, (length, grade) in enumerate(merged):
        half_before = 0.5 * blends[index - 1]
        half_after = 0.5 * blends[index]
        previous = merged[index - 1][1] if half_before else grade
        following_grade = merged[(index + 1) % count][1] if half_after else grade
        pieces.append((half_before, 0.5 * (previous + grade), grade))
        pieces.append((length - half_before - half_after, grade, grade))
        pieces.append((half_after, grade, 0.5 * (grade + following_grade)))
    return from_pieces(pieces)


def slope_from_grades(grades: Channel, nodes: Floats) -> Slope:
    """Slope at the steps of `nodes` from a channel of tan γ that is linear in pieces."""
    start, end = step_values(grades, nodes)
    change = (end - start) / np.diff(nodes)
    angle_start, angle_end = np.arctan(start), np.arctan(end)
    return Slope(
        angle_start,
        angle_end,
        change * np.cos(angle_start) ** 2,
        change * np.cos(angle_end) ** 2,
    )


def slope_from_elevation(
    points: tuple[tuple[float, float], ...], length_m: float, closed: bool, nodes: Floats
) -> Slope:
    """Slope at the steps of `nodes` from (at_m, z_m) points joined by a cubic spline.

    Periodic when closed; an open course's spline is natural and continues straight beyond its
    end points. Positions are along the road's surface, so dz/ds is sin γ.
    Raises InputRefused where the spline is steeper than the model accepts.
    """
    at = np.array([point[0] for point in points])
    height = np.array([point[1] for point in points])
    if closed:
        if at[-1] < at[0] + length_m:
            at = np.append(at, at[0] + length_m)
            height = np.append(height, height[0])
        spline = CubicSpline(at, height, bc_type="periodic")
        place = at[0] + np.mod(nodes - at[0], length_m)
        sine, second = spline(place, 1), spline(place, 2)
    elif len(points) == 1:
        sine, second = np.zeros_like(nodes), np.zeros_like(nodes)
    else:
        spline = CubicSpline(at, height, bc_type="natural")
        place = np.clip(nodes, at[0], at[-1])
        inside = (nodes >= at[0]) & (nodes <= at[-1])
        sine, second = spline(place, 1), np.where(inside, spline(place, 2), 0.0)
    steepest = int(np.argmax(np.abs(sine)))
    if abs(sine[steepest]) > STEEPEST_SINE:
        raise InputRefused(
            [
                Fault(
                    "circuit.elevation",
                    f"the road through these points rises {abs(sine[steepest]) * 100:.0f} m in "
                    f"100 m at {metres(nodes[steepest])}; at most {STEEPEST_SINE * 100:.0f} m in "
                    "100 m is allowed",
                )
            ]
        )
    angle = np.arcsin(sine)
    curvature = second / np.cos(angle)
    return Slope(angle[:-1], angle[1:], curvature[:-1], curvature[1:])
