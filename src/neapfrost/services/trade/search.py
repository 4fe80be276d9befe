"""Best of the available parts: wings, gear sets, compounds and brake shares, all of them together.

Where all combinations are more laps than are wanted, brake shares are tried last, with the best of
the rest alone.
"""

import math
from collections.abc import Mapping, Sequence
from itertools import product
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.trade.doubt import best_shares, order_is_certain, spread
from neapfrost.core.units import Units
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.trade.axes import (
    CHOICES,
    Axis,
    Setting,
    Settings,
    Value,
    as_settings,
    axes_of,
)
from neapfrost.services.trade.laps import WeighedPlan
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.trade import (
    describe_best_of_all,
    describe_over_session,
    describe_value,
)

BRAKE_SHARE = "brake_front_fraction"
#: Brake shares either side of the plan's own that are tried, in steps of the figure.
SHARE_STEPS = (-4, -2, 0, 2, 4)
#: So many of the best are tried with every brake share, and driven with the draws.
BEST_KEPT = 12
USUAL_BUDGET = 300


class SearchRequest(BaseModel):
    """What is searched, with how many laps at the most; also over the weather that may come."""

    model_config = ConfigDict(extra="forbid")

    axes: list[Key] = [*CHOICES, BRAKE_SHARE]
    laps_most: Annotated[int | None, Field(ge=4, le=2_000)] = None
    over_session: bool = False

    @property
    def budget(self) -> int:
        """Laps at the most, as told or as usual."""
        return USUAL_BUDGET if self.laps_most is None else self.laps_most


class Found(BaseModel):
    """A combination and its lap; `even` says that it is not surely slower than the best.

    `mean_s` is over the draws of what is uncertain, `bad_s` the lap that one draw in ten exceeds;
    null where a combination was not driven with them. `session_s` is the mean over the weather
    that may come, by its chances, `worst_s` the slowest lap in it.
    """

    settings: list[Setting]
    said: list[str]
    lap_time_s: float
    change_s: float
    change_band: Band | None = None
    top_speed_ms: float
    fuel_litres: float
    mean_s: float | None = None
    bad_s: float | None = None
    best_share: float | None = None
    even: bool = False
    session_s: float | None = None
    worst_s: float | None = None


class Search(BaseModel):
    """Combinations by their laps, the quickest first; `tried` of `possible` ones.

    With `moments` of a session they come by their mean over it.
    """

    axes: list[Axis]
    present_s: float
    possible: int
    tried: int
    moments: int = 0
    found: list[Found]
    said: list[str] = []


#: A moment of a session: how much it counts, and what puts a plan into it.
WeighedMoment = tuple[float, Settings]


def searched_axes(plan: PlanDocument, wanted: SearchRequest) -> list[Axis]:
    """The axes that are searched. Raises InputRefused for one that is no choice of this car."""
    known = {axis.name: axis for axis in axes_of(plan)}
    allowed = [*CHOICES, BRAKE_SHARE]
    wrong = [name for name in wanted.axes if name not in allowed]
    if wrong:
        raise InputRefused(
            [
                Fault(
                    "axes",
                    f'"{wrong[0]}" was given; {", ".join(allowed)} can be searched',
                )
            ]
        )
    found = [known[name] for name in allowed if name in wanted.axes and name in known]
    if not found:
        raise InputRefused(
            [
                Fault(
                    "axes",
                    "this car has fewer than two wing steps, gear sets and compounds, and no "
                    "brake bias; add them under Car, Setups",
                )
            ]
        )
    return found


def values_of(axis: Axis) -> list[Value]:
    """What is tried on an axis: every choice, or brake shares around the plan's own."""
    if axis.choices:
        return list(axis.choices)
    if axis.present is None:
        return list(np.round(np.linspace(axis.low, axis.high, len(SHARE_STEPS)), 3).tolist())
    values = [round(axis.present + n * axis.step, 4) for n in SHARE_STEPS]
    return [value for value in values if axis.low <= value <= axis.high]


def combinations(axes: Sequence[Axis], laps_most: int) -> tuple[list[Settings], list[Settings]]:
    """What is driven at once, and brake shares left to be tried with the best of that.

    Raises InputRefused where even without the brake shares there are more than `laps_most`.
    """
    sides = [[(axis.name, value) for value in values_of(axis)] for axis in axes]
    every = [tuple(one) for one in product(*sides)]
    if len(every) <= laps_most:
        return every, []
    choices = [side for side, axis in zip(sides, axes, strict=True) if axis.choices]
    first: list[Settings] = [tuple(one) for one in product(*choices)]
    shares: list[Settings] = [
        (one,) for side, axis in zip(sides, axes, strict=True) if not axis.choices for one in side
    ]
    needed = len(first) + min(BEST_KEPT, len(first)) * len(shares)
    if needed > laps_most:
        raise InputRefused(
            [
                Fault(
                    "laps_most",
                    f"{laps_most} was given; {len(first)} combinations and the brake shares of the "
                    f"best need {needed} laps",
                )
            ]
        )
    return first, shares


