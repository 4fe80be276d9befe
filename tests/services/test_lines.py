"""A plan's line on its road: computed, kept, carried along, and told when it is out of date."""

import math
import time
from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.solve import lap_time_s, solve, solve_many
from neapfrost.core.line import portfolio
from neapfrost.core.line.solver import Strategy
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import (
    CircuitDocument,
    LineCornerDocument,
    LineDocument,
    LineHoldDocument,
    PlanDocument,
)
from neapfrost.formats.plan_file import plan_from_object, read_plan, write_plan
from neapfrost.services.circuits.circuit_edit import CircuitEdit, Remove, SetFigure, edited_circuit
from neapfrost.services.circuits.edge_edit import Describe
from neapfrost.services.laps.figures import Change
from neapfrost.services.laps.planned import drive_on_line
from neapfrost.services.laps.predict import predict_lap, recall
from neapfrost.services.laps.what_if import what_if
from neapfrost.services.lines.drawing import road_drawing
from neapfrost.services.lines.jobs import LineJobs
from neapfrost.services.lines.search import computed_line, line_for, plan_with_line
from neapfrost.services.plans.exchange import import_plan, kept_plan
from neapfrost.services.plans.road_lines import lines_beside
from neapfrost.services.plans.workbench import (
    OpenPlan,
    keep_circuit_edits,
    keep_line,
    open_plan,
    undo,
)
from neapfrost.services.roads.road import made_for, on_road, segment_edges_m
from neapfrost.services.roads.wishes import lost_wishes, present_wishes
from neapfrost.store.database import Store


@pytest.fixture(scope="module")
def samphire() -> PlanDocument:
    plan = demo_plan("garganey-samphire")
    assert plan is not None
    return plan.document


def without_line(plan: PlanDocument, **line: object) -> PlanDocument:
    return plan_from_object({**plan.model_dump(mode="json"), "line": line or None})


def test_the_demo_lines_are_those_of_their_plans(samphire: PlanDocument) -> None:
    for plan_id in ("garganey-samphire", "dunlin-samphire"):
        plan = demo_plan(plan_id)
        assert plan is not None
        told = predict_lap(plan.document).line
        assert told is not None
        assert told.model_dump() == {
            "wanted": "fastest",
            "driven": "fastest",
            "changed_since": [],
            "lost_wishes": [],
            "ended": "settled",
        }


def test_a_line_computed_anew_is_the_demo_s_own(samphire: PlanDocument) -> None:
    bare = without_line(samphire)
    again = plan_with_line(bare)
    assert again.line is not None
    assert predict_lap(again).lap_time_s == pytest.approx(
        predict_lap(samphire).lap_time_s, rel=5e-4
    )
    assert again.line.computed is not None
    assert again.line.computed.made_for == made_for(again)


def test_a_plan_that_wants_no_line_gets_none(samphire: PlanDocument) -> None:
    assert plan_with_line(samphire) is samphire
    centre = without_line(samphire, kind="centre")
    assert plan_with_line(centre) is centre
    assert predict_lap(centre).warnings == [
        w for w in predict_lap(centre).warnings if "No line" not in w
    ]


def describe_test_without_a_line_the_middle_is_driven_and(samphire: PlanDocument) -> None:
    result = predict_lap(without_line(samphire))
    assert result.line is not None
    assert result.line.driven == "centre"
    assert any("follows the middle" in warning for warning in result.warnings)
    assert result.lap_time_s > predict_lap(samphire).lap_time_s


def test_the_document_with_its_line_reads_back(samphire: PlanDocument) -> None:
    assert read_plan(write_plan(samphire)) == samphire


def test_what_changes_is_named_and_the_lap_still_answers(samphire: PlanDocument) -> None:
    answer = what_if(samphire, [Change(field="grip", value=1.2)])
    assert answer.result.line is not None
    assert answer.result.line.changed_since == ["vehicle"]
    assert answer.result.lap_time_s < predict_lap(samphire).lap_time_s
    windy = what_if(samphire, [Change(field="wind_speed_ms", value=9.0)])
    assert windy.result.line is not None
    assert windy.result.line.changed_since == ["conditions"]


