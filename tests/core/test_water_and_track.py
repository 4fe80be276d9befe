"""Water, rubber and readings along a session: held against closed forms and a numerical solver."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from neapfrost.core.arrays import Floats
from neapfrost.core.weather.along_session import (
    Reading,
    along_session,
    averaged,
    reading_at,
)
from neapfrost.core.weather.apart import first_sight, turned_deg
from neapfrost.core.weather.flips import Call, changed, flips, lead_changes, leads
from neapfrost.core.weather.track_state import Rubber, grip_factor, laps_after
from neapfrost.core.weather.water import Drying, depth_after, drying_rates, wetness_pct

MINUTE = 60.0


def reading(at_min: float, **other: float) -> Reading:
    values = {
        "air_temp_c": 20.0,
        "pressure_hpa": 1010.0,
        "humidity_pct": 60.0,
        "wind_speed_ms": 0.0,
        "wind_from_deg": 0.0,
        "gust_ms": 0.0,
        "track_temp_c": 20.0,
        "rain_mm_h": 0.0,
        **other,
    }
    return Reading(at_s=at_min * MINUTE, **values)


def test_constant_rain_then_none_is_the_closed_form() -> None:
    """In still air at 20 °C 1/τ beside the line is 1/40 + 1/80 a minute: τ = 26 min 40 s."""
    drying = Drying(full_depth_mm=2.0)
    record = [reading(0.0, rain_mm_h=3.0), reading(30.0, rain_mm_h=0.0), reading(90.0)]
    tau_min = 1.0 / (1.0 / 40.0 + 1.0 / 80.0)
    settles_mm = 3.0 / 60.0 * tau_min
    at_30 = settles_mm * (1.0 - math.exp(-30.0 / tau_min))
    at_75 = at_30 * math.exp(-45.0 / tau_min)
    states = along_session(record, drying, Rubber(), [30.0 * MINUTE, 75.0 * MINUTE])
    assert [one.beside_pct for one in states] == pytest.approx(
        [100.0 * at_30 / 2.0, 100.0 * at_75 / 2.0], rel=1e-12
    )
    tau_line_min = 1.0 / (1.0 / tau_min + 5.0 * 0.0075)
    settles_mm = 3.0 / 60.0 * tau_line_min
    assert states[0].line_pct == pytest.approx(
        50.0 * settles_mm * (1.0 - math.exp(-30.0 / tau_line_min)), rel=1e-12
    )


def test_how_a_session_is_cut_into_steps_changes_nothing_in_even_weather() -> None:
    record = [reading(0.0, rain_mm_h=1.0), reading(60.0, rain_mm_h=1.0)]
    coarse = along_session(record, Drying(), Rubber(laps_before=0.0), [3600.0])[-1]
    fine = along_session(
        record, Drying(), Rubber(laps_before=0.0), [60.0 * n for n in range(1, 61)]
    )[-1]
    assert fine.line_pct == pytest.approx(coarse.line_pct, rel=1e-9)
    assert fine.laps == pytest.approx(coarse.laps, rel=1e-9)


def test_a_wind_that_rises_dries_as_a_numerical_solver_says() -> None:
    drying = Drying(wet_at_start_pct=80.0)
    record = [
        reading(float(n), wind_speed_ms=0.1 * n, track_temp_c=15.0 + 0.1 * n) for n in range(61)
    ]

    def dry(t_s: float, depth: Floats) -> Floats:
        now = reading_at(record, t_s)
        rates = drying_rates(drying, now.wind_speed_ms, now.track_temp_c)
        return -rates.line_per_s * depth

    solved = solve_ivp(dry, (0.0, 3600.0), np.array([0.8]), rtol=1e-10, atol=1e-12).y[0, -1]
    state = along_session(record, drying, Rubber(), [3600.0])[-1]
    assert state.line_pct == pytest.approx(100.0 * solved, rel=1e-5)


@given(
    rain=st.floats(0.0, 20.0),
    wind=st.floats(0.0, 20.0),
    road=st.floats(-5.0, 55.0),
    cars=st.floats(0.0, 20.0),
    start=st.floats(0.0, 100.0),
)
def test_water_stays_within_its_bounds_and_the_line_is_never_the_wetter(
    rain: float, wind: float, road: float, cars: float, start: float
) -> None:
    drying = Drying(cars_per_min=cars, wet_at_start_pct=start)
    record = [
        reading(0.0, rain_mm_h=rain, wind_speed_ms=wind, track_temp_c=road),
        reading(20.0, wind_speed_ms=wind, track_temp_c=road),
    ]
    states = along_session(record, drying, Rubber(), [MINUTE * n for n in range(0, 60, 5)])
    for state in states:
        assert 0.0 <= state.line_pct <= state.beside_pct + 1e-9 <= 100.0 + 1e-6
        assert 0.97 - 1e-12 <= state.rubber_factor <= 1.0
    dry = [state.line_pct for state in states[4:]]
    assert dry == sorted(dry, reverse=True)


def test_wind_warmth_and_traffic_each_dry_a_road_quicker() -> None:
    drying = Drying()
    calm = drying_rates(drying, 0.0, 20.0)
    assert drying_rates(drying, 5.0, 20.0).beside_per_s > calm.beside_per_s
    assert drying_rates(drying, 0.0, 35.0).beside_per_s > calm.beside_per_s
    assert calm.line_per_s - calm.beside_per_s == pytest.approx(5.0 * 0.0075 / 60.0)
    # A freezing road still dries by a tenth of what is stated, and by its run-off.
    cold = drying_rates(drying, 0.0, -30.0).beside_per_s
    assert cold == pytest.approx((1.0 / 40.0 + 0.1 / 80.0) / 60.0)


def test_without_any_drying_rain_adds_up() -> None:
    assert depth_after(0.5, 3.6, 0.0, 1000.0) == pytest.approx(1.5)
    assert wetness_pct(Drying(full_depth_mm=1.0), 1.5) == 100.0


def test_rubber_comes_with_laps_and_goes_with_rain() -> None:
    rubber = Rubber(green_loss_share=0.04, laps_to_grip=100.0, washed_by_mm=2.0)
    assert grip_factor(rubber, 0.0) == pytest.approx(0.96)
    assert grip_factor(rubber, 100.0) == pytest.approx(1.0 - 0.04 / math.e)
    assert laps_after(rubber, 50.0, 6.0, 0.0, 600.0) == pytest.approx(110.0)
    # Without a car 2 mm of rain leave 1/e of the laps.
    assert laps_after(rubber, 100.0, 0.0, 2.0, 3600.0) == pytest.approx(100.0 / math.e)
    both = laps_after(rubber, 100.0, 6.0, 2.0, 3600.0)
    assert both == pytest.approx(360.0 + (100.0 - 360.0) / math.e)


def test_readings_are_linear_and_the_wind_is_a_vector() -> None:
    record = [
        reading(0.0, air_temp_c=20.0, wind_speed_ms=4.0, wind_from_deg=350.0, rain_mm_h=1.0),
        reading(10.0, air_temp_c=24.0, wind_speed_ms=4.0, wind_from_deg=10.0),
    ]
    middle = reading_at(record, 5.0 * MINUTE)
    assert middle.air_temp_c == pytest.approx(22.0)
    assert middle.wind_from_deg == pytest.approx(0.0, abs=1e-9) or middle.wind_from_deg > 359.999
    assert middle.wind_speed_ms == pytest.approx(4.0 * math.cos(math.radians(10.0)))
    assert middle.rain_mm_h == 1.0
    assert reading_at(record, -60.0).air_temp_c == 20.0
    assert reading_at(record, 3600.0).rain_mm_h == 0.0


def test_readings_are_averaged_and_their_gusts_are_not() -> None:
    record = [
        reading(float(n), wind_speed_ms=4.0, wind_from_deg=10.0 * (n % 2), gust_ms=float(n))
        for n in range(11)
    ]
    mean = averaged(record, 5.0 * MINUTE)[5]
    assert mean.gust_ms == 10.0
    assert mean.wind_from_deg == pytest.approx(50.0 / 11.0, abs=0.05)
    assert mean.wind_speed_ms < 4.0
    ramp = [reading(float(n), air_temp_c=10.0 + n) for n in range(11)]
    assert [one.air_temp_c for one in averaged(ramp, 2.0 * MINUTE)][4:7] == [14.0, 15.0, 16.0]
    assert averaged(ramp, 0.0) == ramp


def test_a_call_flips_where_it_changes_and_not_before() -> None:
    calls: list[Call | None] = [("flat", None), ("flat", None), None, ("brake", 40.0)]
    calls += [("brake", 44.0), ("brake", 46.0), ("brake", 43.0)]
    at_s = [float(n) for n in range(7)]
    found = flips(at_s, calls, ("flat", None), 5.0, 0.5)
    assert [(one.at_s, one.what) for one in found] == [(3.0, "action"), (5.0, "braking")]
    assert found[1].before == ("brake", 40.0)
    assert changed(("lift", None), ("lift", None), 5.0) is None


def test_what_does_not_last_is_not_told_and_what_settles_is_told_settled() -> None:
    at_s = [60.0 * n for n in range(9)]
    metres = [40.0, 46.0, 40.0, 40.0, 46.0, 52.0, 58.0, 59.0, 59.0]
    calls: list[Call | None] = [("brake", one) for one in metres]
    (found,) = flips(at_s, calls, ("brake", 40.0), 5.0, 120.0)
    assert (found.at_s, found.after) == (240.0, ("brake", 58.0))
    lead = [0, 1, 0, 0, 1, 1, 1, None, 1]
    assert lead_changes(at_s, lead, 120.0) == [(240.0, 0, 1)]
    assert lead_changes(at_s, [None] * 9, 120.0) == []


def test_the_quickest_of_several_is_found_at_each_moment() -> None:
    lead = leads([[90.0, 92.0], [91.0, None], [None, None], [93.0, 92.5], [94.0, 92.4]])
    assert lead == [0, 0, None, 1, 1]


def test_the_first_telling_reading_is_found_and_a_bearing_needs_wind() -> None:
    a = [reading(10.0 * n, wind_speed_ms=1.0, wind_from_deg=20.0) for n in range(4)]
    b = [reading(10.0 * n, wind_speed_ms=1.0, wind_from_deg=200.0) for n in range(4)]
    assert first_sight(a, b) is None
    wet = [*a[:2], reading(20.0, wind_speed_ms=1.0, rain_mm_h=0.5), a[3]]
    sight = first_sight(a, wet)
    assert sight is not None
    assert (sight.index, sight.sign, sight.values) == (2, "rain_mm_h", (0.0, 0.5))
    assert turned_deg(350.0, 20.0) == pytest.approx(30.0)
    assert turned_deg(20.0, 350.0) == pytest.approx(-30.0)
