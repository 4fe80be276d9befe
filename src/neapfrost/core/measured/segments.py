"""A smoothed line as straights and corners, fitted to the points themselves."""

import itertools
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.measured.smoothing import SmoothLine, nearest_samples
from neapfrost.core.path.bends_found import find_corners
from neapfrost.core.path.circuit import Bend, Segment, Straight
from neapfrost.core.path.plan_view import Extent, core_length_m, segment_length_m

#: A corner tighter than this turned by less than this angle is the noise of a straight [deg].
TURNED_LEAST_DEG = 4.0
SLIGHT_DEG, SLIGHT_RADIUS_M = 8.0, 300.0
STRAIGHT_SHORTEST_M = 1.0
#: Share of a corner's length at full curvature that its ramps may take at the most.
RAMP_MOST = 0.9
STEPS_MOST = 60
#: Points this near need no corner split, and this near no other guess; a step that gains less
#: than the third is the last [m].
CLEAN_M, EXACT_M, SETTLED_M = 0.03, 0.002, 3e-5
#: A corner is tried as two when its points lie so many times as far off as is usual, squared.
SPLITS_MOST, SPLIT_WORTH = 6, 2.2
#: A ramp as it is usually found [m].
RAMP_USUAL_M = 8.0
PIECE_STEP_M = 2.0
FIT_POINTS_MOST = 6000
#: A gap in the ring counts this many times as much as all points being as far off.
RING_COUNTS = 1.0


@dataclass(frozen=True, eq=False)
class Fitted:
    """Straights and corners along a line: where they begin, and how far the points lie from them.

    `begins_at_m` is where the first of them begins along the line; `x_m`, `y_m`, `heading_rad` are
    the start's own place and direction.
    """

    segments: tuple[Segment, ...]
    begins_at_m: float
    x_m: float
    y_m: float
    heading_rad: float
    rms_m: float


def corners_of(line: SmoothLine) -> tuple[Extent, ...]:
    """Corners found in a smoothed line by its curvature; bends of a few degrees are none."""
    found = find_corners(line.s_m, line.curvature_per_m, line.closed)
    kept = [e for e in found if abs(_turned_deg(line, e)) >= TURNED_LEAST_DEG]
    return tuple(replace(e, name=f"T{number}") for number, e in enumerate(kept, start=1))


def fit_segments(line: SmoothLine, x_m: Floats, y_m: Floats) -> Fitted:
    """The straights and corners of a smoothed line, moved to lie as near as can be to the points.

    Corners are found by curvature (`corners_of`), each with equal ramps at both ends; then lengths,
    radii, angles, ramps and the start are fitted by least squares of the points' sideways
    distances, with a closed ring held closed. Smoothing flattens corners; the fit takes that back.
    A line that starts inside a corner is made to start on the straight beside it.
    """
    extents = corners_of(line)
    begins = _start_m(line, extents)
    line = _turned_to(line, begins)
    extents = corners_of(line)
    if len(x_m) > FIT_POINTS_MOST:
        pick = np.linspace(0, len(x_m) - 1, FIT_POINTS_MOST).astype(np.int64)
        x_m, y_m = x_m[pick], y_m[pick]
    about = line.s_m[nearest_samples(line, x_m, y_m)]
    around = float(line.heading_rad[-1] - line.heading_rad[0]) if line.closed else None
    points = _Points(x_m, y_m, line.closed, around)
    best = None
    for guess in (
        _guess_by_tangents(line, extents, x_m, y_m, about),
        _guess_by_curvature(line, extents),
    ):
        if guess is None:
            continue
        state = _refined(guess, line, points, about)
        if best is None or _rms(state, points) < _rms(best, points):
            best = state
        if _rms(best, points) < max(line.rms_m, EXACT_M):
            break
    assert best is not None  # the second guess always is one
    best = _with_splits(best, points)
    return _told(best, points, begins, line)


@dataclass(frozen=True, eq=False)
class _Guess:
    """Segments to begin the fit with, and the start's place and heading."""

    segments: list[Segment]
    start: Floats


def _turned_deg(line: SmoothLine, extent: Extent) -> float:
    length = line.s_m[-1]
    ends = np.array([extent.begins_at_m, extent.ends_at_m])
    laps, inside = np.divmod(ends, length) if line.closed else (0.0 * ends, ends)
    around = line.heading_rad[-1] - line.heading_rad[0]
    heading = np.interp(inside, line.s_m, line.heading_rad) + laps * around
    return float(np.degrees(heading[1] - heading[0]))


