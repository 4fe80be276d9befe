"""The drill over the API: asked, answered, known, due again when the plan moves, run in time."""

import csv
import io
import re
from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Any

import pytest

from api.test_trade_routes import Asked
from neapfrost.api.app import create_app
from neapfrost.api.drill import moment
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import close_store, open_store

EVENING = datetime(2026, 3, 2, 18, 0)
DRILL = "/api/plans/1/drill"


class Clock:
    """The moment at which the application believes to be."""

    def __init__(self) -> None:
        self.now = EVENING

    def later(self, **gone: float) -> None:
        self.now += timedelta(**gone)


@pytest.fixture(scope="module")
def clock() -> Clock:
    return Clock()


@pytest.fixture(scope="module")
def asked(tmp_path_factory: pytest.TempPathFactory, clock: Clock) -> Iterator[Asked]:
    store = open_store(tmp_path_factory.mktemp("store"))
    app = create_app(store)
    app.dependency_overrides[moment] = lambda: clock.now
    session = Asked(app)
    plan = composed("k4-samphire")
    plan = plan.model_copy(update={"uncertainty": plan.uncertainty.model_copy(update={"laps": 20})})
    assert session("POST", "/api/plans/import", content=write_plan(plan)).is_success
    yield session
    close_store(store)


def standing(asked: Asked, **query: object) -> dict[str, Any]:
    answer = asked("GET", DRILL, params=query)
    assert answer.is_success, answer.text
    return dict(answer.json())


def questions(asked: Asked, **query: object) -> list[dict[str, Any]]:
    answer = asked("GET", f"{DRILL}/round", params=query)
    assert answer.is_success, answer.text
    return list(answer.json()["questions"])


def give(asked: Asked, **given: object) -> dict[str, Any]:
    answer = asked("POST", f"{DRILL}/answers", json=given)
    assert answer.is_success, answer.text
    return dict(answer.json())


def corner_of(asked: Asked, name: str) -> tuple[int, dict[str, Any]]:
    corners = asked("GET", "/api/plans/1").json()["result"]["corners"]
    return next((n, corner) for n, corner in enumerate(corners) if corner["name"] == name)


def right_answer(asked: Asked, question: dict[str, Any]) -> dict[str, Any]:
    """What a person says who has learned the sheet by heart."""
    corner = asked("GET", "/api/plans/1").json()["result"]["corners"][question["corner"]]
    begins, lift = corner["begins_at_m"], corner["lift_at_m"]
    to_corner = corner["brake_start_to_corner_m"]
    known = {
        "brake": [to_corner if to_corner is not None else begins - (lift or 0.0)],
        "speed": [corner["min_speed_ms"]],
    }
    answer = {"corner": question["corner"], "kind": question["kind"], "took_s": 2.0}
    if question["kind"] == "gear":
        return {**answer, "word": str(corner["gear"])}
    return {**answer, "figures": known[str(question["kind"])]}


@pytest.fixture(scope="module")
def ada(asked: Asked) -> str:
    """A driver who has answered all that must be known right, whichever test comes first."""
    if not standing(asked, driver="Ada")["knows"]:
        for question in questions(asked, driver="Ada", order="lap", kinds="must"):
            assert give(asked, driver="Ada", **right_answer(asked, question))["inside"]
    return "Ada"


def test_who_answers_all_right_knows_the_lap_and_the_page_can_show_it(asked: Asked) -> None:
    before = standing(asked, driver="Ada")
    assert (before["knows"], before["back"]) == (False, 0)
    asked_for = questions(asked, driver="Ada", order="lap", kinds="must")
    assert {one["kind"] for one in asked_for} == {"brake", "gear", "speed"}
    assert [one["corner"] for one in asked_for] == sorted(one["corner"] for one in asked_for)
    for question in asked_for:
        scored = give(asked, driver="Ada", **right_answer(asked, question))
        assert scored["inside"], scored
        assert (scored["price"], scored["cost_s"]) == ("", None)
    after = standing(asked, driver="Ada")
    assert after["knows"]
    assert str(after["said"]).startswith("All 9 corners")
    by_kind = {one["kind"]: (one["right"], one["asked"]) for one in after["kinds"]}
    assert by_kind["gear"] == (9, 9)
    assert by_kind["brake"][0] == by_kind["brake"][1] < 9
    assert by_kind["next"] == (0, 9)
    assert after["new"] == int(str(before["new"])) - len(asked_for)
    assert not standing(asked, driver="Bo")["knows"]
    assert "Ada" in standing(asked, driver="Bo")["drivers"]


