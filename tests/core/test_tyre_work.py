"""The work of the tyres: by hand on a ring and under braking, and shared as the loads are."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, SHORT_LAP, plain_vehicle, ring, road_car
from neapfrost.core.kernels.tyre_work import sliding_share
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import drive_lap, solve
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.race.lanes import Lane, in_lane
from neapfrost.core.race.tyre_work import TyreFigures, corner_work_j, tyre_work

G = 9.80665


@given(st.floats(0.0, 1.0))
def test_slip_is_the_brush_model_s(share: float) -> None:
    """F/F_max = 1 - (1 - σ/σ_lim)³, the other way round."""
    assert 1.0 - (1.0 - sliding_share(1.0 - (1.0 - share) ** 3)) ** 3 == pytest.approx(
        1.0 - (1.0 - share) ** 3, abs=1e-9
    )


def test_at_the_limit_of_a_ring_all_of_the_force_slides_with_the_limit_s_slip() -> None:
    """A plain vehicle on a ring: μ·m·g over the lap's length, times the slip at the limit."""
    radius = 60.0
    lap = solve(Drive(build_path(ring(radius), 2.0), plain_vehicle(), AIR_12, PURE))
    work = tyre_work(lap, TyreFigures(slip_at_limit=0.08))
    expected = 1.5 * 1000.0 * G * 2.0 * np.pi * radius * 0.08
    # Slip goes with the cube root of what is left: a millionth short of the limit is a hundredth.
    assert work.each_j.sum() == pytest.approx(expected, rel=1.5e-2)
    assert work.each_j == pytest.approx([work.each_j.sum() / 4.0] * 4, rel=1e-6)


def test_left_and_right_share_like_the_loads_of_a_ring() -> None:
    """μ·h/track of the weight moves outwards: to the left the right tyre limit it."""
    car = plain_vehicle(cg_height_m=0.25)
    lap = solve(Drive(build_path(ring(60.0), 2.0), car, AIR_12, PURE))
    figures = TyreFigures(0.08, track_width_m=1.5, cg_height_m=0.25, transfer_front=0.5)
    left_front, right_front, left_rear, right_rear = tyre_work(lap, figures).each_j
    share = 0.5 + 1.5 * 0.25 / 1.5
    assert right_front / (left_front + right_front) == pytest.approx(share, abs=0.01)
    assert right_rear / (left_rear + right_rear) == pytest.approx(share, abs=0.01)
    other = solve(
        Drive(
            build_path(Circuit("r", True, (Bend("T1", -1, 60.0, 360.0),)), 2.0), car, AIR_12, PURE
        )
    )
    mirrored = tyre_work(other, figures).each_j
    assert mirrored == pytest.approx([right_front, left_front, right_rear, left_rear], rel=1e-6)


def test_corners_add_up_to_the_lap() -> None:
    driven = drive_lap(Drive(build_path(SHORT_LAP, 2.0), road_car(), AIR_12, PURE))
    work = tyre_work(driven.lap, TyreFigures(0.1, 1.6, 0.42, 0.5))
    assert corner_work_j(driven.lap, work).sum(axis=0) == pytest.approx(work.each_j)
    assert work.total_mj == pytest.approx(work.each_j.sum() / 1e6)
    alone = tyre_work(driven.lap, TyreFigures(0.1))
    assert alone.each_j[0] == pytest.approx(alone.each_j[1])


def banked(radius_m: float, bank_deg: float, grip: float = 1.0) -> float:
    """Time round a banked ring at the limit, closed form: v² = gR(μ + tan β)/(1 - μ tan β)."""
    slope = np.tan(np.radians(bank_deg))
    mu = 1.5 * grip
    speed = np.sqrt(G * radius_m * (mu + slope) / (1.0 - mu * slope))
    return float(2.0 * np.pi * radius_m / speed)


@pytest.mark.parametrize(
    "lane", [Lane("bottom", -4.0, -3.0), Lane("top", 6.0, 4.0, 0.95), Lane("as stated")]
)
def test_a_lane_of_a_banked_ring_takes_what_the_closed_form_says(lane: Lane) -> None:
    stated = ring(100.0, banking_deg=12.0)
    circuit = in_lane(stated, lane)
    lap = solve(Drive(build_path(circuit, 1.0), plain_vehicle(), AIR_12, PURE))
    expected = banked(100.0 + lane.outside_m, 12.0 + lane.bank_change_deg, lane.grip_factor)
    assert lap.lap_time_s == pytest.approx(expected, rel=1e-3)


def test_a_line_that_changes_lanes_ends_in_the_other_one() -> None:
    circuit = Circuit(
        "oval",
        True,
        (
            Straight(200.0),
            Bend("T1", 1, 100.0, 180.0, banking_deg=10.0),
            Straight(200.0),
            Bend("T2", 1, 100.0, 180.0, end_radius_m=90.0),
        ),
    )
    changed = in_lane(circuit, Lane("top", 5.0, 2.0), Lane("bottom", -5.0, -2.0, 0.9))
    first, second = (one for one in changed.segments if isinstance(one, Bend))
    assert (first.radius_m, first.end_radius_m) == (105.0, 95.0)
    assert first.banking_deg == pytest.approx(10.0)
    assert first.grip_factor == pytest.approx(0.95)
    assert (second.radius_m, second.end_radius_m) == (105.0, 85.0)
    assert replace(first, radius_m=1.0).name == "T1"
