"""The published JSON Schemas of the documents."""

from typing import Any, Literal

from pydantic import BaseModel

from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.event import EventDocument
from neapfrost.formats.fit import FitDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import ResultDocument
from neapfrost.formats.run import RunDocument
from neapfrost.formats.weather import WeatherRecordDocument

DocumentName = Literal["plan", "result", "car", "conditions", "run", "event", "fit"]

DOCUMENTS: dict[DocumentName, type[BaseModel]] = {
    "plan": PlanDocument,
    "result": ResultDocument,
    "car": CarDocument,
    "conditions": WeatherRecordDocument,
    "run": RunDocument,
    "event": EventDocument,
    "fit": FitDocument,
}


def json_schema(document: DocumentName) -> dict[str, Any]:
    """JSON Schema of a document."""
    return DOCUMENTS[document].model_json_schema()
