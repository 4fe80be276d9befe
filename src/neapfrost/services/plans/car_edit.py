"""A plan's car written, chosen anew, and compared."""

from pydantic import BaseModel, ConfigDict

from neapfrost.core.errors import InputRefused
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.document import Name
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_rules import car_faults
from neapfrost.formats.result import Revisions
from neapfrost.services.cars.compare import CarComparison, CarSide, compare_cars
from neapfrost.services.plans.car_changes import car_changes
from neapfrost.services.plans.parts import assemble, content_of, present_revisions
from neapfrost.services.plans.workbench import Choice, OpenPlan, choose, keep_document
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, get_document


class CarEdit(BaseModel):
    """What is to be otherwise; what is left out stays.

    `setup` is one of the car's by name, or an empty text for none; `tyre_lap` the lap on the tyres
    (0 the out lap), or -1 for warm and new ones.
    """

    model_config = ConfigDict(extra="forbid")

    car: CarDocument | None = None
    setup: Name | None = None
    tyre_lap: int | None = None


def edit_car(store: Store, plan_id: int, base: Revisions, edit: CarEdit) -> OpenPlan:
    """Write a car, a setup or a tyre state as one step. Raises as `keep_changes` does."""

    def changed(plan: PlanDocument) -> PlanDocument:
        update: dict[str, object] = {}
        if edit.car is not None:
            # The fuel belongs to the plan, and a setup that is gone is not chosen any more.
            update["car"] = edit.car.model_copy(update={"fuel_kg": plan.car.fuel_kg})
            update["setup"] = _setup_after(plan, edit.car)
        if edit.setup is not None:
            update["setup"] = edit.setup or None
        if edit.tyre_lap is not None:
            lap = edit.tyre_lap if edit.tyre_lap >= 0 else None
            update["conditions"] = plan.conditions.model_copy(update={"tyre_lap": lap})
        return plan.model_copy(update=update)

    return keep_document(store, plan_id, base, changed, car_changes)


def _setup_after(plan: PlanDocument, car: CarDocument) -> str | None:
    """The setup of a plan once its car is another: the same, or under the name it now has."""
    before, after = ([setup.name for setup in one.setups] for one in (plan.car, car))
    if plan.setup is None or plan.setup in after or len(before) != len(after):
        return plan.setup if plan.setup in after else None
    renamed = after[before.index(plan.setup)]
    return None if renamed in before else renamed


def choose_new_car(
    store: Store, plan_id: int, base: Revisions | None, car: CarDocument
) -> OpenPlan:
    """Keep a car as a new one and choose it for the plan, as it stands now without a `base`.

    Raises InputRefused as for a plan.
    """
    faults = car_faults(car)
    if faults:
        raise InputRefused(faults)
    document = car.model_copy(update={"fuel_kg": 0.0}).model_dump(mode="json")
    if base is None:
        with reading(store) as session:
            base = present_revisions(session, plan_id)
    with writing(store) as session:
        car_id = add_item(session, "car", content_of("car", document), "Built")
    return choose(store, plan_id, base, Choice(car_id=car_id))


def compared_cars(store: Store, plan_id: int, a: CarSide, b: CarSide) -> CarComparison:
    """Two revisions or setups of a plan's car on its circuit. Raises NotThere and InputRefused."""
    with reading(store) as session:
        present = assemble(session, plan_id)
        cars = []
        for side in (a, b):
            number = present.revisions.car if side.revision is None else side.revision
            document = get_document(session, "car", present.sheet.car_id, number)
            cars.append(CarDocument.model_validate(document))
    return compare_cars(present.document, cars[0], cars[1], (a, b))
