"""Air density against the standard atmosphere's table, and grip in the wet."""

import pytest

from neapfrost.core.atmosphere import (
    air_density_kgm3,
    saturation_pressure_hpa,
    standard_pressure_hpa,
)
from neapfrost.core.surface import wetness_grip


@pytest.mark.parametrize(
    ("altitude_m", "temperature_c", "pressure_hpa", "density_kgm3"),
    # ISO 2533, geopotential altitude.
    [
        (0.0, 15.0, 1013.25, 1.2250),
        (500.0, 11.75, 954.61, 1.1673),
        (1000.0, 8.5, 898.75, 1.1116),
        (2000.0, 2.0, 794.95, 1.0065),
    ],
)
def test_the_standard_atmosphere(
    altitude_m: float, temperature_c: float, pressure_hpa: float, density_kgm3: float
) -> None:
    assert standard_pressure_hpa(altitude_m) == pytest.approx(pressure_hpa, abs=0.02)
    density = air_density_kgm3(temperature_c, pressure_hpa, 0.0)
    assert density == pytest.approx(density_kgm3, rel=2e-4)


@pytest.mark.parametrize(
    ("temperature_c", "pressure_hpa"), [(0.0, 6.11), (10.0, 12.27), (20.0, 23.37), (30.0, 42.43)]
)
def test_saturation_pressure_of_water(temperature_c: float, pressure_hpa: float) -> None:
    assert saturation_pressure_hpa(temperature_c) == pytest.approx(pressure_hpa, rel=3e-3)


def test_humid_air_is_lighter() -> None:
    dry = air_density_kgm3(30.0, 1013.25, 0.0)
    humid = air_density_kgm3(30.0, 1013.25, 100.0)
    assert humid == pytest.approx(dry - 0.0185, abs=5e-4)


@pytest.mark.parametrize(
    ("wetness", "grip"), [(0, 1.0), (10, 0.94), (20, 0.88), (35, 0.79), (75, 0.625), (100, 0.55)]
)
def test_the_assumed_curve_of_a_dry_tyre(wetness: float, grip: float) -> None:
    assert wetness_grip(wetness) == pytest.approx(grip)
