"""The sheet of straights and corners edited: what stands beside the road keeps its place."""

import math
from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said as in_units
from neapfrost.core.path.build import build_path
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.demo.plans import composed, demo_plan
from neapfrost.formats.circuit_facts import circuit_length_m
from neapfrost.formats.plan import CircuitDocument, CornerDocument, StraightDocument
from neapfrost.formats.plan_records import circuit_record, segment_record
from neapfrost.services.circuits.circuit_edit import (
    CircuitEdit,
    Drag,
    Merge,
    Rename,
    Renumber,
    edited_circuit,
)
from neapfrost.services.circuits.closing import closure_report
from neapfrost.services.circuits.radius_help import RadiusQuestion, measured_radius
from neapfrost.services.circuits.segment_names import segment_name
from neapfrost.services.circuits.start_edit import MoveStart
from neapfrost.services.laps.figures import Change
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.plans.workbench import keep_changes, keep_circuit_edits, open_plan, undo
from neapfrost.store.database import Store

FEN = composed("k4-dry").circuit
EDIT: TypeAdapter[CircuitEdit] = TypeAdapter(CircuitEdit)
QUESTION: TypeAdapter[RadiusQuestion] = TypeAdapter(RadiusQuestion)


def edit(circuit: CircuitDocument, **given: Any) -> CircuitDocument:
    value, _, _ = edited_circuit(circuit, EDIT.validate_python(given))
    return CircuitDocument.model_validate(value)


def corner_at(circuit: CircuitDocument, name: str) -> tuple[int, float, float]:
    """Number of a corner's segment, where it begins and ends [m]."""
    at = 0.0
    for number, segment in enumerate(circuit.segments or []):
        length = segment_length_m(segment_record(segment))
        if segment.kind == "corner" and segment.name == name:
            return number, at, at + length
        at += length
    raise AssertionError(name)


def board_leads(circuit: CircuitDocument) -> list[float]:
    """How far each board that belongs to a corner stands before it [m]."""
    return [
        corner_at(circuit, board.corner)[1] - board.at_m
        for board in circuit.boards
        if board.corner is not None
    ]


def test_boards_keep_their_distance_to_the_corner_when_a_straight_changes() -> None:
    number, begins, _ = corner_at(FEN, "Bittern")
    straight = number - 1
    before = (FEN.segments or [])[straight]
    assert before.kind == "straight"
    longer = edit(FEN, op="set", segment=straight, figure="length_m", value=before.length_m + 35.0)
    assert corner_at(longer, "Bittern")[1] == pytest.approx(begins + 35.0)
    assert board_leads(longer) == pytest.approx(board_leads(FEN))
    # What comes before it stays, what comes after it goes along.
    assert longer.sectors_at_m[0] == FEN.sectors_at_m[0]
    assert longer.sectors_at_m[1] == pytest.approx(FEN.sectors_at_m[1] + 35.0)
    back = edit(longer, op="set", segment=straight, figure="length_m", value=before.length_m)
    assert back.segments == FEN.segments
    assert [board.at_m for board in back.boards] == pytest.approx([b.at_m for b in FEN.boards])


@pytest.mark.parametrize(
    ("given", "label"),
    [
        ({"op": "turn", "segment": 1, "direction": "left"}, "Sluice turned left"),
        ({"op": "rename", "segment": 1, "name": "Old Sluice"}, "Sluice named Old Sluice"),
        (
            {"op": "set", "segment": 1, "figure": "banking_deg", "value": 4.0},
            "Sluice: bank 0 to 4°",
        ),
        (
            {"op": "set", "segment": 2, "figure": "length_m", "value": 90.0},
            "Straight after Sluice: length",
        ),
        ({"op": "remove", "segment": 1}, "Sluice removed"),
        ({"op": "split", "segment": 2}, "Straight after Sluice split"),
        ({"op": "reverse"}, "Direction reversed"),
        (
            {"op": "add", "before": 2, "segment": {"kind": "straight", "length_m": 50.0}},
            "A straight added",
        ),
    ],
)
def test_every_edit_says_what_it_did_and_leaves_a_lap(given: dict[str, Any], label: str) -> None:
    value, said, _ = edited_circuit(FEN, EDIT.validate_python(given))
    assert said.startswith(label)
    plan = composed("k4-dry")
    changed = plan.model_copy(update={"circuit": CircuitDocument.model_validate(value)})
    assert predict_lap(changed, trace_points=10).lap_time_s > 60.0


