"""Lines and rings in GeoJSON (RFC 7946): a centreline, with its edges where they are given."""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measured.track import Track
from neapfrost.formats.json_text import parse_json_object
from neapfrost.formats.tracks.read_track import (
    ReadTrack,
    local_metres,
    refuse_count,
    refuse_size,
)

#: What a line is, in the property of this name.
ROLE = "role"
CENTRE, LEFT, RIGHT = "centreline", "left edge", "right edge"
#: No coordinate and no height is larger.
FIGURE_MOST = 1e9
EDGE_WORDS = {LEFT: ("left",), RIGHT: ("right",)}


@dataclass(frozen=True, eq=False)
class Feature:
    """Something to write: a line or a point of longitudes and latitudes, with its properties."""

    kind: str
    lon_deg: Floats
    lat_deg: Floats
    z_m: Floats | None
    properties: dict[str, Any]


def read_geojson(data: bytes) -> ReadTrack:
    """Read the line or ring of a GeoJSON file, and its edges where lines say they are.

    The centreline is the line whose property `role` says so, otherwise the longest line that is no
    edge. A line is an edge when its role or its name has "left" or "right" in it. Raises
    InputRefused with line and column for what is no JSON, and in a sentence otherwise.
    """
    refuse_size(data)
    document = parse_json_object(data)
    lines = list(_lines(document))
    if not lines:
        raise InputRefused(
            [Fault("", "the file has no line and no ring; a LineString or Polygon is expected")]
        )
    edges: dict[str, Floats] = {}
    candidates: list[tuple[bool, int, Floats]] = []
    for properties, points in lines:
        said = str(properties.get(ROLE) or properties.get("name") or "").casefold()
        side = next((s for s, words in EDGE_WORDS.items() if any(w in said for w in words)), None)
        if side is not None:
            edges[side] = points
        elif said in ("driven line", "braking"):
            continue
        else:
            candidates.append((said == CENTRE, len(points), points))
    if not candidates:
        raise InputRefused(
            [Fault("", "the file has edges alone; a line along the road is expected as well")]
        )
    centre = max(candidates, key=lambda candidate: candidate[:2])[2]
    if len(centre) == 0:
        raise InputRefused([Fault("coordinates", "the line is empty; positions are expected")])
    z = centre[:, 2] if np.isfinite(centre[:, 2]).all() else None
    x, y, origin = local_metres(centre[:, 1], centre[:, 0], z)
    left = _width(edges.get(LEFT), x, y, origin)
    right = _width(edges.get(RIGHT), x, y, origin)
    note = f"{len(centre)} points of a line (GeoJSON)"
    if left is not None and right is not None:
        note += ", with both edges"
    else:
        left = right = None
    called = document.get("name")
    name = " ".join(called.split())[:200] if isinstance(called, str) else ""
    return ReadTrack(Track(x, y, z, left, right), origin, note, "point", 1, name)


def _lines(value: Any, place: str = "") -> Iterator[tuple[dict[str, Any], Floats]]:
    """Every line with its properties, through collections and features."""
    if not isinstance(value, dict):
        raise InputRefused([Fault(place, f"{_kind(value)} was given; an object is expected")])
    kind = value.get("type")
    inner = f"{place}." if place else ""
    if kind == "FeatureCollection":
        for number, feature in enumerate(_listed(value, "features", inner)):
            yield from _lines(feature, f"{inner}features[{number}]")
    elif kind == "Feature":
        properties = value.get("properties")
        if not isinstance(properties, dict | None):
            said = f"{_kind(properties)} was given; an object, or null, is expected"
            raise InputRefused([Fault(f"{inner}properties", said)])
        if value.get("geometry") is not None:
            for _, points in _lines(value["geometry"], f"{inner}geometry"):
                yield properties or {}, points
    elif kind == "GeometryCollection":
        for number, geometry in enumerate(_listed(value, "geometries", inner)):
            yield from _lines(geometry, f"{inner}geometries[{number}]")
    elif kind in ("LineString", "MultiLineString", "Polygon"):
        parts = _listed(value, "coordinates", inner)
        place = f"{inner}coordinates"
        if kind == "LineString":
            yield {}, _points(parts, place)
        elif kind == "Polygon":
            yield {}, _points(parts[0] if parts else [], f"{place}[0]")
        else:
            lines = [_points(part, f"{place}[{n}]") for n, part in enumerate(parts)]
            yield {}, np.vstack([np.empty((0, 3)), *lines])
    elif kind not in ("Point", "MultiPoint", "MultiPolygon"):
        said = f'"{str(kind)[:40]}" was given; a GeoJSON line, ring or collection is expected'
        raise InputRefused([Fault(f"{inner}type", said)])


