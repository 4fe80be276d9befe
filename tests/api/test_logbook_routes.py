"""Routes of the logbook: files looked at and kept, runs typed, laps, events, fits."""

import csv
import io
import time
from pathlib import Path

import httpx
import pytest

from api.client import Client
from neapfrost.demo.plans import composed
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.services.plans.exchange import import_plan
from neapfrost.store.database import close_store, open_store
from serving import running_server


@pytest.fixture(scope="module")
def log() -> bytes:
    return simulated_log(composed("k4-dry"), SimulatedRun(laps=5, seed=5, rate_hz=10)).encode()


def kept(client: Client, log: bytes, **place: object) -> int:
    found = client.post("/api/plans/1/readings?name=morning.csv", content=log)
    assert found.status_code == 200, found.text
    made = client.post(f"/api/readings/{found.json()['id']}/keep", json=place)
    assert made.status_code == 201, made.text
    return int(made.json()["run_id"])


def test_a_log_is_looked_at_kept_and_written(client: Client, log: bytes) -> None:
    number = kept(client, log)
    assert kept(client, log) == number
    season = client.get("/api/plans/2/season").json()
    assert [run["id"] for run in season["runs"]] == [number]
    run = client.get(f"/api/runs/{number}").json()
    assert run["run"]["name"] == "morning.csv"
    assert run["run"]["laps"][run["best"] - 1]["kind"] == "timed"
    lap = client.get(f"/api/runs/{number}/laps/{run['best']}").json()
    assert len(lap["at_m"]) == len(lap["driven_ms"]) == len(lap["loss_s"])
    losses = sum(corner["loss"]["all_s"] for corner in lap["corners"])
    assert losses == pytest.approx(lap["lap_time_s"] - lap["predicted_s"], abs=1e-3)
    table = list(csv.reader(io.StringIO(client.get(f"/api/runs/{number}/run.csv").text)))
    assert [row[0] for row in table[1:]] == [str(one["number"]) for one in run["run"]["laps"]]
    assert client.get(f"/api/runs/{number}/run.json").json() == run["run"]
    channels = client.get(f"/api/runs/{number}/laps/{run['best']}/channels.csv")
    assert channels.text.startswith("Place [m],Time [s]")
    together = client.get(f"/api/laps?runs={number}").json()
    assert together["lap_s"]["count"] == 3
    other = client.get(f"/api/plans/1/against?lap=run:{number}:{run['best']}").json()
    assert other["predicted_s"] == lap["lap_time_s"]
    past = client.get("/api/plans/1/corners/0/history").json()
    assert len(past["runs"][0]["laps"]) >= 3
    assert client.get("/api/plans/1/corners/0/history.csv").text.count("\n") >= 4


def test_words_are_in_the_units_that_are_spoken(client: Client, log: bytes) -> None:
    number = kept(client, log)
    best = client.get(f"/api/runs/{number}").json()["best"]
    path = f"/api/runs/{number}/laps/{best}"
    metric = " ".join(one["said"] for one in client.get(path).json()["corners"])
    feet = client.get(path, headers={"neapfrost-units": "feet"}).json()["corners"]
    assert "mph" in " ".join(one["said"] for one in feet)
    assert "mph" not in metric


def test_what_is_no_log_is_refused_with_its_place_and_nothing_is_kept(
    client: Client, log: bytes
) -> None:
    refused = client.post("/api/plans/1/readings?name=x.csv", content=b"a,b\n1,2\n")
    assert refused.status_code == 422
    assert "No table of samples was found" in refused.json()["faults"][0]["message"]
    heath = simulated_log(composed("dunlin-heath"), SimulatedRun(laps=2, seed=5)).encode()
    other = client.post("/api/plans/1/readings?name=x.csv", content=heath).json()
    assert "another circuit" in other["faults"][0]
    keep = client.post(f"/api/readings/{other['id']}/keep", json={})
    assert keep.status_code == 422
    assert client.delete(f"/api/readings/{other['id']}").status_code == 204
    assert client.post(f"/api/readings/{other['id']}", json={"columns": {}}).status_code == 422
    assert client.get("/api/plans/1/season").json()["runs"] == []
    assert client.get("/api/runs/7").status_code == 404
    assert client.post("/api/plans/99/readings?name=x.csv", content=log).status_code == 404
    assert client.get("/api/readings/watch/morning-1").json()["steps"] == 3
    assert client.delete("/api/readings/watch/morning-1").status_code == 204


