"""A plan with its setup put into effect: what the lap is driven with."""

from typing import TypeVar

from neapfrost.core.car.ballast import with_ballast
from neapfrost.core.car.compound import Compound, TyreState, tyre_state
from neapfrost.core.surface import DRY_TYRE_WETNESS_CURVE, wetness_grip
from neapfrost.formats.car_document import (
    CarDocument,
    CompoundDocument,
    GearSetDocument,
    SetupDocument,
    WingStep,
)
from neapfrost.formats.plan import PlanDocument

Named = TypeVar("Named", WingStep, GearSetDocument, CompoundDocument, SetupDocument)


def named(things: list[Named], name: str | None) -> Named | None:
    """The first thing of a name; None without one."""
    return next((thing for thing in things if name is not None and thing.name == name), None)


def in_effect(plan: PlanDocument) -> PlanDocument:
    """The plan with its setup's wing, gears, brakes, fuel, ballast and tyres in their places.

    The compound's factor goes into the track's grip, against the usual curve of a dry tyre in the
    wet. The plan itself where it has no setup.
    """
    setup = named(plan.car.setups, plan.setup)
    if setup is None:
        return plan if plan.setup is None else plan.model_copy(update={"setup": None})
    conditions = plan.conditions
    state = tyre_state_of(plan)
    if state is not None:
        usual = wetness_grip(conditions.wetness_pct)
        factor = conditions.grip_factor * state.all / usual
        conditions = conditions.model_copy(update={"grip_factor": factor})
    return plan.model_copy(
        update={
            "car": car_in_effect(plan.car, setup),
            "conditions": conditions,
            "setup": None,
        }
    )


def car_in_effect(car: CarDocument, setup: SetupDocument) -> CarDocument:
    """The car as a setup has it; ballast moves the weight distribution."""
    changes: dict[str, object] = {}
    wing = named(car.wings, setup.wing)
    if wing is not None:
        aero = wing.model_dump(exclude={"name"})
        changes["aero"] = car.aero.model_copy(update=aero)
    gears = named(car.gear_sets, setup.gear_set)
    if gears is not None:
        ratios = gears.model_dump(exclude={"name"})
        changes["gearbox"] = car.gearbox.model_copy(update=ratios)
    if setup.brake_front_fraction is not None or setup.brakes_ideal:
        share = {"front_fraction": setup.brake_front_fraction}
        changes["brakes"] = car.brakes.model_copy(update=share)
    if setup.fuel_kg is not None:
        changes["fuel_kg"] = setup.fuel_kg
    if setup.ballast_kg > 0.0:
        mass_kg, front = with_ballast(
            car.mass_kg,
            car.front_weight_fraction,
            setup.ballast_kg,
            setup.ballast_front_fraction,
        )
        changes |= {"mass_kg": mass_kg, "front_weight_fraction": front}
    return car.model_copy(update=changes)


def compound_of(plan: PlanDocument) -> CompoundDocument | None:
    """The compound that the plan's setup names; None without one."""
    setup = named(plan.car.setups, plan.setup)
    return named(plan.car.compounds, setup.compound) if setup is not None else None


def tyre_state_of(plan: PlanDocument) -> TyreState | None:
    """What the setup's compound makes of the grip now; None without a compound."""
    compound = compound_of(plan)
    if compound is None:
        return None
    air = plan.conditions
    return tyre_state(compound_record(compound), air.tyre_lap, air.track_temp_c, air.wetness_pct)


def compound_record(compound: CompoundDocument) -> Compound:
    """The core's compound."""
    return Compound(
        grip_factor=compound.grip_factor,
        warm_up=tuple(compound.warm_up),
        fade_share=compound.fade_pct / 100.0,
        window_c=(compound.window_low_c, compound.window_high_c),
        off_window_share=compound.off_window_pct / 100.0,
        wetness=DRY_TYRE_WETNESS_CURVE
        if compound.wetness is None
        else tuple((point.wetness_pct, point.grip_factor) for point in compound.wetness),
    )
