"""Fuel of a lap and ballast, by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.car.ballast import with_ballast
from neapfrost.core.car.fuel import FuelUse, fuel_burnt_kg


def test_a_kilowatt_hour_takes_what_the_engine_takes_for_it() -> None:
    assert fuel_burnt_kg(FuelUse(290.0, 0.745), 3.6e6) == pytest.approx(0.290, rel=1e-12)
    assert fuel_burnt_kg(FuelUse(250.0, 0.745), 18.0e6) == pytest.approx(1.25, rel=1e-12)


def test_what_was_measured_for_a_lap_stands_above_the_engine_s_work() -> None:
    assert fuel_burnt_kg(FuelUse(290.0, 0.75, litres_per_lap=2.0), 9e9) == pytest.approx(1.5)


def test_ballast_over_an_axle_moves_the_weight_to_it() -> None:
    # 1000 kg at 40 % front, 100 kg over the front axle: 500 of 1100 kg.
    assert with_ballast(1000.0, 0.4, 100.0, 1.0) == pytest.approx((1100.0, 500.0 / 1100.0))
    assert with_ballast(1000.0, 0.4, 100.0, 0.0) == pytest.approx((1100.0, 400.0 / 1100.0))


@given(
    mass_kg=st.floats(100.0, 3000.0),
    front=st.floats(0.2, 0.8),
    ballast_kg=st.floats(0.0, 300.0),
    at=st.floats(0.0, 1.0),
)
def test_ballast_keeps_both_axles_loads(
    mass_kg: float, front: float, ballast_kg: float, at: float
) -> None:
    """Each axle carries what it carried and its part of the ballast."""
    mass, fraction = with_ballast(mass_kg, front, ballast_kg, at)
    assert mass == pytest.approx(mass_kg + ballast_kg)
    assert mass * fraction == pytest.approx(mass_kg * front + ballast_kg * at)
    assert mass * (1.0 - fraction) == pytest.approx(mass_kg * (1 - front) + ballast_kg * (1 - at))
