"""Which plan a page opens with."""

from neapfrost.services.plans.collection import delete, restore
from neapfrost.services.plans.opening import opening
from neapfrost.store.database import Store


def opened(store: Store, wanted: int | None = None) -> int | None:
    plan = opening(store, wanted).plan
    return None if plan is None else plan.id


def test_the_plan_that_is_wanted_is_opened_and_otherwise_the_first(store: Store) -> None:
    assert opened(store, 3) == 3
    assert opened(store) == 1
    assert opened(store, 99) == 1


def test_a_deleted_plan_is_no_more_than_one_that_never_was(store: Store) -> None:
    delete(store, "plan", 1)
    assert opened(store) == 2
    assert opened(store, 1) == 2
    restore(store, "plan", 1)
    assert opened(store, 1) == 1


def test_without_any_plan_nothing_is_opened(store: Store) -> None:
    for number in range(1, 5):
        delete(store, "plan", number)
    assert opened(store) is None
    assert opened(store, 2) is None


def test_what_is_opened_is_the_whole_plan_with_its_lap(store: Store) -> None:
    plan = opening(store, 2).plan
    assert plan is not None
    assert plan.result is not None
    assert plan.result.plan_name == plan.name
    assert plan.result.revisions == plan.revisions
