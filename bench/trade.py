"""How long trade-offs take with the application's own processes."""

import time
from collections.abc import Callable

from neapfrost.demo.plans import composed, demo_plans
from neapfrost.services.laps.solver_processes import ready, start_solvers, stop_solvers
from neapfrost.services.trade.gears import GearsRequest
from neapfrost.services.trade.grid import AxisRange, GridRequest
from neapfrost.services.trade.jobs import TradeJob, TradeJobs
from neapfrost.services.trade.ranking import RankRequest
from neapfrost.services.trade.search import SearchRequest
from neapfrost.services.trade.sweep import SweepRequest


def trade_rows(kernel_ms: float) -> list[tuple[str, str, str]]:
    """A sweep, a map, a ranking, a search and gears of the demo plan, with their laps."""
    solvers = start_solvers(demo_plans()[0].document)
    try:
        while not ready(solvers):
            time.sleep(0.05)
        jobs, plan = TradeJobs(solvers), composed("k4-dry")
        wide = AxisRange(axis="wing_downforce", count=20)
        high = AxisRange(axis="final_drive", count=20)
        studies: dict[str, Callable[[], TradeJob]] = {
            "A sweep of 60 values with its bands": lambda: jobs.sweep(
                1, plan, SweepRequest(axis="final_drive", count=60), "metric"
            ),
            "Two figures at 400 places": lambda: jobs.grid(
                1, plan, GridRequest(x=wide, y=high), "metric"
            ),
            "What is worth most": lambda: jobs.ranking(1, plan, RankRequest(), "metric"),
            "The best of what the car has": lambda: jobs.search(1, plan, SearchRequest(), "metric"),
            "Gears for the circuit": lambda: jobs.gears(1, plan, GearsRequest(), "metric"),
        }
        rows = []
        for name, begin in studies.items():
            started = time.perf_counter()
            job = _finished(jobs, begin())
            took = time.perf_counter() - started
            rows.append((f"{name}, {job.done} laps", f"{took:.1f} s", _laps(took, kernel_ms)))
        return rows
    finally:
        stop_solvers(solvers)


def _finished(jobs: TradeJobs, job: TradeJob) -> TradeJob:
    while job.state == "running":
        time.sleep(0.02)
        job = jobs.look(job.id)
    return job


def _laps(took_s: float, kernel_ms: float) -> str:
    return f"{1000.0 * took_s / kernel_ms:.0f} laps"
