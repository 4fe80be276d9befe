"""The weather along a session, several side by side, and the station: held against laps alone."""

import json
import socket
from collections.abc import Iterator
from datetime import datetime
from typing import Any

import numpy as np
import pytest

from neapfrost.cli.listening import listening
from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.demo.weather import demo_weathers
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.weather import WeatherRecordDocument, moment_of, seconds_of
from neapfrost.formats.weather_file import checked_weather
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.plans.collection import delete, duplicate, restore
from neapfrost.services.plans.history import history
from neapfrost.services.plans.weather_kept import (
    WeatherChoice,
    add_weather,
    change_weather,
    choose_weather,
    give_weather_once,
    kept_weather,
    record_along,
    take_conditions,
    weather_of,
)
from neapfrost.services.plans.workbench import open_plan, undo
from neapfrost.services.studies.alone import driven_alone
from neapfrost.services.studies.drawing import study_svg
from neapfrost.services.studies.jobs import StudyJob
from neapfrost.services.studies.tables import table_csv
from neapfrost.services.weather.moments import (
    SessionRequest,
    likeliest,
    span_of,
    weighed_moments,
)
from neapfrost.services.weather.session import Session, session_course
from neapfrost.services.weather.since import since_plan
from neapfrost.services.weather.station import (
    StationGone,
    StationSettings,
    look_at_station,
    loopback_address,
    reading_from,
    set_station,
    station_record,
    station_settings,
)
from neapfrost.services.weather.weathers import Weathers, weathers_course
from neapfrost.standins.weather.days import DAYS, StationDay
from neapfrost.standins.weather.station import RunningStation, Station
from neapfrost.store.database import Store

DAY = "2031-05-17"
STILL = {"wind_speed_ms": 0.0, "wind_from_deg": 0.0, "air_temp_c": 20.0, "track_temp_c": 26.0}


def record(
    *readings: dict[str, Any], weathers: list[dict[str, Any]] | None = None, **other: Any
) -> WeatherRecordDocument:
    """A record; readings are still air but for what each says, `at` an hour and minute."""

    def whole(one: dict[str, Any]) -> dict[str, Any]:
        return {**STILL, **one, "at": f"{DAY}T{one['at']}"}

    coming = [
        {**weather, "readings": [whole(one) for one in weather["readings"]]}
        for weather in weathers or []
    ]
    return checked_weather(
        WeatherRecordDocument.model_validate(
            {
                "format": "neapfrost/conditions",
                "version": 1,
                "readings": [whole(one) for one in readings],
                "weathers": coming,
                **other,
            }
        )
    )


@pytest.fixture(scope="module")
def plan() -> PlanDocument:
    """A quick one to drive, with compounds to choose from; a corner of it is flat in still air."""
    found = composed("k4-dry")
    air = found.conditions.model_copy(update={"wind_speed_ms": 0.0, "wind_from_deg": 0.0})
    return found.model_copy(update={"conditions": air})


def session_of(job: StudyJob) -> Session:
    assert job.session is not None
    return job.session


def in_wind(plan: PlanDocument, speed_ms: float) -> PlanDocument:
    air = plan.conditions.model_copy(
        update={**STILL, "wind_speed_ms": speed_ms, "humidity_pct": 50.0}
    )
    return plan.model_copy(update={"conditions": air})


def flat_until_ms(plan: PlanDocument, corner: int) -> float:
    """The wind from the north from which a corner is flat no more, by bisection [m/s]."""
    low, high = 0.0, 24.0
    for _ in range(9):
        middle = 0.5 * (low + high)
        if predict_lap(in_wind(plan, middle)).corners[corner].action == "flat":
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)


