"""Rounds of questions: which are asked, in which order, and what there is to answer with."""

from dataclasses import dataclass, replace
from typing import Literal

from pydantic import BaseModel

from neapfrost.core.drill.cards import KINDS, Card, Figure, Kind, seen_choice, turn_label
from neapfrost.core.drill.order import (
    Asked,
    Order,
    choices,
    corners_in_order,
    kinds_asked,
    sector_of,
)
from neapfrost.core.drill.standing import Standing
from neapfrost.core.kernels.case import GEARS
from neapfrost.formats.circuit_facts import note_of
from neapfrost.services.drill.setting import DrilledCorner, Setting
from neapfrost.services.drill.standings import Stands
from neapfrost.services.words.drill import (
    ACTION_LABELS,
    FIGURE_LABELS,
    KIND_LABELS,
    corner_after,
    describe_figure,
    describe_moved,
    describe_question,
    describe_word,
)

#: So many words to choose from, so many new things in a round of what is due.
CHOICES_MOST, NEW_MOST = 4, 12
#: The road is drawn this far beyond what is asked for, to the next full stretch [m].
ROAD_BEYOND_M, ROAD_STEP_M, ROAD_LEAST_M, ROAD_INTO_M = 40.0, 50.0, 150.0, 25.0


class DrillMark(BaseModel):
    """A board or reference, so far before the corner [m]."""

    label: str
    to_corner_m: float


class DrillRoad(BaseModel):
    """The road straight ahead, from so far before the corner to so far into it [m].

    `places` says each of its metres, from the first one on.
    """

    from_m: float
    until_m: float
    direction: str
    marks: list[DrillMark]
    places: list[str]


class DrillOption(BaseModel):
    """A word to choose."""

    value: str
    label: str


class DrillField(BaseModel):
    """A figure to answer with: in which quantity, and between which two it can be set (SI)."""

    name: str
    label: str
    quantity: Literal["length", "speed", "g"]
    least: float
    most: float
    start: float


class DrillStretch(BaseModel):
    """From one place of the lap to another, across the line where the second is the smaller [m]."""

    from_m: float
    to_m: float


class DrillQuestion(BaseModel):
    """A question, and what there is to answer it with; the answer is not in it.

    `stretch` is what of the lap lies between this corner and the one before, for a map that
    grows. `why` says why a card is asked again that was known; `missing` which board is gone.
    """

    corner: int
    name: str
    kind: Kind
    label: str
    said: str
    why: str
    missing: str | None
    way: Literal["road", "choice", "gear", "figures"]
    road: DrillRoad | None
    options: list[DrillOption]
    fields: list[DrillField]
    stretch: DrillStretch


class DrillRound(BaseModel):
    """Questions in the order in which they are asked."""

    order: Order
    questions: list[DrillQuestion]


@dataclass(frozen=True)
class RoundWanted:
    """What a round is made of; `corner` asks about one alone, `missing` takes boards away."""

    order: Order
    kinds: Asked
    missing: bool
    seed: int
    corner: int | None = None


def round_of(setting: Setting, stands: Stands, wanted: RoundWanted) -> DrillRound:
    """The questions of a round."""
    cards = _cards(setting, stands, wanted)
    return DrillRound(
        order=wanted.order,
        questions=[question(setting, card, stands.of(card), wanted) for card in cards],
    )


def _cards(setting: Setting, stands: Stands, wanted: RoundWanted) -> list[Card]:
    kinds = kinds_asked(wanted.order, wanted.kinds)
    asked = [
        card
        for corner in setting.corners
        for card in corner.cards
        if card.kind in kinds and wanted.corner in (None, corner.number)
    ]
    if wanted.order == "due":
        return _due(asked, stands)
    ends = setting.prediction.driven.lap.path.sectors_at_m
    sectors = [sector_of(corner.corner.apex_at_m, ends) for corner in setting.corners]
    places = corners_in_order(wanted.order, sectors, stands.weakest, wanted.seed)
    order = {corner: place for place, corner in enumerate(places)}
    # The first corner stands on the blank map already.
    last = len(setting.corners) - 1 if wanted.order == "map" else None
    asked = [card for card in asked if card.corner in order and card.corner != last]
    return sorted(asked, key=lambda card: (order[card.corner], KINDS.index(card.kind)))


def _due(cards: list[Card], stands: Stands) -> list[Card]:
    """What has to come back, the longest due first; then what was never asked."""
    again = sorted(filter(stands.back, cards), key=stands.due_at)
    new = [card for card in cards if stands.of(card).state == "new"]
    return [*again, *new[: max(0, NEW_MOST - len(again))]]


def question(
    setting: Setting, card: Card, standing: Standing, wanted: RoundWanted
) -> DrillQuestion:
    """A card as a question."""
    corner = setting.corners[card.corner]
    call = corner.told.board_call
    braked_by = call.label if call is not None else None
    takes_away = wanted.missing and card.kind in ("brake", "see")
    missing = braked_by if takes_away and len(setting.marks_of(corner)) > 1 else None
    name = corner.corner.name
    if wanted.order == "after":
        before = setting.corners[card.corner - 1]
        if card.corner > 0 or setting.ring.closed:
            name = corner_after(before.corner.name)
    return DrillQuestion(
        corner=card.corner,
        name=corner.corner.name,
        kind=card.kind,
        label=KIND_LABELS[card.kind],
        said=describe_question(card, name, corner.corner.action == "lift", missing),
        why=_why(setting, corner, card, standing),
        missing=missing,
        way=_way(card),
        road=_road(setting, corner, card, missing) if card.kind == "brake" else None,
        options=_options(setting, corner, card, missing, wanted.seed),
        fields=[_field(figure, setting.prediction.result.top_speed_ms) for figure in card.figures],
        stretch=_stretch(setting, card),
    )


