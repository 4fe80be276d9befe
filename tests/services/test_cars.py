"""A plan's car: setups in effect, edits kept, compared, its brakes, its curves and files."""

from typing import Any

import pytest
from pydantic import TypeAdapter

from neapfrost.core.car.quantity import Quantity
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.record import engine_work_j
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.car_document import CarDocument, StatedDocument
from neapfrost.formats.plan import CornerOrderDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_records import vehicle_record
from neapfrost.formats.plan_setup import in_effect, tyre_state_of
from neapfrost.formats.svg import ticks
from neapfrost.formats.torque_csv import read_torque_csv, write_torque_csv
from neapfrost.services.cars.areas import AreaQuestion, area_m2
from neapfrost.services.cars.brakes import plan_brake_study
from neapfrost.services.cars.build import QuickCar, built_car
from neapfrost.services.cars.compare import CarSide, comparison_csv, comparison_markdown
from neapfrost.services.cars.edits import CarEdit
from neapfrost.services.cars.plot_svg import plot_svg
from neapfrost.services.cars.plots import car_report, plot_csv
from neapfrost.services.laps.figures import Change, assumptions
from neapfrost.services.laps.predict import predict_lap, recall
from neapfrost.services.plans.car_edit import choose_new_car, compared_cars, edit_car
from neapfrost.services.plans.parts import content_of
from neapfrost.services.plans.workbench import OpenPlan, keep_changes, open_plan, undo
from neapfrost.store.database import Store, reading
from neapfrost.store.items import get_document


@pytest.fixture(scope="module")
def k4() -> PlanDocument:
    plan = demo_plan("k4-dry")
    assert plan is not None
    return plan.document


def with_setup(plan: PlanDocument, setup: str | None, **conditions: Any) -> PlanDocument:
    value = plan.model_dump(mode="json") | {"setup": setup}
    value["conditions"] |= conditions
    return plan_from_object(value)


def edited(store: Store, **edit: Any) -> OpenPlan:
    given: CarEdit = TypeAdapter(CarEdit).validate_python(edit)
    return edit_car(store, 1, open_plan(store, 1).revisions, given)


def test_a_setup_puts_its_wing_gears_brakes_and_ballast_in_their_places(k4: PlanDocument) -> None:
    low = with_setup(k4, "Low wing")
    driven = in_effect(low)
    assert driven.car.aero.lift_area_m2 == 1.85
    assert driven.car.gearbox.ratios == k4.car.gear_sets[1].ratios
    assert driven.car.gearbox.upshift_s == k4.car.gearbox.upshift_s
    assert driven.setup is None
    assert in_effect(driven) is driven
    value = low.model_dump(mode="json")
    value["car"]["setups"][1] |= {"ballast_kg": 20.0, "ballast_front_fraction": 1.0}
    value["car"]["setups"][1] |= {"fuel_kg": 12.0, "brake_front_fraction": 0.61}
    heavy = in_effect(plan_from_object(value)).car
    assert heavy.mass_kg == k4.car.mass_kg + 20.0
    front = (k4.car.front_weight_fraction * k4.car.mass_kg + 20.0) / heavy.mass_kg
    assert heavy.front_weight_fraction == pytest.approx(front)
    assert (heavy.fuel_kg, heavy.brakes.front_fraction) == (12.0, 0.61)


def test_less_wing_and_longer_gears_are_another_lap(k4: PlanDocument) -> None:
    dry, low = (predict_lap(with_setup(k4, name)) for name in ("Fen, dry", "Low wing"))
    assert low.lap_time_s > dry.lap_time_s
    assert low.top_speed_ms > dry.top_speed_ms
    assert min(c.min_speed_ms for c in low.corners) < min(c.min_speed_ms for c in dry.corners)


