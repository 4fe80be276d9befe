"""The fastest line is the fastest, on hills and banks too, or says that it may not be."""

import math
from dataclasses import replace
from functools import cache
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, road_car
from core.displaced_spline import lap_along, quickest_displaced, surface_of
from core.test_line import field_of, lap_on
from neapfrost.core.arrays import Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.line import portfolio
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.driven import driven_line
from neapfrost.core.line.fastest import Fastest, Task, fastest_line
from neapfrost.core.line.ground import Ground, ground_of, slopes_under
from neapfrost.core.line.portfolio import Ended, Quickest, quickest_line
from neapfrost.core.line.shape import Shape, centre_line
from neapfrost.core.line.shapes import late_apex, short_way, widest_arcs
from neapfrost.core.line.solver import LineImpossible, Progress, Strategy
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Vehicle

FLAT = Circuit(
    "flat",
    False,
    (
        Straight(110.0),
        Bend("T1", 1, 40.0, 95.0),
        Straight(70.0),
        Bend("T2", -1, 30.0, 110.0),
        Straight(120.0),
    ),
    start_speed_ms=30.0,
)
HILLY = replace(
    FLAT,
    name="hilly",
    segments=(
        Straight(110.0, grade_pct=8.0),
        Bend("T1", 1, 40.0, 95.0, transition_m=15.0, grade_pct=-8.0),
        Straight(70.0, grade_pct=-8.0),
        Bend("T2", -1, 30.0, 110.0, transition_m=15.0, grade_pct=4.0),
        Straight(120.0, grade_pct=8.0),
    ),
    grade_blend_m=60.0,
)
BANKED = replace(
    FLAT,
    name="banked",
    segments=(
        Straight(110.0),
        Bend("T1", 1, 50.0, 95.0, transition_m=20.0, banking_deg=9.0),
        Straight(70.0),
        Bend("T2", -1, 30.0, 110.0, transition_m=20.0, banking_deg=-3.0),
        Straight(120.0),
    ),
)
ROADS = {"flat": FLAT, "hilly": HILLY, "banked": BANKED}


def search(
    circuit: Circuit, vehicle: Vehicle, field: Corridor, known: dict[str, Shape] | None = None
) -> Quickest:
    def clock(shape: Shape) -> tuple[float, Floats]:
        lap = lap_on(field, circuit, shape, vehicle)
        return lap.lap_time_s, np.interp(driven_line(field, shape).at_m, lap.s_m, lap.v_ms)

    lines = {"widest": widest_arcs(field), "centre": centre_line(field.road), **(known or {})}
    return quickest_line(Task(field, vehicle, AIR_12, PURE), clock, lines)


@cache
def quickest_on(name: str) -> tuple[Corridor, Quickest]:
    field = field_of(ROADS[name], step_m=2.0)
    return field, search(ROADS[name], road_car(), field)


@given(
    east=st.floats(-0.12, 0.12),
    north=st.floats(-0.12, 0.12),
    heading=st.floats(-3.0, 3.0),
    bend=st.floats(-0.03, 0.03),
    offset=st.floats(-6.0, 6.0),
    xi=st.floats(-0.4, 0.4),
)
def test_on_a_plane_a_line_climbs_as_the_plane_does_wherever_it_runs(
    east: float, north: float, heading: float, bend: float, offset: float, xi: float
) -> None:
    """Z = a·x + b·y under a bending road: slope and bank depend on where one heads alone."""
    ahead = east * math.cos(heading) + north * math.sin(heading)
    to_left = north * math.cos(heading) - east * math.sin(heading)
    ground = Ground(rise=ahead, tilt=to_left, twist=-bend * ahead, bend=bend)
    grade, bank = slopes_under(ground, offset, math.cos(xi), math.sin(xi))
    way = heading + xi
    assert grade == pytest.approx(east * math.cos(way) + north * math.sin(way), abs=1e-12)
    across = north * math.cos(way) - east * math.sin(way)
    assert bank == pytest.approx(-across / math.hypot(1.0, grade), abs=1e-12)


def test_the_middle_of_a_road_lies_as_the_road_does() -> None:
    road = build_path(BANKED, 2.0)
    grade, bank = slopes_under(ground_of(road), 0.0, 1.0, 0.0)
    np.testing.assert_allclose(grade, 0.0, atol=1e-12)
    inside = 0.5 * (road.bank_start[1:] + road.bank_end[:-1])
    np.testing.assert_allclose(np.arctan(bank[1:-1]), inside, atol=1e-3)


def test_who_crosses_a_slope_leans_with_it() -> None:
    """Uphill and heading to the left of the fall line, the left side lies lower."""
    uphill = Ground(rise=0.08, tilt=0.0, twist=0.0, bend=0.0)
    _, bank = slopes_under(uphill, 0.0, math.cos(0.2), math.sin(0.2))
    assert bank == pytest.approx(math.sin(0.2) * 0.08, rel=5e-3)


@pytest.mark.parametrize("name", ROADS)
def test_points_on_the_ground_make_the_same_lap(name: str) -> None:
    """The same line laid over the ground point by point: both clocks see the same road.

    Where a bank begins and ends only one of them spreads it over the blend: half a percent there.
    """
    field, found = quickest_on(name)
    controls, offsets = field.road.s_m[::2], found.shape.offset_m[::2]
    again = lap_along(field, surface_of(ROADS[name]), ROADS[name], road_car(), controls, offsets)
    assert again == pytest.approx(found.lap_time_s, rel=6e-3 if name == "banked" else 1.5e-3)


