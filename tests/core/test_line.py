"""Lines between the edges: best where the best is known, never slower than the simpler ones."""

import math
from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, SHORT_LAP, plain_vehicle, ring, road_car, solve_lap
from neapfrost.core.arrays import Floats
from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.record import Lap
from neapfrost.core.line.carry import carried
from neapfrost.core.line.corridor import (
    Corridor,
    EdgeKind,
    EdgeStretch,
    KerbUse,
    corridor,
    dust_grip,
)
from neapfrost.core.line.driven import driven_circuit, driven_line, line_lengths_m
from neapfrost.core.line.fastest import Fastest, Task, fastest_line
from neapfrost.core.line.shape import Shape, centre_line
from neapfrost.core.line.shapes import late_apex, short_way, widest_arcs
from neapfrost.core.line.solver import SETTLED_WITHIN, LineImpossible, Progress
from neapfrost.core.line.widest_arc import widest_arc_radius_m
from neapfrost.core.line.wishes import CornerWish, Hold, turned_share_at_m
from neapfrost.core.path.build import Path, build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Vehicle

HAIRPIN = Circuit(
    "hairpin",
    False,
    (Straight(250.0), Bend("T1", 1, 20.0, 180.0), Straight(250.0)),
    None,
    0.0,
    0.0,
    40.0,
)


def field_of(
    circuit: Circuit, width_m: float = 11.0, step_m: float = 3.0, **more: object
) -> Corridor:
    road = build_path(circuit, step_m)
    half = np.full(len(road.s_m), 0.5 * width_m)
    return corridor(road, half, half, 1.9, **more)  # type: ignore[arg-type]


def lap_on(field: Corridor, circuit: Circuit, shape: Shape, vehicle: Vehicle) -> Lap:
    line = driven_line(field, shape)
    path = build_path(driven_circuit(circuit, line, field.road))
    return solve_lap(path, vehicle, AIR_12, PURE)


def start_speed(field: Corridor, circuit: Circuit, shape: Shape, vehicle: Vehicle) -> Floats:
    lap = lap_on(field, circuit, shape, vehicle)
    speed: Floats = 0.97 * np.interp(driven_line(field, shape).at_m, lap.s_m, lap.v_ms)
    return speed


@cache
def fastest_on(circuit: Circuit, vehicle: Vehicle) -> tuple[Corridor, Shape, Shape]:
    """Corridor, widest arcs and fastest line."""
    field = field_of(circuit)
    widest = widest_arcs(field)
    speed = start_speed(field, circuit, widest, vehicle)
    found = fastest_line(Task(field, vehicle, AIR_12, PURE), Fastest(widest, speed))
    return field, widest, found.shape


def moved(road: Path, shape: Shape, by_m: Floats) -> Shape:
    """A line with its offsets changed by something smooth; heading and curvature follow."""
    bend = centre_line(road).curvature_per_m
    n = shape.offset_m + by_m
    slope = np.gradient(by_m, road.s_m)
    along, before = 1.0 - n * bend, 1.0 - shape.offset_m * bend
    xi = np.arctan((np.tan(shape.heading_rad) * before + slope) / along)
    turned = np.gradient(xi - shape.heading_rad, road.s_m)
    kappa = (shape.curvature_per_m * before / np.cos(shape.heading_rad) + turned) / (
        along / np.cos(xi)
    )
    return Shape(n, xi, kappa)


def bumps(field: Corridor, shape: Shape, height_m: float) -> list[Floats]:
    """Smooth bumps of 60 m along the lap, both ways, kept between the edges."""
    s = field.road.s_m
    found = []
    for centre in np.arange(60.0, s[-1] - 60.0, 45.0):
        bump = np.where(
            np.abs(s - centre) < 30.0, 0.5 + 0.5 * np.cos(np.pi * (s - centre) / 30.0), 0.0
        )
        for sign in (1.0, -1.0):
            n = shape.offset_m + sign * height_m * bump
            if ((n <= field.left_m + 1e-6) & (n >= field.right_m - 1e-6)).all():
                found.append(sign * height_m * bump)
    return found


def bent(field: Corridor, shape: Shape) -> float:
    """∫κ² ds along the line."""
    lengths = np.diff(line_lengths_m(field.road, shape))
    square = shape.curvature_per_m**2
    return float((0.5 * (square[:-1] + square[1:]) * lengths).sum())


def test_no_bump_makes_the_widest_arcs_wider() -> None:
    field = field_of(SHORT_LAP, step_m=2.0)
    widest = widest_arcs(field)
    least = bent(field, widest)
    tried = bumps(field, widest, 0.15)
    assert len(tried) > 10
    for bump in tried:
        assert bent(field, moved(field.road, widest, bump)) > least * (1.0 - 2e-4)


