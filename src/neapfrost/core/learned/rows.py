"""Rows of the least squares: what was seen less what the model shows, and their slopes."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.learned.expected import Expected
from neapfrost.core.learned.layout import Layout
from neapfrost.core.learned.seen import Pull, RunSeen

GRIP = 0
#: A logarithm is not taken of less than this [m/s²].
RATE_LEAST = 0.5


@dataclass(frozen=True, eq=False)
class Rows:
    """Linear rows A·x ≈ y (m, p) and (m,), but for learning and degradation, put in as it goes.

    `kind` (m,) is held, pull or stop; `group` (m,) names the corner or straight it is of; `gain`
    (m,) is how a held speed goes with grip, `run` (m,) and `lap` (m,) the lap since the pits;
    `at_m` (m,) is the middle of a pull or a stop, not a number for what is held.
    """

    a: Floats
    y: Floats
    kind: tuple[str, ...]
    group: tuple[tuple[str, str], ...]
    gain: Floats
    run: Integers
    lap: Floats
    at_m: Floats

    def of(self, kind: str) -> Integers:
        """Places of the rows of one kind."""
        return np.array([n for n, one in enumerate(self.kind) if one == kind], dtype=np.int64)


def rows_of(runs: Sequence[RunSeen], shows: Sequence[Expected], at: Floats, where: Layout) -> Rows:
    """All rows of some runs, made straight about the unknowns `at` (p,)."""
    found = _Gathered(len(at))
    for number, (run, expects) in enumerate(zip(runs, shows, strict=True)):
        places = where.figures_of(number)
        _held_rows(found, number, run, expects, at[places], where)
        for kind, stretches in (("pull", run.pulls), ("stop", run.stops)):
            rates = getattr(expects.at, f"{kind}s")
            slopes = getattr(expects.slopes, f"{kind}s")
            for index, one in enumerate(stretches):
                usable = np.isfinite(rates[index]) and np.isfinite(slopes[index]).all()
                if usable:
                    middle = float(one.at_m.mean())
                    row = _Row(kind, number, run.predicted.corners[one.corner].name, middle)
                    _rate_row(found, row, one, float(rates[index]), slopes[index], at, where)
    return found.rows()


@dataclass(frozen=True)
class _Row:
    kind: str
    run: int
    name: str
    at_m: float = float("nan")


class _Gathered:
    """Rows while they are gathered."""

    def __init__(self, unknowns: int) -> None:
        self._unknowns = unknowns
        self._a: list[Floats] = []
        self._y: list[float] = []
        self._about: list[tuple[_Row, float, float]] = []

    def put(
        self, row: _Row, terms: dict[int, float], y: float, gain: float = 0.0, lap: float = 0.0
    ) -> None:
        line = np.zeros(self._unknowns)
        for place, value in terms.items():
            line[place] += value
        self._a.append(line)
        self._y.append(y)
        self._about.append((row, gain, lap))

    def rows(self) -> Rows:
        return Rows(
            np.array(self._a).reshape(len(self._a), self._unknowns),
            np.array(self._y),
            tuple(row.kind for row, _, _ in self._about),
            tuple((row.kind, row.name) for row, _, _ in self._about),
            np.array([gain for _, gain, _ in self._about]),
            np.array([row.run for row, _, _ in self._about], dtype=np.int64),
            np.array([lap for _, _, lap in self._about]),
            np.array([row.at_m for row, _, _ in self._about]),
        )


def _held_rows(
    found: _Gathered, number: int, run: RunSeen, expects: Expected, at: Floats, where: Layout
) -> None:
    """Speeds held: figures, the day, the driver's use, cold tyres, the corner and the lap."""
    places = where.figures_of(number)
    for lap, on_run in enumerate(run.on_run):
        for index, corner in enumerate(run.predicted.corners):
            seen, shows = run.held[lap, index], expects.at.held[index]
            slopes = expects.slopes.held[index]
            if not (np.isfinite(seen) and np.isfinite(shows) and np.isfinite(slopes).all()):
                continue
            gain = float(slopes[GRIP])
            terms = dict(zip(places.tolist(), slopes.tolist(), strict=True))
            terms[where.use] = gain
            if where.day[number] >= 0:
                terms[int(where.day[number])] = gain
            if on_run < 2:
                terms[int(where.cold[number, on_run])] = -gain
            terms[where.corner[corner.name]] = 1.0
            terms[int(where.lap[number][lap])] = gain
            y = seen - shows + float(slopes @ at)
            found.put(_Row("held", number, corner.name), terms, y, gain, float(on_run))


def _rate_row(
    found: _Gathered, row: _Row, one: Pull, rate: float, slopes: Floats, at: Floats, where: Layout
) -> None:
    """A pull's acceleration, or a stop's as a share of the hardest that is possible."""
    places = where.figures_of(row.run)
    if row.kind == "pull":
        terms = dict(zip(places.tolist(), slopes.tolist(), strict=True))
        terms[where.straight[row.name]] = 1.0
        found.put(row, terms, one.rate_ms2 - rate + float(slopes @ at[places]))
        return
    hardest, seen = -rate, -one.rate_ms2
    if min(hardest, seen) < RATE_LEAST:
        return
    shares = -slopes / hardest
    terms = dict(zip(places.tolist(), shares.tolist(), strict=True))
    terms[where.brakes] = 1.0
    if where.day[row.run] >= 0:
        terms[int(where.day[row.run])] = float(shares[GRIP])
    found.put(row, terms, float(np.log(seen / hardest)) + float(shares @ at[places]))
