"""Bank along a segment list: full where the corner's curvature is, changed on the approach."""

import math

from neapfrost.core.constants import BANK_APPROACH_M
from neapfrost.core.path.channel import Channel, from_pieces
from neapfrost.core.path.circuit import Bend, Segment
from neapfrost.core.path.plan_view import core_length_m, ramps_m


def bank_channel(segments: tuple[Segment, ...], closed: bool) -> Channel:
    """Bank [rad, positive helps a left turn] along the segments.

    A corner with a transition changes its bank over the transition; one without over 20 m of the
    straight beside it (half of that straight where banked corners stand at both its ends). Where
    no straight lies between two corners the bank changes where they meet.
    """
    pieces: list[tuple[float, float, float]] = []
    for index, segment in enumerate(segments):
        if isinstance(segment, Bend):
            bank = _bank_left_rad(segment)
            ramp_in, ramp_out = ramps_m(segment)
            pieces.append((ramp_in, 0.0, bank))
            pieces.append((core_length_m(segment), bank, bank))
            pieces.append((ramp_out, bank, 0.0))
            continue
        before = _bank_spilling_over(_neighbour(segments, index, -1, closed), 1)
        after = _bank_spilling_over(_neighbour(segments, index, +1, closed), 0)
        room = segment.length_m / 2.0 if before and after else segment.length_m
        ramp = min(BANK_APPROACH_M, room)
        ramp_out = ramp if before else 0.0
        ramp_in = ramp if after else 0.0
        pieces.append((ramp_out, before, 0.0))
        pieces.append((segment.length_m - ramp_out - ramp_in, 0.0, 0.0))
        pieces.append((ramp_in, 0.0, after))
    return from_pieces(pieces)


def _bank_left_rad(bend: Bend) -> float:
    return bend.turn * math.radians(bend.banking_deg)


def _bank_spilling_over(segment: Segment | None, end: int) -> float:
    """Bank that a neighbour without a ramp at its entry (0) or exit (1) leaves to the straight."""
    if isinstance(segment, Bend) and ramps_m(segment)[end] == 0.0:
        return _bank_left_rad(segment)
    return 0.0


def _neighbour(
    segments: tuple[Segment, ...], index: int, offset: int, closed: bool
) -> Segment | None:
    other = index + offset
    if closed:
        return segments[other % len(segments)]
    return segments[other] if 0 <= other < len(segments) else None