def _start_m(line: SmoothLine, extents: tuple[Extent, ...]) -> float:
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


def _turned_to(line: SmoothLine, begins_m: float) -> SmoothLine:
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


def _middles(line: SmoothLine, extents: tuple[Extent, ...]) -> list[float]:
    """The start, half way between corners, and the end [m]."""
    between = [
        0.5 * (before.ends_at_m + after.begins_at_m)
        for before, after in itertools.pairwise(extents)
    ]
    return [0.0, *between, float(line.s_m[-1])]


def _guess_by_curvature(line: SmoothLine, extents: tuple[Extent, ...]) -> _Guess:
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
    return _Guess(segments, np.array([line.x_m[0], line.y_m[0], line.heading_rad[0]]))


def _guess_by_tangents(
    line: SmoothLine, extents: tuple[Extent, ...], x_m: Floats, y_m: Floats, about_m: Floats
) -> _Guess | None:
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
    return _Guess(segments, np.array([mx[0], my[0], heading[0]]))


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


@dataclass(frozen=True, eq=False)
class _Piece:
    """One segment from its own start along its own first heading, at shares of it; (m,) each."""

    share: Floats
    x_m: Floats
    y_m: Floats
    heading_rad: Floats


def _piece(segment: Segment) -> _Piece:
    length = segment_length_m(segment)
    if isinstance(segment, Straight):
        ends = np.array([0.0, 1.0])
        return _Piece(ends, length * ends, np.zeros(2), np.zeros(2))
    count = max(8, int(np.ceil(length / PIECE_STEP_M)))
    share = np.linspace(0.0, 1.0, 2 * count + 1)
    heading = _turned(segment, length * share)
    step = length / count
    cos, sin = np.cos(heading), np.sin(heading)
    dx = step / 6.0 * (cos[:-2:2] + 4.0 * cos[1:-1:2] + cos[2::2])
    dy = step / 6.0 * (sin[:-2:2] + 4.0 * sin[1:-1:2] + sin[2::2])
    zero = np.zeros(1)
    return _Piece(
        share[::2],
        np.concatenate((zero, np.cumsum(dx))),
        np.concatenate((zero, np.cumsum(dy))),
        heading[::2],
    )


def _turned(bend: Bend, s: Floats) -> Floats:
    """Heading turned through at distances along a bend with equal ramps [rad]."""
    length, ramp, bent = segment_length_m(bend), bend.transition_m, bend.turn / bend.radius_m
    if ramp <= 0.0:
        return bent * s
    total = bent * (length - ramp)
    rising = bent * s**2 / (2.0 * ramp)
    falling = total - bent * (length - s) ** 2 / (2.0 * ramp)
    return np.where(s < ramp, rising, np.where(s > length - ramp, falling, bent * (s - 0.5 * ramp)))


@dataclass(frozen=True, eq=False)
class _Laid:
    """Segments laid end to end from a start: each one's piece, and its start, (k + 1,) each."""

    pieces: list[_Piece]
    edges_m: Floats
    x_m: Floats
    y_m: Floats
    heading_rad: Floats


def _lay(segments: list[Segment], start: Floats) -> _Laid:
    pieces = [_piece(segment) for segment in segments]
    x, y, heading = [start[0]], [start[1]], [start[2]]
    for piece in pieces:
        cos, sin = np.cos(heading[-1]), np.sin(heading[-1])
        x.append(x[-1] + cos * piece.x_m[-1] - sin * piece.y_m[-1])
        y.append(y[-1] + sin * piece.x_m[-1] + cos * piece.y_m[-1])
        heading.append(heading[-1] + piece.heading_rad[-1])
    lengths = [segment_length_m(segment) for segment in segments]
    return _Laid(
        pieces,
        np.concatenate(([0.0], np.cumsum(lengths))),
        np.array(x),
        np.array(y),
        np.array(heading),
    )


