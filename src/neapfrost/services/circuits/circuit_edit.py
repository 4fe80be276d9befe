"""The sheet of straights and corners edited; what stands beside the road keeps its place."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.path.build import build_path
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.document import Key, Name
from neapfrost.formats.plan import CircuitDocument, CornerDocument, SegmentDocument
from neapfrost.formats.plan_records import circuit_record, segment_record
from neapfrost.services.circuits.beside_road import corner_of
from neapfrost.services.circuits.carrying import (
    Edited,
    Moves,
    carry,
    corner_segments,
    moves_of_insertion,
    moves_of_lengths,
    moves_of_removal,
    moves_of_reversal,
    unmoved,
)
from neapfrost.services.circuits.closing import closed_segments
from neapfrost.services.circuits.edge_edit import EdgeEdit, edited_edges
from neapfrost.services.circuits.edit import Edit
from neapfrost.services.circuits.height_edit import HeightEdit, edited_heights
from neapfrost.services.circuits.lane_edit import LaneEdit, edited_lanes
from neapfrost.services.circuits.radius_edit import with_radius_at
from neapfrost.services.circuits.roadside_edit import RoadsideEdit, edited_roadside
from neapfrost.services.circuits.segment_names import segment_name
from neapfrost.services.circuits.split_merge import merged_corners, split_segment
from neapfrost.services.circuits.start_edit import MoveStart, moved_start
from neapfrost.services.figures.circuit import SEGMENT_FIGURES, UNCERTAINTY_FIGURES

#: What each figure of a segment is called, and its unit.
LABELS = {figure.path[-1]: figure for figure in (*SEGMENT_FIGURES, *UNCERTAINTY_FIGURES)}

#: A corner that turns farther has no tangents to be dragged between; the tightest one made so.
DRAGGED_MOST_DEG, RADIUS_LEAST_M = 165.0, 3.0


class SetFigure(Edit):
    """A figure of a segment set; null takes an optional one away."""

    op: Literal["set"]
    segment: int
    figure: Key
    value: float | None


class Turn(Edit):
    """A corner made to turn the other way, or this way."""

    op: Literal["turn"]
    segment: int
    direction: Literal["left", "right"]


class Rename(Edit):
    """A corner named; its boards and references go on belonging to it."""

    op: Literal["rename"]
    segment: int
    name: Name


class Add(Edit):
    """A segment put in before another; at the end with the number of all."""

    op: Literal["add"]
    before: int
    segment: SegmentDocument


class Remove(Edit):
    """A segment taken out, with its corner's boards and references."""

    op: Literal["remove"]
    segment: int


class Split(Edit):
    """A segment made into two of the same kind, at a share of its length."""

    op: Literal["split"]
    segment: int
    share: Annotated[float, Field(gt=0, lt=1)] = 0.5


class Drag(Edit):
    """A corner dragged on the map: its apex outwards, or the whole of it along its straights [m].

    Outwards makes the radius smaller, between the same tangents; along takes from the straight
    after it what it gives to the straight before.
    """

    op: Literal["drag"]
    segment: int
    outwards_m: float = 0.0
    along_m: float = 0.0


class Merge(Edit):
    """A corner made one with the next that turns the same way, and what lies between."""

    op: Literal["merge"]
    segment: int


class Renumber(Edit):
    """All corners named T1, T2, … in their order."""

    op: Literal["renumber"]


class Note(Edit):
    """What is to be remembered of a corner: kerb, track limit, run-off, where to look."""

    op: Literal["note"]
    segment: int
    note: Annotated[str, Field(max_length=500)]


class Own(Edit):
    """A segment that this layout shares with no other layout of its venue any more."""

    op: Literal["own"]
    segment: int


class Reverse(Edit):
    """The circuit driven the other way."""

    op: Literal["reverse"]


class Close(Edit):
    """The ring closed by least squares."""

    op: Literal["close"]


SegmentEdit = (
    SetFigure
    | Turn
    | Rename
    | Note
    | Drag
    | Merge
    | Renumber
    | Add
    | Remove
    | Split
    | Own
    | Reverse
    | Close
)
CircuitEdit = Annotated[
    SegmentEdit | RoadsideEdit | EdgeEdit | LaneEdit | HeightEdit | MoveStart,
    Field(discriminator="op"),
]


