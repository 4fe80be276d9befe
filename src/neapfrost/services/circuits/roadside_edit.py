"""What stands beside the road, and what is true of the whole circuit, edited."""

from typing import Annotated, Any, Literal

from pydantic import Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.core.units import CHOICES
from neapfrost.formats.document import Name, Position
from neapfrost.formats.plan import BoardUnit, CircuitDocument, CornerDocument
from neapfrost.formats.plan_records import segment_record
from neapfrost.services.circuits.edit import Edit, refuse_no
from neapfrost.services.figures.register import figures_of
from neapfrost.services.words.notes import LENGTH_WORDS

#: What boards before a corner usually read, in the unit that a circuit's boards count in.
USUAL_BOARDS = (150, 100, 50)
BOARD_M = {unit.key: unit.size for unit in CHOICES["length"]}

FactName = Literal[
    "north_deg",
    "altitude_m",
    "start_speed_ms",
    "grade_blend_m",
    "width_m",
    "pit_loss_s",
    "pit_lane_m",
    "pit_limit_ms",
]

FACTS = figures_of("circuit")


class Mark(Edit):
    """A board or another reference, the corner it belongs to, and where it stands [m]."""

    kind: Literal["boards", "references"]
    label: Annotated[str, Field(min_length=1, max_length=40)]
    corner: Name | None
    at_m: Position


class PutMark(Mark):
    """A board or reference put beside the road."""

    op: Literal["put_mark"]


class SetMark(Mark):
    """One of the boards or references, by its number, as it is to be."""

    op: Literal["set_mark"]
    number: int


class RemoveMark(Edit):
    """One of the boards or references taken away."""

    op: Literal["remove_mark"]
    kind: Literal["boards", "references"]
    number: int


class UsualBoards(Edit):
    """Boards at 150, 100 and 50 before a corner, where the straight is long enough."""

    op: Literal["usual_boards"]
    segment: int


class SetBoardUnit(Edit):
    """What the circuit's boards count in; boards that stand are not moved."""

    op: Literal["board_unit"]
    unit: BoardUnit


class SetSector(Edit):
    """A sector line laid, by its number; with the number of all another one; null takes it away."""

    op: Literal["sector"]
    number: int
    at_m: Position | None


class SetFact(Edit):
    """Something true of the whole circuit set; null takes an optional one away."""

    op: Literal["fact"]
    fact: FactName
    value: float | None


RoadsideEdit = PutMark | SetMark | RemoveMark | UsualBoards | SetBoardUnit | SetSector | SetFact


def edited_roadside(circuit: CircuitDocument, edit: RoadsideEdit) -> tuple[dict[str, Any], str]:
    """The circuit's document after an edit, not yet checked by its own rules, and what was done.

    Raises InputRefused where there is no such mark or corner.
    """
    value = circuit.model_dump(mode="json")
    match edit:
        case PutMark():
            value[edit.kind].append(_mark(edit))
            return value, f"{_called(edit)} put at {metres(edit.at_m)}"
        case SetMark():
            refuse_no(edit.number, len(getattr(circuit, edit.kind)), edit.kind)
            kept = value[edit.kind][edit.number]
            value[edit.kind][edit.number] = {**kept, **_mark(edit)}
            return value, f"{_called(edit)} now at {metres(edit.at_m)}"
        case RemoveMark():
            refuse_no(edit.number, len(getattr(circuit, edit.kind)), edit.kind)
            gone = value[edit.kind].pop(edit.number)
            return value, f"{gone['label']} removed"
        case UsualBoards():
            return _usual_boards(circuit, value, edit.segment)
        case SetBoardUnit():
            value["board_unit"] = edit.unit
            return value, f"Boards count in {LENGTH_WORDS[edit.unit]}"
        case SetSector():
            return _sector(circuit, value, edit)
        case SetFact():
            before = getattr(circuit, edit.fact)
            value[edit.fact] = edit.value
            row = FACTS[edit.fact]
            told = f"{row.in_words(before, unit=False)} to {row.in_words(edit.value)}"
            return value, f"{row.label} {told}"


def _mark(edit: Mark) -> dict[str, Any]:
    return {"label": edit.label, "corner": edit.corner, "at_m": edit.at_m}


def _called(edit: Mark) -> str:
    return f"{edit.label} of {edit.corner}" if edit.corner else edit.label


def _sector(
    circuit: CircuitDocument, value: dict[str, Any], edit: SetSector
) -> tuple[dict[str, Any], str]:
    lines = list(circuit.sectors_at_m)
    if not 0 <= edit.number <= len(lines) or (edit.at_m is None and edit.number == len(lines)):
        raise InputRefused(
            [Fault("number", f"{edit.number} was given; there are {len(lines)} sector lines")]
        )
    lines[edit.number : edit.number + 1] = [] if edit.at_m is None else [edit.at_m]
    value["sectors_at_m"] = sorted(lines)
    if edit.at_m is None:
        return value, "Sector line removed"
    return value, f"Sector line added at {metres(edit.at_m)}"


def _usual_boards(
    circuit: CircuitDocument, value: dict[str, Any], number: int
) -> tuple[dict[str, Any], str]:
    segments = circuit.segments or []
    corner = segments[number] if 0 <= number < len(segments) else None
    if not isinstance(corner, CornerDocument):
        raise InputRefused([Fault("segment", "boards stand before a corner; a corner is expected")])
    lengths = [segment_length_m(segment_record(segment)) for segment in segments]
    begins, total = sum(lengths[:number]), sum(lengths)
    room = 0.0
    for back in range(1, len(segments)):
        index = number - back
        if (index < 0 and not circuit.closed) or segments[index].kind == "corner":
            break
        room += lengths[index]
    present = {board.label for board in circuit.boards if board.corner == corner.name}
    size = BOARD_M[circuit.board_unit]
    added = [label for label in USUAL_BOARDS if label * size < room and str(label) not in present]
    if not added:
        raise InputRefused(
            [
                Fault(
                    "segment",
                    f"{corner.name} has its boards already, or no straight of more than "
                    f"{metres(USUAL_BOARDS[-1] * BOARD_M[circuit.board_unit])} before it",
                )
            ]
        )
    for label in added:
        at_m = begins - label * size
        value["boards"].append(
            {
                "label": str(label),
                "corner": corner.name,
                "at_m": at_m % total if circuit.closed else at_m,
            }
        )
    return value, f"Boards {', '.join(map(str, added))} added before {corner.name}"
