"""The race on one sheet: laps, fuel, stops, tyres and water, energy, places to pass; as files."""

from pydantic import BaseModel

from neapfrost.core.units import Units
from neapfrost.formats.escaping import markdown_table, markdown_text, sheet_text
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.race.energy import Energy
from neapfrost.services.race.passing import Passing
from neapfrost.services.race.told import FuelTold, PlanTold, Race, ScenarioTold
from neapfrost.services.words.cautions import CAUTIONS
from neapfrost.services.words.race import describe_lap_times, format_race_time
from neapfrost.services.words.saying import Saying, in_units


class RaceSheet(BaseModel):
    """Everything of a race that goes along, and what it stands on."""

    plan: str
    car: str
    circuit: str
    conditions: str
    race: Race
    passing: Passing
    energy: Energy | None
    cautions: list[str]


def race_sheet(
    plan: PlanDocument, race: Race, passing: Passing, energy: Energy | None
) -> RaceSheet:
    """The sheet of a plan's race."""
    return RaceSheet(
        plan=plan.name,
        car=plan.car.name,
        circuit=plan.circuit.name,
        conditions=plan.conditions.name,
        race=race,
        passing=passing,
        energy=energy,
        cautions=list(CAUTIONS),
    )


def sheet_csv(sheet: RaceSheet) -> str:
    """The race as a table: stints, then every lap."""
    race = sheet.race
    rows: list[list[object]] = [
        ["Stint", "From lap", "To lap", "Driver", "Tyres", "Tyre age [laps]", "Fuel [kg]",
         "Refuelled [l]", "Stationary [s]", "First lap [s]", "Quickest [s]", "Last lap [s]",
         "Race time at start [s]"]
    ]  # fmt: skip
    stints = race.best.stints if race.best is not None else []
    for number, one in enumerate(stints):
        rows.append(
            [number + 1, one.from_lap, one.to_lap, one.driver, one.compound, one.age,
             round(one.fuel_kg, 3), round(one.added_litres, 2), one.standing_s, one.first_s,
             one.quickest_s, one.last_s, one.clock_s]
        )  # fmt: skip
    rows += [
        [],
        ["Lap", "Time [s]", "Fuel at its start [kg]", "Tyres", "Tyre age [laps]", "Wet [%]"],
    ]
    rows += [
        [lap.lap, lap.time_s, round(lap.fuel_kg, 3), lap.compound, lap.age, lap.wetness_pct]
        for lap in race.laps_told
    ]
    return sheet_text(rows)


def sheet_markdown(sheet: RaceSheet, units: Units = "metric") -> str:
    """The race as Markdown."""
    sheet, say = in_units(sheet, units), Saying(units)
    race = sheet.race
    lines = [f"# {markdown_text(sheet.circuit)}: the race", ""]
    lines += [markdown_text(f"{sheet.car}, {sheet.conditions}."), ""]
    lines += [f"- {markdown_text(sentence)}" for sentence in race.said]
    if race.trouble is not None:
        lines.append(f"- **{markdown_text(race.trouble)}**")
    if race.best is not None:
        lines += ["", "## Stints", ""]
        lines += _stint_lines(race.best, say)
        if race.best.drivers_said:
            lines += ["", race.best.drivers_said]
        if race.others:
            lines += ["", "## Other strategies", ""]
            lines += [f"- {markdown_text(other.said)}" for other in race.others]
    for scenario in race.scenarios:
        lines += _scenario_lines(scenario, say)
    lines += _fuel_lines(race.fuel, say)
    if race.water is not None:
        lines += ["", "## Water", "", *(f"- {markdown_text(one)}" for one in race.water.said)]
    if race.change is not None:
        lines += [f"- {markdown_text(one)}" for one in race.change.said]
    if sheet.energy is not None:
        lines += ["", "## Energy", ""]
        lines += [f"- {markdown_text(one)}" for one in sheet.energy.said]
        rows = [["Deploy from", "to", "Behind", "Worth"]]
        for place in sheet.energy.places:
            rows.append(
                [
                    say.length(place.from_m),
                    say.length(place.to_m),
                    place.corner,
                    f"{place.worth_ms_per_kj:.2f} ms/kJ",
                ]
            )
        lines += markdown_table(rows[0], rows[1:])
    lines += ["", "## Overtaking", ""]
    lines += [f"- {markdown_text(one)}" for one in sheet.passing.said]
    lines += [
        f"- {markdown_text(f'{place.name}: {place.said}')}" for place in sheet.passing.places[:5]
    ]
    lines += ["", "## Assumptions", ""]
    lines += [
        f"- {markdown_text(f'{one.label}: {one.value} ({one.source})')}" for one in race.assumptions
    ]
    lines += ["", *(f"- {markdown_text(caution)}" for caution in sheet.cautions), ""]
    return "\n".join(lines)


def _fuel_lines(burnt: FuelTold, say: Saying) -> list[str]:
    """The race's fuel as lines of Markdown."""
    rows = markdown_table(
        [
            "A lap",
            "Race distance exactly",
            "With reserve",
            f"Cost per lap of one more {say.unit('volume')}",
        ],
        [
            [
                say.figure(burnt.lap_litres, "volume", 2),
                say.figure(burnt.exact_litres, "volume", 1),
                say.figure(burnt.start_litres, "volume", 1),
                f"{1000.0 * burnt.litre_s / say.per_litre:.1f} ms",
            ]
        ],
    )
    return ["", "## Fuel", "", *rows]


def _stint_lines(plan: PlanTold, say: Saying) -> list[str]:
    """A plan's stints as a table in Markdown."""
    rows = []
    for one in plan.stints:
        stop = ""
        if one.from_lap > plan.stints[0].from_lap:
            fuel = f", {one.refuelled}" if one.refuelled else ""
            stop = f"stationary {one.standing_s:.0f} s{fuel}"
        rows.append(
            [
                f"{one.from_lap} to {one.to_lap}",
                str(one.driver),
                one.compound if one.new_tyres else f"{one.compound}, {one.age} laps old",
                say.figure(one.fuel_kg, "mass", 1),
                stop,
                describe_lap_times(one.first_s, one.last_s),
                format_race_time(one.clock_s),
            ]
        )
    heads = ["Laps", "Driver", "Tyres", "Fuel", "Stop before", "Lap times", "Starts at"]
    return markdown_table(heads, rows)


def _scenario_lines(scenario: ScenarioTold, say: Saying) -> list[str]:
    """The stints of the best plan in one forecast."""
    head = f"## Forecast: {markdown_text(scenario.name)} ({scenario.chance_pct:.0f} %)"
    plan = scenario.plan
    if plan is None:
        return ["", head, "", "No strategy reaches the finish in this forecast."]
    return ["", head, "", markdown_text(plan.said), "", *_stint_lines(plan, say)]
