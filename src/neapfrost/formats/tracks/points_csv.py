"""Points of a road as text in columns, with whatever headers, separators and decimals it has."""

import io
import re
from dataclasses import dataclass
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measured.track import Track
from neapfrost.formats.text_columns import (
    cells_of,
    column_missing,
    column_name,
    decimal_of,
    is_number,
    numbered_lines,
    separator_of,
    text_of,
)
from neapfrost.formats.tracks.read_track import (
    ReadTrack,
    local_metres,
    refuse_count,
    refuse_size,
)

Role = Literal["x", "y", "lat", "lon", "z", "left", "right"]
LABELS: dict[Role, str] = {
    "x": "Position x",
    "y": "Position y",
    "lat": "Latitude",
    "lon": "Longitude",
    "z": "Height",
    "left": "Width to the left",
    "right": "Width to the right",
}
ROLES: tuple[Role, ...] = ("x", "y", "lat", "lon", "z", "left", "right")

NAMES: dict[Role, tuple[str, ...]] = {
    "x": ("x", "xm", "east", "easting", "e"),
    "y": ("y", "ym", "north", "northing", "n"),
    "lat": ("lat", "latitude", "latdeg", "latitudedeg"),
    "lon": ("lon", "lng", "long", "longitude", "londeg", "longitudedeg"),
    "z": ("z", "zm", "ele", "elev", "elevation", "elevationm", "alt", "altitude", "height"),
    "left": ("left", "leftm", "widthleft", "widthleftm", "leftwidth", "wl"),
    "right": ("right", "rightm", "widthright", "widthrightm", "rightwidth", "wr"),
}
SAMPLE_LINES = 6


@dataclass(frozen=True)
class Columns:
    """How a text file is laid out, and which of its columns means what.

    `roles` gives the number of the column of each role, from 0. `sure` is False where the headers
    did not say, so that somebody should look.
    """

    separator: str
    decimal: str
    header: tuple[str, ...]
    first_line: int
    roles: dict[Role, int]
    sure: bool
    sample: tuple[tuple[str, ...], ...]


def look_at_columns(data: bytes) -> Columns:
    """Recognise separator, decimals, headers and columns. Raises InputRefused for other files."""
    refuse_size(data)
    numbered = numbered_lines(text_of(data[: 1 << 16]))
    if len(data) > 1 << 16:
        numbered = numbered[:-1]
    if not numbered:
        raise InputRefused([Fault("", "the file has no lines but remarks; points are expected")])
    separator = separator_of([line for _, line in numbered[:50]])
    first = cells_of(numbered[0][1], separator)
    has_header = not all(is_number(cell) for cell in first if cell)
    body = numbered[1:] if has_header else numbered
    if not body:
        raise InputRefused([Fault("", "the file has a header and nothing under it")])
    header = tuple(first) if has_header else tuple(f"column {i + 1}" for i in range(len(first)))
    cells = [cells_of(line, separator) for _, line in body[:200]]
    decimal = decimal_of(cells, separator)
    roles = _roles_by_name(header) if has_header else {}
    sure = ("x" in roles and "y" in roles) or ("lat" in roles and "lon" in roles)
    if not sure:
        roles = _roles_by_value(cells, decimal)
    if not sure and len(roles) < 2:
        raise InputRefused(
            [
                Fault(
                    f"line {numbered[0][0] + 1}",
                    "fewer than two columns of numbers were found; x and y, or lat and lon, are "
                    "expected, separated by commas, semicolons or tabs",
                )
            ]
        )
    return Columns(
        separator,
        decimal,
        header,
        body[0][0] + 1,
        roles,
        sure,
        tuple(tuple(row) for row in cells[:SAMPLE_LINES]),
    )


