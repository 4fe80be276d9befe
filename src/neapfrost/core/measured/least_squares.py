"""Straights and corners moved to lie as near as can be to points."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.measured.fit_figures import (
    bounds_of,
    figure_count,
    figures_of,
    made_of,
    ramp_places,
    scales_of,
)
from neapfrost.core.measured.laid_out import (
    Laid,
    Piece,
    laid_from,
    laid_piece,
    lay,
    places_at,
    shares,
)
from neapfrost.core.path.circuit import Segment, Straight

#: How much a joint that gapes by a metre counts, round by round, beside a point as far off.
JOINT_WEIGHTS = (1.0, 30.0, 3000.0)
#: Steps of a round.
TRIALS_MOST = 25
#: A radian of a joint counts as so many metres, and of the ring.
POSE_SCALE = np.array([1.0, 1.0, 20.0])
RING_SCALE = np.array([1.0, 1.0, 100.0])
#: A step that gains less than this share of the misfit, or this much a point [m], is the last;
#: the second share is for the rounds before the last.
GAIN_LEAST = 3e-5
GAIN_BETWEEN = 1e-2
SETTLED_M = 3e-5
#: A ramp as it is usually found [m].
RAMP_USUAL_M = 8.0
#: A gap in the ring counts this many times as much as all points being as far off.
RING_COUNTS = 1.0


@dataclass(frozen=True, eq=False)
class Points:
    """What is fitted to: points, and by how much a closed ring turns in all [rad]."""

    x_m: Floats
    y_m: Floats
    closed: bool
    around_rad: float | None


@dataclass(frozen=True, eq=False)
class State:
    """Segments from a start, and the place along them that each point is beside [m]."""

    segments: list[Segment]
    start: Floats
    places_m: Floats


def settled(state: State, points: Points, near: bool = False) -> State:
    """Least squares of distances at right angles, within the figures' bounds.

    Every segment has a place and a direction of its own to begin at, and joints that gape count as
    points do; they are drawn together round by round (multiple shooting; Bock and Plitt, IFAC
    World Congress 1984). So no figure turns all of the road behind it, and what belongs to a
    segment is found beside it. Steps are those of Levenberg and Marquardt. Each point's place is
    taken anew for every trial; at right angles its change does not count. Ramps are held near the
    usual length as firmly as one point is known: radius and ramp of a short corner are hard to tell
    apart. Of segments that lie `near` already only the last round is driven.
    """
    laid = lay(state.segments, state.start)
    tied = _Tied(
        state.segments, np.column_stack((laid.x_m, laid.y_m, laid.heading_rad)), state.places_m
    )
    for weight in JOINT_WEIGHTS[-1:] if near else JOINT_WEIGHTS:
        tied = _descended(tied, points, weight)
    laid = lay(tied.segments, tied.poses[0])
    return State(tied.segments, tied.poses[0], beside(laid, points, tied.places_m))


@dataclass(frozen=True, eq=False)
class _Tied:
    """Segments, the pose (x, y, heading) that each begins at and the last ends at, and places.

    Shapes: poses (k + 1, 3), places (n,).
    """

    segments: list[Segment]
    poses: Floats
    places_m: Floats

    def laid(self) -> Laid:
        """Each segment from its own pose."""
        return laid_from(self.segments, [laid_piece(one) for one in self.segments], self.poses)


def _descended(tied: _Tied, points: Points, weight: float) -> _Tied:
    """The best that trials find with the joints held at a weight."""
    # Loaded once it is wanted: it takes a second, which every start of the application would wait.
    from scipy.sparse import diags_array
    from scipy.sparse.linalg import spsolve

    least, most = bounds_of(tied.segments)
    laid = tied.laid()
    misfit = aside_m(laid, tied.places_m, points)
    known_m = max(float(np.sqrt((misfit**2).mean())), 1e-3)
    residuals = _residuals(tied, laid, points, weight, known_m)
    cost = float(residuals @ residuals)
    damping = 1e-4
    for _ in range(TRIALS_MOST):
        slopes = _slopes(tied, laid, points, weight, known_m)
        normal = (slopes.T @ slopes).tocsc()
        scale = normal.diagonal() + 1e-12
        downhill = slopes.T @ residuals
        gained = 0.0
        while damping < 1e8:
            step = -spsolve(normal + diags_array(damping * scale, format="csc"), downhill)
            tried = _stepped(tied, step, least, most)
            after = tried.laid()
            tried = _Tied(tried.segments, tried.poses, _carried(laid, after, tied, points))
            other = _residuals(tried, after, points, weight, known_m)
            gained = cost - float(other @ other)
            if gained > 0.0:
                tied, laid, residuals, cost = tried, after, other, cost - gained
                damping = max(0.1 * damping, 1e-9)
                break
            damping *= 10.0
        least_gain = GAIN_LEAST if weight == JOINT_WEIGHTS[-1] else GAIN_BETWEEN
        if gained < max(least_gain * cost, SETTLED_M**2 * len(points.x_m)):
            break
    return tied


def _columns_of(segments: list[Segment]) -> tuple[Integers, Integers]:
    """Where each pose (k + 1,) and each segment's figures (k,) stand among all unknowns."""
    counts = np.array([3 + figure_count(segment) for segment in segments])
    first = np.concatenate(([0], np.cumsum(counts)))
    return first, first[:-1] + 3


