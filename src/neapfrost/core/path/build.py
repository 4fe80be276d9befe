"""The path as the solver takes it: a grid of steps with what the road does in each."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import (
    CORNER_EDGE_SHARE,
    DEFAULT_STEP_M,
    LAP_LONGEST_M,
    LAP_SHORTEST_M,
)
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import metres
from neapfrost.core.path.bank import bank_channel
from neapfrost.core.path.bends_found import find_corners
from neapfrost.core.path.channel import Channel, from_pieces, from_points, step_values
from neapfrost.core.path.circuit import Circuit, Stations
from neapfrost.core.path.plan_view import (
    Extent,
    corner_extents,
    curvature_channel,
    segment_length_m,
)
from neapfrost.core.path.ring import Ring
from neapfrost.core.path.slope import (
    Slope,
    blended_grades,
    slope_from_elevation,
    slope_from_grades,
)


@dataclass(frozen=True)
class Corner:
    """A corner on the path: extent, and where it is turned into and clipped [m].

    Positions may lie beyond the finish line of a closed path; they are folded when reported.
    """

    name: str
    turn: int
    begins_at_m: float
    ends_at_m: float
    turn_in_at_m: float
    apex_at_m: float


@dataclass(frozen=True, eq=False)
class Path:
    """A driven path on a grid of n steps.

    Shapes: `s_m`, `x_m`, `y_m`, `z_m`, `heading_rad` (n + 1,), at the nodes; every pair
    `…_start`, `…_end` (n,), at the two ends of each step as seen from inside it, so that a
    quantity may jump at a node. Curvature and bank are positive to the left, the slope uphill,
    `heading_rad` counter-clockwise from the x axis (which points along the first heading).
    """

    closed: bool
    s_m: Floats
    curvature_start: Floats
    curvature_end: Floats
    bank_start: Floats
    bank_end: Floats
    slope: Slope
    grip_start: Floats
    grip_end: Floats
    heading_rad: Floats
    north_deg: float
    x_m: Floats
    y_m: Floats
    z_m: Floats
    corners: tuple[Corner, ...]
    sectors_at_m: tuple[float, ...]
    start_speed_ms: float
    altitude_m: float

    @cached_property
    def length_m(self) -> float:
        """Length along the road's surface [m]."""
        return float(self.s_m[-1])

    @cached_property
    def ring(self) -> Ring:
        """Positions along it, which go round where it is closed."""
        return Ring(self.length_m, self.closed)

    @property
    def closing_gap_m(self) -> float:
        """How far the end lies from the start in plan [m]; driven segments rarely close."""
        return float(np.hypot(self.x_m[-1] - self.x_m[0], self.y_m[-1] - self.y_m[0]))


def build_path(circuit: Circuit, step_m: float = DEFAULT_STEP_M) -> Path:
    """Lay the solver's grid along a circuit, with steps of at most `step_m`.

    Every boundary between pieces of road is a node, so no length depends on the step.
    Raises InputRefused for a lap shorter than 100 m or longer than 50 km.
    """
    if circuit.stations is None:
        curvature = curvature_channel(circuit.segments)
        bank = bank_channel(circuit.segments, circuit.closed)
        lengths = [segment_length_m(segment) for segment in circuit.segments]
        grades = blended_grades(
            [(n, s.grade_pct / 100.0) for n, s in zip(lengths, circuit.segments, strict=True)],
            circuit.grade_blend_m,
            circuit.closed,
        )
        grip = from_pieces(
            [
                (n, s.grip_factor, s.grip_factor)
                for n, s in zip(lengths, circuit.segments, strict=True)
            ]
        )
        extents = corner_extents(circuit.segments)
    else:
        curvature, bank, grades, grip = _station_channels(circuit.stations)
        extents = _station_extents(circuit.stations, circuit.closed)

    length = float(curvature.end[-1])
    _refuse_length(length, circuit.stations is None)
    nodes = _grid([curvature, bank, grades, grip], length, step_m)
    if circuit.elevation:
        slope = slope_from_elevation(circuit.elevation, length, circuit.closed, nodes)
    else:
        slope = slope_from_grades(grades, nodes)

    curvature_start, curvature_end = step_values(curvature, nodes)
    bank_start, bank_end = step_values(bank, nodes)
    grip_start, grip_end = step_values(grip, nodes)
    steps = np.diff(nodes)
    turned = 0.5 * (curvature_start + curvature_end) * steps
    heading = np.concatenate(([0.0], np.cumsum(turned)))
    x, y, z = _positions(heading, curvature_start, curvature_end, slope, steps)
    corners = tuple(
        _corner(extent, nodes, curvature_start, curvature_end, circuit.stations)
        for extent in extents
    )
    return Path(
        closed=circuit.closed,
        s_m=nodes,
        curvature_start=curvature_start,
        curvature_end=curvature_end,
        bank_start=bank_start,
        bank_end=bank_end,
        slope=slope,
        grip_start=grip_start,
        grip_end=grip_end,
        heading_rad=heading,
        north_deg=circuit.north_deg,
        x_m=x,
        y_m=y,
        z_m=z,
        corners=corners,
        sectors_at_m=tuple(at for at in circuit.sectors_at_m if 0.0 < at < length),
        start_speed_ms=circuit.start_speed_ms or 0.0,
        altitude_m=circuit.altitude_m,
    )


def _refuse_length(length: float, by_segments: bool) -> None:
    field = "circuit.segments" if by_segments else "circuit.stations.at_m"
    if length < LAP_SHORTEST_M or length > LAP_LONGEST_M:
        raise InputRefused(
            [
                Fault(
                    field,
                    f"the lap is {metres(length, 1)} long; it must be between "
                    f"{metres(LAP_SHORTEST_M)} and {LAP_LONGEST_M / 1000:.0f} km",
                )
            ]
        )


