"""Density of the air a vehicle drives through."""

import math

from neapfrost.core.records import Conditions

DRY_AIR_GAS_CONSTANT = 287.05  # J/(kg K)
WATER_VAPOUR_GAS_CONSTANT = 461.5  # J/(kg K)
ZERO_CELSIUS_K = 273.15


def standard_pressure_hpa(altitude_m: float) -> float:
    """Pressure of the standard atmosphere [hPa] at a geopotential altitude [m] below 11 km.

    Source: ISO 2533, the layer with a lapse rate of 6.5 K/km.
    """
    return 1013.25 * math.pow(1.0 - 0.0065 * altitude_m / 288.15, 5.25588)


def saturation_pressure_hpa(temperature_c: float) -> float:
    """Saturation pressure of water vapour over water [hPa] at a temperature [°C].

    Source: the Magnus form with the coefficients of the WMO guide (CIMO, annex 4.B).
    """
    return 6.112 * math.exp(17.62 * temperature_c / (243.12 + temperature_c))


def air_density_kgm3(temperature_c: float, pressure_hpa: float, humidity_pct: float) -> float:
    """Density of moist air [kg/m³] from station pressure [hPa], temperature [°C], humidity [%].

    Source: ideal mixture of dry air and water vapour.
    """
    kelvin = temperature_c + ZERO_CELSIUS_K
    vapour_hpa = _vapour_hpa(temperature_c, pressure_hpa, humidity_pct)
    dry_hpa = pressure_hpa - vapour_hpa
    dry = dry_hpa / (DRY_AIR_GAS_CONSTANT * kelvin)
    vapour = vapour_hpa / (WATER_VAPOUR_GAS_CONSTANT * kelvin)
    return 100.0 * (dry + vapour)


def dry_pressure_hpa(temperature_c: float, pressure_hpa: float, humidity_pct: float) -> float:
    """Pressure of the air less its vapour's [hPa], from pressure [hPa], [°C] and humidity [%]."""
    return pressure_hpa - _vapour_hpa(temperature_c, pressure_hpa, humidity_pct)


def _vapour_hpa(temperature_c: float, pressure_hpa: float, humidity_pct: float) -> float:
    saturated = saturation_pressure_hpa(temperature_c)
    return min(humidity_pct / 100.0 * saturated, 0.9 * pressure_hpa)


def station_pressure_hpa(conditions: Conditions, altitude_m: float) -> float:
    """Pressure at the circuit [hPa]: as stated, else the standard atmosphere's at its altitude."""
    if conditions.pressure_hpa is None:
        return standard_pressure_hpa(altitude_m)
    return conditions.pressure_hpa


def density_kgm3(conditions: Conditions, altitude_m: float) -> float:
    """Density of the air as it is [kg/m³]; at the standard pressure where none is stated."""
    pressure = station_pressure_hpa(conditions, altitude_m)
    return air_density_kgm3(conditions.air_temp_c, pressure, conditions.humidity_pct)
