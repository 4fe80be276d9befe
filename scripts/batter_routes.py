"""Requests made from the application's own schema and then spoiled: never an answer of 5xx.

`python scripts/batter_routes.py 60` batters for so many seconds and tells every failure; the tests
do the same for a moment. Requests go to the application itself, without a network between.
"""

import json
import random
import sys
import tempfile
import time
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import anyio
import httpx

from battering import ODD, WORK_MOST_S, seeds_for, spoiled_document
from neapfrost.api.app import create_app
from neapfrost.demo.plans import demo_plans
from neapfrost.services.plans.exchange import import_plan
from neapfrost.store.database import Store, close_store, open_store

DEEPEST = 7
#: Searches go on in processes of their own, and a ring closed by guess may take a minute.
LEFT_OUT = ("/api/lines/", "/lines/search")


def made(lot: random.Random, schema: dict[str, Any], spec: dict[str, Any], depth: int = 0) -> Any:
    """A value that a schema allows, or nearly."""
    while "$ref" in schema:
        schema = spec["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]]
    if depth > DEEPEST:
        return None
    for several in ("anyOf", "oneOf", "allOf"):
        if several in schema:
            return made(lot, lot.choice(schema[several]), spec, depth + 1)
    if "const" in schema:
        return schema["const"]
    if "enum" in schema:
        return lot.choice(schema["enum"])
    match schema.get("type"):
        case "object":
            fields = schema.get("properties", {})
            needed = schema.get("required", [])
            return {
                name: made(lot, field, spec, depth + 1)
                for name, field in fields.items()
                if name in needed or lot.random() < 0.4
            }
        case "array":
            low = schema.get("minItems", 0)
            count = lot.randint(low, max(low, min(schema.get("maxItems", 3), 3)))
            return [made(lot, schema.get("items", {}), spec, depth + 1) for _ in range(count)]
        case "integer":
            return lot.choice((0, 1, 2, 3, lot.randint(-5, 12)))
        case "number":
            low, high = schema.get("minimum", -10.0), schema.get("maximum", 100.0)
            return lot.choice((low, high, lot.uniform(low, high), 1.0))
        case "string":
            return lot.choice(("x", "T1", "grip", "a b", "é" * 3))
        case "boolean":
            return lot.random() < 0.5
    return None


def one_request(lot: random.Random, spec: dict[str, Any]) -> tuple[str, str, Any]:
    """Method, path with its query, and body (None for none)."""
    path, routes = lot.choice(sorted(spec["paths"].items()))
    method, route = lot.choice(sorted(routes.items()))
    query = []
    for parameter in route.get("parameters", []):
        value = made(lot, parameter["schema"], spec)
        if parameter["in"] == "path" and "id" in parameter["name"] and lot.random() < 0.8:
            value = lot.choice((1, 2, 3))
        if lot.random() < 0.08:
            value = lot.choice(ODD)
        text = str(value)[:5000].replace("/", "").encode("utf-8", "replace").decode() or "0"
        if parameter["in"] == "path":
            path = path.replace("{" + parameter["name"] + "}", text)
        elif parameter["in"] == "query" and (parameter.get("required") or lot.random() < 0.4):
            query.append((parameter["name"], text))
    address = str(httpx.URL(path, params=query)) if query else path
    content = route.get("requestBody", {}).get("content", {})
    body = None
    if content:
        body = made(lot, next(iter(content.values())).get("schema", {}), spec)
        if body is not None and lot.random() < 0.5:
            body = spoiled_document(lot, [body])
            body = body[0] if body else None
    return method.upper(), address, body


def real_bodies(client_get: dict[str, Any]) -> list[tuple[str, str, Any]]:
    """Requests that mean something, to be spoiled: edits of a plan on its own revisions."""
    base = client_get["revisions"]
    return [
        (
            "POST",
            "/api/plans/1/changes",
            {"base": base, "changes": [{"field": "grip", "value": 1}]},
        ),
        ("POST", "/api/what-if", {"plan": client_get["plan"], "changes": []}),
        (
            "POST",
            "/api/cars/quick",
            {"name": "x", "stated": [{"quantity": "mass_kg", "value": 1e9}], "fuel_kg": 10.0},
        ),
        ("POST", "/api/plans", {"name": "x", "car_id": 1, "circuit_id": 1, "fuel_kg": -1.0}),
        (
            "POST",
            "/api/plans/1/circuit",
            {"base": base, "edits": [{"op": "usual_boards", "segment": 1}]},
        ),
    ]


async def _batter(store: Store, seeds: Iterable[int]) -> tuple[int, list[str]]:
    app = create_app(store)
    transport = httpx.ASGITransport(app=app, raise_app_exceptions=False)
    failures: list[str] = []
    seen: set[str] = set()
    count = 0
    async with httpx.AsyncClient(transport=transport, base_url="http://127.0.0.1:8765") as client:
        spec = (await client.get("/api/openapi.json")).json()
        real = real_bodies((await client.get("/api/plans/1")).json())
        for seed in seeds:
            count += 1
            lot = random.Random(seed)
            if lot.random() < 0.3:
                method, path, body = lot.choice(real)
                body = spoiled_document(lot, body)
            else:
                method, path, body = one_request(lot, spec)
            if any(part in path for part in LEFT_OUT):
                continue
            content = None if body is None else json.dumps(body).encode("utf-8", "surrogatepass")
            begun = time.process_time()
            try:
                reply = await client.request(
                    method, path, content=content, headers={"content-type": "application/json"}
                )
            except (httpx.InvalidURL, ValueError):
                continue
            taken = time.process_time() - begun
            where = f"{method} {path.split('?')[0]}"
            bad = reply.status_code >= 500 or taken > WORK_MOST_S
            if bad and where not in seen:
                failures.append(
                    f"{seed}: {reply.status_code} {where} ({taken:.1f} s) {reply.text[:200]}"
                )
                seen.add(where)
    return count, failures


def batter_routes(seeds: Iterable[int]) -> list[str]:
    """Batter once with each seed; every failure as its seed, what was asked and what came back."""
    with tempfile.TemporaryDirectory() as folder:
        store = open_store(Path(folder))
        try:
            for plan in demo_plans()[1:4]:
                import_plan(store, plan.document)
            count, failures = anyio.run(_batter, store, seeds)
        finally:
            close_store(store)
    print(f"{count} requests, {len(failures)} failures")
    return failures


if __name__ == "__main__":
    seeds = seeds_for(float(sys.argv[1]), int((sys.argv[2:] or ["0"])[0]))
    print(*batter_routes(seeds), sep="\n")
