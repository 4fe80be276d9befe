"""What the logbook knows of a plan's races: fuel a lap, how tyres fade, what stops lose."""

from collections.abc import Sequence

import numpy as np

from neapfrost.core.driven.trend import trend
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import named
from neapfrost.formats.run import RunDocument
from neapfrost.services.logbook.kept import run_document, run_items, timed_laps
from neapfrost.services.logbook.several import on_run
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.race.measured import Measured, MeasuredFade, MeasuredStops
from neapfrost.store.database import Store, reading

#: Kinds of lap that burn as a racing lap does.
RACING = ("timed", "slow", "traffic")
#: Fewer laps than this tell nothing of a lap's fuel.
LAPS_FEWEST = 3


def measured_for_races(store: Store, plan_id: int) -> Measured:
    """What the runs of a plan's car on its circuit tell of its races. Raises NotThere."""
    plan = kept_plan(store, plan_id)
    with reading(store) as session:
        runs = [
            run_document(session, item.id)
            for item in run_items(session)
            if item.circuit == plan.circuit.name and item.car == plan.car.name
        ]
    return Measured(_litres(plan, runs), _fades(plan, runs), _stops(runs))


def _litres(plan: PlanDocument, runs: Sequence[RunDocument]) -> float | None:
    """Litres a lap over the runs that tell fuel out and in; None where none does."""
    burnt = laps = 0.0
    for run in runs:
        if run.fuel_out_kg is None or run.fuel_in_kg is None or run.fuel_in_kg <= 0.0:
            continue
        count = sum(1 for lap in run.laps if lap.kind in RACING)
        if count >= LAPS_FEWEST and len(run.laps) > 0:
            burnt += (run.fuel_out_kg - run.fuel_in_kg) * count / len(run.laps)
            laps += count
    if laps < LAPS_FEWEST or burnt <= 0.0:
        return None
    return burnt / laps / plan.car.fuel_use.kg_per_litre


def _fades(plan: PlanDocument, runs: Sequence[RunDocument]) -> tuple[MeasuredFade, ...]:
    """How lap times on each compound go along runs, where that stands out of their scatter.

    Runs count by how sure each is; a run whose setup names no compound tells of none.
    """
    found: dict[str, list[tuple[float, float, int]]] = {}
    for run in runs:
        setup = named(plan.car.setups, run.setup)
        laps = timed_laps(run)
        times = [lap.lap_time_s for lap in laps if lap.lap_time_s is not None]
        goes = trend([on_run(run, lap) for lap in laps], times)
        if goes is None or setup is None or setup.compound is None:
            continue
        slope = (goes.fade_s, max(goes.fade_within_s, 1e-6), len(laps))
        found.setdefault(setup.compound, []).append(slope)
    fades = []
    for compound, slopes in found.items():
        weights = np.array([1.0 / within**2 for _, within, _ in slopes])
        lap_s = float(weights @ [slope for slope, _, _ in slopes] / weights.sum())
        within_s = float(1.0 / np.sqrt(weights.sum()))
        if abs(lap_s) > within_s:
            laps_in_all = sum(laps for _, _, laps in slopes)
            fades.append(MeasuredFade(compound, lap_s, within_s, len(slopes), laps_in_all))
    return tuple(fades)


def _stops(runs: Sequence[RunDocument]) -> MeasuredStops | None:
    """What an in lap and the out lap after it took more than two laps driven for their time."""
    lost = []
    for run in runs:
        times = [lap.lap_time_s for lap in timed_laps(run) if lap.lap_time_s is not None]
        if len(times) < LAPS_FEWEST:
            continue
        usual = float(np.median(times))
        for comes, goes in zip(run.laps, run.laps[1:], strict=False):
            if (comes.kind, goes.kind) != ("in", "out"):
                continue
            if comes.lap_time_s is not None and goes.lap_time_s is not None:
                lost.append(comes.lap_time_s + goes.lap_time_s - 2.0 * usual)
    if not lost:
        return None
    return MeasuredStops(loss_s=float(np.median(lost)), stops=len(lost))
