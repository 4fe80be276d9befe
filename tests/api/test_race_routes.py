"""Routes of the race desk: studies begun and watched, sheets as files, what is refused where."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from api.test_trade_routes import Asked
from neapfrost.api.app import create_app
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import write_plan
from neapfrost.formats.run import RUN_FORMAT, RUN_VERSION
from neapfrost.services.logbook.for_races import measured_for_races
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
    assert measured_for_races(store, 1).litres is None
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
    litres = measured_for_races(store, 1).litres
    assert litres == pytest.approx(0.8 / composed("dunlin-heath").car.fuel_use.kg_per_litre)
    race = asked.study("/api/plans/1/races", {})["race"]
    assert isinstance(race, dict)
    assert race["fuel"]["measured"] is True


def typed_run(name: str, setup: str | None, times_s: list[tuple[str, float]]) -> dict[str, object]:
    """A run of the first plan's car on its circuit, typed: kinds and times of its laps."""
    return {
        "format": RUN_FORMAT,
        "version": RUN_VERSION,
        "name": name,
        "made_at": "2031-05-18T10:00:00",
        "car": "Dunlin 16",
        "setup": setup,
        "circuit": composed("dunlin-heath").circuit.name,
        "laps": [
            {"number": n + 1, "kind": kind, "lap_time_s": time_s}
            for n, (kind, time_s) in enumerate(times_s)
        ],
    }


def test_stops_and_fading_tyres_of_the_logbook_take_the_place_of_what_is_assumed(
    asked: Asked, store: Store
) -> None:
    plan = composed("dunlin-heath")
    setup = next(one for one in plan.car.setups if one.compound is not None)
    # A quarter of a second a lap, over a scatter of some hundredths; then a stop of 40 s in all.
    scatter = [0.02, -0.03, 0.01, -0.01, 0.03, -0.02, 0.0, 0.02, -0.01, 0.01]
    laps = [("timed", 60.0 + 0.25 * n + off) for n, off in enumerate(scatter)]
    usual = sorted(time for _, time in laps)
    median = 0.5 * (usual[4] + usual[5])
    stop = [("in", median + 12.0), ("out", median + 28.0)]
    before = asked.study("/api/plans/1/races", {})["race"]
    with writing(store) as session:
        run = typed_run("Fades", setup.name, [*laps, *stop])
        add_item(session, "run", content_of("run", run), "Typed")
        nameless = typed_run("No setup", None, [("timed", 60.0 + 2.0 * n) for n in range(9)])
        add_item(session, "run", content_of("run", nameless), "Typed")
    known = measured_for_races(store, 1)
    assert known.stops is not None
    assert known.stops.stops == 1
    assert known.stops.loss_s == pytest.approx(40.0)
    (fade,) = known.fade
    assert (fade.compound, fade.runs, fade.laps) == (setup.compound, 1, 10)
    assert fade.lap_s == pytest.approx(0.25, abs=0.02)
    race = asked.study("/api/plans/1/races", {})["race"]
    assert isinstance(race, dict)
    assert isinstance(before, dict)
    said = {one["label"]: one for one in race["assumptions"]}
    # What the circuit states outranks what was measured.
    assert race["pit_loss_s"] == plan.circuit.pit_loss_s
    measured = said[f"Degradation of {setup.compound}"]
    assert "10 laps of one run" in measured["source"]
    tyres = {tyre["name"]: tyre for tyre in race["tyres"]}
    was = {tyre["name"]: tyre for tyre in before["tyres"]}
    # Lap times of the race now go as they went on the day, with the fuel's part put back.
    own = tyres[setup.compound]
    compound = next(one for one in plan.car.compounds if one.name == setup.compound)
    fading_laps = own["life_laps"] - 1 - len(compound.warm_up)
    assert (own["old_s"] - own["new_s"]) / fading_laps == pytest.approx(0.27, abs=0.03)
    others = set(tyres) - {setup.compound}
    assert all(tyres[name]["fade_pct"] == was[name]["fade_pct"] for name in others)