def _at(laid: _Laid, segment: Integers, share: Floats) -> tuple[Floats, Floats, Floats]:
    """Place and heading at shares of segments; (n,) each."""
    x, y, heading = np.empty(len(share)), np.empty(len(share)), np.empty(len(share))
    for number, piece in enumerate(laid.pieces):
        own = segment == number
        if not own.any():
            continue
        px, py = (
            np.interp(share[own], piece.share, piece.x_m),
            np.interp(share[own], piece.share, piece.y_m),
        )
        cos, sin = np.cos(laid.heading_rad[number]), np.sin(laid.heading_rad[number])
        x[own] = laid.x_m[number] + cos * px - sin * py
        y[own] = laid.y_m[number] + sin * px + cos * py
        heading[own] = laid.heading_rad[number] + np.interp(
            share[own], piece.share, piece.heading_rad
        )
    return x, y, heading


@dataclass(frozen=True, eq=False)
class _Points:
    """What is fitted to: points, and by how much a closed ring turns in all [rad]."""

    x_m: Floats
    y_m: Floats
    closed: bool
    around_rad: float | None


@dataclass(frozen=True, eq=False)
class _State:
    """Segments from a start, and the place along them that each point is beside [m]."""

    segments: list[Segment]
    start: Floats
    places_m: Floats


def _refined(guess: _Guess, line: SmoothLine, points: _Points, about_m: Floats) -> _State:
    """Least squares of the points' distances, once with every bend and once without the noise."""
    laid = _lay(guess.segments, guess.start)
    places = about_m * laid.edges_m[-1] / line.s_m[-1]
    state = _State(guess.segments, guess.start, _beside(laid, points, places))
    state = _settled(state, points)
    kept = _without_noise(state.segments)
    if len(kept) < len(state.segments):
        state = _settled(replace(state, segments=kept), points)
    return state


def _rms(state: _State, points: _Points) -> float:
    aside = _aside(_lay(state.segments, state.start), state.places_m, points)
    return float(np.sqrt((aside**2).mean()))


def _with_splits(state: _State, points: _Points) -> _State:
    """Corners that no single radius fits made into two, where the points bear it out."""
    for _ in range(SPLITS_MOST):
        laid = _lay(state.segments, state.start)
        aside = _aside(laid, state.places_m, points)
        usual = max(
            float(np.median(aside**2)) / 0.455, CLEAN_M**2
        )  # of a normal spread, its variance
        worst, most = None, SPLIT_WORTH
        for number, segment in enumerate(state.segments):
            if isinstance(segment, Straight) or segment.angle_deg < 40.0:
                continue
            near = (state.places_m > laid.edges_m[number] - 30.0) & (
                state.places_m < laid.edges_m[number + 1] + 30.0
            )
            if near.sum() < 8:
                continue
            excess = float((aside[near] ** 2).mean()) / usual
            if excess > most:
                worst, most = number, excess
        if worst is None:
            break
        bend = state.segments[worst]
        assert isinstance(bend, Bend)
        half = replace(
            bend,
            angle_deg=0.5 * bend.angle_deg,
            radius_m=0.7 * bend.radius_m,
            transition_m=min(bend.transition_m, 4.0),
        )
        segments = [
            *state.segments[:worst],
            half,
            Straight(0.4 * segment_length_m(bend)),
            half,
            *state.segments[worst + 1 :],
        ]
        tried = _settled(replace(state, segments=segments), points)
        # Four more figures must gain more than noise would give them.
        gain = (_rms(state, points) ** 2 - _rms(tried, points) ** 2) * len(points.x_m)
        if gain < 25.0 * usual:
            break
        state = tried
    return state


def _begun_later(segments: list[Segment], over_m: float) -> list[Segment] | None:
    """A ring's segments begun farther on, or earlier; None where that is on no straight."""
    first, last = segments[0], segments[-1]
    before = last.length_m if isinstance(last, Straight) else 0.0
    ahead = first.length_m if isinstance(first, Straight) else 0.0
    if not 1.0 - before < over_m < ahead - 1.0:
        return None
    moved = list(segments)
    if isinstance(first, Straight):
        moved[0] = replace(first, length_m=ahead - over_m)
    elif over_m < 0.0:
        moved.insert(0, Straight(-over_m))
    if isinstance(last, Straight):
        moved[-1] = replace(last, length_m=before + over_m)
    elif over_m > 0.0:
        moved.append(Straight(over_m))
    return moved