def test_a_flat_corner_is_flat_no_more_from_the_right_minute_on(plan: PlanDocument) -> None:
    """A wind that rises evenly passes the threshold found by bisection at a known minute."""
    still = predict_lap(in_wind(plan, 0.0))
    flat = [n for n, one in enumerate(still.corners) if one.action == "flat"]
    ends = predict_lap(in_wind(plan, 24.0))
    corner = next(n for n in flat if ends.corners[n].action != "flat")
    expected_min = 120.0 * flat_until_ms(plan, corner) / 24.0
    rising = record({"at": "10:00"}, {"at": "12:00", "wind_speed_ms": 24.0})
    wanted = SessionRequest(every_min=15.0, threshold_m=50.0)
    found = session_of(driven_alone(plan, session_course(plan, rising, wanted)))
    marks = [one for one in found.marks if one.corner == corner and one.what == "action"]
    minute = (seconds_of(marks[0].at) - seconds_of(f"{DAY}T10:00:00")) / 60.0
    assert abs(minute - expected_min) <= 1.0
    assert f"{still.corners[corner].name} is no longer flat from" in marks[0].said


@pytest.fixture(scope="module")
def wet(plan: PlanDocument) -> StudyJob:
    """A shower on a dry road, with the rain tyres beside the plan's own."""
    shower = record(
        {"at": "13:00"},
        {"at": "13:20", "rain_mm_h": 6.0},
        {"at": "13:50"},
        {"at": "15:00"},
        rubber={"laps_before": 10_000},
    )
    wanted = SessionRequest(every_min=10.0, average_min=0.0)
    return driven_alone(plan, session_course(plan, shower, wanted))


def test_every_moment_is_the_plan_solved_alone(plan: PlanDocument, wet: StudyJob) -> None:
    found = session_of(wet)
    for point in (found.points[0], found.points[4], found.points[-1]):
        alone = predict_lap(plan.model_copy(update={"conditions": point.conditions}))
        assert point.figures is not None
        assert point.figures.lap_time_s == pytest.approx(alone.lap_time_s, abs=1e-9)
        for corner, one in zip(point.figures.corners, alone.corners, strict=True):
            assert corner.min_speed_ms == pytest.approx(one.min_speed_ms, abs=1e-9)
        assert point.measured
        assert point.conditions.wetness_pct == pytest.approx(point.line_pct, abs=0.006)


def test_more_water_is_never_quicker_on_one_tyre(wet: StudyJob) -> None:
    """Of moments that differ in their water alone."""
    found = session_of(wet)
    for number in range(len(found.compounds)):
        rows = sorted((one.line_pct, one.compounds_s[number] or 0.0) for one in found.points)
        times = [time for _, time in rows]
        assert all(np.diff(times) >= -2e-3)


def test_the_rain_tyre_becomes_quicker_and_is_slower_again(wet: StudyJob) -> None:
    found = session_of(wet)
    tyres = [one for one in found.marks if one.what == "tyre"]
    assert len(tyres) == 2
    assert tyres[0].said.startswith("Rain is quicker than")
    for mark in tyres:
        # To the minute: before it the one, from it the other.
        at_s = seconds_of(mark.at)
        before = [one for one in found.points if seconds_of(one.at) <= at_s - 60.0][-1]
        after = next(one for one in found.points if seconds_of(one.at) >= at_s)
        rain = found.compounds.index("Rain")
        lead = [min((t, n) for n, t in enumerate(p.compounds_s) if t)[1] for p in (before, after)]
        assert (lead[0] == rain) != (lead[1] == rain)
    assert found.said[0].startswith("Quickest at")


def test_a_session_is_written_as_a_table_and_a_picture(wet: StudyJob) -> None:
    found = session_of(wet)
    lines = table_csv(wet).splitlines()
    assert lines[0].startswith("Time,Air [°C]")
    assert len(lines) == 1 + len(found.points) + 2 + len(found.marks)
    picture = study_svg(wet)
    assert found.marks[0].said in picture
    assert "13:00" in picture


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        ({"weather": 3}, "weather: 3 was given; 0 forecasts"),
        ({"from_at": f"{DAY}T12:00", "to_at": f"{DAY}T11:00"}, "must not be before"),
        ({"from_at": "noon"}, 'from_at: "noon" was given'),
        ({"every_min": 0.5}, "every_min: 0.5 was given; 120 minutes are more"),
    ],
)
def test_what_is_no_part_of_a_record_is_refused(wanted: dict[str, Any], said: str) -> None:
    with pytest.raises(InputRefused) as error:
        span_of(
            record({"at": "10:00"}, {"at": "12:00"}),
            wanted.get("weather"),
            SessionRequest.model_validate(wanted),
        )
    assert said in str(error.value)


