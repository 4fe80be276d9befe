"""A race as it is planned and told: its laps, fuel, stops, tyres, water, energy, and its sheet."""

from functools import cache
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.race.lap_table import LapTable
from neapfrost.demo.plans import composed
from neapfrost.demo.weather import demo_weathers
from neapfrost.formats.car_document import FlapDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import read_plan
from neapfrost.formats.weather import WeatherRecordDocument
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.race.course import race_course
from neapfrost.services.race.energy import EnergyRequest, Zone, energy_course
from neapfrost.services.race.flap import flap_course
from neapfrost.services.race.lanes import LanesRequest, lanes_course
from neapfrost.services.race.laps import RaceLap, table_of
from neapfrost.services.race.measured import NOTHING_MEASURED, Measured, MeasuredStops
from neapfrost.services.race.passing import makers, passing
from neapfrost.services.race.planning import RaceRequest
from neapfrost.services.race.saving import SavingRequest, saving_course
from neapfrost.services.race.setting import pit_loss_s
from neapfrost.services.race.sheet import sheet_csv, sheet_markdown
from neapfrost.services.race.told import Race
from neapfrost.services.race.tyres import race_tyres
from neapfrost.services.race.work import warm_up_of, work_of
from neapfrost.services.studies.alone import driven_alone
from neapfrost.services.studies.race_alone import whole_race
from neapfrost.services.words.saying import Saying

CASES = Path(__file__).parents[1] / "cases"


@cache
def heath() -> PlanDocument:
    """A short, quick plan with three compounds."""
    return composed("dunlin-heath")


def with_race(plan: PlanDocument, **rules: object) -> PlanDocument:
    value = {**plan.race.model_dump(mode="json"), **rules}
    return plan.model_copy(update={"race": type(plan.race).model_validate(value)})


def raced(
    plan: PlanDocument,
    wanted: RaceRequest | None = None,
    record: WeatherRecordDocument | None = None,
    measured: Measured = NOTHING_MEASURED,
) -> Race:
    job = driven_alone(plan, race_course(plan, wanted or RaceRequest(), record, measured))
    assert job.race is not None
    return job.race


def sprint_plan() -> PlanDocument:
    return with_race(heath(), laps=18, stops_least=1, tyres_s=8.0, rival_lap=9)


@cache
def sprint() -> Race:
    return raced(sprint_plan())


@cache
def fen() -> WeatherRecordDocument:
    return next(record for _, circuit, _, record in demo_weathers() if circuit == "Crake Heath")


def test_a_race_s_lap_is_the_plan_s_lap_with_its_fuel_and_tyres() -> None:
    race = sprint()
    assert race.best is not None
    told = race.laps_told[10]
    tyre = next(one for one in race_tyres(heath(), 18, None) if one.name == told.compound)
    grip = tyre.grip(told.age, 0.0)
    plan = heath().model_copy(
        update={
            "setup": None,
            "car": heath().car.model_copy(update={"fuel_kg": told.fuel_kg}),
            "conditions": heath().conditions.model_copy(
                update={"grip_factor": heath().conditions.grip_factor * grip}
            ),
        }
    )
    own = predict_lap(plan).lap_time_s
    assert told.time_s == pytest.approx(own, abs=0.006)


def test_stints_follow_each_other_and_add_up_to_the_race() -> None:
    race = sprint()
    assert race.best is not None
    stints = race.best.stints
    assert stints[0].from_lap == 1
    assert stints[-1].to_lap == race.laps == len(race.laps_told) == 18
    assert len(race.best.stops) >= 1
    for before, after in pairwise(stints):
        assert after.from_lap == before.to_lap + 1
        gone = before.clock_s + before.time_s + race.pit_loss_s + after.standing_s
        assert after.clock_s == pytest.approx(gone)
    total = sum(lap.time_s for lap in race.laps_told)
    total += sum(race.pit_loss_s + stint.standing_s for stint in stints[1:])
    assert race.total_s == pytest.approx(total)
    assert [lap.lap for lap in race.laps_told] == list(range(1, 19))
    assert race.best.behind_s == 0.0


