"""Cards, scores, prices, spacing, orders, rhythm and calls, against hand-made cases."""

from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import course, lap_of, plain_vehicle, road_car
from neapfrost.core.drill.cards import (
    KINDS,
    SAID_M,
    Beside,
    Card,
    Choice,
    Figure,
    Spread,
    band,
    cards_of,
    gear_choice,
    seen_choice,
)
from neapfrost.core.drill.order import choices, corners_in_order, kinds_asked, sector_of
from neapfrost.core.drill.price import (
    brake_early,
    brake_late,
    faster,
    in_gear,
    price_of_figure,
    slower,
    throttle_late,
)
from neapfrost.core.drill.rhythm import Beat, Press, beats_of, held_against
from neapfrost.core.drill.scoring import Score, grade, score_choice, score_figures
from neapfrost.core.drill.spacing import KNOWN_SHARE, after_answer, hold
from neapfrost.core.drill.spoken import AHEAD_S, WORDS_PER_S, begins_s
from neapfrost.core.drill.standing import Learned, Standing, corner_hold, standing, weakest
from neapfrost.core.lap.boards import Mark
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.drive import CornerOrder
from neapfrost.core.lap.solve import solve
from neapfrost.core.path.circuit import Bend, Straight
from neapfrost.core.path.ring import Ring

MONDAY = datetime(2026, 3, 2, 18, 0)
#: A straight, a quarter turn, a straight, a second quarter turn, and a way out.
STRAIGHT_M, RADIUS_M = 500.0, 40.0
ARC_M = RADIUS_M * np.pi / 2.0


def driven_over(first_m: float, arc_m: float, second_m: float, **changes: object) -> DrivenLap:
    """A lap of an open course whose first corner may be longer than a quarter turn."""
    circuit = course(
        Straight(first_m),
        Bend("One", -1, RADIUS_M, float(np.degrees(arc_m / RADIUS_M))),
        Straight(second_m),
        Bend("Two", 1, 30.0, 90.0),
        Straight(150.0),
        start_speed_ms=30.0,
    )
    lap = lap_of(circuit, plain_vehicle(**changes), step_m=0.5)
    return DrivenLap(lap, corner_results(lap, []))


@pytest.fixture(scope="module")
def driven() -> DrivenLap:
    return driven_over(STRAIGHT_M, ARC_M, 300.0)


@pytest.mark.parametrize("early_m", [8.0, 25.0])
def test_braking_early_costs_what_the_lap_costs_that_is_slow_so_much_sooner(
    driven: DrivenLap, early_m: float
) -> None:
    # Held at the minimum speed for so much longer: the corner begins so much sooner.
    alone = driven_over(STRAIGHT_M - early_m, ARC_M + early_m, 300.0)
    cost = alone.lap.lap_time_s - driven.lap.lap_time_s
    assert brake_early(driven, 0, early_m).cost_s == pytest.approx(cost, rel=0.05)
    assert brake_early(driven, 0, 0.0).cost_s is None


@pytest.mark.parametrize("late_m", [6.0, 15.0])
def test_a_late_throttle_costs_what_the_lap_costs_that_is_slow_so_much_longer(
    driven: DrivenLap, late_m: float
) -> None:
    alone = driven_over(STRAIGHT_M, ARC_M + late_m, 300.0 - late_m)
    cost = alone.lap.lap_time_s - driven.lap.lap_time_s
    assert throttle_late(driven, 0, late_m).cost_s == pytest.approx(cost, rel=0.05)


@pytest.mark.parametrize("share", [0.97, 0.9])
def test_a_slower_corner_costs_what_its_lap_with_less_grip_there_costs(
    driven: DrivenLap, share: float
) -> None:
    own = driven.corners[0].min_speed_ms
    # On the flat without downforce the speed goes with the root of the grip.
    orders = (CornerOrder(0, None, None, None, share**2),)
    alone = solve(replace(driven.drive, orders=orders, road=None))
    assert alone.v_ms[np.abs(alone.s_m - STRAIGHT_M - 10.0).argmin()] == pytest.approx(
        share * own, rel=0.01
    )
    cost = alone.lap_time_s - driven.lap.lap_time_s
    assert slower(driven, 0, share * own).cost_s == pytest.approx(cost, rel=0.05)
    assert slower(driven, 0, own * 1.01).cost_s is None


