"""The one shape in which the API says that something is wrong."""

import json
import logging
from collections.abc import Sequence

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from neapfrost.api.spoken import units_of
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import said
from neapfrost.core.units import Units
from neapfrost.formats.faults import faults_from_errors
from neapfrost.formats.json_text import not_json
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.plans.conflicts import Conflict, Conflicting
from neapfrost.store.items import NotThere
from neapfrost.store.trouble import StoreTrouble

LOG = logging.getLogger(__name__)


class FaultBody(BaseModel):
    """One fault: the field's path (empty for the whole), and a sentence."""

    path: str
    message: str


class ErrorBody(BaseModel):
    """Every error of this API; `conflict` says what stands in the way of a write (409)."""

    error: str
    faults: list[FaultBody]
    conflict: Conflict | None = None


#: Characters of a fault's sentence.
MESSAGE_MOST = 300

TITLES = {
    400: "This request is not allowed.",
    404: "There is nothing here.",
    405: "This route does not allow that method.",
    409: "This was changed elsewhere in the meantime.",
    413: "The request is too large.",
    422: "The input was refused.",
    500: "The application failed on this request.",
    503: "The data cannot be read or saved.",
}

RESPONSES: dict[int | str, dict[str, object]] = {
    status: {"model": ErrorBody, "description": TITLES[status]}
    for status in (400, 404, 409, 413, 422, 503)
}


def error_response(
    status: int,
    faults: Sequence[Fault] = (),
    conflict: Conflict | None = None,
    units: Units | None = None,
) -> JSONResponse:
    """An error in the one shape, said in a person's units where they are known."""
    body = ErrorBody(
        error=TITLES.get(status, "Something went wrong."),
        faults=[
            FaultBody(path=fault.path, message=_short(said(fault.marked, units)))
            for fault in faults
        ],
        conflict=conflict,
    )
    return JSONResponse(body.model_dump(), status_code=status)


def _short(message: str) -> str:
    """A sentence that can be read at a glance; what is said of a file may quote much of it."""
    return message if len(message) <= MESSAGE_MOST else message[: MESSAGE_MOST - 1] + "…"


def _invalid(error: RequestValidationError) -> list[Fault]:
    """Faults of a request; a body that is no JSON is told by line and column."""
    if isinstance(error.body, str) and any(e["type"] == "json_invalid" for e in error.errors()):
        try:
            json.loads(error.body)
        except json.JSONDecodeError as found:
            return [not_json(found)]
    return faults_from_errors(error.errors(), PlanDocument, skip=1)


def install_error_handlers(app: FastAPI) -> None:
    """Translate every foreign error into the one shape."""

    @app.exception_handler(InputRefused)
    def refused(request: Request, error: InputRefused) -> JSONResponse:
        return error_response(422, error.faults, units=units_of(request))

    @app.exception_handler(NotThere)
    def not_there(_: Request, error: NotThere) -> JSONResponse:
        return error_response(404, [Fault("", error.sentence)])

    @app.exception_handler(Conflicting)
    def conflicting(_: Request, error: Conflicting) -> JSONResponse:
        return error_response(409, [Fault("", error.sentence)], error.conflict)

    @app.exception_handler(StoreTrouble)
    def trouble(_: Request, error: StoreTrouble) -> JSONResponse:
        return error_response(503, [Fault("", error.sentence)])

    @app.exception_handler(RequestValidationError)
    def invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        return error_response(422, _invalid(error))

    @app.exception_handler(ValidationError)
    def damaged_document(request: Request, error: ValidationError) -> JSONResponse:
        # What people send is refused by name; what is left is a kept document that is none.
        LOG.error("%s %s", request.method, request.url.path, exc_info=error)
        said = (
            f"The saved data is damaged (no {error.title.removesuffix('Document').lower()} can "
            "be made of it); choose another revision, or restore a backup."
        )
        return error_response(503, [Fault("", said)])

    @app.exception_handler(OverflowError)
    def too_large(request: Request, error: OverflowError) -> JSONResponse:
        # The database's own, of a number in an address; any other is a fault of ours.
        if "SQLite" not in str(error):
            LOG.error("%s %s", request.method, request.url.path, exc_info=error)
            return tripped(request, error)
        return error_response(404, [Fault("", "Nothing here has so large a number.")])

    @app.exception_handler(UnicodeEncodeError)
    def no_text(_: Request, error: UnicodeEncodeError) -> JSONResponse:
        said = f"character {error.start + 1} of a text is half of one (a lone surrogate)"
        return error_response(422, [Fault("", f"{said}; whole characters are expected")])

    @app.exception_handler(Exception)
    def tripped(request: Request, error: Exception) -> JSONResponse:
        # The server writes the error itself, with where it was, to its log.
        said = (
            f"{request.method} {request.url.path} failed unexpectedly "
            f"({type(error).__name__}); saved work is unchanged; the application's own window "
            "says more"
        )
        return error_response(500, [Fault("", said)])

    @app.exception_handler(HTTPException)
    def http(_: Request, error: HTTPException) -> JSONResponse:
        reply = error_response(error.status_code, [Fault("", str(error.detail))])
        reply.headers.update(error.headers or {})
        return reply
