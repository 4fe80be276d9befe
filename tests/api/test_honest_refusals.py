"""What used to end in a failure: sentences, and nothing left behind."""

import json
import sqlite3
import threading
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from api.client import Client
from neapfrost.cli.main import app
from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plan, demo_plans
from neapfrost.formats.plan_file import write_plan
from neapfrost.services.laps.predict import predict_lap
from neapfrost.store.database import Store, back_up, close_store, open_store
from neapfrost.store.items import Content, add_item, list_items
from neapfrost.store.trouble import StoreTrouble


def message(reply: Any) -> str:
    body = reply.json()
    assert set(body) == {"error", "faults", "conflict"}
    return str(body["faults"][0]["message"])


def car_without_strength() -> dict[str, Any]:
    """A car that no plan on a hill can be driven with."""
    plan = demo_plan("k4-dry")
    assert plan is not None
    car = plan.document.car.model_dump(mode="json")
    for point in car["engine"]["torque_curve"]:
        point["torque_nm"] = 0.01
    return {**car, "name": "Without strength"}


def test_bands_of_a_plan_that_cannot_be_driven_are_refused_in_a_sentence(store: Store) -> None:
    """As a person gets there: a shared car's power lowered where the road is flat."""
    client = Client(store)
    for plan_id in ("dunlin-heath", "dunlin-hill"):
        plan = demo_plan(plan_id)
        assert plan is not None
        client.post("/api/plans/import", content=write_plan(plan.document))
    base = client.get("/api/plans/1").json()["revisions"]
    weak = {"base": base, "changes": [{"field": "peak_power_kw", "value": 5.0}]}
    assert client.post("/api/plans/1/changes", json=weak).is_success
    refused = client.get("/api/plans/2/bands")
    assert refused.status_code == 422
    assert "the vehicle comes to a stop at 0 m" in message(refused)
    assert client.get("/api/plans/99/bands").status_code == 404


def test_a_car_that_its_plan_refuses_is_not_kept(client: Client) -> None:
    document = car_without_strength()
    reply = client.post("/api/plans/1/car/import", content=json.dumps(document))
    assert reply.status_code == 422
    assert "Without strength" not in client.get("/api/library/car").text


def test_numbers_and_texts_that_no_figure_can_be(client: Client) -> None:
    assert client.get(f"/api/plans/{2**70}").status_code == 404
    half = b'{"name": "\\ud800", "car_id": 1, "circuit_id": 1, "conditions_id": 1}'
    headers = {"content-type": "application/json"}
    surrogate = client.post("/api/plans", content=half, headers=headers)
    assert surrogate.status_code == 422
    assert "lone surrogate" in message(surrogate)
    base = client.get("/api/plans/1").json()["revisions"]
    huge = b'{"base": %s, "changes": [{"field": "grip", "value": 1%s}]}' % (
        json.dumps(base).encode(),
        b"0" * 5000,
    )
    reply = client.post("/api/plans/1/changes", content=huge, headers=headers)
    assert reply.status_code in (400, 422)
    assert len(message(reply)) < 300


def test_a_stated_mass_and_a_fuel_that_cannot_be_are_refused_by_field(client: Client) -> None:
    quick = {"name": "x", "stated": [{"quantity": "mass_kg", "value": 1e9}]}
    reply = client.post("/api/cars/quick", json=quick)
    assert reply.status_code == 422
    assert reply.json()["faults"][0]["path"].startswith("car.mass_kg")
    ids = {"car_id": 1, "circuit_id": 1, "conditions_id": 1}
    plan = client.post("/api/plans", json={"name": "x", "fuel_kg": -1.0, **ids})
    assert plan.status_code == 422
    assert plan.json()["faults"][0]["path"] == "fuel_kg"
    assert client.post("/api/cars/quick", json={"driver_kg": False}).status_code == 422


