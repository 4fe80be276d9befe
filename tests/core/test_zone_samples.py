"""Braking zones on a finished lap, against plain interpolation; and times along it."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, lap_of, road_car
from neapfrost.core.arrays import Floats
from neapfrost.core.kernels import zones as z
from neapfrost.core.kernels.zone_samples import lay_zones, top_speed_w, unfolded_m
from neapfrost.core.lap.light import light
from neapfrost.core.lap.record import Lap, sample_places_m, time_at, zone_starts_m
from neapfrost.core.lap.solve import Solved
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Driver

#: A ring whose line lies so far before the first corner that the lift for it lies before the line.
ACROSS = Circuit(
    "across the line",
    True,
    (
        Straight(60.0),
        Bend("First", 1, 30.0, 90.0),
        Straight(240.0),
        Bend("Second", 1, 60.0, 90.0),
        Straight(180.0),
        Bend("Third", 1, 25.0, 90.0),
        Straight(240.0),
        Bend("Fourth", 1, 45.0, 90.0),
        Straight(250.0),
    ),
)

DRIVER = Driver(brake_ramp_s=0.25, transition_s=0.12, lift_threshold_ms=0.0)


@pytest.fixture(scope="module")
def lap() -> Lap:
    return lap_of(ACROSS, road_car(), AIR_12, DRIVER)


def samples_of(lap: Lap, number: int) -> Floats:
    taken: Floats = lap.solved.samples[number, : lap.solved.rows[number]]
    return taken


def test_one_zone_lies_across_the_line(lap: Lap) -> None:
    count = len(lap.path.s_m) - 1
    laps = [samples_of(lap, number)[[0, -1], z.STEP] // count for number in range(len(lap.zones))]
    assert any(first != last for first, last in laps)


def test_samples_lie_where_their_steps_are_a_lap_on_or_before(lap: Lap) -> None:
    path, count = lap.path, len(lap.path.s_m) - 1
    places = sample_places_m(path, lap.solved)
    for number in range(len(lap.zones)):
        taken = samples_of(lap, number)
        laps, k = np.divmod(taken[:, z.STEP].astype(int), count)
        steps = path.s_m[k + 1] - path.s_m[k]
        expected = path.s_m[k] + taken[:, z.SHARE] * steps + laps * path.length_m
        assert places[number, : len(taken)] == pytest.approx(expected, abs=1e-9)
        assert (np.diff(places[number, : len(taken)]) > 0.0).all()


@given(step=st.integers(-300, 900), share=st.floats(0.0, 1.0))
def test_a_place_a_lap_on_is_a_length_farther(step: int, share: float) -> None:
    nodes = np.concatenate(([0.0], np.cumsum(np.linspace(0.5, 1.5, 120))))
    here, there = (unfolded_m(nodes, step + more, share) for more in (0, 120))
    assert there - here == pytest.approx(nodes[-1], rel=1e-12)
    assert unfolded_m(nodes, step, 1.0) == pytest.approx(unfolded_m(nodes, step + 1, 0.0), abs=1e-9)


def test_zones_begin_with_the_lift_and_brake_a_change_of_pedals_later(lap: Lap) -> None:
    places = sample_places_m(lap.path, lap.solved)
    begins = zone_starts_m(lap.path, lap.packed, lap.solved, places)
    for number, zone in enumerate(lap.zones):
        taken = samples_of(lap, number)
        due = lap.drive.driver.transition_s
        brake = np.interp(due, taken[:, z.TIME], places[number, : len(taken)])
        assert begins[number] == pytest.approx([places[number, 0], brake], abs=1e-9)
        assert (zone.lift_at_m, zone.brake_start_at_m) == tuple(begins[number])
        rolled = zone.brake_start_at_m - zone.lift_at_m
        speed = math.sqrt(taken[0, z.SPEED_W])
        assert 0.9 * speed * due < rolled <= speed * due + 1e-9


def test_lifts_and_ramps_take_the_place_of_the_nodes_they_pass(lap: Lap) -> None:
    solved, count = lap.solved, len(lap.path.s_m) - 1
    w = solved.node_w.copy()
    lay_zones(solved.rows, solved.samples, w)
    expected = solved.node_w.copy()
    for number in range(len(lap.zones)):
        taken = samples_of(lap, number)
        nodes = np.arange(int(taken[0, z.STEP]) + 1, int(taken[-1, z.STEP]) + 1)
        way = taken[:, z.STEP] + taken[:, z.SHARE]
        expected[nodes % count] = np.interp(nodes, way, taken[:, z.SPEED_W])
    expected[count] = expected[0] if w[count] != solved.node_w[count] else expected[count]
    assert w == pytest.approx(expected, rel=1e-12)
    assert w[count] == w[0]
    assert (w <= solved.node_w + 1e-9).all()


def test_without_zones_nothing_is_laid() -> None:
    w = np.linspace(100.0, 200.0, 11)
    lay_zones(np.zeros(3, dtype=np.int64), np.zeros((3, 4, z.SAMPLE_COLUMNS)), w)
    assert w == pytest.approx(np.linspace(100.0, 200.0, 11))


def test_the_top_speed_is_that_of_the_whole_lap(lap: Lap) -> None:
    solved = lap.solved
    found = math.sqrt(top_speed_w(solved.zones, solved.rows, solved.samples, solved.node_w))
    assert found == pytest.approx(lap.v_ms.max(), rel=1e-9)
    few = light(Solved(lap.drive, lap.packed, solved))
    assert few.top_speed_ms == found
    assert few.lap_time_s == lap.lap_time_s


def test_what_lies_beyond_a_lift_is_not_driven() -> None:
    """Full throttle would reach 40 m/s at the crossing; the lift is at 36 m/s."""
    w = np.array([900.0, 1100.0, 1300.0, 1600.0, 1000.0, 900.0])
    zones = np.zeros((1, z.ZONE_COLUMNS))
    zones[0, z.FIRST_STEP] = 2
    samples = np.zeros((1, 2, z.SAMPLE_COLUMNS))
    samples[0, :, z.STEP] = 1, 3
    samples[0, :, z.SPEED_W] = 36.0**2, 1000.0
    rows = np.array([2])
    assert top_speed_w(zones, rows, samples, w) == 36.0**2
    assert top_speed_w(zones, np.zeros(1, dtype=np.int64), samples, w) == 1600.0


@settings(max_examples=60, deadline=None)
@given(share=st.floats(0.0, 1.0))
def test_times_along_a_lap_follow_its_acceleration(lap: Lap, share: float) -> None:
    """Between two points v dv = a ds, and the time is what that takes."""
    at = share * lap.path.length_m
    k = min(int(np.searchsorted(lap.s_m, at, side="right")) - 1, len(lap.s_m) - 2)
    v, a, into = lap.v_ms[k], lap.ax_ms2[k], at - lap.s_m[k]
    reached = math.sqrt(max(v * v + 2.0 * a * into, 0.0))
    taken = (reached - v) / a if abs(a) > 1e-3 else into / v
    assert time_at(lap, np.array([at]))[0] == pytest.approx(lap.t_s[k] + taken, abs=1e-6)


def test_times_at_the_points_are_the_laps_own(lap: Lap) -> None:
    assert time_at(lap, lap.s_m) == pytest.approx(lap.t_s, abs=1e-9)
    assert time_at(lap, np.array([lap.path.length_m]))[0] == pytest.approx(lap.lap_time_s)
