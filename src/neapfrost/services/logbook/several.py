"""Several laps of one or more runs together: figures with their spread, and the possible lap."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass

from pydantic import BaseModel

from neapfrost.core.driven.together import (
    CornerOfLap,
    CornerTogether,
    MeasuredLap,
    Range,
    laps_together,
)
from neapfrost.core.driven.trend import trend
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.units import Units
from neapfrost.formats.run import RunCornerDocument, RunDocument, RunLapDocument
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.logbook.kept import driven_on, read_run, timed_laps
from neapfrost.services.words.logbook import describe_corner_together, describe_together
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store

#: Runs that may be looked at together.
RUNS_MOST = 30


class Spread(BaseModel):
    """A figure over some laps: best, median, scatter as a standard deviation, and how many laps."""

    best: float
    median: float
    spread: float
    count: int


class CornerOverLaps(BaseModel):
    """A corner over some laps beside the prediction; null where too few laps have the figure."""

    name: str
    lost_s: Spread
    best_lap: str
    min_speed_ms: Spread
    plan_min_speed_ms: float
    brake_start_to_corner_m: Spread | None
    plan_brake_start_to_corner_m: float | None
    exit_speed_ms: Spread
    gears: str
    plan_gear: int
    said: str


class TrendOfLaps(BaseModel):
    """How lap times go along a run; half-widths hold four times in five."""

    level_s: float
    early_s: float
    early_within_s: float
    settles_laps: float
    fade_s: float
    fade_within_s: float
    scatter_s: float
    early_beyond_noise: bool
    fade_beyond_noise: bool


class SeveralLaps(BaseModel):
    """Timed laps of some runs together, on one circuit.

    `possible_s` is the lap of the best corners, `best_sectors_s` that of the best sectors; each
    corner's exit is the next one's entry, so that neither is quite drivable.
    """

    runs: list[int]
    lap_s: Spread
    predicted_s: float
    possible_s: float | None
    sectors_s: list[Spread]
    best_sectors_s: float | None
    corners: list[CornerOverLaps]
    trend: TrendOfLaps | None
    said: list[str]


@dataclass(frozen=True)
class TakenLap:
    """A lap that is taken, the run it is of, and how many laps that had gone before it."""

    run_id: int
    run: RunDocument
    lap: RunLapDocument
    on_run: int

    @property
    def name(self) -> str:
        """How it is called among laps of several runs."""
        return f"{self.run.name}, lap {self.lap.number}"


def several(store: Store, run_ids: Sequence[int], units: Units = "metric") -> SeveralLaps:
    """The timed laps of some runs. Raises NotThere, and InputRefused for fewer than two laps."""
    taken, prediction = taken_laps(store, run_ids)
    if len(taken) < 2:
        count = "one timed lap was" if len(taken) == 1 else "no timed lap was"
        raise InputRefused([Fault("runs", f"{count} chosen; at least two are needed")])
    measured = [one for one in taken if one.lap.corners]
    alike = [
        one
        for one in measured
        if [c.name for c in one.lap.corners] == [c.name for c in prediction.driven.corners]
    ]
    laps = [_measured(one) for one in (alike if len(alike) > 1 else [])]
    times = [one.lap.lap_time_s or 0.0 for one in taken]
    found = laps_together(times, laps, prediction.driven.lap.lap_time_s)
    single = len({one.run_id for one in taken}) == 1
    goes = trend([one.on_run for one in taken], times) if single else None
    say = Saying(units)
    return SeveralLaps(
        runs=list(dict.fromkeys(one.run_id for one in taken)),
        lap_s=_spread(found.lap_s),
        predicted_s=prediction.result.lap_time_s,
        possible_s=found.possible_s,
        sectors_s=[_spread(one) for one in found.sectors_s],
        best_sectors_s=found.best_sectors_s,
        corners=[
            _corner(one, alike[number].name, plan, say)
            for one, number, plan in zip(
                found.corners, found.best_of, prediction.driven.corners, strict=True
            )
        ]
        if found.corners
        else [],
        trend=None if goes is None else TrendOfLaps(**asdict(goes)),
        said=describe_together(found, goes, prediction.result.lap_time_s),
    )


def taken_laps(store: Store, run_ids: Sequence[int]) -> tuple[list[TakenLap], Prediction]:
    """Timed laps of runs on one circuit, and what was predicted for the last of these runs."""
    if not 1 <= len(run_ids) <= RUNS_MOST:
        raise InputRefused(
            [Fault("runs", f"{len(run_ids)} runs were chosen; 1 to {RUNS_MOST} can be compared")]
        )
    taken: list[TakenLap] = []
    prediction: Prediction | None = None
    circuit = ""
    for run_id in dict.fromkeys(run_ids):
        run, plan_id = read_run(store, run_id)
        if circuit and run.circuit != circuit:
            raise InputRefused([Fault("runs", f"{run.name} was driven on another circuit")])
        circuit = run.circuit
        plan = driven_on(store, run, plan_id)
        if plan is None:
            raise InputRefused([Fault("runs", f"the plan of {run.name} was deleted")])
        prediction = recall(plan, TRACE_POINTS)
        taken += [TakenLap(run_id, run, lap, on_run(run, lap)) for lap in timed_laps(run)]
    assert prediction is not None  # of one run at least
    return taken, prediction


def on_run(run: RunDocument, lap: RunLapDocument) -> int:
    """How many laps the vehicle has gone since it last left the pits, before this one."""
    stops = [one.number for one in run.laps if one.kind in ("stop", "out", "in")]
    before = [number for number in stops if number < lap.number]
    return lap.number - (before[-1] if before else 0) - (0 if before else 1)


def lost_s(corner: RunCornerDocument) -> float:
    """What a kept corner lost against the prediction, all parts together [s]."""
    return float(sum(corner.loss.model_dump().values()))


def _measured(one: TakenLap) -> MeasuredLap:
    return MeasuredLap(
        sectors_s=tuple(one.lap.sectors_s),
        corners=tuple(
            CornerOfLap(
                name=corner.name,
                lost_s=lost_s(corner),
                min_speed_ms=corner.min_speed_ms,
                brake_start_to_corner_m=corner.brake_start_to_corner_m,
                exit_speed_ms=corner.exit_speed_ms,
                full_throttle_at_m=corner.full_throttle_at_m,
                neither_s=corner.neither_s,
                gear=corner.gear,
            )
            for corner in one.lap.corners
        ),
    )


def _spread(one: Range) -> Spread:
    return Spread(best=one.best, median=one.median, spread=one.spread, count=one.count)


def _corner(one: CornerTogether, best: str, plan: CornerResult, say: Saying) -> CornerOverLaps:
    brake = one.brake_start_to_corner_m
    return CornerOverLaps(
        name=one.name,
        lost_s=_spread(one.lost_s),
        best_lap=best,
        min_speed_ms=_spread(one.min_speed_ms),
        plan_min_speed_ms=plan.min_speed_ms,
        brake_start_to_corner_m=None if brake is None else _spread(brake),
        plan_brake_start_to_corner_m=plan.brake_start_to_corner_m,
        exit_speed_ms=_spread(one.exit_speed_ms),
        gears=", ".join(
            f"{gear} ({laps})" if len(one.gears) > 1 else f"{gear}" for gear, laps in one.gears
        ),
        plan_gear=plan.gear,
        said=describe_corner_together(one, plan, say),
    )