def edited_circuit(circuit: CircuitDocument, edit: CircuitEdit) -> Edited:
    """A circuit after an edit, with all that is its own carried along.

    Raises InputRefused where there is no such segment, or the edit makes no sense for it.
    """
    if isinstance(edit, RoadsideEdit):
        return _beside(circuit, *edited_roadside(circuit, edit))
    if isinstance(edit, EdgeEdit):
        return _beside(circuit, *edited_edges(circuit, edit))
    if isinstance(edit, LaneEdit):
        return _beside(circuit, *edited_lanes(circuit, edit))
    if isinstance(edit, HeightEdit):
        return _beside(circuit, *edited_heights(circuit, edit))
    if circuit.segments is None:
        raise InputRefused(
            [
                Fault(
                    "circuit.stations",
                    "this path is a list of stations; only straights and corners can be edited",
                )
            ]
        )
    number = getattr(edit, "segment", 0) if not isinstance(edit, Add) else 0
    if not 0 <= number < len(circuit.segments):
        raise InputRefused(
            [
                Fault(
                    "segment",
                    f"{number} was given; there are the segments 0 to {len(circuit.segments) - 1}",
                )
            ]
        )
    value, said, moves = _edited_segments(circuit, edit)
    carry(circuit, value, moves)
    return Edited(value, said, moves)


def _beside(circuit: CircuitDocument, value: dict[str, Any], said: str) -> Edited:
    return Edited(value, said, unmoved(circuit))


#: A circuit's document with other segments, what was done, and the moves to carry the rest by.
Segments = tuple[dict[str, Any], str, Moves]


def _edited_segments(circuit: CircuitDocument, edit: SegmentEdit | MoveStart) -> Segments:
    match edit:
        case SetFigure():
            return _set(circuit, edit)
        case Turn():
            corner = corner_of(circuit, edit.segment)
            return _changed(
                circuit,
                edit.segment,
                f"{corner.name} turned {edit.direction}",
                direction=edit.direction,
            )
        case Rename():
            before = corner_of(circuit, edit.segment).name
            return _changed(circuit, edit.segment, f"{before} named {edit.name}", name=edit.name)
        case Drag():
            return _dragged(circuit, edit)
        case Merge():
            return merged_corners(circuit, edit.segment)
        case Renumber():
            return _renumbered(circuit)
        case Note():
            corner = corner_of(circuit, edit.segment)
            return _changed(circuit, edit.segment, f"Note on {corner.name}", note=edit.note)
        case Add():
            return _added(circuit, edit)
        case Remove():
            return _removed(circuit, edit.segment)
        case Split():
            return split_segment(circuit, edit.segment, edit.share)
        case Own():
            said = f"{segment_name(circuit, edit.segment)} separated from the other layouts"
            return _changed(circuit, edit.segment, said, stretch=None)
        case Reverse():
            return _reversed(circuit)
        case Close():
            value = circuit.model_dump(mode="json")
            value["segments"] = closed_segments(circuit)
            return value, "Circuit closed by least squares", moves_of_lengths(circuit, value)
        case MoveStart():
            return moved_start(circuit, edit)


def _changed(
    circuit: CircuitDocument, number: int, said: str, **fields: str | float | None
) -> Segments:
    """Fields of one segment set, none of which moves anything."""
    value = circuit.model_dump(mode="json")
    value["segments"][number] |= fields
    return value, said, unmoved(circuit)


def _set(circuit: CircuitDocument, edit: SetFigure) -> Segments:
    segment = (circuit.segments or [])[edit.segment]
    name = segment_name(circuit, edit.segment)
    row = LABELS.get(edit.figure)
    if row is None:
        known = ", ".join(LABELS)
        message = f'no figure of a segment is named "{edit.figure}"; one of {known} is expected'
        raise InputRefused([Fault("figure", message)])
    if edit.figure not in type(segment).model_fields:
        raise InputRefused([Fault("figure", f"{name} has no {row.label.lower()}")])
    value = circuit.model_dump(mode="json")
    value["segments"][edit.segment][edit.figure] = edit.value
    before = row.in_words(getattr(segment, edit.figure), unit=False)
    said = f"{name}: {row.label.lower()} {before} to {row.in_words(edit.value)}"
    return value, said, moves_of_lengths(circuit, value)


def _added(circuit: CircuitDocument, edit: Add) -> Segments:
    segments = circuit.segments or []
    if not 0 <= edit.before <= len(segments):
        raise InputRefused(
            [Fault("before", f"{edit.before} was given; 0 to {len(segments)} is expected")]
        )
    value = circuit.model_dump(mode="json")
    value["segments"].insert(edit.before, edit.segment.model_dump(mode="json"))
    corner = isinstance(edit.segment, CornerDocument)
    length_m = segment_length_m(segment_record(edit.segment))
    what = edit.segment.name if isinstance(edit.segment, CornerDocument) else "A straight"
    return value, f"{what} added", moves_of_insertion(circuit, edit.before, length_m, corner)


