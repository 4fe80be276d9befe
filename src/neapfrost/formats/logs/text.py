"""A logger's file as text in columns: a preamble, names, a row of units, then samples."""

import re
from collections.abc import Iterator
from datetime import UTC, datetime

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import Log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.channels import (
    ALL_UNITS,
    LABELS,
    ROWS_MOST,
    UNITS,
    Channel,
    LogColumn,
    LogLayout,
    channel_named,
    columns_by_names,
    log_of_values,
    refuse_missing,
    too_many_samples,
)
from neapfrost.formats.text_columns import (
    cells_of,
    decimal_of,
    is_blank,
    is_number,
    looks_like_units,
    separator_of,
    text_of,
)

BYTES_MOST = 50 * 1024 * 1024
PREAMBLE_MOST = 300
#: The beginning of a file, by which its layout is recognised [bytes].
HEAD_BYTES = 1 << 18
SEPARATORS = (";", "\t", ",", "|")
#: Names are known by so many channels at least; else the layout is told by the samples alone.
KNOWN_LEAST = 2
#: So many rows of as many cells, most of them values, are samples.
SAMPLES_LOOKED_AT = 5
VALUES_LEAST = 0.6
#: Samples read at a time, so that a long file is never held cell by cell.
ROWS_AT_ONCE = 50_000
#: How a logger writes that it has no value.
MISSING = ("-", "--", "n/a", "na", "null", "none", "nan", "inf", "-inf", "?")
DAY_S = 86_400.0


def look_at_log(data: bytes) -> LogLayout:
    """Recognise names, units, separators and decimals. Raises InputRefused for other files.

    Where the names are not known the samples tell the layout, so that columns can be chosen.
    """
    if len(data) > BYTES_MOST:
        raise InputRefused([Fault("", "The file is larger than 50 MB: export one session of it.")])
    lines = text_of(data[:HEAD_BYTES], whole=len(data) <= HEAD_BYTES).splitlines()
    found = _by_names(lines) or _by_samples(lines)
    if found is None:
        raise InputRefused(
            [
                Fault(
                    "",
                    "No table of samples was found: a line such as Time, Speed, Latitude, "
                    "Longitude, and numbers under it, is expected.",
                )
            ]
        )
    at, body, separator = found
    header = tuple(cells_of(lines[at], separator)) if at >= 0 else ()
    rows = [cells_of(line, separator) for line in lines[body : body + 100] if line.strip()]
    if not header:
        header = tuple(f"Column {number + 1}" for number in range(len(rows[0])))
    units = next((cells_of(line, separator) for line in lines[at + 1 : body] if line.strip()), [])
    columns = columns_by_names(header, units)
    if "time" in columns and _is_clock(rows, columns["time"].number):
        columns["time"] = LogColumn(columns["time"].number, "h:m:s")
    before = lines[: max(at, 0)]
    about = [cells_of(line, separator_of([line])) for line in before if line.strip()]
    return LogLayout(
        separator,
        decimal_of(rows, separator),
        header,
        body + 1,
        columns,
        tuple((cells[0], ", ".join(cells[1:])) for cells in about if len(cells) > 1),
    )


def _by_names(lines: list[str]) -> tuple[int, int, str] | None:
    """The line of names, the first of samples (from 0) and the separator, by channels' names."""
    candidates = []
    for number, line in enumerate(lines[:PREAMBLE_MOST]):
        for separator in SEPARATORS:
            known = {
                role for role in map(channel_named, cells_of(line, separator)) if role is not None
            }
            candidates.append((len(known), -number, separator))
    best = max(candidates, default=(0, 0, ","))
    if best[0] < KNOWN_LEAST:
        return None
    at, separator = -best[1], best[2]
    body = at + 1
    under = cells_of(lines[body], separator) if body < len(lines) else []
    if any(under) and not any(is_number(cell) or _seconds(cell) is not None for cell in under):
        body += 1
    return at, body, separator


