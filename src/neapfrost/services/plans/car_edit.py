"""A plan's car written, chosen anew, and compared."""

from neapfrost.core.errors import InputRefused
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_rules import car_faults
from neapfrost.formats.result import Revisions
from neapfrost.services.cars.build import QuickBuilt, QuickCar, built_car
from neapfrost.services.cars.compare import CarComparison, CarSide, compare_cars
from neapfrost.services.cars.edits import CarEdit, ReplaceCar, edited_plan
from neapfrost.services.plans.car_changes import car_changes
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.parts import assemble, content_of, present_revisions
from neapfrost.services.plans.workbench import (
    Choice,
    OpenPlan,
    choose_in,
    keep_document,
    open_plan,
)
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, get_document

#: What statements of a car's performance say nothing of; wings, gear sets and setups change
#: figures that are found anew, and go.
LEFT_BY_A_REBUILD = (
    "compounds",
    "fuel_use",
    "fuel_capacity_kg",
    "width_m",
    "track_width_m",
    "lateral_transfer_front",
)


def edit_car(store: Store, plan_id: int, base: Revisions, edit: CarEdit) -> OpenPlan:
    """Write an edit of the car or its setup as one step. Raises as `keep_changes` does."""

    def changed(plan: PlanDocument) -> PlanDocument:
        return edited_plan(plan, edit)

    return keep_document(store, plan_id, base, changed, car_changes)


def rebuilt_car(store: Store, plan_id: int | None, wanted: QuickCar) -> QuickBuilt:
    """A car from what is known of it, and what it would change of a plan's.

    Raises as `built_car` does, and NotThere.
    """
    built = built_car(wanted)
    if plan_id is None:
        return built
    plan = kept_plan(store, plan_id)
    left = {name: getattr(plan.car, name) for name in LEFT_BY_A_REBUILD}
    applied = built.car.model_copy(update=left)
    after = edited_plan(plan, ReplaceCar(op="replace", car=applied))
    changes = car_changes(plan, after)
    return built.model_copy(update={"applied": applied, "changes": changes})


def choose_new_car(
    store: Store, plan_id: int, base: Revisions | None, car: CarDocument
) -> OpenPlan:
    """Keep a car as a new one and choose it for the plan, as it stands now without a `base`.

    Raises InputRefused as for a plan; a car that the plan refuses is not kept.
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
        choose_in(session, plan_id, base, Choice(car_id=car_id))
    return open_plan(store, plan_id)


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
