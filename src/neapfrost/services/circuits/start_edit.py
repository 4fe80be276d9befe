"""The start line of a closed circuit moved along the road; everything else stays where it is."""

import math
from bisect import bisect_right
from typing import Any, Literal

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.path.build import build_path
from neapfrost.formats.plan import CircuitDocument, StraightDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.services.circuits.beside_road import edges_of
from neapfrost.services.circuits.carrying import Moves, moves_of_start
from neapfrost.services.circuits.edit import Edit


class MoveStart(Edit):
    """The start line moved on along the road, or back where negative [m]."""

    op: Literal["start"]
    by_m: float


def moved_start(circuit: CircuitDocument, edit: MoveStart) -> tuple[dict[str, Any], str, Moves]:
    """The circuit's document with its start line elsewhere on a straight.

    Raises InputRefused on an open course, and where the line would stand in a corner.
    """
    if not circuit.closed:
        raise InputRefused(
            [Fault("by_m", "a point-to-point course starts where its first segment does")]
        )
    segments = circuit.segments or []
    edges = edges_of(circuit)
    at = edit.by_m % edges[-1]
    number = min(bisect_right(edges, at) - 1, len(segments) - 1)
    standing = segments[number]
    into = at - edges[number]
    if not isinstance(standing, StraightDocument) and into > 1e-6:
        raise InputRefused(
            [
                Fault(
                    "by_m",
                    f"at {metres(at)} the start line would be in {standing.name}; it must be on "
                    "a straight or where a corner begins",
                )
            ]
        )
    path = build_path(circuit_record(circuit), 5.0)
    value = circuit.model_dump(mode="json")
    old = value["segments"]
    if into > 1e-6:
        first = {**old[number], "length_m": old[number]["length_m"] - into}
        last = {**old[number], "length_m": into}
        rolled = [first, *old[number + 1 :], *old[:number], last]
    else:
        rolled = [*old[number:], *old[:number]]
    value["segments"] = _joined(rolled)

    k = int(path.s_m.searchsorted(at))
    turned = math.degrees(float(path.heading_rad[min(k, len(path.heading_rad) - 1)]))
    value["north_deg"] = round((circuit.north_deg - turned + 180.0) % 360.0 - 180.0, 6)
    value["start_lat_deg"] = value["start_lon_deg"] = None
    way = "on" if edit.by_m > 0 else "back"
    said = f"Start line moved {metres(abs(edit.by_m))} {way}"
    return value, said, moves_of_start(circuit, number, at)


def _joined(segments: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Straights alike but for their lengths that meet at the old line made one."""
    made: list[dict[str, Any]] = []
    for segment in segments:
        last = made[-1] if made else None
        alike = (
            last is not None
            and last["kind"] == segment["kind"] == "straight"
            and {**last, "length_m": 0} == {**segment, "length_m": 0}
        )
        if alike and last is not None:
            made[-1] = {**last, "length_m": last["length_m"] + segment["length_m"]}
        else:
            made.append(segment)
    return made
