"""Routes of kept plans: what they answer, and how a write that met another one is said."""

from collections.abc import Callable

import httpx
import pytest

from api.client import Client
from neapfrost.demo.plans import demo_plans
from neapfrost.store.database import Store
from neapfrost.store.trouble import StoreTrouble


def change(client: Client, base: dict[str, int], **figures: float) -> httpx.Response:
    changes = [{"field": field, "value": value} for field, value in figures.items()]
    return client.post("/api/plans/1/changes", json={"base": base, "changes": changes})


def test_a_plan_opens_with_its_lap_its_parts_and_its_revisions(client: Client) -> None:
    body = client.get("/api/plans/1").json()
    assert body["revisions"] == {"car": 1, "circuit": 1, "conditions": 1, "plan": 1}
    assert body["car"]["also_in"] == ["Kittiwake K4, race fuel, strong west wind"]
    assert body["result"]["lap_time_s"] == pytest.approx(99.094, abs=0.01)
    assert body["result"]["revisions"] == body["revisions"]
    assert body["undo"] is body["redo"] is body["baseline"] is body["comparison"] is None


def test_the_opening_is_the_plan_itself_in_the_units_that_are_spoken(client: Client) -> None:
    opening = client.get("/api/opening?plan=2").json()
    assert opening == {"plan": client.get("/api/plans/2").json()}
    feet = {"neapfrost-units": "feet"}
    spoken = client.get("/api/opening?plan=2", headers=feet).json()["plan"]
    assert spoken == client.get("/api/plans/2", headers=feet).json()
    assert (opening["plan"]["words"]["units"], spoken["words"]["units"]) == ("metric", "feet")


def test_the_opening_is_refused_for_what_is_no_number(client: Client) -> None:
    refused = client.get("/api/opening?plan=second")
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == "plan"


def test_changes_undo_redo_and_history(client: Client) -> None:
    base = client.get("/api/plans/1").json()["revisions"]
    kept = change(client, base, grip=1.42).json()
    assert kept["undo"] == "Grip 1.52 to 1.42"
    undone = client.post("/api/plans/1/undo").json()
    assert (undone["assumptions"]["figures"]["grip"], undone["redo"]) == (1.52, "Grip 1.52 to 1.42")
    assert client.post("/api/plans/1/redo").json()["assumptions"]["figures"]["grip"] == 1.42
    steps = client.get("/api/plans/1/history").json()
    assert [step["label"] for step in steps] == ["Grip 1.52 to 1.42", "Imported"]
    assert steps[0]["worth_s"] == pytest.approx(2.017, abs=0.01)
    assert steps[0]["made_at"].endswith("Z")


def test_a_stale_write_is_409_with_what_changed_and_keeps_nothing(client: Client) -> None:
    base = client.get("/api/plans/1").json()["revisions"]
    change(client, base, grip=1.42)
    response = change(client, base, fuel_kg=20.0)
    assert response.status_code == 409
    body = response.json()
    assert body["error"] == "This was changed elsewhere in the meantime."
    assert "has been changed since this page read it" in body["faults"][0]["message"]
    assert body["conflict"]["reason"] == "stale"
    assert "Grip: 1.52 to 1.42" in body["conflict"]["changes"]
    assert client.get("/api/plans/1").json()["assumptions"]["figures"]["fuel_kg"] == 31.0
    merged = change(client, body["conflict"]["revisions"], fuel_kg=20.0)
    assert merged.status_code == 200
    assert merged.json()["assumptions"]["figures"]["grip"] == 1.42


def test_a_base_that_never_was_is_refused(client: Client) -> None:
    response = change(client, {"car": 7, "circuit": 1, "conditions": 1, "plan": 1}, grip=1.4)
    assert response.status_code == 422
    assert response.json()["faults"][0] == {
        "path": "base",
        "message": "there is no revision 7 of car 1",
    }