def _stretch(setting: Setting, card: Card) -> DrillStretch:
    """What of the lap belongs to what is asked for: from the corner before it to its end [m]."""
    asked = card.corner + 1 if card.kind == "next" else card.corner
    before, after = (setting.corners[n % len(setting.corners)] for n in (asked - 1, asked))
    return DrillStretch(from_m=before.corner.ends_at_m, to_m=after.corner.ends_at_m)


def _way(card: Card) -> Literal["road", "choice", "gear", "figures"]:
    if card.kind == "brake":
        return "road"
    if card.kind == "gear":
        return "gear"
    return "choice" if card.choice is not None else "figures"


def _why(setting: Setting, corner: DrilledCorner, card: Card, standing: Standing) -> str:
    """Why a card is asked again that was known; empty where the plan has not moved it."""
    if standing.moved is None:
        return ""
    what = f"The {KIND_LABELS[card.kind].lower()}"
    name, then = standing.moved
    if isinstance(then, str):
        return describe_moved(what, describe_word(card.kind, then))
    figure = next(one for one in card.figures if one.name == name)
    if name == "to_corner_m":
        said = setting.place_said(corner, then)
    else:
        said = describe_figure(figure, then, setting.say)
    return describe_moved(what, said)


def _road(setting: Setting, corner: DrilledCorner, card: Card, missing: str | None) -> DrillRoad:
    begins = corner.corner.begins_at_m
    marks = [
        DrillMark(label=mark.label, to_corner_m=setting.ring.apart(mark.at_m, begins))
        for mark in setting.marks_of(corner, missing)
    ]
    (figure,) = card.figures
    farthest = max([figure.high, *(mark.to_corner_m for mark in marks)]) + ROAD_BEYOND_M
    from_m = max(ROAD_LEAST_M, ROAD_STEP_M * -(-farthest // ROAD_STEP_M))
    metres = int(from_m - min(-ROAD_INTO_M, figure.low - ROAD_INTO_M))
    return DrillRoad(
        from_m=from_m,
        until_m=from_m - metres,
        places=[setting.place_said(corner, from_m - m, missing) for m in range(metres + 1)],
        direction=corner.corner.direction,
        marks=marks,
    )


def _options(
    setting: Setting, corner: DrilledCorner, card: Card, missing: str | None, seed: int
) -> list[DrillOption]:
    choice = as_asked(setting, card, missing).choice
    if choice is None:
        return []
    if card.kind == "gear":
        return [DrillOption(value=gear, label=gear) for gear in gears_of(setting)]
    if card.kind == "action":
        return [DrillOption(value=value, label=label) for value, label in ACTION_LABELS.items()]
    others = [word for word in _others(setting, corner, card) if word != missing]
    words = choices(choice.right[0], others, CHOICES_MOST, f"{seed} {corner.number} {card.kind}")
    return [DrillOption(value=word, label=word) for word in words]


def gears_of(setting: Setting) -> list[str]:
    """The vehicle's gears, by number."""
    count = int(setting.prediction.driven.lap.packed.case[GEARS])
    return [str(gear) for gear in range(1, count + 1)]


def _other_reference(setting: Setting, corner: DrilledCorner, missing: str) -> str | None:
    """What one brakes by where a board is missing: the nearest of what is left."""
    left = setting.marks_of(corner, missing)
    start = corner.corner.brake_start_at_m
    if not left or start is None:
        return None
    return min(left, key=lambda mark: abs(setting.ring.apart(mark.at_m, start))).label


def as_asked(setting: Setting, card: Card, missing: str | None) -> Card:
    """A card as it is asked: where a board is missing, another reference is right."""
    corner = setting.corners[card.corner]
    other = None if missing is None else _other_reference(setting, corner, missing)
    if card.kind != "see" or other is None:
        return card
    left = setting.marks_of(corner, missing)
    return replace(card, choice=seen_choice(other, left, setting.ring))


def _others(setting: Setting, corner: DrilledCorner, card: Card) -> list[str]:
    """Wrong words for a choice, those of this corner first."""
    if card.kind == "next":
        after = setting.corners[(corner.number + 1) % len(setting.corners)].corner
        turned = "left" if after.direction == "right" else "right"
        return [
            f"{after.name}, {turned}",
            *(turn_label(one.corner) for one in setting.corners if one is not corner),
        ]
    if card.kind == "see":
        own = [mark.label for mark in setting.marks_of(corner)]
        return [*own, *(mark.label for mark in setting.prediction.marks)]
    notes = (note_of(setting.plan.circuit, one.corner.name) for one in setting.corners)
    field = {"look": "look_at", "kerb": "kerb", "limit": "limit"}[card.kind]
    return [word for note in notes if (word := getattr(note, field))]


def _field(figure: Figure, top_speed_ms: float) -> DrillField:
    quantity: Literal["length", "speed", "g"] = "length"
    least, most, start = 0.0, 400.0, 50.0
    if figure.name == "min_speed_ms":
        quantity, least, most, start = "speed", 0.0, top_speed_ms, 0.5 * top_speed_ms
    elif figure.name == "peak_decel_g":
        quantity, least, most, start = "g", 0.1, 6.0, 1.0
    elif figure.name == "throttle_after_m":
        start = 20.0
    return DrillField(
        name=figure.name,
        label=FIGURE_LABELS[figure.name],
        quantity=quantity,
        least=least,
        most=most,
        start=start,
    )
