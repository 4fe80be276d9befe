"""Sweeps, maps and rankings of a plan: held against plans solved alone and searches of all."""

import time
from concurrent.futures import ProcessPoolExecutor
from itertools import pairwise
from typing import cast

import numpy as np
import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.trade.gearing import Series
from neapfrost.demo.plans import composed
from neapfrost.formats.plan import PlanDocument
from neapfrost.services import processes
from neapfrost.services.laps.figures import Change, apply_changes
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.laps.solver_processes import Solvers
from neapfrost.services.processes import TICKETS, stopped_by
from neapfrost.services.studies.alone import driven_alone
from neapfrost.services.studies.drawing import study_svg
from neapfrost.services.studies.jobs import (
    ABANDONED_AFTER_S,
    UNDER_WAY_MOST,
    StudyJob,
    StudyJobs,
)
from neapfrost.services.studies.tables import table_csv
from neapfrost.services.trade.axes import (
    Axis,
    as_settings,
    axes_of,
    axis_named,
    put,
    values_between,
)
from neapfrost.services.trade.gears import GearsRequest, bounds_of, gears_course, settings_for
from neapfrost.services.trade.grid import AxisRange, GridRequest, Limits, grid_course
from neapfrost.services.trade.ranking import RankRequest, rank_course, rank_steps, steps_of
from neapfrost.services.trade.search import (
    SearchRequest,
    combinations,
    search_course,
    searched_axes,
    values_of,
)
from neapfrost.services.trade.sweep import (
    EVEN_S,
    SweepRequest,
    coarse_first,
    sweep_course,
    with_laps,
)


@pytest.fixture(scope="module")
def plan() -> PlanDocument:
    """A short, quick one with wings, gear sets, compounds and a setup."""
    return composed("dunlin-heath")


@pytest.fixture(scope="module")
def ranking(plan: PlanDocument) -> StudyJob:
    return driven_alone(plan, rank_course(plan, RankRequest(steps={"mass_kg": 10.0})))


def swept(plan: PlanDocument, wanted: SweepRequest) -> StudyJob:
    return driven_alone(plan, sweep_course(plan, wanted))


def finished(jobs: StudyJobs, job: StudyJob, limits: Limits | None = None) -> StudyJob:
    while job.state == "running":
        time.sleep(0.02)
        job = jobs.look(job.id, limits)
    return job


def axes(plan: PlanDocument) -> dict[str, Axis]:
    return {axis.name: axis for axis in axes_of(plan)}


def test_what_can_be_varied_is_named_once_and_stands_where_the_plan_stands() -> None:
    plan = composed("k4-samphire")
    found = axes_of(plan)
    assert len({axis.name for axis in found}) == len(found)
    known = axes(plan)
    assert known["wing"].chosen == "Step 8"
    assert known["gear_set"].choices == ["Club", "Long"]
    assert known["final_drive"].present == pytest.approx(3.95)
    assert known["wing_downforce"].present == pytest.approx(2.62)
    assert "max_lean_deg" not in known
    for axis in found:
        assert axis.choices or axis.low < axis.high, axis.name
    assert axes(composed("sanderling-fen"))["max_lean_deg"].present == pytest.approx(64.0)


@pytest.mark.parametrize("plan_id", ["k4-samphire", "sanderling-fen", "dunlin-hill"])
def test_both_ends_of_every_axis_can_be_put(plan_id: str) -> None:
    plan = composed(plan_id)
    for axis in axes_of(plan):
        ends: list[float | str] = [*axis.choices] or [axis.low, axis.high]
        for value in ends:
            put(plan, ((axis.name, value),))


def test_a_best_at_the_end_of_the_range_asks_for_a_wider_one(plan: PlanDocument) -> None:
    """More power is always quicker: the best lies where the range ends."""
    wanted = SweepRequest(axis="peak_power_kw", low=180.0, high=240.0, count=4)
    sweep = driven_alone(plan, sweep_course(plan, wanted)).sweep
    assert sweep is not None
    assert sweep.best == 3
    assert "still improving at the end of the range (240.0 kW)" in " ".join(sweep.said)
    inside = SweepRequest(axis="brake_front_fraction", low=0.5, high=0.75, count=6)
    sweep = driven_alone(plan, sweep_course(plan, inside)).sweep
    assert sweep is not None
    assert sweep.best not in (0, 5)
    assert "still improving" not in " ".join(sweep.said)


