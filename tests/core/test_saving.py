"""Fuel saved at the least cost: convex, better than rules of thumb, and just what is asked."""

from functools import cache

import numpy as np
import pytest

from core.builders import AIR_12, SHORT_LAP, road_car
from neapfrost.core.kernels.road import COAST
from neapfrost.core.lap.altered_road import steps_between, with_coasting
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.orders import approach_m
from neapfrost.core.lap.record import engine_work_j
from neapfrost.core.lap.solve import drive_lap, solve
from neapfrost.core.path.build import build_path
from neapfrost.core.race.saving import (
    COAST as COASTING,
)
from neapfrost.core.race.saving import (
    POWER,
    REVS,
    Saved,
    Savings,
    by_rule,
    cheapest,
    savings,
)
from neapfrost.core.records import Driver

KG_PER_J = 290.0 / 1000.0 / 3.6e6
DRIVER = Driver(transition_s=0.1, brake_ramp_s=0.2, lift_threshold_ms=0.0)
PCT = (1.0, 2.0, 4.0, 6.0, 9.0)


@cache
def found() -> Savings:
    return savings(
        drive_lap(Drive(build_path(SHORT_LAP, 2.0), road_car(), AIR_12, DRIVER)), KG_PER_J
    )


@cache
def saved(pct: float) -> Saved:
    one = cheapest(found(), pct / 100.0 * found().burnt_kg)
    assert one is not None
    return one


@pytest.mark.parametrize("pct", PCT)
def test_just_what_is_asked_is_saved(pct: float) -> None:
    assert saved(pct).saved_kg == pytest.approx(pct / 100.0 * found().burnt_kg, rel=2e-3)
    assert any((one or 0.0) > 0.0 for one in saved(pct).lift_earlier_m)


def test_the_curve_is_convex() -> None:
    kg = np.array([0.0, *(saved(pct).saved_kg for pct in PCT)])
    cost = np.array([0.0, *(saved(pct).cost_s for pct in PCT)])
    slopes = np.diff(cost) / np.diff(kg)
    assert (np.diff(slopes) > -0.02 * slopes[-1]).all()
    assert (slopes > 0.0).all()


@pytest.mark.parametrize("pct", PCT)
def test_no_rule_of_thumb_is_cheaper(pct: float) -> None:
    for rule in (COASTING, REVS, POWER):
        other = by_rule(found(), rule, pct / 100.0 * found().burnt_kg)
        if other is not None:
            assert other.cost_s >= saved(pct).cost_s - 5e-4


def test_more_than_there_is_cannot_be_saved() -> None:
    assert cheapest(found(), 2.0 * found().burnt_kg) is None


def test_coasting_shuts_the_throttle_earlier_and_nothing_else() -> None:
    """The corner's minimum stays; lift and brake move apart by the time that is coasted."""
    base = found().driven
    number = next(n for n, corner in enumerate(base.corners) if corner.action == "brake")
    steps = steps_between(base.lap.path, *approach_m(base, number))
    road = with_coasting(base.road, steps, 1.0)
    assert (road[steps, :, COAST] == 1.0).all()
    lap = drive_lap(Drive(base.lap.path, road_car(), AIR_12, DRIVER, road=road))
    own, before = lap.corners[number], base.corners[number]
    assert own.min_speed_ms == pytest.approx(before.min_speed_ms, abs=0.02)
    assert own.lift_at_m is not None
    assert own.brake_start_at_m is not None
    assert before.lift_at_m is not None
    ring = lap.lap.path.ring
    speed = 0.5 * (own.brake_start_speed_ms or 0.0) + 0.5 * float(
        np.interp(own.lift_at_m, lap.lap.s_m, lap.lap.v_ms)
    )
    apart = ring.apart(own.lift_at_m, own.brake_start_at_m)
    assert apart / speed == pytest.approx(DRIVER.transition_s + 1.0, rel=0.01)
    assert ring.apart(own.lift_at_m, before.lift_at_m) > 5.0
    saved_j = engine_work_j(base.lap, 0.93) - engine_work_j(lap.lap, 0.93)
    assert saved_j > 0.0
    assert lap.lap.lap_time_s > base.lap.lap_time_s


def test_a_lap_without_coasting_is_the_lap_as_it_was() -> None:
    base = found().driven
    steps = np.arange(len(base.road))
    road = with_coasting(base.road, steps, 0.0)
    again = solve(Drive(base.lap.path, road_car(), AIR_12, DRIVER, road=road))
    assert again.lap_time_s == base.lap.lap_time_s