def test_tyres_warm_up_fade_and_suit_the_water(k4: PlanDocument) -> None:
    def lap(setup: str | None, **conditions: Any) -> float:
        return predict_lap(with_setup(k4, setup, **conditions), trace_points=5).lap_time_s

    new, out, second, worn = (
        lap("Fen, dry", track_temp_c=25.0, tyre_lap=number) for number in (None, 0, 2, 30)
    )
    assert out > worn > second == pytest.approx(new)
    assert lap("Fen, dry", track_temp_c=60.0) > new
    wet = {"wetness_pct": 80.0, "track_temp_c": 18.0}
    assert lap("Rain", **wet) < lap("Fen, dry", **wet)
    state = tyre_state_of(with_setup(k4, "Rain", **wet))
    assert state is not None
    assert state.water == pytest.approx(0.80)
    assert tyre_state_of(with_setup(k4, None)) is None
    # Without a compound the lap on the tyres changes nothing.
    assert lap(None, tyre_lap=0) == lap(None)


def test_what_a_setup_names_must_be_there(k4: PlanDocument) -> None:
    value = k4.model_dump(mode="json")
    value["car"]["setups"][0]["wing"] = "Step 9"
    value["car"]["wings"].append(value["car"]["wings"][0])
    value["car"]["compounds"][0] |= {"window_low_c": 50.0, "window_high_c": 40.0}
    value["car"]["compounds"][2]["wetness"][1]["wetness_pct"] = 0.0
    value["car"]["gear_sets"][0]["ratios"] = [1.0, 2.0]
    with pytest.raises(InputRefused) as refused:
        plan_from_object(value)
    paths = {fault.path for fault in refused.value.faults}
    assert paths == {
        "car.setups[0].wing",
        "car.wings[3].name",
        "car.compounds[0].window_high_c",
        "car.compounds[2].wetness",
        "car.gear_sets[0].ratios[1]",
    }
    with pytest.raises(InputRefused, match='"Snow" was given; the car has the setups: Fen, dry'):
        with_setup(k4, "Snow")


def test_choosing_a_setup_is_a_step_and_the_strip_changes_what_is_in_effect(store: Store) -> None:
    before = open_plan(store, 1)
    chosen = edited(store, op="setup", name="Low wing")
    assert chosen.plan.setup == "Low wing"
    assert chosen.assumptions.figures["lift_area_m2"] == 1.85
    assert chosen.result is not None
    assert before.result is not None
    assert chosen.result.lap_time_s != before.result.lap_time_s
    changed = keep_changes(store, 1, chosen.revisions, [Change(field="lift_area_m2", value=1.95)])
    wings = {wing.name: wing.lift_area_m2 for wing in changed.plan.car.wings}
    assert wings["Step 2"] == 1.95
    assert changed.plan.car.aero.lift_area_m2 == before.plan.car.aero.lift_area_m2
    undo(store, 1)
    assert undo(store, 1).plan.setup is None
    assert assumptions(open_plan(store, 1).plan) == before.assumptions


def test_a_setup_that_is_taken_away_is_chosen_no_more(store: Store) -> None:
    opened = edited(store, op="setup", name="Rain")
    assert edited(store, op="tyre_lap", lap=0).plan.conditions.tyre_lap == 0
    assert edited(store, op="tyre_lap", lap=None).plan.conditions.tyre_lap is None
    setups = opened.plan.car.setups
    opened = edited(store, op="remove_row", table="setups", row=2)
    assert opened.plan.setup is None
    assert opened.plan.car.setups == [*setups[:2], *setups[3:]]
    assert undo(store, 1).plan.car.setups == setups


