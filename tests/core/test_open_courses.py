"""Hill climbs, roads by stations, patches of grip, and other kinds of drive."""

from dataclasses import replace

import numpy as np
import pytest

from core.builders import AIR_12, SHORT_LAP, course, lap_of, plain_vehicle, road_car
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.facts import SlowStart, lap_facts
from neapfrost.core.lap.record import full_throttle_share, sector_times_s
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Stations, Straight
from neapfrost.core.records import Aero, Brakes, Driver, Tyres, VehicleKind

HILL = course(
    Straight(180.0, grade_pct=6.0),
    Bend("First", 1, 35.0, 80.0, transition_m=8.0, grade_pct=8.0),
    Straight(220.0, grade_pct=10.0),
    Bend("Hairpin", -1, 14.0, 170.0, transition_m=5.0, grade_pct=9.0),
    Straight(300.0, grade_pct=7.0),
)


def test_a_hill_climb_starts_from_standstill_and_ends_on_the_throttle() -> None:
    lap = lap_of(HILL, road_car(), driver=Driver())
    assert lap.v_ms[0] == 0.0
    assert lap.gear[0] == 1
    assert lap.throttle[-2] > 0.0
    assert [corner.action for corner in corner_results(lap, [])] == ["brake", "brake"]
    assert bool(np.all(np.isfinite(lap.t_s)))
    # The launch is bounded by traction: about 0.8 g on the rear axle, less the slope.
    assert 5.0 < lap.ax_ms2[0] < 9.0


def test_a_rolling_start_is_quicker_and_starts_as_it_says() -> None:
    rolling = lap_of(replace(HILL, start_speed_ms=15.0), road_car(), driver=Driver())
    standing = lap_of(HILL, road_car(), driver=Driver())
    assert rolling.v_ms[0] == pytest.approx(15.0)
    assert rolling.lap_time_s < standing.lap_time_s - 1.0


def describe_test_a_start_too_fast_for_the_first_metres_is_lowered_and() -> None:
    road = course(Straight(20.0), Bend("T1", 1, 15.0, 150.0), Straight(200.0), start_speed_ms=60.0)
    lap = lap_of(road, road_car())
    assert lap.v_ms[0] < 30.0
    (first, *_) = [fact for fact in lap_facts(lap, ()) if isinstance(fact, SlowStart)]
    assert first == SlowStart(60.0, float(lap.v_ms[0]))


def test_uphill_shortens_the_braking_that_downhill_lengthens() -> None:
    def distance(grade: float) -> float:
        road = course(
            Straight(700.0, grade_pct=grade),
            Bend("T1", 1, 25.0, 90.0, grade_pct=grade),
            start_speed_ms=30.0,
        )
        (corner,) = corner_results(lap_of(road, road_car(), driver=Driver()), [])
        assert corner.braking_distance_m is not None
        assert corner.brake_start_speed_ms is not None
        # Seen per metre of speed shed, as the three arrive at different speeds.
        shed = corner.brake_start_speed_ms**2 - corner.min_speed_ms**2
        return corner.braking_distance_m / shed

    assert distance(8.0) < distance(0.0) < distance(-8.0)


def test_sectors_add_up_and_cut_where_they_say() -> None:
    circuit = replace(SHORT_LAP, sectors_at_m=(400.0, 800.0))
    lap = lap_of(circuit, road_car(), driver=Driver())
    times = sector_times_s(lap)
    assert sum(times) == pytest.approx(lap.lap_time_s)
    assert times[0] == pytest.approx(float(np.interp(400.0, lap.s_m, lap.t_s)), abs=2e-3)
    assert sector_times_s(lap_of(SHORT_LAP, road_car())) == ()
    assert 0.3 < full_throttle_share(lap) < 0.9


def test_a_slippery_patch_slows_the_corner_it_lies_in_and_no_other() -> None:
    segments = list(SHORT_LAP.segments)
    corner = segments[3]
    assert isinstance(corner, Bend)
    segments[3] = replace(corner, grip_factor=0.8)
    clean = corner_results(lap_of(SHORT_LAP, road_car()), [])
    dusty = corner_results(lap_of(replace(SHORT_LAP, segments=tuple(segments)), road_car()), [])
    assert dusty[1].min_speed_ms < clean[1].min_speed_ms - 2.0
    for other in (0, 2):
        assert dusty[other].min_speed_ms == pytest.approx(clean[other].min_speed_ms, abs=0.02)


