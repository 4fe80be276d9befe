"""The corner table as text: what stands in it, in which unit, and that it is harmless."""

import csv
import io

import pytest

from neapfrost.core.units import Units
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.corner_table import corner_table_text
from neapfrost.formats.result import ResultDocument
from neapfrost.services.laps.predict import predict_lap


@pytest.fixture(scope="module")
def result() -> ResultDocument:
    plan = demo_plan("k4-dry")
    assert plan is not None
    return predict_lap(plan.document, trace_points=100)


def rows(text: str, separator: str = ",") -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(text), delimiter=separator))


def test_a_row_a_corner_with_its_figures(result: ResultDocument) -> None:
    table = rows(corner_table_text(result))
    assert [row["corner"] for row in table] == [corner.name for corner in result.corners]
    sluice, corner = table[0], result.corners[0]
    assert (sluice["reference"], sluice["side of reference"]) == ("100", "past")
    assert float(sluice["minimum speed (km/h)"]) == pytest.approx(
        3.6 * corner.min_speed_ms, abs=0.05
    )
    assert (sluice["gear before"], sluice["gear"]) == ("6", "2")
    flat = next(row for row in table if row["action"] == "flat")
    assert flat["braking distance (m)"] == flat["reference"] == ""


@pytest.mark.parametrize(
    ("units", "length", "unit"), [("feet", 0.3048, "ft"), ("yards", 0.9144, "yd")]
)
def test_other_units_say_the_same(
    result: ResultDocument, units: Units, length: float, unit: str
) -> None:
    metric, other = rows(corner_table_text(result)), rows(corner_table_text(result, units))
    for a, b in zip(metric, other, strict=True):
        # 1 mph is 1.609344 km/h by definition.
        assert float(b["minimum speed (mph)"]) == pytest.approx(
            float(a["minimum speed (km/h)"]) / 1.609344,
            abs=0.09,  # both are rounded to a tenth
        )
        if a["braking distance (m)"]:
            assert float(b[f"braking distance ({unit})"]) == pytest.approx(
                float(a["braking distance (m)"]) / length, abs=0.2
            )


def test_tabs_separate_as_well(result: ResultDocument) -> None:
    assert rows(corner_table_text(result, separator="\t"), "\t") == rows(corner_table_text(result))


def test_no_name_becomes_a_formula(result: ResultDocument) -> None:
    corner = result.corners[0].model_copy(update={"name": '=HYPERLINK("x"),"y'})
    changed = result.model_copy(update={"corners": [corner]})
    assert rows(corner_table_text(changed))[0]["corner"] == '\'=HYPERLINK("x"),"y'