def test_a_radius_moves_the_road_and_the_line_with_it(samphire: PlanDocument) -> None:
    wider = what_if(samphire, [Change(field="radius_m", corner="Windpump", value=27.0)])
    told = wider.result.line
    assert told is not None
    assert (told.driven, told.changed_since) == ("fastest", ["road"])
    before = predict_lap(samphire)
    windpump = [corner.name for corner in before.corners].index("Windpump")
    assert wider.result.corners[windpump].min_speed_ms > before.corners[windpump].min_speed_ms + 0.2
    assert wider.result.lap_time_s == pytest.approx(before.lap_time_s, abs=0.6)


def test_boards_stay_where_they_stand_on_the_road(samphire: PlanDocument) -> None:
    """A braking point read off a board is the line's own distance to the place beside it."""
    laid = on_road(samphire)
    result = predict_lap(samphire)
    corner = result.corners[0]
    assert corner.board_call is not None
    assert corner.brake_start_at_m is not None
    board = next(
        b
        for b in samphire.circuit.boards
        if (b.corner, b.label) == (corner.name, corner.board_call.label)
    )
    beside = float(np.interp(board.at_m, laid.road.middle.s_m, laid.line.at_m))
    past = abs(corner.brake_start_at_m - beside)
    assert past == pytest.approx(corner.board_call.metres, abs=0.01)


def test_the_drawing_s_corners_add_up_to_the_lap(samphire: PlanDocument) -> None:
    drawing = road_drawing(samphire)
    assert sum(corner.time_s for corner in drawing.line.corners) == pytest.approx(
        drawing.line.lap_time_s, abs=1e-6
    )
    assert drawing.line.lap_time_s == recall(samphire, None).result.lap_time_s
    assert len(drawing.corners) == len(drawing.line.corners) == 9
    assert len(drawing.edges) == 8
    offsets = np.array(drawing.line.offset_m)
    assert (offsets <= np.array(drawing.left_m) + 2e-3).all()
    assert (offsets >= np.array(drawing.right_m) - 2e-3).all()
    widest = drawing.corners[3].widest_arc_radius_m
    assert widest is not None
    assert widest > drawing.corners[3].radius_m


@pytest.mark.parametrize("asked", [{"braking": 0.6}, {"gear": 4}, {"grip_factor": 0.8}])
def test_one_line_has_one_time_with_what_is_asked_at_a_corner(
    samphire: PlanDocument, asked: dict[str, float]
) -> None:
    """Driven, drawn, priced beside others, and as the search drives it: the same number."""
    first = next(one.name for one in samphire.circuit.segments or [] if one.kind == "corner")
    order = {"corner": 0, "name": first, **asked}
    plan = plan_from_object({**samphire.model_dump(mode="json"), "corners": [order]})
    time_s = predict_lap(plan).lap_time_s
    assert abs(time_s - predict_lap(samphire).lap_time_s) > 1e-3
    assert road_drawing(plan).line.lap_time_s == time_s
    laid = on_road(plan)
    assert laid is not None
    assert solve(drive_on_line(plan, laid.line)).lap_time_s == time_s
    (trial,) = solve_many([drive_on_line(plan, laid.line)], lap_time_s)
    assert trial == time_s


def test_wishes_reach_the_line(samphire: PlanDocument) -> None:
    wanted = without_line(
        samphire,
        kind="widest",
        corners=[{"corner": 3, "radius_m": 24.0}],
        holds=[{"at_m": 200.0, "offset_m": 1.0}],
        margin_m=0.3,
    )
    shape, _ = line_for(wanted, "widest")
    s = on_road(wanted).road.middle.s_m
    assert shape.offset_m[np.argmin(np.abs(s - 200.0))] == pytest.approx(1.0, abs=0.06)
    assert np.abs(shape.curvature_per_m).max() == pytest.approx(1.0 / 24.0, rel=1e-3)


