"""A record of the weather as text in columns: whatever headers, units, separators and decimals."""

import re
from dataclasses import dataclass
from typing import Literal

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import (
    FAHRENHEIT_AT_ZERO,
    FAHRENHEIT_PER_CELSIUS,
    INCH_MERCURY_HPA,
    KMH_PER_MS,
    MS_PER_KNOT,
    MS_PER_MPH,
)
from neapfrost.formats.escaping import sheet_text
from neapfrost.formats.faults import validated
from neapfrost.formats.text_columns import (
    cells_of,
    column_missing,
    column_name,
    decimal_of,
    is_number,
    looks_like_units,
    numbered_lines,
    separator_of,
    text_of,
)
from neapfrost.formats.weather import (
    READINGS_MOST,
    ReadingDocument,
    canonical_moment,
    moment_of,
    seconds_of,
)

Role = Literal["time", "air", "pressure", "humidity", "wind", "from", "gust", "track", "rain"]
#: Each column's field in a reading, the words it is known by, and its units, the usual one first.
FIELDS: dict[Role, str] = {
    "time": "at",
    "air": "air_temp_c",
    "pressure": "pressure_hpa",
    "humidity": "humidity_pct",
    "wind": "wind_speed_ms",
    "from": "wind_from_deg",
    "gust": "gust_ms",
    "track": "track_temp_c",
    "rain": "rain_mm_h",
}
LABELS: dict[Role, str] = {
    "time": "Time",
    "air": "Air",
    "pressure": "Pressure",
    "humidity": "Humidity",
    "wind": "Wind",
    "from": "Wind from",
    "gust": "Gusts",
    "track": "Road",
    "rain": "Rain",
}
WORDS: dict[Role, tuple[str, ...]] = {
    "time": ("time", "at", "clock", "datetime", "date", "timestamp"),
    "from": ("windfrom", "from", "winddirection", "direction", "winddir", "bearing", "dir"),
    "gust": ("gust", "gusts", "windgust", "maxwind"),
    "wind": ("wind", "windspeed", "speed", "meanwind"),
    "track": ("track", "tracktemp", "tracktemperature", "road", "roadtemp", "surface"),
    "air": ("air", "airtemp", "temp", "temperature", "airtemperature", "ambient"),
    "pressure": ("pressure", "press", "qfe", "barometer", "stationpressure"),
    "humidity": ("humidity", "rh", "relativehumidity", "hum"),
    "rain": ("rain", "rainrate", "rainfall", "precipitation", "precip"),
}
#: What a figure in each unit is times, plus, to be in the document's own.
UNITS: dict[Role, dict[str, tuple[float, float]]] = {
    "time": {"clock": (1.0, 0.0), "s": (1.0, 0.0), "min": (60.0, 0.0)},
    "air": {
        "°C": (1.0, 0.0),
        "°F": (1.0 / FAHRENHEIT_PER_CELSIUS, -FAHRENHEIT_AT_ZERO / FAHRENHEIT_PER_CELSIUS),
    },
    "pressure": {"hPa": (1.0, 0.0), "kPa": (10.0, 0.0), "inHg": (INCH_MERCURY_HPA, 0.0)},
    "humidity": {"%": (1.0, 0.0), "share": (100.0, 0.0)},
    "wind": {
        "m/s": (1.0, 0.0),
        "km/h": (1.0 / KMH_PER_MS, 0.0),
        "mph": (MS_PER_MPH, 0.0),
        "kn": (MS_PER_KNOT, 0.0),
    },
    "from": {"°": (1.0, 0.0), "compass": (1.0, 0.0)},
    "rain": {"mm/h": (1.0, 0.0), "in/h": (25.4, 0.0), "mm": (1.0, 0.0)},
}
UNITS["gust"] = UNITS["wind"]
UNITS["track"] = UNITS["air"]
#: How a unit may be written in a header.
SPELT: dict[str, tuple[str, ...]] = {
    "°C": ("c", "degc", "celsius"),
    "°F": ("f", "degf", "fahrenheit"),
    "hPa": ("hpa", "mbar", "mb"),
    "kPa": ("kpa",),
    "inHg": ("inhg",),
    "%": ("", "pct", "percent"),
    "share": ("share", "fraction"),
    "m/s": ("ms", "mps"),
    "km/h": ("kmh", "kph"),
    "mph": ("mph",),
    "kn": ("kn", "kt", "kts", "knots"),
    "°": ("", "deg", "degrees"),
    "compass": ("compass", "point"),
    "mm/h": ("mmh", "mmhr", "mmperhour"),
    "in/h": ("inh", "inhr"),
    "mm": ("mm",),
    "s": ("s", "sec", "seconds"),
    "min": ("min", "minutes"),
    "clock": ("", "clock", "local", "hhmm", "hhmmss", "iso"),
}
POINTS = (
    *("n", "nne", "ne", "ene", "e", "ese", "se", "sse"),
    *("s", "ssw", "sw", "wsw", "w", "wnw", "nw", "nnw"),
)
SAMPLE_LINES = 6
BYTES_MOST = 5 * 1024 * 1024
#: Lines and characters of a line that a table of readings has at the most.
LINES_MOST, LINE_LONGEST = READINGS_MOST + 100, 5_000
#: What a row may hold that holds nothing: separators, and quotes around nothing.
EMPTY = ' ,;|\t"'
ALL_UNITS = frozenset(spelt for ends in SPELT.values() for spelt in ends if spelt)