def test_the_dangerous_side_has_no_price_but_says_what_it_asks_for(driven: DrivenLap) -> None:
    corner = driven.corners[0]
    late = brake_late(driven, 0, 10.0)
    # At a constant deceleration the excess follows from v² = v0² + 2 a d.
    turn_in = corner.turn_in_speed_ms
    decel = 1.5 * 9.80665
    assert late.cost_s is None
    assert late.too_fast_ms == pytest.approx(
        np.sqrt(turn_in**2 + 2 * decel * 10.0) - turn_in, rel=0.02
    )
    assert faster(driven, 0, 1.1 * corner.min_speed_ms).grip_more_pct == pytest.approx(21.0)
    figure = Figure("to_corner_m", 60.0, 57.0, 63.0, "below")
    assert price_of_figure(driven, 0, figure, 50.0) == brake_late(driven, 0, 10.0)
    assert price_of_figure(driven, 0, figure, 70.0) == brake_early(driven, 0, 10.0)
    early_power = Figure("throttle_after_m", 5.0, 0.0, 10.0, "below")
    assert price_of_figure(driven, 0, early_power, 1.0).cost_s is None


def test_a_gear_is_priced_by_its_lap_and_refused_beyond_the_revs() -> None:
    circuit = course(
        Straight(400.0), Bend("One", 1, 35.0, 90.0), Straight(300.0), start_speed_ms=25
    )
    lap = lap_of(circuit, road_car(), step_m=1.0)
    found = DrivenLap(lap, corner_results(lap, []))
    planned = found.corners[0].gear
    higher = in_gear(found, 0, planned + 1)
    assert higher.cost_s is not None
    assert higher.cost_s > 0.0
    assert in_gear(found, 0, planned).cost_s == pytest.approx(0.0, abs=1e-4)
    assert (in_gear(found, 0, 1).over_rpm or 0.0) > 0.0


def test_what_is_asked_of_a_corner_follows_from_what_is_done_there(driven: DrivenLap) -> None:
    begins = driven.corners[0].begins_at_m
    marks = [Mark("100", "One", begins - 100.0), Mark("50", "One", begins - 50.0)]
    corners = corner_results(driven.lap, marks)
    spread = Spread((40.0, 70.0), (14.0, 15.5), ((1, 100.0),))
    beside = Beside("the gate", "take it", "")
    cards = cards_of(0, corners, marks, spread, beside, Ring(driven.lap.path.length_m, False))
    kinds = [card.kind for card in cards]
    assert kinds == sorted(kinds, key=KINDS.index)
    assert {"action", "see", "look", "brake", "effort", "gear", "speed", "kerb", "next"} <= set(
        kinds
    )
    assert "limit" not in kinds
    by_kind = {card.kind: card for card in cards}
    assert by_kind["action"].choice == Choice(("brake",), ("flat", "lift"))
    assert by_kind["next"].choice == Choice(("Two, left",))
    seen = by_kind["see"].choice
    assert seen is not None
    assert corners[0].board_call is not None
    assert seen.right == (corners[0].board_call.label,)
    (brake,) = by_kind["brake"].figures
    assert brake.low <= brake.value - SAID_M
    assert (brake.dangerous, brake.high) == ("below", max(70.0, brake.value + SAID_M))
    last = cards_of(1, corners, marks, spread, beside, Ring(driven.lap.path.length_m, False))
    assert "next" not in [card.kind for card in last]


def test_nearer_boards_are_the_dangerous_ones(driven: DrivenLap) -> None:
    begins = driven.corners[0].begins_at_m
    start = driven.corners[0].brake_start_to_corner_m or 0.0
    marks = [
        Mark("far", "One", begins - start - 60.0),
        Mark("at it", "One", begins - start - 5.0),
        Mark("near", "One", begins - start + 40.0),
    ]
    corners = corner_results(driven.lap, marks)
    cards = cards_of(0, corners, marks, Spread(), Beside(), Ring(1000.0, False))
    (choice,) = [card.choice for card in cards if card.kind == "see"]
    assert choice == Choice(("at it",), ("near",))
    # With that one missing the farther one will do, and the nearer is dangerous as before.
    assert seen_choice("far", [marks[0], marks[2]], Ring(1000.0, False)) == Choice(
        ("far",), ("near",)
    )


