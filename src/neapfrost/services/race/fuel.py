"""Fuel of a race as it is told."""

from collections.abc import Sequence

import numpy as np

from neapfrost.core.race.fuel import FuelNeed, laps_in_tank
from neapfrost.core.studies.bands import TEN_TO_NINETY
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.race.laps import RaceLap
from neapfrost.services.race.setting import Setting, tank_kg_of
from neapfrost.services.race.told import FuelTold


def fuel_told(
    setting: Setting,
    need: FuelNeed,
    lap_kg: float,
    grip: float,
    drawn: Sequence[RaceLap | None],
    measured: bool,
) -> FuelTold:
    """Fuel of a race, and what carrying it costs.

    What a kilogram costs a lap is the slope of solved laps between the lightest and the heaviest of
    the race; over the race the reserve laps are carried on every one.
    """
    per_litre, laps = setting.kg_per_litre, len(need.burnt_kg)
    table = setting.table
    exact = need.before_start_kg + need.racing_kg
    loads = need.on_board_kg
    heavy = min(float(loads[0]), float(table.fuel_kg[-1]))
    light = max(float(loads[-1]), 0.0)
    full, empty = table.time_s_at(grip, heavy), table.time_s_at(grip, light)
    per_kg = (full - empty) / max(heavy - light, 1e-6) if heavy - light > 1e-6 else 0.0
    tank = tank_kg_of(setting.plan)
    in_tank = None
    if tank is not None:
        highest = float(table.fuel_kg[-1])
        in_tank = laps_in_tank(tank, lambda _n, load: setting.burn_kg(grip, min(load, highest)))
    spread = _spread_kg(drawn)
    band = None if spread is None else Band(low=lap_kg - spread, high=lap_kg + spread)
    total = None
    if spread is not None:
        both = need.start_kg - laps * spread, need.start_kg + laps * spread
        total = Band(low=both[0], high=both[1])
    return FuelTold(
        lap_kg=lap_kg,
        lap_litres=lap_kg / per_litre,
        lap_band=band,
        measured=measured,
        refuels=setting.refuels,
        racing_kg=need.racing_kg,
        before_start_kg=need.before_start_kg,
        in_hand_kg=need.left_kg,
        exact_kg=exact,
        start_kg=need.start_kg,
        exact_litres=exact / per_litre,
        start_litres=need.start_kg / per_litre,
        start_band=total,
        kg_per_litre=per_litre,
        tank_kg=tank,
        tank_laps=in_tank,
        fits=tank is None or need.start_kg <= tank,
        margin_s=per_kg * need.left_kg * laps,
        litre_s=per_kg * per_litre,
        litre_race_s=per_kg * per_litre * laps,
        full_lap_s=full,
        empty_lap_s=empty,
    )


def _spread_kg(drawn: Sequence[RaceLap | None]) -> float | None:
    burnt = [lap.burnt_kg for lap in drawn if lap is not None]
    return float(TEN_TO_NINETY * np.std(burnt, ddof=1)) if len(burnt) > 2 else None
