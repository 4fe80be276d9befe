"""The race in each weather that may come, and with a neutralisation that begins now."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from neapfrost.core.race.stints import Race, RacePlan, best_plan, with_rules
from neapfrost.services.race.setting import Setting
from neapfrost.services.race.stops import Planned, elapsed_s, plan_told, slowed, state_at
from neapfrost.services.race.told import NeutralisedTold, ScenarioTold, SlowTold
from neapfrost.services.words.race import describe_neutralised

#: Laps of a race at which a neutralisation is looked at.
SLOW_PLACES = 60


@dataclass(frozen=True, eq=False)
class Forecast:
    """The race in a weather that may come, with its chance [%]."""

    name: str
    chance_pct: float
    planned: Planned


def scenarios_told(forecasts: Sequence[Forecast]) -> list[ScenarioTold]:
    """The best strategy in each weather that may come."""
    found = []
    for one in forecasts:
        best = best_plan(one.planned.race)
        plan = None if best is None else plan_told(one.planned, best, best.total_s)
        found.append(ScenarioTold(name=one.name, chance_pct=one.chance_pct, plan=plan))
    return found


def slow_told(race: Race, best: RacePlan, laps: int, time_share: float) -> list[SlowTold]:
    """For a neutralisation that begins after each lap: what a stop in its first lap gains."""
    every = max(1, race.laps // SLOW_PLACES)
    found = []
    for lap in range(2, race.laps - 1, every):
        stop, stay = _neutralised(race, best, lap - 1, laps, time_share)
        gain = None if stop is None or stay is None else stay.total_s - stop.total_s
        found.append(SlowTold(lap=lap, gain_s=gain, must=stop is not None and stay is None))
    return found


def neutralised_told(
    planned: Planned, best: RacePlan, lap: int, laps: int, time_share: float
) -> NeutralisedTold | None:
    """The best plan from here with a neutralisation of so many laps that begins now, after `lap`.

    None where too little of the race is left for a stop to be weighed.
    """
    race = planned.race
    if not 0 < lap < race.laps - 1:
        return None
    stop, stay = _neutralised(race, best, lap, laps, time_share)
    known = [one for one in (stop, stay) if one is not None]
    if not known:
        return None
    taken = min(known, key=lambda plan: plan.total_s)
    gain = None if stop is None or stay is None else stay.total_s - stop.total_s
    there = replace(planned, race=slowed(race, lap, laps, time_share))
    return NeutralisedTold(
        lap=lap,
        laps=laps,
        gain_s=gain,
        stops_now=taken is stop,
        plan=plan_told(there, taken, taken.total_s, float(elapsed_s(race, best)[lap - 1])),
        said=describe_neutralised(lap + 1, laps, gain, taken is stop),
    )


def _neutralised(
    race: Race, best: RacePlan, lap: int, laps: int, time_share: float
) -> tuple[RacePlan | None, RacePlan | None]:
    """The best plan with a stop in a neutralisation's first lap, and the best without one in it.

    It begins after a lap and lasts so many laps; None where the rules allow no such plan.
    """
    phase = slowed(race, lap, laps, time_share)
    begin, made = state_at(race, best, lap)
    left = max(race.rules.stops_least - made, 0)
    most = None if race.rules.stops_most is None else race.rules.stops_most - made
    there = replace(phase, begin=begin)
    first = lap + 1
    stop = best_plan(
        with_rules(there, forced=first, stops_least=left, stops_most=most, window=None)
    )
    window = (first, first + laps - 1)
    stay = best_plan(with_rules(there, barred=window, stops_least=left, stops_most=most))
    return stop, stay


def wet_only(setting: Setting, ranges: Sequence[tuple[str, float]], wettest_pct: float) -> set[int]:
    """Compounds that are quickest on more water alone than a race ever has.

    `ranges` has each compound that is quickest somewhere, and from which wetness on [%].
    """
    from_pct = dict(reversed(list(ranges)))
    return {
        number
        for number, tyre in enumerate(setting.tyres)
        if from_pct.get(tyre.name, 0.0) > wettest_pct
    }
