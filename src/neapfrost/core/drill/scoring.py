"""An answer held against a card: how far off, on which side, and how well it was known."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from neapfrost.core.drill.cards import Card, Figure

Grade = Literal["forgotten", "hard", "good", "easy"]

#: An answer inside so many half-widths of the band is near.
NEAR_BANDS = 2.0
#: An answer that comes within this time was not worked out but known [s].
AT_ONCE_S = 4.0


@dataclass(frozen=True)
class Score:
    """How far off each figure is, answer less plan; whether all is right, near, or dangerous.

    `dangerous` is an answer outside of the band on the side that runs out of road.
    """

    off: tuple[float, ...]
    inside: bool
    near: bool
    dangerous: bool


def score_figures(card: Card, answers: Sequence[float]) -> Score:
    """Figures held against a card's, in its order."""
    pairs = list(zip(card.figures, answers, strict=True))
    return Score(
        off=tuple(given - figure.value for figure, given in pairs),
        inside=all(_inside(figure, given, 1.0) for figure, given in pairs),
        near=all(_inside(figure, given, NEAR_BANDS) for figure, given in pairs),
        dangerous=any(_dangerous(figure, given) for figure, given in pairs),
    )


def score_choice(card: Card, answer: str) -> Score:
    """A word held against a card's."""
    assert card.choice is not None  # a card asks for figures or for a choice
    right = answer in card.choice.right
    return Score((), right, right, answer in card.choice.dangerous)


def grade(score: Score, took_s: float | None) -> Grade:
    """How well it was known, for when it comes back."""
    if not score.near or score.dangerous:
        return "forgotten"
    if not score.inside:
        return "hard"
    return "easy" if took_s is not None and took_s <= AT_ONCE_S else "good"


def _inside(figure: Figure, given: float, bands: float) -> bool:
    low = figure.value - bands * (figure.value - figure.low)
    high = figure.value + bands * (figure.high - figure.value)
    return low - 1e-9 <= given <= high + 1e-9


def _dangerous(figure: Figure, given: float) -> bool:
    if figure.dangerous == "below":
        return given < figure.low
    return figure.dangerous == "above" and given > figure.high
