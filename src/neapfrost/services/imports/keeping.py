"""An import accepted: a circuit of its own, and a plan on it with the car one works with."""

from neapfrost.core.errors import InputRefused
from neapfrost.formats.plan import CircuitDocument, CornerDocument, LineDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.circuits.circuit_edit import edited_circuit
from neapfrost.services.circuits.roadside_edit import UsualBoards
from neapfrost.services.imports.preview import Accepted, ImportPreview, accepted_circuit
from neapfrost.services.plans.exchange import Imported, import_plan
from neapfrost.store.database import Store


def keep_import(
    store: Store, preview: ImportPreview, accepted: Accepted, with_plan: PlanDocument
) -> Imported:
    """Keep an accepted import with the usual boards before its corners.

    The plan has the car, conditions and driver of `with_plan`. Raises InputRefused where a
    crossing is not answered for or the lap cannot be driven; nothing is kept then.
    """
    circuit = CircuitDocument.model_validate(accepted_circuit(preview, accepted))
    for number, segment in enumerate(circuit.segments or []):
        if not isinstance(segment, CornerDocument):
            continue
        try:
            edited = edited_circuit(circuit, UsualBoards(op="usual_boards", segment=number))
        except InputRefused:
            continue  # no straight before it is long enough for a board
        circuit = CircuitDocument.model_validate(edited.value)
    road = circuit.segments_describe == "road"
    document = plan_from_object(
        {
            **with_plan.model_dump(mode="json"),
            "name": f"{with_plan.car.name} at {circuit.name}"[:200],
            "circuit": circuit.model_dump(mode="json"),
            "line": LineDocument().model_dump(mode="json") if road else None,
        }
    )
    return import_plan(store, document)
