"""A plan's road and lap written in open formats, for any map or spreadsheet."""

from typing import Any, Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import KMH_PER_MS
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.tracks.geojson import CENTRE, LEFT, RIGHT, ROLE, Feature, write_geojson
from neapfrost.formats.tracks.gpx import write_gpx
from neapfrost.formats.tracks.points_csv import write_points_csv
from neapfrost.formats.tracks.segments_csv import write_segments_csv
from neapfrost.formats.tracks.svg_map import MapLabel, MapLine, svg_map
from neapfrost.services.maps.ground import (
    Ground,
    beside,
    degrees_of,
    ground_of,
    line_offset,
    road_of_lap,
)
from neapfrost.services.maps.road_map import edge_places

ExportFormat = Literal["geojson", "gpx", "points.csv", "segments.csv", "svg"]
MEDIA: dict[str, str] = {
    "geojson": "application/geo+json",
    "gpx": "application/gpx+xml",
    "points.csv": "text/csv; charset=utf-8",
    "segments.csv": "text/csv; charset=utf-8",
    "svg": "image/svg+xml",
}
INK, RULE, EMBER = "#0c2c47", "#a9bdc3", "#a8360e"


def exported(plan: PlanDocument, format_: ExportFormat) -> str:
    """The road of a plan with its lap in a format.

    GPX and GeoJSON lie where the circuit's start is stated to be, and otherwise at latitude 0,
    longitude 0, which keeps shape and size. Raises InputRefused as `recall` does.
    """
    if plan.circuit.segments is None:
        given = "this circuit is given by stations; it has no road to write"
        raise InputRefused([Fault("circuit.stations", given)])
    if format_ == "segments.csv":
        return write_segments_csv(plan.circuit.segments or [])
    ground = ground_of(plan)
    name = plan.circuit.name
    z = ground.road.middle.z_m + plan.circuit.altitude_m
    if format_ == "points.csv":
        return write_points_csv(
            ground.east_m, ground.north_m, z, ground.road.left_m, ground.road.right_m
        )
    if format_ == "gpx":
        lat, lon = degrees_of(ground, ground.east_m, ground.north_m)
        return write_gpx(name, lat, lon, z)
    if format_ == "svg":
        return _svg(ground)
    return write_geojson(name, _features(ground, z))


def _features(ground: Ground, z_m: Floats) -> list[Feature]:
    road, result = ground.road, ground.result
    middle = road.middle
    features = []

    def line(role: str, at: Floats, offset: Floats, z: Floats | None, **more: Any) -> None:
        lat, lon = degrees_of(ground, *beside(ground, at, offset))
        features.append(Feature("LineString", lon, lat, z, {ROLE: role, **more}))

    def point(role: str, at: float, offset: float, **more: Any) -> None:
        lat, lon = degrees_of(ground, *beside(ground, np.array([at]), np.array([offset])))
        features.append(Feature("Point", lon, lat, None, {ROLE: role, **more}))

    s = middle.s_m
    line(
        CENTRE,
        s,
        np.zeros(len(s)),
        z_m,
        name=ground.plan.circuit.name,
        closed=middle.closed,
        length_m=round(middle.length_m, 3),
    )
    line(LEFT, s, road.left_m, None)
    line(RIGHT, s, -road.right_m, None)
    told = result.line.driven if result.line else "segments"
    line(
        "driven line",
        s,
        line_offset(ground, s),
        None,
        line=told,
        lap_time_s=round(result.lap_time_s, 3),
    )
    for corner, on in zip(middle.corners, result.corners, strict=True):
        point(
            "corner",
            corner.apex_at_m,
            0.0,
            name=corner.name,
            direction=on.direction,
            min_speed_kmh=round(on.min_speed_ms * KMH_PER_MS, 1),
            gear=on.gear,
            begins_at_m=round(corner.begins_at_m, 2),
            ends_at_m=round(corner.ends_at_m, 2),
        )
    circuit = ground.plan.circuit
    for kind, things in (("board", circuit.boards), ("reference", circuit.references)):
        for thing in things:
            aside = float(np.interp(thing.at_m, s, road.left_m)) + 2.0
            said = {"label": thing.label, "corner": thing.corner, "at_m": thing.at_m}
            point(kind, thing.at_m, aside, **said)
    for corner_result in result.corners:
        if corner_result.brake_start_at_m is None or corner_result.braking_distance_m is None:
            continue
        begins = corner_result.brake_start_at_m
        along = begins + np.linspace(0.0, corner_result.braking_distance_m, 12)
        if middle.closed:
            along = np.mod(along, ground.driven.length_m)
        at = road_of_lap(ground, along)
        line(
            "braking",
            at,
            line_offset(ground, at),
            None,
            corner=corner_result.name,
            metres=round(corner_result.braking_distance_m, 1),
            from_kmh=round((corner_result.brake_start_speed_ms or 0.0) * KMH_PER_MS, 1),
        )
    for edge in ground.plan.circuit.edges:
        places = edge_places(edge, middle)
        folded = middle.ring.fold(places)
        side = 1.0 if edge.side == "left" else -1.0
        reach = np.interp(folded, s, road.left_m if side > 0 else road.right_m)
        line(edge.kind, places, side * reach, None, side=edge.side)
    return features


def _svg(ground: Ground) -> str:
    road = ground.road
    s, closed = road.middle.s_m, road.middle.closed
    lines = [
        MapLine(*beside(ground, s, road.left_m), 1.0, RULE, closed=closed),
        MapLine(*beside(ground, s, -road.right_m), 1.0, RULE, closed=closed),
        MapLine(*beside(ground, s, line_offset(ground, s)), 2.4, INK, closed=closed),
    ]
    for corner in ground.result.corners:
        if corner.brake_start_at_m is None or corner.braking_distance_m is None:
            continue
        along = corner.brake_start_at_m + np.linspace(0.0, corner.braking_distance_m, 12)
        at = road_of_lap(ground, np.mod(along, ground.driven.length_m) if closed else along)
        lines.append(MapLine(*beside(ground, at, line_offset(ground, at)), 4.5, EMBER, "2 3"))
    labels = []
    for number, bend in enumerate(road.middle.corners, start=1):
        out = -bend.turn * (float(road.left_m.max()) + 12.0)
        x, y = beside(ground, np.array([bend.apex_at_m]), np.array([out]))
        labels.append(MapLabel(float(x[0]), float(y[0]), f"{number} {bend.name}"))
    return svg_map(ground.plan.circuit.name, lines, labels)