def test_a_renamed_corner_keeps_its_boards_and_one_taken_out_takes_them_along() -> None:
    own = [board.label for board in FEN.boards if board.corner == "Sluice"]
    assert own
    renamed = edit(FEN, op="rename", segment=1, name="Old Sluice")
    assert [board.label for board in renamed.boards if board.corner == "Old Sluice"] == own
    removed = edit(FEN, op="remove", segment=1)
    assert len(removed.boards) == len(FEN.boards) - len(own)
    assert all(board.corner != "Sluice" for board in removed.boards)


@pytest.mark.parametrize(
    "shape",
    [
        {"transition_m": 0.0},
        {"transition_m": 12.0},
        {"transition_m": 12.0, "end_transition_m": 30.0},
        {"transition_m": 0.0, "end_radius_m": 90.0},
        {"transition_m": 9.0, "end_radius_m": 25.0, "end_transition_m": 0.0},
    ],
)
def test_a_split_changes_nothing_that_is_driven(shape: dict[str, float]) -> None:
    plan = composed("k4-dry")
    circuit = FEN
    for figure, value in shape.items():
        circuit = edit(circuit, op="set", segment=1, figure=figure, value=value)
    before = build_path(circuit_record(circuit), 1.0)
    lap = predict_lap(plan.model_copy(update={"circuit": circuit}), trace_points=10).lap_time_s
    for number in (1, 2):
        parted = edit(circuit, op="split", segment=number, share=0.4)
        assert len(parted.segments or []) == len(FEN.segments or []) + 1
        after = build_path(circuit_record(parted), 1.0)
        assert after.length_m == pytest.approx(before.length_m, abs=1e-6)
        turned = np.interp(before.s_m, after.s_m, after.heading_rad)
        assert turned == pytest.approx(before.heading_rad, abs=1e-3)
        changed = plan.model_copy(update={"circuit": parted})
        assert predict_lap(changed, trace_points=10).lap_time_s == pytest.approx(lap, abs=0.03)
    twice = edit(edit(circuit, op="reverse"), op="reverse")
    assert (twice.segments or [])[1] == (circuit.segments or [])[1]


def test_a_corner_made_one_again_is_as_long_and_turns_as_far() -> None:
    ramped = edit(FEN, op="set", segment=1, figure="end_transition_m", value=14.0)
    parted = edit(ramped, op="split", segment=1, share=0.3)
    joined = edit(parted, op="merge", segment=1)
    before, after = (ramped.segments or [])[1], (joined.segments or [])[1]
    assert before.kind == after.kind == "corner"
    assert after.radius_m == pytest.approx(before.radius_m)
    assert after.angle_deg == pytest.approx(before.angle_deg)
    assert (after.transition_m, after.end_transition_m) == (before.transition_m, 14.0)


@pytest.mark.parametrize("plan_id", ["k4-dry", "dunlin-heath", "dunlin-hill", "garganey-bowl"])
def test_reversed_twice_is_as_before(plan_id: str) -> None:
    found = demo_plan(plan_id)
    assert found is not None
    circuit = found.document.circuit
    there = edit(circuit, op="reverse")
    assert there != circuit
    assert board_leads(there) == pytest.approx(board_leads(circuit), abs=1e-6)
    back = edit(there, op="reverse")
    assert back.segments == circuit.segments
    assert [b.at_m for b in back.boards] == pytest.approx([b.at_m for b in circuit.boards])
    assert back.sectors_at_m == pytest.approx(circuit.sectors_at_m)
    assert (back.north_deg - circuit.north_deg + 180.0) % 360.0 == pytest.approx(180.0, abs=1e-3)


@pytest.mark.parametrize(
    ("given", "why"),
    [
        ({"op": "set", "segment": 0, "figure": "radius_m", "value": 5.0}, "has no radius"),
        ({"op": "set", "segment": 99, "figure": "length_m", "value": 5.0}, "segments 0 to"),
        ({"op": "turn", "segment": 0, "direction": "left"}, "a corner is expected"),
        (
            {"op": "add", "before": 99, "segment": {"kind": "straight", "length_m": 5.0}},
            "99 was given",
        ),
    ],
)
def test_edits_that_make_no_sense_are_refused(given: dict[str, Any], why: str) -> None:
    with pytest.raises(InputRefused, match=why):
        edit(FEN, **given)


def test_straights_are_called_after_the_corner_before_them() -> None:
    assert segment_name(FEN, 1) == "Sluice"
    assert segment_name(FEN, 2) == "Straight after Sluice"
    assert segment_name(FEN, 0) == "Straight after Icehouse"