def _by_samples(lines: list[str]) -> tuple[int, int, str] | None:
    """As `_by_names`, by where rows of values begin; the names are -1 where no line holds any."""
    best: tuple[int, int, int, str] | None = None
    for separator in SEPARATORS:
        rows = [cells_of(line, separator) for line in lines[: PREAMBLE_MOST + SAMPLES_LOOKED_AT]]
        for body in range(len(rows)):
            following = [row for row in rows[body : body + 2 * SAMPLES_LOOKED_AT] if any(row)]
            sampled = following[:SAMPLES_LOOKED_AT]
            width = len(sampled[0]) if sampled else 0
            if len(sampled) < SAMPLES_LOOKED_AT or width < 2 or not any(rows[body]):
                continue
            if all(len(row) == width and _holds_values(row) for row in sampled):
                candidate = (width, -body, _names_above(rows, body, width), separator)
                best = candidate if best is None or candidate > best else best
                break
    return None if best is None else (best[2], -best[1], best[3])


def _holds_values(row: list[str]) -> bool:
    given = [cell for cell in row if cell]
    values = sum(_is_value(cell) for cell in given)
    return len(given) > 0 and values >= max(2, VALUES_LEAST * len(given))


def _names_above(rows: list[list[str]], body: int, width: int) -> int:
    """The line that names the columns of samples that begin at a line; -1 where there is none."""
    above = [number for number in range(body) if any(rows[number])][-2:]
    as_wide = [number for number in above if abs(len(rows[number]) - width) <= 1]
    if not as_wide:
        return -1
    last = as_wide[-1]
    if len(as_wide) == 2 and looks_like_units(rows[last], ALL_UNITS):
        return as_wide[0]
    return last


def _is_value(cell: str) -> bool:
    return is_number(cell) or _seconds(cell) is not None or cell.casefold() in MISSING


def _is_clock(rows: list[list[str]], number: int) -> bool:
    """Whether the times of a column are written as a clock or a date with one."""
    given = [row[number] for row in rows if number < len(row) and row[number]]
    return len(given) > 0 and not is_number(given[0]) and _seconds(given[0]) is not None


def first_rows(data: bytes, layout: LogLayout, rows: int = 3) -> list[list[str]]:
    """The first samples of a log, cell by cell as they are written."""
    text = text_of(data[:HEAD_BYTES], whole=len(data) <= HEAD_BYTES)
    lines = text.splitlines()[layout.first_line - 1 :]
    return [cells_of(line, layout.separator) for line in lines[: 2 * rows] if line.strip()][:rows]


