"""Points made into laps, a smooth line, straights and corners: what is put in comes out."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import InputRefused
from neapfrost.core.measured.crossings import find_crossings
from neapfrost.core.measured.guesses import corners_of
from neapfrost.core.measured.segments import Fitted, fit_segments
from neapfrost.core.measured.smoothing import (
    SmoothLine,
    design,
    make_basis,
    smooth_heights,
    smooth_line,
)
from neapfrost.core.measured.track import (
    Track,
    find_laps,
    refuse_bad_track,
    taken_together,
    without_repeats,
)
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.path.plan_view import segment_length_m

RING = Circuit(
    "ring",
    True,
    (
        Straight(300.0),
        Bend("T1", -1, 60.0, 90.0, transition_m=8.0),
        Straight(200.0),
        Bend("T2", -1, 35.0, 90.0, transition_m=8.0),
        Straight(325.0 - 0.0),
        Bend("T3", -1, 35.0, 90.0, transition_m=8.0),
        Straight(200.0),
        Bend("T4", -1, 60.0, 90.0, transition_m=8.0),
        Straight(25.0),
    ),
)


def logged(
    circuit: Circuit, laps: float, noise_m: float, metres_a_point: float, seed: int = 3
) -> Track:
    """A circuit driven for some laps at one speed, one point a so many metres."""
    path = build_path(circuit, 1.0)
    share = path.s_m / path.length_m
    x = path.x_m - share * (path.x_m[-1] if circuit.closed else 0.0)
    y = path.y_m - share * (path.y_m[-1] if circuit.closed else 0.0)
    at = np.arange(3.0, laps * path.length_m, metres_a_point) % path.length_m
    draw = np.random.default_rng(seed)
    return Track(
        np.interp(at, path.s_m, x) + draw.normal(0.0, noise_m, len(at)),
        np.interp(at, path.s_m, y) + draw.normal(0.0, noise_m, len(at)),
    )


def fitted(track: Track, strength_m: float | None = None) -> tuple[SmoothLine, Fitted]:
    laps = find_laps(track)
    line, _ = smooth_line(track.x_m, track.y_m, laps.at_m, laps.length_m, laps.closed, strength_m)
    return line, fit_segments(line, track.x_m, track.y_m)


def bends_of(fit: Fitted) -> list[Bend]:
    return [segment for segment in fit.segments if isinstance(segment, Bend)]


def middles_m(segments: tuple[Straight | Bend, ...]) -> list[float]:
    at, found = 0.0, []
    for segment in segments:
        length = segment_length_m(segment)
        if isinstance(segment, Bend):
            found.append(at + 0.5 * length)
        at += length
    return found


def closed_ring() -> Circuit:
    """The ring with its last straight made so long that it closes."""
    path = build_path(RING, 0.5)
    # Heading is back where it was; what is missing lies along the first and the second straight.
    first, last = RING.segments[0], RING.segments[4]
    assert isinstance(first, Straight)
    assert isinstance(last, Straight)
    segments = list(RING.segments)
    segments[4] = Straight(last.length_m + float(path.x_m[-1]))
    return Circuit("ring", True, tuple(segments))


def test_the_ring_of_these_tests_closes() -> None:
    assert build_path(closed_ring(), 0.5).closing_gap_m < 0.05


def test_a_clean_log_gives_the_circuit_back() -> None:
    circuit = closed_ring()
    line, fit = fitted(logged(circuit, 3.02, 0.0, 7.3))
    assert fit.rms_m < 0.01
    assert line.s_m[-1] == pytest.approx(build_path(circuit).length_m, rel=2e-3)
    true = [segment for segment in circuit.segments if isinstance(segment, Bend)]
    for found, wanted in zip(bends_of(fit), true, strict=True):
        assert found.turn == wanted.turn
        assert found.radius_m == pytest.approx(wanted.radius_m, rel=0.01)
        assert found.angle_deg == pytest.approx(wanted.angle_deg, abs=0.2)
        assert found.transition_m == pytest.approx(wanted.transition_m, abs=1.5)


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_corners_of_a_noisy_log(seed: int) -> None:
    """1 m of noise and one point every 20 m, 30 laps: 3 % of radius, 5 m of place."""
    circuit = closed_ring()
    track = logged(circuit, 30.3, 1.0, 19.7, seed)
    line, fit = fitted(track)
    true = [segment for segment in circuit.segments if isinstance(segment, Bend)]
    assert fit.rms_m == pytest.approx(1.0, abs=0.08)
    assert len(bends_of(fit)) == len(true)
    for found, wanted in zip(bends_of(fit), true, strict=True):
        assert found.radius_m == pytest.approx(wanted.radius_m, rel=0.03)
        assert found.angle_deg == pytest.approx(wanted.angle_deg, abs=1.0)
    # The log begins 3 m after the line, and so does what was made of it.
    for found_m, wanted_m in zip(middles_m(fit.segments), middles_m(circuit.segments), strict=True):
        assert found_m + 3.0 == pytest.approx(wanted_m, abs=5.0)
    assert line.closed


def test_two_corners_that_smoothing_made_one_are_told_apart() -> None:
    circuit = Circuit(
        "double",
        False,
        (
            Straight(200.0),
            Bend("T1", 1, 30.0, 80.0, transition_m=6.0),
            Straight(30.0),
            Bend("T2", 1, 60.0, 50.0, transition_m=6.0),
            Straight(200.0),
        ),
    )
    track = logged(circuit, 0.999, 0.05, 2.0)
    line, fit = fitted(track, 110.0)
    assert len(corners_of(line)) == 1
    assert [round(b.radius_m) for b in bends_of(fit)] == [30, 60]


def test_laps_are_laid_over_each_other_by_where_they_cross_the_line() -> None:
    circuit = closed_ring()
    length = build_path(circuit).length_m
    laps = find_laps(logged(circuit, 4.5, 0.0, 41.0))
    assert laps.closed
    assert laps.count == 4
    assert laps.length_m == pytest.approx(length, rel=0.02)


def test_one_lap_that_ends_near_its_start_closes_and_another_does_not() -> None:
    circuit = closed_ring()
    assert find_laps(logged(circuit, 0.998, 0.0, 5.0)).closed
    half = find_laps(logged(circuit, 0.5, 0.0, 5.0))
    assert not half.closed
    assert half.gap_m > 100.0


def test_a_circle_keeps_its_radius_under_mild_smoothing_and_loses_it_under_none() -> None:
    angle = np.linspace(0.0, 2.0 * np.pi, 401)[:-1]
    x, y = 80.0 * np.cos(angle), 80.0 * np.sin(angle)
    line, _ = smooth_line(x, y, 80.0 * angle, 160.0 * np.pi, True, 30.0)
    np.testing.assert_allclose(line.curvature_per_m, 1.0 / 80.0, rtol=2e-3)
    assert line.s_m[-1] == pytest.approx(160.0 * math.pi, rel=1e-3)


@settings(max_examples=10)
@given(strength=st.floats(3.0, 150.0), heading=st.floats(0.0, 6.2))
def test_a_straight_line_stays_one_at_any_strength(strength: float, heading: float) -> None:
    at = np.linspace(0.0, 500.0, 101)
    line, _ = smooth_line(
        at * math.cos(heading), at * math.sin(heading), at, 500.0, False, strength
    )
    assert np.abs(line.curvature_per_m).max() < 1e-6
    assert line.rms_m < 1e-6


def test_more_strength_lies_farther_from_the_points_and_bends_less() -> None:
    track = logged(closed_ring(), 3.1, 0.5, 6.0)
    laps = find_laps(track)
    lines = [
        smooth_line(track.x_m, track.y_m, laps.at_m, laps.length_m, True, strength)[0]
        for strength in (15.0, 40.0, 90.0)
    ]
    distances = [line.rms_m for line in lines]
    sharpest = [float(np.abs(line.curvature_per_m).max()) for line in lines]
    assert distances == sorted(distances)
    assert sharpest == sorted(sharpest, reverse=True)


def test_a_wave_of_the_strength_is_halved() -> None:
    """The filter's answer to its own length is a half."""
    length, wave = 4000.0, 80.0
    at = np.arange(0.0, length, 1.0)
    y = np.sin(2.0 * np.pi * at / wave)
    places, heights = smooth_heights(at, y, length, True, wave)
    own = np.sin(2.0 * np.pi * places / wave)
    gain = float((heights @ own) / (own @ own))
    assert gain == pytest.approx(0.5, abs=0.01)