@pytest.mark.parametrize("vehicle", [road_car(), plain_vehicle()], ids=["car", "plain"])
def test_no_bump_makes_the_fastest_line_faster(vehicle: Vehicle) -> None:
    field, _, fastest = fastest_on(SHORT_LAP, vehicle)
    least = lap_on(field, SHORT_LAP, fastest, vehicle).lap_time_s
    tried = bumps(field, fastest, 0.25)
    assert len(tried) > 10
    best = min(
        lap_on(field, SHORT_LAP, moved(field.road, fastest, bump), vehicle).lap_time_s
        for bump in tried
    )
    assert best > least * (1.0 - 5e-4)


def test_lines_in_order_of_their_lap_times() -> None:
    vehicle = road_car()
    field, widest, fastest = fastest_on(SHORT_LAP, vehicle)
    times = [
        lap_on(field, SHORT_LAP, shape, vehicle).lap_time_s
        for shape in (fastest, widest, centre_line(field.road))
    ]
    assert times == sorted(times)
    assert times[0] < 0.995 * times[1]


def test_the_search_ends_in_the_same_place_from_another_start() -> None:
    vehicle = road_car()
    field, _, fastest = fastest_on(SHORT_LAP, vehicle)
    centre = centre_line(field.road)
    speed = start_speed(field, SHORT_LAP, centre, vehicle)
    other = fastest_line(Task(field, vehicle, AIR_12, PURE), Fastest(centre, 0.9 * speed)).shape
    one = lap_on(field, SHORT_LAP, fastest, vehicle).lap_time_s
    assert lap_on(field, SHORT_LAP, other, vehicle).lap_time_s == pytest.approx(one, rel=5e-4)


def test_mirrored_road_mirrored_line() -> None:
    vehicle = road_car()
    mirrored = replace(
        SHORT_LAP,
        segments=tuple(
            replace(s, turn=-s.turn) if isinstance(s, Bend) else s for s in SHORT_LAP.segments
        ),
    )
    field, _, fastest = fastest_on(SHORT_LAP, vehicle)
    mirror, _, other = fastest_on(mirrored, vehicle)
    np.testing.assert_allclose(other.offset_m, -fastest.offset_m, atol=0.02)
    assert lap_on(mirror, mirrored, other, vehicle).lap_time_s == pytest.approx(
        lap_on(field, SHORT_LAP, fastest, vehicle).lap_time_s, rel=2e-4
    )


def test_on_a_flat_ring_with_grip_alone_the_inner_edge_is_fastest() -> None:
    """T = 2π√(R/μg): the shorter way wins, at v² = μgR."""
    circuit, vehicle = ring(60.0), plain_vehicle()
    field, _, fastest = fastest_on(circuit, vehicle)
    np.testing.assert_allclose(fastest.offset_m, field.left_m, atol=0.01)
    radius = 60.0 - field.left_m[0]
    lap = lap_on(field, circuit, fastest, vehicle)
    exact = 2.0 * math.pi * math.sqrt(radius / (1.5 * 9.80665))
    assert lap.lap_time_s == pytest.approx(exact, rel=1e-3)


def test_on_a_ring_with_power_for_one_speed_the_short_way_is_fastest() -> None:
    circuit = ring(300.0)
    field = field_of(circuit)
    short = short_way(field)
    np.testing.assert_allclose(short.offset_m, field.left_m, atol=0.01)
    length = line_lengths_m(field.road, short)[-1]
    assert length == pytest.approx(2.0 * math.pi * (300.0 - field.left_m[0]), rel=1e-5)


def test_a_hairpin_is_entered_wide_clipped_inside_and_left_wide() -> None:
    vehicle = road_car()
    field, _, fastest = fastest_on(HAIRPIN, vehicle)
    road = field.road
    corner = road.corners[0]
    n = fastest.offset_m
    before = (road.s_m > corner.begins_at_m - 60.0) & (road.s_m < corner.begins_at_m)
    inside = (road.s_m > corner.begins_at_m) & (road.s_m < corner.ends_at_m)
    after = (road.s_m > corner.ends_at_m) & (road.s_m < corner.ends_at_m + 80.0)
    assert n[before].min() == pytest.approx(field.right_m[0], abs=0.1)
    assert n[inside].max() == pytest.approx(field.left_m[0], abs=0.1)
    assert n[after].min() == pytest.approx(field.right_m[0], abs=0.1)


def test_power_moves_the_apex_of_a_hairpin_later() -> None:
    def apex_m(vehicle: Vehicle) -> float:
        field, _, fastest = fastest_on(HAIRPIN, vehicle)
        return float(field.road.s_m[np.argmax(fastest.offset_m)])

    car = road_car()
    engine = car.engine
    weak = replace(
        car,
        engine=replace(engine, torque_curve=tuple((n, 0.35 * t) for n, t in engine.torque_curve)),
    )
    assert apex_m(car) > apex_m(weak) + 0.5


