"""How long a race, its saving and its deployment take."""

import time
from collections.abc import Callable

import numpy as np

from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.race.energy import Store, deployed, with_own_road
from neapfrost.core.race.saving import cheapest, savings
from neapfrost.core.race.stints import Race, StopTimes, best_by_stops, best_plan
from neapfrost.demo.plans import composed
from neapfrost.services.laps.planned import planned

#: 24 hours of laps of 144 s, with a tank for 32 of them and three compounds.
DAY_LAPS, DAY_TANK, DAY_LIVES = 600, 32, (45, 70, 90)


def race_rows() -> list[tuple[str, str, str]]:
    """A race of 24 hours, with the best of each number of stops; fuel saved; energy deployed."""
    day = a_day()
    best_plan(day)
    drive = planned(composed("phalarope-race-wind")).drive
    lap = drive_lap(drive)
    store = Store(((0.0, 120e3),), 0.93, 2.2e6, recovery_w=140e3)
    own = with_own_road(drive)
    deployed(own, store)
    found = savings(lap, 290.0 / 3.6e9)
    rows: list[tuple[str, Callable[[], object]]] = [
        (f"A race of 24 hours, {DAY_LAPS} laps on three compounds", lambda: best_plan(day)),
        ("… the best of each number of stops up to 24", lambda: best_by_stops(day, 24)),
        ("Fuel saved, every way of it tried", lambda: savings(lap, 290.0 / 3.6e9)),
        ("… the cheapest 5 %", lambda: cheapest(found, 0.05 * found.burnt_kg)),
        ("Energy deployed over a lap of 4 km", lambda: deployed(own, store)),
    ]
    return [(label, f"{seconds(do):.2f} s", "") for label, do in rows]


def a_day() -> Race:
    """A long race with fuel at its stops."""
    ages = np.arange(max(DAY_LIVES) + 1)
    loads = np.arange(DAY_TANK + 1)
    time_s = np.empty((1, 3, len(ages), len(loads)))
    for c, (base, fade) in enumerate(((144.0, 0.05), (144.8, 0.03), (145.5, 0.02))):
        time_s[0, c] = base + fade * ages[:, None] + 0.06 * loads[None, :]
    return Race(
        laps=DAY_LAPS,
        time_s=time_s,
        life=np.array(DAY_LIVES),
        new_age=np.zeros(3, dtype=np.int64),
        pit_s=np.full(DAY_LAPS + 1, 40.0),
        stop=StopTimes(tyres_s=15.0, fuel_s_per_lap=2.5),
        tank_laps=DAY_TANK,
    )


def seconds(do: Callable[[], object]) -> float:
    """The least of three."""
    times = []
    for _ in range(3):
        started = time.perf_counter()
        do()
        times.append(time.perf_counter() - started)
    return min(times)