def test_an_answer_is_said_priced_and_marked_on_the_dangerous_side(asked: Asked) -> None:
    number, corner = corner_of(asked, "Saltern")
    start = float(corner["brake_start_to_corner_m"])
    early = give(asked, corner=number, kind="brake", figures=[start + 30.0])
    assert (early["inside"], early["dangerous"]) == (False, False)
    assert early["verdict"] == "Wrong: 30 m early."
    assert str(early["price"]).startswith("Costs at most 0.")
    worth = asked("GET", "/api/plans/1/worth").json()["corners"][number]
    assert early["cost_s"] == pytest.approx(30.0 * worth["per_brake_metre_s"], rel=0.1)
    words = asked("GET", "/api/plans/1").json()["words"]["corners"][number]
    assert early["right_said"] == words["place"]
    brief = asked("GET", "/api/plans/1/brief", params={"bands": False}).json()
    assert early["sentence"] == brief["corners"][number]["sentence"]
    late = give(asked, corner=number, kind="brake", figures=[start - 30.0])
    assert late["dangerous"]
    assert "too fast at the turn-in" in str(late["price"])
    slow = give(
        asked, corner=number, kind="speed", figures=[float(str(corner["min_speed_ms"])) - 2]
    )
    assert slow["cost_s"] == pytest.approx(2.0 * worth["per_min_speed_s"], rel=0.15)
    fast = give(
        asked, corner=number, kind="speed", figures=[float(str(corner["min_speed_ms"])) + 3]
    )
    assert fast["dangerous"]
    assert "more grip than there is" in str(fast["price"])
    flat = give(asked, corner=number, kind="action", word="flat")
    assert (flat["dangerous"], flat["right_said"]) == (True, "brake")
    low = give(asked, corner=number, kind="gear", word="1")
    assert "rpm over the limit" in str(low["price"])
    both = give(asked, corner=number, kind="effort", figures=[1.0, 50.0])
    assert str(both["verdict"]).startswith("Wrong: ")
    assert " g soft, " in str(both["verdict"])
    power = give(asked, corner=number, kind="throttle", figures=[60.0])
    assert str(power["verdict"]).endswith("m late.")


def test_a_missing_board_is_told_and_another_reference_does(asked: Asked) -> None:
    number, corner = corner_of(asked, "Saltern")
    call = dict(corner["board_call"])
    found = {
        str(one["kind"]): one
        for one in questions(asked, order="lap", kinds="all", corner=number, missing=True)
    }
    brake, see = found["brake"], found["see"]
    assert brake["missing"] == call["label"]
    assert str(brake["said"]).startswith(f"The {call['label']} is missing. Saltern: ")
    road = dict(brake["road"])
    assert call["label"] not in [mark["label"] for mark in road["marks"]]
    assert len(road["places"]) == round(road["from_m"] - road["until_m"]) + 1
    assert not any(call["label"] in place.split()[-1:] for place in road["places"])
    labels = [option["value"] for option in see["options"]]
    assert call["label"] not in labels
    answers = {
        word: give(asked, corner=number, kind="see", word=word, missing=call["label"])["inside"]
        for word in labels
    }
    assert list(answers.values()).count(True) == 1


def test_orders_of_a_round(asked: Asked) -> None:
    names = [one["name"] for one in standing(asked)["corners"]]
    gears = {
        order: [one["name"] for one in questions(asked, order=order, kinds="gear", seed=5)]
        for order in ("lap", "random", "backwards", "weak")
    }
    assert gears["lap"] == names
    assert sorted(gears["random"]) == sorted(names) != gears["random"]
    assert gears["backwards"] != names
    assert set(gears["backwards"]) == set(names)
    assert len(gears["weak"]) == 3
    after = questions(asked, order="after", kinds="gear", seed=5)
    assert all(str(one["said"]).startswith("The corner after ") for one in after)
    blank = questions(asked, order="map", kinds="all")
    assert [one["kind"] for one in blank] == ["next"] * (len(names) - 1)
    assert all(len(one["options"]) == 4 for one in blank)


