"""Lines that need no vehicle but its width: the shortest line, and widest arcs."""

from typing import Any, Literal

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
from neapfrost.core.line.solver import (
    PLAIN,
    Columns,
    Outcome,
    Progress,
    Step,
    Strategy,
    solve_steps,
)
from neapfrost.core.line.wishes import LATE_APEX_SHARE, CornerWish, Hold

STRATEGIES = (PLAIN, Strategy("adaptive", "quality-function"))
#: Weight of the change of curvature, which only keeps neighbouring nodes from alternating.
SMOOTHING_M = 2.0
#: The short way's own, in metres of way: it would jump between the edges' curvatures.
SHORT_SMOOTHING = 0.3


Simple = Literal["short", "widest", "late_apex"]


def simple_line(
    kind: Simple,
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> tuple[Shape, Outcome]:
    """A line of some kind, and how the search for it ended.

    Raises LineImpossible where the wishes contradict each other or the road.
    """
    step = line_step()
    if kind == "short":
        cost = step.length_m + SHORT_SMOOTHING * _alternation(step)
        return _solved(field, wishes, holds, step, cost, progress, "the shortest line")
    if kind == "late_apex":
        asked = {w.corner for w in wishes if w.no_earlier is not None or w.no_later is not None}
        wishes += tuple(
            CornerWish(number, no_earlier=LATE_APEX_SHARE)
            for number in range(len(field.road.corners))
            if number not in asked
        )
    first, last = step.first.kappa / SCALES[2], step.last.kappa / SCALES[2]
    bent = 0.5 * (first**2 + last**2) * step.length_m
    cost = (bent + SMOOTHING_M * _alternation(step)) / 10.0
    return _solved(field, wishes, holds, step, cost, progress, "the widest-arc line")


def widest_arcs(
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> Shape:
    """The line of least curvature, ∫κ² ds along the line itself (Braghin et al. 2008), exactly."""
    return simple_line("widest", field, wishes, holds, progress)[0]


def late_apex(
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> Shape:
    """The widest arcs among the lines with every apex beyond 60 % of the turned angle."""
    return simple_line("late_apex", field, wishes, holds, progress)[0]


def short_way(
    field: Corridor,
    wishes: tuple[CornerWish, ...] = (),
    holds: tuple[Hold, ...] = (),
    progress: Progress | None = None,
) -> Shape:
    """The line of least length, with its changes of curvature spread over a few metres."""
    return simple_line("short", field, wishes, holds, progress)[0]


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
) -> tuple[Shape, Outcome]:
    """One search, and another way with the barrier where the first has not settled."""
    lower, upper = line_bounds(field, wishes, holds)
    nothing = np.empty((0, 0))
    for strategy in STRATEGIES:
        found, outcome = solve_steps(
            Step(
                step.first.free,
                step.last.free,
                ca.SX(0, 1),
                step.road,
                cost,
                step.defects,
                ca.SX(0, 1),
            ),
            road_steps(field.road),
            field.road.closed,
            (Columns(lower, nothing), Columns(upper, nothing)),
            Columns(packed(field.road, centre_line(field.road)), nothing),
            progress,
            what,
            strategy,
        )
        if outcome.settled:
            break
    return unpacked(field.road, found.nodes), outcome
