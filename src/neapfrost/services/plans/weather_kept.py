"""Records of the weather as they are kept: made, changed, chosen for a plan, taken into one."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.document import NAME_MOST
from neapfrost.formats.plan import ConditionsDocument, PlanDocument
from neapfrost.formats.result import Revisions
from neapfrost.formats.typed_weather import typed_forecasts
from neapfrost.formats.weather import (
    WEATHER_FORMAT,
    WEATHER_VERSION,
    ReadingDocument,
    WeatherDocument,
    WeatherRecordDocument,
)
from neapfrost.formats.weather_file import checked_weather
from neapfrost.services.plans.parts import assemble, content_of
from neapfrost.services.plans.workbench import OpenPlan, keep_document
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import (
    add_item,
    find_content,
    get_document,
    get_item,
    get_plan,
    list_items,
    revise,
)
from neapfrost.store.steps import get_mark, set_mark
from neapfrost.store.tables import Plan


class KeptWeather(BaseModel):
    """A kept record with the revision it stands at.

    `race_from` is when a race along it begins unless somebody says: where its forecasts take over,
    or its first reading where it has none.
    """

    id: int
    name: str
    revision: int
    race_from: str
    record: WeatherRecordDocument


class PlanWeather(BaseModel):
    """The record that a plan is looked at along, null for none, and whether it follows the station.

    A deleted record is none.
    """

    weather: KeptWeather | None
    follows_station: bool


class WeatherChoice(BaseModel):
    """Which record a plan is looked at along, and whether it follows the station."""

    model_config = ConfigDict(extra="forbid")

    weather_id: int | None = None
    follows_station: bool | None = None


def add_weather(store: Store, record: WeatherRecordDocument, remark: str = "Created") -> int:
    """Keep a record; one that is there already is recognised. Returns its number.

    Raises InputRefused for a record that breaks a rule between its fields.
    """
    document = _named(checked_weather(record))
    with writing(store) as session:
        known = find_content(session, "weather", document)
        if known is not None:
            return known.item_id
        return add_item(session, "weather", content_of("weather", document), remark)


def begin_weather(store: Store, plan_id: int) -> int:
    """Keep a record to be typed on, and look at the plan along it; returns its number.

    Its one reading is the plan's own conditions at the last full hour. Raises NotThere.
    """
    return _begun(store, plan_id, _new_record(store, plan_id), "Typed in")


def _begun(store: Store, plan_id: int, record: WeatherRecordDocument, remark: str) -> int:
    """Keep a new record and look at the plan along it; returns its number."""
    weather_id = add_weather(store, record, remark)
    choose_weather(store, plan_id, WeatherChoice(weather_id=weather_id))
    return weather_id


def _new_record(store: Store, plan_id: int) -> WeatherRecordDocument:
    """A record whose one reading is the plan's own conditions at the last full hour."""
    with reading(store) as session:
        plan = assemble(session, plan_id).document
    air = plan.conditions
    now = datetime.now().replace(minute=0, second=0, microsecond=0).isoformat()
    return WeatherRecordDocument(
        format=WEATHER_FORMAT,
        version=WEATHER_VERSION,
        name=f"Weather at {plan.circuit.name}"[:NAME_MOST],
        readings=[
            ReadingDocument(
                at=now,
                air_temp_c=air.air_temp_c,
                pressure_hpa=air.pressure_hpa,
                humidity_pct=air.humidity_pct,
                wind_speed_ms=air.wind_speed_ms,
                wind_from_deg=air.wind_from_deg,
                track_temp_c=air.track_temp_c,
            )
        ],
    )


def type_forecasts(store: Store, plan_id: int, text: str) -> int:
    """Forecasts typed in words, added to the plan's record, or to one that is begun for them.

    Minutes count from the last measured reading. Where these are the first forecasts and their
    chances leave something, the weather goes on as it is with the rest. Returns the record's
    number. Raises InputRefused, and NotThere.
    """
    kept = weather_of(store, plan_id).weather
    record = _new_record(store, plan_id) if kept is None else kept.record
    base = _goes_on_from(record)
    typed = typed_forecasts(text, base)
    rest = 100.0 - sum(one.chance_pct for one in typed)
    if not record.weathers and rest > 0.0:
        typed.insert(0, _as_now(base, typed, rest))
    record = record.model_copy(update={"weathers": [*record.weathers, *typed]})
    if kept is None:
        return _begun(store, plan_id, record, "Forecast typed")
    return change_weather(store, kept.id, kept.revision, record, "Forecast typed").id


def _goes_on_from(record: WeatherRecordDocument) -> ReadingDocument:
    """The reading that forecasts take over from: the last measured one, if any was measured."""
    return record.readings[-1] if record.readings else record.weathers[0].readings[0]


def _as_now(
    base: ReadingDocument, beside: Sequence[WeatherDocument], chance_pct: float
) -> WeatherDocument:
    """The weather of a reading going on for as long as those beside it."""
    last = max(one.readings[-1].at for one in beside)
    return WeatherDocument(
        name="As now",
        chance_pct=chance_pct,
        readings=[base, base.model_copy(update={"at": last})],
    )


