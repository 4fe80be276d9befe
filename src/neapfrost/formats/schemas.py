"""The published JSON Schemas of the documents."""

from typing import Any, Literal

from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import ResultDocument

DocumentName = Literal["plan", "result"]


def json_schema(document: DocumentName) -> dict[str, Any]:
    """JSON Schema of a document."""
    return (PlanDocument if document == "plan" else ResultDocument).model_json_schema()
