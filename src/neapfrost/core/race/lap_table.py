"""Laps over grip and fuel, solved at a few places and read between them.

Of all that goes on in a race the lap answers to the grip that is left (wear, warm-up, water) and to
the fuel on board. A dozen grips and a few loads are solved; between them runs a spline.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.interpolate import RectBivariateSpline

from neapfrost.core.arrays import Floats

#: Nodes at the most, and the grip that one step between two of them covers.
GRIP_NODES_MOST, GRIP_APART = 14, 0.035
#: Loads of fuel that are solved: what a litre costs bends so little that three would do.
FUEL_NODES = 4
#: A table reaches at least so far to both sides of what is asked for.
GRIP_ROOM, FUEL_ROOM_KG = 0.01, 1.0


def grip_nodes(low: float, high: float) -> Floats:
    """Grips to solve between two, with some room beyond them."""
    low, high = low - GRIP_ROOM, high + GRIP_ROOM
    count = int(np.clip(np.ceil((high - low) / GRIP_APART) + 1, 5, GRIP_NODES_MOST))
    return np.linspace(low, high, count)


def fuel_nodes(low_kg: float, high_kg: float) -> Floats:
    """Loads of fuel to solve between two [kg]."""
    high_kg = max(high_kg, low_kg + FUEL_ROOM_KG)
    return np.linspace(low_kg, high_kg, FUEL_NODES)


@dataclass(frozen=True, eq=False)
class LapTable:
    """Solved laps (g, f) over `grip` (g,) and `fuel_kg` (f,).

    Grip is against the plan's tyres without any compound. Of each lap its time [s], the fuel burnt
    [kg] and the energy that slides into the tyres [MJ].
    """

    grip: Floats
    fuel_kg: Floats
    time_s: Floats
    burnt_kg: Floats
    tyre_mj: Floats

    def times_s(self, grip: Floats, fuel_kg: Floats) -> Floats:
        """Lap times at grips and loads of one shape [s]."""
        return _read(self._times, grip, fuel_kg)

    def times_over_s(self, grip: Floats, fuel_kg: Floats) -> Floats:
        """Lap times of every grip with every load (..., f) [s]; loads rise."""
        each, place = np.unique(grip, return_inverse=True)
        values: Floats = self._times(each, fuel_kg)[place.reshape(grip.shape)]
        return values

    def burns_kg(self, grip: Floats, fuel_kg: Floats) -> Floats:
        """Fuel burnt in a lap at grips and loads of one shape [kg]."""
        return _read(self._burns, grip, fuel_kg)

    def time_s_at(self, grip: float, fuel_kg: float) -> float:
        """One lap time [s]."""
        return float(self.times_s(np.array([grip]), np.array([fuel_kg]))[0])

    def burn_kg_at(self, grip: float, fuel_kg: float) -> float:
        """Fuel of one lap [kg]."""
        return float(self.burns_kg(np.array([grip]), np.array([fuel_kg]))[0])

    @cached_property
    def _times(self) -> RectBivariateSpline:
        return self._spline(self.time_s)

    @cached_property
    def _burns(self) -> RectBivariateSpline:
        return self._spline(self.burnt_kg)

    def _spline(self, values: Floats) -> RectBivariateSpline:
        return RectBivariateSpline(
            self.grip,
            self.fuel_kg,
            values,
            kx=min(3, len(self.grip) - 1),
            ky=min(2, len(self.fuel_kg) - 1),
        )


def _read(spline: RectBivariateSpline, grip: Floats, fuel_kg: Floats) -> Floats:
    values: Floats = spline(grip.ravel(), fuel_kg.ravel(), grid=False).reshape(grip.shape)
    return values
