"""Routes about trade-offs: what can be varied, studies begun, watched, ended, written, taken."""

import time
from collections.abc import Iterator
from pathlib import Path

import anyio
import httpx
import pytest

from neapfrost.api.app import create_app
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import close_store, open_store


class Asked:
    """One application with one plan, asked again and again."""

    def __init__(self, app: object) -> None:
        self.app = app

    def __call__(self, method: str, path: str, **request: object) -> httpx.Response:
        async def send() -> httpx.Response:
            transport = httpx.ASGITransport(app=self.app)  # type: ignore[arg-type]
            async with httpx.AsyncClient(
                transport=transport, base_url="http://127.0.0.1:8765", timeout=60
            ) as client:
                return await client.request(method, path, **request)  # type: ignore[arg-type]

        return anyio.run(send)

    def study(self, path: str, body: dict[str, object]) -> dict[str, object]:
        begun = self("POST", path, json=body)
        assert begun.status_code == 202, begun.text
        job = begun.json()
        while job["state"] == "running":
            time.sleep(0.05)
            job = self("GET", f"/api/studies/{job['id']}").json()
        return dict(job)


@pytest.fixture(scope="module")
def asked(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Asked]:
    folder: Path = tmp_path_factory.mktemp("store")
    store = open_store(folder)
    session = Asked(create_app(store))
    made = session("POST", "/api/plans/import", content=write_plan(composed("dunlin-heath")))
    assert made.is_success, made.text
    yield session
    close_store(store)


def test_a_sweep_is_begun_watched_and_written(asked: Asked) -> None:
    names = [axis["name"] for axis in asked("GET", "/api/plans/1/axes").json()]
    assert "final_drive" in names
    job = asked.study(
        "/api/plans/1/sweeps", {"axis": "final_drive", "low": 3.8, "high": 4.2, "count": 3}
    )
    assert job["state"] == "done"
    assert job["done"] == job["of"]
    table = asked("GET", f"/api/studies/{job['id']}/study.csv")
    assert table.headers["content-type"].startswith("text/csv")
    assert len(table.text.splitlines()) >= 4
    picture = asked("GET", f"/api/studies/{job['id']}/study.svg")
    assert picture.text.startswith("<svg")


def test_two_figures_keep_to_limits_that_are_asked_for_later(asked: Asked) -> None:
    job = asked.study(
        "/api/plans/1/grids",
        {"x": {"axis": "final_drive", "count": 2}, "y": {"axis": "fuel_kg", "count": 2}},
    )
    free = asked("GET", f"/api/studies/{job['id']}").json()["grid"]
    assert free["best"] is not None
    bound = asked("GET", f"/api/studies/{job['id']}?top_speed_at_least_ms=300").json()["grid"]
    assert bound["best"] is None
    assert bound["best_anywhere"] == free["best"]
    refused = asked("GET", f"/api/studies/{job['id']}?top_rpm_at_most=many")
    assert refused.status_code == 422


def test_sentences_are_said_in_the_units_that_are_spoken(asked: Asked) -> None:
    begun = asked(
        "POST",
        "/api/plans/1/sweeps",
        json={"axis": "wind_speed_ms", "low": 0.0, "high": 4.0, "count": 3},
        headers={"neapfrost-units": "feet"},
    ).json()
    while begun["state"] == "running":
        time.sleep(0.05)
        begun = asked("GET", f"/api/studies/{begun['id']}").json()
    assert "mph" in " ".join(begun["sweep"]["said"]) or "nothing is quicker" in " ".join(
        begun["sweep"]["said"]
    )


@pytest.mark.parametrize(
    ("path", "body", "field"),
    [
        ("sweeps", {"axis": "grup"}, "axis"),
        ("sweeps", {"axis": "grip", "count": 200}, "count"),
        ("sweeps", {"axis": "grip", "low": 2.0, "high": 1.0}, "grip.low"),
        ("grids", {"x": {"axis": "grip"}, "y": {"axis": "grip"}}, "y.axis"),
        ("rankings", {"steps": {"grup": 1.0}}, "steps.grup"),
        ("rankings", {"scatter_s": 0.0}, "scatter_s"),
        ("rankings", {"sctter_s": 0.1}, "sctter_s"),
    ],
)
def test_what_cannot_be_driven_is_refused_by_field(
    asked: Asked, path: str, body: dict[str, object], field: str
) -> None:
    refused = asked("POST", f"/api/plans/1/{path}", json=body)
    assert refused.status_code == 422
    assert field in [fault["path"] for fault in refused.json()["faults"]]


def test_a_study_nobody_knows_is_refused_in_a_sentence(asked: Asked) -> None:
    for method, path in (("GET", "x"), ("DELETE", "x"), ("GET", "x/study.csv")):
        refused = asked(method, f"/api/studies/{path}")
        assert refused.status_code == 422
        assert "start it again" in refused.json()["faults"][0]["message"]


def test_what_was_found_is_taken_and_undone(asked: Asked) -> None:
    opened = asked("GET", "/api/plans/1").json()
    taken = asked(
        "POST",
        "/api/plans/1/take",
        json={
            "base": opened["revisions"],
            "settings": [
                {"axis": "final_drive", "value": 4.15},
                {"axis": "fuel_kg", "value": 9.0},
            ],
        },
    )
    assert taken.status_code == 200, taken.text
    assert taken.json()["undo"] == "Final drive: 4.150; Fuel: 9.0 kg"
    assert taken.json()["plan"]["car"]["fuel_kg"] == 9.0
    # The final drive stands in the car and the fuel in the plan: two documents, and one act.
    back = asked("POST", "/api/plans/1/undo").json()
    assert back["plan"] == opened["plan"]
    stale = asked(
        "POST",
        "/api/plans/1/take",
        json={"base": opened["revisions"], "settings": [{"axis": "compound", "value": "Slick"}]},
    )
    assert stale.status_code in (409, 422)


@pytest.mark.parametrize(
    ("axis", "value"),
    [
        ("ratio_x", 1.0),
        ("ratio_99", 1.0),
        ("grup", 1.0),
        ("ratios", "1 2 three"),
        ("ballast_kg", -1.0),
        ("ballast_kg", "much"),
        ("compound", "Slick"),
    ],
)
def test_what_cannot_be_taken_is_refused_and_nothing_is_kept(
    asked: Asked, axis: str, value: float | str
) -> None:
    opened = asked("GET", "/api/plans/1").json()
    body = {"base": opened["revisions"], "settings": [{"axis": axis, "value": value}]}
    refused = asked("POST", "/api/plans/1/take", json=body)
    assert refused.status_code == 422, refused.text
    assert asked("GET", "/api/plans/1").json()["revisions"] == opened["revisions"]
