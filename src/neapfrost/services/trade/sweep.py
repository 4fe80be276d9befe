"""One figure swept: laps along it, their bands, the best place and the plateau around it."""

from collections.abc import Iterator, Sequence
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.trade.doubt import best_shares, spread
from neapfrost.core.units import Units
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.trade.axes import Axis, Settings, Value, axis_named, values_between
from neapfrost.services.trade.laps import Basis, WeighedPlan, weigh_rivals
from neapfrost.services.trade.parts import (
    BoardPlace,
    LapFigures,
    Point,
    Rival,
    StretchName,
    board_places,
    figures_of,
    gained_on,
    stretch_names,
)
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.saying import NOTHING_S, Saying
from neapfrost.services.words.trade import (
    describe_at_end,
    describe_even,
    describe_paid,
    describe_quickest,
    describe_rival_speed,
    describe_value,
)

#: Laps closer to the best than this are as good as it.
EVEN_S = 0.05
VALUES_MOST = 61


class SweepRequest(BaseModel):
    """What to vary, from where to where, at how many values; without a range the axis's own.

    `rival` is the number of a kept car to set every lap against, `rival_speed_ms` the speed that
    one reaches at the end of the fastest straight; the car counts where both are told.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    axis: Key
    low: float | None = None
    high: float | None = None
    count: Annotated[int, Field(ge=3, le=VALUES_MOST)] = 21
    rival: int | None = None
    rival_speed_ms: Annotated[float | None, Field(gt=0, le=200)] = None


class Plateau(BaseModel):
    """From one point of a sweep to another, by their indices."""

    first: int
    last: int


class Sweep(BaseModel):
    """Laps along one axis; `best` is an index into its points, `even` what is as good as it.

    `present` is the plan as it stands. `said` are the sentences that answer the question.
    """

    axis: Axis
    present: LapFigures
    stretches: list[StretchName]
    boards: list[BoardPlace]
    rival: Rival | None = None
    points: list[Point]
    best: int | None = None
    even: Plateau | None = None
    said: list[str] = []


def sweep_values(plan: PlanDocument, wanted: SweepRequest) -> tuple[Axis, list[Value]]:
    """The axis of a sweep and its values in order. Raises InputRefused for what cannot be swept."""
    axis = axis_named(plan, wanted.axis)
    if axis.choices:
        return axis, list(axis.choices)
    low = axis.low if wanted.low is None else wanted.low
    high = axis.high if wanted.high is None else wanted.high
    return axis, list(values_between(axis, low, high, wanted.count))


def settings_of(axis: Axis, values: Sequence[Value]) -> list[Settings]:
    """What each value puts where."""
    return [((axis.name, value),) for value in values]


def coarse_first(count: int) -> Iterator[int]:
    """Indices of so many places, the ends and the middles first, so that a curve shows early."""
    seen: set[int] = set()
    apart = 1
    while apart < count:
        apart *= 2
    while apart >= 1:
        for index in (*range(0, count, apart), count - 1):
            if index not in seen and index < count:
                seen.add(index)
                yield index
        apart //= 2


def sweep_begun(
    axis: Axis,
    values: Sequence[Value],
    base: Basis,
    present: WeighedPlan,
    rival: Rival | None = None,
) -> Sweep:
    """A sweep with nothing driven yet but the plan's own lap."""
    return Sweep(
        axis=axis,
        present=figures_of(present),
        stretches=stretch_names(base),
        boards=board_places(base),
        rival=rival,
        points=[Point(value=value) for value in values],
    )


def with_laps(sweep: Sweep, driven: dict[int, WeighedPlan | str], units: Units) -> Sweep:
    """A sweep with more of its points driven."""
    points = list(sweep.points)
    for index, lap in driven.items():
        if isinstance(lap, str):
            points[index] = points[index].model_copy(update={"trouble": lap})
            continue
        figures = figures_of(lap)
        points[index] = points[index].model_copy(
            update={
                "figures": figures,
                "change_s": figures.lap_time_s - sweep.present.lap_time_s,
                "gained_m": gained_on(figures, sweep.rival, [s.straight for s in sweep.stretches]),
            }
        )
    return _concluded(sweep.model_copy(update={"points": points}), units)


