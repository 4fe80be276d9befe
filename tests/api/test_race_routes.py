"""Routes of the race desk: studies begun and watched, sheets as files, what is refused where."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from api.test_trade_routes import Asked
from neapfrost.api.app import create_app
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import write_plan
from neapfrost.formats.run import RUN_FORMAT, RUN_VERSION
from neapfrost.services.logbook.for_races import measured_litres
from neapfrost.services.plans.parts import content_of
from neapfrost.store.database import Store, close_store, open_store, writing
from neapfrost.store.items import add_item


@pytest.fixture(scope="module")
def store(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Store]:
    kept = open_store(tmp_path_factory.mktemp("store"))
    yield kept
    close_store(kept)


@pytest.fixture(scope="module")
def asked(store: Store) -> Asked:
    session = Asked(create_app(store))
    for plan in ("dunlin-heath", "garganey-bowl"):
        made = session("POST", "/api/plans/import", content=write_plan(composed(plan)))
        assert made.is_success, made.text
    return session


def rules(asked: Asked, **changes: object) -> dict[str, object]:
    """Write rules of the first plan's race, as the page does."""
    plan = asked("GET", "/api/plans/1").json()
    race = {**plan["plan"]["race"], **changes}
    answer = asked(
        "POST",
        "/api/plans/1/edit",
        json={"base": plan["revisions"], "edit": {"race": race}},
    )
    return {"status": answer.status_code, **answer.json()}


def test_a_race_is_planned_and_its_rules_are_steps_that_are_undone(asked: Asked) -> None:
    assert rules(asked, laps=12, stops_least=1, tyres_s=7.0)["status"] == 200
    job = asked.study("/api/plans/1/races", {})
    assert job["state"] == "done", job
    race = job["race"]
    assert isinstance(race, dict)
    assert race["laps"] == 12
    assert len(race["best"]["stops"]) >= 1
    kept = rules(asked, keep_tyres=True, starts_at="2031-05-17T10:00:00")
    assert kept["undo"] == "Race: Tyres may stay on: yes; Race begins: 2031-05-17T10:00:00" or (
        "Tyres may stay on: yes" in str(kept["undo"])
    )
    undone = asked("POST", "/api/plans/1/undo", json={"base": kept["revisions"]})
    assert undone.is_success
    assert undone.json()["plan"]["race"]["keep_tyres"] is False


@pytest.mark.parametrize(
    ("field", "value"),
    [("laps", 0), ("minutes", -1), ("litres_per_s", 0), ("slow_time_pct", 50), ("drivers", 0)],
)
def test_a_rule_that_is_none_is_refused_where_it_stands(
    asked: Asked, field: str, value: float
) -> None:
    refused = rules(asked, **{field: value})
    assert refused["status"] == 422
    assert field in str(refused["faults"])


def test_every_part_is_a_study_of_its_own(asked: Asked) -> None:
    parts: tuple[tuple[str, dict[str, object], str], ...] = (
        ("savings", {"saved_pct": 3.0}, "saving"),
        ("passing", {}, "passing"),
        ("tyre-work", {}, "work"),
    )
    for path, body, part in parts:
        job = asked.study(f"/api/plans/1/{path}", body)
        assert job["state"] == "done"
        assert isinstance(job[part], dict)
    lanes = asked.study("/api/plans/2/lanes", {"laps": 6})
    assert isinstance(lanes["lanes"], dict)
    for path, where in (("deployments", "car.energy"), ("lanes", "circuit.lanes")):
        refused = asked("POST", f"/api/plans/1/{path}", json={})
        assert refused.status_code == 422
        assert refused.json()["faults"][0]["path"] == where
    assert asked("POST", "/api/plans/1/savings", json={"saved_pct": 99}).status_code == 422
    assert asked("POST", "/api/plans/9/races", json={}).status_code == 404


def test_a_store_is_given_to_a_car_changed_and_taken_out(asked: Asked) -> None:
    def edit(change: dict[str, object]) -> dict[str, object]:
        plan = asked("GET", "/api/plans/2").json()
        answer = asked("POST", "/api/plans/2/car", json={"base": plan["revisions"], "edit": change})
        assert answer.is_success, answer.text
        return dict(answer.json()["plan"]["car"])

    energy = edit({"op": "add_part", "part": "energy"})["energy"]
    assert isinstance(energy, dict)
    assert energy["usable_mj"] == 1.0
    assert edit({"op": "energy", "energy": {**energy, "usable_mj": 0.4}})["energy"] == {
        **energy,
        "usable_mj": 0.4,
    }
    job = asked.study("/api/plans/2/deployments", {"emptier_mj": 0.1})
    told = job["energy"]
    assert isinstance(told, dict)
    assert told["emptier_mj"] == pytest.approx(0.1, abs=1e-5)
    assert edit({"op": "energy", "energy": None})["energy"] is None
    assert asked("POST", "/api/plans/2/flap", json={}).json()["faults"][0]["path"] == "car.flap"
    assert edit({"op": "add_part", "part": "flap"})["flap"]
    assert edit({"op": "flap", "flap": {"drag_left_pct": 85.0}})["flap"] == {
        "drag_left_pct": 85.0,
        "downforce_left_pct": 80.0,
    }


def test_the_sheet_is_a_file_of_three_kinds(asked: Asked, tmp_path: Path) -> None:
    for kind, begins in (("md", "# "), ("csv", "Stint,"), ("json", "{")):
        answer = asked("GET", f"/api/plans/1/race.{kind}")
        assert answer.is_success, answer.text
        assert answer.text.startswith(begins)
        assert f'filename="race.{kind}"' in answer.headers["content-disposition"]
    assert asked("GET", "/api/plans/1/race.xls").status_code == 422


def test_fuel_out_and_in_of_logged_runs_is_a_lap_s_fuel(asked: Asked, store: Store) -> None:
    assert measured_litres(store, 1) is None
    run = {
        "format": RUN_FORMAT,
        "version": RUN_VERSION,
        "name": "Long run",
        "made_at": "2031-05-17T10:00:00",
        "car": "Dunlin 16",
        "circuit": composed("dunlin-heath").circuit.name,
        "fuel_out_kg": 20.0,
        "fuel_in_kg": 12.0,
        "laps": [{"number": n + 1, "kind": "timed", "lap_time_s": 60.0} for n in range(10)],
    }
    with writing(store) as session:
        add_item(session, "run", content_of("run", run), "Typed")
    litres = measured_litres(store, 1)
    assert litres == pytest.approx(0.8 / composed("dunlin-heath").car.fuel_use.kg_per_litre)
    race = asked.study("/api/plans/1/races", {})["race"]
    assert isinstance(race, dict)
    assert race["fuel"]["measured"] is True
