"""What is asked of each corner, and between which figures an answer is right."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from neapfrost.core.lap.boards import Mark
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.path.ring import Ring
from neapfrost.core.units import KMH_PER_MS

Kind = Literal[
    "action",
    "see",
    "look",
    "brake",
    "effort",
    "gear",
    "speed",
    "throttle",
    "kerb",
    "limit",
    "next",
]
#: In the order in which a driver does or needs them.
KINDS: tuple[Kind, ...] = get_args(Kind)
Side = Literal["below", "above"]

#: Nobody says a figure finer than this: a band that is narrower counts as so wide, either way.
SAID_M, SAID_MS, SAID_G = 3.0, 2.0 / KMH_PER_MS, 0.1
#: What the plan's band does not tell: a lift's place and the throttle's [m], braking's effort.
LIFT_M, THROTTLE_M, EFFORT_SHARE = 8.0, 5.0, 0.1
#: A gear that so many laps in a hundred of the band's take is right as well.
GEAR_SHARE_PCT = 10.0


@dataclass(frozen=True)
class Figure:
    """A figure that is asked for: the plan's value, between which two it is right, SI units.

    `dangerous` is the side on which a wrong answer runs out of road; None where neither does.
    """

    name: str
    value: float
    low: float
    high: float
    dangerous: Side | None = None


@dataclass(frozen=True)
class Choice:
    """A word that is asked for: which are right, and which wrong ones are dangerous."""

    right: tuple[str, ...]
    dangerous: tuple[str, ...] = ()


@dataclass(frozen=True)
class Card:
    """One thing to know of one corner (0 is the first): figures, or a choice."""

    corner: int
    kind: Kind
    figures: tuple[Figure, ...] = ()
    choice: Choice | None = None


@dataclass(frozen=True)
class Spread:
    """The plan's bands at a corner: low and high, None where the plan has none."""

    brake_to_corner_m: tuple[float, float] | None = None
    min_speed_ms: tuple[float, float] | None = None
    gears_pct: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True)
class Beside:
    """What is known of a corner's place, in words; empty where nothing is."""

    look_at: str = ""
    kerb: str = ""
    limit: str = ""


def band(value: float, known: tuple[float, float] | None, least: float) -> tuple[float, float]:
    """Between which figures an answer is right: the known band, and never finer than is said."""
    low, high = known if known is not None else (value, value)
    return min(low, value - least), max(high, value + least)


def brake_figure(to_corner_m: float, known: tuple[float, float] | None, least_m: float) -> Figure:
    """A place before a corner [m]; nearer to it is the dangerous side."""
    return Figure("to_corner_m", to_corner_m, *band(to_corner_m, known, least_m), "below")


def speed_figure(min_speed_ms: float, known: tuple[float, float] | None) -> Figure:
    """A minimum speed [m/s]; faster is the dangerous side."""
    return Figure("min_speed_ms", min_speed_ms, *band(min_speed_ms, known, SAID_MS), "above")


def gear_choice(gear: int, gears_pct: tuple[tuple[int, float], ...]) -> Choice:
    """The plan's gear, and those that enough laps of its band take."""
    others = [g for g, share in gears_pct if share >= GEAR_SHARE_PCT and g != gear]
    return Choice(tuple(str(one) for one in (gear, *others)))


def seen_choice(label: str, own: Sequence[Mark], ring: Ring) -> Choice:
    """What to look for of a corner's own marks; one that stands nearer has one brake too late."""
    named = next(mark for mark in own if mark.label == label)
    nearer = [mark.label for mark in own if ring.apart(named.at_m, mark.at_m) > 0.0]
    return Choice((label,), tuple(nearer))


def cards_of(
    number: int,
    corners: tuple[CornerResult, ...],
    marks: list[Mark],
    spread: Spread,
    beside: Beside,
    ring: Ring,
) -> tuple[Card, ...]:
    """Everything that is asked of a corner, in the order of doing it."""
    corner = corners[number]
    cards = [Card(number, "action", choice=_action(corner))]
    if corner.board_call is not None:
        own = [mark for mark in marks if mark.corner == corner.name]
        cards.append(Card(number, "see", choice=seen_choice(corner.board_call.label, own, ring)))
    if beside.look_at:
        cards.append(Card(number, "look", choice=Choice((beside.look_at,))))
    if corner.brake_start_to_corner_m is not None:
        at = brake_figure(corner.brake_start_to_corner_m, spread.brake_to_corner_m, SAID_M)
        cards.append(Card(number, "brake", (at,)))
        if corner.peak_decel_g is not None and corner.braking_distance_m is not None:
            effort = _share("peak_decel_g", corner.peak_decel_g, SAID_G)
            far = _share("braking_distance_m", corner.braking_distance_m, SAID_M)
            cards.append(Card(number, "effort", (effort, far)))
    elif corner.action == "lift" and corner.lift_at_m is not None:
        before = ring.apart(corner.lift_at_m, corner.begins_at_m)
        cards.append(Card(number, "brake", (brake_figure(before, None, LIFT_M),)))
    cards.append(Card(number, "gear", choice=gear_choice(corner.gear, spread.gears_pct)))
    if corner.action in ("brake", "lift"):
        cards.append(
            Card(number, "speed", (speed_figure(corner.min_speed_ms, spread.min_speed_ms),))
        )
        if corner.throttle_at_m is not None:
            after = ring.ahead(corner.min_speed_at_m, corner.throttle_at_m)
            low, high = band(after, None, THROTTLE_M)
            cards.append(
                Card(number, "throttle", (Figure("throttle_after_m", after, low, high, "below"),))
            )
    if beside.kerb:
        cards.append(Card(number, "kerb", choice=Choice((beside.kerb,))))
    if beside.limit:
        cards.append(Card(number, "limit", choice=Choice((beside.limit,))))
    after_it = next_corner(number, len(corners), ring.closed)
    if after_it is not None:
        cards.append(Card(number, "next", choice=Choice((turn_label(corners[after_it]),))))
    return tuple(cards)


def next_corner(number: int, count: int, closed: bool) -> int | None:
    """The corner after one; None after an open course's last, and where there is only one."""
    if count < 2 or (number + 1 == count and not closed):
        return None
    return (number + 1) % count


def turn_label(corner: CornerResult) -> str:
    """A corner's name and which way it turns: "Sluice, left"."""
    return f"{corner.name}, {corner.direction}"


def _share(name: str, value: float, least: float) -> Figure:
    low, high = band(value, ((1 - EFFORT_SHARE) * value, (1 + EFFORT_SHARE) * value), least)
    return Figure(name, value, low, high)


def _action(corner: CornerResult) -> Choice:
    """What is done: to go through flat what has to be slowed for is the dangerous answer."""
    dangerous = {"brake": ("flat", "lift"), "lift": ("flat",)}.get(corner.action, ())
    return Choice((corner.action,), dangerous)
