"""Stops: the programme against every plan written out, and against closed forms."""

import itertools
import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from neapfrost.core.race.stints import (
    Begin,
    Race,
    RacePlan,
    Stint,
    StopRules,
    StopTimes,
    best_by_stops,
    best_plan,
    moved,
    shortened,
    timed,
    with_rules,
)


def race(
    laps: int,
    fade_s: tuple[float, ...] = (0.1,),
    base_s: tuple[float, ...] = (90.0,),
    pit_s: float = 20.0,
    **more: object,
) -> Race:
    """Laps that fade by so much each lap, of every compound; fuel for a lap costs 0.03 s."""
    rules = more.pop("rules", StopRules())
    stop = more.pop("stop", StopTimes())
    assert isinstance(stop, StopTimes)
    loads = laps + 1 if stop.fuel_s_per_lap > 0.0 else 1
    ages = np.arange(laps + 2)
    time = np.empty((1, len(base_s), laps + 2, loads))
    for c, (base, fade) in enumerate(zip(base_s, fade_s, strict=True)):
        time[0, c] = (base + fade * ages)[:, None] + 0.03 * np.arange(loads)[None, :]
    values: dict[str, object] = {
        "life": np.full(len(base_s), laps + 1),
        "new_age": np.zeros(len(base_s), dtype=np.int64),
        "pit_s": np.full(laps + 1, pit_s),
        **more,
    }
    return Race(laps=laps, time_s=time, stop=stop, rules=rules, **values)  # type: ignore[arg-type]


def every_plan(one: Race) -> Iterator[RacePlan]:
    """Every plan there is, allowed or not: stops, compounds, tyres kept, and loads of fuel."""
    left = one.laps - one.begin.lap
    refuels = one.stop.fuel_s_per_lap > 0.0
    tank = left if one.tank_laps is None else one.tank_laps
    for stops in range(left):
        for places in itertools.combinations(range(1, left), stops):
            cuts = (0, *places, left)
            lengths = [b - a for a, b in itertools.pairwise(cuts)]
            for kinds in itertools.product(range(one.compounds), repeat=stops + 1):
                for kept in itertools.product((False, True), repeat=stops):
                    if any(k and kinds[n] != kinds[n + 1] for n, k in enumerate(kept)):
                        continue
                    loads = itertools.product(range(1, tank + 1), repeat=stops + 1)
                    for load in loads if refuels else [tuple(left - c for c in cuts[:-1])]:
                        stints, age = [], 0
                        for n, length in enumerate(lengths):
                            fresh = n == 0 or not kept[n - 1]
                            age = int(one.new_age[kinds[n]]) if fresh else age
                            begins = one.begin.lap + cuts[n]
                            stints.append(
                                Stint(begins, length, kinds[n], age, load[n], fresh, 0.0, 0.0)
                            )
                            age += length
                        yield RacePlan(tuple(stints), math.inf)


def best_written_out(one: Race) -> float:
    """The least time of all plans that are allowed, each timed by itself."""
    found = (timed(one, plan) for plan in every_plan(one))
    return min((plan.total_s for plan in found if plan is not None), default=math.inf)


RULES = [
    StopRules(),
    StopRules(stops_least=1),
    StopRules(stops_least=2, compounds_least=2),
    StopRules(window=(2, 3)),
    StopRules(stint_most_s=290.0),
    StopRules(stint_most_s=185.0, stint_least_s=182.0),
    StopRules(stint_least_s=95.0, stops_least=2),
    StopRules(stops_most=1, keep_tyres=True),
    StopRules(keep_tyres=True, stint_most_s=190.0),
    StopRules(compounds_least=2, window=(3, 4)),
    StopRules(forced=2),
    StopRules(barred=(2, 3), stops_least=1),
]


@pytest.mark.parametrize("rules", RULES, ids=str)
@pytest.mark.parametrize("refuels", [False, True])
def test_the_programme_finds_what_writing_every_plan_out_finds(
    rules: StopRules, refuels: bool
) -> None:
    stop = StopTimes(3.0, 1.5 if refuels else 0.0, at_once=False, least_s=1.0)
    laps = 4 if refuels else 5
    one = race(
        laps,
        (1.6, 0.7),
        (90.0, 91.1),
        1.2,
        rules=rules,
        stop=stop,
        tank_laps=3 if refuels else None,
    )
    found, expected = best_plan(one), best_written_out(one)
    if found is None:
        assert expected == math.inf
    else:
        assert found.total_s == pytest.approx(expected, abs=1e-9)


