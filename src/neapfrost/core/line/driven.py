"""A line over a road as a path of its own, which the lap solver drives."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import CORNER_EDGE_SHARE
from neapfrost.core.line.corridor import Corridor, dust_grip
from neapfrost.core.line.ground import at_nodes, ground_of, slopes_under
from neapfrost.core.line.shape import Shape
from neapfrost.core.path.build import Corner, Path
from neapfrost.core.path.circuit import Circuit, NamedStretch, Stations


@dataclass(frozen=True, eq=False)
class DrivenLine:
    """A line as stations of its own, and its length along itself at the road's nodes [m]."""

    stations: Stations
    at_m: Floats


def line_lengths_m(road: Path, shape: Shape) -> Floats:
    """Distance along the line at every node of the road [m], (n + 1,)."""
    n, xi = shape.offset_m, shape.heading_rad
    stretch0 = (1.0 - n[:-1] * road.curvature_start) / np.cos(xi[:-1])
    stretch1 = (1.0 - n[1:] * road.curvature_end) / np.cos(xi[1:])
    steps = 0.5 * np.diff(road.s_m) * (stretch0 + stretch1)
    return np.concatenate(([0.0], np.cumsum(steps)))


def driven_line(field: Corridor, shape: Shape) -> DrivenLine:
    """Curvature, bank, grade and grip along a line, with the road's corners on it.

    The curvature is the line's own, never taken again from its points. Grade and bank are those of
    the road's surface along the line and across it.
    """
    road = field.road
    at = line_lengths_m(road, shape)
    grade, bank_tangent = slopes_under(
        ground_of(road), shape.offset_m, np.cos(shape.heading_rad), np.sin(shape.heading_rad)
    )
    grip = at_nodes(road.grip_start, road.grip_end, road.closed) * dust_grip(field, shape.offset_m)
    stations = Stations(
        at_m=_column(at),
        curvature_per_m=_column(shape.curvature_per_m),
        bank_left_deg=_column(np.degrees(np.arctan(bank_tangent))),
        grade_pct=_column(100.0 * grade),
        grip_factor=_column(grip),
        road_at_m=_column(road.s_m),
        offset_m=_column(shape.offset_m),
        corners=tuple(_named(road, corner, at, shape.curvature_per_m) for corner in road.corners),
    )
    return DrivenLine(stations, at)


def driven_circuit(circuit: Circuit, line: DrivenLine, road: Path) -> Circuit:
    """The circuit as driven along a line: sector lines stand where they stand on the road."""
    return Circuit(
        name=circuit.name,
        closed=circuit.closed,
        stations=line.stations,
        north_deg=circuit.north_deg,
        altitude_m=circuit.altitude_m,
        start_speed_ms=circuit.start_speed_ms,
        grade_blend_m=circuit.grade_blend_m,
        sectors_at_m=tuple(float(np.interp(s, road.s_m, line.at_m)) for s in circuit.sectors_at_m),
    )


def _column(values: Floats) -> tuple[float, ...]:
    return tuple(values.tolist())


def _named(road: Path, corner: Corner, at: Floats, curvature: Floats) -> NamedStretch:
    """A road's corner on the line: where the line's curvature is above 10 % of its peak there.

    Looked for around the road's corner, as far as half way to its neighbours. A line that does not
    turn there keeps the road's own extent.
    """
    low, high = _room(road, corner)
    places = np.linspace(low, high, 1 + max(8, round((high - low) / 0.5)))
    folded = road.ring.fold(places)
    bend = corner.turn * np.interp(folded, road.s_m, curvature)
    own = (places >= corner.begins_at_m) & (places <= corner.ends_at_m)
    peak = int(np.argmax(np.where(own, bend, -np.inf)))
    begins, ends = corner.begins_at_m, corner.ends_at_m
    if bend[peak] > 1e-5:
        above = bend > CORNER_EDGE_SHARE * bend[peak]
        before = np.flatnonzero(~above[:peak])
        after = np.flatnonzero(~above[peak:])
        begins = float(places[before[-1] + 1]) if len(before) else low
        ends = float(places[peak + after[0] - 1]) if len(after) else high
    return NamedStretch(
        corner.name,
        float(np.interp(_folded(road, begins), road.s_m, at)),
        float(np.interp(_folded(road, ends), road.s_m, at)),
    )


def _folded(road: Path, at_m: float) -> float:
    return at_m % road.length_m if road.closed else min(max(at_m, 0.0), road.length_m)


def _room(road: Path, corner: Corner) -> tuple[float, float]:
    """As far as half way to the corners before and after [m], unfolded."""
    number = road.corners.index(corner)
    count = len(road.corners)
    before = road.corners[number - 1] if number > 0 or road.closed else None
    after = road.corners[(number + 1) % count] if number + 1 < count or road.closed else None
    low, high = 0.0, road.length_m
    if before is not None:
        ended = before.ends_at_m - (road.length_m if number == 0 else 0.0)
        low = 0.5 * (ended + corner.begins_at_m)
    if after is not None:
        starts = after.begins_at_m + (road.length_m if number + 1 == count else 0.0)
        high = 0.5 * (corner.ends_at_m + starts)
    return low, high