def _told(state: _State, points: _Points, begins: float, line: SmoothLine) -> Fitted:
    """The fit with its corners numbered, starting beside where the line starts."""
    segments, start = state.segments, state.start
    if line.closed and len(segments) > 2:
        # Along the first straight nothing tells places apart: the fit may have slid along it.
        east, north = line.x_m[0] - start[0], line.y_m[0] - start[1]
        over = float(east * np.cos(start[2]) + north * np.sin(start[2]))
        moved = _begun_later(segments, over)
        if moved is not None:
            segments = moved
            start = start + over * np.array([np.cos(start[2]), np.sin(start[2]), 0.0])
    numbered = itertools.count(1)
    named = tuple(
        replace(s, name=f"T{next(numbered)}") if isinstance(s, Bend) else s for s in segments
    )
    return Fitted(
        named, begins, float(start[0]), float(start[1]), float(start[2]), _rms(state, points)
    )


def _settled(state: _State, points: _Points) -> _State:
    """Gauss-Newton with damping (Marquardt 1963) on distances at right angles.

    Each point's place is taken anew for every trial; at right angles its change does not count.
    Ramps are held near the usual length as firmly as one point is known: radius and ramp of a
    short corner are hard to tell apart.
    """
    damping = 1e-3
    misfit, laid = _misfit(state, points)
    for _ in range(STEPS_MOST):
        scale = np.concatenate(([1.0, 1.0, 0.01], _scales(state.segments)))
        slope = _slopes(state, laid, points) * scale
        held, held_slope = _held_ramps(state, scale, misfit)
        normal = slope.T @ slope + held_slope.T @ held_slope
        steepest = slope.T @ misfit + held_slope.T @ held
        cost = float(misfit @ misfit + held @ held)
        low, high = _bounds(state.segments)
        gained = -1.0
        while gained <= 0.0 and damping < 1e7:
            damped = normal + damping * np.diag(np.diag(normal) + 1e-9)
            change = _free_step(damped, steepest, scale, state, (low, high))
            figures = np.clip(_figures(state.segments) + change[3:], low, high)
            segments = _made(state.segments, figures)
            start = state.start + change[:3]
            tried = _State(segments, start, _carried(laid, _lay(segments, start), state, points))
            after, tried_laid = _misfit(tried, points)
            ramps, _ = _held_ramps(tried, scale, misfit)
            gained = cost - float(after @ after + ramps @ ramps)
            damping *= 6.0
        if gained <= 0.0:
            break
        state, misfit, laid = tried, after, tried_laid
        damping = max(damping / 60.0, 1e-9)
        if gained < max(1e-6 * cost, SETTLED_M**2 * len(points.x_m)):
            break
    return state


def _free_step(
    damped: Floats, steepest: Floats, scale: Floats, state: _State, room: tuple[Floats, Floats]
) -> Floats:
    """The step that leaves alone what stands at a bound and would go beyond it."""
    figures = _figures(state.segments)
    free = np.ones(len(scale), dtype=bool)
    change = np.zeros(len(scale))
    for _ in range(4):
        change[:] = 0.0
        inside = damped[np.ix_(free, free)]
        change[free] = -np.linalg.solve(inside, steepest[free]) * scale[free]
        beyond = np.zeros(len(scale), dtype=bool)
        beyond[3:] = ((figures <= room[0] + 1e-9) & (change[3:] < 0.0)) | (
            (figures >= room[1] - 1e-9) & (change[3:] > 0.0)
        )
        if not (beyond & free).any():
            break
        free &= ~beyond
    return change


def _carried(before: _Laid, after: _Laid, state: _State, points: _Points) -> Floats:
    """Places on changed segments: at the same shares, then moved to beside the points."""
    segment, share = _shares(before, state.places_m)
    places = after.edges_m[segment] + share * np.diff(after.edges_m)[segment]
    return _beside(after, points, places)


def _held_ramps(state: _State, scale: Floats, misfit: Floats) -> tuple[Floats, Floats]:
    """How far each ramp is from the usual one, in points' own uncertainty, and its slopes."""
    ramps = _ramp_places(state.segments)
    known = max(float(np.sqrt((misfit**2).mean())), 1e-3)
    held = known * (_figures(state.segments)[ramps] - RAMP_USUAL_M) / RAMP_USUAL_M
    slopes = np.zeros((len(ramps), len(scale)))
    slopes[np.arange(len(ramps)), 3 + ramps] = known * scale[3 + ramps] / RAMP_USUAL_M
    return held, slopes


