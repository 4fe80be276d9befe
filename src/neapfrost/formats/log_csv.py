"""A logger's file as text in columns: a preamble, names, a row of units, then samples."""

import io
import re
from dataclasses import dataclass
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.driven.log import Log, checked_log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.text_columns import (
    cells_of,
    decimal_of,
    is_number,
    separator_of,
    text_of,
)
from neapfrost.formats.tracks.read_track import local_metres

Channel = Literal[
    "time", "speed", "lat", "lon", "lateral", "along", "rpm", "gear", "throttle", "brake"
]
LABELS: dict[Channel, str] = {
    "time": "Time",
    "speed": "Speed",
    "lat": "Latitude",
    "lon": "Longitude",
    "lateral": "Acceleration across",
    "along": "Acceleration along",
    "rpm": "Engine speed",
    "gear": "Gear",
    "throttle": "Throttle",
    "brake": "Brake",
}
#: Words by which a channel's name is known, without anything but letters, the longer first.
WORDS: dict[Channel, tuple[str, ...]] = {
    "time": ("time", "elapsedtime", "sessiontime", "timestamp"),
    "speed": ("speed", "groundspeed", "vehiclespeed", "gpsspeed", "velocity", "v"),
    "lat": ("latitude", "lat", "gpslatitude"),
    "lon": ("longitude", "lon", "lng", "long", "gpslongitude"),
    "lateral": ("lateralg", "latg", "gforcelat", "accelerationacross", "lateralacc", "latacc"),
    "along": ("longitudinalg", "longg", "gforcelong", "accelerationalong", "inlineacc", "longacc"),
    "rpm": ("engine", "rpm", "enginespeed", "enginerpm", "revs"),
    "gear": ("gear", "gearposition"),
    "throttle": ("throttle", "throttleposition", "tps", "pedal"),
    "brake": ("brakepressure", "brake", "brakepress", "frontbrakepressure"),
}
#: What a figure in each unit is times, to be in SI or a share; the usual unit first.
UNITS: dict[Channel, dict[str, float]] = {
    "time": {"s": 1.0, "ms": 0.001, "min": 60.0},
    "speed": {"km/h": 1 / 3.6, "m/s": 1.0, "mph": 0.44704, "kn": 0.514444},
    "lat": {"deg": 1.0},
    "lon": {"deg": 1.0},
    "lateral": {"g": STANDARD_GRAVITY_MS2, "m/s²": 1.0},
    "along": {"g": STANDARD_GRAVITY_MS2, "m/s²": 1.0},
    "rpm": {"1/min": 1.0},
    "gear": {"": 1.0},
    "throttle": {"%": 0.01, "share": 1.0},
    "brake": {"bar": 1.0, "kPa": 0.01, "psi": 0.0689476, "%": 1.0, "share": 100.0},
}
SPELT: dict[str, tuple[str, ...]] = {
    "s": ("s", "sec", "seconds"),
    "ms": ("ms", "msec"),
    "min": ("min",),
    "km/h": ("kmh", "kph"),
    "m/s": ("ms", "mps"),
    "mph": ("mph",),
    "kn": ("kn", "kt", "knots"),
    "deg": ("deg", "degrees", ""),
    "g": ("g",),
    "m/s²": ("ms", "mss"),
    "1/min": ("min", "rpm", ""),
    "%": ("%", "pct", "percent"),
    "share": ("share",),
    "bar": ("bar",),
    "kPa": ("kpa",),
    "psi": ("psi",),
    "": ("",),
}
BYTES_MOST = 50 * 1024 * 1024
ROWS_MOST = 1_000_000
PREAMBLE_MOST = 80
#: A speed or an acceleration beyond these is in another unit than it is taken for.
FASTEST_MS, HARDEST_MS2 = 130.0, 80.0


@dataclass(frozen=True)
class LogColumn:
    """A channel's column, from 0, and the unit of its figures."""

    number: int
    unit: str


