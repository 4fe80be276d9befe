"""What-ifs in processes of their own answer as here, say the same faults, and may die."""

import json
from collections.abc import Iterator
from concurrent.futures import wait
from typing import Any

import pytest

from neapfrost.demo.plans import composed
from neapfrost.services.laps.solver_processes import (
    Solvers,
    answer_what_if,
    ready,
    start_solvers,
    stop_solvers,
)


def request(grip: float) -> str:
    plan = composed("k4-dry").model_dump(mode="json")
    change = {"field": "grip", "value": grip}
    return json.dumps({"plan": plan, "changes": [change], "against": plan})


@pytest.fixture
def solvers() -> Iterator[Solvers]:
    solvers = start_solvers(composed("k4-dry"), count=1)
    wait(solvers.warmed)
    yield solvers
    stop_solvers(solvers)


def test_a_process_answers_as_this_one_does(solvers: Solvers) -> None:
    assert ready(solvers)
    there = solvers.pool.submit(answer_what_if, request(1.44)).result(timeout=60)
    here = answer_what_if(request(1.44))
    assert isinstance(here, str)
    assert there == here
    value: dict[str, Any] = json.loads(here)
    assert value["assumptions"]["figures"]["grip"] == 1.44
    assert value["comparison"]["lap_s"] > 1.0

    faults = solvers.pool.submit(answer_what_if, request(9.0)).result(timeout=60)
    assert faults == answer_what_if(request(9.0))
    assert not isinstance(faults, str)
    assert faults[0].path == "plan.car.tyres.mu_lateral"
    assert "5 or less is expected" in str(faults[0])


def test_faults_between_fields_are_found_in_both_plans() -> None:
    value = json.loads(request(1.44))
    value["against"]["car"]["gearbox"]["ratios"][1] = 9.0
    faults = answer_what_if(json.dumps(value))
    assert not isinstance(faults, str)
    assert faults[0].path == "against.car.gearbox.ratios[1]"
    assert "must fall" in faults[0].message
