"""What a change is charged to, how far it can be trusted, and where two figures are best."""

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, SHORT_LAP, course, ring, road_car
from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.load_sensitivity import loaded_share
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Tyres
from neapfrost.core.studies.bands import TEN_TO_NINETY, Uncertainty, draw
from neapfrost.core.trade.doubt import (
    best_shares,
    drawn_times_s,
    laps_to_see,
    order_is_certain,
    spread,
)
from neapfrost.core.trade.isobars import allowed, isobars, optimum
from neapfrost.core.trade.stretches import stretch_times_s, stretches
from neapfrost.core.trade.weighed import weighed

LINKED = Circuit(
    "linked",
    True,
    (
        Straight(260.0),
        Bend("T1", -1, 40.0, 70.0, transition_m=8.0),
        Straight(6.0),
        Bend("T2", 1, 35.0, 60.0, transition_m=8.0),
        Straight(300.0),
        Bend("T3", -1, 60.0, 120.0, transition_m=8.0),
    ),
)
OPEN = course(Straight(200.0), Bend("T1", 1, 40.0, 90.0), Straight(150.0), start_speed_ms=20.0)


def drive(circuit: Circuit, **changes: object) -> Drive:
    return Drive(build_path(circuit, 2.0), road_car(**changes), AIR_12, PURE, ())


@pytest.mark.parametrize("circuit", [SHORT_LAP, LINKED, OPEN, ring(80.0)], ids=lambda c: c.name)
def test_stretches_follow_each_other_and_make_up_the_lap(circuit: Circuit) -> None:
    lap = drive_lap(drive(circuit))
    cut = stretches(lap)
    for before, after in pairwise(cut):
        assert after.from_m == before.to_m
        assert after.to_m >= after.from_m
    assert cut[-1].to_m - cut[0].from_m == pytest.approx(lap.lap.path.length_m)
    assert stretch_times_s(lap.lap, cut).sum() == pytest.approx(lap.lap.lap_time_s, abs=1e-9)
    corners = [one.corner for one in cut if not one.straight]
    assert corners == list(range(len(lap.corners)))


def test_a_stretch_of_a_corner_begins_where_its_driver_lifts() -> None:
    lap = drive_lap(drive(SHORT_LAP))
    for one in stretches(lap):
        if one.straight:
            continue
        lead = lap.corners[one.corner].brake_start_to_corner_m
        begins = lap.lap.path.corners[one.corner].begins_at_m
        assert one.from_m == pytest.approx(begins - (lead or 0.0), abs=1e-6)
        assert one.to_m == pytest.approx(lap.lap.path.corners[one.corner].ends_at_m, abs=1e-6)


def test_another_lap_over_the_same_stretches_adds_up_to_its_own_time() -> None:
    base = drive_lap(drive(LINKED))
    other = drive_lap(drive(LINKED, mass_kg=1300.0))
    cut = stretches(base)
    change = stretch_times_s(other.lap, cut) - stretch_times_s(base.lap, cut)
    assert change.sum() == pytest.approx(other.lap.lap_time_s - base.lap.lap_time_s, abs=1e-9)


def test_a_lap_is_weighed_by_its_own_figures() -> None:
    lap = drive_lap(drive(SHORT_LAP))
    found = weighed(lap, stretches(lap), [100.0, 200.0])
    assert found.lap_time_s == lap.lap.lap_time_s
    assert found.top_speed_ms == lap.lap.v_ms.max()
    assert [c.min_speed_ms for c in found.corners] == [c.min_speed_ms for c in lap.corners]
    assert found.speeds_ms[0] == pytest.approx(
        np.interp(100.0, lap.lap.s_m, lap.lap.v_ms), abs=0.01
    )


def test_a_difference_is_surer_than_the_laps_it_is_between() -> None:
    base, other = drive(SHORT_LAP), drive(SHORT_LAP, mass_kg=1180.0)
    draws = draw(Uncertainty(), 3, 12, 5)
    base_s, other_s = drawn_times_s(base, draws), drawn_times_s(other, draws)
    found = spread(other_s, base_s)
    assert found is not None
    assert 0.0 < found.change_s < 0.1 * found.lap_s
    assert drawn_times_s(base, draws).tolist() == base_s.tolist()