def test_other_plans_are_of_another_kind_and_no_quicker() -> None:
    race = sprint()
    assert race.best is not None
    kinds = [(tuple(one.compounds), len(one.stops)) for one in race.others]
    assert len(set(kinds)) == len(kinds)
    assert (tuple(race.best.compounds), len(race.best.stops)) not in kinds
    assert all(one.behind_s >= 0.0 for one in race.others)
    assert all(len(one.stops) >= 1 for one in race.others)
    for one in race.others:
        assert one.said == f"{one.stops_and_tyres}; {one.behind_s:.1f} s slower."
    assert all(one.cost_s is None or one.cost_s >= -1e-9 for one in race.moved)
    labels = [one.label for one in race.sensitivities]
    assert labels[0].startswith("Pit loss")
    assert race.sensitivities[0].change_s == pytest.approx(3.0 * len(race.best.stops), abs=0.5)


def test_fuel_is_that_of_the_laps_and_a_margin_costs() -> None:
    race = sprint()
    fuel = race.fuel
    burnt = [a.fuel_kg - b.fuel_kg for a, b in pairwise(race.laps_told)]
    assert fuel.racing_kg == pytest.approx(
        sum(burnt) + race.laps_told[-1].fuel_kg - fuel.in_hand_kg
    )
    assert fuel.start_kg == pytest.approx(fuel.exact_kg + fuel.in_hand_kg)
    assert fuel.exact_litres == pytest.approx(fuel.exact_kg / fuel.kg_per_litre)
    assert fuel.margin_s > 0.0
    assert fuel.litre_race_s == pytest.approx(18 * fuel.litre_s)
    assert fuel.full_lap_s > fuel.empty_lap_s
    assert fuel.lap_band is not None
    assert fuel.lap_band.low < fuel.lap_kg < fuel.lap_band.high
    measured = raced(with_race(heath(), laps=18, stops_least=1), measured=Measured(litres=1.0))
    assert measured.fuel.measured
    assert measured.fuel.lap_litres == pytest.approx(1.0, rel=0.02)
    assert any("logbook" in one.source for one in measured.assumptions)


def test_a_race_by_the_clock_ends_with_the_lap_that_was_begun() -> None:
    lap_s = sprint().tyres[0].new_s
    race = raced(with_race(heath(), minutes=10.0))
    assert race.ended_by == "time"
    assert race.total_s >= 600.0
    assert race.spare_s is not None
    assert 0.0 < race.spare_s < 1.2 * lap_s
    assert any("would need laps" in sentence for sentence in race.said)


def test_fuel_is_taken_in_where_the_tank_does_not_last() -> None:
    small = heath().model_copy(
        update={"car": heath().car.model_copy(update={"fuel_capacity_kg": 6.0})}
    )
    dry = raced(with_race(small, laps=30))
    assert dry.best is None
    assert dry.trouble is not None
    assert "tank lasts" in dry.trouble
    filled = raced(with_race(small, laps=30, litres_per_s=1.0, stop_at_once=True, tyres_s=6.0))
    assert filled.best is not None
    assert len(filled.best.stops) >= 1
    assert all(stint.fuel_kg <= 6.0 + 1e-6 for stint in filled.best.stints)
    # Where the tank is next to empty one has to stop, neutralisation or not.
    assert any(one.must for one in filled.slow)
    stint = filled.best.stints[1]
    assert stint.standing_s == pytest.approx(max(6.0, stint.added_litres))


@pytest.mark.parametrize(
    ("rules", "holds"),
    [
        ({"stop_from_lap": 8, "stop_to_lap": 9}, lambda r: all(8 <= s <= 9 for s in r.best.stops)),
        ({"compounds_least": 2}, lambda r: len(set(r.best.compounds)) >= 2),
        ({"stops_least": 3}, lambda r: len(r.best.stops) >= 3),
        ({"drive_longest_min": 9.0}, lambda r: all(s.time_s <= 540.0 for s in r.best.stints)),
        (
            {"stops_least": 2, "drivers": 2, "rest_least_min": 6.0},
            lambda r: r.best.stints[1].time_s >= 360.0,
        ),
    ],
)
def test_rules_are_kept(rules: dict[str, object], holds: object) -> None:
    race = raced(with_race(heath(), **{"laps": 18, "stops_least": 1, **rules}))
    assert race.best is not None
    assert holds(race)  # type: ignore[operator]