def test_a_choice_and_a_pin(client: Client) -> None:
    base = client.get("/api/plans/1").json()["revisions"]
    body = {"base": base, "choice": {"pins": {"car": 1}}}
    pinned = client.post("/api/plans/1/choice", json=body).json()
    assert pinned["car"]["pinned"] is True
    refused = change(client, pinned["revisions"], grip=1.4)
    assert refused.status_code == 422
    assert "is pinned at revision 1" in refused.json()["faults"][0]["message"]
    body = {"base": pinned["revisions"], "choice": {"colour": "red"}}
    assert client.post("/api/plans/1/choice", json=body).status_code == 422


def test_the_baseline_is_kept_with_the_plan(client: Client) -> None:
    set_ = client.put("/api/plans/1/baseline", json={"plan_id": 2}).json()
    assert set_["baseline"]["title"] == "Kittiwake K4, race fuel, strong west wind"
    again = client.get("/api/plans/1").json()
    assert again["comparison"]["lap_s"] == pytest.approx(0.116, abs=0.01)
    points = len(again["result"]["trace"]["s_m"])
    assert len(again["comparison"]["time_s"]) == points
    assert len(again["comparison"]["base_speed_ms"]) == points
    assert client.delete("/api/plans/1/baseline").json()["comparison"] is None


def test_a_what_if_is_set_against_a_plan(client: Client) -> None:
    plan = client.get("/api/plans/1/document").json()
    body = {"plan": plan, "changes": [{"field": "grip", "value": 1.42}], "against": plan}
    answer = client.post("/api/what-if", json=body).json()
    assert answer["comparison"]["lap_s"] == pytest.approx(2.017, abs=0.01)
    assert client.get("/api/plans/1").json()["revisions"]["car"] == 1
    many = {**body, "changes": body["changes"] * 51}
    assert client.post("/api/what-if", json=many).status_code == 422


def test_a_kept_plan_is_asked_about_by_its_revisions(client: Client) -> None:
    opened = client.get("/api/plans/1").json()
    changes = [{"field": "grip", "value": 1.4}]
    asked = {"revisions": opened["revisions"], "changes": changes}
    against = {"plan_id": 1, "revisions": opened["revisions"]}
    here = client.post("/api/plans/1/what-if", json={**asked, "against": against}).json()
    body = {"plan": opened["plan"], "changes": changes, "against": opened["plan"]}
    assert here == client.post("/api/what-if", json=body).json()
    # What was asked about stays what it was, whatever is written since.
    kept = client.post(
        "/api/plans/1/changes", json={"base": opened["revisions"], "changes": changes}
    )
    assert kept.json()["result"]["lap_time_s"] == here["result"]["lap_time_s"]
    again = client.post("/api/plans/1/what-if", json={**asked, "changes": []}).json()
    assert again["result"]["lap_time_s"] == opened["result"]["lap_time_s"]
    refused = client.post("/api/plans/1/what-if", json={**asked, "revisions": {"car": 1}})
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == "revisions.circuit"
    later = {**opened["revisions"], "car": 99}
    assert client.post("/api/plans/1/what-if", json={"revisions": later}).status_code == 404
    bad = {**asked, "changes": [{"field": "grip", "value": -1}]}
    assert client.post("/api/plans/1/what-if", json=bad).status_code == 422


def test_documents_go_out_and_come_back_as_known(client: Client) -> None:
    document = client.get("/api/plans/1/document")
    again = client.post("/api/plans/import", content=document.content).json()
    assert again == {
        "plan_id": 1,
        "name": "Kittiwake K4, dry, qualifying fuel",
        "outcome": "known",
    }


@pytest.mark.parametrize(
    ("body", "message"),
    [
        (b'{"format": "neapfrost/plan",\n  "version": }', "line 2, column 14"),
        (b"\xff\xfe", "UTF-8"),
        (b'{"a": 1, "a": 2}', "a"),
        (b"{}", "this field is missing"),
    ],
)
def test_a_bad_file_is_refused_with_its_place_and_nothing_is_kept(
    client: Client, body: bytes, message: str
) -> None:
    response = client.post("/api/plans/import", content=body)
    assert response.status_code == 422
    assert any(
        message in f"{fault['path']}: {fault['message']}" for fault in response.json()["faults"]
    )
    assert len(client.get("/api/library/plan").json()) == 2


