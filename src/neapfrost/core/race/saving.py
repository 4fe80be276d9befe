"""Fuel saved in a lap at the least cost: coasting before a braking, lower revs, less power.

What saves is tried alone, step by step, with the lap solver; each of them gives seconds for
kilograms. The cheapest mixture has one price for all of them: a kilogram is taken where it costs
least, until no step that is left is cheaper (a hull of every curve, its pieces taken in the order
of their slopes). The mixture is then driven as a whole: what is told of it is that lap.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.interpolate import PchipInterpolator

from neapfrost.core.arrays import Integers
from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.altered_road import steps_between, with_coasting
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult, corner_results
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.orders import approach_m
from neapfrost.core.lap.record import engine_work_j, lap_of
from neapfrost.core.lap.solve import in_parallel, never, solved
from neapfrost.core.records import Engine

#: Coasting that is tried before each braking [s]; a share of the rev limit, and of the power.
COASTS_S = (0.15, 0.4, 0.8, 1.2, 1.8, 2.6, 3.6, 5.0, 7.0)
REV_SHARES = (0.97, 0.94, 0.91, 0.88, 0.85, 0.82)
POWER_SHARES = (0.97, 0.94, 0.91, 0.88, 0.84, 0.80)
#: An amount that saves less than this more than the one before it has reached its end [kg].
WORTH_COASTING_KG = 1e-5
#: Between two that were tried so many are read.
CLOSER = 8
#: A mixture meets what is asked to this share of it.
MET_SHARE = 1e-3

COAST, REVS, POWER = "coast", "revs", "power"


@dataclass(frozen=True)
class Means:
    """One way of saving: coasting before a corner (by its number), lower revs, less power."""

    kind: str
    corner: int = -1


@dataclass(frozen=True)
class Mixture:
    """How far each way is taken: coasting [s], a share of the rev limit or of the power."""

    amounts: tuple[tuple[Means, float], ...] = ()


@dataclass(frozen=True)
class Saved:
    """A lap that saves: what it saves [kg] and costs [s] against the lap that does not."""

    mixture: Mixture
    saved_kg: float
    cost_s: float
    lift_earlier_m: tuple[float | None, ...]


@dataclass(frozen=True)
class Curve:
    """Points of one way on the hull of what was tried: amount, saved [kg], cost [s]; from nothing.

    The first point is the lap as it is.
    """

    means: Means
    amounts: tuple[float, ...]
    saved_kg: tuple[float, ...]
    cost_s: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class Savings:
    """A lap, its fuel for each joule of the engine's work, and what every way of saving gives."""

    driven: DrivenLap
    kg_per_j: float
    work_j: float
    curves: tuple[Curve, ...]

    @property
    def burnt_kg(self) -> float:
        """Fuel of the lap as it is [kg]."""
        return self.work_j * self.kg_per_j


def savings(
    driven: DrivenLap,
    kg_per_j: float,
    stopped: Callable[[], bool] = never,
    told: Callable[[int], None] | None = None,
) -> Savings:
    """What every way of saving gives, each tried alone. Raises Stopped once `stopped` says so."""
    base_work = engine_work_j(driven.lap, driven.drive.vehicle.engine.efficiency)
    tried = ways_tried(driven)
    laps = in_parallel(lambda one: _weighed(driven, *one), tried, stopped)
    if told is not None:
        told(len(tried))
    curves = []
    for means in dict.fromkeys(means for means, _ in tried):
        points = [(_nothing(means), 0.0, 0.0)]
        for (other, amount), lap in zip(tried, laps, strict=True):
            if other == means and lap is not None:
                work, time = lap
                saved = (base_work - work) * kg_per_j
                if saved <= points[-1][1] + WORTH_COASTING_KG:
                    break  # there is no road left to coast along
                points.append((amount, saved, time - driven.lap.lap_time_s))
        hull = _hull(_closer(points))
        if len(hull) > 1:
            amounts, saved_kg, cost_s = zip(*hull, strict=True)
            curves.append(Curve(means, amounts, saved_kg, cost_s))
    return Savings(driven, kg_per_j, base_work, tuple(curves))


