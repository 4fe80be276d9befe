"""A plan's road to scale: its edges, what lies along them, and a line on it with its speed."""

import itertools
import math
from typing import Literal

import numpy as np
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.altered_road import corner_steps
from neapfrost.core.lap.record import Lap, time_at
from neapfrost.core.line.driven import DrivenLine
from neapfrost.core.line.shape import Shape
from neapfrost.core.line.widest_arc import widest_arc_radius_m
from neapfrost.core.path.build import Path
from neapfrost.formats.plan import LineDocument, LineKind, PlanDocument
from neapfrost.formats.result import LineEnd, LineResult
from neapfrost.services.laps.predict import recall
from neapfrost.services.maps.road_map import DrawnEdge, Way, drawn_edge, rounded, way
from neapfrost.services.roads.road import Road, corridor_of, on_road, vehicle_width_m
from neapfrost.services.roads.wishes import present_wishes
from neapfrost.services.words.lines import REMARKS


class DrawnCorner(BaseModel):
    """A corner of the road, where its apex is on the map, and the widest arc through it alone.

    `out_x`, `out_y` point to the corner's outside. The arc is from the closed form, inside the
    corridor; null where the corner has no inner edge of its own or turns too far.
    """

    name: str
    direction: Literal["left", "right"]
    begins_at_m: float
    ends_at_m: float
    x_m: float
    y_m: float
    out_x: float
    out_y: float
    angle_deg: float
    radius_m: float
    widest_arc_radius_m: float | None


class LineCorner(BaseModel):
    """What a line makes of a corner: its tightest radius, speed there, and the time around it.

    The time is from half way after the corner before to half way to the next, by road positions,
    so that the corners' times add up to the lap's.
    """

    radius_m: float | None
    min_speed_ms: float
    time_s: float


class DrawnLine(BaseModel):
    """A line over the map at the road's nodes, with the lap on it.

    `ended` is how the search for it ended, `remark` the same in a word or two.
    """

    kind: LineKind
    ended: LineEnd | None
    remark: str
    lap_time_s: float
    length_m: float
    way: Way
    offset_m: list[float]
    curvature_per_m: list[float]
    v_ms: list[float]
    corners: list[LineCorner]


class RoadDrawing(BaseModel):
    """A road and the line driven on it now."""

    road_at_m: list[float]
    middle: Way
    left: Way
    right: Way
    usable_left: Way
    usable_right: Way
    left_m: list[float]
    right_m: list[float]
    edges: list[DrawnEdge]
    corners: list[DrawnCorner]
    vehicle_width_m: float
    vehicle_width_stated: bool
    settings: LineDocument
    told: LineResult
    line: DrawnLine


def road_drawing(plan: PlanDocument) -> RoadDrawing:
    """The road of a plan with its line. Raises InputRefused where the vehicle does not fit."""
    laid = on_road(plan)
    road, middle = laid.road, laid.road.middle
    lap = recall(plan, None).driven.lap
    half = 0.5 * vehicle_width_m(plan)
    line = plan.line or LineDocument()
    wishes = present_wishes(line, plan.circuit)
    settings = line.model_copy(update={"computed": None, "corners": wishes})
    return RoadDrawing(
        road_at_m=rounded(middle.s_m, 2),
        middle=way(middle, np.zeros(len(middle.s_m))),
        left=way(middle, road.left_m),
        right=way(middle, -road.right_m),
        usable_left=way(middle, laid.field.left_m + half),
        usable_right=way(middle, laid.field.right_m - half),
        left_m=rounded(laid.field.left_m, 3),
        right_m=rounded(laid.field.right_m, 3),
        edges=[drawn_edge(road, number, edge) for number, edge in enumerate(plan.circuit.edges)],
        corners=_corners(plan, road),
        vehicle_width_m=2.0 * half,
        vehicle_width_stated=plan.car.width_m is not None,
        settings=settings,
        told=laid.told,
        line=drawn_line(laid.told.driven, road, laid.shape, laid.line, lap, laid.told.ended),
    )


