"""One corner to scale, the approach running up the page: line, edges, boards and marks."""

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.formats.plan import BoardDocument, PlanDocument, ReferenceDocument
from neapfrost.services.corner_calls import known_corner
from neapfrost.services.ground import Ground, beside, ground_of, line_offset, road_of_lap
from neapfrost.services.predict import recall
from neapfrost.services.road_map import Way, edge_places
from neapfrost.services.roads import is_road

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


def corner_map(plan: PlanDocument, corner: int) -> CornerMap:
    """The surroundings of a corner (0 is the first) of a plan.

    Raises InputRefused for a corner that the lap does not have, and as `recall` does.
    """
    prediction = recall(plan, None)
    result = known_corner(prediction, corner)
    path = prediction.driven.lap.path
    extent = path.corners[corner]
    lead = result.brake_start_to_corner_m
    if result.lift_at_m is not None:
        back = extent.begins_at_m - result.lift_at_m
        lead = max(lead or 0.0, back % path.length_m if path.closed else back)
    things: list[BoardDocument | ReferenceDocument] = [
        *plan.circuit.boards,
        *plan.circuit.references,
    ]
    own = [thing for thing in things if thing.corner == result.name]
    road_plan = is_road(plan)
    ground = ground_of(plan) if plan.circuit.segments is not None else None
    reach = max(min(lead or 0.0, APPROACH_MOST_M), 20.0)
    from_m = extent.begins_at_m - reach - BEFORE_M
    to_m = extent.ends_at_m + AFTER_M
    if not path.closed:
        from_m, to_m = max(from_m, 0.0), min(to_m, path.length_m)
    at = np.arange(from_m, to_m, DRAWN_EVERY_M)

    def fold(places: Floats) -> Floats:
        return np.mod(places, path.length_m) if path.closed else places

    x, y = _line(ground, path.s_m, path.x_m, path.y_m, fold(at))
    turn = _turn(x, y)

    def turned(px: Floats, py: Floats) -> tuple[Floats, Floats]:
        dx, dy = px - x[0], py - y[0]
        return (
            dx * np.cos(turn) - dy * np.sin(turn),
            dx * np.sin(turn) + dy * np.cos(turn),
        )

    def way(px: Floats, py: Floats) -> Way:
        tx, ty = turned(px, py)
        return Way(x_m=np.round(tx, 2).tolist(), y_m=np.round(ty, 2).tolist())

    def place(at_m: float) -> tuple[float, float]:
        px, py = _line(ground, path.s_m, path.x_m, path.y_m, fold(np.array([at_m])))
        tx, ty = turned(px, py)
        return float(tx[0]), float(ty[0])

    marks = []
    for what, where in (
        ("lift", result.lift_at_m),
        ("brake", result.brake_start_at_m),
        ("turn-in", result.turn_in_at_m),
        ("apex", result.apex_at_m),
        ("slowest", result.min_speed_at_m),
        ("throttle", result.throttle_at_m),
        ("exit", result.ends_at_m),
    ):
        if where is not None:
            mark_x, mark_y = place(where)
            marks.append(MarkedPlace(what=what, at_m=where, x_m=mark_x, y_m=mark_y))
    braking = None
    if result.brake_start_at_m is not None and result.braking_distance_m is not None:
        along = result.brake_start_at_m + np.arange(0.0, result.braking_distance_m, DRAWN_EVERY_M)
        braking = way(*_line(ground, path.s_m, path.x_m, path.y_m, fold(along)))
    left = right = None
    sides: list[SideStretch] = []
    offsets = None
    if ground is not None and road_plan:
        middle = ground.road.middle
        road_m = road_of_lap(ground, fold(at))
        left = way(*beside(ground, road_m, np.interp(road_m, middle.s_m, ground.road.left_m)))
        right = way(*beside(ground, road_m, -np.interp(road_m, middle.s_m, ground.road.right_m)))
        low, high = float(road_m[0]), float(road_m[-1])
        for edge in plan.circuit.edges:
            places = np.asarray(edge_places(edge, middle))
            near = _between(places, low, high, middle.length_m, middle.closed)
            if near.any():
                side = 1.0 if edge.side == "left" else -1.0
                wide = ground.road.left_m if side > 0.0 else ground.road.right_m
                within = np.mod(places, middle.length_m) if middle.closed else places
                offset = side * np.interp(within, middle.s_m, wide)
                drawn = way(*beside(ground, places[near], offset[near]))
                sides.append(SideStretch(kind=edge.kind, use=edge.use, way=drawn))
        offsets = {
            mark.what: float(line_offset(ground, road_of_lap(ground, np.array([mark.at_m])))[0])
            for mark in marks
        }
    boards = []
    for thing in own:
        board = _standing(ground, plan, thing.at_m, result.direction)
        if board is None:
            continue
        (bx, by), lap_m = board
        tx, ty = turned(np.array([bx]), np.array([by]))
        ahead = (lap_m - from_m) % path.length_m if path.closed else lap_m - from_m
        if not 0.0 <= ahead <= to_m - from_m:
            continue
        line_x, line_y = place(lap_m)
        boards.append(
            StandingThing(
                label=thing.label,
                at_m=lap_m,
                x_m=float(tx[0]),
                y_m=float(ty[0]),
                line_x_m=line_x,
                line_y_m=line_y,
                chosen=result.board_call is not None and result.board_call.label == thing.label,
            )
        )
    radius = None
    if result.lateral_g > 0.01:
        radius = result.min_speed_ms**2 / (result.lateral_g * STANDARD_GRAVITY_MS2)
    return CornerMap(
        at_m=np.round(at, 2).tolist(),
        line=way(x, y),
        left=left,
        right=right,
        braking=braking,
        marks=marks,
        boards=boards,
        sides=sides,
        driven_radius_m=radius,
        offsets_m=offsets,
        approach=_approach(result.direction, offsets),
    )


def _line(
    ground: Ground | None, s: Floats, x: Floats, y: Floats, at_m: Floats
) -> tuple[Floats, Floats]:
    """Places along the driven line: on the ground where the road is known, else by its own path."""
    if ground is None:
        return np.interp(at_m, s, x), np.interp(at_m, s, y)
    road_m = road_of_lap(ground, at_m)
    return beside(ground, road_m, line_offset(ground, road_m))


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


def _standing(
    ground: Ground | None, plan: PlanDocument, road_m: float, direction: str
) -> tuple[tuple[float, float], float] | None:
    """Where a thing beside the road stands, on the outside, and where the lap passes it [m]."""
    if ground is None:
        return None
    side = 1.0 if direction == "right" else -1.0
    wide = ground.road.left_m if side > 0.0 else ground.road.right_m
    aside = ASIDE_M
    if is_road(plan):
        aside += float(np.interp(road_m, ground.road.middle.s_m, wide))
    east, north = beside(ground, np.array([road_m]), np.array([side * aside]))
    lap_m = np.linspace(0.0, ground.driven.length_m, 2001)
    lap = float(np.interp(road_m, road_of_lap(ground, lap_m), lap_m))
    return (float(east[0]), float(north[0])), lap


def _approach(direction: str, offsets: dict[str, float] | None) -> str:
    """Which side to come from: as the line has it at the turn-in, else the corner's outside."""
    outside = "left" if direction == "right" else "right"
    if offsets is None or "turn-in" not in offsets:
        return f"from the {outside}"
    offset = offsets["turn-in"]
    if abs(offset) < 1.0:
        return "from the middle"
    return f"from the {'left' if offset > 0.0 else 'right'}"
