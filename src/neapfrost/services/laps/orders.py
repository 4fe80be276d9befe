"""What is asked of the driver at single corners of a plan, found again by name."""

from collections.abc import Sequence

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.drive import CornerOrder
from neapfrost.core.path.build import Path
from neapfrost.formats.circuit_facts import corner_names
from neapfrost.formats.faults import validated
from neapfrost.formats.plan import (
    CircuitDocument,
    CornerOrderDocument,
    PlanDocument,
)
from neapfrost.services.circuits.carrying import corner_segments
from neapfrost.services.circuits.radius_edit import radius_edited_at
from neapfrost.services.figures.register import figures_of
from neapfrost.services.roads.wishes import number_of

#: What an order is about: the document's field and what a person calls it.
ASKED = {field: figure.label.lower() for field, figure in figures_of("order").items()}


def order_records(orders: Sequence[CornerOrderDocument], path: Path) -> list[CornerOrder]:
    """The core's orders, for the corners that the path still has."""
    names = [corner.name for corner in path.corners]
    found = [(order, number_of(order.corner, order.name, names)) for order in orders]
    return [
        CornerOrder(number, order.gear, order.braking, order.entry_exponent, order.grip_factor)
        for order, number in found
        if number is not None
        and (order.gear, order.braking, order.entry_exponent, order.grip_factor)
        != (None, None, None, None)
    ]


def lost_orders(orders: Sequence[CornerOrderDocument], names: list[str]) -> list[str]:
    """Names of corners for which something is asked and that the circuit has no more."""
    return [o.name for o in orders if number_of(o.corner, o.name, names) is None]


def with_driven_radii(plan: PlanDocument) -> PlanDocument:
    """The plan with the driven radii that its orders ask for, places kept as on any such change.

    For driven segments alone: on a road the line has wishes of its own.
    """
    circuit = plan.circuit
    if circuit.segments is None or circuit.segments_describe != "driven":
        return plan
    names = corner_names(circuit)
    places = corner_segments(circuit)
    for order in plan.corners:
        number = number_of(order.corner, order.name, names)
        if order.driven_radius_m is None or number is None:
            continue
        edited = radius_edited_at(circuit, places[number], order.driven_radius_m, False)
        circuit = CircuitDocument.model_validate(edited.value)
    return plan if circuit is plan.circuit else plan.model_copy(update={"circuit": circuit})


def with_order(
    plan: PlanDocument, corner: int, name: str, field: str, value: float | None
) -> list[CornerOrderDocument]:
    """A plan's orders with one figure of one corner asked for, or with None asked for no more.

    Raises InputRefused for a figure that cannot be asked for.
    """
    if field not in ASKED:
        raise InputRefused([Fault("field", f'"{field}" cannot be set at a corner')])
    if field == "driven_radius_m" and plan.circuit.segments_describe != "driven":
        raise InputRefused(
            [
                Fault(
                    "field",
                    "on a road the driven radius is calculated; set another in the Line view",
                )
            ]
        )
    kept = [o for o in plan.corners if (o.corner, o.name) != (corner, name)]
    own = next((o for o in plan.corners if (o.corner, o.name) == (corner, name)), None)
    figures = own.model_dump() if own is not None else {"corner": corner, "name": name}
    figures[field] = int(value) if field == "gear" and value is not None else value
    order = validated(CornerOrderDocument, figures)
    if any(getattr(order, asked) is not None for asked in ASKED):
        kept.append(order)
    return sorted(kept, key=lambda one: one.corner)
