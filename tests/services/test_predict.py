"""Plans in, predicted laps out; one figure changed at a time."""

import math

import pytest

from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.errors import InputRefused
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.demo.plans import DemoPlan, demo_plan, demo_plans, write_demo_plans
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import read_plan
from neapfrost.formats.plan_records import segment_record
from neapfrost.services.laps.figures import Change, apply_changes
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.laps.what_if import what_if


def plan() -> PlanDocument:
    found = demo_plan("k4-dry")
    assert found is not None
    return found.document


@pytest.mark.parametrize("demo", demo_plans(), ids=lambda demo: demo.id)
def test_every_demo_plan_gives_a_lap_consistent_with_itself(demo: DemoPlan) -> None:
    result = predict_lap(demo.document)
    assert 25.0 < result.lap_time_s < 140.0
    assert sum(result.sector_times_s) == pytest.approx(result.lap_time_s, abs=1e-3)
    assert result.mean_speed_ms == pytest.approx(result.length_m / result.lap_time_s)
    assert result.trace.t_s[-1] == pytest.approx(result.lap_time_s, abs=1e-5)
    if demo.document.circuit.closed:
        assert result.trace.v_ms[0] == pytest.approx(result.trace.v_ms[-1], abs=0.01)
    assert result.map_gap_m < 5.0


def test_the_trace_s_columns_belong_together() -> None:
    trace = predict_lap(plan(), trace_points=800).trace
    columns = trace.model_dump().values()
    assert len({len(column) for column in columns}) == 1
    assert max(trace.brake_pct) <= 100.0
    assert max(trace.brake_pct) > 80.0
    assert not any(
        b > 0 and t > 0 for b, t in zip(trace.brake_pct, trace.throttle_pct, strict=True)
    )
    for s, v, curvature, ay in zip(
        trace.s_m, trace.v_ms, trace.curvature_per_m, trace.ay_g, strict=True
    ):
        assert ay == pytest.approx(v * v * curvature / 9.80665, abs=2e-3), s


def test_a_finer_step_gives_the_same_lap() -> None:
    assert predict_lap(plan(), 0.5).lap_time_s == pytest.approx(
        predict_lap(plan()).lap_time_s, abs=0.002
    )


@pytest.mark.parametrize("step", [0.01, 20.0, -1.0])
def test_an_impossible_step_is_refused(step: float) -> None:
    with pytest.raises(InputRefused, match=r"between 0\.1 and 10 m is allowed"):
        predict_lap(plan(), step)


def test_a_vehicle_that_cannot_climb_is_refused_by_name() -> None:
    document = plan().model_dump()
    document["circuit"]["closed"] = False
    document["circuit"]["start_speed_ms"] = 0.0
    document["circuit"]["sectors_at_m"] = []
    for segment in document["circuit"]["segments"]:
        segment["grade_pct"] = 45.0
    document["car"]["tyres"]["mu_longitudinal"] = 0.3
    with pytest.raises(InputRefused, match="car: the vehicle comes to a stop at"):
        predict_lap(PlanDocument.model_validate(document))


def test_less_grip_moves_every_braking_point_earlier() -> None:
    before = what_if(plan()).result
    less = Change(field="grip", value=1.42)
    after = what_if(plan(), [less])
    tyres = apply_changes(plan(), [less]).car.tyres
    assert tyres.mu_longitudinal == pytest.approx(1.6 * 1.42 / 1.52)
    assert after.result.lap_time_s > before.lap_time_s + 1.0
    for old, new in zip(before.corners, after.result.corners, strict=True):
        if old.action == "brake":
            assert new.brake_start_to_corner_m is not None
            assert old.brake_start_to_corner_m is not None
            assert new.brake_start_to_corner_m > old.brake_start_to_corner_m


def test_power_scales_the_whole_torque_curve() -> None:
    more = Change(field="peak_power_kw", value=220.0)
    changed = apply_changes(plan(), [more])
    assert what_if(plan(), [more]).assumptions.figures["peak_power_kw"] == pytest.approx(220.0)
    ratio = 220.0 / (what_if(plan()).assumptions.figures["peak_power_kw"] or 1.0)
    for old, new in zip(
        plan().car.engine.torque_curve, changed.car.engine.torque_curve, strict=True
    ):
        assert new.torque_nm == pytest.approx(old.torque_nm * ratio)