def test_steps_say_what_was_done_to_the_car(store: Store) -> None:
    def said(**edit: Any) -> str:
        return edited(store, **edit).undo or ""

    assert said(op="setup", name="Low wing").startswith("Setup ")
    assert said(op="tyre_lap", lap=2) == "Tyres warm and new to lap 2"
    wing = {"table": "setups", "row": 1, "field": "wing", "value": "Step 8"}
    assert said(op="set_in_row", **wing) == "Low wing: wing Step 2 to Step 8"
    assert said(op="record", setup=1, key="Toe", text="2 mm in") == "Low wing: Toe recorded"
    named = {"op": "rename_row", "table": "setups", "row": 1, "name": "High wing"}
    assert said(**named) == "Setup Low wing named High wing"
    assert open_plan(store, 1).plan.setup == "High wing"
    assert said(op="remove_row", table="setups", row=2) == "Setup Rain removed"
    assert said(op="torque_point", point=0, torque_nm=190.0) == "Torque curve of 7 points"
    fade = {"table": "compounds", "row": 0, "field": "fade_pct", "value": 0.4}
    assert said(op="set_in_row", **fade).split(": ")[1].startswith("degradation ")


def test_a_renamed_row_takes_the_setups_along(store: Store) -> None:
    car = open_plan(store, 1).plan.car
    wing = car.setups[1].wing
    row = [one.name for one in car.wings].index(wing or "")
    after = edited(store, op="rename_row", table="wings", row=row, name="Flat").plan.car
    assert [setup.wing for setup in after.setups] == [
        "Flat" if setup.wing == wing else setup.wing for setup in car.setups
    ]


def test_rows_gears_and_points_are_added_as_is_usual(store: Store) -> None:
    car = open_plan(store, 1).plan.car
    for table in ("wings", "gear_sets", "compounds", "setups"):
        after = edited(store, op="add_row", table=table).plan.car
        rows = getattr(after, table)
        assert len(rows) == len(getattr(car, table)) + 1
        assert len({one.name for one in rows}) == len(rows)
    assert after.wings[-1].lift_area_m2 == car.wings[-1].lift_area_m2
    assert after.gear_sets[-1].ratios == car.gearbox.ratios
    assert after.compounds[-1].warm_up == [0.93, 0.98]
    geared = edited(store, op="add_gear").plan.car.gearbox.ratios
    assert geared == [*car.gearbox.ratios, pytest.approx(0.85 * car.gearbox.ratios[-1], abs=1e-3)]
    gone = edited(store, op="ratio", gear=len(geared) - 1, value=None).plan.car
    assert gone.gearbox.ratios == car.gearbox.ratios
    longer = edited(store, op="add_torque_point").plan.car.engine.torque_curve
    assert longer[-1].rpm == car.engine.torque_curve[-1].rpm + 500.0
    back = edited(store, op="remove_torque_point", point=len(longer) - 1).plan.car
    assert back.engine == car.engine


@pytest.mark.parametrize(
    ("edit", "why"),
    [
        ({"op": "ratio", "gear": 5, "value": 3.0}, "ratios must fall"),
        ({"op": "ratio", "gear": 19, "value": 3.0}, "19 was given; there are 6"),
        ({"op": "remove_row", "table": "wings", "row": 9}, "9 was given; there are 3"),
        (
            {"op": "set_in_row", "table": "wings", "row": 0, "field": "lift", "value": 1.0},
            '"lift" was given; one of lift_area_m2',
        ),
        (
            {"op": "set_in_row", "table": "setups", "row": 0, "field": "fuel_kg", "value": "much"},
            '"much" was given; a number is expected',
        ),
        (
            {"op": "set_in_row", "table": "setups", "row": 0, "field": "wing", "value": "Step 9"},
            '"Step 9" was given; the car has Step',
        ),
    ],
)
def test_a_car_that_is_no_car_is_refused_and_nothing_is_kept(
    store: Store, edit: dict[str, Any], why: str
) -> None:
    before = open_plan(store, 1)
    with pytest.raises(InputRefused, match=why):
        edited(store, **edit)
    assert open_plan(store, 1).revisions == before.revisions


