"""The road as a plain SVG map, to scale, north up."""

from collections.abc import Sequence
from dataclasses import dataclass
from xml.sax.saxutils import escape

import numpy as np

from neapfrost.core.arrays import Floats

WIDTH, MARGIN = 1000.0, 60.0


@dataclass(frozen=True, eq=False)
class MapLine:
    """A line to draw, east and north [m], with its pen."""

    x_m: Floats
    y_m: Floats
    width: float
    colour: str
    dash: str = ""
    closed: bool = False


@dataclass(frozen=True)
class MapLabel:
    """A word at a place [m]."""

    x_m: float
    y_m: float
    text: str


def svg_map(title: str, lines: Sequence[MapLine], labels: Sequence[MapLabel]) -> str:
    """An SVG document of lines and labels, with a bar of 100 m."""
    x = np.concatenate([line.x_m for line in lines])
    y = np.concatenate([line.y_m for line in lines])
    scale = (WIDTH - 2 * MARGIN) / max(float(np.ptp(x)), float(np.ptp(y)), 1.0)
    height = float(np.ptp(y)) * scale + 2 * MARGIN
    left, top = float(x.min()), float(y.max())

    def place(px: Floats | float, py: Floats | float) -> tuple[Floats | float, Floats | float]:
        return MARGIN + (px - left) * scale, MARGIN + (top - py) * scale

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH:.0f} {height:.0f}" '
        f'width="{WIDTH:.0f}" height="{height:.0f}" font-family="serif">',
        f"<title>{escape(title)}</title>",
        f'<rect width="{WIDTH:.0f}" height="{height:.0f}" fill="#ffffff"/>',
    ]
    for line in lines:
        across, down = place(line.x_m, line.y_m)
        points = "L".join(
            f"{a:.2f} {d:.2f}"
            for a, d in zip(np.atleast_1d(across), np.atleast_1d(down), strict=True)
        )
        dash = f' stroke-dasharray="{line.dash}"' if line.dash else ""
        end = "Z" if line.closed else ""
        parts.append(
            f'<path d="M{points}{end}" fill="none" stroke="{line.colour}" '
            f'stroke-width="{line.width:g}" stroke-linejoin="round"{dash}/>'
        )
    for label in labels:
        across, down = place(label.x_m, label.y_m)
        parts.append(
            f'<text x="{across:.1f}" y="{down:.1f}" font-size="16">{escape(label.text)}</text>'
        )
    bar = 100.0 * scale
    parts.append(
        f'<path d="M{MARGIN} {height - 20:.1f}h{bar:.2f}" stroke="#0c2c47" stroke-width="2"/>'
        f'<text x="{MARGIN + bar + 8:.1f}" y="{height - 15:.1f}" font-size="14">100 m</text>'
    )
    parts.append("</svg>")
    return "\n".join(parts) + "\n"
