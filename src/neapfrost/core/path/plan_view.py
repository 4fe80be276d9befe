"""Curvature and corners of a segment list."""

import math
from dataclasses import dataclass

from neapfrost.core.path.channel import Channel, from_pieces
from neapfrost.core.path.circuit import Bend, Segment, Straight


@dataclass(frozen=True)
class Extent:
    """A stretch of the path with a name: a corner, with its direction (+1 left, -1 right)."""

    name: str
    turn: int
    begins_at_m: float
    ends_at_m: float


def mean_curvature_per_m(bend: Bend) -> float:
    """Mean of the curvatures at the two ends of a bend's core, without sign."""
    end_radius = bend.radius_m if bend.end_radius_m is None else bend.end_radius_m
    return 0.5 * (1.0 / bend.radius_m + 1.0 / end_radius)


#: A shorter ramp is none [m].
RAMP_LEAST_M = 1e-3


def end_curvatures_per_m(bend: Bend) -> tuple[float, float]:
    """Curvatures where a bend's core begins and where it ends, without sign."""
    return 1.0 / bend.radius_m, 1.0 / (bend.end_radius_m or bend.radius_m)


def ramps_m(bend: Bend) -> tuple[float, float]:
    """Lengths of the ramps at a bend's entry and exit [m]; one below a millimetre is none.

    A place along a lap is told no more finely, so that such a ramp would turn as rounding has it.
    """
    last = bend.transition_m if bend.end_transition_m is None else bend.end_transition_m
    first, last = (one if one >= RAMP_LEAST_M else 0.0 for one in (bend.transition_m, last))
    return first, last


def core_length_m(bend: Bend) -> float:
    """Length of a bend between its ramps [m]; the turned angle, ramps included, is kept.

    Each ramp turns half of what the same length at full curvature would. Not positive when the
    ramps leave nothing of the corner.
    """
    first, last = end_curvatures_per_m(bend)
    ramp_in, ramp_out = ramps_m(bend)
    in_ramps = 0.5 * (ramp_in * first + ramp_out * last)
    return (math.radians(bend.angle_deg) - in_ramps) / (0.5 * (first + last))


def segment_length_m(segment: Segment) -> float:
    """Length of a straight, or of a bend with its ramps [m]."""
    if isinstance(segment, Straight):
        return segment.length_m
    return core_length_m(segment) + sum(ramps_m(segment))


def curvature_channel(segments: tuple[Segment, ...]) -> Channel:
    """Signed curvature along the segments, left positive."""
    pieces: list[tuple[float, float, float]] = []
    for segment in segments:
        if isinstance(segment, Straight):
            pieces.append((segment.length_m, 0.0, 0.0))
            continue
        first, last = (segment.turn * value for value in end_curvatures_per_m(segment))
        ramp_in, ramp_out = ramps_m(segment)
        pieces.append((ramp_in, 0.0, first))
        pieces.append((core_length_m(segment), first, last))
        pieces.append((ramp_out, last, 0.0))
    return from_pieces(pieces)


def corner_extents(segments: tuple[Segment, ...]) -> tuple[Extent, ...]:
    """Where each bend begins and ends, ramps included."""
    extents: list[Extent] = []
    at = 0.0
    for segment in segments:
        length = segment_length_m(segment)
        if isinstance(segment, Bend):
            extents.append(Extent(segment.name, segment.turn, at, at + length))
        at += length
    return tuple(extents)
