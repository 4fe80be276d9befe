"""A plan's calls against the same thing asked for and solved alone; their words; the race."""

import math

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.path.ring import Ring
from neapfrost.core.working.record import evaluate
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.corners.calls import corner_calls
from neapfrost.services.corners.map import corner_map
from neapfrost.services.corners.racing import racing
from neapfrost.services.corners.workings import plan_workings, put_in
from neapfrost.services.corners.worth import lap_worth
from neapfrost.services.laps.predict import predict_lap, recall
from neapfrost.services.words.corners import describe_reference, sentence_for
from neapfrost.services.words.saying import Saying


def demo(plan_id: str) -> PlanDocument:
    plan = demo_plan(plan_id)
    assert plan is not None
    return plan.document


def ordered(plan: PlanDocument, corner: int, **order: float) -> PlanDocument:
    name = recall(plan, None).result.corners[corner].name
    value = plan.model_dump(mode="json")
    value["corners"] = [*value["corners"], {"corner": corner, "name": name, **order}]
    return plan_from_object(value)


@pytest.fixture(scope="module")
def k4() -> PlanDocument:
    return demo("k4-dry")


def test_gears_cost_what_a_plan_that_asks_for_them_costs(k4: PlanDocument) -> None:
    planned = predict_lap(k4)
    calls = corner_calls(k4, 6)
    assert calls.gear is not None
    reached = [option for option in calls.gear.options if option.reached]
    assert len(reached) == 4
    for option in reached:
        alone = predict_lap(ordered(k4, 6, gear=option.gear))
        assert alone.corners[6].gear == option.gear
        assert option.against_plan_s == pytest.approx(
            alone.lap_time_s - planned.lap_time_s, abs=1e-4
        )
        assert len(option.downshifts) == len(alone.corners[6].downshifts)
    assert calls.gear.reason.startswith("3rd is quickest, at 5794 rpm; 2nd at")
    assert calls.sentence == (
        "Look for the 100 board. Brake 13 m past it for 106 m. Down 6 to 3. Turn in at 105, "
        "minimum 92, throttle 38 m after."
    )


def test_a_corner_says_what_it_leads_onto(k4: PlanDocument) -> None:
    assert corner_calls(k4, 7).into_next == (
        "215 m to the braking point for Withy, up to 4th, 161 km/h there."
    )
    hill = demo("dunlin-hill")
    last = len(recall(hill, None).result.corners) - 1
    assert "to the finish" in corner_calls(hill, last).into_next


def test_schools_of_braking_cost_what_a_plan_that_asks_for_them_costs(k4: PlanDocument) -> None:
    planned = predict_lap(k4)
    calls = corner_calls(k4, 3)
    assert calls.braking is not None
    by_school = {option.school: option for option in calls.braking.options}
    assert by_school["planned"].order is None
    for school in ("straight", "trail", "gentle"):
        order = by_school[school].order
        assert order is not None
        alone = predict_lap(ordered(k4, 3, **{order.field: order.value}))
        assert by_school[school].cost_s == pytest.approx(
            alone.lap_time_s - planned.lap_time_s, abs=1e-6
        )
        assert by_school[school].braking_distance_m == pytest.approx(
            alone.corners[3].braking_distance_m
        )
    assert "costs" in calls.braking.reason
    assert calls.braking.shape.startswith("Brake at 100 %, ease off after")
    late = corner_calls(k4, 1).braking
    assert late is not None
    assert late.options[0].turn_in_m < 0.0
    assert late.shape.endswith("all after turn-in.")
    downhill = corner_calls(k4, 6).braking
    assert downhill is not None
    assert (
        downhill.road
        == "Downhill 6.0 %: brake 6 m earlier than level; through a dip: 3 m later than without"
    )


def test_a_threshold_of_the_flat_call_is_where_the_answer_changes(k4: PlanDocument) -> None:
    calls = corner_calls(k4, 1)
    grip = next(one for one in calls.flat.thresholds if one.figure == "grip")
    assert calls.flat.action == "brake"
    assert grip.action == "lift"
    assert grip.said == f"lift with {100 * (grip.value - 1):.1f} % more grip"
    for factor, action in ((grip.value - 0.004, "brake"), (grip.value + 0.004, "lift")):
        value = k4.model_dump(mode="json")
        value["conditions"]["grip_factor"] *= factor
        assert predict_lap(plan_from_object(value)).corners[1].action == action
    assert "too fast on full throttle" in calls.flat.reason


def test_an_order_is_marked_with_its_price_and_is_still_the_plan_s(k4: PlanDocument) -> None:
    slippery = ordered(k4, 0, grip_factor=0.9, driven_radius_m=30.0)
    calls = corner_calls(slippery, 0)
    prices = {one.field: one.cost_s for one in calls.orders}
    assert set(prices) == {"grip_factor", "driven_radius_m"}
    without = ordered(k4, 0, driven_radius_m=30.0)
    assert prices["grip_factor"] == pytest.approx(
        predict_lap(slippery).lap_time_s - predict_lap(without).lap_time_s, abs=1e-6
    )
    assert (prices["grip_factor"] or 0.0) > 0.0 > (prices["driven_radius_m"] or 0.0)
    # The circuit itself is left as it is; other plans on it keep their radius.
    assert slippery.circuit == k4.circuit
    assert predict_lap(slippery).length_m != predict_lap(k4).length_m


