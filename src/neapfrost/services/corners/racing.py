"""Racing or qualifying: a plan's corners with race fuel, worn tyres, close behind another."""

from functools import lru_cache

from pydantic import BaseModel

from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.studies.racing import RaceState, racing_laps
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.formats.result import Action
from neapfrost.services.laps.predict import recall
from neapfrost.services.words.corners import racing_braking, speed_moved
from neapfrost.services.words.saying import Saying

#: Fuel for a race where the car has no stated tank: so much more than on board [kg].
MORE_FUEL_KG = 30.0


class RacingCorner(BaseModel):
    """A corner in one state of the race; differences against the plan, earlier is positive."""

    action: Action
    gear: int
    min_speed_ms: float
    slower_ms: float
    brake_earlier_m: float | None
    braking_said: str
    speed_said: str


class RacingState(BaseModel):
    """A lap in one state; null corners where no lap is possible."""

    state: str
    label: str
    lap_s: float | None
    corners: list[RacingCorner] | None


class Racing(BaseModel):
    """The plan's lap in the states of a race: fuel, tyres, behind another, all together."""

    fuel_kg: float
    grip_left_pct: float
    downforce_left_pct: float
    drag_left_pct: float
    states: list[RacingState]


def racing(plan: PlanDocument, units: Units = "metric") -> Racing:
    """What a race changes at every corner of a plan. Raises as `recall` does."""
    return _racing(plan.model_dump_json(), units)


@lru_cache(maxsize=32)
def _racing(plan_json: str, units: Units) -> Racing:
    plan = PlanDocument.model_validate_json(plan_json)
    prediction = recall(plan, None)
    driven = prediction.driven
    car, race = in_effect(plan).car, plan.race
    fuel = race.fuel_kg
    if fuel is None:
        fuel = car.fuel_capacity_kg or car.fuel_kg + MORE_FUEL_KG
    laps = racing_laps(
        driven,
        RaceState(
            fuel_kg=fuel,
            grip_left=race.grip_left_pct / 100.0,
            downforce_left=race.downforce_left_pct / 100.0,
            drag_left=race.drag_left_pct / 100.0,
        ),
    )
    states = (
        ("fuel", "race fuel", laps.fuel),
        ("tyres", "worn tyres", laps.tyres),
        ("behind", "close behind", laps.behind),
        ("together", "all three", laps.together),
    )
    return Racing(
        fuel_kg=fuel,
        grip_left_pct=race.grip_left_pct,
        downforce_left_pct=race.downforce_left_pct,
        drag_left_pct=race.drag_left_pct,
        states=[
            RacingState(
                state=state,
                label=label,
                lap_s=None if lap is None else lap.lap.lap_time_s - driven.lap.lap_time_s,
                corners=None if lap is None else _corners(lap, driven, Saying(units)),
            )
            for state, label, lap in states
        ],
    )


def _corners(lap: DrivenLap, plan: DrivenLap, say: Saying) -> list[RacingCorner]:
    found = []
    for now, before in zip(lap.corners, plan.corners, strict=True):
        both = (
            now.brake_start_to_corner_m is not None and before.brake_start_to_corner_m is not None
        )
        earlier = (
            (now.brake_start_to_corner_m or 0.0) - (before.brake_start_to_corner_m or 0.0)
            if both
            else None
        )
        found.append(
            RacingCorner.model_validate(
                {
                    "action": now.action,
                    "gear": now.gear,
                    "min_speed_ms": now.min_speed_ms,
                    "slower_ms": before.min_speed_ms - now.min_speed_ms,
                    "brake_earlier_m": earlier,
                    "braking_said": racing_braking(
                        now.action, now.trend, before.action, earlier, say
                    ),
                    "speed_said": speed_moved(now.min_speed_ms - before.min_speed_ms, say),
                }
            )
        )
    return found