def test_late_apex_lies_beyond_sixty_per_cent() -> None:
    field = field_of(SHORT_LAP)
    late = late_apex(field)
    for corner in field.road.corners:
        at = turned_share_at_m(field.road, corner, 0.6)
        inside = (field.road.s_m >= corner.begins_at_m) & (field.road.s_m <= corner.ends_at_m)
        inner = corner.turn * late.offset_m
        apex = field.road.s_m[inside][np.argmax(inner[inside])]
        assert apex >= at - 3.0
    assert bent(field, late) > bent(field, widest_arcs(field))


def test_wishes_hold_the_line_and_the_radius() -> None:
    field = field_of(SHORT_LAP)
    wishes = (CornerWish(0, radius_m=50.0), CornerWish(1, no_later=0.4))
    shape = widest_arcs(field, wishes, (Hold(200.0, -2.0),))
    road = field.road
    corner = road.corners[0]
    inside = (road.s_m >= corner.begins_at_m) & (road.s_m <= corner.ends_at_m)
    assert np.abs(shape.curvature_per_m[inside]).max() == pytest.approx(1.0 / 50.0, rel=1e-6)
    assert shape.offset_m[np.argmin(np.abs(road.s_m - 200.0))] == pytest.approx(-2.0, abs=0.06)
    second = road.corners[1]
    turned = (road.s_m >= second.begins_at_m) & (road.s_m <= second.ends_at_m)
    apex = road.s_m[turned][np.argmax(shape.offset_m[turned])]
    assert apex <= turned_share_at_m(road, second, 0.4) + 3.0


def test_a_wish_that_no_line_can_meet_is_refused() -> None:
    field = field_of(HAIRPIN)
    with pytest.raises(LineImpossible, match="cannot be met"):
        widest_arcs(field, (CornerWish(0, radius_m=400.0),))


def test_progress_tells_of_every_iteration() -> None:
    told: list[tuple[int, float]] = []
    progress = Progress(lambda number, objective, violation, _: told.append((number, violation)))
    widest_arcs(field_of(HAIRPIN), progress=progress)
    assert [number for number, _ in told] == list(range(1, len(told) + 1))
    assert told[-1][1] <= SETTLED_WITHIN


def test_dust_along_the_outer_edge_keeps_the_line_off_it() -> None:
    vehicle = road_car()
    _, _, clean = fastest_on(HAIRPIN, vehicle)
    dust = EdgeStretch(-1, EdgeKind.DUST, 0.0, 560.0, width_m=2.5, grip_factor=0.6)
    field = field_of(HAIRPIN, edges=(dust,))
    widest = widest_arcs(field)
    speed = 0.8 * start_speed(field, HAIRPIN, widest, vehicle)
    dusty = fastest_line(Task(field, vehicle, AIR_12, PURE), Fastest(widest, speed)).shape
    braking = (field.road.s_m > 180.0) & (field.road.s_m < 250.0)
    assert dusty.offset_m[braking].min() > clean.offset_m[braking].min() + 0.5
    assert (
        lap_on(field, HAIRPIN, dusty, vehicle).lap_time_s
        < lap_on(field, HAIRPIN, clean, vehicle).lap_time_s
    )


def test_dust_takes_half_of_its_loss_for_each_side_of_the_vehicle() -> None:
    dust = EdgeStretch(1, EdgeKind.DUST, 0.0, 600.0, width_m=3.0, grip_factor=0.8)
    field = field_of(HAIRPIN, edges=(dust,))
    nodes = np.ones(len(field.road.s_m))
    border = 5.5 - 3.0
    assert dust_grip(field, (border - 3.0) * nodes)[5] == pytest.approx(1.0, abs=1e-6)
    assert dust_grip(field, border * nodes)[5] == pytest.approx(0.9, abs=1e-3)
    assert dust_grip(field, (border + 1.9) * nodes)[5] == pytest.approx(0.8, abs=1e-3)


@pytest.mark.parametrize(
    ("edge", "more_m"),
    [
        (EdgeStretch(1, EdgeKind.KERB, 100.0, 200.0, 1.2, KerbUse.TAKE), 1.2),
        (EdgeStretch(1, EdgeKind.KERB, 100.0, 200.0, 1.2, KerbUse.STRADDLE), 0.6),
        (EdgeStretch(1, EdgeKind.KERB, 100.0, 200.0, 1.2, KerbUse.KEEP_OFF), 0.0),
        (EdgeStretch(1, EdgeKind.WALL, 100.0, 200.0, distance_m=0.7), -0.7),
    ],
)
def test_what_an_edge_allows(edge: EdgeStretch, more_m: float) -> None:
    plain, edged = field_of(HAIRPIN), field_of(HAIRPIN, edges=(edge,))
    inside = (plain.road.s_m >= 100.0) & (plain.road.s_m <= 200.0)
    np.testing.assert_allclose(edged.left_m[inside] - plain.left_m[inside], more_m, atol=1e-12)
    np.testing.assert_array_equal(edged.left_m[~inside], plain.left_m[~inside])
    np.testing.assert_array_equal(edged.right_m, plain.right_m)