def change_weather(
    store: Store, weather_id: int, base: int, record: WeatherRecordDocument, remark: str
) -> KeptWeather:
    """Write a record anew as its next revision.

    Raises NotThere, and InputRefused as `add_weather` does and where `base` is not its newest
    revision.
    """
    document = _named(checked_weather(record))
    with writing(store) as session:
        item = get_item(session, "weather", weather_id)
        if item.newest != base:
            raise InputRefused(
                [
                    Fault(
                        "base",
                        f'"{item.name}" has been changed since this page read it; it is at '
                        f"revision {item.newest} now, {base} was given",
                    )
                ]
            )
        if document != get_document(session, "weather", weather_id):
            revise(session, "weather", weather_id, content_of("weather", document), remark)
    return kept_weather(store, weather_id)


def kept_weather(store: Store, weather_id: int, revision: int | None = None) -> KeptWeather:
    """A kept record, at its newest revision unless one is named. Raises NotThere."""
    with reading(store) as session:
        item = get_item(session, "weather", weather_id)
        record = WeatherRecordDocument.model_validate(
            get_document(session, "weather", weather_id, revision)
        )
        begins = _goes_on_from(record) if record.weathers else record.readings[0]
        return KeptWeather(
            id=weather_id,
            name=item.name,
            revision=item.newest if revision is None else revision,
            race_from=begins.at,
            record=record,
        )


def weather_of(store: Store, plan_id: int) -> PlanWeather:
    """What a plan is looked at along. Raises NotThere."""
    with reading(store) as session:
        plan = get_plan(session, plan_id)
        number, follows = plan.weather_id, plan.follows_station
        if number is not None and get_item(session, "weather", number).deleted_at is not None:
            number = None
    weather = None if number is None else kept_weather(store, number)
    return PlanWeather(weather=weather, follows_station=follows)


def record_along(store: Store, plan_id: int) -> WeatherRecordDocument:
    """The record that a plan is looked at along. Raises InputRefused where it has none."""
    weather = weather_of(store, plan_id).weather
    if weather is None:
        raise InputRefused(
            [
                Fault(
                    "weather",
                    "no record of the weather is chosen for this plan; choose one, read one from a "
                    "file, or take the station's",
                )
            ]
        )
    return weather.record


def choose_weather(store: Store, plan_id: int, choice: WeatherChoice) -> PlanWeather:
    """Look at a plan along a record, or along none. Raises NotThere."""
    told = choice.model_fields_set
    with writing(store) as session:
        plan = get_plan(session, plan_id)
        if "weather_id" in told:
            if choice.weather_id is not None:
                get_item(session, "weather", choice.weather_id)
            plan.weather_id = choice.weather_id
        if choice.follows_station is not None:
            plan.follows_station = choice.follows_station
    return weather_of(store, plan_id)


def give_weather_once(
    store: Store, mark: str, records: Iterable[tuple[str, str, bool, WeatherRecordDocument]]
) -> None:
    """Keep records by short names, leaving out those kept under this mark before.

    With each go the circuit whose plans are looked at along it, where they have none yet, and
    whether they follow the station.
    """
    with writing(store) as session:
        done = set((get_mark(session, mark) or "").split())
        for name, circuit, follows, record in records:
            if name in done:
                continue
            document = _named(checked_weather(record))
            number = add_item(session, "weather", content_of("weather", document), "Created")
            for plan in list_items(session, "plan"):
                assert isinstance(plan, Plan)  # as all items of this kind
                here = get_item(session, "circuit", plan.circuit_id).name == circuit
                if here and plan.weather_id is None:
                    plan.weather_id, plan.follows_station = number, follows
            done.add(name)
        set_mark(session, mark, " ".join(sorted(done)))


def take_conditions(
    store: Store,
    plan_id: int,
    base: Revisions,
    conditions: ConditionsDocument,
    source: str,
    units: Units = "metric",
) -> OpenPlan:
    """Take the weather of a moment into a plan as one step. Raises as `keep_changes` does.

    The name of its conditions and the lap on its tyres stay.
    """

    def changed(plan: PlanDocument) -> PlanDocument:
        own = plan.conditions
        taken = conditions.model_copy(update={"name": own.name, "tyre_lap": own.tyre_lap})
        return plan.model_copy(update={"conditions": taken})

    def said(_before: PlanDocument, _after: PlanDocument) -> list[str]:
        return [f"Conditions of {source}"]

    return keep_document(store, plan_id, base, changed, said)


def _named(record: WeatherRecordDocument) -> dict[str, Any]:
    document = record.model_dump(mode="json")
    if not record.name.strip():
        first = min(
            one.at for one in [*record.readings, *(r for w in record.weathers for r in w.readings)]
        )
        document["name"] = f"Weather of {first[:10]}"
    return document
