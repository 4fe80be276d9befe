"""NMEA 0183 sentences of a receiver: position and speed from RMC, height from GGA."""

import re
from datetime import UTC, datetime
from typing import Any

import numpy as np

from neapfrost.core.driven.one_base import rising
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.table import LoggedTable
from neapfrost.formats.text_columns import text_of

#: A sentence of any talker, as its line begins.
SENTENCE = re.compile(r"[$!][A-Z]{2}[A-Z]{3},")
#: The beginning of a file, in which sentences are looked for [lines].
LOOKED_AT = 30
NAMES = (
    "Time [s]",
    "Latitude [deg]",
    "Longitude [deg]",
    "Speed [kn]",
    "Course [deg]",
    "Height [m]",
)


def is_nmea(head: str) -> bool:
    """Whether most of the first lines are sentences."""
    lines = [line for line in head.splitlines()[:LOOKED_AT] if line.strip()]
    found = sum(1 for line in lines if SENTENCE.match(line.strip()))
    return found >= 2 and found >= 0.5 * len(lines)


def read_nmea(data: bytes) -> LoggedTable:
    """One row for each RMC sentence. Raises InputRefused where there is none with a time."""
    import pynmea2

    rows: list[tuple[float, float, float, float, float, float]] = []
    height, damaged, sentences = np.nan, 0, 0
    day: datetime | None = None
    for line in text_of(data).splitlines():
        text = line.strip()
        if not SENTENCE.match(text):
            continue
        sentences += 1
        try:
            sentence: Any = pynmea2.parse(text, check=True)
            if text[3:6] == "GGA":
                height = float(sentence.altitude) if sentence.altitude is not None else np.nan
            if text[3:6] != "RMC":
                continue
            row = _row(sentence, height)
        except (pynmea2.ParseError, ValueError, TypeError, AttributeError):
            damaged += 1
            continue
        if row is not None:
            rows.append(row)
            day = day or datetime.fromtimestamp(row[0], UTC)
    if not rows or day is None:
        raise InputRefused(
            [Fault("", f"none of the {sentences} NMEA sentences is an RMC with time and speed")]
        )
    table = np.array(rows, dtype=np.float64)
    kept = rising(table[:, 0], np.arange(len(table), dtype=np.float64)).values.astype(np.int64)
    table = table[kept]
    table[:, 0] -= table[0, 0]
    said = [f"{len(kept)} RMC sentences were read."]
    if damaged:
        said.append(f"{damaged} damaged sentences were left out.")
    about = (
        ("Recorded", day.isoformat(sep=" ", timespec="seconds")),
        ("Format", "NMEA 0183"),
    )
    return LoggedTable(NAMES, tuple(table.T), about, tuple(said))


def _row(sentence: Any, height: float) -> tuple[float, float, float, float, float, float] | None:
    """Moment, place, speed, course and height; the place is not known without a fix."""
    if sentence.datestamp is None or sentence.timestamp is None:
        return None
    moment = datetime.combine(sentence.datestamp, sentence.timestamp)
    moment = moment.replace(tzinfo=moment.tzinfo or UTC)
    fixed = sentence.status == "A"
    speed = sentence.spd_over_grnd
    course = sentence.true_course
    return (
        moment.timestamp(),
        float(sentence.latitude) if fixed else np.nan,
        float(sentence.longitude) if fixed else np.nan,
        float(speed) if speed is not None else np.nan,
        float(course) if course is not None else np.nan,
        height,
    )
