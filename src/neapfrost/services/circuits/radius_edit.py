"""A corner's radius changed, with everything that stands beside the road left in its place."""

from typing import Any

from neapfrost.core.car.headline import RadiusChange, radius_change
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.circuit import Bend
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.plan import CircuitDocument, CornerDocument, StraightDocument
from neapfrost.formats.plan_records import segment_record
from neapfrost.services.circuits.beside_road import edges_of
from neapfrost.services.circuits.carrying import (
    Edited,
    Moves,
    carry,
    corner_segments,
    moves_beyond,
    unmoved,
)


def radius_edited(
    circuit: CircuitDocument, name: str | None, radius_m: float, hold_straights: bool
) -> Edited:
    """The circuit with the radius of the corner of this name changed [m], all carried along.

    The corner's tangent points move along its straights, unless these are held. Raises
    InputRefused when no corner with a radius has the name.
    """
    segments = circuit.segments or []
    numbers = [n for n in corner_segments(circuit) if getattr(segments[n], "name", None) == name]
    if not numbers:
        raise InputRefused([Fault("corner", f'no corner with a radius is named "{name}"')])
    return radius_edited_at(circuit, numbers[0], radius_m, hold_straights)


def radius_edited_at(
    circuit: CircuitDocument, index: int, radius_m: float, hold_straights: bool
) -> Edited:
    """As `radius_edited`, for the corner at a place in the list of segments.

    What stands beside the road stands there still: with other tangent points the lap gets longer or
    shorter in the middle of the corner.
    """
    value, moves = with_radius_at(circuit, index, radius_m, hold_straights)
    carry(circuit, value, moves)
    return Edited(value, "", moves)


def with_radius_at(
    circuit: CircuitDocument, index: int, radius_m: float, hold_straights: bool
) -> tuple[dict[str, Any], Moves]:
    """The segments with another radius of one corner, and what to carry the rest by."""
    segments = list(circuit.segments or [])
    corner = segments[index]
    assert isinstance(corner, CornerDocument)
    value = circuit.model_dump(mode="json")
    value["segments"][index]["radius_m"] = radius_m
    if radius_m <= 1.0:
        return value, unmoved(circuit)  # refused by the plan's own rules, with the field's path
    before = _straight(circuit, index - 1)
    after = _straight(circuit, index + 1)
    old = segment_record(corner)
    new = segment_record(corner.model_copy(update={"radius_m": radius_m}))
    assert isinstance(old, Bend)
    assert isinstance(new, Bend)
    if hold_straights:
        effect = RadiusChange(0.0, segment_length_m(new) - segment_length_m(old))
    else:
        effect = radius_change(
            old, new, 0.0 if before is None else before[1], 0.0 if after is None else after[1]
        )
    if before is not None and after is not None and effect.straight_change_m != 0.0:
        for number, length in (before, after):
            value["segments"][number]["length_m"] = length + effect.straight_change_m
    # A straight before that lies at the end of the list: the line itself moves with its start.
    ends = 1.0 if before is not None and before[0] > index else 2.0
    moved = effect.corner_change_m + ends * effect.straight_change_m
    middle = edges_of(circuit)[index] + 0.5 * segment_length_m(old)
    return value, moves_beyond(circuit, middle, moved)


def _straight(circuit: CircuitDocument, index: int) -> tuple[int, float] | None:
    """Number and length of the straight beside a corner; around the line on a closed circuit."""
    segments = circuit.segments or []
    if not circuit.closed and not 0 <= index < len(segments):
        return None
    number = index % len(segments)
    segment = segments[number]
    return (number, segment.length_m) if isinstance(segment, StraightDocument) else None
