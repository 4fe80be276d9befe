"""Close behind another car: the tow against two laps laid side by side, and what a pass asks."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from core.builders import AIR_12, road_car
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.record import elapsed_s
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.race.energy import Store, attack
from neapfrost.core.race.passing import Wake, later_needed, passing_places, straights, towed
from neapfrost.core.records import Driver

LONG = Circuit(
    "long",
    True,
    (
        Straight(700.0),
        Bend("T1", 1, 30.0, 180.0, transition_m=8.0),
        Straight(700.0),
        Bend("T2", 1, 30.0, 180.0, transition_m=8.0),
    ),
)
NO_WAKE = Wake(0.0, 0.0, 30.0)


@cache
def lead() -> DrivenLap:
    return drive_lap(Drive(build_path(LONG, 2.0), road_car(), AIR_12, Driver()))


def test_without_a_wake_a_gap_stays_the_time_it_is() -> None:
    for place in passing_places(lead(), NO_WAKE, 0.5, 1.0):
        assert place.gap_end_s == pytest.approx(0.5, abs=1e-6)
        assert place.quicker_ms == pytest.approx(0.0, abs=1e-6)
        assert place.inside_s == 0.0
        assert place.gap_end_m == pytest.approx(0.5 * place.end_speed_ms, rel=1e-6)


def test_straights_lead_from_corner_to_braking() -> None:
    found = straights(lead())
    assert sorted((after, corner) for after, corner, _, _ in found) == [(0, 1), (1, 0)]
    assert all(to_m - from_m > 600.0 for _, _, from_m, to_m in found)


def test_the_tow_is_that_of_both_laps_laid_side_by_side() -> None:
    """The gap at every place of a straight, in the time that both take to it, gives the drag."""
    wake = Wake(0.3, 0.0, 30.0)
    chaser = towed(lead(), wake, 0.5)
    place = next(one for one in passing_places(lead(), wake, 0.5, 1.0) if one.corner == 1)
    (from_m, to_m) = next((a, b) for _, corner, a, b in straights(lead()) if corner == 1)
    at = np.linspace(from_m, to_m, 200)
    own = elapsed_s(chaser.lap, at) - elapsed_s(chaser.lap, np.array([from_m]))
    other = elapsed_s(lead().lap, at) - elapsed_s(lead().lap, np.array([from_m]))
    gap = 0.5 + own - other
    assert (np.diff(gap) < 1e-6).all()
    assert gap[-1] == pytest.approx(place.gap_end_s, abs=1e-6)
    assert place.closed_m > 0.0
    assert place.quicker_ms > 0.0
    # Integrated by hand with the same drag: both vehicles' forces alike but for it.
    v = np.interp(at, chaser.lap.s_m, chaser.lap.v_ms)
    base = np.interp(at, lead().lap.s_m, lead().lap.v_ms)
    drag = 0.5 * 1.2 * 1.05
    less = drag * 0.3 * np.exp(-gap * v / 30.0) * v**2
    work = np.concatenate(([0.0], np.cumsum(0.5 * (less[1:] + less[:-1]) * np.diff(at))))
    # The same engine at a higher speed gives less force and meets more drag: a bound from above.
    assert 0.5 * 1260.0 * (v[-1] ** 2 - base[-1] ** 2) < work[-1]
    assert 0.5 * 1260.0 * (v[-1] ** 2 - base[-1] ** 2) > 0.35 * work[-1]


def test_a_closer_and_a_stronger_wake_ask_for_less() -> None:
    def later(wake: Wake, gap_s: float) -> float:
        return passing_places(lead(), wake, gap_s, 1.0)[0].later_needed_m

    plain = later(Wake(0.2, 0.0, 30.0), 0.6)
    assert later(Wake(0.35, 0.0, 30.0), 0.6) < plain
    assert later(Wake(0.2, 0.0, 30.0), 0.4) < plain
    assert later(Wake(0.2, 0.3, 30.0), 0.6) > plain


def test_what_is_needed_is_what_is_missing() -> None:
    """Metres of later braking times what one brings, or exit speed times what it carries."""
    for place in passing_places(lead(), Wake(0.2, 0.1, 30.0), 0.6, 0.85):
        each = 1.0 / place.min_speed_ms - 1.0 / place.end_speed_ms
        missing = place.gap_end_s - 2.5 / (place.end_speed_ms + place.quicker_ms)
        assert place.later_needed_m * each == pytest.approx(missing, rel=1e-6)
        assert place.inside_s is not None
        assert place.inside_s > 0.0


def test_the_same_car_behind_asks_for_the_same_and_a_slipperier_one_for_less() -> None:
    wake = Wake(0.2, 0.0, 30.0)
    own = {place.corner: place.later_needed_m for place in passing_places(lead(), wake, 0.6, 1.0)}
    assert later_needed(lead(), wake, 0.6, lead()) == pytest.approx(own)
    car = road_car()
    less = replace(car, aero=replace(car.aero, drag_area_m2=0.8 * car.aero.drag_area_m2))
    slippery = drive_lap(replace(lead().drive, vehicle=less, road=None))
    found = later_needed(lead(), wake, 0.6, slippery)
    assert all(found[corner] < own[corner] - 1.0 for corner in own)


def test_an_attack_spends_a_full_store_from_the_straight_s_beginning_on() -> None:
    store = Store(((0.0, 60_000.0), (100.0, 60_000.0)), 0.9, 150_000.0)
    (from_m, to_m) = next((a, b) for _, corner, a, b in straights(lead()) if corner == 1)
    spent = attack(lead().drive, store, from_m, to_m)
    assert spent.spent_j == pytest.approx(150_000.0, rel=0.02)
    on = np.flatnonzero(spent.power_w > 0.0)
    ring = lead().lap.path.ring
    ahead = ring.ahead(np.full(len(on), from_m), lead().lap.path.s_m[on])
    assert ahead.max() < 0.7 * (to_m - from_m)
    # 150 kJ at 90 % and 60 kW are 2.25 s of it.
    seconds = spent.lap.solved.time_s[on + 1] - spent.lap.solved.time_s[on]
    assert seconds.sum() == pytest.approx(2.25, rel=0.05)
    whole = attack(lead().drive, replace(store, usable_j=1e9), from_m, to_m)
    assert whole.lap.lap_time_s < spent.lap.lap_time_s < lead().lap.lap_time_s
