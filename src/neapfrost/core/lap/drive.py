"""Everything that a lap is solved from, in one record, and the same packed for the kernels."""

from dataclasses import dataclass, field

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.path.build import Path
from neapfrost.core.records import Conditions, Driver, Vehicle


@dataclass(frozen=True)
class CornerOrder:
    """What is otherwise at one corner (0 is the first); None where the lap is left alone.

    `gear` counts from 1; `braking` is a share of what tyres and brakes give on the way to the
    corner; `entry_exponent` how braking is combined with cornering there; `grip_factor` multiplies
    the surface's grip in the corner.
    """

    corner: int
    gear: int | None = None
    braking: float | None = None
    entry_exponent: float | None = None
    grip_factor: float | None = None

    @property
    def changes_approach(self) -> bool:
        """Whether the braking before the corner is otherwise."""
        return self.braking is not None or self.entry_exponent is not None


@dataclass(frozen=True, eq=False)
class Drive:
    """A vehicle over a path, in conditions, driven by a driver under orders at corners.

    The path says whether the lap is a flying one, else the speed it is started with. `road`
    (n, 2, 16) stands for the path's own packed road where something is otherwise on it, with the
    orders already in it: a trial is the same drive with another road or another record. So do the
    `lengths_m` (n,) of its steps, where the road is longer or shorter there than the path.
    """

    path: Path
    vehicle: Vehicle
    conditions: Conditions = field(default_factory=Conditions)
    driver: Driver = field(default_factory=Driver)
    orders: tuple[CornerOrder, ...] = ()
    road: Floats | None = None
    lengths_m: Floats | None = None


@dataclass(frozen=True, eq=False)
class Packed:
    """What the kernels read: the packed case, the road (n, 2, 16), its steps (n,) and the start."""

    case: Floats
    road: Floats
    lengths: Floats
    closed: bool
    start_w: float


def packed(drive: Drive) -> Packed:
    """A drive packed for the kernels; orders count only where they are in its road."""
    path = drive.path
    lengths = pack_road(path)[1]
    return Packed(
        case=pack_case(drive.vehicle, drive.conditions, drive.driver, path.altitude_m),
        road=road_of(drive),
        lengths=lengths if drive.lengths_m is None else drive.lengths_m,
        closed=path.closed,
        start_w=path.start_speed_ms**2,
    )


def road_of(drive: Drive) -> Floats:
    """The packed road that a drive goes over (n, 2, 16): one of its own, else its path's."""
    return pack_road(drive.path)[0] if drive.road is None else drive.road
