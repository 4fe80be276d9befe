"""Text in columns, whatever its separator and decimals: its cells, numbers and lines."""

import re

from neapfrost.core.errors import Fault, InputRefused

SEPARATORS = (";", "\t", ",", "|", " ")


def text_of(data: bytes) -> str:
    """A file's text. Raises InputRefused for a binary one."""
    if b"\x00" in data[:4096]:
        raise InputRefused([Fault("", "the file is binary; text in columns is expected")])
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def cells_of(line: str, separator: str) -> list[str]:
    """The cells of a line, without spaces and quotes around them."""
    cells = line.split() if separator == " " else line.split(separator)
    return [cell.strip().strip('"') for cell in cells]


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


def column_name(header: tuple[str, ...], number: int) -> str:
    """A column's header, or its number where the header ends before it."""
    return header[number] if number < len(header) else f"column {number + 1}"
