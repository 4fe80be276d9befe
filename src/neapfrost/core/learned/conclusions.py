"""What may be said after a fit: values, how sure, from what, and what cannot be told apart."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import ndtri

from neapfrost.core.arrays import Floats
from neapfrost.core.chance import SURE
from neapfrost.core.lap.solve import lap_time_s, solved
from neapfrost.core.learned.figures import FIGURES, WINDS, with_figures
from neapfrost.core.learned.fit import Posterior
from neapfrost.core.learned.seen import RunSeen
from neapfrost.core.studies.bands import TEN_TO_NINETY

Claim = Literal["otherwise", "perhaps", "as_stated", "unknown"]

#: A figure is otherwise than stated only where chance would say so in one case of a hundred, and
#: perhaps otherwise where its interval of four in five leaves out what was stated.
SIGNIFICANT = float(ndtri(0.5 + 0.5 * SURE))
#: A figure whose uncertainty keeps more than this share of what it was is not known better.
KNOWN_BETTER_BELOW = 0.8
#: Two unknowns go together so closely that the runs cannot tell them apart.
TOGETHER_FROM = 0.6
#: So many sources of a figure are named, with at least this share of what is known of it.
SOURCES_MOST, SOURCE_LEAST = 3, 0.05
#: Nothing is said of where a figure is known from whose variance keeps more than this share.
KNOWN_FROM_BELOW = 0.99
#: Figures whose share of the lap time is the vehicle's.
OF_THE_CAR = ("along", "downforce", "drag", "power", "mass")


@dataclass(frozen=True)
class Source:
    """Where a figure is known from: held, pull or stop at a corner, and its share of that."""

    kind: str
    corner: str
    share: float


@dataclass(frozen=True)
class Learnt:
    """A figure after a fit: what it is otherwise by, a share or m/s, and within what.

    `within` and `stated_within` are half-widths in which the truth lies four times in five, after
    and before. `contradicts` says that it lies where what was stated before should not have it.
    """

    name: str
    value: float
    within: float
    stated_within: float
    claim: Claim
    contradicts: bool
    sources: tuple[Source, ...]


@dataclass(frozen=True)
class Together:
    """Two unknowns that the runs cannot tell apart, and how closely they go together (±1)."""

    one: str
    other: str
    correlation: float


@dataclass(frozen=True)
class Misfit:
    """What the plan and the fit leave unexplained at a corner, means over the laps.

    Speeds held in m/s; `laps` that they are of. `unlike_ms` is what the fit had to give the corner
    for itself.
    """

    corner: str
    laps: int
    before_ms: float
    after_ms: float
    unlike_ms: float


@dataclass(frozen=True)
class TimePart:
    """Seconds of a lap that one kind of cause explains, and within what, four times in five."""

    cause: Literal["surface", "car", "wind", "driver"]
    time_s: float
    within_s: float


@dataclass(frozen=True)
class Degradation:
    """The share of the grip that each lap takes of a set: fitted, within what, and as stated.

    `known` says that the laps know it better than what is stated of any set, `differs` that it is
    not what this compound states.
    """

    share: float
    within: float
    stated: float
    known: bool
    differs: bool


@dataclass(frozen=True)
class DriverLearnt:
    """The driver by a fit, shares: unused in corners, of the brakes; within what.

    `lacks` is what each run's first lap lacked, and `settles_laps` in how many laps 63 % of that
    was there.
    """

    unused: float
    unused_within: float
    brakes_unused: float
    brakes_unused_within: float
    lacks: tuple[tuple[float, float], ...]
    settles_laps: float


def learnt(found: Posterior, run: int = 0) -> tuple[Learnt, ...]:
    """The eight figures of a run after a fit, in their order."""
    places = found.where.figures_of(run)
    return tuple(
        _learnt(found, name, int(place)) for name, place in zip(FIGURES, places, strict=True)
    )


def _learnt(found: Posterior, name: str, place: int) -> Learnt:
    value, sd, stated = float(found.x[place]), found.sd(place), float(found.where.sd[place])
    claim: Claim = "as_stated"
    if sd > KNOWN_BETTER_BELOW * stated:
        claim = "unknown"
    elif abs(value) >= SIGNIFICANT * sd:
        claim = "otherwise"
    elif abs(value) >= TEN_TO_NINETY * sd:
        claim = "perhaps"
    plain = value if name in WINDS else float(np.expm1(value))
    return Learnt(
        name=name,
        value=plain,
        within=TEN_TO_NINETY * sd,
        stated_within=TEN_TO_NINETY * stated,
        claim=claim,
        contradicts=abs(value) >= SIGNIFICANT * stated,
        sources=_sources(found, place),
    )


def _sources(found: Posterior, place: int) -> tuple[Source, ...]:
    """Which corners and straights a figure is known from: their parts in its weights.

    A figure is a weighted sum of what was seen; a group's part is that of the squared weights.
    """
    stated = found.where.sd[place] ** 2
    if found.covariance[place, place] > KNOWN_FROM_BELOW * stated:
        return ()
    weights = (found.weighted @ found.covariance[place]) ** 2
    parts: dict[tuple[str, str], float] = {}
    for group, weight in zip(found.rows.group, weights.tolist(), strict=True):
        parts[group] = parts.get(group, 0.0) + weight
    total = sum(parts.values())
    named = sorted(parts.items(), key=lambda one: -one[1])[:SOURCES_MOST]
    return tuple(
        Source(kind, corner, weight / total)
        for (kind, corner), weight in named
        if weight >= SOURCE_LEAST * total
    )


def together(found: Posterior, run: int = 0) -> tuple[Together, ...]:
    """Pairs of unknowns that cannot be told apart, the closest first."""
    where = found.where
    places = dict(zip(FIGURES, where.figures_of(run).tolist(), strict=True))
    places |= {
        "use": where.use,
        "brakes": where.brakes,
        "degrades": int(where.degrades[run]),
    }
    if int(where.day[run]) >= 0:
        places["day"] = int(where.day[run])
    names = list(places)
    pairs = []
    for n, one in enumerate(names):
        for other in names[n + 1 :]:
            a, b = places[one], places[other]
            covariance = float(found.covariance[a, b])
            correlation = covariance / (found.sd(a) * found.sd(b))
            if abs(correlation) >= TOGETHER_FROM:
                pairs.append(Together(one, other, correlation))
    return tuple(sorted(pairs, key=lambda pair: -abs(pair.correlation)))


def misfits(found: Posterior, runs: Sequence[RunSeen]) -> tuple[Misfit, ...]:
    """Every corner whose speed is held by grip: what the plan and the fit leave unexplained.

    A row is what was seen beyond the plan's own figures, so that before the fit it is all misfit.
    """
    rows = found.rows
    unlike = {name: float(found.x[place]) for name, place in found.where.corner.items()}
    told = []
    for name in dict.fromkeys(corner.name for run in runs for corner in run.predicted.corners):
        index = [n for n, group in enumerate(rows.group) if group == ("held", name)]
        if not index:
            continue
        speed = float(np.exp(np.mean(np.concatenate([_held(run, name) for run in runs]))))
        # Without the corner's own share, as a mistaken radius would have it, nothing is left over.
        left = float(np.mean(found.left[index])) + unlike[name]
        told.append(
            Misfit(
                name,
                len(index),
                speed * float(np.median(rows.y[index])),
                speed * left,
                speed * unlike[name],
            )
        )
    return tuple(told)


def _held(run: RunSeen, name: str) -> Floats:
    """The logarithms of the speeds that a run's laps held in a corner, as far as they did."""
    index = [n for n, corner in enumerate(run.predicted.corners) if corner.name == name]
    held = run.held[:, index].ravel()
    return held[np.isfinite(held)]


