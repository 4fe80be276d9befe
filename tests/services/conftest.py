"""A store with the demo plans in it, made once and copied for each test."""

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from neapfrost.demo.plans import demo_plans
from neapfrost.services.plans.exchange import import_plan
from neapfrost.store.database import Store, close_store, open_store


@pytest.fixture(scope="session")
def seeded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Folder of a closed store with the first four demo plans, as plans 1 to 4."""
    folder = tmp_path_factory.mktemp("seeded")
    store = open_store(folder)
    for plan in demo_plans()[1:5]:
        import_plan(store, plan.document)
    close_store(store)
    return folder


@pytest.fixture
def store(seeded: Path, tmp_path: Path) -> Iterator[Store]:
    """A store of the test's own; two plans share the Kittiwake, two the Garganey."""
    shutil.copytree(seeded, tmp_path / "store")
    store = open_store(tmp_path / "store")
    yield store
    close_store(store)
