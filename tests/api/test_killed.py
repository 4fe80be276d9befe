"""A process killed in the middle of a stream of edits has lost none that it acknowledged."""

from batter_store import batter_store


def test_no_acknowledged_edit_is_lost_and_none_of_many_editors_is_refused() -> None:
    assert batter_store(rounds=2, editors=6, seed=7) == []