@settings(deadline=None, max_examples=12)
@given(
    fades=st.tuples(st.floats(0, 3), st.floats(0, 3)),
    bases=st.tuples(st.floats(60, 62), st.floats(60, 62)),
    pit=st.floats(0, 8),
    tyres=st.floats(0, 4),
    pump=st.floats(0.1, 2),
    at_once=st.booleans(),
    rules=st.sampled_from(RULES),
    life=st.tuples(st.integers(2, 6), st.integers(2, 6)),
)
def test_small_races_of_any_kind_are_planned_as_if_written_out(
    fades: tuple[float, float],
    bases: tuple[float, float],
    pit: float,
    tyres: float,
    pump: float,
    at_once: bool,
    rules: StopRules,
    life: tuple[int, int],
) -> None:
    one = race(
        4,
        fades,
        bases,
        pit,
        stop=StopTimes(tyres, pump, at_once),
        rules=rules,
        life=np.array(life),
        tank_laps=3,
    )
    found, expected = best_plan(one), best_written_out(one)
    assert (math.inf if found is None else found.total_s) == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize("stops", [1, 2, 3, 5])
def test_with_an_even_fade_the_stints_are_even(stops: int) -> None:
    one = race(60, rules=StopRules(stops_least=stops, stops_most=stops))
    plan = best_plan(one)
    assert plan is not None
    lengths = [stint.laps for stint in plan.stints]
    assert len(lengths) == stops + 1
    assert max(lengths) - min(lengths) <= 1


@pytest.mark.parametrize(("fade", "pit"), [(0.1, 20.0), (0.05, 21.5), (0.3, 12.0), (0.02, 30.0)])
def test_the_number_of_stops_is_that_of_the_closed_form(fade: float, pit: float) -> None:
    """With k even stints fade costs ½·f·n²/k, so that the best k is n·√(f/2p), to whole ones."""
    laps = 60
    plan = best_plan(race(laps, (fade,), pit_s=pit))
    assert plan is not None
    best = laps * math.sqrt(fade / (2.0 * pit))

    def cost(k: int) -> float:
        whole, more = divmod(laps, k)
        lengths = [whole + 1] * more + [whole] * (k - more)
        return pit * (k - 1) + sum(fade * n * (n - 1) / 2 for n in lengths)

    around = [k for k in (math.floor(best), math.ceil(best), math.ceil(best) + 1) if k >= 1]
    assert cost(len(plan.stints)) == pytest.approx(min(cost(k) for k in around), abs=1e-9)
    assert plan.total_s == pytest.approx(90.0 * laps + cost(len(plan.stints)), abs=1e-6)


def test_each_number_of_stops_has_its_best_and_the_best_of_them_is_the_best() -> None:
    one = race(40, (0.25, 0.1), (90.0, 90.9), rules=StopRules(compounds_least=2))
    by_stops = best_by_stops(one, 5)
    assert sorted(by_stops) == [1, 2, 3, 4, 5]
    best = best_plan(one)
    assert best is not None
    assert best.total_s == min(plan.total_s for plan in by_stops.values())
    for stops, plan in by_stops.items():
        assert len(plan.stops) == stops
        assert len(set(plan.kind)) == 2


def test_of_each_order_of_compounds_the_best_is_no_better_than_the_best_of_all() -> None:
    one = race(30, (0.4, 0.15), (90.0, 90.6), rules=StopRules(stops_least=2, stops_most=2))
    best = best_plan(one)
    assert best is not None
    totals = {}
    for kinds in itertools.product((0, 1), repeat=3):
        plan = best_plan(with_rules(one, sequence=kinds))
        assert plan is not None
        assert plan.kind == kinds
        totals[kinds] = plan.total_s
    assert min(totals.values()) == pytest.approx(best.total_s, abs=1e-9)


def test_a_stop_moved_by_a_lap_costs_what_its_laps_cost() -> None:
    one = race(30, rules=StopRules(stops_least=1, stops_most=1))
    plan = best_plan(one)
    assert plan is not None
    assert plan.stops == (15,)
    for laps in (-3, -1, 1, 4):
        other = moved(one, plan, 0, laps)
        assert other is not None
        # Stints of 15 ± n laps: the fade costs f·n² more.
        assert other.total_s - plan.total_s == pytest.approx(0.1 * laps**2, abs=1e-9)
    assert moved(one, plan, 0, 15) is None


