"""Answers that are files: how they are declared in the description of the API."""

from typing import Any

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
