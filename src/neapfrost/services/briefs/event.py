"""An event: the plans of one circuit side by side, what differs between them, and why."""

from collections.abc import Sequence

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.escaping import markdown_table, markdown_text, sheet_text
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import named
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.workbench import LINE_NAMES
from neapfrost.services.words.cautions import CAUTIONS
from neapfrost.services.words.corners import corner_words
from neapfrost.services.words.saying import Saying, gear_word
from neapfrost.store.database import Store, reading
from neapfrost.store.items import get_plan, list_items
from neapfrost.store.tables import Plan

PLANS_MOST = 6
#: What of a plan may be the reason for another lap, and how it is put into the first one.
REASONS = ("Car and setup", "Fuel", "Conditions", "Line", "Driver and corner overrides")


class EventPlan(BaseModel):
    """A plan of the event: what it stands on, in words, and its lap."""

    plan_id: int
    name: str
    facts: list[str]
    lap_time_s: float
    sector_times_s: list[float]
    top_speed_ms: float
    fuel_litres: float


class EventCall(BaseModel):
    """What a plan does at a corner; `differs` from the first plan in place, gear or action."""

    braking: str
    gear: str
    min_speed_ms: float
    action: str
    brake_moved_m: float | None
    differs: bool


class EventCorner(BaseModel):
    """One corner in every plan, in the order of the plans."""

    name: str
    calls: list[EventCall]


class Reason(BaseModel):
    """What one part of another plan, put into the first alone, does to its lap; null: no lap."""

    part: str
    lap_s: float | None


class EventReasons(BaseModel):
    """Why another plan's lap is otherwise: each part alone, and all of them together."""

    plan_id: int
    reasons: list[Reason]
    together_s: float


class Event(BaseModel):
    """Plans of one circuit side by side, the first the one they are set against."""

    circuit: str
    fact_names: list[str]
    plans: list[EventPlan]
    corners: list[EventCorner]
    reasons: list[EventReasons]
    cautions: list[str]


class OtherPlan(BaseModel):
    """A plan on the same circuit, and whether it is of the same car."""

    plan_id: int
    name: str
    same_car: bool


FACTS = ("Car", "Setup", "Wing", "Gears", "Tyres", "Fuel", "Conditions", "Line")


def others_of(store: Store, plan_id: int) -> list[OtherPlan]:
    """Kept plans on the same circuit as a plan, those of its car first. Raises NotThere."""
    with reading(store) as session:
        own = get_plan(session, plan_id)
        found = [
            OtherPlan(plan_id=item.id, name=item.name, same_car=item.car_id == own.car_id)
            for item in list_items(session, "plan")
            if isinstance(item, Plan) and item.circuit_id == own.circuit_id and item.id != plan_id
        ]
    return sorted(found, key=lambda one: (not one.same_car, one.name))


def event(store: Store, plan_id: int, others: Sequence[int], units: Units = "metric") -> Event:
    """A plan beside others on its circuit.

    Raises NotThere, and InputRefused for a plan on another circuit, too many, or one without a lap.
    """
    wanted = [one for one in dict.fromkeys(others) if one != plan_id]
    if len(wanted) >= PLANS_MOST:
        raise InputRefused(
            [
                Fault(
                    "with",
                    f"{len(wanted)} were given; at most {PLANS_MOST - 1} plans can be compared "
                    "with this one",
                )
            ]
        )
    beside = {one.plan_id for one in others_of(store, plan_id)}
    strange = [one for one in wanted if one not in beside]
    if strange:
        raise InputRefused(
            [Fault("with", f"plan {strange[0]} was given; it is on another circuit")]
        )
    documents = [kept_plan(store, one) for one in (plan_id, *wanted)]
    return _event([plan_id, *wanted], documents, units)


def _event(numbers: Sequence[int], documents: Sequence[PlanDocument], units: Units) -> Event:
    say = Saying(units)
    laps = [recall(document, TRACE_POINTS) for document in documents]
    return Event(
        circuit=documents[0].circuit.name,
        fact_names=list(FACTS),
        plans=[
            EventPlan(
                plan_id=number,
                name=document.name,
                facts=_facts(document, say),
                lap_time_s=lap.result.lap_time_s,
                sector_times_s=lap.result.sector_times_s,
                top_speed_ms=lap.result.top_speed_ms,
                fuel_litres=lap.result.fuel_litres,
            )
            for number, document, lap in zip(numbers, documents, laps, strict=True)
        ],
        corners=_corners(laps, say),
        reasons=[
            _reasons(number, documents[0], document, laps[0], lap)
            for number, document, lap in list(zip(numbers, documents, laps, strict=True))[1:]
        ],
        cautions=list(CAUTIONS),
    )


