"""Radii from measurements: closed forms both ways, sensitivities against finite differences."""

import math
from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import InputRefused
from neapfrost.core.survey.radius import (
    MeasuredRadius,
    radius_from_arc,
    radius_from_chord,
    radius_from_lateral_g,
    radius_from_points,
)

radii = st.floats(8.0, 800.0)
angles = st.floats(8.0, 170.0)


@given(radii, angles)
def test_chord_and_height_of_a_known_arc(radius: float, angle: float) -> None:
    half = math.radians(angle) / 2.0
    found = radius_from_chord(2.0 * radius * math.sin(half), radius * (1.0 - math.cos(half)))
    assert found.radius_m == pytest.approx(radius, rel=1e-9)


@given(radii, angles)
def test_length_and_angle_of_a_known_arc(radius: float, angle: float) -> None:
    found = radius_from_arc(radius * math.radians(angle), angle)
    assert found.radius_m == pytest.approx(radius, rel=1e-12)


@given(radii, angles, st.floats(0.1, 0.9), st.floats(0.0, 360.0))
def test_three_points_of_a_known_arc(
    radius: float, angle: float, share: float, turned: float
) -> None:
    points = tuple(
        (
            200.0 + radius * math.cos(math.radians(turned + at)),
            -70.0 + radius * math.sin(math.radians(turned + at)),
        )
        for at in (0.0, share * angle, angle)
    )
    assert radius_from_points(points).radius_m == pytest.approx(radius, rel=1e-6)


@given(radii, st.floats(10.0, 80.0), st.floats(-10.0, 30.0))
def test_speed_and_lateral_g_on_a_bank(radius: float, speed: float, bank: float) -> None:
    beta = math.radians(bank)
    felt = speed**2 / radius * math.cos(beta) - STANDARD_GRAVITY_MS2 * math.sin(beta)
    found = radius_from_lateral_g(speed, felt / STANDARD_GRAVITY_MS2, bank)
    assert found.radius_m == pytest.approx(radius, rel=1e-9)


def test_a_table_of_hand_worked_radii() -> None:
    # 40 m of chord with 2 m of height: 1600/16 + 1; 30 m/s at 1.5 g on the flat.
    assert radius_from_chord(40.0, 2.0).radius_m == pytest.approx(101.0)
    assert radius_from_lateral_g(30.0, 1.5).radius_m == pytest.approx(61.18, abs=0.01)
    assert radius_from_arc(157.08, 90.0).radius_m == pytest.approx(100.0, abs=0.001)
    assert radius_from_points(((0.0, 0.0), (3.0, 0.0), (0.0, 4.0))).radius_m == pytest.approx(2.5)


def difference(measure: Callable[[float], MeasuredRadius], at: float, unit: float) -> float:
    """Change of the radius for one unit, from a small step both ways."""
    step = 1e-4 * unit
    return (measure(at + step).radius_m - measure(at - step).radius_m) / 2e-4


@pytest.mark.parametrize(
    ("measure", "at", "unit", "which"),
    [
        (lambda h: radius_from_chord(60.0, h), 4.0, 1.0, 0),
        (lambda c: radius_from_chord(c, 4.0), 60.0, 1.0, 1),
        (lambda v: radius_from_lateral_g(v, 1.4, 6.0), 32.0, 1.0 / 3.6, 0),
        (lambda a: radius_from_lateral_g(32.0, a, 6.0), 1.4, 0.1, 1),
        (lambda b: radius_from_lateral_g(32.0, 1.4, b), 6.0, 1.0, 2),
        (lambda y: radius_from_points(((0.0, 0.0), (20.0, y), (70.0, 0.0))), 5.0, 1.0, 0),
        (lambda n: radius_from_arc(n, 75.0), 90.0, 1.0, 0),
        (lambda a: radius_from_arc(90.0, a), 75.0, 1.0, 1),
    ],
)
def test_sensitivities_are_the_slopes(
    measure: Callable[[float], MeasuredRadius], at: float, unit: float, which: int
) -> None:
    told = measure(at).sensitivities[which].radius_m_per_unit
    assert told == pytest.approx(difference(measure, at, unit), rel=1e-3)


@pytest.mark.parametrize(
    ("measure", "why"),
    [
        (lambda: radius_from_chord(0.0, 2.0), "chord_m: 0 was given; more than 0 is expected"),
        (lambda: radius_from_chord(40.0, -1.0), "height_m: -1 was given"),
        (lambda: radius_from_chord(900.0, 1e-3), "which is a straight"),
        (lambda: radius_from_lateral_g(30.0, -0.2, 5.0), "the path is no curve"),
        (lambda: radius_from_points(((0.0, 0.0), (1.0, 1.0))), "2 points were given"),
        (lambda: radius_from_points(((0.0, 0.0), (1.0, 1.0), (2.0, 2.0))), "lie on one line"),
        (lambda: radius_from_points(((0.0, 0.0), (0.0, 0.0), (2.0, 2.0))), "are the same"),
        (lambda: radius_from_arc(10.0, 0.0), "angle_deg: 0 was given"),
    ],
)
def test_measurements_of_no_curve_are_refused(
    measure: Callable[[], MeasuredRadius], why: str
) -> None:
    with pytest.raises(InputRefused, match=why.replace("(", r"\(")):
        measure()
