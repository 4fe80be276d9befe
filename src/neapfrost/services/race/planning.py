"""A race planned over solved laps: its length, its fuel, its stops, and what they hang on."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.race.distance import RaceLaps, race_laps
from neapfrost.core.race.fuel import laps_in_tank
from neapfrost.core.race.lap_table import LapTable
from neapfrost.core.race.stints import Begin, RacePlan, best_plan, shortened
from neapfrost.core.race.stints import Race as RaceRecord
from neapfrost.core.studies.bands import TEN_TO_NINETY
from neapfrost.formats.circuit_facts import circuit_length_m
from neapfrost.formats.document import Key
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.weather import WeatherRecordDocument, moment_of
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.race.assumed import assumptions
from neapfrost.services.race.fuel import fuel_told
from neapfrost.services.race.laps import RaceLap, fuel_use
from neapfrost.services.race.measured import NOTHING_MEASURED, Measured, faded_as_measured
from neapfrost.services.race.scenarios import (
    Forecast,
    neutralised_told,
    scenarios_told,
    slow_told,
    wet_only,
)
from neapfrost.services.race.setting import (
    Setting,
    Sky,
    begins_s,
    distance_of,
    laps_at_most,
    pit_loss_s,
    race_of,
    sky_along,
    sky_of,
    tank_kg_of,
)
from neapfrost.services.race.stops import (
    Planned,
    gaps_s,
    laps_told,
    moved_told,
    others_of,
    plan_told,
    planned_in,
    rival_told,
    sensitivities,
    state_at,
)
from neapfrost.services.race.told import (
    ChangeTold,
    NeutralisedTold,
    Race,
    SlowTold,
    TyreTold,
)
from neapfrost.services.race.tyres import RaceTyre, own_tyre, race_tyres
from neapfrost.services.race.water import best_on_average, change_told, water_told
from neapfrost.services.weather.moments import likeliest
from neapfrost.services.words.race import (
    describe_agreement,
    describe_edge,
    describe_no_plan,
    describe_race,
    describe_slow,
)

#: A set of tyres that fades more, and less, by such factors: for what the plan is sensitive to.
FADES = (1.2, 0.8)
#: The longest part of a race that a neutralisation is thought to last.
SLOW_PART = 4


class RaceRequest(BaseModel):
    """Where the race stands, if it is under way: laps driven, tyres, their age and the fuel left.

    Without a lap it is planned from the start. `weather` is the number of one that may come in the
    plan's record (null: the likeliest). `slow_laps` is how many laps a neutralisation takes that
    begins now.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    lap: int | None = Field(default=None, ge=0, le=2_000)
    compound: Key | None = None
    age: int | None = Field(default=None, ge=0, le=2_000)
    fuel_laps: int | None = Field(default=None, ge=1, le=2_000)
    slow_laps: int | None = Field(default=None, ge=1, le=200)
    weather: int | None = Field(default=None, ge=0, le=100)


@dataclass(frozen=True, eq=False)
class Given:
    """What a race is planned from: the plan, what is asked, its record, and the laps it stands on.

    `measured` is what the logbook has of it.
    """

    plan: PlanDocument
    wanted: RaceRequest
    record: WeatherRecordDocument | None
    table: LapTable
    drawn: Sequence[RaceLap | None]
    lap_s: float
    measured: Measured = NOTHING_MEASURED

    @property
    def begins_s(self) -> float | None:
        """When the race begins in the record's time; None where it is not driven along one."""
        return begins_s(self.plan, self.record)

    @property
    def litres(self) -> float | None:
        """A lap's fuel, stated or measured; None where the engine's work tells it."""
        return self.plan.car.fuel_use.litres_per_lap or self.measured.litres

    def sky(self, laps: int, weather: int | None = None) -> Sky:
        """The weather along a race of so many laps; a record's as asked for, or a certain one."""
        record, begun = self.record, self.begins_s
        if record is None or begun is None:
            return sky_of(self.plan, laps)
        asked = self.wanted.weather if weather is None else weather
        number = likeliest(record) if asked is None else asked
        return sky_along(self.plan, record, number, begun, self.lap_s, laps)


