"""What a race stands on: every figure that is assumed, with where it comes from."""

from neapfrost.core.measures import figure
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.race.measured import Measured
from neapfrost.services.race.setting import Setting
from neapfrost.services.race.told import Assumption
from neapfrost.services.words.race import describe_fade_measured


def assumptions(
    plan: PlanDocument,
    setting: Setting,
    pit_source: str,
    litres: float | None,
    measured: Measured,
    along_record: bool,
) -> list[Assumption]:
    """The assumptions of a race; `litres` a lap where they are stated or measured."""
    stated = {one.name: one.fade_pct for one in plan.car.compounds}
    race = plan.race
    use = plan.car.fuel_use
    burnt = (
        "the engine’s work of each lap"
        if litres is None
        else "stated on the car’s sheet"
        if use.litres_per_lap is not None
        else "measured, from the logbook"
    )
    found = [
        Assumption(
            label="Fuel a lap",
            value=f"{use.g_per_kwh:g} g/kWh" if litres is None else figure(litres, "volume", 3),
            source=burnt,
        ),
        Assumption(label="Pit-lane time", value=f"{setting.pit_s:.1f} s", source=pit_source),
        Assumption(
            label="Formation lap",
            value=f"{race.formation_laps:g} × {race.formation_fuel_pct:g} % of a lap’s fuel",
            source="the race’s figures",
        ),
        Assumption(
            label="Tyres",
            value="degrade by lap, and by sliding energy where that is stated; the first lap on "
            "every set, including the start, is its out lap",
            source="the compounds of the car",
        ),
        *(
            Assumption(
                label=f"Degradation of {tyre.name}",
                value=f"{100.0 * tyre.fade_share:.2f} % a lap",
                source=describe_fade_measured(
                    fade.lap_s, fade.within_s, fade.runs, fade.laps, stated.get(tyre.name, 0.0)
                ),
            )
            for tyre in setting.tyres
            if (fade := measured.fade_of(tyre.name)) is not None
        ),
        Assumption(
            label="Neutralisation",
            value=f"laps take {race.slow_time_pct:g} %; the pit loss falls in the same ratio",
            source="the race’s figures",
        ),
        Assumption(
            label="Weather",
            value="as in the plan, on every lap"
            if not along_record
            else "water, rubber and road temperature along the record; air and wind as in the plan",
            source="the conditions" if not along_record else "the record of the weather",
        ),
    ]
    return found
