"""An answer taken: held against the plan, priced, said, and kept with when it comes back."""

import json
from collections.abc import Sequence
from datetime import datetime
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.drill.cards import Card, Kind
from neapfrost.core.drill.price import Price, brake_early, brake_late, in_gear, price_of_figure
from neapfrost.core.drill.scoring import Score, grade, score_choice, score_figures
from neapfrost.core.drill.spacing import after_answer
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.services.drill.rounds import as_asked, gears_of
from neapfrost.services.drill.setting import PLANNED, LapKey, Setting
from neapfrost.services.drill.standings import learned_of
from neapfrost.services.words.drill import (
    describe_due,
    describe_figure,
    describe_off,
    describe_price,
    describe_verdict,
    describe_word,
)
from neapfrost.store.database import Store, writing
from neapfrost.store.drill import CardContent, Learner, get_card, put_card
from neapfrost.store.tables import DrillAnswer

Driver = Annotated[str, Field(max_length=60)]


class DrillAnswerGiven(BaseModel):
    """An answer: to which card, the figures (SI) or the word, and how long it took.

    `missing` is the board that the question took away.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    driver: Driver = ""
    lap: LapKey = PLANNED
    corner: Annotated[int, Field(ge=0)]
    kind: Kind
    figures: Annotated[list[float], Field(max_length=4)] = []
    word: Annotated[str, Field(max_length=400)] = ""
    missing: Annotated[str, Field(max_length=200)] | None = None
    took_s: Annotated[float, Field(ge=0, le=86_400)] | None = None


class DrillFigureHeld(BaseModel):
    """A figure as it was answered and as in the plan, with the band it is right in (SI)."""

    name: str
    given: float
    right: float
    low: float
    high: float


class DrillScored(BaseModel):
    """An answer held against the plan, in words; `sentence` is the whole corner's.

    `cost_s` is what the error would cost a lap; null where it has no price.
    """

    corner: int
    kind: Kind
    inside: bool
    near: bool
    dangerous: bool
    verdict: str
    given_said: str
    right_said: str
    price: str
    cost_s: float | None
    sentence: str
    due: str
    figures: list[DrillFigureHeld]


def answer(
    store: Store, plan_id: int, setting: Setting, given: DrillAnswerGiven, moment: datetime
) -> DrillScored:
    """Hold an answer against the plan and keep it. Raises InputRefused for a card not there."""
    card = _card(setting, given)
    score = _score(setting, card, given)
    # What lies inside the band cannot be told from right, and costs nothing that is known.
    prices = [] if score.inside else _prices(setting, card, given)
    how = grade(score, given.took_s)
    learner = Learner(plan_id, given.driver.strip(), setting.lap)
    name = setting.corners[card.corner].corner.name
    asked = as_asked(setting, card, given.missing)
    words = () if asked.choice is None else asked.choice.right
    right = {
        "figures": {figure.name: figure.value for figure in card.figures},
        "words": list(card.choice.right if card.choice is not None else ()),
    }
    cost_s = _cost_s(prices)
    with writing(store) as session:
        kept = get_card(session, learner, name, card.kind)
        past = None if kept is None else learned_of(kept)
        memory = after_answer(None if past is None else past.memory, how, moment)
        put_card(
            session,
            learner,
            name,
            card.kind,
            CardContent(_as_json(vars(memory)), _as_json(right), score.inside, memory.due),
        )
        session.add(
            DrillAnswer(
                **vars(learner),
                corner=name,
                kind=card.kind,
                way="recall",
                given=_as_json(given.word if card.choice is not None else given.figures),
                right=_as_json(list(words) or right["figures"]),
                off=_as_json(list(score.off)),
                inside=score.inside,
                dangerous=score.dangerous,
                price_s=cost_s,
                took_s=given.took_s,
                answered_at=moment,
            )
        )
    return _told(setting, card, given, score, prices, words, describe_due(memory.due, moment))


def _card(setting: Setting, given: DrillAnswerGiven) -> Card:
    count = len(setting.corners)
    if given.corner >= count:
        raise InputRefused(
            [Fault("corner", f"{given.corner} was given; this lap has {count} corners, from 0")]
        )
    corner = setting.corners[given.corner]
    card = corner.card(given.kind)
    if card is None:
        asked = ", ".join(one.kind for one in corner.cards)
        raise InputRefused(
            [Fault("kind", f'"{given.kind}" is not asked at {corner.corner.name}; {asked} are')]
        )
    if card.choice is not None and given.figures:
        raise InputRefused([Fault("figures", "Figures were given; this card takes a word only.")])
    if card.choice is None and given.word:
        raise InputRefused([Fault("word", "A word was given; this card takes figures only.")])
    if card.choice is None and len(given.figures) != len(card.figures):
        raise InputRefused(
            [
                Fault(
                    "figures",
                    f"{len(given.figures)} were given; {len(card.figures)} are asked for: "
                    f"{', '.join(figure.name for figure in card.figures)}",
                )
            ]
        )
    return card


def _score(setting: Setting, card: Card, given: DrillAnswerGiven) -> Score:
    if card.choice is None:
        return score_figures(card, given.figures)
    return score_choice(as_asked(setting, card, given.missing), given.word)


def _prices(setting: Setting, card: Card, given: DrillAnswerGiven) -> list[Price]:
    """What an answer would do to the plan's own lap; the first laps are not priced."""
    if setting.lap != PLANNED:
        return []
    driven = setting.prediction.driven
    if card.kind == "gear":
        priced = given.word in gears_of(setting)
        return [in_gear(driven, card.corner, int(given.word))] if priced else []
    if card.kind == "see":
        return _by_another_mark(setting, as_asked(setting, card, given.missing), given.word)
    return [
        price_of_figure(driven, card.corner, figure, value)
        for figure, value in zip(card.figures, given.figures, strict=True)
    ]


