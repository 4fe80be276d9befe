"""A car's plot as an SVG of its own, for a report."""

from xml.sax.saxutils import escape

import numpy as np

from neapfrost.services.cars.plots import PlotData

WIDTH, HEIGHT, LEFT, BELOW, ABOVE, RIGHT = 760.0, 460.0, 70.0, 56.0, 44.0, 150.0
INK, FAINT = "#0c2c47", "#b8c6cd"
DASHES = ("", "8 4", "2 3", "12 3 2 3", "5 5", "1 4", "14 5", "6 2 2 2")


def ticks(low: float, high: float, about: int = 6) -> list[float]:
    """Round values between two ends, about so many."""
    if high <= low:
        return [low]
    raw = (high - low) / about
    power = 10.0 ** np.floor(np.log10(raw))
    step = float(next(power * m for m in (1.0, 2.0, 2.5, 5.0, 10.0) if power * m >= raw))
    first = float(np.ceil(low / step - 1e-9)) * step
    count = int(np.floor((high - first) / step + 1e-9)) + 1
    return [round(first + step * k, 10) for k in range(count)]


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

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH:.0f} {HEIGHT:.0f}" '
        f'width="{WIDTH:.0f}" height="{HEIGHT:.0f}" font-family="sans-serif" font-size="13" '
        f'fill="{INK}">',
        f"<title>{escape(data.title)}</title>",
        f'<rect width="{WIDTH:.0f}" height="{HEIGHT:.0f}" fill="#ffffff"/>',
        f'<text x="{LEFT}" y="24" font-size="17">{escape(data.title)}</text>',
    ]
    for x in ticks(low_x, high_x):
        px, py = place(x, low_y)
        parts.append(f'<path d="M{px:.1f} {py:.1f}V{ABOVE}" stroke="{FAINT}"/>')
        parts.append(f'<text x="{px:.1f}" y="{py + 18:.1f}" text-anchor="middle">{x:g}</text>')
    for y in ticks(low_y, high_y):
        px, py = place(low_x, y)
        parts.append(f'<path d="M{px:.1f} {py:.1f}H{WIDTH - RIGHT}" stroke="{FAINT}"/>')
        parts.append(f'<text x="{px - 8:.1f}" y="{py + 4:.1f}" text-anchor="end">{y:g}</text>')
    for index, series in enumerate(data.series):
        if not series.x:
            continue
        way = "L".join(
            "{:.1f} {:.1f}".format(*place(x, y)) for x, y in zip(series.x, series.y, strict=True)
        )
        dash = DASHES[index % len(DASHES)]
        parts.append(
            f'<path d="M{way}" fill="none" stroke="{INK}" stroke-width="1.8" '
            f'stroke-dasharray="{dash}"/>'
        )
        row = ABOVE + 14 + 17 * index
        parts.append(
            f'<path d="M{WIDTH - RIGHT + 10} {row - 4}h24" stroke="{INK}" stroke-width="1.8" '
            f'stroke-dasharray="{dash}"/>'
            f'<text x="{WIDTH - RIGHT + 40}" y="{row}">{escape(series.name)}</text>'
        )
    for mark in data.marks:
        px, py = place(mark.x, mark.y)
        parts.append(f'<text x="{px + 4:.1f}" y="{py - 5:.1f}">{escape(mark.text)}</text>')
    parts.append(
        f'<text x="{(LEFT + WIDTH - RIGHT) / 2}" y="{HEIGHT - 12}" text-anchor="middle">'
        f"{escape(said(data.x_label, data.x_quantity))}</text>"
        f'<text transform="translate(18 {HEIGHT / 2}) rotate(-90)" text-anchor="middle">'
        f"{escape(said(data.y_label, data.y_quantity))}</text></svg>"
    )
    return "\n".join(parts) + "\n"


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
