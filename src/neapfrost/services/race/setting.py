"""A race as the programme of stops takes it: laps by grip, age and fuel, and the rules in laps."""

import math
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.race.distance import Distance, laps_of_distance
from neapfrost.core.race.fuel import FuelNeed, fuel_need
from neapfrost.core.race.lap_table import LapTable
from neapfrost.core.race.stints import Begin, Race, StopRules, StopTimes
from neapfrost.core.weather.along_session import along_session
from neapfrost.formats.circuit_facts import circuit_length_m
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.formats.weather import WeatherRecordDocument, seconds_of
from neapfrost.formats.weather_records import (
    drying_record,
    readings_along,
    rubber_record,
)
from neapfrost.services.race.measured import MeasuredStops
from neapfrost.services.race.tyres import RaceTyre
from neapfrost.services.words.race import describe_pit_measured

#: Laps of a race that has no end stated.
USUAL_LAPS = 20
#: A pit-lane time that nobody has stated costs so much [s].
USUAL_PIT_S = 25.0
#: A vehicle slows for the lane and gains speed after it with so much [m/s²], where that is needed.
LANE_MS2 = 9.0, 5.0


@dataclass(frozen=True, eq=False)
class Sky:
    """What the weather is at every lap of a race: wetness [%], road [°C], rubber, each (n,)."""

    wetness_pct: Floats
    track_c: Floats
    rubber: Floats


@dataclass(frozen=True, eq=False)
class Setting:
    """A plan's race: its laps, tyres and rules, as far as they do not hang on each other."""

    plan: PlanDocument
    table: LapTable
    tyres: tuple[RaceTyre, ...]
    kg_per_litre: float
    burn_factor: float
    pit_s: float

    @property
    def refuels(self) -> bool:
        """Whether fuel may be taken in."""
        return self.plan.race.litres_per_s is not None

    def burn_kg(self, grip: float, fuel_kg: float) -> float:
        """Fuel of a lap [kg], as the engine's work has it or as it was measured."""
        return self.burn_factor * self.table.burn_kg_at(grip, fuel_kg)


def distance_of(plan: PlanDocument) -> Distance:
    """What ends the race; so many laps as are usual where nothing does."""
    race = plan.race
    if race.laps is None and race.distance_km is None and race.minutes is None:
        return Distance(laps=USUAL_LAPS)
    return Distance(
        race.laps,
        None if race.distance_km is None else 1000.0 * race.distance_km,
        None if race.minutes is None else 60.0 * race.minutes,
    )


def tank_kg_of(plan: PlanDocument) -> float | None:
    """Fuel that the race may be begun with [kg]: as it is stated, or what the tank holds."""
    return plan.race.fuel_kg or in_effect(plan).car.fuel_capacity_kg


def laps_at_most(plan: PlanDocument, lap_s: float) -> int:
    """Laps that the race cannot have more of."""
    distance = distance_of(plan)
    counts = [
        distance.laps,
        None
        if distance.distance_m is None
        else laps_of_distance(distance.distance_m, circuit_length_m(plan.circuit)),
        None if distance.time_s is None else math.ceil(distance.time_s / lap_s * 1.15) + 2,
    ]
    return min(count for count in counts if count is not None)


def pit_loss_s(
    plan: PlanDocument, lap_speed_ms: float, measured: MeasuredStops | None = None
) -> tuple[float, str]:
    """What the pit-lane time costs without standing [s], and where that comes from.

    Stated, or as stops in the logbook lost it, less what the race's rules stand for tyres.

    From a lane's length and limit: the time in it, less the time that the road beside it takes, and
    what slowing down to the limit and gaining speed again lose: (v - u)²/(2 a v) each.
    """
    circuit = plan.circuit
    if circuit.pit_loss_s is not None:
        return circuit.pit_loss_s, "the circuit’s own figure"
    if measured is not None:
        stood = plan.race.tyres_s
        return max(measured.loss_s - stood, 0.0), describe_pit_measured(
            measured.loss_s, measured.stops, stood
        )
    lane, limit = circuit.pit_lane_m, circuit.pit_limit_ms
    if lane is None or limit is None:
        return USUAL_PIT_S, "assumed; state it on the circuit’s sheet"
    beside = lane
    if circuit.pit_entry_at_m is not None and circuit.pit_exit_at_m is not None:
        length = circuit_length_m(circuit)
        beside = (circuit.pit_exit_at_m - circuit.pit_entry_at_m) % length
    slowing = max(lap_speed_ms - limit, 0.0) ** 2 / (2.0 * lap_speed_ms)
    loss = lane / limit - beside / lap_speed_ms + slowing * sum(1.0 / a for a in LANE_MS2)
    return max(loss, 0.0), "from the pit lane’s length and limit"


def sky_of(plan: PlanDocument, laps: int) -> Sky:
    """The plan's own weather on every lap."""
    air = plan.conditions
    return Sky(np.full(laps, air.wetness_pct), np.full(laps, air.track_temp_c), np.ones(laps))


def sky_along(
    plan: PlanDocument,
    record: WeatherRecordDocument,
    weather: int | None,
    begins_s: float,
    lap_s: float,
    laps: int,
) -> Sky:
    """A record's weather in the middle of every lap of a race that begins at a moment [s]."""
    at_s = [begins_s + (lap + 0.5) * lap_s for lap in range(laps)]
    states = along_session(
        readings_along(record, weather),
        drying_record(record.water),
        rubber_record(record.rubber),
        at_s,
    )
    usual = plan.conditions.rubber_factor
    return Sky(
        np.array([state.line_pct for state in states]),
        np.array([state.reading.track_temp_c for state in states]),
        np.array([state.rubber_factor / usual for state in states]),
    )