def test_results_are_reproduced_by_their_revisions(client: Client) -> None:
    first = client.get("/api/plans/1/result").json()
    change(client, first["revisions"], grip=1.42)
    query = "&".join(f"{name}={number}" for name, number in first["revisions"].items())
    assert client.get(f"/api/plans/1/result?{query}").json() == first
    assert client.get("/api/plans/1/result?car=9&circuit=1&conditions=1&plan=1").status_code == 404


def test_the_corner_table_goes_out_as_text(client: Client) -> None:
    text = client.get("/api/plans/1/corners?units=feet&separator=tab")
    assert text.headers["content-type"].startswith("text/csv")
    heading, first = text.text.splitlines()[:2]
    assert "minimum speed (mph)" in heading.split("\t")
    assert first.split("\t")[1] == "Sluice"
    assert client.get("/api/plans/1/corners?units=miles").status_code == 422


def test_the_library_lists_copies_deletes_and_brings_back(client: Client) -> None:
    copy = client.post("/api/library/plan/1/copy?own_parts=true").json()["id"]
    names = [plan["name"] for plan in client.get("/api/library/plan?search=copy").json()]
    assert names == ["Kittiwake K4, dry, qualifying fuel, copy"]
    assert client.delete(f"/api/library/plan/{copy}").status_code == 204
    assert client.get(f"/api/plans/{copy}").status_code == 404
    gone = client.get("/api/library/plan?deleted=true").json()
    assert [plan["id"] for plan in gone] == [copy]
    assert client.post(f"/api/library/plan/{copy}/restore").status_code == 204
    assert client.get(f"/api/plans/{copy}").status_code == 200
    refused = client.delete("/api/library/car/1")
    assert refused.status_code == 422
    assert "delete these plans first" in refused.json()["faults"][0]["message"]
    revisions = client.get("/api/library/car/1/revisions").json()
    assert [revision["number"] for revision in revisions] == [1]
    assert client.get("/api/library/tyre").status_code == 422


def test_new_plans_are_made(client: Client) -> None:
    body = {"name": "New", "car_id": 1, "circuit_id": 1, "conditions_id": 2}
    made = client.post("/api/plans", json=body)
    assert made.status_code == 201
    assert client.get(f"/api/plans/{made.json()['plan_id']}").json()["name"] == "New"
    car = {
        "name": "Mine",
        "mass_kg": 900,
        "peak_power_kw": 150,
        "top_speed_ms": 60,
        "lateral_g": 1.1,
    }
    first = {
        "car": car,
        "circuit": {
            "name": "Square",
            "segments": [
                {"turn": "straight", "length_m": 300},
                {"turn": "left", "radius_m": 30, "angle_deg": 90},
            ]
            * 4,
        },
    }
    made = client.post("/api/plans/first", json=first)
    assert made.status_code == 201, made.text
    assert client.get(f"/api/plans/{made.json()['plan_id']}").json()["name"] == "Mine at Square"
    first["car"] = {**car, "mass_kg": -1}
    faults = client.post("/api/plans/first", json=first).json()["faults"]
    assert faults == [{"path": "car.mass_kg", "message": "-1 was given; more than 50 is expected"}]


def test_the_demo_world_is_opened_once(store: Store) -> None:
    client = Client(store)
    assert client.get("/api/library/plan").json() == []
    first = client.post("/api/demo")
    assert first.status_code == 201
    assert client.get(f"/api/plans/{first.json()['plan_id']}").json()["name"] == (
        demo_plans()[0].document.name
    )
    assert client.post("/api/demo").json() == first.json()
    assert len(client.get("/api/library/plan").json()) == len(demo_plans())


def test_a_disk_that_will_not_have_it_is_a_sentence(
    client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    import neapfrost.api.plans as routes

    def full(*_: object) -> Callable[..., None]:
        raise StoreTrouble("/data/neapfrost.db: the disk is full; nothing of this change was saved")

    monkeypatch.setattr(routes, "keep_changes", full)
    response = change(client, {"car": 1, "circuit": 1, "conditions": 1, "plan": 1}, grip=1.4)
    assert response.status_code == 503
    assert response.json()["error"] == "The data cannot be read or saved."
    assert "the disk is full" in response.json()["faults"][0]["message"]