@dataclass(frozen=True)
class LogLayout:
    """How a log is laid out: which column is which channel; `about` is what stands before them."""

    separator: str
    decimal: str
    header: tuple[str, ...]
    first_line: int
    columns: dict[Channel, LogColumn]
    about: tuple[tuple[str, str], ...]


def look_at_log(data: bytes) -> LogLayout:
    """Recognise names, units, separators and decimals. Raises InputRefused for other files."""
    if len(data) > BYTES_MOST:
        raise InputRefused([Fault("", "the file is larger than 50 MB; one session of it, please")])
    lines = text_of(data[: 1 << 18]).splitlines()
    candidates = []
    for number, line in enumerate(lines[:PREAMBLE_MOST]):
        for separator in (";", "\t", ","):
            cells = cells_of(line, separator)
            known = {role for role in (_channel(cell) for cell in cells) if role is not None}
            candidates.append((len(known), -number, separator))
    best = max(candidates, default=(0, 0, ","))
    if best[0] < 2:
        raise InputRefused(
            [
                Fault(
                    "",
                    "no line names the channels; a line such as Time, Speed, Latitude, Longitude "
                    "is expected, and samples under it",
                )
            ]
        )
    at, separator = -best[1], best[2]
    header = tuple(cells_of(lines[at], separator))
    units = cells_of(lines[at + 1], separator) if at + 1 < len(lines) else []
    has_units = len(units) > 0 and not any(is_number(cell) for cell in units if cell)
    body = at + 2 if has_units else at + 1
    columns: dict[Channel, LogColumn] = {}
    for number, name in enumerate(header):
        role = _channel(name)
        if role is not None and role not in columns:
            told = units[number] if has_units and number < len(units) else _bracketed(name)
            columns[role] = LogColumn(number, _unit(role, told))
    rows = [cells_of(line, separator) for line in lines[body : body + 100] if line.strip()]
    about = [cells_of(line, separator_of([line])) for line in lines[:at] if line.strip()]
    return LogLayout(
        separator,
        decimal_of(rows, separator),
        header,
        body + 1,
        columns,
        tuple((cells[0], ", ".join(cells[1:])) for cells in about if len(cells) > 1),
    )


def first_rows(data: bytes, layout: LogLayout, rows: int = 3) -> list[list[str]]:
    """The first samples of a log, cell by cell as they are written."""
    lines = text_of(data[: 1 << 18]).splitlines()[layout.first_line - 1 :]
    return [cells_of(line, layout.separator) for line in lines[:rows] if line.strip()]


def read_log(data: bytes, layout: LogLayout) -> Log:
    """The channels of a log whose layout is known.

    Raises InputRefused with line and column of a cell that is no number, and where a channel is in
    another unit than it is taken for.
    """
    columns = layout.columns
    for needed in ("time", "speed"):
        if needed not in columns:
            raise InputRefused([Fault("columns", f"no column is chosen for the {needed}")])
    values = _values(data, layout)
    si = {role: values[role] * UNITS[role][columns[role].unit] for role in columns}
    _refuse_units(si, layout)
    east = north = None
    if "lat" in si and "lon" in si:
        east, north = _east_north(si["lat"], si["lon"])
    throttle = si.get("throttle")
    if throttle is not None and columns["throttle"].unit == "%" and np.nanmax(throttle) <= 0.011:
        throttle = 100.0 * throttle  # told in percent, written as shares
    brake = si.get("brake")
    if brake is not None:
        hardest = float(np.nanmax(brake))
        brake = None if hardest <= 0.0 else np.maximum(brake, 0.0) / hardest
    return checked_log(
        Log(
            t_s=si["time"],
            v_ms=si["speed"],
            east_m=east,
            north_m=north,
            ax_ms2=si.get("along"),
            ay_ms2=si.get("lateral"),
            rpm=si.get("rpm"),
            gear=si.get("gear"),
            throttle=throttle,
            brake=brake,
        )
    )


