"""A vehicle found again from its own performance, with fewer statements, and with false ones."""

import math
from dataclasses import replace
from typing import get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.quick_build import Built, Known, quick_build, usual_figures
from neapfrost.core.car.starting_kinds import STARTING, StartingKind
from neapfrost.core.car.statements import Measured, Statement
from neapfrost.core.records import Conditions, Vehicle, VehicleKind
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan_records import vehicle_record

ASKED: tuple[tuple[Quantity, float | None], ...] = (
    (Quantity.MASS, None),
    (Quantity.POWER, None),
    (Quantity.TORQUE, None),
    (Quantity.TOP_SPEED, None),
    (Quantity.TIME_TO_SPEED, 100.0 / 3.6),
    (Quantity.TIME_TO_DISTANCE, 1000.0),
    (Quantity.BRAKING, 100.0 / 3.6),
    (Quantity.LATERAL_SLOW, None),
    (Quantity.LATERAL_FAST, 45.0),
    (Quantity.DOWNFORCE, 50.0),
)


def vehicle_of(plan_id: str) -> Vehicle:
    plan = demo_plan(plan_id)
    assert plan is not None
    return replace(vehicle_record(plan.document.car), fuel_kg=20.0)


def statements_of(vehicle: Vehicle) -> tuple[Statement, ...]:
    """What the vehicle itself does, as statements."""
    measured = Measured(vehicle, Conditions())
    found = [(q, measured.of(Statement(q, 1.0, at)), at) for q, at in ASKED]
    return tuple(Statement(q, value, at) for q, value, at in found if value)


def known_of(vehicle: Vehicle, power_rpm: float) -> Known:
    return Known(
        starting=vehicle.kind.value,
        driven_rear=vehicle.rear_drive_fraction,
        gears=len(vehicle.gearbox.ratios),
        power_rpm=power_rpm,
        rev_limit_rpm=vehicle.engine.rev_limit_rpm,
        rolling_radius_m=vehicle.tyres.rolling_radius_m,
        driver_kg=vehicle.driver_kg,
    )


@pytest.mark.parametrize(
    ("plan_id", "power_rpm"),
    [
        ("garganey-dry", 6300.0),
        ("k4-dry", 8000.0),
        ("sanderling-fen", 12500.0),
        ("turnstone-qualifying", 6300.0),
    ],
)
def test_a_vehicle_is_found_again_from_what_it_does(plan_id: str, power_rpm: float) -> None:
    vehicle = vehicle_of(plan_id)
    built = quick_build(known_of(vehicle, power_rpm), statements_of(vehicle))
    assert built.contradictions == ()
    for row in built.rows:
        assert abs(row.misfit) < 0.02, row
    found = built.vehicle
    assert found.mass_kg == pytest.approx(vehicle.mass_kg, rel=0.02)
    assert found.tyres.mu_lateral == pytest.approx(vehicle.tyres.mu_lateral, rel=0.03)
    downforce = vehicle.aero.lift_area_m2
    assert found.aero.lift_area_m2 == pytest.approx(downforce, rel=0.02, abs=0.08)


GARGANEY = vehicle_of("garganey-dry")
ALL_SAID = statements_of(GARGANEY)


@given(kept=st.sets(st.integers(0, len(ALL_SAID) - 1), max_size=5))
@settings(max_examples=4, deadline=None, derandomize=True)
def test_fewer_statements_are_still_met_and_leave_more_open(kept: set[int]) -> None:
    said = tuple(ALL_SAID[number] for number in sorted(kept))
    built = quick_build(known_of(GARGANEY, 6300.0), said)
    for row in built.rows:
        assert abs(row.misfit) < 0.03, row
    assert {one.name for one in built.assumptions}
    for one in built.assumptions:
        assert one.low < one.value < one.high
    # A car that nobody knows much of can be driven all the same.
    assert Measured(built.vehicle, Conditions()).run() is not None


def saying(*said: Statement) -> Built:
    return quick_build(Known(power_rpm=6200.0), said)


def test_a_top_speed_that_the_power_does_not_reach_is_named() -> None:
    built = saying(
        Statement(Quantity.MASS, 1310.0),
        Statement(Quantity.POWER, 144_000.0),
        Statement(Quantity.TOP_SPEED, 290.0 / 3.6),
    )
    named = {one.statement.quantity: one.others_say for one in built.contradictions}
    assert set(named) == {Quantity.TOP_SPEED, Quantity.POWER}
    top, power = named[Quantity.TOP_SPEED], named[Quantity.POWER]
    assert top is not None
    assert power is not None
    # Usual drag and rolling: some 225 km/h, and half as much power again for 290.
    assert 0.72 * 290 / 3.6 < top < 0.85 * 290 / 3.6
    assert 1.3 * 144_000.0 < power < 2.2 * 144_000.0


