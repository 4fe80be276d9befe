"""When to stop, for what, with how much fuel: exact dynamic programming over the laps of a race.

A stint leaves the pits (or the grid) at a lap with a compound of some age and with fuel for so
many laps; it lasts until the next stop or the end. For every such departure the least time is
known from the stops before it, so that nothing is left out: the answer is the best of all plans
(Bellman 1957), which the tests hold against every plan written out.
"""

import math
from dataclasses import dataclass, field, replace

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.stops import AT_LEAST, COUNTED, NO_STOP, stops_kernel

#: Stops that are told apart at the most.
STOPS_MOST = 40
#: Stints that differ by less last as long; sums of laps are rounded [s].
ALIKE_S = 1e-6


@dataclass(frozen=True)
class StopTimes:
    """What a stop takes [s].

    `tyres_s` for new ones, `fuel_s_per_lap` for each lap's fuel (0: no refuelling), at once
    or one after the other; nobody leaves before `least_s`, in which a driver changes.
    """

    tyres_s: float = 0.0
    fuel_s_per_lap: float = 0.0
    at_once: bool = True
    least_s: float = 0.0

    def standing_s(self, new_tyres: bool, fuel_laps: int) -> float:
        """How long a stop stands [s]."""
        tyres = self.tyres_s if new_tyres else 0.0
        fuel = self.fuel_s_per_lap * fuel_laps
        return max(self.least_s, max(tyres, fuel) if self.at_once else tyres + fuel)


@dataclass(frozen=True)
class StopRules:
    """What is allowed; every one of them can be left out.

    Pit window from lap `window[0]` to `window[1]` (laps driven), so many stops at least and at
    most, so many compounds at least, seconds of a stint's own laps at most and, between two stops,
    at least;
    `sequence` are the compounds of the stints by their numbers, where they are given; `keep_tyres`
    lets a stop leave them on. After lap `forced` it must be stopped, after laps `barred` it must
    not.
    """

    window: tuple[int, int] | None = None
    stops_least: int = 0
    stops_most: int | None = None
    compounds_least: int = 1
    stint_most_s: float = math.inf
    stint_least_s: float = 0.0
    keep_tyres: bool = False
    sequence: tuple[int, ...] | None = None
    forced: int | None = None
    barred: tuple[int, int] | None = None


@dataclass(frozen=True)
class Begin:
    """Where the race stands: laps driven, and what is on the car unless that is free.

    `compound` None: any set, new. `fuel_laps` None: any load. `age` are the laps on the tyres.
    `used` are compounds that have counted already, `stint_s` the time that the stint under way has
    lasted.
    """

    lap: int = 0
    compound: int | None = None
    age: int = 0
    fuel_laps: int | None = None
    used: tuple[int, ...] = ()
    stint_s: float = 0.0


@dataclass(frozen=True, eq=False)
class Race:
    """The laps of a race, and what stands between them.

    `time_s` (n or 1, c, a, f or 1): the time of lap n on compound c of age a with fuel for f laps
    at its start; a length of 1 where it does not matter. `life` (c,) laps that a set lasts;
    `new_age` (c,) the age of a set as it is put on; `pit_s` (n + 1,) what the pit-lane time
    costs at the end of so many laps; `tank_laps` the laps that a full tank lasts.
    """

    laps: int
    time_s: Floats
    life: Integers
    new_age: Integers
    pit_s: Floats
    stop: StopTimes
    rules: StopRules = field(default_factory=StopRules)
    begin: Begin = field(default_factory=Begin)
    tank_laps: int | None = None

    def __post_init__(self) -> None:
        """Raises ValueError where the laps do not fill the race: the programme looks at no ends."""
        rows, compounds, ages, loads = self.time_s.shape
        tank = self.laps if self.tank_laps is None else min(self.tank_laps, self.laps)
        refuels = self.stop.fuel_s_per_lap > 0.0
        fits = rows in (1, self.laps) and compounds == len(self.life) == len(self.new_age)
        fits = fits and ages >= int(self.life.max()) and len(self.pit_s) > self.laps
        if not fits or (refuels and loads not in (1, *range(tank + 1, loads + 1))):
            raise ValueError(f"times of laps of shape {self.time_s.shape} do not fill this race")

    @property
    def compounds(self) -> int:
        """How many compounds there are."""
        return int(self.time_s.shape[1])

    def lap_s(self, lap: int, compound: int, age: int, fuel_laps: int) -> float:
        """The time of one lap [s]."""
        table = self.time_s
        at = min(lap, table.shape[0] - 1)
        return float(table[at, compound, age, min(fuel_laps, table.shape[3] - 1)])

    def laps_s(self, stint: "Stint") -> list[float]:
        """The times of a stint's laps [s]."""
        return [
            self.lap_s(stint.begins + n, stint.compound, stint.age + n, stint.fuel_laps - n)
            for n in range(stint.laps)
        ]


