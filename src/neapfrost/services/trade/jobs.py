"""Sweeps, maps and rankings under way: watched while they fill, and ended when not wanted.

Laps are driven a few at a time in the processes that answer what-ifs, never more than those can
take at once, so that a figure stepped in between waits for a few laps and not for all of them.
"""

import math
import threading
import uuid
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, wait
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from functools import partial
from typing import Literal, TypeVar

import numpy as np
from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.trade.gearing import Series, best_series
from neapfrost.core.units import Units
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.solver_processes import Solvers, ready
from neapfrost.services.trade.axes import RATIOS, Setting, Settings, as_settings
from neapfrost.services.trade.gears import (
    Candidate,
    GearChoice,
    GearsRequest,
    GearStudy,
    bounds_of,
    candidates,
    choice_of,
    corners_by_gear,
    half_step_settings,
    half_steps,
    laps_of_gears,
    settings_for,
    timed,
    told,
)
from neapfrost.services.trade.grid import (
    Grid,
    GridRequest,
    Limits,
    cells_coarse_first,
    concluded,
    grid_axes,
    grid_begun,
    settings_at,
    with_cells,
)
from neapfrost.services.trade.laps import Basis, WeighedPlan, basis, draw_times, weigh, weigh_rivals
from neapfrost.services.trade.parts import Rival, figures_of
from neapfrost.services.trade.ranking import Ranking, RankRequest, ranked, steps_of
from neapfrost.services.trade.search import (
    BEST_KEPT,
    Search,
    SearchRequest,
    combinations,
    found_so_far,
    searched_axes,
    values_of,
)
from neapfrost.services.trade.sweep import (
    Sweep,
    SweepRequest,
    coarse_first,
    settings_of,
    sweep_begun,
    sweep_values,
    with_draws,
    with_laps,
)
from neapfrost.services.trade.winds import (
    HALVINGS,
    WindsRequest,
    WindStudy,
    bracketing,
    brackets,
    directions_deg,
    flat_at,
    flat_corners,
    in_wind,
    laps_most,
    narrowed,
    told_winds,
)

State = Literal["running", "done", "cancelled", "refused"]
Index = TypeVar("Index")
Answer = TypeVar("Answer")

#: So many laps are asked for at once: a what-if waits behind them.
LAPS_AT_ONCE = 3
#: Studies under way at once, and finished ones remembered.
UNDER_WAY_MOST = 2
REMEMBERED = 12


class TradeJob(BaseModel):
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


class _Cancelled(Exception):
    """The study is not wanted any more."""


@dataclass
class _Job:
    """A study; written by the thread that drives it."""

    told: TradeJob
    plan_json: str
    units: Units
    stopping: bool = False


