"""Where the time of a driven lap went against a predicted one, by corners and their parts."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.laps import DrivenLog
from neapfrost.core.lap.compare import DrivenLap, lead_m
from neapfrost.core.lap.record import Lap, time_at

PARTS = ("braking", "entry", "middle", "exit", "straight")


@dataclass(frozen=True)
class CornerLoss:
    """Time driven less time predicted at one corner [s], in the parts of the way through it.

    Braking from where the prediction lifts to where the corner begins; entry to its slowest place;
    middle to its full throttle; exit to its end; then the straight to where it next lifts.
    """

    braking_s: float
    entry_s: float
    middle_s: float
    exit_s: float
    straight_s: float

    @property
    def all_s(self) -> float:
        """All parts together."""
        return self.braking_s + self.entry_s + self.middle_s + self.exit_s + self.straight_s


def losses(
    driven: DrivenLog, predicted: DrivenLap, against: DrivenLog | None = None
) -> tuple[CornerLoss, ...]:
    """Every corner's loss; they add up to the difference of the laps.

    Against the predicted lap, or against another one in the predicted lap's parts.
    """
    edges = _edges(predicted)
    if len(edges) == 0:
        return ()
    other = _time_along(predicted.lap, edges) if against is None else against.time_at(edges)
    gone = driven.time_at(edges) - other
    steps = np.diff(gone).reshape(-1, len(PARTS))
    return tuple(CornerLoss(*(float(value) for value in row)) for row in steps)


def running_loss_s(driven: DrivenLog, lap: Lap | DrivenLog, at_m: Floats) -> Floats:
    """Time driven less time predicted up to places of the lap, or of another lap [s] (m,)."""
    other = lap.time_at(at_m) if isinstance(lap, DrivenLog) else time_at(lap, at_m)
    return driven.time_at(at_m) - other


def _time_along(lap: Lap, at_m: Floats) -> Floats:
    laps, within = np.divmod(at_m, lap.path.length_m)
    found: Floats = time_at(lap, within) + laps * lap.lap_time_s
    return found


def _edges(predicted: DrivenLap) -> Floats:
    """Where each part of each corner begins, and where the last one ends [m, unfolded]."""
    lap, ring = predicted.lap, predicted.lap.path.ring
    edges: list[float] = []
    for corner, on_path in zip(predicted.corners, lap.path.corners, strict=True):
        begins, ends = on_path.begins_at_m, on_path.ends_at_m
        lifts = begins - lead_m(corner, ring)
        low = begins + max(ring.apart(begins, corner.min_speed_at_m), 0.0)
        full = corner.full_throttle_at_m if corner.full_throttle_at_m is not None else None
        opened = low if full is None else low + ring.ahead(low, full)
        opened = min(opened, max(ends, low))
        for edge in (lifts, begins, low, opened, ends):
            edges.append(max(edge, edges[-1]) if edges else edge)
    if not edges:
        return np.array([])
    if not lap.path.closed:
        # All of the way counts: from the start on, and to the end.
        edges = [min(max(edge, 0.0), lap.path.length_m) for edge in edges]
        return np.array([0.0, *edges[1:], lap.path.length_m])
    return np.array([*edges, max(edges[0] + lap.path.length_m, edges[-1])])
