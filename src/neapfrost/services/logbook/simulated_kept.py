"""Simulated runs that are kept: on the page, and once for the demo world."""

from collections.abc import Iterable

from neapfrost.services.logbook.keeping import RunPlace, keep_run
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import list_items
from neapfrost.store.steps import get_mark, set_mark


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


def drive_runs_once(store: Store, mark: str, runs: Iterable[tuple[str, str, int, bool]]) -> None:
    """Drive simulated runs on plans by their names, leaving out those driven under this mark."""
    with reading(store) as session:
        done = set((get_mark(session, mark) or "").splitlines())
        plans = {plan.name: plan.id for plan in list_items(session, "plan")}
    for plan, name, seed, places in runs:
        if name in done or plan not in plans:
            continue
        wanted = SimulatedRun(laps=6, seed=seed, places=places)
        keep_simulated(store, plans[plan], name, wanted)
        done.add(name)
        with writing(store) as session:
            set_mark(session, mark, "\n".join(sorted(done)))