def _stepped(tied: _Tied, step: Floats, least: Floats, most: Floats) -> _Tied:
    """Poses and figures after a step, the figures kept within their bounds."""
    at_pose, at_figures = _columns_of(tied.segments)
    poses = tied.poses + step[at_pose[:, None] + np.arange(3)]
    which = np.concatenate(
        [
            at + np.arange(figure_count(segment))
            for at, segment in zip(at_figures, tied.segments, strict=True)
        ]
    )
    figures = np.clip(figures_of(tied.segments) + step[which], least, most)
    return _Tied(made_of(tied.segments, figures), poses, tied.places_m)


def _carried(before: Laid, after: Laid, tied: _Tied, points: Points) -> Floats:
    """Places on changed segments: at the same shares, then moved to beside the points."""
    segment, share = shares(before, tied.places_m)
    places = after.edges_m[segment] + share * np.diff(after.edges_m)[segment]
    return beside(after, points, places)


def _ends(laid: Laid) -> Floats:
    """Where each segment ends when it is laid from its own pose; (k, 3)."""
    own = np.array([[p.x_m[-1], p.y_m[-1], p.heading_rad[-1]] for p in laid.pieces])
    cos, sin = np.cos(laid.heading_rad[:-1]), np.sin(laid.heading_rad[:-1])
    return np.column_stack(
        (
            laid.x_m[:-1] + cos * own[:, 0] - sin * own[:, 1],
            laid.y_m[:-1] + sin * own[:, 0] + cos * own[:, 1],
            laid.heading_rad[:-1] + own[:, 2],
        )
    )


def _residuals(tied: _Tied, laid: Laid, points: Points, weight: float, known_m: float) -> Floats:
    """Sideways distance of each point, gaps at the joints, ramps, and the gap in the ring."""
    gaps = weight * POSE_SCALE * (_ends(laid) - tied.poses[1:])
    ramps = figures_of(tied.segments)[ramp_places(tied.segments)]
    parts = [
        aside_m(laid, tied.places_m, points),
        gaps.ravel(),
        known_m * (ramps - RAMP_USUAL_M) / RAMP_USUAL_M,
    ]
    if points.around_rad is not None:
        around = np.array([0.0, 0.0, points.around_rad])
        ring = tied.poses[-1] - tied.poses[0] - around
        parts.append(_ring_weight(len(points.x_m)) * RING_SCALE * ring)
    return np.concatenate(parts)


def _ring_weight(points: int) -> float:
    return float(RING_COUNTS * np.sqrt(points))


