"""Flat, lift or brake: how much is left, and at which grip, wind or fuel the answer changes."""

import math
import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from neapfrost.core.lap.light import Extents, extents, light_lap
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.studies.trials import Combination, Trial

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


def flat_call(combination: Combination, corner: int) -> FlatCall:
    """Look for the nearest grip, wind and fuel at which a corner is taken otherwise.

    Each figure is changed for the whole lap and the lap driven; a change is bisected.
    """
    result = combination.driven.corners[corner]
    doubt = result.action in ("flat", "lift") or (
        result.action == "brake" and (result.overspeed_ms or 0.0) <= IN_DOUBT_OVERSPEED_MS
    )
    if result.action == "flat" and (result.grip_left_pct or 0.0) > IN_DOUBT_GRIP_PCT:
        doubt = False
    bearing = _bearing_rad(combination, corner)
    wind = combination.conditions
    from_rad = math.radians(wind.wind_from_deg)
    # Wind from straight behind has the bearing it comes from opposite to the heading.
    tail_now = -wind.wind_speed_ms * math.cos(from_rad - bearing)
    thresholds: list[Threshold] = []
    if doubt:
        fuel = combination.vehicle.fuel_kg
        most = combination.vehicle.fuel_capacity_kg or fuel + FUEL_MORE_KG
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
        where = extents(combination.driven.lap.path)
        asked = [
            (figure, now, end)
            for figure, low, now, high in ranges
            for end in (low, high)
            if abs(end - now) > 1e-9
        ]

        def look(one: tuple[Figure, float, float]) -> Threshold | None:
            figure, now, end = one
            trial = _trial_of(combination, figure, bearing, tail_now)

            def action(value: float) -> str | None:
                return _light_action(combination, where, trial(value), corner)

            change = _nearest_change(action, now, end, result.action)
            return None if change is None else Threshold(figure, change[0], end > now, change[1])

        with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
            thresholds = [found for found in pool.map(look, asked) if found is not None]
    return FlatCall(
        action=result.action,
        grip_left_pct=result.grip_left_pct,
        overspeed_ms=result.overspeed_ms,
        tailwind_ms=tail_now,
        in_doubt=doubt,
        thresholds=tuple(thresholds),
    )


def _bearing_rad(combination: Combination, corner: int) -> float:
    """Compass bearing of the road where the corner begins."""
    path = combination.driven.lap.path
    begins = path.corners[corner].begins_at_m
    heading = float(np.interp(begins, path.s_m, path.heading_rad))
    return math.radians(path.north_deg) - heading


def _trial_of(
    combination: Combination, figure: Figure, bearing: float, tail_now: float
) -> Callable[[float], Trial]:
    conditions, vehicle = combination.conditions, combination.vehicle
    if figure == "grip":
        return lambda factor: Trial(
            conditions=replace(conditions, grip_factor=conditions.grip_factor * factor)
        )
    if figure == "fuel":
        return lambda kg: Trial(vehicle=replace(vehicle, fuel_kg=kg))
    from_rad = math.radians(conditions.wind_from_deg)
    north = conditions.wind_speed_ms * math.cos(from_rad)
    east = conditions.wind_speed_ms * math.sin(from_rad)

    def windy(tail: float) -> Trial:
        more = tail - tail_now
        n, e = north - more * math.cos(bearing), east - more * math.sin(bearing)
        return Trial(
            conditions=replace(
                conditions,
                wind_speed_ms=math.hypot(n, e),
                wind_from_deg=math.degrees(math.atan2(e, n)),
            )
        )

    return windy


def _light_action(
    combination: Combination, where: Extents, trial: Trial, corner: int
) -> str | None:
    path = combination.driven.lap.path
    case = pack_case(
        trial.vehicle or combination.vehicle,
        trial.conditions or combination.conditions,
        combination.driver,
        path.altitude_m,
    )
    lengths = combination.driven.lap.workings.lengths
    lap = light_lap(path, where, case, combination.road, lengths)
    return None if lap is None else lap.actions[corner]


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
