"""A logger's file as text in columns: a preamble, names, a row of units, then samples."""

import re
import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.driven.log import Log, checked_log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import KMH_PER_MS, MS_PER_KNOT, MS_PER_MPH, PSI_BAR
from neapfrost.formats.text_columns import (
    LENGTHS_M,
    LENGTHS_SPELT,
    bare_unit,
    cells_of,
    column_missing,
    decimal_of,
    is_blank,
    is_number,
    looks_like_units,
    separator_of,
    text_of,
)
from neapfrost.formats.tracks.read_track import local_metres

Channel = Literal[
    "time",
    "speed",
    "lat",
    "lon",
    "x",
    "y",
    "lateral",
    "along",
    "rpm",
    "gear",
    "throttle",
    "brake",
]
LABELS: dict[Channel, str] = {
    "time": "Time",
    "speed": "Speed",
    "lat": "Latitude",
    "lon": "Longitude",
    "x": "Position east (x)",
    "y": "Position north (y)",
    "lateral": "Lateral acceleration",
    "along": "Longitudinal acceleration",
    "rpm": "Engine speed",
    "gear": "Gear",
    "throttle": "Throttle",
    "brake": "Brake",
}
#: Words by which a channel is known, without anything but letters, in the languages of loggers.
WORDS: dict[Channel, tuple[str, ...]] = {
    "time": (
        *("time", "elapsedtime", "sessiontime", "timestamp", "t", "datetime"),
        *("zeit", "laufzeit", "temps", "tempo", "tiempo"),
    ),
    "speed": (
        *("speed", "groundspeed", "vehiclespeed", "gpsspeed", "velocity", "v", "enhancedspeed"),
        *("vehspd", "vehspeed", "wheelspeed"),
        *("geschwindigkeit", "vitesse", "velocita", "velocidad"),
    ),
    "lat": (
        *("latitude", "lat", "gpslatitude", "positionlat", "gpslat"),
        *("breite", "breitengrad", "latitud", "latitudine"),
    ),
    "lon": (
        *("longitude", "lon", "lng", "long", "gpslongitude", "positionlong", "gpslon"),
        *("laenge", "lange", "laengengrad", "langengrad", "longitud", "longitudine"),
    ),
    "x": ("x", "posx", "positionx", "xposition", "east", "easting"),
    "y": ("y", "posy", "positiony", "yposition", "north", "northing"),
    "lateral": (
        *("lateralg", "latg", "gforcelat", "accelerationacross", "lateralacc", "latacc"),
        *("lateralacceleration", "accelerationlateral", "gforcelateral"),
        *("querbeschl", "querbeschleunigung", "accelerationlaterale"),
    ),
    "along": (
        *("longitudinalg", "longg", "gforcelong", "accelerationalong", "inlineacc", "longacc"),
        *("longitudinalacceleration", "accelerationlongitudinal", "gforcelongitudinal"),
        *("laengsbeschl", "laengsbeschleunigung", "langsbeschl", "langsbeschleunigung"),
    ),
    "rpm": (
        *("engine", "rpm", "enginespeed", "enginerpm", "revs"),
        *("drehzahl", "motordrehzahl", "regime", "regimemoteur", "giri", "revoluciones"),
    ),
    "gear": ("gear", "gearposition", "gang", "rapport", "marcia", "marcha"),
    "throttle": (
        *("throttle", "throttleposition", "tps", "pedal", "accelerator"),
        *("gas", "gaspedal", "accelerateur", "acceleratore", "acelerador"),
    ),
    "brake": (
        *("brakepressure", "brake", "brakepress", "frontbrakepressure"),
        *("bremse", "bremsdruck", "frein", "pressionfrein", "freno"),
    ),
}
#: What a figure in each unit is times, to be in SI or a share; the usual unit first.
UNITS: dict[Channel, dict[str, float]] = {
    "time": {"s": 1.0, "ms": 0.001, "min": 60.0, "h:m:s": 1.0},
    "speed": {"km/h": 1.0 / KMH_PER_MS, "m/s": 1.0, "mph": MS_PER_MPH, "kn": MS_PER_KNOT},
    "lat": {"deg": 1.0, "rad": 180.0 / np.pi},
    "lon": {"deg": 1.0, "rad": 180.0 / np.pi},
    "x": LENGTHS_M,
    "y": LENGTHS_M,
    "lateral": {"g": STANDARD_GRAVITY_MS2, "m/s²": 1.0},
    "along": {"g": STANDARD_GRAVITY_MS2, "m/s²": 1.0},
    "rpm": {"1/min": 1.0},
    "gear": {"": 1.0},
    "throttle": {"%": 0.01, "share": 1.0},
    "brake": {"bar": 1.0, "kPa": 0.01, "psi": PSI_BAR, "%": 1.0, "share": 100.0},
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
    "rad": ("rad", "radians"),
    **LENGTHS_SPELT,
    "h:m:s": ("hms", "hhmmss", "mmss", "clock"),
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
ALL_UNITS = frozenset(spelt for ends in SPELT.values() for spelt in ends if spelt)
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


def columns_by_names(header: Sequence[str], units: Sequence[str] = ()) -> dict[Channel, LogColumn]:
    """The first column of each channel, with the unit that is told beside its name or under it."""
    columns: dict[Channel, LogColumn] = {}
    for number, name in enumerate(header):
        role = channel_named(name)
        if role is not None and role not in columns:
            told = units[number] if number < len(units) else unit_beside(name)
            columns[role] = LogColumn(number, _unit(role, told))
    return columns


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
    _refuse_missing(layout)
    return log_of_values(_values(data, layout), layout)


def _refuse_missing(layout: LogLayout) -> None:
    needed: Channel
    for needed in ("time", "speed"):
        if needed not in layout.columns:
            raise column_missing(LABELS[needed])


def log_of_values(values: dict[Channel, Floats], layout: LogLayout) -> Log:
    """A log from its channels' figures, each of shape (n,), in the units of their columns.

    Raises InputRefused where one is missing or in another unit than it is taken for.
    """
    _refuse_missing(layout)
    columns = layout.columns
    si = {role: values[role] * UNITS[role][columns[role].unit] for role in columns}
    _refuse_units(si, layout)
    east = north = None
    if "lat" in si and "lon" in si:
        east, north = _east_north(si["lat"], si["lon"])
    elif "x" in si and "y" in si:
        east, north = si["x"], si["y"]
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


def channel_named(name: str) -> Channel | None:
    """Which channel a column's name stands for; None for one that is not known."""
    plain = unicodedata.normalize("NFKD", re.sub(r"[\[(].*", "", name)).casefold()
    bare = re.sub(r"[^a-z]", "", plain)
    for role, words in WORDS.items():
        if bare in words:
            return role
    return None


def unit_beside(name: str) -> str:
    """The unit in brackets behind a column's name; empty where there is none."""
    inside = re.search(r"[\[(]([^\])]*)", name)
    return inside.group(1) if inside else ""


def _unit(role: Channel, told: str) -> str:
    text = bare_unit(told)
    for unit in UNITS[role]:
        if text and text in SPELT[unit]:
            return unit
    return next(iter(UNITS[role]))


def _values(data: bytes, layout: LogLayout) -> dict[Channel, Floats]:
    """Samples of every channel, NaN where a cell is empty; rows without a time are dropped."""
    parts: dict[Channel, list[Floats]] = {role: [] for role in layout.columns}
    widest, count = 0, 0
    for lines, rows in _rows(data, layout):
        count += len(rows)
        if count > ROWS_MOST:
            raise InputRefused(
                [Fault("", f"The file has more than {ROWS_MOST:,} samples: export fewer laps.")]
            )
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


def _refuse_units(si: dict[Channel, Floats], layout: LogLayout) -> None:
    faults = []
    speeds = si["speed"][np.isfinite(si["speed"])]
    fastest = float(speeds.max()) if len(speeds) else 0.0
    if fastest > FASTEST_MS:
        unit = layout.columns["speed"].unit
        faults.append(
            Fault(
                "columns",
                f"speeds up to {KMH_PER_MS * fastest:.0f} km/h were read; the column is probably "
                f"not in {unit}",
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
                    f"{LABELS[role]}: more than 8 g were read; the column is probably not in "
                    f"{unit}",
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
