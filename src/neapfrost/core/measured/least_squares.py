"""Straights and corners moved to lie as near as can be to points."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.measured.fit_figures import (
    bounds_of,
    figures_of,
    made_of,
    ramp_places,
    scales_of,
)
from neapfrost.core.measured.laid_out import Laid, Piece, laid_piece, lay, places_at, shares
from neapfrost.core.path.circuit import Segment, Straight

#: Rounds of `settled`, and trials in each.
ROUNDS_MOST = 2
TRIALS_MOST = 40
#: A round that gains less than this share of the misfit, or this much a point [m], is the last.
GAIN_LEAST = 1e-6
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


def settled(state: State, points: Points) -> State:
    """Least squares within bounds (scipy's) on distances at right angles.

    Each point's place is taken anew for every trial; at right angles its change does not count.
    Ramps are held near the usual length as firmly as one point is known: radius and ramp of a
    short corner are hard to tell apart. How well a point is known is taken anew each round.
    """
    # Loaded once it is wanted: it takes a second, which every start of the application would wait.
    from scipy.optimize import least_squares

    least, most = bounds_of(state.segments)
    free = np.full(3, np.inf)
    for _ in range(ROUNDS_MOST):
        trials = _Trials(state, points)
        before = trials.cost(state)
        # Figures as changes in their own scales: the first step tried is then one scale long.
        low = np.concatenate((-free, np.minimum(least - trials.figures[3:], 0.0))) / trials.scale
        high = np.concatenate((free, np.maximum(most - trials.figures[3:], 0.0))) / trials.scale
        answer = least_squares(
            trials.residuals,
            np.zeros(len(trials.scale)),
            jac=trials.slopes,
            bounds=(low, high),
            method="trf",
            ftol=GAIN_LEAST,
            xtol=None,
            gtol=None,
            max_nfev=TRIALS_MOST,
        )
        found = trials.at(answer.x)
        gained = before - trials.cost(found)
        if gained <= 0.0:
            break
        state = found
        if gained < max(GAIN_LEAST * before, SETTLED_M**2 * len(points.x_m)):
            break
    return state


class _Trials:
    """Segments of other figures than a state's, and how far they lie from the points."""

    def __init__(self, state: State, points: Points) -> None:
        self.state, self.points = state, points
        self.scale = np.concatenate(([1.0, 1.0, 0.01], scales_of(state.segments)))
        self.figures = np.concatenate((state.start, figures_of(state.segments)))
        self.laid = lay(state.segments, state.start)
        misfit, _ = _misfit(state, points)
        self.known_m = max(float(np.sqrt((misfit**2).mean())), 1e-3)

    def at(self, changes: Floats) -> State:
        """The state of changed figures, in their scales: the start's three, then the segments'."""
        figures = self.figures + self.scale * changes
        segments = made_of(self.state.segments, figures[3:])
        start = figures[:3]
        after = lay(segments, start)
        return State(segments, start, _carried(self.laid, after, self.state, self.points))

    def residuals(self, changes: Floats) -> Floats:
        return self._all(self.at(changes))

    def cost(self, state: State) -> float:
        every = self._all(state)
        return float(every @ every)

    def slopes(self, changes: Floats) -> Floats:
        """Asked for where a trial was taken: from there the next trials' places are carried."""
        state = self.at(changes)
        self.state, self.laid = state, lay(state.segments, state.start)
        slope = _slopes(state, self.laid, self.points)
        ramps = ramp_places(state.segments)
        held = np.zeros((len(ramps), slope.shape[1]))
        held[np.arange(len(ramps)), 3 + ramps] = self.known_m / RAMP_USUAL_M
        return np.vstack((slope, held)) * self.scale

    def _all(self, state: State) -> Floats:
        ramps = figures_of(state.segments)[ramp_places(state.segments)]
        held = self.known_m * (ramps - RAMP_USUAL_M) / RAMP_USUAL_M
        return np.concatenate((_misfit(state, self.points)[0], held))


def _carried(before: Laid, after: Laid, state: State, points: Points) -> Floats:
    """Places on changed segments: at the same shares, then moved to beside the points."""
    segment, share = shares(before, state.places_m)
    places = after.edges_m[segment] + share * np.diff(after.edges_m)[segment]
    return beside(after, points, places)


def _misfit(state: State, points: Points) -> tuple[Floats, Laid]:
    """Sideways distance of each point, then how far the ring is from closing, weighted."""
    laid = lay(state.segments, state.start)
    aside = aside_m(laid, state.places_m, points)
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


def _slopes(state: State, laid: Laid, points: Points) -> Floats:
    """Change of `_misfit` with the start and every figure; shape (rows, 3 + figures).

    A figure changes its own segment, and moves and turns all that follows as one.
    """
    segments, x_m, y_m = state.segments, points.x_m, points.y_m
    around_rad = points.around_rad
    segment, share = shares(laid, state.places_m)
    px, py, heading = places_at(laid, segment, share)
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
    figures = figures_of(segments)
    scales = scales_of(segments)
    at = 0
    for number, part in enumerate(segments):
        own, later = segment == number, segment > number
        piece = laid.pieces[number]
        turn_cos, turn_sin = np.cos(laid.heading_rad[number]), np.sin(laid.heading_rad[number])
        for figure in range(1 if isinstance(part, Straight) else 3):
            changed = figures[at : at + (1 if isinstance(part, Straight) else 3)].copy()
            changed[figure] += 1e-4 * scales[at + figure]
            moved = laid_piece(made_of([part], changed)[0])
            by = 1e-4 * scales[at + figure]

            def local(
                values: str,
                where: Floats,
                piece: Piece = piece,
                moved: Piece = moved,
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
