"""Searches for lines in processes of their own: watched, cancelled, and their best kept.

The page never waits for one, and ending a search is ending its process.
"""

import os
import threading
import time
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Literal

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.solve import solve
from neapfrost.core.line.driven import driven_line
from neapfrost.core.line.shape import Shape
from neapfrost.formats.plan import ComputedLineDocument, LineDocument, LineKind, PlanDocument
from neapfrost.formats.result import LineEnd
from neapfrost.services.laps.planned import drive_on_line
from neapfrost.services.lines.drawing import DrawnLine, drawn_line
from neapfrost.services.processes import live_with_parent
from neapfrost.services.roads.road import corridor_of, is_road, road_of

#: Searches under way at once, and finished ones remembered.
UNDER_WAY_MOST = 2
REMEMBERED = 8
#: A line that got better is sent at most this often [s].
TOLD_EVERY_S = 0.3

State = Literal["running", "done", "cancelled", "refused"]


class LineJob(BaseModel):
    """How a search stands: which line is looked for, its iteration, and the lines found so far."""

    id: str
    state: State
    wanted: list[LineKind]
    looking_for: LineKind | None
    iteration: int
    objective: float | None
    lines: list[DrawnLine]
    faults: list[str]


@dataclass
class _Job:
    """What is known of a search; written by the thread that listens to its process."""

    plan: PlanDocument
    told: LineJob
    process: BaseProcess
    computed: dict[LineKind, ComputedLineDocument] = field(default_factory=dict)
    best: tuple[LineKind, Shape] | None = None
    stopping: bool = False


