"""The brief as one A4 page in SVG: heading, map to scale, a line for each corner, cautions."""

from collections.abc import Sequence
from dataclasses import dataclass
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
    written,
)

WIDTH, MARGIN = 794.0, 40.0
MAP_WIDTH, MAP_HEIGHT = 250.0, 165.0
#: Width of one character as a share of its size, wide enough for any common serif.
CHARACTER = 0.56


@dataclass(frozen=True)
class SheetCell:
    """A word of the table; `braking` ones are set in the braking colour."""

    text: str
    braking: bool = False


@dataclass(frozen=True)
class MapMark:
    """A corner's number at its place on the map [m]."""

    number: int
    x_m: float
    y_m: float


# Many parameters: the parts of the page, each given by its name.
def brief_svg(
    title: str,
    lines: Sequence[str],
    lap: str,
    under_lap: str,
    map_m: tuple[Sequence[float], Sequence[float]],
    marks: Sequence[MapMark],
    heading: Sequence[str],
    rows: Sequence[Sequence[SheetCell]],
    cautions: Sequence[str],
) -> str:
    """An SVG document of A4's width, as high as its rows need."""
    root = picture(title, WIDTH)

    def text(x: float, y: float, size: float, words: str, colour: str = INK) -> None:
        add_text(root, x, y, words, font_size=size, fill=colour)

    def rule(y: float, colour: str = RULE, width: float = 1.0) -> None:
        way = f"M{MARGIN} {number(y)}H{WIDTH - MARGIN}"
        add_path(root, way, stroke=colour, stroke_width=width)

    y = MARGIN + 18.0
    text(MARGIN, y, 22, title)
    room = WIDTH - 2 * MARGIN - MAP_WIDTH - 16.0
    for line in lines:
        for part in wrapped(line, room, 11):
            y += 15.0
            text(MARGIN, y, 11, part, SECOND)
    y += 34.0
    text(MARGIN, y, 30, lap)
    if under_lap:
        text(MARGIN + len(lap) * 30 * CHARACTER, y, 12, under_lap, SECOND)
    _add_map(root, map_m, marks)
    y = max(y + 16.0, MARGIN + MAP_HEIGHT + 16.0)
    rule(y, INK, 2.0)
    size = 10.5
    xs = _columns(heading, rows, size)
    y += 24.0
    for x, words in zip(xs, heading, strict=True):
        for row, part in enumerate(words.split(", ", 1)):
            text(x, y - 10.0 + 11.0 * row, 9.5, part, SECOND)
    y += 8.0
    for cells in rows:
        rule(y)
        y += 19.0
        for x, cell in zip(xs, cells, strict=True):
            text(x, y - 5.0, size, cell.text, EMBER if cell.braking else INK)
    rule(y, INK, 2.0)
    y += 6.0
    for caution in cautions:
        for part in wrapped(caution, WIDTH - 2 * MARGIN, 10):
            y += 14.0
            text(MARGIN, y, 10, part)
    return written(root, y + MARGIN)


def wrapped(words: str, room: float, size: float) -> list[str]:
    """A sentence in lines of at most so many pixels."""
    most = max(int(room / (size * CHARACTER * 0.9)), 10)
    lines, line = [], ""
    for word in words.split():
        if line and len(line) + 1 + len(word) > most:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}" if line else word
    return [*lines, line] if line else lines


def _columns(
    heading: Sequence[str], rows: Sequence[Sequence[SheetCell]], size: float
) -> list[float]:
    """Where each column begins, by its longest word, shrunk together where that is too wide."""
    widths = []
    for column, words in enumerate(heading):
        longest = max(
            [len(part) * 0.92 for part in words.split(", ", 1)]
            + [float(len(row[column].text)) for row in rows]
        )
        widths.append(longest * size * CHARACTER * 0.9 + 8.0)
    room = WIDTH - 2 * MARGIN
    scale = min(1.0, room / sum(widths))
    xs, x = [], MARGIN
    for width in widths:
        xs.append(x)
        x += width * scale
    return xs


def _add_map(
    root: Element, map_m: tuple[Sequence[float], Sequence[float]], marks: Sequence[MapMark]
) -> None:
    xs, ys = map_m
    if not xs:
        return
    left, top = min(xs), max(ys)
    scale = min(
        (MAP_WIDTH - 30.0) / max(max(xs) - left, 1.0),
        (MAP_HEIGHT - 30.0) / max(top - min(ys), 1.0),
    )
    x0, y0 = WIDTH - MARGIN - MAP_WIDTH + 15.0, MARGIN + 10.0
    road = ((x0 + (x - left) * scale, y0 + (top - y) * scale) for x, y in zip(xs, ys, strict=True))
    add_path(root, line_through(road), stroke_width=1.6)
    middle_x, middle_y = sum(xs) / len(xs), sum(ys) / len(ys)
    for mark in marks:
        # Away from the middle of the map, so that the number stands outside the road.
        dx, dy = mark.x_m - middle_x, mark.y_m - middle_y
        away = 11.0 / max((dx * dx + dy * dy) ** 0.5, 1.0)
        x = x0 + (mark.x_m - left) * scale + dx * away - 3.0
        y = y0 + (top - mark.y_m) * scale - dy * away + 3.5
        add_text(root, x, y, str(mark.number), font_size=10)