@dataclass(frozen=True)
class Stint:
    """From lap `begins` (laps driven then) for `laps`, on a compound of an age, with fuel for laps.

    `new_tyres` and `standing_s` are of the stop before it; at the start of a race there was none.
    """

    begins: int
    laps: int
    compound: int
    age: int
    fuel_laps: int
    new_tyres: bool
    standing_s: float
    time_s: float


@dataclass(frozen=True)
class RacePlan:
    """Stints one after the other, and the time of the race from where it stands [s]."""

    stints: tuple[Stint, ...]
    total_s: float

    @property
    def stops(self) -> tuple[int, ...]:
        """After how many laps it is stopped."""
        return tuple(stint.begins for stint in self.stints[1:])

    @property
    def kind(self) -> tuple[int, ...]:
        """The compounds in their order."""
        return tuple(stint.compound for stint in self.stints)


def best_plan(race: Race) -> RacePlan | None:
    """The quickest of all plans that the rules allow; None where they allow none."""
    return _solved(race, race.rules.stops_least, _stops_most(race))


def best_by_stops(race: Race, most: int | None = None) -> dict[int, RacePlan]:
    """The quickest plan for each number of stops that allows one."""
    allowed = _stops_most(race)
    tops = (STOPS_MOST, race.laps - race.begin.lap - 1, allowed, most)
    top = min(one for one in tops if one is not None)
    found = {}
    for stops in range(race.rules.stops_least, top + 1):
        plan = _solved(race, stops, stops)
        if plan is not None:
            found[stops] = plan
    return found


def timed(race: Race, plan: RacePlan) -> RacePlan | None:
    """A plan with its laps, stops and fuel as they are, timed; None where a rule is broken."""
    if not _allowed(race, plan):
        return None
    stints, total = [], 0.0
    for number, stint in enumerate(plan.stints):
        seconds = _laps_s(race, stint)
        if seconds is None or not _lasts(race, plan, number, seconds):
            return None
        standing = 0.0
        if number > 0:
            before = plan.stints[number - 1]
            added = stint.fuel_laps - (before.fuel_laps - before.laps)
            if added < 0:
                return None
            standing = race.stop.standing_s(stint.new_tyres, added)
            total += race.pit_s[stint.begins] + standing
        total += seconds
        stints.append(replace(stint, standing_s=standing, time_s=seconds))
    return RacePlan(tuple(stints), float(total))


def moved(race: Race, plan: RacePlan, stop: int, laps: int) -> RacePlan | None:
    """The plan with one stop (0 is the first) so many laps later, all else as it is.

    The stint before it carries fuel for as much more, the one after it for as much less.
    """
    before, after = plan.stints[stop], plan.stints[stop + 1]
    spare = before.fuel_laps - before.laps
    more = max(laps - spare, 0) if laps > 0 else laps
    refuels = race.stop.fuel_s_per_lap > 0.0
    stints = list(plan.stints)
    stints[stop] = replace(
        before,
        laps=before.laps + laps,
        fuel_laps=before.fuel_laps + (more if refuels else 0),
    )
    stints[stop + 1] = replace(
        after,
        begins=after.begins + laps,
        laps=after.laps - laps,
        fuel_laps=after.fuel_laps - laps,
        age=after.age if after.new_tyres else after.age + laps,
    )
    return timed(race, replace(plan, stints=tuple(stints)))


def shortened(race: Race, laps: int) -> Race:
    """The race with its first so many laps alone."""
    rows = race.time_s if race.time_s.shape[0] == 1 else race.time_s[:laps]
    most = None if race.tank_laps is None else min(race.tank_laps, laps)
    window = race.rules.window
    if window is not None:
        window = (window[0], min(window[1], laps - 1))
    return replace(
        race,
        laps=laps,
        time_s=rows,
        life=np.minimum(race.life, laps),
        pit_s=race.pit_s[: laps + 1],
        tank_laps=most,
        rules=replace(race.rules, window=window),
    )


def with_rules(race: Race, **changes: object) -> Race:
    """The race with some of its rules otherwise."""
    return replace(race, rules=replace(race.rules, **changes))  # type: ignore[arg-type]


def _stops_most(race: Race) -> int | None:
    if race.rules.sequence is not None:
        return len(race.rules.sequence) - 1
    return race.rules.stops_most


def _allowed(race: Race, plan: RacePlan) -> bool:
    rules, last = race.rules, len(plan.stints) - 1
    most = _stops_most(race)
    if last < rules.stops_least or (most is not None and last > most):
        return False
    if len({*plan.kind, *race.begin.used}) < rules.compounds_least:
        return False
    for number, stint in enumerate(plan.stints):
        if stint.laps < 1:
            return False
        if number > 0 and rules.window is not None:
            low, high = rules.window
            if not low <= stint.begins <= high:
                return False
        if number > 0 and rules.barred is not None:
            low, high = rules.barred
            if low <= stint.begins <= high:
                return False
        if number > 0 and not stint.new_tyres and not rules.keep_tyres:
            return False
    if rules.forced is not None and rules.forced not in plan.stops:
        return False
    return sum(stint.laps for stint in plan.stints) == race.laps - race.begin.lap


