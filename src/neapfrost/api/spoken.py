"""The units that whoever asks speaks: told by the page with every request."""

from typing import Annotated, get_args

from fastapi import Depends, Request

from neapfrost.core.units import Units

HEADER = "neapfrost-units"


def units_of(request: Request) -> Units | None:
    """The units of a request; None for whoever speaks SI, and for files, which are in SI."""
    told = request.headers.get(HEADER)
    if "import" in request.url.path or "document" in request.url.path:
        return None
    return next((units for units in get_args(Units) if units == told), None)


def spoken_units(request: Request) -> Units:
    """The units of a request, metric where it tells none."""
    return units_of(request) or "metric"


Spoken = Annotated[Units, Depends(spoken_units)]