class TradeJobs:
    """The studies of one application."""

    def __init__(self, solvers: Solvers | None) -> None:
        self._solvers = solvers
        self._lock = threading.Lock()
        self._jobs: dict[str, _Job] = {}

    def sweep(
        self,
        plan_id: int,
        plan: PlanDocument,
        wanted: SweepRequest,
        units: Units,
        rival: CarDocument | None = None,
    ) -> TradeJob:
        """Begin to drive along one axis, set against a rival where one is given.

        Raises InputRefused for what cannot be swept.
        """
        axis, values = sweep_values(plan, wanted)

        def drive(job: _Job) -> None:
            base, present = self._present(job)
            found = sweep_begun(axis, values, base, present, self._rival(job, rival))
            settings = settings_of(axis, values)
            order = list(coarse_first(len(values)))
            self._tell(job, sweep=found)
            laps = partial(weigh, job.plan_json)
            for index, lap in self._driven(job, laps, [(n, settings[n]) for n in order]):
                found = with_laps(found, {index: lap}, units)
                self._tell(job, done=job.told.done + 1, sweep=found)
            drawn = partial(draw_times, job.plan_json)
            wanted_draws = [(-1, ()), *((n, settings[n]) for n in range(len(values)))]
            rows = self._gathered(job, drawn, wanted_draws, at_once=1)
            times_s = np.array([rows[n] for n in range(len(values))])
            self._tell(job, sweep=with_draws(found, times_s, rows[-1], units))

        return self._start(plan_id, plan, units, 2 * len(values) + 1, drive)

    def grid(self, plan_id: int, plan: PlanDocument, wanted: GridRequest, units: Units) -> TradeJob:
        """Begin to drive over two axes. Raises InputRefused for what cannot be varied together."""
        x, y = grid_axes(plan, wanted)

        def drive(job: _Job) -> None:
            _, present = self._present(job)
            found = grid_begun(x, y, present)
            cells = list(cells_coarse_first(len(x[1]), len(y[1])))
            laps = partial(weigh, job.plan_json)
            asked = [(cell, settings_at(found, *cell)) for cell in cells]
            self._tell(job, grid=found)
            for cell, lap in self._driven(job, laps, asked):
                found = with_cells(found, {cell: lap})
                self._tell(job, done=job.told.done + 1, grid=found)

        return self._start(plan_id, plan, units, len(x[1]) * len(y[1]), drive)

    def ranking(
        self, plan_id: int, plan: PlanDocument, wanted: RankRequest, units: Units
    ) -> TradeJob:
        """Begin to step every figure. Raises InputRefused for a step of nothing known."""
        steps = steps_of(plan, wanted)

        def drive(job: _Job) -> None:
            base, present = self._present(job)
            laps: dict[int, WeighedPlan | str] = {}
            asked = [(number, step.settings) for number, step in enumerate(steps)]
            for index, lap in self._driven(job, partial(weigh, job.plan_json), asked):
                laps[index] = lap
                driven = [(steps[n], one) for n, one in sorted(laps.items())]
                told = ranked(base, present, driven, wanted, units)
                self._tell(job, done=job.told.done + 1, ranking=told)
            drawn = partial(draw_times, job.plan_json)
            rows = self._gathered(job, drawn, [(-1, ()), *asked], at_once=1)
            draws = (np.array([rows[n] for n in range(len(steps))]), rows[-1])
            driven = [(steps[n], laps[n]) for n in range(len(steps))]
            self._tell(job, ranking=ranked(base, present, driven, wanted, units, draws))

        return self._start(plan_id, plan, units, 2 * len(steps) + 1, drive)

    def search(
        self, plan_id: int, plan: PlanDocument, wanted: SearchRequest, units: Units
    ) -> TradeJob:
        """Begin to drive what the car has. Raises InputRefused where it has nothing to choose."""
        axes = searched_axes(plan, wanted)
        first, shares = combinations(axes, wanted.budget)
        possible = math.prod(len(values_of(axis)) for axis in axes)

        def drive(job: _Job) -> None:
            _, present = self._present(job)
            laps: dict[Settings, WeighedPlan | str] = {}

            def try_all(settings: Sequence[Settings]) -> None:
                new = [(one, one) for one in settings if one not in laps]
                for one, lap in self._driven(job, partial(weigh, job.plan_json), new):
                    laps[one] = lap
                    told = found_so_far(axes, possible, present, list(laps.items()), units)
                    self._tell(job, done=job.told.done + 1, search=told)

            try_all(first)
            told = found_so_far(axes, possible, present, list(laps.items()), units)
            best = [as_settings(one.settings) for one in told.found[:BEST_KEPT]]
            try_all([(*one, *share) for one in best for share in shares])
            told = found_so_far(axes, possible, present, list(laps.items()), units)
            best = [as_settings(one.settings) for one in told.found[:BEST_KEPT]]
            drawn = partial(draw_times, job.plan_json)
            asked: list[tuple[Settings, Settings]] = [((), ()), *((one, one) for one in best)]
            rows = self._gathered(job, drawn, asked, at_once=1)
            present_s = rows.pop(())
            told = found_so_far(
                axes, possible, present, list(laps.items()), units, (rows, present_s)
            )
            self._tell(job, search=told)

        kept = min(BEST_KEPT, len(first))
        laps_in_all = len(first) + kept * len(shares) + kept + 1
        return self._start(plan_id, plan, units, laps_in_all, drive)

    def gears(
        self, plan_id: int, plan: PlanDocument, wanted: GearsRequest, units: Units
    ) -> TradeJob:
        """Begin to look for gears. Raises InputRefused for bounds that are none."""
        begin, bounds = bounds_of(plan, wanted)
        count = len(in_effect(plan).car.gearbox.ratios)
        steps = half_steps(plan)
        sets = candidates(plan)

        def drive(job: _Job) -> None:
            _, present = self._present(job)
            present_s = present.lap.lap_time_s
            by_gear = corners_by_gear(job.plan_json)
            laps = partial(weigh, job.plan_json)
            choices: list[GearChoice] = []
            half: list[WeighedPlan | str] = []

            def tell() -> None:
                study = told(plan, choices, steps, half, by_gear, present_s, wanted.tow_pct)
                self._tell(job, gears=study)

            def choose(candidate: Candidate) -> None:
                found = choice_of(job.plan_json, candidate, present_s, wanted.tow_pct)
                if found is not None:
                    choices.append(found)
                self._tell(job, done=job.told.done + 1)
                tell()

            def times_of(tried: Sequence[Series]) -> list[float]:
                asked = [(n, settings_for(one, count)) for n, one in enumerate(tried)]
                found = self._gathered(job, laps, asked)
                return timed([found[n] for n in range(len(tried))])

            for candidate in sets:
                choose(candidate)
            series = best_series(begin, bounds, times_of)
            ((_, text),) = settings_for(series, count)
            choose(Candidate(name="a proposed series", settings=[Setting(axis=RATIOS, value=text)]))
            asked = list(enumerate(half_step_settings(steps)))
            found = self._gathered(job, laps, asked)
            half += [found[n] for n in range(len(asked))]
            tell()

        return self._start(plan_id, plan, units, laps_of_gears(len(sets), len(steps)), drive)

    def winds(
        self, plan_id: int, plan: PlanDocument, wanted: WindsRequest, units: Units
    ) -> TradeJob:
        """Begin to look for the winds from which flat corners are flat no more."""
        strongest = wanted.strongest

        def drive(job: _Job) -> None:
            base, _ = self._present(job)
            laps = partial(weigh, job.plan_json)
            driven = self._gathered(job, laps, bracketing(strongest))
            corners = flat_corners(driven)
            self._tell(job, of=laps_most(len(corners)))
            found = {corner: brackets(driven, corner, strongest) for corner in corners}
            for _ in range(HALVINGS):
                self._tell(job, winds=told_winds(base.corners, found, strongest))
                asked = [
                    ((corner, direction), in_wind(directions_deg()[direction], sum(one) / 2.0))
                    for corner in corners
                    for direction, one in enumerate(found[corner])
                    if one is not None and one[0] < one[1]
                ]
                flats: dict[int, dict[int, bool]] = {corner: {} for corner in corners}
                for (corner, direction), lap in self._gathered(job, laps, asked).items():
                    flat = flat_at(lap)
                    flats[corner][direction] = bool(flat) and flat[corner]
                found = {corner: narrowed(found[corner], flats[corner]) for corner in corners}
            self._tell(job, winds=told_winds(base.corners, found, strongest))

        return self._start(plan_id, plan, units, laps_most(1), drive)

    def look(self, job_id: str, limits: Limits | None = None) -> TradeJob:
        """How a study stands; a map with its best within some limits.

        Raises InputRefused where it is not known any more.
        """
        job = self._known(job_id)
        told = job.told
        if told.grid is None:
            return told
        return told.model_copy(update={"grid": concluded(told.grid, limits or Limits(), job.units)})

    def cancel(self, job_id: str) -> TradeJob:
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

    def _known(self, job_id: str) -> _Job:
        with self._lock:
            if job_id not in self._jobs:
                raise InputRefused(
                    [Fault("job", "this study is not known any more; start it once more")]
                )
            return self._jobs[job_id]

    def _start(
        self,
        plan_id: int,
        plan: PlanDocument,
        units: Units,
        laps: int,
        drive: Callable[[_Job], None],
    ) -> TradeJob:
        told = TradeJob(id=uuid.uuid4().hex, plan_id=plan_id, state="running", done=0, of=laps)
        job = _Job(told, plan.model_dump_json(), units)
        with self._lock:
            running = [one for one in self._jobs.values() if one.told.state == "running"]
            if len(running) >= UNDER_WAY_MOST:
                raise InputRefused(
                    [Fault("job", "two studies are under way; end one or wait for it")]
                )
            for old in list(self._jobs)[: max(0, len(self._jobs) - REMEMBERED + 1)]:
                if self._jobs[old].told.state != "running":
                    del self._jobs[old]
            self._jobs[told.id] = job
        threading.Thread(target=self._run, args=(job, drive), daemon=True).start()
        return told

    def _run(self, job: _Job, drive: Callable[[_Job], None]) -> None:
        try:
            drive(job)
            self._tell(job, state="done")
        except _Cancelled:
            pass
        except InputRefused as error:
            self._tell(job, state="refused", faults=[fault.message for fault in error.faults])
        except BrokenProcessPool:
            ended = "a process that drives laps ended unexpectedly; start the study once more"
            self._tell(job, state="refused", faults=[ended])
        except Exception:
            self._tell(
                job,
                state="refused",
                faults=["the study tripped over this plan in a way nobody had thought of"],
            )
            raise

    def _tell(self, job: _Job, **changes: object) -> None:
        with self._lock:
            if job.stopping:
                raise _Cancelled
            job.told = job.told.model_copy(update=changes)

    def _present(self, job: _Job) -> tuple[Basis, WeighedPlan]:
        """The plan's own lap. Raises InputRefused where it cannot be driven."""
        ((_, present),) = self._driven(job, partial(weigh, job.plan_json), [(0, ())])
        if isinstance(present, str):
            raise InputRefused([Fault("plan", present)])
        return basis(job.plan_json), present

    def _rival(self, job: _Job, car: CarDocument | None) -> Rival | None:
        """A rival's lap on the plan's line. Raises InputRefused where it has none."""
        if car is None:
            return None
        (lap,) = weigh_rivals(job.plan_json, [car.model_dump_json()])
        if isinstance(lap, str):
            raise InputRefused([Fault("rival", f"{car.name}: {lap}")])
        return Rival(name=car.name, figures=figures_of(lap))

    def _gathered(
        self,
        job: _Job,
        do: Callable[[Sequence[Settings]], list[Answer]],
        wanted: Sequence[tuple[Index, Settings]],
        at_once: int = LAPS_AT_ONCE,
    ) -> dict[Index, Answer]:
        """Every answer, counted as it comes. Raises _Cancelled."""
        found: dict[Index, Answer] = {}
        for index, answer in self._driven(job, do, wanted, at_once):
            found[index] = answer
            self._tell(job, done=job.told.done + 1)
        return found

    def _driven(
        self,
        job: _Job,
        do: Callable[[Sequence[Settings]], list[Answer]],
        wanted: Sequence[tuple[Index, Settings]],
        at_once: int = LAPS_AT_ONCE,
    ) -> Iterator[tuple[Index, Answer]]:
        """Answers as they come, of a few settings at a time. Raises _Cancelled."""
        parts = [wanted[first : first + at_once] for first in range(0, len(wanted), at_once)]
        solvers = self._solvers
        if solvers is None or not ready(solvers):
            for part in parts:
                if job.stopping:
                    raise _Cancelled
                yield from zip([n for n, _ in part], do([s for _, s in part]), strict=True)
            return
        waiting: dict[Future[list[Answer]], Sequence[tuple[Index, Settings]]] = {}
        at_most = len(solvers.warmed)
        while parts or waiting:
            if job.stopping:
                for future in waiting:
                    future.cancel()
                raise _Cancelled
            while parts and len(waiting) < at_most:
                part = parts.pop(0)
                waiting[solvers.pool.submit(do, [s for _, s in part])] = part
            finished, _ = wait(waiting, timeout=0.5, return_when=FIRST_COMPLETED)
            for future in finished:
                part = waiting.pop(future)
                yield from zip([n for n, _ in part], future.result(), strict=True)
