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
    call_said,
    due_said,
    held_said,
    knows_said,
    lap_label,
    off_said,
    price_said,
    price_words,
    question_said,
    rhythm_said,
    verdict_said,
    word_said,
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
    assert (off_said(figure, off, METRIC), off_said(figure, off, FEET)) == (metric, feet)


def test_the_verdict_names_the_dangerous_side_before_all_else() -> None:
    assert verdict_said(Score((), True, True, False), ["", ""]) == "Right."
    assert verdict_said(Score((), False, True, False), ["9 m early"]) == "Close: 9 m early."
    assert verdict_said(Score((), False, True, True), ["9 m late"]) == (
        "On the dangerous side: 9 m late."
    )
    assert verdict_said(Score((), False, False, False), []) == "Wrong."


def test_a_price_is_a_cost_or_what_an_error_asks_for() -> None:
    assert price_said([Price(cost_s=0.1234)], METRIC) == "Costs 0.123 s a lap."
    assert price_words([Price(too_fast_ms=3.0), Price(grip_more_pct=6.4)], METRIC) == (
        "11 km/h too fast at the turn-in, needs 6 % more grip than there is"
    )
    assert price_said([Price(over_rpm=812.0)], METRIC) == "812 rpm over the limit."
    # What rounds to nothing is not said.
    nothing = [Price(cost_s=0.0004), Price(too_fast_ms=0.05), Price(grip_more_pct=0.3), Price()]
    assert price_said(nothing, METRIC) == ""


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
    assert due_said(NOON + gap, NOON) == said


def test_questions_are_of_a_corner_and_of_what_is_missing() -> None:
    brake = Card(0, "brake")
    assert question_said(brake, "Sluice", False, None) == "Sluice: where do you brake?"
    assert question_said(brake, "Sluice", True, None) == "Sluice: where do you lift?"
    assert question_said(brake, "Sluice", False, "100") == (
        "The 100 is missing. Sluice: where do you brake?"
    )
    assert (word_said("gear", "2"), word_said("action", "lift")) == ("2nd", "lift only")
    assert word_said("kerb", "take it") == "take it"
    assert lap_label(None, 0) == "The plan"
    assert lap_label("new", 1) == "Lap 1 on the day, never driven here"
    assert knows_said(9, 9).startswith("All 9 corners")
    assert knows_said(3, 9).startswith("3 of 9 corners")


def test_calls_say_what_is_done_in_the_order_of_doing_it() -> None:
    corners = {one.name: one for one in predict_lap(composed("k4-samphire")).corners}
    braked = corners["Saltern"]
    assert braked.board_call is not None
    call = call_said(braked, METRIC)
    assert call.startswith(f"Saltern right: brake {braked.board_call.metres:.0f} ")
    assert call.endswith(f", {braked.min_speed_ms * 3.6:.0f}")
    assert call_said(corners["Sea Holly"], METRIC) == "Sea Holly left: flat"
    assert ": lift only, 3rd, " in call_said(corners["Tide Gate"], METRIC)


def test_presses_are_told_in_tenths_and_metres() -> None:
    beat = Beat(0, "brake", 100.0, 5.0)
    late = Held(beat, 0.24, 12.4, False, True)
    early = Held(beat, -0.31, -15.0, False, False)
    held = [late, early, Held(beat, 0.02, 1.0, True, False), Held(beat, None, None, False, False)]
    assert [held_said(one, METRIC) for one in held] == [
        "0.2 s late, 12 m",
        "0.3 s early, 15 m",
        "in time",
        "not pressed",
    ]
    assert rhythm_said(held, 2, 0.12) == (
        "1 of 4 in time with the plan, 1 on the dangerous side; 2 extra presses. "
        "Early on the brakes and late on the throttle cost 0.12 s."
    )
    assert rhythm_said(held[2:3], 0, 0.0) == "1 of 1 in time with the plan."
