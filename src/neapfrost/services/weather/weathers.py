"""Several weathers that may come, side by side: what each asks, what they share, what decides."""

from collections.abc import Sequence
from itertools import combinations

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.core.weather.apart import first_sight
from neapfrost.core.weather.flips import Call, changed, first_lasting, leads
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.weather import WeatherRecordDocument, moment_of, seconds_of
from neapfrost.services.trade.laps import WeighedPlan
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.weather.moments import (
    STEPS_MIN,
    SessionRequest,
    Span,
    compounds_of,
    own_compound,
    settings_in,
    span_of,
    states_at,
)
from neapfrost.services.weather.session import (
    LASTING_MIN,
    SessionPoint,
    call_of,
    point_of,
    with_lap,
)
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.weather import (
    describe_alike_until,
    describe_all_alike,
    describe_call,
    describe_chances,
    describe_separation,
    describe_wait,
)

#: Moments at which the weathers are set side by side, at the most.
MOMENTS_MOST = 24


class WeatherSide(BaseModel):
    """One weather that may come, with its share of all chances, and the laps in it."""

    name: str
    share: float
    points: list[SessionPoint]


class CornerBeside(BaseModel):
    """What each weather asks at a corner at a moment, in words; null where no lap is possible."""

    corner: int
    calls: list[str | None]


class MomentBeside(BaseModel):
    """The weathers at a moment: the quickest compound of each, and what they differ in.

    `expected_s` is each compound's lap over all chances, or the plan's own alone where the car has
    none to choose; null where a weather has no lap.
    """

    at: str
    tyres: list[str | None]
    expected_s: list[float | None]
    alike: list[int]
    apart: list[CornerBeside]


class Pair(BaseModel):
    """Two weathers: when a reading tells them apart, and from when on they ask different things."""

    first: int
    second: int
    told_at: str | None
    matters_at: str | None
    said: list[str]


class Weathers(BaseModel):
    """The weathers that may come, from the last measured reading on."""

    corners: list[str]
    compounds: list[str]
    own: str | None
    threshold_m: float
    sides: list[WeatherSide]
    moments: list[MomentBeside] = []
    pairs: list[Pair] = []
    said: list[str] = []


#: Laps by weather, moment and compound (None: the plan's own).
Laps = dict[tuple[int, int, str | None], WeighedPlan | str]


def spans_of(record: WeatherRecordDocument, wanted: SessionRequest) -> list[Span]:
    """The same moments of each weather, from where the measured readings end to the last forecast.

    Raises InputRefused where fewer than two may come, and as `span_of` does.
    """
    if len(record.weathers) < 2:
        raise InputRefused([Fault("weathers", "fewer than two forecasts; add another to compare")])
    every = [seconds_of(weather.readings[-1].at) for weather in record.weathers]
    begins = [seconds_of(weather.readings[0].at) for weather in record.weathers]
    begin = seconds_of(record.readings[-1].at) if record.readings else min(begins)
    end = max(every)
    lasts_min = (end - begin) / 60.0
    step = wanted.every_min or next(
        (one for one in STEPS_MIN if lasts_min / one < MOMENTS_MOST), lasts_min / MOMENTS_MOST
    )
    request = wanted.model_copy(
        update={
            "from_at": wanted.from_at or moment_of(begin),
            "to_at": wanted.to_at or moment_of(end),
            "every_min": step,
        }
    )
    return [span_of(record, number, request) for number in range(len(record.weathers))]


def weathers_course(
    plan: PlanDocument,
    record: WeatherRecordDocument,
    wanted: SessionRequest,
    units: Units = "metric",
) -> Course:
    """How several weathers are driven. Raises InputRefused as `spans_of` does."""
    spans = spans_of(record, wanted)
    own, compounds = own_compound(plan), compounds_of(plan)
    tyres: list[str | None] = [None, *(name for name in compounds if name != own)]
    states = [states_at(record, span, span.at_s) for span in spans]
    chances = [weather.chance_pct for weather in record.weathers]
    total, say = sum(chances), Saying(units)
    shares = [c / total if total > 0.0 else 1.0 / len(chances) for c in chances]

    def drive(run: Run) -> None:
        base, _ = run.present()
        laps: Laps = {}
        found = Weathers(
            corners=list(base.corners),
            compounds=compounds,
            own=own,
            threshold_m=wanted.threshold,
            sides=[
                WeatherSide(
                    name=weather.name,
                    share=share,
                    points=[point_of(one, span.measured_until_s, plan.conditions) for one in along],
                )
                for weather, share, span, along in zip(
                    record.weathers, shares, spans, states, strict=True
                )
            ],
        )
        run.tell(weathers=found)
        asked = [
            ((side, number, tyre), settings_in(plan, state, tyre))
            for tyre in tyres
            for number in range(len(spans[0].at_s))
            for side in range(len(spans))
            for state in [states[side][number]]
        ]
        for key, lap in run.laps(asked):
            laps[key] = lap
            found = _with_lap(found, laps, key[:2], say)
            run.count(weathers=found)
        run.tell(weathers=_concluded(found, laps, say))

    return Course(len(spans) * len(spans[0].at_s) * len(tyres), drive)


