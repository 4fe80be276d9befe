"""What each tyre is worked with along a lap: which one hardest, in which corner, and what eases it.

Sliding energy of an axle for each metre is its force times its slip; the slip follows from the
share of the grip in use and a stated slip at the limit. Within an axle it is shared like the loads.
"""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.road import Y0, Y2
from neapfrost.core.kernels.tyre_work import axle_work
from neapfrost.core.lap.record import Lap

#: The tyres in the order of every column here.
TYRES = ("front left", "front right", "rear left", "rear right")


@dataclass(frozen=True)
class TyreFigures:
    """What the work of single tyres stands on: stated figures of a vehicle.

    `slip_at_limit` is the slip at which a tyre gives all it has, as a share; `track_width_m` None
    where left and right are not told apart (a motorcycle); `transfer_front` the front axle's share
    of the load moved sideways.
    """

    slip_at_limit: float = 0.10
    track_width_m: float | None = None
    cg_height_m: float = 0.0
    transfer_front: float = 0.5


@dataclass(frozen=True, eq=False)
class TyreWork:
    """Sliding energy of a lap [J]: `along` (m, 4) in each interval between its points (m + 1,)."""

    s_m: Floats
    along_j: Floats

    @property
    def each_j(self) -> Floats:
        """Of each tyre over the lap (4,) [J]."""
        total: Floats = self.along_j.sum(axis=0)
        return total

    @property
    def total_mj(self) -> float:
        """Of all of them [MJ]."""
        return float(self.along_j.sum()) / 1e6


def tyre_work(lap: Lap, figures: TyreFigures) -> TyreWork:
    """The work of each tyre along a lap."""
    case, road = lap.packed.case, lap.packed.road
    length = np.diff(lap.s_m)
    w = 0.5 * (lap.v_ms[:-1] ** 2 + lap.v_ms[1:] ** 2)
    axles = np.empty((len(length), 4))
    axle_work(
        case,
        road,
        lap.step[:-1],
        np.minimum(lap.share[:-1], 1.0),
        w,
        lap.force_n[:-1],
        figures.slip_at_limit,
        axles,
    )
    left_front, left_rear = _left_shares(lap, figures, axles[:, 2], axles[:, 3])
    along = np.column_stack(
        (
            axles[:, 0] * left_front,
            axles[:, 0] * (1.0 - left_front),
            axles[:, 1] * left_rear,
            axles[:, 1] * (1.0 - left_rear),
        )
    )
    return TyreWork(lap.s_m, along * length[:, None])


def corner_work_j(lap: Lap, work: TyreWork) -> Floats:
    """Work of each tyre at each corner (c, 4) [J]: in the zone and the corner nearest to it.

    What is driven between corners is the nearest one's; the sum over corners is the lap's.
    """
    middle = 0.5 * (lap.s_m[:-1] + lap.s_m[1:])
    count = len(lap.path.corners)
    found = np.zeros((count, 4))
    if count == 0:
        return found
    begins = np.array([corner.begins_at_m for corner in lap.path.corners])
    ends = np.array([corner.ends_at_m for corner in lap.path.corners])
    apart = np.full((len(middle), count), np.inf)
    for shift in lap.path.ring.shifts:
        at = middle[:, None] + shift
        away = np.maximum(np.maximum(begins - at, at - ends), 0.0)
        apart = np.minimum(apart, away)
    nearest = apart.argmin(axis=1)
    np.add.at(found, nearest, work.along_j)
    return found


def _left_shares(
    lap: Lap, figures: TyreFigures, front: Floats, rear: Floats
) -> tuple[Floats, Floats]:
    """The left tyre's share of its axle's load along a lap, front and rear, within 0 and 1.

    m·a_y·h/track moves to the outer side (Milliken, Race Car Vehicle Dynamics, 1995); to the left,
    which is positive, the right side is the outer one. a_y is felt along the road's own surface.
    """
    half = np.full(len(front), 0.5)
    if figures.track_width_m is None:
        return half, half
    road, step, share = lap.packed.road, lap.step[:-1], lap.share[:-1]
    w = lap.v_ms[:-1] ** 2
    demand = _between(road, step, share, Y0) + _between(road, step, share, Y2) * w
    moved = lap.drive.vehicle.total_mass_kg * demand * figures.cg_height_m / figures.track_width_m
    shares = []
    for load, part in ((front, figures.transfer_front), (rear, 1.0 - figures.transfer_front)):
        shares.append(np.clip(0.5 - part * moved / np.maximum(load, 1.0), 0.0, 1.0))
    return shares[0], shares[1]


def _between(road: Floats, step: Integers, share: Floats, column: int) -> Floats:
    first: Floats = road[step, 0, column]
    value: Floats = first + (road[step, 1, column] - first) * share
    return value
