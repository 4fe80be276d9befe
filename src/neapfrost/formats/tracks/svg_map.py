"""The road as a plain SVG map, to scale, north up."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.formats.svg import add_path, add_text, line_through, number, picture, written

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

    root = picture(title, WIDTH, size=16.0)
    for line in lines:
        across, down = place(line.x_m, line.y_m)
        places = zip(np.atleast_1d(across), np.atleast_1d(down), strict=True)
        add_path(
            root,
            line_through(places, line.closed),
            stroke=line.colour,
            stroke_width=line.width,
            stroke_linejoin="round",
            stroke_dasharray=line.dash or None,
        )
    for label in labels:
        across, down = place(label.x_m, label.y_m)
        add_text(root, float(across), float(down), label.text)
    bar = 100.0 * scale
    add_path(root, f"M{MARGIN} {number(height - 20.0)}h{number(bar)}", stroke_width=2)
    add_text(root, MARGIN + bar + 8.0, height - 15.0, "100 m", font_size=14)
    return written(root, height)