def test_bands_are_of_a_normal_distribution() -> None:
    times = np.array([60.0, 61.0, 62.0, 63.0, 64.0])
    found = spread(times, times - np.array([0.1, 0.2, 0.3, 0.2, 0.1]))
    assert found is not None
    assert found.lap_s == pytest.approx(TEN_TO_NINETY * math.sqrt(2.5))
    assert found.change_s == pytest.approx(TEN_TO_NINETY * 0.083666, rel=1e-3)
    assert spread(np.array([60.0, np.nan, 61.0]), np.zeros(3)) is None


def test_the_share_of_draws_in_which_a_variant_is_best() -> None:
    times = np.array([[60.0, 61.0, np.nan, 60.0], [61.0, 60.0, 62.0, 60.5]])
    assert best_shares(times).tolist() == [0.5, 0.5]
    assert best_shares(np.full((2, 3), np.nan)).tolist() == [0.0, 0.0]


def test_an_order_is_certain_when_nine_draws_in_ten_agree() -> None:
    gains = np.linspace(0.0, 1.0, 11)
    assert order_is_certain(gains + 0.3, gains)
    wide = np.array([0.2, -0.2] * 6) + 0.1
    assert not order_is_certain(gains[:11] + wide[:11], gains)
    # A mean of 1.2816 standard deviations is the 90th percentile.
    noise = np.array([1.0, -1.0] * 50) / np.array([1.0, -1.0] * 50).std(ddof=1)
    assert order_is_certain(noise + 1.29, np.zeros(100))
    assert not order_is_certain(noise + 1.27, np.zeros(100))
    assert not order_is_certain(np.array([1.0, np.nan, np.nan]), np.zeros(3))


def test_laps_to_see_a_gain() -> None:
    # Two means of n laps differ by scatter · √(2/n): 2·(1.645·0.2/0.1)² = 21.6.
    assert laps_to_see(0.1, 0.2) == 22
    assert laps_to_see(1.0, 0.01) == 1
    assert laps_to_see(0.0, 0.2) is None
    assert laps_to_see(-0.1, 0.2) is None


def bowl(x: Floats, y: Floats) -> Floats:
    return 60.0 + (x[None, :] - 2.0) ** 2 + 0.5 * (y[:, None] - 1.0) ** 2


def test_isobars_of_a_bowl_are_its_ellipses() -> None:
    x, y = np.linspace(0.0, 4.0, 81), np.linspace(-1.0, 3.0, 81)
    lines = isobars(x, y, bowl(x, y))
    assert 5 <= len(lines) <= 12
    for line in lines:
        for piece in line.pieces:
            there = 60.0 + (piece[:, 0] - 2.0) ** 2 + 0.5 * (piece[:, 1] - 1.0) ** 2
            assert there == pytest.approx(line.lap_time_s, abs=0.002)
    assert isobars(x[:1], y, bowl(x[:1], y)) == ()
    assert isobars(x, y, np.full((81, 81), np.nan)) == ()


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.floats(55.0, 70.0), min_size=12, max_size=12),
    st.lists(st.floats(50.0, 80.0), min_size=12, max_size=12),
    st.floats(50.0, 80.0),
)
def test_the_best_that_is_allowed_is_what_a_search_of_all_finds(
    times: list[float], speeds: list[float], bound: float
) -> None:
    lap, top = np.array(times).reshape(3, 4), np.array(speeds).reshape(3, 4)
    fits = allowed((3, 4), [(top, bound)], [])
    found = optimum(lap, fits)
    allowed_times = [t for t, v in zip(times, speeds, strict=True) if v >= bound - 1e-9]
    if not allowed_times:
        assert found is None
    else:
        assert found is not None
        assert lap[found.row, found.column] == min(allowed_times)


def test_a_lap_that_was_not_driven_is_never_the_best_and_keeps_to_no_limit() -> None:
    lap = np.array([[np.nan, 60.0], [59.0, np.nan]])
    fits = allowed((2, 2), [], [(np.array([[1.0, 2.0], [5.0, np.nan]]), 3.0)])
    assert fits.tolist() == [[True, True], [False, False]]
    found = optimum(lap, fits)
    assert found is not None
    assert (found.row, found.column) == (0, 1)


@settings(max_examples=60, deadline=None)
@given(st.floats(0.0, 0.5), st.floats(0.001, 8.0))
def test_friction_over_load_is_the_power_within_a_billionth(exponent: float, ratio: float) -> None:
    car = road_car()
    tyres = Tyres(1.45, 1.5, exponent, 0.32, 0.013)
    case = pack_case(replace(car, tyres=tyres), AIR_12, PURE)
    assert loaded_share(case, ratio) == pytest.approx(max(ratio, 0.05) ** -exponent, rel=3e-9)