def test_nothing_is_concluded_before_all_of_a_sweep_is_known(plan: PlanDocument) -> None:
    wanted = SweepRequest(axis="final_drive", low=3.6, high=4.4, count=5)
    whole = driven_alone(plan, sweep_course(plan, wanted)).sweep
    assert whole is not None
    assert whole.said
    untold = [point.model_copy(update={"figures": None}) for point in whole.points[:1]]
    part = whole.model_copy(update={"points": [*untold, *whole.points[1:]], "said": []})
    assert with_laps(part, {}, "metric").said == []


def test_a_sweep_is_of_plans_solved_alone(plan: PlanDocument) -> None:
    job = driven_alone(
        plan, sweep_course(plan, SweepRequest(axis="final_drive", low=3.6, high=4.4, count=3))
    )
    assert job.state == "done"
    sweep = job.sweep
    assert sweep is not None
    own = predict_lap(plan)
    assert sweep.present.lap_time_s == own.lap_time_s
    for point in sweep.points:
        assert isinstance(point.value, float)
        alone = predict_lap(apply_changes(plan, [Change(field="final_drive", value=point.value)]))
        assert point.figures is not None
        assert point.figures.lap_time_s == alone.lap_time_s
        assert point.figures.top_speed_ms == alone.top_speed_ms
        assert point.figures.fuel_litres == alone.fuel_litres
        assert point.change_s == alone.lap_time_s - own.lap_time_s
        assert [c.min_speed_ms for c in point.figures.corners] == [
            c.min_speed_ms for c in alone.corners
        ]
        assert sum(point.figures.stretches_s) == pytest.approx(alone.lap_time_s, abs=1e-9)
        assert point.change_band is not None
        assert point.change_band.low <= point.change_s <= point.change_band.high
    shares = [point.best_share or 0.0 for point in sweep.points]
    assert sum(shares) == pytest.approx(1.0)


def test_water_never_makes_a_lap_quicker_on_one_tyre(plan: PlanDocument) -> None:
    job = driven_alone(
        plan, sweep_course(plan, SweepRequest(axis="wetness_pct", low=0.0, high=60.0, count=4))
    )
    assert job.sweep is not None
    times = [p.figures.lap_time_s for p in job.sweep.points if p.figures is not None]
    assert len(times) == 4
    assert all(after > before for before, after in pairwise(times))
    assert job.sweep.best == 0
    assert "nothing is quicker than the plan" in job.sweep.said[0]


def test_what_the_car_has_is_swept_by_name(plan: PlanDocument) -> None:
    job = swept(plan, SweepRequest(axis="compound"))
    sweep = job.sweep
    assert sweep is not None
    assert [point.value for point in sweep.points] == sweep.axis.choices
    best = sweep.points[sweep.best or 0]
    assert best.figures is not None
    alone = predict_lap(put(plan, (("compound", best.value),)))
    assert best.figures.lap_time_s == alone.lap_time_s
    assert sweep.even is not None
    assert sweep.even.first == sweep.even.last


def test_the_plateau_is_all_that_is_even_with_the_best(plan: PlanDocument) -> None:
    sweep = driven_alone(
        plan, sweep_course(plan, SweepRequest(axis="brake_front_fraction", count=9))
    ).sweep
    assert sweep is not None
    assert sweep.even is not None
    assert sweep.best is not None
    times = [p.figures.lap_time_s for p in sweep.points if p.figures is not None]
    least = min(times)
    assert times[sweep.best] == least
    assert all(t <= least + EVEN_S for t in times[sweep.even.first : sweep.even.last + 1])
    if sweep.even.first > 0:
        assert times[sweep.even.first - 1] > least + EVEN_S


def test_a_value_at_which_no_lap_is_possible_says_why() -> None:
    hill = composed("dunlin-hill")
    job = driven_alone(
        hill, sweep_course(hill, SweepRequest(axis="peak_power_kw", low=1.0, high=80.0, count=3))
    )
    assert job.sweep is not None
    first = job.sweep.points[0]
    assert first.figures is None
    assert first.trouble is not None
    assert "comes to a stop" in first.trouble
    assert job.sweep.points[-1].figures is not None


@pytest.mark.parametrize(
    ("request_", "says"),
    [
        (SweepRequest(axis="fnal_drive"), 'did you mean "final_drive"?'),
        (SweepRequest(axis="grip", low=1.5, high=1.2), "the first must be the lower"),
    ],
)
def test_what_cannot_be_swept_is_refused(
    plan: PlanDocument, request_: SweepRequest, says: str
) -> None:
    with pytest.raises(InputRefused, match=says.replace("?", r"\?")):
        sweep_course(plan, request_)