def test_a_ring_is_closed_as_one_step_and_its_boards_stay(store: Store) -> None:
    opened = open_plan(store, 1)
    broken = keep_circuit_edits(
        store,
        1,
        opened.revisions,
        [EDIT.validate_python({"op": "set", "segment": 0, "figure": "length_m", "value": 320.0})],
    )
    report = closure_report(broken.plan.circuit)
    assert report is not None
    assert report.gap.distance_m > 5.0
    assert report.refused is None
    assert report.changes
    assert max(abs(change.sigmas) for change in report.changes) < 3.0
    closed = keep_circuit_edits(store, 1, broken.revisions, [EDIT.validate_python({"op": "close"})])
    after = closure_report(closed.plan.circuit)
    assert after is not None
    assert after.gap.distance_m < 0.01
    assert board_leads(closed.plan.circuit) == pytest.approx(board_leads(opened.plan.circuit))
    told = {(change.segment, change.figure): change.after for change in report.changes}
    for (number, figure), value in told.items():
        segment = (closed.plan.circuit.segments or [])[number]
        assert getattr(segment, figure) == pytest.approx(value, abs=1e-9)
    assert undo(store, 1).plan.circuit == broken.plan.circuit


def test_a_ring_that_needs_too_much_is_not_closed_and_the_figures_are_named(store: Store) -> None:
    opened = open_plan(store, 1)
    wrong = {"op": "set", "segment": 0, "figure": "length_m", "value": 900.0}
    broken = keep_circuit_edits(store, 1, opened.revisions, [EDIT.validate_python(wrong)])
    report = closure_report(broken.plan.circuit)
    assert report is not None
    assert report.refused is not None
    assert "more than 3 standard deviations" in report.refused
    with pytest.raises(InputRefused, match="look wrong"):
        keep_circuit_edits(store, 1, broken.revisions, [EDIT.validate_python({"op": "close"})])


def test_a_locked_length_does_not_move(store: Store) -> None:
    revisions = open_plan(store, 1).revisions
    edits = [
        {"op": "set", "segment": 0, "figure": "length_m", "value": 320.0},
        {"op": "set", "segment": 0, "figure": "length_uncertainty_pct", "value": 0.0},
        {"op": "close"},
    ]
    closed = keep_circuit_edits(store, 1, revisions, [EDIT.validate_python(one) for one in edits])
    first = (closed.plan.circuit.segments or [])[0]
    assert first.kind == "straight"
    assert first.length_m == 320.0
    assert closed.undo is not None
    assert "Circuit closed by least squares" in closed.undo


def test_edits_of_both_kinds_share_one_history(store: Store) -> None:
    opened = open_plan(store, 1)
    one = {"op": "set", "segment": 1, "figure": "banking_deg", "value": 3.0}
    banked = keep_circuit_edits(store, 1, opened.revisions, [EDIT.validate_python(one)])
    gripped = keep_changes(store, 1, banked.revisions, [Change(field="grip", value=1.5)])
    assert gripped.undo == "Grip 1.52 to 1.5"
    assert undo(store, 1).undo == "Sluice: bank 0 to 3°"
    assert undo(store, 1).plan == opened.plan


def test_a_radius_is_told_with_its_sensitivities() -> None:
    chord = {"method": "chord", "chord_m": 60.0, "height_m": 7.0}
    answer = measured_radius(QUESTION.validate_python(chord))
    assert answer.radius_m == pytest.approx(67.79, abs=0.01)
    assert answer.formula == "R = c²/(8h) + h/2"
    assert in_units(answer.sensitivities[0]) == "1 m more of height is −8.68 m of radius"
    felt = {"method": "lateral_g", "speed_ms": 30.0, "lateral_g": 1.5}
    said = [
        in_units(one, "metric")
        for one in measured_radius(QUESTION.validate_python(felt)).sensitivities
    ]
    assert "1 km/h more of speed is +1.13 m of radius" in said
    assert "0.1 g more of lateral acceleration is −4.08 m of radius" in said


def test_an_apex_dragged_outwards_makes_the_radius_smaller_between_its_tangents() -> None:
    """The apex lies R(1/cos(θ/2) − 1) from where the tangents meet."""
    number = corner_at(FEN, "Sluice")[0]
    corner = (FEN.segments or [])[number]
    assert isinstance(corner, CornerDocument)
    value, said, _ = edited_circuit(
        FEN, Drag(op="drag", segment=number, outwards_m=2.0, along_m=0.0)
    )
    after = CircuitDocument.model_validate(value)
    changed = (after.segments or [])[number]
    assert isinstance(changed, CornerDocument)
    reach = 1.0 / math.cos(math.radians(corner.angle_deg) / 2.0) - 1.0
    assert changed.radius_m == pytest.approx(corner.radius_m - 2.0 / reach, abs=0.01)
    assert "dragged" in said
    with pytest.raises(InputRefused, match="at least 3 m are expected"):
        edited_circuit(FEN, Drag(op="drag", segment=number, outwards_m=200.0))


