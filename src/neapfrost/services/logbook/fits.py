"""The fit as a study: each run's laps seen, then the figures behind them found."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from typing import Annotated, Any, Literal, cast

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.driven.alignment import align
from neapfrost.core.driven.laps import LoggedLap, lap_of_log
from neapfrost.core.errors import Fault, InputRefused, LapImpossible
from neapfrost.core.lap.solve import Stopped
from neapfrost.core.learned.conclusions import (
    Learnt,
    TimePart,
    degradation_learnt,
    driver_learnt,
    learnt,
    misfits,
    time_parts,
    together,
)
from neapfrost.core.learned.figures import Priors
from neapfrost.core.learned.fit import Posterior, fit
from neapfrost.core.learned.lack_of_fit import lack_of_fit
from neapfrost.core.learned.seen import Pull, RunSeen, TyreStated, run_seen
from neapfrost.core.units import Units
from neapfrost.formats.fit import (
    FIT_FORMAT,
    FIT_VERSION,
    FigureName,
    FitDocument,
    FitFigureDocument,
    FitMisfitDocument,
    FitPartDocument,
    FitRunDocument,
    FitSourceDocument,
)
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import compound_of, compound_record
from neapfrost.formats.result import Revisions
from neapfrost.formats.run import RunColumnDocument, RunDocument
from neapfrost.services.laps.planned import planned
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.logbook.kept import driven_on_in, run_document, run_item, timed_laps
from neapfrost.services.logbook.measured import read_file
from neapfrost.services.logbook.several import on_run
from neapfrost.services.plans.parts import assemble
from neapfrost.services.processes import Ticket, stopped_by
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.learned import (
    LABELS,
    describe_claim,
    describe_degradation,
    describe_driver,
    describe_figure,
    describe_fit,
    describe_lack,
    describe_part,
    describe_working,
    together_told,
)
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store, reading
from neapfrost.store.logs import kept_log

Percent = Annotated[float, Field(gt=0, le=30)]
SourceKind = Literal["held", "pull", "stop"]
RUNS_MOST = 12


class LeftOut(BaseModel):
    """A lap of a run that is not learned from."""

    model_config = ConfigDict(extra="forbid")

    run_id: int
    lap: int


class FitRequest(BaseModel):
    """The runs to learn from, laps left out, and half-widths of what the plan does not state.

    Grip, downforce, power, wind and radii are uncertain as the plan states them. Null: as usual.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    runs: Annotated[list[int], Field(min_length=1, max_length=RUNS_MOST)]
    leave_out: list[LeftOut] | None = None
    along_pct: Percent | None = None
    drag_pct: Percent | None = None
    mass_pct: Percent | None = None


@dataclass(frozen=True)
class RunToSee:
    """A run on its way to where laps are seen: the plan it is held against, its log, its laps."""

    run_id: int
    name: str
    revision: int
    plan_json: str
    data: bytes
    columns: dict[str, RunColumnDocument]
    laps: tuple[tuple[int, int, float, float], ...]
    spoiled: tuple[frozenset[str], ...]


@dataclass(frozen=True, eq=False)
class SeenParts:
    """What a run shows, without the plan that it is held against."""

    on_run: Integers
    held: Floats
    pulls: tuple[Pull, ...]
    stops: tuple[Pull, ...]
    lap_times_s: Floats


def fit_course(store: Store, plan_id: int, request: FitRequest, units: Units = "metric") -> Course:
    """How the figures of a plan are learned from some runs.

    Raises NotThere, and InputRefused for runs of another car or circuit, typed ones, or too many.
    """
    with reading(store) as session:
        assembled = assemble(session, plan_id)
        runs = []
        for run_id in dict.fromkeys(request.runs):
            item, run = run_item(session, run_id), run_document(session, run_id)
            driven = driven_on_in(session, run, item.plan_id)
            _refuse_run(assembled.document, run)
            plan = _as_driven(assembled.document, driven, run)
            data = kept_log(store, run.log or "")
            runs.append(_to_see(request, run_id, item.newest, run, plan, data))
    priors = priors_of(assembled.document, request)
    revisions = assembled.revisions

    def drive(run: Run) -> None:
        seen = run.gathered(see_runs, list(enumerate(runs)), at_once=1)
        parts = [seen[number] for number in range(len(runs))]
        do = partial(fit_runs, run.plan_json, runs, parts, priors, revisions, units, run.ticket)
        ((_, found),) = run.answers(do, [(0, 0)])
        if isinstance(found, str):
            raise InputRefused([Fault("runs", found)])
        run.count(fit=found)

    return Course(len(runs) + 1, drive)


