"""Records of the weather: documents, text in columns of many kinds, and every bad one refused."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.weather.along_session import along_session
from neapfrost.core.weather.track_state import Rubber
from neapfrost.core.weather.water import Drying
from neapfrost.formats.plan import ConditionsDocument
from neapfrost.formats.plan_records import conditions_record
from neapfrost.formats.weather import (
    ReadingDocument,
    RubberDocument,
    WaterDocument,
    canonical_moment,
    moment_of,
    seconds_of,
)
from neapfrost.formats.weather_csv import (
    Column,
    Role,
    look_at_weather,
    read_weather_csv,
    write_weather_csv,
)
from neapfrost.formats.weather_file import read_weather, write_weather
from neapfrost.formats.weather_records import (
    conditions_at,
    drying_record,
    moments_between,
    reading_record,
    readings_along,
    rubber_record,
)

DAY = "2031-05-17"
RECORD: dict[str, Any] = {
    "format": "neapfrost/conditions",
    "version": 1,
    "name": "Saturday",
    "readings": [
        {"at": "2031-05-17T09:00", "wind_speed_ms": 3.0},
        {"at": "2031-05-17T10:00", "wind_speed_ms": 4.0, "gust_ms": 6.0},
    ],
    "weathers": [
        {
            "name": "Shower",
            "chance_pct": 30,
            "readings": [{"at": "2031-05-17T09:30"}, {"at": "2031-05-17T12:00", "rain_mm_h": 2.0}],
        }
    ],
}


def read(text: str, day: str = DAY, **columns: Column) -> list[ReadingDocument]:
    data = text.encode()
    layout = look_at_weather(data)
    if columns:
        chosen: dict[Role, Column] = {**layout.columns, **columns}  # type: ignore[dict-item]
        layout = replace(layout, columns=chosen)
    return read_weather_csv(data, layout, day)


def refused(text: str) -> list[str]:
    with pytest.raises(InputRefused) as error:
        read(text)
    return [str(fault) for fault in error.value.faults]


def test_a_record_is_written_and_read_back_as_it_was() -> None:
    record = read_weather(json.dumps(RECORD).encode())
    assert read_weather(write_weather(record)) == record
    assert record.readings[0].at == "2031-05-17T09:00:00"


def test_a_weather_takes_over_where_the_measured_readings_end() -> None:
    record = read_weather(json.dumps(RECORD).encode())
    along = readings_along(record, 0)
    assert [moment_of(one.at_s)[11:16] for one in along] == ["09:00", "10:00", "12:00"]
    assert [one.gust_ms for one in along] == [3.0, 6.0, 0.0]
    assert len(readings_along(record, None)) == 2


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"readings": [], "weathers": []}, "readings: nothing was given"),
        ({"readings": list(reversed(RECORD["readings"]))}, "readings[1].at: 2031-05-17T09:00:00"),
        ({"readings": [{"at": "yesterday"}]}, 'readings[0].at: "yesterday" was given; a day and'),
        ({"readings": [{"at": "2031-05-17T09:00Z"}]}, "without a zone"),
        ({"readings": [{"at": "2031-05-17T09:00", "rain_mm_h": -1}]}, "readings[0].rain_mm_h: -1"),
        ({"readings": [{"at": "2031-05-17T09:00", "hail": 1}]}, "readings[0].hail: this field"),
        ({"weathers": RECORD["weathers"] * 2}, '"Shower" is used twice'),
        ({"version": 2}, "version 2 comes from a newer Neapfrost"),
        ({"water": {"full_depth_mm": 0.0}}, "water.full_depth_mm: 0 was given"),
        (
            {"weathers": [{"name": "Past", "readings": [{"at": "2031-05-17T08:00"}]}]},
            "all of Past is before 2031-05-17T10:00:00",
        ),
    ],
)
def test_what_is_wrong_with_a_record_is_said_with_its_place(
    change: dict[str, Any], said: str
) -> None:
    with pytest.raises(InputRefused) as error:
        read_weather(json.dumps({**RECORD, **change}).encode())
    assert any(said in str(fault) for fault in error.value.faults), error.value.faults


def test_what_documents_assume_is_what_the_core_assumes() -> None:
    assert drying_record(WaterDocument()) == Drying()
    assert rubber_record(RubberDocument()) == Rubber()
    assert ReadingDocument(at="2031-05-17T09:00").air_temp_c == ConditionsDocument().air_temp_c


def test_columns_and_units_are_known_by_their_headers() -> None:
    (first, second) = read(
        "Time;Temperature (°F);Wind [km/h];Direction;Gusts [km/h];Road temp C;Rain [in/h]\n"
        "9:00;68,0;36,0;SW;54,0;31,5;0\n"
        "09:10;69,8;18,0;W;21,6;32,0;0,1\n"
    )
    assert first == ReadingDocument(
        at="2031-05-17T09:00",
        air_temp_c=20.0,
        wind_speed_ms=10.0,
        wind_from_deg=225.0,
        gust_ms=15.0,
        track_temp_c=31.5,
    )
    assert second.rain_mm_h == pytest.approx(2.54)
    assert second.wind_from_deg == 270.0


def test_rain_since_the_last_reading_becomes_a_rate_from_there_on() -> None:
    found = read("time,rain [mm]\n09:00,0\n09:10,0.5\n09:40,1.0\n")
    assert [one.rain_mm_h for one in found] == pytest.approx([3.0, 2.0, 0.0])


def test_seconds_minutes_and_days_of_their_own_are_times() -> None:
    assert [one.at[11:] for one in read("time [min],air\n540,20\n541.5,20\n")] == [
        "09:00:00",
        "09:01:30",
    ]
    assert read("time,air\n3600,20\n")[0].at == f"{DAY}T01:00:00"
    assert read("time,air\n17.06.2032 8:05,20\n")[0].at == "2032-06-17T08:05:00"
    assert read("time,air\n2032/06/17 08:05:30,20\n")[0].at == "2032-06-17T08:05:30"


def test_a_column_can_be_chosen_and_its_unit_told() -> None:
    found = read("time,A,B\n09:00,20,10\n", wind=Column(2, "kn"))
    assert found[0].wind_speed_ms == pytest.approx(5.14444)
    assert look_at_weather(b"time,A,B\n09:00,20,10\n").missing[:2] == ["Air", "Pressure"]


def test_readings_are_written_so_that_they_are_read_back() -> None:
    record = read_weather(json.dumps(RECORD).encode())
    text = write_weather_csv(record.readings)
    assert text.startswith("Time,Air [°C],Pressure [hPa],Humidity [%],Wind [m/s],Wind from [°]")
    assert read(text) == record.readings


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "the file has no lines"),
        ("time,air\n", "the file has a header and nothing under it"),
        ("09:00,20\n09:10,21\n", "line 1: no header was found"),
        ("time,air\n09:00,warm\n", 'line 2, column 2: "warm" is not a number'),
        ("time,air\n09:00,20\n\n09:10\n", 'line 4, column 2: "air" is missing'),
        ("time,air\n09:00,20\n08:00,20\n", "line 3: 2031-05-17T08:00:00 was given after"),
        ("time,air\n25:00,20\n", 'line 2, column 1: "2031-05-17 25:00" was given'),
        ("time,air\n2031-05-17T09:00Z,20\n", "line 2, column 1"),
        ("time,humidity\n09:00,20\n09:10,140\n", "line 3, column 2: 140 was given; 100 or less"),
        ("time,wind from\n09:00,NWW\n09:10,N\n", 'column 2: "NWW" is not a point of the compass'),
        ("time,wind\n09:00,-3\n", "line 2, column 2: -3 was given; 0 or more"),
        ("hour,air\n9,20\n", "Time is missing"),
        ("time,colour\n09:00,blue\n", "Only the time is chosen"),
        ("a\x00b", "the file is binary"),
    ],
)
def test_a_bad_record_is_refused_with_its_line(text: str, said: str) -> None:
    assert any(said in fault for fault in refused(text)), refused(text)


def test_moments_are_the_circuits_own_clock() -> None:
    assert moment_of(seconds_of("2031-05-17T13:40:00") + 59.6) == "2031-05-17T13:41:00"
    assert canonical_moment(" 2031-05-17 13:40 ") == "2031-05-17T13:40:00"
    assert moments_between(0.0, 700.0, 300.0) == [0.0, 300.0, 600.0, 700.0]
    assert moments_between(0.0, 600.0, 300.0) == [0.0, 300.0, 600.0]


def test_conditions_of_a_moment_keep_what_is_not_read_and_can_be_taken_twice() -> None:
    reading = reading_record(ReadingDocument(at="2031-05-17T09:00", air_temp_c=11, rain_mm_h=2))
    state = along_session([reading], Drying(), Rubber(laps_before=0), [reading.at_s + 1800.0])[0]
    usual = ConditionsDocument(name="Fen", pressure_hpa=987.0, grip_factor=0.9, tyre_lap=2)
    found = conditions_at(state, usual)
    assert (found.name, found.pressure_hpa, found.tyre_lap) == ("Fen", 987.0, 2)
    assert found.wetness_pct == pytest.approx(state.line_pct, abs=0.006)
    assert found.rubber_factor < 1.0
    assert conditions_record(found).grip_factor == pytest.approx(0.9 * found.rubber_factor)
    assert conditions_at(state, found) == found


def test_a_row_of_units_and_blank_rows_are_taken_as_loggers_write_them() -> None:
    rows = ["13:00;19;60;12;0,5", ";;;;", "13:10;20;58;14;0,0", "   ", ";;;;"]
    found = read("\n".join(["Time;Air;Humidity;Wind;Rain", ";°F;%;kn;mm/h", *rows]))
    assert [one.at[11:16] for one in found] == ["13:00", "13:10"]
    assert found[0].wind_speed_ms == pytest.approx(12 * 0.514444)
    assert found[0].air_temp_c == pytest.approx((19 - 32) / 1.8)
    assert [one.rain_mm_h for one in found] == [0.5, 0.0]


def test_a_forecast_as_somebody_types_it_is_read() -> None:
    data = (Path(__file__).parents[1] / "cases" / "forecast_rain_from_70.csv").read_bytes()
    layout = look_at_weather(data)
    found = read_weather_csv(data, layout, DAY)
    assert len(found) == 22
    assert found[0].wind_speed_ms == pytest.approx(12 / 3.6)
    assert max(one.rain_mm_h for one in found) > 0.0


@pytest.mark.parametrize("data", [b"," * 4_900_000, b",\n" * 2_000_000, b"a," * 2_000_000])
def test_what_is_no_table_is_refused_at_a_glance(data: bytes) -> None:
    with pytest.raises(InputRefused, match="readings"):
        look_at_weather(data)
