"""What a plan asks of its line and at its corners, carried along with its edited circuit."""

from typing import Any

from neapfrost.formats.circuit_facts import corner_names
from neapfrost.formats.plan import CornerOrderDocument, LineDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.circuits.carrying import Edited, Moves
from neapfrost.services.roads.wishes import number_of


def on_edited_road(plan: PlanDocument, edited: Edited) -> tuple[PlanDocument, list[str]]:
    """A plan on its circuit as it has been edited, and the corners whose orders are lost.

    What is asked at a corner goes with it wherever it is now. Raises InputRefused where the edited
    circuit breaks a rule of its own.
    """
    before = corner_names(plan.circuit)
    after = [s["name"] for s in edited.value["segments"] or [] if s["kind"] == "corner"]
    orders, lost = _orders(plan.corners, before, after, edited.moves)
    is_road = edited.value["segments_describe"] == "road"
    line = _line(plan.line, before, after, edited.moves) if plan.line and is_road else None
    value = plan.model_dump(mode="json") | {
        "circuit": edited.value,
        "corners": orders,
        "line": None if line is None else line.model_dump(mode="json"),
    }
    return plan_from_object(value), lost


def _orders(
    orders: list[CornerOrderDocument], before: list[str], after: list[str], moves: Moves
) -> tuple[list[dict[str, Any]], list[str]]:
    """Orders with the numbers and names that their corners have now, and the names of the lost.

    Of two corners that have become one the first's orders count. What is lost stays under its old
    name, so that the lap goes on telling it, unless another corner has that name.
    """
    kept: list[CornerOrderDocument] = []
    lost = []
    taken: set[int] = set()
    for order in orders:
        number = number_of(order.corner, order.name, before)
        if number is None:
            kept.append(order)
            continue
        new = moves.corners.get(number)
        if new is None or new in taken:
            lost.append(order.name)
            if order.name not in after:
                kept.append(order)
            continue
        taken.add(new)
        kept.append(order.model_copy(update={"corner": new, "name": after[new]}))
    kept.sort(key=lambda one: one.corner)
    return [order.model_dump(mode="json") for order in kept], lost


def _line(line: LineDocument, before: list[str], after: list[str], moves: Moves) -> LineDocument:
    """A line's wishes with their corners and its holds at their places; the lost as with orders."""
    wishes, taken = [], set[int]()
    for wish in line.corners:
        number = number_of(wish.corner, wish.name, before)
        new = None if number is None else moves.corners.get(number)
        if number is None or (new is None and wish.name not in after):
            wishes.append(wish)
        elif new is not None and new not in taken:
            taken.add(new)
            name = None if wish.name is None else after[new]
            wishes.append(wish.model_copy(update={"corner": new, "name": name}))
    sign = -1.0 if moves.other_way else 1.0
    holds = [
        hold.model_copy(update={"at_m": moves.place(hold.at_m), "offset_m": sign * hold.offset_m})
        for hold in line.holds
    ]
    return line.model_copy(update={"corners": wishes, "holds": holds})
