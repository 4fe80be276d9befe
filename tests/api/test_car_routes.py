"""The car's routes over HTTP: built, edited, compared, in and out as files, refused in words."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from api.client import Client
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.demo.plans import demo_plan
from neapfrost.services.plans.exchange import import_plan
from neapfrost.store.database import close_store, open_store


@pytest.fixture
def client(tmp_path: Path) -> Iterator[Client]:
    """An application with the Kittiwake's plan as plan 1."""
    store = open_store(tmp_path)
    plan = demo_plan("k4-dry")
    assert plan is not None
    import_plan(store, plan.document)
    yield Client(store)
    close_store(store)


def opened(client: Client) -> dict[str, Any]:
    body: dict[str, Any] = client.get("/api/plans/1").json()
    return body


def test_a_car_is_built_and_taken(client: Client) -> None:
    stated = [
        {"quantity": "mass_kg", "value": 900},
        {"quantity": "peak_power_w", "value": 150_000},
        {"quantity": "top_speed_ms", "value": 63.0},
    ]
    built = client.post("/api/cars/quick", json={"name": "Smew", "stated": stated}).json()
    assert [row["misfit_pct"] for row in built["rows"]] == pytest.approx([0, 0, 0], abs=2)
    base = opened(client)["revisions"]
    taken = client.post("/api/plans/1/car/new", json={"base": base, "car": built["car"]})
    assert taken.json()["car"]["name"] == "Smew"
    stale = client.post("/api/plans/1/car/new", json={"base": base, "car": built["car"]})
    assert stale.status_code == 409
    wrong = client.post("/api/cars/quick", json={"tyre_code": "round"})
    assert wrong.status_code == 422
    assert wrong.json()["faults"][0]["path"] == "tyre_code"


def test_setups_are_chosen_and_compared(client: Client) -> None:
    base = opened(client)["revisions"]
    changed = {}
    for edit in ({"op": "setup", "name": "Low wing"}, {"op": "tyre_lap", "lap": 0}):
        changed = client.post("/api/plans/1/car", json={"base": base, "edit": edit}).json()
        base = changed["revisions"]
    assert changed["plan"]["setup"] == "Low wing"
    assert changed["plan"]["conditions"]["tyre_lap"] == 0
    sides = {"a": {"setup": "Fen, dry"}, "b": {"setup": "Low wing"}}
    found = client.post("/api/plans/1/car/compare", json=sides).json()
    assert {one["group"] for one in found["effects"]} == {"Wing and body", "Gears"}
    for kind, begins in (("csv", "what,"), ("md", "# Kittiwake K4, Fen, dry and")):
        file = client.get(f"/api/plans/1/car/comparison.{kind}?a_setup=Fen, dry&b_setup=Low wing")
        assert file.text.startswith(begins)
    unknown = client.post("/api/plans/1/car/compare", json={"a": {}, "b": {"setup": "none"}})
    assert unknown.status_code == 422
    assert (
        client.post("/api/plans/1/car/compare", json={"a": {"revision": 9}, "b": {}}).status_code
        == 404
    )


def test_what_the_car_does_is_told_and_goes_out(client: Client) -> None:
    report = client.get("/api/plans/1/car").json()
    assert report["figures"]["top_speed_by"] == "limiter"
    assert len(client.get("/api/plans/1/car/brakes").json()["zones"]) > 5
    for plot in report["plots"]:
        address = f"/api/plans/1/car/plots/{plot['plot']}"
        assert client.get(f"{address}.svg").text.startswith("<svg")
        assert client.get(f"{address}.csv").text.startswith("series,")
    assert client.get("/api/plans/1/car/plots/noise.svg").status_code == 422
    figures = client.get("/api/figures?kind=motorcycle").json()
    assert any(row["name"] == "max_lean_deg" and row["low"] == 48 for row in figures)
    radius = client.get("/api/cars/tyre?code=205/55 R16").json()["value"]
    assert radius == pytest.approx(0.3065, abs=1e-3)
    assert client.post(
        "/api/cars/area", json={"force_kg": 600 / STANDARD_GRAVITY_MS2, "speed_ms": 50}
    ).json() == {"value": pytest.approx(0.4)}
    assert client.post("/api/cars/area", json={}).status_code == 422


def test_the_car_s_document_and_torque_go_out_and_come_back(client: Client) -> None:
    document = client.get("/api/plans/1/car/document").text
    made = client.post("/api/plans/1/car/import", content=document)
    assert made.status_code == 200
    assert made.json()["plan"]["car"]["setups"] == json.loads(document)["setups"]
    broken = json.loads(document)
    broken["tyres"]["mu_lateral"] = -1
    broken["wheels"] = 4
    refused = client.post("/api/plans/1/car/import", content=json.dumps(broken))
    assert refused.status_code == 422
    assert {fault["path"] for fault in refused.json()["faults"]} == {"tyres.mu_lateral", "wheels"}
    text = client.get("/api/plans/1/car/torque.csv").text
    points = client.post("/api/cars/torque", json={"text": text}).json()
    assert points == json.loads(document)["engine"]["torque_curve"]
    assert client.get("/api/schemas/car").json()["title"] == "CarDocument"
    assert '"car"' in client.get("/api/schemas/wheel").json()["faults"][0]["message"]