@dataclass(frozen=True)
class Column:
    """A column of a file: its number from 0, and the unit of its figures."""

    number: int
    unit: str


@dataclass(frozen=True)
class Layout:
    """How a file is laid out, and which column is what; `unsure` names what nobody has said.

    `first_line` is the first line of figures, from 1.
    """

    separator: str
    decimal: str
    header: tuple[str, ...]
    first_line: int
    columns: dict[Role, Column]
    sample: tuple[tuple[str, ...], ...]

    @property
    def missing(self) -> list[str]:
        """What no column holds, by its label."""
        return [LABELS[role] for role in FIELDS if role not in self.columns]


def look_at_weather(data: bytes) -> Layout:
    """Recognise separator, decimals, columns and units. Raises InputRefused for other files."""
    if len(data) > BYTES_MOST:
        raise InputRefused(
            [Fault("", "the file is larger than 5 MB, too large for the record of a session")]
        )
    lines = _lines(data)
    if not lines:
        raise InputRefused([Fault("", "the file has no lines; readings are expected")])
    separator = separator_of([line for _, line in lines[:50]])
    header = tuple(cells_of(lines[0][1], separator))
    if not any(re.search("[A-Za-z]{2}", cell) for cell in header):
        raise InputRefused(
            [
                Fault(
                    f"line {lines[0][0] + 1}",
                    "no header was found; a first line that names the columns and their units is "
                    "expected, such as time, air [°C], wind [m/s]",
                )
            ]
        )
    body = lines[1:]
    units = cells_of(body[0][1], separator) if body else []
    has_units = looks_like_units(units, ALL_UNITS) and not any(map(_is_clock, units))
    body = body[1:] if has_units else body
    if not body:
        raise InputRefused([Fault("", "the file has a header and nothing under it")])
    rows = [cells_of(line, separator) for _, line in body[:200]]
    columns: dict[Role, Column] = {}
    for number, name in enumerate(header):
        role = _role(name)
        if role is not None and role not in columns:
            told = units[number] if has_units and number < len(units) else ""
            named = f"{name} [{told}]" if told else name
            columns[role] = Column(number, _unit(role, named))
    if "from" in columns and columns["from"].unit == "°":
        at = columns["from"].number
        if any(at < len(row) and row[at].casefold() in POINTS for row in rows):
            columns["from"] = Column(at, "compass")
    if "time" in columns and columns["time"].unit == "clock":
        at = columns["time"].number
        if all(at < len(row) and is_number(row[at]) for row in rows):
            columns["time"] = Column(at, "s")
    return Layout(
        separator,
        decimal_of(rows, separator),
        header,
        body[0][0] + 1,
        columns,
        tuple(tuple(row) for row in rows[:SAMPLE_LINES]),
    )


def read_weather_csv(data: bytes, layout: Layout, day: str) -> list[ReadingDocument]:
    """Readings of a file whose columns are known; times without a day are of that `day`.

    Raises InputRefused with the line and the column of the first that is wrong.
    """
    columns = layout.columns
    if "time" not in columns:
        raise column_missing(LABELS["time"])
    if len(columns) < 2:
        raise InputRefused(
            [Fault("columns", "Only the time is chosen: choose the readings as well.")]
        )
    for role, column in columns.items():
        if column.unit not in UNITS[role]:
            known = ", ".join(UNITS[role])
            raise InputRefused([Fault("columns", f'"{column.unit}" was given; {known} are known')])
    found: list[ReadingDocument] = []
    for number, line in _lines(data):
        if number + 1 < layout.first_line:
            continue
        if len(found) >= READINGS_MOST:
            raise InputRefused(
                [
                    Fault(
                        f"line {number + 1}",
                        f"more than {READINGS_MOST} readings; at most that many are read",
                    )
                ]
            )
        row = cells_of(line, layout.separator)
        found.append(_reading(row, number + 1, layout, day, found))
    if not found:
        raise InputRefused([Fault("", "no line holds a reading")])
    return found


def _lines(data: bytes) -> list[tuple[int, str]]:
    """The lines of a file that hold anything. Raises InputRefused for what is no table."""
    lines = [(n, s) for n, s in numbered_lines(text_of(data)) if s.strip(EMPTY)]
    if len(lines) > LINES_MOST or any(len(line) > LINE_LONGEST for _, line in lines):
        said = f"lines of at most {LINE_LONGEST} characters, and no more than {LINES_MOST} of them"
        raise InputRefused(
            [Fault("", f"The file is not a table of readings: {said} are expected.")]
        )
    return lines


