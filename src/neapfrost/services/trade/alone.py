"""A study driven to its end in this process, for whoever waits for it."""

import time
from collections.abc import Callable

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.trade.jobs import TradeJob, TradeJobs
from neapfrost.services.trade.ranking import RankRequest
from neapfrost.services.trade.sweep import SweepRequest

LOOKED_AT_EVERY_S = 0.02


def swept(
    plan: PlanDocument,
    wanted: SweepRequest,
    units: Units = "metric",
    rival: CarDocument | None = None,
) -> TradeJob:
    """A sweep with all of its laps. Raises InputRefused for what cannot be swept or driven."""
    return _finished(lambda jobs: jobs.sweep(0, plan, wanted, units, rival))


def ranked_alone(
    plan: PlanDocument, wanted: RankRequest | None = None, units: Units = "metric"
) -> TradeJob:
    """A ranking with all of its laps. Raises InputRefused as `swept` does."""
    return _finished(lambda jobs: jobs.ranking(0, plan, wanted or RankRequest(), units))


def _finished(begin: Callable[[TradeJobs], TradeJob]) -> TradeJob:
    jobs = TradeJobs(None)
    job = begin(jobs)
    while job.state == "running":
        time.sleep(LOOKED_AT_EVERY_S)
        job = jobs.look(job.id)
    if job.state == "refused":
        raise InputRefused([Fault("plan", fault) for fault in job.faults])
    return job