def coming(*, quiet: float = 0.0) -> WeatherRecordDocument:
    """Two weathers after a still morning: one stays still, in the other it rains from two on."""
    still = [{"at": "13:00"}, {"at": "15:00", "wind_speed_ms": quiet}]
    rain = [
        {"at": "13:00"},
        {"at": "13:55"},
        {"at": "14:00", "rain_mm_h": 8.0},
        {"at": "15:00", "rain_mm_h": 8.0},
    ]
    weathers = [
        {"name": "Still", "chance_pct": 75, "readings": still},
        {"name": "Rain", "chance_pct": 25, "readings": rain if quiet == 0.0 else still},
    ]
    return record({"at": "12:30"}, weathers=weathers)


@pytest.fixture(scope="module")
def beside(plan: PlanDocument) -> StudyJob:
    wanted = SessionRequest(every_min=15.0, average_min=0.0)
    return driven_alone(plan, weathers_course(plan, coming(), wanted))


def weathers_of(job: StudyJob) -> Weathers:
    assert job.weathers is not None
    return job.weathers


def test_weathers_part_where_the_rain_begins_and_not_before(beside: StudyJob) -> None:
    found = weathers_of(beside)
    (pair,) = found.pairs
    assert pair.told_at == f"{DAY}T14:00:00"
    assert pair.matters_at == f"{DAY}T14:15:00"
    assert "you can wait until then" in pair.said[0]
    assert "Rain separates Still from Rain at 14:00" in pair.said[1]
    assert found.said[0] == "Until 14:15 every forecast needs the same calls and the same tyre."
    assert found.moments[0].apart == []
    last = found.moments[-1]
    assert last.tyres[0] != last.tyres[1] == "Rain"
    assert len(last.apart) + len(last.alike) == len(found.corners)


def test_what_is_expected_is_the_mean_over_the_chances(beside: StudyJob) -> None:
    found = weathers_of(beside)
    for number, moment in enumerate(found.moments):
        for compound in range(len(found.compounds)):
            times = [side.points[number].compounds_s[compound] or 0.0 for side in found.sides]
            expected = 0.75 * times[0] + 0.25 * times[1]
            assert moment.expected_s[compound] == pytest.approx(expected, abs=1e-9)
    assert "Still,75.0" in table_csv(beside)
    assert "Still" in study_svg(beside)


def test_weathers_that_are_alike_ask_the_same(plan: PlanDocument) -> None:
    course = weathers_course(plan, coming(quiet=0.5), SessionRequest(every_min=60.0))
    found = weathers_of(driven_alone(plan, course))
    assert found.pairs[0].matters_at is None
    assert found.pairs[0].told_at is None
    assert found.said[0].startswith("In every forecast")
    with pytest.raises(InputRefused, match="fewer than two forecasts"):
        weathers_course(plan, record({"at": "10:00"}), SessionRequest())


def test_the_likeliest_weather_is_looked_along_without_being_told() -> None:
    assert likeliest(coming()) == 0
    assert likeliest(record({"at": "10:00"})) is None


def test_moments_to_hold_a_choice_against_carry_the_chances(plan: PlanDocument) -> None:
    moments = weighed_moments(plan, coming())
    assert [weight for weight, _ in moments] == [75.0] * 6 + [25.0] * 6
    wet = [json.loads(str(dict(settings)["conditions"]))["wetness_pct"] for _, settings in moments]
    assert max(wet[:6]) == 0.0
    assert wet[-1] >= wet[-2] > wet[6] == 0.0
    assert len(weighed_moments(plan, record({"at": "10:00"}, {"at": "11:00"}))) == 6


