"""A corner's radius changed, with everything that stands beside the road left in its place."""

from typing import Any

from neapfrost.core.car.headline import RadiusChange, radius_change
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.circuit import Bend
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.plan import CircuitDocument, CornerDocument, StraightDocument
from neapfrost.formats.plan_records import segment_record


def with_radius(
    circuit: CircuitDocument, name: str | None, radius_m: float, hold_straights: bool
) -> dict[str, Any]:
    """The circuit's document with the radius of the corner of this name changed [m].

    The corner's tangent points move along its straights, unless these are held. Raises
    InputRefused when no corner with a radius has the name.
    """
    segments = list(circuit.segments or [])
    index = next(
        (
            number
            for number, segment in enumerate(segments)
            if isinstance(segment, CornerDocument) and segment.name == name
        ),
        None,
    )
    if index is None:
        raise InputRefused([Fault("corner", f'no corner with a radius is named "{name}"')])
    return with_radius_at(circuit, index, radius_m, hold_straights)


def with_radius_at(
    circuit: CircuitDocument, index: int, radius_m: float, hold_straights: bool
) -> dict[str, Any]:
    """As `with_radius`, for the corner at a place in the list of segments."""
    segments = list(circuit.segments or [])
    corner = segments[index]
    assert isinstance(corner, CornerDocument)
    value = circuit.model_dump(mode="json")
    value["segments"][index]["radius_m"] = radius_m
    if radius_m <= 1.0:
        return value  # refused by the plan's own rules, with the field's path
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
    begins = sum(segment_length_m(segment_record(segment)) for segment in segments[:index])
    if before is not None and before[0] > index:
        # The straight before lies at the end of the list: the line itself moves with its start.
        moved = effect.corner_change_m + effect.straight_change_m
    else:
        moved = effect.corner_change_m + 2.0 * effect.straight_change_m
    _move_things(value, begins + 0.5 * segment_length_m(old), moved)
    return value


def _straight(circuit: CircuitDocument, index: int) -> tuple[int, float] | None:
    """Number and length of the straight beside a corner; around the line on a closed circuit."""
    segments = circuit.segments or []
    if not circuit.closed and not 0 <= index < len(segments):
        return None
    number = index % len(segments)
    segment = segments[number]
    return (number, segment.length_m) if isinstance(segment, StraightDocument) else None


def _move_things(circuit: dict[str, Any], after_m: float, by_m: float) -> None:
    """Carry what stands beyond a place along with the road it stands on."""
    for name in ("boards", "references"):
        for thing in circuit[name]:
            if thing["at_m"] >= after_m:
                thing["at_m"] += by_m
    for edge in circuit["edges"]:
        for end in ("from_m", "to_m"):
            if edge[end] >= after_m:
                edge[end] += by_m
    circuit["sectors_at_m"] = [at + by_m if at >= after_m else at for at in circuit["sectors_at_m"]]
    for point in circuit["elevation"] or []:
        if point["at_m"] >= after_m:
            point["at_m"] += by_m