def _with_lap(found: Weathers, laps: Laps, place: tuple[int, int], say: Saying) -> Weathers:
    sides, (side, number) = list(found.sides), place
    points = list(sides[side].points)
    times = _times(found, laps, side, number)
    points[number] = with_lap(points[number], laps.get((side, number, None)), times, say)
    sides[side] = sides[side].model_copy(update={"points": points})
    return found.model_copy(update={"sides": sides})


def _times(found: Weathers, laps: Laps, side: int, number: int) -> list[float | None]:
    times: list[float | None] = []
    for name in found.compounds:
        lap = laps.get((side, number, None if name == found.own else name))
        times.append(lap.lap.lap_time_s if isinstance(lap, WeighedPlan) else None)
    return times


def _call(laps: Laps, side: int, number: int, corner: int) -> Call | None:
    lap = laps[side, number, None]
    return None if isinstance(lap, str) else call_of(lap, corner)


def _concluded(found: Weathers, laps: Laps, say: Saying) -> Weathers:
    moments = [_moment(found, laps, number, say) for number in range(len(found.sides[0].points))]
    pairs = [
        _pair(found, laps, first, second, say)
        for first, second in combinations(range(len(found.sides)), 2)
    ]
    matters = [pair.matters_at for pair in pairs if pair.matters_at is not None]
    first_at = found.sides[0].points[0].at
    said = [describe_alike_until(min(matters), first_at) if matters else describe_all_alike()]
    if moments and len(found.compounds) > 1:
        known = [
            (time, name)
            for time, name in zip(moments[-1].expected_s, found.compounds, strict=True)
            if time is not None
        ]
        if known:
            said.append(describe_chances(min(known)[1], min(known)[0], moments[-1].at))
    return found.model_copy(update={"moments": moments, "pairs": pairs, "said": said})


def _moment(found: Weathers, laps: Laps, number: int, say: Saying) -> MomentBeside:
    sides = range(len(found.sides))
    points = [found.sides[side].points[number] for side in sides]
    alike, apart = [], []
    for corner in range(len(found.corners)):
        calls = [_call(laps, side, number, corner) for side in sides]
        known = [call for call in calls if call is not None]
        if any(changed(known[0], call, found.threshold_m) for call in known[1:]):
            said = [None if call is None else describe_call(call, say) for call in calls]
            apart.append(CornerBeside(corner=corner, calls=said))
        elif known:
            alike.append(corner)
    lead = leads([point.compounds_s for point in points])
    rows = [
        point.compounds_s or [None if point.figures is None else point.figures.lap_time_s]
        for point in points
    ]
    shares = [found.sides[side].share for side in sides]
    return MomentBeside(
        at=points[0].at,
        tyres=[None if one is None else found.compounds[one] for one in lead],
        expected_s=[_expected(column, shares) for column in zip(*rows, strict=True)],
        alike=alike,
        apart=apart,
    )


def _expected(times_s: Sequence[float | None], shares: Sequence[float]) -> float | None:
    known = [(time, share) for time, share in zip(times_s, shares, strict=True) if time is not None]
    if len(known) < len(times_s):
        return None
    return float(sum(time * share for time, share in known))


def _pair(found: Weathers, laps: Laps, first: int, second: int, say: Saying) -> Pair:
    """When two weathers are told apart, and when they ask different things for good measure."""
    sides = (found.sides[first], found.sides[second])
    at_s = [seconds_of(point.at) for point in sides[0].points]
    matters_s = [
        when
        for when in (
            _calls_part_s(found, laps, (first, second), at_s),
            _tyres_part_s(sides, at_s),
        )
        if when is not None
    ]
    readings = [[point.reading for point in side.points] for side in sides]
    sight = first_sight(readings[0], readings[1])
    told_at = None if sight is None else sides[0].points[sight.index].at
    matters_at = moment_of(min(matters_s)) if matters_s else None
    names = (sides[0].name, sides[1].name)
    said = [describe_wait(names, told_at, matters_at)]
    if sight is not None and told_at is not None:
        said.append(describe_separation(names, sight.sign, sight.values, told_at, say))
    return Pair(first=first, second=second, told_at=told_at, matters_at=matters_at, said=said)


def _calls_part_s(
    found: Weathers, laps: Laps, pair: tuple[int, int], at_s: Sequence[float]
) -> float | None:
    """The first moment from which on a corner's calls differ for a while [s]."""
    step = at_s[1] - at_s[0] if len(at_s) > 1 else 0.0
    lasting_s = max(60.0 * LASTING_MIN, step)
    moments: list[float] = []
    for corner in range(len(found.corners)):
        calls = [
            (_call(laps, pair[0], number, corner), _call(laps, pair[1], number, corner))
            for number in range(len(at_s))
        ]
        apart = [
            a is not None and b is not None and changed(a, b, found.threshold_m) is not None
            for a, b in calls
        ]
        first = first_lasting(at_s, apart, lasting_s)
        moments += [] if first is None else [first]
    return min(moments, default=None)


def _tyres_part_s(sides: tuple[WeatherSide, WeatherSide], at_s: Sequence[float]) -> float | None:
    """The first moment at which another compound is quickest in one weather than in the other."""
    first, second = (leads([point.compounds_s for point in side.points]) for side in sides)
    for when, a, b in zip(at_s, first, second, strict=True):
        if a is not None and b is not None and a != b:
            return when
    return None
