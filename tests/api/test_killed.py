"""A process killed in the middle of a stream of edits has lost none that it acknowledged."""

import json
import os
import random
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest

from neapfrost.demo.plans import composed
from neapfrost.services.plans.exchange import import_plan
from neapfrost.services.plans.history import history
from neapfrost.services.plans.workbench import open_plan, undo
from neapfrost.store.database import close_store, open_store

COMMAND = Path(sys.executable).parent / "neapfrost"


def post(address: str, path: str, body: dict[str, Any]) -> dict[str, Any]:
    request = urllib.request.Request(
        address + path, json.dumps(body).encode(), {"content-type": "application/json"}
    )
    with urllib.request.urlopen(request, timeout=20) as answer:
        value: dict[str, Any] = json.loads(answer.read())
        return value


def stream(
    address: str, base: dict[str, int], start: int, begun: threading.Event
) -> tuple[int, dict[str, int]]:
    """Send edits one after the other until nobody answers; the last one acknowledged."""
    acknowledged, number = start, start
    while True:
        number += 1
        change = {"field": "fuel_kg", "value": 5.0 + 0.01 * number}
        try:
            kept = post(address, "api/plans/1/changes", {"base": base, "changes": [change]})
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            return acknowledged, base
        acknowledged, base = number, kept["revisions"]
        begun.set()


def test_no_acknowledged_edit_is_lost(tmp_path: Path) -> None:
    store = open_store(tmp_path)
    import_plan(store, composed("k4-dry"))
    base = open_plan(store, 1).revisions.model_dump()
    close_store(store)
    acknowledged = 0
    chance = random.Random(7)
    for _ in range(3):
        process = subprocess.Popen(
            [COMMAND, "serve"],
            env={
                **os.environ,
                "PORT": "0",
                "NEAPFROST_DATA": str(tmp_path),
                "NEAPFROST_SOLVERS": "1",
            },
            stdout=subprocess.PIPE,
            text=True,
        )
        assert process.stdout is not None
        address = process.stdout.readline().split()[-1]
        begun = threading.Event()

        def kill(
            process: subprocess.Popen[str],
            begun: threading.Event,
            delay: float,
        ) -> None:
            begun.wait(60)
            time.sleep(delay)
            process.send_signal(signal.SIGKILL)

        killer = threading.Thread(target=kill, args=(process, begun, 0.8 * chance.random()))
        killer.start()
        before = acknowledged
        acknowledged, base = stream(address, base, acknowledged, begun)
        killer.join()
        process.wait()
        process.stdout.close()
        assert acknowledged > before

        store = open_store(tmp_path)
        state = open_plan(store, 1)
        # The edit under way when the process died may be there or not; every earlier one is.
        possible = {5.0 + 0.01 * acknowledged, 5.0 + 0.01 * (acknowledged + 1)}
        assert any(state.assumptions.figures["fuel_kg"] == pytest.approx(fuel) for fuel in possible)
        assert len(history(store, 1)) == state.revisions.plan  # one step for each revision
        base = state.revisions.model_dump()
        acknowledged = round(((state.assumptions.figures["fuel_kg"] or 0.0) - 5.0) / 0.01)
        close_store(store)
    store = open_store(tmp_path)
    for _ in range(3):
        undo(store, 1)
    assert open_plan(store, 1).assumptions.figures["fuel_kg"] == pytest.approx(
        5.0 + 0.01 * (acknowledged - 3)
    )
    close_store(store)
