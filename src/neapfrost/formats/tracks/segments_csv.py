"""Straights and corners as a sheet of text, one a line, in usual words and units."""

import math
import re
import unicodedata
from typing import Any

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.escaping import as_given, sheet_text
from neapfrost.formats.plan import CornerDocument, SegmentDocument
from neapfrost.formats.text_columns import (
    LENGTHS_M,
    LENGTHS_SPELT,
    bare_unit,
    cells_of,
    decimal_of,
    is_blank,
    looks_like_units,
    numbered_lines,
    separator_of,
    text_of,
)
from neapfrost.formats.tracks.read_track import refuse_size

COLUMNS = (
    "kind",
    "name",
    "direction",
    "length_m",
    "radius_m",
    "angle_deg",
    "end_radius_m",
    "transition_m",
    "end_transition_m",
    "banking_deg",
    "grade_pct",
    "grip_factor",
    "width_m",
)
TEXT = ("kind", "name", "direction", "note")
#: Words by which a column is known, letters only and without its unit.
WORDS: dict[str, tuple[str, ...]] = {
    "kind": ("kind", "type", "segment", "element"),
    "name": ("name", "corner", "corners", "turn", "bend", "label"),
    "direction": ("direction", "dir", "side", "hand", "leftright", "leftorright", "lr", "way"),
    "length_m": ("length", "len", "distance", "arc", "arclength"),
    "radius_m": ("radius", "r", "startradius", "cornerradius"),
    "angle_deg": ("angle", "turns", "turned", "anglechange", "turnangle"),
    "end_radius_m": ("endradius", "exitradius", "radiusend", "radiusatend"),
    "transition_m": ("transition", "transitionin", "entrytransition", "spiral", "clothoid"),
    "end_transition_m": ("endtransition", "transitionout", "exittransition"),
    "banking_deg": ("banking", "bank", "camber", "crossfall"),
    "grade_pct": ("grade", "gradient", "slope", "incline"),
    "grip_factor": ("grip", "gripfactor", "factor", "surface"),
    "width_m": ("width", "trackwidth", "roadwidth"),
    "note": ("note", "notes", "remark", "remarks", "comment", "comments"),
}
LENGTHS = {
    "": 1.0,
    **{spelt: LENGTHS_M[unit] for unit, ways in LENGTHS_SPELT.items() for spelt in ways},
}
ANGLES = {"": 1.0, "deg": 1.0, "degrees": 1.0, "rad": 180.0 / math.pi}
SHARES = {"": 1.0, "%": 1.0, "pct": 1.0, "percent": 1.0}
#: What a figure is times in each unit, by the end of its column's name.
UNITS = {"m": LENGTHS, "deg": ANGLES, "pct": SHARES, "factor": {"": 1.0}}
UNIT_WORDS = frozenset({*LENGTHS, *ANGLES, *SHARES} - {""})
#: A corner's stated angle and the one of its length may differ so much, by rounding.
ARC_SHARE = 0.05
KINDS = {
    **dict.fromkeys(("straight", "s", "str", "straightaway"), "straight"),
    **dict.fromkeys(("corner", "c", "turn", "bend", "curve"), "corner"),
}
SIDES = {
    **dict.fromkeys(("left", "l", "lh", "lefthand", "lefthander"), "left"),
    **dict.fromkeys(("right", "r", "rh", "righthand", "righthander"), "right"),
}


def looks_like_segments(data: bytes) -> bool:
    """Whether a text file's first line is the header of such a sheet."""
    head = data[:4000]
    if not head.strip():
        return False
    try:
        lines = numbered_lines(text_of(head, whole=False))
    except InputRefused:
        return False
    if not lines:
        return False
    separator = separator_of([line for _, line in lines[:1]])
    names = {name for name, _ in map(_column, cells_of(lines[0][1], separator))}
    return "kind" in names and bool(names & {"radius_m", "length_m"}) and lines[0][1][0] not in "{<"


def read_segments_csv(data: bytes) -> list[dict[str, Any]]:
    """Segments as objects, not yet checked by the plan's own rules.

    Any separator and decimals, columns by their usual names with a unit behind them or in a row of
    their own; "left" or "right" as kind is a corner, a length and a radius make an angle; a corner
    without a name is called by its number. Empty cells are left out. Raises InputRefused with line
    and column for an unknown column or unit and a cell that is not a number.
    """
    refuse_size(data)
    lines = numbered_lines(text_of(data))
    separator = separator_of([line for _, line in lines[:50]])
    rows = [(n + 1, cells_of(line, separator)) for n, line in lines]
    decimal = decimal_of([cells for _, cells in rows[1:]], separator)
    columns = [_known(cell, rows[0][0], number) for number, cell in enumerate(rows[0][1], start=1)]
    body = rows[1:]
    if body and looks_like_units(body[0][1], UNIT_WORDS):
        line, units = body.pop(0)
        columns = [
            (name, _unit(name, units[n], line, n + 1) if n < len(units) and units[n] else factor)
            for n, (name, factor) in enumerate(columns)
        ]
    segments: list[dict[str, Any]] = []
    for line, cells in body:
        if is_blank(cells):
            continue
        segment: dict[str, Any] = {}
        for column, ((name, factor), cell) in enumerate(zip(columns, cells, strict=False), start=1):
            if cell == "":
                continue
            if name in TEXT:
                segment[name] = as_given(cell)
            else:
                segment[name] = _figure(cell, decimal, line, column) * factor
        corners = sum(one["kind"] == "corner" for one in segments)
        segments.append(_segment(segment, line, columns, corners + 1))
    return segments


