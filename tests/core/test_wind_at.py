"""The wind at places of the road, against a hand's computation."""

import pytest

from core.builders import AIR_12, course
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Conditions
from neapfrost.core.weather.wind_at import bearing_deg, wind_at

#: Eastwards, then a quarter turn to the right: southwards.
ELBOW = course(
    Straight(200.0),
    Bend("T1", -1, 40.0, 90.0),
    Straight(100.0),
    start_speed_ms=20.0,
    north_deg=90.0,
)


def air(speed_ms: float, from_deg: float) -> Conditions:
    return Conditions(air_temp_c=AIR_12.air_temp_c, wind_speed_ms=speed_ms, wind_from_deg=from_deg)


def test_the_road_has_a_compass_bearing() -> None:
    path = build_path(ELBOW, 1.0)
    assert bearing_deg(path, 100.0) == pytest.approx(90.0)
    assert bearing_deg(path, path.length_m - 10.0) == pytest.approx(180.0)


@pytest.mark.parametrize(
    ("from_deg", "head", "left"),
    [
        # Eastwards: from the east is ahead, from the north is from the left.
        (90.0, 10.0, 0.0),
        (270.0, -10.0, 0.0),
        (0.0, 0.0, 10.0),
        (180.0, 0.0, -10.0),
        (45.0, 7.0710678, 7.0710678),
        (-270.0, 10.0, 0.0),
    ],
)
def test_components_on_an_eastward_road(from_deg: float, head: float, left: float) -> None:
    found = wind_at(build_path(ELBOW, 1.0), air(10.0, from_deg), 100.0)
    assert found.head_ms == pytest.approx(head, abs=1e-6)
    assert found.left_ms == pytest.approx(left, abs=1e-6)


def test_components_behind_the_turn() -> None:
    path = build_path(ELBOW, 1.0)
    found = wind_at(path, air(6.0, 180.0), path.length_m - 10.0)
    assert found.head_ms == pytest.approx(6.0)
    assert found.left_ms == pytest.approx(0.0, abs=1e-6)


def test_places_beyond_the_line_are_those_of_the_next_lap() -> None:
    square = Circuit(
        "square",
        True,
        tuple(
            segment
            for corner in range(4)
            for segment in (Straight(100.0), Bend(f"T{corner + 1}", 1, 30.0, 90.0))
        ),
    )
    path = build_path(square, 1.0)
    here, next_lap = (wind_at(path, air(5.0, 30.0), at) for at in (50.0, 50.0 + path.length_m))
    assert next_lap.head_ms == pytest.approx(here.head_ms, abs=1e-6)
