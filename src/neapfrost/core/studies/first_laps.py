"""The rules of the first laps: how much of the grip, what asks for more margin, never later."""

from dataclasses import dataclass, replace
from typing import Literal

Confidence = Literal["new", "some", "known"]

#: Share of the grip that is used lap by lap, by how well the driver knows the circuit.
SHARES: dict[Confidence, tuple[float, ...]] = {
    "new": (0.82, 0.88, 0.93, 0.97),
    "some": (0.88, 0.94, 0.98),
    "known": (0.94, 0.98),
}

#: A blind crest, a wall or no run-off each take so much more off the share, at most twice.
HAZARD_SHARE, HAZARDS_MOST = 0.03, 2


@dataclass(frozen=True)
class Step:
    """What is done at a corner on one lap."""

    action: str
    trend: str | None
    brake_start_to_corner_m: float | None
    min_speed_ms: float
    gear: int


def hazard_count(blind: bool, wall: bool, no_run_off: bool) -> int:
    """How many things beside a corner ask for more margin, as far as they count."""
    return min(blind + wall + no_run_off, HAZARDS_MOST)


def share_with(share: float, hazards: int) -> float:
    """The share of the grip at a corner with so many hazards beside it."""
    return share - HAZARD_SHARE * hazards


def margin_m(margins_m: tuple[float, float, float], number: int) -> float:
    """How much earlier than planned the brakes come on one of the first laps, from 1 [m]."""
    return margins_m[min(number, len(margins_m)) - 1]


def with_margin(own: Step, planned: Step, least_m: float) -> Step:
    """A corner whose brakes come so much earlier than planned at the least.

    Where no brakes are planned, or none are needed with less grip, nothing is moved.
    """
    start, base = own.brake_start_to_corner_m, planned.brake_start_to_corner_m
    if start is None or base is None or start >= base + least_m:
        return own
    return replace(own, brake_start_to_corner_m=base + least_m)


def never_later(own: Step, after: Step) -> Step:
    """A corner held to brake no later and to turn no faster than on the lap after it.

    Less grip can also mean arriving slower, and then braking later would do: it is not told so.
    """
    start, later = own.brake_start_to_corner_m, after.brake_start_to_corner_m
    if later is not None and (start is None or start < later):
        start = later
    action, trend = own.action, own.trend
    if own.action in ("flat", "lift") and start is not None:
        action, trend = after.action, after.trend
    slower = own.min_speed_ms <= after.min_speed_ms
    return replace(
        own,
        action=action,
        trend=trend,
        brake_start_to_corner_m=start,
        min_speed_ms=min(own.min_speed_ms, after.min_speed_ms),
        gear=own.gear if slower else after.gear,
    )
