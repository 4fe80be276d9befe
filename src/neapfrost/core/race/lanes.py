"""Lanes of banked corners: their laps, their tyres' work, and which is quicker over a long run."""

from dataclasses import dataclass, replace

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
