"""Positions along a lap: folded onto it, told apart across the line, and ahead of one another.

On a closed lap positions go round; on an open course every one of these is plain subtraction.
"""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from neapfrost.core.arrays import Floats

Place = TypeVar("Place", float, Floats)

#: A place this near to the line counts as on it [m].
ON_THE_LINE_M = 1e-9


@dataclass(frozen=True)
class Ring:
    """A lap of some length [m], closed or not."""

    length_m: float
    closed: bool

    def fold(self, at_m: Place) -> Place:
        """A place in the lap, of one that may lie in another lap [m]."""
        return at_m % self.length_m if self.closed else at_m

    def fold_exactly(self, at_m: float) -> float:
        """As `fold`, but what rounding has left short of the line is on it."""
        folded = self.fold(at_m)
        near = self.closed and self.length_m - folded < ON_THE_LINE_M
        return 0.0 if near else folded

    def ahead(self, from_m: Place, to_m: Place) -> Place:
        """How far on one place is from another in the direction of travel [m]."""
        return self.fold(to_m - from_m)

    def apart(self, from_m: Place, to_m: Place) -> Place:
        """How far on one place is from another, negative behind it; the shorter way round [m]."""
        distance = to_m - from_m
        if not self.closed:
            return distance
        half = 0.5 * self.length_m
        return (distance + half) % self.length_m - half

    def laps_and_place(self, at_m: Floats) -> tuple[Floats, Floats]:
        """Whole laps that unfolded places lie ahead, and the places in the lap [m]."""
        if not self.closed:
            return np.zeros_like(at_m), at_m
        laps, within = np.divmod(at_m, self.length_m)
        return laps, within

    @property
    def shifts(self) -> tuple[float, ...]:
        """What is added to a place to lay it in the lap before, in this one, in the next [m]."""
        return (-self.length_m, 0.0, self.length_m) if self.closed else (0.0,)