def _removed(circuit: CircuitDocument, number: int) -> Segments:
    if len(circuit.segments or []) == 1:
        raise InputRefused(
            [Fault("segment", "the last segment cannot be removed; a circuit needs at least one")]
        )
    value = circuit.model_dump(mode="json")
    del value["segments"][number]
    return value, f"{segment_name(circuit, number)} removed", moves_of_removal(circuit, number)


def _dragged(circuit: CircuitDocument, edit: Drag) -> Segments:
    """The apex lies R(1/cos(θ/2) − 1) inside of where both tangents meet."""
    corner = corner_of(circuit, edit.segment)
    if edit.along_m != 0.0:
        return _shifted(circuit, edit.segment, edit.along_m)
    if corner.angle_deg > DRAGGED_MOST_DEG:
        raise InputRefused(
            [
                Fault(
                    "outwards_m",
                    f"{corner.name} turns {corner.angle_deg:.0f}°, so its tangents barely meet; "
                    "type its radius in the sheet",
                )
            ]
        )
    reach = 1.0 / math.cos(math.radians(corner.angle_deg) / 2.0) - 1.0
    radius = corner.radius_m - edit.outwards_m / reach
    if radius < RADIUS_LEAST_M:
        raise InputRefused(
            [
                Fault(
                    "outwards_m",
                    f"{corner.name} would get a radius of {metres(max(radius, 0.0), 1)}; at least "
                    f"{metres(RADIUS_LEAST_M)} are expected",
                )
            ]
        )
    value, moves = with_radius_at(circuit, edit.segment, round(radius, 2), hold_straights=False)
    said = f"{corner.name}: radius {metres(corner.radius_m, 2)} to {metres(radius, 2)}, dragged"
    return value, said, moves


def _shifted(circuit: CircuitDocument, number: int, along_m: float) -> Segments:
    segments = circuit.segments or []
    name = segment_name(circuit, number)
    around = (number - 1) % len(segments), (number + 1) % len(segments)
    before, after = segments[around[0]], segments[around[1]]
    if before.kind != "straight" or after.kind != "straight" or around[0] == around[1]:
        raise InputRefused(
            [Fault("along_m", f"{name} has no straight on both sides along which it could move")]
        )
    lengths = before.length_m + along_m, after.length_m - along_m
    if min(lengths) < 0.5:
        raise InputRefused(
            [
                Fault(
                    "along_m",
                    f"{name} cannot move that far: a straight of {metres(min(lengths), 1)} would "
                    "be left",
                )
            ]
        )
    value = circuit.model_dump(mode="json")
    for index, length in zip(around, lengths, strict=True):
        value["segments"][index]["length_m"] = round(length, 3)
    said = f"{name} moved {metres(abs(along_m), 1)} {'on' if along_m > 0 else 'back'}"
    return value, said, moves_of_lengths(circuit, value)


def _renumbered(circuit: CircuitDocument) -> Segments:
    value = circuit.model_dump(mode="json")
    for number, segment in enumerate(corner_segments(circuit), start=1):
        value["segments"][segment]["name"] = f"T{number}"
    return value, "Corners renumbered", unmoved(circuit)


def _reversed(circuit: CircuitDocument) -> Segments:
    """Order, turns and grades the other way; boards as far before their corners as they stood."""
    value = circuit.model_dump(mode="json")
    for segment in value["segments"]:
        segment["grade_pct"] = -segment["grade_pct"]
        if segment["kind"] == "corner":
            segment["direction"] = "right" if segment["direction"] == "left" else "left"
            if segment["end_radius_m"] is not None:
                segment["radius_m"], segment["end_radius_m"] = (
                    segment["end_radius_m"],
                    segment["radius_m"],
                )
            if segment["end_transition_m"] is not None:
                segment["transition_m"], segment["end_transition_m"] = (
                    segment["end_transition_m"],
                    segment["transition_m"],
                )
    value["segments"].reverse()
    path = build_path(circuit_record(circuit), 5.0)
    # Headings turn counter-clockwise, bearings clockwise.
    end = circuit.north_deg - math.degrees(path.heading_rad[-1])
    value["north_deg"] = round(end % 360.0 - 180.0, 6)  # the other way along the road
    return value, "Direction reversed", moves_of_reversal(circuit)
