"""A car's plot as an SVG of its own, for a report."""

from neapfrost.formats.svg import (
    RULE,
    add_path,
    add_text,
    line_through,
    number,
    picture,
    ticks,
    written,
)
from neapfrost.services.cars.plots import PlotData

WIDTH, HEIGHT, LEFT, BELOW, ABOVE, RIGHT = 760.0, 460.0, 70.0, 56.0, 44.0, 150.0
DASHES = ("", "8 4", "2 3", "12 3 2 3", "5 5", "1 4", "14 5", "6 2 2 2")


def plot_svg(data: PlotData) -> str:
    """The plot with axes in SI units, every curve named at its end."""
    xs = [x for series in data.series for x in series.x]
    ys = [y for series in data.series for y in series.y]
    low_x, high_x = min(xs), max(xs)
    low_y, high_y = min(0.0, *ys) if data.plot != "balance" else min(ys), max(ys)
    across = (WIDTH - LEFT - RIGHT) / max(high_x - low_x, 1e-9)
    down = (HEIGHT - ABOVE - BELOW) / max(high_y - low_y, 1e-9)

    def place(x: float, y: float) -> tuple[float, float]:
        return LEFT + (x - low_x) * across, HEIGHT - BELOW - (y - low_y) * down

    root = picture(data.title, WIDTH, "sans-serif")
    add_text(root, LEFT, 24.0, data.title, font_size=17)
    for x in ticks(low_x, high_x):
        px, py = place(x, low_y)
        add_path(root, f"M{number(px)} {number(py)}V{ABOVE}", stroke=RULE)
        add_text(root, px, py + 18.0, f"{x:g}", text_anchor="middle")
    for y in ticks(low_y, high_y):
        px, py = place(low_x, y)
        add_path(root, f"M{number(px)} {number(py)}H{WIDTH - RIGHT}", stroke=RULE)
        add_text(root, px - 8.0, py + 4.0, f"{y:g}", text_anchor="end")
    for index, series in enumerate(data.series):
        if not series.x:
            continue
        way = line_through(place(x, y) for x, y in zip(series.x, series.y, strict=True))
        dash = DASHES[index % len(DASHES)] or None
        add_path(root, way, stroke_width=1.8, stroke_dasharray=dash)
        row = ABOVE + 14 + 17 * index
        key = f"M{WIDTH - RIGHT + 10} {row - 4}h24"
        add_path(root, key, stroke_width=1.8, stroke_dasharray=dash)
        add_text(root, WIDTH - RIGHT + 40.0, row, series.name)
    for mark in data.marks:
        px, py = place(mark.x, mark.y)
        add_text(root, px + 4.0, py - 5.0, mark.text)
    across_to = said(data.x_label, data.x_quantity)
    add_text(root, (LEFT + WIDTH - RIGHT) / 2.0, HEIGHT - 12.0, across_to, text_anchor="middle")
    turned = f"translate(18 {HEIGHT / 2}) rotate(-90)"
    up_to = said(data.y_label, data.y_quantity)
    add_text(root, 0.0, 0.0, up_to, transform=turned, text_anchor="middle")
    return written(root, HEIGHT)


UNITS = {
    "speed": "m/s",
    "time": "s",
    "length": "m",
    "rpm": "rpm",
    "force": "N",
    "g": "g",
    "share": "",
}


def said(label: str, quantity: str) -> str:
    """A label with its unit."""
    unit = UNITS[quantity]
    return f"{label} ({unit})" if unit else label
