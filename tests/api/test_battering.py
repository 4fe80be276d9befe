"""The battering of `scripts/battering.py` a few times, with seeds of the tests' own."""

from batter_routes import batter_routes
from battering import batter


def test_spoiled_files_and_plans_are_read_or_refused_in_sentences() -> None:
    assert batter(range(70_000, 70_012)) == []


def test_spoiled_requests_are_answered_in_the_one_shape() -> None:
    assert batter_routes(range(80_100, 80_150)) == []
