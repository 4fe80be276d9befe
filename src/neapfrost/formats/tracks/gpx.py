"""Tracks in GPX: read without entities or outside references, written for any map."""

from typing import Any

import gpxpy.gpx
import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measured.track import Track
from neapfrost.formats.escaping import xml_text
from neapfrost.formats.tracks.read_track import (
    ReadTrack,
    local_metres,
    refuse_count,
    refuse_size,
)

POINT_TAGS = ("trkpt", "rtept", "wpt")


def read_gpx(data: bytes) -> ReadTrack:
    """Read the points of a GPX file's tracks, or of its routes or waypoints where it has none.

    Raises InputRefused, with line and column, for a file that is not XML, and in a sentence for
    one with document types or entities, without points, or with a point that has no place.
    """
    root = gpx_root(data)
    found: list[list[object]] = []
    tag = ""
    for tag in POINT_TAGS:
        elements = [element for element in root.iter() if local_tag(element.tag) == tag]
        if elements:
            break
    refuse_count(len(elements))
    if not elements:
        raise InputRefused([Fault("", "the file has no track points; a track is expected")])
    heights = 0
    for number, element in enumerate(elements, start=1):
        row: list[object] = []
        for name in ("lat", "lon"):
            row.append(_number(element.get(name), f"point {number}", name))
        height = next((child.text for child in element if local_tag(child.tag) == "ele"), None)
        if height is not None:
            row.append(_number(height, f"point {number}", "ele"))
            heights += 1
        else:
            row.append(0.0)
        found.append(row)
    values = np.array(found, dtype=np.float64)
    z = values[:, 2] if heights == len(elements) else None
    x, y, origin = local_metres(values[:, 0], values[:, 1], z)
    word = {"trkpt": "track", "rtept": "route", "wpt": "way"}[tag]
    note = f"{len(elements)} {word} points (GPX)"
    return ReadTrack(Track(x, y, z), origin, note, "point", 1, gpx_name(root))


def gpx_root(data: bytes) -> Any:
    """The root of a GPX file. Raises InputRefused, with line and column, for any other."""
    refuse_size(data)
    try:
        root = fromstring(data, forbid_dtd=True)
    except ParseError as error:
        line, column = error.position
        raise InputRefused(
            [Fault("", f"line {line}, column {column + 1}: not XML ({str(error).split(':')[0]})")]
        ) from None
    except DefusedXmlException:
        raise InputRefused(
            [
                Fault(
                    "",
                    "the file declares a document type or entities, which a track never needs and "
                    "which are not read",
                )
            ]
        ) from None
    except (LookupError, ValueError) as error:
        raise InputRefused(
            [Fault("", f"the file's encoding is not read ({str(error)[:80]}); UTF-8 is expected")]
        ) from None
    if local_tag(root.tag) != "gpx":
        raise InputRefused(
            [
                Fault(
                    "",
                    f'the file is XML, but begins with "{local_tag(root.tag)}"; "gpx" is expected',
                )
            ]
        )
    return root


def gpx_name(root: Any) -> str:
    """What the file calls its track, else itself; not what it calls a point."""
    for holder in ("trk", "rte", "metadata", "gpx"):
        for element in root.iter():
            if local_tag(element.tag) != holder:
                continue
            for child in element:
                if local_tag(child.tag) == "name" and (child.text or "").strip():
                    return " ".join((child.text or "").split())[:200]
    return ""


def local_tag(tag: str) -> str:
    """A tag without its namespace."""
    return tag.rsplit("}", 1)[-1]


def _number(text: str | None, place: str, name: str) -> float:
    try:
        value = float(text or "")
    except ValueError:
        value = float("nan")
    if not np.isfinite(value):
        said = "is missing" if text is None else f'"{text[:40]}" is not a number'
        raise InputRefused([Fault(place, f"its {name} {said}; degrees are expected")])
    return value


def write_gpx(name: str, lat_deg: Floats, lon_deg: Floats, z_m: Floats | None) -> str:
    """A closed or open line as one track; shapes (n,)."""
    gpx = gpxpy.gpx.GPX()
    gpx.creator = "Neapfrost"
    track = gpxpy.gpx.GPXTrack(name=xml_text(name))
    segment = gpxpy.gpx.GPXTrackSegment()
    heights = z_m if z_m is not None else np.full(len(lat_deg), np.nan)
    for lat, lon, z in zip(lat_deg.tolist(), lon_deg.tolist(), heights.tolist(), strict=True):
        point = gpxpy.gpx.GPXTrackPoint(round(lat, 9), round(lon, 9))
        if np.isfinite(z):
            point.elevation = round(z, 3)
        segment.points.append(point)
    track.segments.append(segment)
    gpx.tracks.append(track)
    return str(gpx.to_xml(version="1.1"))