def _is_clock(cell: str) -> bool:
    return re.match(r"\d{1,2}:\d\d|\d{4}-\d\d", cell) is not None


def write_weather_csv(readings: list[ReadingDocument]) -> str:
    """Readings with their units in the header; reading it back gives the same."""
    head: list[object] = [
        LABELS[role] if role == "time" else f"{LABELS[role]} [{next(iter(UNITS[role]))}]"
        for role in FIELDS
    ]
    rows = [[getattr(one, field) for field in FIELDS.values()] for one in readings]
    return sheet_text([head, *(["" if c is None else c for c in row] for row in rows)])


def _role(name: str) -> Role | None:
    bare = re.sub(r"[^a-z]", "", re.sub(r"[\[(].*", "", name.casefold()))
    for role, words in WORDS.items():
        for word in words:
            if bare == word or bare in {word + end for ends in SPELT.values() for end in ends}:
                return role
    return None


def _unit(role: Role, name: str) -> str:
    """A column's unit as its header says; the usual one where it says none that is known."""
    inside = re.search(r"[\[(]([^\])]*)", name)
    text = re.sub(r"[^a-z]", "", (inside.group(1) if inside else name).casefold())
    if not inside:
        bare = next(
            (w for w in sorted(WORDS[role], key=len, reverse=True) if text.startswith(w)), ""
        )
        text = text[len(bare) :]
    for unit in UNITS[role]:
        if text and text in SPELT[unit]:
            return unit
    return next(iter(UNITS[role]))


def _reading(
    row: list[str], line: int, layout: Layout, day: str, before: list[ReadingDocument]
) -> ReadingDocument:
    values: dict[str, object] = {}
    for role, column in layout.columns.items():
        place = f"line {line}, column {column.number + 1}"
        cell = row[column.number] if column.number < len(row) else ""
        if role == "time":
            values["at"] = _moment(cell, column.unit, layout.decimal, day, place)
        elif cell != "":
            values[FIELDS[role]] = _figure(cell, role, column.unit, layout.decimal, place)
        elif role not in ("pressure", "gust"):
            name = column_name(layout.header, column.number)
            raise InputRefused([Fault(place, f'"{name}" is missing; a number is expected')])
    rain = layout.columns.get("rain")
    if rain is not None and rain.unit == "mm":
        values["rain_mm_h"] = 0.0  # what fell until this reading is put into the one before
    try:
        reading = validated(ReadingDocument, values)
    except InputRefused as error:
        first = error.faults[0]
        numbers = [c.number for r, c in layout.columns.items() if FIELDS[r] == first.path]
        at = "".join(f", column {number + 1}" for number in numbers)
        raise InputRefused([Fault(f"line {line}{at}", first.marked)]) from None
    if before and reading.at <= before[-1].at:
        raise InputRefused(
            [
                Fault(
                    f"line {line}",
                    f"{reading.at} was given after {before[-1].at}; readings must rise in time",
                )
            ]
        )
    if rain is not None and rain.unit == "mm" and before:
        place = f"line {line}, column {rain.number + 1}"
        fell_mm = _figure(row[rain.number], "rain", "mm", layout.decimal, place)
        lasted_h = (seconds_of(reading.at) - seconds_of(before[-1].at)) / 3600.0
        rate = min(fell_mm / lasted_h, 300.0)
        before[-1] = before[-1].model_copy(update={"rain_mm_h": rate})
    return reading


def _figure(cell: str, role: Role, unit: str, decimal: str, place: str) -> float:
    if unit == "compass":
        if cell.casefold() in POINTS:
            return 360.0 * POINTS.index(cell.casefold()) / len(POINTS)
        if not is_number(cell):
            raise InputRefused([Fault(place, f'"{cell[:40]}" is not a point of the compass')])
    text = cell.replace(",", ".") if decimal == "," else cell
    if not is_number(text) or "," in text:
        raise InputRefused([Fault(place, f'"{cell[:40]}" is not a number')])
    times, plus = UNITS[role][unit]
    return round(float(text) * times + plus, 6)


def _moment(cell: str, unit: str, decimal: str, day: str, place: str) -> str:
    """A moment from a cell: a clock, with or without its day, or seconds or minutes from 0:00."""
    if unit != "clock":
        return moment_of(seconds_of(day) + _figure(cell, "time", unit, decimal, place))
    text = cell.strip().replace("/", "-")
    dotted = re.fullmatch(r"(\d{1,2})\.(\d{1,2})\.(\d{4})[ T]+(.*)", text)
    if dotted:
        text = f"{dotted[3]}-{int(dotted[2]):02d}-{int(dotted[1]):02d} {dotted[4]}"
    text = re.sub(r"(^|[ T])(\d:\d\d)", r"\g<1>0\2", text)
    if re.fullmatch(r"\d\d:\d\d(:\d\d(\.\d+)?)?", text):
        text = f"{day} {text}"
    try:
        return canonical_moment(re.sub(r"(:\d\d)\.\d+$", r"\1", text))
    except ValueError as error:
        raise InputRefused([Fault(place, str(error))]) from None
