"""Routes of the weather: files kept, records changed, sessions driven, the station followed."""

import time
from collections.abc import Iterator
from datetime import datetime
from typing import Any

import pytest

from api.client import Client
from neapfrost.cli.listening import listening
from neapfrost.standins.weather.station import RunningStation, Station

CSV = "Time;Air [°F];Wind [km/h];Direction\n09:00;68;18;W\n09:30;70;36;NW\n10:30;71;36;N\n"
FILE = {"name": "Morning", "text": CSV, "day": "2031-05-17T00:00"}


def kept(client: Client, text: dict[str, Any] | None = None) -> int:
    made = client.post("/api/weather/keep", json=text or FILE)
    assert made.status_code == 201, made.text
    return int(made.json()["weather_id"])


def study(client: Client, path: str, body: dict[str, Any]) -> dict[str, Any]:
    begun = client.post(path, json=body)
    assert begun.status_code == 202, begun.text
    job: dict[str, Any] = begun.json()
    while job["state"] == "running":
        time.sleep(0.05)
        job = client.get(f"/api/studies/{job['id']}").json()
    assert job["state"] == "done", job
    return job


def test_a_file_is_looked_at_its_columns_chosen_and_kept(client: Client) -> None:
    look = client.post("/api/weather/look", json=FILE).json()
    assert look["kind"] == "columns"
    assert (look["count"], look["first_at"]) == (3, "2031-05-17T09:00:00")
    assert {one["role"]: one["unit"] for one in look["columns"]} == {
        "time": "clock",
        "air": "°F",
        "wind": "km/h",
        "from": "compass",
    }
    assert "Rain" in look["missing"]
    chosen = [{**one, "unit": "m/s"} if one["role"] == "wind" else one for one in look["columns"]]
    number = kept(client, {**FILE, "columns": chosen})
    record = client.get(f"/api/weather/{number}").json()["record"]
    assert record["readings"][0]["wind_speed_ms"] == 18.0
    assert record["readings"][1]["wind_from_deg"] == 315.0
    listed = client.get("/api/library/weather").json()
    assert [(one["name"], one["reading_count"]) for one in listed] == [("Morning", 3)]


def test_a_bad_file_is_refused_with_its_line_and_nothing_is_kept(client: Client) -> None:
    bad = {**FILE, "text": CSV.replace("09:30;70", "09:30;warm")}
    look = client.post("/api/weather/look", json=bad).json()
    assert look["fault"] == 'line 3, column 2: "warm" is not a number'
    refused = client.post("/api/weather/keep", json=bad)
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == "line 3, column 2"
    assert client.get("/api/library/weather").json() == []
    nothing = client.post("/api/weather/look", json={**FILE, "text": "9:00,20\n"})
    assert "no header was found" in nothing.json()["faults"][0]["message"]


def test_a_record_goes_out_and_comes_back_as_it_was(client: Client) -> None:
    number = kept(client)
    text = client.get(f"/api/weather/{number}/record.json").text
    assert client.post("/api/weather/look", json={**FILE, "text": text}).json()["count"] == 3
    assert kept(client, {**FILE, "text": text}) == number
    table = client.get(f"/api/weather/{number}/record.csv").text
    assert table.splitlines()[1].startswith("2031-05-17T09:00:00,20.0,")
    document = client.get("/api/schemas/conditions").json()
    assert document["title"] == "WeatherRecordDocument"


def test_a_record_is_written_anew_on_what_it_was_read_at(client: Client) -> None:
    number = kept(client)
    there = client.get(f"/api/weather/{number}").json()
    record = {**there["record"], "water": {**there["record"]["water"], "run_off_min": 25.0}}
    body = {"base": 1, "record": record, "remark": "Run-off 25 min"}
    assert client.put(f"/api/weather/{number}", json=body).json()["revision"] == 2
    stale = client.put(f"/api/weather/{number}", json=body)
    assert "has been changed since" in stale.json()["faults"][0]["message"]
    wrong = {**body, "base": 2, "record": {**record, "readings": record["readings"][::-1]}}
    refused = client.put(f"/api/weather/{number}", json=wrong).json()["faults"]
    assert refused[0]["path"] == "readings[1].at"
    assert client.get("/api/weather/99").status_code == 404
    names = [one["label"] for one in client.get("/api/weather-figures").json()]
    assert "Run-off" in names


def test_a_session_is_driven_and_a_moment_of_it_taken(client: Client) -> None:
    without = client.post("/api/plans/1/sessions", json={})
    assert "no record of the weather is chosen" in without.json()["faults"][0]["message"]
    choice = {"weather_id": kept(client)}
    assert client.put("/api/plans/1/weather", json=choice).json()["weather"]["name"] == "Morning"
    job = study(client, "/api/plans/1/sessions", {"every_min": 30.0, "threshold_m": 2.0})
    points = job["session"]["points"]
    assert [one["at"][11:16] for one in points] == ["09:00", "09:30", "10:00", "10:30"]
    assert all(one["figures"]["lap_time_s"] > 60.0 for one in points)
    table = client.get(f"/api/studies/{job['id']}/study.csv").text
    assert table.startswith("Time,Air")
    opened = client.get("/api/plans/1").json()
    body = {
        "base": opened["revisions"],
        "conditions": points[-1]["conditions"],
        "source": "10:30, Morning",
    }
    taken = client.post("/api/plans/1/conditions", json=body).json()
    assert taken["plan"]["conditions"]["wind_speed_ms"] == pytest.approx(10.0)
    assert taken["undo"] == "Conditions of 10:30, Morning"
    assert client.post("/api/plans/1/conditions", json=body).status_code == 409
    fewer = client.post("/api/plans/1/weathers", json={})
    assert "fewer than two forecasts" in fewer.json()["faults"][0]["message"]


@pytest.fixture
def station() -> Iterator[RunningStation]:
    day = Station("sea-breeze", datetime(2031, 5, 17, 12, 40), seed=2, pace=60.0)
    with listening(0) as listener:
        running = RunningStation(day, listener)
        running.start()
        yield running
        running.stop()


def test_the_station_is_set_followed_and_kept(client: Client, station: RunningStation) -> None:
    assert client.get("/api/station").json()["state"] == "none"
    unset = client.get("/api/plans/1/since").json()["faults"][0]
    assert "no weather station is set" in unset["message"]
    assert client.get("/api/station/stream").status_code == 422
    away = client.put("/api/station", json={"address": "http://192.0.2.1:80"})
    assert "on this machine only" in away.json()["faults"][0]["message"]
    body = {"address": station.address, "threshold_m": 1.0}
    look = client.put("/api/station", json=body).json()
    assert (look["state"], look["simulated"]) == ("answers", True)
    since = client.get("/api/plans/1/since").json()
    assert since["said"].startswith("Since this plan: wind turned")
    assert since["moved"]
    made = client.post("/api/station/keep?name=Afternoon")
    record = client.get(f"/api/weather/{made.json()['weather_id']}").json()["record"]
    assert record["simulated"]
    assert record["readings"][0]["at"] == "2031-05-17T12:40:00"
    station.stop()
    assert client.get("/api/station").json()["state"] == "gone"
    gone = client.get("/api/plans/1/since").json()["faults"][0]["message"]
    assert "no station answers" in gone
