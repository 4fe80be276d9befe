"""How well a lap sits: each card, each corner, and what a plan's change has overtaken."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from neapfrost.core.drill.cards import Card
from neapfrost.core.drill.spacing import Memory, hold

State = Literal["new", "overtaken", "wrong", "due", "known"]

#: So many corners are called the weakest; with less to choose from, as many as there are.
WEAKEST = 3


@dataclass(frozen=True)
class Learned:
    """A card's past: its memory, whether its last answer was right, and what was right then."""

    memory: Memory
    inside: bool
    figures: Mapping[str, float]
    right: tuple[str, ...]
    answers: int


@dataclass(frozen=True)
class Standing:
    """Where a card stands, and the chance that it is known.

    `overtaken` says that the plan has changed since by more than its band; `moved` is then what
    was right when it was learned: a figure by its name with its value, or "" with a word.
    """

    state: State
    hold: float
    moved: tuple[str, float | str] | None = None


def standing(card: Card, learned: Learned | None, moment: datetime) -> Standing:
    """Where a card stands at a moment."""
    if learned is None:
        return Standing("new", 0.0)
    changed = overtaken(card, learned)
    if changed is not None:
        return Standing("overtaken", 0.0, changed)
    if not learned.inside:
        return Standing("wrong", 0.0)
    held = hold(learned.memory, moment)
    return Standing("due" if learned.memory.due <= moment else "known", held)


def overtaken(card: Card, learned: Learned) -> tuple[str, float | str] | None:
    """What has moved since a card was learned: a figure and its value then, or "" and the word.

    A figure has when what was right is outside of the band now; a choice when what was right is
    not among what is right now. None where all is as it was.
    """
    for figure in card.figures:
        then = learned.figures.get(figure.name)
        if then is not None and not figure.low <= then <= figure.high:
            return figure.name, then
    if card.choice is not None and learned.right and learned.right[0] not in card.choice.right:
        return "", learned.right[0]
    return None


def corner_hold(standings: Sequence[Standing]) -> float:
    """How well a corner sits: the mean chance over its cards, those last wrong counting nothing."""
    return sum(one.hold for one in standings) / len(standings) if standings else 0.0


def weakest(holds: Sequence[float], most: int = WEAKEST) -> tuple[int, ...]:
    """The corners that sit worst, the worst first; earlier in the lap where they are alike."""
    return tuple(sorted(range(len(holds)), key=lambda n: (holds[n], n))[:most])
