"""A circuit as it is described: straights and corners, or stations along a measured path."""

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Straight:
    """A straight: length [m], grade [%, uphill positive], grip factor."""

    length_m: float
    grade_pct: float = 0.0
    grip_factor: float = 1.0


@dataclass(frozen=True)
class Bend:
    """A corner as driven: name, `turn` (+1 left, -1 right), radius [m], turned angle [deg].

    `end_radius_m` changes the curvature linearly along the corner; `transition_m` adds a linear
    ramp at each end, `end_transition_m` another at the exit. `banking_deg` is positive when it
    helps this corner.
    """

    name: str
    turn: int
    radius_m: float
    angle_deg: float
    end_radius_m: float | None = None
    transition_m: float = 0.0
    end_transition_m: float | None = None
    banking_deg: float = 0.0
    grade_pct: float = 0.0
    grip_factor: float = 1.0


Segment = Straight | Bend


@dataclass(frozen=True)
class NamedStretch:
    """A corner of a measured path; on a closed one it may end beyond the finish line."""

    name: str
    begins_at_m: float
    ends_at_m: float


@dataclass(frozen=True)
class Stations:
    """A driven path by stations, linear between them; optional columns may be empty.

    `curvature_per_m` is positive to the left, `bank_left_deg` positive where it helps a left turn,
    `offset_m` the distance left of the road's middle, `road_at_m` the position along the road.
    """

    at_m: tuple[float, ...]
    curvature_per_m: tuple[float, ...]
    bank_left_deg: tuple[float, ...] = ()
    grade_pct: tuple[float, ...] = ()
    grip_factor: tuple[float, ...] = ()
    road_at_m: tuple[float, ...] = ()
    offset_m: tuple[float, ...] = ()
    corners: tuple[NamedStretch, ...] = ()


@dataclass(frozen=True)
class Circuit:
    """A closed circuit or an open course, described by `segments` or by `stations`.

    `north_deg` is the compass bearing of the heading at s = 0. `elevation` holds (at_m, z_m)
    points that replace grades. `start_speed_ms` is for open courses; 0 is a standing start.
    """

    name: str
    closed: bool
    segments: tuple[Segment, ...] = ()
    stations: Stations | None = None
    north_deg: float = 0.0
    altitude_m: float = 0.0
    start_speed_ms: float | None = None
    grade_blend_m: float = 60.0
    elevation: tuple[tuple[float, float], ...] = ()
    sectors_at_m: tuple[float, ...] = field(default=())
