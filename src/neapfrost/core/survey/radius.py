"""A corner's radius from what can be measured, and how far each measurement moves it."""

import math
from dataclasses import dataclass

from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.units import KMH_PER_MS

STRAIGHT_FROM_M = 20_000.0


@dataclass(frozen=True)
class Sensitivity:
    """How many metres of radius go with one unit more of a measurement."""

    measurement: str
    unit: str
    radius_m_per_unit: float


@dataclass(frozen=True)
class MeasuredRadius:
    """A radius [m], the formula it comes from, and its sensitivities."""

    radius_m: float
    formula: str
    sensitivities: tuple[Sensitivity, ...]


def radius_from_chord(chord_m: float, height_m: float) -> MeasuredRadius:
    """Radius of an arc from its chord and the height over the chord's middle [m].

    R = c²/8h + h/2, from the intersecting chords (Euclid, Elements III.35). Raises InputRefused
    when one is not positive, or the height is more than half of the chord of a half circle allows.
    """
    _positive(chord_m=chord_m, height_m=height_m)
    radius = chord_m**2 / (8.0 * height_m) + 0.5 * height_m
    return _measured(
        radius,
        "R = c²/(8h) + h/2",
        Sensitivity("height", "m", 0.5 - chord_m**2 / (8.0 * height_m**2)),
        Sensitivity("chord", "m", chord_m / (4.0 * height_m)),
    )


def radius_from_lateral_g(
    speed_ms: float, lateral_g: float, bank_deg: float = 0.0
) -> MeasuredRadius:
    """Radius driven at a speed [m/s] with a lateral acceleration [g] across the car's own floor.

    On a bank β (positive where it helps) the car's sensor reads a = v²/R·cos β - g·sin β, so
    R = v²·cos β/(g·(a + sin β)). Raises InputRefused when that is no curve to the inside.
    """
    _positive(speed_ms=speed_ms)
    bank = math.radians(bank_deg)
    pull = lateral_g + math.sin(bank)
    if pull <= 0.0:
        raise InputRefused(
            [
                Fault(
                    "lateral_g",
                    f"{lateral_g:g} g was given; on this bank more than {-math.sin(bank):.3f} g is "
                    "expected, or the path is no curve",
                )
            ]
        )
    radius = speed_ms**2 * math.cos(bank) / (STANDARD_GRAVITY_MS2 * pull)
    slope = -(speed_ms**2) / STANDARD_GRAVITY_MS2 * (1.0 + lateral_g * math.sin(bank)) / pull**2
    return _measured(
        radius,
        "R = v²·cos β/(g·(a + sin β))",
        Sensitivity("speed", "km/h", 2.0 * radius / speed_ms / KMH_PER_MS),
        Sensitivity("lateral acceleration", "0.1 g", -0.1 * radius / pull),
        Sensitivity("bank", "°", math.radians(1.0) * slope),
    )


def radius_from_points(points_m: tuple[tuple[float, float], ...]) -> MeasuredRadius:
    """Radius of the circle through three points of a map, (x, y) [m].

    R = abc/4K with the triangle's sides and area. Raises InputRefused when there are not three,
    two are the same, or they lie on a line.
    """
    if len(points_m) != 3:
        raise InputRefused(
            [Fault("points_m", f"{len(points_m)} points were given; three are expected")]
        )
    first, middle, last = points_m
    sides = (math.dist(first, middle), math.dist(middle, last), math.dist(first, last))
    if min(sides) == 0.0:
        raise InputRefused(
            [Fault("points_m", "two of the points are the same; three places are expected")]
        )
    cross = (middle[0] - first[0]) * (last[1] - first[1]) - (middle[1] - first[1]) * (
        last[0] - first[0]
    )
    twice_area = abs(cross)
    if twice_area == 0.0:
        raise InputRefused(
            [Fault("points_m", "the points lie on one line; three points of a curve are expected")]
        )
    radius = sides[0] * sides[1] * sides[2] / (2.0 * twice_area)
    # One metre of the middle point, away from the line through the others.
    chord = sides[2]
    height = twice_area / chord
    along = _along(first, middle, last)
    slope = _offset_slope(along, chord - along, height)
    return _measured(
        radius,
        "R = abc/(4K)",
        Sensitivity("middle point, outwards", "m", slope),
    )


def radius_from_arc(length_m: float, angle_deg: float) -> MeasuredRadius:
    """Radius of an arc from its length [m] and the angle it turns through [degrees]: R = L/θ.

    Raises InputRefused when one is not positive.
    """
    _positive(length_m=length_m, angle_deg=angle_deg)
    angle = math.radians(angle_deg)
    radius = length_m / angle
    return _measured(
        radius,
        "R = L/θ",
        Sensitivity("length", "m", 1.0 / angle),
        Sensitivity("angle", "°", -radius / angle_deg),
    )


def _along(
    first: tuple[float, float], middle: tuple[float, float], last: tuple[float, float]
) -> float:
    chord = math.dist(first, last)
    return (
        (middle[0] - first[0]) * (last[0] - first[0])
        + (middle[1] - first[1]) * (last[1] - first[1])
    ) / chord


def _offset_slope(before: float, after: float, height: float) -> float:
    """dR/dh of the circle through both ends of a chord and a point h over it.

    R² = (c/2)² + q² with the centre's distance q = (h² - uv)/2h from the chord, u + v = c.
    """
    half = 0.5 * (before + after)
    q = (height**2 - before * after) / (2.0 * height)
    radius = math.hypot(half, q)
    return q / radius * 0.5 * (1.0 + before * after / height**2)


def _measured(radius: float, formula: str, *sensitivities: Sensitivity) -> MeasuredRadius:
    if radius > STRAIGHT_FROM_M:
        raise InputRefused(
            [
                Fault(
                    "",
                    f"these measurements make a radius of {metres(radius)}, which is a straight; "
                    f"less than {STRAIGHT_FROM_M / 1000:.0f} km is expected",
                )
            ]
        )
    return MeasuredRadius(radius, formula, sensitivities)


def _positive(**figures: float) -> None:
    faults = [
        Fault(name, f"{value:g} was given; more than 0 is expected")
        for name, value in figures.items()
        if not value > 0.0
    ]
    if faults:
        raise InputRefused(faults)