def drawn_line(
    kind: LineKind, road: Road, shape: Shape, line: DrivenLine, lap: Lap, ended: LineEnd | None
) -> DrawnLine:
    """A line with the lap on it."""
    middle = road.middle
    bounds = stretch_bounds_m(middle)
    times = time_at(lap, np.interp(bounds, middle.s_m, line.at_m))
    stretches = np.diff(times)
    if middle.closed:
        stretches = np.mod(np.roll(times, -1) - times, lap.lap_time_s)
        if len(bounds) == 1:
            stretches = np.array([lap.lap_time_s])
    corners = []
    for number, stretch_s in enumerate(stretches):
        low, high = bounds[number], bounds[(number + 1) % len(bounds)]
        inside = _between(middle, low, high)
        corner = middle.corners[number]
        bend = corner.turn * shape.curvature_per_m[inside]
        tightest = float(bend.max(initial=0.0))
        v = np.interp(line.at_m[inside], lap.s_m, lap.v_ms)
        corners.append(
            LineCorner(
                radius_m=1.0 / tightest if tightest > 1e-4 else None,
                min_speed_ms=float(v[np.argmax(bend)]) if len(v) else 0.0,
                time_s=float(stretch_s),
            )
        )
    return DrawnLine(
        kind=kind,
        ended=ended,
        remark=REMARKS[ended],
        lap_time_s=lap.lap_time_s,
        length_m=float(line.at_m[-1]),
        way=way(middle, shape.offset_m),
        offset_m=rounded(shape.offset_m, 3),
        curvature_per_m=rounded(shape.curvature_per_m, 6),
        v_ms=rounded(np.interp(line.at_m, lap.s_m, lap.v_ms), 3),
        corners=corners,
    )


def stretch_bounds_m(road: Path) -> Floats:
    """Road positions half way between neighbouring corners: where each corner's stretch begins [m].

    On a closed road the last corner's stretch goes on to the first bound, over the line. On an
    open one the first begins at the start, and the finish ends the list.
    """
    corners = road.corners
    if not corners:
        return np.zeros(0)
    between = [
        0.5 * (before.ends_at_m + after.begins_at_m)
        for before, after in itertools.pairwise(corners)
    ]
    if not road.closed:
        return np.array([0.0, *between, road.length_m])
    first = 0.5 * (corners[-1].ends_at_m - road.length_m + corners[0].begins_at_m)
    bounds: Floats = np.mod(np.array([first, *between]), road.length_m)
    return bounds


def _between(road: Path, low: float, high: float) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    if high <= low:
        return (road.s_m >= low) | (road.s_m <= high)
    return (road.s_m >= low) & (road.s_m <= high)


def _corners(plan: PlanDocument, road: Road) -> list[DrawnCorner]:
    middle, field = road.middle, corridor_of(plan)
    drawn = []
    for corner, (radius_m, angle_deg) in zip(middle.corners, _bends(plan, middle), strict=True):
        apex = corner.apex_at_m % middle.length_m if middle.closed else corner.apex_at_m
        heading = float(np.interp(apex, middle.s_m, middle.heading_rad))
        left = float(np.interp(apex, middle.s_m, field.left_m))
        right = float(np.interp(apex, middle.s_m, field.right_m))
        inner, outer = (left, -right) if corner.turn > 0 else (-right, left)
        widest = None
        if radius_m > inner + 0.5 and angle_deg < 180.0 and inner + outer > 0.01:
            widest = widest_arc_radius_m(radius_m - inner, radius_m + outer, angle_deg)
        drawn.append(
            DrawnCorner(
                name=corner.name,
                direction="left" if corner.turn > 0 else "right",
                begins_at_m=corner.begins_at_m,
                ends_at_m=corner.ends_at_m,
                x_m=float(np.interp(apex, middle.s_m, middle.x_m)),
                y_m=float(np.interp(apex, middle.s_m, middle.y_m)),
                out_x=corner.turn * float(np.sin(heading)),
                out_y=-corner.turn * float(np.cos(heading)),
                angle_deg=angle_deg,
                radius_m=radius_m,
                widest_arc_radius_m=widest,
            )
        )
    return drawn


def _bends(plan: PlanDocument, middle: Path) -> list[tuple[float, float]]:
    """Radius [m] and turned angle [degrees] of each corner: as stated, or as the stations have it.

    Of stations the radius is that at the sharpest place.
    """
    if plan.circuit.segments is not None:
        bends = [segment for segment in plan.circuit.segments if segment.kind == "corner"]
        return [(bend.radius_m, bend.angle_deg) for bend in bends]
    curvature = 0.5 * (middle.curvature_start + middle.curvature_end)
    found = []
    for number in range(len(middle.corners)):
        steps = corner_steps(middle, number)
        turned = float(np.sum(curvature[steps] * np.diff(middle.s_m)[steps]))
        sharpest = float(np.max(np.abs(curvature[steps]), initial=1e-6))
        found.append((1.0 / sharpest, abs(math.degrees(turned))))
    return found
