"""The figures of straights and corners that a fit moves, and how far it may move them."""

from dataclasses import replace

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.path.circuit import Bend, Segment, Straight
from neapfrost.core.path.plan_view import core_length_m, ramps_m

#: Share of a corner's length at full curvature that its ramps may take at the most.
RAMP_MOST = 0.9
#: What is left of a ramp at one end, so that it is known for one [m].
RAMP_LEAST_M = 0.01


def figure_count(segment: Segment) -> int:
    """How many figures a segment has."""
    return 1 if isinstance(segment, Straight) else 3


def figures_of(segments: list[Segment]) -> Floats:
    """Length of each straight; radius, angle and ramp of each corner."""
    figures: list[float] = []
    for segment in segments:
        if isinstance(segment, Straight):
            figures.append(segment.length_m)
        else:
            figures += [segment.radius_m, segment.angle_deg, max(ramps_m(segment))]
    return np.array(figures)


def scales_of(segments: list[Segment]) -> Floats:
    """How much of each figure counts alike."""
    scales: list[float] = []
    for segment in segments:
        if isinstance(segment, Straight):
            scales.append(2.0)
        else:
            scales += [0.05 * segment.radius_m, 1.0, 2.0]
    return np.array(scales)


def bounds_of(segments: list[Segment]) -> tuple[Floats, Floats]:
    """Least and largest values of every figure."""
    low: list[float] = []
    high: list[float] = []
    for segment in segments:
        if isinstance(segment, Straight):
            low.append(0.5)
            high.append(50_000.0)
        else:
            low += [3.0, 0.5, 0.0]
            high += [20_000.0, 358.0, 400.0]
    return np.array(low), np.array(high)


def ramp_places(segments: list[Segment]) -> Integers:
    """Where each corner's ramp stands among the figures."""
    places, at = [], 0
    for segment in segments:
        at += figure_count(segment)
        if isinstance(segment, Bend):
            places.append(at - 1)
    return np.array(places, dtype=np.int64)


def made_of(segments: list[Segment], figures: Floats) -> list[Segment]:
    """Segments with other figures, each kept to what makes a road."""
    made: list[Segment] = []
    at = 0
    for segment in segments:
        if isinstance(segment, Straight):
            made.append(replace(segment, length_m=max(float(figures[at]), 0.5)))
            at += 1
            continue
        radius = max(float(figures[at]), 3.0)
        angle = float(np.clip(figures[at + 1], 0.5, 358.0))
        bend = _ramped(replace(segment, radius_m=radius, angle_deg=angle), 0.0)
        # A ramp at one end alone may be twice as long: it turns half of what the core would.
        most = RAMP_MOST * core_length_m(bend) * (1.0 if bend.end_transition_m is None else 2.0)
        ramp = float(np.clip(figures[at + 2], 0.0, most))
        made.append(_ramped(bend, ramp))
        at += 3
    return made


def _ramped(bend: Bend, ramp_m: float) -> Bend:
    """A bend with another ramp, at the ends where it has one: half of a split one has but one."""
    if bend.end_transition_m is None:
        return replace(bend, transition_m=ramp_m)
    if bend.transition_m > 0.0:
        return replace(bend, transition_m=max(ramp_m, RAMP_LEAST_M))
    if bend.end_transition_m > 0.0:
        return replace(bend, end_transition_m=max(ramp_m, RAMP_LEAST_M))
    return bend