def _facts(plan: PlanDocument, say: Saying) -> list[str]:
    """What a plan stands on, in the order of FACTS."""
    setup = named(plan.car.setups, plan.setup)
    air = plan.conditions
    line = "as on the circuit sheet"
    if plan.circuit.segments_describe == "road":
        line = LINE_NAMES[plan.line.kind if plan.line is not None else "centre"]
    fuel = plan.car.fuel_kg if setup is None or setup.fuel_kg is None else setup.fuel_kg
    return [
        plan.car.name,
        plan.setup or "none",
        (setup.wing if setup else None) or "as on the sheet",
        (setup.gear_set if setup else None) or "as on the sheet",
        (setup.compound if setup else None) or "as on the sheet",
        say.figure(fuel, "mass", 1),
        f"{air.name}: {air.wetness_pct:g} % wet, wind {say.wind(air.wind_speed_ms)} from "
        f"{air.wind_from_deg:.0f}°",
        line,
    ]


def _corners(laps: Sequence[Prediction], say: Saying) -> list[EventCorner]:
    """Corners of the first plan in every plan, by their names."""
    found = []
    for first in laps[0].result.corners:
        calls = []
        for lap in laps:
            corner = next((one for one in lap.result.corners if one.name == first.name), None)
            if corner is None:
                continue
            words = corner_words(corner, say)
            both = (corner.brake_start_to_corner_m, first.brake_start_to_corner_m)
            moved = None if None in both else (both[0] or 0.0) - (both[1] or 0.0)
            same = (corner.action, corner.gear) == (first.action, first.gear)
            calls.append(
                EventCall(
                    braking=words.place or words.action,
                    gear=gear_word(corner.gear),
                    min_speed_ms=corner.min_speed_ms,
                    action=corner.action,
                    brake_moved_m=moved,
                    differs=not same or (moved is not None and not say.is_nothing(moved)),
                )
            )
        if len(calls) == len(laps):
            found.append(EventCorner(name=first.name, calls=calls))
    return found


def _reasons(
    number: int, first: PlanDocument, other: PlanDocument, base: Prediction, lap: Prediction
) -> EventReasons:
    """Each part of another plan put into the first one alone."""
    own = base.result.lap_time_s
    car = other.car.model_copy(update={"fuel_kg": first.car.fuel_kg})
    fuelled = first.car.model_copy(update={"fuel_kg": other.car.fuel_kg})
    put_in: dict[str, dict[str, object]] = {
        "Car and setup": {"car": car, "setup": other.setup},
        "Fuel": {"car": fuelled},
        "Conditions": {"conditions": other.conditions},
        "Line": {"line": other.line},
        "Driver and corner overrides": {"driver": other.driver, "corners": other.corners},
    }
    reasons = []
    for part in REASONS:
        varied = first.model_copy(update=put_in[part])
        if varied == first:
            continue
        try:
            lap_s: float | None = recall(varied, TRACE_POINTS).result.lap_time_s - own
        except InputRefused:
            lap_s = None
        reasons.append(Reason(part=part, lap_s=lap_s))
    return EventReasons(plan_id=number, reasons=reasons, together_s=lap.result.lap_time_s - own)


def event_csv(found: Event, units: Units = "metric") -> str:
    """The event as a sheet: what each plan stands on, then a row for each corner."""
    say = Saying(units)
    rows: list[list[object]] = [["", *(plan.name for plan in found.plans)]]
    rows += [
        [name, *(plan.facts[n] for plan in found.plans)] for n, name in enumerate(found.fact_names)
    ]
    rows += [
        ["Lap [s]", *(plan.lap_time_s for plan in found.plans)],
        [f"Top speed [{say.speed_unit}]", *(say.number(p.top_speed_ms, 1) for p in found.plans)],
        [
            f"Fuel [{say.unit('volume')}]",
            *(
                "" if p.fuel_litres is None else say.plain(p.fuel_litres, "volume", 3)
                for p in found.plans
            ),
        ],
    ]
    for corner in found.corners:
        rows.append([f"{corner.name}: braking", *(call.braking for call in corner.calls)])
        rows.append([f"{corner.name}: gear", *(call.gear for call in corner.calls)])
        rows.append(
            [
                f"{corner.name}: minimum [{say.speed_unit}]",
                *(say.number(call.min_speed_ms) for call in corner.calls),
            ]
        )
    return sheet_text(rows)


def event_markdown(found: Event, units: Units = "metric") -> str:
    """One brief for all plans of the event."""
    say = Saying(units)
    plans = [plan.name for plan in found.plans]
    facts = [
        [name, *(plan.facts[number] for plan in found.plans)]
        for number, name in enumerate(found.fact_names)
    ]
    laps = ["Lap", *(f"{plan.lap_time_s:.3f} s" for plan in found.plans)]
    corners = []
    for corner in found.corners:
        said = []
        for call in corner.calls:
            mark = "→ " if call.differs else ""
            said.append(f"{mark}{call.braking}; {call.gear}; {say.speed(call.min_speed_ms)}")
        corners.append([corner.name, *said])
    lines = [f"# {markdown_text(found.circuit)}", ""]
    lines += [*markdown_table(["", *plans], [*facts, laps]), ""]
    lines += markdown_table(["Corner", *plans], corners)
    lines += ["", *(f"- {markdown_text(caution)}" for caution in found.cautions), ""]
    return "\n".join(lines)
