"""Routes about lines and files of points: searched for, taken, read, kept, written."""

import time
from collections.abc import Iterator
from pathlib import Path

import anyio
import httpx
import pytest

from neapfrost.api.app import create_app
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import Store, close_store, open_store


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    store = open_store(tmp_path)
    yield store
    close_store(store)


class Session:
    """Several requests to one application, which remembers searches and files between them."""

    def __init__(self, store: Store) -> None:
        self.app = create_app(store)

    def request(self, method: str, path: str, **request: object) -> httpx.Response:
        async def send() -> httpx.Response:
            transport = httpx.ASGITransport(app=self.app)
            async with httpx.AsyncClient(
                transport=transport, base_url="http://127.0.0.1:8765", timeout=60
            ) as client:
                return await client.request(method, path, **request)  # type: ignore[arg-type]

        return anyio.run(send)


@pytest.fixture
def session(store: Store) -> Iterator[Session]:
    """An application with the demo road as plan 1."""
    session = Session(store)
    plan = demo_plan("garganey-samphire")
    assert plan is not None
    made = session.request("POST", "/api/plans/import", content=write_plan(plan.document))
    assert made.is_success, made.text
    yield session
    session.app.state.line_jobs.stop()


def test_a_line_is_searched_for_and_taken(session: Session) -> None:
    begun = session.request("POST", "/api/plans/1/lines", json={"kinds": ["short", "widest"]})
    assert begun.status_code == 202
    job = begun.json()["id"]
    for _ in range(300):
        look = session.request("GET", f"/api/lines/{job}").json()
        if look["state"] != "running":
            break
        time.sleep(0.1)
    assert look["state"] == "done"
    base = session.request("GET", "/api/plans/1").json()["revisions"]
    taken = session.request(
        "POST",
        "/api/plans/1/line",
        json={"base": base, "settings": {"kind": "widest"}, "job": job},
    ).json()
    assert taken["result"]["line"] == {
        "wanted": "widest",
        "driven": "widest",
        "changed_since": [],
        "lost_wishes": [],
        "ended": "settled",
    }
    assert taken["result"]["lap_time_s"] == pytest.approx(look["lines"][1]["lap_time_s"], abs=2e-3)
    stale = session.request(
        "POST", "/api/plans/1/line", json={"base": base, "settings": {"kind": "centre"}}
    )
    assert stale.status_code == 409


def test_a_search_that_is_not_known_is_said_in_a_sentence(session: Session) -> None:
    look = session.request("GET", "/api/lines/none")
    assert look.status_code == 422
    assert "has ended; start it again" in look.json()["faults"][0]["message"]


def test_the_road_is_drawn(session: Session) -> None:
    road = session.request("GET", "/api/plans/1/road").json()
    count = len(road["road_at_m"])
    for way in ("middle", "left", "right", "usable_left", "usable_right"):
        assert len(road[way]["x_m"]) == len(road[way]["y_m"]) == count
    assert road["settings"]["computed"] is None


def test_a_road_solved_by_document_gets_its_line(session: Session) -> None:
    document = session.request("GET", "/api/plans/1/document").json()
    document["line"] = {"kind": "widest"}
    result = session.request("POST", "/api/solve", json=document).json()
    assert result["line"]["driven"] == "widest"


def test_a_file_is_read_looked_at_again_and_kept(session: Session) -> None:
    text = session.request("GET", "/api/plans/1/road.points.csv")
    assert text.headers["content-disposition"].endswith('"samphire-ring.points.csv"')
    first = session.request("POST", "/api/imports?name=mere.csv", content=text.content).json()
    assert first["has_widths"]
    path = f"/api/imports/{first['id']}"
    again = session.request("POST", path, json={"smoothing_m": 60.0, "width_m": 14.0}).json()
    assert (again["smoothing_m"], again["width_m"]) == (60.0, 14.0)
    kept = session.request(
        "POST", f"{path}/keep", json={"plan_id": 1, "accepted": {"name": "Mere"}}
    )
    assert kept.status_code == 201
    opened = session.request("GET", f"/api/plans/{kept.json()['plan_id']}").json()
    assert opened["circuit"]["name"] == "Mere"
    gone = session.request("POST", path, json={})
    assert gone.status_code == 422


def test_a_bad_file_keeps_nothing_and_is_refused(session: Session) -> None:
    reply = session.request("POST", "/api/imports?name=x.csv", content=b"x,y\n1,2\n3,four\n")
    assert reply.status_code == 422
    assert reply.json()["faults"] == [
        {"path": "line 3, column 2", "message": '"four" is not a number'}
    ]


def test_files_may_be_larger_than_documents(session: Session) -> None:
    data = b"x,y\n" + b"1,2\n" * 1_500_000
    assert "points" in session.request("POST", "/api/imports?name=x.csv", content=data).text
    assert session.request("POST", "/api/plans/import", content=data).status_code == 413


def test_an_unknown_format_is_no_route(session: Session) -> None:
    assert session.request("GET", "/api/plans/1/road.dxf").status_code in (404, 422)