def thinned_columns(data: bytes, layout: LogLayout, rows: int) -> list[Floats]:
    """About so many samples of every column evenly along a log; NaN where a cell is no number."""
    import polars as pl

    lines = text_of(data).splitlines()[layout.first_line - 1 :]
    picked = [cells_of(line, layout.separator) for line in lines[:: max(len(lines) // rows, 1)]]
    sampled = [cells for cells in picked if not is_blank(cells)]
    columns = []
    for number in range(len(layout.header)):
        text = pl.Series(
            [row[number] if number < len(row) else "" for row in sampled], dtype=pl.String
        )
        if layout.decimal == ",":
            text = text.str.replace(",", ".", literal=True)
        numbers = text.cast(pl.Float64, strict=False).fill_null(float("nan"))
        columns.append(numbers.to_numpy().astype(np.float64))
    return columns


def read_log(data: bytes, layout: LogLayout) -> Log:
    """The channels of a log whose layout is known.

    Raises InputRefused with line and column of a cell that is not a number, and where a channel is
    in another unit than it is taken for.
    """
    refuse_missing(layout)
    return log_of_values(_values(data, layout), layout)


def _values(data: bytes, layout: LogLayout) -> dict[Channel, Floats]:
    """Samples of every channel, NaN where a cell is empty; rows without a time are dropped."""
    parts: dict[Channel, list[Floats]] = {role: [] for role in layout.columns}
    widest, count = 0, 0
    for lines, rows in _rows(data, layout):
        count += len(rows)
        if count > ROWS_MOST:
            raise too_many_samples()
        widest = max(widest, max(map(len, rows), default=0))
        for role, column in layout.columns.items():
            number = column.number
            cells = [row[number] if number < len(row) else "" for row in rows]
            parts[role].append(_numbers(cells, role, layout, lines))
    for role, column in layout.columns.items():
        if column.number >= widest:
            raise InputRefused(
                [
                    Fault(
                        "columns",
                        f"{LABELS[role]}: column {column.number + 1} does not exist; the samples "
                        f"have {widest} columns. Choose another.",
                    )
                ]
            )
    found = {
        role: np.concatenate(one) if one else np.zeros(0, dtype=np.float64)
        for role, one in parts.items()
    }
    timed = np.isfinite(found["time"])
    found = {role: one[timed] for role, one in found.items()}
    if layout.columns["time"].unit == "h:m:s":
        found["time"] = _over_midnight(found["time"])
    return found


def _rows(data: bytes, layout: LogLayout) -> Iterator[tuple[list[int], list[list[str]]]]:
    """The samples some at a time: the lines they stand in (from 1), and their cells.

    What holds nothing, or nothing but separators, is no sample.
    """
    lines = text_of(data).splitlines()
    for first in range(layout.first_line - 1, len(lines), ROWS_AT_ONCE):
        numbers, rows = [], []
        for number, line in enumerate(lines[first : first + ROWS_AT_ONCE], start=first + 1):
            cells = cells_of(line, layout.separator)
            if not is_blank(cells):
                numbers.append(number)
                rows.append(cells)
        yield numbers, rows


def _numbers(cells: list[str], role: Channel, layout: LogLayout, lines: list[int]) -> Floats:
    """The numbers in some cells of a column, NaN where there is none. Raises InputRefused."""
    import polars as pl

    text = pl.Series(cells, dtype=pl.String)
    if layout.decimal == ",":
        text = text.str.replace(",", ".", literal=True)
    number = text.cast(pl.Float64, strict=False)
    values: Floats = number.fill_null(float("nan")).to_numpy().astype(np.float64)
    values = np.where(np.isfinite(values), values, np.nan)
    for row in (number.is_null() & (text != "")).arg_true().to_list():
        cell = cells[row]
        if cell.casefold() in MISSING:
            continue
        seconds = _seconds(cell) if role == "time" else None
        if seconds is None:
            column = layout.columns[role].number + 1
            raise InputRefused(
                [Fault(f"line {lines[row]}, column {column}", f'"{cell[:40]}" is not a number')]
            )
        values[row] = seconds / UNITS["time"][layout.columns["time"].unit]
    return values


def _seconds(cell: str) -> float | None:
    """A time written as h:mm:ss, mm:ss or a date with a clock [s]; None for anything else."""
    text = cell.strip().replace(",", ".")
    clock = re.fullmatch(r"(?:(\d{1,3}):)?(\d{1,3}):(\d{1,2}(?:\.\d*)?)", text)
    if clock:
        hours, minutes, seconds = (float(part or 0.0) for part in clock.groups())
        return 3600.0 * hours + 60.0 * minutes + seconds
    dotted = re.fullmatch(r"(\d{1,2})[./](\d{1,2})[./](\d{4})[ T]+(.*)", text)
    if dotted:
        text = f"{dotted[3]}-{int(dotted[2]):02d}-{int(dotted[1]):02d}T{dotted[4]}"
    if not re.match(r"\d{4}-\d\d-\d\d[ T]\d", text):
        return None
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        return None
    return moment.replace(tzinfo=moment.tzinfo or UTC).timestamp()


def _over_midnight(t_s: Floats) -> Floats:
    """Times by a clock that begins anew at midnight, going on after it."""
    falls = np.concatenate(([0.0], np.where(np.diff(t_s) < -0.5 * DAY_S, DAY_S, 0.0)))
    found: Floats = t_s + np.cumsum(falls)
    return found
