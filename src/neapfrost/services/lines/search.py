"""Lines computed on a plan's road."""

from collections.abc import Callable, Sequence
from functools import partial

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.solve import solve
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.driven import driven_line
from neapfrost.core.line.fastest import Task, fastest_of
from neapfrost.core.line.geometry import meets, unpacked
from neapfrost.core.line.portfolio import Quickest, quickest_line
from neapfrost.core.line.shape import Shape, centre_line
from neapfrost.core.line.shapes import simple_line, widest_arcs
from neapfrost.core.line.solver import DRIVABLE_WITHIN, Progress
from neapfrost.core.line.wishes import CornerWish, Hold
from neapfrost.formats.plan import ComputedLineDocument, LineDocument, LineKind, PlanDocument
from neapfrost.formats.result import LineEnd
from neapfrost.services.laps.planned import drive_on_line, planned
from neapfrost.services.roads.road import (
    corridor_of,
    is_road,
    laid_on,
    line_before,
    made_for,
    road_of,
)
from neapfrost.services.roads.wishes import present_wishes

#: Told of each iteration: its number, what is being made least, and the best line so far.
Tell = Callable[[int, float, Shape | None], None]


def plan_with_line(plan: PlanDocument) -> PlanDocument:
    """The plan with the line it asks for, computed where it was not. Raises as `line_for` does."""
    if not is_road(plan):
        return plan
    line = plan.line or LineDocument()
    if line.kind == "centre" or line.computed is not None:
        return plan
    computed = computed_line(plan, *line_for(plan, line.kind))
    return plan.model_copy(update={"line": line.model_copy(update={"computed": computed})})


def line_for(
    plan: PlanDocument,
    kind: LineKind,
    tell: Tell | None = None,
    known: Sequence[ComputedLineDocument] = (),
) -> tuple[Shape, LineEnd]:
    """Compute a line of some kind on the plan's road, with the plan's wishes, and how it ended.

    The fastest line is never slower than any line `known` that fits on this road. Raises
    InputRefused where the vehicle does not fit, LineImpossible where no line does.
    """
    field = corridor_of(plan)
    wishes, holds = _wishes(plan)
    if kind == "centre":
        return centre_line(field.road), "settled"
    if kind == "fastest":
        found = _fastest(plan, field, wishes, holds, tell, known)
        return found.shape, found.ended.value
    best = _Best(field, tell, partial(unpacked, field.road), 3)
    shape, outcome = simple_line(kind, field, wishes, holds, best.progress)
    return shape, "settled" if outcome.settled else "best_so_far"


def computed_line(plan: PlanDocument, shape: Shape, ended: LineEnd | None) -> ComputedLineDocument:
    """A line as it is kept with the plan whose kind of line it is."""
    line = plan.line or LineDocument()
    road = road_of(plan.circuit)
    return ComputedLineDocument(
        kind=line.kind,
        ended=ended,
        road_at_m=road.middle.s_m.tolist(),
        offset_m=np.round(shape.offset_m, 6).tolist(),
        heading_rad=np.round(shape.heading_rad, 9).tolist(),
        curvature_per_m=np.round(shape.curvature_per_m, 10).tolist(),
        edges_m=road.edges_m.tolist(),
        made_for=made_for(plan),
    )


def _wishes(plan: PlanDocument) -> tuple[tuple[CornerWish, ...], tuple[Hold, ...]]:
    line = plan.line or LineDocument()

    def share(percent: float | None) -> float | None:
        return None if percent is None else percent / 100.0

    return (
        tuple(
            CornerWish(
                wish.corner,
                share(wish.apex_no_earlier_pct),
                share(wish.apex_no_later_pct),
                wish.radius_m,
            )
            for wish in present_wishes(line, plan.circuit)
        ),
        tuple(Hold(hold.at_m, hold.offset_m) for hold in line.holds),
    )


def _fastest(
    plan: PlanDocument,
    field: Corridor,
    wishes: tuple[CornerWish, ...],
    holds: tuple[Hold, ...],
    tell: Tell | None,
    known: Sequence[ComputedLineDocument],
) -> Quickest:
    """The quickest line by the plan's own lap, which drives what is asked for at corners too."""
    lines = {"widest": widest_arcs(field, wishes, holds), "centre": centre_line(field.road)}
    others = [laid_on(line, road_of(plan.circuit)) for line in known]
    others.append(line_before(plan))
    for number, shape in enumerate(others, start=1):
        if shape is not None:
            lines[f"known {number}"] = shape
    drive = planned(plan).drive
    best = _Best(field, tell, lambda nodes: fastest_of(field, nodes).shape, 4)

    def clock(shape: Shape) -> tuple[float, Floats]:
        line = driven_line(field, shape)
        lap = solve(drive_on_line(plan, line))
        return lap.lap_time_s, np.interp(line.at_m, lap.s_m, lap.v_ms)

    return quickest_line(
        Task(field, drive.vehicle, drive.conditions, drive.driver, wishes, holds),
        clock,
        {name: shape for name, shape in lines.items() if meets(field, wishes, holds, shape)},
        best.progress,
    )


class _Best:
    """Keeps the best iteration for whoever watches."""

    def __init__(
        self, field: Corridor, tell: Tell | None, shape_of: Callable[[Floats], Shape], width: int
    ) -> None:
        self._tell, self._shape_of = tell, shape_of
        count = len(field.road.s_m) - (1 if field.road.closed else 0)
        self._split, self._width = count * width, width
        self._least = np.inf

    @property
    def progress(self) -> Progress | None:
        return None if self._tell is None else Progress(self._listen)

    def _listen(self, number: int, objective: float, violation: float, values: Floats) -> None:
        assert self._tell is not None
        shape = None
        if violation <= DRIVABLE_WITHIN and objective < self._least:
            self._least = objective
            shape = self._shape_of(values[: self._split].reshape(-1, self._width))
        self._tell(number, objective, shape)
