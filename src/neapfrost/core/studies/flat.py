"""Flat, lift or brake: how much is left, and at which grip, wind or fuel the answer changes."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.light import light
from neapfrost.core.lap.solve import in_parallel, solved
from neapfrost.core.wind import wind_from_ms, with_wind_added

Figure = Literal["grip", "tailwind", "fuel"]

#: How far each figure is looked at: a factor on the grip, m/s of tailwind along the corner's
#: approach on top of the wind there is, kg of fuel on board.
GRIP_RANGE = (0.85, 1.15)
TAILWIND_RANGE_MS = (-12.0, 12.0)
FUEL_MORE_KG = 60.0
#: Shares of the way at which the answer is looked for first, and how often a change is halved.
PLACES = (0.25, 0.5, 1.0)
HALVINGS = 6
#: Corners that would be reached this much too fast are braked for whatever happens [m/s].
IN_DOUBT_OVERSPEED_MS = 8.0
IN_DOUBT_GRIP_PCT = 35.0


@dataclass(frozen=True)
class Threshold:
    """Where the answer changes: the figure's value there, and the answer beyond it.

    `figure` grip is a factor on the grip as it is, tailwind is m/s along the road at the corner
    (negative against it), fuel is kg on board. `up` says whether the change comes as it rises.
    """

    figure: Figure
    value: float
    up: bool
    action: str


@dataclass(frozen=True)
class FlatCall:
    """The answer, its margin, and where it changes; no thresholds where it is beyond doubt.

    `tailwind_ms` is the wind along the road at the corner now.
    """

    action: str
    grip_left_pct: float | None
    overspeed_ms: float | None
    tailwind_ms: float
    in_doubt: bool
    thresholds: tuple[Threshold, ...]


def flat_call(driven: DrivenLap, corner: int) -> FlatCall:
    """Look for the nearest grip, wind and fuel at which a corner is taken otherwise.

    Each figure is changed for the whole lap and the lap driven; a change is bisected.
    """
    result = driven.corners[corner]
    doubt = result.action in ("flat", "lift") or (
        result.action == "brake" and (result.overspeed_ms or 0.0) <= IN_DOUBT_OVERSPEED_MS
    )
    if result.action == "flat" and (result.grip_left_pct or 0.0) > IN_DOUBT_GRIP_PCT:
        doubt = False
    bearing = _bearing_rad(driven, corner)
    north, east = wind_from_ms(driven.drive.conditions)
    # Wind from straight behind has the bearing it comes from opposite to the heading.
    tail_now = -(north * math.cos(bearing) + east * math.sin(bearing))
    thresholds: list[Threshold] = []
    if doubt:
        fuel = driven.drive.vehicle.fuel_kg
        most = driven.drive.vehicle.fuel_capacity_kg or fuel + FUEL_MORE_KG
        ranges: list[tuple[Figure, float, float, float]] = [
            ("grip", GRIP_RANGE[0], 1.0, GRIP_RANGE[1]),
            (
                "tailwind",
                tail_now + TAILWIND_RANGE_MS[0],
                tail_now,
                tail_now + TAILWIND_RANGE_MS[1],
            ),
            ("fuel", 0.0, fuel, max(most, fuel)),
        ]
        asked = [
            (figure, now, end)
            for figure, low, now, high in ranges
            for end in (low, high)
            if abs(end - now) > 1e-9
        ]

        def look(one: tuple[Figure, float, float]) -> Threshold | None:
            figure, now, end = one
            trial = _trial_of(driven, figure, bearing, tail_now)

            def action(value: float) -> str | None:
                return _light_action(trial(value), corner)

            change = _nearest_change(action, now, end, result.action)
            return None if change is None else Threshold(figure, change[0], end > now, change[1])

        thresholds = [found for found in in_parallel(look, asked) if found is not None]
    return FlatCall(
        action=result.action,
        grip_left_pct=result.grip_left_pct,
        overspeed_ms=result.overspeed_ms,
        tailwind_ms=tail_now,
        in_doubt=doubt,
        thresholds=tuple(thresholds),
    )


def _bearing_rad(driven: DrivenLap, corner: int) -> float:
    """Compass bearing of the road where the corner begins."""
    path = driven.lap.path
    begins = path.corners[corner].begins_at_m
    heading = float(np.interp(begins, path.s_m, path.heading_rad))
    return math.radians(path.north_deg) - heading


def _trial_of(
    driven: DrivenLap, figure: Figure, bearing: float, tail_now: float
) -> Callable[[float], Drive]:
    drive = driven.drive
    conditions, vehicle = drive.conditions, drive.vehicle

    def gripping(factor: float) -> Drive:
        grip = conditions.grip_factor * factor
        return replace(drive, conditions=replace(conditions, grip_factor=grip))

    def fuelled(kg: float) -> Drive:
        return replace(drive, vehicle=replace(vehicle, fuel_kg=kg))

    def blown(tail: float) -> Drive:
        more = tail_now - tail
        windy = with_wind_added(conditions, more * math.cos(bearing), more * math.sin(bearing))
        return replace(drive, conditions=windy)

    return {"grip": gripping, "fuel": fuelled, "tailwind": blown}[figure]


def _light_action(drive: Drive, corner: int) -> str | None:
    try:
        return light(solved(drive)).actions[corner]
    except LapImpossible:
        return None


def _nearest_change(
    action: Callable[[float], str | None], now: float, end: float, present: str
) -> tuple[float, str] | None:
    """The value nearest to `now`, on the way to `end`, at which the action is another."""
    same = now
    for share in PLACES:
        other = now + share * (end - now)
        found = action(other)
        if found is None:
            return None
        if found != present:
            return _bisected(action, same, other, found)
        same = other
    return None


def _bisected(
    action: Callable[[float], str | None], same: float, other: float, changed: str
) -> tuple[float, str] | None:
    """Between a value with the present action and one without: where it first changes."""
    present = action(same)
    for _ in range(HALVINGS):
        middle = 0.5 * (same + other)
        found = action(middle)
        if found is None:
            return None
        if found == present:
            same = middle
        else:
            other, changed = middle, found
    return 0.5 * (same + other), changed