def test_values_take_in_where_the_plan_stands(plan: PlanDocument) -> None:
    axis = axis_named(plan, "mass_kg")
    assert axis.present is not None
    values = values_between(axis, axis.present - 33.0, axis.present + 40.0, 8)
    assert axis.present in values
    assert values == sorted(values)
    assert values[0] == axis.present - 33.0
    assert len(values) <= 9


@pytest.mark.parametrize("count", [1, 2, 3, 7, 20])
def test_the_ends_and_the_middle_are_driven_first(count: int) -> None:
    order = list(coarse_first(count))
    assert sorted(order) == list(range(count))
    assert set(order[:2]) == {0, count - 1}


def test_a_wing_between_two_steps_has_drag_and_balance_between_theirs() -> None:
    plan = composed("k4-samphire")
    low, high = sorted(plan.car.wings, key=lambda wing: wing.lift_area_m2)[:2]
    middle = 0.5 * (low.lift_area_m2 + high.lift_area_m2)
    varied = put(plan, (("wing_downforce", middle),))
    step = varied.car.wings[-1]
    assert step.drag_area_m2 == pytest.approx(0.5 * (low.drag_area_m2 + high.drag_area_m2))
    assert varied.setup == plan.setup
    with pytest.raises(InputRefused, match="the wing's table goes from"):
        put(plan, (("wing_downforce", 9.0),))


def test_gears_are_chosen_before_a_ratio_of_theirs_is_changed() -> None:
    plan = composed("k4-samphire")
    one = put(plan, (("final_drive", 4.1), ("gear_set", "Long")))
    two = put(plan, (("gear_set", "Long"), ("final_drive", 4.1)))
    assert one == two
    chosen = next(gears for gears in one.car.gear_sets if gears.name == "Long")
    assert chosen.final_drive == 4.1