@given(
    value=st.floats(0, 200),
    low=st.floats(0, 40),
    high=st.floats(0, 40),
    least=st.floats(0.1, 5),
    share=st.floats(0, 1),
)
def test_an_answer_inside_the_band_is_right_and_one_outside_is_not(
    value: float, low: float, high: float, least: float, share: float
) -> None:
    ends = band(value, (value - low, value + high), least)
    card = Card(0, "brake", (Figure("to_corner_m", value, *ends, "below"),))
    inside = ends[0] + share * (ends[1] - ends[0])
    assert score_figures(card, [inside]).inside
    late, early = score_figures(card, [ends[0] - 0.5]), score_figures(card, [ends[1] + 0.5])
    assert (late.inside, late.dangerous) == (False, True)
    assert (early.inside, early.dangerous) == (False, False)
    assert late.off[0] == pytest.approx(ends[0] - 0.5 - value)


def test_several_figures_are_right_only_together() -> None:
    card = Card(0, "effort", (Figure("a", 2.0, 1.8, 2.2), Figure("b", 80.0, 72.0, 88.0)))
    assert score_figures(card, [2.1, 75.0]).inside
    half = score_figures(card, [2.1, 65.0])
    assert (half.inside, half.near, half.dangerous) == (False, True, False)
    assert not score_figures(card, [2.1, 60.0]).near


def test_words_are_right_or_not_and_some_are_dangerous() -> None:
    card = Card(0, "action", choice=Choice(("brake",), ("flat",)))
    assert score_choice(card, "brake") == Score((), True, True, False)
    assert score_choice(card, "flat").dangerous
    assert not score_choice(card, "through").dangerous
    assert gear_choice(3, ((3, 70.0), (4, 22.0), (2, 8.0))).right == ("3", "4")


@pytest.mark.parametrize(
    ("score", "took_s", "how"),
    [
        (Score((), True, True, False), 2.0, "easy"),
        (Score((), True, True, False), 9.0, "good"),
        (Score((), True, True, False), None, "good"),
        (Score((), False, True, False), 2.0, "hard"),
        (Score((), False, True, True), 2.0, "forgotten"),
        (Score((), False, False, False), 2.0, "forgotten"),
    ],
)
def test_how_well_it_was_known(score: Score, took_s: float | None, how: str) -> None:
    assert grade(score, took_s) == how


def test_what_is_known_comes_back_later_each_time_and_what_is_not_at_once() -> None:
    first = after_answer(None, "good", MONDAY)
    assert first.due - MONDAY == timedelta(minutes=10)
    assert after_answer(None, "forgotten", MONDAY).due - MONDAY == timedelta(minutes=1)
    gaps, memory, at = [], first, first.due
    for _ in range(4):
        memory = after_answer(memory, "good", at)
        gaps.append(memory.due - at)
        at = memory.due
    assert gaps == sorted(gaps)
    assert gaps[-1] > timedelta(days=7)
    # It comes back when the chance to know it has fallen to what is asked for.
    assert hold(memory, memory.due) == pytest.approx(KNOWN_SHARE, abs=0.02)
    assert (
        hold(memory, memory.last)
        > hold(memory, memory.due)
        > hold(memory, memory.due + 5 * gaps[-1])
    )
    assert hold(None, MONDAY) == 0.0
    lapsed = after_answer(memory, "forgotten", at)
    assert lapsed.due - at == timedelta(minutes=10)


def learned(value: float, inside: bool = True, right: tuple[str, ...] = ()) -> Learned:
    return Learned(
        after_answer(None, "easy", MONDAY), inside, {"to_corner_m": value}, right, answers=1
    )


def test_a_card_is_due_again_when_the_plan_moved_it_by_more_than_its_band() -> None:
    card = Card(0, "brake", (Figure("to_corner_m", 80.0, 75.0, 86.0, "below"),))
    assert standing(card, None, MONDAY) == Standing("new", 0.0)
    assert standing(card, learned(78.0), MONDAY).state == "known"
    moved = standing(card, learned(90.0), MONDAY)
    assert (moved.state, moved.hold, moved.moved) == ("overtaken", 0.0, ("to_corner_m", 90.0))
    assert standing(card, learned(80.0, inside=False), MONDAY).state == "wrong"
    assert standing(card, learned(80.0), MONDAY + timedelta(days=200)).state == "due"
    gear = Card(0, "gear", choice=Choice(("3", "4")))
    assert standing(gear, learned(0.0, right=("4",)), MONDAY).state == "known"
    changed = standing(gear, learned(0.0, right=("2",)), MONDAY)
    assert (changed.state, changed.moved) == ("overtaken", ("", "2"))


