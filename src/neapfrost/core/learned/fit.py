"""The figures that fit driven laps best, with what was known before, and how sure they are then.

Nonlinear least squares with priors (a Gaussian posterior about its mode: Gelman et al., Bayesian
Data Analysis, 2013, ch. 4). What is seen is counted by its own scatter, found with it; corners,
laps and straights scatter on their own, as much as the data say (Dempster, Laird and Rubin,
J. R. Stat. Soc. B 39, 1977). A mistake counts little (Charbonnier's loss).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from neapfrost.core.arrays import Floats
from neapfrost.core.chance import MIDDLE_SD
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.solve import never
from neapfrost.core.learned.expected import Expected, expected
from neapfrost.core.learned.figures import FIGURES, Priors
from neapfrost.core.learned.layout import (
    SCATTER_AT_FIRST,
    SCATTER_LEAST,
    SPREAD_AT_FIRST,
    SPREAD_LEAST,
    Layout,
    layout_of,
)
from neapfrost.core.learned.rows import Rows, rows_of
from neapfrost.core.learned.seen import RunSeen

#: Residuals beyond so many times their scatter count less and less.
MISTAKE_FROM = 2.0
#: The model is made straight so often at the most, and ends once nothing moves by this share of
#: its own uncertainty.
ROUNDS_MOST, MOVED_LEAST = 4, 0.1
#: Scatter and spread are found anew so often each time.
SCATTERS = 8
#: Fewer laps and speeds held than this teach nothing.
LAPS_FEWEST, ROWS_FEWEST = 2, 6


@dataclass(frozen=True, eq=False)
class Posterior:
    """The unknowns (p,) with their covariance (p, p), the rows they came of, and what is left.

    `left` (m,) is what the rows leave unexplained; `scatter` that of each kind of row, `spread` of
    corners, laps and straights; `weighted` (m, p) the rows by their scatter.
    """

    where: Layout
    x: Floats
    covariance: Floats
    rows: Rows
    left: Floats
    weighted: Floats
    scatter: dict[str, float]
    spread: dict[str, float]
    shows: tuple[Expected, ...]

    def sd(self, place: int) -> float:
        """Standard deviation of an unknown."""
        return float(np.sqrt(self.covariance[place, place]))


def fit(
    runs: Sequence[RunSeen],
    priors: Priors,
    stopped: Callable[[], bool] = never,
    told: Callable[[int], None] | None = None,
) -> Posterior:
    """The figures by some runs of one vehicle on one circuit.

    Raises InputRefused where too little was seen, Stopped, and LapImpossible.
    """
    _refuse_little(runs)
    scatter, spread = dict(SCATTER_AT_FIRST), dict(SPREAD_AT_FIRST)
    where = layout_of(runs, priors, spread)
    x = where.mean.copy()
    found: Posterior | None = None
    for round_number in range(ROUNDS_MOST):
        shows = tuple(
            expected(run, x[where.figures_of(number)], stopped) for number, run in enumerate(runs)
        )
        rows = rows_of(runs, shows, x, where)
        before = x
        for _ in range(SCATTERS):
            where = layout_of(runs, priors, spread)
            found = _solved(where, rows, x, scatter, spread, shows)
            x, scatter = found.x, _scatter(found)
            spread = _spread(found)
        assert found is not None  # as it goes round once at least
        if told is not None:
            told(round_number + 1)
        figures = np.concatenate((where.common, where.wind.ravel()))
        sd = np.sqrt(np.diag(found.covariance)[figures])
        if float((np.abs(x - before)[figures] / sd).max()) < MOVED_LEAST:
            break
    assert found is not None  # as above
    return found


def _refuse_little(runs: Sequence[RunSeen]) -> None:
    laps = sum(len(run.on_run) for run in runs)
    held = sum(int(np.isfinite(run.held).sum()) for run in runs)
    if laps < LAPS_FEWEST or held < ROWS_FEWEST:
        raise InputRefused(
            [
                Fault(
                    "runs",
                    f"the chosen runs have {laps} timed {'lap' if laps == 1 else 'laps'} and "
                    f"{held} grip-limited corner speeds; at least {LAPS_FEWEST} laps and "
                    f"{ROWS_FEWEST} speeds are needed",
                )
            ]
        )


def _solved(
    where: Layout,
    rows: Rows,
    start: Floats,
    scatter: dict[str, float],
    spread: dict[str, float],
    shows: tuple[Expected, ...],
) -> Posterior:
    size = np.array([scatter[kind] for kind in rows.kind])
    lacks, degrades, warm = where.lacks[rows.run], where.degrades[rows.run], where.warm[rows.run]
    on_lap = np.flatnonzero(rows.gain)

    def worn_laps(x: Floats) -> Floats:
        found: Floats = np.maximum(rows.lap - x[warm], 0.0)
        return found

    def over_laps(x: Floats) -> Floats:
        """What learning lacks yet and degradation takes of what is held."""
        decay = np.exp(-rows.lap / np.exp(x[where.settles]))
        found: Floats = -rows.gain * (x[lacks] * decay + x[degrades] * worn_laps(x))
        return found

    def residuals(x: Floats) -> Floats:
        data = (rows.a @ x + over_laps(x) - rows.y) / size
        found: Floats = np.concatenate((data, (x - where.mean) / where.sd))
        return found

    def slopes(x: Floats) -> Floats:
        a = rows.a.copy()
        settles = float(np.exp(x[where.settles]))
        decay = np.exp(-rows.lap / settles)
        a[on_lap, lacks[on_lap]] -= (rows.gain * decay)[on_lap]
        a[:, where.settles] -= rows.gain * x[lacks] * decay * rows.lap / settles
        worn = worn_laps(x)
        a[on_lap, degrades[on_lap]] -= (rows.gain * worn)[on_lap]
        a[on_lap, warm[on_lap]] += (rows.gain * x[degrades] * (worn > 0.0))[on_lap]
        return np.concatenate((a / size[:, None], np.diag(1.0 / where.sd)))

    count = len(rows.y)

    def loss(squared: Floats) -> Floats:
        """Charbonnier's for what was seen; what was known before counts in full."""
        rho = np.stack((squared, np.ones_like(squared), np.zeros_like(squared)))
        seen = squared[:count] / MISTAKE_FROM**2
        root = np.sqrt(1.0 + seen)
        rho[0, :count] = 2.0 * MISTAKE_FROM**2 * (root - 1.0)
        rho[1, :count] = 1.0 / root
        rho[2, :count] = -0.5 / root**3 / MISTAKE_FROM**2
        return rho

    answer = least_squares(
        residuals,
        start,
        slopes,
        method="trf",
        loss=loss,  # type: ignore[arg-type]  # its stubs know of no function that is typed
        x_scale=where.sd,
    )
    x: Floats = answer.x
    slope = np.asarray(answer.jac)
    weighted: Floats = slope[:count]
    covariance: Floats = np.linalg.inv(slope.T @ slope)
    left = -residuals(x)[:count] * size
    return Posterior(where, x, covariance, rows, left, weighted, scatter, spread, shows)


