"""Routes for files of points: looked at, looked at again, kept; and a road out in open formats."""

import re
from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, ConfigDict
from starlette.responses import Response

from neapfrost.api.documents import written
from neapfrost.api.files import a_file
from neapfrost.api.plans import Kept
from neapfrost.api.waiting import Watch, while_waited_for
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.document import Key
from neapfrost.services.imports.jobs import ImportProgress, Imports
from neapfrost.services.imports.keeping import keep_import
from neapfrost.services.imports.preview import (
    Accepted,
    CornerEdit,
    ImportOptions,
    ImportPreview,
)
from neapfrost.services.maps.exports import MEDIA, ExportFormat, exported
from neapfrost.services.plans.exchange import Imported, kept_plan
from neapfrost.services.plans.first_steps import FirstDrive

router = APIRouter()


class AcceptRequest(BaseModel):
    """What to keep an import as, and what it is driven with: as a kept plan is, or a first car."""

    model_config = ConfigDict(extra="forbid")

    accepted: Accepted
    plan_id: int | None = None
    first: FirstDrive | None = None


class CornerRequest(BaseModel):
    """An edit of the corners found in a file."""

    model_config = ConfigDict(extra="forbid")

    edit: CornerEdit


def held(request: Request) -> Imports:
    """The files that are being looked at."""
    imports: Imports = request.app.state.imports
    return imports


@router.post(
    "/api/imports",
    response_model=ImportPreview,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
            },
        }
    },
)
async def look_at_file(
    http: Request,
    name: Annotated[str, Query(max_length=300, description="The file's name")],
    segments_describe: Annotated[str, Query(pattern="^(road|driven)$")] = "road",
    watch: Watch = None,
) -> Response:
    """Read a file of points (GPX, GeoJSON, text in columns) and show what it would become."""
    data = await http.body()
    options = ImportOptions.model_validate({"segments_describe": segments_describe})
    imports = held(http)
    preview = await while_waited_for(
        http, lambda gone: imports.look(name, data, options, watch, gone)
    )
    return written(preview)


@router.post("/api/imports/{import_id}", response_model=ImportPreview)
async def look_again(
    http: Request, import_id: Key, options: ImportOptions, watch: Watch = None
) -> Response:
    """Look at the file once more with other choices."""
    imports = held(http)
    return written(
        await while_waited_for(http, lambda gone: imports.again(import_id, options, watch, gone))
    )


@router.post("/api/imports/{import_id}/corners", response_model=ImportPreview)
def edit_corners(http: Request, import_id: Key, request: CornerRequest) -> Response:
    """Split, join or name corners found in the file; they are fitted to its points anew."""
    return written(held(http).edit(import_id, request.edit))


@router.get("/api/imports/watch/{watch}")
def import_progress(http: Request, watch: Key) -> ImportProgress:
    """How far a file is that was sent under this name."""
    return held(http).progress(watch)


@router.delete("/api/imports/watch/{watch}", status_code=204)
def stop_import(http: Request, watch: Key) -> None:
    """Stop looking at a file at its next step."""
    held(http).stop(watch)


@router.post("/api/imports/{import_id}/keep", status_code=201)
def keep_file(http: Request, store: Kept, import_id: Key, request: AcceptRequest) -> Imported:
    """Keep what the file became as a circuit, and a plan on it."""
    imports = held(http)
    preview = imports.known(import_id).preview
    if request.first is not None:
        kept = keep_import(store, preview, request.accepted, request.first)
    elif request.plan_id is not None:
        kept = keep_import(store, preview, request.accepted, kept_plan(store, request.plan_id))
    else:
        raise InputRefused(
            [Fault("plan_id", "nothing was given; a plan or a first car is needed to drive it")]
        )
    imports.forget(import_id)
    return kept


@router.delete("/api/imports/{import_id}", status_code=204)
def forget_file(http: Request, import_id: Key) -> None:
    """Let go of the file."""
    held(http).forget(import_id)


@router.get(
    "/api/plans/{plan_id}/road.{export_format}",
    response_class=Response,
    responses=a_file("geojson", "gpx", "csv", "svg"),
)
def plan_road_file(store: Kept, plan_id: int, export_format: ExportFormat) -> Response:
    """The plan's road and lap in an open format."""
    plan = kept_plan(store, plan_id)
    name = "-".join(re.findall(r"\w+", plan.circuit.name.lower(), re.ASCII))
    return Response(
        exported(plan, export_format),
        media_type=MEDIA[export_format],
        headers={"content-disposition": f'attachment; filename="{name or "road"}.{export_format}"'},
    )
