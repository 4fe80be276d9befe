"""A corner in words: what is done there, where one brakes, and what is changed."""

from pydantic import BaseModel

from neapfrost.core.path.ring import Ring
from neapfrost.core.units import shown
from neapfrost.formats.result import BoardCallResult, CornerResultPart
from neapfrost.services.words.saying import Saying, gear_word

#: A difference smaller than this, as it is shown, is called none.
SAME = 0.05


class CornerWords(BaseModel):
    """What is said of a corner: what is done there, where, and one sentence for the whole.

    `action` is short ("brake", "lift only", "through, accelerating"); `label` stands on the curve;
    `place` says where one brakes, empty where nobody does.
    """

    action: str
    label: str
    place: str
    sentence: str


def action_words(action: str, trend: str | None) -> str:
    """What is done at a corner, in short."""
    if action == "through":
        return "through, accelerating" if trend == "rising" else "through, still slowing"
    return {"brake": "brake", "flat": "flat", "lift": "lift only"}[action]


def was_words(action: str, trend: str | None) -> str:
    """What was done at a corner before: "was flat"."""
    done = {"brake": "braked", "lift": "lifted"}.get(action, action_words(action, trend))
    return f"was {done}"


def braking_place(call: BoardCallResult | None, to_corner_m: float | None, say: Saying) -> str:
    """Where to brake: "19 m past 100", "34 m before the corner"."""
    away_m, beside = _beside(call, to_corner_m, "the corner")
    return f"{say.length(away_m)} {beside}"


def braking_label(call: BoardCallResult | None, to_corner_m: float | None, say: Saying) -> str:
    """The same where there is little room: "19 past 100", "34 before corner"."""
    away_m, beside = _beside(call, to_corner_m, "corner")
    return f"{say.metres(away_m)} {beside}"


def _beside(
    call: BoardCallResult | None, to_corner_m: float | None, corner: str
) -> tuple[float, str]:
    """How far a braking point is from what it is told by, and on which side of what [m]."""
    if call is not None:
        return call.metres, f"{call.side} {call.label}"
    ahead_m = to_corner_m or 0.0
    return abs(ahead_m), f"{'before' if ahead_m >= 0.0 else 'into'} {corner}"


def corner_words(corner: CornerResultPart, say: Saying) -> CornerWords:
    """What is said of a corner of a lap."""
    where = corner.board_call, corner.brake_start_to_corner_m
    brakes = corner.action == "brake"
    action = action_words(corner.action, corner.trend)
    return CornerWords(
        action=action,
        label=braking_label(*where, say) if brakes else action,
        place=braking_place(*where, say) if brakes else "",
        sentence=corner_told(corner, say),
    )


def corner_told(corner: CornerResultPart, say: Saying) -> str:
    """A corner as a sentence, for whoever reads or hears the lap instead of seeing the curve."""
    gear = (
        f"gear {corner.gear} held"
        if corner.gear == corner.gear_before
        else f"gear {corner.gear_before} to {corner.gear}"
    )
    slowest = f"minimum {say.speed(corner.min_speed_ms)} at {say.length(corner.min_speed_at_m)}"
    done = action_words(corner.action, corner.trend)
    if corner.action == "brake" and corner.braking_distance_m is not None:
        place = braking_place(corner.board_call, corner.brake_start_to_corner_m, say)
        done = (
            f"brake {place}, from {say.speed(corner.brake_start_speed_ms or 0.0)}, for "
            f"{say.length(corner.braking_distance_m)}"
        )
    exit_said = f"exit at {say.speed(corner.exit_speed_ms)}"
    return f"{corner.name}, {corner.direction}: {done}; {gear}; {slowest}; {exit_said}."


def brake_moved(
    action: str,
    base_action: str,
    base_trend: str | None,
    earlier_m: float | None,
    say: Saying,
) -> str:
    """How a braking point moved against a baseline: "11.2 earlier", "was flat"."""
    if action != base_action:
        return was_words(base_action, base_trend)
    if earlier_m is None:
        return ""
    if abs(shown(earlier_m, "length", say.units)) < SAME:
        return "same"
    return f"{say.metres(abs(earlier_m), 1)} {'earlier' if earlier_m > 0.0 else 'later'}"


def racing_braking(
    action: str, trend: str | None, planned: str, earlier_m: float | None, say: Saying
) -> str:
    """How a corner is braked for in a race: "11 m earlier", or what is done instead."""
    if action != planned or earlier_m is None:
        return action_words(action, trend)
    if say.is_nothing(earlier_m):
        return "same point"
    return f"{say.length(abs(earlier_m))} {'earlier' if earlier_m > 0.0 else 'later'}"


def speed_moved(faster_ms: float, say: Saying) -> str:
    """How a minimum speed moved: "1.3 faster"."""
    if abs(shown(faster_ms, "speed", say.units)) < SAME:
        return "same"
    return f"{say.number(abs(faster_ms), 1)} {'faster' if faster_ms > 0.0 else 'slower'}"


def gear_moved(gear: int, base_gear: int) -> str:
    """The baseline's gear, where it was another."""
    return "" if gear == base_gear else f"was {base_gear}"


def throttle_after_m(corner: CornerResultPart, ring: Ring) -> float | None:
    """How far after minimum speed the throttle comes [m]."""
    if corner.throttle_at_m is None:
        return None
    return ring.ahead(corner.min_speed_at_m, corner.throttle_at_m)


def describe_reference(label: str) -> str:
    """A board by its number, "the 100 board"; anything else by its name, "the hut"."""
    if label.isdigit():
        return f"the {label} board"
    return label if label.startswith(("the ", "The ")) else f"the {label}"


def sentence_for(corner: CornerResultPart, say: Saying, ring: Ring) -> str:
    """One corner as it is read to the driver, in the order of doing it."""
    slow = f"minimum {say.number(corner.min_speed_ms)}"
    if corner.action == "flat":
        return f"Flat. Minimum {say.speed(corner.min_speed_ms)}, in {gear_word(corner.gear)}."
    down = (
        f"Down {corner.gear_before} to {corner.gear}."
        if corner.gear < corner.gear_before
        else f"Stay in {gear_word(corner.gear)}."
    )
    after = throttle_after_m(corner, ring)
    power = (
        ""
        if after is None
        else f", throttle {say.length(after)} after"
        if after >= 0.5
        else ", throttle at once"
    )
    if corner.action == "through":
        slowest = f"Minimum {say.speed(corner.min_speed_ms)}."
        if corner.trend == "rising":
            return f"Through, accelerating. {slowest}"
        return f"Still slowing for the next corner. {slowest}"
    if corner.action == "lift" or corner.braking_distance_m is None:
        return f"Lift only. {down} {slow.capitalize()}{power}."
    call = corner.board_call
    if call is None:
        brake = f"Brake {braking_place(None, corner.brake_start_to_corner_m, say)}"
    else:
        brake = f"Look for {describe_reference(call.label)}. "
        brake += (
            f"Brake {say.length(call.metres)} {call.side} it"
            if not say.is_nothing(call.metres)
            else "Brake at it"
        )
    return (
        f"{brake} for {say.length(corner.braking_distance_m)}. {down} "
        f"Turn in at {say.number(corner.turn_in_speed_ms)}, {slow}{power}."
    )