def write_segments_csv(segments: list[SegmentDocument]) -> str:
    """The sheet of segments; reading it back gives the same ones."""
    rows: list[list[str]] = [list(COLUMNS)]
    for segment in segments:
        value = segment.model_dump()
        row = []
        for name in COLUMNS:
            figure = value.get(name)
            row.append("" if figure is None else figure if name in TEXT else repr(float(figure)))
        if not isinstance(segment, CornerDocument):
            row[1] = row[2] = ""
        rows.append(row)
    return sheet_text(rows)


def _letters(text: str) -> str:
    plain = unicodedata.normalize("NFKD", text).casefold()
    return re.sub(r"[^a-z%]", "", plain.replace("°", "deg"))


def _column(header: str) -> tuple[str | None, str]:
    """The column that a header names, and the unit behind it."""
    parts = [
        _letters(part) for part in re.split(r"[\s_\[\](),:/.-]+", header.replace("°", " deg "))
    ]
    words = [part for part in parts if part]
    for known in range(len(words), 0, -1):
        bare = "".join(words[:known])
        name = next((one for one, spelt in WORDS.items() if bare in spelt), None)
        unit = "".join(words[known:])
        if name is not None and not (unit and name in TEXT):
            return name, unit
    return None, ""


def _known(header: str, line: int, number: int) -> tuple[str, float]:
    name, unit = _column(header)
    if name is None:
        raise InputRefused(
            [
                Fault(
                    f"line {line}, column {number}",
                    f'"{header}" is not a column of a segment sheet; {", ".join(COLUMNS)} are',
                )
            ]
        )
    return name, _unit(name, unit, line, number)


def _unit(name: str, unit: str, line: int, column: int) -> float:
    if name in TEXT:
        return 1.0
    units = UNITS[name.rpartition("_")[2]]
    factor = units.get(bare_unit(unit.replace("°", "deg")))
    if factor is None:
        listed = ", ".join(one for one in units if one)
        raise InputRefused(
            [
                Fault(
                    f"line {line}, column {column}",
                    f'"{unit}" is not a unit known here; {listed} are',
                )
            ]
        )
    return factor


def _segment(
    given: dict[str, Any], line: int, columns: list[tuple[str, float]], number: int
) -> dict[str, Any]:
    """A segment in the plan's own words."""
    names = [name for name, _ in columns]
    kind = str(given.get("kind", ""))
    side = SIDES.get(_letters(str(given.get("direction", kind))))
    found = KINDS.get(_letters(kind), "corner" if _letters(kind) in SIDES else None)
    if found is None:
        place = f"line {line}, column {names.index('kind') + 1}"
        raise InputRefused(
            [
                Fault(
                    place,
                    f'"{kind}" was given; "straight", "corner", "left" or "right" is expected',
                )
            ]
        )
    if found == "straight":
        unused = ("name", "direction", "note")
        return {"kind": found, **{k: v for k, v in given.items() if k not in ("kind", *unused)}}
    segment = {**given, "kind": found}
    segment.setdefault("name", f"T{number}")
    if side is not None:
        segment["direction"] = side
    radius, length = segment.get("radius_m"), segment.pop("length_m", None)
    even = not {"end_radius_m", "transition_m", "end_transition_m"} & set(segment)
    if length is not None and radius and even:
        turned = math.degrees(length / radius)
        stated = segment.setdefault("angle_deg", turned)
        if abs(turned - stated) > ARC_SHARE * turned:
            said = (
                f"{length:g} m on a radius of {radius:g} m turn {turned:.1f}°, {stated:g}° were "
                "given; leave one of them out"
            )
            raise InputRefused([Fault(f"line {line}", said)])
    return segment


def _figure(text: str, decimal: str, line: int, column: int) -> float:
    try:
        return float(text.replace(",", ".") if decimal == "," else text)
    except ValueError:
        raise InputRefused(
            [Fault(f"line {line}, column {column}", f'"{text[:40]}" is not a number')]
        ) from None
