"""What a circuit's document says of itself: the names of its corners, and its length."""

import numpy as np

from neapfrost.core.path.bends_found import find_corners
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.plan import CircuitDocument, CornerDocument, CornerNoteDocument
from neapfrost.formats.plan_records import segment_record


def corner_names(circuit: CircuitDocument) -> list[str]:
    """Names of a circuit's corners in their order; found by curvature where stations name none."""
    stations = circuit.stations
    if stations is None:
        return [s.name for s in circuit.segments or [] if isinstance(s, CornerDocument)]
    if stations.corners:
        return [corner.name for corner in stations.corners]
    found = find_corners(
        np.array(stations.at_m), np.array(stations.curvature_per_m), circuit.closed
    )
    return [corner.name for corner in found]


def note_of(circuit: CircuitDocument, corner: str) -> CornerNoteDocument:
    """What is noted of a corner by its name; an empty note where nothing is."""
    known = (note for note in circuit.corner_notes if note.corner == corner)
    return next(known, CornerNoteDocument(corner=corner))


def circuit_length_m(circuit: CircuitDocument) -> float:
    """Length of a lap [m]."""
    if circuit.stations is not None:
        return circuit.stations.at_m[-1]
    return sum(segment_length_m(segment_record(segment)) for segment in circuit.segments or [])