def test_a_time_that_contradicts_the_rest_is_named() -> None:
    built = saying(
        Statement(Quantity.MASS, 1310.0),
        Statement(Quantity.POWER, 144_000.0),
        Statement(Quantity.TOP_SPEED, 228.0 / 3.6),
        Statement(Quantity.TIME_TO_SPEED, 4.4, 100.0 / 3.6),
    )
    assert Quantity.TIME_TO_SPEED in {one.statement.quantity for one in built.contradictions}


def test_what_nothing_decides_stays_usual_and_is_told() -> None:
    built = quick_build(Known(starting="motorcycle"), ())
    names = {one.name for one in built.assumptions}
    assert {"mass_kg", "peak_power_w", "mu_lateral", "drag_area_m2", "cg_height_m"} <= names
    assert built.vehicle.mass_kg == pytest.approx(190.0)
    assert built.vehicle.kind is VehicleKind.MOTORCYCLE
    said = saying(Statement(Quantity.MASS, 1000.0))
    assert "mass_kg" not in {one.name for one in said.assumptions}


@pytest.mark.parametrize("kind", get_args(StartingKind))
def test_stated_figures_are_kept_exactly(kind: StartingKind) -> None:
    usual = STARTING[kind]
    downforce_n = 9.80665 * (usual.downforce_kg or 10.0)
    said = (
        Statement(Quantity.MASS, 1.1 * usual.mass_kg),
        Statement(Quantity.POWER, 900.0 * usual.power_kw),
        Statement(Quantity.TOP_SPEED, 0.95 * usual.top_speed_ms),
        Statement(Quantity.LATERAL_SLOW, usual.lateral_g),
        Statement(Quantity.DOWNFORCE, downforce_n, 55.0),
    )
    built = quick_build(Known(starting=kind, gears=usual.gears or 6), said)
    measured = Measured(built.vehicle, Conditions())
    assert built.vehicle.mass_kg == 1.1 * usual.mass_kg
    assert measured.of(said[1]) == pytest.approx(900.0 * usual.power_kw, rel=1e-9)
    assert measured.of(said[4]) == pytest.approx(downforce_n, rel=1e-9)
    for row in built.rows:
        assert abs(row.misfit) < 0.006, row
    assert built.vehicle.wheelbase_m == usual.wheelbase_m
    named = {one.name for one in built.assumptions}
    assert not named & {"mass_kg", "peak_power_w", "lift_area_m2"}


def test_gears_are_taken_as_they_stand_and_contradict_a_top_gear() -> None:
    ratios = (2.9, 2.1, 1.6, 1.3, 1.1)
    known = Known(
        gears=5, power_rpm=6200.0, rev_limit_rpm=7000.0, rolling_radius_m=0.31,
        ratios=ratios, final_drive=3.9,
    )  # fmt: skip
    said = (Statement(Quantity.MASS, 1100.0), Statement(Quantity.POWER, 150_000.0))
    built = quick_build(known, said)
    assert built.vehicle.gearbox.ratios == ratios
    assert built.vehicle.gearbox.final_drive == 3.9
    assert not {one.name for one in built.assumptions} & {"first_gear_ms", "top_gear_ms"}
    at_limit = 7000.0 * math.pi / 30.0 / (1.1 * 3.9) * 0.31
    spoken = Statement(Quantity.TOP_GEAR, 1.2 * at_limit)
    against = quick_build(known, (*said, spoken))
    assert against.vehicle.gearbox.final_drive == 3.9
    (row,) = (row for row in against.rows if row.statement is spoken)
    assert row.model == pytest.approx(at_limit)
    assert [one.statement for one in against.contradictions] == [spoken]
    # Without a final drive the top gear's speed says it.
    found = quick_build(replace(known, final_drive=None), (*said, spoken))
    assert found.vehicle.gearbox.ratios == ratios
    assert found.vehicle.gearbox.final_drive == pytest.approx(3.9 / 1.2)
    assert found.contradictions == ()
    # A final drive alone is the top gear's; the first one keeps its speed.
    alone = quick_build(replace(known, ratios=()), said)
    assert alone.vehicle.gearbox.final_drive == 3.9
    assert alone.vehicle.gearbox.ratios[-1] == 1.0
    assert "top_gear_ms" not in {one.name for one in alone.assumptions}
    usual = {figure.name: figure.value for figure in usual_figures(known)}
    first = 7000.0 * math.pi / 30.0 / (alone.vehicle.gearbox.ratios[0] * 3.9) * 0.31
    assert first == pytest.approx(usual["first_gear_ms"], rel=0.05)
