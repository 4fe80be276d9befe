"""Where a circuit's segments meet, and to which corner belongs what stands beside the road."""

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