def describe_test_what_cannot_be_driven_or_is_gone_is(k4: PlanDocument) -> None:
    flat = predict_lap(ordered(k4, 5, gear=3))
    assert any("gear 3 is set and cannot be used" in warning for warning in flat.warnings)
    value = k4.model_dump(mode="json")
    value["corners"] = [{"corner": 40, "name": "Nowhere", "gear": 2}]
    lost = predict_lap(plan_from_object(value))
    assert any("Nowhere" in warning for warning in lost.warnings)
    assert lost.lap_time_s == predict_lap(k4).lap_time_s
    with pytest.raises(InputRefused, match="this lap has 11 corners"):
        corner_calls(k4, 11)


def test_words_follow_the_units(k4: PlanDocument) -> None:
    feet = corner_calls(k4, 6, "feet")
    assert "for 348 ft" in feet.sentence
    assert "minimum 57" in feet.sentence
    assert describe_reference("100") == "the 100 board"
    assert describe_reference("reed seam") == "the reed seam"
    flat = recall(k4, None).result.corners[5]
    assert sentence_for(flat, Saying(), Ring(3988.0, True)).startswith("Flat. Minimum 201 km/h")


def test_worth_ranks_every_corner_and_says_where_the_rankings_part(k4: PlanDocument) -> None:
    worth = lap_worth(k4)
    assert sorted(one.time_rank for one in worth.corners) == list(range(1, 12))
    assert worth.corners[5].per_min_speed_s is None  # flat: nothing is held back
    assert all(one.per_exit_speed_s is not None for one in worth.corners)
    assert worth.rankings.startswith(
        "Most time is spent in Bittern; exit speed matters most out of"
    )
    assert worth.complexes == []


def test_linked_corners_have_an_exchange_rate_in_words() -> None:
    plan = demo("k4-samphire")
    worth = lap_worth(plan)
    assert worth.complexes
    one = worth.complexes[0]
    assert " act as one corner: " in one.said
    trade = one.trades[0]
    assert trade.break_even is not None
    assert f"{trade.break_even:.2f} m gained per m given up" in trade.said
    assert "1 km/h given up in" in trade.said


def test_a_race_is_the_plan_with_its_figures_changed(k4: PlanDocument) -> None:
    told = racing(k4)
    assert told.fuel_kg == k4.car.fuel_capacity_kg
    planned = predict_lap(k4)
    value = k4.model_dump(mode="json")
    value["car"]["fuel_kg"] = told.fuel_kg
    heavy = predict_lap(plan_from_object(value))
    by_state = {state.state: state for state in told.states}
    assert by_state["fuel"].lap_s == pytest.approx(heavy.lap_time_s - planned.lap_time_s, abs=1e-6)
    behind = by_state["behind"].corners
    assert behind is not None
    fastest = max(range(11), key=lambda n: planned.corners[n].min_speed_ms)
    slowest = min(range(11), key=lambda n: planned.corners[n].min_speed_ms)
    assert behind[1].slower_ms > behind[slowest].slower_ms > 0.0
    assert behind[fastest].action in ("flat", "lift", "brake")


@pytest.mark.parametrize("plan_id", ["k4-dry", "garganey-samphire", "dunlin-heath"])
def test_workings_as_shown_give_what_they_say(plan_id: str) -> None:
    """The very text with its values put in, worked out again, is the line's value."""
    plan = demo(plan_id)
    result = recall(plan, None).result
    for corner in (0, 1, len(result.corners) - 1):
        for working in plan_workings(plan, corner):
            for step in working.steps:
                by_hand = evaluate(step.put_in.replace("−", "-"), {})
                # Five digits go in; differences of large figures lose some of them.
                assert by_hand == pytest.approx(
                    step.value, rel=3e-3, abs=max(2e-3 * abs(step.value), 0.02)
                ), f"{working.figure}: {step.symbol} = {step.put_in}"


def test_values_put_in_keep_their_brackets() -> None:
    assert put_in("m·(v² − κ)", {"m": 2.0, "v": 3.0, "κ": -1.0}) == "2·(3² − (−1))"
    assert put_in("cos(β)", {"β": -0.0}) == "cos(0)"
    assert put_in("N_0/N_ref", {"N_0": 12345.678, "N_ref": 1.0}) == "12345.7/1"


def test_a_corner_is_drawn_to_scale_with_its_approach_up_the_page(k4: PlanDocument) -> None:
    drawn = corner_map(k4, 6)
    result = recall(k4, None).result.corners[6]
    assert drawn.line.y_m[5] > drawn.line.y_m[0]
    assert abs(drawn.line.x_m[5] - drawn.line.x_m[0]) < 0.5
    steps = [
        math.hypot(x1 - x0, y1 - y0)
        for x0, x1, y0, y1 in zip(
            drawn.line.x_m, drawn.line.x_m[1:], drawn.line.y_m, drawn.line.y_m[1:], strict=False
        )
    ]
    assert steps == pytest.approx([2.0] * len(steps), abs=0.05)
    assert drawn.driven_radius_m == pytest.approx(42.0, rel=0.01)
    marks = {mark.what: mark.at_m for mark in drawn.marks}
    assert marks["brake"] == result.brake_start_at_m
    assert marks["slowest"] == result.min_speed_at_m
    assert [board.label for board in drawn.boards if board.chosen] == ["100"]
    assert drawn.left is None
    assert drawn.approach == "from the left"


def test_on_a_road_the_edges_and_the_line_s_own_side_are_drawn() -> None:
    plan = demo("garganey-samphire")
    drawn = corner_map(plan, 3)
    assert drawn.left is not None
    assert drawn.right is not None
    gap = [
        math.hypot(a - b, c - d)
        for a, b, c, d in zip(
            drawn.left.x_m, drawn.right.x_m, drawn.left.y_m, drawn.right.y_m, strict=True
        )
    ]
    assert min(gap) > 6.0
    assert drawn.offsets_m is not None
    assert drawn.approach == "from the left"
