"""Wet and dry: which tyre for which water, and when to change with the weathers that may come."""

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from neapfrost.core.race.crossover import quickest_ranges
from neapfrost.core.race.stints import Begin, Race, best_plan, with_rules
from neapfrost.services.race.setting import Setting
from neapfrost.services.race.told import ChangeTold, TyreRange, WaterTold, WeatherStop
from neapfrost.services.words.race import describe_change, describe_crossover

#: Wetnesses that lap times are told at [%].
AT_PCT = tuple(range(0, 101, 5))
#: Laps ahead that a change of tyres is looked at.
AHEAD_LAPS = 25


def best_on_average(change: ChangeTold) -> int | None:
    """The lap of the next stop that costs least over all weathers; None where none is possible."""
    known = [(one.mean_s, one.lap) for one in change.stops if one.mean_s is not None]
    return min(known)[1] if known else None


def water_told(setting: Setting, fuel_kg: float) -> WaterTold | None:
    """Lap times of every compound against water, with a load of fuel; None for one compound."""
    if len(setting.tyres) < 2:
        return None
    table = setting.table
    at = np.array(AT_PCT, dtype=np.float64)

    def time_at(number: int, wet: float) -> float:
        grip = setting.tyres[number].grips_over(np.array([wet]))
        return table.time_s_at(float(grip[0]), fuel_kg)

    def curve(number: int) -> list[float]:
        grip = setting.tyres[number].grips_over(at)
        return [float(one) for one in table.times_s(grip, np.full(len(at), fuel_kg))]

    names = [tyre.name for tyre in setting.tyres]
    ranges = quickest_ranges([partial(time_at, n) for n in range(len(names))])
    told = [TyreRange(compound=names[n], from_pct=low, to_pct=high) for n, low, high in ranges]
    return WaterTold(
        ranges=told,
        wetness_pct=[float(one) for one in AT_PCT],
        compounds=names,
        times_s=[curve(n) for n in range(len(names))],
        said=[describe_crossover([(one.compound, one.from_pct, one.to_pct) for one in told])],
    )


def change_told(
    races: Sequence[Race],
    weathers: Sequence[tuple[str, float]],
    begin: Begin,
    stops_made: int,
    at: str,
) -> ChangeTold:
    """When to stop next, with a race for each weather that may come and its chance [%].

    For every lap of the next stop each weather's best plan from there on is driven; which weather
    comes is known only after that stop, so that one lap has to do for all of them.
    """
    laps = races[0].laps
    chances = np.array([chance for _, chance in weathers])
    chances = chances / chances.sum()
    last = min(begin.lap + AHEAD_LAPS, laps - 1)
    stops: list[WeatherStop] = []
    table = np.full((last - begin.lap, len(races)), np.nan)
    for row, lap in enumerate(range(begin.lap + 1, last + 1)):
        for column, race in enumerate(races):
            left = max(race.rules.stops_least - stops_made, 1)
            plan = best_plan(
                with_rules(
                    replace(race, begin=begin),
                    forced=lap,
                    barred=None if lap == begin.lap + 1 else (begin.lap + 1, lap - 1),
                    stops_least=left,
                    stops_most=None,
                    window=None,
                )
            )
            if plan is not None:
                table[row, column] = plan.total_s
    best_laps: list[int | None] = []
    pays = 0.0
    for column in range(len(races)):
        times = table[:, column]
        if not np.isfinite(times).any():
            best_laps.append(None)
            continue
        best = int(np.nanargmin(times))
        best_laps.append(begin.lap + 1 + best)
        if best == 0:
            pays += float(chances[column])
    for row in range(len(table)):
        times = table[row]
        mean = float(times @ chances) if np.isfinite(times).all() else None
        stops.append(
            WeatherStop(
                lap=begin.lap + 1 + row,
                mean_s=mean,
                times_s=[None if np.isnan(one) else float(one) for one in times],
            )
        )
    names = [name for name, _ in weathers]
    told = [one for one in stops if one.mean_s is not None]
    said = describe_change(
        names,
        [100.0 * float(one) for one in chances],
        best_laps,
        [(one.lap, one.mean_s) for one in told if one.mean_s is not None],
        100.0 * pays,
    )
    return ChangeTold(
        lap=begin.lap,
        at=at,
        weathers=names,
        chances_pct=[100.0 * float(one) for one in chances],
        best_laps=best_laps,
        stops=stops,
        pays_pct=100.0 * pays,
        said=said,
    )