def found_so_far(
    axes: Sequence[Axis],
    possible: int,
    present: WeighedPlan,
    driven: Sequence[tuple[Settings, WeighedPlan | str]],
    units: Units,
    draws: tuple[dict[Settings, Floats], Floats] | None = None,
) -> Search:
    """Combinations that were driven, the quickest first; `draws` are the times of the best ones."""
    say = Saying(units)
    known = {axis.name: axis for axis in axes}
    laps = [(settings, lap) for settings, lap in driven if not isinstance(lap, str)]
    laps.sort(key=lambda one: one[1].lap.lap_time_s)
    rows = [
        Found(
            settings=[Setting(axis=name, value=value) for name, value in settings],
            said=[describe_value(known[name], value, say) for name, value in settings],
            lap_time_s=lap.lap.lap_time_s,
            change_s=lap.lap.lap_time_s - present.lap.lap_time_s,
            top_speed_ms=lap.lap.top_speed_ms,
            fuel_litres=lap.fuel_litres,
        )
        for settings, lap in laps
    ]
    if draws is not None:
        rows = _with_draws(rows, [settings for settings, _ in laps], draws)
    search = Search(
        axes=list(axes),
        present_s=present.lap.lap_time_s,
        possible=possible,
        tried=len(driven),
        found=rows,
    )
    return search.model_copy(update={"said": _said(search)})


def over_session(
    search: Search,
    moments: Sequence[WeighedMoment],
    driven: Mapping[tuple[Settings, int], WeighedPlan | str],
) -> Search:
    """A search with its combinations by their mean over a session, as far as that was driven.

    One that has no lap at a moment has none over the session, and comes last.
    """
    whole = sum(weight for weight, _ in moments)
    rows = []
    for row in search.found:
        laps = [driven.get((as_settings(row.settings), n)) for n in range(len(moments))]
        times = [lap.lap.lap_time_s for lap in laps if isinstance(lap, WeighedPlan)]
        if len(times) == len(moments):
            mean = sum(w * time for (w, _), time in zip(moments, times, strict=True)) / whole
            row = row.model_copy(update={"session_s": mean, "worst_s": max(times)})
        rows.append(row)
    rows.sort(key=lambda one: float("inf") if one.session_s is None else one.session_s)
    found = search.model_copy(update={"found": rows, "moments": len(moments)})
    best = rows[0]
    if best.session_s is None or best.worst_s is None:
        return found
    names = _names(found, best)
    said = describe_over_session(names, best.session_s, best.worst_s, len(moments))
    return found.model_copy(update={"said": [*found.said, said]})


def _with_draws(
    rows: list[Found], settings: list[Settings], draws: tuple[dict[Settings, Floats], Floats]
) -> list[Found]:
    times, present_s = draws
    drawn = [index for index, one in enumerate(settings) if one in times]
    shares = best_shares(np.array([times[settings[index]] for index in drawn]))
    told = list(rows)
    for index, share in zip(drawn, shares, strict=True):
        own = times[settings[index]]
        found = spread(own, present_s)
        change = rows[index].change_s
        # The draws are driven on a coarser grid: what differs there is laid about the plan's lap.
        mean_s = rows[index].lap_time_s - change + float(np.nanmean(own) - np.nanmean(present_s))
        told[index] = rows[index].model_copy(
            update={
                "change_band": None
                if found is None
                else Band(low=change - found.change_s, high=change + found.change_s),
                "mean_s": mean_s,
                "bad_s": None if found is None else mean_s + found.lap_s,
                "best_share": float(share),
                "even": not order_is_certain(own - times[settings[drawn[0]]], np.zeros(len(own))),
            }
        )
    return told


def _said(search: Search) -> list[str]:
    if not search.found:
        return []
    best = search.found[0]
    names = _names(search, best)
    even = sum(one.even for one in search.found[1:])
    return [describe_best_of_all(names, best.change_s, search.tried, even)]


def _names(search: Search, found: Found) -> list[str]:
    return [
        said if axis.choices else f"{axis.label.lower()} {said}"
        for axis, said in zip(search.axes, found.said, strict=False)
    ]


def search_course(
    plan: PlanDocument,
    wanted: SearchRequest,
    units: Units = "metric",
    moments: Sequence[WeighedMoment] = (),
) -> Course:
    """How what the car has is driven, at moments of a session too where there are any.

    Raises InputRefused where the car has nothing to choose.
    """
    axes = searched_axes(plan, wanted)
    first, shares = combinations(axes, wanted.budget)
    possible = math.prod(len(values_of(axis)) for axis in axes)

    def drive(run: Run) -> None:
        _, present = run.present()
        laps: dict[Settings, WeighedPlan | str] = {}

        def so_far(draws: tuple[dict[Settings, Floats], Floats] | None = None) -> Search:
            return found_so_far(axes, possible, present, list(laps.items()), units, draws)

        def best() -> list[Settings]:
            return [as_settings(one.settings) for one in so_far().found[:BEST_KEPT]]

        def try_all(settings: Sequence[Settings]) -> None:
            for one, lap in run.laps([(one, one) for one in settings if one not in laps]):
                laps[one] = lap
                run.count(search=so_far())

        try_all(first)
        try_all([(*one, *share) for one in best() for share in shares])
        rows = run.drawn([((), ()), *((one, one) for one in best())])
        present_s = rows.pop(())
        found = so_far((rows, present_s))
        run.tell(search=found)
        if moments:
            asked = [
                ((one, n), (*moment, *one)) for one in laps for n, (_, moment) in enumerate(moments)
            ]
            run.tell(of=run.done + len(asked))
            run.tell(search=over_session(found, moments, run.all_laps(asked)))

    kept = min(BEST_KEPT, len(first))
    laps_of_search = len(first) + kept * len(shares) + kept + 1
    return Course(laps_of_search + len(first) * len(moments), drive)
