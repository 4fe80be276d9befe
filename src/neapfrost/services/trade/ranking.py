"""What is worth most: every figure stepped by its own step, ranked, and who pays for whom."""

from collections.abc import Sequence
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.trade.doubt import laps_to_see, order_is_certain, spread
from neapfrost.core.units import KMH_PER_MS, Units
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.figures.figure import Quantity
from neapfrost.services.laps.predict import recall
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.trade.axes import Axis, Settings, Value, axes_of, put
from neapfrost.services.trade.laps import Basis, WeighedPlan
from neapfrost.services.trade.parts import StretchName, stretch_names
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.trade import describe_next_change, describe_paid, describe_step

#: What a plan is asked about without being told: figures with one step each.
USUAL_STEPS: dict[str, float] = {
    "track_grip": 0.01,
    "lift_area_m2": 0.05,
    "drag_area_m2": 0.02,
    "mass_kg": 5.0,
    "fuel_kg": 5.0,
    "final_drive": 0.05,
    "brake_front_fraction": 0.005,
    "aero_front_fraction": 0.005,
    "rev_limit_rpm": 50.0,
    "upshift_s": 0.01,
    "wind_speed_ms": 1.0,
    "air_temp_c": 1.0,
    "pressure_hpa": 5.0,
    "humidity_pct": 10.0,
    "wetness_pct": 5.0,
    "braking_use": 0.01,
    "cornering_use": 0.01,
    "traction_use": 0.01,
}
#: Of the grip as much as is worth so much minimum speed on average [m/s]: 1 km/h.
GRIP_WORTH_MS = 1.0 / KMH_PER_MS
#: How much the grip is raised to see what it is worth.
GRIP_TRIED = 1.01
#: Of the power, which no step in kW fits on every vehicle.
POWER_SHARE = 0.01
#: What somebody can set before the next run; everything else is built, given, or the driver's.
SETTABLE = {"wing", "gear_set", "compound", "final_drive", "brake_front_fraction", "fuel_kg"}
#: Laps of a driver scatter by so much where nobody says otherwise [s].
USUAL_SCATTER_S = 0.2


class RankRequest(BaseModel):
    """Steps by the axes' names, in place of the usual ones; and how far laps scatter [s]."""

    model_config = ConfigDict(extra="forbid")

    steps: dict[Key, Annotated[float, Field(gt=0)]] = {}
    scatter_s: Annotated[float | None, Field(gt=0, le=10)] = None

    @property
    def scatter(self) -> float:
        """How far laps scatter, as told or as usual [s]."""
        return USUAL_SCATTER_S if self.scatter_s is None else self.scatter_s


class RankStep(BaseModel):
    """A figure that a ranking steps, and by how much without being told."""

    axis: str
    label: str
    unit: str
    quantity: Quantity
    decimals: int
    step: float


class RankRow(BaseModel):
    """One figure's better step: what is changed, what it brings, and who pays for whom.

    `gain_s` is what the better way gains (negative where both ways lose), with its band;
    `other_s` the other way's change of the lap, null where there is none. `as_sure` says that this
    row's gain is larger than the next one's in nine of ten cases.
    """

    axis: str
    label: str
    said: str
    value: Value
    step: float | None
    settable: bool
    gain_s: float
    gain_band: Band | None = None
    other_s: float | None
    stretches_s: list[float]
    paid: str
    laps_to_see: int | None
    sure: bool | None = None


class Ranking(BaseModel):
    """Rows by what their step gains, the most first; `said` names the next single change."""

    present_s: float
    scatter_s: float
    stretches: list[StretchName]
    rows: list[RankRow]
    said: list[str] = []


class Step(BaseModel):
    """A way of changing one thing by one step."""

    axis: Axis
    value: Value
    step: float | None

    @property
    def settings(self) -> Settings:
        """What is put where."""
        return ((self.axis.name, self.value),)


def steps_of(plan: PlanDocument, wanted: RankRequest) -> list[Step]:
    """Every step to be driven, both ways. Raises InputRefused for a step of nothing known."""
    axes = {axis.name: axis for axis in axes_of(plan)}
    unknown = [name for name in wanted.steps if name not in axes or axes[name].choices]
    if unknown:
        raise InputRefused(
            [Fault(f"steps.{name}", "no figure with a step has this name") for name in unknown]
        )
    found = []
    for axis in axes.values():
        if axis.choices and axis.name != "setup":
            found += _choice_steps(axis)
        step = wanted.steps.get(axis.name, _usual_step(plan, axis))
        if step is None or axis.present is None or axis.choices:
            continue
        for way in (1.0, -1.0):
            value = round(axis.present + way * step, 9)
            if axis.name not in wanted.steps and not axis.low <= value <= axis.high:
                continue
            found.append(Step(axis=axis, value=value, step=way * step))
    return found


def rank_steps(plan: PlanDocument) -> list[RankStep]:
    """The figures that a ranking steps, with their usual steps."""
    found = []
    for axis in axes_of(plan):
        step = _usual_step(plan, axis)
        if step is not None and axis.present is not None:
            found.append(
                RankStep(
                    axis=axis.name,
                    label=axis.label,
                    unit=axis.unit,
                    quantity=axis.quantity,
                    decimals=axis.decimals,
                    step=round(step, 4),
                )
            )
    return found


