"""Text in columns, whatever its encoding, separator and decimals: its cells, numbers and lines."""

import codecs
import csv
import re

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import FOOT_M

#: Metres in each unit of length, and how it may be written.
LENGTHS_M = {"m": 1.0, "km": 1000.0, "ft": FOOT_M, "yd": 3.0 * FOOT_M}
LENGTHS_SPELT: dict[str, tuple[str, ...]] = {
    "m": ("m", "metres", "meters"),
    "km": ("km",),
    "ft": ("ft", "feet"),
    "yd": ("yd", "yards"),
}
SEPARATORS = (";", "\t", ",", "|", " ")
#: Byte order marks of the encodings that have one, the longer ones first.
MARKS = (
    (b"\xef\xbb\xbf", "utf-8"),
    (b"\xff\xfe\x00\x00", "utf-32"),
    (b"\x00\x00\xfe\xff", "utf-32"),
    (b"\xff\xfe", "utf-16"),
    (b"\xfe\xff", "utf-16"),
)
#: Bytes looked at to recognise an encoding that no mark names.
LOOKED_AT = 4096
#: So large a share of the bytes of UTF-16 text in any European language is zero.
ZEROS_LEAST = 0.3


def text_of(data: bytes, whole: bool = True) -> str:
    """A file's text: UTF-8, UTF-16 or UTF-32, else Latin-1. Raises InputRefused for a binary one.

    Where it is not the `whole` file a letter may be cut in two at its end.
    """
    encoding = next((name for mark, name in MARKS if data.startswith(mark)), None)
    if encoding is None:
        encoding = _unmarked_utf16(data[:LOOKED_AT])
    if encoding is None and b"\x00" in data[:LOOKED_AT]:
        raise InputRefused([Fault("", "the file is binary; text in columns is expected")])
    if encoding is None:
        try:
            return codecs.getincrementaldecoder("utf-8")().decode(data, whole)
        except UnicodeDecodeError:
            return data.decode("latin-1")
    return data.decode(encoding, "replace").removeprefix("\ufeff")


def _unmarked_utf16(head: bytes) -> str | None:
    """UTF-16 without a mark: of ASCII every other byte is zero."""
    half = len(head) // 2
    if half < 8:
        return None
    for name, zeros in (("utf-16-le", head[1::2]), ("utf-16-be", head[0::2])):
        others = head[0::2] if name == "utf-16-le" else head[1::2]
        if zeros.count(0) >= ZEROS_LEAST * half * 2 and others.count(0) == 0:
            return name
    return None


def cells_of(line: str, separator: str) -> list[str]:
    """The cells of a line, without spaces and quotes around them; quoted ones may hold anything."""
    if separator == " ":
        return [cell.strip('"') for cell in line.split()]
    if '"' not in line:
        return [cell.strip() for cell in line.split(separator)]
    # One line at a time, so that a quote that nobody closes ends with its line.
    try:
        row = next(csv.reader([line], delimiter=separator, skipinitialspace=True), [])
    except csv.Error:  # a cell longer than any table has
        row = line.split(separator)
    return [cell.strip() for cell in row]


def separator_of(lines: list[str]) -> str:
    """The separator that cuts most lines into the same number of cells, and into most of them."""
    best, most = ",", (0, 0)
    for separator in SEPARATORS:
        counts = [len(cells_of(line, separator)) for line in lines]
        usual = max(set(counts), key=counts.count)
        if usual < 2:
            continue
        # A decimal comma cuts every number in two: then another separator cuts as well.
        score = (counts.count(usual), -SEPARATORS.index(separator))
        if score > most:
            best, most = separator, score
    return best


def is_number(cell: str) -> bool:
    """Whether a cell is a number, with a decimal point or comma."""
    return re.fullmatch(r"[-+]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?", cell.strip()) is not None


def decimal_of(rows: list[list[str]], separator: str) -> str:
    """The decimal sign of the numbers in these rows: a comma where one stands in any of them."""
    comma = separator != "," and any(
        re.fullmatch(r"[-+]?\d+,\d+", cell) for row in rows for cell in row
    )
    return "," if comma else "."


def numbered_lines(text: str) -> list[tuple[int, str]]:
    """Lines that are neither empty nor remarks, each with its number, from 0."""
    return [(n, s) for n, s in enumerate(text.splitlines()) if s.strip() and s[:1] != "#"]


def is_blank(cells: list[str]) -> bool:
    """Whether a row holds nothing."""
    return not any(cells)


def looks_like_units(cells: list[str], known: frozenset[str]) -> bool:
    """Whether a row under the names holds their units: no numbers, and some unit that is known."""
    given = [bare_unit(cell) for cell in cells if cell]
    return (
        bool(given)
        and not any(is_number(cell) for cell in cells)
        and any(unit in known for unit in given)
    )


def bare_unit(text: str) -> str:
    """A unit as it is compared: "[km/h]" as "kmh", "°C" as "c"."""
    return re.sub(r"[^a-z%]", "", text.casefold())


def column_missing(label: str) -> InputRefused:
    """The refusal of a table without a column that it needs."""
    return InputRefused([Fault("columns", f"{label} is missing: choose the column that holds it.")])


def column_name(header: tuple[str, ...], number: int) -> str:
    """A column's header, or its number where the header ends before it."""
    return header[number] if number < len(header) else f"column {number + 1}"
