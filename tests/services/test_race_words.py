"""A race in sentences: what is said, in whose units, and that every rule has a figure."""

import pytest

from neapfrost.core.measures import said as in_units
from neapfrost.formats.car_document import EnergyDocument, FlapDocument
from neapfrost.formats.plan import RaceDocument
from neapfrost.services.figures.race import STATE
from neapfrost.services.figures.register import figures_of
from neapfrost.services.words.race import (
    describe_change,
    describe_compounds,
    describe_crossover,
    describe_eased,
    describe_edge,
    describe_energy,
    describe_flap,
    describe_lanes,
    describe_lap_times,
    describe_laps,
    describe_maker,
    describe_no_plan,
    describe_passing,
    describe_plan,
    describe_race,
    describe_refuelled,
    describe_rival,
    describe_saving,
    describe_slow,
    describe_warm_up,
    describe_work,
    format_race_time,
    stops_word,
)
from neapfrost.services.words.saying import Saying

#: What is not a number: told by a tick, a moment, or on the lap.
NO_FIGURES = {"stop_at_once", "keep_tyres", "starts_at", "flap_zones"}


def test_every_rule_of_a_race_is_a_figure_that_can_be_changed() -> None:
    fields = set(RaceDocument.model_fields) - NO_FIGURES
    assert set(figures_of("race")) == fields
    for name, figure in figures_of("race").items():
        usual = RaceDocument.model_fields[name].default
        assert (usual is None) == (figure.unstated is not None), name
        assert figure.group
        if figure.unstated is not None and figure.unstated.usual is not None:
            # What it is stated as is taken by the document.
            usual_value = figure.unstated.usual
            RaceDocument.model_validate(
                {name: round(usual_value) if figure.decimals == 0 else usual_value}
            )
    assert {f.path[-1] for f in figures_of("race").values() if f.group == STATE} == {
        "fuel_kg",
        "grip_left_pct",
        "downforce_left_pct",
        "drag_left_pct",
    }


def test_every_number_of_a_store_and_a_flap_is_a_figure() -> None:
    energy = set(EnergyDocument.model_fields) - {"power", "recovery_axle"}
    assert set(figures_of("energy")) == energy
    assert set(figures_of("flap")) == set(FlapDocument.model_fields)


@pytest.mark.parametrize(
    ("seconds", "said"),
    [(59.6, "1 min 0 s"), (1448.2, "24 min 8 s"), (3600.0, "1 h 00 min"), (21750.0, "6 h 02 min")],
)
def test_a_race_s_time(seconds: float, said: str) -> None:
    assert format_race_time(seconds) == said


def test_plans_of_stops() -> None:
    assert describe_plan([], ["Hard"], 0.0) == "No stop: Hard."
    assert describe_plan([12], ["Soft", "Soft"], 3.21) == (
        "One stop after lap 12: 2 × Soft; 3.2 s slower."
    )
    assert describe_laps([3, 9, 14]) == "after lap 3, lap 9 and lap 14"
    assert describe_compounds(["Soft", "Hard", "Hard", "Soft"]) == "Soft, 2 × Hard, Soft"
    assert stops_word(11) == "11 stops"


def test_the_race_in_short() -> None:
    short = describe_race(20, "laps", 1500.0, (31.0, 30.0), True, False)
    assert [in_units(one) for one in short] == [
        "20 laps, 25 min 0 s.",
        "Start with 31.0 l of fuel; the race uses 30.0 l.",
    ]
    assert in_units(short[1], "feet") == "Start with 8.2 US gal of fuel; the race uses 7.9 US gal."
    assert "by the clock" in describe_race(20, "time", 1500.0, (31.0, 30.0), False, True)[0]
    assert "more than the tank" in describe_race(20, "laps", 1.0, (31.0, 30.0), False, False)[1]
    assert describe_edge(40, 12.34, 0.257) == (
        "The last lap starts 12.3 s before time is up. 41 laps would need laps 0.26 s quicker."
    )
    assert "10.5 laps of 30" in describe_no_plan(False, 10.5, 30, False)
    assert "rules" in describe_no_plan(True, None, 30, True)
    assert "do not last" in describe_no_plan(True, None, 30, False)
    assert describe_lap_times(91.5, 92.25) == "1:31.50 to 1:32.25"


