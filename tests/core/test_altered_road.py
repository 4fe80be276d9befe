"""Altered roads: only the steps meant, and the same as a circuit described so."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, SHORT_LAP, road_car, solve_lap
from neapfrost.core.kernels.road import (
    BRAKING,
    CORNER_GEAR,
    DRAG,
    ENTRY,
    GRIP,
    LIFT,
    N2,
    SLOPE,
    TOP_GEAR,
    Y2,
)
from neapfrost.core.lap.altered_road import (
    corner_steps,
    following,
    steps_between,
    steps_leaving,
    with_braking,
    with_corner_gear,
    with_curvature,
    with_grip,
    with_top_gear,
    without_crests,
    without_grade,
)
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.path.build import Path, build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight

HILLY = Circuit(
    "hilly",
    False,
    (
        Straight(200.0, grade_pct=5.0),
        Bend("T1", 1, 40.0, 60.0, grade_pct=-4.0, banking_deg=3.0),
        Straight(150.0, grade_pct=-4.0),
    ),
    start_speed_ms=20.0,
)


@pytest.fixture(scope="module")
def path() -> Path:
    return build_path(SHORT_LAP)


def changed_steps(before: np.ndarray, after: np.ndarray) -> set[int]:
    return set(np.flatnonzero((before != after).any(axis=(1, 2))).tolist())


def test_a_road_left_alone_says_so_everywhere(path: Path) -> None:
    road = pack_road(path)[0]
    assert (road[:, :, (LIFT, DRAG, BRAKING)] == 1.0).all()
    assert (road[:, :, ENTRY] == 0.0).all()
    assert (road[:, :, (CORNER_GEAR, TOP_GEAR)] == -1.0).all()


def test_every_change_stays_on_its_steps_and_leaves_the_road_it_was_given(path: Path) -> None:
    road = pack_road(path)[0]
    kept = road.copy()
    steps = corner_steps(path, 1)
    for altered in (
        with_grip(road, steps, 0.9),
        with_curvature(path, road, steps, 1.1),
        with_braking(road, steps, 0.8, 1.2),
        with_top_gear(road, steps, 4),
    ):
        assert changed_steps(road, altered) == set(steps.tolist())
    gear = with_corner_gear(path, road, 1, 3)
    assert changed_steps(road, gear) == set(steps_leaving(path, 1).tolist())
    assert (gear[steps_leaving(path, 1), 0, CORNER_GEAR] == 2.0).all()
    assert np.array_equal(road, kept)


def test_steps_across_the_line_are_found_in_both_laps(path: Path) -> None:
    length = path.length_m
    across = steps_between(path, length - 5.0, length + 5.0)
    assert set(across.tolist()) == set(steps_between(path, -5.0, 5.0).tolist())
    assert {0, len(path.s_m) - 2} <= set(across.tolist())
    assert len(steps_between(path, 0.0, length)) == len(path.s_m) - 1


def test_every_step_belongs_to_one_corner_at_most_and_those_within_reach_to_one(
    path: Path,
) -> None:
    owned = [set(steps_leaving(path, number).tolist()) for number in range(len(path.corners))]
    assert sum(map(len, owned)) == len(set().union(*owned))
    for number, corner in enumerate(path.corners):
        first = int(np.searchsorted(path.s_m, corner.begins_at_m))
        last = int(np.searchsorted(path.s_m, corner.ends_at_m))
        # A lowest point just before the corner, at its beginning, and just after its end.
        assert {first - 3, first, last - 1, last + 3} <= owned[number]
        assert first - 8 not in owned[number]


@settings(max_examples=30, deadline=None)
@given(factor=st.floats(0.5, 2.0), corner=st.integers(0, 2))
def test_curvature_times_a_factor_is_the_circuit_with_that_radius(
    factor: float, corner: int
) -> None:
    """Of a corner without ramps: the radius over the factor, the same length."""
    segments = list(HILLY.segments)
    bend = segments[1]
    assert isinstance(bend, Bend)
    tighter = replace(bend, radius_m=40.0 / factor, angle_deg=60.0 * factor)
    other = build_path(replace(HILLY, segments=(segments[0], tighter, segments[2])))
    path = build_path(HILLY)
    altered = with_curvature(path, pack_road(path)[0], corner_steps(path, 0), factor)
    expected = pack_road(other)[0]
    assert altered.shape == expected.shape
    assert altered[:, :, (Y2, N2)] == pytest.approx(expected[:, :, (Y2, N2)], abs=1e-12)
    assert 0 <= corner <= 2


def test_without_its_slope_a_hill_is_driven_like_the_level() -> None:
    hill = Circuit("hill", False, (Straight(400.0, grade_pct=8.0),), start_speed_ms=20.0)
    path = build_path(hill)
    every = np.arange(len(path.s_m) - 1)
    road = without_grade(path, pack_road(path)[0], every)
    level = solve_lap(path, road_car(), AIR_12, PURE, road)
    flat = build_path(replace(hill, segments=(Straight(400.0),)))
    assert level.lap_time_s == pytest.approx(
        solve_lap(flat, road_car(), AIR_12, PURE).lap_time_s, abs=1e-9
    )
    assert (road[:, :, SLOPE] == 0.0).all()


def test_without_crests_the_slope_stays_and_the_load_is_even() -> None:
    path = build_path(HILLY)
    every = np.arange(len(path.s_m) - 1)
    road = pack_road(path)[0]
    even = without_crests(path, road, every)
    assert np.array_equal(even[:, :, SLOPE], road[:, :, SLOPE])
    straight = np.abs(path.curvature_start) < 1e-12
    assert np.abs(even[straight][:, 0, N2]).max() < 1e-12
    assert np.abs(road[straight][:, 0, N2]).max() > 1e-4
    turning = ~straight
    bank = path.bank_start[turning]
    assert even[turning][:, 0, Y2] == pytest.approx(
        path.curvature_start[turning] * np.cos(bank), abs=1e-12
    )


def test_behind_another_vehicle_corners_lose_downforce_and_straights_drag(path: Path) -> None:
    road = pack_road(path)[0]
    towed = following(path, road, 0.7, 0.85)
    cornering = np.zeros(len(road), dtype=bool)
    for number in range(len(path.corners)):
        cornering[corner_steps(path, number)] = True
    assert (towed[cornering, :, LIFT] == 0.7).all()
    assert (towed[~cornering, :, LIFT] == 1.0).all()
    assert (towed[cornering, :, DRAG] == 1.0).all()
    assert (towed[~cornering, :, DRAG] == 0.85).all()


@settings(max_examples=12, deadline=None)
@given(
    grip=st.floats(0.6, 1.4),
    braking=st.floats(0.3, 1.0),
    exponent=st.floats(1.0, 3.0),
)
def test_a_lap_never_gains_from_less(grip: float, braking: float, exponent: float) -> None:
    path = build_path(SHORT_LAP)
    road = pack_road(path)[0]
    steps = np.arange(len(road))
    free = replace(road_car(), gearbox=replace(road_car().gearbox, upshift_s=0.0, downshift_s=0.0))

    def lap_s(altered: np.ndarray) -> float:
        found = solve_lap(path, free, AIR_12, PURE, altered).lap_time_s
        assert math.isfinite(found)
        return found

    base = lap_s(road)
    assert lap_s(with_braking(road, steps, share=braking)) >= base - 1e-6
    gripped = lap_s(with_grip(road, steps, grip))
    assert (gripped <= base + 1e-6) if grip >= 1.0 else (gripped >= base - 1e-6)
    bent = lap_s(with_braking(road, steps, exponent=exponent))
    assert (bent <= base + 1e-6) if exponent >= 2.0 else (bent >= base - 1e-6)
    assert (with_grip(road, steps, grip)[:, :, GRIP] == grip * road[:, :, GRIP]).all()
