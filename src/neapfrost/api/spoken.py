"""The units that whoever asks speaks: told by the page with every request."""

from typing import Annotated

from fastapi import Depends, Request

from neapfrost.core.units import Units, checked

HEADER = "neapfrost-units"


def wanted_units(path: str, told: str | None) -> Units | None:
    """The units of a request; None for whoever speaks SI, and for files, which are in SI."""
    if told is None or "import" in path or "document" in path:
        return None
    try:
        return checked(told)
    except ValueError:
        return None  # the units of an older page, or of no page; the answer is no worse in SI


def units_of(request: Request) -> Units | None:
    """The units that a request's header tells."""
    return wanted_units(request.url.path, request.headers.get(HEADER))


def spoken_units(request: Request) -> Units:
    """The units of a request, metric where it tells none."""
    return units_of(request) or "metric"


Spoken = Annotated[Units, Depends(spoken_units)]