def test_nobody_drives_longer_than_allowed_however_the_tyres_fade() -> None:
    """A plan from outside, whose laps slow down by a per cent of grip each."""
    plan = read_plan((CASES / "race_longest_drive_r8.json").read_bytes())
    most_s = 60.0 * plan.race.drive_longest_min  # type: ignore[operator]
    race = raced(plan)
    assert race.best is not None
    for one in (race.best, *race.others):
        times = [stint.time_s for stint in one.stints]
        assert max(times) <= most_s
    # Half of the laps each would take both drivers too long.
    assert len(race.best.stops) == 2
    for stint in race.best.stints:
        laps = race.laps_told[stint.from_lap - 1 : stint.to_lap]
        assert sum(lap.time_s for lap in laps) == pytest.approx(stint.time_s, abs=1e-6)
    first, second, third = race.best.stints
    assert [stint.driver for stint in race.best.stints] == [1, 2, 1]
    assert race.best.driver_s == pytest.approx([first.time_s + third.time_s, second.time_s])
    minutes, rest = divmod(round(second.time_s), 60)
    assert f"driver 2 {minutes} min {rest} s" in race.best.drivers_said


def test_rules_that_cannot_be_kept_are_told() -> None:
    race = raced(with_race(heath(), laps=10, stops_least=4, stop_from_lap=9))
    assert race.best is None
    assert race.trouble is not None
    assert "rules" in race.trouble
    hill = composed("dunlin-hill")
    with pytest.raises(InputRefused, match="closed circuit"):
        race_course(hill, RaceRequest())


def test_the_way_through_the_pits_follows_from_lane_and_limit() -> None:
    circuit = heath().circuit.model_copy(
        update={
            "pit_loss_s": None,
            "pit_lane_m": 300.0,
            "pit_limit_ms": 15.0,
            "pit_entry_at_m": 1500.0,
            "pit_exit_at_m": 1750.0,
        }
    )
    plan = heath().model_copy(update={"circuit": circuit})
    loss, source = pit_loss_s(plan, 40.0)
    slowing = 25.0**2 / (2.0 * 40.0)
    assert loss == pytest.approx(20.0 - 250.0 / 40.0 + slowing / 9.0 + slowing / 5.0)
    assert "lane" in source
    bare = circuit.model_copy(update={"pit_lane_m": None})
    assert "assumed" in pit_loss_s(heath().model_copy(update={"circuit": bare}), 40.0)[1]


def test_water_has_each_tyre_where_its_laps_are_quickest() -> None:
    water = sprint().water
    assert water is not None
    times = np.array(water.times_s)
    for one in water.ranges:
        middle = 0.5 * (one.from_pct + one.to_pct)
        at = int(np.argmin(np.abs(np.array(water.wetness_pct) - middle)))
        assert water.compounds[int(times[:, at].argmin())] == one.compound
    edge = water.ranges[0].to_pct
    names = [water.ranges[0].compound, water.ranges[1].compound]
    tyres = {tyre.name: tyre for tyre in race_tyres(heath(), 18, None)}
    grips = [tyres[name].grips_over(np.array([edge]))[0] for name in names]
    assert grips[0] == pytest.approx(grips[1], rel=1e-3)


def test_along_a_record_the_change_is_weighed_over_every_weather() -> None:
    plan = with_race(heath(), laps=24, tyres_s=8.0, starts_at=fen().readings[0].at)
    race = raced(plan, RaceRequest(lap=6), fen())
    change = race.change
    assert change is not None
    assert change.lap == 6
    assert sum(change.chances_pct) == pytest.approx(100.0)
    assert change.stops[0].lap == 7
    means = [one.mean_s for one in change.stops if one.mean_s is not None]
    for column in range(len(change.weathers)):
        times = [one.times_s[column] for one in change.stops]
        best = change.best_laps[column]
        assert best is not None
        known = [time for time in times if time is not None]
        assert times[best - 7] == min(known)
    assert 0.0 <= change.pays_pct <= 100.0
    assert min(means) <= means[0]
    assert any("Chance" in sentence for sentence in change.said)
    with pytest.raises(InputRefused, match="is expected"):
        raced(plan, RaceRequest(lap=6, compound="Slippers"), fen())
    assert raced(plan, RaceRequest(), fen()).change is None