def ways_tried(driven: DrivenLap) -> list[tuple[Means, float]]:
    """Every way of saving in every amount that is tried."""
    tried = [
        (Means(COAST, number), coast)
        for number, corner in enumerate(driven.corners)
        if corner.action == "brake" and _coasting_steps(driven, number) is not None
        for coast in COASTS_S
    ]
    tried += [(Means(REVS), share) for share in REV_SHARES]
    tried += [(Means(POWER), share) for share in POWER_SHARES]
    return tried


def cheapest(
    found: Savings, saved_kg: float, kinds: Sequence[str] = (COAST, REVS, POWER)
) -> Saved | None:
    """The cheapest lap that saves so much; None where these ways cannot.

    Pieces of all curves are taken in the order of their price up to some saving by their sums; how
    far is found by driving the whole, since what is saved together is not quite the sum.
    """

    def drive(wanted: float) -> Saved | None:
        return driven_with(found, _mixture(found, wanted, kinds))

    most = sum(curve.saved_kg[-1] for curve in found.curves if curve.means.kind in kinds)
    return _meeting(drive, saved_kg, most)


def by_rule(found: Savings, rule: str, saved_kg: float) -> Saved | None:
    """A rule of thumb that saves so much: the same coasting everywhere, lower revs, less power."""
    curves = [curve for curve in found.curves if curve.means.kind == rule]
    if not curves:
        return None
    if rule == COAST:
        most = max(curve.amounts[-1] for curve in curves)

        def drive(coast_s: float) -> Saved | None:
            amounts = tuple((curve.means, min(coast_s, curve.amounts[-1])) for curve in curves)
            return driven_with(found, Mixture(amounts if coast_s > 0.0 else ()))

        return _meeting(drive, saved_kg, most)
    (curve,) = curves

    def less(lower: float) -> Saved | None:
        return driven_with(found, Mixture(((curve.means, 1.0 - lower),)))

    return _meeting(less, saved_kg, 1.0 - curve.amounts[-1])


def driven_with(found: Savings, mixture: Mixture) -> Saved | None:
    """The lap of a mixture; None where none is possible."""
    base = found.driven
    try:
        lap = drive_with(base, mixture)
    except LapImpossible:
        return None
    work = engine_work_j(lap.lap, base.drive.vehicle.engine.efficiency)
    return Saved(
        mixture,
        (found.work_j - work) * found.kg_per_j,
        lap.lap.lap_time_s - base.lap.lap_time_s,
        tuple(
            _lifted_earlier_m(now, before, base)
            for now, before in zip(lap.corners, base.corners, strict=True)
        ),
    )


def drive_with(driven: DrivenLap, mixture: Mixture) -> DrivenLap:
    """A lap driven with a mixture of savings. Raises LapImpossible."""
    drive = altered(driven, mixture)
    found = solved(drive)
    lap = lap_of(found.drive, found.packed, found.lap)
    return DrivenLap(lap, corner_results(lap, []))


def altered(driven: DrivenLap, mixture: Mixture) -> Drive:
    """What a lap with a mixture of savings is solved from."""
    road, engine = driven.road, driven.drive.vehicle.engine
    for means, amount in mixture.amounts:
        if means.kind == COAST:
            steps = _coasting_steps(driven, means.corner)
            if steps is not None:
                road = with_coasting(road, steps, amount)
        elif means.kind == REVS:
            engine = with_lower_revs(engine, amount)
        else:
            engine = with_less_power(engine, amount)
    vehicle = replace(driven.drive.vehicle, engine=engine)
    return replace(driven.drive, vehicle=vehicle, road=road)


def with_lower_revs(engine: Engine, share: float) -> Engine:
    """An engine that is kept below a share of its rev limit; its overrun stays what it is."""
    return replace(
        engine,
        rev_limit_rpm=share * engine.rev_limit_rpm,
        overrun_torque_nm=share * engine.overrun_nm,
    )


def with_less_power(engine: Engine, share: float) -> Engine:
    """An engine that gives a share of its torque; its overrun stays what it is."""
    curve = tuple((rpm, share * torque) for rpm, torque in engine.torque_curve)
    return replace(engine, torque_curve=curve, overrun_torque_nm=engine.overrun_nm)


def _nothing(means: Means) -> float:
    return 0.0 if means.kind == COAST else 1.0


def _weighed(driven: DrivenLap, means: Means, amount: float) -> tuple[float, float] | None:
    """Engine work [J] and time [s] of a lap with one way taken so far."""
    try:
        found = solved(altered(driven, Mixture(((means, amount),))))
    except LapImpossible:
        return None
    lap = lap_of(found.drive, found.packed, found.lap)
    return engine_work_j(lap, driven.drive.vehicle.engine.efficiency), lap.lap_time_s


