"""What is asked of a corner and what is said to an answer, in words."""

from collections.abc import Sequence
from datetime import datetime

from neapfrost.core.drill.cards import Card, Figure, Kind
from neapfrost.core.drill.order import Asked, Order
from neapfrost.core.drill.price import Price
from neapfrost.core.drill.rhythm import Deed, Held
from neapfrost.core.drill.scoring import Score
from neapfrost.core.drill.standing import State
from neapfrost.core.studies.first_laps import Confidence
from neapfrost.formats.result import CornerResultPart
from neapfrost.services.words.corners import action_words, braking_label
from neapfrost.services.words.saying import NOTHING_S, Saying, gear_word, seconds

KIND_LABELS: dict[Kind, str] = {
    "action": "What to do",
    "see": "Reference",
    "look": "Where to look",
    "brake": "Braking point",
    "effort": "Braking effort and length",
    "gear": "Gear",
    "speed": "Minimum speed",
    "throttle": "Throttle",
    "kerb": "Kerb",
    "limit": "Limit",
    "next": "Next corner",
}
ASKED_LABELS: dict[Asked, str] = {
    "must": "Braking point, gear, minimum speed",
    "all": "Everything",
}
ASKED_LABELS.update(KIND_LABELS.items())
_ASKED: dict[Kind, str] = {
    "action": "what do you do",
    "see": "what do you brake by",
    "look": "where do you look",
    "brake": "where do you brake",
    "effort": "how hard do you brake, and for how long",
    "gear": "which gear",
    "speed": "what is the minimum speed",
    "throttle": "how far after minimum speed are you on the throttle",
    "kerb": "what do you do with the kerb",
    "limit": "what is the track limit",
    "next": "which corner is next, and which way",
}
ORDER_LABELS: dict[Order, str] = {
    "due": "Cards due",
    "lap": "In lap order",
    "random": "At random",
    "backwards": "Sectors in reverse",
    "after": "The corner after a given one",
    "weak": "Weak corners",
    "map": "Blank map: which corner is next",
}
STATE_LABELS: dict[State, str] = {
    "new": "not asked yet",
    "overtaken": "changed since",
    "wrong": "last answer wrong",
    "due": "due again",
    "known": "known",
}
ACTION_LABELS = {
    "brake": "brake",
    "lift": "lift only",
    "flat": "flat",
    "through": "carried through",
}
DEED_LABELS: dict[Deed, str] = {
    "brake": "brake",
    "down": "change down",
    "turn": "turn in",
    "throttle": "throttle",
}
CONFIDENCE_LABELS: dict[Confidence, str] = {
    "new": "never driven here",
    "some": "driven here before",
    "known": "known by heart",
}
#: How a figure is called that is answered.
FIGURE_LABELS = {
    "to_corner_m": "Before the corner",
    "peak_decel_g": "Peak",
    "braking_distance_m": "Distance",
    "min_speed_ms": "Minimum speed",
    "throttle_after_m": "After minimum speed",
}


def lap_label(confidence: Confidence | None, number: int) -> str:
    """Which lap is drilled: "The plan", "Lap 1 on the day, never driven here"."""
    if confidence is None:
        return "The plan"
    return f"Lap {number} on the day, {CONFIDENCE_LABELS[confidence]}"


def step_sentence(lap: int, corner: CornerResultPart, said: str, say: Saying) -> str:
    """A corner on one of the first laps, as it is read to the driver; `said` is what is done."""
    done = f"Brake {said}" if corner.brake_start_to_corner_m is not None else said.capitalize()
    return (
        f"Lap {lap}. {done}, in {gear_word(corner.gear)}, Minimum {say.speed(corner.min_speed_ms)}."
    )


def describe_question(card: Card, name: str, lifts: bool, missing: str | None) -> str:
    """The question of a card: "Sluice: where do you brake?"; a missing board is told first."""
    asked = _ASKED[card.kind]
    if card.kind == "brake" and lifts:
        asked = "where do you lift"
    gone = "" if missing is None else f"The {missing} is missing. "
    return f"{gone}{name}: {asked}?"


def corner_after(name: str) -> str:
    """A corner told by the one before it."""
    return f"The corner after {name}"


def describe_figure(figure: Figure, value: float, say: Saying) -> str:
    """A figure that was asked for, with its unit; places are said as braking points are."""
    if figure.name == "peak_decel_g":
        return f"{value:.1f} g"
    if figure.name == "braking_distance_m":
        return f"for {say.length(value)}"
    if figure.name == "throttle_after_m":
        return f"{say.length(value)} after minimum speed"
    return say.speed(value)


def describe_word(kind: Kind, word: str) -> str:
    """A word that was asked for: a gear as 3rd, what is done as it is said."""
    if kind == "gear" and word.isdecimal():
        return gear_word(int(word))
    return ACTION_LABELS.get(word, word) if kind == "action" else word


