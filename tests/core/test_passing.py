"""Close behind another: the tow against two laps laid side by side, and what a pass asks for."""

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
from neapfrost.core.race.passing import Wake, passing_places, straights, towed
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