def test_what_was_known_comes_back_in_days_and_at_once_when_the_plan_moves_it(
    asked: Asked, clock: Clock
) -> None:
    asked_for = questions(asked, driver="Cy", order="lap", kinds="must")
    for question in asked_for:
        give(asked, driver="Cy", **right_answer(asked, question))
    assert standing(asked, driver="Cy")["back"] == 0
    clock.later(days=30)
    back = standing(asked, driver="Cy")["back"]
    assert back == len(asked_for)
    due = questions(asked, driver="Cy", order="due", kinds="must")
    assert [one["kind"] for one in due].count("brake") > 0
    for question in asked_for:
        give(asked, driver="Cy", **right_answer(asked, question))
    days = standing(asked, driver="Cy")["days"]
    assert [day["answers"] for day in days] == [len(asked_for)] * 2
    plan = asked("GET", "/api/plans/1").json()
    change = {"field": "grip", "value": 1.2}
    changed = asked(
        "POST",
        "/api/plans/1/changes",
        json={"base": plan["revisions"], "changes": [change]},
    )
    assert changed.is_success, changed.text
    moved = standing(asked, driver="Cy")
    assert not moved["knows"]
    states = {card["state"] for one in moved["corners"] for card in one["cards"]}
    assert "overtaken" in states
    again = questions(asked, driver="Cy", order="due", kinds="speed")
    assert "when you learned it; the plan has changed it since" in str(again[0]["why"])
    gears = questions(asked, driver="Cy", order="due", kinds="gear")
    told = [one["why"] for one in gears if one["why"]]
    assert all(re.match(r"The gear was \d(st|nd|rd|th) when", why) for why in told)
    undone = asked("POST", "/api/plans/1/undo", json={"base": changed.json()["revisions"]})
    assert undone.is_success, undone.text
    assert standing(asked, driver="Cy")["knows"]


def test_the_first_laps_are_drilled_on_their_own(asked: Asked) -> None:
    told = asked("GET", "/api/plans/1/first-laps", params={"confidence": "new"}).json()["laps"][0]
    number, corner = corner_of(asked, "Saltern")
    step = told["corners"][number]
    kinds = {card["kind"] for card in standing(asked, lap="new-1")["corners"][number]["cards"]}
    assert kinds == {"brake", "gear", "speed"}
    given = {"lap": "new-1", "corner": number, "kind": "brake"}
    scored = give(asked, **given, figures=[step["brake_start_to_corner_m"]])
    assert scored["inside"]
    assert step["said"] in str(scored["sentence"])
    assert give(asked, **given, figures=[corner["brake_start_to_corner_m"]])["dangerous"]
    run = asked("GET", f"{DRILL}/lap", params={"lap": "new-1"}).json()
    assert run["lap_time_s"] == pytest.approx(told["lap_time_s"])
    beats = {beat["corner"]: beat for beat in run["beats"] if beat["deed"] == "brake"}
    assert beats[number]["at_m"] == pytest.approx(
        corner["begins_at_m"] - step["brake_start_to_corner_m"]
    )


def test_the_lap_in_real_time_is_the_plan_s_lap(asked: Asked) -> None:
    run = asked("GET", f"{DRILL}/lap").json()
    result = asked("GET", "/api/plans/1").json()["result"]
    assert run["lap_time_s"] == result["lap_time_s"]
    assert run["t_s"][-1] == pytest.approx(result["lap_time_s"])
    number, corner = corner_of(asked, "Saltern")
    call = next(one for one in run["calls"] if one["corner"] == number)
    assert call["begins_s"] < call["until_s"] - 1.0
    assert "Saltern right: brake" in call["said"]
    brake = next(b for b in run["beats"] if b["corner"] == number and b["deed"] == "brake")
    assert brake["at_m"] == pytest.approx(corner["brake_start_at_m"])
    assert call["until_s"] == pytest.approx(brake["at_s"])
    downs = [b["gear"] for b in run["beats"] if b["corner"] == number and b["deed"] == "down"]
    assert downs == [shift["to_gear"] for shift in corner["downshifts"]]
    presses = [
        {"deed": "brake", "at_s": brake["at_s"] + 0.4},
        {"deed": "turn", "at_s": run["lap_time_s"] - 0.01},
    ]
    given = {"presses": presses, "until_s": call["until_s"] + 3.0, "driver": "Di"}
    held = asked("POST", f"{DRILL}/rhythm", json=given).json()
    (late,) = [one for one in held["beats"] if one["deed"] == "brake"]
    assert late["dangerous"]
    assert late["said"].startswith("0.4 s late, ")
    assert "1 extra press" in held["said"]
    assert standing(asked, driver="Di")["days"] == []
    asked("POST", f"{DRILL}/rhythm", json={**given, "keep": True})
    assert standing(asked, driver="Di")["days"][0]["dangerous"] == 1


