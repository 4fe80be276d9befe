"""The path: lengths, headings, banks and grades, from segments and from stations."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import SHORT_LAP, course, lap_of, road_car
from neapfrost.core.errors import InputRefused
from neapfrost.core.path.bends_found import find_corners
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, NamedStretch, Stations, Straight


@given(
    radius=st.floats(15.0, 400.0),
    angle=st.floats(10.0, 300.0),
    share=st.floats(0.0, 0.95),
    end=st.floats(0.5, 2.0),
)
def test_a_corner_turns_its_angle_whatever_its_ramps(
    radius: float, angle: float, share: float, end: float
) -> None:
    transition = share * math.radians(angle) * radius / max(1.0, 1.0 / end) / 2.0
    bend = Bend("T1", -1, radius, angle, end_radius_m=radius * end, transition_m=transition)
    path = build_path(course(Straight(120.0), bend))
    assert math.degrees(path.heading_rad[-1]) == pytest.approx(-angle, rel=1e-9)


@pytest.mark.parametrize("ramp_m", [0.0, 1e-9, 1e-6, 0.9e-3, 1.1e-3, 0.1])
def test_a_ramp_of_next_to_nothing_turns_no_more_than_is_stated(ramp_m: float) -> None:
    bend = Bend("T1", 1, 15.0, 10.0, end_radius_m=30.0, transition_m=ramp_m)
    path = build_path(course(Straight(120.0), bend))
    assert math.degrees(path.heading_rad[-1]) == pytest.approx(10.0, rel=1e-9)


def test_a_half_circle_ends_where_it_should() -> None:
    path = build_path(course(Straight(50.0), Bend("T1", 1, 40.0, 180.0)))
    assert path.length_m == pytest.approx(50.0 + math.pi * 40.0)
    assert (path.x_m[-1], path.y_m[-1]) == pytest.approx((50.0, 80.0), abs=1e-3)


def test_a_full_circle_closes_and_an_odd_ring_says_by_how_much_it_does_not() -> None:
    ring = Circuit("ring", True, (Bend("T1", 1, 50.0, 360.0),))
    assert build_path(ring).closing_gap_m < 1e-3
    odd = Circuit("odd", True, (Straight(30.0), Bend("T1", 1, 50.0, 360.0)))
    assert build_path(odd).closing_gap_m == pytest.approx(30.0, abs=1e-3)


def test_bank_is_full_where_the_corner_is_and_changes_on_the_approach() -> None:
    path = build_path(
        course(Straight(100.0), Bend("T1", 1, 50.0, 90.0, banking_deg=8.0), Straight(60.0))
    )
    middle = 0.5 * (path.s_m[:-1] + path.s_m[1:])
    bank = np.degrees(0.5 * (path.bank_start + path.bank_end))
    corner = path.corners[0]
    inside = (middle > corner.begins_at_m) & (middle < corner.ends_at_m)
    assert bank[inside] == pytest.approx(8.0)
    assert bank[middle < 80.0] == pytest.approx(0.0)
    assert np.interp(90.0, middle, bank) == pytest.approx(4.0, abs=0.05)
    right = build_path(course(Straight(100.0), Bend("T1", -1, 50.0, 90.0, banking_deg=8.0)))
    assert np.degrees(right.bank_end[-1]) == pytest.approx(-8.0)


def test_bank_follows_the_ramp_of_a_corner_that_has_one() -> None:
    bend = Bend("T1", 1, 50.0, 90.0, banking_deg=6.0, transition_m=20.0)
    path = build_path(course(Straight(100.0), bend))
    nodes = path.s_m[:-1]
    at = int(np.searchsorted(nodes, 110.0))
    assert np.degrees(path.bank_start[at]) == pytest.approx(3.0, abs=0.2)
    assert path.curvature_start[at] == pytest.approx(0.01, abs=5e-4)


def test_grades_blend_over_60_m_and_keep_the_height() -> None:
    path = build_path(
        course(Straight(300.0, grade_pct=4.0), Straight(200.0, grade_pct=-6.0), Straight(100.0))
    )
    slope = 0.5 * (path.slope.angle_start + path.slope.angle_end)
    middle = 0.5 * (path.s_m[:-1] + path.s_m[1:])
    assert np.tan(np.interp(260.0, middle, slope)) == pytest.approx(0.04)
    assert np.tan(np.interp(300.0, middle, slope)) == pytest.approx(-0.01, abs=1e-3)
    # The last stretch is 100 m long: the blend before it is at most 50 m.
    assert np.tan(np.interp(474.0, middle, slope)) == pytest.approx(-0.06, abs=1e-4)
    climbed = 300.0 * math.sin(math.atan(0.04)) - 200.0 * math.sin(math.atan(0.06))
    assert path.z_m[-1] == pytest.approx(climbed, abs=0.01)


def test_elevation_points_are_joined_by_a_periodic_spline() -> None:
    length = build_path(SHORT_LAP).length_m
    at = np.linspace(0.0, length, 13)[:-1]
    height = 5.0 * np.sin(2.0 * math.pi * at / length)
    points = tuple(zip(at.tolist(), height.tolist(), strict=True))
    path = build_path(Circuit("hilly", True, SHORT_LAP.segments, elevation=points), 1.0)
    assert path.z_m[-1] - path.z_m[0] == pytest.approx(0.0, abs=1e-3)
    expected = 10.0 * math.pi / length
    assert np.sin(path.slope.angle_start[0]) == pytest.approx(expected, rel=5e-3)


def test_a_cliff_in_the_elevation_is_refused() -> None:
    cliff = Circuit(
        "cliff", False, (Straight(300.0),), elevation=((0.0, 0.0), (100.0, 0.0), (110.0, 60.0))
    )
    with pytest.raises(InputRefused, match=r"circuit\.elevation: the road through these points"):
        build_path(cliff)


@pytest.mark.parametrize("length", [99.0, 50_001.0])
def test_a_lap_too_short_or_too_long_is_refused(length: float) -> None:
    with pytest.raises(InputRefused, match="it must be between 100 m and 50 km"):
        build_path(course(Straight(length)))


def as_stations(circuit: Circuit) -> Stations:
    """The short lap by stations; its ramps make the curvature continuous."""
    path = build_path(circuit, 2.0)
    return Stations(
        at_m=tuple(path.s_m.tolist()),
        curvature_per_m=(*path.curvature_start.tolist(), float(path.curvature_end[-1])),
    )


def test_the_same_path_by_stations_gives_the_same_lap() -> None:
    stations = Circuit("short", True, stations=as_stations(SHORT_LAP))
    by_segments = lap_of(SHORT_LAP, road_car())
    by_stations = lap_of(stations, road_car())
    assert by_stations.lap_time_s == pytest.approx(by_segments.lap_time_s, rel=1e-6)
    found = by_stations.path.corners
    assert [corner.name for corner in found] == ["T1", "T2", "T3"]
    assert [corner.turn for corner in found] == [-1, 1, -1]
    for there, here in zip(found, by_segments.path.corners, strict=True):
        # A corner found by curvature starts at 10 % of its peak, a drawn one with its ramp.
        assert 0.0 <= there.begins_at_m - here.begins_at_m < 2.0
        assert there.apex_at_m == pytest.approx(here.apex_at_m, abs=0.1)


def test_two_peaks_of_one_sign_are_two_corners_only_when_the_dip_is_deep() -> None:
    at = np.linspace(0.0, 300.0, 301)

    def two_peaks(dip: float) -> np.ndarray:
        return np.interp(at, [0, 50, 100, 150, 200, 250, 300], [0, 0, 0.02, 0.02 * dip, 0.02, 0, 0])

    assert len(find_corners(at, two_peaks(0.4), False)) == 2
    assert len(find_corners(at, two_peaks(0.6), False)) == 1
    assert len(find_corners(at, 0.05 * two_peaks(0.4), False)) == 0


def test_a_corner_across_the_line_of_a_closed_path_is_one_corner() -> None:
    at = np.linspace(0.0, 400.0, 401)
    curvature = 0.02 * np.maximum(0.0, np.cos(2.0 * np.pi * at / 400.0))
    (corner,) = find_corners(at, curvature, True)
    assert corner.begins_at_m > 300.0
    assert 400.0 < corner.ends_at_m < 500.0


def test_named_stretches_are_kept_as_named() -> None:
    stations = as_stations(SHORT_LAP)
    named = Stations(
        at_m=stations.at_m,
        curvature_per_m=stations.curvature_per_m,
        corners=(NamedStretch("Hairpin", 880.0, 975.0),),
    )
    path = build_path(Circuit("short", True, stations=named))
    assert [(c.name, c.turn, c.begins_at_m) for c in path.corners] == [("Hairpin", -1, 880.0)]
