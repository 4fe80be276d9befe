"""Heights along the road edited point by point; they stand instead of the segments' grades."""

from typing import Any, Literal

from neapfrost.core.measures import metres
from neapfrost.core.path.build import build_path
from neapfrost.formats.document import Position
from neapfrost.formats.plan import CircuitDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.services.circuits.edit import Edit, refuse_no

#: Points laid when heights are begun stand about this far apart [m].
BEGUN_APART_M = 100.0


class SetHeight(Edit):
    """A height at a position; with the number of a point that one is moved, else one is added."""

    op: Literal["set_height"]
    number: int | None
    at_m: Position
    z_m: float


class RemoveHeight(Edit):
    """One of the heights taken away, by its number."""

    op: Literal["remove_height"]
    number: int


class BeginHeights(Edit):
    """Heights begun from what the grades give, or ended, so that the grades count again."""

    op: Literal["heights"]
    use: bool


HeightEdit = SetHeight | RemoveHeight | BeginHeights


def edited_heights(circuit: CircuitDocument, edit: HeightEdit) -> tuple[dict[str, Any], str]:
    """The circuit's document after an edit, not yet checked by its own rules, and what was done.

    Raises InputRefused where there is no such point.
    """
    value = circuit.model_dump(mode="json")
    points = list(value["elevation"] or [])
    match edit:
        case SetHeight():
            if edit.number is not None:
                refuse_no(edit.number, len(points), "heights")
                del points[edit.number]
            points.append({"at_m": edit.at_m, "z_m": edit.z_m})
            value["elevation"] = sorted(points, key=lambda point: float(point["at_m"]))
            return value, f"Height {metres(edit.z_m, 1)} at {metres(edit.at_m)}"
        case RemoveHeight():
            refuse_no(edit.number, len(points), "heights")
            gone = points.pop(edit.number)
            value["elevation"] = points or None
            return value, f"Height at {metres(gone['at_m'])} removed"
        case BeginHeights():
            value["elevation"] = _from_grades(circuit) if edit.use else None
            return value, "Heights by points" if edit.use else "Heights by the grades"


def _from_grades(circuit: CircuitDocument) -> list[dict[str, float]]:
    path = build_path(circuit_record(circuit), 10.0)
    length = path.length_m
    count = max(4, round(length / BEGUN_APART_M))
    points = []
    for number in range(count + (0 if circuit.closed else 1)):
        at = length * number / count
        k = int(path.s_m.searchsorted(at))
        points.append({"at_m": round(at, 1), "z_m": round(float(path.z_m[k]), 2)})
    return points