def test_what_was_answered_on_the_dangerous_side_comes_first_and_the_last_driver_too(
    asked: Asked, ada: str
) -> None:
    number, corner = corner_of(asked, "Windpump")
    late = max(corner["brake_start_to_corner_m"] - 40.0, 1.0)
    told = give(asked, driver="Eve", corner=number, kind="brake", took_s=1.0, figures=[late])
    assert told["dangerous"]
    assert number == 3  # behind others that are asked about, in the lap's order
    before = asked("GET", f"{DRILL}/before", params={"driver": "Eve"}).json()["corners"]
    assert [one["name"] for one in before if one["dangerous"]] == ["Windpump"]
    assert before[0]["name"] == "Windpump"
    others = [one["corner"] for one in before[1:]]
    assert others == sorted(others)
    assert standing(asked, driver=ada)["drivers"][0] == "Eve"
    right = {"corner": number, "kind": "brake", "took_s": 1.0}
    give(asked, driver="Eve", **right, figures=[corner["brake_start_to_corner_m"]])
    before = asked("GET", f"{DRILL}/before", params={"driver": "Eve"}).json()["corners"]
    assert not any(one["dangerous"] for one in before)


def test_before_the_car_and_what_is_unsure_are_told_and_taken_along(asked: Asked, ada: str) -> None:
    before = asked("GET", f"{DRILL}/before", params={"driver": "Ada"}).json()
    assert [one["name"] for one in before["corners"] if "wall" in one["hazards"]]
    assert sum(one["weak"] for one in before["corners"]) == 3
    assert before["cautions"]
    assert {one["kind"] for one in before["questions"]} <= {"brake", "gear", "speed"}
    sheet = asked("GET", f"{DRILL}/unsure", params={"driver": "Ada"}).json()
    assert sheet["said"].startswith("All 9 corners")
    assert "Gear" not in sheet["corners"][0]["unsure"]
    text = asked("GET", f"{DRILL}/unsure.md", params={"driver": "Ada"}).text
    assert text.startswith("# Samphire Ring: Kittiwake K4, Ada")
    assert all(caution in text for caution in sheet["cautions"])
    rows = list(csv.reader(io.StringIO(asked("GET", f"{DRILL}/unsure.csv").text)))
    assert rows[0][:2] == ["number", "corner"]
    assert len(rows) == 1 + len(asked("GET", f"{DRILL}/unsure").json()["corners"])
    assert asked("GET", f"{DRILL}/unsure.json").json()["circuit"] == "Samphire Ring"


def test_every_answer_is_kept_and_goes_out(asked: Asked, ada: str) -> None:
    give(asked, driver="Zoe", corner=0, kind="action", word="flat")
    kept = asked("GET", f"{DRILL}/answers.json", params={"driver": "Ada"}).json()
    assert {one["driver"] for one in kept} == {"Ada"}
    assert all(one["inside"] for one in kept)
    everybody = asked("GET", f"{DRILL}/answers.json").json()
    assert len(everybody) > len(kept)
    rows = list(csv.DictReader(io.StringIO(asked("GET", f"{DRILL}/answers.csv").text)))
    assert [row["corner"] for row in rows] == [one["corner"] for one in everybody]
    assert "recall" in {row["way"] for row in rows} <= {"recall", "rhythm"}


@pytest.mark.parametrize(
    ("given", "path", "said"),
    [
        ({"corner": 40, "kind": "gear", "word": "3"}, "corner", "this lap has 9 corners"),
        ({"corner": 4, "kind": "brake", "figures": [5]}, "kind", "is not asked at Sea Holly"),
        ({"corner": 0, "kind": "effort", "figures": [1]}, "figures", "2 are asked for"),
        ({"corner": 0, "kind": "gear", "lap": "new-9"}, "lap", "one of plan, new-1"),
        ({"corner": 0, "kind": "gear", "lap": "first"}, "lap", "match"),
        ({"corner": 0, "kind": "colour"}, "kind", '"action"'),
    ],
)
def test_what_cannot_be_answered_is_refused_by_field(
    asked: Asked, given: dict[str, Any], path: str, said: str
) -> None:
    answer = asked("POST", f"{DRILL}/answers", json=given)
    assert answer.status_code == 422
    (fault,) = answer.json()["faults"]
    assert fault["path"] == path
    assert said in fault["message"]
    assert asked("GET", "/api/plans/77/drill").status_code == 404
