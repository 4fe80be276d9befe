"""Workings: every line shown gives its own value, and the last one is the figure itself."""

from dataclasses import replace

import pytest

from core.builders import AIR_12, SHORT_LAP, road_car
from core.test_calls import combination
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import (
    Aero,
    Aspiration,
    Brakes,
    Driver,
    DriverUse,
    Inertia,
    Intake,
    Vehicle,
    VehicleKind,
)
from neapfrost.core.working.figures import corner_workings, lap_working
from neapfrost.core.working.record import evaluate, values_of

HILLY = Circuit(
    "hilly",
    True,
    (
        Straight(380.0, grade_pct=-3.0),
        Bend("T1", -1, 45.0, 100.0, transition_m=12.0, banking_deg=4.0, grade_pct=-3.0),
        Straight(160.0, grade_pct=4.0),
        Bend("T2", 1, 260.0, 40.0, transition_m=20.0, grade_pct=4.0),
        Straight(240.0),
        Bend("T3", 1, 32.0, 120.0, end_radius_m=24.0, transition_m=10.0, banking_deg=-3.0),
        Straight(160.0, grip_factor=0.95),
    ),
    north_deg=30.0,
)
WINDY = replace(AIR_12, wind_speed_ms=6.0, wind_from_deg=200.0, wetness_pct=10.0)
USED = Driver(use=DriverUse(0.96, 0.98, 0.95), entry_exponent=1.6, exit_exponent=1.8)


def motorcycle() -> Vehicle:
    return road_car(
        kind=VehicleKind.MOTORCYCLE,
        mass_kg=170.0,
        wheelbase_m=1.42,
        cg_height_m=0.62,
        aero=Aero(0.0, 0.4, 0.5),
        brakes=Brakes(None, None),
    )


def every_effect() -> Vehicle:
    """A motorcycle that breathes, drags in corners, dives, sits up and rolls on wide tyres."""
    bike = motorcycle()
    return replace(
        bike,
        tyres=replace(
            bike.tyres,
            front_reference_n=1100.0,
            rear_reference_n=1400.0,
            cornering_stiffness_front=15.0,
            cornering_stiffness_rear=18.0,
            scrub_moment_nm=60.0,
            width_m=0.17,
        ),
        aero=Aero(
            0.3,
            0.4,
            0.5,
            ((10.0, 1.1, 1.0, 0.0), (70.0, 0.8, 0.95, 0.02)),
            lift_lost_braking=0.006,
            lift_lost_turning=0.003,
            braking_drag_area_m2=0.55,
            braking_drag_height_m=0.9,
        ),
        engine=replace(bike.engine, intake=Intake(Aspiration.NATURAL)),
        inertia=Inertia(0.5, 0.7, 0.03),
    )


@pytest.fixture(scope="module", params=["short", "hilly", "motorcycle", "every effect"])
def found(request: pytest.FixtureRequest) -> DrivenLap:
    if request.param == "short":
        return combination(SHORT_LAP, road_car(), driver=Driver())
    if request.param == "hilly":
        return combination(HILLY, road_car(), WINDY, USED)
    if request.param == "every effect":
        return combination(HILLY, every_effect(), WINDY, USED)
    return combination(HILLY, motorcycle(), AIR_12, Driver())


def test_every_line_gives_the_value_it_stands_for(found: DrivenLap) -> None:
    for corner, result in enumerate(found.corners):
        for working in corner_workings(found, corner):
            values = values_of(working)
            for step in working.steps:
                told = f"{result.name}, {working.figure}: {step.symbol} = {step.formula}"
                by_hand = evaluate(step.formula, values)
                assert by_hand == pytest.approx(step.value, rel=2e-5, abs=2e-6), told


def test_the_last_line_is_the_figure_to_the_last_digit_shown(found: DrivenLap) -> None:
    for corner, result in enumerate(found.corners):
        for working in corner_workings(found, corner):
            value = values_of(working)[working.result]
            if working.figure == "gear":
                assert working.result == f"n_{result.gear}"
                continue
            if working.figure == "throttle_at_m":
                after = (result.throttle_at_m or 0.0) - result.min_speed_at_m
                assert value == pytest.approx(after % found.lap.path.length_m, abs=1e-3)
                continue
            told = getattr(result, working.figure)
            assert value == pytest.approx(told, rel=1e-5, abs=1e-3), working.figure


def test_the_limit_that_was_active_is_all_in_use(found: DrivenLap) -> None:
    held = 0
    for corner, result in enumerate(found.corners):
        if result.limited_by not in ("front", "rear") or result.action == "through":
            continue
        working = next(w for w in corner_workings(found, corner) if w.figure == "min_speed_ms")
        use = values_of(working)["U"]
        assert result.limited_by in working.limit
        assert 0.97 <= use <= 1.002, f"{result.name}: {use}"
        held += 1
    assert held >= 2


def test_the_lap_is_the_sum_of_its_stretches(found: DrivenLap) -> None:
    working = lap_working(found)
    values = values_of(working)
    for step in working.steps:
        assert evaluate(step.formula, values) == pytest.approx(step.value, abs=1e-6)
    assert values[working.result] == found.lap.lap_time_s


def test_a_wrong_value_would_be_noticed() -> None:
    assert evaluate("½·ρ·v²", {"ρ": 1.2, "v": 10.0}) == pytest.approx(60.0)
    assert evaluate("(X^p + Y^p)^(1/p)/N", {"X": 3.0, "Y": 4.0, "p": 2.0, "N": 5.0}) == 1.0
    with pytest.raises(NameError):
        evaluate("__import__('os')", {})