def test_a_corner_dragged_along_takes_from_one_straight_what_it_gives_the_other() -> None:
    number = corner_at(FEN, "Peat Cut")[0]
    value, said, _ = edited_circuit(FEN, Drag(op="drag", segment=number, along_m=12.0))
    after = CircuitDocument.model_validate(value).segments or []
    before = FEN.segments or []
    assert in_units(said) == "Peat Cut moved 12.0 m on"
    for index, change in ((number - 1, 12.0), (number + 1, -12.0)):
        one, other = after[index], before[index]
        assert isinstance(one, StraightDocument)
        assert isinstance(other, StraightDocument)
        assert one.length_m == pytest.approx(other.length_m + change, abs=1e-3)
    with pytest.raises(InputRefused, match="cannot move that far"):
        edited_circuit(FEN, Drag(op="drag", segment=number, along_m=5000.0))


def test_two_corners_of_one_turn_are_made_one_of_their_length_and_angle() -> None:
    heath = demo_plan("dunlin-heath")
    assert heath is not None
    circuit = heath.document.circuit
    number = corner_at(circuit, "Finger Post")[0]
    value, said, _ = edited_circuit(circuit, Merge(op="merge", segment=number))
    after = CircuitDocument.model_validate(value)
    assert said == "Finger Post and Heath Gate merged"
    merged = (after.segments or [])[number]
    assert isinstance(merged, CornerDocument)
    assert merged.angle_deg == pytest.approx(140.0)
    assert circuit_length_m(after) == pytest.approx(circuit_length_m(circuit), abs=1e-6)
    assert "Heath Gate" not in {board.corner for board in after.boards}
    with pytest.raises(InputRefused, match="no corner that turns"):
        edited_circuit(FEN, Merge(op="merge", segment=1))


def test_renumbered_corners_keep_their_boards() -> None:
    value, _, _ = edited_circuit(FEN, Renumber(op="renumber"))
    after = CircuitDocument.model_validate(value)
    names = [s.name for s in after.segments or [] if isinstance(s, CornerDocument)]
    assert names == [f"T{number}" for number in range(1, 12)]
    old = [s.name for s in FEN.segments or [] if isinstance(s, CornerDocument)]
    for board, kept in zip(after.boards, FEN.boards, strict=True):
        assert kept.corner is not None
        assert board.corner == f"T{old.index(kept.corner) + 1}"


def test_equal_names_are_told_apart_by_their_places() -> None:
    value = FEN.model_dump(mode="json")
    numbers = [i for i, s in enumerate(value["segments"]) if s["kind"] == "corner"]
    value["segments"][numbers[1]]["name"] = "Sluice"
    for thing in (*value["boards"], *value["references"]):
        if thing["corner"] == "Reedmace":
            thing["corner"] = "Sluice"
    twins = CircuitDocument.model_validate(value)
    renamed, _, _ = edited_circuit(twins, Rename(op="rename", segment=numbers[1], name="Reedmace"))
    after = CircuitDocument.model_validate(renamed)
    assert after.boards == FEN.boards
    assert after.references == FEN.references


def test_the_start_line_moves_and_everything_else_stays() -> None:
    value, said, _ = edited_circuit(FEN, MoveStart(op="start", by_m=100.0))
    moved = CircuitDocument.model_validate(value)
    assert in_units(said) == "Start line moved 100 m on"
    length = circuit_length_m(FEN)
    assert circuit_length_m(moved) == pytest.approx(length, abs=1e-6)
    for before, after in zip(FEN.boards, moved.boards, strict=True):
        assert after.at_m == pytest.approx((before.at_m - 100.0) % length, abs=1e-6)
    back, _, _ = edited_circuit(moved, MoveStart(op="start", by_m=-100.0))
    again = CircuitDocument.model_validate(back)
    assert again.north_deg == pytest.approx(FEN.north_deg, abs=1e-3)
    assert again.sectors_at_m == pytest.approx(FEN.sectors_at_m)
    plan = composed("k4-dry")
    lap = predict_lap(plan.model_copy(update={"circuit": moved})).lap_time_s
    assert lap == pytest.approx(predict_lap(plan).lap_time_s, abs=2e-3)


def test_the_start_line_does_not_stand_in_a_corner() -> None:
    _, begins, ends = corner_at(FEN, "Sluice")
    with pytest.raises(InputRefused, match="would be in Sluice"):
        edited_circuit(FEN, MoveStart(op="start", by_m=0.5 * (begins + ends)))
    hill = demo_plan("dunlin-hill")
    assert hill is not None
    with pytest.raises(InputRefused, match="point-to-point"):
        edited_circuit(hill.document.circuit, MoveStart(op="start", by_m=5.0))