class LineJobs:
    """The searches of one application."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._jobs: dict[str, _Job] = {}

    def start(
        self,
        plan: PlanDocument,
        kinds: Sequence[LineKind],
        known: Sequence[ComputedLineDocument] = (),
    ) -> LineJob:
        """Begin a search for lines of some kinds on a plan's road, not to be slower than `known`.

        Raises InputRefused where the plan has no road, the vehicle does not fit on it, or two
        searches are under way already.
        """
        if not is_road(plan):
            raise InputRefused(
                [
                    Fault(
                        "circuit.segments_describe",
                        'the segments describe the driven path; a line is computed on a "road"',
                    )
                ]
            )
        corridor_of(plan)
        with self._lock:
            running = [job for job in self._jobs.values() if job.told.state == "running"]
            if len(running) >= UNDER_WAY_MOST:
                raise InputRefused(
                    [Fault("line", "two searches are running; cancel one or wait for it")]
                )
            for old in list(self._jobs)[: max(0, len(self._jobs) - REMEMBERED + 1)]:
                if self._jobs[old].told.state != "running":
                    del self._jobs[old]
            context = get_context("spawn")
            listen, speak = context.Pipe(duplex=False)
            process = context.Process(
                target=_search,
                args=(plan.model_dump_json(), list(kinds), list(known), speak, os.getpid()),
            )
            told = LineJob(
                id=uuid.uuid4().hex,
                state="running",
                wanted=list(kinds),
                looking_for=None,
                iteration=0,
                objective=None,
                lines=[],
                faults=[],
            )
            job = _Job(plan, told, process)
            self._jobs[told.id] = job
            process.start()
            speak.close()
        threading.Thread(target=self._listen, args=(job, listen), daemon=True).start()
        return told

    def look(self, job_id: str) -> LineJob:
        """How a search stands. Raises InputRefused where it is not known any more."""
        return self._known(job_id).told

    def cancel(self, job_id: str) -> LineJob:
        """End a search; the best line it had found stays. Raises InputRefused as `look` does."""
        job = self._known(job_id)
        with self._lock:
            running = job.told.state == "running"
            job.stopping = running
        if running:
            job.process.terminate()
            job.process.join()
            with self._lock:
                if job.told.state == "running":
                    if job.best is not None:
                        self._found(job, *job.best, "best_so_far")
                    job.told = job.told.model_copy(
                        update={"state": "cancelled", "looking_for": None}
                    )
        return job.told

    def line_of(self, job_id: str, kind: LineKind) -> ComputedLineDocument:
        """A line that a search has found. Raises InputRefused where it has not."""
        job = self._known(job_id)
        if kind not in job.computed:
            raise InputRefused([Fault("kind", f'this search found no line "{kind}"')])
        return job.computed[kind]

    def stop(self) -> None:
        """End all searches."""
        for job in list(self._jobs.values()):
            if job.process.is_alive():
                job.process.terminate()
                job.process.join()

    def _known(self, job_id: str) -> _Job:
        if job_id not in self._jobs:
            raise InputRefused([Fault("job", "this search has ended; start it again")])
        return self._jobs[job_id]

    def _listen(self, job: _Job, listen: Connection) -> None:
        with listen:
            while True:
                try:
                    kind_of, *content = listen.recv()
                except (EOFError, OSError):
                    break
                with self._lock:
                    self._hear(job, kind_of, content)
        job.process.join()
        with self._lock:
            if job.told.state == "running" and not job.stopping:
                ended = "the search ended unexpectedly; start it again"
                job.told = job.told.model_copy(update={"state": "refused", "faults": [ended]})

    def _hear(self, job: _Job, kind_of: str, content: list[object]) -> None:
        told = job.told
        if told.state != "running":
            return
        if kind_of == "iteration":
            kind, number, objective, shape = content
            job.told = told.model_copy(
                update={"looking_for": kind, "iteration": number, "objective": objective}
            )
            if shape is not None:
                job.best = (kind, shape)  # type: ignore[assignment] # as `_search` sends them
        elif kind_of == "found":
            kind, shape, ended = content
            job.best = None
            self._found(job, kind, shape, ended)  # type: ignore[arg-type] # as `_search` sends them
        elif kind_of == "refused":
            job.told = told.model_copy(update={"faults": [*told.faults, *content]})
        else:
            state: State = "done" if told.lines else "refused"
            job.told = told.model_copy(update={"state": state, "looking_for": None})

    def _found(self, job: _Job, kind: LineKind, shape: Shape, ended: LineEnd) -> None:
        # Imported where it is needed: it brings the search's own solver along.
        from neapfrost.services.lines.search import computed_line

        line = (job.plan.line or LineDocument()).model_copy(update={"kind": kind})
        plan = job.plan.model_copy(update={"line": line})
        job.computed[kind] = computed_line(plan, shape, ended)
        lines = [known for known in job.told.lines if known.kind != kind]
        lines.append(line_on_lap(plan, kind, shape, ended))
        job.told = job.told.model_copy(update={"lines": lines})


def line_on_lap(
    plan: PlanDocument, kind: LineKind, shape: Shape, ended: LineEnd | None
) -> DrawnLine:
    """A line drawn, with the lap solver's own lap on it."""
    line = driven_line(corridor_of(plan), shape)
    lap = solve(drive_on_line(plan, line))
    return drawn_line(kind, road_of(plan.circuit), shape, line, lap, ended)


def _search(
    plan_json: str,
    kinds: list[LineKind],
    known: list[ComputedLineDocument],
    speak: Connection,
    parent: int,
) -> None:
    """In the process of its own: one line after the other, told as they come."""
    live_with_parent(parent)
    from neapfrost.services.lines.search import line_for

    plan = PlanDocument.model_validate_json(plan_json)
    for kind in kinds:
        line = (plan.line or LineDocument()).model_copy(update={"kind": kind})
        last = [0.0]

        def tell(
            number: int,
            objective: float,
            shape: Shape | None,
            kind: LineKind = kind,
            last: list[float] = last,
        ) -> None:
            now = time.monotonic()
            if shape is not None or now - last[0] > TOLD_EVERY_S:
                last[0] = now
                speak.send(("iteration", kind, number, objective, shape))

        try:
            wanted = plan.model_copy(update={"line": line})
            speak.send(("iteration", kind, 0, None, None))
            speak.send(("found", kind, *line_for(wanted, kind, tell, known)))
        except InputRefused as error:
            for fault in error.faults:
                speak.send(("refused", fault.message))
    speak.send(("end",))