def _slopes(tied: _Tied, laid: Laid, points: Points, weight: float, known_m: float) -> Any:
    """Change of `_residuals` with every pose and figure, sparse."""
    from scipy.sparse import csr_array

    segments = tied.segments
    at_pose, at_figures = _columns_of(segments)
    count, total = len(points.x_m), int(at_pose[-1]) + 3
    segment, share = shares(laid, tied.places_m)
    px, py, heading = places_at(laid, segment, share)
    sin, cos = np.sin(heading), np.cos(heading)
    along = (points.x_m - px) * cos + (points.y_m - py) * sin
    ends = _ends(laid)
    entries = _Entries()
    every = np.arange(count)
    pose = at_pose[segment]
    entries.add(every, pose, sin)
    entries.add(every, pose + 1, -cos)
    dx, dy = -(py - laid.y_m[segment]), px - laid.x_m[segment]
    entries.add(every, pose + 2, dx * sin - dy * cos - along)
    scales = scales_of(segments)
    at, order = 0, np.argsort(segment, kind="stable")
    bounds = np.searchsorted(segment[order], np.arange(len(segments) + 1))
    for number, part in enumerate(segments):
        own = order[bounds[number] : bounds[number + 1]]
        turned = laid.heading_rad[number]
        turn_cos, turn_sin = float(np.cos(turned)), float(np.sin(turned))
        row = count + 3 * number
        gap = weight * POSE_SCALE
        swing = np.array(
            [-(ends[number, 1] - laid.y_m[number]), ends[number, 0] - laid.x_m[number], 1.0]
        )
        for axis in range(3):
            entries.one(row + axis, at_pose[number] + axis, gap[axis])
            entries.one(row + axis, at_pose[number + 1] + axis, -gap[axis])
            if axis < 2:
                entries.one(row + axis, at_pose[number] + 2, gap[axis] * swing[axis])
        size = figure_count(part)
        where = np.append(share[own], 1.0)
        for figure in range(size):
            by = 1e-4 * scales[at + figure]
            ox, oy, oturn = _changes(part, laid.pieces[number], where, figure, by)
            gx, gy = turn_cos * ox - turn_sin * oy, turn_sin * ox + turn_cos * oy
            column = int(at_figures[number]) + figure
            aside = gx[:-1] * sin[own] - gy[:-1] * cos[own] - oturn[:-1] * along[own]
            entries.add(own, np.full(len(own), column), aside)
            for axis, change in enumerate((gx[-1], gy[-1], oturn[-1])):
                entries.one(row + axis, column, gap[axis] * float(change))
        at += size
    row = count + 3 * len(segments)
    starts = np.repeat(at_figures, [figure_count(s) for s in segments])
    within = np.concatenate([np.arange(figure_count(s)) for s in segments])
    for place in ramp_places(segments):
        entries.one(row, int(starts[place] + within[place]), known_m / RAMP_USUAL_M)
        row += 1
    if points.around_rad is not None:
        for axis in range(3):
            ring = _ring_weight(count) * RING_SCALE[axis]
            entries.one(row + axis, int(at_pose[-1]) + axis, ring)
            entries.one(row + axis, axis, -ring)
        row += 3
    return csr_array((entries.values, (entries.rows, entries.columns)), shape=(row, total))


def _changes(
    part: Segment, piece: Piece, where: Floats, figure: int, by: float
) -> tuple[Floats, Floats, Floats]:
    """Change of place and heading at shares of a segment with a figure, in its own axes."""
    if isinstance(part, Straight):
        return where, np.zeros(len(where)), np.zeros(len(where))
    changed = figures_of([part])
    changed[figure] += by
    moved = laid_piece(made_of([part], changed)[0])
    ox, oy, oturn = (
        (np.interp(where, moved.share, new) - np.interp(where, piece.share, old)) / by
        for new, old in (
            (moved.x_m, piece.x_m),
            (moved.y_m, piece.y_m),
            (moved.heading_rad, piece.heading_rad),
        )
    )
    return ox, oy, oturn


class _Entries:
    """Entries of a sparse matrix as they come."""

    def __init__(self) -> None:
        self._parts: list[tuple[Any, Any, Any]] = []

    def add(self, rows: Integers, columns: Integers, values: Floats) -> None:
        self._parts.append((rows, columns, values))

    def one(self, row: int, column: int, value: float) -> None:
        self._parts.append(([row], [column], [value]))

    @property
    def rows(self) -> Integers:
        return np.concatenate([part[0] for part in self._parts])

    @property
    def columns(self) -> Integers:
        return np.concatenate([part[1] for part in self._parts])

    @property
    def values(self) -> Floats:
        return np.concatenate([part[2] for part in self._parts])


def rms_m(state: State, points: Points) -> float:
    aside = aside_m(lay(state.segments, state.start), state.places_m, points)
    return float(np.sqrt((aside**2).mean()))


def aside_m(laid: Laid, places: Floats, points: Points) -> Floats:
    """How far each point lies left of its place [m]."""
    px, py, heading = places_at(laid, *shares(laid, places))
    aside: Floats = -(points.x_m - px) * np.sin(heading) + (points.y_m - py) * np.cos(heading)
    return aside


def beside(laid: Laid, points: Points, places: Floats) -> Floats:
    """Places moved along to where each point is beside them."""
    length = laid.edges_m[-1]
    for _ in range(3):
        px, py, heading = places_at(laid, *shares(laid, places))
        ahead = (points.x_m - px) * np.cos(heading) + (points.y_m - py) * np.sin(heading)
        places = places + np.clip(ahead, -8.0, 8.0)
        places = np.mod(places, length) if points.closed else np.clip(places, 0.0, length)
    return places