def describe_test_since_the_plan_nothing_or_what_has_moved_is(plan: PlanDocument) -> None:
    calm = record({"at": "10:00"}, {"at": "10:05"}, rubber={"laps_before": 100_000})
    own = in_wind(plan, 0.0)
    since = since_plan(own, calm.readings, calm, 5.0)
    assert not since.moved
    assert since.said == "No change from the weather since this plan."
    assert since.change_s == pytest.approx(0.0, abs=1e-6)
    windy = record({"at": "10:00", "wind_speed_ms": 12.0, "wind_from_deg": 110.0})
    since = since_plan(in_wind(plan, 6.0), windy.readings, None, 5.0)
    assert since.moved
    assert "wind turned 110° and 6.0 m/s stronger" in since.said
    alone = predict_lap(plan.model_copy(update={"conditions": since.conditions}))
    assert since.lap_time_s == pytest.approx(alone.lap_time_s, abs=1e-9)
    assert all(name in {corner.name for corner in alone.corners} for name in since.corners)


def test_records_are_kept_changed_chosen_and_deleted(store: Store) -> None:
    first = record({"at": "10:00"}, {"at": "11:00"})
    number = add_weather(store, first)
    assert add_weather(store, first) == number
    kept = kept_weather(store, number)
    assert (kept.name, kept.revision) == (f"Weather of {DAY}", 1)
    with pytest.raises(InputRefused, match="no record of the weather is chosen"):
        record_along(store, 1)
    choose_weather(store, 1, WeatherChoice(weather_id=number, follows_station=True))
    assert record_along(store, 1) == kept.record
    changed = kept.record.model_copy(update={"note": "from the tower"})
    again = change_weather(store, number, 1, changed, "A note")
    assert (again.revision, again.record.note) == (2, "from the tower")
    with pytest.raises(InputRefused, match="it is at revision 2 now, 1 was given"):
        change_weather(store, number, 1, changed, "Late")
    assert kept_weather(store, number, 1).record.note == ""
    copy = duplicate(store, "plan", 1)
    assert weather_of(store, copy).follows_station
    delete(store, "weather", number)
    assert weather_of(store, copy).weather is None
    restore(store, "weather", number)
    assert weather_of(store, 1).weather is not None
    choose_weather(store, 1, WeatherChoice(weather_id=None))
    assert weather_of(store, 1).weather is None
    assert weather_of(store, 1).follows_station


def test_the_demo_days_go_to_the_plans_of_their_circuits_once(store: Store) -> None:
    give_weather_once(store, "days", demo_weathers())
    kept = weather_of(store, 1).weather
    assert kept is not None
    assert kept.name == "Sallow Fen, after the rain"
    assert kept.record.simulated
    choose_weather(store, 1, WeatherChoice(weather_id=None))
    give_weather_once(store, "days", demo_weathers())
    assert weather_of(store, 1).weather is None
    circuits = {
        composed(name).circuit.name
        for name in ("k4-samphire", "k4-dry", "dunlin-heath", "garganey-bowl", "dunlin-hill")
    }
    assert {circuit for _, circuit, _, _ in demo_weathers()} == circuits


def test_the_weather_of_a_moment_is_taken_as_one_step(store: Store) -> None:
    before = open_plan(store, 1)
    air = before.plan.conditions.model_copy(
        update={"name": "no", "wetness_pct": 30.0, "rubber_factor": 0.98, "tyre_lap": 7}
    )
    after = take_conditions(store, 1, before.revisions, air, "13:40, Saturday")
    assert after.plan.conditions.wetness_pct == 30.0
    assert after.plan.conditions.name == before.plan.conditions.name
    assert after.plan.conditions.tyre_lap == before.plan.conditions.tyre_lap
    assert history(store, 1)[0].label == "Conditions of 13:40, Saturday"
    assert undo(store, 1).plan.conditions == before.plan.conditions


