"""A spreadsheet's sheet of samples, as the text that a logger would have written."""

import io
from datetime import date, datetime, time, timedelta

from neapfrost.core.errors import Fault, InputRefused


def workbook_text(data: bytes) -> bytes:
    """The sheet with the most rows, its cells between tabs. Raises InputRefused."""
    from python_calamine import CalamineError, CalamineWorkbook

    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        sheets = [book.get_sheet_by_name(name) for name in book.sheet_names]
        rows = max((sheet.to_python(skip_empty_area=False) for sheet in sheets), key=len)
    except (CalamineError, ValueError, OSError) as error:
        said = str(error).splitlines()[0][:120] if str(error) else "no sheet"
        raise InputRefused([Fault("", f"the spreadsheet cannot be read ({said})")]) from None
    return "\n".join("\t".join(map(_cell, row)) for row in rows).encode()


def _cell(value: object) -> str:
    """A cell as text: moments as ISO, times and durations as a clock, numbers in full."""
    if isinstance(value, bool):
        return "1" if value else "0"
    if isinstance(value, float):
        return repr(value)
    if isinstance(value, datetime):
        return value.isoformat(sep=" ")
    if isinstance(value, timedelta):
        seconds = value.total_seconds()
        return f"{int(seconds // 3600)}:{int(seconds // 60) % 60:02d}:{seconds % 60:09.6f}"
    if isinstance(value, date | time):
        return value.isoformat()
    return " ".join(str(value).split())
