"""Which reading tells two weathers apart, and from when on."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from neapfrost.core.weather.along_session import Reading

Sign = Literal["rain_mm_h", "wind_from_deg", "wind_speed_ms", "track_temp_c", "air_temp_c"]

#: By so much two readings have to differ before somebody who looks at a station believes them.
TELLING: dict[Sign, float] = {
    "rain_mm_h": 0.2,
    "wind_from_deg": 30.0,
    "wind_speed_ms": 2.0,
    "track_temp_c": 4.0,
    "air_temp_c": 2.5,
}
#: A bearing says nothing while the wind is weaker than this [m/s].
BEARING_FROM_MS = 1.5


@dataclass(frozen=True)
class Sight:
    """The first reading that tells two weathers apart: at which moment, and both values."""

    index: int
    sign: Sign
    values: tuple[float, float]


def first_sight(a: Sequence[Reading], b: Sequence[Reading]) -> Sight | None:
    """The first of two weathers' readings at the same moments that differ by a telling amount.

    The clearest sign where several do at once; None where nothing tells them apart.
    """
    for index, (one, other) in enumerate(zip(a, b, strict=True)):
        found = [(_clear(sign, one, other), sign) for sign in TELLING]
        clear, sign = max(found, key=lambda pair: pair[0])
        if clear >= 1.0:
            return Sight(index, sign, (getattr(one, sign), getattr(other, sign)))
    return None


def turned_deg(before_deg: float, after_deg: float) -> float:
    """How far a bearing has turned, clockwise positive, −180 to 180."""
    return (after_deg - before_deg + 180.0) % 360.0 - 180.0


def _clear(sign: Sign, a: Reading, b: Reading) -> float:
    """How far two readings are apart, in telling amounts."""
    if sign == "wind_from_deg":
        if min(a.wind_speed_ms, b.wind_speed_ms) < BEARING_FROM_MS:
            return 0.0
        return abs(turned_deg(a.wind_from_deg, b.wind_from_deg)) / TELLING[sign]
    apart: float = abs(getattr(a, sign) - getattr(b, sign))
    return apart / TELLING[sign]
