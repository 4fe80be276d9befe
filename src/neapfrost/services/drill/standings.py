"""How somebody's cards stand, read from the store, and the whole of it as the page shows it."""

import json
import logging
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property

from pydantic import BaseModel

from neapfrost.core.drill.cards import KINDS, Card, Kind
from neapfrost.core.drill.order import MUST_KNOW, ORDERS
from neapfrost.core.drill.spacing import Memory
from neapfrost.core.drill.standing import (
    Learned,
    Standing,
    State,
    corner_hold,
    standing,
    weakest,
)
from neapfrost.services.drill.setting import DrilledCorner, Setting, lap_choices
from neapfrost.services.words.drill import (
    ASKED_LABELS,
    KIND_LABELS,
    ORDER_LABELS,
    STATE_LABELS,
    describe_due,
    describe_knows,
    lap_label,
)
from neapfrost.store.database import Store, reading
from neapfrost.store.drill import Learner, drivers_of, list_answers, list_cards
from neapfrost.store.tables import DrillCard

LOG = logging.getLogger(__name__)


@dataclass(frozen=True, eq=False)
class Stands:
    """Every card of a setting with its past, at a moment."""

    setting: Setting
    learned: Mapping[tuple[str, str], Learned]
    moment: datetime

    def past(self, card: Card) -> Learned | None:
        """A card's past; None where it was never answered."""
        return self.learned.get((self.setting.corners[card.corner].corner.name, card.kind))

    def of(self, card: Card) -> Standing:
        """Where a card stands."""
        return standing(card, self.past(card), self.moment)

    def due_at(self, card: Card) -> datetime:
        """When a card is due; at once where it never was answered or the plan has moved it."""
        past = self.past(card)
        if past is None or self.of(card).state == "overtaken":
            return self.moment
        return past.memory.due

    def back(self, card: Card) -> bool:
        """Whether a card that was answered is due now."""
        return self.past(card) is not None and self.due_at(card) <= self.moment

    @cached_property
    def holds(self) -> list[float]:
        """How well each corner sits, 0 to 1."""
        return [
            corner_hold([self.of(card) for card in corner.cards]) for corner in self.setting.corners
        ]

    @cached_property
    def weakest(self) -> tuple[int, ...]:
        """The corners that sit worst."""
        return weakest(self.holds)


def stands_of(store: Store, setting: Setting, learner: Learner, moment: datetime) -> Stands:
    """How somebody's cards stand."""
    with reading(store) as session:
        known = ((row, learned_of(row)) for row in list_cards(session, learner))
        learned = {(row.corner, row.kind): past for row, past in known if past is not None}
    return Stands(setting, learned, moment)


def learned_of(row: DrillCard) -> Learned | None:
    """A kept card's past; None where it cannot be read, so that the card begins anew."""
    try:
        memory, right = json.loads(row.memory), json.loads(row.right)
        for field in ("due", "last"):
            memory[field] = datetime.fromisoformat(memory[field])
        return Learned(
            memory=Memory(**memory),
            inside=row.inside,
            figures=right["figures"],
            right=tuple(right["words"]),
            answers=row.answers,
        )
    except (ValueError, KeyError, TypeError) as error:
        LOG.warning("card %d cannot be read", row.id, exc_info=error)
        return None


class DrillCardPart(BaseModel):
    """A card as it stands: a word for it, when it comes back, and how often it was answered."""

    kind: Kind
    label: str
    state: State
    said: str
    hold_pct: float
    answers: int


class DrillCornerPart(BaseModel):
    """A corner as it sits: its cards, and whether it is among the weakest."""

    corner: int
    name: str
    direction: str
    hazards: list[str]
    hold_pct: float
    weak: bool
    knows: bool
    cards: list[DrillCardPart]


class DrillDay(BaseModel):
    """A day's answers: how many, how many right or dangerous, what the errors would cost [s]."""

    day: str
    answers: int
    inside: int
    dangerous: int
    cost_s: float


class DrillWord(BaseModel):
    """A choice of the page, by the name that the API knows it by."""

    value: str
    label: str


class DrillKindPart(BaseModel):
    """A kind of question: at how many corners it is asked, and answered right last."""

    kind: Kind
    label: str
    asked: int
    right: int


