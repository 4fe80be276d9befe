"""What the drill says: how far off, what it costs, when it comes back, calls and rhythm."""

from datetime import datetime, timedelta

import pytest

from neapfrost.core.drill.cards import Card, Figure
from neapfrost.core.drill.price import Price
from neapfrost.core.drill.rhythm import Beat, Held
from neapfrost.core.drill.scoring import Score
from neapfrost.demo.plans import composed
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.words.drill import (
    describe_call,
    describe_due,
    describe_held,
    describe_knows,
    describe_off,
    describe_price,
    describe_question,
    describe_rhythm,
    describe_verdict,
    describe_word,
    lap_label,
    price_words,
)
from neapfrost.services.words.saying import Saying

METRIC, FEET = Saying(), Saying("feet")
NOON = datetime(2026, 3, 2, 12, 0)


@pytest.mark.parametrize(
    ("name", "off", "metric", "feet"),
    [
        ("to_corner_m", 7.0, "7 m early", "23 ft early"),
        ("to_corner_m", -7.0, "7 m late", "23 ft late"),
        ("throttle_after_m", 4.0, "4 m late", "13 ft late"),
        ("min_speed_ms", -2.0, "7 km/h slow", "4 mph slow"),
        ("min_speed_ms", 2.0, "7 km/h fast", "4 mph fast"),
        ("peak_decel_g", -0.3, "0.3 g soft", "0.3 g soft"),
        ("braking_distance_m", 8.0, "8 m long", "26 ft long"),
        ("to_corner_m", 0.3, "", "1 ft early"),
    ],
)
def test_how_far_off_an_answer_is(name: str, off: float, metric: str, feet: str) -> None:
    figure = Figure(name, 50.0, 45.0, 55.0)
    assert (describe_off(figure, off, METRIC), describe_off(figure, off, FEET)) == (metric, feet)


def test_the_verdict_names_the_dangerous_side_before_all_else() -> None:
    assert describe_verdict(Score((), True, True, False), ["", ""]) == "Right."
    assert describe_verdict(Score((), False, True, False), ["9 m early"]) == "Close: 9 m early."
    assert describe_verdict(Score((), False, True, True), ["9 m late"]) == (
        "On the dangerous side: 9 m late."
    )
    assert describe_verdict(Score((), False, False, False), []) == "Wrong."


def test_a_price_is_a_cost_or_what_an_error_asks_for() -> None:
    assert describe_price([Price(cost_s=0.1234)], METRIC) == "Costs 0.123 s a lap."
    assert price_words([Price(too_fast_ms=3.0), Price(grip_more_pct=6.4)], METRIC) == (
        "11 km/h too fast at the turn-in, needs 6 % more grip than there is"
    )
    assert describe_price([Price(over_rpm=812.0)], METRIC) == "812 rpm over the limit."
    # What rounds to nothing is not said.
    nothing = [Price(cost_s=0.0004), Price(too_fast_ms=0.05), Price(grip_more_pct=0.3), Price()]
    assert describe_price(nothing, METRIC) == ""


@pytest.mark.parametrize(
    ("gap", "said"),
    [
        (timedelta(seconds=20), "again straight away"),
        (timedelta(minutes=1), "again in 1 minute"),
        (timedelta(minutes=10), "again in 10 minutes"),
        (timedelta(hours=3), "again in 3 hours"),
        (timedelta(days=1), "again tomorrow"),
        (timedelta(days=16), "again in 16 days"),
    ],
)
def test_when_a_card_comes_back(gap: timedelta, said: str) -> None:
    assert describe_due(NOON + gap, NOON) == said


def test_questions_are_of_a_corner_and_of_what_is_missing() -> None:
    brake = Card(0, "brake")
    assert describe_question(brake, "Sluice", False, None) == "Sluice: where do you brake?"
    assert describe_question(brake, "Sluice", True, None) == "Sluice: where do you lift?"
    assert describe_question(brake, "Sluice", False, "100") == (
        "The 100 is missing. Sluice: where do you brake?"
    )
    assert (describe_word("gear", "2"), describe_word("action", "lift")) == ("2nd", "lift only")
    assert describe_word("kerb", "take it") == "take it"
    assert lap_label(None, 0) == "The plan"
    assert lap_label("new", 1) == "Lap 1 on the day, never driven here"
    assert describe_knows(9, 9).startswith("All 9 corners")
    assert describe_knows(3, 9).startswith("3 of 9 corners")


def test_calls_say_what_is_done_in_the_order_of_doing_it() -> None:
    corners = {one.name: one for one in predict_lap(composed("k4-samphire")).corners}
    braked = corners["Saltern"]
    assert braked.board_call is not None
    call = describe_call(braked, METRIC)
    assert call.startswith(f"Saltern right: brake {braked.board_call.metres:.0f} ")
    assert call.endswith(f", {braked.min_speed_ms * 3.6:.0f}")
    assert describe_call(corners["Sea Holly"], METRIC) == "Sea Holly left: flat"
    assert ": lift only, 3rd, " in describe_call(corners["Tide Gate"], METRIC)


def test_presses_are_told_in_tenths_and_metres() -> None:
    beat = Beat(0, "brake", 100.0, 5.0)
    late = Held(beat, 0.24, 12.4, False, True)
    early = Held(beat, -0.31, -15.0, False, False)
    held = [late, early, Held(beat, 0.02, 1.0, True, False), Held(beat, None, None, False, False)]
    assert [describe_held(one, METRIC) for one in held] == [
        "0.2 s late, 12 m",
        "0.3 s early, 15 m",
        "in time",
        "not pressed",
    ]
    assert describe_rhythm(held, 2, 0.12) == (
        "1 of 4 in time with the plan, 1 on the dangerous side; 2 extra presses. "
        "Early on the brakes and late on the throttle cost 0.12 s."
    )
    assert describe_rhythm(held[2:3], 0, 0.0) == "1 of 1 in time with the plan."
