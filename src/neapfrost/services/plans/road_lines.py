"""Lines that other plans drive on a circuit, for whoever looks for a quicker one on it."""

from neapfrost.formats.plan import ComputedLineDocument
from neapfrost.formats.plan_sheet import PlanSheet
from neapfrost.store.database import Store, reading
from neapfrost.store.items import get_document, list_items
from neapfrost.store.tables import Plan

#: As many lines are looked at, those of the plans changed last.
LINES_MOST = 8


def lines_beside(store: Store, plan_id: int) -> list[ComputedLineDocument]:
    """The computed lines of other plans on a plan's circuit. Raises NotThere."""
    with reading(store) as session:
        circuit = PlanSheet.model_validate(get_document(session, "plan", plan_id, None)).circuit_id
        others = [
            item.id
            for item in list_items(session, "plan")
            if isinstance(item, Plan) and item.circuit_id == circuit and item.id != plan_id
        ]
        found: list[ComputedLineDocument] = []
        for other in others:
            line = PlanSheet.model_validate(get_document(session, "plan", other, None)).line
            if line is not None and line.computed is not None and line.computed not in found:
                found.append(line.computed)
            if len(found) == LINES_MOST:
                break
        return found
