"""What-ifs answered in processes of their own.

Python computes for one at a time in each process; several people stepping figures at once would
wait for each other.
"""

import gc
import os
import time
from collections.abc import Iterator, MutableSequence, Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import count as numbers_from
from multiprocessing import get_context

from neapfrost.core.errors import Fault, InputRefused, placed_in
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_rules import plan_faults
from neapfrost.services.laps.figures import Change
from neapfrost.services.laps.predict import TRACE_POINTS, predict_lap
from neapfrost.services.laps.what_if import WhatIfRequest, what_if
from neapfrost.services.processes import TICKETS, Ticket, begin_process

#: Each process holds the compiled solver, some hundred megabytes.
PROCESSES_MOST = 2
#: A process that has not ended by itself after so long is killed [s].
ENDS_WITHIN_S = 1.0
#: So many plans does each process keep as they were read.
PLANS_KEPT = 32


@dataclass(frozen=True)
class Solvers:
    """Processes that answer what-ifs, and what tells whether each has loaded the solver.

    `tickets` are numbers shared with them: a long task is not wanted once its number has changed.
    """

    pool: ProcessPoolExecutor
    warmed: tuple[Future[None], ...]
    tickets: MutableSequence[int]
    given: Iterator[int] = field(default_factory=numbers_from)

    def ticket(self) -> Ticket:
        """A ticket for the next long task."""
        number = next(self.given) + 1
        place = number % TICKETS
        self.tickets[place] = number
        return Ticket(place, number)

    def end(self, ticket: Ticket) -> None:
        """Tell whoever does a task that it is not wanted any more."""
        if self.tickets[ticket.place] == ticket.number:
            self.tickets[ticket.place] = 0


def start_solvers(warm_up: PlanDocument, count: int | None = None) -> Solvers:
    """Start the processes; each predicts a lap of the plan, so that later ones are quick."""
    cores = os.cpu_count() or 1
    number = min(PROCESSES_MOST, cores) if count is None else count
    context = get_context("spawn")
    tickets = context.RawArray("q", TICKETS)
    pool = ProcessPoolExecutor(number, context, begin_process, (os.getpid(), tickets))
    return Solvers(pool, tuple(pool.submit(_warm, warm_up) for _ in range(number)), tickets)


def stop_solvers(solvers: Solvers) -> None:
    """End the processes, whatever they are at: nothing that they do is kept."""
    processes = list((solvers.pool._processes or {}).values())
    solvers.pool.shutdown(wait=False, cancel_futures=True)
    for process in processes:
        process.terminate()
    until = time.monotonic() + ENDS_WITHIN_S
    for process in processes:
        process.join(max(until - time.monotonic(), 0.0))
        if process.is_alive():
            process.kill()


def processes_ready(solvers: Solvers | None) -> int:
    """How many processes answer what-ifs; 0 before they have loaded the solver."""
    return 0 if solvers is None or not ready(solvers) else len(solvers.warmed)


def ready(solvers: Solvers) -> bool:
    """Whether every process has loaded the solver."""
    return all(future.done() and future.exception() is None for future in solvers.warmed)


def answer_what_if(request_json: str) -> str | list[Fault]:
    """A what-if from JSON to JSON, or what is wrong with it.

    Faults are returned, since an exception would lose them on the way between processes.
    """
    request = WhatIfRequest.model_validate_json(request_json)
    faults = [
        *placed_in("plan", plan_faults(request.plan)),
        *placed_in("against", plan_faults(request.against) if request.against else []),
    ]
    return faults or _answer(request.plan, request.changes, request.against, request.units)


def answer_kept_what_if(
    plan_json: str, against_json: str | None, changes: Sequence[Change], units: Units
) -> str | list[Fault]:
    """A what-if of kept plans, which are known to be sound and were perhaps asked about before."""
    against = None if against_json is None else _parsed(against_json)
    return _answer(_parsed(plan_json), changes, against, units, (plan_json, against_json))


@lru_cache(maxsize=PLANS_KEPT)
def _parsed(plan_json: str) -> PlanDocument:
    return PlanDocument.model_validate_json(plan_json)


def _answer(
    plan: PlanDocument,
    changes: Sequence[Change],
    against: PlanDocument | None,
    units: Units,
    known_as: tuple[str, str | None] | None = None,
) -> str | list[Fault]:
    try:
        return what_if(plan, changes, against, TRACE_POINTS, units, known_as).model_dump_json()
    except InputRefused as error:
        return error.faults


def _warm(plan: PlanDocument) -> None:
    predict_lap(plan, trace_points=10)
    # All that is loaded by now stays: looking through it again and again would hold answers up.
    gc.collect()
    gc.freeze()
