"""An import accepted: a circuit of its own, and a plan on it."""

from typing import Any

from neapfrost.core.errors import InputRefused
from neapfrost.formats.plan import CircuitDocument, CornerDocument, LineDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.circuits.circuit_edit import edited_circuit
from neapfrost.services.circuits.roadside_edit import UsualBoards
from neapfrost.services.imports.preview import Accepted, ImportPreview, accepted_circuit
from neapfrost.services.plans.exchange import Imported, import_plan
from neapfrost.services.plans.first_steps import FirstDrive, first_drive, plan_name
from neapfrost.store.database import Store


def keep_import(
    store: Store,
    preview: ImportPreview,
    accepted: Accepted,
    driven_with: PlanDocument | FirstDrive,
) -> Imported:
    """Keep an accepted import with the usual boards before its corners, and a plan on it.

    The plan has the car, conditions and driver of `driven_with`, another plan or a first car.
    Raises InputRefused where a crossing is not answered for or the lap cannot be driven; nothing
    is kept then.
    """
    circuit = _with_boards(CircuitDocument.model_validate(accepted_circuit(preview, accepted)))
    return import_plan(store, _plan_on(circuit, driven_with))


def _with_boards(circuit: CircuitDocument) -> CircuitDocument:
    for number, segment in enumerate(circuit.segments or []):
        if not isinstance(segment, CornerDocument):
            continue
        try:
            edited = edited_circuit(circuit, UsualBoards(op="usual_boards", segment=number))
        except InputRefused:
            continue  # no straight before it is long enough for a board
        circuit = CircuitDocument.model_validate(edited.value)
    return circuit


def _plan_on(circuit: CircuitDocument, driven_with: PlanDocument | FirstDrive) -> PlanDocument:
    rest: dict[str, Any] = (
        first_drive(driven_with)
        if isinstance(driven_with, FirstDrive)
        else driven_with.model_dump(mode="json")
    )
    road = circuit.segments_describe == "road"
    return plan_from_object(
        {
            **rest,
            "name": plan_name(driven_with.car.name, circuit.name),
            "circuit": circuit.model_dump(mode="json"),
            "line": LineDocument().model_dump(mode="json") if road else None,
        }
    )
