"""A plan's road and driven line laid out on the ground, in one frame for maps and files."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import ResultDocument
from neapfrost.formats.tracks.read_track import degrees
from neapfrost.services.laps.predict import recall
from neapfrost.services.roads.road import Road, is_road, on_road, road_of


@dataclass(frozen=True, eq=False)
class Ground:
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


def ground_of(plan: PlanDocument) -> Ground:
    """Lay out the road and the line of a plan. Raises InputRefused as `recall` does."""
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
    return Ground(
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


def beside(ground: Ground, at_m: Floats, offset_m: Floats) -> tuple[Floats, Floats]:
    """East and north of places at offsets left of the middle [m]."""
    middle = ground.road.middle
    at = middle.ring.fold(at_m)
    heading = np.interp(at, middle.s_m, ground.heading_rad)
    return (
        np.interp(at, middle.s_m, ground.east_m) - offset_m * np.sin(heading),
        np.interp(at, middle.s_m, ground.north_m) + offset_m * np.cos(heading),
    )


def degrees_of(ground: Ground, east_m: Floats, north_m: Floats) -> tuple[Floats, Floats]:
    """Latitude and longitude of places, from where the start is stated to be."""
    circuit = ground.plan.circuit
    return degrees(east_m, north_m, (circuit.start_lat_deg or 0.0, circuit.start_lon_deg or 0.0))


def line_offset(ground: Ground, road_m: Floats) -> Floats:
    """Offset of the driven line left of the middle at road positions [m]."""
    return np.interp(road_m, ground.driven_road_m, ground.driven_offset_m)


def road_of_lap(ground: Ground, lap_m: Floats) -> Floats:
    """Road positions of distances along the lap [m]."""
    share = np.asarray(lap_m) / ground.driven.length_m
    if not is_road(ground.plan):
        return share * ground.road.middle.length_m
    laid = on_road(ground.plan)
    return np.interp(lap_m, laid.line.at_m, laid.road.middle.s_m)
