"""Answers that are files: how they are declared in the description of the API."""

from typing import Any

from starlette.responses import Response

#: What `a_file` is given for each ending.
MEDIA = {
    "csv": "text/csv",
    "tab": "text/tab-separated-values",
    "svg": "image/svg+xml",
    "md": "text/markdown",
    "json": "application/json",
    "geojson": "application/geo+json",
    "gpx": "application/gpx+xml",
}


def a_file(*endings: str) -> dict[int | str, dict[str, Any]]:
    """What a route answers with, by its endings; for `responses` beside a plain response class."""
    content = {MEDIA[ending]: {"schema": {"type": "string"}} for ending in endings}
    return {200: {"description": "The file", "content": content}}


def download(text: str, name: str) -> Response:
    """A text as a file of a name, whose ending says what it is."""
    return Response(
        text,
        media_type=f"{MEDIA[name.rsplit('.', 1)[1]]}; charset=utf-8",
        headers={"content-disposition": f'attachment; filename="{name}"'},
    )