def test_a_line_that_has_not_settled_says_so_wherever_it_is_driven(
    samphire: PlanDocument, monkeypatch: pytest.MonkeyPatch
) -> None:
    hasty = ((Strategy("hasty", "monotone", 6), "widest"),)
    monkeypatch.setattr(portfolio, "PLAN", hasty)
    plan = plan_with_line(without_line(samphire, kind="fastest"))
    assert plan.line is not None
    assert plan.line.computed is not None
    assert plan.line.computed.ended == "known_line"
    # The widest arcs, which are quicker than what six iterations found.
    assert np.abs(plan.line.computed.offset_m).max() > 1.0
    result = predict_lap(plan)
    assert result.line is not None
    assert result.line.ended == "known_line"
    assert any("a quicker one may exist" in warning for warning in result.warnings)
    drawing = road_drawing(plan)
    assert drawing.line is not None
    assert (drawing.line.ended, drawing.line.remark) == ("known_line", "a line known before")


def test_a_line_from_before_is_never_made_slower(
    samphire: PlanDocument, monkeypatch: pytest.MonkeyPatch
) -> None:
    hasty = ((Strategy("hasty", "monotone", 6), "centre"),)
    monkeypatch.setattr(portfolio, "PLAN", hasty)
    shape, ended = line_for(samphire, "fastest")
    assert samphire.line is not None
    assert samphire.line.computed is not None
    assert ended == "known_line"
    np.testing.assert_allclose(shape.offset_m, samphire.line.computed.offset_m, atol=1e-9)
    before = predict_lap(samphire)
    assert before.line is not None
    assert before.line.ended == "settled"
    assert not any("a quicker one may exist" in warning for warning in before.warnings)


@pytest.mark.parametrize("width_m", [1.94, 2.6])
def test_another_plan_s_line_is_taken_where_it_is_quicker_and_fits(
    samphire: PlanDocument, monkeypatch: pytest.MonkeyPatch, width_m: float
) -> None:
    monkeypatch.setattr(portfolio, "PLAN", ((Strategy("hasty", "monotone", 6), "widest"),))
    assert samphire.line is not None
    assert samphire.line.computed is not None
    other = samphire.line.computed
    car = samphire.car.model_copy(update={"width_m": width_m})
    plan = without_line(samphire.model_copy(update={"car": car}), kind="fastest")
    shape, said = line_for(plan, "fastest", known=[other])
    taken = np.allclose(shape.offset_m, other.offset_m, atol=1e-9)
    assert said == "known_line"
    # A wider car would run off the road there, and keeps to widest arcs.
    assert taken == (width_m < 2.0)


def test_lines_of_other_plans_on_the_circuit_are_found(store: Store) -> None:
    numbers = []
    for plan_id in ("garganey-samphire", "dunlin-samphire"):
        plan = demo_plan(plan_id)
        assert plan is not None
        numbers.append(import_plan(store, plan.document).plan_id)
    own = kept_plan(store, numbers[1]).line
    assert own is not None
    assert lines_beside(store, numbers[0]) == [own.computed]
    # Plans on another circuit have none, and a plan does not find its own.
    assert lines_beside(store, 1) == []


def test_a_vehicle_wider_than_its_road_is_refused(samphire: PlanDocument) -> None:
    value = samphire.model_dump(mode="json")
    value["line"] = {"margin_m": 5.0}
    with pytest.raises(InputRefused, match="of the road may be used"):
        predict_lap(plan_from_object(value))


