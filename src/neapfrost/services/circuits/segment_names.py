"""What a person calls the segments of a circuit."""

from neapfrost.formats.plan import CircuitDocument, CornerDocument


def segment_name(circuit: CircuitDocument, number: int) -> str:
    """What a person calls a segment: a corner's name, or the straight after which corner."""
    segments = circuit.segments or []
    segment = segments[number]
    if isinstance(segment, CornerDocument):
        return segment.name
    for back in range(1, len(segments)):
        if not circuit.closed and back > number:
            break
        before = segments[(number - back) % len(segments)]
        if isinstance(before, CornerDocument):
            return f"Straight after {before.name}"
    return "Straight at the start"
