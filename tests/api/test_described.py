"""The API is as its description says: kinds of answers, and methods."""

import itertools
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from api.client import Client
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import close_store, open_store


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Client]:
    store = open_store(tmp_path_factory.mktemp("described"))
    client = Client(store)
    client.post("/api/plans/import", content=write_plan(composed("k4-dry")))
    yield client
    close_store(store)


def addresses(path: str, route: dict[str, Any], spec: dict[str, Any]) -> Iterator[str]:
    """A route's path with every choice that its description names, and 1 for numbers."""
    names, choices = [], []
    for parameter in route.get("parameters", []):
        if parameter["in"] != "path":
            continue
        schema = parameter["schema"]
        if "$ref" in schema:
            schema = spec["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]]
        names.append(parameter["name"])
        choices.append(schema.get("enum") or ["1"])
    for chosen in itertools.product(*choices):
        address = path
        for name, value in zip(names, chosen, strict=True):
            address = address.replace("{" + name + "}", str(value))
        yield address


def test_every_answer_is_of_a_kind_that_is_described(client: Client) -> None:
    spec = client.get("/api/openapi.json").json()
    answered = 0
    for path, routes in spec["paths"].items():
        if "get" not in routes:
            continue
        for address in addresses(path, routes["get"], spec):
            reply = client.get(address)
            if reply.status_code != 200:
                continue
            answered += 1
            kind = reply.headers["content-type"].split(";")[0]
            assert kind in routes["get"]["responses"]["200"]["content"], address
    assert answered > 40


@pytest.mark.parametrize(
    ("method", "path", "allow"),
    [
        ("GET", "/api/what-if", "POST"),
        ("DELETE", "/api/health", "GET"),
        ("PUT", "/api/plans/1/changes", "POST"),
        ("GET", "/api/plans/1/undo", "POST"),
    ],
)
def test_a_method_that_is_not_answered_is_405_and_says_which_is(
    client: Client, method: str, path: str, allow: str
) -> None:
    reply = client.request(method, path)
    assert reply.status_code == 405
    assert allow in reply.headers["allow"]
    assert allow in reply.json()["faults"][0]["message"]
    assert client.request(method, "/api/nowhere").status_code == 404


def test_who_is_lost_does_not_wait_for_the_whole_description(tmp_path: Path) -> None:
    """The description of every route takes seconds to make; a wrong address asks for none."""
    store = open_store(tmp_path)
    client = Client(store)
    assert client.get("/api/nowhere").status_code == 404
    assert client.get("/api/plans/1/undo").status_code == 405
    assert client.app.openapi_schema is None
    close_store(store)
