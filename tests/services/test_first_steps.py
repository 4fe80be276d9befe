"""A first car and circuit from what a person knows: the lap they give is what was stated."""

import math
from typing import get_args

import pytest

from neapfrost.core.car.starting_kinds import STARTING, StartingKind
from neapfrost.core.car.statements import Measured, Statement
from neapfrost.core.errors import InputRefused
from neapfrost.core.records import Conditions
from neapfrost.formats.plan_records import vehicle_record
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.plans.first_steps import (
    FirstCar,
    FirstCircuit,
    FirstPlan,
    FirstSegment,
    first_plan,
)


def wanted(**car: object) -> FirstPlan:
    figures = {
        "name": "Mine",
        "mass_kg": 1000.0,
        "peak_power_kw": 180.0,
        "top_speed_ms": 65.0,
        "lateral_g": 1.2,
        **car,
    }
    parts: list[dict[str, object]] = []
    for _ in range(4):
        parts.append({"turn": "straight", "length_m": 400.0})
        parts.append({"turn": "left", "radius_m": 40.0, "angle_deg": 90.0})
    return FirstPlan(
        car=FirstCar.model_validate(figures),
        circuit=FirstCircuit(
            name="Square", segments=[FirstSegment.model_validate(part) for part in parts]
        ),
    )


def test_the_slow_corners_reach_the_stated_lateral_g() -> None:
    plan = first_plan(wanted())
    result = predict_lap(plan)
    assert plan.name == "Mine at Square"
    assert [corner.name for corner in result.corners] == ["T1", "T2", "T3", "T4"]
    for corner in result.corners:
        # Load moves between the axles with the throttle; the g that a driver states is near it.
        assert corner.lateral_g == pytest.approx(1.2, abs=0.06)
        assert corner.board_call is not None
    assert result.top_speed_ms < 65.0


@pytest.mark.parametrize("driven", ["rear", "front", "all"])
def test_a_long_straight_leads_to_the_stated_top_speed(driven: str) -> None:
    plan = wanted(driven=driven)
    straight = FirstSegment(turn="straight", length_m=15_000.0)
    course = FirstCircuit(name="Runway", closed=False, segments=[straight])
    result = predict_lap(first_plan(plan.model_copy(update={"circuit": course})))
    assert result.top_speed_ms == pytest.approx(65.0, rel=0.02)


def test_a_motorcycle_leans_and_a_car_with_downforce_corners_faster() -> None:
    bike = first_plan(wanted(kind="motorcycle", mass_kg=170.0, peak_power_kw=110.0))
    assert bike.car.max_lean_deg is not None
    lean = predict_lap(bike).corners[0].lean_deg
    assert lean is not None
    # Wide tyres make it lean some six degrees more than atan(1.2).
    assert lean == pytest.approx(math.degrees(math.atan(1.2)) + 6.0, abs=3.0)
    plain, winged = (predict_lap(first_plan(wanted(downforce_kg=d))) for d in (0.0, 400.0))
    gained = (winged.corners[0].min_speed_ms / plain.corners[0].min_speed_ms) ** 2
    # v² = μ·g·r·(1 + F/W): 400 kg at 200 km/h are 64 kg here, on 1,100 kg, less load sensitivity;
    # 25 kg of them are in the lateral g that was stated of a slow corner.
    here, slow = (1.0 + 0.93 * kilograms / 1100.0 for kilograms in (64.0, 25.4))
    assert gained == pytest.approx(here / slow, abs=0.005)


@pytest.mark.parametrize("kind", get_args(StartingKind))
def test_every_kind_begins_as_a_vehicle_that_does_what_its_form_says(kind: StartingKind) -> None:
    """Its top speed on a long straight, its lateral g in a slow corner, with or without a car's."""
    form = STARTING[kind]
    figures = {
        "kind": kind,
        "mass_kg": form.mass_kg,
        "peak_power_kw": form.power_kw,
        "top_speed_ms": form.top_speed_ms,
        "lateral_g": form.lateral_g,
        "downforce_kg": form.downforce_kg,
    }
    plan = wanted(**figures)
    straight = FirstSegment(turn="straight", length_m=20_000.0)
    runway = FirstCircuit(name="Runway", closed=False, segments=[straight])
    fast = predict_lap(first_plan(plan.model_copy(update={"circuit": runway})))
    # At the end of a runway it is still gaining the last of it.
    assert fast.top_speed_ms == pytest.approx(form.top_speed_ms, rel=0.01)
    car = first_plan(plan).car
    assert car.known is not None
    does = Measured(vehicle_record(car), Conditions())
    for one in car.known.stated:
        assert does.of(Statement(one.quantity, one.value, one.at)) == pytest.approx(
            one.value, rel=0.002
        )
    # Slow for a kart is slower: at the radius of the others its engine is the limit.
    tight = [
        part
        if part.radius_m is None or kind != "kart"
        else part.model_copy(update={"radius_m": 14.0})
        for part in plan.circuit.segments
    ]
    square = plan.circuit.model_copy(update={"segments": tight})
    document = first_plan(plan.model_copy(update={"circuit": square}))
    assert (document.car.kind == "motorcycle") is (kind == "motorcycle")
    assert len(document.car.gearbox.ratios) == (form.gears or 6)
    for corner in predict_lap(document).corners:
        # Downforce adds to what the tyres alone hold at this speed.
        load = (
            1.0 + form.downforce_kg / (form.mass_kg + 80.0) * (corner.min_speed_ms * 3.6 / 200) ** 2
        )
        assert corner.lateral_g == pytest.approx(form.lateral_g * load, rel=0.09)


@pytest.mark.parametrize(
    ("segment", "fault"),
    [
        (
            {"turn": "straight"},
            r"segments\[0\].length_m: nothing was given; a straight needs its le",
        ),
        ({"turn": "left", "angle_deg": 90.0}, r"segments\[0\].radius_m: nothing was given"),
        (
            {"turn": "right", "radius_m": 40.0, "angle_deg": -5.0},
            r"angle_deg: -5 was given; a",
        ),
    ],
)
def test_what_a_part_lacks_is_named(segment: dict[str, object], fault: str) -> None:
    circuit = FirstCircuit(name="Bad", segments=[FirstSegment.model_validate(segment)])
    with pytest.raises(InputRefused, match=fault):
        first_plan(wanted().model_copy(update={"circuit": circuit}))


def test_a_power_that_cannot_reach_the_speed_is_named() -> None:
    with pytest.raises(InputRefused, match=r"car\.top_speed_ms: 140 m/s was given"):
        first_plan(wanted(peak_power_kw=15.0, top_speed_ms=140.0))
