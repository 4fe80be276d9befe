"""What is said of the weather: in a person's units, no more than would be noticed."""

import pytest

from neapfrost.core.weather.flips import Flip
from neapfrost.formats.plan import ConditionsDocument
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.weather import (
    describe_alike_until,
    describe_call,
    describe_flip,
    describe_separation,
    describe_since,
    describe_wait,
    describe_weather_moved,
    format_lap_time,
)

METRIC, FEET = Saying("metric"), Saying("feet")
AT = "2031-05-17T13:40:00"
AIR = ConditionsDocument(wind_speed_ms=4.0, wind_from_deg=350.0)


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        (("brake", 40.0), ("brake", 46.0), "Sluice: brake 6 m earlier from 13:40"),
        (("brake", 40.0), ("brake", 33.0), "Sluice: brake 7 m later from 13:40"),
        (("flat", None), ("lift", None), "Sluice is no longer flat from 13:40: lift"),
        (("flat", None), ("brake", -8.0), "Sluice is no longer flat from 13:40: brake 8 m into it"),
        (("lift", None), ("flat", None), "Sluice is flat from 13:40"),
        (("lift", None), ("brake", 12.0), "Sluice needs braking from 13:40: brake 12 m"),
        (("brake", 12.0), ("lift", None), "Sluice needs only a lift from 13:40"),
        (("brake", 12.0), ("through", None), "Sluice needs no lift from 13:40"),
    ],
)
def test_a_call_that_flips_is_said_as_what_to_do_from_when(
    before: tuple[str, float | None], after: tuple[str, float | None], said: str
) -> None:
    what = "braking" if before[0] == after[0] else "action"
    flip = Flip(0.0, what, before, after)  # type: ignore[arg-type]  # one of both, as text
    assert describe_flip("Sluice", flip, AT, False, METRIC).startswith(said)
    assert "from the start, 13:40" in describe_flip("Sluice", flip, AT, True, METRIC)


def test_lengths_and_winds_are_said_in_the_units_of_whoever_reads() -> None:
    flip = Flip(0.0, "braking", ("brake", 40.0), ("brake", 46.0))
    assert describe_flip("T1", flip, AT, False, FEET) == "T1: brake 20 ft earlier from 13:40"
    assert describe_call(("brake", 30.48), FEET) == "brake 100 ft before it"
    moved = AIR.model_copy(update={"wind_speed_ms": 8.0})
    assert describe_weather_moved(AIR, moved, METRIC) == "wind 4.0 m/s stronger"
    assert describe_weather_moved(AIR, moved, FEET) == "wind 9 mph stronger"
    warmer = AIR.model_copy(update={"track_temp_c": AIR.track_temp_c + 5.0})
    assert describe_weather_moved(AIR, warmer, METRIC) == "road 5 °C warmer"
    assert describe_weather_moved(AIR, warmer, FEET) == "road 9 °F warmer"


def test_what_nobody_would_notice_is_not_said_and_a_wind_turns_the_short_way() -> None:
    little = AIR.model_copy(
        update={"wind_from_deg": 5.0, "wetness_pct": 2.0, "air_temp_c": 21.0, "humidity_pct": 80.0}
    )
    assert describe_weather_moved(AIR, little, METRIC) == ""
    turned = AIR.model_copy(update={"wind_from_deg": 30.0, "wetness_pct": 20.0})
    said = describe_weather_moved(AIR, turned, METRIC)
    assert said == "wind turned 40°, the line 20 % wet instead of 0 %"
    calm = AIR.model_copy(update={"wind_speed_ms": 0.0, "wind_from_deg": 90.0})
    assert describe_weather_moved(AIR, calm, METRIC) == "wind 4.0 m/s weaker"
    green = AIR.model_copy(update={"rubber_factor": 0.98})
    assert describe_weather_moved(AIR, green, METRIC) == "2.0 % less rubber grip"


def test_since_a_plan_the_largest_move_is_named_and_every_other_action() -> None:
    moved = [
        ("A", Flip(0.0, "braking", ("brake", 40.0), ("brake", 46.0))),
        ("B", Flip(0.0, "braking", ("brake", 40.0), ("brake", 31.0))),
        ("C", Flip(0.0, "action", ("flat", None), ("lift", None))),
        ("D", Flip(0.0, "action", ("lift", None), ("brake", 5.0))),
    ]
    assert describe_since("wind turned 60°", moved, 0.412, METRIC) == (
        "Since this plan: wind turned 60°; 2 braking points moved, most at B: 9 m later; "
        "C no longer flat; D now needs braking; the lap 0.41 s slower."
    )
    assert describe_since("", moved[:1], -0.2, METRIC) == (
        "Since this plan: brake 6 m earlier for A; the lap 0.20 s quicker."
    )
    assert describe_since("", [], 0.001, METRIC) == "No change from the weather since this plan."


def test_until_when_one_can_wait_depends_on_what_a_reading_tells_first() -> None:
    pair = ("Dry", "Rain")
    earlier, later = "2031-05-17T13:20:00", "2031-05-17T14:00:00"
    assert "you can wait until then" in describe_wait(pair, earlier, later)
    assert "you can wait until then" in describe_wait(pair, later, later)
    assert "the decision is a guess" in describe_wait(pair, later, earlier)
    assert "no reading separates them" in describe_wait(pair, None, later)
    assert "need the same calls" in describe_wait(pair, earlier, None)
    assert describe_alike_until(later, later).startswith("The forecasts need different calls")
    assert describe_alike_until(later, earlier).startswith("Until 14:00 every forecast")
    told = describe_separation(pair, "wind_speed_ms", (2.0, 6.0), later, METRIC)
    assert told == ("Wind speed separates Dry from Rain at 14:00: 2.0 m/s against 6.0 m/s.")
    assert "68 °F against 77 °F" in describe_separation(pair, "air_temp_c", (20, 25), later, FEET)


def test_a_lap_time_never_shows_sixty_seconds() -> None:
    assert format_lap_time(59.996) == "1:00.00"
    assert format_lap_time(61.234) == "1:01.23"
    assert format_lap_time(9.5) == "0:09.50"
