"""The units that people speak, and how a figure reads in them.

`Units` is a short text: a preset ("metric", "feet", "yards") and the single choices that depart
from it, by their keys: "yards.kg.usgal". It stands in requests and settings as it is.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from neapfrost.core.constants import STANDARD_GRAVITY_MS2

Units = str

#: The kinds of figures whose unit depends on who reads them.
Kind = Literal[
    "length",
    "dimension",
    "speed",
    "wind",
    "temperature",
    "mass",
    "power",
    "torque",
    "force",
    "load",
    "pressure",
    "air_pressure",
    "volume",
]

KMH_PER_MS = 3.6
MS_PER_MPH = 0.44704
MS_PER_KNOT = 1852.0 / 3600.0
FOOT_M = 0.3048
INCH_M = FOOT_M / 12.0
PSI_BAR = 0.0689476
INCH_MERCURY_HPA = 33.8639
FAHRENHEIT_PER_CELSIUS = 1.8
FAHRENHEIT_AT_ZERO = 32.0
POUND_KG = 0.45359237
POUND_FORCE_N = POUND_KG * STANDARD_GRAVITY_MS2
HORSEPOWER_KW = 550.0 * FOOT_M * POUND_FORCE_N / 1000.0
METRIC_HORSEPOWER_KW = 75.0 * STANDARD_GRAVITY_MS2 / 1000.0
POUND_FOOT_NM = FOOT_M * POUND_FORCE_N
US_GALLON_L = 231.0 * (100.0 * INCH_M) ** 3 / 1000.0
IMPERIAL_GALLON_L = 4.54609


@dataclass(frozen=True)
class Unit:
    """A unit: its key in a setting, its symbol, its size and its zero in a document's unit."""

    key: str
    symbol: str
    size: float = 1.0
    zero: float = 0.0

    def shown(self, value: float) -> float:
        """A figure of a document in this unit."""
        return value / self.size + self.zero


#: What each kind may be shown in; the first is the unit that documents hold it in, but for speeds
#: and forces, which they hold in m/s and N. A wind and a force have no choice of their own.
CHOICES: dict[Kind, tuple[Unit, ...]] = {
    "length": (Unit("m", "m"), Unit("ft", "ft", FOOT_M), Unit("yd", "yd", 3.0 * FOOT_M)),
    "speed": (Unit("kmh", "km/h", 1.0 / KMH_PER_MS), Unit("mph", "mph", MS_PER_MPH)),
    "temperature": (
        Unit("c", "°C"),
        Unit("f", "°F", 1.0 / FAHRENHEIT_PER_CELSIUS, FAHRENHEIT_AT_ZERO),
    ),
    "mass": (Unit("kg", "kg"), Unit("lb", "lb", POUND_KG)),
    "power": (
        Unit("kw", "kW"),
        Unit("hp", "hp", HORSEPOWER_KW),
        Unit("ps", "PS", METRIC_HORSEPOWER_KW),
    ),
    "torque": (Unit("nm", "Nm"), Unit("lbft", "lb ft", POUND_FOOT_NM)),
    "pressure": (Unit("bar", "bar"), Unit("psi", "psi", PSI_BAR), Unit("kpa", "kPa", 0.01)),
    "air_pressure": (Unit("hpa", "hPa"), Unit("inhg", "inHg", INCH_MERCURY_HPA)),
    "volume": (
        Unit("l", "l"),
        Unit("usgal", "US gal", US_GALLON_L),
        Unit("impgal", "imp gal", IMPERIAL_GALLON_L),
    ),
}
#: Round speeds that vehicles are timed by, in each unit: two from and to rest, and a roll.
ROUND_SPEEDS: dict[str, tuple[float, float, float, float]] = {
    "kmh": (100.0, 200.0, 80.0, 120.0),
    "mph": (60.0, 120.0, 50.0, 70.0),
}
#: What is shown in the company of something else: by that one's key.
FOLLOWS: dict[Kind, tuple[Kind, dict[str, Unit]]] = {
    "wind": ("speed", {"kmh": Unit("ms", "m/s"), "mph": Unit("mph", "mph", MS_PER_MPH)}),
    "force": (
        "mass",
        {"kg": Unit("kn", "kN", 1000.0), "lb": Unit("lbf", "lbf", POUND_FORCE_N)},
    ),
    "load": ("mass", {"kg": Unit("n", "N"), "lb": Unit("lbf", "lbf", POUND_FORCE_N)}),
    "dimension": (
        "length",
        {"m": Unit("m", "m"), **dict.fromkeys(("ft", "yd"), Unit("in", "in", INCH_M))},
    ),
}
#: The units of figures in documents.
DOCUMENT_UNITS: dict[Kind, str] = {
    **{kind: some[0].symbol for kind, some in CHOICES.items()},
    "speed": "m/s",
    "wind": "m/s",
    "force": "N",
    "load": "N",
    "dimension": "m",
}
#: Presets, by name: the units that are usual together, one key for each kind with a choice.
PRESETS: dict[str, str] = {
    "metric": "m kmh c kg kw nm bar hpa l",
    "feet": "ft mph f lb hp lbft psi inhg usgal",
    "yards": "yd mph c kg hp lbft psi hpa l",
}


#: What each preset and each kind with a choice is called.
PRESET_LABELS = {
    "metric": "Metric: km/h, m, °C, kg, kW, bar",
    "feet": "US: mph, ft, °F, lb, hp, psi",
    "yards": "UK: mph, yd, °C, kg, hp, psi",
}
KIND_LABELS: dict[Kind, str] = {
    "length": "Distances",
    "speed": "Speeds",
    "temperature": "Temperatures",
    "mass": "Masses",
    "power": "Power",
    "torque": "Torque",
    "pressure": "Tyre and brake pressures",
    "air_pressure": "Air pressure",
    "volume": "Fuel volume",
}


@lru_cache(maxsize=256)
def system(units: Units) -> dict[Kind, Unit]:
    """The unit of each kind. Raises ValueError for what is no setting of units."""
    preset, *single = units.split(".")
    if preset not in PRESETS:
        raise ValueError(f"units are {', '.join(PRESETS)}, followed by single units")
    found: dict[Kind, Unit] = {}
    keys = PRESETS[preset].split()
    known = {unit.key for some in CHOICES.values() for unit in some}
    if not set(single) <= known:
        unknown = ", ".join(sorted(set(single) - known))
        raise ValueError(f'no unit is called "{unknown}"; known are {", ".join(sorted(known))}')
    for kind, some in CHOICES.items():
        usual = next(unit for unit in some if unit.key in keys)
        found[kind] = next((unit for unit in some if unit.key in single), usual)
    for kind, (leading, following) in FOLLOWS.items():
        found[kind] = following[found[leading].key]
    return found


def checked(units: Units) -> Units:
    """A setting of units as it stands. Raises ValueError for what is none."""
    system(units)
    return units


def shown(value: float, kind: Kind, units: Units) -> float:
    """A figure of a document as it is shown in some units."""
    return system(units)[kind].shown(value)


def shown_difference(value: float, kind: Kind, units: Units) -> float:
    """A difference of two figures of a document as it is shown: without the zero of a scale."""
    return value / system(units)[kind].size


def unit_of(kind: Kind, units: Units) -> str:
    """The unit that a kind of figure is shown in."""
    return system(units)[kind].symbol


def metres_per(units: Units) -> float:
    """Metres for each unit of length."""
    return system(units)["length"].size