def priors_of(plan: PlanDocument, request: FitRequest) -> Priors:
    """What is known before: as the plan states it, and as usual where it states nothing."""
    usual, stated = Priors(), plan.uncertainty

    def share(pct: float | None, otherwise: float) -> float:
        return otherwise if pct is None else pct / 100.0

    # What is known for certain needs no fit; a hundredth of a per cent is as good as that.
    return Priors(
        grip=max(stated.grip_pct / 100.0, 1e-4),
        along=share(request.along_pct, usual.along),
        downforce=max(stated.downforce_pct / 100.0, 1e-4),
        drag=share(request.drag_pct, usual.drag),
        power=max(stated.power_pct / 100.0, 1e-4),
        mass=share(request.mass_pct, usual.mass),
        wind_ms=max(stated.wind_ms, 1e-2),
        radius=stated.radius_pct / 100.0,
    )


def tyre_stated(plan: PlanDocument) -> TyreStated:
    """The compound that a run is on, as the plan's car states it; as usual where it names none."""
    document = compound_of(plan)
    if document is None:
        return TyreStated()
    compound = compound_record(document)
    return TyreStated(document.name, compound.fade_share, len(compound.warm_up))


def _refuse_run(plan: PlanDocument, run: RunDocument) -> None:
    if run.log is None:
        raise InputRefused([Fault("runs", f"{run.name} was typed; a fit needs logged laps")])
    if (run.car, run.circuit) != (plan.car.name, plan.circuit.name):
        raise InputRefused(
            [
                Fault(
                    "runs",
                    f"{run.name} was driven with {run.car} on {run.circuit}; the plan is of "
                    f"{plan.car.name} on {plan.circuit.name}",
                )
            ]
        )


def _to_see(
    request: FitRequest,
    run_id: int,
    revision: int,
    run: RunDocument,
    plan: PlanDocument,
    data: bytes,
) -> RunToSee:
    out = {one.lap for one in request.leave_out or [] if one.run_id == run_id}
    laps = [lap for lap in timed_laps(run) if lap.number not in out]
    spoiled = tuple(
        frozenset(seen.corner for seen in run.seen if seen.fault and seen.lap in (None, lap.number))
        for lap in laps
    )
    return RunToSee(
        run_id,
        run.name,
        revision,
        plan.model_dump_json(),
        data,
        run.columns,
        tuple(
            (lap.number, on_run(run, lap), lap.begins_s or 0.0, lap.ends_s or 0.0) for lap in laps
        ),
        spoiled,
    )


def _as_driven(plan: PlanDocument, driven: PlanDocument | None, run: RunDocument) -> PlanDocument:
    """The plan as it stands, with the setup, the fuel and the air that the run was driven with."""
    if driven is None:
        return plan
    fuels = [one for one in (run.fuel_out_kg, run.fuel_in_kg) if one is not None]
    fuel = sum(fuels) / len(fuels) if fuels else driven.car.fuel_kg
    setups = {setup.name for setup in plan.car.setups}
    air = driven.conditions
    if air.name == plan.conditions.name:
        # What was blamed on the day stays with the day.
        air = air.model_copy(update={"grip_factor": plan.conditions.grip_factor})
    return plan.model_copy(
        update={
            "car": plan.car.model_copy(update={"fuel_kg": fuel}),
            "setup": driven.setup if driven.setup in setups else plan.setup,
            "conditions": air,
        }
    )


def see_runs(runs: Sequence[RunToSee]) -> list[SeenParts]:
    """What each of some runs shows. Raises InputRefused where a log cannot be laid any more."""
    return [_see(run) for run in runs]


def _see(run: RunToSee) -> SeenParts:
    prediction = recall(PlanDocument.model_validate_json(run.plan_json), TRACE_POINTS)
    path = prediction.driven.lap.path
    log = read_file(run.data, run.columns or None).log
    aligned = align(log, path)
    laps = [
        lap_of_log(log, aligned, LoggedLap(number, begins, ends, "timed"), path.length_m)
        for number, _, begins, ends in run.laps
    ]
    seen = run_seen(
        run.name,
        prediction.driven.drive,
        prediction.driven,
        laps,
        [gone for _, gone, _, _ in run.laps],
        run.spoiled,
    )
    return SeenParts(seen.on_run, seen.held, seen.pulls, seen.stops, seen.lap_times_s)


