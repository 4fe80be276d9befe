"""Lines that need no vehicle but its width: the short way, and the widest arcs."""

from typing import Any

import casadi as ca
import numpy as np

from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.geometry import (
    SCALES,
    LineStep,
    line_bounds,
    line_step,
    packed,
    road_steps,
    unpacked,
)
from neapfrost.core.line.shape import Shape, centre_line
from neapfrost.core.line.solver import Columns, Progress, Step, solve_steps
from neapfrost.core.line.wishes import LATE_APEX_SHARE, CornerWish, Hold

#: Weight of the change of curvature, which only keeps neighbouring nodes from alternating.
SMOOTHING_M = 2.0
#: The short way's own, in metres of way: it would jump between the edges' curvatures.
SHORT_SMOOTHING = 0.3


def widest_arcs(
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> Shape:
    """The line of least curvature, ∫κ² ds along the line itself (Braghin et al. 2008), exactly.

    Raises LineImpossible where the wishes contradict each other or the road.
    """
    step = line_step()
    first, last = step.first.kappa / SCALES[2], step.last.kappa / SCALES[2]
    bent = 0.5 * (first**2 + last**2) * step.length_m
    cost = (bent + SMOOTHING_M * _alternation(step)) / 10.0
    return _solved(field, wishes, holds, step, cost, progress, "the line of the widest arcs")


def late_apex(
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> Shape:
    """The widest arcs among the lines with every apex beyond 60 % of the turned angle."""
    asked = {w.corner for w in wishes if w.no_earlier is not None or w.no_later is not None}
    late = tuple(
        CornerWish(number, no_earlier=LATE_APEX_SHARE)
        for number in range(len(field.road.corners))
        if number not in asked
    )
    return widest_arcs(field, (*wishes, *late), holds, progress)


def short_way(
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> Shape:
    """The line of least length, with its changes of curvature spread over a few metres."""
    step = line_step()
    cost = step.length_m + SHORT_SMOOTHING * _alternation(step)
    return _solved(field, wishes, holds, step, cost, progress, "the short way")


def _alternation(step: LineStep) -> Any:
    bend = (step.last.kappa - step.first.kappa) / SCALES[2]
    return bend**2 / step.road[0]


def _solved(
    field: Corridor,
    wishes: tuple[CornerWish, ...],
    holds: tuple[Hold, ...],
    step: LineStep,
    cost: Any,
    progress: Progress | None,
    what: str,
) -> Shape:
    lower, upper = line_bounds(field, wishes, holds)
    nothing = np.empty((0, 0))
    found = solve_steps(
        Step(
            step.first.free, step.last.free, ca.SX(0, 1), step.road, cost, step.defects, ca.SX(0, 1)
        ),
        road_steps(field.road),
        field.road.closed,
        Columns(lower, nothing),
        Columns(upper, nothing),
        Columns(packed(field.road, centre_line(field.road)), nothing),
        progress,
        what,
    )
    return unpacked(field.road, found.nodes)
