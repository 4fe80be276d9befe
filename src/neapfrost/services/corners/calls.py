"""The calls at one corner of a plan, with a reason in one sentence each."""

from functools import lru_cache
from typing import Literal

from pydantic import BaseModel

from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.studies.braking import (
    GENTLE_SHARE,
    STRAIGHT_EXPONENT,
    TRAIL_EXPONENT,
    BrakingCall,
    braking_call,
)
from neapfrost.core.studies.flat import FlatCall, flat_call
from neapfrost.core.studies.gear import GearCall, gear_call
from neapfrost.core.studies.hold import HoldCall, hold_call
from neapfrost.core.studies.stretch import stretch_after
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import CornerResultPart
from neapfrost.services.laps.orders import ASKED
from neapfrost.services.laps.predict import Prediction, recall
from neapfrost.services.roads.wishes import number_of
from neapfrost.services.words.calls import (
    braking_reason,
    braking_shape,
    describe_road,
    describe_threshold,
    flat_reason,
    gear_reason,
    hold_reason,
    into_next,
)
from neapfrost.services.words.corners import sentence_for
from neapfrost.services.words.saying import Saying


class DownshiftPoint(BaseModel):
    """A downshift and how far before the slowest point it falls."""

    to_gear: int
    rpm_after: float
    before_slowest_m: float


class GearOptionPart(BaseModel):
    """A gear of the corner; `cost_s` against the quickest, null where it is not reached."""

    gear: int
    rpm: float
    reached: bool
    cost_s: float | None
    against_plan_s: float | None
    schools: list[str]
    downshifts: list[DownshiftPoint]


class GearPart(BaseModel):
    """Which gear to drive the corner in."""

    planned: int
    quickest: int
    reason: str
    options: list[GearOptionPart]


class HoldOptionPart(BaseModel):
    """The stretch after the corner with gears up to one."""

    top_gear: int
    upshifts: int
    limiter_s: float
    lift_speed_ms: float
    cost_s: float


class HoldPart(BaseModel):
    """Take the next gear on the stretch after the corner, or hold the limiter."""

    planned_top: int
    quickest_top: int
    taken: int
    length_m: float
    break_even_shift_s: float | None
    paid_back_m: float | None
    reason: str
    options: list[HoldOptionPart]


class ThresholdPart(BaseModel):
    """A figure at which the answer changes, in words as well."""

    figure: str
    value: float
    action: str
    said: str


class FlatPart(BaseModel):
    """Flat, lift or brake, and what is left."""

    action: str
    grip_left_pct: float | None
    overspeed_ms: float | None
    tailwind_ms: float
    reason: str
    thresholds: list[ThresholdPart]


class EffortPart(BaseModel):
    """Effort along the zone: metres from the brake start, percent, deceleration, axle."""

    at_m: float
    effort_pct: float
    decel_g: float
    axle: str


class SchoolOrder(BaseModel):
    """What to ask for at the corner so that it is braked by a school."""

    field: Literal["entry_exponent", "braking"]
    value: float


#: Each school as an order; the plan's own braking is none.
SCHOOL_ORDERS = {
    "straight": SchoolOrder(field="entry_exponent", value=STRAIGHT_EXPONENT),
    "trail": SchoolOrder(field="entry_exponent", value=TRAIL_EXPONENT),
    "gentle": SchoolOrder(field="braking", value=GENTLE_SHARE),
}


class BrakingOptionPart(BaseModel):
    """One school of braking, priced against the plan; `order` asks for it, null for the plan's."""

    school: str
    order: SchoolOrder | None
    cost_s: float
    brake_start_to_corner_m: float
    earlier_m: float
    braking_distance_m: float
    peak_effort_pct: float
    mean_effort_pct: float
    turn_in_m: float
    turn_in_effort_pct: float | None
    release_m: float
    reapplied_m: list[float]
    effort: list[EffortPart]


class BrakingPart(BaseModel):
    """How to brake for the corner."""

    shape: str
    reason: str
    limiting_axle: str
    grade_m: float
    crest_m: float
    road: str
    options: list[BrakingOptionPart]


class OrderPrice(BaseModel):
    """Something asked for at the corner, and what the lap pays for it (negative: gains)."""

    field: str
    label: str
    value: float
    cost_s: float | None


class CornerCalls(BaseModel):
    """Everything to be decided at one corner; null where there is nothing to decide."""

    corner: int
    name: str
    sentence: str
    into_next: str
    gear: GearPart | None
    hold: HoldPart | None
    flat: FlatPart
    braking: BrakingPart | None
    orders: list[OrderPrice]


def corner_calls(plan: PlanDocument, corner: int, units: Units = "metric") -> CornerCalls:
    """The calls at a corner (0 is the first) of a plan.

    Raises InputRefused for a corner that the lap does not have, and as `recall` does.
    """
    return _called(plan.model_dump_json(), corner, units)


def known_corner(prediction: Prediction, corner: int) -> CornerResultPart:
    """A corner of a lap by its number. Raises InputRefused where there is none."""
    corners = prediction.result.corners
    if not 0 <= corner < len(corners):
        raise InputRefused(
            [Fault("corner", f"{corner} was given; this lap has {len(corners)} corners, from 0")]
        )
    return corners[corner]


