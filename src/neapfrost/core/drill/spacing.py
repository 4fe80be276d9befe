"""When a card comes back: a model of forgetting that is kept well by others, with our figures.

Scheduling is the free spaced repetition scheduler's (package `fsrs`): of every card a stability
and a difficulty, from which the chance to know it at any moment follows. It comes back when that
chance has fallen to nine in ten; what was forgotten comes back after a minute, then after ten.
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from fsrs import Card, Rating, Scheduler, State

from neapfrost.core.drill.scoring import Grade

#: A card comes back when the chance to know it has fallen so far.
KNOWN_SHARE = 0.9
#: What is new or was forgotten comes back after these, before it is left for days.
SOON = (timedelta(minutes=1), timedelta(minutes=10))
DAYS_MOST = 365

_RATINGS: dict[Grade, Rating] = {
    "forgotten": Rating.Again,
    "hard": Rating.Hard,
    "good": Rating.Good,
    "easy": Rating.Easy,
}
_SCHEDULER = Scheduler(
    desired_retention=KNOWN_SHARE,
    learning_steps=SOON,
    relearning_steps=SOON[1:],
    maximum_interval=DAYS_MOST,
    # The same answers bring the same days.
    enable_fuzzing=False,
)


@dataclass(frozen=True)
class Memory:
    """What is known of how well a card sits; moments in UTC, without their zone.

    `state` and `step` are the scheduler's own: how far a card has come that is being learned.
    """

    state: int
    step: int | None
    stability: float | None
    difficulty: float | None
    due: datetime
    last: datetime


def after_answer(memory: Memory | None, how: Grade, moment: datetime) -> Memory:
    """A card's memory once it was answered at a moment."""
    at = moment.replace(tzinfo=UTC)
    card, _ = _SCHEDULER.review_card(_card(memory, at), _RATINGS[how], at)
    return Memory(
        state=int(card.state),
        step=card.step,
        stability=card.stability,
        difficulty=card.difficulty,
        due=card.due.replace(tzinfo=None),
        last=moment,
    )


def hold(memory: Memory | None, moment: datetime) -> float:
    """The chance that a card is known at a moment, 0 to 1; nothing where it was never answered."""
    if memory is None:
        return 0.0
    at = moment.replace(tzinfo=UTC)
    return float(_SCHEDULER.get_card_retrievability(_card(memory, at), at))


def _card(memory: Memory | None, at: datetime) -> Card:
    if memory is None:
        return Card(card_id=1, due=at)
    return Card(
        card_id=1,
        state=State(memory.state),
        step=memory.step,
        stability=memory.stability,
        difficulty=memory.difficulty,
        due=memory.due.replace(tzinfo=UTC),
        last_review=memory.last.replace(tzinfo=UTC),
    )