def read_points_csv(data: bytes, columns: Columns) -> ReadTrack:
    """Read the points of a text file whose columns are known.

    Raises InputRefused with the line and the column of a cell that is not a number.
    """
    refuse_size(data)
    roles = columns.roles
    by_degrees = "lat" in roles and "lon" in roles
    wanted: list[Role] = ["lat", "lon"] if by_degrees else ["x", "y"]
    missing = [role for role in wanted if role not in roles]
    if missing:
        raise column_missing(LABELS[missing[0]])
    wanted += [role for role in ("z", "left", "right") if role in roles]
    values = _numbers(data, columns, [roles[role] for role in wanted])
    if len(values) == 0:
        raise InputRefused([Fault("", "no line holds a point; points of a road are expected")])
    refuse_count(len(values))
    found = {role: values[:, number] for number, role in enumerate(wanted)}
    z = found.get("z")
    origin = None
    if by_degrees:
        x, y, origin = local_metres(found["lat"], found["lon"], z)
    else:
        x, y = found["x"] - found["x"][0], found["y"] - found["y"][0]
    left, right = found.get("left"), found.get("right")
    if left is None or right is None:
        left = right = None
    said = ", ".join(column_name(columns.header, roles[role]) for role in wanted)
    note = f"{len(x)} points ({said})"
    return ReadTrack(Track(x, y, z, left, right), origin, note, "line", columns.first_line)


def write_points_csv(x_m: Floats, y_m: Floats, z_m: Floats, left_m: Floats, right_m: Floats) -> str:
    """A middle line with its widths, one point a line; shapes (n,)."""
    sheet = io.StringIO()
    sheet.write("x_m,y_m,z_m,width_left_m,width_right_m\r\n")
    table = np.column_stack((x_m, y_m, z_m, left_m, right_m))
    np.savetxt(sheet, table, fmt="%.4f", delimiter=",", newline="\r\n")
    return sheet.getvalue()


def _roles_by_name(header: tuple[str, ...]) -> dict[Role, int]:
    roles: dict[Role, int] = {}
    for number, name in enumerate(header):
        bare = re.sub(r"[^a-z]", "", re.sub(r"[\[(].*", "", name.casefold()))
        for role, names in NAMES.items():
            if bare in names and role not in roles:
                roles[role] = number
    if "lat" in roles and "lon" in roles:
        roles.pop("x", None)
        roles.pop("y", None)
    return roles


def _roles_by_value(cells: list[list[str]], decimal: str) -> dict[Role, int]:
    """The first two columns of numbers; degrees where they hardly change and could be some."""
    width = min(len(row) for row in cells)
    numeric = [i for i in range(width) if all(is_number(row[i]) for row in cells)]
    if len(numeric) < 2:
        return {}
    a, b = (np.array([float(row[i].replace(decimal, ".")) for row in cells]) for i in numeric[:2])
    small = np.ptp(a) < 0.5 and np.ptp(b) < 0.5 and len(cells) > 3
    degrees = small and np.abs(a).max() <= 90.0 and np.abs(b).max() <= 180.0
    names: tuple[Role, Role] = ("lat", "lon") if degrees else ("x", "y")
    return {names[0]: numeric[0], names[1]: numeric[1]}


def _numbers(data: bytes, columns: Columns, wanted: list[int]) -> Floats:
    if columns.decimal == ",":
        data = data.replace(b",", b".")
    text_of(data[:4096])
    try:
        values = np.loadtxt(
            io.BytesIO(data.removeprefix(b"\xef\xbb\xbf")),
            delimiter=None if columns.separator == " " else columns.separator,
            usecols=wanted,
            skiprows=columns.first_line - 1,
            comments="#",
            ndmin=2,
            quotechar='"',
            encoding="latin-1",
        )
    except ValueError:
        values = None
    if values is None or not np.isfinite(values).all():
        _refuse_cell(data, columns, wanted)
        raise InputRefused([Fault("", "the columns chosen are not numbers throughout")])
    numbers: Floats = values
    return numbers


def _refuse_cell(data: bytes, columns: Columns, wanted: list[int]) -> None:
    """Find the first cell that is not a number and refuse the file with its line and column."""
    for number, line in enumerate(text_of(data).splitlines(), start=1):
        if number < columns.first_line or not line.strip() or line.startswith("#"):
            continue
        cells = cells_of(line, columns.separator)
        for column in wanted:
            cell = cells[column] if column < len(cells) else None
            if cell is None or not is_number(cell):
                said = "the cell is missing" if cell is None else f'"{cell[:40]}" is not a number'
                raise InputRefused([Fault(f"line {number}, column {column + 1}", said)])
