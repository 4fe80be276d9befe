"""What the air leaves of an engine's torque, against the standards' own formulas and by lot."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, SHORT_LAP, lap_of, plain_vehicle, road_car
from neapfrost.core.atmosphere import dry_pressure_hpa, standard_pressure_hpa
from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.path.circuit import Circuit, Straight
from neapfrost.core.records import (
    Aero,
    Aspiration,
    Conditions,
    Engine,
    Intake,
    PowerStandard,
    Vehicle,
)

#: 99 kPa of dry air at 298 K: where neither standard corrects anything.
REFERENCE = Conditions(air_temp_c=24.85, pressure_hpa=990.0, humidity_pct=0.0)
BREATHING = [one for one in Aspiration if one not in (Aspiration.CONSTANT, Aspiration.ELECTRIC)]


def air(dry_kpa: float, kelvin: float) -> Conditions:
    return Conditions(air_temp_c=kelvin - 273.15, pressure_hpa=10.0 * dry_kpa, humidity_pct=0.0)


@pytest.mark.parametrize("aspiration", list(Aspiration))
@pytest.mark.parametrize("standard", list(PowerStandard))
def test_in_the_reference_air_the_torque_is_as_stated(
    aspiration: Aspiration, standard: PowerStandard
) -> None:
    found = engine_air(Intake(aspiration, standard), REFERENCE)
    assert found.factor == pytest.approx(1.0, abs=1e-12)
    assert found.is_valid


@pytest.mark.parametrize(
    ("intake", "dry_kpa", "kelvin", "alpha"),
    [
        # (99/89)^1.2 · (303/298)^0.6, and so on: each by hand.
        (Intake(Aspiration.NATURAL), 89.0, 303.0, 1.147704),
        (Intake(Aspiration.NATURAL), 101.3, 278.0, 0.933100),
        (Intake(Aspiration.NATURAL, PowerStandard.SAE_J1349), 89.0, 303.0, 1.143550),
        (Intake(Aspiration.DIESEL, diesel_factor=0.3), 89.0, 303.0, 1.036075),
        (Intake(Aspiration.TURBO_DIESEL, diesel_factor=1.2), 89.0, 303.0, 1.126817),
    ],
)
def test_correction_by_hand(intake: Intake, dry_kpa: float, kelvin: float, alpha: float) -> None:
    found = engine_air(intake, air(dry_kpa, kelvin))
    assert found.alpha == pytest.approx(alpha, abs=2e-6)
    assert found.factor == pytest.approx(1.0 / alpha, rel=1e-5)


def test_vapour_takes_the_place_of_air() -> None:
    # Saturated at 30 °C water has 42.45 hPa (steam tables); 60 % of it leaves 974.5 of 1000 hPa.
    assert dry_pressure_hpa(30.0, 1000.0, 60.0) == pytest.approx(1000.0 - 0.6 * 42.45, abs=0.15)
    dry, damp = (
        engine_air(Intake(Aspiration.NATURAL), Conditions(30.0, 1000.0, humidity)).factor
        for humidity in (0.0, 90.0)
    )
    assert damp / dry == pytest.approx((1.0 - 0.9 * 0.04245) ** 1.2, rel=2e-4)


def test_a_boost_holds_up_to_its_altitude_and_is_lost_beyond() -> None:
    intake = Intake(Aspiration.BOOSTED, boost_share=0.2, boost_altitude_m=2000.0)
    natural = Intake(Aspiration.NATURAL)

    def at(which: Intake, altitude_m: float) -> float:
        return engine_air(which, Conditions(24.85, None, 0.0), altitude_m).factor

    low = at(natural, 1000.0)
    assert at(intake, 1000.0) == pytest.approx(1.0 + 0.2 * (low - 1.0), rel=1e-9)
    held = 1.0 + 0.2 * (at(natural, 2000.0) - 1.0)
    thinner = (standard_pressure_hpa(3000.0) / standard_pressure_hpa(2000.0)) ** 1.2
    assert at(intake, 3000.0) == pytest.approx(held * thinner, rel=1e-9)
    assert at(replace(intake, boost_share=0.0), 1500.0) == 1.0


@given(
    aspiration=st.sampled_from(BREATHING),
    standard=st.sampled_from(list(PowerStandard)),
    temp=st.floats(-10.0, 45.0),
    pressure=st.floats(700.0, 1050.0),
    humidity=st.floats(0.0, 100.0),
)
def test_whatever_the_air_a_stated_torque_is_given_in_it(
    aspiration: Aspiration,
    standard: PowerStandard,
    temp: float,
    pressure: float,
    humidity: float,
) -> None:
    """Stated in an air, it is that in the same air: a correction is never made twice."""
    stated = Intake(aspiration, standard, temp, pressure, humidity)
    here = Conditions(temp, pressure, humidity)
    assert engine_air(stated, here).factor == pytest.approx(1.0, rel=1e-12)
    thinner = engine_air(stated, replace(here, pressure_hpa=0.95 * pressure)).factor
    hotter = engine_air(stated, replace(here, air_temp_c=temp + 5.0)).factor
    assert thinner < 1.0 + 1e-12
    assert hotter < 1.0


def test_the_closed_throttle_drags_as_stated() -> None:
    vehicle = road_car()
    natural = replace(vehicle, engine=replace(vehicle.engine, intake=Intake(Aspiration.NATURAL)))
    assert natural.engine.overrun_nm == vehicle.engine.overrun_nm


def test_a_run_up_in_thin_air_takes_longer_by_the_factor() -> None:
    """Constant torque without drag: v² = 2·(F/m)·s, and times go with the root of the factor."""
    engine = Engine(((0.1, 60.0), (20000.0, 60.0)), 20000.0, 1.0, 0.0, Intake(Aspiration.NATURAL))
    vehicle = plain_vehicle(engine=engine, aero=Aero(0.0, 0.0, 0.5))
    run = Circuit("run", False, (Straight(400.0),), start_speed_ms=0.0)
    times = [lap_of(run, vehicle, air(kpa, 298.0)).lap_time_s for kpa in (99.0, 80.0)]
    assert times[1] / times[0] == pytest.approx(math.sqrt((99.0 / 80.0) ** 1.2), rel=1e-4)


def test_thin_air_is_never_quicker_without_downforce() -> None:
    def natural(vehicle: Vehicle) -> Vehicle:
        intake = Intake(Aspiration.NATURAL)
        return replace(vehicle, engine=replace(vehicle.engine, intake=intake))

    car = natural(road_car(aero=Aero(0.0, 0.7, 0.5)))
    laps = [
        lap_of(SHORT_LAP, car, replace(AIR_12, pressure_hpa=hpa), PURE).lap_time_s
        for hpa in (1010.0, 960.0, 910.0, 860.0)
    ]
    assert laps == sorted(laps)
