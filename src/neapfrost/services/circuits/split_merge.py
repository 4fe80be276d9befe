"""A part of the sheet made into two, and two corners made one."""

import math
from typing import Any

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.circuit import Bend
from neapfrost.core.path.plan_view import core_length_m, end_curvatures_per_m, ramps_m
from neapfrost.formats.document import NAME_MOST
from neapfrost.formats.plan import CircuitDocument, CornerDocument
from neapfrost.formats.plan_records import segment_record
from neapfrost.services.circuits.beside_road import corner_of, edges_of
from neapfrost.services.circuits.carrying import Moves, moves_of_merge, moves_of_split
from neapfrost.services.circuits.segment_names import segment_name


def split_segment(
    circuit: CircuitDocument, number: int, share: float
) -> tuple[dict[str, Any], str, Moves]:
    """The circuit with a segment made into two, at a share of a straight or of a corner's core.

    Both parts of a corner together are the road that the corner was: the curvature is the same
    all along, the first part has the ramp at the entry and the second the one at the exit.
    """
    segment = (circuit.segments or [])[number]
    value = circuit.model_dump(mode="json")
    first = value["segments"][number]
    second = dict(first)
    if isinstance(segment, CornerDocument):
        record = segment_record(segment)
        assert isinstance(record, Bend)
        ramp_in, ramp_out = ramps_m(record)
        begins, ends = end_curvatures_per_m(record)
        middle = begins + share * (ends - begins)
        turned = 0.5 * ramp_in * begins + 0.5 * share * core_length_m(record) * (begins + middle)
        split_deg = math.degrees(turned)
        varies = segment.end_radius_m is not None
        first |= {
            "angle_deg": split_deg,
            "end_radius_m": 1.0 / middle if varies else None,
            "end_transition_m": 0.0 if ramp_in > 0.0 or ramp_out > 0.0 else None,
        }
        second |= {
            "name": f"{segment.name} exit"[:NAME_MOST],
            "angle_deg": segment.angle_deg - split_deg,
            "radius_m": 1.0 / middle if varies else segment.radius_m,
            "transition_m": 0.0,
            "end_transition_m": ramp_out if ramp_in > 0.0 or ramp_out > 0.0 else None,
            "note": "",
        }
    else:
        first["length_m"] = segment.length_m * share
        second["length_m"] = segment.length_m * (1.0 - share)
    if segment.stretch is not None:
        first["stretch"], second["stretch"] = (f"{segment.stretch}.{part}" for part in (1, 2))
    value["segments"].insert(number + 1, second)
    said = f"{segment_name(circuit, number)} split"
    return value, said, moves_of_split(circuit, number)


def merged_corners(circuit: CircuitDocument, number: int) -> tuple[dict[str, Any], str, Moves]:
    """One corner of the length and the angle of both; its radius follows."""
    first = corner_of(circuit, number)
    segments = circuit.segments or []
    following = number + 1
    if following < len(segments) and not isinstance(segments[following], CornerDocument):
        following += 1
    last = segments[following] if following < len(segments) else None
    if not isinstance(last, CornerDocument) or last.direction != first.direction:
        raise InputRefused(
            [
                Fault(
                    "segment",
                    f"no corner that turns {first.direction} as well follows {first.name}; only "
                    "two such corners can be merged",
                )
            ]
        )
    edges = edges_of(circuit)
    length = edges[following + 1] - edges[number]
    angle = first.angle_deg + last.angle_deg
    ramp_in, ramp_out = _ramps(first)[0], _ramps(last)[1]
    value = circuit.model_dump(mode="json")
    value["segments"][number] |= {
        "radius_m": (length - 0.5 * (ramp_in + ramp_out)) / math.radians(angle),
        "angle_deg": angle,
        "end_radius_m": None,
        "stretch": _common_stretch(first.stretch, last.stretch),
        "transition_m": ramp_in,
        "end_transition_m": None if ramp_in == ramp_out else ramp_out,
    }
    del value["segments"][number + 1 : following + 1]
    said = f"{first.name} and {last.name} merged"
    return value, said, moves_of_merge(circuit, number, following)


def _ramps(corner: CornerDocument) -> tuple[float, float]:
    record = segment_record(corner)
    assert isinstance(record, Bend)
    return ramps_m(record)


def _common_stretch(first: str | None, last: str | None) -> str | None:
    """What two halves of a stretch are together; anything else is shared with no other layout."""
    if first is None or last is None or first.removesuffix(".1") != last.removesuffix(".2"):
        return None
    return first.removesuffix(".1")
