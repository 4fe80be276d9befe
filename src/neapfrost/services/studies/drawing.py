"""A study as a picture of its own, for a report: figures in SI."""

from collections.abc import Callable, Sequence
from xml.etree.ElementTree import Element

from neapfrost.formats.svg import (
    EMBER,
    INK,
    RULE,
    SECOND,
    add_path,
    add_text,
    line_through,
    number,
    picture,
    ticks,
    written,
)
from neapfrost.services.studies.jobs import StudyJob
from neapfrost.services.studies.weather_drawing import session_svg, weathers_svg
from neapfrost.services.trade.axes import Axis, Value
from neapfrost.services.trade.grid import Grid
from neapfrost.services.trade.sweep import Sweep

#: So many combinations are drawn.
BARS_MOST = 30
WIDTH, HEIGHT, LEFT, BELOW, ABOVE, RIGHT = 760.0, 480.0, 78.0, 60.0, 64.0, 30.0
Place = Callable[[float, float], tuple[float, float]]


def study_svg(job: StudyJob) -> str:
    """What a study has come to so far."""
    if job.sweep is not None:
        return _sweep_svg(job.sweep)
    if job.grid is not None:
        return _grid_svg(job.grid)
    if job.ranking is not None:
        rows = [(row.said, row.gain_s) for row in job.ranking.rows]
        return _bars_svg("Sensitivities: gain per step", job.ranking.said, rows)
    if job.search is not None:
        rows = [(", ".join(one.said), -one.change_s) for one in job.search.found[:BARS_MOST]]
        return _bars_svg("Best of the available parts", job.search.said, rows)
    if job.gears is not None:
        rows = [(one.name, -one.change_s) for one in job.gears.choices]
        return _bars_svg("Gears for this circuit", job.gears.said, rows)
    if job.session is not None:
        return session_svg(job.session)
    if job.weathers is not None:
        return weathers_svg(job.weathers)
    root = picture("Nothing calculated yet", WIDTH, "sans-serif")
    add_text(root, 24.0, 32.0, "Nothing calculated yet")
    return written(root, ABOVE)


def place_on(axis: Axis, value: Value) -> float:
    """Where a value stands along its axis; a choice by its number."""
    return float(axis.choices.index(value)) if isinstance(value, str) else value


def _frame(
    title: str, said: Sequence[str], x: tuple[float, float], y: tuple[float, float]
) -> tuple[Element, Place]:
    across = (WIDTH - LEFT - RIGHT) / max(x[1] - x[0], 1e-9)
    up = (HEIGHT - ABOVE - BELOW) / max(y[1] - y[0], 1e-9)

    def place(at: float, value: float) -> tuple[float, float]:
        return LEFT + (at - x[0]) * across, HEIGHT - BELOW - (value - y[0]) * up

    root = picture(title, WIDTH, "sans-serif")
    add_text(root, 24.0, 24.0, title, font_size=17)
    if said:
        add_text(root, 24.0, 44.0, said[0], fill=SECOND)
    return root, place


def _axis_below(root: Element, axis: Axis, ends: tuple[float, float], place: Place) -> None:
    marks = _marks(axis, ends)
    for at, word in marks:
        x, _ = place(at, 0.0)
        add_path(root, f"M{number(x)} {number(ABOVE)}V{number(HEIGHT - BELOW)}", stroke=RULE)
        add_text(root, x, HEIGHT - BELOW + 18.0, word, text_anchor="middle")
    add_text(root, LEFT, HEIGHT - 14.0, _named(axis), fill=SECOND)


def _marks(axis: Axis, ends: tuple[float, float]) -> list[tuple[float, str]]:
    if axis.choices:
        return [(float(n), name) for n, name in enumerate(axis.choices)]
    return [(at, f"{at:g}") for at in ticks(*ends)]


def _named(axis: Axis) -> str:
    return f"{axis.label}{f' ({axis.unit})' if axis.unit else ''}"


def _ends(axis: Axis, values: Sequence[Value]) -> tuple[float, float]:
    places = [place_on(axis, value) for value in values]
    return min(places), max(places)


