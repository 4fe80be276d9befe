"""How a lap is said in the terminal."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from rich.console import Console

from neapfrost.cli.table import print_result
from neapfrost.core.units import Units
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.result import BoardCallResult, ResultDocument
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.words.corners import corner_words
from neapfrost.services.words.lap import lap_time
from neapfrost.services.words.saying import Saying


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
    assert lap_time(seconds) == text


@given(st.floats(0.0, 5000.0))
def test_a_lap_time_reads_back_to_the_millisecond(seconds: float) -> None:
    minutes, rest = lap_time(seconds).split(":")
    assert 60 * int(minutes) + float(rest) == pytest.approx(seconds, abs=5.1e-4)
    assert float(rest) < 60.0


@pytest.mark.parametrize(
    ("units", "board", "bare", "inside"),
    [
        ("metric", "19 past 100", "42 before corner", "8 into corner"),
        ("feet", "61 past 100", "139 before corner", "25 into corner"),
        ("yards", "20 past 100", "46 before corner", "8 into corner"),
    ],
)
def test_braking_points_by_board_and_by_metres(
    result: ResultDocument, units: Units, board: str, bare: str, inside: str
) -> None:
    corner = next(corner for corner in result.corners if corner.action == "brake")
    say = Saying(units)

    def label(**changes: object) -> str:
        return corner_words(corner.model_copy(update=changes), say).label

    call = BoardCallResult(label="100", metres=18.6, side="past")
    assert label(board_call=call) == board
    assert label(board_call=None, brake_start_to_corner_m=42.4) == bare
    assert label(board_call=None, brake_start_to_corner_m=-7.6) == inside
    assert label(action="lift") == "lift only"
    assert label(action="through", trend="rising") == "through, accelerating"
    assert label(action="through", trend="falling") == "through, still slowing"


def test_the_table_has_a_row_a_corner_and_every_note(result: ResultDocument) -> None:
    out = io.StringIO()
    noted = result.model_copy(update={"warnings": ["Something to know."]})
    print_result(Console(file=out, width=120), noted)
    text = out.getvalue()
    for corner in result.corners:
        assert corner.name in text
    assert "Note: Something to know." in text
    assert lap_time(result.lap_time_s) in text
    assert "Sectors" in text
