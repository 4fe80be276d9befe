"""The moments of a session: which are looked at, what they are like, how a plan is put there."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.weather.along_session import Reading, State, along_session, averaged
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import named
from neapfrost.formats.weather import WeatherRecordDocument, moment_of, seconds_of
from neapfrost.formats.weather_records import (
    conditions_at,
    drying_record,
    moments_between,
    readings_along,
    rubber_record,
)
from neapfrost.services.trade.axes import CHOICES, CONDITIONS, Settings

#: Moments of a session that are driven at the most, and the steps they are taken in [min].
MOMENTS_MOST = 72
STEPS_MIN = (1.0, 2.0, 5.0, 10.0, 15.0, 30.0, 60.0, 120.0)
#: Readings are means of so many minutes, as a wind is by custom.
AVERAGE_MIN = 10.0
#: A braking point that has moved by less than this is not told anew [m].
USUAL_THRESHOLD_M = 5.0


class SessionRequest(BaseModel):
    """Which of the coming weathers, by its number (null: the likeliest), from when to when.

    `every_min` null: as often as some seventy laps allow. `average_min` 0 takes readings as read.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    weather: Annotated[int, Field(ge=0, le=100)] | None = None
    from_at: Key | None = None
    to_at: Key | None = None
    every_min: Annotated[float, Field(ge=0.5, le=240)] | None = None
    threshold_m: Annotated[float, Field(gt=0, le=200)] | None = None
    average_min: Annotated[float, Field(ge=0, le=120)] | None = None

    @property
    def threshold(self) -> float:
        """By how much a braking point has to move, as told or as usual [m]."""
        return USUAL_THRESHOLD_M if self.threshold_m is None else self.threshold_m

    @property
    def average(self) -> float:
        """Over how long readings are averaged, as told or as usual [min]."""
        return AVERAGE_MIN if self.average_min is None else self.average_min


@dataclass(frozen=True)
class Span:
    """What of a record is looked at: readings as means, moments [s], and how they follow."""

    readings: tuple[Reading, ...]
    at_s: tuple[float, ...]
    every_s: float
    measured_until_s: float | None


def likeliest(record: WeatherRecordDocument) -> int | None:
    """The number of the coming weather with the best chance; None where none may come."""
    chances = [weather.chance_pct for weather in record.weathers]
    return chances.index(max(chances)) if chances else None


def span_of(record: WeatherRecordDocument, weather: int | None, wanted: SessionRequest) -> Span:
    """The moments of a session. Raises InputRefused for a range that is none."""
    if weather is not None and weather >= len(record.weathers):
        raise InputRefused(
            [
                Fault(
                    "weather",
                    f"{weather} was given; {len(record.weathers)} forecasts, counted from 0",
                )
            ]
        )
    raw = readings_along(record, weather)
    readings = averaged(raw, 30.0 * wanted.average)
    begin = _moment(wanted.from_at, "from_at", readings[0].at_s)
    end = _moment(wanted.to_at, "to_at", readings[-1].at_s)
    if end < begin:
        raise InputRefused(
            [
                Fault(
                    "to_at",
                    f"{moment_of(end)} was given; it must not be before {moment_of(begin)}",
                )
            ]
        )
    lasts_min = (end - begin) / 60.0
    every = wanted.every_min
    if every is None:
        fitting = [step for step in STEPS_MIN if lasts_min / step < MOMENTS_MOST]
        every = fitting[0] if fitting else lasts_min / (MOMENTS_MOST - 1)
    elif lasts_min / every >= MOMENTS_MOST:
        raise InputRefused(
            [
                Fault(
                    "every_min",
                    f"{every:g} was given; {lasts_min:.0f} minutes are more than {MOMENTS_MOST} "
                    "laps then",
                )
            ]
        )
    ends = seconds_of(record.readings[-1].at) if record.readings else None
    at_s = tuple(moments_between(begin, end, 60.0 * every))
    return Span(tuple(readings), at_s, 60.0 * every, ends)


def _moment(at: str | None, field: str, usual_s: float) -> float:
    if at is None:
        return usual_s
    try:
        return seconds_of(at)
    except (ValueError, TypeError):
        raise InputRefused(
            [Fault(field, f'"{at[:40]}" was given; a moment as 2031-05-17T13:40 is expected')]
        ) from None


def states_at(record: WeatherRecordDocument, span: Span, at_s: Sequence[float]) -> list[State]:
    """Weather, water and rubber at moments of a span."""
    return along_session(
        span.readings, drying_record(record.water), rubber_record(record.rubber), at_s
    )


def settings_in(plan: PlanDocument, state: State, compound: str | None = None) -> Settings:
    """What puts a plan into a moment of a session, on a compound where one is named."""
    air = conditions_at(state, plan.conditions).model_dump_json()
    put: Settings = ((CONDITIONS, air),)
    return put if compound is None else (*put, ("compound", compound))


#: Moments of each weather that a choice is held against.
MOMENTS_OF_EACH = 6


def weighed_moments(
    plan: PlanDocument, record: WeatherRecordDocument
) -> list[tuple[float, Settings]]:
    """A few moments of every weather that may come, each with its share of all chances.

    Without any that may come, of the record itself.
    """
    numbers: list[int | None] = list(range(len(record.weathers))) or [None]
    chances = [1.0 if n is None else record.weathers[n].chance_pct for n in numbers]
    found: list[tuple[float, Settings]] = []
    for number, chance in zip(numbers, chances, strict=True):
        if chance <= 0.0 < sum(chances):
            continue
        span = span_of(record, number, SessionRequest())
        begin, end = span.at_s[0], span.at_s[-1]
        if number is not None and span.measured_until_s is not None:
            begin = span.measured_until_s
        each_s = (end - begin) / MOMENTS_OF_EACH
        middles = [begin + (n + 0.5) * each_s for n in range(MOMENTS_OF_EACH)]
        states = states_at(record, span, middles)
        found += [(chance or 1.0, settings_in(plan, one)) for one in states]
    return found


def own_compound(plan: PlanDocument) -> str | None:
    """The compound that the plan's setup has."""
    setup = named(plan.car.setups, plan.setup)
    return None if setup is None else setup.compound


def compounds_of(plan: PlanDocument) -> list[str]:
    """The compounds that a car can choose from; none where there is no choice."""
    names = [one.name for one in getattr(plan.car, CHOICES["compound"][1])]
    return names if len(names) > 1 else []
