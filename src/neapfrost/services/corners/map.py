"""One corner to scale, the approach running up the page: line, edges, boards and marks."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.path.build import Path
from neapfrost.formats.plan import BoardDocument, PlanDocument, ReferenceDocument
from neapfrost.formats.result import CornerResultPart
from neapfrost.services.corners.calls import known_corner
from neapfrost.services.laps.predict import recall
from neapfrost.services.maps.ground import Ground, beside, ground_of, line_offset, road_of_lap
from neapfrost.services.maps.road_map import Way, edge_places
from neapfrost.services.roads.road import is_road

#: So much of the lap is drawn before the first thing to see and after the corner [m].
BEFORE_M, AFTER_M = 35.0, 60.0
APPROACH_MOST_M = 260.0
DRAWN_EVERY_M = 2.0
#: Boards stand so far outside the road's edge [m].
ASIDE_M = 6.0


class MarkedPlace(BaseModel):
    """A place along the line, `at_m` along the lap; `what` names what is done there."""

    what: str
    at_m: float
    x_m: float
    y_m: float


class StandingThing(BaseModel):
    """A board or reference beside the road, and where on the line one passes it."""

    label: str
    at_m: float
    x_m: float
    y_m: float
    line_x_m: float
    line_y_m: float
    chosen: bool


class SideStretch(BaseModel):
    """A kerb, dust or a wall along the road here, and what may be done there."""

    kind: str
    use: str
    way: Way


class CornerMap(BaseModel):
    """The corner's surroundings [m], x across and y along the approach.

    `left`, `right` are null where segments describe the driven path, and its edges are unknown.
    `offset_m` is how far left of the middle one drives at brake start, turn-in, apex and exit.
    """

    at_m: list[float]
    line: Way
    left: Way | None
    right: Way | None
    braking: Way | None
    marks: list[MarkedPlace]
    boards: list[StandingThing]
    sides: list[SideStretch]
    driven_radius_m: float | None
    offsets_m: dict[str, float] | None
    approach: str


@dataclass(frozen=True, eq=False)
class _Sheet:
    """The drawn stretch of a lap from one unfolded place to another, turned up the page.

    `ground` is None where the road is unknown and the path's own frame is drawn.
    """

    plan: PlanDocument
    path: Path
    ground: Ground | None
    from_m: float
    to_m: float

    def fold(self, at_m: Floats) -> Floats:
        """Places of the lap of places that may lie beyond the line [m]."""
        return self.path.ring.fold(at_m)

    def raw(self, at_m: Floats) -> tuple[Floats, Floats]:
        """Places along the driven line, not yet turned."""
        at = self.fold(at_m)
        if self.ground is None:
            path = self.path
            return np.interp(at, path.s_m, path.x_m), np.interp(at, path.s_m, path.y_m)
        road_m = road_of_lap(self.ground, at)
        return beside(self.ground, road_m, line_offset(self.ground, road_m))

    @cached_property
    def along_m(self) -> Floats:
        """The places that are drawn."""
        return np.arange(self.from_m, self.to_m, DRAWN_EVERY_M)

    @cached_property
    def frame(self) -> tuple[float, float, float]:
        """Where the drawing begins, and how far it is turned [m, m, rad]."""
        x, y = self.raw(self.along_m)
        return float(x[0]), float(y[0]), _turn(x, y)

    def turned(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Places in the drawing's frame."""
        left, foot, turn = self.frame
        dx, dy = x - left, y - foot
        return (
            dx * np.cos(turn) - dy * np.sin(turn),
            dx * np.sin(turn) + dy * np.cos(turn),
        )

    def way(self, x: Floats, y: Floats) -> Way:
        """A way in the drawing's frame."""
        across, up = self.turned(x, y)
        return Way(x_m=np.round(across, 2).tolist(), y_m=np.round(up, 2).tolist())

    def place(self, at_m: float) -> tuple[float, float]:
        """One place of the line in the drawing's frame."""
        across, up = self.turned(*self.raw(np.array([at_m])))
        return float(across[0]), float(up[0])


def corner_map(plan: PlanDocument, corner: int) -> CornerMap:
    """The surroundings of a corner (0 is the first) of a plan.

    Raises InputRefused for a corner that the lap does not have, and as `recall` does.
    """
    prediction = recall(plan, None)
    result = known_corner(prediction, corner)
    path = prediction.driven.lap.path
    extent = path.corners[corner]
    from_m = extent.begins_at_m - max(_lead_m(result, path, extent.begins_at_m), 20.0) - BEFORE_M
    to_m = extent.ends_at_m + AFTER_M
    if not path.closed:
        from_m, to_m = max(from_m, 0.0), min(to_m, path.length_m)
    ground = ground_of(plan) if plan.circuit.segments is not None else None
    sheet = _Sheet(plan, path, ground, from_m, to_m)
    marks = _marks(sheet, result)
    left, right, sides = _edges(sheet)
    braking = None
    if result.brake_start_at_m is not None and result.braking_distance_m is not None:
        along = result.brake_start_at_m + np.arange(0.0, result.braking_distance_m, DRAWN_EVERY_M)
        braking = sheet.way(*sheet.raw(along))
    offsets = None
    if ground is not None and is_road(plan):
        offsets = {
            mark.what: float(line_offset(ground, road_of_lap(ground, np.array([mark.at_m])))[0])
            for mark in marks
        }
    radius = None
    if result.lateral_g > 0.01:
        radius = result.min_speed_ms**2 / (result.lateral_g * STANDARD_GRAVITY_MS2)
    return CornerMap(
        at_m=np.round(sheet.along_m, 2).tolist(),
        line=sheet.way(*sheet.raw(sheet.along_m)),
        left=left,
        right=right,
        braking=braking,
        marks=marks,
        boards=_boards(sheet, result),
        sides=sides,
        driven_radius_m=radius,
        offsets_m=offsets,
        approach=_approach(result.direction, offsets),
    )