def begins_s(plan: PlanDocument, record: WeatherRecordDocument | None) -> float | None:
    """When the race begins in a record's time [s]; None where it is not driven along one."""
    if record is None or plan.race.starts_at is None:
        return None
    return seconds_of(plan.race.starts_at)


def grips(setting: Setting, sky: Sky, ages: int) -> Floats:
    """Grip of every compound at every age on every lap (n or 1, c, ages)."""
    steady = all(np.ptp(column) == 0.0 for column in (sky.wetness_pct, sky.track_c, sky.rubber))
    rows = 1 if steady else len(sky.wetness_pct)
    found = np.empty((rows, len(setting.tyres), ages))
    for c, tyre in enumerate(setting.tyres):
        for row in range(rows):
            there = replace(tyre, track_temp_c=float(sky.track_c[row]))
            found[row, c] = there.grips(ages, float(sky.wetness_pct[row])) * sky.rubber[row]
    return found


def race_of(setting: Setting, laps: int, sky: Sky, own: int) -> tuple[Race, FuelNeed]:
    """The race of so many laps for the programme of stops, and the fuel of it without a stop."""
    race = setting.plan.race
    life = np.array([min(tyre.life_laps, laps) for tyre in setting.tyres])
    ages = int(life.max()) + 1
    grip = grips(setting, sky, ages)
    need = need_of(setting, laps, sky, own)
    lap_kg = lap_kg_of(setting, need)
    left_kg = race.laps_in_hand * lap_kg
    tank = tank_kg_of(setting.plan)
    tank_laps: int | None = None
    if setting.refuels:
        tank_laps = laps if tank is None else max(int((tank - left_kg) / lap_kg + 1e-9), 0)
        most = min(tank_laps, laps)
        carried = np.linspace(left_kg, left_kg + lap_kg * most, most + 1)
        time = setting.table.times_over_s(grip, carried)
    else:
        if tank is not None:
            tank_laps = laps if need.start_kg <= tank else 0
        rows = np.broadcast_to(grip, (laps, *grip.shape[1:]))
        loads = np.broadcast_to(need.on_board_kg[:, None, None], rows.shape)
        time = setting.table.times_s(np.ascontiguousarray(rows), loads)[..., None]
    return (
        Race(
            laps=laps,
            time_s=time,
            life=life,
            new_age=np.zeros(len(setting.tyres), dtype=np.int64),
            pit_s=np.full(laps + 1, setting.pit_s),
            stop=StopTimes(
                tyres_s=race.tyres_s,
                fuel_s_per_lap=lap_kg / setting.kg_per_litre / race.litres_per_s
                if race.litres_per_s is not None
                else 0.0,
                at_once=race.stop_at_once,
                least_s=race.stop_least_s,
            ),
            rules=_rules(setting.plan, laps),
            begin=Begin(),
            tank_laps=tank_laps,
        ),
        need,
    )


def lap_kg_of(setting: Setting, need: FuelNeed) -> float:
    """Fuel of a lap [kg] over the race; where the tank is filled again, with what it holds."""
    if not setting.refuels:
        return float(need.burnt_kg.mean())
    highest = float(setting.table.fuel_kg[-1])
    burnt = need.burnt_kg[need.on_board_kg <= highest]
    return float(burnt.mean()) if len(burnt) else float(need.burnt_kg[-1])


def need_of(setting: Setting, laps: int, sky: Sky, own: int) -> FuelNeed:
    """Fuel of the race without a stop for it, on the plan's own compound when it is warm."""
    race = setting.plan.race
    grip = setting.tyres[own].warm_grip(float(np.median(sky.wetness_pct)))
    lap_kg = setting.burn_kg(grip, 0.5 * float(setting.table.fuel_kg[-1]))
    slow = np.ones(laps)
    slow[: min(race.slow_laps, laps)] = race.slow_fuel_pct / 100.0
    highest = float(setting.table.fuel_kg[-1])
    return fuel_need(
        laps,
        lambda _lap, load: setting.burn_kg(grip, min(load, highest)),
        race.laps_in_hand * lap_kg,
        race.formation_laps * race.formation_fuel_pct / 100.0 * lap_kg,
        slow,
    )


def _rules(plan: PlanDocument, laps: int) -> StopRules:
    """The rules of the race. What a driver may drive, and must rest, is time of a stint's own laps.

    Who rests does so while the others drive a stint each.
    """
    race = plan.race
    window = None
    if race.stop_from_lap is not None or race.stop_to_lap is not None:
        window = (race.stop_from_lap or 1, min(race.stop_to_lap or laps - 1, laps - 1))
    longest = math.inf
    if race.drive_longest_min is not None:
        longest = 60.0 * race.drive_longest_min
    rest = 0.0
    if race.rest_least_min is not None and race.drivers > 1:
        rest = 60.0 * race.rest_least_min / (race.drivers - 1)
    return StopRules(
        window=window,
        stops_least=race.stops_least or 0,
        stops_most=race.stops_most,
        compounds_least=race.compounds_least or 1,
        stint_most_s=longest,
        stint_least_s=rest,
        keep_tyres=race.keep_tyres,
    )