def time_parts(found: Posterior, run: RunSeen, number: int, time_s: float) -> tuple[TimePart, ...]:
    """A lap's seconds beyond the plan by what explains them; together they are all of them.

    The surface first, then the car, then the wind; what is left is the driver's.
    """
    places = found.where.figures_of(number)
    values, slopes = found.x[places].copy(), found.shows[number].time_slopes
    day = int(found.where.day[number])
    if day >= 0:
        values[0] += found.x[day]
    steps: tuple[tuple[Literal["surface", "car", "wind"], tuple[str, ...]], ...] = (
        ("surface", ("grip",)),
        ("car", OF_THE_CAR),
        ("wind", WINDS),
    )
    last = run.predicted.lap.lap_time_s
    present = np.zeros(len(FIGURES))
    parts = []
    for cause, names in steps:
        index = [FIGURES.index(name) for name in names]
        present[index] = values[index]
        now = lap_time_s(solved(with_figures(run.drive, present)))
        gradient = np.zeros(len(found.x))
        gradient[places[index]] = slopes[index]
        if cause == "surface" and day >= 0:
            gradient[day] = slopes[0]
        parts.append(TimePart(cause, now - last, _within(found, gradient)))
        last = now
    gradient = np.zeros(len(found.x))
    gradient[places] = slopes
    if day >= 0:
        gradient[day] = slopes[0]
    parts.append(TimePart("driver", time_s - last, _within(found, gradient)))
    return tuple(parts)


def _within(found: Posterior, gradient: Floats) -> float:
    variance = float(gradient @ found.covariance @ gradient)
    return TEN_TO_NINETY * float(np.sqrt(max(variance, 0.0)))


def degradation_learnt(found: Posterior, run: int) -> Degradation:
    """What a fit says of how a run's tyres degrade."""
    place = int(found.where.degrades[run])
    value, sd = float(found.x[place]), found.sd(place)
    stated, stated_sd = float(found.where.mean[place]), float(found.where.sd[place])
    return Degradation(
        share=value,
        within=TEN_TO_NINETY * sd,
        stated=stated,
        known=sd <= KNOWN_BETTER_BELOW * stated_sd,
        differs=abs(value - stated) >= SIGNIFICANT * sd,
    )


def driver_learnt(found: Posterior) -> DriverLearnt:
    """What a fit says of the driver."""
    where, x = found.where, found.x
    return DriverLearnt(
        unused=-float(np.expm1(x[where.use])),
        unused_within=TEN_TO_NINETY * found.sd(where.use),
        brakes_unused=-float(np.expm1(x[where.brakes])),
        brakes_unused_within=TEN_TO_NINETY * found.sd(where.brakes),
        lacks=tuple(
            (-float(np.expm1(-x[place])), TEN_TO_NINETY * found.sd(int(place)))
            for place in where.lacks
        ),
        settles_laps=float(np.exp(x[where.settles])),
    )
