"""How much of its stated torque an engine gives in the air it breathes.

Sources: ISO 1585:2020 (spark ignition and compression ignition), SAE J1349 (spark ignition, its
mechanical efficiency of 85 % inside the formula). Both correct what was measured to their reference
air, by a factor α on the torque; what an engine gives in some air is its stated torque over that
air's α. Mechanical losses are inside: α is found for the torque at the crank, and the drag of a
closed throttle stays as it is stated.
"""

from dataclasses import dataclass

from neapfrost.core.atmosphere import (
    ZERO_CELSIUS_K,
    dry_pressure_hpa,
    standard_pressure_hpa,
    station_pressure_hpa,
)
from neapfrost.core.records import Aspiration, Conditions, Intake, PowerStandard

#: Both standards refer to this pressure of the dry air [hPa] and temperature [K].
REFERENCE_DRY_HPA, REFERENCE_K = 990.0, 298.0
#: ISO 1585 holds the correction for valid between these: spark ignition, compression ignition.
SPARK_VALID, DIESEL_VALID = (0.93, 1.07), (0.9, 1.1)
#: Of an air that is only partly stated, the rest: temperature [°C], pressure [hPa], humidity [%].
REST_TEMP_C, REST_PRESSURE_HPA, REST_HUMIDITY_PCT = 25.0, 1000.0, 30.0
SPARK = (Aspiration.NATURAL, Aspiration.BOOSTED)
UNMOVED = (Aspiration.CONSTANT, Aspiration.ELECTRIC)
#: No air makes more of an engine than this, or leaves less of it: far outside what is valid.
FACTOR_LEAST, FACTOR_MOST = 0.2, 2.0


@dataclass(frozen=True)
class EngineAir:
    """What the air leaves of the stated torque, as a factor.

    `alpha` is the standard's correction in this air, `valid` the range it is valid in.
    """

    factor: float
    alpha: float
    valid: tuple[float, float]

    @property
    def is_valid(self) -> bool:
        """Whether the standard stands by the correction."""
        return self.valid[0] <= self.alpha <= self.valid[1]


def engine_air(intake: Intake, conditions: Conditions, altitude_m: float = 0.0) -> EngineAir:
    """What an engine's torque is worth in some air, against the air it was stated in."""
    if intake.aspiration in UNMOVED:
        return EngineAir(1.0, 1.0, SPARK_VALID)
    pressure = station_pressure_hpa(conditions, altitude_m)
    dry = dry_pressure_hpa(conditions.air_temp_c, pressure, conditions.humidity_pct)
    kelvin = conditions.air_temp_c + ZERO_CELSIUS_K
    valid = SPARK_VALID if intake.aspiration in SPARK else DIESEL_VALID
    factor = _given_in(intake, dry, kelvin) / _given_in(intake, *_stated_air(intake))
    factor = min(max(factor, FACTOR_LEAST), FACTOR_MOST)
    return EngineAir(factor, _alpha(intake, dry, kelvin), valid)


def _stated_air(intake: Intake) -> tuple[float, float]:
    """Dry pressure [hPa] and temperature [K] in which the torque was stated."""
    temp, pressure = intake.stated_temp_c, intake.stated_pressure_hpa
    if temp is None and pressure is None and intake.stated_humidity_pct is None:
        return REFERENCE_DRY_HPA, REFERENCE_K
    humidity = intake.stated_humidity_pct
    temp_c = REST_TEMP_C if temp is None else temp
    dry = dry_pressure_hpa(
        temp_c,
        REST_PRESSURE_HPA if pressure is None else pressure,
        REST_HUMIDITY_PCT if humidity is None else humidity,
    )
    return dry, temp_c + ZERO_CELSIUS_K


def _given_in(intake: Intake, dry_hpa: float, kelvin: float) -> float:
    """Torque in some air over that in the standard's reference air."""
    if intake.aspiration is not Aspiration.BOOSTED:
        return 1.0 / _alpha(intake, dry_hpa, kelvin)
    # The boost makes up for thin air as long as the compressor can; what is thinner is lost.
    held_hpa = standard_pressure_hpa(intake.boost_altitude_m)
    held = 1.0 / _alpha(intake, max(dry_hpa, held_hpa), kelvin)
    beyond = _alpha(intake, max(dry_hpa, held_hpa), kelvin) / _alpha(intake, dry_hpa, kelvin)
    return (1.0 + intake.boost_share * (held - 1.0)) * beyond


def _alpha(intake: Intake, dry_hpa: float, kelvin: float) -> float:
    """The standard's correction of a torque measured in some air to its reference air."""
    pressure, heat = REFERENCE_DRY_HPA / dry_hpa, kelvin / REFERENCE_K
    if intake.aspiration is Aspiration.DIESEL:
        return float((pressure * heat**0.7) ** intake.diesel_factor)
    if intake.aspiration is Aspiration.TURBO_DIESEL:
        return float((pressure**0.7 * heat**1.5) ** intake.diesel_factor)
    if intake.standard is PowerStandard.SAE_J1349:
        return float(1.18 * pressure * heat**0.5 - 0.18)
    return float(pressure**1.2 * heat**0.6)
