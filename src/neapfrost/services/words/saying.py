"""Figures said in a person's units."""

from dataclasses import dataclass

from neapfrost.core.units import (
    FAHRENHEIT_PER_CELSIUS,
    METRES_PER,
    Units,
    fahrenheit,
    shown,
    unit_of,
)

#: A difference of time that is shown as nothing: half of the last digit of a lap time [s].
NOTHING_S = 0.0005


@dataclass(frozen=True)
class Saying:
    """How speeds and lengths are said."""

    units: Units = "metric"

    @property
    def speed_unit(self) -> str:
        """km/h or mph."""
        return unit_of("speed", self.units)

    @property
    def length_unit(self) -> str:
        """m, ft or yd."""
        return unit_of("length", self.units)

    @property
    def per_speed(self) -> float:
        """Shown speed for each m/s."""
        return shown(1.0, "speed", self.units)

    @property
    def metres_per_length(self) -> float:
        """Metres for each unit of length."""
        return METRES_PER[self.units]

    def number(self, speed_ms: float, decimals: int = 0) -> str:
        """A speed without its unit."""
        return f"{shown(speed_ms, 'speed', self.units):.{decimals}f}"

    def speed(self, speed_ms: float, decimals: int = 0) -> str:
        """A speed: "104 km/h"."""
        return f"{self.number(speed_ms, decimals)} {self.speed_unit}"

    def metres(self, length_m: float, decimals: int = 0) -> str:
        """A length without its unit."""
        return f"{shown(length_m, 'length', self.units):.{decimals}f}"

    def length(self, length_m: float, decimals: int = 0) -> str:
        """A length: "19 m"."""
        return f"{self.metres(length_m, decimals)} {self.length_unit}"

    def temperature(self, celsius: float) -> str:
        """A temperature with its unit, in whole degrees."""
        value = celsius if self.units == "metric" else fahrenheit(celsius)
        return f"{value:.0f} {self.temperature_unit}"

    def degrees(self, kelvin: float) -> str:
        """A difference of temperatures with its unit, in whole degrees."""
        size = kelvin if self.units == "metric" else FAHRENHEIT_PER_CELSIUS * kelvin
        return f"{size:.0f} {self.temperature_unit}"

    @property
    def temperature_unit(self) -> str:
        """°C or °F."""
        return "°C" if self.units == "metric" else "°F"

    def wind(self, wind_ms: float) -> str:
        """A wind in m/s, or mph."""
        decimals = 1 if self.units == "metric" else 0
        return f"{shown(wind_ms, 'wind', self.units):.{decimals}f} {unit_of('wind', self.units)}"

    def is_nothing(self, length_m: float) -> bool:
        """Whether a length is said as none."""
        return round(shown(length_m, "length", self.units)) == 0


def seconds(cost_s: float, decimals: int = 3) -> str:
    """A cost as a person says it: "0.097 s"; nothing that rounds to nothing."""
    return f"{abs(cost_s):.{decimals}f} s"


def gear_word(gear: int) -> str:
    """1st, 2nd, 3rd, 4th."""
    return f"{gear}{ {1: 'st', 2: 'nd', 3: 'rd'}.get(gear, 'th') }".replace(" ", "")
