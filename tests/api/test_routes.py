"""The API: routes, the one error shape, and what it does not let in."""

import atexit
import tempfile
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import Any

import httpx
import pytest

from api.client import Client
from neapfrost.api.guard import BODY_MOST
from neapfrost.demo.plans import composed
from neapfrost.store.database import Store, open_store

JSON = {"content-type": "application/json"}


@cache
def store() -> Store:
    """A store for this module, gone when the process ends."""
    folder = tempfile.TemporaryDirectory()
    atexit.register(folder.cleanup)
    return open_store(Path(folder.name))


def call(method: str, path: str, host: str = "127.0.0.1:8765", **request: Any) -> httpx.Response:
    return Client(store(), host).request(method, path, **request)


@pytest.fixture(scope="module")
def plan() -> dict[str, Any]:
    return composed("k4-dry").model_dump(mode="json")


def messages(response: httpx.Response) -> list[str]:
    body = response.json()
    assert set(body) == {"error", "faults", "conflict"}
    return [f"{fault['path']}: {fault['message']}" for fault in body["faults"]]


def test_health() -> None:
    assert call("GET", "/api/health").json()["status"] == "ready"


def test_a_file_shown_by_itself_has_the_mark() -> None:
    mark = call("GET", "/favicon.ico")
    assert mark.status_code == 200
    assert mark.headers["content-type"].startswith("image/svg")


def test_solve_answers_with_a_thinned_trace_or_a_full_one(plan: dict[str, Any]) -> None:
    thin = call("POST", "/api/solve", json=plan)
    assert thin.status_code == 200
    result = thin.json()
    assert 800 <= len(result["trace"]["s_m"]) < 1100
    full = call("POST", "/api/solve?full_trace=true", json=plan).json()
    assert len(full["trace"]["s_m"]) > 3900
    assert full["lap_time_s"] == result["lap_time_s"]


def test_what_if_makes_one_change(plan: dict[str, Any]) -> None:
    changed = call(
        "POST", "/api/what-if", json={"plan": plan, "changes": [{"field": "grip", "value": 1.4}]}
    )
    assert changed.status_code == 200
    assert changed.json()["assumptions"]["figures"]["grip"] == 1.4
    plain = call("POST", "/api/what-if", json={"plan": plan}).json()
    assert plain["comparison"] is None
    assert changed.json()["result"]["lap_time_s"] > plain["result"]["lap_time_s"]


def test_faults_have_the_field_s_path(plan: dict[str, Any]) -> None:
    bad = {**plan, "car": {**plan["car"], "mass_kg": -1}}
    response = call("POST", "/api/solve", json=bad)
    assert response.status_code == 422
    assert messages(response) == ["car.mass_kg: -1 was given; more than 0 is expected"]
    response = call(
        "POST", "/api/what-if", json={"plan": plan, "changes": [{"field": "grip", "value": 0}]}
    )
    assert response.status_code == 422
    expected = "car.tyres.mu_lateral: 0 was given; more than 0 is expected"
    assert messages(response) == [f"plan.{expected}"]


def test_a_what_if_says_whether_the_plan_or_its_baseline_is_wrong(plan: dict[str, Any]) -> None:
    def refused(**body: Any) -> str:
        response = call("POST", "/api/what-if", json=body)
        assert response.status_code == 422
        return messages(response)[0]

    stuck = {**plan, "car": {**plan["car"], "tyres": {**plan["car"]["tyres"], "mu_lateral": 0}}}
    crossed = {**plan, "circuit": {**plan["circuit"], "sectors_at_m": [9000.0]}}
    steep = {**plan, "circuit": {**plan["circuit"], "altitude_m": 1e9}}
    for bad in (stuck, crossed, steep):
        assert refused(plan=bad).startswith("plan.c")
        assert refused(plan=plan, against=bad).startswith("against.c")


def test_a_body_that_is_no_json_is_told_by_line_and_column() -> None:
    body, told = b'{\n  "plan": {,}\n}', {"content-type": "application/json"}
    response = call("POST", "/api/what-if", content=body, headers=told)
    assert response.status_code == 422
    assert messages(response)[0].startswith(": line 2, column 12: not JSON")
    assert "not said to be JSON" in messages(call("POST", "/api/what-if", content=body))[0]


