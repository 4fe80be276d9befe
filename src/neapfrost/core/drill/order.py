"""In which order corners and their cards are asked."""

import random
from collections.abc import Sequence
from typing import Literal, get_args

from neapfrost.core.drill.cards import KINDS, Kind

#: The three that a driver must know at least.
MUST_KNOW: tuple[Kind, ...] = ("brake", "gear", "speed")
#: What is asked in a round: those three, everything, or one kind alone.
Asked = Literal["must", "all"] | Kind

Order = Literal["due", "lap", "random", "backwards", "after", "weak", "map"]
ORDERS: tuple[Order, ...] = get_args(Order)


def corners_in_order(
    order: Order, sectors: Sequence[int], weak: Sequence[int], seed: int
) -> tuple[int, ...]:
    """The corners of a round; `sectors` has each corner's sector, `weak` the worst of them.

    Backwards goes from the last sector to the first, and through each as it is driven.
    """
    count = len(sectors)
    if order == "backwards":
        return tuple(sorted(range(count), key=lambda n: (-sectors[n], n)))
    if order == "weak":
        return tuple(weak)
    if order in ("random", "after"):
        return tuple(random.Random(seed).sample(range(count), count))
    return tuple(range(count))


def kinds_asked(order: Order, asked: Asked) -> tuple[Kind, ...]:
    """The kinds of card that a round asks for; a blank map is drawn by what comes next."""
    if order == "map":
        return ("next",)
    if asked == "must":
        return MUST_KNOW
    return KINDS if asked == "all" else (asked,)


def choices(right: str, others: Sequence[str], most: int, seed: str) -> tuple[str, ...]:
    """Words to choose from: the right one among others, in an order that the seed draws."""
    draw = random.Random(seed)
    wrong = [word for word in dict.fromkeys(others) if word != right]
    shown = [right, *draw.sample(wrong, min(most - 1, len(wrong)))]
    draw.shuffle(shown)
    return tuple(shown)


def sector_of(at_m: float, ends_at_m: Sequence[float]) -> int:
    """The sector, from 0, in which a place lies."""
    return sum(1 for end in ends_at_m if at_m >= end)