def _sweep_svg(sweep: Sweep) -> str:
    driven = [
        (place_on(sweep.axis, point.value), point.figures.lap_time_s, point.change_band)
        for point in sweep.points
        if point.figures is not None
    ]
    times = [lap for _, lap, _ in driven] or [0.0, 1.0]
    base = sweep.present.lap_time_s
    bands = [
        (at, (base + band.low, base + band.high)) for at, _, band in driven if band is not None
    ]
    low = min([*times, *(band[0] for _, band in bands)])
    high = max([*times, *(band[1] for _, band in bands)])
    ends = _ends(sweep.axis, [point.value for point in sweep.points])
    title = f"Lap time over {sweep.axis.label.lower()}"
    root, place = _frame(title, sweep.said, ends, (low, high))
    _axis_below(root, sweep.axis, ends, place)
    for value in ticks(low, high):
        _, y = place(ends[0], value)
        add_path(root, f"M{number(LEFT)} {number(y)}H{number(WIDTH - RIGHT)}", stroke=RULE)
        add_text(root, LEFT - 8.0, y + 4.0, f"{value:g} s", text_anchor="end")
    for side in (0, 1):
        if len(bands) > 1:
            way = line_through(place(at, band[side]) for at, band in bands)
            add_path(root, way, stroke=SECOND, stroke_dasharray="2 3")
    if driven:
        add_path(root, line_through(place(at, lap) for at, lap, _ in driven), stroke_width=2.4)
    if sweep.best is not None:
        best = sweep.points[sweep.best]
        assert best.figures is not None  # as the best of those driven
        _cross(root, *place(place_on(sweep.axis, best.value), best.figures.lap_time_s))
    return written(root, HEIGHT)


def _grid_svg(grid: Grid) -> str:
    across, upwards = _ends(grid.x, grid.x_values), _ends(grid.y, grid.y_values)
    title = f"Lap time over {grid.x.label.lower()} and {grid.y.label.lower()}"
    root, place = _frame(title, grid.said, across, upwards)
    _axis_below(root, grid.x, across, place)
    for at, word in _marks(grid.y, upwards):
        _, y = place(across[0], at)
        add_path(root, f"M{number(LEFT)} {number(y)}H{number(WIDTH - RIGHT)}", stroke=RULE)
        add_text(root, LEFT - 8.0, y + 4.0, word, text_anchor="end")
    turned = f"translate(18 {number(HEIGHT / 2)}) rotate(-90)"
    add_text(root, 0.0, 0.0, _named(grid.y), transform=turned, text_anchor="middle", fill=SECOND)
    for line in grid.isobars:
        for piece in line.pieces:
            places = [place(x, y) for x, y in zip(piece.x, piece.y, strict=True)]
            add_path(root, line_through(places), stroke_width=1.4)
            x, y = places[len(places) // 2]
            add_text(root, x, y - 4.0, f"{line.lap_time_s:.2f}", text_anchor="middle")
    if grid.best is not None:
        x_at = place_on(grid.x, grid.x_values[grid.best.column])
        _cross(root, *place(x_at, place_on(grid.y, grid.y_values[grid.best.row])))
    return written(root, HEIGHT)


def _cross(root: Element, x: float, y: float) -> None:
    way = f"M{number(x - 7)} {number(y)}h14M{number(x)} {number(y - 7)}v14"
    add_path(root, way, stroke=EMBER, stroke_width=2.2)


def _bars_svg(title: str, said: Sequence[str], rows: Sequence[tuple[str, float]]) -> str:
    """Gains [s] by their names, as bars."""
    most = max([abs(gain) for _, gain in rows] or [1.0])
    root = picture(title, WIDTH, "sans-serif")
    add_text(root, 24.0, 24.0, title, font_size=17)
    if said:
        add_text(root, 24.0, 44.0, said[0], fill=SECOND)
    middle, reach = 470.0, 180.0
    y = ABOVE + 10.0
    for name, gain in rows:
        add_text(root, 24.0, y, name)
        end = middle + reach * gain / max(most, 1e-9)
        add_path(root, f"M{number(middle)} {number(y - 4)}H{number(end)}", stroke_width=9)
        add_text(root, WIDTH - 24.0, y, f"{gain:+.3f} s", text_anchor="end")
        y += 22.0
    add_path(root, f"M{number(middle)} {number(ABOVE - 6)}V{number(y - 14)}", stroke=INK)
    return written(root, y + 10.0)
