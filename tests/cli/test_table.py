"""How a lap is said in the terminal."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from rich.console import Console

from neapfrost.cli.table import braking_point_text, lap_time_text, print_result
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.result import BoardCallResult, ResultDocument
from neapfrost.services.laps.predict import predict_lap


@pytest.fixture(scope="module")
def result() -> ResultDocument:
    plan = demo_plan("garganey-dry")
    assert plan is not None
    return predict_lap(plan.document)


@pytest.mark.parametrize(
    ("seconds", "text"),
    [(92.84, "1:32.840"), (59.9996, "1:00.000"), (0.0, "0:00.000"), (600.0004, "10:00.000")],
)
def test_lap_times(seconds: float, text: str) -> None:
    assert lap_time_text(seconds) == text


@given(st.floats(0.0, 5000.0))
def test_a_lap_time_reads_back_to_the_millisecond(seconds: float) -> None:
    minutes, rest = lap_time_text(seconds).split(":")
    assert 60 * int(minutes) + float(rest) == pytest.approx(seconds, abs=5.1e-4)
    assert float(rest) < 60.0


def test_braking_points_by_board_and_by_metres(result: ResultDocument) -> None:
    corner = next(corner for corner in result.corners if corner.action == "brake")
    call = BoardCallResult(label="100", metres=18.6, side="before")
    said = corner.model_copy(update={"board_call": call})
    assert braking_point_text(said) == "19 m before 100"
    bare = corner.model_copy(update={"board_call": None, "brake_start_to_corner_m": 42.4})
    assert braking_point_text(bare) == "42 m before corner"
    inside = corner.model_copy(update={"board_call": None, "brake_start_to_corner_m": -7.6})
    assert braking_point_text(inside) == "8 m into corner"
    words = {"flat": "flat", "lift": "lift", "through": "still braking"}
    for action, word in words.items():
        assert braking_point_text(corner.model_copy(update={"action": action})) == word


def test_the_table_has_a_row_a_corner_and_every_note(result: ResultDocument) -> None:
    out = io.StringIO()
    noted = result.model_copy(update={"warnings": ["Something to know."]})
    print_result(Console(file=out, width=120), noted)
    text = out.getvalue()
    for corner in result.corners:
        assert corner.name in text
    assert "Note: Something to know." in text
    assert lap_time_text(result.lap_time_s) in text
    assert "Sectors" in text
