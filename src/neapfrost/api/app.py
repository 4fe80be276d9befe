"""The application: routes under /api, and the page for everything else."""

from pathlib import Path
from typing import Literal

from fastapi import APIRouter, FastAPI, HTTPException, Request, Response
from fastapi.responses import FileResponse
from fastapi.routing import APIRoute
from fastapi.staticfiles import StaticFiles
from pydantic import BaseModel

import neapfrost
from neapfrost.api import (
    calls,
    cars,
    circuits,
    collection,
    documents,
    drill,
    fits,
    imports,
    lines,
    logbook,
    plans,
    race,
    trade,
    weather,
)
from neapfrost.api.answers import Answers
from neapfrost.api.errors import RESPONSES, install_error_handlers
from neapfrost.api.guard import Guard
from neapfrost.api.said_answers import SaidAnswers
from neapfrost.services.imports.jobs import Imports, load_for_tracks
from neapfrost.services.laps.solver_processes import Solvers
from neapfrost.services.lines.jobs import LineJobs
from neapfrost.services.logbook.readings import Readings, log_readers
from neapfrost.services.readers import InReaders
from neapfrost.services.studies.jobs import StudyJobs
from neapfrost.store.database import Store

METHODS = ["GET", "POST", "PUT", "PATCH", "DELETE"]
STATIC = Path(__file__).parent / "static"


class Health(BaseModel):
    """That the application is up, and which version."""

    status: Literal["ready"]
    version: str


up = APIRouter()


@up.get("/api/health")
def health() -> Health:
    """Say that the application is up."""
    return Health(status="ready", version=neapfrost.__version__)


ROUTERS = (
    up,
    documents.router,
    circuits.router,
    plans.router,
    cars.router,
    calls.router,
    lines.router,
    trade.router,
    weather.router,
    race.router,
    drill.router,
    logbook.router,
    fits.router,
    imports.router,
    collection.router,
)


def create_app(store: Store, static: Path = STATIC, solvers: Solvers | None = None) -> FastAPI:
    """Build the application on a store; `static` is the folder of the built page.

    With `solvers` what-ifs are answered in those processes and files are read in others, otherwise
    all is done in this one.
    """
    app = FastAPI(
        title="Neapfrost",
        version=neapfrost.__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses=RESPONSES,
        generate_unique_id_function=lambda route: route.name,
    )
    app.state.store = store
    app.state.solvers = solvers
    app.state.answers = Answers()
    app.state.line_jobs = LineJobs()
    app.state.study_jobs = StudyJobs(solvers)
    app.state.imports = Imports(None if solvers is None else InReaders(load_for_tracks))
    app.state.readings = Readings(None if solvers is None else log_readers())
    install_error_handlers(app)

    for router in ROUTERS:
        app.include_router(router)

    @app.api_route("/api/{rest:path}", methods=METHODS, include_in_schema=False)
    def unknown(request: Request, rest: str) -> Response:
        answers: set[str] = set()
        # The routers themselves are looked at: the whole description takes seconds to make.
        for route in (route for router in ROUTERS for route in router.routes):
            if isinstance(route, APIRoute) and route.path_regex.match(request.url.path):
                answers |= route.methods or set()
        if answers:
            allow = ", ".join(sorted(answers))
            said = f"{request.method} is not allowed here; use {allow}"
            raise HTTPException(405, said, headers={"allow": allow})
        raise HTTPException(404, f'there is no route "/api/{rest}"')

    if static.is_dir():
        # Asked for by browsers that are shown a file itself: a brief as JSON, a drawing.
        @app.get("/favicon.ico", include_in_schema=False)
        def mark() -> FileResponse:
            return FileResponse(static / "mark.svg")

        app.mount("/", StaticFiles(directory=static, html=True), name="page")
    app.add_middleware(SaidAnswers)
    app.add_middleware(Guard)
    return app