def test_brakes_made_ideal_where_a_setup_has_its_own_share(store: Store) -> None:
    """The setup's brakes become ideal and the lap is the ideal one; the car's share stays."""
    edited(store, op="setup", name="Low wing")
    own = {"table": "setups", "row": 1, "field": "brake_front_fraction", "value": 0.7}
    shared = edited(store, op="set_in_row", **own)
    assert shared.assumptions.figures["brake_front_fraction"] == 0.7
    assert shared.assumptions.lives_in["brake_front_fraction"] == "setup Low wing"
    share = [Change(field="brake_front_fraction", value=None)]
    ideal = keep_changes(store, 1, shared.revisions, share)
    assert ideal.undo == "Brake bias (front) 0.7 to ideal"
    assert ideal.assumptions.figures["brake_front_fraction"] is None
    assert ideal.plan.car.brakes == shared.plan.car.brakes
    assert ideal.result is not None
    assert shared.result is not None
    assert ideal.result.lap_time_s < shared.result.lap_time_s - 0.01
    study = plan_brake_study(ideal.plan)
    assert study.front_share is None
    assert study.ideal_lap_s == pytest.approx(ideal.result.lap_time_s, abs=1e-9)
    again = [Change(field="brake_front_fraction", value=0.61)]
    back = keep_changes(store, 1, ideal.revisions, again).plan.car.setups[1]
    assert (back.brake_front_fraction, back.brakes_ideal) == (0.61, False)


def test_the_brake_study_drives_what_is_asked_at_corners(k4: PlanDocument) -> None:
    """Its laps are the plan's own with another share: like is compared with like."""
    asked = CornerOrderDocument(corner=0, name="Sluice", braking=0.6)
    plan = k4.model_copy(update={"corners": [asked]})
    study = plan_brake_study(plan)
    own = plan.car.brakes.model_copy(update={"front_fraction": None})
    ideal = plan.model_copy(update={"car": plan.car.model_copy(update={"brakes": own})})
    assert study.ideal_lap_s == pytest.approx(predict_lap(ideal).lap_time_s, abs=1e-9)
    assert (study.ideal_lap_s or 0.0) > (plan_brake_study(k4).ideal_lap_s or 0.0) + 0.1


def test_each_difference_alone_and_all_together(store: Store) -> None:
    found = compared_cars(store, 1, CarSide(setup="Fen, dry"), CarSide(setup="Low wing"))
    effects = {one.group: one.lap_s for one in found.effects}
    assert set(effects) == {"Wing and body", "Gears"}
    assert found.together_s == pytest.approx(found.b_lap_s - found.a_lap_s)
    assert found.comparison.corners is not None
    assert sum(c.time_s for c in found.comparison.corners) == pytest.approx(
        found.together_s, abs=2e-3
    )
    # Each alone is the lap of a car with that alone.
    plan = with_setup(open_plan(store, 1).plan, "Fen, dry")
    value = plan.model_dump(mode="json")
    value["car"]["setups"][0]["wing"] = "Step 2"
    alone = recall(plan_from_object(value), None).result.lap_time_s
    assert effects["Wing and body"] == pytest.approx(alone - found.a_lap_s, abs=1e-9)
    records = {one.place for one in found.differences if not one.computed}
    assert records == {"Springs rear", "Bar front"}
    computed = {one.place for one in found.differences if one.computed}
    assert "Downforce (m² ClA)" in computed
    text = comparison_csv(found)
    assert "Springs rear,160 N/mm,150 N/mm,not modelled" in text
    markdown = comparison_markdown(found)
    assert "| Springs rear (not modelled) | 160 N/mm | 150 N/mm |" in markdown
    assert f"| All together | {found.together_s:+.3f} |" in markdown


def test_a_revision_is_compared_with_now(store: Store) -> None:
    base = open_plan(store, 1)
    keep_changes(store, 1, base.revisions, [Change(field="mass_kg", value=720.0)])
    found = compared_cars(store, 1, CarSide(revision=1), CarSide())
    assert [one.group for one in found.effects] == ["Mass"]
    assert found.effects[0].lap_s == pytest.approx(found.together_s)
    assert found.together_s > 0.0
    assert [(d.a, d.b) for d in found.differences] == [("690", "720")]
    with pytest.raises(InputRefused):
        compared_cars(store, 1, CarSide(), CarSide(setup="none such"))