def test_the_race_is_planned_in_each_weather_that_may_come() -> None:
    plan = with_race(heath(), laps=24, tyres_s=8.0, starts_at=fen().readings[0].at)
    race = raced(plan, RaceRequest(lap=6), fen())
    assert [one.name for one in race.scenarios] == [one.name for one in fen().weathers]
    for number, scenario in enumerate(race.scenarios):
        alone = raced(plan, RaceRequest(weather=number), fen()).best
        assert scenario.plan is not None
        assert alone is not None
        assert scenario.plan.stops == alone.stops
        assert scenario.plan.total_s == pytest.approx(alone.total_s, abs=0.5)
    assert race.change is not None
    assert "stint plan" in race.change.said[-1]
    sheet = sheet_markdown(whole_race(plan, fen()))
    for scenario in race.scenarios:
        assert f"## Forecast: {scenario.name}" in sheet


def test_a_plan_is_behind_the_best_by_what_its_laps_and_stops_take() -> None:
    race = sprint()
    assert race.best is not None
    assert race.others
    for other in race.others:
        assert len(other.gap_s) == race.laps
        assert other.gap_s[-1] == pytest.approx(other.behind_s, abs=1e-6)
        same_start = other.compounds[0] == race.best.compounds[0]
        first = min([*other.stops, *race.best.stops])
        if same_start and not race.fuel.refuels:
            assert other.gap_s[:first] == pytest.approx([0.0] * first, abs=1e-6)


def test_no_rain_tyre_is_proposed_for_a_dry_race() -> None:
    dry = raced(with_race(heath(), laps=24, tyres_s=8.0, compounds_least=2))
    assert dry.best is not None
    assert dry.water is not None
    wet = [one.compound for one in dry.water.ranges if one.from_pct > 0.0]
    assert wet
    for plan in (dry.best, *dry.others):
        assert not set(plan.compounds) & set(wet)


def test_a_neutralisation_that_begins_now_gives_the_new_plan() -> None:
    race = sprint()
    at = {one.lap: one.gain_s for one in race.slow}
    rules = sprint_plan().race
    for lap in (3, 8, 14):
        asked = RaceRequest(lap=lap, slow_laps=rules.slow_phase_laps)
        found = raced(sprint_plan(), asked).neutralised
        assert found is not None
        assert found.gain_s == pytest.approx(at[lap + 1], abs=1e-6)
        assert found.plan.stints[0].from_lap == lap + 1
        driven_s = sum(one.time_s for one in race.laps_told[:lap])
        assert found.plan.stints[0].clock_s >= driven_s - 1e-6
        assert found.stops_now is (lap + 1 in found.plan.stops)
        assert ("stop at once" in found.said) is found.stops_now
    assert raced(sprint_plan(), RaceRequest(lap=3)).neutralised is None


def test_slow_phases_and_a_rival_are_told() -> None:
    race = sprint()
    assert [one.lap for one in race.slow] == list(range(2, 17))
    assert race.best is not None
    stop = race.best.stops[0]
    at = {one.lap: one.gain_s for one in race.slow}
    gain = at.get(stop)
    assert gain is not None
    assert gain > 0.0  # a stop that is due anyway is cheaper behind a slow car
    assert not any(one.must for one in race.slow)
    assert race.rival is not None
    assert race.rival.rival_lap == 9
    same = next(row for row in race.rival.rows if row.lap == 9)
    assert same.gap_s == pytest.approx(0.0, abs=1e-9)


def test_saving_is_told_by_corner() -> None:
    saving = driven_alone(heath(), saving_course(heath(), SavingRequest(saved_pct=4.0))).saving
    assert saving is not None
    assert saving.found is not None
    assert saving.found.cost_s is not None
    assert saving.corners
    assert all(one.lift_earlier_m > 0.0 for one in saving.corners)
    costs = [one.cost_s for one in saving.curve]
    assert costs == sorted(one for one in costs if one is not None)
    assert "4.0 %" in saving.said[0]
    none = driven_alone(heath(), saving_course(heath(), SavingRequest(saved_pct=60.0))).saving
    assert none is not None
    assert none.found is None
    assert "cannot be saved" in none.said[0]


