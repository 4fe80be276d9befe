"""Kept runs: found, read, and the plans they were driven on."""

from functools import lru_cache

from sqlalchemy.orm import Session

from neapfrost.core.driven.alignment import Aligned, align
from neapfrost.core.driven.laps import DrivenLog, LoggedLap, lap_of_log
from neapfrost.core.driven.log import Log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import RunColumnDocument, RunDocument, RunLapDocument
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.logbook.measured import read_file
from neapfrost.services.plans.parts import assemble
from neapfrost.store.database import Store, reading
from neapfrost.store.items import NotThere, get_document, get_item, list_items
from neapfrost.store.logs import kept_log
from neapfrost.store.tables import Run


def run_item(session: Session, run_id: int) -> Run:
    """A run's row. Raises NotThere."""
    run = get_item(session, "run", run_id)
    assert isinstance(run, Run)  # as all items of this kind
    return run


def run_items(session: Session) -> list[Run]:
    """Every run that is not deleted."""
    return [run for run in list_items(session, "run") if isinstance(run, Run)]


def run_document(session: Session, run_id: int, number: int | None = None) -> RunDocument:
    """A run's document. Raises NotThere."""
    return RunDocument.model_validate(get_document(session, "run", run_id, number))


def read_run(store: Store, run_id: int) -> tuple[RunDocument, int | None]:
    """A run's document and the number of its plan. Raises NotThere."""
    with reading(store) as session:
        return run_document(session, run_id), run_item(session, run_id).plan_id


def driven_on(store: Store, run: RunDocument, plan_id: int | None) -> PlanDocument | None:
    """The plan of a run on the revisions it was driven on; None where it is not there any more."""
    with reading(store) as session:
        return driven_on_in(session, run, plan_id)


def driven_on_in(session: Session, run: RunDocument, plan_id: int | None) -> PlanDocument | None:
    """As `driven_on`, where the store is open already."""
    if plan_id is None:
        return None
    try:
        return assemble(session, plan_id, run.revisions).document
    except NotThere:
        return None


def plan_of_run(store: Store, run_id: int) -> tuple[RunDocument, PlanDocument]:
    """A run and the plan it was driven on. Raises NotThere, and InputRefused where that is gone."""
    run, plan_id = read_run(store, run_id)
    plan = driven_on(store, run, plan_id)
    if plan is None:
        raise InputRefused([Fault("plan", "the plan of this run was deleted")])
    return run, plan


def timed_laps(run: RunDocument) -> list[RunLapDocument]:
    """The laps of a run that were driven for their time."""
    return [lap for lap in run.laps if lap.kind == "timed" and lap.lap_time_s]


def driven_log(
    store: Store, run: RunDocument, plan: PlanDocument, lap: RunLapDocument
) -> DrivenLog | None:
    """A lap of a run as it was logged; None where it was typed. Raises StoreTrouble."""
    if run.log is None or lap.begins_s is None or lap.ends_s is None or lap.lap_time_s is None:
        return None
    path = recall(plan, TRACE_POINTS).driven.lap.path
    log, aligned = laid_log(store, run, plan)
    # How it was marked since has nothing to do with where it lies.
    logged = LoggedLap(lap.number, lap.begins_s, lap.ends_s, "timed")
    return lap_of_log(log, aligned, logged, path.length_m)


def laid_log(store: Store, run: RunDocument, plan: PlanDocument) -> tuple[Log, Aligned]:
    """The log of a run along its plan's path; the last few are remembered. Raises StoreTrouble."""
    columns = "\n".join(f"{role}|{one.number}|{one.unit}" for role, one in run.columns.items())
    return _laid(store, run.log or "", columns, plan.model_dump_json())


@lru_cache(maxsize=8)
def _laid(store: Store, log_name: str, columns: str, plan_json: str) -> tuple[Log, Aligned]:
    chosen = {
        role: RunColumnDocument(number=int(number), unit=unit)
        for role, number, unit in (line.split("|") for line in columns.splitlines())
    }
    log = read_file(kept_log(store, log_name), chosen or None).log
    plan = PlanDocument.model_validate_json(plan_json)
    return log, align(log, recall(plan, TRACE_POINTS).driven.lap.path)
