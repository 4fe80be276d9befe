"""The stops of a race: the best plan, others of another kind, and what each thing costs."""

from collections.abc import Container, Sequence
from dataclasses import dataclass, replace
from itertools import product

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.race.fuel import FuelNeed
from neapfrost.core.race.rivals import Stopping, gap_after_s
from neapfrost.core.race.stints import (
    Begin,
    Race,
    RacePlan,
    best_by_stops,
    best_plan,
    moved,
    with_rules,
)
from neapfrost.services.race.setting import Setting, Sky, lap_kg_of
from neapfrost.services.race.told import (
    LapTold,
    PlanTold,
    RivalRow,
    RivalTold,
    Sensitivity,
    StintTold,
    StopTold,
)
from neapfrost.services.words.race import (
    describe_drivers,
    describe_plan,
    describe_refuelled,
    describe_rival,
    describe_stops_and_tyres,
)

#: Plans of another kind that are told, and how many orders of compounds are tried for them.
OTHERS_MOST, ORDERS_MOST = 5, 80
#: A stop is moved so far either way.
MOVED_BY = (-5, -3, -2, -1, 1, 2, 3, 5)
#: Laps that are looked at before and after a rival's stop, and after both.
AROUND_RIVAL, AFTER_RIVAL = 8, 2


@dataclass(frozen=True, eq=False)
class Planned:
    """The race, what it is made of, and its best plan."""

    setting: Setting
    sky: Sky
    race: Race
    lap_kg: float
    left_kg: float
    on_board_kg: tuple[float, ...]


def planned_in(setting: Setting, sky: Sky, race: Race, need: FuelNeed) -> Planned:
    """A race as it is set, in a weather."""
    lap_kg = lap_kg_of(setting, need)
    return Planned(
        setting=setting,
        sky=sky,
        race=race,
        lap_kg=lap_kg,
        left_kg=setting.plan.race.laps_in_hand * lap_kg,
        on_board_kg=tuple(float(one) for one in need.on_board_kg),
    )


def fuel_kg(planned: Planned, lap: int, fuel_laps: int) -> float:
    """Fuel on board at the start of a lap [kg], with what is to be left."""
    if planned.setting.refuels:
        return planned.left_kg + fuel_laps * planned.lap_kg
    return planned.on_board_kg[lap]


def plan_told(planned: Planned, plan: RacePlan, best_s: float, clock_s: float = 0.0) -> PlanTold:
    """A strategy with its stints; the race's clock reads `clock_s` where it begins."""
    race, tyres = planned.race, planned.setting.tyres
    stints, clock = [], clock_s
    driver_s = [0.0] * planned.setting.plan.race.drivers
    for number, stint in enumerate(plan.stints):
        added, driver = 0.0, number % len(driver_s)
        if number > 0:
            clock += float(race.pit_s[stint.begins]) + stint.standing_s
            before = plan.stints[number - 1]
            added_laps = stint.fuel_laps - (before.fuel_laps - before.laps)
            added = max(added_laps, 0) * planned.lap_kg if planned.setting.refuels else 0.0
        laps = race.laps_s(stint)
        stints.append(
            StintTold(
                from_lap=stint.begins + 1,
                to_lap=stint.begins + stint.laps,
                driver=driver + 1,
                compound=tyres[stint.compound].name,
                age=stint.age,
                new_tyres=stint.new_tyres,
                fuel_kg=fuel_kg(planned, stint.begins, stint.fuel_laps),
                added_kg=added,
                added_litres=added / planned.setting.kg_per_litre,
                refuelled=describe_refuelled(added / planned.setting.kg_per_litre),
                standing_s=stint.standing_s,
                first_s=laps[0],
                quickest_s=min(laps),
                last_s=laps[-1],
                time_s=stint.time_s,
                clock_s=clock,
            )
        )
        clock += stint.time_s
        driver_s[driver] += stint.time_s
    names = [tyres[compound].name for compound in plan.kind]
    behind = plan.total_s - best_s
    return PlanTold(
        stops=list(plan.stops),
        compounds=names,
        total_s=plan.total_s,
        behind_s=behind,
        stops_and_tyres=describe_stops_and_tyres(list(plan.stops), names),
        said=describe_plan(list(plan.stops), names, behind),
        stints=stints,
        driver_s=driver_s,
        drivers_said=describe_drivers(driver_s),
    )


