"""A plan as it is kept: what it puts together, and the figures that are its own."""

from neapfrost.formats.document import Document, Name, NotNegative
from neapfrost.formats.plan import DriverDocument, LineDocument


class PlanSheet(Document):
    """Ids of car, circuit and conditions, and the revision each is pinned at (null: the newest)."""

    name: Name
    car_id: int
    circuit_id: int
    conditions_id: int
    car_pin: int | None = None
    circuit_pin: int | None = None
    conditions_pin: int | None = None
    fuel_kg: NotNegative
    driver: DriverDocument
    line: LineDocument | None = None
    setup: Name | None = None
