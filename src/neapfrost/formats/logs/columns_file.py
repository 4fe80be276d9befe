"""A log as a table of columns: Parquet, or Arrow's own file format."""

import io
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.table import ABOUT, CHANNELS_MOST, LoggedTable, notes_of, numbered

if TYPE_CHECKING:
    import polars as pl

#: Nanoseconds, microseconds and milliseconds in a second.
PER_SECOND = {"ns": 1e9, "us": 1e6, "ms": 1e3}


def read_parquet(data: bytes) -> LoggedTable:
    """A Parquet file. Raises InputRefused for one that is damaged."""
    import polars as pl

    about = _tried("Parquet", lambda: pl.read_parquet_metadata(io.BytesIO(data)))
    frame = _tried("Parquet", lambda: pl.read_parquet(io.BytesIO(data)))
    return _table(frame, *notes_of(about.get(ABOUT, "")))


def read_arrow(data: bytes) -> LoggedTable:
    """An Arrow (Feather) file. Raises InputRefused for one that is damaged."""
    import polars as pl

    frame = _tried("Arrow", lambda: pl.read_ipc(io.BytesIO(data)))
    return _table(frame, (), ())


def _tried(kind: str, read: Callable[[], Any]) -> Any:
    import polars as pl

    try:
        return read()
    except (pl.exceptions.PolarsError, OSError, ValueError, OverflowError) as error:
        said = str(error).splitlines()[0][:120] if str(error) else "no reason given"
        raise InputRefused([Fault("", f"the {kind} file is damaged ({said})")]) from None


def _table(
    frame: "pl.DataFrame", about: tuple[tuple[str, str], ...], said: tuple[str, ...]
) -> LoggedTable:
    names: list[str] = []
    columns: list[Floats] = []
    for series in frame.iter_columns():
        numbers = _numbers(series)
        if numbers is not None and len(columns) < CHANNELS_MOST:
            names.append(series.name)
            columns.append(numbers.fill_null(float("nan")).to_numpy().astype("float64"))
    return LoggedTable(numbered(names), tuple(columns), about, said)


def _numbers(series: "pl.Series") -> "pl.Series | None":
    """A column as numbers, moments and times of day as seconds; None where it holds none."""
    import polars as pl

    kind = series.dtype
    if kind.is_numeric() or kind == pl.Boolean:
        return series.cast(pl.Float64)
    if isinstance(kind, pl.Datetime | pl.Duration):
        return series.to_physical().cast(pl.Float64) / PER_SECOND[kind.time_unit]
    if kind == pl.Time:
        return series.to_physical().cast(pl.Float64) / PER_SECOND["ns"]
    if kind == pl.String:
        cast = series.str.replace(",", ".", literal=True).cast(pl.Float64, strict=False)
        return cast if cast.null_count() < len(cast) else None
    return None
