"""The laps that a race stands on: solved once, kept while only the race's rules change."""

import json
from functools import partial
from threading import Lock

import numpy as np

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.race.lap_table import LapTable, fuel_nodes, grip_nodes
from neapfrost.formats.plan import PlanDocument, RaceDocument
from neapfrost.formats.weather import WeatherRecordDocument
from neapfrost.services.race.laps import Node, RaceLap, drawn_race_laps, race_laps, table_of
from neapfrost.services.race.setting import tank_kg_of
from neapfrost.services.race.tyres import own_tyre, race_tyres
from neapfrost.services.trade.run import Run

#: Tables of laps that are kept.
TABLES_KEPT = 12
#: Laps of fuel that are solved for at the least, whatever the tank holds.
FUEL_LAPS_LEAST = 2.0
#: A table is solved for so much more fuel than the distance is thought to take.
FUEL_ROOM = 1.1

#: Laps over grip and fuel, and one in their middle with what is uncertain drawn.
Laps = tuple[LapTable, list[RaceLap | None]]


class _Tables:
    """Tables of laps by what they were solved for."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._kept: dict[str, Laps] = {}

    def find(self, key: str) -> Laps | None:
        with self._lock:
            return self._kept.get(key)

    def keep(self, key: str, found: Laps) -> None:
        with self._lock:
            self._kept[key] = found
            while len(self._kept) > TABLES_KEPT:
                del self._kept[next(iter(self._kept))]


_TABLES = _Tables()


def race_table(
    run: Run,
    plan: PlanDocument,
    record: WeatherRecordDocument | None,
    laps: int,
    lap_kg: float,
) -> Laps:
    """The laps that the race stands on, driven unless they are known. Raises InputRefused."""
    bare = _bare(plan)
    nodes, middle = nodes_of(plan, record, laps, lap_kg)
    key = json.dumps([bare, nodes])
    known = _TABLES.find(key)
    if known is None:
        asked = list(enumerate(nodes))
        found = run.gathered(partial(race_laps, bare), asked)
        table = table_of(nodes, [found[n] for n in range(len(nodes))])
        if table is None:
            raise InputRefused(
                [Fault("plan", "no lap is possible at some grip or fuel load of this race")]
            )
        drawn = run.gathered(partial(drawn_race_laps, bare), [(0, middle)], at_once=1)
        known = (table, drawn[0])
        _TABLES.keep(key, known)
    return known


def nodes_of(
    plan: PlanDocument, record: WeatherRecordDocument | None, laps: int, lap_kg: float
) -> tuple[list[Node], Node]:
    """Grips and loads of fuel to solve for a race, and one in its middle.

    From the driest road to the wettest that a tyre of the car is for, from the last lap's load to
    what the tank holds, or the distance asks for.
    """
    tyres = race_tyres(plan, laps, None)
    wettest = 100.0 if len(tyres) > 1 or record is not None else plan.conditions.wetness_pct
    low, high = np.inf, 0.0
    for tyre in tyres:
        grips = tyre.grips(min(tyre.life_laps, laps) + 1, 0.0)
        dry = float(grips.max()), float(grips.min())
        wet = tyre.warm_grip(wettest)
        share = wet / max(tyre.warm_grip(0.0), 1e-9)
        high = max(high, dry[0], wet)
        low = min(low, dry[1] * min(share, 1.0), wet)
    race = plan.race
    tank = tank_kg_of(plan)
    whole = (laps + race.laps_in_hand + race.formation_laps) * lap_kg * FUEL_ROOM
    most = whole if tank is None else min(whole, max(tank, lap_kg * FUEL_LAPS_LEAST))
    loads = fuel_nodes(0.0, most)
    grips_at = grip_nodes(max(0.9 * low, 0.05), 1.02 * high)
    nodes = [(float(grip), float(fuel)) for grip in grips_at for fuel in loads]
    own = tyres[own_tyre(plan, tyres)]
    middle = (own.warm_grip(plan.conditions.wetness_pct), 0.5 * most)
    return nodes, middle


def _bare(plan: PlanDocument) -> str:
    """A plan without what its laps do not answer to."""
    return plan.model_copy(update={"race": RaceDocument(), "name": ""}).model_dump_json()