def gaps_s(race: Race, plan: RacePlan, best: RacePlan) -> list[float]:
    """How far a plan is behind the best at the end of each lap [s], stops included."""
    return [float(gap) for gap in elapsed_s(race, plan) - elapsed_s(race, best)]


def elapsed_s(race: Race, plan: RacePlan) -> Floats:
    """Time since a plan's start at the end of each of its laps [s]."""
    laps: list[float] = []
    for number, stint in enumerate(plan.stints):
        times = race.laps_s(stint)
        if number > 0:
            times[0] += float(race.pit_s[stint.begins]) + stint.standing_s
        laps += times
    return np.cumsum(np.array(laps))


def laps_told(planned: Planned, plan: RacePlan) -> list[LapTold]:
    """Every lap of a plan."""
    race, tyres, wet = planned.race, planned.setting.tyres, planned.sky.wetness_pct
    return [
        LapTold(
            lap=stint.begins + n + 1,
            time_s=seconds,
            fuel_kg=fuel_kg(planned, stint.begins + n, stint.fuel_laps - n),
            compound=tyres[stint.compound].name,
            age=stint.age + n,
            wetness_pct=float(wet[min(stint.begins + n, len(wet) - 1)]),
        )
        for stint in plan.stints
        for n, seconds in enumerate(race.laps_s(stint))
    ]


def others_of(race: Race, best: RacePlan, barred: Container[int] = ()) -> list[RacePlan]:
    """The best plans of another kind: another number of stops, or another order of compounds.

    Without the compounds `barred`, unless the best plan has them.
    """
    most = len(best.stops) + 2
    by_stops = best_by_stops(race, most)
    found = [plan for stops, plan in by_stops.items() if stops != len(best.stops)]
    count = race.compounds
    for stops in sorted(by_stops, key=lambda n: abs(n - len(best.stops))):
        if count ** (stops + 1) > ORDERS_MOST:
            continue
        for order in product(range(count), repeat=stops + 1):
            if len(set(order)) < race.rules.compounds_least or order == best.kind:
                continue
            if any(one in barred for one in order) and not set(order) <= set(best.kind):
                continue
            plan = best_plan(with_rules(race, sequence=order, stops_least=stops))
            if plan is not None and all(other.kind != plan.kind for other in found):
                found.append(plan)
    return sorted(found, key=lambda plan: plan.total_s)[:OTHERS_MOST]


def moved_told(race: Race, best: RacePlan) -> list[StopTold]:
    """Every stop of a plan some laps earlier and later."""
    found = []
    for stop in range(len(best.stops)):
        for laps in MOVED_BY:
            other = moved(race, best, stop, laps)
            cost = None if other is None else other.total_s - best.total_s
            found.append(StopTold(stop=stop, laps=laps, cost_s=cost))
    return found


def slowed(race: Race, after: int, laps: int, time_share: float) -> Race:
    """The race with a neutralisation of so many laps that begins after a lap.

    Laps in it take `time_share` as long, and the pit-lane time loses as much less.
    """
    rows = race.time_s
    if rows.shape[0] == 1:
        rows = np.repeat(rows, race.laps, axis=0)
    rows, pits = rows.copy(), race.pit_s.copy()
    last = min(after + laps, race.laps)
    rows[after:last] *= time_share
    pits[after:last] /= time_share
    return replace(race, time_s=rows, pit_s=pits)