def planned_race(given: Given) -> Race:
    """A race planned over solved laps. Raises InputRefused for an unknown tyre."""
    plan = given.plan
    setting, own, pit_source = _setting(given)
    warm_grip = _warm_grip(setting, own)
    half_kg = float(np.median(given.table.fuel_kg))

    most = laps_at_most(plan, given.lap_s)
    # Where fuel is taken in the laps do not answer to how many there are: one table serves all.
    longest = race_of(setting, most, given.sky(most), own)[0] if setting.refuels else None

    def total_of(laps: int) -> float:
        if longest is not None:
            race = shortened(longest, laps)
        else:
            race, _ = race_of(setting, laps, given.sky(laps), own)
        found = best_plan(race)
        whole = laps * setting.table.time_s_at(warm_grip, half_kg)
        return float(whole) if found is None else found.total_s

    length = race_laps(distance_of(plan), circuit_length_m(plan.circuit), total_of, most)
    laps, sky = length.laps, given.sky(length.laps)
    race, need = race_of(setting, laps, sky, own)
    planned = planned_in(setting, sky, race, need)
    forecasts = _forecasts(given, planned, own)
    measured = given.litres is not None
    band = _band(given.drawn, laps)
    told = Race(
        laps=laps,
        ended_by=length.ended_by,
        total_s=length.total_s,
        total_band=None
        if band is None
        else Band(low=length.total_s - band, high=length.total_s + band),
        spare_s=length.spare_s,
        faster_s=length.faster_s,
        pit_loss_s=setting.pit_s,
        fuel=fuel_told(setting, need, planned.lap_kg, warm_grip, given.drawn, measured),
        tyres=[_tyre_told(setting, tyre, half_kg) for tyre in setting.tyres],
        best=None,
        laps_told=[],
        others=[],
        moved=[],
        slow=[],
        sensitivities=[],
        rival=None,
        water=water_told(setting, half_kg),
        trouble=None,
        said=[],
        assumptions=assumptions(
            plan, setting, pit_source, given.litres, given.measured, given.begins_s is not None
        ),
    )
    best = best_plan(race)
    told = _without_stops(told, planned) if best is None else _with_stops(told, planned, best, own)
    return told.model_copy(
        update={
            "said": _said(told, length),
            "change": _change(given, planned, own, best, forecasts),
            "scenarios": scenarios_told(forecasts) if len(forecasts) > 1 else [],
            "neutralised": _neutralised(given, planned, best),
        }
    )


def _setting(given: Given) -> tuple[Setting, int, str]:
    """The race as set, the plan's own compound, and where the pit loss is from."""
    plan, table = given.plan, given.table
    use = fuel_use(plan)
    most, wet = laps_at_most(plan, given.lap_s), plan.conditions.wetness_pct
    tyres = [
        faded_as_measured(tyre, given.measured.fade_of(tyre.name), table, wet, most)
        for tyre in race_tyres(plan, most, float(np.median(table.tyre_mj)))
    ]
    own = own_tyre(plan, tyres)
    speed = circuit_length_m(plan.circuit) / given.lap_s
    pit_s, source = pit_loss_s(plan, speed, given.measured.stops)
    setting = Setting(plan, table, tuple(tyres), use.kg_per_litre, 1.0, pit_s)
    if given.litres is None:
        return setting, own, source
    computed = table.burn_kg_at(_warm_grip(setting, own), float(np.median(table.fuel_kg)))
    factor = given.litres * use.kg_per_litre / computed
    return replace(setting, burn_factor=factor), own, source


def _warm_grip(setting: Setting, own: int) -> float:
    """Grip of the plan's own tyre when it is warm and new."""
    return setting.tyres[own].warm_grip(setting.plan.conditions.wetness_pct)


