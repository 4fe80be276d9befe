"""Simulated runs that are kept."""

from neapfrost.services.logbook.keeping import RunPlace, keep_run
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.store.database import Store


def keep_simulated(
    store: Store,
    plan_id: int,
    name: str,
    wanted: SimulatedRun,
    place: RunPlace | None = None,
) -> int:
    """Drive a plan as the simulated driver does, and keep the run; returns its number.

    Raises InputRefused for an open course.
    """
    text = simulated_log(kept_plan(store, plan_id), wanted)
    return keep_run(store, plan_id, name, text.encode(), True, place)