def _channel(name: str) -> Channel | None:
    bare = re.sub(r"[^a-z]", "", re.sub(r"[\[(].*", "", name.casefold()))
    for role, words in WORDS.items():
        if bare in words:
            return role
    return None


def _bracketed(name: str) -> str:
    inside = re.search(r"[\[(]([^\])]*)", name)
    return inside.group(1) if inside else ""


def _unit(role: Channel, told: str) -> str:
    text = re.sub(r"[^a-z%]", "", told.casefold())
    for unit in UNITS[role]:
        if text and text in SPELT[unit]:
            return unit
    return next(iter(UNITS[role]))


def _values(data: bytes, layout: LogLayout) -> dict[Channel, Floats]:
    """Samples of every channel, NaN where a cell is empty."""
    import polars as pl

    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise InputRefused([Fault("", "the file is UTF-16; text in UTF-8 is expected")])
    # What is not wanted is not kept: a log may have a hundred channels.
    wanted = sorted({column.number for column in layout.columns.values()})
    try:
        frame = pl.read_csv(
            io.BytesIO(data),
            has_header=False,
            columns=wanted,
            skip_lines=layout.first_line - 1,
            separator=layout.separator,
            infer_schema=False,
            truncate_ragged_lines=True,
            encoding="utf8-lossy",
            quote_char='"',
        )
    except pl.exceptions.PolarsError as error:
        said = str(error).splitlines()[0][:160]
        raise InputRefused([Fault("", f"the samples cannot be read ({said})")]) from None
    if frame.height > ROWS_MOST:
        raise InputRefused(
            [Fault("", f"{frame.height} samples were read; {ROWS_MOST} at most may be")]
        )
    found: dict[Channel, Floats] = {}
    for role, column in layout.columns.items():
        if column.number >= frame.width:
            raise InputRefused(
                [Fault("columns", f"{LABELS[role]}: the samples have no such column")]
            )
        text = frame.to_series(column.number).str.strip_chars()
        if layout.decimal == ",":
            text = text.str.replace(",", ".", literal=True)
        number = text.cast(pl.Float64, strict=False)
        wrong = (number.is_null() & text.is_not_null() & (text != "")).arg_true()
        if len(wrong) > 0:
            row = int(wrong[0])
            raise InputRefused(
                [
                    Fault(
                        f"line {layout.first_line + row}, column {column.number + 1}",
                        f'"{str(text[row])[:40]}" is no number',
                    )
                ]
            )
        found[role] = number.fill_null(float("nan")).to_numpy().astype(np.float64)
    return found


def _refuse_units(si: dict[Channel, Floats], layout: LogLayout) -> None:
    faults = []
    fastest = float(np.nanmax(si["speed"])) if len(si["speed"]) else 0.0
    if fastest > FASTEST_MS:
        unit = layout.columns["speed"].unit
        faults.append(
            Fault(
                "columns",
                f"speeds up to {3.6 * fastest:.0f} km/h were read; the column is hardly in {unit}",
            )
        )
    for role in ("lateral", "along"):
        if (
            role in si
            and len(si[role])
            and float(np.nanpercentile(np.abs(si[role]), 99)) > HARDEST_MS2
        ):
            unit = layout.columns[role].unit
            faults.append(
                Fault(
                    "columns",
                    f"{LABELS[role]}: more than 8 g were read; the column is hardly in {unit}",
                )
            )
    if faults:
        raise InputRefused(faults)


def _east_north(lat: Floats, lon: Floats) -> tuple[Floats, Floats]:
    """East and north of the first known position [m]; NaN where there is none."""
    known = np.isfinite(lat) & np.isfinite(lon) & ~((lat == 0.0) & (lon == 0.0))
    east, north = np.full(len(lat), np.nan), np.full(len(lat), np.nan)
    if known.any():
        east[known], north[known], _ = local_metres(lat[known], lon[known], None)
    return east, north
