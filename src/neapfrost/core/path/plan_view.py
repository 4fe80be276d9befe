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


def core_length_m(bend: Bend) -> float:
    """Length of a bend between its ramps [m]; the turned angle, ramps included, is kept.

    Each ramp turns half of what the same length at full curvature would. Not positive when the
    ramps leave nothing of the corner.
    """
    return math.radians(bend.angle_deg) / mean_curvature_per_m(bend) - bend.transition_m


def segment_length_m(segment: Segment) -> float:
    """Length of a straight, or of a bend with its ramps [m]."""
    if isinstance(segment, Straight):
        return segment.length_m
    return core_length_m(segment) + 2.0 * segment.transition_m


def curvature_channel(segments: tuple[Segment, ...]) -> Channel:
    """Signed curvature along the segments, left positive."""
    pieces: list[tuple[float, float, float]] = []
    for segment in segments:
        if isinstance(segment, Straight):
            pieces.append((segment.length_m, 0.0, 0.0))
            continue
        first = segment.turn / segment.radius_m
        last = segment.turn / (segment.end_radius_m or segment.radius_m)
        pieces.append((segment.transition_m, 0.0, first))
        pieces.append((core_length_m(segment), first, last))
        pieces.append((segment.transition_m, last, 0.0))
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