@pytest.mark.parametrize("closed", [True, False])
def test_splines_sum_to_one_and_their_slopes_to_nothing(closed: bool) -> None:
    basis = make_basis(200.0, closed)
    at = np.linspace(0.0, 199.0, 57)
    np.testing.assert_allclose(np.asarray(design(basis, at).sum(axis=1)).ravel(), 1.0, atol=1e-12)
    for derivative in (1, 2):
        slopes = np.asarray(design(basis, at, derivative).sum(axis=1)).ravel()
        np.testing.assert_allclose(slopes, 0.0, atol=1e-10)


def test_a_figure_of_eight_crosses_itself_once() -> None:
    t = np.linspace(0.0, 2.0 * np.pi, 600)[:-1]
    x, y = 200.0 * np.sin(t), 120.0 * np.sin(2.0 * t)
    way = np.concatenate(([0.0], np.cumsum(np.hypot(np.diff(x), np.diff(y)))))
    line, _ = smooth_line(x, y, way, float(way[-1]) + 2.0, True, 10.0)
    crossings = find_crossings(line)
    assert len(crossings) == 1
    apart = crossings[0].second_at_m - crossings[0].first_at_m
    assert apart == pytest.approx(0.5 * line.s_m[-1], rel=0.02)


def test_a_ring_does_not_cross_itself() -> None:
    line, _ = fitted(logged(closed_ring(), 1.0, 0.0, 5.0), 20.0)
    assert find_crossings(line) == ()


def test_points_that_stand_still_are_one() -> None:
    track, kept = without_repeats(
        Track(np.array([0.0, 0.0, 5.0, 5.0, 9.0]), np.zeros(5), np.arange(5.0))
    )
    assert kept.tolist() == [0, 2, 4]
    assert track.z_m is not None
    assert track.z_m.tolist() == [0.0, 2.0, 4.0]


def test_very_many_points_are_averaged_in_groups() -> None:
    track = taken_together(Track(np.arange(1000.0), np.ones(1000)), most=100)
    assert len(track.x_m) == 100
    assert track.x_m[0] == 4.5
    assert track.y_m.tolist() == [1.0] * 100


@pytest.mark.parametrize(
    ("x", "expected"),
    [
        (np.arange(5.0), "only 5 points differ; a road needs at least 10"),
        (np.arange(40.0) * 1e-3, "are these degrees or kilometres read as metres"),
        (
            np.concatenate((np.arange(30.0) * 10.0, 2000.0 + np.arange(30.0) * 10.0)),
            "point 31: the track jumps by 1710 m where 10.0 m is usual",
        ),
    ],
)
def test_what_makes_no_road_is_refused(x: Floats, expected: str) -> None:
    with pytest.raises(InputRefused) as refusal:
        refuse_bad_track(Track(x, np.zeros(len(x))))
    assert expected in str(refusal.value)