def test_no_sentence_is_longer_than_can_be_read(plan: dict[str, Any]) -> None:
    changes = [{"field": "x" * 1000, "value": 1}]
    response = call("POST", "/api/what-if", json={"plan": plan, "changes": changes})
    assert response.status_code == 422
    assert all(0 < len(fault["message"]) <= 300 for fault in response.json()["faults"])


def test_rules_between_fields_hold_here_too(plan: dict[str, Any]) -> None:
    gearbox = {**plan["car"]["gearbox"], "ratios": [2.0, 2.5]}
    response = call("POST", "/api/solve", json={**plan, "car": {**plan["car"], "gearbox": gearbox}})
    assert response.status_code == 422
    assert "ratios must fall" in messages(response)[0]


@pytest.mark.parametrize(
    ("body", "expected"),
    [
        (b"", "this field is missing"),
        (b"{", "not JSON"),
        (b"[]", "an object with named fields is expected"),
        (b'{"car": NaN}', "car: "),
    ],
)
def test_bodies_that_are_no_plan(body: bytes, expected: str) -> None:
    response = call("POST", "/api/solve", content=body, headers=JSON)
    assert response.status_code == 422
    assert any(expected in message for message in messages(response))


def test_a_body_nested_too_deep_is_refused_in_the_same_shape() -> None:
    response = call("POST", "/api/solve", content=b"[" * 100_000, headers=JSON)
    assert response.status_code in (400, 422)
    assert messages(response)


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/api/nothing", 404),
        ("GET", "/api/plans/9999", 404),
        ("GET", "/api/schemas/other", 404),
        ("PUT", "/api/solve", 405),
        ("GET", "/api/solve?step_m=x", 405),
    ],
)
def test_what_is_not_there_says_so(method: str, path: str, status: int) -> None:
    response = call(method, path)
    assert response.status_code == status
    assert messages(response)


def test_schemas_are_published() -> None:
    assert call("GET", "/api/schemas/plan").json()["title"] == "PlanDocument"
    assert call("GET", "/api/schemas/result").json()["title"] == "ResultDocument"


@pytest.mark.parametrize("host", ["neapfrost.example", "10.0.0.3:8765", "localhost.example:80"])
def test_another_host_is_refused(host: str) -> None:
    response = call("GET", "/api/health", host=host)
    assert response.status_code == 400
    assert "answers on this machine only" in messages(response)[0]


@pytest.mark.parametrize("host", ["localhost:8765", "127.0.0.1", "[::1]:8765"])
def test_this_machine_under_its_own_names_is_let_in(host: str) -> None:
    assert call("GET", "/api/health", host=host).status_code == 200


@pytest.mark.parametrize("origin", ["http://elsewhere.example", "http://127.0.0.1:1", "null"])
def test_a_page_of_another_origin_is_refused(origin: str) -> None:
    response = call("POST", "/api/demo", headers={"origin": origin})
    assert response.status_code == 400
    assert "may not call this application" in messages(response)[0]
    own = call("GET", "/api/health", headers={"origin": "http://127.0.0.1:8765"})
    assert own.status_code == 200


def test_bodies_over_5_mb_are_refused_with_and_without_a_length() -> None:
    large = b" " * (BODY_MOST + 1)

    def pieces() -> Iterator[bytes]:
        for start in range(0, len(large), 65536):
            yield large[start : start + 65536]

    async def stream() -> Any:
        for piece in pieces():
            yield piece

    for content in (large, stream()):
        response = call("POST", "/api/solve", content=content, headers=JSON)
        assert response.status_code == 413
        assert messages(response) == [": the body is larger than 5 MB"]


def test_every_answer_carries_the_security_headers() -> None:
    for path in ("/api/health", "/api/nothing"):
        headers = call("GET", path).headers
        assert "default-src 'none'" in headers["content-security-policy"]
        assert "connect-src 'self'" in headers["content-security-policy"]
        assert headers["x-content-type-options"] == "nosniff"


def test_the_error_shape_is_documented_for_every_route() -> None:
    document = call("GET", "/api/openapi.json").json()
    for path, methods in document["paths"].items():
        for operation in methods.values():
            for status in ("400", "404", "409", "413", "422"):
                schema = operation["responses"][status]["content"]["application/json"]["schema"]
                assert schema["$ref"].endswith("/ErrorBody"), path
