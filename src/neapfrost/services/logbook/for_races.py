"""What the logbook knows of a plan's races: fuel a lap, as it was measured."""

from neapfrost.services.logbook.kept import run_document, run_items
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.store.database import Store, reading

#: Kinds of lap that burn as a racing lap does.
RACING = ("timed", "slow", "traffic")
#: Fewer laps than this tell nothing of a lap's fuel.
LAPS_FEWEST = 3


def measured_litres(store: Store, plan_id: int) -> float | None:
    """Litres a lap over the runs of a plan's car on its circuit that tell fuel out and in.

    None where none does. Raises NotThere.
    """
    plan = kept_plan(store, plan_id)
    burnt = laps = 0.0
    with reading(store) as session:
        for item in run_items(session):
            if item.circuit != plan.circuit.name or item.car != plan.car.name:
                continue
            run = run_document(session, item.id)
            if run.fuel_out_kg is None or run.fuel_in_kg is None or run.fuel_in_kg <= 0.0:
                continue
            count = sum(1 for lap in run.laps if lap.kind in RACING)
            if count >= LAPS_FEWEST and len(run.laps) > 0:
                burnt += (run.fuel_out_kg - run.fuel_in_kg) * count / len(run.laps)
                laps += count
    if laps < LAPS_FEWEST or burnt <= 0.0:
        return None
    return burnt / laps / plan.car.fuel_use.kg_per_litre
