"""What stands beside a road and to which corner it belongs; carried along as the road changes."""

from bisect import bisect_right
from collections.abc import Callable
from typing import Any

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.core.path.ring import Ring
from neapfrost.formats.plan import CircuitDocument, CornerDocument
from neapfrost.formats.plan_records import segment_record
from neapfrost.services.circuits.segment_names import segment_name


def edges_of(circuit: CircuitDocument) -> list[float]:
    """Where each segment begins, and where the last one ends [m]."""
    edges = [0.0]
    for segment in circuit.segments or []:
        edges.append(edges[-1] + segment_length_m(segment_record(segment)))
    return edges


def corner_of(circuit: CircuitDocument, number: int) -> CornerDocument:
    segment = (circuit.segments or [])[number]
    if not isinstance(segment, CornerDocument):
        raise InputRefused(
            [
                Fault(
                    "segment", f"{segment_name(circuit, number)} is no corner; a corner is expected"
                )
            ]
        )
    return segment


def belongs_to(circuit: CircuitDocument, thing: dict[str, Any], number: int) -> bool:
    """Whether a board or reference belongs to a corner: by name, and of equal names the nearest."""
    segments = circuit.segments or []
    name = getattr(segments[number], "name", None)
    if name is None or thing["corner"] != name:
        return False
    edges = edges_of(circuit)
    ring = Ring(edges[-1], circuit.closed)

    def apart(index: int) -> float:
        return abs(ring.apart(float(thing["at_m"]), edges[index]))

    alike = [i for i, s in enumerate(segments) if isinstance(s, CornerDocument) and s.name == name]
    return min(alike, key=apart) == number


def carry(before: CircuitDocument, value: dict[str, Any]) -> None:
    """Carry what stands beside the road along with segments whose lengths have changed.

    A board keeps its distance to the end of its straight, where its corner begins; everything
    else keeps its share of the segment it stands beside.
    """
    old = edges_of(before)
    try:
        after = CircuitDocument.model_validate(value)
        new = edges_of(after)
    except ValueError:
        return  # refused by the plan's own rules a moment later, with the field's path

    def segment_of(at: float) -> int:
        return min(max(bisect_right(old, at) - 1, 0), len(old) - 2)

    def shared(at: float) -> float:
        number = segment_of(at)
        share = (at - old[number]) / (old[number + 1] - old[number])
        return new[number] + share * (new[number + 1] - new[number])

    def to_the_end(at: float) -> float:
        number = segment_of(at)
        if (before.segments or [])[number].kind == "corner":
            return shared(at)
        return max(new[number], new[number + 1] - (old[number + 1] - at))

    move_things(value, shared, to_the_end)


def move_things(
    value: dict[str, Any],
    place: Callable[[float], float],
    board: Callable[[float], float] | None = None,
) -> None:
    for thing in value["boards"]:
        thing["at_m"] = (board or place)(thing["at_m"])
    for thing in value["references"]:
        thing["at_m"] = place(thing["at_m"])
    for edge in value["edges"]:
        edge["from_m"], edge["to_m"] = place(edge["from_m"]), place(edge["to_m"])
    value["sectors_at_m"] = [place(at) for at in value["sectors_at_m"]]
    for point in value["elevation"] or []:
        point["at_m"] = place(point["at_m"])
