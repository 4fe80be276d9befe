"""Figures said in a person's units."""

from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel

from neapfrost.core.measures import said
from neapfrost.core.units import Kind, Units, metres_per, shown, shown_difference, unit_of

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
        return metres_per(self.units)

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

    def figure(self, value: float, kind: Kind, decimals: int = 0) -> str:
        """A figure of a document with its unit: "20.5 kg", "1013 hPa"."""
        return f"{shown(value, kind, self.units):.{decimals}f} {unit_of(kind, self.units)}"

    def plain(self, value: float, kind: Kind, decimals: int = 0) -> str:
        """A figure of a document without its unit."""
        return f"{shown(value, kind, self.units):.{decimals}f}"

    @property
    def per_litre(self) -> float:
        """Shown volume for each litre."""
        return shown(1.0, "volume", self.units)

    def unit(self, kind: Kind) -> str:
        """The unit that a kind of figure is said in."""
        return unit_of(kind, self.units)

    def temperature(self, celsius: float) -> str:
        """A temperature with its unit, in whole degrees."""
        return self.figure(celsius, "temperature")

    def degrees(self, kelvin: float) -> str:
        """A difference of temperatures with its unit, in whole degrees."""
        size = shown_difference(kelvin, "temperature", self.units)
        return f"{size:.0f} {self.temperature_unit}"

    @property
    def temperature_unit(self) -> str:
        """°C or °F."""
        return unit_of("temperature", self.units)

    def wind(self, wind_ms: float) -> str:
        """A wind in m/s, or mph."""
        return self.figure(wind_ms, "wind", 1 if self.unit("wind") == "m/s" else 0)

    def is_nothing(self, length_m: float) -> bool:
        """Whether a length is said as none."""
        return round(shown(length_m, "length", self.units)) == 0


Told = TypeVar("Told", bound=BaseModel)


def in_units(told: Told, units: Units | None) -> Told:
    """A result with all figures in its sentences said in some units, for a file of text."""

    def say(value: Any) -> Any:
        if isinstance(value, str):
            return said(value, units)
        if isinstance(value, dict):
            return {key: say(one) for key, one in value.items()}
        return [say(one) for one in value] if isinstance(value, list | tuple) else value

    return type(told).model_validate(say(told.model_dump()))


def seconds(cost_s: float, decimals: int = 3) -> str:
    """A cost as a person says it: "0.097 s"; nothing that rounds to nothing."""
    return f"{abs(cost_s):.{decimals}f} s"


def gear_word(gear: int) -> str:
    """1st, 2nd, 3rd, 4th."""
    return f"{gear}{ {1: 'st', 2: 'nd', 3: 'rd'}.get(gear, 'th') }".replace(" ", "")