def test_what_is_asked_at_a_corner_stays_with_it(store: Store, samphire: PlanDocument) -> None:
    plan_id = import_plan(store, samphire).plan_id
    corners = [s for s in samphire.circuit.segments or [] if s.kind == "corner"]
    wish = LineCornerDocument(corner=2, apex_no_earlier_pct=55.0)
    at_m = segment_edges_m(samphire.circuit)[-1] - 40.0
    hold = LineHoldDocument(at_m=at_m, offset_m=1.5)
    asked = LineDocument(corners=[wish], holds=[hold])
    opened = keep_line(store, plan_id, open_plan(store, plan_id).revisions, asked)
    name = corners[2].name

    def present(given: dict[str, Any]) -> OpenPlan:
        edit = TypeAdapter(CircuitEdit).validate_python(given)
        return keep_circuit_edits(store, plan_id, open_plan(store, plan_id).revisions, [edit])

    def told(opened: OpenPlan) -> tuple[list[int], list[str]]:
        drawing = road_drawing(opened.plan)
        return [one.corner for one in drawing.settings.corners or []], drawing.told.lost_wishes

    assert told(opened) == ([2], [])
    opened = present({"op": "rename", "segment": number_of(opened, name), "name": "Marram"})
    assert told(opened) == ([2], [])
    bend = {"kind": "corner", "name": "New", "direction": "left", "radius_m": 90.0}
    opened = present({"op": "add", "before": 1, "segment": {**bend, "angle_deg": 4.0}})
    assert told(opened) == ([3], [])
    added_m = 90.0 * math.radians(4.0)
    assert opened.plan.line is not None
    assert opened.plan.line.holds[0].at_m == pytest.approx(at_m + added_m)
    opened = present({"op": "reverse"})
    assert told(opened) == ([len(corners) - 3], [])
    assert opened.plan.line is not None
    (held,) = opened.plan.line.holds
    assert (held.at_m, held.offset_m) == pytest.approx((40.0, -1.5))
    assert not [r for r in opened.plan.circuit.references if "hold" in r.label]
    gone, _, _ = edited_circuit(
        opened.plan.circuit, Remove(op="remove", segment=number_of(opened, "Marram"))
    )
    without = CircuitDocument.model_validate(gone)
    assert present_wishes(opened.plan.line, without) == []
    assert lost_wishes(opened.plan.line, without) == ["Marram"]


def number_of(opened: OpenPlan, name: str) -> int:
    segments = opened.plan.circuit.segments or []
    return [getattr(segment, "name", None) for segment in segments].index(name)


def test_taking_a_line_is_a_step_that_undo_takes_back(store: Store, samphire: PlanDocument) -> None:
    plan_id = import_plan(store, samphire).plan_id
    before = open_plan(store, plan_id)
    after = keep_line(store, plan_id, before.revisions, LineDocument(kind="centre"))
    assert after.undo == "Line: the middle of the road"
    assert after.result is not None
    assert after.result.line is not None
    assert after.result.line.driven == "centre"
    back = undo(store, plan_id)
    assert back.result is not None
    assert before.result is not None
    assert back.result.lap_time_s == before.result.lap_time_s


def test_asking_something_else_keeps_the_line_and_says_so(
    store: Store, samphire: PlanDocument
) -> None:
    plan_id = import_plan(store, samphire).plan_id
    settings = LineDocument(kind="fastest", margin_m=0.4)
    after = keep_line(store, plan_id, open_plan(store, plan_id).revisions, settings)
    assert after.result is not None
    assert after.result.line is not None
    assert after.result.line.driven == "fastest"
    assert after.result.line.changed_since == ["wishes"]


def test_a_road_made_a_path_again_has_no_line(store: Store, samphire: PlanDocument) -> None:
    plan_id = import_plan(store, samphire).plan_id
    edit = Describe(op="describe", segments_describe="driven")
    after = keep_circuit_edits(store, plan_id, open_plan(store, plan_id).revisions, [edit])
    assert after.plan.line is None
    assert after.result is not None
    assert after.result.line is None
    assert undo(store, plan_id).plan.circuit.segments_describe == "road"


