"""What the tests of the API share: a store, and the application on it with two demo plans."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from api.client import Client
from neapfrost.demo.plans import demo_plans
from neapfrost.formats.plan_file import write_plan
from neapfrost.store.database import Store, close_store, open_store


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    store = open_store(tmp_path / "data")
    yield store
    close_store(store)


@pytest.fixture
def client(store: Store) -> Client:
    """The application with two plans that share a car, as plans 1 and 2."""
    client = Client(store)
    for plan in demo_plans()[1:3]:
        assert client.post("/api/plans/import", content=write_plan(plan.document)).is_success
    return client