def _choice_steps(axis: Axis) -> list[Step]:
    """Of what is chosen the neighbours in the car's own list; all of them where none is chosen."""
    if axis.chosen not in axis.choices:
        return [Step(axis=axis, value=name, step=None) for name in axis.choices]
    number = axis.choices.index(axis.chosen)
    near = axis.choices[max(number - 1, 0) : number + 2] if axis.name == "wing" else axis.choices
    return [Step(axis=axis, value=name, step=None) for name in near if name != axis.chosen]


def _usual_step(plan: PlanDocument, axis: Axis) -> float | None:
    if axis.name == "peak_power_kw" and axis.present is not None:
        return POWER_SHARE * axis.present
    if axis.name == "grip" and axis.present is not None:
        return _grip_worth_a_speed(plan, axis.present)
    return USUAL_STEPS.get(axis.name)


def _grip_worth_a_speed(plan: PlanDocument, grip: float) -> float | None:
    """The friction that is worth 1 km/h of minimum speed, on average over braked corners.

    None where the plan has no lap, or nothing is braked for.
    """
    try:
        own, more = (
            recall(put(plan, (("grip", grip * factor),)), None).result.corners
            for factor in (1.0, GRIP_TRIED)
        )
    except InputRefused:
        return None
    gained = [
        after.min_speed_ms - before.min_speed_ms
        for before, after in zip(own, more, strict=True)
        if before.action == after.action == "brake"
    ]
    if not gained or sum(gained) <= 0.0:
        return None
    return round((GRIP_TRIED - 1.0) * grip * GRIP_WORTH_MS * len(gained) / sum(gained), 4)


def ranked(
    base: Basis,
    present: WeighedPlan,
    driven: Sequence[tuple[Step, WeighedPlan | str]],
    wanted: RankRequest,
    units: Units,
    draws: tuple[Floats, Floats] | None = None,
) -> Ranking:
    """Steps that were driven, ranked; `draws` are their times (d, k) and the plan's own (k,)."""
    names = stretch_names(base)
    say = Saying(units)
    best: dict[str, tuple[int, float]] = {}
    changes: dict[str, list[tuple[int, float]]] = {}
    for number, (step, lap) in enumerate(driven):
        if isinstance(lap, str):
            continue
        change = lap.lap.lap_time_s - present.lap.lap_time_s
        changes.setdefault(step.axis.name, []).append((number, change))
        if step.axis.name not in best or change < best[step.axis.name][1]:
            best[step.axis.name] = (number, change)
    rows: list[tuple[RankRow, Floats | None]] = []
    for name, (number, change) in best.items():
        step, lap = driven[number]
        assert isinstance(lap, WeighedPlan)  # as all that are ranked
        others = [other for index, other in changes[name] if index != number]
        stretches = (lap.lap.stretches_s - present.lap.stretches_s).tolist()
        drawn = None if draws is None else draws[1] - draws[0][number]
        found = None if draws is None else spread(draws[0][number], draws[1])
        rows.append(
            (
                RankRow(
                    axis=name,
                    label=step.axis.label,
                    said=_describe_step(step, wanted, say),
                    value=step.value,
                    step=step.step,
                    settable=name in SETTABLE,
                    gain_s=-change,
                    gain_band=None
                    if found is None
                    else Band(low=-change - found.change_s, high=-change + found.change_s),
                    other_s=min(others) if others else None,
                    stretches_s=stretches,
                    paid=describe_paid([(one.label, one.straight) for one in names], stretches),
                    laps_to_see=laps_to_see(-change, wanted.scatter),
                ),
                drawn,
            )
        )
    rows.sort(key=lambda one: -one[0].gain_s)
    told = [
        row
        if drawn is None or index + 1 == len(rows) or rows[index + 1][1] is None
        else row.model_copy(
            update={"sure": order_is_certain(drawn, np.asarray(rows[index + 1][1]))}
        )
        for index, (row, drawn) in enumerate(rows)
    ]
    return Ranking(
        present_s=present.lap.lap_time_s,
        scatter_s=wanted.scatter,
        stretches=names,
        rows=told,
        said=_said(told, wanted.scatter),
    )


def _describe_step(step: Step, wanted: RankRequest, say: Saying) -> str:
    said = describe_step(step.axis, step.value, step.step, say)
    if step.axis.name == "grip" and "grip" not in wanted.steps:
        return f"{said}, {say.speed(GRIP_WORTH_MS, 1)}"
    return said


def _said(rows: Sequence[RankRow], scatter_s: float) -> list[str]:
    """The next single change to try, what it should bring, and how long it takes to see it."""
    settable = [row for row in rows if row.settable]
    if not settable:
        return []
    best = settable[0]
    return [
        describe_next_change(best.said, best.gain_s, best.gain_band, best.laps_to_see, scatter_s)
    ]


def rank_course(plan: PlanDocument, wanted: RankRequest, units: Units = "metric") -> Course:
    """How every figure is stepped. Raises InputRefused for a step of nothing known."""
    steps = steps_of(plan, wanted)

    def drive(run: Run) -> None:
        base, present = run.present()
        laps: dict[int, WeighedPlan | str] = {}
        asked = [(number, step.settings) for number, step in enumerate(steps)]
        for index, lap in run.laps(asked):
            laps[index] = lap
            driven = [(steps[n], one) for n, one in sorted(laps.items())]
            run.count(ranking=ranked(base, present, driven, wanted, units))
        rows = run.drawn([(-1, ()), *asked])
        draws = (np.array([rows[n] for n in range(len(steps))]), rows[-1])
        driven = [(steps[n], laps[n]) for n in range(len(steps))]
        run.tell(ranking=ranked(base, present, driven, wanted, units, draws))

    return Course(2 * len(steps) + 1, drive)
