"""What must hold whatever is changed in a plan: figures drawn by lot, on a short lap."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.services.figures.register import PLAN_WIDE
from neapfrost.services.laps.comparison import Comparison
from neapfrost.services.laps.figures import Change, apply_changes, assumptions
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.laps.what_if import WhatIf, what_if

PLAN = composed("turnstone-race-wind")
BEFORE = predict_lap(PLAN, trace_points=200)
NOW = assumptions(PLAN)
CORNERS = [corner.name for corner in BEFORE.corners]
#: The figures that the page has in its strip, and how far they are changed.
FACTORS = {
    "grip": (0.8, 1.2),
    "lift_area_m2": (0.5, 2.0),
    "drag_area_m2": (0.7, 1.4),
    "peak_power_kw": (0.6, 1.6),
    "mass_kg": (0.85, 1.2),
    "fuel_kg": (0.2, 1.4),
    "air_temp_c": (0.4, 1.8),
    "pressure_hpa": (0.9, 1.05),
    "wind_speed_ms": (0.0, 3.0),
    "wind_from_deg": (0.0, 1.9),
}


def test_the_figures_drawn_are_figures_of_the_plan() -> None:
    assert set(FACTORS) <= {figure.name for figure in PLAN_WIDE}
    assert all(NOW.figures[name] is not None for name in FACTORS)


@st.composite
def figures_changed(draw: st.DrawFn, most: int = 4) -> list[Change]:
    """Some of the figures, each somewhere else than it is."""
    found = []
    for name in draw(st.lists(st.sampled_from(sorted(FACTORS)), max_size=most, unique=True)):
        value = (NOW.figures[name] or 1.0) * draw(st.floats(*FACTORS[name]))
        found.append(Change(field=name, value=value))
    return found


@st.composite
def changed(draw: st.DrawFn) -> list[Change]:
    """Some of the figures, and perhaps a corner's radius."""
    found = draw(figures_changed())
    number = draw(st.none() | st.integers(0, len(CORNERS) - 1))
    if number is None:
        return found
    radius = (NOW.radii_m[number] or 40.0) * draw(st.floats(0.9, 1.1))
    return [*found, Change(field="radius_m", corner=CORNERS[number], value=radius)]


def asked(changes: list[Change], against_changes: list[Change] | None = None) -> WhatIf:
    """A what-if of the plan; what cannot be driven is drawn again."""
    against = PLAN if against_changes is None else apply_changes(PLAN, against_changes)
    try:
        return what_if(PLAN, changes, against, trace_points=200)
    except InputRefused:
        assume(False)
        raise


def compared(answer: WhatIf) -> Comparison:
    assert answer.comparison is not None
    return answer.comparison


@given(changed())
def test_a_what_if_is_the_lap_of_the_changed_plan_and_leaves_the_plan_alone(
    changes: list[Change],
) -> None:
    before = PLAN.model_dump_json()
    answer = asked(changes)
    assert PLAN.model_dump_json() == before
    again = predict_lap(apply_changes(PLAN, changes), trace_points=200)
    assert answer.result == again
    for change in changes:
        if change.corner is None:
            assert answer.assumptions.figures[change.field] == pytest.approx(change.value)


@given(figures_changed(), st.randoms(use_true_random=False))
def test_in_which_order_figures_are_changed_does_not_matter(
    changes: list[Change], lot: object
) -> None:
    other = list(changes)
    lot.shuffle(other)  # type: ignore[attr-defined]  # one of random's own
    assert asked(other).result.lap_time_s == pytest.approx(
        asked(changes).result.lap_time_s, abs=1e-9
    )


@given(figures_changed())
def test_there_and_back_is_the_lap_that_was(changes: list[Change]) -> None:
    there = apply_changes(PLAN, changes)
    back = [Change(field=change.field, value=NOW.figures[change.field]) for change in changes]
    lap = predict_lap(apply_changes(there, back), trace_points=200)
    assert lap.lap_time_s == pytest.approx(BEFORE.lap_time_s, abs=1e-6)
    for corner, was in zip(lap.corners, BEFORE.corners, strict=True):
        assert (corner.action, corner.gear) == (was.action, was.gear)
        assert corner.min_speed_ms == pytest.approx(was.min_speed_ms, abs=1e-6)


@given(figures_changed())
def test_what_the_corners_and_sectors_are_worth_adds_up_to_the_lap(changes: list[Change]) -> None:
    answer = asked(changes)
    told = compared(answer)
    assert told.lap_s == pytest.approx(answer.result.lap_time_s - BEFORE.lap_time_s, abs=1e-9)
    assert sum(told.sectors_s) == pytest.approx(told.lap_s, abs=1e-6)
    assert told.corners is not None
    assert sum(corner.time_s for corner in told.corners) == pytest.approx(told.lap_s, abs=1e-6)
    assert told.time_s is not None
    assert told.time_s[-1] == pytest.approx(told.lap_s, abs=2e-5)
    for corner, now, was in zip(told.corners, answer.result.corners, BEFORE.corners, strict=True):
        assert corner.min_speed_ms == pytest.approx(now.min_speed_ms - was.min_speed_ms, abs=1e-9)
        assert (corner.base_action, corner.base_gear) == (was.action, was.gear)


@given(figures_changed(2), figures_changed(2))
def test_one_lap_against_another_is_the_other_against_it_with_the_sign_turned(
    changes: list[Change], others: list[Change]
) -> None:
    one, other = compared(asked(changes, others)), compared(asked(others, changes))
    assert one.lap_s == pytest.approx(-other.lap_s, abs=1e-9)
    assert one.sectors_s == pytest.approx([-seconds for seconds in other.sectors_s], abs=1e-6)
    assert one.corners is not None
    assert other.corners is not None
    for here, there in zip(one.corners, other.corners, strict=True):
        assert here.min_speed_ms == pytest.approx(-there.min_speed_ms, abs=1e-9)
        assert (here.braking_earlier_m is None) == (there.braking_earlier_m is None)
        if here.braking_earlier_m is not None and there.braking_earlier_m is not None:
            assert here.braking_earlier_m == pytest.approx(-there.braking_earlier_m, abs=1e-9)


@given(changed())
def test_a_lap_that_is_told_holds_together(changes: list[Change]) -> None:
    lap = asked(changes).result
    assert sum(lap.sector_times_s) == pytest.approx(lap.lap_time_s, abs=1e-6)
    assert lap.mean_speed_ms == pytest.approx(lap.length_m / lap.lap_time_s, rel=1e-6)
    assert min(lap.trace.v_ms) >= min(corner.min_speed_ms for corner in lap.corners) - 0.01
    assert max(lap.trace.v_ms) <= lap.top_speed_ms + 1e-5
    for corner in lap.corners:
        if corner.action != "brake" or corner.brake_start_at_m is None:
            continue
        assert corner.braking_distance_m is not None
        assert corner.braking_distance_m > 0.0
        assert corner.brake_start_speed_ms is not None
        assert corner.brake_start_speed_ms > corner.min_speed_ms
        assert corner.braking_time_s is not None
        # All of it is driven between the two speeds.
        assert corner.braking_distance_m >= corner.min_speed_ms * corner.braking_time_s - 1e-3
        assert (
            corner.braking_distance_m <= corner.brake_start_speed_ms * corner.braking_time_s + 0.05
        )