def with_draws(sweep: Sweep, times_s: Floats, present_s: Floats, units: Units) -> Sweep:
    """A sweep with its bands; times of its v points (v, k) and of the plan as it stands (k,)."""
    shares = best_shares(times_s)
    points = []
    for point, row, share in zip(sweep.points, times_s, shares, strict=True):
        found = spread(row, present_s)
        if point.figures is not None and point.change_s is not None and found is not None:
            lap, change = point.figures.lap_time_s, point.change_s
            point = point.model_copy(
                update={
                    "lap_band": Band(low=lap - found.lap_s, high=lap + found.lap_s),
                    "change_band": Band(low=change - found.change_s, high=change + found.change_s),
                    "best_share": float(share),
                }
            )
        points.append(point)
    return _concluded(sweep.model_copy(update={"points": points}), units)


def _concluded(sweep: Sweep, units: Units) -> Sweep:
    """The best so far, what is even with it, and the sentences."""
    times = np.array([np.nan if p.figures is None else p.figures.lap_time_s for p in sweep.points])
    if not np.isfinite(times).any():
        return sweep
    best = int(np.nanargmin(times))
    first = last = best
    if not sweep.axis.choices:
        while first > 0 and times[first - 1] <= times[best] + EVEN_S:
            first -= 1
        while last + 1 < len(times) and times[last + 1] <= times[best] + EVEN_S:
            last += 1
    found = sweep.model_copy(update={"best": best, "even": Plateau(first=first, last=last)})
    if any(point.figures is None and point.trouble is None for point in sweep.points):
        return found  # what is quickest is said once all of it is known
    return found.model_copy(
        update={"said": _said(found, best, Plateau(first=first, last=last), units)}
    )


def _said(sweep: Sweep, best: int, even: Plateau, units: Units) -> list[str]:
    say, axis, point = Saying(units), sweep.axis, sweep.points[best]
    assert point.figures is not None  # the best has been driven
    assert point.change_s is not None
    where = describe_value(axis, point.value, say)
    sentences = [describe_quickest(axis.label, where, point.change_s, point.change_band)]
    at_end = not axis.choices and best in (0, len(sweep.points) - 1) and len(sweep.points) > 1
    if at_end and abs(point.change_s) >= NOTHING_S:
        sentences.append(describe_at_end(where))
    if even.last > even.first:
        ends = [
            describe_value(axis, sweep.points[index].value, say)
            for index in (even.first, even.last)
        ]
        sentences.append(describe_even(ends[0], ends[1], EVEN_S))
    if abs(point.change_s) >= NOTHING_S:
        changes = np.array(point.figures.stretches_s) - np.array(sweep.present.stretches_s)
        names = [(stretch.label, stretch.straight) for stretch in sweep.stretches]
        sentences.append(describe_paid(names, changes.tolist()))
    return [sentence for sentence in sentences if sentence]


def sweep_course(
    plan: PlanDocument,
    wanted: SweepRequest,
    units: Units = "metric",
    rival: CarDocument | None = None,
) -> Course:
    """How a sweep is driven, set against a rival where one is given.

    Raises InputRefused for what cannot be swept.
    """
    axis, values = sweep_values(plan, wanted)

    def drive(run: Run) -> None:
        base, present = run.present()
        against = _rival(run.plan_json, rival)
        if against is None and wanted.rival_speed_ms is not None:
            name = describe_rival_speed(wanted.rival_speed_ms, Saying(units))
            against = Rival(name=name, end_speed_ms=wanted.rival_speed_ms)
        found = sweep_begun(axis, values, base, present, against)
        settings = settings_of(axis, values)
        run.tell(sweep=found)
        order = list(coarse_first(len(values)))
        for index, lap in run.laps([(n, settings[n]) for n in order]):
            found = with_laps(found, {index: lap}, units)
            run.count(sweep=found)
        rows = run.drawn([(-1, ()), *((n, settings[n]) for n in range(len(values)))])
        times_s = np.array([rows[n] for n in range(len(values))])
        run.tell(sweep=with_draws(found, times_s, rows[-1], units))

    return Course(2 * len(values) + 1, drive)


def _rival(plan_json: str, car: CarDocument | None) -> Rival | None:
    """A rival's lap on the plan's line. Raises InputRefused where it has none."""
    if car is None:
        return None
    (lap,) = weigh_rivals(plan_json, [car.model_dump_json()])
    if isinstance(lap, str):
        raise InputRefused([Fault("rival", f"{car.name}: {lap}")])
    return Rival(name=car.name, figures=figures_of(lap))
