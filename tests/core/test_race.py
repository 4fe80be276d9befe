"""A race's length, fuel, tables of laps, water and rivals: by hand, and against laps themselves."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, SHORT_LAP, road_car
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import lap_time_s, solved
from neapfrost.core.path.build import build_path
from neapfrost.core.race.crossover import crossovers, quickest_ranges
from neapfrost.core.race.distance import Distance, laps_by_the_clock, laps_of_distance, race_laps
from neapfrost.core.race.fuel import fuel_need, laps_in_tank
from neapfrost.core.race.lap_table import LapTable, fuel_nodes, grip_nodes
from neapfrost.core.race.rivals import Stopping, gap_after_s
from neapfrost.core.records import Conditions


def even(laps: int) -> float:
    return 100.0 * laps


def test_a_distance_is_driven_with_whole_laps() -> None:
    assert laps_of_distance(100_000.0, 4_000.0) == 25
    assert laps_of_distance(100_001.0, 4_000.0) == 26
    assert laps_of_distance(1.0, 4_000.0) == 1


@pytest.mark.parametrize(
    ("minutes", "laps", "spare_s"),
    [(10.0, 6, 100.0), (10.0 + 1e-6, 7, 0.0), (11.6, 7, 96.0), (1.0, 1, 60.0)],
)
def test_a_lap_begun_before_the_end_is_driven_to_it(
    minutes: float, laps: int, spare_s: float
) -> None:
    found = race_laps(Distance(time_s=60.0 * minutes), 4_000.0, even)
    assert (found.laps, found.ended_by) == (laps, "time")
    assert found.spare_s == pytest.approx(spare_s, abs=1e-3)
    # Were every lap so much quicker, one more would be begun.
    assert found.faster_s is not None
    assert laps * (100.0 - found.faster_s) == pytest.approx(60.0 * minutes)


def test_whatever_ends_a_race_first_ends_it() -> None:
    both = Distance(laps=30, distance_m=100_000.0, time_s=3_000.0)
    assert race_laps(both, 4_000.0, even).ended_by == "distance"
    assert race_laps(both, 4_000.0, even).laps == 25
    assert race_laps(Distance(20, None, 60_000.0), 4_000.0, even).ended_by == "laps"
    with pytest.raises(ValueError, match="nothing ends"):
        race_laps(Distance(), 4_000.0, even)


@settings(deadline=None)
@given(
    time_s=st.floats(50.0, 9_000.0),
    lap=st.floats(60.0, 140.0),
    fade=st.floats(0.0, 0.4),
    stop=st.integers(2, 60),
)
def test_the_clock_s_laps_are_those_of_counting_them(
    time_s: float, lap: float, fade: float, stop: int
) -> None:
    def total(laps: int) -> float:
        return lap * laps + 0.5 * fade * laps**2 + (25.0 if laps > stop else 0.0)

    counted = next((n for n in range(1, 400) if total(n) >= time_s), None)
    assert laps_by_the_clock(time_s, total, 399) == counted


def test_fuel_by_hand() -> None:
    """Two kilograms a lap whatever the load: ten laps, one in hand, a formation lap of 60 %."""
    need = fuel_need(10, lambda _lap, _load: 2.0, 2.0, 1.2)
    assert need.racing_kg == pytest.approx(20.0)
    assert need.start_kg == pytest.approx(23.2)
    assert need.on_board_kg[0] == pytest.approx(22.0)
    assert need.on_board_kg[-1] == pytest.approx(4.0)
    slow = np.ones(10)
    slow[:4] = 0.5
    assert fuel_need(10, lambda _n, _m: 2.0, 0.0, 0.0, slow).racing_kg == pytest.approx(16.0)


def test_fuel_that_burns_by_its_own_weight_follows_the_geometric_series() -> None:
    """Burning a + b·m of what is on board: before a lap m = (after + a)/(1 - b)."""
    a, b, laps = 1.5, 0.004, 25
    need = fuel_need(laps, lambda _lap, load: a + b * load, 3.0, 0.0)
    ratio = 1.0 / (1.0 - b)
    expected = 3.0 * ratio**laps + a * ratio * (ratio**laps - 1.0) / (ratio - 1.0)
    assert need.start_kg == pytest.approx(expected, rel=1e-9)
    assert laps_in_tank(expected, lambda _lap, load: a + b * load, 3.0) == pytest.approx(laps)


def test_a_tank_lasts_a_share_of_a_lap_too() -> None:
    assert laps_in_tank(10.0, lambda _n, _m: 4.0) == pytest.approx(2.5)
    assert laps_in_tank(10.0, lambda _n, _m: 4.0, 2.0) == pytest.approx(2.0)
    assert laps_in_tank(10.0, lambda _n, _m: 0.0) == math.inf


def test_laps_between_the_nodes_of_a_table_are_those_of_the_solver() -> None:
    path = build_path(SHORT_LAP, 2.0)

    def lap(grip: float, fuel_kg: float) -> float:
        air = Conditions(**{**vars(AIR_12), "grip_factor": grip})
        return lap_time_s(solved(Drive(path, road_car(fuel_kg=fuel_kg), air, PURE)))

    grips, fuels = grip_nodes(0.6, 1.05), fuel_nodes(0.0, 60.0)
    times = np.array([[lap(g, f) for f in fuels] for g in grips])
    table = LapTable(grips, fuels, times, times * 0.01, times * 0.02)
    for grip, fuel in ((0.62, 3.0), (0.77, 41.0), (0.903, 17.0), (0.985, 55.0), (1.02, 30.0)):
        assert table.time_s_at(grip, fuel) == pytest.approx(lap(grip, fuel), abs=0.004)
    both = table.times_over_s(np.array([[0.7, 0.9], [0.9, 1.0]]), np.array([10.0, 50.0]))
    assert both.shape == (2, 2, 2)
    assert both[0, 1, 1] == pytest.approx(table.time_s_at(0.9, 50.0), abs=1e-12)


def test_tyres_cross_over_where_their_laps_are_alike() -> None:
    def slick(wet: float) -> float:
        return 90.0 + 0.3 * wet

    def rain(wet: float) -> float:
        return 96.0 + 0.06 * wet

    ((at, second),) = crossovers(slick, rain)
    assert at == pytest.approx(25.0, abs=1e-5)
    assert second
    middle = [slick, lambda wet: 92.0 + 0.15 * wet, rain]
    ranges = quickest_ranges(middle)
    assert [n for n, _, _ in ranges] == [0, 1, 2]
    assert ranges[0][2] == pytest.approx(2.0 / 0.15, abs=1e-4)
    assert ranges[1][2] == pytest.approx(4.0 / 0.09, abs=1e-4)
    assert quickest_ranges([slick]) == [(0, 0.0, 100.0)]


def test_an_undercut_gains_what_old_tyres_lose_to_new_ones() -> None:
    """Old tyres a second slower: each lap earlier gains one, but for the out lap's two."""

    def car(stop: int) -> Stopping:
        return Stopping(
            stop, 20.0, 15, lambda _lap, _age: 91.0, lambda _lap, age: 92.0 if age == 0 else 90.0
        )

    assert gap_after_s(car(10), car(10), 0, 20, -1.5) == pytest.approx(-1.5)
    assert gap_after_s(car(7), car(10), 0, 20, -1.5) == pytest.approx(1.5)
    assert gap_after_s(car(12), car(10), 0, 20, -1.5) == pytest.approx(-3.5)
