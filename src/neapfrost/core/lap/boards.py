"""Where a brake starts, said relative to something that stands beside the road."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Mark:
    """A board or another reference: its label, the corner it belongs to, and its position [m]."""

    label: str
    corner: str | None
    at_m: float


@dataclass(frozen=True)
class BoardCall:
    """`metres` before or past the mark with this label."""

    label: str
    metres: float
    side: str


def signed_distance_m(from_m: float, to_m: float, length_m: float, closed: bool) -> float:
    """Distance from one position on to another [m]; on a closed lap the shorter way round."""
    distance = to_m - from_m
    if not closed:
        return distance
    return (distance + 0.5 * length_m) % length_m - 0.5 * length_m


def call_for(
    brake_start_m: float, corner: str, marks: list[Mark], length_m: float, closed: bool
) -> BoardCall | None:
    """Brake start relative to the nearest of the corner's marks; None where it has none."""
    own = [mark for mark in marks if mark.corner == corner]
    if not own:
        return None
    past = {mark: signed_distance_m(mark.at_m, brake_start_m, length_m, closed) for mark in own}
    nearest = min(own, key=lambda mark: abs(past[mark]))
    side = "past" if past[nearest] >= 0.0 else "before"
    return BoardCall(nearest.label, abs(past[nearest]), side)
