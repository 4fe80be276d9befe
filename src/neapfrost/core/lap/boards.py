"""Where a brake starts, said relative to something that stands beside the road."""

from dataclasses import dataclass

from neapfrost.core.path.ring import Ring


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


def call_for(brake_start_m: float, corner: str, marks: list[Mark], ring: Ring) -> BoardCall | None:
    """Brake start relative to the nearest of the corner's marks; None where it has none."""
    own = [mark for mark in marks if mark.corner == corner]
    if not own:
        return None
    nearest = min(own, key=lambda mark: abs(ring.apart(mark.at_m, brake_start_m)))
    past = ring.apart(nearest.at_m, brake_start_m)
    return BoardCall(nearest.label, abs(past), "past" if past >= 0.0 else "before")
