"""What is said of a lap in the units that the reader asks for, over the API."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from api.client import Client
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import close_store, open_store

METRIC = re.compile(r"\d (km/h|m)\b")


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Client]:
    folder: Path = tmp_path_factory.mktemp("spoken")
    store = open_store(folder)
    client = Client(store)
    assert client.post("/api/plans/import", content=write_plan(composed("k4-dry"))).is_success
    yield client
    close_store(store)


def opened(client: Client, units: str | None) -> dict[str, Any]:
    headers = {} if units is None else {"neapfrost-units": units}
    reply = client.request("GET", "/api/plans/1", headers=headers)
    assert reply.status_code == 200
    body: dict[str, Any] = reply.json()
    return body


def sentences(words: dict[str, Any]) -> list[str]:
    """Every sentence that is said of a lap."""
    corners = [corner["sentence"] for corner in words["corners"]]
    return [*corners, *words["notes"], words["summary"]]


@pytest.mark.parametrize(("units", "length"), [("feet", "ft"), ("yards", "yd")])
def test_everything_that_is_said_is_said_in_them(client: Client, units: str, length: str) -> None:
    words = opened(client, units)["words"]
    assert words["units"] == units
    said = " ".join(sentences(words))
    assert not METRIC.search(said), METRIC.search(said)
    assert len(words["corners"]) == 11
    assert f" {length}" in said
    assert " mph" in said


def describe_test_the_figures_stay_in_si_whatever_is(client: Client) -> None:
    plain, spoken = opened(client, None), opened(client, "feet")
    assert plain["words"]["units"] == "metric"
    assert plain["result"] == spoken["result"]
    assert plain["assumptions"] == spoken["assumptions"]
    assert sentences(plain["words"]) != sentences(spoken["words"])


def test_units_that_nobody_speaks_are_read_as_none_asked_for(client: Client) -> None:
    assert opened(client, "furlongs")["words"] == opened(client, None)["words"]


@pytest.mark.parametrize(
    ("change", "units", "said"),
    [
        ({"field": "radius_m", "corner": "Sluice", "value": -4.0}, "metric", "-4 m was given"),
        ({"field": "radius_m", "corner": "Sluice", "value": -4.0}, "feet", "-13.12 ft was given"),
        # A wind is told in m/s where every other speed is told in km/h.
        ({"field": "wind_speed_ms", "value": -2.0}, "metric", "-2 m/s was given; 0 m/s or more"),
        ({"field": "wind_speed_ms", "value": 100.0}, "feet", "223.7 mph was given; 134.2 mph or"),
    ],
)
def test_a_refusal_is_said_in_the_reader_s_units(
    client: Client, change: dict[str, object], units: str, said: str
) -> None:
    body = {"base": opened(client, None)["revisions"], "changes": [change]}
    headers = {"neapfrost-units": units}
    reply = client.request("POST", "/api/plans/1/changes", json=body, headers=headers)
    assert reply.status_code == 422
    assert said in reply.json()["faults"][0]["message"]


def test_a_what_if_says_its_lap_in_the_units_of_its_question(client: Client) -> None:
    plan = opened(client, None)["plan"]
    changes = [{"field": "grip", "value": 1.3}]
    told = {
        units: client.post(
            "/api/what-if", json={"plan": plan, "changes": changes, "units": units}
        ).json()
        for units in ("metric", "yards")
    }
    assert told["metric"]["result"]["lap_time_s"] == told["yards"]["result"]["lap_time_s"]
    assert told["yards"]["words"]["units"] == "yards"
    assert not METRIC.search(" ".join(sentences(told["yards"]["words"])))


@pytest.mark.parametrize("name", ["\x02furlong 1.0 1 unit\x03", r"C:\u0002 x", "\x02length"])
def test_a_name_that_looks_like_a_figure_breaks_no_answer(client: Client, name: str) -> None:
    base = client.get("/api/plans/1").json()["revisions"]
    body = {"base": base, "choice": {"name": name}}
    kept = client.post("/api/plans/1/choice", json=body)
    assert kept.is_success, kept.text
    for units in (None, "feet", "yards.kg"):
        headers = {} if units is None else {"neapfrost-units": units}
        opened = client.get("/api/plans/1", headers=headers)
        assert opened.is_success
        assert opened.json()["name"] == name.strip()


def test_the_history_is_read_in_anybodys_units(client: Client) -> None:
    base = client.get("/api/plans/1").json()["revisions"]
    changes = [{"field": "mass_kg", "value": 700.0}]
    client.post("/api/plans/1/changes", json={"base": base, "changes": changes})
    told = {
        units: client.get("/api/plans/1/history", headers={"neapfrost-units": units}).json()[0]
        for units in ("metric", "feet", "feet.kg")
    }
    assert told["metric"]["label"] == "Mass 690 to 700 kg"
    assert told["feet"]["label"] == "Mass 1521 to 1543 lb"
    assert told["feet.kg"]["label"] == "Mass 690 to 700 kg"