def test_fuel_is_taken_where_tyres_are_changed_anyway() -> None:
    stop = StopTimes(tyres_s=12.0, fuel_s_per_lap=1.0, at_once=True)
    one = race(30, stop=stop, tank_laps=20, rules=StopRules(stops_least=1))
    plan = best_plan(one)
    assert plan is not None
    assert [stint.new_tyres for stint in plan.stints[1:]] == [True] * len(plan.stops)
    for before, after in itertools.pairwise(plan.stints):
        added = after.fuel_laps - (before.fuel_laps - before.laps)
        assert after.standing_s == pytest.approx(max(12.0, added))
    assert all(stint.fuel_laps <= 20 for stint in plan.stints)
    assert plan.stints[-1].fuel_laps == plan.stints[-1].laps  # nothing is carried for nothing


def test_a_race_is_planned_on_from_where_it_stands() -> None:
    one = race(40, (0.25,), rules=StopRules(stops_least=1, stops_most=1))
    whole = best_plan(one)
    assert whole is not None
    lap = whole.stops[0] + 4
    stint = whole.stints[1]
    there = replace(
        with_rules(one, stops_least=0, stops_most=0), begin=Begin(lap, stint.compound, 4)
    )
    rest = best_plan(there)
    assert rest is not None
    driven = whole.total_s - sum(one.lap_s(n, 0, n - stint.begins, 0) for n in range(lap, 40))
    assert driven + rest.total_s == pytest.approx(whole.total_s, abs=1e-9)


def test_what_no_plan_can_keep_has_none() -> None:
    assert best_plan(race(20, life=np.array([4]), rules=StopRules(stops_most=2))) is None
    assert best_plan(race(20, rules=StopRules(compounds_least=2))) is None
    assert best_plan(race(20, tank_laps=12)) is None  # no fuel may be taken in
    assert best_plan(race(3, begin=Begin(3))) is None
    assert best_plan(race(9, rules=StopRules(stops_least=3, window=(8, 8)))) is None


def test_a_race_whose_laps_do_not_fill_it_is_no_race() -> None:
    with pytest.raises(ValueError, match="do not fill"):
        replace(race(10), laps=12)
    with pytest.raises(ValueError, match="do not fill"):
        replace(race(10), life=np.array([40]))
    refuelled = race(10, stop=StopTimes(1.0, 1.0), tank_laps=8)
    with pytest.raises(ValueError, match="do not fill"):
        replace(refuelled, time_s=refuelled.time_s[..., :4])


def test_a_shortened_race_is_the_shorter_race() -> None:
    long = race(40, (0.25, 0.1), (90.0, 90.9), rules=StopRules(stops_least=1, window=(3, 39)))
    short = race(24, (0.25, 0.1), (90.0, 90.9), rules=StopRules(stops_least=1, window=(3, 23)))
    cut, whole = best_plan(shortened(long, 24)), best_plan(short)
    assert cut is not None
    assert whole is not None
    assert cut.total_s == pytest.approx(whole.total_s, abs=1e-9)
    assert cut.stops == whole.stops


def test_a_stint_s_own_laps_are_what_a_driver_drives() -> None:
    """Laps of 90, 91, 92 … s: ten are 945 s, though ten of the first would be 900 s."""
    slowing = race(20, (1.0,), pit_s=5.0)
    for most_s, laps_most in ((945.0, 10), (944.9, 9), (90.0, 1)):
        found = best_plan(with_rules(slowing, stint_most_s=most_s))
        assert found is not None
        assert max(stint.laps for stint in found.stints) <= laps_most
    # What has been driven of the stint under way counts.
    begun = replace(slowing, begin=Begin(lap=4, compound=0, age=4, stint_s=366.0))
    found = best_plan(with_rules(begun, stint_most_s=945.0))
    assert found is not None
    assert found.stints[0].laps <= 6
    # Between two stops nobody drives less than is asked for.
    rested = best_plan(with_rules(slowing, stops_least=4, stint_least_s=360.0))
    assert rested is not None
    assert all(stint.laps >= 4 for stint in rested.stints[1:-1])
