"""Routes of the logbook: logs sent, runs simulated, looked at, named, written, taken out."""

import csv
import io

import pytest

from api.client import Client
from neapfrost.demo.plans import composed
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log


@pytest.fixture(scope="module")
def log() -> bytes:
    return simulated_log(composed("k4-dry"), SimulatedRun(laps=3, seed=5, rate_hz=10)).encode()


def test_a_log_is_sent_looked_at_and_written(client: Client, log: bytes) -> None:
    made = client.post("/api/plans/1/logs?name=morning.csv", content=log)
    assert made.status_code == 201, made.text
    number = made.json()["run_id"]
    assert client.post("/api/plans/1/logs?name=again.csv", content=log).json() == made.json()
    assert [run["id"] for run in client.get("/api/plans/2/runs").json()] == [number]
    run = client.get(f"/api/runs/{number}").json()
    assert run["run"]["laps"][run["best"] - 1]["kind"] == "timed"
    lap = client.get(f"/api/runs/{number}/laps/{run['best']}").json()
    assert len(lap["at_m"]) == len(lap["driven_ms"]) == len(lap["loss_s"])
    losses = sum(corner["loss"]["all_s"] for corner in lap["corners"])
    assert losses == pytest.approx(lap["lap_time_s"] - lap["predicted_s"], abs=1e-3)
    table = list(csv.reader(io.StringIO(client.get(f"/api/runs/{number}/run.csv").text)))
    assert [row[0] for row in table[1:]] == [str(one["number"]) for one in run["run"]["laps"]]
    assert client.get(f"/api/runs/{number}/run.json").json() == run["run"]


def test_words_are_in_the_units_that_are_spoken(client: Client, log: bytes) -> None:
    number = client.post("/api/plans/1/logs?name=x.csv", content=log).json()["run_id"]
    best = client.get(f"/api/runs/{number}").json()["best"]
    path = f"/api/runs/{number}/laps/{best}"
    metric = " ".join(one["said"] for one in client.get(path).json()["corners"])
    feet = client.get(path, headers={"neapfrost-units": "feet"}).json()["corners"]
    assert "mph" in " ".join(one["said"] for one in feet)
    assert "mph" not in metric


def test_what_is_no_log_is_refused_with_its_place_and_nothing_is_kept(
    client: Client, log: bytes
) -> None:
    lines = log.decode().splitlines()
    lines[20] = lines[20].replace(",", ",x", 1)
    refused = client.post("/api/plans/1/logs?name=x.csv", content="\n".join(lines).encode())
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == "line 21, column 2"
    hill = simulated_log(composed("dunlin-heath"), SimulatedRun(laps=2, seed=5)).encode()
    other = client.post("/api/plans/1/logs?name=x.csv", content=hill)
    assert "another circuit" in other.json()["faults"][0]["message"]
    assert client.get("/api/plans/1/runs").json() == []
    assert client.get("/api/runs/7").status_code == 404
    assert client.post("/api/plans/99/logs?name=x.csv", content=log).status_code == 404


def test_a_simulated_run_is_named_remarked_taken_out_and_brought_back(client: Client) -> None:
    made = client.post("/api/plans/1/logs/simulated", json={"laps": 3, "seed": 6, "places": False})
    number = made.json()["run_id"]
    run = client.get(f"/api/runs/{number}").json()["run"]
    assert run["simulated"]
    assert run["name"] == "Simulated run 6"
    assert "lat" not in run["columns"]
    said = client.put(f"/api/runs/{number}", json={"name": "Test", "remarks": "loose"}).json()
    assert (said["run"]["name"], said["run"]["remarks"]) == ("Test", "loose")
    assert client.put(f"/api/runs/{number}", json={"name": ""}).status_code == 422
    assert client.get(f"/api/library/run/{number}/revisions").json()[0]["number"] == 2
    assert client.delete(f"/api/library/run/{number}").status_code == 204
    assert client.get("/api/plans/1/runs").json() == []
    assert client.post(f"/api/library/run/{number}/restore").status_code == 204
    assert [one["name"] for one in client.get("/api/plans/1/runs").json()] == ["Test"]
    lap = client.get(f"/api/runs/{number}/laps/99").json()["faults"][0]["message"]
    assert "a lap from line to line is expected" in lap