def test_the_weakest_corners_are_those_that_sit_worst() -> None:
    held = [Standing("known", 0.9), Standing("new", 0.0), Standing("wrong", 0.0)]
    assert corner_hold(held) == pytest.approx(0.3)
    assert corner_hold([]) == 0.0
    assert weakest([0.9, 0.2, 0.2, 0.7], 3) == (1, 2, 3)


def test_orders_of_corners() -> None:
    sectors = [0, 0, 1, 2, 2]
    assert corners_in_order("lap", sectors, (4,), 1) == (0, 1, 2, 3, 4)
    assert corners_in_order("backwards", sectors, (4,), 1) == (3, 4, 2, 0, 1)
    assert corners_in_order("weak", sectors, (4, 1), 1) == (4, 1)
    drawn = corners_in_order("random", sectors, (), 7)
    assert sorted(drawn) == [0, 1, 2, 3, 4]
    assert drawn == corners_in_order("random", sectors, (), 7)
    assert {corners_in_order("random", sectors, (), seed) for seed in range(20)} != {drawn}
    assert [sector_of(at, (100.0, 200.0)) for at in (50.0, 100.0, 250.0)] == [0, 1, 2]
    assert kinds_asked("map", "all") == ("next",)
    assert kinds_asked("lap", "must") == ("brake", "gear", "speed")
    assert kinds_asked("lap", "kerb") == ("kerb",)


@given(st.lists(st.text(min_size=1, max_size=3), max_size=9), st.integers(0, 99))
def test_the_right_word_stands_once_among_others(others: list[str], seed: int) -> None:
    words = choices("right", others, 4, str(seed))
    assert words.count("right") == 1
    assert len(set(words)) == len(words) <= 4
    assert set(words) <= {"right", *others}


def test_presses_belong_to_the_nearest_beat_of_their_kind(driven: DrivenLap) -> None:
    lap = driven.lap
    beats = [beat for beat in beats_of(lap, driven.corners) if beat.deed in ("brake", "turn")]
    assert [(beat.corner, beat.deed) for beat in beats] == [
        (0, "brake"),
        (0, "turn"),
        (1, "brake"),
        (1, "turn"),
    ]
    first, _, second, _ = beats
    presses = [
        Press("brake", first.at_s + 0.4),
        Press("brake", first.at_s + 0.9),
        Press("brake", second.at_s - 0.5),
        Press("turn", 1e4),
    ]
    held, stray = held_against(lap, beats, presses, [4.0] * 4)
    assert held[0].off_s == pytest.approx(0.4)
    # From where one brakes on the speed is known: v t - a t² / 2.
    v, a = driven.corners[0].brake_start_speed_ms or 0.0, 1.5 * 9.80665
    assert held[0].off_m == pytest.approx(v * 0.4 - 0.5 * a * 0.4**2, rel=0.01)
    assert (held[0].inside, held[0].dangerous) == (False, True)
    assert held[2].off_s == pytest.approx(-0.5)
    assert not held[2].dangerous
    assert (held[1].off_s, held[1].inside) == (None, False)
    assert stray == (Press("turn", 1e4),)


def test_what_no_hand_presses_better_is_right_and_an_early_throttle_is_dangerous(
    driven: DrivenLap,
) -> None:
    lap, at_s = driven.lap, 8.0
    beats = [Beat(0, "throttle", float(np.interp(at_s, lap.t_s, lap.s_m)), at_s)]
    close, _ = held_against(lap, beats, [Press("throttle", at_s - 0.1)], [0.1])
    assert close[0].inside
    early, _ = held_against(lap, beats, [Press("throttle", at_s - 1.0)], [0.1])
    late, _ = held_against(lap, beats, [Press("throttle", at_s + 1.0)], [0.1])
    assert (early[0].dangerous, late[0].dangerous) == (True, False)


def test_calls_are_over_before_their_place_and_never_over_each_other() -> None:
    words = ["one two three", "four five six seven eight nine", "ten"]
    begins = begins_s([10.0, 11.0, 30.0], words, 60.0)
    assert begins[0] == pytest.approx(10.0 - AHEAD_S - 3 / WORDS_PER_S)
    # The second follows too closely: it comes as soon as the first has been said.
    assert begins[1] == pytest.approx(begins[0] + 3 / WORDS_PER_S)
    assert begins[2] == pytest.approx(30.0 - AHEAD_S - 1 / WORDS_PER_S)