def fit_runs(
    plan_json: str,
    runs: Sequence[RunToSee],
    parts: Sequence[SeenParts],
    priors: Priors,
    revisions: Revisions,
    units: Units,
    ticket: Ticket | None,
    wanted: Sequence[int],
) -> list[FitDocument | str]:
    """The figures behind some runs, once for each that is wanted; a sentence where none are found.

    The last run's best lap is the one whose seconds are parted.
    """
    del wanted  # one fit, asked for as studies ask for laps
    plan = PlanDocument.model_validate_json(plan_json)
    say = Saying(units)
    seen = []
    for run, part in zip(runs, parts, strict=True):
        own = PlanDocument.model_validate_json(run.plan_json)
        prediction = recall(own, TRACE_POINTS)
        seen.append(
            RunSeen(
                run.name,
                planned(own).drive,
                prediction.driven,
                part.on_run,
                part.held,
                part.pulls,
                part.stops,
                part.lap_times_s,
                tyre_stated(own),
            )
        )
    try:
        found = fit(seen, priors, stopped_by(ticket))
        last = len(seen) - 1
        best = float(seen[last].lap_times_s.min())
        times = time_parts(found, seen[last], last, best)
    except Stopped:
        return ["the fit was stopped"]
    except InputRefused as refused:
        return ["; ".join(fault.marked for fault in refused.faults)]
    except LapImpossible as impossible:
        return [f"no lap is possible with figures near the plan's: {impossible}"]
    head = {
        "name": f"Fitted to {', '.join(run.name for run in runs)}"[:200],
        "plan": plan.name,
        "car": plan.car.name,
        "circuit": plan.circuit.name,
        "revisions": revisions,
        "runs": [
            FitRunDocument(
                id=run.run_id,
                name=run.name,
                revision=run.revision,
                laps=[number for number, _, _, _ in run.laps],
            )
            for run in runs
        ],
    }
    return [_document(head, found, seen, times, say)]


def _document(
    head: dict[str, Any],
    found: Posterior,
    seen: Sequence[RunSeen],
    times: Sequence[TimePart],
    say: Saying,
) -> FitDocument:
    """A fit with everything that is said of it; figures are those of the last run."""
    last = len(seen) - 1
    figures, left = learnt(found, last), misfits(found, seen)
    laps = sum(len(one.on_run) for one in seen)
    return FitDocument(
        format=FIT_FORMAT,
        version=FIT_VERSION,
        made_at=datetime.now().isoformat(timespec="seconds"),
        **head,
        figures=[_figure(one, say) for one in figures],
        misfits=[
            FitMisfitDocument(
                corner=one.corner,
                laps=one.laps,
                before_ms=one.before_ms,
                after_ms=one.after_ms,
                unlike_ms=one.unlike_ms,
            )
            for one in left
        ],
        parts=[
            FitPartDocument(
                cause=part.cause,
                time_s=part.time_s,
                within_s=part.within_s,
                said=describe_part(part),
            )
            for part in times
        ],
        said=describe_fit(figures, left, laps, len(seen), say),
        apart=together_told(together(found, last)),
        driver=[
            *describe_driver(driver_learnt(found)),
            describe_degradation(degradation_learnt(found, last), seen[last].tyre.compound),
        ],
        lack=[describe_lack(one, say) for one in lack_of_fit(found, left, times)],
        working=describe_working(found),
        scatter=found.scatter,
        spread=found.spread,
    )


def _figure(one: Learnt, say: Saying) -> FitFigureDocument:
    return FitFigureDocument(
        name=cast(FigureName, one.name),
        label=LABELS[one.name],
        value=one.value,
        within=one.within,
        stated_within=one.stated_within,
        claim=one.claim,
        claim_said=describe_claim(one),
        contradicts=one.contradicts,
        sources=[
            FitSourceDocument(
                kind=cast(SourceKind, source.kind), corner=source.corner, share=source.share
            )
            for source in one.sources
        ],
        said=describe_figure(one, say),
    )
