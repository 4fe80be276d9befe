"""Straights and corners as a smoothed line shows them: where a fit begins."""

import itertools
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.measured.fit_figures import RAMP_MOST
from neapfrost.core.measured.least_squares import RAMP_USUAL_M
from neapfrost.core.measured.smoothing import SmoothLine
from neapfrost.core.path.bends_found import find_corners
from neapfrost.core.path.circuit import Bend, Segment, Straight
from neapfrost.core.path.plan_view import Extent, core_length_m

#: A corner that turned by less than this angle is the noise of a straight [deg].
TURNED_LEAST_DEG = 4.0
STRAIGHT_SHORTEST_M = 1.0


def corners_of(line: SmoothLine) -> tuple[Extent, ...]:
    """Corners found in a smoothed line by its curvature; bends of a few degrees are none."""
    found = find_corners(line.s_m, line.curvature_per_m, line.closed)
    kept = [e for e in found if abs(_turned_deg(line, e)) >= TURNED_LEAST_DEG]
    return tuple(replace(e, name=f"T{number}") for number, e in enumerate(kept, start=1))


@dataclass(frozen=True, eq=False)
class Guess:
    """Segments to begin the fit with, and the start's place and heading."""

    segments: list[Segment]
    start: Floats


def start_m(line: SmoothLine, extents: tuple[Extent, ...]) -> float:
    """Where the segments begin: at the line's start, or where the corner there begins."""
    if not line.closed:
        return 0.0
    for extent in extents:
        if extent.ends_at_m > line.s_m[-1]:
            over = extent.ends_at_m - line.s_m[-1]
            before = line.s_m[-1] - extent.begins_at_m
            margin = 3.0
            # The nearer end of the corner.
            return over + margin if over <= before else extent.begins_at_m - margin
    return 0.0


def begun_at(line: SmoothLine, begins_m: float) -> SmoothLine:
    """A closed line that starts at another of its places."""
    if begins_m == 0.0:
        return line
    length = line.s_m[-1]
    k = int(np.searchsorted(line.s_m, begins_m)) % (len(line.s_m) - 1)
    around = line.heading_rad[-1] - line.heading_rad[0]

    def rolled(values: Floats, over: float = 0.0) -> Floats:
        return np.concatenate((values[k:-1], values[:k] + over, values[k : k + 1] + over))

    return replace(
        line,
        s_m=rolled(line.s_m, length) - line.s_m[k],
        x_m=rolled(line.x_m),
        y_m=rolled(line.y_m),
        heading_rad=rolled(line.heading_rad, around),
        curvature_per_m=rolled(line.curvature_per_m),
    )


def guess_by_curvature(line: SmoothLine, extents: tuple[Extent, ...]) -> Guess:
    """Corners where the line's curvature has them; their angles hold all of its turning."""
    length = float(line.s_m[-1])
    segments: list[Segment] = []
    heading = np.interp(_middles(line, extents), line.s_m, line.heading_rad)
    at = 0.0
    for number, extent in enumerate(extents):
        angle = max(extent.turn * float(heading[number + 1] - heading[number]), np.radians(1.0))
        inside = (line.s_m >= extent.begins_at_m) & (line.s_m <= extent.ends_at_m)
        peak = float(np.abs(line.curvature_per_m[inside]).max())
        core = angle / peak
        ramp = float(np.clip(extent.ends_at_m - extent.begins_at_m - core, 0.0, RAMP_MOST * core))
        if extent.begins_at_m - at > STRAIGHT_SHORTEST_M:
            segments.append(Straight(extent.begins_at_m - at))
        segments.append(
            Bend(extent.name, extent.turn, 1.0 / peak, float(np.degrees(angle)), transition_m=ramp)
        )
        at = extent.ends_at_m
    if length - at > STRAIGHT_SHORTEST_M or not segments:
        segments.append(Straight(max(length - at, STRAIGHT_SHORTEST_M)))
    return Guess(segments, np.array([line.x_m[0], line.y_m[0], line.heading_rad[0]]))


