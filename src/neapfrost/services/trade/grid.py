"""Two figures at once: lap times over both, their isobars, the best that is allowed."""

from collections.abc import Iterator
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.trade.isobars import allowed, isobars, optimum
from neapfrost.core.units import Units
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.trade.axes import Axis, Settings, Value, axis_named, values_between
from neapfrost.services.trade.laps import WeighedPlan
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.trade.sweep import EVEN_S, coarse_first
from neapfrost.services.words.saying import NOTHING_S, Saying
from neapfrost.services.words.trade import (
    describe_at_end,
    describe_best_of_two,
    describe_bound,
    describe_value,
)

VALUES_MOST = 25


class AxisRange(BaseModel):
    """An axis and its range; without one its own."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    axis: Key
    low: float | None = None
    high: float | None = None
    count: Annotated[int, Field(ge=2, le=VALUES_MOST)] = 15


class GridRequest(BaseModel):
    """Two axes, `x` across and `y` up."""

    model_config = ConfigDict(extra="forbid")

    x: AxisRange
    y: AxisRange


class Limits(BaseModel):
    """What a choice has to keep to; null for what is left free."""

    top_speed_at_least_ms: float | None = None
    top_rpm_at_most: float | None = None
    fuel_at_most_litres: float | None = None


class IsobarPiece(BaseModel):
    """Places along both axes; on an axis of choices the number of the choice, from 0."""

    x: list[float]
    y: list[float]


class IsobarLine(BaseModel):
    """A line of equal lap time, in one piece or several."""

    lap_time_s: float
    pieces: list[IsobarPiece]


class Cell(BaseModel):
    """A place of the grid, by its column and row."""

    column: int
    row: int
    lap_time_s: float
    change_s: float


class Grid(BaseModel):
    """Lap times over two axes, a row for each value of `y`; null where none is driven or possible.

    `plateau` and `shut` tell of each cell whether it is even with the best, and outside the limits.
    """

    x: Axis
    y: Axis
    x_values: list[Value]
    y_values: list[Value]
    present_s: float
    lap_time_s: list[list[float | None]]
    top_speed_ms: list[list[float | None]]
    top_rpm: list[list[float | None]]
    fuel_litres: list[list[float | None]]
    isobars: list[IsobarLine] = []
    best: Cell | None = None
    best_anywhere: Cell | None = None
    plateau: list[list[bool]] = []
    shut: list[list[bool]] = []
    limits: Limits = Limits()
    even_s: float = EVEN_S
    said: list[str] = []


def grid_axes(
    plan: PlanDocument, wanted: GridRequest
) -> tuple[tuple[Axis, list[Value]], tuple[Axis, list[Value]]]:
    """Both axes with their values. Raises InputRefused for what cannot be varied together."""
    if wanted.x.axis == wanted.y.axis:
        raise InputRefused(
            [Fault("y.axis", f'"{wanted.y.axis}" was given twice; two figures are expected')]
        )
    return _values(plan, wanted.x), _values(plan, wanted.y)


def _values(plan: PlanDocument, wanted: AxisRange) -> tuple[Axis, list[Value]]:
    axis = axis_named(plan, wanted.axis)
    if axis.choices:
        return axis, list(axis.choices)
    low = axis.low if wanted.low is None else wanted.low
    high = axis.high if wanted.high is None else wanted.high
    return axis, list(values_between(axis, low, high, wanted.count))


def grid_begun(
    x: tuple[Axis, list[Value]], y: tuple[Axis, list[Value]], present: WeighedPlan
) -> Grid:
    """A grid with nothing driven yet."""

    def empty() -> list[list[float | None]]:
        return [[None] * len(x[1]) for _ in y[1]]

    return Grid(
        x=x[0],
        y=y[0],
        x_values=x[1],
        y_values=y[1],
        present_s=present.lap.lap_time_s,
        lap_time_s=empty(),
        top_speed_ms=empty(),
        top_rpm=empty(),
        fuel_litres=empty(),
    )


def cells_coarse_first(columns: int, rows: int) -> Iterator[tuple[int, int]]:
    """Column and row of every cell, widely spaced ones first, so that a shape shows early."""
    ranks = [
        {index: rank for rank, index in enumerate(coarse_first(count))} for count in (columns, rows)
    ]
    cells = [(column, row) for column in range(columns) for row in range(rows)]
    yield from sorted(cells, key=lambda cell: max(ranks[0][cell[0]], ranks[1][cell[1]]))


def settings_at(grid: Grid, column: int, row: int) -> Settings:
    """What a cell puts where."""
    return ((grid.x.name, grid.x_values[column]), (grid.y.name, grid.y_values[row]))


def with_cells(grid: Grid, driven: dict[tuple[int, int], WeighedPlan | str]) -> Grid:
    """A grid with more of its cells driven; those without a lap stay empty."""
    columns = {
        "lap_time_s": [list(row) for row in grid.lap_time_s],
        "top_speed_ms": [list(row) for row in grid.top_speed_ms],
        "top_rpm": [list(row) for row in grid.top_rpm],
        "fuel_litres": [list(row) for row in grid.fuel_litres],
    }
    for (column, row), lap in driven.items():
        if isinstance(lap, str):
            continue
        columns["lap_time_s"][row][column] = lap.lap.lap_time_s
        columns["top_speed_ms"][row][column] = lap.lap.top_speed_ms
        columns["top_rpm"][row][column] = lap.lap.top_rpm
        columns["fuel_litres"][row][column] = lap.fuel_litres
    return grid.model_copy(update=columns)


def concluded(grid: Grid, limits: Limits, units: Units) -> Grid:
    """A grid with its isobars, the best within some limits, and what is even with it."""
    times = _array(grid.lap_time_s)
    fits = allowed(
        (len(grid.y_values), len(grid.x_values)),
        [
            (_array(grid.top_speed_ms), bound)
            for bound in (limits.top_speed_at_least_ms,)
            if bound is not None
        ],
        [
            (values, bound)
            for values, bound in (
                (_array(grid.top_rpm), limits.top_rpm_at_most),
                (_array(grid.fuel_litres), limits.fuel_at_most_litres),
            )
            if bound is not None
        ],
    )
    driven = np.isfinite(times)
    best = _cell(grid, times, fits)
    anywhere = _cell(grid, times, np.ones_like(fits))
    even = np.zeros_like(fits)
    if best is not None:
        even = fits & driven & (times <= best.lap_time_s + EVEN_S)
    lines = isobars(_places(grid.x, grid.x_values), _places(grid.y, grid.y_values), times)
    found = grid.model_copy(
        update={
            "limits": limits,
            "best": best,
            "best_anywhere": anywhere,
            "plateau": even.tolist(),
            "shut": (driven & ~fits).tolist(),
            "isobars": [
                IsobarLine(
                    lap_time_s=line.lap_time_s,
                    pieces=[
                        IsobarPiece(x=piece[:, 0].tolist(), y=piece[:, 1].tolist())
                        for piece in line.pieces
                    ],
                )
                for line in lines
            ],
        }
    )
    return found.model_copy(update={"said": _said(found, units)})


def _cell(grid: Grid, times: Floats, fits: np.ndarray) -> Cell | None:
    found = optimum(times, fits)
    if found is None:
        return None
    lap = float(times[found.row, found.column])
    return Cell(column=found.column, row=found.row, lap_time_s=lap, change_s=lap - grid.present_s)


def _array(rows: list[list[float | None]]) -> Floats:
    return np.array([[np.nan if one is None else one for one in row] for row in rows])


def _places(axis: Axis, values: list[Value]) -> Floats:
    """Where values stand along an axis; choices by their number."""
    if axis.choices:
        return np.arange(len(values), dtype=np.float64)
    return np.array(values, dtype=np.float64)


def _said(grid: Grid, units: Units) -> list[str]:
    say = Saying(units)
    if grid.best is None:
        if grid.best_anywhere is None:
            return []
        return ["No calculated lap is within the limits."]

    def where(cell: Cell) -> tuple[str, str]:
        return (
            describe_value(grid.x, grid.x_values[cell.column], say),
            describe_value(grid.y, grid.y_values[cell.row], say),
        )

    labels = (grid.x.label, grid.y.label)
    sentences = [describe_best_of_two(labels, where(grid.best), grid.best.change_s)]
    ends = [
        text
        for text, axis, at, count in (
            (where(grid.best)[0], grid.x, grid.best.column, len(grid.x_values)),
            (where(grid.best)[1], grid.y, grid.best.row, len(grid.y_values)),
        )
        if not axis.choices and at in (0, count - 1) and count > 1
    ]
    free = grid.best_anywhere
    bound = free is not None and free.lap_time_s < grid.best.lap_time_s - NOTHING_S
    if ends and not bound and abs(grid.best.change_s) >= NOTHING_S:
        sentences.append(describe_at_end(*ends))
    if free is not None and free.lap_time_s < grid.best.lap_time_s - NOTHING_S:
        sentences.append(describe_bound(where(free), grid.best.lap_time_s - free.lap_time_s))
    return sentences


def grid_course(plan: PlanDocument, wanted: GridRequest) -> Course:
    """How two axes are driven. Raises InputRefused for what cannot be varied together."""
    x, y = grid_axes(plan, wanted)

    def drive(run: Run) -> None:
        _, present = run.present()
        found = grid_begun(x, y, present)
        run.tell(grid=found)
        cells = list(cells_coarse_first(len(x[1]), len(y[1])))
        for cell, lap in run.laps([(cell, settings_at(found, *cell)) for cell in cells]):
            found = with_cells(found, {cell: lap})
            run.count(grid=found)

    return Course(len(x[1]) * len(y[1]), drive)
