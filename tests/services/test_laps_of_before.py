"""Documents written before the model knew more are driven as they were: to a billionth."""

import json
from pathlib import Path
from typing import Any

import pytest

from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.laps.predict import predict

CASES: list[dict[str, Any]] = json.loads(
    (Path(__file__).parents[1] / "cases" / "laps_of_documents_from_before.json").read_text()
)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["plan"]["name"])
def test_a_document_from_before_drives_the_lap_of_before(case: dict[str, Any]) -> None:
    plan = plan_from_object(case["plan"])
    assert plan.car.inertia.engine_kgm2 == 0.0
    assert plan.car.engine.intake.aspiration == "constant"
    assert plan.car.tyres.front_reference_n is None
    result = predict(plan).result
    assert result.lap_time_s == pytest.approx(case["lap_time_s"], rel=1e-9)
    speeds = [corner.min_speed_ms for corner in result.corners]
    assert speeds == pytest.approx(case["min_speeds_ms"], rel=1e-9)
    assert [corner.gear for corner in result.corners] == case["gears"]
