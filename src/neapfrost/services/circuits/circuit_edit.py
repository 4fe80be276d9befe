"""The sheet of straights and corners edited; what stands beside the road keeps its place."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.build import build_path
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.document import Name
from neapfrost.formats.plan import CircuitDocument, CornerDocument, SegmentDocument
from neapfrost.formats.plan_records import circuit_record, segment_record
from neapfrost.services.circuits.beside_road import (
    belongs_to,
    carry,
    corner_of,
    edges_of,
    move_things,
)
from neapfrost.services.circuits.closing import closed_segments
from neapfrost.services.circuits.edge_edit import EdgeEdit, edited_edges
from neapfrost.services.circuits.edit import Edit
from neapfrost.services.circuits.height_edit import HeightEdit, edited_heights
from neapfrost.services.circuits.radius_edit import with_radius_at
from neapfrost.services.circuits.roadside_edit import RoadsideEdit, edited_roadside
from neapfrost.services.circuits.segment_names import segment_name
from neapfrost.services.circuits.split_merge import merged_corners, split_segment
from neapfrost.services.circuits.start_edit import MoveStart, moved_start

FigureName = Literal[
    "length_m",
    "radius_m",
    "angle_deg",
    "end_radius_m",
    "transition_m",
    "end_transition_m",
    "banking_deg",
    "grade_pct",
    "grip_factor",
    "width_m",
    "length_uncertainty_pct",
    "radius_uncertainty_pct",
    "angle_uncertainty_pct",
    "grade_uncertainty_pct",
]

LABELS: dict[str, tuple[str, str]] = {
    "length_m": ("Length", " m"),
    "radius_m": ("Radius", " m"),
    "angle_deg": ("Angle", "°"),
    "end_radius_m": ("Exit radius", " m"),
    "transition_m": ("Transition", " m"),
    "end_transition_m": ("Transition at the exit", " m"),
    "banking_deg": ("Bank", "°"),
    "grade_pct": ("Grade", " %"),
    "grip_factor": ("Grip", ""),
    "width_m": ("Width", " m"),
    "length_uncertainty_pct": ("Uncertainty of the length", " %"),
    "radius_uncertainty_pct": ("Uncertainty of the radius", " %"),
    "angle_uncertainty_pct": ("Uncertainty of the angle", " %"),
    "grade_uncertainty_pct": ("Uncertainty of the grade", " %"),
}


#: A corner that turns farther has no tangents to be dragged between; the tightest one made so.
DRAGGED_MOST_DEG, RADIUS_LEAST_M = 165.0, 3.0


class SetFigure(Edit):
    """A figure of a segment set; null takes an optional one away."""

    op: Literal["set"]
    segment: int
    figure: FigureName
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
    """What is to be remembered of a corner: kerbs, limits, run-off, what to look at."""

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
    SegmentEdit | RoadsideEdit | EdgeEdit | HeightEdit | MoveStart, Field(discriminator="op")
]


def edited_circuit(circuit: CircuitDocument, edit: CircuitEdit) -> tuple[dict[str, Any], str]:
    """The circuit's document after an edit, not yet checked by its own rules, and what was done.

    Raises InputRefused where there is no such segment, or the edit makes no sense for it.
    """
    if isinstance(edit, RoadsideEdit):
        return edited_roadside(circuit, edit)
    if isinstance(edit, EdgeEdit):
        return edited_edges(circuit, edit)
    if isinstance(edit, HeightEdit):
        return edited_heights(circuit, edit)
    if circuit.segments is None:
        raise InputRefused(
            [
                Fault(
                    "circuit.stations",
                    "this path is given by stations; only straights and corners can be edited",
                )
            ]
        )
    if isinstance(edit, MoveStart):
        return moved_start(circuit, edit)
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
    match edit:
        case SetFigure():
            return _set(circuit, edit)
        case Turn():
            corner = corner_of(circuit, edit.segment)
            value = circuit.model_dump(mode="json")
            value["segments"][edit.segment]["direction"] = edit.direction
            return value, f"{corner.name} turned {edit.direction}"
        case Rename():
            return _renamed(circuit, edit)
        case Drag():
            return _dragged(circuit, edit)
        case Merge():
            return merged_corners(circuit, edit.segment)
        case Renumber():
            return _renumbered(circuit), "Corners numbered anew"
        case Note():
            corner = corner_of(circuit, edit.segment)
            value = circuit.model_dump(mode="json")
            value["segments"][edit.segment]["note"] = edit.note
            return value, f"Note on {corner.name}"
        case Add():
            return _added(circuit, edit)
        case Remove():
            return _removed(circuit, edit.segment)
        case Split():
            return split_segment(circuit, edit.segment, edit.share)
        case Own():
            value = circuit.model_dump(mode="json")
            value["segments"][edit.segment]["stretch"] = None
            return value, f"{segment_name(circuit, edit.segment)} made this layout's own"
        case Reverse():
            return _reversed(circuit), "Driven the other way"
        case Close():
            value = circuit.model_dump(mode="json")
            value["segments"] = closed_segments(circuit)
            carry(circuit, value)
            return value, "Ring closed by least squares"


def _set(circuit: CircuitDocument, edit: SetFigure) -> tuple[dict[str, Any], str]:
    segment = (circuit.segments or [])[edit.segment]
    name = segment_name(circuit, edit.segment)
    if edit.figure not in type(segment).model_fields:
        label = LABELS[edit.figure][0].lower()
        raise InputRefused([Fault("figure", f"{name} has no {label}")])
    value = circuit.model_dump(mode="json")
    value["segments"][edit.segment][edit.figure] = edit.value
    carry(circuit, value)
    label, unit = LABELS[edit.figure]
    before, after = (
        "not set" if figure is None else f"{round(figure, 3):g}"
        for figure in (getattr(segment, edit.figure), edit.value)
    )
    return value, f"{name}: {label.lower()} {before} to {after}{unit}"


def _renamed(circuit: CircuitDocument, edit: Rename) -> tuple[dict[str, Any], str]:
    before = corner_of(circuit, edit.segment).name
    value = circuit.model_dump(mode="json")
    value["segments"][edit.segment]["name"] = edit.name
    for thing in (*value["boards"], *value["references"]):
        if belongs_to(circuit, thing, edit.segment):
            thing["corner"] = edit.name
    for note in value["corner_notes"]:
        if note["corner"] == before:
            note["corner"] = edit.name
    return value, f"{before} named {edit.name}"


def _added(circuit: CircuitDocument, edit: Add) -> tuple[dict[str, Any], str]:
    segments = circuit.segments or []
    if not 0 <= edit.before <= len(segments):
        raise InputRefused(
            [Fault("before", f"{edit.before} was given; 0 to {len(segments)} is expected")]
        )
    value = circuit.model_dump(mode="json")
    value["segments"].insert(edit.before, edit.segment.model_dump(mode="json"))
    edge = edges_of(circuit)[edit.before]
    length = segment_length_m(segment_record(edit.segment))
    move_things(value, lambda at: at + length if at >= edge else at)
    what = edit.segment.name if isinstance(edit.segment, CornerDocument) else "A straight"
    return value, f"{what} put in"


def _removed(circuit: CircuitDocument, number: int) -> tuple[dict[str, Any], str]:
    segments = circuit.segments or []
    if len(segments) == 1:
        raise InputRefused([Fault("segment", "the last segment stays; a circuit needs one")])
    segment = segments[number]
    value = circuit.model_dump(mode="json")
    del value["segments"][number]
    edges = edges_of(circuit)
    begins, ends = edges[number], edges[number + 1]
    if isinstance(segment, CornerDocument):
        for name in ("boards", "references"):
            value[name] = [thing for thing in value[name] if not belongs_to(circuit, thing, number)]
        notes = value["corner_notes"]
        value["corner_notes"] = [note for note in notes if note["corner"] != segment.name]
    move_things(value, lambda at: at if at <= begins else max(begins, at - (ends - begins)))
    return value, f"{segment_name(circuit, number)} taken out"


def _dragged(circuit: CircuitDocument, edit: Drag) -> tuple[dict[str, Any], str]:
    """The apex lies R(1/cos(θ/2) − 1) inside of where both tangents meet."""
    corner = corner_of(circuit, edit.segment)
    if edit.along_m != 0.0:
        return _shifted(circuit, edit.segment, edit.along_m)
    if corner.angle_deg > DRAGGED_MOST_DEG:
        raise InputRefused(
            [
                Fault(
                    "outwards_m",
                    f"{corner.name} turns {corner.angle_deg:.0f}°, so its tangents hardly meet; "
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
                    f"{corner.name} would get a radius of {max(radius, 0.0):.1f} m; at least "
                    f"{RADIUS_LEAST_M:.0f} m are expected",
                )
            ]
        )
    value = with_radius_at(circuit, edit.segment, round(radius, 2), hold_straights=False)
    return value, f"{corner.name}: radius {corner.radius_m:g} to {radius:.2f} m, dragged"


def _shifted(circuit: CircuitDocument, number: int, along_m: float) -> tuple[dict[str, Any], str]:
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
                    f"{name} cannot move that far: a straight of {min(lengths):.1f} m would be "
                    "left",
                )
            ]
        )
    value = circuit.model_dump(mode="json")
    for index, length in zip(around, lengths, strict=True):
        value["segments"][index]["length_m"] = round(length, 3)
    carry(circuit, value)
    return value, f"{name} moved {abs(along_m):.1f} m {'on' if along_m > 0 else 'back'}"


def _renumbered(circuit: CircuitDocument) -> dict[str, Any]:
    value = circuit.model_dump(mode="json")
    names: dict[int, str] = {}
    for number, segment in enumerate(circuit.segments or []):
        if isinstance(segment, CornerDocument):
            names[number] = f"T{len(names) + 1}"
            value["segments"][number]["name"] = names[number]
    for kind in ("boards", "references"):
        for thing, kept in zip(value[kind], circuit.model_dump(mode="json")[kind], strict=True):
            for number, name in names.items():
                if belongs_to(circuit, kept, number):
                    thing["corner"] = name
    new_names = {corner_of(circuit, number).name: name for number, name in names.items()}
    for note in value["corner_notes"]:
        note["corner"] = new_names.get(note["corner"], note["corner"])
    return value


def _reversed(circuit: CircuitDocument) -> dict[str, Any]:
    """Order, turns and grades the other way; boards as far before their corners as they stood."""
    value = circuit.model_dump(mode="json")
    edges = edges_of(circuit)
    length = edges[-1]
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
    begins = {
        segment.name: (edges[number], edges[number + 1])
        for number, segment in enumerate(circuit.segments or [])
        if isinstance(segment, CornerDocument)
    }
    for board in value["boards"]:
        if board["corner"] in begins:
            before = (begins[board["corner"]][0] - board["at_m"]) % length
            at = length - begins[board["corner"]][1] - before
            board["at_m"] = at % length if circuit.closed else max(at, 0.0)
        else:
            board["at_m"] = length - board["at_m"]
    for reference in value["references"]:
        reference["at_m"] = length - reference["at_m"]
    for edge in value["edges"]:
        edge["side"] = "right" if edge["side"] == "left" else "left"
        edge["from_m"], edge["to_m"] = length - edge["to_m"], length - edge["from_m"]
    value["sectors_at_m"] = sorted(length - at for at in circuit.sectors_at_m)
    if value["elevation"]:
        value["elevation"] = [
            {**point, "at_m": length - point["at_m"]} for point in reversed(value["elevation"])
        ]
    path = build_path(circuit_record(circuit), 5.0)
    # Headings turn counter-clockwise, bearings clockwise.
    end = circuit.north_deg - math.degrees(path.heading_rad[-1])
    value["north_deg"] = round(end % 360.0 - 180.0, 6)  # the other way along the road
    return value
