"""Layouts of one venue: shared road is one road, whichever layout it is edited in."""

from typing import Any

import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.formats.plan import CircuitDocument
from neapfrost.services.circuits.beside_road import edges_of
from neapfrost.services.circuits.circuit_edit import CircuitEdit, edited_circuit
from neapfrost.services.plans.layouts import marked, mirrored
from neapfrost.services.plans.new_layout import new_layout
from neapfrost.services.plans.workbench import OpenPlan, keep_circuit_edits, open_plan, undo
from neapfrost.store.database import Store

EDIT: TypeAdapter[CircuitEdit] = TypeAdapter(CircuitEdit)


def changed(store: Store, plan_id: int, **given: Any) -> OpenPlan:
    present = open_plan(store, plan_id)
    edit = EDIT.validate_python(given)
    return keep_circuit_edits(store, plan_id, present.revisions, [edit])


@pytest.fixture
def club(store: Store) -> int:
    """The plan on a second layout of the first demo circuit, which lacks its third corner."""
    plan_id = new_layout(store, 1, open_plan(store, 1).revisions, "Club layout")
    segments = open_plan(store, plan_id).plan.circuit.segments or []
    third = [n for n, segment in enumerate(segments) if segment.kind == "corner"][2]
    changed(store, plan_id, op="remove", segment=third)
    return plan_id


def segment_named(plan: OpenPlan, name: str) -> Any:
    segments = plan.plan.circuit.segments or []
    return next(s for s in segments if s.kind == "corner" and s.name == name)


def number_named(plan: OpenPlan, name: str) -> int:
    return (plan.plan.circuit.segments or []).index(segment_named(plan, name))


def test_a_new_layout_shares_all_of_its_road(store: Store, club: int) -> None:
    first, second = open_plan(store, 1), open_plan(store, club)
    assert first.plan.circuit.venue == second.plan.circuit.venue == first.circuit.name
    assert [layout.name for layout in first.layouts] == ["Club layout"]
    assert first.layouts[0].plan_ids == [club]
    assert [layout.circuit_id for layout in second.layouts] == [first.circuit.id]
    segments = first.plan.circuit.segments or []
    assert len({segment.stretch for segment in segments}) == len(segments)
    # What the second has taken out it shares no more, and the first has it still.
    assert len(first.layouts[0].stretches) == len(segments) - 1
    assert second.result is not None
    assert first.result is not None
    assert second.result.lap_time_s < first.result.lap_time_s


def test_a_shared_corner_is_one_corner_and_undo_takes_it_back_in_both(
    store: Store, club: int
) -> None:
    before = segment_named(open_plan(store, club), "Sluice")
    number = number_named(open_plan(store, 1), "Sluice")
    changed(store, 1, op="set", segment=number, figure="radius_m", value=before.radius_m + 7.0)
    changed(store, 1, op="rename", segment=number, name="Old Sluice")
    there = open_plan(store, club)
    assert segment_named(there, "Old Sluice").radius_m == before.radius_m + 7.0
    assert "Sluice" not in [board.corner for board in there.plan.circuit.boards]
    undo(store, 1)
    undo(store, 1)
    assert segment_named(open_plan(store, club), "Sluice") == before


def test_boards_on_shared_road_stand_in_every_layout(store: Store, club: int) -> None:
    here = open_plan(store, 1)
    number = number_named(here, "Sluice")
    begins = edges_of(here.plan.circuit)[number]
    mark = {"kind": "boards", "label": "hut", "corner": "Sluice", "at_m": begins - 33.0}
    changed(store, 1, op="put_mark", **mark)
    there = open_plan(store, club)
    begins_there = edges_of(there.plan.circuit)[number_named(there, "Sluice")]
    hut = [b for b in there.plan.circuit.boards if b.label == "hut"]
    assert [b.at_m for b in hut] == pytest.approx([begins_there - 33.0])
    # Moved in the other layout, it is moved here.
    index = there.plan.circuit.boards.index(hut[0])
    moved = {**mark, "number": index, "at_m": begins_there - 40.0}
    changed(store, club, op="set_mark", **moved)
    again = [b.at_m for b in open_plan(store, 1).plan.circuit.boards if b.label == "hut"]
    assert again == pytest.approx([begins - 40.0])


