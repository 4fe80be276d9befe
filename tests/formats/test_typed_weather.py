"""Forecasts in words become readings; what is not understood is named with its line."""

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.errors import InputRefused
from neapfrost.formats.typed_weather import EXPECTED, RAIN_MM_H, typed_forecasts
from neapfrost.formats.weather import ReadingDocument, WeatherDocument, seconds_of

BASE = ReadingDocument(
    at="2031-05-17T13:00:00", air_temp_c=17.0, track_temp_c=24.0, wind_speed_ms=3.0
)


def one(text: str) -> WeatherDocument:
    (found,) = typed_forecasts(text, BASE)
    return found


def rain(text: str) -> list[tuple[float, float]]:
    """Minutes and rates of a forecast, without its end."""
    return [
        ((seconds_of(reading.at) - seconds_of(BASE.at)) / 60.0, reading.rain_mm_h)
        for reading in one(text).readings[:-1]
    ]


def test_the_sentence_of_a_race_engineer_is_a_forecast() -> None:
    found = one("dry, then rain from minute 70, 4 mm/h, 40 %")
    assert found.name == "Dry, then rain from minute 70, 4 mm/h"
    assert found.chance_pct == 40.0
    assert [reading.at[11:16] for reading in found.readings] == ["13:00", "14:10", "16:00"]
    assert [reading.rain_mm_h for reading in found.readings] == [0.0, 4.0, 4.0]
    assert {reading.air_temp_c for reading in found.readings} == {17.0}


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("dry", [(0.0, 0.0)]),
        ("Rain", [(0.0, 4.0)]),
        ("heavy rain from 14:30", [(0.0, 0.0), (90.0, 10.0)]),
        ("dry until 14:30, then drizzle", [(0.0, 0.0), (90.0, 0.5)]),
        ("rain from minute 20 until minute 45", [(0.0, 0.0), (20.0, 4.0), (45.0, 0.0)]),
        ("rain from 20 min for 25 minutes, 6,5 mm/h", [(0.0, 0.0), (20.0, 6.5), (45.0, 0.0)]),
        ("40%: shower at minute 30", [(0.0, 0.0), (30.0, 4.0), (45.0, 0.0)]),
        ("light rain after 1.5 h; 0.1 in/h", [(0.0, 0.0), (90.0, 2.54)]),
        (
            "rain from minute 10, then dry from minute 40, then heavy rain from minute 60",
            [(0.0, 0.0), (10.0, 4.0), (40.0, 0.0), (60.0, 10.0)],
        ),
        # A time of day before the reading's is tomorrow's.
        ("rain from 12:00", [(0.0, 0.0), (23 * 60.0, 4.0)]),
    ],
)
def test_rain_comes_and_goes_as_it_is_typed(text: str, expected: list[tuple[float, float]]) -> None:
    found = rain(text)
    assert [minute for minute, _ in found] == pytest.approx([minute for minute, _ in expected])
    assert [rate for _, rate in found] == pytest.approx([rate for _, rate in expected])


def test_air_track_and_wind_are_read_in_any_unit() -> None:
    warm, windy = typed_forecasts(
        "68 °F, track 86F, wind 36 km/h from the north-east from minute 30\nwind 20 kn from 240°",
        BASE,
    )
    last = warm.readings[-1]
    found = [last.air_temp_c, last.track_temp_c, last.wind_speed_ms, last.wind_from_deg]
    assert found == pytest.approx([20.0, 30.0, 10.0, 45.0])
    assert warm.readings[0].wind_speed_ms == 3.0
    first = windy.readings[0]
    assert first.wind_speed_ms == pytest.approx(20.0 * 1852.0 / 3600.0)
    assert first.wind_from_deg == 240.0
    assert first.rain_mm_h == 0.0


def test_chances_that_are_not_typed_share_the_rest() -> None:
    found = typed_forecasts("dry, 40 %\nrain from minute 30\n\ndrizzle\n", BASE)
    assert [one.chance_pct for one in found] == [40.0, 30.0, 30.0]
    assert one("rain").chance_pct == 100.0


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "nothing was typed"),
        ("dry\nfog from minute 20", 'line 2: "fog from minute 20" is not understood'),
        ("dry, then rain", 'line 1: "then rain" has no time; write "from minute 70"'),
        ("rain from minute 40, then dry from minute 20", "lies before what is typed before it"),
        ("rain from minute 40 until minute 30", "ends before it begins"),
        ("rain from 25:10", "25:10 is no time of day"),
        ("wind 5 m/s from nowhere", '"nowhere" is no direction'),
        ("rain, 60 %\ndry, 50 %", "add up to 110 %"),
        ("rain from minute 70,4 mm/h", "is not understood"),
        ("300 °C", "300"),
    ],
)
def test_what_is_not_understood_is_named_with_its_line(text: str, told: str) -> None:
    with pytest.raises(InputRefused) as refused:
        typed_forecasts(text, BASE)
    assert told in " ".join(fault.message for fault in refused.value.faults)


@given(st.text(max_size=120) | st.sampled_from(EXPECTED.split(", ")))
def test_any_text_is_a_forecast_or_a_refusal(text: str) -> None:
    found: list[WeatherDocument] = []
    with suppress(InputRefused):
        found = typed_forecasts(text, BASE)
    assert all(len(weather.readings) > 1 and weather.name for weather in found)


@given(
    st.sampled_from(sorted(set(RAIN_MM_H) - {"dry"})),
    st.integers(1, 600),
    st.integers(1, 99),
    st.decimals(min_value=1, max_value=40, places=1),
)
def test_every_word_with_any_time_rate_and_chance(
    word: str, minute: int, chance: int, rate: object
) -> None:
    found = one(f"dry, then {word} from minute {minute}, {rate} mm/h, {chance} %")
    assert found.chance_pct == chance
    wet = next(reading for reading in found.readings if reading.rain_mm_h > 0.0)
    assert seconds_of(wet.at) - seconds_of(BASE.at) == 60.0 * minute
    assert wet.rain_mm_h == pytest.approx(float(str(rate)))
