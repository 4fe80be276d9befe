"""Studies under way: watched while they fill, and ended when not wanted."""

import threading
import time
import uuid
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from typing import Literal

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.fit import FitDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.solver_processes import Solvers
from neapfrost.services.race.energy import Energy
from neapfrost.services.race.flap import Flap
from neapfrost.services.race.lanes import Lanes
from neapfrost.services.race.passing import Passing
from neapfrost.services.race.saving import Saving
from neapfrost.services.race.told import Race
from neapfrost.services.race.work import Work
from neapfrost.services.trade.gears import GearStudy
from neapfrost.services.trade.grid import Grid, Limits, concluded
from neapfrost.services.trade.ranking import Ranking
from neapfrost.services.trade.run import Cancelled, Course, Run
from neapfrost.services.trade.search import Search
from neapfrost.services.trade.sweep import Sweep
from neapfrost.services.weather.session import Session
from neapfrost.services.weather.weathers import Weathers
from neapfrost.services.weather.winds import WindStudy

State = Literal["running", "done", "cancelled", "refused"]

#: Studies under way at once, and finished ones remembered.
UNDER_WAY_MOST = 6
REMEMBERED = 12
#: Nobody waits for a study that nobody has looked at for so long: it ends [s]. Between two of its
#: laps no more than the second is counted.
ABANDONED_AFTER_S, STOOD_STILL_S = 3.0, 1.0


class StudyJob(BaseModel):
    """How a study stands: laps driven of so many, and what it has come to so far."""

    id: str
    plan_id: int
    state: State
    done: int
    of: int
    faults: list[str] = []
    sweep: Sweep | None = None
    grid: Grid | None = None
    ranking: Ranking | None = None
    search: Search | None = None
    gears: GearStudy | None = None
    winds: WindStudy | None = None
    session: Session | None = None
    weathers: Weathers | None = None
    fit: FitDocument | None = None
    race: Race | None = None
    saving: Saving | None = None
    energy: Energy | None = None
    passing: Passing | None = None
    work: Work | None = None
    lanes: Lanes | None = None
    flap: Flap | None = None


@dataclass
class _Job:
    """A study; written by the thread that drives it."""

    told: StudyJob
    units: Units
    stopping: bool = False
    unseen_s: float = 0.0
    checked_at: float = field(default_factory=time.monotonic)


class StudyJobs:
    """The studies of one application."""

    def __init__(self, solvers: Solvers | None) -> None:
        self._solvers = solvers
        self._lock = threading.Lock()
        self._jobs: dict[str, _Job] = {}

    def start(
        self, plan_id: int, plan: PlanDocument, course: Course, units: Units = "metric"
    ) -> StudyJob:
        """Begin a study. Raises InputRefused where too many are under way."""
        told = StudyJob(
            id=uuid.uuid4().hex, plan_id=plan_id, state="running", done=0, of=course.laps
        )
        job = _Job(told, units)
        with self._lock:
            running = [one for one in self._jobs.values() if one.told.state == "running"]
            if len(running) >= UNDER_WAY_MOST:
                running = [one for one in running if not _abandoned(one)]
            if len(running) >= UNDER_WAY_MOST:
                raise InputRefused(
                    [Fault("job", f"{UNDER_WAY_MOST} studies are running; stop one or wait")]
                )
            for old in list(self._jobs)[: max(0, len(self._jobs) - REMEMBERED + 1)]:
                if self._jobs[old].told.state != "running":
                    del self._jobs[old]
            self._jobs[told.id] = job
        run = Run(
            plan.model_dump_json(),
            units,
            self._solvers,
            show=lambda changes: self._tell(job, changes),
            wanted=lambda: self._wanted(job),
        )
        threading.Thread(target=self._drive, args=(job, run, course), daemon=True).start()
        return told

    def look(self, job_id: str, limits: Limits | None = None) -> StudyJob:
        """How a study stands; a map with its best within some limits.

        Raises InputRefused where it is not known any more.
        """
        job = self._known(job_id)
        job.unseen_s = 0.0
        told = job.told
        if told.grid is None:
            return told
        grid = concluded(told.grid, limits or Limits(), job.units)
        if told.state == "running":
            # What is best is said once all of it is known.
            grid = grid.model_copy(update={"said": []})
        return told.model_copy(update={"grid": grid})

    def cancel(self, job_id: str) -> StudyJob:
        """End a study; what it has come to stays. Raises InputRefused as `look` does."""
        job = self._known(job_id)
        with self._lock:
            job.stopping = True
            if job.told.state == "running":
                job.told = job.told.model_copy(update={"state": "cancelled"})
        return self.look(job_id)

    def stop(self) -> None:
        """End all studies."""
        for job in list(self._jobs.values()):
            job.stopping = True

    def _wanted(self, job: _Job) -> bool:
        """Whether a study goes on: nobody ended it, and somebody still looks at it."""
        with self._lock:
            return not (job.stopping or _abandoned(job))

    def _known(self, job_id: str) -> _Job:
        with self._lock:
            if job_id not in self._jobs:
                raise InputRefused([Fault("job", "this study has ended; start it again")])
            return self._jobs[job_id]

    def _drive(self, job: _Job, run: Run, course: Course) -> None:
        try:
            course.drive(run)
            self._tell(job, {"state": "done"})
        except Cancelled:
            pass
        except InputRefused as error:
            self._refuse(job, [fault.message for fault in error.faults])
        except BrokenProcessPool:
            ended = "a calculating process ended unexpectedly; start the study again"
            self._refuse(job, [ended])
        except Exception:
            self._refuse(job, ["the study failed on this plan unexpectedly"])
            raise

    def _refuse(self, job: _Job, faults: list[str]) -> None:
        with self._lock:
            if not job.stopping:
                job.told = job.told.model_copy(update={"state": "refused", "faults": faults})

    def _tell(self, job: _Job, changes: dict[str, object]) -> None:
        with self._lock:
            if job.stopping or _abandoned(job):
                raise Cancelled
            job.told = job.told.model_copy(update=changes)


def _abandoned(job: _Job) -> bool:
    """End a study that nobody looks at any more; whether it was one."""
    now = time.monotonic()
    # While this process could not run, nobody could look: such a while counts for little.
    job.unseen_s += min(now - job.checked_at, STOOD_STILL_S)
    job.checked_at = now
    if job.told.state != "running" or job.unseen_s < ABANDONED_AFTER_S:
        return False
    job.stopping = True
    job.told = job.told.model_copy(update={"state": "cancelled"})
    return True
