"""Boards, references, sector lines and the facts of a circuit, edited."""

from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said as in_units
from neapfrost.demo.plans import composed
from neapfrost.formats.plan import CircuitDocument
from neapfrost.services.circuits.circuit_edit import CircuitEdit, edited_circuit
from neapfrost.services.circuits.height_edit import BeginHeights, RemoveHeight, SetHeight
from neapfrost.services.circuits.profile import height_profile, metres_before
from neapfrost.services.plans.workbench import keep_circuit_edits, open_plan
from neapfrost.store.database import Store

FEN = composed("k4-dry").circuit
EDIT: TypeAdapter[CircuitEdit] = TypeAdapter(CircuitEdit)


def edit(circuit: CircuitDocument, **given: Any) -> tuple[CircuitDocument, str]:
    value, said, _ = edited_circuit(circuit, EDIT.validate_python(given))
    return CircuitDocument.model_validate(value), said


def test_a_board_is_put_moved_and_taken_away() -> None:
    board = {"kind": "boards", "label": "75", "corner": "Bittern", "at_m": 1990.0}
    put, said = edit(FEN, op="put_mark", **board)
    assert in_units(said) == "75 of Bittern put at 1990 m"
    number = len(put.boards) - 1
    moved, said = edit(put, op="set_mark", number=number, **{**board, "at_m": 1985.0})
    assert in_units(said) == "75 of Bittern now at 1985 m"
    assert moved.boards[number].at_m == 1985.0
    gone, said = edit(moved, op="remove_mark", kind="boards", number=number)
    assert said == "75 removed"
    assert gone == FEN


def test_a_reference_keeps_its_note() -> None:
    first = FEN.references[0]
    changed, _ = edit(
        FEN,
        op="set_mark",
        kind="references",
        number=0,
        label="new name",
        corner=first.corner,
        at_m=first.at_m,
    )
    assert changed.references[0].note == first.note
    assert changed.references[0].label == "new name"


def test_usual_boards_stand_before_their_corner_also_around_the_line() -> None:
    bare = FEN.model_copy(update={"boards": []})
    # The start straight and the one before the line together are one run to the first corner.
    first, said = edit(bare, op="usual_boards", segment=1)
    assert said == "Boards 150, 100, 50 added before Sluice"
    begins = (FEN.segments or [])[0].length_m  # type: ignore[union-attr]
    assert [board.at_m for board in first.boards] == pytest.approx(
        [begins - 150.0, begins - 100.0, begins - 50.0]
    )
    with pytest.raises(InputRefused, match="has its boards already"):
        edit(first, op="usual_boards", segment=1)
    short = CircuitDocument.model_validate(
        {
            **bare.model_dump(),
            "segments": [
                {"kind": "straight", "length_m": 60.0},
                *bare.model_dump()["segments"][1:],
            ],
        }
    )
    wrapped, _ = edit(short, op="usual_boards", segment=1)
    assert max(board.at_m for board in wrapped.boards) > 3000.0


def test_sectors_and_facts() -> None:
    first, second = FEN.sectors_at_m
    three, said = edit(FEN, op="sector", number=2, at_m=40.0)
    assert (three.sectors_at_m, in_units(said)) == (
        [40.0, first, second],
        "Sector line added at 40 m",
    )
    moved, _ = edit(three, op="sector", number=0, at_m=3900.0)
    assert moved.sectors_at_m == [first, second, 3900.0]
    fewer, said = edit(moved, op="sector", number=2, at_m=None)
    assert (fewer, said) == (FEN, "Sector line removed")
    with pytest.raises(InputRefused, match="there are 2 sector lines"):
        edit(FEN, op="sector", number=2, at_m=None)
    high, said = edit(FEN, op="fact", fact="altitude_m", value=850.0)
    assert high.altitude_m == 850.0
    assert in_units(said) == f"Altitude {FEN.altitude_m:g} to 850 m"


