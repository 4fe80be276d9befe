"""Laps as people type them."""

import pytest

from neapfrost.formats.typed_laps import time_of, typed_laps


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("1:32.418", 92.418),
        ("1.32.418", 92.418),
        ("1:32,4", 92.4),
        ("92.418", 92.418),
        ("59", 59.0),
        ("1:02:03.5", 3723.5),
        ("0", None),
        ("fast", None),
        ("1:2:3:4", None),
        ("", None),
    ],
)
def test_a_time_is_read_however_it_is_written(text: str, seconds: float | None) -> None:
    assert time_of(text) == (None if seconds is None else pytest.approx(seconds))


def test_laps_have_sectors_and_marks() -> None:
    found = typed_laps("o\n1:32.4 31.2 30.9 30.3\n\n1:33.0 T\n1:31.9 void\nin\n1:40 s")
    assert found.faults == ()
    assert [lap.kind for lap in found.laps] == ["out", "timed", "traffic", "void", "in", "slow"]
    assert [lap.number for lap in found.laps] == [1, 2, 3, 4, 5, 6]
    assert found.laps[1].sectors_s == [31.2, 30.9, 30.3]
    assert found.laps[0].lap_time_s is None
    assert found.laps[2].lap_time_s == pytest.approx(93.0)
    assert typed_laps("1:40 o").laps[0].lap_time_s is None


def test_what_is_not_understood_names_its_line_and_the_rest_stays() -> None:
    found = typed_laps("1:32.4\n1:33.x\n1:32.0 30.0 30.0")
    assert len(found.laps) == 1
    assert found.faults == (
        'line 2: "1:33.x" is neither a time nor a mark; 1:32.418 is one, and o, i, t, v mark a lap '
        "as out, in, traffic or void",
        "line 3: its sectors add up to 60.000 s, the lap is 92.000 s; the lap's time comes first, "
        "then all of its sectors",
    )