def test_energy_is_told_with_its_ways_and_its_price() -> None:
    # A short lap: each of the ways and shares is a search of its own.
    plan = composed("phalarope-race-wind").model_copy(update={"circuit": heath().circuit})
    job = driven_alone(
        plan, energy_course(plan, EnergyRequest(zones=[Zone(from_m=100.0, to_m=700.0)]))
    )
    energy = job.energy
    assert energy is not None
    assert energy.fits
    assert len(energy.ways) == 3
    assert all(way.behind_s >= -0.002 for way in energy.ways)
    assert energy.gain_s == pytest.approx(energy.without_s - energy.lap_s)
    assert abs(energy.emptier_mj) < 1e-6
    assert sum(place.spent_mj for place in energy.places) == pytest.approx(
        energy.spent_mj, rel=0.05
    )
    assert all(one.worth_ms_per_kj > 0.85 * energy.price_ms_per_kj for one in energy.places)
    laps = [share.lap_s for share in energy.shares]
    assert laps == sorted(laps, reverse=True)
    few = driven_alone(plan, energy_course(plan, EnergyRequest(uses=2))).energy
    assert few is not None
    assert few.lap_s > energy.lap_s
    with pytest.raises(InputRefused, match="no energy store"):
        energy_course(heath(), EnergyRequest())


def test_a_flap_is_weighed_in_its_zones() -> None:
    plan = composed("phalarope-race-wind")
    car = plan.car.model_copy(update={"flap": FlapDocument()})
    zones = [{"from_m": 3450.0, "to_m": 3950.0}, {"from_m": 1560.0, "to_m": 1750.0}]
    flapped = with_race(plan.model_copy(update={"car": car}), flap_zones=zones)
    flap = driven_alone(flapped, flap_course(flapped)).flap
    assert flap is not None
    assert flap.open_s is not None
    first, second = (zone.gain_s for zone in flap.zones)
    assert first is not None
    assert second is not None
    assert first > 0.05
    assert flap.shut_s - flap.open_s == pytest.approx(first + second, abs=0.02)
    assert "gains" in flap.said[0]
    with pytest.raises(InputRefused, match="no flap"):
        flap_course(plan)
    with pytest.raises(InputRefused, match="no zone"):
        flap_course(plan.model_copy(update={"car": car}))


def test_places_to_pass_and_the_tyres_work_are_told() -> None:
    found = passing(with_race(heath(), later_braking_m=100.0))
    assert found.places[0].possible
    assert "Overtaking is possible" in found.said[0]
    later = [place.later_needed_m for place in found.places]
    assert later == sorted(later)
    none = passing(with_race(heath(), later_braking_m=0.0))
    assert not none.places[0].possible
    made = makers(heath(), none)
    order = [place.name for place in none.places]
    assert [order.index(one.name) for one in made] == sorted(order.index(o.name) for o in made)
    assert all(one.later_needed_m < one.later_now_m - 1.9 for one in made)
    assert makers(heath(), found.model_copy(update={"places": found.places[:1]})) == []
    work = work_of(heath())
    assert sum(work.each_kj) / 1000.0 == pytest.approx(work.total_mj)
    by_corner = np.array([corner.each_kj for corner in work.corners]).sum(axis=0)
    assert by_corner == pytest.approx(work.each_kj)
    assert work.tyres[work.hardest] in work.said[0]
    warm = work.warm_up
    assert warm is not None
    assert [lap.grip_pct for lap in warm.laps] == sorted(lap.grip_pct for lap in warm.laps)
    assert all(lap.slower_s > 0.0 for lap in warm.laps)
    assert warm.needs_mj == pytest.approx(warm.laps[-1].total_mj)


def test_a_cold_set_s_laps_are_those_of_the_plan_on_them() -> None:
    alone = composed("k4-samphire")
    warm = warm_up_of(alone, Saying())
    assert warm is not None
    for lap in warm.laps:
        air = alone.conditions.model_copy(update={"tyre_lap": lap.age})
        cold = alone.model_copy(update={"conditions": air})
        assert lap.lap_s == pytest.approx(predict_lap(cold).lap_time_s, abs=0.005)
    air = alone.conditions.model_copy(update={"track_temp_c": -5.0})
    frosty = warm_up_of(alone.model_copy(update={"conditions": air}), Saying())
    assert frosty is not None
    assert frosty.off_window_c < 0.0 < frosty.off_window_s
    assert "colder than its window" in frosty.said