def _ramp_places(segments: list[Segment]) -> Integers:
    """Where each corner's ramp stands among the figures."""
    places, at = [], 0
    for segment in segments:
        at += 1 if isinstance(segment, Straight) else 3
        if isinstance(segment, Bend):
            places.append(at - 1)
    return np.array(places, dtype=np.int64)


def _bounds(segments: list[Segment]) -> tuple[Floats, Floats]:
    """Least and largest values of every figure."""
    low: list[float] = []
    high: list[float] = []
    for segment in segments:
        if isinstance(segment, Straight):
            low.append(0.5)
            high.append(50_000.0)
        else:
            low += [3.0, 0.5, 0.0]
            high += [20_000.0, 358.0, 400.0]
    return np.array(low), np.array(high)


def _shares(laid: _Laid, places: Floats) -> tuple[Integers, Floats]:
    """The segment beside each point, and its share of it."""
    edges = laid.edges_m
    segment = np.clip(np.searchsorted(edges, places, side="right") - 1, 0, len(edges) - 2)
    return segment.astype(np.int64), (places - edges[segment]) / np.diff(edges)[segment]


def _aside(laid: _Laid, places: Floats, points: _Points) -> Floats:
    """How far each point lies left of its place [m]."""
    px, py, heading = _at(laid, *_shares(laid, places))
    aside: Floats = -(points.x_m - px) * np.sin(heading) + (points.y_m - py) * np.cos(heading)
    return aside


def _misfit(state: _State, points: _Points) -> tuple[Floats, _Laid]:
    """Sideways distance of each point, then how far the ring is from closing, weighted."""
    laid = _lay(state.segments, state.start)
    aside = _aside(laid, state.places_m, points)
    if points.around_rad is None:
        return aside, laid
    ring = np.array(
        [
            laid.x_m[-1] - laid.x_m[0],
            laid.y_m[-1] - laid.y_m[0],
            100.0 * (laid.heading_rad[-1] - laid.heading_rad[0] - points.around_rad),
        ]
    )
    return np.concatenate((aside, ring * _ring_weight(len(aside)))), laid


def _ring_weight(points: int) -> float:
    return float(RING_COUNTS * np.sqrt(points))


def _slopes(state: _State, laid: _Laid, points: _Points) -> Floats:
    """Change of `_misfit` with the start and every figure; shape (rows, 3 + figures).

    A figure changes its own segment, and moves and turns all that follows as one.
    """
    segments, x_m, y_m = state.segments, points.x_m, points.y_m
    around_rad = points.around_rad
    segment, share = _shares(laid, state.places_m)
    px, py, heading = _at(laid, segment, share)
    sin, cos = np.sin(heading), np.cos(heading)
    end_x, end_y = laid.x_m[-1], laid.y_m[-1]
    rows = len(x_m) + (0 if around_rad is None else 3)
    columns: list[Floats] = []

    def column(dx: Floats, dy: Floats, dturn: Floats, dend: tuple[float, float, float]) -> None:
        made = np.zeros(rows)
        along = (x_m - px) * cos + (y_m - py) * sin
        made[: len(x_m)] = dx * sin - dy * cos - dturn * along
        if around_rad is not None:
            made[-3:] = np.array([dend[0], dend[1], 100.0 * dend[2]]) * _ring_weight(len(x_m))
        columns.append(made)

    one, zero = np.ones(len(x_m)), np.zeros(len(x_m))
    column(one, zero, zero, (0.0, 0.0, 0.0))
    column(zero, one, zero, (0.0, 0.0, 0.0))
    x0, y0 = laid.x_m[0], laid.y_m[0]
    column(-(py - y0), px - x0, one, (-(end_y - y0), end_x - x0, 0.0))
    figures = _figures(segments)
    scales = _scales(segments)
    at = 0
    for number, part in enumerate(segments):
        own, later = segment == number, segment > number
        piece = laid.pieces[number]
        turn_cos, turn_sin = np.cos(laid.heading_rad[number]), np.sin(laid.heading_rad[number])
        for figure in range(1 if isinstance(part, Straight) else 3):
            changed = figures[at : at + (1 if isinstance(part, Straight) else 3)].copy()
            changed[figure] += 1e-4 * scales[at + figure]
            moved = _piece(_made([part], changed)[0])
            by = 1e-4 * scales[at + figure]

            def local(
                values: str,
                where: Floats,
                piece: _Piece = piece,
                moved: _Piece = moved,
                by: float = by,
            ) -> Floats:
                before = np.interp(where, piece.share, getattr(piece, values))
                after = np.interp(where, moved.share, getattr(moved, values))
                change: Floats = (after - before) / by
                return change

            ends = np.ones(1)
            lx, ly = float(local("x_m", ends)[0]), float(local("y_m", ends)[0])
            gx, gy = turn_cos * lx - turn_sin * ly, turn_sin * lx + turn_cos * ly
            gturn = float(local("heading_rad", ends)[0])
            dx, dy, dturn = np.zeros(len(x_m)), np.zeros(len(x_m)), np.zeros(len(x_m))
            ox, oy = local("x_m", share[own]), local("y_m", share[own])
            dx[own], dy[own] = turn_cos * ox - turn_sin * oy, turn_sin * ox + turn_cos * oy
            dturn[own] = local("heading_rad", share[own])
            pivot_x, pivot_y = laid.x_m[number + 1], laid.y_m[number + 1]
            dx[later] = gx - gturn * (py[later] - pivot_y)
            dy[later] = gy + gturn * (px[later] - pivot_x)
            dturn[later] = gturn
            column(
                dx,
                dy,
                dturn,
                (gx - gturn * (end_y - pivot_y), gy + gturn * (end_x - pivot_x), gturn),
            )
        at += 1 if isinstance(part, Straight) else 3
    return np.column_stack(columns)