def _by_another_mark(setting: Setting, card: Card, label: str) -> list[Price]:
    """Braking as far past or before a wrong board as is planned past or before the right one."""
    corner = setting.corners[card.corner]
    places = {mark.label: mark.at_m for mark in setting.marks_of(corner)}
    if card.choice is None or label not in places:
        return []
    late_m = setting.ring.apart(places[card.choice.right[0]], places[label])
    driven = setting.prediction.driven
    if late_m > 0.0:
        return [brake_late(driven, card.corner, late_m)]
    return [brake_early(driven, card.corner, -late_m)]


def _cost_s(prices: Sequence[Price]) -> float | None:
    costs = [price.cost_s for price in prices if price.cost_s is not None]
    return sum(costs) if costs else None


def _told(
    setting: Setting,
    card: Card,
    given: DrillAnswerGiven,
    score: Score,
    prices: Sequence[Price],
    words: Sequence[str],
    due: str,
) -> DrillScored:
    corner, say = setting.corners[card.corner], setting.say
    offs = [
        describe_off(figure, off, say) for figure, off in zip(card.figures, score.off, strict=False)
    ]
    said = [
        _said(setting, card, given.figures, given.missing),
        _said(setting, card, None, given.missing),
    ]
    if card.choice is not None:
        said = [
            describe_word(card.kind, given.word),
            " or ".join(describe_word(card.kind, w) for w in words),
        ]
    return DrillScored(
        corner=card.corner,
        kind=card.kind,
        inside=score.inside,
        near=score.near,
        dangerous=score.dangerous,
        verdict=describe_verdict(score, offs),
        given_said=said[0],
        right_said=said[1],
        price=describe_price(prices, say),
        cost_s=_cost_s(prices),
        sentence=corner.sentence,
        due=due,
        figures=[
            DrillFigureHeld(
                name=figure.name,
                given=value,
                right=figure.value,
                low=figure.low,
                high=figure.high,
            )
            for figure, value in zip(card.figures, given.figures, strict=False)
        ],
    )


def _said(setting: Setting, card: Card, values: Sequence[float] | None, missing: str | None) -> str:
    """Figures as they are said: those given, or the plan's own."""
    corner, say = setting.corners[card.corner], setting.say
    told = []
    for number, figure in enumerate(card.figures):
        value = figure.value if values is None else values[number]
        if figure.name == "to_corner_m":
            told.append(setting.place_said(corner, value, missing))
        else:
            told.append(describe_figure(figure, value, say))
    return " ".join(told)


def _as_json(value: Any) -> str:
    return json.dumps(value, default=str, ensure_ascii=False)
