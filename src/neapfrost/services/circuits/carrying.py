"""What an edit of the road does to places along it and to its corners, and all that goes along.

Boards, references, sector lines, kerbs, heights and notes are carried here; what a plan asks of its
line and at its corners is carried by the same moves.
"""

from bisect import bisect_right
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

from neapfrost.core.path.ring import Ring
from neapfrost.formats.plan import CircuitDocument, CornerDocument
from neapfrost.services.circuits.beside_road import belongs_to, edges_of

#: Sector lines this near to the start line are taken away [m].
AT_THE_LINE_M = 1e-6


@dataclass(frozen=True)
class Moves:
    """Where places and corners are after an edit.

    `place` takes a position [m]; `board` that of a board, with the number of the corner it belongs
    to among all corners, if any; `corners` maps each corner's number to its new one, and has none
    for a corner that is gone. Driven the `other_way`, left is right.
    """

    place: Callable[[float], float]
    board: Callable[[float, int | None], float]
    corners: Mapping[int, int]
    other_way: bool = False


class Edited(NamedTuple):
    """A circuit's document after an edit, not yet checked by its own rules, what was done, moves.

    Everything of the circuit's own has been carried along already.
    """

    value: dict[str, Any]
    said: str
    moves: Moves


def corner_segments(circuit: CircuitDocument) -> list[int]:
    """The segments that are corners, by their places in the list."""
    return [n for n, s in enumerate(circuit.segments or []) if isinstance(s, CornerDocument)]


def unmoved(circuit: CircuitDocument) -> Moves:
    """Nothing moves, and every corner is the one that it was."""
    count = len(corner_segments(circuit))
    return Moves(lambda at: at, lambda at, _: at, {n: n for n in range(count)})


def moves_of_lengths(before: CircuitDocument, value: dict[str, Any]) -> Moves:
    """Segments of other lengths in the same order.

    A board on a straight keeps its distance to the end of it, where its corner begins; everything
    else keeps its share of the segment it stands beside.
    """
    try:
        new = edges_of(CircuitDocument.model_validate(value))
    except ValueError:
        return unmoved(before)  # refused by its own rules a moment later, with the field's path
    old = edges_of(before)

    def segment_of(at: float) -> int:
        return min(max(bisect_right(old, at) - 1, 0), len(old) - 2)

    def place(at: float) -> float:
        number = segment_of(at)
        share = (at - old[number]) / (old[number + 1] - old[number])
        return new[number] + share * (new[number + 1] - new[number])

    def board(at: float, _: int | None) -> float:
        number = segment_of(at)
        if (before.segments or [])[number].kind == "corner":
            return place(at)
        return max(new[number], new[number + 1] - (old[number + 1] - at))

    return Moves(place, board, unmoved(before).corners)


def moves_beyond(before: CircuitDocument, beyond_m: float, by_m: float) -> Moves:
    """What lies beyond a place moved on along the lap; all else stays where it stands."""

    def place(at: float) -> float:
        return at + by_m if at >= beyond_m else at

    return Moves(place, lambda at, _: place(at), unmoved(before).corners)


def moves_of_insertion(
    before: CircuitDocument, number: int, length_m: float, corner: bool
) -> Moves:
    """A segment put in before another one."""
    along = moves_beyond(before, edges_of(before)[number], length_m)
    earlier = sum(n < number for n in corner_segments(before))
    corners = {n: n + (1 if corner and n >= earlier else 0) for n in along.corners}
    return replace(along, corners=corners)


def moves_of_removal(before: CircuitDocument, number: int) -> Moves:
    """A segment taken out; what stood beside it stands where it began."""
    edges = edges_of(before)
    begins, ends = edges[number], edges[number + 1]

    def place(at: float) -> float:
        return at if at <= begins else max(begins, at - (ends - begins))

    left = [n for n in corner_segments(before) if n != number]
    corners = {
        old: left.index(segment)
        for old, segment in enumerate(corner_segments(before))
        if segment != number
    }
    return Moves(place, lambda at, _: place(at), corners)


