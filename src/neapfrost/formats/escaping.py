"""Text of people's own in other formats: no formula in a sheet, no markup on a page."""

import csv
import io
import re
from collections.abc import Iterable, Sequence

#: What a spreadsheet may take for the beginning of a formula.
FORMULA = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[-+]?(\d+(\.\d*)?|\.\d+)([eE][-+]?\d+)?")
#: Characters that XML 1.0 has no place for, escaped or not.
_NOT_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")


def sheet_text(rows: Iterable[Sequence[object]], separator: str = ",") -> str:
    """Rows as a sheet of text (RFC 4180), with no cell that a spreadsheet takes for a formula."""
    sheet = io.StringIO()
    writer = csv.writer(sheet, delimiter=separator, lineterminator="\r\n")
    writer.writerows([harmless(cell) for cell in row] for row in rows)
    return sheet.getvalue()


def harmless(cell: object) -> object:
    """A cell as it is, a text that begins like a formula with an apostrophe before it."""
    if not isinstance(cell, str):
        return cell
    text = _NOT_XML.sub("", cell)
    return f"'{text}" if text.startswith(FORMULA) and not _NUMBER.fullmatch(text) else text


def as_given(cell: str) -> str:
    """What `harmless` was given."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(FORMULA) else cell


def markdown_text(text: str) -> str:
    """Text on one line of Markdown: no markup of its own, no cell's end."""
    text = _NOT_XML.sub("", text).replace("\n", " ").replace("\r", " ")
    text = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return re.sub(r"([\\`*_\[\]|])", r"\\\1", text)


def markdown_table(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> list[str]:
    """A table's lines in Markdown, every cell on one line and without markup of its own."""

    def line(cells: Sequence[str]) -> str:
        return "| " + " | ".join(markdown_text(cell) for cell in cells) + " |"

    return [line(heads), "|---" * len(heads) + "|", *(line(row) for row in rows)]


def xml_text(text: str) -> str:
    """Text without the characters that no XML can hold; escaping is the writer's."""
    return _NOT_XML.sub("", text)
