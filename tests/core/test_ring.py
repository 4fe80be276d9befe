"""Positions on a ring, and which corner a place belongs to."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import plain_vehicle
from neapfrost.core.constants import CORNER_REACH_M
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.path.reach import corners_reached
from neapfrost.core.path.ring import Ring
from neapfrost.core.records import Conditions, Driver

LENGTHS = st.floats(100.0, 20_000.0)
PLACES = st.floats(-60_000.0, 60_000.0)
#: Folding far-off places rounds at this size [m].
ROUNDED_M = 1e-6


@given(length_m=LENGTHS, at_m=PLACES, laps=st.integers(-3, 3))
def test_a_place_is_the_same_in_every_lap(length_m: float, at_m: float, laps: int) -> None:
    ring = Ring(length_m, True)
    here, there = ring.fold(at_m), ring.fold(at_m + laps * length_m)
    assert 0.0 <= here <= length_m
    assert abs(ring.apart(here, there)) < ROUNDED_M


@given(length_m=LENGTHS, from_m=PLACES, to_m=PLACES)
def test_going_ahead_gets_there(length_m: float, from_m: float, to_m: float) -> None:
    ring = Ring(length_m, True)
    reached = ring.fold(from_m + ring.ahead(from_m, to_m))
    assert abs(ring.apart(reached, to_m)) < ROUNDED_M
    assert ring.ahead(from_m, to_m) >= 0.0


@given(length_m=LENGTHS, from_m=PLACES, to_m=PLACES)
def test_apart_is_the_shorter_way_round(length_m: float, from_m: float, to_m: float) -> None:
    ring = Ring(length_m, True)
    apart = ring.apart(from_m, to_m)
    assert abs(apart) <= 0.5 * length_m + ROUNDED_M
    back = ring.apart(to_m, from_m)
    # Half a lap away is as far one way as the other.
    assert abs(apart + back) < ROUNDED_M or abs(abs(apart) - 0.5 * length_m) < ROUNDED_M


@given(length_m=LENGTHS, from_m=PLACES, to_m=PLACES)
def test_on_an_open_course_all_is_plain_subtraction(
    length_m: float, from_m: float, to_m: float
) -> None:
    course = Ring(length_m, False)
    assert course.fold(from_m) == from_m
    assert course.ahead(from_m, to_m) == course.apart(from_m, to_m) == to_m - from_m
    assert course.shifts == (0.0,)
    laps, within = course.laps_and_place(np.array([from_m]))
    assert (laps[0], within[0]) == (0.0, from_m)


@given(length_m=LENGTHS, at_m=PLACES)
def test_laps_and_place_put_together_are_where_one_was(length_m: float, at_m: float) -> None:
    laps, within = Ring(length_m, True).laps_and_place(np.array([at_m]))
    assert laps[0] * length_m + within[0] == pytest.approx(at_m, abs=ROUNDED_M)
    assert laps[0] == np.floor(at_m / length_m)


def test_what_rounding_left_short_of_the_line_is_on_it() -> None:
    ring = Ring(1000.0, True)
    assert ring.fold_exactly(1000.0 - 1e-12) == 0.0
    assert ring.fold_exactly(999.9) == 999.9
    assert Ring(1000.0, False).fold_exactly(1000.0 - 1e-12) == 1000.0 - 1e-12


def two_corners() -> Circuit:
    """A ring with a corner on either end of two straights."""
    half = (
        Straight(400.0),
        Bend("T1", 1, 50.0, 180.0),
        Straight(400.0),
        Bend("T2", 1, 50.0, 180.0),
    )
    return Circuit("oval", True, half)


def test_a_place_belongs_to_the_corner_it_lies_in_or_just_before_or_after() -> None:
    path = build_path(two_corners())
    first, second = path.corners
    reach = CORNER_REACH_M
    at_m = np.array(
        [
            0.5 * (first.begins_at_m + first.ends_at_m),
            first.begins_at_m - 0.9 * reach,
            first.ends_at_m + 0.9 * reach,
            0.5 * (first.ends_at_m + second.begins_at_m),
            second.begins_at_m + 1.0,
            # In the lap after: the same corner.
            first.begins_at_m + 1.0 + path.length_m,
        ]
    )
    found, shift = corners_reached(path, at_m)
    assert found.tolist() == [0, 0, 0, -1, 1, 0]
    for corner, at, by in zip(found, at_m, shift, strict=True):
        if corner >= 0:
            its = path.corners[corner]
            assert its.begins_at_m - reach <= at + by <= its.ends_at_m + reach


def test_where_two_corners_meet_the_one_that_is_led_into_has_the_place() -> None:
    bends = (Bend("T1", 1, 40.0, 90.0), Bend("T2", 1, 80.0, 90.0))
    parts = (Straight(300.0), *bends, Straight(300.0))
    path = build_path(Circuit("two in one", False, parts))
    meeting = path.corners[1].begins_at_m
    found, _ = corners_reached(path, np.array([meeting - 1.0, meeting, meeting + 1.0]))
    assert found.tolist() == [0, 1, 1]


def test_no_corner_no_answer() -> None:
    path = build_path(Circuit("straight on", False, (Straight(500.0),)))
    found, shift = corners_reached(path, np.array([0.0, 250.0]))
    assert found.tolist() == [-1, -1]
    assert shift.tolist() == [0.0, 0.0]


@pytest.mark.parametrize("start_m", [0.0, 200.0, 410.0, 700.0])
def test_a_lap_s_corners_do_not_depend_on_where_the_line_is(start_m: float) -> None:
    """The line may lie in a corner or just behind one; minimum speeds and gears stay."""
    parts = two_corners().segments
    first = parts[0]
    assert isinstance(first, Straight)
    share = start_m / 1000.0
    moved = (
        Straight(first.length_m * (1.0 - share) + 1e-3),
        *parts[1:],
        Straight(first.length_m * share + 1e-3),
    )

    def corners(circuit: Circuit) -> list[tuple[str, float, int]]:
        found = drive_lap(Drive(build_path(circuit), plain_vehicle(), Conditions(), Driver()))
        return [(one.name, one.min_speed_ms, one.gear) for one in found.corners]

    for (name, speed, gear), (other, same, geared) in zip(
        corners(two_corners()), corners(Circuit("oval", True, moved)), strict=True
    ):
        assert (name, gear) == (other, geared)
        assert speed == pytest.approx(same, rel=2e-3)


@given(length_m=LENGTHS, places=st.lists(PLACES, min_size=2, max_size=8))
def test_a_round_trip_is_whole_laps(length_m: float, places: list[float]) -> None:
    """Ahead from place to place and back to the first is a whole number of laps."""
    ring = Ring(length_m, True)
    way = sum(ring.ahead(a, b) for a, b in pairwise([*places, places[0]]))
    assert way / length_m == pytest.approx(round(way / length_m), abs=1e-6)
