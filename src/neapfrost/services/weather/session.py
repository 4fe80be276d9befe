"""A lap every few minutes of a session: how it moves with the weather, and where a call flips."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import fields
from itertools import pairwise
from typing import Literal

from pydantic import BaseModel

from neapfrost.core.units import Units
from neapfrost.core.weather.along_session import Reading, State
from neapfrost.core.weather.flips import Call, Flip, flips, lead_changes, leads
from neapfrost.formats.plan import ConditionsDocument, PlanDocument
from neapfrost.formats.weather import WeatherRecordDocument, moment_of, seconds_of
from neapfrost.formats.weather_records import (
    conditions_at,
)
from neapfrost.services.trade.laps import WeighedPlan
from neapfrost.services.trade.parts import LapFigures, figures_of
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.weather.moments import (
    SessionRequest,
    Span,
    compounds_of,
    likeliest,
    own_compound,
    settings_in,
    span_of,
    states_at,
)
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.weather import (
    describe_call,
    describe_flip,
    describe_nothing_flips,
    describe_span,
    describe_tyre,
)

#: A call that changes for less than this is not told [min].
LASTING_MIN = 10.0
#: Where a call flips is looked for to the minute.
TO_THE_S = 60.0
#: So many calls that change are named in the sentences.
NAMED_MOST = 3

#: What a station reads, by the names that readings and points share.
READ = tuple(field.name for field in fields(Reading) if field.name != "at_s")


class SessionPoint(BaseModel):
    """A moment of the session: its weather, the road, and the lap of each compound then.

    `measured` says that a station read it, else it is forecast. Wetness of the line and beside it;
    `conditions` are what would be taken into the plan; `calls` say what is done at each corner on
    the plan's own tyres.
    """

    at: str
    measured: bool
    air_temp_c: float
    pressure_hpa: float | None
    humidity_pct: float
    wind_speed_ms: float
    wind_from_deg: float
    gust_ms: float
    track_temp_c: float
    rain_mm_h: float
    line_pct: float
    beside_pct: float
    rubber_factor: float
    conditions: ConditionsDocument
    figures: LapFigures | None = None
    trouble: str | None = None
    compounds_s: list[float | None] = []
    calls: list[str] = []

    @property
    def reading(self) -> Reading:
        """What a station reads at this moment."""
        return Reading(
            at_s=seconds_of(self.at),
            **{name: getattr(self, name) for name in READ},
        )


class SessionMark(BaseModel):
    """A call that changes, from that moment on; `corner` is null where the tyre does."""

    at: str
    corner: int | None
    what: Literal["action", "braking", "tyre"]
    said: str


class Session(BaseModel):
    """The laps of a session with what they do not answer alone: where a call flips.

    `present` is the plan's own lap; `compounds` are those of the car, `own` the one the plan has.
    """

    weather: str | None
    measured_until: str | None
    every_min: float
    threshold_m: float
    present: LapFigures
    corners: list[str]
    compounds: list[str]
    own: str | None
    points: list[SessionPoint]
    marks: list[SessionMark] = []
    said: list[str] = []


def call_of(lap: WeighedPlan, corner: int) -> Call:
    """What is done at a corner of a lap."""
    one = lap.lap.corners[corner]
    return one.action, one.brake_start_to_corner_m


def point_of(
    state: State, measured_until_s: float | None, usual: ConditionsDocument
) -> SessionPoint:
    """A moment before its lap is driven."""
    reading = state.reading
    return SessionPoint(
        at=moment_of(reading.at_s),
        measured=measured_until_s is not None and reading.at_s <= measured_until_s,
        **{name: getattr(reading, name) for name in READ},
        line_pct=state.line_pct,
        beside_pct=state.beside_pct,
        rubber_factor=state.rubber_factor,
        conditions=conditions_at(state, usual),
    )


#: Laps by their moment [s] and their compound, None for the plan's own.
Laps = dict[tuple[float, str | None], WeighedPlan | str]


def session_course(
    plan: PlanDocument,
    record: WeatherRecordDocument,
    wanted: SessionRequest,
    units: Units = "metric",
) -> Course:
    """How a session is driven: every few minutes, then to the minute where something changes.

    Raises InputRefused for what is no part of the record.
    """
    weather = likeliest(record) if wanted.weather is None else wanted.weather
    span = span_of(record, weather, wanted)
    own, compounds = own_compound(plan), compounds_of(plan)
    others: list[str | None] = [name for name in compounds if name != own]
    say = Saying(units)

    def drive(run: Run) -> None:
        base, present = run.present()
        laps: Laps = {}
        found = Session(
            weather=None if weather is None else record.weathers[weather].name,
            measured_until=None
            if span.measured_until_s is None
            else moment_of(span.measured_until_s),
            every_min=span.every_s / 60.0,
            threshold_m=wanted.threshold,
            present=figures_of(present),
            corners=list(base.corners),
            compounds=compounds,
            own=own,
            points=[
                point_of(one, span.measured_until_s, plan.conditions)
                for one in states_at(record, span, span.at_s)
            ],
        )
        run.tell(session=found)

        def drive_all(moments: Sequence[float], tyres: Sequence[str | None]) -> None:
            nonlocal found
            states = dict(zip(moments, states_at(record, span, moments), strict=True))
            asked = [
                ((at_s, tyre), settings_in(plan, states[at_s], tyre))
                for tyre in tyres
                for at_s in moments
                if (at_s, tyre) not in laps
            ]
            for key, lap in run.laps(asked):
                laps[key] = lap
                if key[0] in span.at_s:
                    number, points = span.at_s.index(key[0]), list(found.points)
                    times = times_of(found, laps, key[0])
                    own_lap = laps.get((key[0], None))
                    points[number] = with_lap(points[number], own_lap, times, say)
                    found = found.model_copy(update={"points": points})
                run.count(session=found)

        drive_all(span.at_s, [None])
        drive_all(span.at_s, others)
        calls = _before(span, {one.at_s for _, one in _flips(found, laps, present)})
        tyres = _before(span, {at_s for at_s, _, _ in _leads(found, laps)})
        more = len(set(calls) | set(tyres)) + len(tyres) * len(others)
        run.tell(of=run.done + more)
        drive_all(calls, [None])
        drive_all(tyres, [None, *others])
        run.tell(session=_concluded(found, laps, present, say))

    return Course(len(span.at_s) * (1 + len(others)), drive)


def with_lap(
    point: SessionPoint,
    lap: WeighedPlan | str | None,
    compounds_s: list[float | None],
    say: Saying,
) -> SessionPoint:
    """A moment with what is known of its laps so far."""
    changes: dict[str, object] = {"compounds_s": compounds_s}
    if isinstance(lap, str):
        changes["trouble"] = lap
    elif lap is not None:
        changes["figures"] = figures_of(lap)
        corners = range(len(lap.lap.corners))
        changes["calls"] = [describe_call(call_of(lap, corner), say) for corner in corners]
    return point.model_copy(update=changes)


def times_of(found: Session, laps: Laps, at_s: float) -> list[float | None]:
    """The lap time of each compound at a moment [s]; None where it has none, or not yet."""
    times: list[float | None] = []
    for name in found.compounds:
        lap = laps.get((at_s, None if name == found.own else name))
        times.append(lap.lap.lap_time_s if isinstance(lap, WeighedPlan) else None)
    return times


def corner_flips(
    corners: int,
    laps: Mapping[float, WeighedPlan | str],
    present: WeighedPlan,
    threshold_m: float,
    lasting_s: float,
) -> list[tuple[int, Flip]]:
    """Calls that change along a session with their corners, in the order of time."""
    moments = sorted(laps)
    driven = [laps[at_s] for at_s in moments]
    found: list[tuple[int, Flip]] = []
    for corner in range(corners):
        calls = [None if isinstance(lap, str) else call_of(lap, corner) for lap in driven]
        begins_as = call_of(present, corner)
        turned = flips(moments, calls, begins_as, threshold_m, lasting_s)
        found += [(corner, one) for one in turned]
    return sorted(found, key=lambda one: (one[1].at_s, one[0]))


def _lasting_s(found: Session) -> float:
    """What changes has to last as long as readings are averaged, and a step of the session."""
    return 60.0 * max(LASTING_MIN, found.every_min)


def _flips(found: Session, laps: Laps, present: WeighedPlan) -> list[tuple[int, Flip]]:
    own = {at_s: lap for (at_s, tyre), lap in laps.items() if tyre is None}
    return corner_flips(len(found.corners), own, present, found.threshold_m, _lasting_s(found))


def _leads(found: Session, laps: Laps) -> list[tuple[float, int, int]]:
    """When another compound becomes quickest: moment [s], which it was, which it is."""
    rows = [(at_s, times_of(found, laps, at_s)) for at_s in sorted({at_s for at_s, _ in laps})]
    whole = [(at_s, row) for at_s, row in rows if None not in row]
    lead = leads([row for _, row in whole])
    return lead_changes([at_s for at_s, _ in whole], lead, _lasting_s(found))


def _before(span: Span, changed: Collection[float]) -> list[float]:
    """The moments to the minute that lead up to those of a session where something has changed."""
    finer: list[float] = []
    for before, after in pairwise(span.at_s):
        if after in changed:
            minutes = int((after - before) // TO_THE_S)
            finer += [before + n * TO_THE_S for n in range(1, minutes + 1)]
    return [at_s for at_s in finer if at_s not in span.at_s]


def _concluded(found: Session, laps: Laps, present: WeighedPlan, say: Saying) -> Session:
    """The session with the marks where a call flips, and the sentences that say the most of it."""
    first_s = min(at_s for at_s, _ in laps)
    marks = [
        SessionMark(
            at=moment_of(flip.at_s),
            corner=corner,
            what=flip.what,
            said=describe_flip(
                found.corners[corner], flip, moment_of(flip.at_s), flip.at_s == first_s, say
            ),
        )
        for corner, flip in _flips(found, laps, present)
    ]
    marks += [
        SessionMark(
            at=moment_of(at_s),
            corner=None,
            what="tyre",
            said=describe_tyre(found.compounds[was], found.compounds[now], moment_of(at_s)),
        )
        for at_s, was, now in _leads(found, laps)
    ]
    marks.sort(key=lambda one: one.at)
    driven = [
        (point.at, point.figures.lap_time_s) for point in found.points if point.figures is not None
    ]
    said = []
    if driven:
        moments, times = [at for at, _ in driven], [time for _, time in driven]
        said.append(describe_span(times, moments, found.present.lap_time_s))
    weight = {"tyre": 0, "action": 1, "braking": 2}
    most = sorted(marks, key=lambda one: (weight[one.what], one.at))[:NAMED_MOST]
    if most:
        said.append("; ".join(one.said for one in sorted(most, key=lambda one: one.at)) + ".")
    if driven and not marks:
        said.append(describe_nothing_flips(found.threshold_m, say))
    return found.model_copy(update={"marks": marks, "said": said})
