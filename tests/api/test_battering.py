"""The battering of `scripts/battering.py` for a moment, with seeds of the tests' own."""

from battering import batter


def test_spoiled_files_and_plans_are_read_or_refused_in_sentences() -> None:
    assert batter(6.0, first_seed=70_000) == []
