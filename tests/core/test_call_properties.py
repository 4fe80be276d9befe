"""What must hold of the calls on any course: nothing beats the quickest, mirrors agree."""

from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, road_car
from core.test_calls import combination
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.light import light
from neapfrost.core.lap.solve import solved
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Driver
from neapfrost.core.studies.braking import braking_call, effort_along
from neapfrost.core.studies.gear import gear_call
from neapfrost.core.studies.hold import hold_call
from neapfrost.core.studies.linked import complexes
from neapfrost.core.studies.stretch import stretch_after
from neapfrost.core.studies.worth import worths

#: The solver settles gears by races ahead; over a whole lap another choice may win so much [s].
RACED_S = 0.004


@st.composite
def courses(draw: st.DrawFn) -> Circuit:
    """Three corners of any size either way, with straights between them."""
    segments: list[Straight | Bend] = []
    for number in range(3):
        segments.append(Straight(draw(st.floats(30.0, 500.0))))
        radius = draw(st.floats(15.0, 150.0))
        angle = draw(st.floats(30.0, 150.0))
        ramps = draw(st.floats(0.0, 0.4)) * radius * angle / 57.3
        turn = draw(st.sampled_from((-1, 1)))
        segments.append(Bend(f"T{number + 1}", turn, radius, angle, transition_m=ramps))
    return Circuit("any", True, tuple(segments))


def driven(circuit: Circuit) -> DrivenLap:
    return combination(circuit, road_car(), AIR_12, Driver())


def mirrored(circuit: Circuit) -> Circuit:
    return replace(
        circuit,
        segments=tuple(
            replace(s, turn=-s.turn) if isinstance(s, Bend) else s for s in circuit.segments
        ),
    )


SOME = settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.too_slow])


@SOME
@given(circuit=courses())
def test_nothing_beats_the_quickest_and_the_plan_is_within_a_race_of_it(circuit: Circuit) -> None:
    found = driven(circuit)
    for number in range(3):
        gears = gear_call(found, number)
        if gears is not None:
            costs = {one.gear: one.cost_s for one in gears.options if one.reached}
            assert min(cost for cost in costs.values() if cost is not None) == 0.0
            assert costs[gears.quickest] == 0.0
            planned = costs.get(gears.planned)
            assert planned is None or planned <= RACED_S
        hold = hold_call(found, number)
        if hold is not None:
            assert min(one.cost_s for one in hold.options) == 0.0
            planned_top = [one for one in hold.options if one.top_gear == hold.planned_top]
            assert all(one.cost_s <= RACED_S for one in planned_top)
            assert hold.break_even_shift_s is None or 0.0 < hold.break_even_shift_s < 1.0


@SOME
@given(circuit=courses())
def test_a_mirrored_course_has_the_same_calls(circuit: Circuit) -> None:
    one, other = driven(circuit), driven(mirrored(circuit))
    first, second = worths(one), worths(other)
    for left, right in zip(first, second, strict=True):
        assert left.time_rank == right.time_rank
        assert left.slow_s == pytest.approx(right.slow_s, abs=1e-6)
        if left.per_min_speed_s is not None:
            assert right.per_min_speed_s == pytest.approx(left.per_min_speed_s, abs=1e-6)
    assert [c.corners for c in complexes(one, first)] == [
        c.corners for c in complexes(other, second)
    ]
    for number in range(3):
        braked, too = braking_call(one, number), braking_call(other, number)
        assert (braked is None) == (too is None)
        if braked is not None and too is not None:
            assert braked.options[0].release_m == pytest.approx(too.options[0].release_m, abs=1e-3)


@SOME
@given(circuit=courses())
def test_worths_are_no_gain_from_slowing_and_effort_is_a_share(circuit: Circuit) -> None:
    found = driven(circuit)
    for worth in worths(found):
        assert worth.per_min_speed_s is None or worth.per_min_speed_s >= 0.0
        assert worth.per_exit_speed_s is None or worth.per_exit_speed_s >= 0.0
        assert worth.per_brake_metre_s is None or worth.per_brake_metre_s > 0.0
        assert worth.slow_s > 0.0
    for number, corner in enumerate(found.corners):
        if corner.action != "brake":
            continue
        effort = effort_along(found, number)
        assert all(0.0 <= point.effort_pct <= 100.5 for point in effort)
        assert [p.at_m for p in effort] == sorted(p.at_m for p in effort)
        stretch = stretch_after(found, number)
        if stretch is not None:
            assert 0.0 < stretch.length_m <= found.lap.path.length_m + 1e-6
            assert stretch.gear_to >= stretch.gear_from


@SOME
@given(circuit=courses())
def test_a_light_lap_agrees_with_the_full_one_on_any_course(circuit: Circuit) -> None:
    found = driven(circuit)
    one = light(solved(found.drive))
    assert one.lap_time_s == pytest.approx(found.lap.lap_time_s, abs=3e-4)
    for number, corner in enumerate(found.corners):
        assert one.min_speed_ms[number] == pytest.approx(corner.min_speed_ms, abs=0.06)
        if corner.action in ("flat", "brake"):
            assert one.actions[number] == corner.action
        if corner.brake_start_to_corner_m is not None:
            assert one.brake_to_corner_m[number] == pytest.approx(
                corner.brake_start_to_corner_m, abs=0.1
            )
