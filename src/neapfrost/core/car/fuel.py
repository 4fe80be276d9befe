"""Fuel burnt in a lap."""

from dataclasses import dataclass

JOULES_PER_KWH = 3.6e6


@dataclass(frozen=True)
class FuelUse:
    """What an engine takes: for its work, and by volume; `litres_per_lap` where it was measured."""

    g_per_kwh: float
    kg_per_litre: float
    litres_per_lap: float | None = None


def fuel_burnt_kg(use: FuelUse, engine_work_j: float) -> float:
    """Fuel of a lap [kg]: as measured, else what the engine's work of the lap takes."""
    if use.litres_per_lap is not None:
        return use.litres_per_lap * use.kg_per_litre
    return engine_work_j / JOULES_PER_KWH * use.g_per_kwh / 1000.0