def _scatter(found: Posterior) -> dict[str, float]:
    """The scatter of each kind of row, by the median, put right for the unknowns it spent."""
    next_scatter = {}
    for kind, least in SCATTER_LEAST.items():
        index = found.rows.of(kind)
        if len(index) < 4:
            next_scatter[kind] = SCATTER_AT_FIRST[kind]
            continue
        rows = found.weighted[index]
        spent = float(np.einsum("ij,jk,ik->", rows, found.covariance, rows))
        free = max(len(index) - spent, 0.3 * len(index))
        middle = MIDDLE_SD * float(np.median(np.abs(found.left[index])))
        next_scatter[kind] = max(middle * float(np.sqrt(len(index) / free)), least)
    return next_scatter


def _spread(found: Posterior) -> dict[str, float]:
    """How much corners, laps and straights differ, by the mean of their squares."""
    where, kinds = found.where, np.array(found.where.kinds)
    spread = {}
    for kind in SPREAD_AT_FIRST:
        places = np.flatnonzero(kinds == kind)
        squares = found.x[places] ** 2 + np.diag(found.covariance)[places]
        # One that no row speaks of says nothing of how much they differ.
        spoken = np.abs(found.rows.a[:, places]).sum(axis=0) > 0.0
        spread[kind] = where.sd[places[0]] if not spoken.any() else 0.0
        if spoken.any():
            spread[kind] = max(float(np.sqrt(squares[spoken].mean())), SPREAD_LEAST[kind])
    return spread


def figure_sds(found: Posterior, run: int = 0) -> Floats:
    """Standard deviations of a run's eight figures."""
    places = found.where.figures_of(run)
    assert len(places) == len(FIGURES)  # as laid out
    sds: Floats = np.sqrt(np.diag(found.covariance)[places])
    return sds
