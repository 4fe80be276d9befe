"""No text of a request is free: each has a length, and none keeps half of a character."""

from typing import Any

import pytest

from api.client import Client

#: What bounds a text well enough.
BOUNDS = ("maxLength", "enum", "const", "format", "pattern")
HALF = "\\ud800"


def free_texts(spec: dict[str, Any]) -> list[str]:
    """Where requests hold a string without any bound, by a walk through the description."""
    schemas, seen, free = spec["components"]["schemas"], set[str](), list[str]()

    def walk(schema: dict[str, Any], where: str) -> None:
        if "$ref" in schema:
            name = schema["$ref"].split("/")[-1]
            if name not in seen:
                seen.add(name)
                walk(schemas[name], name)
            return
        if schema.get("type") == "string" and not any(bound in schema for bound in BOUNDS):
            free.append(where)
        for kind in ("anyOf", "oneOf", "allOf", "prefixItems"):
            for part in schema.get(kind, []):
                walk(part, where)
        for name, part in schema.get("properties", {}).items():
            walk(part, f"{where}.{name}")
        if "items" in schema:
            walk(schema["items"], f"{where}[]")
        values = schema.get("additionalProperties")
        if isinstance(values, dict):
            walk(values, f"{where}{{}}")
            walk(schema.get("propertyNames", {"type": "string"}), f"{where} keys")

    for path, methods in spec["paths"].items():
        for method, operation in methods.items():
            for one in operation.get("parameters", []):
                walk(one["schema"], f"{method} {path} {one['name']}")
            for content in operation.get("requestBody", {}).get("content", {}).values():
                walk(content["schema"], f"{method} {path}")
    return free


def test_no_request_holds_a_free_string(client: Client) -> None:
    assert free_texts(client.get("/api/openapi.json").json()) == []


def test_a_walk_would_find_one() -> None:
    body = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/One"}}}}
    spec = {
        "components": {
            "schemas": {
                "One": {
                    "properties": {
                        "free": {"anyOf": [{"type": "string"}, {"type": "null"}]},
                        "bound": {"type": "string", "maxLength": 3},
                        "named": {"additionalProperties": {"type": "number"}},
                    }
                }
            }
        },
        "paths": {"/x": {"post": {"requestBody": body}}},
    }
    assert free_texts(spec) == ["One.free", "One.named keys"]


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("PUT", "/api/plans/1/baseline", '{"plan_id":2,"title":"HALF"}'),
        ("PUT", "/api/runs/1", '{"record":{"a":"HALF"}}'),
        ("PUT", "/api/runs/1", '{"record":{"HALF":"a"}}'),
        ("POST", "/api/plans/1/runs", '{"name":"HALF"}'),
        ("POST", "/api/plans/1/whatif", '{"changes":[{"field":"HALF","value":1.0}]}'),
    ],
)
def test_half_a_character_is_refused_and_the_plan_stays_readable(
    client: Client, method: str, path: str, body: str
) -> None:
    assert client.post("/api/plans/1/runs", json={}).status_code == 201
    headers = {"content-type": "application/json"}
    text = body.replace("HALF", HALF)
    answer = client.request(method, path, content=text.encode(), headers=headers)
    assert answer.status_code in (400, 404, 405, 422), answer.text
    for kept in ("/api/plans/1", "/api/plans/2", "/api/runs/1", "/api/plans/1/season"):
        assert client.get(kept).status_code == 200


@pytest.mark.parametrize(
    "given",
    [
        {"kind": "gear", "word": "3", "figures": [3.0]},
        {"kind": "speed", "word": "fast", "figures": [30.0]},
        {"kind": "speed", "word": "fast"},
        {"kind": "action", "word": "flat", "figures": [1.0, 2.0]},
        {"kind": "see", "word": "100", "figures": [1.0]},
    ],
)
def test_an_answer_of_both_kinds_is_refused(client: Client, given: dict[str, Any]) -> None:
    answer = client.post("/api/plans/1/drill/answers", json={"corner": 0, **given})
    assert answer.status_code == 422, answer.text
    assert answer.json()["faults"][0]["path"] in ("figures", "word", "kind")


@pytest.mark.parametrize("speed", [1e-200, 0.0, -3.0, 1e300])
def test_an_area_at_no_speed_is_refused(client: Client, speed: float) -> None:
    answer = client.post("/api/cars/area", json={"force_kg": 100.0, "speed_ms": speed})
    assert answer.status_code == 422
    assert client.post("/api/cars/area", json={"force_kg": 100.0, "speed_ms": 50.0}).is_success