def test_what_a_layout_makes_its_own_is_changed_alone(store: Store, club: int) -> None:
    number = number_named(open_plan(store, club), "Sluice")
    opened = changed(store, club, op="own", segment=number)
    assert opened.undo == "Sluice separated from the other layouts"
    before = segment_named(open_plan(store, 1), "Sluice")
    changed(store, club, op="set", segment=number, figure="radius_m", value=99.0)
    assert segment_named(open_plan(store, 1), "Sluice") == before


def test_a_split_parts_the_road_of_all_layouts_and_merging_joins_it(
    store: Store, club: int
) -> None:
    number = number_named(open_plan(store, 1), "Sluice")
    count = len(open_plan(store, club).plan.circuit.segments or [])
    changed(store, 1, op="split", segment=number, share=0.4)
    there = open_plan(store, club).plan.circuit
    assert len(there.segments or []) == count + 1
    changed(store, 1, op="merge", segment=number)
    assert len(open_plan(store, club).plan.circuit.segments or []) == count


def test_a_layout_needs_a_name_of_its_own(store: Store, club: int) -> None:
    base = open_plan(store, 1).revisions
    with pytest.raises(InputRefused, match='a circuit is named "Club layout" already'):
        new_layout(store, 1, base, "Club layout")
    with pytest.raises(InputRefused, match="the name is empty"):
        new_layout(store, 1, base, "  ")


def test_layouts_that_agree_are_left_as_they_are(store: Store, club: int) -> None:
    first = open_plan(store, 1).plan.circuit
    second = open_plan(store, club).plan.circuit
    assert mirrored(first, second) == second.model_dump(mode="json")
    assert mirrored(second, first) == first.model_dump(mode="json")


def test_kerbs_and_heights_follow_along_shared_road() -> None:
    plain: dict[str, Any] = {
        "name": "Long",
        "segments": [
            {"kind": "straight", "length_m": 300.0},
            {"kind": "corner", "name": "A", "direction": "left", "radius_m": 50.0, "angle_deg": 90},
            {"kind": "straight", "length_m": 200.0},
            {"kind": "corner", "name": "B", "direction": "left", "radius_m": 40.0, "angle_deg": 90},
            {"kind": "straight", "length_m": 250.0},
        ],
        "closed": False,
        "start_speed_ms": 0.0,
        "elevation": [{"at_m": at, "z_m": at / 100.0} for at in (0.0, 150.0, 400.0, 700.0)],
        "edges": [{"side": "left", "kind": "kerb", "from_m": 310.0, "to_m": 350.0}],
    }
    for segment in plain["segments"]:
        if "angle_deg" in segment:
            segment["angle_deg"] = float(segment["angle_deg"])
    long = CircuitDocument.model_validate(marked(CircuitDocument.model_validate(plain), "Venue"))
    # The short layout begins 120 m later and has no B.
    short_value, _, _ = edited_circuit(long, EDIT.validate_python({"op": "own", "segment": 0}))
    short = CircuitDocument.model_validate(short_value)
    for given in (
        {"op": "set", "segment": 0, "figure": "length_m", "value": 180.0},
        {"op": "remove", "segment": 3},
    ):
        value, _, _ = edited_circuit(short, EDIT.validate_python(given))
        short = CircuitDocument.model_validate(value)
    assert [edge.from_m for edge in short.edges] == pytest.approx([190.0])
    edge = {"side": "right", "kind": "wall", "from_m": 320.0, "to_m": 420.0}
    value, _, _ = edited_circuit(long, EDIT.validate_python({"op": "put_edge", "edge": edge}))
    value["elevation"][2]["z_m"] = 9.0
    there = CircuitDocument.model_validate(mirrored(CircuitDocument.model_validate(value), short))
    walls = [e for e in there.edges if e.kind == "wall"]
    assert [(e.from_m, e.to_m) for e in walls] == [(200.0, 300.0)]
    points = {round(p.at_m): p.z_m for p in there.elevation or []}
    assert points[280] == 9.0
    assert points[0] == 0.0
