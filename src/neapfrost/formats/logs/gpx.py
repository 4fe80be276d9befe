"""A drive as a GPX track with times: places and, from them, speed."""

from datetime import UTC, datetime
from typing import Any

import numpy as np

from neapfrost.core.driven.log import Log, checked_log, speed_by_places
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.tracks.gpx import gpx_name, gpx_root, local_tag
from neapfrost.formats.tracks.read_track import local_metres, refuse_count

#: Places farther apart in time than this have a pause between them and no speed [s].
APART_MOST_S = 5.0


def is_gpx(name: str, data: bytes) -> bool:
    """Whether a file is a GPX track by its name or its first bytes."""
    return name.casefold().endswith(".gpx") or b"<gpx" in data[:2048]


def read_gpx_log(data: bytes) -> tuple[Log, str]:
    """A track's places over time, speed from them, and what the file calls it.

    Raises InputRefused as `read_gpx` does, and for points without a time or out of their order.
    """
    root = gpx_root(data)
    points = [element for element in root.iter() if local_tag(element.tag) == "trkpt"]
    refuse_count(len(points))
    if not points:
        raise InputRefused([Fault("", "the file has no track points; a track is expected")])
    rows = [
        (_degrees(p, "lat", n), _degrees(p, "lon", n), _seconds(p, n))
        for n, p in enumerate(points, 1)
    ]
    lat, lon, when = (np.array(column, dtype=np.float64) for column in zip(*rows, strict=True))
    back = np.flatnonzero(np.diff(when) <= 0.0)
    if len(back) > 0:
        at = int(back[0]) + 2
        raise InputRefused(
            [Fault(f"point {at}", "its time is not after that of the point before; it must rise")]
        )
    t = when - when[0]
    east, north, _ = local_metres(lat, lon, None)
    if float(np.diff(t).max()) > APART_MOST_S:
        at = int(np.argmax(np.diff(t))) + 2
        raise InputRefused(
            [
                Fault(
                    f"point {at}",
                    f"{np.diff(t).max():.0f} s lie between it and the point before; "
                    f"{APART_MOST_S:.0f} s at the most have a speed between them",
                )
            ]
        )
    speed = speed_by_places(t, east, north)
    return checked_log(Log(t_s=t, v_ms=speed, east_m=east, north_m=north)), gpx_name(root)


def _degrees(point: Any, name: str, number: int) -> float:
    try:
        return float(point.get(name) or "")
    except ValueError:
        raise InputRefused(
            [Fault(f"point {number}", f"its {name} is not a number; degrees are expected")]
        ) from None


def _seconds(point: Any, number: int) -> float:
    text = next((child.text for child in point if local_tag(child.tag) == "time"), None)
    if text is None:
        raise InputRefused(
            [Fault(f"point {number}", "it has no time; a lap needs points with times")]
        )
    try:
        moment = datetime.fromisoformat(text.strip())
    except ValueError:
        raise InputRefused(
            [
                Fault(
                    f"point {number}",
                    f'"{text[:40]}" is not a time; use a form such as 2031-05-17T10:00:00Z',
                )
            ]
        ) from None
    return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).timestamp()
