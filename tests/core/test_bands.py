"""Bands: light laps are laps, draws are seeded, and the band holds the truth four times in five."""

import numpy as np
import pytest

from core.builders import AIR_12, SHORT_LAP, lap_of, road_car
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.light import light as as_light
from neapfrost.core.lap.record import Lap
from neapfrost.core.lap.solve import Stopped, solved
from neapfrost.core.records import Conditions, Driver, Tyres
from neapfrost.core.studies.bands import Bands, Uncertainty, draw, drawn_laps

WIDE = Uncertainty(grip=0.04, downforce=0.06, power=0.03, wind_ms=2.0, radius=0.03)


@pytest.fixture(scope="module")
def lap() -> Lap:
    return lap_of(SHORT_LAP, road_car(), driver=Driver(), step_m=2.0)


def bands_of(lap: Lap, uncertainty: Uncertainty, laps: int, seed: int) -> Bands:
    draws = draw(uncertainty, len(lap.path.corners), laps, seed)
    found = drawn_laps(lap.drive, draws)
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("air", "grip"), [(AIR_12, 1.45), (Conditions(wind_speed_ms=8.0, wind_from_deg=40.0), 0.8)]
)
def test_a_light_lap_says_what_the_full_results_say(air: Conditions, grip: float) -> None:
    car = road_car(tyres=Tyres(grip, grip, 0.06, 0.32, 0.013))
    lap = lap_of(SHORT_LAP, car, air, Driver())
    light = as_light(solved(lap.drive))
    assert light.lap_time_s == pytest.approx(lap.lap_time_s, abs=2e-4)
    for number, corner in enumerate(corner_results(lap, [])):
        assert light.min_speed_ms[number] == pytest.approx(corner.min_speed_ms, abs=0.03)
        assert light.gear[number] == corner.gear
        assert light.actions[number] == corner.action
        if corner.brake_start_to_corner_m is None:
            assert np.isnan(light.brake_to_corner_m[number])
        else:
            assert light.brake_to_corner_m[number] == pytest.approx(
                corner.brake_start_to_corner_m, abs=0.05
            )


def test_the_same_seed_draws_the_same_laps_and_another_does_not(lap: Lap) -> None:
    first, again, other = (bands_of(lap, WIDE, 12, seed) for seed in (7, 7, 8))
    assert np.array_equal(first.lap_time_s, again.lap_time_s)
    assert not np.array_equal(first.lap_time_s, other.lap_time_s)


def test_nothing_uncertain_leaves_no_band(lap: Lap) -> None:
    certain = bands_of(lap, Uncertainty(0.0, 0.0, 0.0, 0.0, 0.0), 3, 1)
    assert certain.lap_time_s == pytest.approx([lap.lap_time_s] * 3, abs=2e-4)
    assert np.ptp(certain.min_speed_ms, axis=0).max() < 1e-9
    assert all(len(gears) == 1 for gears in certain.gears)


def test_the_band_holds_the_truth_four_times_in_five(lap: Lap) -> None:
    path = lap.path
    bands = bands_of(lap, WIDE, 200, 1)
    inside_lap, inside_speed, inside_brake = [], [], []
    truths = draw(WIDE, len(path.corners), 160, 99)
    for truth in truths:
        found = drawn_laps(lap.drive, [truth, truth])
        assert found is not None
        inside_lap.append(bands.lap_time_s[0] <= found.lap_time_s[1] <= bands.lap_time_s[2])
        speed = found.min_speed_ms[1]
        inside_speed.append((bands.min_speed_ms[0] <= speed) & (speed <= bands.min_speed_ms[2]))
        brake = found.brake_start_to_corner_m[1]
        low, _, high = bands.brake_start_to_corner_m
        known = np.isfinite(low) & np.isfinite(brake)
        inside_brake.extend(((low <= brake) & (brake <= high))[known].tolist())
    # Two standard errors of 160 draws are 6 points, and 200 laps know their own ends to about 4.
    assert np.mean(inside_lap) == pytest.approx(0.80, abs=0.09)
    assert np.mean(inside_speed) == pytest.approx(0.80, abs=0.06)
    assert np.mean(inside_brake) == pytest.approx(0.80, abs=0.06)


def test_grip_alone_moves_the_minimum_speed_as_its_root(lap: Lap) -> None:
    """Without downforce v² = μgR: a grip 4 % either way is 2 % of speed."""
    bare = road_car(aero=type(road_car().aero)(0.0, 0.8, 0.5))
    bare_lap = lap_of(SHORT_LAP, bare, driver=Driver(), step_m=2.0)
    band = bands_of(bare_lap, Uncertainty(0.04, 0.0, 0.0, 0.0, 0.0), 300, 3)
    spread = (band.min_speed_ms[2] - band.min_speed_ms[0]) / band.min_speed_ms[1]
    assert spread == pytest.approx(0.04, abs=0.006)


def test_more_uncertainty_is_a_wider_band_and_a_stop_is_obeyed(lap: Lap) -> None:
    narrow = bands_of(lap, Uncertainty(0.01, 0.01, 0.01, 0.2, 0.005), 60, 5)
    wide = bands_of(lap, WIDE, 60, 5)
    assert np.ptp(wide.lap_time_s) > 2.0 * np.ptp(narrow.lap_time_s)
    assert (np.ptp(wide.speed_ms, axis=0) >= 0.0).all()
    draws = draw(WIDE, 3, 4, 1)
    with pytest.raises(Stopped):
        drawn_laps(lap.drive, draws, lambda: True)
