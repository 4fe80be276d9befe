"""Differences of documents, and changes carried from one to another."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from neapfrost.formats.json_merge import ABSENT, Difference, carry_over, differences

LEAF = st.none() | st.booleans() | st.floats(allow_nan=False) | st.text(max_size=4)
DOCUMENT = st.recursive(
    LEAF,
    lambda inner: (
        st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from("abcd"), inner, max_size=4)
    ),
    max_leaves=12,
)


def test_each_place_that_differs_is_named() -> None:
    before = {"a": 1.0, "b": {"c": [1.0, 2.0], "d": "x"}, "e": [1.0]}
    after = {"a": 1.0, "b": {"c": [1.0, 3.0], "f": None}, "e": [1.0, 2.0]}
    assert differences(before, after) == [
        Difference(("b", "c", 1), 2.0, 3.0),
        Difference(("b", "d"), "x", ABSENT),
        Difference(("b", "f"), ABSENT, None),
        Difference(("e",), [1.0], [1.0, 2.0]),
    ]


def test_true_is_not_one() -> None:
    assert differences(True, 1) == [Difference((), True, 1)]


def test_changes_in_different_places_are_both_kept() -> None:
    base = {"grip": 1.5, "mass": 700.0, "ratios": [3.0, 2.0]}
    mine = {"grip": 1.4, "mass": 700.0, "ratios": [3.0, 2.0]}
    theirs = {"grip": 1.5, "mass": 710.0, "ratios": [3.0, 2.1]}
    outcome, clashes = carry_over(base, mine, theirs)
    assert outcome == {"grip": 1.4, "mass": 710.0, "ratios": [3.0, 2.1]}
    assert clashes == []


def test_the_same_place_changed_twice_is_a_clash() -> None:
    outcome, clashes = carry_over({"grip": 1.5}, {"grip": 1.4}, {"grip": 1.6})
    assert outcome == {"grip": 1.4}
    assert clashes == [
        (Difference(("grip",), 1.5, 1.4), Difference(("grip",), 1.5, 1.6)),
    ]


def test_the_same_change_made_twice_is_none() -> None:
    assert carry_over({"grip": 1.5}, {"grip": 1.4}, {"grip": 1.4}) == ({"grip": 1.4}, [])


def test_a_list_changed_as_a_whole_meets_a_change_inside_it() -> None:
    base: dict[str, Any] = {"ratios": [3.0, 2.0]}
    outcome, clashes = carry_over(base, {"ratios": [3.0, 2.0, 1.0]}, {"ratios": [3.0, 2.2]})
    assert outcome == {"ratios": [3.0, 2.0, 1.0]}
    assert len(clashes) == 1


def test_what_was_removed_is_removed_there_too() -> None:
    assert carry_over({"a": 1, "b": 2}, {"a": 1}, {"a": 1, "b": 2, "c": 3})[0] == {"a": 1, "c": 3}


@given(DOCUMENT, DOCUMENT)
def test_what_leads_from_one_to_another_leads_there(base: Any, wanted: Any) -> None:
    outcome, clashes = carry_over(base, wanted, base)
    assert differences(outcome, wanted) == []
    assert clashes == []
    assert differences(wanted, wanted) == []


@given(DOCUMENT, DOCUMENT)
def test_undoing_a_change_that_nobody_touched_gives_the_old_document(base: Any, new: Any) -> None:
    outcome, clashes = carry_over(new, base, new)
    assert differences(outcome, base) == []
    assert clashes == []
