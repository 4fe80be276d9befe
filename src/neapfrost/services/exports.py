"""A plan's road and lap written in open formats, for any map or spreadsheet."""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.build import Path
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import ResultDocument
from neapfrost.formats.tracks.geojson import CENTRE, LEFT, RIGHT, ROLE, Feature, write_geojson
from neapfrost.formats.tracks.gpx import write_gpx
from neapfrost.formats.tracks.points_csv import write_points_csv
from neapfrost.formats.tracks.read_track import degrees
from neapfrost.formats.tracks.segments_csv import write_segments_csv
from neapfrost.formats.tracks.svg_map import MapLabel, MapLine, svg_map
from neapfrost.services.predict import recall
from neapfrost.services.road_map import edge_places
from neapfrost.services.roads import Road, is_road, on_road, road_of

ExportFormat = Literal["geojson", "gpx", "points.csv", "segments.csv", "svg"]
MEDIA: dict[str, str] = {
    "geojson": "application/geo+json",
    "gpx": "application/gpx+xml",
    "points.csv": "text/csv; charset=utf-8",
    "segments.csv": "text/csv; charset=utf-8",
    "svg": "image/svg+xml",
}
INK, RULE, EMBER = "#0c2c47", "#a9bdc3", "#a8360e"


@dataclass(frozen=True, eq=False)
class _Ground:
    """A plan's road and driven line with east and north of the start [m].

    The ring's gap is spread over its length, so that a map shows a closed line.
    """

    plan: PlanDocument
    road: Road
    result: ResultDocument
    driven: Path
    east_m: Floats
    north_m: Floats
    heading_rad: Floats
    driven_road_m: Floats
    driven_offset_m: Floats


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
    ground = _ground(plan)
    name = plan.circuit.name
    z = ground.road.middle.z_m + plan.circuit.altitude_m
    if format_ == "points.csv":
        return write_points_csv(
            ground.east_m, ground.north_m, z, ground.road.left_m, ground.road.right_m
        )
    if format_ == "gpx":
        lat, lon = _degrees(ground, ground.east_m, ground.north_m)
        return write_gpx(name, lat, lon, z)
    if format_ == "svg":
        return _svg(ground)
    return write_geojson(name, _features(ground, z))


def _ground(plan: PlanDocument) -> _Ground:
    prediction = recall(plan, None)
    driven = prediction.driven.lap.path
    if is_road(plan):
        laid = on_road(plan)
        road = laid.road
        places, offset = road.middle.s_m, laid.shape.offset_m
    else:
        road = road_of(plan.circuit)
        places, offset = road.middle.s_m, np.zeros(len(road.middle.s_m))
    middle = road.middle
    x, y = middle.x_m.copy(), middle.y_m.copy()
    if middle.closed:
        share = middle.s_m / middle.length_m
        x, y = x - share * (x[-1] - x[0]), y - share * (y[-1] - y[0])
    turn = np.radians(90.0 - plan.circuit.north_deg)
    return _Ground(
        plan=plan,
        road=road,
        result=prediction.result,
        driven=driven,
        east_m=x * np.cos(turn) - y * np.sin(turn),
        north_m=x * np.sin(turn) + y * np.cos(turn),
        heading_rad=middle.heading_rad + turn,
        driven_road_m=places,
        driven_offset_m=offset,
    )


def _beside(ground: _Ground, at_m: Floats, offset_m: Floats) -> tuple[Floats, Floats]:
    """East and north of places at offsets left of the middle [m]."""
    middle = ground.road.middle
    at = np.mod(at_m, middle.length_m) if middle.closed else at_m
    heading = np.interp(at, middle.s_m, ground.heading_rad)
    return (
        np.interp(at, middle.s_m, ground.east_m) - offset_m * np.sin(heading),
        np.interp(at, middle.s_m, ground.north_m) + offset_m * np.cos(heading),
    )


def _degrees(ground: _Ground, east_m: Floats, north_m: Floats) -> tuple[Floats, Floats]:
    circuit = ground.plan.circuit
    return degrees(east_m, north_m, (circuit.start_lat_deg or 0.0, circuit.start_lon_deg or 0.0))


def _line_offset(ground: _Ground, road_m: Floats) -> Floats:
    return np.interp(road_m, ground.driven_road_m, ground.driven_offset_m)


def _road_of_lap(ground: _Ground, lap_m: Floats) -> Floats:
    """Road positions of distances along the lap [m]."""
    share = np.asarray(lap_m) / ground.driven.length_m
    if not is_road(ground.plan):
        return share * ground.road.middle.length_m
    laid = on_road(ground.plan)
    return np.interp(lap_m, laid.line.at_m, laid.road.middle.s_m)


def _features(ground: _Ground, z_m: Floats) -> list[Feature]:
    road, result = ground.road, ground.result
    middle = road.middle
    features = []

    def line(role: str, at: Floats, offset: Floats, z: Floats | None, **more: Any) -> None:
        lat, lon = _degrees(ground, *_beside(ground, at, offset))
        features.append(Feature("LineString", lon, lat, z, {ROLE: role, **more}))

    def point(role: str, at: float, offset: float, **more: Any) -> None:
        lat, lon = _degrees(ground, *_beside(ground, np.array([at]), np.array([offset])))
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
        _line_offset(ground, s),
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
            min_speed_kmh=round(on.min_speed_ms * 3.6, 1),
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
        at = _road_of_lap(ground, along)
        line(
            "braking",
            at,
            _line_offset(ground, at),
            None,
            corner=corner_result.name,
            metres=round(corner_result.braking_distance_m, 1),
            from_kmh=round((corner_result.brake_start_speed_ms or 0.0) * 3.6, 1),
        )
    for edge in ground.plan.circuit.edges:
        places = edge_places(edge, middle)
        folded = np.mod(places, middle.length_m) if middle.closed else places
        side = 1.0 if edge.side == "left" else -1.0
        reach = np.interp(folded, s, road.left_m if side > 0 else road.right_m)
        line(edge.kind, places, side * reach, None, side=edge.side)
    return features


def _svg(ground: _Ground) -> str:
    road = ground.road
    s, closed = road.middle.s_m, road.middle.closed
    lines = [
        MapLine(*_beside(ground, s, road.left_m), 1.0, RULE, closed=closed),
        MapLine(*_beside(ground, s, -road.right_m), 1.0, RULE, closed=closed),
        MapLine(*_beside(ground, s, _line_offset(ground, s)), 2.4, INK, closed=closed),
    ]
    for corner in ground.result.corners:
        if corner.brake_start_at_m is None or corner.braking_distance_m is None:
            continue
        along = corner.brake_start_at_m + np.linspace(0.0, corner.braking_distance_m, 12)
        at = _road_of_lap(ground, np.mod(along, ground.driven.length_m) if closed else along)
        lines.append(MapLine(*_beside(ground, at, _line_offset(ground, at)), 4.5, EMBER, "2 3"))
    labels = []
    for number, bend in enumerate(road.middle.corners, start=1):
        out = -bend.turn * (float(road.left_m.max()) + 12.0)
        x, y = _beside(ground, np.array([bend.apex_at_m]), np.array([out]))
        labels.append(MapLabel(float(x[0]), float(y[0]), f"{number} {bend.name}"))
    return svg_map(ground.plan.circuit.name, lines, labels)
