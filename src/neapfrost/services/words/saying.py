"""Figures said in a person's units, and a corner as the sentence one reads to a driver."""

from dataclasses import dataclass

from neapfrost.formats.corner_table import (
    KMH_PER_MS,
    LENGTH_UNIT,
    METRES_PER,
    MPH_PER_MS,
    Units,
)
from neapfrost.formats.result import BoardCallResult, CornerResultPart


@dataclass(frozen=True)
class Saying:
    """How speeds and lengths are said."""

    units: Units = "metric"

    @property
    def speed_unit(self) -> str:
        """km/h or mph."""
        return "km/h" if self.units == "metric" else "mph"

    @property
    def length_unit(self) -> str:
        """m, ft or yd."""
        return LENGTH_UNIT[self.units]

    @property
    def per_speed(self) -> float:
        """Shown speed for each m/s."""
        return KMH_PER_MS if self.units == "metric" else MPH_PER_MS

    def number(self, speed_ms: float, decimals: int = 0) -> str:
        """A speed without its unit."""
        return f"{speed_ms * self.per_speed:.{decimals}f}"

    def speed(self, speed_ms: float, decimals: int = 0) -> str:
        """A speed: "104 km/h"."""
        return f"{self.number(speed_ms, decimals)} {self.speed_unit}"

    def metres(self, length_m: float) -> str:
        """A length without its unit."""
        return f"{length_m / METRES_PER[self.units]:.0f}"

    def length(self, length_m: float) -> str:
        """A length: "19 m"."""
        return f"{self.metres(length_m)} {self.length_unit}"

    def wind(self, wind_ms: float) -> str:
        """A wind in m/s, or mph."""
        return f"{wind_ms:.1f} m/s" if self.units == "metric" else self.speed(wind_ms)

    def braking_place(self, call: BoardCallResult | None, to_corner_m: float | None) -> str:
        """Where to brake: "19 m past 100", "34 m before the corner"."""
        if call is not None:
            return f"{self.length(call.metres)} {call.side} {call.label}"
        ahead = to_corner_m or 0.0
        if ahead >= 0.0:
            return f"{self.length(ahead)} before the corner"
        return f"{self.length(-ahead)} into the corner"


def seconds(cost_s: float, decimals: int = 3) -> str:
    """A cost as a person says it: "0.097 s"; nothing that rounds to nothing."""
    return f"{abs(cost_s):.{decimals}f} s"


def gear_word(gear: int) -> str:
    """1st, 2nd, 3rd, 4th."""
    return f"{gear}{ {1: 'st', 2: 'nd', 3: 'rd'}.get(gear, 'th') }".replace(" ", "")


def throttle_after_m(corner: CornerResultPart, lap_m: float, closed: bool) -> float | None:
    """How far after the slowest point the throttle comes [m]."""
    if corner.throttle_at_m is None:
        return None
    after = corner.throttle_at_m - corner.min_speed_at_m
    return after % lap_m if closed else after


def reference_said(label: str) -> str:
    """A board by its number, "the 100 board"; anything else by its name, "the hut"."""
    if label.isdigit():
        return f"the {label} board"
    return label if label.startswith(("the ", "The ")) else f"the {label}"


def sentence_for(corner: CornerResultPart, say: Saying, lap_m: float, closed: bool) -> str:
    """One corner as it is read to the driver, in the order of doing it."""
    slow = f"slow to {say.number(corner.min_speed_ms)}"
    if corner.action == "flat":
        return (
            f"Flat. {say.speed(corner.min_speed_ms)} at the slowest, in {gear_word(corner.gear)}."
        )
    down = (
        f"Down {corner.gear_before} to {corner.gear}."
        if corner.gear < corner.gear_before
        else f"Stay in {gear_word(corner.gear)}."
    )
    after = throttle_after_m(corner, lap_m, closed)
    power = (
        ""
        if after is None
        else f", power {say.length(after)} after"
        if after >= 0.5
        else ", power at once"
    )
    if corner.action == "through":
        return (
            f"Still slowing for the next corner. {say.speed(corner.min_speed_ms)} at the slowest."
        )
    if corner.action == "lift" or corner.braking_distance_m is None:
        return f"Lift only. {down} {slow.capitalize()}{power}."
    call = corner.board_call
    if call is None:
        brake = f"Brake {say.braking_place(None, corner.brake_start_to_corner_m)}"
    else:
        brake = f"Look for {reference_said(call.label)}. "
        brake += (
            f"Brake {say.length(call.metres)} {call.side} it"
            if round(call.metres / METRES_PER[say.units]) > 0
            else "Brake at it"
        )
    return (
        f"{brake} for {say.length(corner.braking_distance_m)}. {down} "
        f"Turn in at {say.number(corner.turn_in_speed_ms)}, {slow}{power}."
    )
