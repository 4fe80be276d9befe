"""The ground beside a road's middle: blended where it would have an edge, and nowhere else."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.line.ground import BLEND_M, Ground, at_nodes, blended, ground_of, slopes_under
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight

RING = Circuit(
    "ring",
    True,
    (
        Straight(120.0, grade_pct=4.0),
        Bend("T1", 1, 40.0, 180.0, banking_deg=6.0, transition_m=15.0),
        Straight(120.0, grade_pct=-4.0),
        Bend("T2", 1, 40.0, 180.0, transition_m=15.0),
    ),
    grade_blend_m=40.0,
)


@given(
    value=st.floats(-5.0, 5.0),
    closed=st.booleans(),
    count=st.integers(12, 200),
)
def test_what_does_not_change_is_left_alone(value: float, closed: bool, count: int) -> None:
    at = np.linspace(0.0, 2.0 * count, count)
    np.testing.assert_allclose(blended(at, np.full(count, value), closed), value, atol=1e-9)


def test_a_step_becomes_a_ramp_as_long_as_the_blend() -> None:
    at = np.arange(0.0, 201.0)
    step = np.where(at < 100.0, 0.0, 1.0)
    found = blended(at, step, False)
    assert found[at <= 100.0 - 0.5 * BLEND_M - 1.0] == pytest.approx(0.0, abs=1e-12)
    assert found[at >= 100.0 + 0.5 * BLEND_M + 1.0] == pytest.approx(1.0, abs=1e-12)
    assert (np.diff(found) >= -1e-12).all()
    assert np.diff(found).max() == pytest.approx(1.0 / BLEND_M, rel=1e-9)


def test_what_turns_a_ring_is_kept_whole() -> None:
    """Blending moves no turning: round the ring the bend still adds up to a full turn."""
    road = build_path(RING, 2.0)
    ground = ground_of(road)
    turned = np.trapezoid(ground.bend, road.s_m)
    assert turned == pytest.approx(2.0 * np.pi, rel=2e-3)
    # Seen from any place it is the same ring: both ends are one node.
    assert ground.bend[0] == pytest.approx(ground.bend[-1], abs=1e-12)
    assert ground.twist[0] == pytest.approx(ground.twist[-1], abs=1e-12)


def test_a_blend_across_the_line_of_a_ring() -> None:
    at = np.arange(0.0, 101.0)
    step = np.where((at < 5.0) | (at > 95.0), 1.0, 0.0)
    found = blended(at, step, True)
    assert found[0] == pytest.approx(found[-1], abs=1e-12)
    assert found[0] == pytest.approx(10.0 / BLEND_M, abs=0.06)
    assert found[50] == pytest.approx(0.0, abs=1e-12)


def test_a_node_between_two_steps_belongs_to_both() -> None:
    first, last = np.array([1.0, 3.0, 5.0]), np.array([2.0, 4.0, 6.0])
    np.testing.assert_allclose(at_nodes(first, last, False), [1.0, 2.5, 4.5, 6.0])
    np.testing.assert_allclose(at_nodes(first, last, True), [3.5, 2.5, 4.5, 3.5])


@given(offset=st.floats(-5.0, 5.0), xi=st.floats(-0.3, 0.3))
def test_on_level_ground_no_line_climbs_or_leans(offset: float, xi: float) -> None:
    level = Ground(rise=0.0, tilt=0.0, twist=0.0, bend=0.02)
    grade, bank = slopes_under(level, offset, np.cos(xi), np.sin(xi))
    assert (grade, bank) == (pytest.approx(0.0), pytest.approx(0.0))


@given(tilt=st.floats(-0.2, 0.2), xi=st.floats(0.01, 0.3))
def test_who_crosses_a_bank_gains_the_height_he_crosses(tilt: float, xi: float) -> None:
    banked = Ground(rise=0.0, tilt=tilt, twist=0.0, bend=0.0)
    up, _ = slopes_under(banked, 0.0, np.cos(xi), np.sin(xi))
    down, _ = slopes_under(banked, 0.0, np.cos(-xi), np.sin(-xi))
    assert up == pytest.approx(tilt * np.sin(xi), abs=1e-15)
    assert down == pytest.approx(-up, abs=1e-15)


@given(rise=st.floats(-0.1, 0.1), bend=st.floats(-0.02, 0.02), offset=st.floats(-6.0, 6.0))
def test_the_inner_side_of_a_bend_is_shorter_and_so_steeper(
    rise: float, bend: float, offset: float
) -> None:
    ground = Ground(rise=rise, tilt=0.0, twist=0.0, bend=bend)
    grade, _ = slopes_under(ground, offset, 1.0, 0.0)
    assert grade == pytest.approx(rise / (1.0 - offset * bend), rel=1e-12, abs=1e-15)
    if offset * bend > 0.0:
        assert abs(grade) >= abs(rise)