def _beside(laid: _Laid, points: _Points, places: Floats) -> Floats:
    """Places moved along to where each point is beside them."""
    length = laid.edges_m[-1]
    for _ in range(3):
        px, py, heading = _at(laid, *_shares(laid, places))
        ahead = (points.x_m - px) * np.cos(heading) + (points.y_m - py) * np.sin(heading)
        places = places + np.clip(ahead, -8.0, 8.0)
        places = np.mod(places, length) if points.closed else np.clip(places, 0.0, length)
    return places


def _without_noise(segments: list[Segment]) -> list[Segment]:
    """Bends that hardly turn are taken into the straights beside them."""
    kept: list[Segment] = []
    for segment in segments:
        straight = (
            Straight(segment_length_m(segment))
            if isinstance(segment, Bend) and _is_noise(segment)
            else segment
        )
        last = kept[-1] if kept else None
        if isinstance(straight, Straight) and isinstance(last, Straight):
            kept[-1] = Straight(last.length_m + straight.length_m)
        else:
            kept.append(straight)
    return kept


def _is_noise(bend: Bend) -> bool:
    """Whether a bend is no corner: it turns by very little, or by little and wide."""
    slight = bend.angle_deg < SLIGHT_DEG and bend.radius_m > SLIGHT_RADIUS_M
    return bend.angle_deg < TURNED_LEAST_DEG or slight


def _figures(segments: list[Segment]) -> Floats:
    """Length of each straight; radius, angle and ramp of each corner."""
    figures: list[float] = []
    for segment in segments:
        if isinstance(segment, Straight):
            figures.append(segment.length_m)
        else:
            figures += [segment.radius_m, segment.angle_deg, segment.transition_m]
    return np.array(figures)


def _scales(segments: list[Segment]) -> Floats:
    """How much of each figure counts alike."""
    scales: list[float] = []
    for segment in segments:
        if isinstance(segment, Straight):
            scales.append(2.0)
        else:
            scales += [0.05 * segment.radius_m, 1.0, 2.0]
    return np.array(scales)


def _made(segments: list[Segment], figures: Floats) -> list[Segment]:
    """Segments with other figures, each kept to what makes a road."""
    made: list[Segment] = []
    at = 0
    for segment in segments:
        if isinstance(segment, Straight):
            made.append(replace(segment, length_m=max(float(figures[at]), 0.5)))
            at += 1
            continue
        radius = max(float(figures[at]), 3.0)
        angle = float(np.clip(figures[at + 1], 0.5, 358.0))
        bend = replace(segment, radius_m=radius, angle_deg=angle, transition_m=0.0)
        ramp = float(np.clip(figures[at + 2], 0.0, RAMP_MOST * core_length_m(bend)))
        made.append(replace(bend, transition_m=ramp))
        at += 3
    return made
