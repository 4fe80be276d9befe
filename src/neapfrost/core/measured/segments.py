"""A smoothed line as straights and corners, fitted to the points themselves."""

import itertools
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.measured.fit_figures import RAMP_MOST
from neapfrost.core.measured.guesses import (
    TURNED_LEAST_DEG,
    Guess,
    begun_at,
    corners_of,
    guess_by_curvature,
    guess_by_tangents,
    start_m,
)
from neapfrost.core.measured.laid_out import lay
from neapfrost.core.measured.least_squares import (
    RAMP_USUAL_M,
    Points,
    State,
    aside_m,
    beside,
    rms_m,
    settled,
)
from neapfrost.core.measured.smoothing import SmoothLine, nearest_samples
from neapfrost.core.path.circuit import Bend, Segment, Straight
from neapfrost.core.path.plan_view import core_length_m, ramps_m, segment_length_m

#: A corner tighter than this turned by less than this angle is the noise of a straight.
SLIGHT_DEG, SLIGHT_RADIUS_M = 8.0, 300.0
#: Points this near need no corner split, and this near no other guess [m].
CLEAN_M, EXACT_M = 0.03, 0.002
#: A corner is tried as two when its points lie so many times as far off as is usual, squared.
SPLITS_MOST, SPLIT_WORTH = 6, 2.2
#: Points that a fit begins with, and ends with, at the most.
FEW_POINTS, FIT_POINTS_MOST = 1500, 6000


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


def fit_segments(line: SmoothLine, x_m: Floats, y_m: Floats) -> Fitted:
    """The straights and corners of a smoothed line, moved to lie as near as can be to the points.

    Corners are found by curvature (`corners_of`), each with equal ramps at both ends; then lengths,
    radii, angles, ramps and the start are fitted by least squares of the points' sideways
    distances, with a closed ring held closed. Smoothing flattens corners; the fit takes that back.
    A line that starts inside a corner is made to start on the straight beside it.
    """
    extents = corners_of(line)
    begins = start_m(line, extents)
    line = begun_at(line, begins)
    extents = corners_of(line)
    points = _points(line, x_m, y_m, FIT_POINTS_MOST)
    few = _points(line, x_m, y_m, FEW_POINTS)
    about = line.s_m[nearest_samples(line, few.x_m, few.y_m)]
    best = None
    for guess in (
        guess_by_tangents(line, extents, few.x_m, few.y_m, about),
        guess_by_curvature(line, extents),
    ):
        if guess is None:
            continue
        state = _refined(guess, line, few, about)
        if best is None or rms_m(state, few) < rms_m(best, few):
            best = state
        if rms_m(best, few) < max(line.rms_m, EXACT_M):
            break
    assert best is not None  # the second guess always is one
    best = _with_splits(best, few)
    if len(points.x_m) > len(few.x_m):
        best = _settled_on(best.segments, best.start, line, points, near=True)
    return _told(best, points, begins, line)


def fitted_again(
    segments: tuple[Segment, ...], before: Fitted, line: SmoothLine, x_m: Floats, y_m: Floats
) -> Fitted:
    """Straights and corners changed by a person, split or made one, fitted to the points anew.

    They are laid from where the fit before them began, with ramps as they usually are. None is
    taken out and none put in.
    """
    line = begun_at(line, before.begins_at_m)
    points = _points(line, x_m, y_m, FIT_POINTS_MOST)
    start = np.array([before.x_m, before.y_m, before.heading_rad])
    usual = [_usual_ramps(s) if isinstance(s, Bend) else s for s in segments]
    state = _settled_on(usual, start, line, points)
    return Fitted(
        tuple(state.segments),
        before.begins_at_m,
        float(state.start[0]),
        float(state.start[1]),
        float(state.start[2]),
        rms_m(state, points),
    )


def _usual_ramps(bend: Bend) -> Bend:
    """A bend with the usual ramp at the ends where it has one; both alike, or one of them none."""
    ramp = min(RAMP_USUAL_M, RAMP_MOST * core_length_m(replace(bend, transition_m=0.0)))
    ramp_in, ramp_out = ramps_m(bend)
    if ramp_in > 0.0 and ramp_out > 0.0:
        return replace(bend, transition_m=ramp, end_transition_m=None)
    if ramp_in > 0.0 or ramp_out > 0.0:
        first, last = (ramp if present > 0.0 else 0.0 for present in (ramp_in, ramp_out))
        return replace(bend, transition_m=first, end_transition_m=last)
    return bend


def _points(line: SmoothLine, x_m: Floats, y_m: Floats, most: int) -> Points:
    """Points evenly chosen where there are more than are needed."""
    pick = np.unique(np.linspace(0, len(x_m) - 1, min(len(x_m), most)).astype(np.int64))
    around = float(line.heading_rad[-1] - line.heading_rad[0]) if line.closed else None
    return Points(x_m[pick], y_m[pick], line.closed, around)


def _settled_on(
    segments: list[Segment], start: Floats, line: SmoothLine, points: Points, near: bool = False
) -> State:
    """Least squares from segments as they are laid, each point beside its nearest place."""
    laid = lay(segments, start)
    about = line.s_m[nearest_samples(line, points.x_m, points.y_m)]
    places = beside(laid, points, about * laid.edges_m[-1] / line.s_m[-1])
    return settled(State(segments, start, places), points, near)


def _refined(guess: Guess, line: SmoothLine, points: Points, about_m: Floats) -> State:
    """Least squares of the points' distances, once with every bend and once without the noise."""
    laid = lay(guess.segments, guess.start)
    places = about_m * laid.edges_m[-1] / line.s_m[-1]
    state = State(guess.segments, guess.start, beside(laid, points, places))
    state = settled(state, points)
    kept = _without_noise(state.segments)
    if len(kept) < len(state.segments):
        state = settled(replace(state, segments=kept), points, near=True)
    return state


def _with_splits(state: State, points: Points) -> State:
    """Corners that no single radius fits made into two, where the points bear it out."""
    for _ in range(SPLITS_MOST):
        laid = lay(state.segments, state.start)
        aside = aside_m(laid, state.places_m, points)
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
        tried = settled(replace(state, segments=segments), points)
        # Four more figures must gain more than noise would give them.
        gain = (rms_m(state, points) ** 2 - rms_m(tried, points) ** 2) * len(points.x_m)
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


def _told(state: State, points: Points, begins: float, line: SmoothLine) -> Fitted:
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
        named, begins, float(start[0]), float(start[1]), float(start[2]), rms_m(state, points)
    )


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