def test_twenty_writers_wait_for_each_other_and_none_is_refused(store: Store) -> None:
    from neapfrost.store.database import writing

    troubles: list[Exception] = []

    def writes(number: int) -> None:
        try:
            for turn in range(6):
                with writing(store) as session:
                    searched = {"vehicle_kind": "car", "mass_kg": 1.0, "peak_power_kw": 1.0}
                    content = Content(f"{number}.{turn}", {"name": "x"}, searched)
                    add_item(session, "car", content, "made")
        except StoreTrouble as trouble:
            troubles.append(trouble)

    threads = [threading.Thread(target=writes, args=(number,)) for number in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert troubles == []
    from neapfrost.store.database import reading

    with reading(store) as session:
        assert len(list_items(session, "car")) == 120


def run(*words: object) -> tuple[int, str]:
    done = CliRunner().invoke(app, [str(word) for word in words])
    return done.exit_code, done.output


def test_a_backup_of_what_is_not_there_makes_nothing(tmp_path: Path) -> None:
    code, said = run("backup", tmp_path / "copy.db", "--data", tmp_path / "mistyped")
    assert code == 2
    assert "neapfrost.db: is not there; name the data folder with --data" in said
    assert not (tmp_path / "mistyped").exists()
    assert not (tmp_path / "copy.db").exists()


def test_a_backup_that_failed_leaves_no_file_in_the_way(
    store: Store, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    target = tmp_path / "copy.db"
    store.path.rename(tmp_path / "gone.db")
    store.path.mkdir()
    with pytest.raises(StoreTrouble, match="the backup could not be written"):
        back_up(store, target)
    assert list(tmp_path.glob("*copy*")) == []
    store.path.rmdir()
    (tmp_path / "gone.db").rename(store.path)
    back_up(store, target)
    assert target.exists()


@pytest.mark.parametrize("port", ["99999", "-1"])
def test_a_port_that_is_none_is_refused(port: str, tmp_path: Path) -> None:
    code, said = run("serve", "--port", port, "--data", tmp_path)
    assert code == 2
    assert "port" in said


def test_a_number_of_no_plan_is_refused(tmp_path: Path) -> None:
    code, said = run("export", str(10**30), "--data", tmp_path)
    assert code == 2
    assert "plan" in said.lower()


def foreign(path: Path, *statements: str) -> None:
    with sqlite3.connect(path) as file:
        for statement in statements:
            file.execute(statement)
    file.close()


def test_another_program_s_file_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "neapfrost.db"
    foreign(path, "CREATE TABLE songs (name TEXT)")
    before = path.read_bytes()
    with pytest.raises(StoreTrouble, match="made by another program"):
        open_store(tmp_path)
    assert path.read_bytes() == before
    path.unlink()
    foreign(path, "PRAGMA application_id=7", "CREATE TABLE alembic_version (version_num TEXT)")
    with pytest.raises(StoreTrouble, match="made by another program"):
        open_store(tmp_path)


def test_a_file_without_one_of_its_tables_or_with_a_spoiled_row_says_so(tmp_path: Path) -> None:
    store = open_store(tmp_path)
    client = Client(store)
    for plan in demo_plans()[1:3]:
        client.post("/api/plans/import", content=write_plan(plan.document))
    close_store(store)
    foreign(tmp_path / "neapfrost.db", "UPDATE plan_revisions SET document='{' WHERE item_id=1")
    store = open_store(tmp_path)
    client = Client(store)
    spoiled = client.get("/api/plans/1")
    assert spoiled.status_code == 503
    assert "revision 1 of plan 1 is damaged" in message(spoiled)
    assert client.get("/api/plans/2").is_success
    close_store(store)
    foreign(tmp_path / "neapfrost.db", "DROP TABLE plan_steps")
    with pytest.raises(StoreTrouble, match='its table "plan_steps" is missing'):
        open_store(tmp_path)


def test_a_car_without_strength_is_refused_by_the_lap_itself() -> None:
    plan = demo_plan("k4-dry")
    assert plan is not None
    weak = plan.document.model_copy(
        update={"car": type(plan.document.car).model_validate(car_without_strength())}
    )
    with pytest.raises(InputRefused):
        predict_lap(weak)


@pytest.mark.parametrize(
    ("statement", "damaged", "well"),
    [
        ("UPDATE plan_revisions SET document='[]' WHERE item_id=1", "/api/plans/1", "/api/plans/2"),
        ("UPDATE plan_revisions SET document='{}' WHERE item_id=1", "/api/plans/1", "/api/plans/2"),
        ("UPDATE plans SET newest=9 WHERE id=1", "/api/plans/1", "/api/plans/2"),
        ("UPDATE run_revisions SET document='{\"a\":1}'", "/api/runs/1", "/api/plans/1"),
        ("UPDATE run_revisions SET document='nothing'", "/api/runs/1", "/api/plans/1/season"),
        ("UPDATE runs SET newest=7", "/api/runs/1", "/api/plans/1/season?search=a"),
        ("UPDATE weather_revisions SET document='{}'", "/api/plans/1/weather", "/api/plans/1"),
        ("UPDATE event_revisions SET document='{}'", None, "/api/plans/1/season"),
        ("UPDATE plans SET baseline='[3]' WHERE id=1", None, "/api/plans/1"),
        ("UPDATE plans SET baseline='{' WHERE id=1", None, "/api/plans/1"),
        ("UPDATE drill_cards SET memory='{}'", None, "/api/plans/1/drill"),
    ],
)
def test_a_damaged_row_gets_a_sentence_and_takes_nothing_else_along(
    tmp_path: Path, statement: str, damaged: str | None, well: str
) -> None:
    store = open_store(tmp_path)
    client = Client(store)
    for plan in demo_plans()[1:3]:
        client.post("/api/plans/import", content=write_plan(plan.document))
    assert client.post("/api/plans/1/runs", json={"name": "Typed"}).is_success
    assert client.post("/api/plans/1/weather").is_success
    assert client.post("/api/plans/1/events", json={"name": "Meeting"}).is_success
    given = {"corner": 0, "kind": "action", "word": "flat"}
    assert client.post("/api/plans/1/drill/answers", json=given).is_success
    assert client.put("/api/plans/1/baseline", json={"plan_id": 2}).is_success
    close_store(store)
    foreign(tmp_path / "neapfrost.db", statement)
    store = open_store(tmp_path)
    client = Client(store)
    if damaged is not None:
        answer = client.get(damaged)
        assert answer.status_code == 503, answer.text
        assert "damaged" in message(answer)
    assert client.get(well).is_success, client.get(well).text
    # The library lists what there is, whatever one of them has come to.
    listed = client.get("/api/library/plan")
    assert listed.is_success
    assert [one["id"] for one in listed.json()] in ([1, 2], [2, 1])
    close_store(store)
