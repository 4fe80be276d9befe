"""The simulated logger's files in the formats that real ones write, each by its own library."""

import io
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.units import KMH_PER_MS, MS_PER_KNOT
from neapfrost.standins.logger.instruments import COLUMNS, log_text
from neapfrost.standins.logger.log_format import LogFormat

UNITS = {name: unit for name, unit, _ in COLUMNS}
#: When the simulated clock of a file with dates begins.
BEGUN = datetime(2031, 5, 17, 10, 0, 0, tzinfo=UTC)
#: Of the file's rate, what a receiver and an engine's controller send.
RECEIVER_HZ, ENGINE_SHARE = 10.0, 0.5
PLACES = ("Latitude", "Longitude")
ENGINE = ("Engine", "Gear", "Throttle", "Brake pressure")
KNOTS_PER_KMH = 1.0 / (KMH_PER_MS * MS_PER_KNOT)


def log_as(kind: LogFormat, columns: dict[str, Floats], about: dict[str, str]) -> bytes:
    """A log as a file of a kind; columns by their names, each of shape (n,)."""
    writers: dict[LogFormat, Callable[[dict[str, Floats], dict[str, str]], bytes]] = {
        LogFormat.CSV: lambda found, said: log_text(found, said).encode(),
        LogFormat.MF4: _mf4,
        LogFormat.FIT: _fit,
        LogFormat.NMEA: _nmea,
        LogFormat.PARQUET: _parquet,
        LogFormat.XLSX: _xlsx,
    }
    return writers[kind](columns, about)


def _every(columns: dict[str, Floats], rate_hz: float) -> np.ndarray:
    """Rows at about a rate that is no higher than the log's own."""
    step = float(np.median(np.diff(columns["Time"])))
    return np.arange(0, len(columns["Time"]), max(round(1.0 / (rate_hz * step)), 1))


def _mf4(columns: dict[str, Floats], about: dict[str, str]) -> bytes:
    """Three groups, each at a rate of its own: the receiver, the chassis, the engine."""
    from asammdf import MDF, Signal

    own_hz = 1.0 / float(np.median(np.diff(columns["Time"])))
    others = [name for name in columns if name not in (*PLACES, *ENGINE, "Time")]
    groups = ((PLACES, RECEIVER_HZ), (others, own_hz), (ENGINE, ENGINE_SHARE * own_hz))
    with MDF(version="4.10") as file:
        file.header.start_time = BEGUN
        file.header.comment = "; ".join(f"{key}: {value}" for key, value in about.items())
        for names, rate in groups:
            rows = _every(columns, rate)
            signals = [
                Signal(
                    samples=columns[name][rows][np.isfinite(columns[name][rows])],
                    timestamps=columns["Time"][rows][np.isfinite(columns[name][rows])],
                    name=name,
                    unit=UNITS[name],
                )
                for name in names
                if name in columns
            ]
            if signals:
                file.append(signals, comment="simulated")
        written = io.BytesIO()
        file.save(written, overwrite=True)
        return written.getvalue()


def _fit(columns: dict[str, Floats], about: dict[str, str]) -> bytes:
    """An activity with a record each second, which is as fine as such devices write."""
    from fit_tool.fit_file_builder import FitFileBuilder
    from fit_tool.profile.messages.file_id_message import FileIdMessage
    from fit_tool.profile.messages.record_message import RecordMessage
    from fit_tool.profile.profile_type import FileType, Manufacturer

    del about
    builder = FitFileBuilder(auto_define=True, min_string_size=50)
    begun_ms = round(BEGUN.timestamp() * 1000)
    told = FileIdMessage()
    told.type = FileType.ACTIVITY
    told.manufacturer = Manufacturer.DEVELOPMENT.value
    told.time_created = begun_ms
    builder.add(told)
    t = columns["Time"] - columns["Time"][0]
    for second in range(int(t[-1]) + 1):
        row = int(np.searchsorted(t, second))
        record = RecordMessage()
        record.timestamp = begun_ms + 1000 * second
        if "Latitude" in columns and np.isfinite(columns["Latitude"][row]):
            record.position_lat = float(columns["Latitude"][row])
            record.position_long = float(columns["Longitude"][row])
        record.enhanced_speed = float(columns["Speed"][row]) / KMH_PER_MS
        builder.add(record)
    written: bytes = builder.build().to_bytes()
    return written


def _nmea(columns: dict[str, Floats], about: dict[str, str]) -> bytes:
    """A receiver's sentences, ten times a second."""
    import pynmea2

    del about
    lines = []
    for row in _every(columns, RECEIVER_HZ):
        when = BEGUN + timedelta(seconds=float(columns["Time"][row] - columns["Time"][0]))
        lat, lon = (float(columns[name][row]) for name in PLACES)
        fixed = np.isfinite(lat) and np.isfinite(lon)
        fields = (
            when.strftime("%H%M%S.%f")[:10],
            "A" if fixed else "V",
            *(_degrees(lat, 2, "NS") if fixed else ("", "")),
            *(_degrees(lon, 3, "EW") if fixed else ("", "")),
            f"{columns['Speed'][row] * KNOTS_PER_KMH:.2f}",
            "",
            when.strftime("%d%m%y"),
            "",
            "",
        )
        lines.append(str(pynmea2.RMC("GP", "RMC", fields)))
    return ("\r\n".join(lines) + "\r\n").encode()


def _degrees(value: float, digits: int, sides: str) -> tuple[str, str]:
    """Degrees and minutes as a sentence has them, and the side of the equator or of Greenwich."""
    whole = int(abs(value))
    minutes = 60.0 * (abs(value) - whole)
    return f"{whole:0{digits}d}{minutes:09.6f}", sides[0 if value >= 0.0 else 1]


def _parquet(columns: dict[str, Floats], about: dict[str, str]) -> bytes:
    import polars as pl

    del about
    written = io.BytesIO()
    pl.DataFrame(_named(columns)).write_parquet(written)
    return written.getvalue()


def _xlsx(columns: dict[str, Floats], about: dict[str, str]) -> bytes:
    import polars as pl

    del about
    written = io.BytesIO()
    frame = pl.DataFrame(_named(columns)).fill_nan(None)
    frame.write_excel(written, worksheet="Samples", autofit=False)
    return written.getvalue()


def _named(columns: dict[str, Floats]) -> dict[str, Floats]:
    """Columns with their units in brackets, and one that nothing here reads."""
    found = {
        f"{name} [{UNITS[name]}]" if UNITS[name] else name: one for name, one in columns.items()
    }
    return {**found, "Water temperature [°C]": 82.0 + 6.0 * np.tanh(columns["Time"] / 300.0)}
