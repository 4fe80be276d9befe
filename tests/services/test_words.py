"""Every sentence about a lap, from the facts it is made of, in every reader's units."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.lap.facts import (
    FuelBeyondTank,
    IdleGears,
    LightCrest,
    PowerLimited,
    SlowStart,
    StrayBraking,
    Unsettled,
    WeakBrakes,
)
from neapfrost.core.path.ring import Ring
from neapfrost.core.studies.braking import BrakingCall, BrakingOption
from neapfrost.core.studies.flat import FlatCall, Threshold
from neapfrost.core.studies.gear import GearCall, GearOption
from neapfrost.core.studies.hold import HoldCall, HoldOption
from neapfrost.core.studies.linked import Complex, Trade
from neapfrost.core.studies.stretch import Stretch
from neapfrost.core.studies.worth import Worth
from neapfrost.core.units import Units
from neapfrost.formats.result import BoardCallResult, CornerResultPart
from neapfrost.services.words.calls import (
    braking_reason,
    braking_shape,
    describe_road,
    describe_threshold,
    flat_reason,
    gear_reason,
    hold_reason,
    into_next,
)
from neapfrost.services.words.corners import (
    action_words,
    brake_moved,
    braking_label,
    braking_place,
    corner_words,
    describe_reference,
    gear_moved,
    racing_braking,
    sentence_for,
    speed_moved,
    throttle_after_m,
    was_words,
)
from neapfrost.services.words.lap import lap_time
from neapfrost.services.words.notes import (
    GearNotDriven,
    LostOrder,
    NoLineYet,
    Note,
    OpenRing,
    UnsettledLine,
    describe_note,
)
from neapfrost.services.words.saying import Saying, gear_word, seconds
from neapfrost.services.words.worth import describe_complex, describe_rankings, describe_trade

METRIC, FEET, YARDS = Saying("metric"), Saying("feet"), Saying("yards")
KMH = 1 / 3.6
BRAKED = CornerResultPart(
    name="Sedge",
    direction="right",
    action="brake",
    begins_at_m=940.0,
    ends_at_m=1010.0,
    angle_deg=90.0,
    turn_in_at_m=940.0,
    turn_in_speed_ms=100 * KMH,
    apex_at_m=975.0,
    min_speed_ms=72 * KMH,
    min_speed_at_m=970.0,
    limited_by="front",
    lateral_g=1.4,
    lift_at_m=860.0,
    brake_start_at_m=869.0,
    brake_start_to_corner_m=71.0,
    brake_start_speed_ms=216 * KMH,
    braking_distance_m=95.0,
    braking_time_s=2.0,
    peak_decel_g=1.6,
    brake_energy_kj=900.0,
    gear_before=6,
    gear=2,
    downshifts=[],
    throttle_at_m=974.0,
    full_throttle_at_m=1000.0,
    exit_speed_ms=101 * KMH,
    time_in_corner_s=3.0,
    board_call=BoardCallResult(label="100", metres=29.0, side="past"),
    grip_left_pct=None,
    overspeed_ms=20.0,
)
FLAT = BRAKED.model_copy(
    update={
        "action": "flat",
        "board_call": None,
        "gear": 5,
        "gear_before": 5,
        "brake_start_to_corner_m": None,
        "braking_distance_m": None,
    }
)
THROUGH = FLAT.model_copy(update={"action": "through", "trend": "rising"})
LIFTED = FLAT.model_copy(update={"action": "lift", "gear": 4})


def changed(corner: CornerResultPart, **fields: object) -> CornerResultPart:
    return corner.model_copy(update=fields)


@pytest.mark.parametrize(
    ("corner", "say", "expected"),
    [
        (
            BRAKED,
            METRIC,
            "Look for the 100 board. Brake 29 m past it for 95 m. Down 6 to 2. "
            "Turn in at 100, minimum 72, throttle 4 m after.",
        ),
        (
            BRAKED,
            FEET,
            "Look for the 100 board. Brake 95 ft past it for 312 ft. Down 6 to 2. "
            "Turn in at 62, minimum 45, throttle 13 ft after.",
        ),
        (
            changed(BRAKED, board_call=BoardCallResult(label="hut", metres=0.2, side="past")),
            METRIC,
            "Look for the hut. Brake at it for 95 m. Down 6 to 2. "
            "Turn in at 100, minimum 72, throttle 4 m after.",
        ),
        (
            changed(BRAKED, board_call=None, gear=6, throttle_at_m=970.2),
            METRIC,
            "Brake 71 m before the corner for 95 m. Stay in 6th. "
            "Turn in at 100, minimum 72, throttle at once.",
        ),
        (
            changed(BRAKED, board_call=None, brake_start_to_corner_m=-8.0, throttle_at_m=None),
            METRIC,
            "Brake 8 m into the corner for 95 m. Down 6 to 2. Turn in at 100, minimum 72.",
        ),
        (FLAT, METRIC, "Flat. Minimum 72 km/h, in 5th."),
        (FLAT, YARDS, "Flat. Minimum 45 mph, in 5th."),
        (THROUGH, METRIC, "Through, accelerating. Minimum 72 km/h."),
        (
            changed(THROUGH, trend="falling"),
            METRIC,
            "Still slowing for the next corner. Minimum 72 km/h.",
        ),
        (LIFTED, METRIC, "Lift only. Down 5 to 4. Minimum 72, throttle 4 m after."),
    ],
)
def test_a_corner_is_read_in_the_order_of_doing_it(
    corner: CornerResultPart, say: Saying, expected: str
) -> None:
    assert sentence_for(corner, say, Ring(2000.0, True)) == expected


@pytest.mark.parametrize(
    ("corner", "label", "place", "sentence"),
    [
        (
            BRAKED,
            "29 past 100",
            "29 m past 100",
            "Sedge, right: brake 29 m past 100, from 216 km/h, for 95 m; gear 6 to 2; "
            "minimum 72 km/h at 970 m; exit at 101 km/h.",
        ),
        (
            changed(BRAKED, board_call=None),
            "71 before corner",
            "71 m before the corner",
            "Sedge, right: brake 71 m before the corner, from 216 km/h, for 95 m; gear 6 to 2; "
            "minimum 72 km/h at 970 m; exit at 101 km/h.",
        ),
        (
            FLAT,
            "flat",
            "",
            "Sedge, right: flat; gear 5 held; minimum 72 km/h at 970 m; exit at 101 km/h.",
        ),
        (
            THROUGH,
            "through, accelerating",
            "",
            "Sedge, right: through, accelerating; gear 5 held; minimum 72 km/h at 970 m; "
            "exit at 101 km/h.",
        ),
    ],
)
def test_curve_table_and_sentence_say_one_thing(
    corner: CornerResultPart, label: str, place: str, sentence: str
) -> None:
    said = corner_words(corner, METRIC)
    assert (said.label, said.place, said.sentence) == (label, place, sentence)
    assert said.action in said.sentence


@given(
    ahead_m=st.floats(-60.0, 300.0),
    metres=st.floats(0.0, 200.0),
    side=st.sampled_from(["before", "past"]),
    units=st.sampled_from(["metric", "feet", "yards"]),
    board=st.booleans(),
)
def test_the_short_place_is_the_long_one_without_its_unit(
    ahead_m: float, metres: float, side: str, units: Units, board: bool
) -> None:
    say = Saying(units)
    call = (
        BoardCallResult.model_validate({"label": "100", "metres": metres, "side": side})
        if board
        else None
    )
    long, short = braking_place(call, ahead_m, say), braking_label(call, ahead_m, say)
    assert long.replace(f" {say.length_unit} ", " ").replace("the corner", "corner") == short
    assert not short.startswith("-")


def test_the_throttle_may_come_on_the_next_time_round() -> None:
    corner = changed(BRAKED, min_speed_at_m=1990.0, throttle_at_m=5.0)
    assert throttle_after_m(corner, Ring(2000.0, True)) == pytest.approx(15.0)
    assert throttle_after_m(changed(corner, throttle_at_m=None), Ring(2000.0, True)) is None


@pytest.mark.parametrize(
    ("label", "expected"),
    [
        ("100", "the 100 board"),
        ("hut", "the hut"),
        ("the white post", "the white post"),
        ("The hut", "The hut"),
        ("1A", "the 1A"),
    ],
)
def test_what_one_looks_for_is_named_as_it_is_called(label: str, expected: str) -> None:
    assert describe_reference(label) == expected


@pytest.mark.parametrize(
    ("action", "before", "trend", "earlier_m", "say", "expected"),
    [
        ("brake", "brake", None, 11.24, METRIC, "11.2 earlier"),
        ("brake", "brake", None, -11.24, METRIC, "11.2 later"),
        ("brake", "brake", None, 11.24, FEET, "36.9 earlier"),
        ("brake", "brake", None, 0.04, METRIC, "same"),
        # Less than a tenth of a metre, yet a tenth of a foot.
        ("brake", "brake", None, 0.04, FEET, "0.1 earlier"),
        ("brake", "flat", None, None, METRIC, "was flat"),
        ("flat", "brake", None, None, METRIC, "was braked"),
        ("flat", "lift", None, None, METRIC, "was lifted"),
        ("brake", "through", "rising", None, METRIC, "was through, accelerating"),
        ("flat", "through", "falling", None, METRIC, "was through, still slowing"),
        ("flat", "flat", None, None, METRIC, ""),
    ],
)
def test_how_a_braking_point_moved(
    action: str,
    before: str,
    trend: str | None,
    earlier_m: float | None,
    say: Saying,
    expected: str,
) -> None:
    assert brake_moved(action, before, trend, earlier_m, say) == expected


@pytest.mark.parametrize(
    ("faster_ms", "say", "expected"),
    [
        (1.0, METRIC, "3.6 faster"),
        (-1.0, METRIC, "3.6 slower"),
        (1.0, YARDS, "2.2 faster"),
        (0.01, METRIC, "same"),
        (0.0, METRIC, "same"),
    ],
)
def test_how_a_minimum_speed_moved(faster_ms: float, say: Saying, expected: str) -> None:
    assert speed_moved(faster_ms, say) == expected


@given(st.floats(-50.0, 50.0), st.sampled_from([METRIC, FEET, YARDS]))
def test_nothing_is_said_to_have_moved_by_nought(value: float, say: Saying) -> None:
    assert not speed_moved(value, say).startswith("0.0")
    assert not brake_moved("brake", "brake", None, value, say).startswith("0.0")


def test_a_gear_is_only_named_where_it_was_another() -> None:
    assert gear_moved(3, 3) == ""
    assert gear_moved(3, 4) == "was 4"


@pytest.mark.parametrize(
    ("action", "planned", "earlier_m", "expected"),
    [
        ("brake", "brake", 11.0, "11 m earlier"),
        ("brake", "brake", -2.0, "2 m later"),
        ("brake", "brake", 0.3, "same point"),
        ("lift", "flat", None, "lift only"),
        ("flat", "brake", 11.0, "flat"),
    ],
)
def test_how_a_race_brakes(
    action: str, planned: str, earlier_m: float | None, expected: str
) -> None:
    assert racing_braking(action, None, planned, earlier_m, METRIC) == expected


@pytest.mark.parametrize("action", ["brake", "flat", "lift", "through"])
@pytest.mark.parametrize("trend", ["rising", "falling", None])
def test_every_action_has_its_words_now_and_before(action: str, trend: str | None) -> None:
    assert action_words(action, trend)
    assert was_words(action, trend).startswith("was ")


def gear(number: int, cost_s: float | None, reached: bool = True) -> GearOption:
    return GearOption(number, 1000.0 * number, reached, cost_s, (), None, None, ())


@pytest.mark.parametrize(
    ("options", "quickest", "expected"),
    [
        (
            (gear(2, 0.0972), gear(3, 0.0), gear(4, 0.31)),
            3,
            "3rd is quickest, at 3000 rpm; 2nd at 2000 rpm costs 0.097 s.",
        ),
        ((gear(1, None, False), gear(2, 0.0)), 2, "2nd is quickest, at 2000 rpm; 1st is not "),
        ((gear(4, 0.0),), 4, "4th is quickest, at 4000 rpm."),
    ],
)
def test_why_a_gear(options: tuple[GearOption, ...], quickest: int, expected: str) -> None:
    assert gear_reason(GearCall(quickest, quickest, options)).startswith(expected)


def held(lower_s: float, upper_s: float, even: float | None, back: float | None) -> HoldCall:
    options = (HoldOption(4, 1, 0.4, 60.0, lower_s), HoldOption(5, 2, 0.0, 61.0, upper_s))
    return HoldCall(100.0, 400.0, 5, 5, 5, options, even, back)


@pytest.mark.parametrize(
    ("call", "expected"),
    [
        (
            held(0.12, 0.0, 0.31, None),
            "Take 5th: holding 4th costs 0.120 s over the 300 m; equal at a shift time of 0.31 "
            "s, yours is 0.10 s.",
        ),
        (
            held(0.0, 0.05, None, 42.0),
            "Hold 4th: taking 5th costs 0.050 s over the 300 m; the shift pays back after 42 m.",
        ),
        (
            held(0.0, 0.0001, None, None),
            "Taking 5th or holding 4th costs the same over the 300 m.",
        ),
        (held(0.0, 0.05, None, 0.4), "Hold 4th: taking 5th costs 0.050 s over the 300 m."),
    ],
)
def test_why_to_shift_once_more_or_not(call: HoldCall, expected: str) -> None:
    assert hold_reason(call, 0.1, METRIC) == expected


@pytest.mark.parametrize(
    ("threshold", "say", "expected"),
    [
        (Threshold("grip", 1.043, True, "flat"), METRIC, "flat with 4.3 % more grip"),
        (Threshold("grip", 0.9, False, "brake"), METRIC, "brake with 10.0 % less grip"),
        (Threshold("fuel", 12.4, True, "lift"), METRIC, "lift from 12 kg of fuel"),
        (Threshold("fuel", 12.4, False, "flat"), METRIC, "flat below 12 kg of fuel"),
        (
            Threshold("tailwind", 3.0, True, "brake"),
            METRIC,
            "brake when the tailwind passes 3.0 m/s",
        ),
        (
            Threshold("tailwind", 3.0, False, "flat"),
            FEET,
            "flat when the tailwind falls below 7 mph",
        ),
        (
            Threshold("tailwind", -3.0, True, "lift"),
            METRIC,
            "lift when the headwind falls below 3.0 m/s",
        ),
        (
            Threshold("tailwind", -3.0, False, "flat"),
            METRIC,
            "flat when the headwind passes 3.0 m/s",
        ),
    ],
)
def test_where_the_answer_turns(threshold: Threshold, say: Saying, expected: str) -> None:
    assert describe_threshold(threshold, say) == expected


TURN = Threshold("grip", 1.02, True, "flat")


@pytest.mark.parametrize(
    ("call", "expected"),
    [
        (FlatCall("flat", 12.4, None, 0.0, True, (TURN,)), "Flat with 12 % of the grip left."),
        (
            FlatCall("flat", 12.4, None, 0.0, False, ()),
            "Flat with 12 % of the grip left; no realistic grip, wind or fuel changes that.",
        ),
        (
            FlatCall("through", 31.0, None, 0.0, True, ()),
            "Through, accelerating, with 31 % of the grip left; none of the figures tried "
            "changes that.",
        ),
        (
            FlatCall("brake", None, 5.0, 0.0, True, (TURN,)),
            "Brake: 18 km/h too fast on full throttle.",
        ),
        (
            FlatCall("lift", None, 1.0, 0.0, True, (TURN,)),
            "Lift only: 4 km/h too fast on full throttle.",
        ),
        (
            FlatCall("through", None, 5.0, 0.0, True, (TURN,)),
            "Slowing for the next: 18 km/h too fast on full throttle.",
        ),
        (FlatCall("brake", None, None, 0.0, True, (TURN,)), "Not flat here."),
    ],
)
def test_why_flat_or_not(call: FlatCall, expected: str) -> None:
    assert flat_reason(call, METRIC) == expected


def pedal(school: str = "plan", cost_s: float = 0.0, **fields: object) -> BrakingOption:
    given = {
        "brake_start_to_corner_m": 71.0,
        "braking_distance_m": 95.0,
        "peak_effort_pct": 98.0,
        "mean_effort_pct": 88.0,
        "turn_in_m": 71.0,
        "turn_in_effort_pct": 40.0,
        "release_m": 50.0,
        "reapplied_m": (),
        "effort": (),
        **fields,
    }
    return BrakingOption(school, cost_s, **given)  # type: ignore[arg-type]  # of the test's own


def braked(*options: BrakingOption, **road: float) -> BrakingCall:
    given = {"grade_m": 0.0, "crest_m": 0.0, "steepest_pct": 0.0, **road}
    return BrakingCall(options, **given)


@pytest.mark.parametrize(
    ("option", "expected"),
    [
        (pedal(), "Brake at 98 %, ease off after 50 m, 40 % left at turn-in."),
        (pedal(turn_in_effort_pct=3.0), "Brake at 98 %, ease off after 50 m, off before turn-in."),
        (pedal(turn_in_effort_pct=None), "Brake at 98 %, ease off after 50 m, off before turn-in."),
        (pedal(turn_in_m=-4.0), "Brake at 98 %, ease off after 50 m, all after turn-in."),
        (
            pedal(reapplied_m=(60.0, 75.0)),
            "Brake at 98 %, ease off after 50 m, 40 % left at turn-in, again after 60 m and 75 m.",
        ),
    ],
)
def test_how_the_pedal_is_used(option: BrakingOption, expected: str) -> None:
    assert braking_shape(braked(option), METRIC) == expected


def test_what_other_ways_to_brake_cost() -> None:
    call = braked(pedal(), pedal("straight", 0.081), pedal("gentle", -0.004), pedal("trail", 0.0))
    expected = "Braking in a straight line costs 0.081 s; gently and early gains 0.004 s."
    assert braking_reason(call) == expected
    assert braking_reason(braked(pedal())) == ""


@pytest.mark.parametrize(
    ("road", "expected"),
    [
        ({}, ""),
        ({"grade_m": 0.7, "steepest_pct": -3.0}, ""),
        ({"grade_m": 6.2, "steepest_pct": -4.5}, "Downhill 4.5 %: brake 6 m earlier than level"),
        ({"grade_m": -3.0, "steepest_pct": 2.0}, "Uphill 2.0 %: brake 3 m later than level"),
        ({"crest_m": 2.0}, "Over a crest: 2 m earlier than without"),
        (
            {"grade_m": -3.0, "steepest_pct": 2.0, "crest_m": -1.6},
            "Uphill 2.0 %: brake 3 m later than level; through a dip: 2 m later than without",
        ),
    ],
)
def test_what_the_road_does_to_the_braking(road: dict[str, float], expected: str) -> None:
    assert describe_road(braked(pedal(), **road), METRIC) == expected


def onto(next_corner: int | None) -> Stretch:
    return Stretch(970.0, 1392.0, next_corner, 2, 5, 3, 0.0)


@pytest.mark.parametrize(
    ("stretch", "expected"),
    [
        (None, "Straight into Teal: no full throttle between."),
        (onto(None), "422 m to the finish, up to 5th."),
        (onto(1), "422 m to the braking point for Teal, up to 5th, 216 km/h there."),
        (onto(2), "422 m to Wren, up to 5th."),
    ],
)
def test_what_a_corner_leads_onto(stretch: Stretch | None, expected: str) -> None:
    corners = [BRAKED, changed(BRAKED, name="Teal"), changed(LIFTED, name="Wren")]
    assert into_next(corners, 0, stretch, METRIC) == expected


def worth(time_rank: int, exit_rank: int | None) -> Worth:
    return Worth(-0.05, -0.02, 0.03, 300.0, 4.0, time_rank, exit_rank)


@pytest.mark.parametrize(
    ("ranks", "expected"),
    [
        ([], ""),
        ([(1, None), (2, None)], ""),
        ([(1, 1), (2, 2)], "A matters most both ways."),
        ([(1, 2), (2, 1)], "Most time is spent in A; exit speed matters most out of B."),
        (
            [(1, 1), (2, 4), (3, 3), (4, 5), (5, 2)],
            "A matters most both ways; E as well matter more for exit speed than for time.",
        ),
    ],
)
def test_where_the_two_rankings_disagree(
    ranks: list[tuple[int, int | None]], expected: str
) -> None:
    found = tuple(worth(*pair) for pair in ranks)
    assert describe_rankings(found, list("ABCDE")) == expected


def test_corners_that_are_one_say_which_part_rules() -> None:
    corners = [BRAKED, changed(BRAKED, name="Teal", min_speed_ms=20.0)]
    said = describe_complex(Complex((0, 1), 1, 1, 1100.0, ()), corners, METRIC)
    assert said == (
        "Sedge and Teal act as one corner: Teal is the tightest part at 72 km/h, and the throttle "
        "belongs after Teal."
    )


def test_a_trade_is_priced_in_the_reader_s_units() -> None:
    found, names = [worth(1, 1), worth(2, 2)], ["Sedge", "Teal"]
    trade = Trade(0, 1, 0.004, 0.002, 2.0)
    assert describe_trade(trade, found, names, METRIC) == (
        "1 m of driven radius given up in Sedge costs 0.004 s and 1 m gained in Teal gains "
        "0.002 s: worth it from 2.00 m gained per m given up. 1 km/h given up in Sedge "
        "costs -0.014 s, 1 km/h more in Teal gains -0.014 s."
    )
    feet = describe_trade(trade, found, names, FEET)
    # A foot is 0.3048 of a metre, and so is its price.
    assert "1 ft of driven radius given up in Sedge costs 0.001 s" in feet
    assert "worth it from 2.00 ft gained" in feet
    without = Trade(0, 1, None, 0.002, None)
    assert describe_trade(without, found, names, METRIC).endswith(
        "one of them cannot be priced on its own."
    )


NOTES: list[tuple[Note, str, str]] = [
    (
        LightCrest(1210.0, 0.33),
        "Light over the crest at 1210 m: 33 % of the weight is left on the wheels there; settle "
        "before braking.",
        "3970 ft",
    ),
    (IdleGears((1,)), "Gear 1 is never used.", ""),
    (IdleGears((1, 2, 6)), "Gears 1, 2 and 6 are never used.", ""),
    (
        PowerLimited("Sedge"),
        "Sedge is limited by power: the engine cannot hold the speed that the tyres would allow "
        "there.",
        "",
    ),
    (
        WeakBrakes(860.0, 9_400.0, 11_250.0),
        "The brakes are too weak to reach the tyres' limit: 9.4 kN of 11.2 kN at 860 m.",
        "2822 ft",
    ),
    (FuelBeyondTank(60.0, 45.5), "60.0 kg of fuel is more than the tank's 45.5 kg.", ""),
    (
        StrayBraking(500.0),
        "Braking at 500 m is not for a corner: a crest or a change of grip requires it.",
        "1640 ft",
    ),
    (
        Unsettled(),
        "The flying lap has not settled exactly; the last iteration is shown.",
        "",
    ),
    (
        SlowStart(50.0, 30.0),
        "The start speed of 180.0 km/h is more than the first metres allow; the lap starts at "
        "108.0 km/h.",
        "111.8 mph",
    ),
    (
        OpenRing(248.0, 1388.0),
        "The circuit does not close: its end misses its start by 248 m of 1388 m. A corner may be "
        "missing, or an angle wrong; see the closure in the Circuit view.",
        "814 ft of 4554 ft",
    ),
    (
        NoLineYet(),
        "No line has been calculated on this road yet: the lap follows the middle, which is "
        "slower than any racing line.",
        "",
    ),
    (
        UnsettledLine("best_so_far"),
        "The search for this line has not converged: this is the best so far, and a quicker one "
        "may exist.",
        "",
    ),
    (
        UnsettledLine("known_line"),
        "No search found a quicker line than one already known, which is used; a quicker one may "
        "exist.",
        "",
    ),
    (
        LostOrder("Teal"),
        "An override is set at Teal, which this circuit does not have.",
        "",
    ),
    (
        GearNotDriven("Teal", 3, 4),
        "Teal: gear 3 is set and cannot be used; shifts and revs allow 4.",
        "",
    ),
    (
        GearNotDriven("Teal", 3, None),
        "Teal: gear 3 is set and cannot be used; the throttle is not closed there, so no gear is "
        "chosen.",
        "",
    ),
]


@pytest.mark.parametrize(("note", "expected", "in_feet"), NOTES)
def test_every_note_is_a_sentence_in_the_reader_s_units(
    note: Note, expected: str, in_feet: str
) -> None:
    assert describe_note(note, METRIC) == expected
    assert in_feet in describe_note(note, FEET)
    assert describe_note(note, FEET).endswith(".")


@pytest.mark.parametrize(
    ("number", "word"), [(1, "1st"), (2, "2nd"), (3, "3rd"), (4, "4th"), (8, "8th")]
)
def test_gears_are_counted(number: int, word: str) -> None:
    assert gear_word(number) == word


@pytest.mark.parametrize(
    ("lap_s", "expected"),
    [(98.5694, "1:38.569"), (59.9996, "1:00.000"), (7.25, "0:07.250"), (3599.9, "59:59.900")],
)
def test_a_lap_time_carries_its_rounding(lap_s: float, expected: str) -> None:
    assert lap_time(lap_s) == expected


@given(st.floats(0.0, 10_000.0))
def test_a_lap_time_reads_back_to_the_millisecond(lap_s: float) -> None:
    minutes, rest = lap_time(lap_s).split(":")
    assert 60 * int(minutes) + float(rest) == pytest.approx(lap_s, abs=0.000_501)
    assert len(rest) == 6


@given(st.floats(-10.0, 10.0), st.integers(0, 4))
def test_a_cost_is_said_without_its_sign(cost_s: float, decimals: int) -> None:
    assert seconds(cost_s, decimals) == f"{abs(cost_s):.{decimals}f} s"
