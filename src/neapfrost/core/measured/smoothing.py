"""A smooth curve through noisy points, by a smoothing spline whose strength is a length.

A spline f(t) minimises Σ(y − f)² + μ∫(f‴)² (P. H. C. Eilers and B. D. Marx, Statistical Science 11,
1996, for the penalty on coefficients; G. Wahba, 1990, for cross-validation). With ρ points a metre
its answer to a wave of length Λ is 1/(1 + (μ/ρ)(2π/Λ)⁶): μ = ρ(Λ/2π)⁶ halves waves of length Λ, and
shorter ones vanish. That length is the strength a person sees.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.interpolate import BSpline
from scipy.sparse import csc_array, csr_array, eye_array
from scipy.sparse.linalg import splu
from scipy.spatial import cKDTree

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.constants import CORNER_LARGEST_RADIUS_M

DEGREE = 5
PENALTY_ORDER = 3
#: Coefficients stand about this far apart [m], and there are no more of them than this.
KNOTS_APART_M = 4.0
COEFFICIENTS_MOST = 3000
#: Strengths among which cross-validation chooses [m].
STRENGTHS_M = (8.0, 12.0, 18.0, 25.0, 35.0, 50.0, 70.0, 100.0)
WEAKEST_M, STRONGEST_M = 2.0, 400.0
FIRST_M, ROUNDS = 50.0, 4
CALM_SHARE, CALM_MOST_M = 0.4, 130.0
#: Points that a line is smoothed through at the most, evenly chosen.
SMOOTHED_MOST = 30_000
#: Points are taken together to at most this many before fitting.
POOLED_MOST = 20_000
SAMPLES_APART_M = 1.0


@dataclass(frozen=True, eq=False)
class Basis:
    """B-splines over a parameter from 0 to `length`, periodic or not, with their penalty."""

    length: float
    count: int
    closed: bool
    knots: Floats
    penalty: csc_array


@dataclass(frozen=True, eq=False)
class SmoothLine:
    """A smoothed line sampled about every metre; shapes (n,).

    On a closed line the last sample is the first again. `rms_m` is how far the points lie from it
    sideways, `strength_m` the length below which detail is smoothed away.
    """

    closed: bool
    s_m: Floats
    x_m: Floats
    y_m: Floats
    heading_rad: Floats
    curvature_per_m: Floats
    strength_m: float
    rms_m: float


def smooth_line(
    x_m: Floats, y_m: Floats, at: Floats, length_m: float, closed: bool, strength_m: float | None
) -> tuple[SmoothLine, Floats]:
    """Smooth points (n,) at places `at` along a way of about `length_m`; places come back refined.

    Points of several laps may be mixed. Without a strength it is chosen by generalised
    cross-validation, and made firm enough that noise alone makes no corners.
    """
    line = None
    all_x, all_y, all_at, all_length = x_m, y_m, at, length_m
    if len(x_m) > SMOOTHED_MOST:
        pick = np.linspace(0, len(x_m) - 1, SMOOTHED_MOST).astype(np.int64)
        x_m, y_m, at = x_m[pick], y_m[pick], at[pick]
    # The places of undersampled points are known only once there is a curve: a firm one first.
    strength = FIRST_M if strength_m is None else strength_m
    for round_number in range(ROUNDS):
        basis = make_basis(length_m, closed)
        pooled = _pooled(at, (x_m, y_m))
        if strength_m is None and round_number > 0:
            strength = chosen_strength(basis, *pooled)
        coefficients = _fit(basis, *pooled, strength)
        line = _sampled(basis, coefficients, strength, x_m, y_m)
        if strength_m is None and round_number == ROUNDS - 1:
            firm = calm_strength(line.rms_m, len(x_m) / length_m)
            if firm > strength:
                line = _sampled(basis, _fit(basis, *pooled, firm), firm, x_m, y_m)
        # Next time each point belongs to the place of the curve it is nearest to.
        at = nearest_places(line, x_m, y_m, at * (line.s_m[-1] / length_m))
        length_m = float(line.s_m[-1])
    assert line is not None  # the loop runs
    if len(all_x) > len(x_m):
        at = nearest_places(line, all_x, all_y, all_at * (length_m / all_length))
    return line, at


def make_basis(length: float, closed: bool) -> Basis:
    """B-splines with equal knots over a way of some length [m]."""
    count = int(np.clip(round(length / KNOTS_APART_M), 12, COEFFICIENTS_MOST))
    step = length / count
    knots = np.asarray(step * np.arange(-DEGREE, count + DEGREE + 1), dtype=np.float64)
    # Third differences of neighbouring coefficients, round the ring on a closed way.
    number = count if closed else count + DEGREE
    height = number if closed else number - PENALTY_ORDER
    rows = np.repeat(np.arange(height), 4)
    columns = (rows + np.tile(np.arange(4), height)) % number
    entries = np.tile([-1.0, 3.0, -3.0, 1.0], height)
    d = csr_array((entries, (rows, columns)), shape=(height, number))
    d = d / step ** (PENALTY_ORDER - 0.5)
    return Basis(length, number, closed, knots, csc_array(d.T @ d))


def design(basis: Basis, at: Floats, derivative: int = 0) -> csr_array:
    """Values of every B-spline at places (n,), or of a derivative; shape (n, count)."""
    places = np.mod(at, basis.length) if basis.closed else np.clip(at, 0.0, basis.length)
    number = len(basis.knots) - DEGREE - 1
    if derivative == 0:
        matrix = csr_array(BSpline.design_matrix(places, basis.knots, DEGREE, extrapolate=True))
    else:
        lower = BSpline.design_matrix(
            places, basis.knots[derivative:-derivative], DEGREE - derivative, extrapolate=True
        )
        step = basis.knots[1] - basis.knots[0]
        # Each derivative is the difference of neighbouring coefficients over a step.
        change: Any = eye_array(number, format="csr")
        for _ in range(derivative):
            change = (change[1:] - change[:-1]) / step
        matrix = csr_array(lower @ change)
    if not basis.closed:
        return matrix
    fold = csr_array(
        (np.ones(number), (np.arange(number), np.arange(number) % basis.count)),
        shape=(number, basis.count),
    )
    return csr_array(matrix @ fold)


def _fit(basis: Basis, at: Floats, weight: Floats, values: Floats, strength_m: float) -> Floats:
    """Coefficients (count, dimensions) of values (n, dimensions) with weights (n,)."""
    matrix = design(basis, at)
    weighted = matrix.multiply(weight[:, None]).tocsr()
    mu = weight.sum() / basis.length * (strength_m / (2.0 * np.pi)) ** (2 * PENALTY_ORDER)
    solved = splu(csc_array(weighted.T @ matrix + mu * basis.penalty))
    coefficients: Floats = solved.solve(weighted.T @ values)
    return coefficients


def chosen_strength(basis: Basis, at: Floats, weight: Floats, values: Floats) -> float:
    """The strength of least generalised cross-validation [m].

    The free parameters are counted by the filter's own answer to each wave that the way holds.
    """
    count = float(weight.sum())
    matrix = design(basis, at)
    waves = np.concatenate(([0.0], np.repeat(np.arange(1, basis.count // 2 + 1), 2)))
    frequency = 2.0 * np.pi * waves / basis.length
    best, least = STRENGTHS_M[0], np.inf
    for strength in STRENGTHS_M:
        fitted = matrix @ _fit(basis, at, weight, values, strength)
        misfit = float((weight[:, None] * (values - fitted) ** 2).sum())
        free = float((1.0 / (1.0 + (frequency * strength / (2.0 * np.pi)) ** 6)).sum())
        if free >= 0.9 * count:
            continue
        score = misfit / (1.0 - free / count) ** 2
        if score < least:
            best, least = strength, score
    return best


def calm_strength(rms_m: float, points_per_m: float) -> float:
    """The strength [m] at which noise alone hardly bends the line like a corner.

    Through this filter white noise σ at ρ points a metre leaves a curvature of about
    0.35 σ ρ^(-1/2) (2π/Λ)^(5/2); it is kept to a third of that of the widest corner.
    """
    allowed = CALM_SHARE / CORNER_LARGEST_RADIUS_M
    wave = (allowed / (0.35 * max(rms_m, 1e-9) / np.sqrt(points_per_m))) ** 0.4
    return float(min(2.0 * np.pi / wave, CALM_MOST_M))


def _pooled(at: Floats, columns: tuple[Floats, ...]) -> tuple[Floats, Floats, Floats]:
    """Places, weights and values, neighbours taken together where there are very many points."""
    values = np.column_stack(columns)
    if len(at) <= POOLED_MOST:
        return at, np.ones(len(at)), values
    low, high = float(at.min()), float(at.max())
    bins = np.minimum(((at - low) / (high - low) * POOLED_MOST).astype(np.int64), POOLED_MOST - 1)
    weight = np.bincount(bins, minlength=POOLED_MOST).astype(np.float64)
    full = weight > 0.0
    means = [
        np.bincount(bins, weights=column, minlength=POOLED_MOST)[full] / weight[full]
        for column in (at, *values.T)
    ]
    return means[0], weight[full], np.column_stack(means[1:])


def _sampled(
    basis: Basis, coefficients: Floats, strength_m: float, x_m: Floats, y_m: Floats
) -> SmoothLine:
    count = max(32, round(basis.length / SAMPLES_APART_M))
    t = np.linspace(0.0, basis.length, count + 1)
    inside = t.copy()
    if basis.closed:
        inside[-1] = 0.0
    place = design(basis, inside) @ coefficients
    first = design(basis, inside, 1) @ coefficients
    second = design(basis, inside, 2) @ coefficients
    speed = np.hypot(first[:, 0], first[:, 1])
    curvature = (first[:, 0] * second[:, 1] - first[:, 1] * second[:, 0]) / speed**3
    s = np.concatenate(([0.0], np.cumsum(0.5 * (speed[:-1] + speed[1:]) * np.diff(t))))
    heading = np.unwrap(np.arctan2(first[:, 1], first[:, 0]))
    line = SmoothLine(
        basis.closed, s, place[:, 0], place[:, 1], heading, curvature, strength_m, 0.0
    )
    aside = sideways_m(line, x_m, y_m)
    return SmoothLine(
        basis.closed,
        s,
        place[:, 0],
        place[:, 1],
        heading,
        curvature,
        strength_m,
        float(np.sqrt((aside**2).mean())),
    )


def sideways_m(line: SmoothLine, x_m: Floats, y_m: Floats) -> Floats:
    """How far points lie left of the line at its nearest sample [m], (n,)."""
    index = nearest_samples(line, x_m, y_m)
    dx, dy = x_m - line.x_m[index], y_m - line.y_m[index]
    aside: Floats = -dx * np.sin(line.heading_rad[index]) + dy * np.cos(line.heading_rad[index])
    return aside


def nearest_samples(line: SmoothLine, x_m: Floats, y_m: Floats) -> Integers:
    """Index of the nearest sample of each point, (n,)."""
    tree = cKDTree(np.column_stack((line.x_m[:-1], line.y_m[:-1])))
    index: Integers = np.asarray(tree.query(np.column_stack((x_m, y_m)))[1], dtype=np.int64)
    return index


def nearest_places(line: SmoothLine, x_m: Floats, y_m: Floats, about_m: Floats) -> Floats:
    """Place along the line beside each point [m]; points near another part keep `about_m`."""
    index = nearest_samples(line, x_m, y_m)
    dx, dy = x_m - line.x_m[index], y_m - line.y_m[index]
    ahead = dx * np.cos(line.heading_rad[index]) + dy * np.sin(line.heading_rad[index])
    place = line.s_m[index] + np.clip(ahead, -2.0 * SAMPLES_APART_M, 2.0 * SAMPLES_APART_M)
    length = line.s_m[-1]
    apart = place - about_m
    if line.closed:
        apart = np.mod(apart + 0.5 * length, length) - 0.5 * length
    near = np.abs(apart) < max(60.0, 0.03 * length)
    places: Floats = about_m + np.where(near, apart, 0.0)
    return np.mod(places, length) if line.closed else np.clip(places, 0.0, length)


def smooth_heights(
    at_m: Floats, z_m: Floats, length_m: float, closed: bool, strength_m: float
) -> tuple[Floats, Floats]:
    """Smoothed height every 50 m or less: places and heights [m], without the closing point."""
    basis = make_basis(length_m, closed)
    coefficients = _fit(basis, *_pooled(at_m, (z_m,)), strength_m)
    count = max(6, round(length_m / 50.0))
    places = np.linspace(0.0, length_m, count + 1)
    heights = (design(basis, places) @ coefficients)[:, 0]
    return (places[:-1], heights[:-1]) if closed else (places, heights)