def _with_stops(told: Race, planned: Planned, best: RacePlan, own: int) -> Race:
    """The race with its stops, and with what each of them hangs on."""
    race, setting = planned.race, planned.setting
    rules = setting.plan.race
    phase = min(rules.slow_phase_laps, max(race.laps // SLOW_PART, 1))
    wettest = float(planned.sky.wetness_pct.max())
    ranges = [] if told.water is None else told.water.ranges
    barred = wet_only(setting, [(one.compound, one.from_pct) for one in ranges], wettest)
    faded = [_with_fade(setting, race.laps, planned.sky, own, factor) for factor in FADES]
    return told.model_copy(
        update={
            "best": plan_told(planned, best, best.total_s),
            "laps_told": laps_told(planned, best),
            "others": [
                plan_told(planned, one, best.total_s).model_copy(
                    update={"gap_s": gaps_s(race, one, best)}
                )
                for one in others_of(race, best, barred)
            ],
            "moved": moved_told(race, best),
            "slow": slow_told(race, best, phase, rules.slow_time_pct / 100.0),
            "sensitivities": sensitivities(planned, best, faded[0], faded[1]),
            "rival": rival_told(planned, best),
        }
    )


def _without_stops(told: Race, planned: Planned) -> Race:
    """The race with a word on why there is no plan."""
    rules, tank = planned.race.rules, tank_kg_of(planned.setting.plan)
    holds = None if tank is None else laps_in_tank(tank, lambda _n, _load: planned.lap_kg)
    bounded = rules.window is not None or rules.stint_most_s < math.inf
    asked = rules.stops_least > 0 or bounded
    said = describe_no_plan(planned.setting.refuels, holds, planned.race.laps, asked)
    return told.model_copy(update={"trouble": said})


def _said(told: Race, length: RaceLaps) -> list[str]:
    """The race in sentences."""
    fuel = told.fuel
    said = describe_race(
        told.laps,
        told.ended_by,
        told.total_s,
        (fuel.start_litres, fuel.exact_litres),
        fuel.fits,
        fuel.refuels,
    )
    if told.best is not None:
        said.append(told.best.said)
    if length.spare_s is not None and length.faster_s is not None:
        said.append(describe_edge(told.laps, length.spare_s, length.faster_s))
    if told.best is not None:
        said.append(describe_slow(_ranges(told.slow), told.laps))
    return said


def _with_fade(setting: Setting, laps: int, sky: Sky, own: int, factor: float) -> RaceRecord:
    """The race on tyres that fade so much more."""
    tyres = tuple(
        replace(
            tyre,
            fade_share=factor * tyre.fade_share,
            compound=replace(tyre.compound, fade_share=factor * tyre.compound.fade_share),
        )
        for tyre in setting.tyres
    )
    return race_of(replace(setting, tyres=tyres), laps, sky, own)[0]


def _change(
    given: Given,
    planned: Planned,
    own: int,
    best: RacePlan | None,
    forecasts: Sequence[Forecast],
) -> ChangeTold | None:
    """When to stop next with the weathers that may come; None without a record of them."""
    wanted, begun = given.wanted, given.begins_s
    setting, laps = planned.setting, planned.race.laps
    if not forecasts or begun is None or wanted.lap is None or wanted.lap >= laps - 1:
        return None
    names = [tyre.name for tyre in setting.tyres]
    begin, made = Begin(wanted.lap, own, wanted.age or 0, wanted.fuel_laps), 0
    if wanted.compound is not None:
        if wanted.compound not in names:
            listed = ", ".join(names)
            raise InputRefused(
                [
                    Fault(
                        "compound",
                        f'"{wanted.compound}" was given; one of {listed} is expected',
                    )
                ]
            )
        begin = replace(begin, compound=names.index(wanted.compound))
    elif best is not None:
        begin, made = state_at(planned.race, best, wanted.lap)
    races = [one.planned.race for one in forecasts]
    weathers = [(one.name, one.chance_pct) for one in forecasts]
    at = moment_of(begun + wanted.lap * given.lap_s)
    planned_next = None
    if best is not None and wanted.compound is None:
        planned_next = next((stop for stop in best.stops if stop > wanted.lap), None)
    told = change_told(races, weathers, begin, made, at)
    said = describe_agreement(planned_next, best_on_average(told), wanted.compound is not None)
    return told.model_copy(update={"said": [*told.said, said]})


def _forecasts(given: Given, planned: Planned, own: int) -> list[Forecast]:
    """The race in each weather that may come; none without a record of them."""
    record, setting, laps = given.record, planned.setting, planned.race.laps
    if record is None or given.begins_s is None:
        return []
    found = []
    for number, weather in enumerate(record.weathers):
        sky = given.sky(laps, number)
        there = planned_in(setting, sky, *race_of(setting, laps, sky, own))
        found.append(Forecast(weather.name, weather.chance_pct, there))
    return found


def _neutralised(given: Given, planned: Planned, best: RacePlan | None) -> NeutralisedTold | None:
    """The plan from now on with a neutralisation; None where none is asked for."""
    wanted = given.wanted
    if best is None or wanted.lap is None or wanted.slow_laps is None:
        return None
    share = given.plan.race.slow_time_pct / 100.0
    return neutralised_told(planned, best, wanted.lap, wanted.slow_laps, share)


def _ranges(slow: Sequence[SlowTold]) -> list[tuple[int, int]]:
    """Laps in a row at which a neutralisation is worth a stop."""
    found: list[tuple[int, int]] = []
    last = None
    for one in slow:
        lap, gain = one.lap, one.gain_s
        worth = one.must or (gain is not None and gain > 0.0)
        if worth and last is not None and found and found[-1][1] == last:
            found[-1] = (found[-1][0], lap)
        elif worth:
            found.append((lap, lap))
        last = lap
    return found


def _tyre_told(setting: Setting, tyre: RaceTyre, fuel_kg: float) -> TyreTold:
    grips = tyre.grips(tyre.life_laps + 1, setting.plan.conditions.wetness_pct)
    times = setting.table.times_s(grips, np.full(len(grips), fuel_kg))
    warm = min(tyre.warm_age, len(times) - 1)
    return TyreTold(
        name=tyre.name,
        fade_pct=100.0 * tyre.fade_share,
        life_laps=tyre.life_laps,
        life_stated=tyre.life_stated,
        new_s=float(times[warm]),
        old_s=float(times[max(tyre.life_laps - 1, 0)]),
        out_lap_s=float(times[0]),
    )


def _band(drawn: Sequence[RaceLap | None], laps: int) -> float | None:
    times = [lap.time_s for lap in drawn if lap is not None]
    if len(times) < 3:
        return None
    return float(TEN_TO_NINETY * np.std(times, ddof=1) * laps)
