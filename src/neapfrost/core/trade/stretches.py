"""A lap cut into its corners and its straights, so that a change can be charged to each."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.compare import DrivenLap, lead_m
from neapfrost.core.lap.record import Lap, elapsed_s

#: A way between two corners shorter than this is no straight of its own [m].
STRAIGHT_SHORTEST_M = 1.0


@dataclass(frozen=True)
class Stretch:
    """A corner, from where the driver first lifts for it to its end, or the straight after one.

    `corner` counts from 0; a straight has that of the corner it comes after, -1 from the start of
    an open course. Places are unfolded [m].
    """

    corner: int
    straight: bool
    from_m: float
    to_m: float


def stretches(lap: DrivenLap) -> tuple[Stretch, ...]:
    """The lap in stretches that follow each other and make up all of it; shape (k,).

    A corner begins where its driver lifts, but not before the corner before has ended; where two
    are so close that no straight is left, the earlier one ends where the later begins.
    """
    path = lap.lap.path
    length, ring = path.length_m, path.ring
    corners = path.corners
    if not corners:
        return (Stretch(-1, True, 0.0, length),)
    begins = [
        corner.begins_at_m - lead_m(result, ring)
        for corner, result in zip(corners, lap.corners, strict=True)
    ]
    ends = [corner.ends_at_m for corner in corners]
    last = begins[0] + length if path.closed else length
    if path.closed:
        begins[0] = max(begins[0], ends[-1] - length)
        last = begins[0] + length
    else:
        begins[0] = max(begins[0], 0.0)
    for number in range(1, len(begins)):
        begins[number] = min(max(begins[number], begins[number - 1]), last)
        begins[number] = max(begins[number], min(ends[number - 1], corners[number].begins_at_m))
    found = []
    if not path.closed and begins[0] > STRAIGHT_SHORTEST_M:
        found.append(Stretch(-1, True, 0.0, begins[0]))
    elif not path.closed:
        begins[0] = 0.0
    for number, begin in enumerate(begins):
        following = begins[number + 1] if number + 1 < len(begins) else last
        end = min(max(ends[number], begin), following)
        if following - end <= STRAIGHT_SHORTEST_M:
            end = following
        found.append(Stretch(number, False, begin, end))
        if end < following:
            found.append(Stretch(number, True, end, following))
    return tuple(found)


def stretch_times_s(lap: Lap, cut: tuple[Stretch, ...]) -> Floats:
    """Time on each stretch [s] (k,), of this lap or of another one over the same path."""
    edges = np.array([cut[0].from_m, *(stretch.to_m for stretch in cut)])
    if not lap.path.closed:
        edges = np.clip(edges, 0.0, lap.path.length_m)
    times: Floats = np.diff(elapsed_s(lap, edges))
    return times
