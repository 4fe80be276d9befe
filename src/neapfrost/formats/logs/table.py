"""A log as a table of channels on one time base, whatever file it came from; and as Parquet."""

import io
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import Log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.channels import (
    ROWS_MOST,
    LogLayout,
    columns_by_names,
    log_of_values,
    too_many_samples,
)

#: Of more channels than these the first are read.
CHANNELS_MOST = 400
#: The key under which a kept table holds what stands beside its channels.
ABOUT = "neapfrost"
#: What was done to a log's channels, among what is said of it.
NOTE = "Note"


@dataclass(frozen=True, eq=False)
class LoggedTable:
    """Channels side by side: names with their units in brackets, and columns of shape (n,).

    NaN where a channel has no sample. `about` is what the file says of itself; `said` what was done
    to bring its channels together.
    """

    names: tuple[str, ...]
    columns: tuple[Floats, ...]
    about: tuple[tuple[str, str], ...] = ()
    said: tuple[str, ...] = ()


def named(name: str, unit: str) -> str:
    """A channel's name with its unit: "Speed [km/h]"."""
    bare = " ".join(name.replace("[", "(").replace("]", ")").split()) or "channel"
    return f"{bare} [{unit.strip()}]" if unit.strip() else bare


def numbered(names: list[str]) -> tuple[str, ...]:
    """Names of which those that occur again are numbered."""
    seen: dict[str, int] = {}
    found = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        found.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return tuple(found)


def layout_of_table(table: LoggedTable) -> LogLayout:
    """Which of a table's columns is which channel. Raises InputRefused for one without columns."""
    if not table.names or len(table.columns[0]) == 0:
        raise InputRefused([Fault("", "the file holds no samples; channels over time are needed")])
    if len(table.columns[0]) > ROWS_MOST:
        raise too_many_samples()
    about = (*table.about, *((NOTE, one) for one in table.said))
    return LogLayout("", ".", table.names, 1, columns_by_names(table.names), about)


def first_rows_of_table(table: LoggedTable, rows: int = 3) -> list[list[str]]:
    """The first samples of a table, as text."""
    count = min(rows, len(table.columns[0]))
    return [[_cell(column[row]) for column in table.columns] for row in range(count)]


def _cell(value: float) -> str:
    return "" if np.isnan(value) else f"{value:.10g}"


def log_of_table(table: LoggedTable, layout: LogLayout) -> Log:
    """The channels of a table whose layout is known. Raises InputRefused as `read_log` does."""
    for column in layout.columns.values():
        if column.number >= len(table.columns):
            raise InputRefused(
                [Fault("columns", f"the file has {len(table.columns)} channels. Choose another.")]
            )
    values = {role: table.columns[one.number] for role, one in layout.columns.items()}
    return log_of_values(values, layout)


def table_as_parquet(table: LoggedTable) -> bytes:
    """A table as a Parquet file, with all its channels."""
    import polars as pl

    frame = pl.DataFrame(dict(zip(table.names, table.columns, strict=True)))
    file = io.BytesIO()
    frame.write_parquet(file, metadata={ABOUT: _joined(table)})
    return file.getvalue()


def _joined(table: LoggedTable) -> str:
    lines = [f"{key}\t{value}" for key, value in table.about]
    return "\n".join([*lines, *(f"{NOTE}\t{one}" for one in table.said)])


def notes_of(text: str) -> tuple[tuple[tuple[str, str], ...], tuple[str, ...]]:
    """What a kept table says of itself, and what was done to it."""
    parts = [line.partition("\t") for line in text.splitlines()]
    pairs = [(key, value) for key, _, value in parts if key]
    about = tuple(pair for pair in pairs if pair[0] != NOTE)
    return about, tuple(value for key, value in pairs if key == NOTE)