def test_peak_power_lies_where_the_parabola_between_two_points_tops_out() -> None:
    # T = 300 - 0.02·(n - 3000): n·T has its top at n = 9000, beyond the limit of 8000.
    curve = ((3000.0, 300.0), (12000.0, 120.0))
    assert peak_power_w(curve, 8000.0) == pytest.approx(8000 * 200 * math.pi / 30)
    assert peak_power_w(curve, 12000.0) == pytest.approx(9000 * 180 * math.pi / 30)
    assert peak_power_w(((3000.0, 300.0), (6000.0, 300.0)), 7000.0) == pytest.approx(
        7000 * 300 * math.pi / 30
    )


def places(document: PlanDocument) -> tuple[dict[str, float], float]:
    """Where each corner's middle lies along the lap, and the length of the lap."""
    at = 0.0
    middles = {}
    for segment in document.circuit.segments or []:
        length = segment_length_m(segment_record(segment))
        if segment.kind == "corner":
            middles[segment.name] = at + length / 2
        at += length
    return middles, at


def test_a_wider_corner_keeps_the_boards_where_they_stand() -> None:
    wider = Change(field="radius_m", corner="Peat Cut", value=60.0)
    before, after = plan(), apply_changes(plan(), [wider])
    old_middles, old_length = places(before)
    new_middles, new_length = places(after)
    shorter = old_length - new_length
    assert shorter > 0.0
    for old, new in zip(before.circuit.boards, after.circuit.boards, strict=True):
        assert old.corner is not None
        beyond = old_middles[old.corner] > old_middles["Peat Cut"]
        moved = shorter if beyond else 0.0
        assert new.at_m == pytest.approx(old.at_m - moved)
        if old.corner not in ("Peat Cut", "Eel Trap"):
            there = old_middles[old.corner] - old.at_m
            assert new_middles[old.corner] - new.at_m == pytest.approx(there)
    assert predict_lap(after).map_gap_m == pytest.approx(predict_lap(before).map_gap_m, abs=0.3)
    old_sectors, new_sectors = before.circuit.sectors_at_m, after.circuit.sectors_at_m
    assert new_sectors == pytest.approx([at - shorter for at in old_sectors])


def test_a_radius_that_leaves_no_straight_holds_the_straights() -> None:
    changed = apply_changes(plan(), [Change(field="radius_m", corner="Lodeside", value=400.0)])
    lengths = [s.length_m for s in changed.circuit.segments or [] if s.kind == "straight"]
    assert lengths == [s.length_m for s in plan().circuit.segments or [] if s.kind == "straight"]


def test_held_straights_keep_their_lengths_and_what_lies_beyond_moves_along() -> None:
    held = Change(field="radius_m", corner="Peat Cut", value=60.0, hold_straights=True)
    before, after = plan(), apply_changes(plan(), [held])
    lengths = [s.length_m for s in after.circuit.segments or [] if s.kind == "straight"]
    assert lengths == [s.length_m for s in before.circuit.segments or [] if s.kind == "straight"]
    old_middles, old_length = places(before)
    new_middles, new_length = places(after)
    longer = 10.0 * math.radians(84.0)  # ΔR·θ; the transitions keep their length
    assert new_length - old_length == pytest.approx(longer, abs=1e-9)
    for old, new in zip(before.circuit.boards, after.circuit.boards, strict=True):
        assert old.corner is not None
        beyond = old_middles[old.corner] > old_middles["Peat Cut"]
        assert new.at_m == pytest.approx(old.at_m + (longer if beyond else 0.0))
        if old.corner != "Peat Cut":
            assert new_middles[old.corner] - new.at_m == pytest.approx(
                old_middles[old.corner] - old.at_m
            )


@pytest.mark.parametrize(
    ("change", "message"),
    [
        (Change(field="grip", value=-1.0), "car.tyres.mu_lateral: -1 was given; more than 0"),
        (Change(field="fuel_kg", value=-2.0), "car.fuel_kg: -2 was given; 0 or more"),
        (Change(field="peak_power_kw", value=0.0), "0 kW was given; more than 0 is expected"),
        (Change(field="radius_m", corner="Nowhere", value=30.0), 'is named "Nowhere"'),
        (Change(field="radius_m", corner="Sluice", value=0.0), r"segments\[1\].radius_m: 0 was"),
        (Change(field="radius_m", corner="Drove", value=10.0), "the ramp must be shorter"),
    ],
)
def test_a_change_that_is_not_allowed_names_the_field(change: Change, message: str) -> None:
    with pytest.raises(InputRefused, match=message):
        what_if(plan(), [change])


def test_demo_plans_are_written_as_documents_that_read_back(tmp_path: object) -> None:
    files = write_demo_plans(tmp_path / "plans")  # type: ignore[operator]
    again = write_demo_plans(tmp_path / "plans")  # type: ignore[operator]
    assert files == again
    assert [read_plan(path.read_bytes()) for path in files] == [
        demo.document for demo in demo_plans()
    ]
