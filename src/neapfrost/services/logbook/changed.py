"""What changed since the run before, found from revisions and the record, and what it was worth."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import BaseModel

from neapfrost.core.driven.apart import RunsApart, runs_apart
from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import figure
from neapfrost.formats.json_merge import differences
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.run import RunDocument
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.logbook.kept import (
    driven_on,
    run_document,
    run_item,
    run_items,
    timed_laps,
)
from neapfrost.services.logbook.several import on_run
from neapfrost.services.plans.car_changes import car_changes
from neapfrost.services.plans.conflicts import told
from neapfrost.services.words.logbook import describe_changed
from neapfrost.store.database import Store, reading

Kind = Literal["car", "circuit", "conditions", "plan", "record"]

#: A change that the model gives less than this is not counted among those that matter [s].
MATTERS_S = 0.015


class RunChange(BaseModel):
    """One thing that changed, in words; `worth_s` is what the model gives it, null: nothing.

    `matters` says that it may have moved the clock.
    """

    kind: Kind
    said: str
    worth_s: float | None
    matters: bool


class ByTheClock(BaseModel):
    """What the clock said: this run's laps less those of the run before, and within what.

    `noise_s` is what chance alone makes of it in all but one case of a hundred.
    """

    change_s: float
    within_s: float
    noise_s: float
    pairs: int
    beyond_noise: bool


class Changed(BaseModel):
    """A run against the one before it: what changed, its worth, and what the clock said."""

    before_id: int | None
    before: str
    changes: list[RunChange]
    expected_s: float | None
    clock: ByTheClock | None
    in_short: str
    said: list[str]


@dataclass(frozen=True)
class _Driven:
    """A run and the plan it was driven on, with the fuel it really went out with."""

    id: int
    run: RunDocument
    plan: PlanDocument


def changed_since(store: Store, run_id: int) -> Changed:
    """What changed since the run before: of the same car on the same circuit. Raises NotThere."""
    now, before = _runs(store, run_id)
    if now is None or before is None:
        return Changed(
            before_id=None, before="", changes=[], expected_s=None, clock=None, in_short="",
            said=describe_changed(None, [], None, None),
        )  # fmt: skip
    changes = [*_modelled(before, now), *_recorded(before, now)]
    both = recall(now.plan, TRACE_POINTS).result.lap_time_s
    expected = both - recall(before.plan, TRACE_POINTS).result.lap_time_s
    clock = runs_apart(_times(before.run), _times(now.run))
    matter = [change.said for change in changes if change.matters]
    return Changed(
        before_id=before.id,
        before=before.run.name,
        changes=changes,
        expected_s=expected,
        clock=None if clock is None else _clock(clock),
        in_short=_in_short(matter, expected),
        said=describe_changed(before.run.name, matter, expected, clock),
    )


def _runs(store: Store, run_id: int) -> tuple[_Driven | None, _Driven | None]:
    """A run and the one before it, each with its plan; None where one is missing."""
    with reading(store) as session:
        item = run_item(session, run_id)
        earlier = [
            one
            for one in run_items(session)
            if (one.circuit, one.car) == (item.circuit, item.car)
            and (one.driven_at, one.id) < (item.driven_at, item.id)
        ]
        last = max(earlier, key=lambda one: (one.driven_at, one.id), default=None)
        found = [
            None if one is None else (one.id, run_document(session, one.id), one.plan_id)
            for one in (item, last)
        ]
    driven: list[_Driven | None] = []
    for one in found:
        plan = None if one is None else driven_on(store, one[1], one[2])
        if one is None or plan is None:
            driven.append(None)
            continue
        fuel = one[1].fuel_out_kg
        if fuel is not None:
            plan = plan.model_copy(update={"car": plan.car.model_copy(update={"fuel_kg": fuel})})
        driven.append(_Driven(one[0], one[1], plan))
    return driven[0], driven[1]


def _times(run: RunDocument) -> list[tuple[int, float]]:
    return [(on_run(run, lap), lap.lap_time_s or 0.0) for lap in timed_laps(run)]


def _modelled(before: _Driven, now: _Driven) -> list[RunChange]:
    """What differs of the plans, each put into the plan before alone."""
    old, new = before.plan, now.plan
    found: list[RunChange] = []
    fuel = {"fuel_kg": old.car.fuel_kg}
    car = new.car.model_copy(update=fuel)
    said = car_changes(
        old.model_copy(update={"setup": None, "conditions": new.conditions}),
        new.model_copy(update={"setup": None, "car": car}),
    )
    if said:
        found.append(_change("car", "; ".join(said), old, {"car": car}))
    if old.setup != new.setup:
        text = f"Setup {old.setup or 'none'} to {new.setup or 'none'}"
        found.append(_change("car", text, old, {"car": car, "setup": new.setup}))
    if old.car.fuel_kg != new.car.fuel_kg:
        fuelled = old.car.model_copy(update={"fuel_kg": new.car.fuel_kg})
        from_kg = figure(old.car.fuel_kg, "mass", unit=False)
        text = f"Fuel {from_kg} to {figure(new.car.fuel_kg, 'mass')}"
        found.append(_change("plan", text, old, {"car": fuelled}))
    found += _air(old, new)
    pair = [plan.circuit.model_dump(mode="json") for plan in (old, new)]
    if pair[0] != pair[1]:
        text = "; ".join(told(differences(pair[0], pair[1]))[:4])
        found.append(_change("circuit", f"Circuit: {text}", old, {"circuit": new.circuit}))
    for field, name in (("driver", "Driving"), ("line", "Line"), ("corners", "Corner overrides")):
        if getattr(old, field) != getattr(new, field):
            text = f"{name}: changed"
            found.append(_change("plan", text, old, {field: getattr(new, field)}))
    return found


def _air(old: PlanDocument, new: PlanDocument) -> list[RunChange]:
    """Figures of the conditions, each alone; the wind is one."""
    pair = [plan.conditions.model_dump(mode="json", exclude={"name"}) for plan in (old, new)]
    found = []
    wind = ("wind_speed_ms", "wind_from_deg")
    fields = [field for field in pair[0] if pair[0][field] != pair[1][field]]
    groups: list[tuple[str, ...]] = [(field,) for field in fields if field not in wind]
    if any(field in wind for field in fields):
        groups.append(wind)
    for group in groups:
        text = "; ".join(
            told(
                differences(
                    {"conditions": {f: pair[0][f] for f in group}},
                    {"conditions": {f: pair[1][f] for f in group}},
                )
            )
        )
        air = old.conditions.model_copy(update={f: pair[1][f] for f in group})
        found.append(_change("conditions", text, old, {"conditions": air}))
    return found


def _change(kind: Kind, said: str, old: PlanDocument, update: dict[str, Any]) -> RunChange:
    own = recall(old, TRACE_POINTS).result.lap_time_s
    try:
        worth: float | None = (
            recall(old.model_copy(update=update), TRACE_POINTS).result.lap_time_s - own
        )
    except InputRefused:
        worth = None
    matters = worth is None or abs(worth) >= MATTERS_S
    return RunChange(kind=kind, said=said[:400], worth_s=worth, matters=matters)


def _recorded(before: _Driven, now: _Driven) -> list[RunChange]:
    """What the model does not compute: the record, the tyres, and who drove."""
    pairs: list[tuple[str, str, str]] = []
    old, new = (_record(one) for one in (before, now))
    pairs += [(name, old.get(name, ""), new.get(name, "")) for name in dict.fromkeys((*old, *new))]
    tyres = [one.run.tyres for one in (before, now)]
    pairs.append(("Tyres", tyres[0].set, tyres[1].set))
    pairs.append(("Driver", before.run.driver, now.run.driver))
    return [
        RunChange(
            kind="record",
            said=f"{name}: {was or 'not recorded'} to {is_now or 'not recorded'}",
            worth_s=None,
            matters=True,
        )
        for name, was, is_now in pairs
        if was != is_now and (was or is_now)
    ]


def _record(one: _Driven) -> dict[str, str]:
    setup = next((s for s in one.plan.car.setups if s.name == one.run.setup), None)
    return {**(setup.record if setup is not None else {}), **one.run.record}


def _clock(clock: RunsApart) -> ByTheClock:
    return ByTheClock(
        change_s=clock.change_s,
        within_s=clock.within_s,
        noise_s=clock.noise_s,
        pairs=clock.pairs,
        beyond_noise=clock.beyond_noise,
    )


def _in_short(matter: Sequence[str], expected_s: float) -> str:
    """What changed, for a list of runs, with what it should be worth."""
    if not matter:
        return "nothing changed"
    worth = f" ({expected_s:+.2f} s expected)" if abs(expected_s) >= MATTERS_S else ""
    return f"{'; '.join(matter)[:200]}{worth}"
