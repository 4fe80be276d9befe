"""Laps taken together, how they go along a run, and runs against each other: cases done by hand."""

import numpy as np
import pytest

from neapfrost.core.driven.apart import runs_apart
from neapfrost.core.driven.together import (
    CornerOfLap,
    MeasuredLap,
    laps_together,
    ranged,
)
from neapfrost.core.driven.trend import trend
from neapfrost.demo.plans import composed
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.driver import driven_laps, hidden_by


def lap(*lost: float, gear: int = 3) -> MeasuredLap:
    corners = tuple(
        CornerOfLap(f"C{n}", value, 30.0 + n, 100.0, 40.0, None, 0.1, gear)
        for n, value in enumerate(lost)
    )
    return MeasuredLap((20.0 + lost[0], 30.0 + lost[1]), corners)


def test_a_range_has_its_best_its_middle_and_a_scatter_that_one_outlier_does_not_move() -> None:
    found = ranged([10.0, 11.0, 12.0, 13.0, 40.0])
    assert found is not None
    assert (found.best, found.median, found.count) == (10.0, 12.0, 5)
    assert found.spread == pytest.approx(1.4826)
    assert ranged([None, 3.0]) is None
    most = ranged([1.0, None, 3.0], "most")
    assert most is not None
    assert (most.best, most.count) == (3.0, 2)


def test_the_best_corners_and_sectors_are_joined() -> None:
    laps = [lap(0.3, 0.1), lap(0.1, 0.4), lap(0.2, 0.2, gear=4)]
    found = laps_together([50.4, 50.5, 50.4], laps, 50.0)
    assert found.possible_s == pytest.approx(50.2)
    assert found.best_of == (1, 0)
    assert found.best_sectors_s == pytest.approx(50.2)
    assert found.corners[0].lost_s.median == pytest.approx(0.2)
    assert found.corners[0].gears == ((3, 2), (4, 1))
    assert found.corners[0].full_throttle_at_m is None
    typed = laps_together([50.4, 50.5], [], 50.0)
    assert (typed.possible_s, typed.corners, typed.sectors_s) == (None, (), ())


def test_warming_up_and_fading_are_found_where_they_stand_out_of_the_scatter() -> None:
    chance = np.random.default_rng(5)
    n = np.arange(16)
    times = 60.0 + 2.0 * np.exp(-n / 1.5) + 0.05 * n + 0.02 * chance.standard_normal(16)
    found = trend(n.tolist(), times.tolist())
    assert found is not None
    assert found.early_s == pytest.approx(2.0, abs=3.0 * found.early_within_s)
    assert found.fade_s == pytest.approx(0.05, abs=3.0 * found.fade_within_s)
    assert found.early_beyond_noise
    assert found.fade_beyond_noise
    assert found.scatter_s < 0.05
    times[7] += 3.0  # somebody spun
    spun = trend(n.tolist(), times.tolist())
    assert spun is not None
    assert spun.fade_s == pytest.approx(0.05, abs=0.02)
    assert trend([1, 2, 3], [60.0, 60.0, 60.0]) is None


def test_of_plain_noise_no_trend_is_told() -> None:
    told = 0
    for seed in range(40):
        noise = 0.1 * np.random.default_rng(seed).standard_normal(10)
        found = trend(list(range(10)), (60.0 + noise).tolist())
        assert found is not None
        told += found.fade_beyond_noise
    assert told <= 3


def test_runs_without_a_change_differ_by_nothing_that_is_called_a_difference() -> None:
    called = 0
    for seed in range(200):
        chance = np.random.default_rng(seed)
        warm = np.array([2.0, 0.6, 0.2, 0.0, 0.0, 0.0, 0.0, 0.0])
        one, other = (60.0 + warm + 0.2 * chance.standard_normal((2, 8))).tolist()
        found = runs_apart(list(enumerate(one)), list(enumerate(other)))
        assert found is not None
        called += found.beyond_noise
    assert called <= 10
    quicker = runs_apart(list(enumerate(one)), [(n, time - 1.5) for n, time in enumerate(one)])
    assert quicker is not None
    assert quicker.beyond_noise
    assert quicker.change_s == pytest.approx(-1.5)
    assert runs_apart([(1, 60.0), (2, 60.0)], [(1, 61.0), (2, 61.0)]) is None


def test_the_simulated_driver_twice_in_one_car_is_called_the_same() -> None:
    drive = planned(composed("dunlin-heath")).drive
    called = 0
    for seed in range(6):
        hidden = hidden_by(seed)
        runs = [
            [(n, lap.lap_time_s) for n, lap in enumerate(driven_laps(drive, 6, 50 + s, hidden))]
            for s in (seed, seed + 100)
        ]
        found = runs_apart(*runs)
        assert found is not None
        called += found.beyond_noise
    assert called <= 1
