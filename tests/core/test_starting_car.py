"""A vehicle from few figures: the derived ones reproduce what was stated."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.car.starting_car import (
    AIR_KGM3,
    DRIVER_KG,
    EFFICIENCY,
    ROLLING_RESISTANCE,
    lift_area_m2,
    starting_figures,
)
from neapfrost.core.errors import InputRefused
from neapfrost.core.records import Aspiration, Conditions, Intake


@given(
    st.sampled_from(["car", "motorcycle"]),
    st.floats(150.0, 2000.0),
    st.floats(60e3, 700e3),
    st.floats(35.0, 95.0),
)
def test_power_and_top_speed_come_out_as_they_went_in(
    kind: str, mass_kg: float, power_w: float, top_ms: float
) -> None:
    figures = starting_figures(kind, mass_kg, power_w, top_ms)
    peak = peak_power_w(figures.torque_curve, figures.rev_limit_rpm)
    # The parabola between two points of the curve may top out a little above both.
    assert peak == pytest.approx(power_w, rel=0.01)
    # At the top speed the power at the wheels is what drag and rolling resistance take.
    rolling = ROLLING_RESISTANCE * (mass_kg + DRIVER_KG) * 9.80665
    given = engine_air(Intake(Aspiration.NATURAL), Conditions()).factor
    drag = 0.5 * AIR_KGM3 * figures.drag_area_m2 * top_ms**2
    assert (rolling + drag) * top_ms == pytest.approx(EFFICIENCY * given * power_w, rel=1e-9)
    ratios = figures.ratios
    assert all(a > b for a, b in itertools.pairwise(ratios))
    steps = [a / b for a, b in itertools.pairwise(ratios)]
    assert max(steps) == pytest.approx(min(steps))
    fastest = (
        figures.rev_limit_rpm * math.pi / 30 / (ratios[-1] * figures.final_drive)
    ) * figures.rolling_radius_m
    assert fastest >= 1.02 * top_ms


def test_a_top_speed_beyond_the_power_is_refused() -> None:
    with pytest.raises(InputRefused, match="does not even overcome the rolling resistance"):
        starting_figures("car", 2000.0, 10e3, 100.0)


def test_downforce_at_a_speed_is_an_area() -> None:
    # 0.5·1.2·A·50² = 3000 N
    assert lift_area_m2(3000.0, 50.0) == pytest.approx(2.0)
