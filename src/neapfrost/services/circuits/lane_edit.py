"""Lanes of a banked circuit edited."""

from typing import Any, Literal

from neapfrost.formats.plan import CircuitDocument, LaneDocument
from neapfrost.services.circuits.edit import Edit, refuse_no


class PutLane(Edit):
    """A lane put beside those that are there."""

    op: Literal["put_lane"]
    lane: LaneDocument


class SetLane(Edit):
    """One of the lanes, by its number, as it is to be."""

    op: Literal["set_lane"]
    number: int
    lane: LaneDocument


class RemoveLane(Edit):
    """One of the lanes taken away."""

    op: Literal["remove_lane"]
    number: int


LaneEdit = PutLane | SetLane | RemoveLane


def edited_lanes(circuit: CircuitDocument, edit: LaneEdit) -> tuple[dict[str, Any], str]:
    """The circuit's document after an edit, not yet checked by its own rules, and what was done.

    Raises InputRefused where there is no such lane.
    """
    value = circuit.model_dump(mode="json")
    match edit:
        case PutLane():
            value["lanes"].append(edit.lane.model_dump(mode="json"))
            return value, f"Lane {edit.lane.name} added"
        case SetLane():
            refuse_no(edit.number, len(circuit.lanes), "lanes")
            value["lanes"][edit.number] = edit.lane.model_dump(mode="json")
            return value, f"Lane {edit.lane.name} changed"
        case RemoveLane():
            refuse_no(edit.number, len(circuit.lanes), "lanes")
            del value["lanes"][edit.number]
            return value, f"Lane {circuit.lanes[edit.number].name} removed"