def state_at(race: Race, plan: RacePlan, lap: int) -> tuple[Begin, int]:
    """How a plan stands after so many laps, and the stops it has made."""
    for number, stint in enumerate(plan.stints):
        if stint.begins <= lap < stint.begins + stint.laps:
            driven = lap - stint.begins
            used = tuple({other.compound for other in plan.stints[:number]})
            begin = Begin(
                lap,
                stint.compound,
                stint.age + driven,
                stint.fuel_laps - driven,
                used,
                stint_s=sum(race.laps_s(replace(stint, laps=driven))),
            )
            return begin, number
    raise ValueError(f"lap {lap} is beyond the race")


def sensitivities(planned: Planned, best: RacePlan, faded: Race, fresh: Race) -> list[Sensitivity]:
    """The best plan with what is assumed otherwise; `faded` and `fresh` fade more and less."""
    race = planned.race
    pit = planned.setting.pit_s
    cases: Sequence[tuple[str, Race]] = (
        ("Pit loss 3 s longer", replace(race, pit_s=race.pit_s + 3.0)),
        (
            f"Pit loss {min(3.0, pit):.0f} s shorter",
            replace(race, pit_s=np.maximum(race.pit_s - 3.0, 0.0)),
        ),
        ("Degradation 20 % higher", faded),
        ("Degradation 20 % lower", fresh),
    )
    found = []
    for label, other in cases:
        plan = best_plan(other)
        if plan is None:
            continue
        found.append(
            Sensitivity(
                label=label,
                change_s=plan.total_s - best.total_s,
                stops=list(plan.stops),
                compounds=[planned.setting.tyres[c].name for c in plan.kind],
                same=plan.kind == best.kind and plan.stops == best.stops,
            )
        )
    return found


def rival_told(planned: Planned, best: RacePlan) -> RivalTold | None:
    """The gap to a rival for every lap of one's own stop; None without one, or without a stop."""
    doc, race = planned.setting.plan.race, planned.race
    if doc.rival_lap is None or len(best.stints) < 2 or not 1 < doc.rival_lap < race.laps:
        return None
    first = max(doc.rival_lap - AROUND_RIVAL, 0)
    last = min(doc.rival_lap + AROUND_RIVAL, race.laps - AFTER_RIVAL - 1)
    begin, number = state_at(race, best, first)
    after = best.stints[min(number + 1, len(best.stints) - 1)]
    compound = begin.compound or 0
    standing = race.stop.standing_s(True, 0)
    end = last + AFTER_RIVAL

    def lap_s(tyre: int, lap: int, age: int, pace_s: float) -> float:
        fuel = 0
        if planned.setting.refuels:
            fuel = min((begin.fuel_laps or 0) - (lap - first), race.time_s.shape[3] - 1)
        oldest = race.time_s.shape[2] - 1
        return race.lap_s(lap, tyre, min(age, oldest), max(fuel, 0)) + pace_s

    def car(stop: int, pace_s: float) -> Stopping:
        return Stopping(
            stop=stop,
            stop_s=float(race.pit_s[min(stop, race.laps)]) + standing,
            age=begin.age,
            old_s=lambda lap, age: lap_s(compound, lap, age, pace_s),
            new_s=lambda lap, age: lap_s(after.compound, lap, age, pace_s),
        )

    rival = car(doc.rival_lap, doc.rival_pace_s)
    rows = [
        RivalRow(
            lap=stop, gap_s=gap_after_s(car(stop, 0.0), rival, first, end - first, doc.rival_gap_s)
        )
        for stop in range(first + 1, last + 1)
    ]
    best_row = max(rows, key=lambda row: row.gap_s)
    return RivalTold(
        rival_lap=doc.rival_lap,
        gap_now_s=doc.rival_gap_s,
        pace_s=doc.rival_pace_s,
        from_lap=first,
        rows=rows,
        said=describe_rival(best_row.lap, best_row.gap_s, doc.rival_lap),
    )
