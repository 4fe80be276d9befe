"""Fuel for a distance: what is burnt lap by lap, what is carried, and what carrying it costs."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats

#: From the load at the end of a lap to the one before it: so close is close enough [kg].
LOAD_KNOWN_KG = 1e-9


@dataclass(frozen=True)
class FuelNeed:
    """Fuel of a distance without a stop for it.

    `on_board_kg` (n,) is what is on board at the start of each racing lap, `burnt_kg` (n,) what it
    takes. At the start of the race stands `start_kg`: the racing laps, the laps before the start,
    and what is to be left at the end.
    """

    on_board_kg: Floats
    burnt_kg: Floats
    before_start_kg: float
    left_kg: float

    @property
    def racing_kg(self) -> float:
        """What the racing laps burn."""
        return float(self.burnt_kg.sum())

    @property
    def start_kg(self) -> float:
        """What has to be in the tank before the laps to the start."""
        return self.before_start_kg + self.racing_kg + self.left_kg


def fuel_need(
    laps: int,
    burn_kg: Callable[[int, float], float],
    left_kg: float,
    before_start_kg: float,
    slow_share: Floats | None = None,
) -> FuelNeed:
    """Fuel of a race of so many laps that ends with some left.

    `burn_kg` is the fuel of lap n (0 is the first) driven with a load [kg] at its start. The load
    before a lap is the one after it and what it burns: solved from the last lap backwards.
    `slow_share` (n,) is the share of its fuel that a lap behind a slow car takes.
    """
    on_board, burnt = np.empty(laps), np.empty(laps)
    after = left_kg
    for lap in range(laps - 1, -1, -1):
        share = 1.0 if slow_share is None else float(slow_share[lap])
        load = after
        for _ in range(50):
            before = after + share * burn_kg(lap, load)
            moved = abs(before - load)
            load = before
            if moved < LOAD_KNOWN_KG:
                break
        on_board[lap], burnt[lap] = load, load - after
        after = load
    return FuelNeed(on_board, burnt, before_start_kg, left_kg)


def laps_in_tank(
    tank_kg: float, burn_kg: Callable[[int, float], float], left_kg: float = 0.0
) -> float:
    """Laps that a tank lasts, with a share of the last one."""
    load, laps = tank_kg, 0
    while laps < 10_000:
        burnt = burn_kg(laps, load)
        if burnt <= 0.0:
            return float("inf")
        if load - burnt < left_kg:
            return laps + max(load - left_kg, 0.0) / burnt
        load -= burnt
        laps += 1
    return float(laps)