class DrillStanding(BaseModel):
    """How a lap sits with a driver. `knows` says whether all that must be known is."""

    driver: str
    lap: str
    drivers: list[str]
    laps: list[DrillWord]
    orders: list[DrillWord]
    asks: list[DrillWord]
    kinds: list[DrillKindPart]
    states: list[DrillWord]
    said: str
    knows: bool
    back: int
    new: int
    corners: list[DrillCornerPart]
    days: list[DrillDay]


def drill_standing(
    store: Store, setting: Setting, learner: Learner, moment: datetime
) -> DrillStanding:
    """How a lap sits, card by card, corner by corner and day by day."""
    stands = stands_of(store, setting, learner, moment)
    corners = [_corner_part(stands, number) for number in range(len(setting.corners))]
    cards = [card for corner in setting.corners for card in corner.cards]
    with reading(store) as session:
        drivers = drivers_of(session, learner.plan_id)
    known = sum(one.knows for one in corners)
    return DrillStanding(
        driver=learner.driver,
        lap=setting.lap,
        drivers=drivers,
        laps=[
            DrillWord(value=key, label=lap_label(confidence, number))
            for key, confidence, number in lap_choices()
        ],
        orders=[DrillWord(value=one, label=ORDER_LABELS[one]) for one in ORDERS],
        asks=[DrillWord(value=key, label=label) for key, label in ASKED_LABELS.items()],
        kinds=[
            DrillKindPart(
                kind=kind,
                label=KIND_LABELS[kind],
                asked=len(own),
                right=sum(answered_right(stands, card) for card in own),
            )
            for kind in KINDS
            if (own := [card for card in cards if card.kind == kind])
        ],
        states=[DrillWord(value=state, label=label) for state, label in STATE_LABELS.items()],
        said=describe_knows(known, len(corners)),
        knows=known == len(corners),
        back=sum(stands.back(card) for card in cards),
        new=sum(stands.of(card).state == "new" for card in cards),
        corners=corners,
        days=_days(store, learner),
    )


def answered_right(stands: Stands, card: Card) -> bool:
    """Whether a card's last answer was right, of the plan as it is now."""
    return stands.of(card).state in ("known", "due")


def knows(stands: Stands, corner: DrilledCorner) -> bool:
    """Whether all that a driver must know of a corner was answered right last."""
    must = [card for card in corner.cards if card.kind in MUST_KNOW]
    return all(answered_right(stands, card) for card in must)


def _corner_part(stands: Stands, number: int) -> DrillCornerPart:
    corner = stands.setting.corners[number]
    return DrillCornerPart(
        corner=number,
        name=corner.corner.name,
        direction=corner.corner.direction,
        hazards=list(corner.hazards),
        hold_pct=100.0 * stands.holds[number],
        weak=number in stands.weakest,
        knows=knows(stands, corner),
        cards=[_card_part(stands, card) for card in corner.cards],
    )


def _card_part(stands: Stands, card: Card) -> DrillCardPart:
    stand, past = stands.of(card), stands.past(card)
    said = STATE_LABELS[stand.state]
    if past is not None and stand.state in ("known", "wrong"):
        said += f", {describe_due(past.memory.due, stands.moment)}"
    return DrillCardPart(
        kind=card.kind,
        label=KIND_LABELS[card.kind],
        state=stand.state,
        said=said,
        hold_pct=100.0 * stand.hold,
        answers=0 if past is None else past.answers,
    )


def _days(store: Store, learner: Learner) -> list[DrillDay]:
    """The days on which something was answered, by the clock of this machine."""
    with reading(store) as session:
        answers = list_answers(session, learner.plan_id, learner.driver)
    days: dict[str, DrillDay] = {}
    for one in answers:
        if one.lap != learner.lap:
            continue
        day = one.answered_at.replace(tzinfo=UTC).astimezone().date().isoformat()
        told = days.setdefault(day, DrillDay(day=day, answers=0, inside=0, dangerous=0, cost_s=0.0))
        told.answers += 1
        told.inside += one.inside
        told.dangerous += one.dangerous
        told.cost_s += one.price_s or 0.0
    return list(days.values())
