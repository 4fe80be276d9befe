"""Bands of a plan: about its own figures, the same for the same seed, stopped when unwanted."""

import pytest

from neapfrost.core.lap.solve import Stopped
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.corners.bands import plan_bands
from neapfrost.services.laps.predict import TRACE_POINTS, recall


def short(**uncertainty: float) -> PlanDocument:
    plan = demo_plan("dunlin-heath")
    assert plan is not None
    value = plan.document.model_dump(mode="json")
    value["uncertainty"] |= {"laps": 60, **uncertainty}
    return plan_from_object(value)


def test_the_band_lies_about_the_plan_s_own_figures() -> None:
    plan = short()
    result, bands = recall(plan, TRACE_POINTS).result, plan_bands(plan)
    assert bands.laps == 60
    assert bands.lap_time_s.low < result.lap_time_s < bands.lap_time_s.high
    assert len(bands.sector_times_s) == len(result.sector_times_s)
    for corner, band in zip(result.corners, bands.corners, strict=True):
        assert band.min_speed_ms.low < corner.min_speed_ms < band.min_speed_ms.high
        assert sum(one.share_pct for one in band.gears) == pytest.approx(100.0)
        if band.brake_start_to_corner_m is not None:
            lead = corner.brake_start_to_corner_m
            assert lead is not None
            assert band.brake_start_to_corner_m.low < lead < band.brake_start_to_corner_m.high
    assert bands.trace.s_m == result.trace.s_m
    assert all(a <= b for a, b in zip(bands.trace.low_v_ms, bands.trace.high_v_ms, strict=True))


def test_one_seed_gives_one_band_and_certainty_gives_none() -> None:
    assert plan_bands(short()) == plan_bands(short())
    assert plan_bands(short(seed=2)).lap_time_s != plan_bands(short()).lap_time_s
    sure = plan_bands(
        short(grip_pct=0, downforce_pct=0, power_pct=0, wind_ms=0, radius_pct=0, laps=20)
    )
    assert sure.lap_time_s.high - sure.lap_time_s.low < 1e-9
    assert not any(corner.gear_in_doubt for corner in sure.corners)


def test_a_batch_that_is_not_wanted_any_more_ends() -> None:
    asked = []

    def stopped() -> bool:
        asked.append(True)
        return len(asked) > 5

    with pytest.raises(Stopped):
        plan_bands(short(seed=77), stopped)
    # What was stopped is not taken for an answer the next time.
    assert plan_bands(short(seed=77)).laps == 60
