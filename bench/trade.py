"""How long trade-offs take with the application's own processes."""

import time

from neapfrost.demo.plans import composed, demo_plans
from neapfrost.demo.weather import demo_weathers
from neapfrost.services.laps.solver_processes import ready, start_solvers, stop_solvers
from neapfrost.services.studies.jobs import StudyJob, StudyJobs
from neapfrost.services.trade.gears import GearsRequest, gears_course
from neapfrost.services.trade.grid import AxisRange, GridRequest, grid_course
from neapfrost.services.trade.ranking import RankRequest, rank_course
from neapfrost.services.trade.search import SearchRequest, search_course
from neapfrost.services.trade.sweep import SweepRequest, sweep_course
from neapfrost.services.weather.moments import SessionRequest
from neapfrost.services.weather.session import session_course
from neapfrost.services.weather.weathers import weathers_course


def trade_rows(kernel_ms: float) -> list[tuple[str, str, str]]:
    """Sweep, map, ranking, search, gears and sessions of the demo plan, with their laps."""
    solvers = start_solvers(demo_plans()[0].document)
    try:
        while not ready(solvers):
            time.sleep(0.05)
        jobs, plan = StudyJobs(solvers), composed("k4-dry")
        wide = AxisRange(axis="wing_downforce", count=20)
        high = AxisRange(axis="final_drive", count=20)
        wanted = SessionRequest()
        day = next(record for name, _, _, record in demo_weathers() if name == "fen")
        sweep = SweepRequest(axis="final_drive", count=60)
        studies = {
            "A sweep of 60 values with its bands": sweep_course(plan, sweep),
            "Two figures at 400 places": grid_course(plan, GridRequest(x=wide, y=high)),
            "What is worth most": rank_course(plan, RankRequest()),
            "The best of what the car has": search_course(plan, SearchRequest()),
            "Gears for the circuit": gears_course(plan, GearsRequest()),
            "A session of six hours on three compounds": session_course(plan, day, wanted),
            "Two weathers side by side": weathers_course(plan, day, wanted),
        }
        rows = []
        for name, course in studies.items():
            started = time.perf_counter()
            job = _finished(jobs, jobs.start(1, plan, course))
            took = time.perf_counter() - started
            rows.append((f"{name}, {job.done} laps", f"{took:.1f} s", _laps(took, kernel_ms)))
        return rows
    finally:
        stop_solvers(solvers)


def _finished(jobs: StudyJobs, job: StudyJob) -> StudyJob:
    while job.state == "running":
        time.sleep(0.02)
        job = jobs.look(job.id)
    return job


def _laps(took_s: float, kernel_ms: float) -> str:
    return f"{1000.0 * took_s / kernel_ms:.0f} laps"