@pytest.mark.parametrize(
    ("given", "why"),
    [
        ({"op": "remove_mark", "kind": "boards", "number": 999}, "999 was given; there are"),
        ({"op": "usual_boards", "segment": 0}, "a corner is expected"),
    ],
)
def test_what_makes_no_sense_is_refused(given: dict[str, Any], why: str) -> None:
    with pytest.raises(InputRefused, match=why):
        edit(FEN, **given)


def test_the_circuit_s_own_rules_hold_for_marks_too(store: Store) -> None:
    revisions = open_plan(store, 1).revisions
    board = {"kind": "boards", "label": "75", "corner": "Nowhere", "at_m": 50.0}
    with pytest.raises(InputRefused, match='no corner is named "Nowhere"'):
        keep_circuit_edits(store, 1, revisions, [EDIT.validate_python({"op": "put_mark", **board})])
    far = EDIT.validate_python({"op": "put_mark", **board, "corner": None, "at_m": 90000.0})
    with pytest.raises(InputRefused, match="90000 was given"):
        keep_circuit_edits(store, 1, revisions, [far])


def test_a_new_board_is_what_the_driver_is_told(store: Store) -> None:
    opened = open_plan(store, 1)
    assert opened.result is not None
    corner = opened.result.corners[6]
    assert corner.brake_start_at_m is not None
    at_m = corner.brake_start_at_m + 2.0
    board = {"op": "put_mark", "kind": "references", "label": "gull post", "corner": "Bittern"}
    after = keep_circuit_edits(
        store, 1, opened.revisions, [EDIT.validate_python({**board, "at_m": at_m})]
    )
    assert after.result is not None
    call = after.result.corners[6].board_call
    assert call is not None
    assert (call.label, call.side) == ("gull post", "before")
    assert call.metres == pytest.approx(2.0, abs=1e-6)


def heights_of(circuit: CircuitDocument) -> list[tuple[float, float]]:
    return [(point.at_m, point.z_m) for point in circuit.elevation or []]


def test_heights_begun_from_the_grades_are_the_road_s_own() -> None:
    circuit = FEN
    value, label, _ = edited_circuit(circuit, BeginHeights(op="heights", use=True))
    begun = CircuitDocument.model_validate(value)
    assert in_units(label) == "Heights by points"
    before, after = height_profile(circuit), height_profile(begun)
    shift = after.z_m[0] - before.z_m[0]
    assert (
        max(
            abs(a - b - shift)
            for a, b in zip(after.z_m, np.interp(after.at_m, before.at_m, before.z_m), strict=True)
        )
        < 0.8
    )
    back, _, _ = edited_circuit(begun, BeginHeights(op="heights", use=False))
    assert CircuitDocument.model_validate(back) == circuit


def test_heights_are_moved_added_and_taken_away_in_order() -> None:
    circuit = FEN
    value, _, _ = edited_circuit(circuit, BeginHeights(op="heights", use=True))
    begun = CircuitDocument.model_validate(value)
    count = len(begun.elevation or [])
    value, label, _ = edited_circuit(
        begun, SetHeight(op="set_height", number=None, at_m=155.0, z_m=3.5)
    )
    added = CircuitDocument.model_validate(value)
    assert in_units(label) == "Height 3.5 m at 155 m"
    places = [at for at, _ in heights_of(added)]
    assert places == sorted(places)
    assert len(places) == count + 1
    number = places.index(155.0)
    value, _, _ = edited_circuit(
        added, SetHeight(op="set_height", number=number, at_m=160.0, z_m=4.0)
    )
    assert (160.0, 4.0) in heights_of(CircuitDocument.model_validate(value))
    value, _, _ = edited_circuit(added, RemoveHeight(op="remove_height", number=number))
    assert heights_of(CircuitDocument.model_validate(value)) == heights_of(begun)
    with pytest.raises(InputRefused, match="there are"):
        edited_circuit(added, RemoveHeight(op="remove_height", number=999))


def test_marks_tell_how_far_they_stand_before_their_corner() -> None:
    circuit = FEN
    for board, metres in zip(circuit.boards, metres_before(circuit, circuit.boards), strict=True):
        if board.label.isdigit():
            assert metres == pytest.approx(float(board.label), abs=6.0)
