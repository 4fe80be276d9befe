"""A plan as it is kept: what it puts together, and the figures that are its own."""

from pydantic import Field

from neapfrost.formats.document import Document, Name, NotNegative
from neapfrost.formats.plan import (
    CornerOrderDocument,
    DriverDocument,
    FirstLapsDocument,
    LineDocument,
    RaceDocument,
    UncertaintyDocument,
)


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
    corners: list[CornerOrderDocument] = Field(default_factory=list)
    uncertainty: UncertaintyDocument = Field(default_factory=UncertaintyDocument)
    first_laps: FirstLapsDocument = Field(default_factory=FirstLapsDocument)
    race: RaceDocument = Field(default_factory=RaceDocument)


#: What a plan document and the sheet that it is kept as have alike.
ALIKE = ("driver", "line", "setup", "corners", "uncertainty", "first_laps", "race")
