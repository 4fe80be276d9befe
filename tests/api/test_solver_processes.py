"""What-ifs over the API by solver processes, and without them once one has died."""

import os
import signal
from concurrent.futures import wait
from pathlib import Path
from typing import Any

import pytest

from api.client import Client
from neapfrost.demo.plans import composed
from neapfrost.services.laps.solver_processes import start_solvers, stop_solvers
from neapfrost.store.database import close_store, open_store


def test_a_dead_process_costs_no_answer(tmp_path: Path, caplog: pytest.LogCaptureFixture) -> None:
    store = open_store(tmp_path)
    solvers = start_solvers(composed("k4-dry"), count=1)
    wait(solvers.warmed)
    client = Client(store, solvers=solvers)
    plan = composed("k4-dry").model_dump(mode="json")

    def ask(grip: float) -> Any:
        change = {"field": "grip", "value": grip}
        return client.post("/api/what-if", json={"plan": plan, "changes": [change]})

    there = ask(1.43)
    assert there.status_code == 200
    refused = ask(9.0)
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == "plan.car.tyres.mu_lateral"
    assert caplog.messages == []

    for number in list(solvers.pool._processes):
        os.kill(number, signal.SIGKILL)
    here = ask(1.43)
    assert here.status_code == 200
    assert here.json() == there.json()
    assert "ended unexpectedly" in caplog.text
    stop_solvers(solvers)
    close_store(store)