def test_two_figures_are_best_where_a_search_of_all_finds_it(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    wanted = GridRequest(
        x=AxisRange(axis="final_drive", low=3.5, high=4.5, count=3), y=AxisRange(axis="compound")
    )
    job = finished(jobs, jobs.start(1, plan, grid_course(plan, wanted)))
    grid = job.grid
    assert grid is not None
    assert grid.best is not None
    alone = {
        (x, y): predict_lap(put(plan, (("final_drive", x), ("compound", y)))).lap_time_s
        for x in grid.x_values
        for y in grid.y_values
    }
    for row, y in enumerate(grid.y_values):
        for column, x in enumerate(grid.x_values):
            assert grid.lap_time_s[row][column] == alone[x, y]
    quickest = min(alone, key=lambda key: alone[key])
    assert (grid.x_values[grid.best.column], grid.y_values[grid.best.row]) == quickest
    tops = np.array(grid.top_speed_ms, dtype=np.float64)
    bound = float(np.sort(tops.ravel())[-2])
    kept = jobs.look(job.id, Limits(top_speed_at_least_ms=bound)).grid
    assert kept is not None
    assert kept.best is not None
    fits = tops >= bound - 1e-9
    times = np.where(fits, np.array(grid.lap_time_s, dtype=np.float64), np.inf)
    assert kept.best.lap_time_s == times.min()
    assert kept.shut == (~fits).tolist()
    none = jobs.look(job.id, Limits(top_speed_at_least_ms=500.0)).grid
    assert none is not None
    assert none.best is None
    assert none.said == ["No calculated lap is within the limits."]


def test_the_same_figure_twice_is_refused(plan: PlanDocument) -> None:
    wanted = GridRequest(x=AxisRange(axis="grip"), y=AxisRange(axis="grip"))
    with pytest.raises(InputRefused, match="two figures are expected"):
        grid_course(plan, wanted)


def test_a_ranking_is_of_single_steps_the_most_first(plan: PlanDocument, ranking: StudyJob) -> None:
    found = ranking.ranking
    assert found is not None
    gains = [row.gain_s for row in found.rows]
    assert gains == sorted(gains, reverse=True)
    mass = next(row for row in found.rows if row.axis == "mass_kg")
    assert mass.step == -10.0
    lighter = apply_changes(plan, [Change(field="mass_kg", value=plan.car.mass_kg - 10.0)])
    assert mass.gain_s == pytest.approx(
        predict_lap(plan).lap_time_s - predict_lap(lighter).lap_time_s, abs=1e-9
    )
    assert sum(mass.stretches_s) == pytest.approx(-mass.gain_s, abs=1e-9)
    assert mass.gain_band is not None
    assert mass.gain_band.low < mass.gain_s < mass.gain_band.high
    assert found.rows[-1].sure is None
    assert all(row.sure is not None for row in found.rows[:-1])
    settable = [row for row in found.rows if row.settable]
    assert settable[0].said in found.said[0]


def test_a_ranking_is_the_same_again(plan: PlanDocument, ranking: StudyJob) -> None:
    again = driven_alone(plan, rank_course(plan, RankRequest(steps={"mass_kg": 10.0})))
    assert again.ranking == ranking.ranking


def test_steps_are_the_persons_own_where_stated(plan: PlanDocument) -> None:
    steps = {
        (step.axis.name, step.step) for step in steps_of(plan, RankRequest(steps={"grip": 0.04}))
    }
    assert ("grip", 0.04) in steps
    assert ("grip", -0.04) in steps
    assert {one.axis for one in rank_steps(plan)} >= {"grip", "mass_kg", "peak_power_kw"}
    with pytest.raises(InputRefused, match="no figure with a step"):
        steps_of(plan, RankRequest(steps={"grup": 0.04}))


def test_a_study_is_ended_and_keeps_what_it_has(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    job = jobs.start(1, plan, sweep_course(plan, SweepRequest(axis="grip", count=61)))
    while jobs.look(job.id).done < 3:
        time.sleep(0.01)
    ended = jobs.cancel(job.id)
    assert ended.state == "cancelled"
    assert ended.sweep is not None
    assert 3 <= sum(point.figures is not None for point in ended.sweep.points) < 61
    with pytest.raises(InputRefused, match="has ended; start it again"):
        jobs.look("nothing")


def test_studies_are_written_as_tables_and_pictures(plan: PlanDocument, ranking: StudyJob) -> None:
    job = swept(plan, SweepRequest(axis="compound"))
    assert job.sweep is not None
    rows = table_csv(job).splitlines()
    assert rows[0].startswith("Tyre compound,Lap [s],Change [s]")
    assert len(rows) == 1 + len(job.sweep.points)
    for one in (job, ranking):
        picture = study_svg(one)
        assert picture.startswith("<svg")
        assert "NaN" not in picture
    assert table_csv(ranking).splitlines()[0].startswith("Change,Gain [s]")


def test_the_best_of_what_the_car_has_is_what_a_search_of_all_finds(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    wanted = SearchRequest(axes=["gear_set", "compound"])
    search = finished(jobs, jobs.start(1, plan, search_course(plan, wanted))).search
    assert search is not None
    alone = {
        (gears.name, compound.name): predict_lap(
            put(plan, (("gear_set", gears.name), ("compound", compound.name)))
        ).lap_time_s
        for gears in plan.car.gear_sets
        for compound in plan.car.compounds
    }
    assert search.tried == search.possible == len(alone)
    found = {
        tuple(setting.value for setting in one.settings): one.lap_time_s for one in search.found
    }
    assert found == alone
    times = [one.lap_time_s for one in search.found]
    assert times == sorted(times)
    best = search.found[0]
    assert best.even
    assert best.bad_s is not None
    assert best.mean_s is not None
    assert best.bad_s > best.mean_s
    assert f"Of {len(alone)} combinations" in search.said[0]


def test_brake_shares_are_tried_with_the_best_alone_where_all_are_too_many() -> None:
    axes_ = searched_axes(composed("k4-samphire"), SearchRequest())
    every, none = combinations(axes_, 2_000)
    first, shares = combinations(axes_, len(every) - 1)
    assert none == []
    assert 0 < len(first) < len(every)
    assert len(shares) == len(values_of(axes_[-1]))
    with pytest.raises(InputRefused, match="laps"):
        combinations(axes_, 4)


def test_a_car_with_nothing_to_choose_from_says_so(plan: PlanDocument) -> None:
    with pytest.raises(InputRefused, match="can be searched"):
        searched_axes(plan, SearchRequest(axes=["grip"]))
    bare = plan.car.model_copy(update={"wings": [], "gear_sets": [], "compounds": [], "setups": []})
    with pytest.raises(InputRefused, match="fewer than two wing steps"):
        searched_axes(
            plan.model_copy(update={"car": bare, "setup": None}),
            SearchRequest(axes=["wing", "compound"]),
        )


def test_gears_are_proposed_that_no_series_of_a_grid_beats(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    study = finished(
        jobs, jobs.start(1, plan, gears_course(plan, GearsRequest(tow_pct=20.0)))
    ).gears
    assert study is not None
    proposed = next(one for one in study.choices if one.name == "a proposed gear set")
    begin, bounds = bounds_of(plan, GearsRequest())
    count = len(proposed.ratios)
    grid = [
        Series(first, top, progression)
        for first in np.linspace(*bounds.first, 5)
        for top in np.linspace(*bounds.top, 7)
        for progression in (-0.5, 0.0, 0.5)
    ]
    quickest = min(
        predict_lap(put(plan, settings_for(series, count))).lap_time_s for series in grid
    )
    assert proposed.lap_time_s <= quickest + 0.005
    assert proposed.lap_time_s == predict_lap(put(plan, as_settings(proposed.settings))).lap_time_s
    assert bounds.top[0] <= proposed.ratios[-1] <= bounds.top[1] + 1e-3
    assert proposed.tow_rpm_pct is not None
    assert proposed.tow_rpm_pct >= proposed.top_rpm_pct - 0.1
    assert begin.first == plan.car.gearbox.ratios[0]


def test_half_a_step_of_each_gear_is_priced(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    study = finished(jobs, jobs.start(1, plan, gears_course(plan, GearsRequest()))).gears
    assert study is not None
    own = predict_lap(plan)
    ratios = plan.car.gearbox.ratios
    assert [one.gear for one in study.half_steps] == list(range(1, len(ratios) + 1))
    second = study.half_steps[1]
    assert second.longer == pytest.approx((ratios[1] * ratios[2]) ** 0.5)
    assert second.shorter == pytest.approx((ratios[0] * ratios[1]) ** 0.5)
    longer = predict_lap(put(plan, (("ratio_2", round(second.longer, 3)),)))
    assert second.longer_s == pytest.approx(longer.lap_time_s - own.lap_time_s, abs=1e-9)
    assert second.corners == [corner.name for corner in own.corners if corner.gear == 2]


@pytest.mark.parametrize(
    ("wanted", "says"),
    [
        (GearsRequest(first_low=3.0, first_high=2.0), "the first must be the lower"),
        (GearsRequest(first_high=1.0, first_low=0.9, top_low=1.2, top_high=1.4), "must be below"),
    ],
)
def test_bounds_that_are_none_are_refused(
    plan: PlanDocument, wanted: GearsRequest, says: str
) -> None:
    with pytest.raises(InputRefused, match=says):
        bounds_of(plan, wanted)


def test_a_rival_is_closed_on_where_one_is_quicker(plan: PlanDocument) -> None:
    wanted = SweepRequest(axis="peak_power_kw", low=90.0, high=130.0, count=3)
    sweep = driven_alone(plan, sweep_course(plan, wanted, rival=plan.car)).sweep
    assert sweep is not None
    assert sweep.rival is not None
    assert sweep.rival.figures is not None
    assert sweep.rival.figures.lap_time_s == pytest.approx(
        predict_lap(plan.model_copy(update={"setup": None, "corners": []})).lap_time_s, abs=1e-9
    )
    longest = max(
        (n for n, one in enumerate(sweep.stretches) if one.straight),
        key=lambda n: sweep.stretches[n].length_m,
    )
    gained = [
        point.gained_m[longest] or 0.0 for point in sweep.points if point.gained_m is not None
    ]
    assert gained == sorted(gained)
    assert gained[0] < gained[-1]
    last = sweep.points[-1]
    assert last.figures is not None
    closer_s = sweep.rival.figures.stretches_s[longest] - last.figures.stretches_s[longest]
    assert gained[-1] == pytest.approx(closer_s * sweep.rival.figures.ends_ms[longest])


def test_a_rival_may_be_no_more_than_a_speed(plan: PlanDocument) -> None:
    """Both leave the corner alike and gain speed evenly: ½ (v − v_r) t on the fastest straight."""
    wanted = SweepRequest(axis="peak_power_kw", count=3, rival_speed_ms=40.0)
    sweep = swept(plan, wanted).sweep
    assert sweep is not None
    assert sweep.rival is not None
    assert sweep.rival.name == "a rival at 144 km/h"
    for point in sweep.points:
        assert point.gained_m is not None
        assert point.figures is not None
        known = [n for n, metres in enumerate(point.gained_m) if metres is not None]
        straights = [n for n, one in enumerate(sweep.stretches) if one.straight]
        ends = point.figures.ends_ms
        assert known == [max(straights, key=ends.__getitem__)]
        end, time_s = point.figures.ends_ms[known[0]], point.figures.stretches_s[known[0]]
        assert point.gained_m[known[0]] == pytest.approx(0.5 * (end - 40.0) * time_s)


def test_a_step_of_grip_is_worth_a_kilometre_an_hour_in_the_corners(plan: PlanDocument) -> None:
    step = next(one.step for one in rank_steps(plan) if one.axis == "grip")
    more = put(plan, (("grip", plan.car.tyres.mu_lateral + step),))
    pairs = zip(predict_lap(plan).corners, predict_lap(more).corners, strict=True)
    gained = [
        after.min_speed_ms - before.min_speed_ms
        for before, after in pairs
        if before.action == after.action == "brake"
    ]
    assert 3.6 * sum(gained) / len(gained) == pytest.approx(1.0, abs=0.05)


def test_a_step_of_grip_says_what_it_is_worth(ranking: StudyJob) -> None:
    assert ranking.ranking is not None
    row = next(one for one in ranking.ranking.rows if one.axis == "grip")
    assert row.said.endswith("more, 1.0 km/h")


def test_what_is_best_over_a_session_is_the_least_mean_of_its_moments(plan: PlanDocument) -> None:
    moments = [(1.0, (("wetness_pct", 0.0),)), (3.0, (("wetness_pct", 45.0),))]
    wanted = SearchRequest(axes=["compound"])
    job = driven_alone(plan, search_course(plan, wanted, moments=moments))
    search = job.search
    assert search is not None
    assert search.moments == 2
    for one in search.found:
        times = [
            predict_lap(put(plan, (*as_settings(one.settings), *settings))).lap_time_s
            for _, settings in moments
        ]
        assert one.session_s == pytest.approx((times[0] + 3.0 * times[1]) / 4.0, abs=1e-6)
        assert one.worst_s == pytest.approx(max(times), abs=1e-6)
    means = [one.session_s for one in search.found if one.session_s is not None]
    assert means == sorted(means)
    assert search.found[0].said == ["Rain"]
    assert "Over 2 moments of the forecasts" in search.said[-1]
    assert "Session mean [s]" in table_csv(job).splitlines()[0]


def test_a_study_that_nobody_looks_at_gives_way(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    course = sweep_course(plan, SweepRequest(axis="grip", count=61))
    begun = [jobs.start(1, plan, course) for _ in range(UNDER_WAY_MOST)]
    with pytest.raises(InputRefused, match="studies are running"):
        jobs.start(1, plan, course)
    for one in begun:
        jobs._jobs[one.id].unseen_s = ABANDONED_AFTER_S
    last = jobs.start(1, plan, course)
    assert [jobs.look(one.id).state for one in begun] == ["cancelled"] * UNDER_WAY_MOST
    assert jobs.look(last.id).state == "running"
    jobs.stop()


def test_a_study_ends_by_itself_when_nobody_looks(plan: PlanDocument) -> None:
    jobs = StudyJobs(None)
    course = sweep_course(plan, SweepRequest(axis="grip", count=61))
    begun = jobs.start(1, plan, course)
    jobs._jobs[begun.id].unseen_s = ABANDONED_AFTER_S - 0.01
    until = time.monotonic() + 60.0
    while jobs._jobs[begun.id].told.state == "running" and time.monotonic() < until:
        time.sleep(0.02)
    assert jobs._jobs[begun.id].told.state == "cancelled"
    # What stood still meanwhile is not held against whoever looks.
    other = jobs.start(1, plan, course)
    jobs._jobs[other.id].checked_at -= 600.0
    assert jobs.look(other.id).state == "running"
    jobs.cancel(other.id)


def test_a_long_task_learns_from_its_ticket_that_it_is_not_wanted() -> None:
    shared = [0] * TICKETS
    solvers = Solvers(cast(ProcessPoolExecutor, None), (), shared)
    first, second = solvers.ticket(), solvers.ticket()
    processes._shared = shared
    try:
        assert not stopped_by(first)()
        solvers.end(first)
        assert stopped_by(first)()
        assert not stopped_by(second)()
        assert not stopped_by(None)()
    finally:
        processes._shared = None
