"""Straights and corners as a sheet of text, one a line."""

import csv
import io
from typing import Any

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.escaping import as_given, sheet_text
from neapfrost.formats.plan import CornerDocument, SegmentDocument
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
TEXT = ("kind", "name", "direction")


def looks_like_segments(data: bytes) -> bool:
    """Whether a text file's first line is the header of such a sheet."""
    first = data[:2000].decode("utf-8-sig", "replace").splitlines()[:1]
    cells = (
        {cell.strip().strip('"') for cell in first[0].replace(";", ",").split(",")}
        if first
        else set()
    )
    return "kind" in cells and ("radius_m" in cells or "length_m" in cells)


def read_segments_csv(data: bytes) -> list[dict[str, Any]]:
    """Segments as objects, not yet checked by the plan's own rules.

    Commas, or semicolons with decimal commas; empty cells are left out. Raises InputRefused with
    line and column for an unknown column or a cell that is no number.
    """
    refuse_size(data)
    text = data.decode("utf-8-sig", "replace").replace("\r\n", "\n").replace("\r", "\n")
    separator = ";" if ";" in text.splitlines()[0] else ","
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=separator))
    except csv.Error as error:
        raise InputRefused([Fault("", f"the sheet cannot be read: {error}")]) from None
    header = [cell.strip() for cell in rows[0]]
    for number, name in enumerate(header, start=1):
        if name not in COLUMNS:
            raise InputRefused(
                [
                    Fault(
                        f"line 1, column {number}",
                        f'"{name}" is no column of a sheet of segments; {", ".join(COLUMNS)} are',
                    )
                ]
            )
    segments = []
    for line, row in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        segment: dict[str, Any] = {}
        for column, (name, cell) in enumerate(zip(header, row, strict=False), start=1):
            value = cell.strip()
            if value == "":
                continue
            segment[name] = (
                as_given(value) if name in TEXT else _figure(value, separator, line, column)
            )
        if segment.get("kind") not in ("straight", "corner"):
            raise InputRefused(
                [
                    Fault(
                        f"line {line}, column {header.index('kind') + 1}",
                        f'"{segment.get("kind", "")}" was given; "straight" or "corner" is '
                        "expected",
                    )
                ]
            )
        segments.append(segment)
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


def _figure(text: str, separator: str, line: int, column: int) -> float:
    try:
        return float(text.replace(",", ".") if separator == ";" else text)
    except ValueError:
        raise InputRefused(
            [Fault(f"line {line}, column {column}", f'"{text[:40]}" is no number')]
        ) from None
