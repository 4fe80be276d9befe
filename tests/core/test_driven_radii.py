"""Other driven radii on the same grid, held against the same course built anew with them."""

from dataclasses import replace

import numpy as np
import pytest

from core.builders import AIR_12, lap_of, road_car
from neapfrost.core.car.headline import radius_change
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.driven_radii import redrawn
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.lap.solve import solve
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Driver
from neapfrost.core.studies.bands import Drawn, varied

SEGMENTS: tuple[Straight | Bend, ...] = (
    Straight(220.0),
    Bend("First", -1, 48.0, 100.0, transition_m=10.0),
    Straight(140.0),
    Bend("Round", 1, 30.0, 170.0),
    Straight(180.0),
    Bend("Meets", 1, 60.0, 60.0),
    Bend("Follows", -1, 70.0, 50.0, transition_m=6.0),
    Straight(160.0),
)
FACTORS = np.array([1.04, 0.96, 1.03, 0.97])


def course(segments: tuple[Straight | Bend, ...]) -> Circuit:
    return Circuit("course", False, segments, start_speed_ms=20.0)


def anew() -> tuple[Circuit, list[float]]:
    """The course with every radius changed, and by how much each corner begins earlier [m]."""
    segments = list(SEGMENTS)
    earlier: list[float] = []
    for number, segment in enumerate(SEGMENTS):
        if not isinstance(segment, Bend):
            continue
        new = replace(segment, radius_m=segment.radius_m * FACTORS[len(earlier)])
        beside = [
            one.length_m if isinstance(one, Straight) else 0.0
            for one in (SEGMENTS[number - 1], SEGMENTS[number + 1])
        ]
        change = radius_change(segment, new, *beside).straight_change_m
        for place in (number - 1, number + 1):
            straight = segments[place]
            if isinstance(straight, Straight):
                segments[place] = replace(straight, length_m=straight.length_m + change)
        segments[number] = new
        earlier.append(-change)
    return course(tuple(segments)), earlier


def test_it_drives_as_the_course_built_anew() -> None:
    truth, earlier = anew()
    built = lap_of(truth, road_car(), driver=Driver())
    drive = lap_of(course(SEGMENTS), road_car(), driver=Driver()).drive
    drive, at_m = varied(drive, Drawn(1.0, 1.0, 1.0, (0.0, 0.0), FACTORS))
    lap = solve(drive)
    assert float(lap.solved.lap_time_s) == pytest.approx(built.lap_time_s, abs=0.025)
    for corner, moved, was in zip(
        corner_results(built, []), earlier, drive.path.corners, strict=True
    ):
        lowest = lap.v_ms[(lap.s_m >= was.begins_at_m) & (lap.s_m <= was.ends_at_m)].min()
        assert corner.min_speed_ms == pytest.approx(lowest, abs=0.02)
        if corner.brake_start_to_corner_m is None:
            continue
        # Where it stands on the road: measured from where the corner began before.
        told_m = corner.brake_start_to_corner_m + moved
        starts = np.interp([zone.brake_start_at_m for zone in lap.zones], drive.path.s_m, at_m)
        assert np.abs(was.begins_at_m - told_m - starts).min() < 0.35


def test_it_keeps_turned_angles_and_what_has_no_room() -> None:
    path = build_path(course(SEGMENTS))
    road, lengths = pack_road(path)
    other = redrawn(path, road, FACTORS)
    curvature = 0.5 * (path.curvature_start + path.curvature_end)
    for corner, factor in zip(path.corners, FACTORS, strict=True):
        middle = 0.5 * (path.s_m[1:] + path.s_m[:-1])
        inside = (middle > corner.begins_at_m) & (middle < corner.ends_at_m)
        turned = (curvature * lengths)[inside].sum()
        assert (curvature / factor * other.lengths_m)[inside].sum() == pytest.approx(turned)
    # The hairpin and the two that meet keep their ends; the first corner begins earlier.
    moved = np.interp([c.begins_at_m for c in path.corners], path.s_m, other.at_m - path.s_m)
    assert moved[0] == pytest.approx(-0.04 * 48.0 * np.tan(np.radians(50.0)), rel=0.05)
    assert moved[1:] == pytest.approx([0.0, 0.0, 0.0], abs=1e-9)
    same = redrawn(path, road, np.ones(4))
    assert np.array_equal(same.lengths_m, lengths)
    assert np.array_equal(same.road, road)


def test_a_corner_across_the_line_moves_on_both_sides_of_it() -> None:
    segments = (
        Bend("Line", 1, 50.0, 90.0),
        Straight(150.0),
        Bend("T2", 1, 50.0, 90.0),
        Straight(150.0),
        Bend("T3", 1, 50.0, 90.0),
        Straight(150.0),
        Bend("T4", 1, 50.0, 90.0),
        Straight(150.0),
    )
    path = build_path(Circuit("square", True, segments))
    road, lengths = pack_road(path)
    other = redrawn(path, road, np.array([1.1, 1.0, 1.0, 1.0]))
    shift = 0.1 * 50.0
    assert other.at_m[0] == pytest.approx(-shift)
    assert other.at_m[-1] == pytest.approx(path.length_m - shift)
    arc = 0.1 * 50.0 * np.pi / 2.0
    assert other.lengths_m.sum() - lengths.sum() == pytest.approx(arc - 2.0 * shift)


def test_air_is_the_one_of_the_plan() -> None:
    drive = lap_of(course(SEGMENTS), road_car()).drive
    other, _ = varied(drive, Drawn(0.9, 1.0, 1.0, (0.0, 0.0), np.ones(4)))
    assert other.conditions.grip_factor == pytest.approx(0.9 * AIR_12.grip_factor)
