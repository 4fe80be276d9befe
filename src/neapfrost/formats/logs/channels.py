"""A log's channels: how they are called, in which units, and a log of their figures."""

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.driven.log import Log, checked_log
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import KMH_PER_MS, MS_PER_KNOT, MS_PER_MPH, PSI_BAR
from neapfrost.formats.text_columns import LENGTHS_M, LENGTHS_SPELT, bare_unit, column_missing
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
ALL_UNITS = frozenset(spelt for ends in SPELT.values() for spelt in ends if spelt)
#: A log of more samples is refused.
ROWS_MOST = 1_000_000
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


def columns_by_names(header: Sequence[str], units: Sequence[str] = ()) -> dict[Channel, LogColumn]:
    """The first column of each channel, with the unit that is told beside its name or under it."""
    columns: dict[Channel, LogColumn] = {}
    for number, name in enumerate(header):
        role = channel_named(name)
        if role is not None and role not in columns:
            told = units[number] if number < len(units) else unit_beside(name)
            columns[role] = LogColumn(number, _unit(role, told))
    return columns


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


def too_many_samples() -> InputRefused:
    """The refusal of a log that is longer than any session."""
    return InputRefused(
        [Fault("", f"The file has more than {ROWS_MOST:,} samples: export fewer laps.")]
    )


def refuse_missing(layout: LogLayout) -> None:
    """Raise InputRefused where time or speed is in no column."""
    needed: Channel
    for needed in ("time", "speed"):
        if needed not in layout.columns:
            raise column_missing(LABELS[needed])


def log_of_values(values: dict[Channel, Floats], layout: LogLayout) -> Log:
    """A log from its channels' figures, each of shape (n,), in the units of their columns.

    Raises InputRefused where one is missing or in another unit than it is taken for.
    """
    refuse_missing(layout)
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