def _station_channels(stations: Stations) -> tuple[Channel, Channel, Channel, Channel]:
    at = np.array(stations.at_m)

    def column(values: tuple[float, ...], default: float, scale: float = 1.0) -> Channel:
        data = np.array(values) * scale if values else np.full(len(at), default)
        return from_points(at, data)

    return (
        column(stations.curvature_per_m, 0.0),
        column(stations.bank_left_deg, 0.0, np.pi / 180.0),
        column(stations.grade_pct, 0.0, 0.01),
        column(stations.grip_factor, 1.0),
    )


def _station_extents(stations: Stations, closed: bool) -> tuple[Extent, ...]:
    at, curvature = np.array(stations.at_m), np.array(stations.curvature_per_m)
    if not stations.corners:
        return find_corners(at, curvature, closed)
    length = at[-1]
    extents = []
    for corner in stations.corners:
        end = corner.ends_at_m
        if closed and end <= corner.begins_at_m:
            end += length
        places = np.linspace(corner.begins_at_m, end, 201)
        bend = np.interp(np.mod(places, length) if closed else places, at, curvature)
        turn = 1 if bend[np.argmax(np.abs(bend))] >= 0.0 else -1
        extents.append(Extent(corner.name, turn, corner.begins_at_m, end))
    return tuple(extents)


def _grid(channels: list[Channel], length: float, step_m: float) -> Floats:
    """Nodes at every break, with equal steps of at most `step_m` between two breaks."""
    breaks = np.unique(np.concatenate([channel.breaks for channel in channels]))
    breaks = breaks[(breaks > 1e-6) & (breaks < length - 1e-6)]
    breaks = np.concatenate(([0.0], breaks, [length]))
    # Breaks computed along different channels may differ by rounding alone.
    keep = np.concatenate(([True], np.diff(breaks) > 1e-6))
    breaks = breaks[keep]
    counts = np.maximum(1, np.ceil(np.diff(breaks) / step_m - 1e-9).astype(int))
    piece = np.repeat(np.arange(len(counts)), counts)
    within = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
    nodes = breaks[piece] + (breaks[piece + 1] - breaks[piece]) * within / counts[piece]
    return np.append(nodes, length)


def _positions(
    heading: Floats, curvature_start: Floats, curvature_end: Floats, slope: Slope, steps: Floats
) -> tuple[Floats, Floats, Floats]:
    """Plan position and height of the nodes, by Simpson's rule over each step."""
    middle = heading[:-1] + (3.0 * curvature_start + curvature_end) * steps / 8.0
    level = steps * np.cos(0.5 * (slope.angle_start + slope.angle_end))
    dx = level / 6.0 * (np.cos(heading[:-1]) + 4.0 * np.cos(middle) + np.cos(heading[1:]))
    dy = level / 6.0 * (np.sin(heading[:-1]) + 4.0 * np.sin(middle) + np.sin(heading[1:]))
    dz = steps * 0.5 * (np.sin(slope.angle_start) + np.sin(slope.angle_end))
    zero = np.zeros(1)
    return (
        np.concatenate((zero, np.cumsum(dx))),
        np.concatenate((zero, np.cumsum(dy))),
        np.concatenate((zero, np.cumsum(dz))),
    )


def _corner(
    extent: Extent, nodes: Floats, start: Floats, end: Floats, stations: Stations | None
) -> Corner:
    """Turn-in and apex of a corner: |κ| first above 10 % of its peak, and the peak itself.

    A constant radius has no single peak: its apex is the middle of the peak. Where the path's
    offset from the road's middle is known, the apex is where it comes nearest the inner edge.
    """
    length = nodes[-1]
    middle = 0.5 * (nodes[:-1] + nodes[1:])
    wraps = extent.ends_at_m > length
    position = np.where(wraps & (middle < extent.begins_at_m), middle + length, middle)
    inside = np.flatnonzero((position > extent.begins_at_m) & (position < extent.ends_at_m))
    if len(inside) == 0:
        centre = 0.5 * (extent.begins_at_m + extent.ends_at_m)
        return Corner(
            extent.name, extent.turn, extent.begins_at_m, extent.ends_at_m, centre, centre
        )
    inside = inside[np.argsort(position[inside], kind="stable")]
    shift = position[inside] - middle[inside]
    from_m, to_m = nodes[inside] + shift, nodes[inside + 1] + shift
    bend_from, bend_to = np.abs(start[inside]), np.abs(end[inside])
    peak = max(bend_from.max(), bend_to.max())

    edge = CORNER_EDGE_SHARE * peak
    first = int(np.argmax(np.maximum(bend_from, bend_to) > edge))
    turn_in = from_m[first]
    if bend_from[first] < edge:
        share = (edge - bend_from[first]) / (bend_to[first] - bend_from[first])
        turn_in = from_m[first] + share * (to_m[first] - from_m[first])

    if stations is not None and stations.offset_m:
        offset = np.interp(np.mod(from_m, length), stations.at_m, stations.offset_m)
        apex = from_m[int(np.argmax(offset * extent.turn))]
    else:
        top = peak * (1.0 - 1e-9)
        ends = np.concatenate((from_m[bend_from >= top], to_m[bend_to >= top]))
        apex = 0.5 * (ends.min() + ends.max())
    return Corner(
        extent.name,
        extent.turn,
        float(extent.begins_at_m),
        float(extent.ends_at_m),
        float(max(turn_in, extent.begins_at_m)),
        float(apex),
    )
