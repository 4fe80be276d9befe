"""Channels of many rates on one time base: lines stay lines, states are held, gaps stay gaps."""

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from neapfrost.core.driven.one_base import RATE_MOST_HZ, Series, base_of, is_states, on_base, rising


def series(rate_hz: float, begin_s: float, end_s: float, slope: float = 2.0) -> Series:
    t = np.arange(begin_s, end_s, 1.0 / rate_hz)
    return Series(t, 5.0 + slope * t)


@given(
    st.lists(st.sampled_from([1.0, 5.0, 10.0, 25.0, 50.0, 200.0]), min_size=1, max_size=5),
    st.floats(-5.0, 5.0),
)
@example([1.0, 5.0], 1.0)
def test_a_line_stays_a_line_whatever_its_rate(rates: list[float], slope: float) -> None:
    found = [series(rate, 0.0, 20.0, slope) for rate in rates]
    base = base_of(found, 100_000)
    assert base is not None
    assert np.all(np.diff(base) > 0.0)
    assert 1.0 / float(base[1] - base[0]) == pytest.approx(min(max(rates), RATE_MOST_HZ))
    for one in found:
        values = on_base(one, base)
        inside = base <= one.t_s[-1] + 1e-9
        assert values[inside] == pytest.approx(5.0 + slope * base[inside], abs=1e-6)
        assert np.isnan(values[base > one.t_s[-1] + 1e-3]).all()


def test_a_gear_is_held_and_never_between_two() -> None:
    gear = Series(np.arange(9.0), np.repeat([2.0, 3.0, 4.0], 3))
    assert is_states(gear.values)
    held = on_base(gear, np.arange(0.0, 8.01, 0.1))
    assert set(held) == {2.0, 3.0, 4.0}
    assert held[29] == 2.0
    assert held[30] == 3.0
    assert not is_states(np.linspace(0.0, 50.0, 51))
    assert not is_states(np.arange(5.0, 25.0)), "a ramp that was sampled at whole numbers"


def test_a_gap_of_more_than_two_seconds_stays_empty() -> None:
    t = np.concatenate((np.arange(0.0, 5.0, 0.1), np.arange(9.0, 12.0, 0.1)))
    values = on_base(Series(t, 0.5 + t), np.arange(0.0, 11.9, 0.05))
    base = np.arange(0.0, 11.9, 0.05)
    inside = (base > 4.95) & (base < 8.95)
    assert np.isnan(values[inside]).all()
    assert np.isfinite(values[base < 4.85]).all()
    assert values[base > 9.0] == pytest.approx(0.5 + base[base > 9.0])


def test_times_that_fall_or_repeat_are_left_out() -> None:
    t = np.array([0.0, 1.0, 1.0, 0.5, 2.0, np.nan, 3.0])
    kept = rising(t, np.arange(7.0))
    assert kept.t_s.tolist() == [0.0, 1.0, 2.0, 3.0]
    assert kept.values.tolist() == [0.0, 1.0, 4.0, 6.0]
    assert rising(np.zeros(0), np.zeros(0)).rate_hz == 0.0
    empty = base_of([], 10)
    assert empty is not None
    assert len(empty) == 0
    assert base_of([series(10.0, 0.0, 20.0)], 100) is None
    assert np.isnan(on_base(Series(t[:2], np.full(2, np.nan)), t[:2])).all()
