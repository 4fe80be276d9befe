"""What a race is told in."""

from pydantic import BaseModel

from neapfrost.services.laps.uncertainty import Band


class Assumption(BaseModel):
    """A figure that an answer stands on, and where it comes from."""

    label: str
    value: str
    source: str


class TyreTold(BaseModel):
    """A compound in this race: what a lap puts into it, what it loses, how long it lasts.

    Lap times with half of the fuel: warm and new, and on the last lap that it lasts.
    """

    name: str
    fade_pct: float
    life_laps: int
    life_stated: bool
    new_s: float
    old_s: float
    out_lap_s: float


class FuelTold(BaseModel):
    """Fuel of the race, at the start of which it has to be on board.

    `exact_kg` is enough for the distance with nothing left, `start_kg` with the reserve laps;
    `margin_s` is what carrying those costs over the race, `litre_s` what a litre more costs a lap
    and `litre_race_s` the race. `tank_laps` is null where the tank is not stated; `fits` says
    whether one filling is enough.
    """

    lap_kg: float
    lap_litres: float
    lap_band: Band | None
    measured: bool
    refuels: bool
    racing_kg: float
    before_start_kg: float
    in_hand_kg: float
    exact_kg: float
    start_kg: float
    exact_litres: float
    start_litres: float
    start_band: Band | None
    kg_per_litre: float
    tank_kg: float | None
    tank_laps: float | None
    fits: bool
    margin_s: float
    litre_s: float
    litre_race_s: float
    full_lap_s: float
    empty_lap_s: float


class StintTold(BaseModel):
    """Laps from one to another (1 is the first), and the stop before them.

    Lap times of the first lap, of the quickest and of the last; `fuel_kg` at its start, `added_kg`
    at the stop; `clock_s` is the time of the race when it begins. `driver` counts from 1, in turn.
    """

    from_lap: int
    to_lap: int
    driver: int
    compound: str
    age: int
    new_tyres: bool
    fuel_kg: float
    added_kg: float
    added_litres: float
    refuelled: str
    standing_s: float
    first_s: float
    quickest_s: float
    last_s: float
    time_s: float
    clock_s: float


class LapTold(BaseModel):
    """One lap of the race: its time, the fuel at its start, the tyre and how old it is."""

    lap: int
    time_s: float
    fuel_kg: float
    compound: str
    age: int
    wetness_pct: float


class StopTold(BaseModel):
    """A stop moved by so many laps, and what that costs; null where a rule is broken."""

    stop: int
    laps: int
    cost_s: float | None


class PlanTold(BaseModel):
    """A plan of stops; `behind_s` is against the best, which `said` ends with.

    `driver_s` is what each driver drives, `drivers_said` says so where there are several. `gap_s`
    is how far it is behind the best at the end of each lap.
    """

    stops: list[int]
    compounds: list[str]
    total_s: float
    behind_s: float
    stops_and_tyres: str
    said: str
    stints: list[StintTold]
    driver_s: list[float]
    drivers_said: str
    gap_s: list[float] = []


class SlowTold(BaseModel):
    """A neutralisation that begins in a lap: what stopping at once gains against staying out.

    Null where one of both is not possible; `must` says that the fuel or the tyres do not last
    until it is over.
    """

    lap: int
    gain_s: float | None
    must: bool


class NeutralisedTold(BaseModel):
    """A neutralisation that begins now, after so many laps: the best plan from here.

    `gain_s` is what stopping in its first lap gains; null where one of both is not possible.
    """

    lap: int
    laps: int
    gain_s: float | None
    stops_now: bool
    plan: PlanTold
    said: str


class ScenarioTold(BaseModel):
    """A weather that may come, with its chance, and the best plan of the race in it."""

    name: str
    chance_pct: float
    plan: PlanTold | None


class Sensitivity(BaseModel):
    """Something assumed otherwise: what the race then takes, and which plan is then the best."""

    label: str
    change_s: float
    stops: list[int]
    compounds: list[str]
    same: bool


class RivalRow(BaseModel):
    """One's own stop after a lap, and the gap once both have stopped (ahead is positive)."""

    lap: int
    gap_s: float


class RivalTold(BaseModel):
    """Stopping before or after a rival."""

    rival_lap: int
    gap_now_s: float
    pace_s: float
    from_lap: int
    rows: list[RivalRow]
    said: str


class TyreRange(BaseModel):
    """The compound that is quickest from one wetness to another."""

    compound: str
    from_pct: float
    to_pct: float


class WaterTold(BaseModel):
    """Lap times against water, and which compound is for which of it.

    `times_s` has a row for each compound, at `wetness_pct`.
    """

    ranges: list[TyreRange]
    wetness_pct: list[float]
    compounds: list[str]
    times_s: list[list[float]]
    said: list[str]


class WeatherStop(BaseModel):
    """A stop after so many laps, whatever the weather: its mean, and its time in each weather.

    Null in a weather in which no plan goes on from there.
    """

    lap: int
    mean_s: float | None
    times_s: list[float | None]


class ChangeTold(BaseModel):
    """When to change tyres with the weathers that may come.

    From `lap` on, each with its chance: the best lap to stop in each of them, and what stopping
    next costs against that; `pays_pct` is the chance that stopping at the end of this lap is best.
    """

    lap: int
    at: str
    weathers: list[str]
    chances_pct: list[float]
    best_laps: list[int | None]
    stops: list[WeatherStop]
    pays_pct: float
    said: list[str]


class Race(BaseModel):
    """A race planned: laps, fuel, tyres, stops and what they are sensitive to.

    `spare_s` and `faster_s` are for a race by the clock: by how much the last lap was begun before
    the end, and by how much every lap would have to be quicker for one lap more.
    """

    laps: int
    ended_by: str
    total_s: float
    total_band: Band | None
    spare_s: float | None
    faster_s: float | None
    pit_loss_s: float
    fuel: FuelTold
    tyres: list[TyreTold]
    best: PlanTold | None
    laps_told: list[LapTold]
    others: list[PlanTold]
    moved: list[StopTold]
    slow: list[SlowTold]
    sensitivities: list[Sensitivity]
    rival: RivalTold | None
    water: WaterTold | None
    change: ChangeTold | None = None
    scenarios: list[ScenarioTold] = []
    neutralised: NeutralisedTold | None = None
    trouble: str | None
    said: list[str]
    assumptions: list[Assumption]