@pytest.mark.parametrize("name", ROADS)
def test_another_search_goes_on_from_the_line_and_finds_no_quicker_one(name: str) -> None:
    field, found = quickest_on(name)
    assert found.ended is Ended.SETTLED
    best = quickest_displaced(field, ROADS[name], road_car(), found.shape, rounds=3)
    assert best > found.lap_time_s * (1.0 - 1e-3)


@pytest.mark.parametrize("name", ROADS)
def test_no_simple_line_is_quicker(name: str) -> None:
    field, found = quickest_on(name)
    for shape in (widest_arcs(field), short_way(field), late_apex(field), centre_line(field.road)):
        assert found.lap_time_s <= lap_on(field, ROADS[name], shape, road_car()).lap_time_s


def times_of(vehicles: list[Vehicle], width_m: float = 11.0) -> list[float]:
    field = field_of(HILLY, width_m, step_m=2.5)
    return [search(HILLY, vehicle, field).lap_time_s for vehicle in vehicles]


def never_slower(times: list[float]) -> bool:
    return all(after <= before * 1.0002 for before, after in pairwise(times))


def test_more_grip_is_never_slower() -> None:
    car = road_car()
    tyres = car.tyres
    stepped = [
        replace(
            car,
            tyres=replace(
                tyres,
                mu_lateral=g * tyres.mu_lateral,
                mu_longitudinal=g * tyres.mu_longitudinal,
            ),
        )
        for g in (0.94, 0.97, 1.0, 1.03)
    ]
    assert never_slower(times_of(stepped))


def test_more_power_is_never_slower() -> None:
    car = road_car()
    curve = car.engine.torque_curve
    stepped = [
        replace(car, engine=replace(car.engine, torque_curve=tuple((n, p * t) for n, t in curve)))
        for p in (0.9, 1.0, 1.1)
    ]
    assert never_slower(times_of(stepped))


def test_a_wider_road_is_never_slower() -> None:
    assert never_slower([times_of([road_car()], width)[0] for width in (7.0, 9.0, 12.0)])


def test_a_search_that_gives_up_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    hasty = ((Strategy("hasty", "monotone", 12), "widest"),)
    monkeypatch.setattr(portfolio, "PLAN", hasty)
    field, best = quickest_on("flat")
    found = search(FLAT, road_car(), field)
    assert found.ended is not Ended.SETTLED
    assert found.lap_time_s >= best.lap_time_s * (1.0 - 2e-4)
    assert [attempt.strategy for attempt in found.attempts] == ["hasty"]
    widest_s = lap_on(field, FLAT, widest_arcs(field), road_car()).lap_time_s
    assert found.lap_time_s <= widest_s


def test_a_search_that_is_not_promising_is_given_up() -> None:
    """At its 6th step this one is well below a thousand seconds, and never below one."""
    field = field_of(FLAT, step_m=2.0)
    start = Fastest(widest_arcs(field), np.full(len(field.road.s_m), 15.0))
    task = Task(field, road_car(), AIR_12, PURE)
    steps: list[int] = []
    told = Progress(lambda number, *_: steps.append(number))
    patient = Strategy("tried", "monotone", 80, promising_by=6, above=1e3)
    found = fastest_line(task, start, told, patient)
    assert found.outcome is not None
    assert found.outcome.settled
    assert steps[-1] > 6
    steps.clear()
    with pytest.raises(LineImpossible, match="user requested stop"):
        fastest_line(task, start, told, replace(patient, above=1.0))
    assert steps[-1] == 6


def test_a_known_line_that_is_quicker_is_kept_and_named(monkeypatch: pytest.MonkeyPatch) -> None:
    hasty = ((Strategy("hasty", "monotone", 12), "centre"),)
    monkeypatch.setattr(portfolio, "PLAN", hasty)
    field, best = quickest_on("flat")
    found = search(FLAT, road_car(), field, {"before": best.shape})
    assert found.ended is Ended.KNOWN_LINE
    assert found.lap_time_s == pytest.approx(best.lap_time_s, rel=1e-12)
    np.testing.assert_array_equal(found.shape.offset_m, best.shape.offset_m)


def test_no_time_left_leaves_the_best_known_line() -> None:
    field, _ = quickest_on("flat")

    def clock(shape: Shape) -> tuple[float, Floats]:
        lap = lap_on(field, FLAT, shape, road_car())
        return lap.lap_time_s, np.full(len(field.road.s_m), 20.0)

    lines = {"widest": widest_arcs(field), "centre": centre_line(field.road)}
    found = quickest_line(Task(field, road_car(), AIR_12, PURE), clock, lines, seconds_most=0.0)
    assert (found.ended, found.attempts) == (Ended.KNOWN_LINE, ())
    assert found.shape is lines["widest"]


def test_lines_that_cannot_be_driven_are_no_lines_to_begin_on() -> None:
    field, _ = quickest_on("flat")

    def clock(shape: Shape) -> tuple[float, Floats]:
        raise LapImpossible("car", "it does not climb the hill")

    task = Task(field, road_car(), AIR_12, PURE)
    with pytest.raises(LapImpossible, match="climb the hill"):
        quickest_line(task, clock, {"centre": centre_line(field.road)})