def test_fuel_is_the_engine_s_work_or_as_stated(k4: PlanDocument) -> None:
    result = predict_lap(k4)
    lap = recall(k4, None).driven.lap
    work = engine_work_j(lap, k4.car.engine.efficiency)
    assert result.fuel_kg == pytest.approx(work / 3.6e6 * 0.290)
    # No more than full power all the lap, no less than drag alone takes.
    assert result.fuel_kg < 200e3 * result.lap_time_s / 3.6e6 * 0.290
    assert result.fuel_litres == pytest.approx(result.fuel_kg / 0.745)
    value = k4.model_dump(mode="json")
    value["car"]["fuel_use"]["litres_per_lap"] = 1.9
    assert predict_lap(plan_from_object(value)).fuel_litres == pytest.approx(1.9)


def test_the_brake_study_finds_the_quickest_and_the_safe_share(k4: PlanDocument) -> None:
    study = plan_brake_study(k4)
    assert study.front_share == k4.car.brakes.front_fraction
    assert study.best is not None
    assert study.safe is not None
    assert {zone.locks_first for zone in study.zones} == {"rear"}
    costs = {cost.front_share: cost.cost_s for cost in study.costs}
    assert min(costs.values()) == costs[study.best] == 0.0
    value = k4.model_dump(mode="json")
    value["car"]["brakes"]["front_fraction"] = study.best
    again = predict_lap(plan_from_object(value), trace_points=5)
    lap = next(cost.lap_time_s for cost in study.costs if cost.front_share == study.best)
    assert again.lap_time_s == pytest.approx(lap, abs=2e-3)
    value["car"]["brakes"]["front_fraction"] = round(study.safe + 0.001, 4)
    safe = plan_brake_study(plan_from_object(value))
    assert {zone.locks_first for zone in safe.zones} == {"front"}
    assert study.ideal_lap_s is not None
    assert study.ideal_lap_s < lap + 1e-3


def test_every_plot_is_finite_and_goes_out_as_text_and_picture(k4: PlanDocument) -> None:
    report = car_report(k4)
    plots = [one.plot for one in report.plots]
    assert plots == [
        "gears",
        "forces",
        "envelope",
        "acceleration",
        "braking",
        "grip",
        "balance",
        "brakes",
    ]
    for data in report.plots:
        for series in data.series:
            assert len(series.x) == len(series.y)
            assert series.part is None or len(series.part) == len(series.x)
        lines = plot_csv(data).splitlines()
        assert len(lines) == 1 + sum(len(series.x) for series in data.series)
        picture = plot_svg(data)
        assert picture.count("<path") >= len(data.series)
        assert "nan" not in picture
    assert [one.gear for one in report.gears] == [1, 2, 3, 4, 5, 6]
    assert report.figures.to_slow_s is not None
    assert report.figures.to_fast_s is not None
    assert report.figures.to_slow_s < report.figures.to_fast_s
    assert ticks(0.0, 1.0) == [0.0, 0.2, 0.4, 0.6, 0.8, 1.0]


def test_a_quick_car_is_kept_as_a_new_one_and_driven(store: Store) -> None:
    built = built_car(
        QuickCar(
            name="Teal GT",
            power_rpm=6500.0,
            tyre_code="225/45 R17",
            stated=[
                StatedDocument(quantity=Quantity("mass_kg"), value=1180.0),
                StatedDocument(quantity=Quantity("peak_power_w"), value=190_000.0),
                StatedDocument(quantity=Quantity("top_speed_ms"), value=250.0 / 3.6),
                StatedDocument(quantity=Quantity("time_to_speed_s"), value=5.4, at=100.0 / 3.6),
                StatedDocument(quantity=Quantity("lateral_slow_g"), value=1.02),
                StatedDocument(quantity=Quantity("braking_distance_m"), value=35.0, at=100.0 / 3.6),
            ],
        )
    )
    assert built.contradictions == []
    assert max(abs(row.misfit_pct) for row in built.rows) < 2.0
    assert "Typical values assumed" in built.car.note
    opened = choose_new_car(store, 1, open_plan(store, 1).revisions, built.car)
    assert opened.car.name == "Teal GT"
    assert opened.result is not None
    assert 95.0 < opened.result.lap_time_s < 125.0
    assert undo(store, 1).car.name == "Kittiwake K4"
    with pytest.raises(InputRefused, match="the limit lies above"):
        built_car(QuickCar(power_rpm=7000.0, rev_limit_rpm=6000.0))


