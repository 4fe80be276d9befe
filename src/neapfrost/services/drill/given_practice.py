"""Practice that is given: answers of somebody over some evenings, kept once."""

import random
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from neapfrost.core.drill.cards import Card, Figure
from neapfrost.core.drill.order import MUST_KNOW
from neapfrost.services.drill.answering import DrillAnswerGiven, answer
from neapfrost.services.drill.setting import PLANNED, setting_of
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import list_items
from neapfrost.store.steps import get_mark, set_mark


@dataclass(frozen=True)
class GivenEvening:
    """An evening so many days ago: how often an answer is right, and how far through the lap."""

    days_ago: int
    right_share: float
    corners_share: float


@dataclass(frozen=True)
class GivenPractice:
    """Who practised on a plan by its name, on which evenings, drawn with a seed."""

    driver: str
    plan: str
    seed: int
    evenings: Sequence[GivenEvening]


def keep_practice_once(store: Store, mark: str, practice: GivenPractice, moment: datetime) -> None:
    """Keep somebody's answers, as they would have been given before a moment; once for a mark."""
    with reading(store) as session:
        if get_mark(session, mark) is not None:
            return
        plans = {plan.name: plan.id for plan in list_items(session, "plan")}
    if practice.plan in plans:
        _practise(store, plans[practice.plan], practice, moment)
    with writing(store) as session:
        set_mark(session, mark, practice.driver)


def _practise(store: Store, plan_id: int, practice: GivenPractice, moment: datetime) -> None:
    setting = setting_of(kept_plan(store, plan_id), PLANNED, "metric")
    draw = random.Random(practice.seed)
    for evening in practice.evenings:
        at = moment - timedelta(days=evening.days_ago)
        most = round(evening.corners_share * len(setting.corners))
        for corner in setting.corners[:most]:
            for card in corner.cards:
                if card.kind not in MUST_KNOW:
                    continue
                at += timedelta(seconds=draw.uniform(3.0, 20.0))
                given = _answer(card, draw, draw.random() < evening.right_share)
                given = given.model_copy(update={"driver": practice.driver})
                answer(store, plan_id, setting, given, at)


def _answer(card: Card, draw: random.Random, right: bool) -> DrillAnswerGiven:
    if card.choice is None:
        figures = [_off(figure, draw, right) for figure in card.figures]
        return DrillAnswerGiven(corner=card.corner, kind=card.kind, figures=figures, took_s=6.0)
    gear = int(card.choice.right[0])
    word = str(gear if right else gear + 1)
    return DrillAnswerGiven(corner=card.corner, kind=card.kind, word=word, took_s=3.0)


def _off(figure: Figure, draw: random.Random, right: bool) -> float:
    """An answer in the band, or some way out of it, oftener on the side that is safe."""
    if right:
        return draw.uniform(figure.low, figure.high)
    safe = figure.low if figure.dangerous == "above" else figure.high
    wrong = figure.low + figure.high - safe if draw.random() < 0.25 else safe
    return figure.value + draw.uniform(1.2, 3.5) * (wrong - figure.value)