def guess_by_tangents(
    line: SmoothLine, extents: tuple[Extent, ...], x_m: Floats, y_m: Floats, about_m: Floats
) -> Guess | None:
    """Corners between the tangents of their straights, each with the radius that fits its points.

    Smoothing that flattens corners leaves straights where they are, so this holds where points are
    few. None where neighbouring tangents do not meet.
    """
    if not extents:
        return None
    middles = _middles(line, extents)
    mx, my = np.interp(middles, line.s_m, line.x_m), np.interp(middles, line.s_m, line.y_m)
    heading = np.interp(middles, line.s_m, line.heading_rad)
    if line.closed and extents:
        # One straight leads over the line: the same tangent at both ends.
        heading[-1] = heading[0] + (line.heading_rad[-1] - line.heading_rad[0])
    tangents: list[tuple[float, float, float]] = []
    for number, extent in enumerate(extents):
        h0, h1 = heading[number], heading[number + 1]
        angle = extent.turn * (h1 - h0)
        if not np.radians(3.0) < angle < np.radians(165.0):
            return None
        dx, dy = mx[number + 1] - mx[number], my[number + 1] - my[number]
        cross = np.sin(h1 - h0)
        before = (dx * np.sin(h1) - dy * np.cos(h1)) / cross
        after = (dx * np.sin(h0) - dy * np.cos(h0)) / cross * -1.0
        if before <= 1.0 or after <= 1.0:
            return None
        inside = (about_m >= middles[number]) & (about_m <= middles[number + 1])
        radius = _best_radius(
            x_m[inside] - mx[number],
            y_m[inside] - my[number],
            float(h0),
            float(before),
            float(angle),
            extent.turn,
            min(before, after),
        )
        tangents.append((float(before), float(after), radius))
    segments: list[Segment] = []
    left = 0.0
    for number, (extent, (before, after, radius)) in enumerate(zip(extents, tangents, strict=True)):
        angle = extent.turn * (heading[number + 1] - heading[number])
        reach = radius * np.tan(0.5 * angle)
        straight = left + before - reach
        if straight > STRAIGHT_SHORTEST_M:
            segments.append(Straight(float(straight)))
        bend = Bend(extent.name, extent.turn, radius, float(np.degrees(angle)))
        ramp = min(0.5 * RAMP_USUAL_M, 0.5 * RAMP_MOST * core_length_m(bend))
        segments.append(replace(bend, transition_m=ramp))
        left = after - reach
    if left > STRAIGHT_SHORTEST_M or not segments:
        segments.append(Straight(float(max(left, STRAIGHT_SHORTEST_M))))
    return Guess(segments, np.array([mx[0], my[0], heading[0]]))


def _best_radius(
    dx: Floats,
    dy: Floats,
    heading: float,
    before: float,
    angle: float,
    turn: int,
    room: float,
) -> float:
    """The radius whose arc between two tangents lies nearest to points, among forty.

    Points are given from a place on the first tangent, `before` metres ahead of which both meet.
    """
    ahead = dx * np.cos(heading) + dy * np.sin(heading) - before
    aside = turn * (-dx * np.sin(heading) + dy * np.cos(heading))
    largest = 0.98 * room / np.tan(0.5 * angle)
    radii = np.geomspace(max(3.0, 0.02 * largest), max(largest, 3.1), 40)
    best, least = float(radii[-1]), np.inf
    for radius in radii:
        reach = radius * np.tan(0.5 * angle)
        cx, cy = -reach, radius
        on_first = ahead < cx
        # Along the second tangent, measured back from where both meet.
        along = ahead * np.cos(angle) + aside * np.sin(angle)
        on_last = along > reach
        arc = np.abs(np.hypot(ahead - cx, aside - cy) - radius)
        first = np.abs(aside)
        last = np.abs(-ahead * np.sin(angle) + aside * np.cos(angle))
        off = np.where(on_first, first, np.where(on_last, last, arc))
        misfit = float((np.minimum(off, 15.0) ** 2).sum())
        if misfit < least:
            best, least = float(radius), misfit
    return best


def _middles(line: SmoothLine, extents: tuple[Extent, ...]) -> list[float]:
    """The start, half way between corners, and the end [m]."""
    between = [
        0.5 * (before.ends_at_m + after.begins_at_m)
        for before, after in itertools.pairwise(extents)
    ]
    return [0.0, *between, float(line.s_m[-1])]


def _turned_deg(line: SmoothLine, extent: Extent) -> float:
    length = line.s_m[-1]
    ends = np.array([extent.begins_at_m, extent.ends_at_m])
    laps, inside = np.divmod(ends, length) if line.closed else (0.0 * ends, ends)
    around = line.heading_rad[-1] - line.heading_rad[0]
    heading = np.interp(inside, line.s_m, line.heading_rad) + laps * around
    return float(np.degrees(heading[1] - heading[0]))
