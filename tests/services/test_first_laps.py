"""First laps step up to the plan and are nowhere later or faster than it."""

from itertools import pairwise

import pytest

from neapfrost.core.measures import said as in_units
from neapfrost.core.studies.first_laps import SHARES, Confidence
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import FirstLapsDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.corners.first_laps import first_laps
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.plans.exchange import import_plan, kept_plan
from neapfrost.services.plans.plan_edit import PlanEdit, edit_plan
from neapfrost.services.plans.workbench import open_plan, undo
from neapfrost.store.database import Store


def demo(plan_id: str) -> PlanDocument:
    plan = demo_plan(plan_id)
    assert plan is not None
    return plan.document


@pytest.mark.parametrize("confidence", ["new", "some", "known"])
@pytest.mark.parametrize("plan_id", ["k4-dry", "garganey-samphire", "sanderling-hill"])
def test_laps_step_up_to_the_plan(plan_id: str, confidence: Confidence) -> None:
    plan = demo(plan_id)
    found = first_laps(plan, confidence)
    assert len(found.laps) == len(SHARES[confidence]) + 1
    assert [lap.number for lap in found.laps] == list(range(1, len(found.laps) + 1))
    for before, after in pairwise(found.laps):
        assert before.lap_time_s > after.lap_time_s
        for early, late in zip(before.corners, after.corners, strict=True):
            assert early.min_speed_ms <= late.min_speed_ms
            if late.brake_start_to_corner_m is not None:
                assert early.brake_start_to_corner_m is not None
                assert early.brake_start_to_corner_m >= late.brake_start_to_corner_m
            assert early.earlier_m is None or early.earlier_m >= 0.0
    planned = predict_lap(plan)
    assert found.laps[-1].lap_time_s == pytest.approx(planned.lap_time_s)
    for step, corner in zip(found.laps[-1].corners, planned.corners, strict=True):
        assert step.brake_start_to_corner_m == corner.brake_start_to_corner_m
        assert step.min_speed_ms == corner.min_speed_ms


def test_each_lap_is_a_lap_with_less_of_the_grip_not_scaled_speeds() -> None:
    plan = demo("k4-dry")
    bare = plan.circuit.model_copy(update={"corner_notes": []})
    plan = plan.model_copy(update={"circuit": bare})
    first = first_laps(plan, "new").laps[0]
    value = plan.model_dump(mode="json")
    for way in value["driver"]["use"]:
        value["driver"]["use"][way] *= SHARES["new"][0]
    alone = predict_lap(plan_from_object(value))
    assert first.lap_time_s == pytest.approx(alone.lap_time_s)
    for step, corner in zip(first.corners, alone.corners, strict=True):
        assert step.min_speed_ms <= corner.min_speed_ms + 1e-9
    # A corner with downforce gives up more than the root of the share.
    planned = predict_lap(plan)
    fast = max(range(len(planned.corners)), key=lambda k: planned.corners[k].min_speed_ms)
    slow = min(range(len(planned.corners)), key=lambda k: planned.corners[k].min_speed_ms)
    ratio = [first.corners[k].min_speed_ms / planned.corners[k].min_speed_ms for k in (slow, fast)]
    assert ratio[0] == pytest.approx(SHARES["new"][0] ** 0.5, abs=0.02)


def test_cold_tyres_are_counted_where_a_compound_says_so() -> None:
    plan = plan_from_object(demo("k4-dry").model_dump(mode="json") | {"setup": "Fen, dry"})
    cold, plain = first_laps(plan, "some"), first_laps(demo("k4-dry"), "some")
    assert [lap.tyre_lap for lap in cold.laps] == [1, 2, 3, None]
    assert {lap.tyre_lap for lap in plain.laps} == {None}
    lost = [lap.lap_time_s - cold.laps[-1].lap_time_s for lap in cold.laps]
    usual = [lap.lap_time_s - plain.laps[-1].lap_time_s for lap in plain.laps]
    assert lost[0] > usual[0] + 0.2


@pytest.mark.parametrize("plan_id", ["k4-dry", "garganey-samphire", "dunlin-heath"])
def test_brakes_come_earlier_by_the_margins_at_least(plan_id: str) -> None:
    plan = demo(plan_id)
    margins = FirstLapsDocument(first_m=40.0, second_m=22.0, later_m=9.0)
    usual, wide = first_laps(plan, "new"), first_laps(with_margins(plan, margins), "new")
    for lap, least in zip(usual.laps[:-1], (15.0, 10.0, 5.0, 5.0), strict=True):
        for step in lap.corners:
            assert step.earlier_m is None or step.earlier_m >= least - 1e-9
    for before, lap, least in zip(usual.laps, wide.laps[:-1], (40.0, 22.0, 9.0, 9.0), strict=False):
        for own, step in zip(before.corners, lap.corners, strict=True):
            if step.earlier_m is not None:
                assert own.earlier_m is not None
                # The larger of the two rules counts, and where it moves nothing nothing moves.
                assert step.earlier_m == pytest.approx(max(own.earlier_m, least), abs=1e-6)
                assert step.said != own.said or step.earlier_m == own.earlier_m
            assert step.min_speed_ms == own.min_speed_ms
    # The call is told by the board that is nearest to the place it has moved to.
    call = wide.laps[0].corners[0].board_call
    assert call is not None
    assert call.metres <= 100.0


def with_margins(plan: PlanDocument, margins: FirstLapsDocument) -> PlanDocument:
    return plan.model_copy(update={"first_laps": margins})


def test_margins_are_kept_with_the_plan_and_written_in_its_history(store: Store) -> None:
    opened = open_plan(store, import_plan(store, demo("k4-dry")).plan_id)
    wanted = FirstLapsDocument(first_m=25.0)
    edited = edit_plan(store, opened.id, opened.revisions, PlanEdit(first_laps=wanted))
    assert edited.plan.first_laps == wanted
    assert in_units(edited.undo or "") == "First laps: margin, first lap 15 to 25 m"
    assert in_units(edited.undo or "", "yards") == "First laps: margin, first lap 16.4 to 27.34 yd"
    assert edited.result is not None
    assert opened.result is not None
    assert edited.result.lap_time_s == opened.result.lap_time_s
    assert kept_plan(store, opened.id).first_laps == wanted
    undo(store, opened.id)
    assert kept_plan(store, opened.id).first_laps == FirstLapsDocument()