def test_lanes_are_driven_and_compared_over_a_run() -> None:
    plan = composed("garganey-bowl")
    lanes = driven_alone(plan, lanes_course(plan, LanesRequest(laps=12))).lanes
    assert lanes is not None
    assert len(lanes.lines) == 9
    runs = [line.run_s for line in lanes.lines]
    assert runs == sorted(runs)
    assert lanes.lines[0].run_behind_s == 0.0
    for line in lanes.lines:
        times = [point.time_s for point in line.points]
        assert times == sorted(times)
        assert line.right_pct > 60.0  # two long turns to the left
    assert next(way.way for way in lanes.lifts) == "as in the plan"
    best = lanes.lines[0]
    assert set(best.along.lost_s) == {0.0}
    for line in lanes.lines:
        assert line.along.lost_s[0] == 0.0
        assert len(line.run_lost_s) == 1 + 12
        assert line.run_lost_s[-1] == pytest.approx(line.run_behind_s, abs=1e-9)
        # On the laps that are solved it loses what their times say.
        for mine, theirs in zip(line.points, best.points, strict=True):
            step = line.run_lost_s[mine.lap] - line.run_lost_s[mine.lap - 1]
            assert step == pytest.approx(mine.time_s - theirs.time_s, abs=1e-9)
        assert line.along.lost_s[-1] == pytest.approx(line.lap_s - best.lap_s, abs=1e-9)
    # Between two lanes of one radius each there are as many metres as between their offsets.
    assert plan.circuit.lanes is not None
    offsets = {lane.name: lane.outside_m for lane in plan.circuit.lanes}
    way = {line.name: np.array([line.along.x_m, line.along.y_m]) for line in lanes.lines}
    apart = np.hypot(*(way["Top"] - way["Bottom"]))
    assert apart == pytest.approx(offsets["Top"] - offsets["Bottom"], abs=1e-6)
    changing = np.hypot(*(way["Bottom to Top"] - way["Bottom"]))
    assert changing.max() == pytest.approx(offsets["Top"] - offsets["Bottom"], abs=0.2)
    assert changing.min() == pytest.approx(0.0, abs=0.2)
    with pytest.raises(InputRefused, match="no lanes"):
        lanes_course(heath(), LanesRequest())


def test_the_sheet_says_all_of_it_and_is_written() -> None:
    sheet = whole_race(with_race(heath(), laps=18, stops_least=1))
    text = sheet_markdown(sheet)
    for part in ("## Stints", "## Fuel", "## Water", "## Overtaking", "## Assumptions"):
        assert part in text
    assert "marshals" in text
    rows = sheet_csv(sheet).splitlines()
    assert rows[0].startswith("Stint,From lap")
    assert len(rows) == 1 + len(sheet.race.best.stints if sheet.race.best else []) + 2 + 18


def test_a_table_with_a_lap_that_is_not_possible_is_none() -> None:
    nodes = [(0.9, 0.0), (0.9, 1.0), (1.0, 0.0), (1.0, 1.0)]
    lap = RaceLap(60.0, 1.0, 0.5)
    assert isinstance(table_of(nodes, [lap] * 4), LapTable)
    assert table_of(nodes, [lap, None, lap, lap]) is None


def test_stops_of_the_logbook_count_where_the_circuit_states_nothing() -> None:
    plan = with_race(heath(), tyres_s=9.0)
    stated = pit_loss_s(plan, 40.0, MeasuredStops(38.5, 2))
    assert stated[0] == plan.circuit.pit_loss_s
    silent = plan.circuit.model_copy(update={"pit_loss_s": None})
    loss_s, source = pit_loss_s(
        plan.model_copy(update={"circuit": silent}), 40.0, MeasuredStops(38.5, 2)
    )
    assert loss_s == pytest.approx(29.5)
    assert "2 stops lost 38.5 s, less 9 s stationary" in source
