"""A running application killed in the middle of many people's edits, again and again.

`python scripts/batter_store.py 50 20` kills it 50 times while 20 people edit a plan each, and tells
every edit that was refused and every acknowledged one that is gone; the tests do it twice.
"""

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from http.client import HTTPException
from pathlib import Path
from typing import Any

from neapfrost.demo.plans import composed
from neapfrost.services.plans.exchange import import_plan
from neapfrost.services.plans.history import history
from neapfrost.services.plans.workbench import open_plan, undo
from neapfrost.store.database import Store, close_store, open_store

COMMAND = Path(sys.executable).parent / "neapfrost"
LEAST_KG = 5.0
STEP_KG = 0.01


@dataclass
class Editor:
    """Somebody who steps the fuel of one plan; `number` is the last step that was acknowledged."""

    plan_id: int
    base: dict[str, int]
    number: int = 0
    begun: threading.Event = field(default_factory=threading.Event)
    refused: list[str] = field(default_factory=list)

    def edit_until_nobody_answers(self, address: str) -> None:
        while True:
            change = {"field": "fuel_kg", "value": LEAST_KG + STEP_KG * (self.number + 1)}
            body = json.dumps({"base": self.base, "changes": [change]}).encode()
            request = urllib.request.Request(
                f"{address}api/plans/{self.plan_id}/changes",
                body,
                {"content-type": "application/json"},
            )
            try:
                with urllib.request.urlopen(request, timeout=20) as answer:
                    kept: dict[str, Any] = json.loads(answer.read())
            except urllib.error.HTTPError as error:
                self.refused.append(f"plan {self.plan_id}: {error.code} {error.read()[:200]!r}")
                return
            except (OSError, HTTPException, ValueError):
                return
            self.number += 1
            self.base = kept["revisions"]
            self.begun.set()


def batter_store(rounds: int, editors: int, seed: int = 0) -> list[str]:
    """Kill the application so often; every failure in a sentence."""
    chance = random.Random(seed)
    failures: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        people = _plans_of(Path(folder), editors)
        for _ in range(rounds):
            _round(Path(folder), people, 0.8 * chance.random())
            store = open_store(Path(folder))
            failures += [said for person in people for said in _lost(store, person)]
            close_store(store)
        store = open_store(Path(folder))
        failures += [said for person in people for said in _not_undone(store, person)]
        close_store(store)
    print(f"{sum(person.number for person in people)} edits, {len(failures)} failures")
    return failures


def _plans_of(folder: Path, editors: int) -> list[Editor]:
    """A plan of their own, with its own car, for each."""
    store, people = open_store(folder), []
    plan = composed("k4-dry")
    for number in range(editors):
        car = plan.car.model_copy(update={"name": f"Car {number}"})
        named = plan.model_copy(update={"name": f"Plan {number}", "car": car})
        plan_id = import_plan(store, named).plan_id
        people.append(Editor(plan_id, open_plan(store, plan_id).revisions.model_dump()))
    close_store(store)
    return people


def _round(folder: Path, people: list[Editor], delay_s: float) -> None:
    """Start the application, let everybody edit, and kill it in the middle of that."""
    wanted = {"PORT": "0", "NEAPFROST_DATA": str(folder), "NEAPFROST_SOLVERS": "1"}
    process = subprocess.Popen(
        [COMMAND, "serve"], env={**os.environ, **wanted}, stdout=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    address = process.stdout.readline().split()[-1]
    threads = []
    for person in people:
        person.begun.clear()
        threads.append(threading.Thread(target=person.edit_until_nobody_answers, args=(address,)))
        threads[-1].start()
    for person in people:
        person.begun.wait(60)
    time.sleep(delay_s)
    process.send_signal(signal.SIGKILL)
    for thread in threads:
        thread.join()
    process.wait()
    process.stdout.close()


def _lost(store: Store, person: Editor) -> list[str]:
    """What is wrong with a plan after a kill; the editor goes on from what is kept.

    The edit under way when the process died may be there or not; every earlier one is.
    """
    state = open_plan(store, person.plan_id)
    kept = round(((state.assumptions.figures["fuel_kg"] or 0.0) - LEAST_KG) / STEP_KG)
    found = [*person.refused]
    if kept not in (person.number, person.number + 1):
        found.append(f"plan {person.plan_id}: {kept} steps kept, {person.number} acknowledged")
    if len(history(store, person.plan_id)) != state.revisions.plan:
        found.append(f"plan {person.plan_id}: not one step in its history for each revision")
    person.number, person.base, person.refused = kept, state.revisions.model_dump(), []
    return found


def _not_undone(store: Store, person: Editor) -> list[str]:
    """What is wrong when the last steps are taken back."""
    back = min(person.number - 1, 3)
    for _ in range(back):
        undo(store, person.plan_id)
    left = open_plan(store, person.plan_id).assumptions.figures["fuel_kg"]
    wanted = LEAST_KG + STEP_KG * (person.number - back)
    if left is None or abs(left - wanted) > 1e-6:
        return [f"plan {person.plan_id}: {left} kg after {back} steps back, not {wanted:g}"]
    return []


if __name__ == "__main__":
    print(*batter_store(int(sys.argv[1]), int(sys.argv[2])), sep="\n")