def _lead_m(result: CornerResultPart, path: Path, begins_m: float) -> float:
    """How far before the corner its driver first slows, at most as much as is drawn [m]."""
    lead = result.brake_start_to_corner_m or 0.0
    if result.lift_at_m is not None:
        lead = max(lead, path.ring.apart(result.lift_at_m, begins_m))
    return min(lead, APPROACH_MOST_M)


def _marks(sheet: _Sheet, result: CornerResultPart) -> list[MarkedPlace]:
    """What is done where along the line, in the order of the lap."""
    places = (
        ("lift", result.lift_at_m),
        ("brake", result.brake_start_at_m),
        ("turn-in", result.turn_in_at_m),
        ("apex", result.apex_at_m),
        ("slowest", result.min_speed_at_m),
        ("throttle", result.throttle_at_m),
        ("exit", result.ends_at_m),
    )
    marks = []
    for what, at_m in places:
        if at_m is not None:
            x, y = sheet.place(at_m)
            marks.append(MarkedPlace(what=what, at_m=at_m, x_m=x, y_m=y))
    return marks


def _edges(sheet: _Sheet) -> tuple[Way | None, Way | None, list[SideStretch]]:
    """The road's edges along the drawing, and what lies on them; none where no road is known."""
    ground = sheet.ground
    if ground is None or not is_road(sheet.plan):
        return None, None, []
    road, middle = ground.road, ground.road.middle
    road_m = road_of_lap(ground, sheet.fold(sheet.along_m))
    left = sheet.way(*beside(ground, road_m, np.interp(road_m, middle.s_m, road.left_m)))
    right = sheet.way(*beside(ground, road_m, -np.interp(road_m, middle.s_m, road.right_m)))
    sides = []
    for edge in sheet.plan.circuit.edges:
        places = np.asarray(edge_places(edge, middle))
        drawn = (float(road_m[0]), float(road_m[-1]))
        near = _between(places, *drawn, middle.length_m, middle.closed)
        if not near.any():
            continue
        side, wide = (1.0, road.left_m) if edge.side == "left" else (-1.0, road.right_m)
        within = middle.ring.fold(places)
        offset = side * np.interp(within, middle.s_m, wide)
        way = sheet.way(*beside(ground, places[near], offset[near]))
        sides.append(SideStretch(kind=edge.kind, use=edge.use, way=way))
    return left, right, sides


def _boards(sheet: _Sheet, result: CornerResultPart) -> list[StandingThing]:
    """The corner's own boards and references that stand along the drawing, on its outside."""
    circuit, ground, path = sheet.plan.circuit, sheet.ground, sheet.path
    if ground is None:
        return []
    things: list[BoardDocument | ReferenceDocument] = [*circuit.boards, *circuit.references]
    side = 1.0 if result.direction == "right" else -1.0
    wide = ground.road.left_m if side > 0.0 else ground.road.right_m
    lap_places = np.linspace(0.0, ground.driven.length_m, 2001)
    road_places = road_of_lap(ground, lap_places)
    found = []
    for thing in things:
        at_m = float(np.interp(thing.at_m, road_places, lap_places))
        ahead = at_m - sheet.from_m
        if path.closed:
            ahead %= path.length_m
        if thing.corner != result.name or not 0.0 <= ahead <= sheet.to_m - sheet.from_m:
            continue
        aside = ASIDE_M
        if is_road(sheet.plan):
            aside += float(np.interp(thing.at_m, ground.road.middle.s_m, wide))
        stands = beside(ground, np.array([thing.at_m]), np.array([side * aside]))
        across, up = sheet.turned(*stands)
        line_x, line_y = sheet.place(at_m)
        call = result.board_call
        found.append(
            StandingThing(
                label=thing.label,
                at_m=at_m,
                x_m=float(across[0]),
                y_m=float(up[0]),
                line_x_m=line_x,
                line_y_m=line_y,
                chosen=call is not None and call.label == thing.label,
            )
        )
    return found


def _turn(x: Floats, y: Floats) -> float:
    """How far to turn so that the first metres of the line run up the page [rad]."""
    last = min(8, len(x) - 1)
    return 0.5 * np.pi - float(np.arctan2(y[last] - y[0], x[last] - x[0]))


def _between(
    places: Floats, low: float, high: float, length: float, closed: bool
) -> NDArray[np.bool_]:
    """Which road positions lie on the drawn stretch."""
    if not closed:
        inside: NDArray[np.bool_] = (places >= low) & (places <= high)
        return inside
    span = (high - low) % length
    around: NDArray[np.bool_] = np.mod(places - low, length) <= span
    return around


def _approach(direction: str, offsets: dict[str, float] | None) -> str:
    """Which side to come from: as the line has it at the turn-in, else the corner's outside."""
    outside = "left" if direction == "right" else "right"
    if offsets is None or "turn-in" not in offsets:
        return f"from the {outside}"
    offset = offsets["turn-in"]
    if abs(offset) < 1.0:
        return "from the middle"
    return f"from the {'left' if offset > 0.0 else 'right'}"