def _coasting_steps(driven: DrivenLap, corner: int) -> Integers | None:
    """Steps in which the braking for a corner may begin; None where nothing is braked for."""
    own = driven.corners[corner]
    if own.lift_at_m is None:
        return None
    return steps_between(driven.lap.path, *approach_m(driven, corner))


def _lifted_earlier_m(now: CornerResult, before: CornerResult, base: DrivenLap) -> float | None:
    if now.lift_at_m is None or before.lift_at_m is None:
        return None
    ring = base.lap.path.ring
    return float(ring.apart(now.lift_at_m, before.lift_at_m))


def _closer(points: Sequence[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
    """Points between those that were driven, by a curve that turns nowhere that they do not.

    A cost begins as the square of what is done, so that its first piece must not be taken whole.
    """
    if len(points) < 3:
        return list(points)
    amounts, saved, cost = (np.array(column) for column in zip(*points, strict=True))
    at = np.arange(len(points), dtype=np.float64)
    closer = np.linspace(0.0, at[-1], CLOSER * (len(points) - 1) + 1)
    columns = (PchipInterpolator(at, column)(closer) for column in (amounts, saved, cost))
    return [(float(a), float(b), float(c)) for a, b, c in zip(*columns, strict=True)]


def _hull(points: Sequence[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
    """Lower convex hull of (amount, saved, cost) by saving and cost, from nothing upwards."""
    rising = sorted(
        (one for one in points if one[1] > 0.0 or one == points[0]), key=lambda one: one[1]
    )
    hull: list[tuple[float, float, float]] = []
    for point in rising:
        while len(hull) >= 2 and _turns_down(hull[-2], hull[-1], point):
            hull.pop()
        if not hull or point[1] > hull[-1][1]:
            hull.append(point)
    return hull


def _turns_down(
    a: tuple[float, float, float], b: tuple[float, float, float], c: tuple[float, float, float]
) -> bool:
    return (b[2] - a[2]) * (c[1] - a[1]) >= (c[2] - a[2]) * (b[1] - a[1])


def _slope(curve: Curve, n: int) -> float:
    return (curve.cost_s[n] - curve.cost_s[n - 1]) / (curve.saved_kg[n] - curve.saved_kg[n - 1])


def _mixture(found: Savings, saved_kg: float, kinds: Sequence[str]) -> Mixture:
    """Pieces of all curves in the order of their price until their sums save so much."""
    pieces = sorted(
        (
            (_slope(curve, n), number, n)
            for number, curve in enumerate(found.curves)
            if curve.means.kind in kinds
            for n in range(1, len(curve.amounts))
        ),
    )
    amounts: dict[Means, float] = {}
    left = saved_kg
    for _, number, n in pieces:
        curve = found.curves[number]
        whole = curve.saved_kg[n] - curve.saved_kg[n - 1]
        share = min(max(left / whole, 0.0), 1.0)
        if share <= 0.0:
            break
        low, high = curve.amounts[n - 1], curve.amounts[n]
        amounts[curve.means] = low + share * (high - low)
        left -= share * whole
    return Mixture(tuple(amounts.items()))


def _meeting(drive: Callable[[float], Saved | None], saved_kg: float, most: float) -> Saved | None:
    """The lap that saves so much, looked for between nothing and the most of some amount."""
    high = drive(most)
    if high is None or high.saved_kg < saved_kg:
        return None
    low_x, high_x = 0.0, most
    low_saved, high_saved = 0.0, high.saved_kg
    best = high
    for turn in range(24):
        share = (saved_kg - low_saved) / max(high_saved - low_saved, 1e-12)
        middle = low_x + min(max(share, 0.05), 0.95) * (high_x - low_x)
        if turn % 4 == 3:
            middle = 0.5 * (low_x + high_x)
        one = drive(middle)
        if one is None:
            high_x = middle
            continue
        if one.saved_kg >= saved_kg:
            high_x, high_saved, best = middle, one.saved_kg, one
        else:
            low_x, low_saved = middle, one.saved_kg
        if abs(one.saved_kg - saved_kg) <= MET_SHARE * saved_kg:
            return one
    return best
