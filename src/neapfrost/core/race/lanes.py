"""Lanes of banked corners: their laps, their tyres' work, and which is quicker over a long run."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.path.build import Path
from neapfrost.core.path.circuit import Bend, Circuit, Segment


@dataclass(frozen=True)
class Lane:
    """Metres outside of the stated radius, degrees of bank added to it, a factor on its grip."""

    name: str
    outside_m: float = 0.0
    bank_change_deg: float = 0.0
    grip_factor: float = 1.0


def in_lane(circuit: Circuit, enters: Lane, leaves: Lane | None = None) -> Circuit:
    """A circuit driven in one lane, or entered in one and left in another.

    Every corner keeps its angle; its radius goes from the lane it is entered in to the one it is
    left in, bank and grip are the mean of both. The straights stay.
    """
    leaves = leaves or enters
    segments: list[Segment] = []
    for segment in circuit.segments:
        if not isinstance(segment, Bend):
            segments.append(segment)
            continue
        end = segment.end_radius_m if segment.end_radius_m is not None else segment.radius_m
        last = end + leaves.outside_m
        first = segment.radius_m + enters.outside_m
        segments.append(
            replace(
                segment,
                radius_m=first,
                end_radius_m=None if abs(last - first) < 1e-9 else last,
                banking_deg=segment.banking_deg
                + 0.5 * (enters.bank_change_deg + leaves.bank_change_deg),
                grip_factor=segment.grip_factor * 0.5 * (enters.grip_factor + leaves.grip_factor),
            )
        )
    return replace(circuit, segments=tuple(segments))


def in_plan(path: Path, enters: Lane, leaves: Lane, at_m: Floats) -> tuple[Floats, Floats]:
    """Where a line lies in plan beside the stated one, (m,) and (m,), at places of the latter.

    Every corner is entered in one lane and left in the other; between them the line changes evenly.
    """
    places: list[float] = []
    lefts: list[float] = []
    for corner in path.corners:
        places += [corner.begins_at_m, corner.ends_at_m]
        lefts += [-corner.turn * enters.outside_m, -corner.turn * leaves.outside_m]
    if path.closed and places:
        places = [*places, places[0] + path.length_m]
        lefts = [*lefts, lefts[0]]
    left = np.zeros_like(at_m)
    if places:
        ahead = places[0] + (at_m - places[0]) % path.length_m if path.closed else at_m
        left = np.interp(ahead, places, lefts)
    heading = np.interp(at_m, path.s_m, path.heading_rad)
    x_m, y_m = np.interp(at_m, path.s_m, path.x_m), np.interp(at_m, path.s_m, path.y_m)
    return x_m - left * np.sin(heading), y_m + left * np.cos(heading)
