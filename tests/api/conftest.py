"""What the tests of the API share: a store, and the application on it with two demo plans."""

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from api.client import Client
from neapfrost.demo.plans import demo_plans
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import Store, close_store, open_store


@pytest.fixture(scope="session")
def empty(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of an empty store, closed."""
    folder = tmp_path_factory.mktemp("empty") / "data"
    close_store(open_store(folder))
    return folder


@pytest.fixture(scope="session")
def seeded(empty: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of a store with two plans that share a car, closed."""
    folder = tmp_path_factory.mktemp("seeded") / "data"
    shutil.copytree(empty, folder)
    store = open_store(folder)
    client = Client(store)
    for plan in demo_plans()[1:3]:
        assert client.post("/api/plans/import", content=write_plan(plan.document)).is_success
    close_store(store)
    return folder


@pytest.fixture
def folder(request: pytest.FixtureRequest, tmp_path: Path) -> Path:
    """A folder of the test's own: with the two plans where it asks for a client, else empty."""
    name = "seeded" if "client" in request.fixturenames else "empty"
    shutil.copytree(request.getfixturevalue(name), tmp_path / "data")
    return tmp_path / "data"


@pytest.fixture
def store(folder: Path) -> Iterator[Store]:
    store = open_store(folder)
    yield store
    close_store(store)


@pytest.fixture
def client(store: Store) -> Client:
    """The application with two plans that share a car, as plans 1 and 2."""
    return Client(store)
