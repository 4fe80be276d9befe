"""Wind at each corner, and the wind from which a flat corner is flat no more."""

import time

import numpy as np
import pytest

from neapfrost.demo.plans import composed
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.studies.jobs import StudyJobs
from neapfrost.services.studies.tables import table_csv
from neapfrost.services.weather.winds import (
    DIRECTIONS,
    HALVINGS,
    SPEEDS,
    WindsRequest,
    WindStudy,
    wind_lap,
    winds_course,
)

STRONGEST_MS = 24.0


@pytest.fixture(scope="module")
def plan() -> PlanDocument:
    """One with a corner that is flat, and not in every wind."""
    return composed("k4-dry")


def in_wind(plan: PlanDocument, speed_ms: float, from_deg: float) -> PlanDocument:
    air = plan.conditions.model_copy(update={"wind_speed_ms": speed_ms, "wind_from_deg": from_deg})
    return plan.model_copy(update={"conditions": air})


def test_what_the_wind_moves_is_the_difference_to_still_air(plan: PlanDocument) -> None:
    found = wind_lap(plan, 8.0, 270.0, 3.0)
    windy, still = predict_lap(in_wind(plan, 8.0, 270.0)), predict_lap(in_wind(plan, 0.0, 270.0))
    assert found.lap_time_s == windy.lap_time_s
    assert found.still_lap_s == still.lap_time_s
    assert found.gust_lap_s == predict_lap(in_wind(plan, 11.0, 270.0)).lap_time_s
    for corner, now, before in zip(found.corners, windy.corners, still.corners, strict=True):
        assert corner.min_speed_ms == now.min_speed_ms - before.min_speed_ms
        if corner.braking_earlier_m is not None:
            assert now.brake_start_to_corner_m is not None
            assert before.brake_start_to_corner_m is not None
            moved = now.brake_start_to_corner_m - before.brake_start_to_corner_m
            assert corner.braking_earlier_m == moved
        assert corner.gust_speed_ms.low <= corner.gust_speed_ms.high
        if corner.braking_head_ms is not None:
            assert abs(corner.braking_head_ms) <= 8.0 + 1e-9


def test_the_wind_along_the_lap_agrees_with_its_corners_and_its_lap(plan: PlanDocument) -> None:
    found = wind_lap(plan, 8.0, 270.0, 0.0)
    along = found.along
    assert along.lost_s[0] == 0.0
    assert along.lost_s[-1] == pytest.approx(found.lap_time_s - found.still_lap_s, abs=1e-9)
    assert max(map(abs, along.head_ms)) <= 8.0 + 1e-9
    lap = predict_lap(in_wind(plan, 8.0, 270.0))
    for corner, driven in zip(found.corners, lap.corners, strict=True):
        there = float(np.interp(driven.ends_at_m, along.at_m, along.head_ms))
        assert there == pytest.approx(corner.exit_head_ms, abs=1.0)
    calm = predict_lap(in_wind(plan, 0.0, 270.0))
    clocks = [np.interp(along.at_m, one.trace.s_m, one.trace.t_s) for one in (lap, calm)]
    assert along.lost_s == pytest.approx(list(clocks[0] - clocks[1]), abs=0.005)
    still = wind_lap(plan, 0.0, 270.0, 0.0).along
    assert still.lost_s == [0.0] * len(still.lost_s)


def test_a_headwind_shortens_braking_and_a_tailwind_lengthens_it(plan: PlanDocument) -> None:
    """At the end of the longest straight, whose bearing the wind has."""
    first = wind_lap(plan, 8.0, 0.0, 0.0).corners[0]
    assert first.braking_head_ms is not None
    turned = wind_lap(plan, 8.0, 90.0, 0.0).corners[0]
    assert turned.braking_head_ms is not None
    assert turned.braking_head_ms > first.braking_head_ms
    assert (turned.braking_earlier_m or 0.0) < (first.braking_earlier_m or 0.0)


@pytest.fixture(scope="module")
def study(plan: PlanDocument) -> WindStudy:
    jobs = StudyJobs(None)
    job = jobs.start(1, plan, winds_course(WindsRequest(strongest_ms=STRONGEST_MS)))
    while job.state == "running":
        time.sleep(0.02)
        job = jobs.look(job.id)
    assert job.state == "done", job.faults
    assert len(table_csv(job).splitlines()) == 1 + DIRECTIONS
    assert job.winds is not None
    return job.winds


def test_only_corners_that_are_flat_in_still_air_have_a_threshold(
    plan: PlanDocument, study: WindStudy
) -> None:
    still = predict_lap(in_wind(plan, 0.0, 0.0))
    flat = [number for number, corner in enumerate(still.corners) if corner.action == "flat"]
    assert [corner.corner for corner in study.corners] == flat
    assert len(study.directions_deg) == DIRECTIONS


@pytest.mark.parametrize("direction", range(0, DIRECTIONS, 3))
def test_a_threshold_lies_between_flat_and_not(
    plan: PlanDocument, study: WindStudy, direction: int
) -> None:
    """Bisection leaves so much between the two: the truth is no farther than that."""
    left_ms = STRONGEST_MS / SPEEDS / 2**HALVINGS
    from_deg = study.directions_deg[direction]
    for corner in study.corners:
        threshold = corner.from_ms[direction]
        if threshold is None:
            strongest = predict_lap(in_wind(plan, STRONGEST_MS, from_deg))
            assert strongest.corners[corner.corner].action == "flat"
            continue
        below, above = (
            predict_lap(in_wind(plan, threshold + side * left_ms, from_deg)) for side in (-1, 1)
        )
        assert below.corners[corner.corner].action == "flat"
        assert above.corners[corner.corner].action != "flat"
