"""What lies along the edges of a road edited, and whether the segments describe a road at all."""

from typing import Any, Literal

from neapfrost.core.measures import metres
from neapfrost.formats.plan import CircuitDocument, EdgeDocument
from neapfrost.services.circuits.edit import Edit, refuse_no


class PutEdge(Edit):
    """A kerb, dust or a wall laid along an edge."""

    op: Literal["put_edge"]
    edge: EdgeDocument


class SetEdge(Edit):
    """One of the stretches of edge, by its number, as it is to be."""

    op: Literal["set_edge"]
    number: int
    edge: EdgeDocument


class RemoveEdge(Edit):
    """One of the stretches of edge taken away."""

    op: Literal["remove_edge"]
    number: int


class Describe(Edit):
    """Whether the segments describe the middle of a road, or the path as it is driven."""

    op: Literal["describe"]
    segments_describe: Literal["driven", "road"]


EdgeEdit = PutEdge | SetEdge | RemoveEdge | Describe

NAMES = {"kerb": "Kerb", "dust": "Dust", "wall": "Wall"}


def edited_edges(circuit: CircuitDocument, edit: EdgeEdit) -> tuple[dict[str, Any], str]:
    """The circuit's document after an edit, not yet checked by its own rules, and what was done.

    Raises InputRefused where there is no such stretch of edge.
    """
    value = circuit.model_dump(mode="json")
    match edit:
        case PutEdge():
            value["edges"].append(edit.edge.model_dump(mode="json"))
            return value, f"{_called(edit.edge)} added"
        case SetEdge():
            refuse_no(edit.number, len(circuit.edges), "stretches")
            value["edges"][edit.number] = edit.edge.model_dump(mode="json")
            return value, f"{_called(edit.edge)} changed"
        case RemoveEdge():
            refuse_no(edit.number, len(circuit.edges), "stretches")
            del value["edges"][edit.number]
            return value, f"{_called(circuit.edges[edit.number])} removed"
        case Describe():
            value["segments_describe"] = edit.segments_describe
            road = edit.segments_describe == "road"
            return value, "Segments now describe " + ("the road" if road else "the driven path")


def _called(edge: EdgeDocument) -> str:
    return (
        f"{NAMES[edge.kind]} on the {edge.side} from {metres(edge.from_m)} to {metres(edge.to_m)}"
    )