@pytest.mark.parametrize(
    ("given", "address"),
    [
        ("http://127.0.0.1:8790", "http://127.0.0.1:8790"),
        ("127.0.0.1:8790/", "http://127.0.0.1:8790"),
        ("localhost:81", "http://localhost:81"),
        ("http://[::1]:8790", "http://[::1]:8790"),
        ("", None),
        (None, None),
    ],
)
def test_an_address_on_this_machine_is_taken(given: str | None, address: str | None) -> None:
    assert loopback_address(given) == address


@pytest.mark.parametrize(
    "given",
    [
        "http://10.0.0.7:8790",
        "http://station.example:80",
        "https://127.0.0.1:8790",
        "http://127.0.0.1",
        "http://127.0.0.1:8790/elsewhere",
        "http://me@127.0.0.1:8790",
        "http://127.0.0.1.example.org:80",
        "ftp://127.0.0.1:21",
        "http://[::1",
    ],
)
def test_an_address_anywhere_else_is_refused(given: str, store: Store) -> None:
    with pytest.raises(InputRefused, match="127"):
        set_station(store, StationSettings(address=given))
    assert station_settings(store).address is None


@pytest.fixture
def running() -> Iterator[RunningStation]:
    begins_s = seconds_of(f"{DAY}T11:00:00")
    station = Station("shower", datetime.fromisoformat(moment_of(begins_s)), seed=4, pace=600.0)
    with listening(0) as listener:
        found = RunningStation(station, listener)
        found.start()
        yield found
        found.stop()


def test_a_station_is_looked_at_and_its_record_read(store: Store, running: RunningStation) -> None:
    settings = set_station(store, StationSettings(address=running.address, threshold_m=3.0))
    assert station_settings(store) == settings
    look = look_at_station(settings)
    assert (look.state, look.simulated, look.threshold_m) == ("answers", True, 3.0)
    assert look.reading is not None
    readings = station_record(running.address)
    assert readings[0].at == f"{DAY}T11:00:00"
    assert [one.at for one in readings] == sorted(one.at for one in readings)
    expected = StationDay("shower", 4, 11.0 * 3600.0).readings(1)[0]
    assert readings[0].air_temp_c == expected.air_temp_c


def test_a_station_that_is_gone_is_said_to_be(running: RunningStation) -> None:
    running.stop()
    look = look_at_station(StationSettings(address=running.address))
    assert look.state == "gone"
    assert "no station answers" in look.trouble
    assert look_at_station(StationSettings()).state == "none"
    with pytest.raises(StationGone, match="not a reading"):
        reading_from('{"at": "2031-05-17T11:00", "air_temp_c": "warm"}')
    with pytest.raises(StationGone, match="not a reading"):
        reading_from("good morning")


def test_something_else_at_the_address_is_no_station() -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        address = f"http://127.0.0.1:{other.getsockname()[1]}"
        # It takes the line and says nothing.
        with pytest.raises(StationGone, match="no station answers"):
            station_record(address)


def test_days_are_the_same_for_the_same_seed_and_do_what_they_say() -> None:
    for day, about in DAYS.items():
        once, again = (StationDay(day, 5, about.begins_h * 3600.0).readings(300) for _ in range(2))
        assert once == again
        assert StationDay(day, 6, about.begins_h * 3600.0).readings(300) != once
    breeze = StationDay("sea-breeze", 1, 9.0 * 3600.0).readings(300)
    assert 240.0 < breeze[60].wind_from_deg < 300.0
    assert 50.0 < breeze[240].wind_from_deg < 110.0
    shower = StationDay("shower", 1, 9.0 * 3600.0).readings(420)
    raining = [one.at_s / 3600.0 for one in shower if one.rain_mm_h > 0.0]
    assert 13.0 < min(raining) < 13.7 < max(raining) < 14.8
    assert StationDay("evening", 1, 16.0 * 3600.0).readings(300)[-1].track_temp_c < 20.0
