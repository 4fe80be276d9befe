"""Two laps laid over each other: what adds up, what matches, and what cannot be compared."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.builders import course, lap_of, road_car
from neapfrost.core.lap.compare import DrivenLap, compare_laps
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Driver, Tyres


def driven(circuit: Circuit, mu: float = 1.2) -> DrivenLap:
    tyres = Tyres(mu, mu, 0.0, 0.32, 0.013)
    lap = lap_of(circuit, road_car(tyres=tyres), driver=Driver())
    return DrivenLap(lap, corner_results(lap, []))


def ring(first_radius: float = 40.0, straight: float = 300.0) -> Circuit:
    return Circuit(
        "ring",
        True,
        (
            Straight(straight),
            Bend("T1", 1, first_radius, 180.0),
            Straight(straight),
            Bend("T2", 1, 60.0, 180.0),
        ),
        sectors_at_m=(350.0,),
    )


def test_a_lap_against_itself_differs_by_nothing() -> None:
    lap = driven(ring())
    at = np.linspace(0.0, lap.lap.path.length_m, 200)
    difference = compare_laps(lap, lap, at)
    assert difference is not None
    assert difference.lap_s == 0.0
    assert np.abs(difference.time_s).max() < 1e-9
    assert np.allclose(difference.base_speed_ms, np.interp(at, lap.lap.s_m, lap.lap.v_ms))
    assert [corner.time_s for corner in difference.corners] == [0.0, 0.0]
    assert [corner.braking_earlier_m for corner in difference.corners] == [0.0, 0.0]


@settings(max_examples=10)
@given(st.floats(0.9, 1.5), st.floats(25.0, 90.0))
def test_the_corners_and_the_sectors_add_up_to_the_lap(mu: float, radius: float) -> None:
    lap, base = driven(ring(radius), mu), driven(ring())
    at = np.linspace(0.0, lap.lap.path.length_m, 50)
    difference = compare_laps(lap, base, at)
    assert difference is not None
    assert sum(corner.time_s for corner in difference.corners) == pytest.approx(
        difference.lap_s, abs=1e-9
    )
    assert sum(difference.sectors_s) == pytest.approx(difference.lap_s, abs=1e-9)
    assert difference.time_s[0] == pytest.approx(0.0, abs=1e-9)
    assert difference.time_s[-1] == pytest.approx(difference.lap_s, abs=1e-9)


def test_less_grip_is_lost_at_every_corner_and_braked_for_earlier() -> None:
    difference = compare_laps(driven(ring(), 1.0), driven(ring(), 1.2), np.array([0.0]))
    assert difference is not None
    for corner in difference.corners:
        assert corner.time_s > 0.1
        assert corner.min_speed_ms < -1.0
        assert corner.braking_earlier_m is not None
        assert corner.braking_earlier_m > 1.0


def test_a_wider_corner_is_compared_with_itself_though_the_lap_grew() -> None:
    base, wide = driven(ring(40.0)), driven(ring(55.0))
    at = np.array([corner.min_speed_at_m for corner in wide.corners])
    difference = compare_laps(wide, base, at)
    assert difference is not None
    # At the second corner, 47 m farther along now, the base lap is at its own second minimum.
    assert difference.base_speed_ms[1] == pytest.approx(base.corners[1].min_speed_ms, abs=0.15)
    assert difference.corners[1].min_speed_ms == pytest.approx(0.0, abs=0.05)
    assert difference.corners[0].min_speed_ms > 3.0


def test_an_open_course_starts_and_ends_where_it_does() -> None:
    def hill(radius: float) -> DrivenLap:
        return driven(
            course(
                Straight(200.0), Bend("T1", -1, radius, 90.0), Straight(200.0), start_speed_ms=0.0
            )
        )

    difference = compare_laps(hill(40.0), hill(30.0), np.array([0.0]))
    assert difference is not None
    assert len(difference.corners) == 1
    assert difference.corners[0].time_s == pytest.approx(difference.lap_s, abs=1e-9)


def test_other_courses_are_not_laid_over_each_other() -> None:
    other = Circuit("o", True, (Bend("T1", 1, 60.0, 180.0), Bend("T3", 1, 60.0, 180.0)))
    assert compare_laps(driven(ring()), driven(other), np.array([0.0])) is None
    turned = Circuit(
        "o",
        True,
        tuple(
            s if isinstance(s, Straight) else Bend(s.name, -1, s.radius_m, s.angle_deg)
            for s in ring().segments
        ),
    )
    assert compare_laps(driven(ring()), driven(turned), np.array([0.0])) is None


def test_a_lap_without_corners_has_only_its_time() -> None:
    def drag(mu: float) -> DrivenLap:
        return driven(course(Straight(400.0), start_speed_ms=0.0), mu)

    difference = compare_laps(drag(0.8), drag(1.2), np.array([0.0, 400.0]))
    assert difference is not None
    assert difference.corners == ()
    assert difference.time_s[-1] == pytest.approx(difference.lap_s)
    assert difference.lap_s > 0.1