def test_water_and_when_to_change() -> None:
    assert describe_crossover([("Slick", 0.0, 100.0)]) == "Slick is the best tyre at any wetness."
    assert describe_crossover([("Slick", 0, 31.2), ("Cut", 31.2, 55), ("Rain", 55, 100)]) == (
        "Slick up to 31 % wet, Cut to 55 %, Rain from 55 %."
    )
    said = describe_change(
        ["Rain", "Dry"], [70.0, 30.0], [12, None], [(11, 903.0), (12, 900.0)], 0.0
    )
    assert said[0] == "Across all forecasts: stop after lap 12."
    assert said[1] == "Stopping now costs 3.0 s on average."
    assert said[2] == "Rain (70 %): after lap 12."
    now = describe_change(["Rain"], [100.0], [11], [(11, 900.0), (12, 904.5)], 100.0)
    assert now[1] == "Waiting a lap costs 4.5 s on average."
    assert describe_change(["Rain"], [100.0], [None], [], 0.0) == [
        "No stop is possible here in any forecast."
    ]


def test_rivals_slow_phases_and_savings() -> None:
    assert describe_rival(9, 2.04, 12) == (
        "Best after lap 9, 3 laps before them: 2.0 s ahead once both have stopped."
    )
    assert "on the same lap" in describe_rival(12, -0.5, 12)
    assert "behind" in describe_rival(14, -0.5, 12)
    assert "never" in describe_slow([], 20)
    assert describe_slow([(4, 4), (9, 12)], 20) == (
        "Under a safety car or full-course yellow that begins at lap 4, laps 9 to 12 of 20, "
        "stop at once; in other laps stay out."
    )
    saved = in_units(describe_saving(0.03, 0.078, 0.6, None))
    assert saved == "0.030 kg a lap (5.0 %) cost 0.078 s a lap."
    assert "everywhere costs 0.090 s" in describe_saving(0.03, 0.078, 0.6, 0.09)
    assert len(describe_energy(1.2, 1.8, 0.55, 0.0)) == 1
    assert "0.210 s slower" in describe_energy(1.2, 1.8, 0.55, 0.21)[1]
    assert "costs 0.100 s" in describe_flap(-0.1, 1)
    assert "No lap" in describe_flap(None, 2)


def test_passing_lanes_and_tyres_speak_in_the_person_s_units() -> None:
    metric, feet = Saying(), Saying("feet")
    assert (
        "Gorse on the left (10 m later)"
        in describe_passing([("Gorse", "left", 10.0)], [("Gorse", 10.0)], metric)[0]
    )
    assert "33 ft later" in describe_passing([], [("Gorse", 10.0)], feet)[0]
    assert "No straight" in describe_passing([], [], metric)[0]
    wing = describe_maker("wing step Low", 6.0, True, 0.31, None, metric)
    assert wing == (
        "with wing step Low: braking 6 m later, possible; the lap alone is 0.310 s slower"
    )
    assert describe_maker("a store", 9.0, False, None, 0.5, metric).endswith(
        "not yet; uses 0.50 MJ"
    )
    assert describe_warm_up("Soft", 2, 9.41, 2.3, (0.0, 0.0), Saying()) == (
        "Soft is warm after 2 laps, with 9.4 MJ put into the set; this costs 2.30 s."
    )
    for say, colder in ((metric, "8 °C colder"), (feet, "14 °F colder")):
        assert f"{colder} than its window" in describe_warm_up(
            "Soft", 1, 4.0, 1.0, (-8.0, 0.4), say
        )
    assert describe_eased("Gorse", 0.05, 0.8, metric) == (
        "1 km/h less in Gorse saves that tyre 0.8 kJ a lap and costs 0.050 s."
    )
    wing = describe_maker("wing step Low", 6.0, True, 0.31, None, metric)
    assert wing == (
        "with wing step Low: braking 6 m later, possible; the lap alone is 0.310 s slower"
    )
    assert describe_maker("a store", 9.0, False, None, 0.5, metric).endswith(
        "not yet; uses 0.50 MJ"
    )
    assert describe_eased("Gorse", 0.05, 0.8, feet).startswith("1 mph less")
    assert describe_work("rear left tyre", 35.2, ["Gorse", "Quarry"], "") == [
        "The rear left tyre works hardest: 35 % of the lap’s sliding energy, most in Gorse, Quarry."
    ]
    said = describe_lanes([("Bottom", 0.0, 0.03), ("Top", 0.4, 0.0)], 25, slowing=True)
    assert said == [
        "Over 25 laps Bottom is quickest.",
        "For a single lap it is Top.",
        "Top loses 0.4 s over the run.",
    ]


def test_fuel_taken_in_is_told_alike_everywhere_and_never_hidden() -> None:
    taken = (0.0, 0.04, 0.06, 0.4, 9.94, 32.4)
    assert [in_units(describe_refuelled(litres)) for litres in taken] == [
        "", "", "0.1 l", "0.4 l", "9.9 l", "32 l",
    ]  # fmt: skip
