"""Every channel that a file holds: its unit, its range, its blanks, and what it is taken for."""

import math

import numpy as np
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import Log
from neapfrost.core.driven.plausible import fitting_unit, lateral_ratio, speed_ratio
from neapfrost.formats.logs.channels import LABELS, UNITS, Channel, LogLayout, unit_beside
from neapfrost.formats.logs.log_file import LogFile, thinned
from neapfrost.services.words.logbook import describe_unit_doubt

#: Points of a channel in small.
STRIP_POINTS = 120


class ChannelFound(BaseModel):
    """A channel of a file; `role` is what it is taken for and `why`, both empty for no use.

    `low` and `high` bound its values as they are written; null where it holds no number.
    """

    number: int
    name: str
    unit: str
    low: float | None
    high: float | None
    blank_pct: float
    strip: list[float]
    role: str
    why: str


class UnitDoubt(BaseModel):
    """A channel that is probably in another unit than it is taken for, and what says so."""

    role: str
    unit: str
    said: str


def channels_found(file: LogFile, layout: LogLayout, why: str) -> list[ChannelFound]:
    """The channels of a file, by some samples evenly along it."""
    roles = {column.number: role for role, column in layout.columns.items()}
    found = []
    for number, (name, values) in enumerate(zip(layout.header, thinned(file), strict=False)):
        known = values[np.isfinite(values)]
        role = roles.get(number)
        found.append(
            ChannelFound(
                number=number,
                name=name,
                unit=layout.columns[role].unit if role is not None else unit_beside(name),
                low=float(known.min()) if len(known) else None,
                high=float(known.max()) if len(known) else None,
                blank_pct=round(100.0 * (1.0 - len(known) / max(len(values), 1)), 1),
                strip=_strip(values),
                role="" if role is None else role,
                why="" if role is None else why,
            )
        )
    return found


def unit_doubts(log: Log, layout: LogLayout) -> list[UnitDoubt]:
    """Channels whose units contradict each other, and the unit that would not."""
    doubts = []
    channels: tuple[tuple[Channel, float | None, str], ...] = (
        ("speed", speed_ratio(log), "its positions give"),
        ("lateral", lateral_ratio(log), "speed and turning give"),
    )
    for role, ratio, against in channels:
        if ratio is None or role not in layout.columns:
            continue
        taken = layout.columns[role].unit
        unit = fitting_unit(ratio, UNITS[role], taken)
        if unit is not None:
            doubts.append(
                UnitDoubt(
                    role=role,
                    unit=unit,
                    said=describe_unit_doubt(LABELS[role], taken, unit, against, ratio),
                )
            )
    return doubts


def _strip(values: Floats) -> list[float]:
    """Values for a line in small; a channel without numbers has none."""
    known = np.isfinite(values)
    if not known.any():
        return []
    index = np.unique(np.linspace(0, len(values) - 1, STRIP_POINTS).astype(np.int64))
    at = np.flatnonzero(known)
    nearest = at[np.clip(np.searchsorted(at, index), 0, len(at) - 1)]
    return [float(f"{value:.6g}") for value in values[nearest] if math.isfinite(value)]