@pytest.mark.parametrize(
    "text",
    [
        "rpm,torque_nm\n2000,180\n4000,220.5\n6500,190\n",
        "2000;180\n4000;220,5\n6500;190",
        "2000\t180\n4000\t220.5\n\n6500\t190\n",
        "2000 180\n4000 220.5\n6500 190",
    ],
)
def test_torque_is_read_from_text(text: str) -> None:
    points = read_torque_csv(text)
    assert [(p.rpm, p.torque_nm) for p in points] == [(2000, 180), (4000, 220.5), (6500, 190)]
    assert read_torque_csv(write_torque_csv(points)) == points


def test_torque_is_read_from_power_and_other_units() -> None:
    (first, _) = read_torque_csv("rpm;kW\n3000;100\n6000;180")
    assert first.torque_nm == pytest.approx(100_000 / (3000 * 0.1047197551), rel=1e-6)
    (first, _) = read_torque_csv("rpm,lb ft\n3000,100\n6000,90")
    assert first.torque_nm == pytest.approx(135.58, abs=0.01)


@pytest.mark.parametrize(
    ("text", "path", "said"),
    [
        ("", "torque_curve", "nothing was given"),
        ("2000,180", "torque_curve", "1 points"),
        ("2000,180\n1500,200", "line 2, column 1", "must rise"),
        ("2000,180\n3000,lots", "line 2, column 2", "not a number"),
        ("2000,180\n3000", "line 2", "not rpm and torque"),
        ("2000,180\n3000,-5", "line 2", "above 0"),
    ],
)
def test_bad_torque_is_refused_with_its_line(text: str, path: str, said: str) -> None:
    with pytest.raises(InputRefused, match=said) as refused:
        read_torque_csv(text)
    assert refused.value.faults[0].path == path


def test_a_rider_moves_the_height_of_both(k4: PlanDocument) -> None:
    value = k4.car.model_dump() | {"cg_height_m": 0.3, "driver_height_m": 0.5}
    record = vehicle_record(CarDocument.model_validate(value))
    mass, driver = k4.car.mass_kg, k4.car.driver_kg
    assert record.cg_height_m == pytest.approx((mass * 0.3 + driver * 0.5) / (mass + driver))
    assert vehicle_record(k4.car).cg_height_m == k4.car.cg_height_m


def test_a_rolling_radius_may_be_typed_itself() -> None:
    assert built_car(QuickCar(tyre_code="0,305")).car.tyres.rolling_radius_m == 0.305
    with pytest.raises(InputRefused, match="m was given; 0"):
        built_car(QuickCar(tyre_code="3.1"))


def test_areas_from_a_force_or_a_coefficient() -> None:
    force_kg = 1200.0 / STANDARD_GRAVITY_MS2
    assert area_m2(AreaQuestion(force_kg=force_kg, speed_ms=50.0)) == pytest.approx(0.8)
    assert area_m2(AreaQuestion(coefficient=0.32, frontal_area_m2=2.0)) == pytest.approx(0.64)
    assert area_m2(AreaQuestion(force_kg=force_kg)) is None


def test_cars_kept_before_there_were_setups_still_open(store: Store) -> None:
    with reading(store) as session:
        old = get_document(session, "car", open_plan(store, 1).car.id)
    for new in ("wings", "gear_sets", "compounds", "setups", "fuel_use"):
        old.pop(new)
    car = CarDocument.model_validate(old)
    assert car.setups == []
    assert content_of("car", car.model_dump(mode="json")).name == car.name