@lru_cache(maxsize=128)
def _called(plan_json: str, corner: int, units: Units) -> CornerCalls:
    plan = PlanDocument.model_validate_json(plan_json)
    prediction = recall(plan, None)
    driven, say = prediction.driven, Saying(units)
    result = known_corner(prediction, corner)
    gear = gear_call(driven, corner)
    hold = hold_call(driven, corner)
    braking = braking_call(driven, corner)
    return CornerCalls(
        corner=corner,
        name=result.name,
        sentence=sentence_for(result, say, driven.lap.path.ring),
        into_next=into_next(prediction.result.corners, corner, stretch_after(driven, corner), say),
        gear=None if gear is None else _gear_part(gear, driven, result),
        hold=None if hold is None else _hold_part(hold, say, plan),
        flat=_flat_part(flat_call(driven, corner), say),
        braking=None if braking is None else _braking_part(braking, say),
        orders=_order_prices(plan, prediction, corner),
    )


def _gear_part(call: GearCall, driven: DrivenLap, result: CornerResultPart) -> GearPart:
    ring = driven.lap.path.ring

    reached = [option for option in call.options if option.reached]
    planned_s = next((o.cost_s for o in reached if o.gear == call.planned), None)
    options = [
        GearOptionPart(
            gear=option.gear,
            rpm=option.rpm,
            reached=option.reached,
            cost_s=option.cost_s,
            against_plan_s=(
                None if option.cost_s is None or planned_s is None else option.cost_s - planned_s
            ),
            schools=list(option.schools),
            downshifts=[
                DownshiftPoint(
                    to_gear=shift.to_gear,
                    rpm_after=shift.rpm_after,
                    before_slowest_m=ring.ahead(shift.at_m, result.min_speed_at_m),
                )
                for shift in option.downshifts
            ],
        )
        for option in call.options
    ]
    return GearPart(
        planned=call.planned, quickest=call.quickest, reason=gear_reason(call), options=options
    )


def _hold_part(call: HoldCall, say: Saying, plan: PlanDocument) -> HoldPart:
    return HoldPart(
        planned_top=call.planned_top,
        quickest_top=call.quickest_top,
        taken=call.taken,
        length_m=call.lift_m - call.from_m,
        break_even_shift_s=call.break_even_shift_s,
        paid_back_m=call.paid_back_m,
        reason=hold_reason(call, plan.car.gearbox.upshift_s, say),
        options=[HoldOptionPart(**vars(option)) for option in call.options],
    )


def _flat_part(call: FlatCall, say: Saying) -> FlatPart:
    return FlatPart(
        action=call.action,
        grip_left_pct=call.grip_left_pct,
        overspeed_ms=call.overspeed_ms,
        tailwind_ms=call.tailwind_ms,
        reason=flat_reason(call, say),
        thresholds=[
            ThresholdPart(
                figure=one.figure,
                value=one.value,
                action=one.action,
                said=describe_threshold(one, say),
            )
            for one in call.thresholds
        ],
    )


def _braking_part(call: BrakingCall, say: Saying) -> BrakingPart:
    planned = call.options[0]
    options = [
        BrakingOptionPart(
            **{
                **vars(option),
                "earlier_m": option.brake_start_to_corner_m - planned.brake_start_to_corner_m,
                "order": SCHOOL_ORDERS.get(option.school),
                "reapplied_m": list(option.reapplied_m),
                "effort": [
                    EffortPart(
                        at_m=point.at_m,
                        effort_pct=point.effort_pct,
                        decel_g=point.decel_ms2 / STANDARD_GRAVITY_MS2,
                        axle=point.axle,
                    )
                    for point in option.effort
                ],
            }
        )
        for option in call.options
    ]
    hardest = [point for point in planned.effort if point.axle_use >= 0.97]
    axles = [point.axle for point in hardest or planned.effort]
    limiting = max(("front", "rear"), key=axles.count)
    return BrakingPart(
        shape=braking_shape(call, say),
        reason=braking_reason(call),
        limiting_axle=limiting if hardest else "none",
        grade_m=call.grade_m,
        crest_m=call.crest_m,
        road=describe_road(call, say),
        options=options,
    )


def _order_prices(plan: PlanDocument, prediction: Prediction, corner: int) -> list[OrderPrice]:
    names = [one.name for one in prediction.result.corners]
    prices = []
    for index, order in enumerate(plan.corners):
        if number_of(order.corner, order.name, names) != corner:
            continue
        for field, label in ASKED.items():
            value = getattr(order, field)
            if value is None:
                continue
            without = list(plan.corners)
            without[index] = order.model_copy(update={field: None})
            try:
                free = recall(plan.model_copy(update={"corners": without}), None)
                cost = prediction.result.lap_time_s - free.result.lap_time_s
            except InputRefused:
                cost = None
            prices.append(OrderPrice(field=field, label=label, value=float(value), cost_s=cost))
    return prices
