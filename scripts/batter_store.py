"""A running application killed in the middle of many people's edits, again and again.

`python scripts/batter_store.py 50 20` kills it 50 times while 20 people edit a plan each and one
more applies a fit to a plan over and over, and tells every edit that was refused and every
acknowledged one that is gone; the tests do it twice. Every other time the clock has been set back a
year before the application starts, as far as the application can tell.
"""

import json
import math
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
from datetime import UTC, datetime, timedelta
from http.client import HTTPException
from pathlib import Path
from typing import Any

import neapfrost.store.database as database
from neapfrost.demo.plans import composed
from neapfrost.formats.fit import (
    FIT_FORMAT,
    FIT_VERSION,
    FigureName,
    FitDocument,
    FitFigureDocument,
)
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import Revisions
from neapfrost.services.logbook.taking import Taken, take_fit
from neapfrost.services.plans.exchange import import_plan
from neapfrost.services.plans.history import history
from neapfrost.services.plans.workbench import open_plan, undo
from neapfrost.store.database import Store, close_store, open_store

COMMAND = Path(sys.executable).parent / "neapfrost"
LEAST_KG = 5.0
#: What a fit moves.
MOVED: dict[FigureName, float] = {"drag": 0.03, "grip": -0.02}
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


@dataclass
class Fitter:
    """Somebody who applies one fit to a plan and takes it back, in one process after the other."""

    plan_id: int
    fit: FitDocument

    def apply_until_killed(self, folder: Path, clock: str) -> subprocess.Popen[bytes]:
        """Begin to apply and to undo; the process goes on until somebody kills it."""
        given_to = f"({str(folder)!r}, {self.plan_id}, {clock!r})"
        code = f"import batter_store; batter_store.apply_on{given_to}"
        given = subprocess.Popen(
            [sys.executable, "-c", code],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            cwd=Path(__file__).parent,
        )
        assert given.stdin is not None
        given.stdin.write(self.fit.model_dump_json().encode())
        given.stdin.close()
        return given


def apply_on(folder: str, plan_id: int, clock: str) -> None:
    """Apply the fit on standard input and take it back, again and again, a clock so far off."""
    fit = FitDocument.model_validate_json(sys.stdin.buffer.read())
    database.now = lambda: datetime.now(UTC).replace(tzinfo=None) - timedelta(days=float(clock))
    store = open_store(Path(folder))
    taken = [Taken(name="drag", blamed="car"), Taken(name="grip", blamed="circuit")]
    while True:
        revisions = open_plan(store, plan_id).revisions
        take_fit(store, plan_id, revisions, fit.model_copy(update={"revisions": revisions}), taken)
        print("applied", flush=True)
        undo(store, plan_id)


def half_applied(store: Store, plan_id: int, fit: FitDocument) -> list[str]:
    """What is wrong with a plan whose fits were killed: each is there whole or not at all."""
    plain, plan = composed("dunlin-heath"), open_plan(store, plan_id).plan
    figures = {one.name: 1.0 + one.value for one in fit.figures}
    drag = plan.car.aero.drag_area_m2 / plain.car.aero.drag_area_m2
    before, now = plain.circuit.segments, plan.circuit.segments
    assert before is not None  # as of this plan
    assert now is not None
    grip = now[0].grip_factor / before[0].grip_factor
    # A process that was killed before it took the fit back leaves it for the next to add to.
    times = round(math.log(drag) / math.log(figures["drag"]))
    if abs(grip / figures["grip"] ** times - 1.0) < 1e-3:
        return []
    return [f"plan {plan_id}: a fit was applied in part (drag × {drag:.4f}, grip × {grip:.4f})"]


def some_fit(plan: PlanDocument) -> FitDocument:
    """A fit that moves drag by 3 % and grip by 2 %."""
    figures = [
        FitFigureDocument(
            name=name, label=name, value=value, within=0.01, stated_within=0.04,
            claim="otherwise", claim_said="", contradicts=False, sources=[], said="",
        )
        for name, value in MOVED.items()
    ]  # fmt: skip
    return FitDocument(
        format=FIT_FORMAT, version=FIT_VERSION, name="A fit", made_at="2031-05-17T10:00:00",
        plan=plan.name, car=plan.car.name, circuit=plan.circuit.name, revisions=Revisions(),
        runs=[], figures=figures, misfits=[], parts=[], said=[], apart=[], driver=[], working=[],
        scatter={}, spread={},
    )  # fmt: skip


def batter_store(rounds: int, editors: int, seed: int = 0) -> list[str]:
    """Kill the application so often; every failure in a sentence."""
    chance = random.Random(seed)
    failures: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        people = _plans_of(Path(folder), editors)
        store = open_store(Path(folder))
        fitted = import_plan(store, composed("dunlin-heath")).plan_id
        close_store(store)
        fitter = Fitter(fitted, some_fit(composed("dunlin-heath")))
        for number in range(rounds):
            applying = fitter.apply_until_killed(Path(folder), "365" if number % 2 else "0")
            _round(Path(folder), people, 0.8 * chance.random())
            # Until it has applied the fit once there is nothing to kill in the middle of.
            assert applying.stdout is not None
            if not applying.stdout.readline():
                failures.append(f"round {number}: the fit could not be applied")
            time.sleep(0.2 * chance.random())
            applying.send_signal(signal.SIGKILL)
            applying.wait()
            applying.stdout.close()
            store = open_store(Path(folder))
            failures += [said for person in people for said in _lost(store, person)]
            failures += half_applied(store, fitted, fitter.fit)
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