def describe_off(figure: Figure, off: float, say: Saying) -> str:
    """How far off an answer is: "7 m early", "3 km/h fast"; nothing that is shown as nothing."""
    words = {
        "to_corner_m": ("late", "early"),
        "throttle_after_m": ("early", "late"),
        "braking_distance_m": ("short", "long"),
        "min_speed_ms": ("slow", "fast"),
        "peak_decel_g": ("soft", "hard"),
    }[figure.name]
    if figure.name == "min_speed_ms":
        size, unit = say.number(abs(off)), say.speed_unit
    elif figure.name == "peak_decel_g":
        size, unit = f"{abs(off):.1f}", "g"
    else:
        size, unit = say.metres(abs(off)), say.length_unit
    if float(size) == 0.0:
        return ""
    return f"{size} {unit} {words[1 if off > 0.0 else 0]}"


def describe_verdict(score: Score, offs: Sequence[str]) -> str:
    """Right, near, off or dangerous, and by how much."""
    word = (
        "Right"
        if score.inside
        else "On the dangerous side"
        if score.dangerous
        else "Close"
        if score.near
        else "Wrong"
    )
    off = ", ".join(one for one in offs if one)
    return f"{word}: {off}." if off else f"{word}."


def price_words(prices: Sequence[Price], say: Saying) -> str:
    """What an error would do to the lap; empty where it does nothing worth a word."""
    said = []
    for price in prices:
        if price.cost_s is not None and price.cost_s >= NOTHING_S:
            costs = "costs at most" if price.at_most else "costs"
            said.append(f"{costs} {seconds(price.cost_s)} a lap")
        if price.too_fast_ms is not None and float(say.number(price.too_fast_ms)) > 0.0:
            said.append(f"{say.speed(price.too_fast_ms)} too fast at the turn-in")
        if price.grip_more_pct is not None and price.grip_more_pct >= 0.5:
            said.append(f"needs {price.grip_more_pct:.0f} % more grip than there is")
        if price.over_rpm is not None:
            said.append(f"{price.over_rpm:.0f} rpm over the limit")
    return ", ".join(said)


def describe_price(prices: Sequence[Price], say: Saying) -> str:
    """The same as a sentence."""
    text = price_words(prices, say)
    return f"{text[0].upper()}{text[1:]}." if text else ""


def describe_due(due: datetime, moment: datetime) -> str:
    """When a card comes back: "again in 10 minutes", "again tomorrow", "again in 3 days"."""
    minutes = round((due - moment).total_seconds() / 60.0)
    if minutes < 1:
        return "again straight away"
    if minutes < 60:
        return f"again in {minutes} minute{'' if minutes == 1 else 's'}"
    hours = round(minutes / 60.0)
    if hours < 24:
        return f"again in {hours} hour{'' if hours == 1 else 's'}"
    days = round(hours / 24.0)
    return "again tomorrow" if days == 1 else f"again in {days} days"


def describe_moved(what: str, then: str) -> str:
    """Why a card is due again though it was known: the plan is another since."""
    return f"{what} was {then} when you learned it; the plan has changed it since"


def describe_call(corner: CornerResultPart, say: Saying) -> str:
    """A corner as it is called on the way: "Sluice left: brake 19 past 100, 3rd, 104"."""
    done = action_words(corner.action, corner.trend)
    if corner.action == "brake":
        done = f"brake {braking_label(corner.board_call, corner.brake_start_to_corner_m, say)}"
    called = f"{corner.name} {corner.direction}: {done}"
    if corner.action in ("flat", "through"):
        return called
    return f"{called}, {gear_word(corner.gear)}, {say.number(corner.min_speed_ms)}"


def describe_held(held: Held, say: Saying) -> str:
    """How a press was: "0.2 s late, 11 m"; what was not pressed is said so."""
    if held.off_s is None or held.off_m is None:
        return "not pressed"
    size = f"{abs(held.off_s):.1f} s"
    if size == "0.0 s":
        return "in time"
    side = "late" if held.off_s > 0.0 else "early"
    return f"{size} {side}, {say.length(abs(held.off_m))}"


def describe_rhythm(held: Sequence[Held], stray: int, cost_s: float) -> str:
    """A lap by its rhythm in a sentence, and what being early or late on it costs."""
    right = sum(1 for one in held if one.inside)
    late = sum(1 for one in held if one.dangerous)
    said = f"{right} of {len(held)} in time with the plan"
    if late:
        said += f", {late} on the dangerous side"
    if stray:
        said += f"; {stray} extra press{'' if stray == 1 else 'es'}"
    if cost_s < NOTHING_S:
        return f"{said}."
    return f"{said}. Early on the brakes and late on the throttle cost {seconds(cost_s, 2)}."


def describe_knows(known: int, corners: int) -> str:
    """Whether the lap is known: its braking points, gears and minimum speeds."""
    if known == corners:
        return (
            f"All {corners} corners: gear, braking point and minimum speed within the plan’s band."
        )
    return (
        f"{known} of {corners} corners: gear, braking point and minimum speed within the plan’s "
        "band."
    )
