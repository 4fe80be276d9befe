"""Items and revisions: nothing is overwritten, everything is found again."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from neapfrost.store.database import close_store, open_store, reading, writing
from neapfrost.store.items import (
    Content,
    add_item,
    content_hash,
    delete_item,
    find_content,
    get_document,
    list_items,
    list_revisions,
    restore_item,
    revise,
)
from neapfrost.store.steps import get_mark, set_mark
from neapfrost.store.tables import CarRevision, Plan

COLUMNS = {"vehicle_kind": "car", "mass_kg": 1.0, "peak_power_kw": 1.0}


@pytest.fixture
def session(tmp_path: Path) -> Iterator[Session]:
    store = open_store(tmp_path)
    with writing(store) as session:
        yield session
    close_store(store)


def car(name: str, **figures: float) -> Content:
    return Content(name, {"name": name, **figures}, COLUMNS)


def test_every_revision_stays_as_it_was_written(session: Session) -> None:
    item = add_item(session, "car", car("A", mass=1.0), "Created")
    numbers = [revise(session, "car", item, car("A", mass=m), f"to {m}") for m in (2.0, 3.0)]
    assert numbers == [2, 3]
    assert [get_document(session, "car", item, n)["mass"] for n in (1, 2, 3)] == [1.0, 2.0, 3.0]
    assert get_document(session, "car", item)["mass"] == 3.0
    assert [r.remark for r in list_revisions(session, "car", item)] == [
        "to 3.0",
        "to 2.0",
        "Created",
    ]


def test_a_revision_number_is_given_once(session: Session) -> None:
    item = add_item(session, "car", car("A"), "Created")
    first = list_revisions(session, "car", item)[0]
    twin = CarRevision(
        item_id=item, number=1, document="{}", content_hash="", remark="", made_at=first.made_at
    )
    session.add(twin)
    with pytest.raises(IntegrityError, match="UNIQUE"):
        session.flush()
    session.rollback()


def test_a_plan_needs_parts_that_exist(session: Session) -> None:
    content = Content("P", {"name": "P"}, {"car_id": 9, "circuit_id": 9, "conditions_id": 9})
    with pytest.raises(IntegrityError, match="FOREIGN KEY"), session.begin_nested():
        add_item(session, "plan", content, "Created")
    assert session.get(Plan, 1) is None


def test_search_finds_every_word_in_any_case_and_takes_signs_as_they_are(session: Session) -> None:
    for name in ("Red Car 100%", "Blue car", "Carriage"):
        add_item(session, "car", car(name), "Created")
    found = {
        search: [item.name for item in list_items(session, "car", search)]
        for search in ("CAR red", "car", "100%", "%", "_", "none")
    }
    assert found["CAR red"] == ["Red Car 100%"]
    assert sorted(found["car"]) == ["Blue car", "Carriage", "Red Car 100%"]
    assert found["100%"] == found["%"] == ["Red Car 100%"]
    assert found["_"] == found["none"] == []


def test_the_last_changed_stands_first(session: Session) -> None:
    first = add_item(session, "car", car("First"), "Created")
    add_item(session, "car", car("Second"), "Created")
    assert [item.name for item in list_items(session, "car")] == ["Second", "First"]
    revise(session, "car", first, car("First", mass=2.0), "changed")
    assert [item.name for item in list_items(session, "car")] == ["First", "Second"]


def test_deleted_items_are_put_aside_and_come_back(session: Session) -> None:
    item = add_item(session, "car", car("A"), "Created")
    delete_item(session, "car", item)
    assert list_items(session, "car") == []
    assert [i.name for i in list_items(session, "car", deleted=True)] == ["A"]
    assert find_content(session, "car", {"name": "A"}) is None
    restore_item(session, "car", item)
    assert [i.name for i in list_items(session, "car")] == ["A"]


def test_content_is_recognised_and_the_newest_preferred(session: Session) -> None:
    old = add_item(session, "car", car("A", mass=1.0), "Created")
    revise(session, "car", old, car("A", mass=2.0), "changed")
    found = find_content(session, "car", {"mass": 1.0, "name": "A"})
    assert found is not None
    assert (found.item_id, found.number) == (old, 1)
    new = add_item(session, "car", car("A", mass=1.0), "Created")
    found = find_content(session, "car", {"mass": 1.0, "name": "A"})
    assert found is not None
    assert (found.item_id, found.number) == (new, 1)


@given(
    st.dictionaries(
        st.text(max_size=5), st.floats(allow_nan=False) | st.text(max_size=5), max_size=6
    )
)
def test_the_hash_does_not_depend_on_the_order_of_keys(document: dict[str, object]) -> None:
    turned = dict(reversed(list(document.items())))
    assert content_hash(turned) == content_hash(document)
    assert content_hash({**document, "another key": 1}) != content_hash(document)


def test_marks_are_remembered(tmp_path: Path) -> None:
    store = open_store(tmp_path)
    with writing(store) as session:
        assert get_mark(session, "seeded") is None
        set_mark(session, "seeded", "a")
        set_mark(session, "seeded", "a b")
    with reading(store) as session:
        assert get_mark(session, "seeded") == "a b"
    close_store(store)
