"""A logger's file of any kind: recognised, its channels found, read into a log, and kept."""

from collections.abc import Callable
from dataclasses import dataclass

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import Log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.activity import read_fit
from neapfrost.formats.logs.channels import LogLayout
from neapfrost.formats.logs.columns_file import read_arrow, read_parquet
from neapfrost.formats.logs.gpx import read_gpx_log
from neapfrost.formats.logs.mdf import read_mdf
from neapfrost.formats.logs.nmea import read_nmea
from neapfrost.formats.logs.recognise import LogKind, recognised
from neapfrost.formats.logs.table import (
    LoggedTable,
    first_rows_of_table,
    layout_of_table,
    log_of_table,
    table_as_parquet,
)
from neapfrost.formats.logs.text import (
    BYTES_MOST,
    first_rows,
    look_at_log,
    read_log,
    thinned_columns,
)
from neapfrost.formats.logs.workbook import workbook_text

#: How each kind that is no text becomes a table.
TABLES: dict[LogKind, Callable[[bytes], LoggedTable]] = {
    "mdf": read_mdf,
    "fit": read_fit,
    "nmea": read_nmea,
    "parquet": read_parquet,
    "arrow": read_arrow,
}


#: Samples of a file by which its channels are described.
SAMPLED = 1_000


@dataclass(frozen=True, eq=False)
class LogFile:
    """A file as it was understood; `layout` is None for a track (GPX), which has no columns.

    `said` is what was done to bring its channels together, `about` what it says of itself.
    """

    kind: LogKind
    layout: LogLayout | None
    first: list[list[str]]
    said: tuple[str, ...]
    about: dict[str, str]
    data: bytes
    table: LoggedTable | None = None

    @property
    def kept(self) -> bytes:
        """What is kept of it: text and Parquet as they came, all else as a table."""
        if self.table is None or self.kind == "parquet":
            return self.data
        return table_as_parquet(self.table)


def look_at_file(data: bytes) -> LogFile:
    """Recognise a file by what it holds. Raises InputRefused, saying what it is, for no log."""
    if len(data) > BYTES_MOST:
        raise InputRefused([Fault("", "The file is larger than 50 MB: export one session of it.")])
    kind = recognised(data)
    if kind == "gpx":
        return LogFile(kind, None, [], (), {}, data)
    if kind in TABLES:
        table = TABLES[kind](data)
        layout = layout_of_table(table)
        return LogFile(
            kind, layout, first_rows_of_table(table), table.said, _about(layout), data, table
        )
    text = workbook_text(data) if kind == "workbook" else data
    layout = look_at_log(text)
    return LogFile(kind, layout, first_rows(text, layout), (), _about(layout), text)


def log_of_file(file: LogFile, layout: LogLayout | None) -> tuple[Log, dict[str, str]]:
    """The log in a file, its channels where a layout has them, and what the file says of itself.

    Raises InputRefused with the place of what is wrong.
    """
    if layout is None:
        log, title = read_gpx_log(file.data)
        return log, {"Track": title} if title else {}
    if file.table is not None:
        return log_of_table(file.table, layout), file.about
    return read_log(file.data, layout), file.about


def thinned(file: LogFile) -> list[Floats]:
    """Some samples of every column of a file, evenly along it; none of a track."""
    if file.layout is None:
        return []
    if file.table is None:
        return thinned_columns(file.data, file.layout, SAMPLED)
    step = max(len(file.table.columns[0]) // SAMPLED, 1)
    return [column[::step] for column in file.table.columns]


def _about(layout: LogLayout) -> dict[str, str]:
    return {key[:200]: value[:500] for key, value in layout.about}
