"""FIT activity files: the records of a device, one row each."""

import io
from datetime import UTC, datetime
from typing import Any

import numpy as np

from neapfrost.core.driven.one_base import rising
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.table import CHANNELS_MOST, LoggedTable, named, numbered

#: Half a circle in the units that positions are written in.
SEMICIRCLE_DEG = 180.0 / 2**31
MARK, MARK_AT = b".FIT", 8


def read_fit(data: bytes) -> LoggedTable:
    """The records of an activity. Raises InputRefused for a damaged file or one without records."""
    import fitdecode

    records: list[dict[str, float]] = []
    units: dict[str, str] = {}
    laps = 0
    try:
        with fitdecode.FitReader(io.BytesIO(data), check_crc=fitdecode.CrcCheck.RAISE) as frames:
            for frame in frames:
                if not isinstance(frame, fitdecode.FitDataMessage):
                    continue
                laps += frame.name == "lap"
                if frame.name == "record":
                    records.append(_record(frame, units))
    except (fitdecode.FitError, ValueError, OverflowError, KeyError, IndexError) as error:
        said = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise InputRefused(
            [Fault("", f"the FIT file is damaged after {len(records)} records ({said})")]
        ) from None
    records = [record for record in records if "timestamp" in record]
    if not records:
        raise InputRefused(
            [Fault("", "the FIT file has no records with a time; an activity is expected")]
        )
    return _table(records, units, laps)


def _record(frame: Any, units: dict[str, str]) -> dict[str, float]:
    found: dict[str, float] = {}
    for field in frame.fields:
        value, unit = field.value, field.units or ""
        if isinstance(value, datetime):
            value = value.replace(tzinfo=value.tzinfo or UTC).timestamp()
            unit = "s"
        if isinstance(value, bool) or not isinstance(value, int | float):
            continue
        if unit == "semicircles":
            value, unit = value * SEMICIRCLE_DEG, "deg"
        found[field.name] = float(value)
        units.setdefault(field.name, unit)
    return found


def _table(records: list[dict[str, float]], units: dict[str, str], laps: int) -> LoggedTable:
    fields = ["timestamp", *(name for name in units if name != "timestamp")][:CHANNELS_MOST]
    when = np.array([record["timestamp"] for record in records])
    kept = rising(when, np.arange(len(records), dtype=np.float64)).values.astype(np.int64)
    columns = []
    for name in fields:
        column = np.array([records[row].get(name, np.nan) for row in kept], dtype=np.float64)
        columns.append(column - when[kept[0]] if name == "timestamp" else column)
    begun = datetime.fromtimestamp(float(when[0]), UTC).isoformat(sep=" ", timespec="seconds")
    about = [("Recorded", begun), ("Format", "FIT activity")]
    if laps > 0:
        about.append(("Laps counted by the device", str(laps)))
    names = [named(name.replace("_", " "), units[name]) for name in fields]
    dropped = len(records) - len(kept)
    said = (f"{dropped} records of a moment told twice were left out.",) if dropped else ()
    return LoggedTable(numbered(names), tuple(columns), tuple(about), said)