def test_a_run_is_typed_in_an_event_and_talked_over(client: Client) -> None:
    event = client.post("/api/plans/1/events", json={"name": "Spring"}).json()["event_id"]
    place = {"name": "Paper", "event_id": event, "session": 1}
    number = client.post("/api/plans/1/runs", json=place).json()["run_id"]
    edit = {"typed": "o\n1:39.4\n1:39.0\nx", "driver": "Oona"}
    opened = client.put(f"/api/runs/{number}", json=edit).json()
    assert [lap["kind"] for lap in opened["run"]["laps"]] == ["out", "timed", "timed"]
    assert opened["typed_faults"][0].startswith('line 4: "x"')
    assert opened["session_name"] == "Test 1"
    marked = client.put(f"/api/runs/{number}", json={"mark": {"number": 3, "kind": "void"}})
    assert marked.json()["best"] == 2
    seen = {"corner": "Bittern", "braking_said": "the oak"}
    refused = client.put(f"/api/runs/{number}", json={"seen": seen})
    assert "is no place" in refused.json()["faults"][0]["message"]
    changed = client.get(f"/api/runs/{number}/changed").json()
    assert changed["said"][0].startswith("There is no run before")
    put = client.put(f"/api/events/{event}", json={"add_session": "race", "name": "Spring test"})
    assert put.status_code == 204
    found = client.get("/api/plans/1/season").json()["events"][0]
    assert (found["name"], len(found["sessions"])) == ("Spring test", 2)
    debrief = client.get(f"/api/events/{event}/debrief").json()
    assert debrief["runs"][0]["facts"][-1].startswith("Plan ")
    text = client.get(f"/api/events/{event}/debrief.md").text
    assert text.startswith("# Spring test")
    assert client.get("/api/events/99/debrief").status_code == 404


def test_a_simulated_run_is_named_remarked_taken_out_and_brought_back(client: Client) -> None:
    wanted = {"wanted": {"laps": 3, "seed": 6, "places": False}}
    made = client.post("/api/plans/1/logs/simulated", json=wanted)
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
    assert client.get("/api/plans/1/season").json()["runs"] == []
    assert client.post(f"/api/library/run/{number}/restore").status_code == 204
    assert client.get("/api/plans/1/season").json()["runs"][0]["name"] == "Test"
    lap = client.get(f"/api/runs/{number}/laps/99").json()["faults"][0]["message"]
    assert "a complete lap is expected" in lap


def test_figures_are_learned_taken_over_and_their_evidence_kept(client: Client, log: bytes) -> None:
    number = kept(client, log)
    job = client.post("/api/plans/1/fits", json={"runs": [number]}).json()
    for _ in range(600):
        if job["state"] != "running":
            break
        time.sleep(0.05)
        job = client.get(f"/api/studies/{job['id']}").json()
    assert job["state"] == "done", job["faults"]
    fit = job["fit"]
    assert [one["name"] for one in fit["figures"]][:2] == ["grip", "along"]
    blames = {one["name"]: one["blames"] for one in client.get("/api/blames").json()}
    base = client.get("/api/plans/1").json()["revisions"]
    body = {"base": base, "job_id": job["id"], "taken": [{"name": "power", "blamed": "car"}]}
    wrong = {**body, "taken": [{"name": "power", "blamed": "driver"}]}
    assert "cannot be applied to" in client.post("/api/plans/1/fits/take", json=wrong).text
    assert blames["power"] == ["car"]
    other = client.post("/api/plans/2/fits/take", json={**body, "base": base})
    assert "this plan has no fit of this name" in other.json()["faults"][0]["message"]
    taken = client.post("/api/plans/1/fits/take", json=body)
    assert taken.status_code == 200, taken.text
    assert taken.json()["revisions"]["car"] == base["car"] + 1
    (evidence,) = client.get("/api/plans/1/fits").json()
    assert evidence["taken"] == ["Power: car"]
    assert client.get(f"/api/fits/{evidence['id']}").json()["figures"] == fit["figures"]
    assert client.get(f"/api/fits/{evidence['id']}/fit.json").json()["taken"] == body["taken"]
    assert client.post("/api/plans/1/fits", json={"runs": [77]}).status_code == 404


def test_a_log_of_forty_megabytes_passes_through_the_real_server(tmp_path: Path) -> None:
    """Wide rows, as of a logger with hundreds of channels."""
    store = open_store(tmp_path)
    import_plan(store, composed("dunlin-heath"))
    close_store(store)
    rest = ",".join(["0.000"] * 20_000)
    rows = "".join(f"{0.05 * n:.2f},{100 + n % 9},{rest}\n" for n in range(350))
    data = ("Time,Speed," + ",".join(f"c{n}" for n in range(20_000)) + "\n" + rows).encode()
    assert len(data) > 40 * 1024 * 1024
    with running_server("serve", tmp_path, solvers=0) as address:
        look = f"{address}api/plans/1/readings?name=wide.csv"
        answer = httpx.post(look, content=data, timeout=120.0)
        assert answer.status_code == 200, answer.text[:200]
        # It was read; what it lacks is told, and its columns can be chosen.
        assert "neither positions nor lateral acceleration" in answer.json()["faults"][0]
        too_large = httpx.post(look, content=data * 2, timeout=120.0)
        assert too_large.status_code == 413
        assert httpx.post(f"{address}api/plans/import", content=data).status_code == 413