def moves_of_split(before: CircuitDocument, number: int) -> Moves:
    """A segment made into two: a corner's first part is the corner that it was."""
    after = [n for n in corner_segments(before) if n <= number]
    split = number in after
    corners = {n: n + (1 if split and n >= len(after) else 0) for n in unmoved(before).corners}
    return Moves(lambda at: at, lambda at, _: at, corners)


def moves_of_merge(before: CircuitDocument, first: int, last: int) -> Moves:
    """Corners from one segment to another made one: what belonged to any belongs to it."""
    segments = corner_segments(before)
    corners, new = {}, -1
    for number, segment in enumerate(segments):
        if not first < segment <= last:
            new += 1
        corners[number] = new
    return Moves(lambda at: at, lambda at, _: at, corners)


def moves_of_reversal(before: CircuitDocument) -> Moves:
    """The other way round; a board stands as far before its corner as it stood."""
    edges = edges_of(before)
    ring = Ring(edges[-1], before.closed)
    segments = corner_segments(before)

    def place(at: float) -> float:
        return ring.length_m - at

    def board(at: float, corner: int | None) -> float:
        if corner is None:
            return place(at)
        begins, ends = edges[segments[corner]], edges[segments[corner] + 1]
        moved = ring.length_m - ends - ring.ahead(at, begins)
        return ring.fold(moved) if before.closed else max(moved, 0.0)

    corners = {n: len(segments) - 1 - n for n in range(len(segments))}
    return Moves(place, board, corners, other_way=True)


def moves_of_start(before: CircuitDocument, number: int, at_m: float) -> Moves:
    """The start line moved to a place, inside or at the beginning of a segment."""
    ring = Ring(edges_of(before)[-1], True)

    def place(at: float) -> float:
        return float(ring.ahead(at_m, at))

    segments = corner_segments(before)
    first = sum(segment < number for segment in segments)
    corners = {n: (n - first) % len(segments) for n in range(len(segments))}
    return Moves(place, lambda at, _: place(at), corners)


def carry(before: CircuitDocument, value: dict[str, Any], moves: Moves) -> None:
    """Carry all that belongs to a circuit along with its edited segments, in its document."""
    segments = corner_segments(before)
    names = [s["name"] for s in value["segments"] or [] if s["kind"] == "corner"]
    for kind in ("boards", "references"):
        kept = []
        for thing in value[kind]:
            owner = next(
                (n for n, segment in enumerate(segments) if belongs_to(before, thing, segment)),
                None,
            )
            if owner is not None and owner not in moves.corners:
                continue
            at_m = thing["at_m"]
            thing["at_m"] = moves.board(at_m, owner) if kind == "boards" else moves.place(at_m)
            if owner is not None:
                thing["corner"] = names[moves.corners[owner]]
            kept.append(thing)
        value[kind] = kept
    value["corner_notes"] = _notes(before, value["corner_notes"], moves, names)
    for edge in value["edges"]:
        ends = moves.place(edge["from_m"]), moves.place(edge["to_m"])
        edge["from_m"], edge["to_m"] = reversed(ends) if moves.other_way else ends
        if moves.other_way:
            edge["side"] = "right" if edge["side"] == "left" else "left"
    lines = sorted(moves.place(at) for at in value["sectors_at_m"])
    value["sectors_at_m"] = [at for at in lines if at > AT_THE_LINE_M]
    if value["elevation"]:
        points = [{**point, "at_m": moves.place(point["at_m"])} for point in value["elevation"]]
        unique = {round(point["at_m"], 6): point for point in points}
        value["elevation"] = [unique[key] for key in sorted(unique)]


def _notes(
    before: CircuitDocument, notes: list[dict[str, Any]], moves: Moves, names: list[str]
) -> list[dict[str, Any]]:
    """Notes under their corners' new names; the first of two that come to lie on one corner."""
    segments = before.segments or []
    kept: dict[str, dict[str, Any]] = {}
    for note in notes:
        owners = [
            number
            for number, segment in enumerate(corner_segments(before))
            if getattr(segments[segment], "name", None) == note["corner"]
        ]
        if owners and owners[0] not in moves.corners:
            continue
        name = names[moves.corners[owners[0]]] if owners else note["corner"]
        kept.setdefault(name, {**note, "corner": name})
    return list(kept.values())