def test_a_vehicle_that_does_not_fit_is_refused_with_the_place() -> None:
    wall = EdgeStretch(1, EdgeKind.WALL, 100.0, 120.0, distance_m=9.2)
    with pytest.raises(InputRefused, match=r"at 1\d\d m 1.80 m of the road may be used"):
        field_of(HAIRPIN, edges=(wall,))


@given(inner=st.floats(5.0, 200.0), width=st.floats(1.0, 15.0), angle=st.floats(20.0, 170.0))
def test_widest_arc_touches_both_edges(inner: float, width: float, angle: float) -> None:
    """The arc's centre lies R − Rᵢ from the corner's; the outer edges lie R from it."""
    radius = widest_arc_radius_m(inner, inner + width, angle)
    apart = radius - inner
    to_edge = inner + width + apart * math.cos(math.radians(angle) / 2.0)
    assert radius > inner + width
    assert to_edge == pytest.approx(radius, rel=1e-9)


def test_widest_arc_refuses_what_makes_no_corner() -> None:
    with pytest.raises(ValueError, match="inner radius"):
        widest_arc_radius_m(20.0, 10.0, 90.0)
    with pytest.raises(ValueError, match="between 0 and 360"):
        widest_arc_radius_m(10.0, 20.0, 0.0)


def test_no_line_through_a_corner_is_wider_at_its_tightest_than_the_widest_arc() -> None:
    circuit = Circuit(
        "one corner",
        False,
        (Straight(300.0), Bend("T1", 1, 60.0, 90.0), Straight(300.0)),
        start_speed_ms=30.0,
    )
    field = field_of(circuit, step_m=1.5)
    reach = field.left_m[0]
    widest = widest_arc_radius_m(60.0 - reach, 60.0 + reach, 90.0)
    vehicle = plain_vehicle()
    start = Fastest(widest_arcs(field), np.full(len(field.road.s_m), 30.0))
    shape = fastest_line(Task(field, vehicle, AIR_12, PURE), start).shape
    tightest = 1.0 / np.abs(shape.curvature_per_m).max()
    assert tightest < 1.005 * widest
    assert np.abs(shape.curvature_per_m).max() * (60.0 + reach) < 1.0


def test_the_centre_line_drives_like_the_road_itself() -> None:
    vehicle = road_car()
    field = field_of(SHORT_LAP)
    lap = lap_on(field, SHORT_LAP, centre_line(field.road), vehicle)
    direct = solve_lap(build_path(SHORT_LAP), vehicle, AIR_12, PURE)
    assert lap.lap_time_s == pytest.approx(direct.lap_time_s, rel=3e-4)
    assert lap.path.length_m == pytest.approx(direct.path.length_m, rel=1e-9)
    for corner, road_corner in zip(lap.path.corners, field.road.corners, strict=True):
        assert corner.name == road_corner.name
        assert corner.begins_at_m == pytest.approx(road_corner.begins_at_m, abs=6.0)


def test_a_line_on_a_hill_keeps_the_road_s_height() -> None:
    hill = replace(
        SHORT_LAP,
        segments=tuple(replace(s, grade_pct=3.0) for s in SHORT_LAP.segments),
        closed=False,
    )
    field = field_of(hill)
    line = driven_line(field, widest_arcs(field))
    path = build_path(driven_circuit(hill, line, field.road))
    assert path.z_m[-1] == pytest.approx(field.road.z_m[-1], rel=2e-3)


def test_a_line_is_carried_along_with_its_road() -> None:
    field = field_of(SHORT_LAP)
    shape = widest_arcs(field)
    edges = np.array([0.0, 320.0, field.road.length_m])
    again = carried(shape, field.road.s_m, edges, field.road, edges)
    assert again is shape
    longer = replace(SHORT_LAP, segments=(Straight(340.0), *SHORT_LAP.segments[1:]))
    other = field_of(longer)
    moved_edges = np.array([0.0, 340.0, other.road.length_m])
    kept = carried(shape, field.road.s_m, edges, other.road, moved_edges)
    assert kept is not None
    assert bent(other, kept) == pytest.approx(bent(field, shape), rel=0.02)
    assert carried(shape, field.road.s_m, edges, other.road, np.array([0.0, 1.0])) is None
