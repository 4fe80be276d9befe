"""The calls over HTTP: at a corner, over the lap, in a race; bands, workings, brief, edits."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from api.client import Client
from neapfrost.demo.plans import demo_plan
from neapfrost.services.plans.exchange import import_plan
from neapfrost.store.database import close_store, open_store


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Client]:
    """An application with a short plan as plan 1."""
    folder: Path = tmp_path_factory.mktemp("calls")
    store = open_store(folder)
    plan = demo_plan("dunlin-heath")
    assert plan is not None
    import_plan(store, plan.document)
    yield Client(store)
    close_store(store)


def edit(client: Client, body: dict[str, Any]) -> Any:
    base = client.get("/api/plans/1").json()["revisions"]
    return client.post("/api/plans/1/edit", json={"base": base, "edit": body})


def test_every_call_is_answered_and_an_unknown_corner_is_refused(client: Client) -> None:
    name = client.get("/api/plans/1").json()["result"]["corners"][0]["name"]
    assert client.get("/api/plans/1/calls/0").json()["name"] == name
    assert len(client.get("/api/plans/1/worth").json()["corners"]) == 9
    assert [state["state"] for state in client.get("/api/plans/1/racing").json()["states"]] == [
        "fuel",
        "tyres",
        "behind",
        "together",
    ]
    figures = [one["figure"] for one in client.get("/api/plans/1/workings/0").json()]
    assert figures[-1] == "lap_time_s"
    assert "min_speed_ms" in figures
    assert client.get("/api/plans/1/corner-map/0").json()["line"]["x_m"]
    for route in ("calls", "workings", "corner-map"):
        refused = client.get(f"/api/plans/1/{route}/9")
        assert refused.status_code == 422
        assert refused.json()["faults"][0]["message"].startswith("9 was given; this lap has 9")
    assert client.get("/api/plans/7/worth").status_code == 404


def test_bands_and_brief_in_every_form(client: Client) -> None:
    assert edit(client, {"uncertainty": {"laps": 25}}).status_code == 200
    bands = client.get("/api/plans/1/bands").json()
    assert bands["laps"] == 25
    told = client.get("/api/plans/1/brief").json()
    assert told["lap_band"] == bands["lap_time_s"]
    for form, kind in (
        ("md", "text/markdown"),
        ("csv", "text/csv"),
        ("json", "application/json"),
        ("svg", "image/svg+xml"),
    ):
        file = client.get(f"/api/plans/1/brief/{form}?bands=false&confidence=some")
        assert file.status_code == 200
        assert file.headers["content-type"].startswith(kind)
        assert told["corners"][0]["name"] in file.text
    assert client.get("/api/plans/1/brief/pdf").status_code == 422


def test_edits_are_kept_or_refused_with_the_field_that_is_wrong(client: Client) -> None:
    name = client.get("/api/plans/1").json()["result"]["corners"][0]["name"]
    asked = {"corner": 0, "name": name, "field": "braking", "value": 0.7}
    kept = edit(client, {"order": asked})
    assert kept.json()["plan"]["corners"][0]["braking"] == 0.7
    cost = client.get("/api/plans/1/calls/0").json()["orders"][0]["cost_s"]
    assert cost > 0.0
    wrong = edit(client, {"order": {**asked, "value": 7.0}})
    assert wrong.status_code == 422
    refused = edit(client, {"uncertainty": {"grip_pct": -1}})
    assert refused.status_code == 422
    assert "grip_pct" in refused.json()["faults"][0]["path"]
    stale = client.post(
        "/api/plans/1/edit",
        json={"base": {"car": 1, "circuit": 1, "conditions": 1, "plan": 1}, "edit": {}},
    )
    assert stale.status_code == 409
