"""What somebody knows of a plan by heart: each card, and every answer."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from neapfrost.store.tables import DrillAnswer, DrillCard


@dataclass(frozen=True)
class Learner:
    """Whose cards they are, of which plan, and of which of its laps ("plan" is the plan's own)."""

    plan_id: int
    driver: str
    lap: str


@dataclass(frozen=True)
class CardContent:
    """What is written of a card once it was answered."""

    memory: str
    right: str
    inside: bool
    due_at: datetime


def list_cards(session: Session, learner: Learner) -> list[DrillCard]:
    """Cards of a plan that were answered."""
    return list(session.scalars(_cards(learner)))


def get_card(session: Session, learner: Learner, corner: str, kind: str) -> DrillCard | None:
    """A card that was answered; None for one that never was."""
    query = _cards(learner).where(DrillCard.corner == corner, DrillCard.kind == kind)
    return session.scalar(query)


def put_card(
    session: Session, learner: Learner, corner: str, kind: str, content: CardContent
) -> None:
    """Write a card after an answer."""
    card = get_card(session, learner, corner, kind)
    if card is None:
        card = DrillCard(**vars(learner), corner=corner, kind=kind, answers=0)
        session.add(card)
    for field, value in vars(content).items():
        setattr(card, field, value)
    card.answers += 1


def list_answers(session: Session, plan_id: int, driver: str | None = None) -> list[DrillAnswer]:
    """Answers about a plan, the first given first; of everybody without a driver."""
    query = select(DrillAnswer).where(DrillAnswer.plan_id == plan_id).order_by(DrillAnswer.id)
    if driver is not None:
        query = query.where(DrillAnswer.driver == driver)
    return list(session.scalars(query))


def drivers_of(session: Session, plan_id: int) -> list[str]:
    """Who has answered about a plan, whoever did so last first."""
    query = (
        select(DrillAnswer.driver)
        .where(DrillAnswer.plan_id == plan_id)
        .group_by(DrillAnswer.driver)
        .order_by(func.max(DrillAnswer.id).desc())
    )
    return list(session.scalars(query))


def _cards(learner: Learner) -> Select[DrillCard]:
    return select(DrillCard).where(
        DrillCard.plan_id == learner.plan_id,
        DrillCard.driver == learner.driver,
        DrillCard.lap == learner.lap,
    )