def test_the_apex_is_where_the_path_comes_nearest_the_inner_edge() -> None:
    at = np.linspace(0.0, 300.0, 301)
    curvature = np.where((at > 100) & (at < 200), 0.02, 0.0)
    # The path lies furthest to the left, the inside of this left turn, at 170 m.
    offset = 4.0 - np.abs(at - 170.0) / 20.0
    stations = Stations(tuple(at), tuple(curvature), offset_m=tuple(offset))
    (corner,) = build_path(Circuit("late", False, stations=stations, start_speed_ms=20.0)).corners
    assert corner.apex_at_m == pytest.approx(170.0, abs=1.5)


def test_stations_carry_bank_grade_and_grip() -> None:
    at = tuple(float(s) for s in range(0, 401, 10))
    stations = Stations(
        at,
        tuple(0.01 for _ in at),
        bank_left_deg=tuple(5.0 for _ in at),
        grade_pct=tuple(3.0 for _ in at),
        grip_factor=tuple(0.9 for _ in at),
    )
    by_stations = lap_of(Circuit("s", False, stations=stations, start_speed_ms=10.0), road_car())
    bend = Bend("T1", 1, 100.0, np.degrees(4.0), banking_deg=5.0, grade_pct=3.0, grip_factor=0.9)
    by_segments = lap_of(course(bend, start_speed_ms=10.0), road_car())
    assert by_stations.lap_time_s == pytest.approx(by_segments.lap_time_s, rel=1e-6)


def test_four_driven_wheels_launch_quickest_and_front_driven_ones_slowest() -> None:
    times = {
        share: lap_of(
            course(Straight(110.0)),
            road_car(rear_drive_fraction=share, tyres=Tyres(0.9, 0.9, 0.06, 0.32, 0.013)),
        ).lap_time_s
        for share in (0.0, 0.62, 1.0)
    }
    assert times[0.62] < times[1.0] < times[0.0]


def test_ideal_brakes_are_never_longer_than_fixed_ones() -> None:
    for share in (0.5, 0.6, 0.7, 0.8):
        fixed = lap_of(SHORT_LAP, road_car(brakes=Brakes(share, None)))
        ideal = lap_of(SHORT_LAP, road_car(brakes=Brakes(None, None)))
        assert ideal.lap_time_s <= fixed.lap_time_s + 1e-4


def test_a_motorcycle_brakes_and_drives_by_its_lift_limits() -> None:
    rider = plain_vehicle(
        kind=VehicleKind.MOTORCYCLE,
        mass_kg=180.0,
        driver_kg=80.0,
        wheelbase_m=1.42,
        cg_height_m=0.64,
        front_weight_fraction=0.52,
        rear_drive_fraction=1.0,
        brakes=Brakes(1.0, None),
        aero=Aero(0.0, 0.35, 0.5),
    )
    lap = lap_of(SHORT_LAP, rider, AIR_12)
    lowest = float(lap.ax_ms2.min())
    # Nothing but air helps beyond (1 - wf)·L/h.
    bound = -9.80665 * 0.48 * 1.42 / 0.64
    drag = 0.6 * 0.35 * float(lap.v_ms.max()) ** 2 / 260.0
    assert bound - drag - 0.05 < lowest < bound + 0.1
    assert lap.ax_ms2.max() < 9.80665 * 0.52 * 1.42 / 0.64 + 0.2


def speed_on_the_first_straight(wind_from_deg: float | None) -> float:
    """Speed after 200 m of the short lap's first straight, which heads north."""
    wind = AIR_12
    if wind_from_deg is not None:
        wind = replace(AIR_12, wind_speed_ms=10.0, wind_from_deg=wind_from_deg)
    lap = lap_of(replace(SHORT_LAP, north_deg=0.0), road_car(), wind)
    return float(np.interp(200.0, lap.s_m, lap.v_ms))


def test_a_wind_along_the_straight_moves_its_speed_and_one_across_hardly_does() -> None:
    calm = speed_on_the_first_straight(None)
    ahead, behind = speed_on_the_first_straight(0.0), speed_on_the_first_straight(180.0)
    assert ahead < calm - 0.2
    assert behind > calm + 0.2
    for across in (90.0, 270.0):
        # What is left of it comes from the corner before, which heads elsewhere.
        assert ahead < speed_on_the_first_straight(across) < behind
