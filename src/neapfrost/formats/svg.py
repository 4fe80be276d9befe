"""SVG pictures written with the standard library's XML: the one writer of every picture."""

import math
from collections.abc import Iterable
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from neapfrost.formats.escaping import xml_text

#: The pens of every picture: ink, quiet words, rules, and what concerns braking.
INK, SECOND, RULE, EMBER = "#0c2c47", "#3e5869", "#a9bdc3", "#a8360e"


def picture(title: str, width: float, family: str = "serif", size: float = 13.0) -> Element:
    """An empty picture of a width; its height is given when it is `written`."""
    root = Element("svg", {"xmlns": "http://www.w3.org/2000/svg"})
    root.attrib |= {"width": number(width), "font-family": family, "font-size": number(size)}
    root.set("fill", INK)
    SubElement(root, "title").text = xml_text(title)
    SubElement(root, "rect", {"width": "100%", "height": "100%", "fill": "#ffffff"})
    return root


def add_text(root: Element, x: float, y: float, words: str, **looks: str | float | None) -> None:
    """Words whose baseline begins (or, by `text_anchor`, is centred or ends) at a place."""
    SubElement(root, "text", _looks({"x": x, "y": y, **looks})).text = xml_text(words)


def add_path(root: Element, way: str, **looks: str | float | None) -> None:
    """A line along a way; not filled unless `fill` says so."""
    SubElement(root, "path", _looks({"d": way, "fill": "none", "stroke": INK, **looks}))


def line_through(places: Iterable[tuple[float, float]], closed: bool = False) -> str:
    """A way through places, to a hundredth of a pixel."""
    return "M" + "L".join(f"{number(x)} {number(y)}" for x, y in places) + ("Z" if closed else "")


def ticks(low: float, high: float, about: int = 6) -> list[float]:
    """Round values between two ends, about so many."""
    if high <= low:
        return [low]
    raw = (high - low) / about
    power = 10.0 ** math.floor(math.log10(raw))
    step = float(next(power * m for m in (1.0, 2.0, 2.5, 5.0, 10.0) if power * m >= raw))
    first = math.ceil(low / step - 1e-9) * step
    count = math.floor((high - first) / step + 1e-9) + 1
    return [round(first + step * k, 10) for k in range(count)]


def written(root: Element, height: float) -> str:
    """The picture as a document of a height."""
    width = root.get("width", "0")
    root.set("height", number(height))
    root.set("viewBox", f"0 0 {width} {number(height)}")
    indent(root, space="")
    return tostring(root, encoding="unicode") + "\n"


def number(value: float) -> str:
    """A number to a hundredth, without zeros at its end."""
    return f"{value:.2f}".rstrip("0").rstrip(".")


def _looks(looks: dict[str, str | float | None]) -> dict[str, str]:
    """Attributes as SVG spells them; those of None are left out."""
    return {
        name.replace("_", "-"): value if isinstance(value, str) else number(value)
        for name, value in looks.items()
        if value is not None
    }