def _listed(value: dict[str, Any], name: str, inner: str) -> list[Any]:
    found = value.get(name)
    if not isinstance(found, list):
        raise InputRefused(
            [Fault(f"{inner}{name}", f"{_kind(found)} was given; a list is expected")]
        )
    return found


def _kind(value: Any) -> str:
    """What a JSON value is, in a person's words."""
    kinds = {dict: "an object", list: "a list", str: "a text", bool: "true or false"}
    return "nothing" if value is None else kinds.get(type(value), "a number")


def _points(coordinates: Any, place: str) -> Floats:
    if not isinstance(coordinates, list):
        raise InputRefused([Fault(place, f"{_kind(coordinates)} was given; a list is expected")])
    refuse_count(len(coordinates))
    rows = []
    for number, position in enumerate(coordinates):
        numbers = isinstance(position, list) and all(
            isinstance(c, int | float) and not isinstance(c, bool) and abs(c) < FIGURE_MOST
            for c in position[:3]
        )
        if not numbers or len(position) < 2:
            raise InputRefused(
                [
                    Fault(
                        f"{place}[{number}]",
                        "longitude and latitude are expected as two numbers",
                    )
                ]
            )
        rows.append([position[0], position[1], position[2] if len(position) > 2 else np.nan])
    return np.array(rows, dtype=np.float64).reshape(-1, 3)


def _width(edge: Floats | None, x: Floats, y: Floats, origin: tuple[float, float]) -> Floats | None:
    """Distance of each point of the line from an edge [m]."""
    if edge is None or len(edge) < 2:
        return None
    import pymap3d

    ex, ey, _ = pymap3d.geodetic2enu(
        edge[:, 1], edge[:, 0], np.zeros(len(edge)), origin[0], origin[1], 0.0
    )
    ax, ay = np.asarray(ex)[:-1], np.asarray(ey)[:-1]
    dx, dy = np.diff(np.asarray(ex)), np.diff(np.asarray(ey))
    square = np.maximum(dx**2 + dy**2, 1e-12)
    nearest = np.empty(len(x))
    for start in range(0, len(x), 256):  # a few hundred points against all pieces at a time
        px, py = x[start : start + 256, None], y[start : start + 256, None]
        share = np.clip(((px - ax) * dx + (py - ay) * dy) / square, 0.0, 1.0)
        apart = np.hypot(px - ax - share * dx, py - ay - share * dy)
        nearest[start : start + 256] = apart.min(axis=1)
    return nearest


def write_geojson(name: str, features: list[Feature]) -> str:
    """A feature collection; every feature says in its `role` what it is."""
    return json.dumps(
        {
            "type": "FeatureCollection",
            "name": name,
            "features": [
                {
                    "type": "Feature",
                    "properties": feature.properties,
                    "geometry": {"type": feature.kind, "coordinates": _coordinates(feature)},
                }
                for feature in features
            ],
        },
        ensure_ascii=False,
    )


def _coordinates(feature: Feature) -> list[Any]:
    columns = [np.round(feature.lon_deg, 9), np.round(feature.lat_deg, 9)]
    if feature.z_m is not None:
        columns.append(np.round(feature.z_m, 3))
    rows: list[Any] = np.column_stack(columns).tolist()
    return rows[0] if feature.kind == "Point" else rows
