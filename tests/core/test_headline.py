"""What a change of one figure does to the rest."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.car.headline import radius_change
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight


def end_of(before: float, bend: Bend, after: float) -> tuple[float, float, float]:
    """Where a straight, a bend and a straight end up: x, y and heading."""
    path = build_path(Circuit("c", False, (Straight(before), bend, Straight(after))))
    return float(path.x_m[-1]), float(path.y_m[-1]), float(path.heading_rad[-1])


@given(
    angle=st.floats(20.0, 150.0),
    radius=st.floats(20.0, 60.0),
    new_radius=st.floats(20.0, 60.0),
)
def test_a_new_radius_keeps_the_directions_and_the_end_of_the_road(
    angle: float, radius: float, new_radius: float
) -> None:
    old, new = Bend("T1", 1, radius, angle), Bend("T1", 1, new_radius, angle)
    effect = radius_change(old, new, 400.0, 300.0)
    x, y, heading = end_of(400.0, old, 300.0)
    moved = end_of(400.0 + effect.straight_change_m, new, 300.0 + effect.straight_change_m)
    assert moved == pytest.approx((x, y, heading), abs=5e-3)


def test_the_tangent_points_move_by_the_tangent_of_half_the_angle() -> None:
    effect = radius_change(Bend("T1", 1, 50.0, 90.0), Bend("T1", 1, 60.0, 90.0), 200.0, 200.0)
    assert effect.straight_change_m == pytest.approx(-10.0 * math.tan(math.radians(45.0)))
    assert effect.corner_change_m == pytest.approx(10.0 * math.pi / 2)


@pytest.mark.parametrize(
    ("angle", "before", "after"), [(170.0, 500.0, 500.0), (90.0, 5.0, 500.0), (90.0, 500.0, 0.0)]
)
def test_straights_are_held_where_they_cannot_give(
    angle: float, before: float, after: float
) -> None:
    old, new = Bend("T1", 1, 50.0, angle), Bend("T1", 1, 70.0, angle)
    effect = radius_change(old, new, before, after)
    assert effect.straight_change_m == 0.0
    assert effect.corner_change_m == pytest.approx(20.0 * math.radians(angle))
