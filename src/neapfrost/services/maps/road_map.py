"""A circuit's road over a map: its middle, its edges, and what lies along them."""

import numpy as np
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path
from neapfrost.formats.plan import CircuitDocument, EdgeDocument
from neapfrost.services.roads.road import Road, road_of

#: Nodes that a map of the road is drawn with at the most.
DRAWN_MOST = 1200


class Way(BaseModel):
    """A way over the map [m]."""

    x_m: list[float]
    y_m: list[float]


class DrawnEdge(BaseModel):
    """Something along an edge: what it is, and its way over the map."""

    number: int
    edge: EdgeDocument
    way: Way


class RoadMap(BaseModel):
    """The road of a circuit at its nodes, not closed by force, and what lies along its edges."""

    road_at_m: list[float]
    middle: Way
    left: Way
    right: Way
    edges: list[DrawnEdge]


def road_map(circuit: CircuitDocument) -> RoadMap:
    """The road of a circuit of straights and corners over a map."""
    road = road_of(circuit)
    middle = road.middle
    pick = np.unique(
        np.linspace(0, len(middle.s_m) - 1, min(len(middle.s_m), DRAWN_MOST)).astype(np.int64)
    )

    def drawn(offset_m: Floats) -> Way:
        whole = way(middle, offset_m)
        return Way(
            x_m=[whole.x_m[k] for k in pick.tolist()], y_m=[whole.y_m[k] for k in pick.tolist()]
        )

    return RoadMap(
        road_at_m=rounded(middle.s_m[pick], 2),
        middle=drawn(np.zeros(len(middle.s_m))),
        left=drawn(road.left_m),
        right=drawn(-road.right_m),
        edges=[drawn_edge(road, number, edge) for number, edge in enumerate(circuit.edges)],
    )


def way(road: Path, offset_m: Floats) -> Way:
    """Points at offsets from the middle of a road; shapes (n + 1,)."""
    return Way(
        x_m=rounded(road.x_m - offset_m * np.sin(road.heading_rad), 2),
        y_m=rounded(road.y_m + offset_m * np.cos(road.heading_rad), 2),
    )


def drawn_edge(road: Road, number: int, edge: EdgeDocument) -> DrawnEdge:
    """What lies along an edge, over the map."""
    middle = road.middle
    places = edge_places(edge, middle)
    base = road.left_m if edge.side == "left" else -road.right_m
    outwards = 1.0 if edge.side == "left" else -1.0
    out = {"kerb": 0.5 * edge.width_m, "dust": -0.5 * edge.width_m, "wall": 0.0}[edge.kind]
    folded = middle.ring.fold(places)
    offset = np.interp(folded, middle.s_m, base) + outwards * out
    heading = np.interp(folded, middle.s_m, middle.heading_rad)
    return DrawnEdge(
        number=number,
        edge=edge,
        way=Way(
            x_m=rounded(np.interp(folded, middle.s_m, middle.x_m) - offset * np.sin(heading), 2),
            y_m=rounded(np.interp(folded, middle.s_m, middle.y_m) + offset * np.cos(heading), 2),
        ),
    )


def edge_places(edge: EdgeDocument, road: Path) -> Floats:
    """Road positions along a stretch of edge, every few metres, unfolded [m]."""
    to_m = edge.to_m
    if road.closed and to_m <= edge.from_m:
        to_m += road.length_m
    return np.linspace(edge.from_m, to_m, max(2, round((to_m - edge.from_m) / 3.0) + 1))


def rounded(values: Floats, decimals: int) -> list[float]:
    """Values as a list, rounded."""
    values_list: list[float] = np.round(values, decimals).tolist()
    return values_list
