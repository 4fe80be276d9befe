"""Another layout of a venue, begun from one there is."""

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.result import Revisions
from neapfrost.services.plans.collection import write_new_plan
from neapfrost.services.plans.layouts import marked
from neapfrost.services.plans.parts import assemble, content_of
from neapfrost.services.plans.workbench import keep_circuit
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, get_document, list_items


def new_layout(store: Store, plan_id: int, base: Revisions, name: str) -> int:
    """Copy a plan's circuit as another layout sharing all of its road; returns the plan on it.

    Stretches stay shared until one layout makes them its own or takes them out. Raises
    InputRefused where a circuit has the name already or the plan's is given by stations.
    """
    with reading(store) as session:
        circuit = assemble(session, plan_id, base).document.circuit
        taken = {item.name for item in list_items(session, "circuit")}
    if circuit.segments is None:
        raise InputRefused(
            [
                Fault(
                    "circuit.stations",
                    "this path is a list of stations; layouts share straights and corners",
                )
            ]
        )
    if not name.strip() or name.strip() in taken:
        said = "the name is empty" if not name.strip() else f'a circuit is named "{name}" already'
        raise InputRefused([Fault("name", f"{said}; another name is expected")])
    venue = circuit.venue or circuit.name
    keep_circuit(store, plan_id, base, marked(circuit, venue), f"Created a layout of {venue}")
    with writing(store) as session:
        sheet = assemble(session, plan_id).sheet
        document = get_document(session, "circuit", sheet.circuit_id)
        document["name"] = name.strip()
        remark = f"A layout of {venue}, from {circuit.name}"
        circuit_id = add_item(session, "circuit", content_of("circuit", document), remark)
        named = {"circuit_id": circuit_id, "circuit_pin": None, "name": f"{sheet.name}, {name}"}
        return write_new_plan(session, sheet.model_copy(update=named), remark)