def _lasts(race: Race, plan: RacePlan, number: int, seconds: float) -> bool:
    """Whether a stint's own laps take as long as a driver may, and must, drive."""
    rules, stint = race.rules, plan.stints[number]
    lasted = seconds + (race.begin.stint_s if number == 0 else 0.0)
    if lasted > rules.stint_most_s + ALIKE_S:
        return False
    between = 0 < number < len(plan.stints) - 1 and stint.begins + stint.laps != rules.forced
    return not between or lasted >= rules.stint_least_s - ALIKE_S


def _laps_s(race: Race, stint: Stint) -> float | None:
    """The laps of a stint [s]; None where its tyres or its fuel do not last."""
    last_age = stint.age + stint.laps
    if last_age > race.life[stint.compound] or stint.fuel_laps < stint.laps:
        return None
    if race.tank_laps is not None and stint.fuel_laps > race.tank_laps:
        return None
    return sum(race.laps_s(stint))


def _solved(race: Race, stops_least: int, stops_most: int | None) -> RacePlan | None:
    """The quickest plan with a number of stops between two; None for as many as pay."""
    rules, begin, count = race.rules, race.begin, race.compounds
    if begin.lap >= race.laps or (stops_most is not None and stops_most < stops_least):
        return None
    refuels = race.stop.fuel_s_per_lap > 0.0
    loads = _loads(race, refuels)
    if loads is None:
        return None
    most_fuel, starts = loads
    # Without a count to keep, stops are all alike to the programme: one level serves them all.
    levels = stops_least + 1 if stops_most is None else stops_most + 1
    masks = 1 << count if rules.compounds_least > 1 else 1
    ages = int(race.life.max()) + 1 if rules.keep_tyres else 1
    allowed = np.ones((levels, count), dtype=np.int64)
    if rules.sequence is not None:
        allowed[:] = 0
        for level, compound in enumerate(rules.sequence):
            allowed[level, compound] = 1
    low, high = rules.window or (1, race.laps - 1)
    figures = np.array(
        [
            race.laps,
            begin.lap,
            stops_least,
            COUNTED if stops_most is not None else AT_LEAST,
            rules.compounds_least,
            low,
            high,
            1 if rules.keep_tyres else 0,
            1 if refuels else 0,
            most_fuel,
            -1 if begin.compound is None else begin.compound,
            begin.age,
            sum(1 << used for used in begin.used) if masks > 1 else 0,
            1 if race.stop.at_once else 0,
            -1 if rules.forced is None else rules.forced,
            *(rules.barred or (-1, -1)),
        ],
        dtype=np.int64,
    )
    seconds = np.array(
        [
            race.stop.tyres_s,
            race.stop.fuel_s_per_lap,
            race.stop.least_s,
            rules.stint_most_s + ALIKE_S,
            rules.stint_least_s - ALIKE_S,
            begin.stint_s,
        ]
    )
    total, rows = stops_kernel(
        np.ascontiguousarray(race.time_s, dtype=np.float64),
        race.life.astype(np.int64),
        race.new_age.astype(np.int64),
        race.pit_s,
        seconds,
        allowed,
        np.array([masks, ages], dtype=np.int64),
        np.array(starts, dtype=np.int64),
        figures,
    )
    if not math.isfinite(total):
        return None
    return timed(race, RacePlan(_stints(race, rows), float(total)))


def _loads(race: Race, refuels: bool) -> tuple[int, list[int]] | None:
    """The most fuel on board [laps], and with how much it may be begun; None where none will do."""
    left = race.laps - race.begin.lap
    tank = left if race.tank_laps is None else race.tank_laps
    fuel = race.begin.fuel_laps
    if not refuels:
        begun = left if fuel is None else fuel
        return None if begun < left or (fuel is None and left > tank) else (begun, [begun])
    if tank < 1:
        return None
    most = min(tank, left) if fuel is None else max(min(tank, left), fuel)
    return most, (list(range(1, most + 1)) if fuel is None else [fuel])


def _stints(race: Race, rows: Integers) -> tuple[Stint, ...]:
    """Stints of a plan from the kernel's rows (k, 6), the last one first."""
    found = []
    for row in rows[::-1]:
        begins, laps, compound, age, fuel, new = (int(value) for value in row)
        if begins == NO_STOP:
            continue
        refuels = race.stop.fuel_s_per_lap > 0.0
        load = fuel if refuels else _unrefuelled(race, begins)
        found.append(Stint(begins, laps, compound, age, load, new == 1, 0.0, 0.0))
    return tuple(found)


def _unrefuelled(race: Race, begins: int) -> int:
    begun = race.begin.fuel_laps
    left = race.laps - race.begin.lap
    return (left if begun is None else begun) - (begins - race.begin.lap)