def test_a_road_edited_elsewhere_leaves_a_plan_openable(
    store: Store, samphire: PlanDocument
) -> None:
    first = import_plan(store, samphire).plan_id
    wished = without_line(
        samphire, kind="widest", corners=[{"corner": 8, "radius_m": 60.0}], holds=[]
    ).model_copy(update={"name": "Another on the same road"})
    second = import_plan(store, wished).plan_id
    base = open_plan(store, first).revisions
    edit = Describe(op="describe", segments_describe="driven")
    keep_circuit_edits(store, first, base, [edit])
    assert open_plan(store, second).trouble is None
    assert kept_plan(store, second).line is None


def test_a_wider_road_is_a_change_of_the_road(store: Store, samphire: PlanDocument) -> None:
    plan_id = import_plan(store, samphire).plan_id
    edit = SetFigure(op="set", segment=1, figure="width_m", value=13.0)
    after = keep_circuit_edits(store, plan_id, open_plan(store, plan_id).revisions, [edit])
    assert after.result is not None
    assert after.result.line is not None
    assert after.result.line.changed_since == ["road"]


def waited(jobs: LineJobs, job_id: str) -> None:
    for _ in range(600):
        if jobs.look(job_id).state != "running":
            return
        time.sleep(0.1)
    raise AssertionError("the search did not end within a minute")


def test_a_search_in_a_process_of_its_own_finds_and_keeps_its_lines(
    samphire: PlanDocument,
) -> None:
    jobs = LineJobs()
    try:
        plan = without_line(samphire)
        job = jobs.start(plan, ["centre", "widest"])
        waited(jobs, job.id)
        ended = jobs.look(job.id)
        assert ended.state == "done"
        assert [line.kind for line in ended.lines] == ["centre", "widest"]
        assert [line.ended for line in ended.lines] == ["settled", "settled"]
        computed = jobs.line_of(job.id, "widest")
        wanted = LineDocument(kind="widest", computed=computed)
        kept = plan.model_copy(update={"line": wanted})
        assert predict_lap(kept).lap_time_s == pytest.approx(ended.lines[1].lap_time_s, abs=2e-3)
        with pytest.raises(InputRefused, match='no line "fastest"'):
            jobs.line_of(job.id, "fastest")
    finally:
        jobs.stop()


def test_a_search_that_is_stopped_keeps_what_it_found(samphire: PlanDocument) -> None:
    jobs = LineJobs()
    try:
        job = jobs.start(without_line(samphire), ["short", "fastest"])
        for _ in range(600):
            look = jobs.look(job.id)
            if look.looking_for == "fastest" and look.iteration > 3:
                break
            time.sleep(0.05)
        stopped = jobs.cancel(job.id)
        assert stopped.state == "cancelled"
        assert stopped.lines[0].kind == "short"
        assert jobs.look(job.id).state == "cancelled"
    finally:
        jobs.stop()


def test_a_search_that_finds_nothing_says_why(samphire: PlanDocument) -> None:
    jobs = LineJobs()
    try:
        plan = without_line(samphire, kind="widest", corners=[{"corner": 3, "radius_m": 900.0}])
        job = jobs.start(plan, ["widest"])
        waited(jobs, job.id)
        assert jobs.look(job.id).state == "refused"
        assert "cannot be met" in jobs.look(job.id).faults[0]
    finally:
        jobs.stop()


def test_searches_that_are_not_begun(samphire: PlanDocument) -> None:
    jobs = LineJobs()
    driven = demo_plan("garganey-dry")
    assert driven is not None
    with pytest.raises(InputRefused, match='computed on a "road"'):
        jobs.start(driven.document, ["widest"])
    with pytest.raises(InputRefused, match="has ended; start it again"):
        jobs.look("nothing")


def test_a_line_of_another_kind_is_computed_for_its_kind(samphire: PlanDocument) -> None:
    plan = without_line(samphire, kind="short")
    line = computed_line(plan, *line_for(plan, "short"))
    assert line.kind == "short"
    assert set(line.made_for) == {"road", "wishes", "vehicle"}
