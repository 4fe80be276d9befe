"""Edits of a car by what is meant, in any order: what comes out is a car, or nothing changed."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_records import vehicle_record
from neapfrost.services.cars.edits import NAMED_BY, CarEdit, edited_plan

TABLES = ("wings", "gear_sets", "compounds", "setups")


def demo(plan_id: str) -> PlanDocument:
    plan = demo_plan(plan_id)
    assert plan is not None
    return plan.document


@pytest.fixture(scope="module")
def k4() -> PlanDocument:
    return demo("k4-dry")


def edited(plan: PlanDocument, **edit: object) -> PlanDocument:
    return edited_plan(plan, TypeAdapter[CarEdit](CarEdit).validate_python(edit))


def refusal(plan: PlanDocument, **edit: object) -> str:
    with pytest.raises(InputRefused) as refused:
        edited(plan, **edit)
    return str(refused.value)


def names(plan: PlanDocument, table: str) -> list[str]:
    return [row.name for row in getattr(plan.car, table)]


@st.composite
def edits(draw: st.DrawFn) -> dict[str, Any]:
    """An edit as the page would send it, more often than not of something that is there."""
    row = st.integers(-1, 4)
    table = st.sampled_from(TABLES)
    name = st.sampled_from(["High", "Low", "Setup 1", "Step 2", "Wet", "Öre", "x" * 80])
    number = st.floats(0.2, 20_000.0)
    kinds: list[st.SearchStrategy[dict[str, Any]]] = [
        st.fixed_dictionaries({"op": st.just("setup"), "name": st.one_of(st.none(), name)}),
        st.fixed_dictionaries({"op": st.just("add_row"), "table": table}),
        st.fixed_dictionaries({"op": st.just("remove_row"), "table": table, "row": row}),
        st.fixed_dictionaries(
            {"op": st.just("rename_row"), "table": table, "row": row, "name": name}
        ),
        st.fixed_dictionaries(
            {
                "op": st.just("set_in_row"),
                "table": st.just("setups"),
                "row": row,
                "field": st.sampled_from([*NAMED_BY.values(), "brake_front_fraction", "name"]),
                "value": st.one_of(st.none(), name, st.floats(-0.5, 1.5)),
            }
        ),
        st.fixed_dictionaries({"op": st.just("add_gear")}),
        st.fixed_dictionaries(
            {"op": st.just("ratio"), "gear": row, "value": st.one_of(st.none(), number)}
        ),
        st.fixed_dictionaries({"op": st.just("add_torque_point")}),
        st.fixed_dictionaries({"op": st.just("remove_torque_point"), "point": row}),
        st.fixed_dictionaries(
            {"op": st.just("torque_point"), "point": row, "rpm": number, "torque_nm": number}
        ),
        st.fixed_dictionaries(
            {
                "op": st.just("record"),
                "setup": row,
                "key": st.sampled_from(["front bar", "clicks"]),
                "text": st.sampled_from(["", "3", "soft"]),
            }
        ),
    ]
    return draw(st.one_of(kinds))


@given(st.lists(edits(), max_size=12))
def test_whatever_is_edited_the_plan_can_be_kept_or_says_what_is_wrong(
    sequence: list[dict[str, Any]],
) -> None:
    plan, told = demo("k4-dry"), list[Fault]()
    for edit in sequence:
        before = plan.model_dump_json()
        try:
            after = edited(plan, **edit)
            # What an edit makes is kept only if a plan of it can be read back.
            assert plan_from_object(after.model_dump(mode="json")) == after
        except InputRefused as refused:
            told += refused.faults
            assert plan.model_dump_json() == before
            continue
        plan = after
        for table in TABLES:
            assert len(set(names(plan, table))) == len(names(plan, table))
        assert plan.setup is None or plan.setup in names(plan, "setups")
    assert all(fault.path.startswith(("car", "setup")) and fault.message for fault in told)


@given(st.lists(edits(), max_size=6))
def test_nothing_but_the_car_the_setup_and_the_tyres_is_touched(
    sequence: list[dict[str, Any]],
) -> None:
    first = demo("k4-dry")
    plan = first
    for edit in sequence:
        try:
            plan = edited(plan, **edit)
        except InputRefused:
            continue
    assert plan.circuit == first.circuit
    assert plan.driver == first.driver
    assert plan.conditions == first.conditions
    assert plan.car.name == first.car.name


@pytest.mark.parametrize("table", TABLES)
def test_a_row_added_and_taken_away_again_leaves_no_trace(k4: PlanDocument, table: str) -> None:
    more = edited(k4, op="add_row", table=table)
    assert len(names(more, table)) == len(names(k4, table)) + 1
    assert names(more, table)[-1] not in names(k4, table)
    row = len(names(k4, table))
    assert edited(more, op="remove_row", table=table, row=row) == k4


@pytest.mark.parametrize("table", ["wings", "gear_sets", "compounds"])
def test_a_name_is_changed_everywhere_it_is_used(k4: PlanDocument, table: str) -> None:
    field = NAMED_BY[table]
    plan = edited(k4, op="add_row", table=table)
    plan = edited(plan, op="add_row", table="setups")
    plan = edited(plan, op="add_row", table="setups")
    last, users = len(names(plan, table)) - 1, len(plan.car.setups)
    own = names(plan, table)[last]
    for row in range(users):
        plan = edited(plan, op="set_in_row", table="setups", row=row, field=field, value=own)
    plan = edited(plan, op="rename_row", table=table, row=last, name="Other")
    assert names(plan, table)[last] == "Other"
    assert {getattr(setup, field) for setup in plan.car.setups} == {"Other"}


def test_a_driven_setup_is_driven_on_under_its_new_name(k4: PlanDocument) -> None:
    plan = edited(k4, op="add_row", table="setups")
    own = names(plan, "setups")[-1]
    plan = edited(plan, op="setup", name=own)
    row = len(plan.car.setups) - 1
    plan = edited(plan, op="rename_row", table="setups", row=row, name="Sunday")
    assert plan.setup == "Sunday"
    plan = edited(plan, op="remove_row", table="setups", row=row)
    assert plan.setup is None


def test_a_setup_added_is_like_the_one_that_is_driven(k4: PlanDocument) -> None:
    plan = edited(k4, op="add_row", table="setups")
    plan = edited(plan, op="record", setup=0, key="front bar", text="soft")
    plan = edited(plan, op="setup", name=names(plan, "setups")[0])
    more = edited(plan, op="add_row", table="setups").car.setups[-1]
    assert more.record == plan.car.setups[0].record
    assert more.record["front bar"] == "soft"
    cleared = edited(plan, op="record", setup=0, key="front bar", text="")
    assert cleared.car.setups[0].record == k4.car.setups[0].record


def test_another_car_comes_under_this_one_s_name_and_fuel(k4: PlanDocument) -> None:
    other = demo("garganey-samphire").car
    taken = edited(k4, op="replace", car=other.model_dump(mode="json"))
    assert taken.car.name == k4.car.name
    assert taken.car.fuel_kg == k4.car.fuel_kg
    assert taken.car.mass_kg == other.mass_kg
    assert taken.setup is None
    assert taken.circuit == k4.circuit


def test_a_gear_and_a_torque_point_go_on_from_the_last(k4: PlanDocument) -> None:
    ratios = k4.car.gearbox.ratios
    more = edited(k4, op="add_gear").car.gearbox.ratios
    assert more[:-1] == ratios
    assert 0.5 * ratios[-1] < more[-1] < ratios[-1]
    assert (
        edited(k4, op="ratio", gear=len(ratios) - 1, value=None).car.gearbox.ratios == (ratios[:-1])
    )
    curve = k4.car.engine.torque_curve
    longer = edited(k4, op="add_torque_point").car.engine.torque_curve
    assert longer[-1].rpm > curve[-1].rpm
    assert 0.0 < longer[-1].torque_nm < curve[-1].torque_nm


def test_a_share_of_the_brakes_ends_what_was_made_ideal(k4: PlanDocument) -> None:
    plan = edited(k4, op="add_row", table="setups")
    row = len(plan.car.setups) - 1
    ideal = edited(plan, op="set_in_row", table="setups", row=row, field="brakes_ideal", value=True)
    assert ideal.car.setups[row].brakes_ideal
    shared = edited(
        ideal, op="set_in_row", table="setups", row=row, field="brake_front_fraction", value=0.6
    )
    assert not shared.car.setups[row].brakes_ideal
    assert shared.car.setups[row].brake_front_fraction == 0.6


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (
            {"op": "remove_row", "table": "wings", "row": 99},
            "car.wings: 99 was given; there are ",
        ),
        (
            {"op": "rename_row", "table": "compounds", "row": -1, "name": "Wet"},
            "car.compounds: -1 was given; there are ",
        ),
        ({"op": "ratio", "gear": 9, "value": 1.0}, "car.gearbox.ratios: 9 was given"),
        ({"op": "ratio", "gear": 0, "value": -1.0}, "car.gearbox.ratios[0]: -1 was given; more"),
        (
            {"op": "torque_point", "point": 99, "rpm": 1.0},
            "car.engine.torque_curve: 99 was given; there are ",
        ),
        (
            {"op": "record", "setup": 99, "key": "bar", "text": "3"},
            "car.setups: 99 was given; there are ",
        ),
    ],
)
def test_what_is_not_there_is_refused_by_its_place(
    k4: PlanDocument, edit: dict[str, Any], said: str
) -> None:
    assert refusal(k4, **edit).startswith(said)


def test_a_field_that_a_row_has_not_is_named_with_those_it_has(k4: PlanDocument) -> None:
    plan = edited(k4, op="add_row", table="wings")
    for field in ("colour", "name"):
        said = refusal(plan, op="set_in_row", table="wings", row=0, field=field, value=1.0)
        assert said.startswith(f'car.wings[0]: "{field}" was given; one of ')
        assert "lift_area_m2" in said


def test_an_engine_keeps_a_curve(k4: PlanDocument) -> None:
    plan = edited(k4, op="torque_curve", points=[{"rpm": 3000.0, "torque_nm": 200.0}])
    plan = edited(plan, op="remove_torque_point", point=0)
    with pytest.raises(InputRefused, match=r"car\.engine\.torque_curve"):
        plan_from_object(plan.model_dump(mode="json"))


def test_downforce_over_speed_is_stated_and_scales_with_the_wing(k4: PlanDocument) -> None:
    points = [
        {"speed_ms": 20.0, "downforce_pct": 100.0, "drag_pct": 100.0, "front_shift": 0.0},
        {"speed_ms": 60.0, "downforce_pct": 80.0, "drag_pct": 100.0, "front_shift": 0.02},
    ]
    stated = edited(k4, op="air_table", points=points)
    assert [point.downforce_pct for point in stated.car.attitude.by_speed] == [100.0, 80.0]
    record = vehicle_record(stated.car)
    assert record.aero.by_speed == ((20.0, 1.0, 1.0, 0.0), (60.0, 0.8, 1.0, 0.02))
    assert edited(stated, op="air_table", points=[]).car.attitude.by_speed == []
    # A plan whose speeds do not rise is refused as a whole, at its place.
    value = stated.model_dump(mode="json")
    value["car"]["attitude"]["by_speed"][1]["speed_ms"] = 20.0
    with pytest.raises(InputRefused, match=r"by_speed\[1\].speed_ms: .* must rise from point"):
        plan_from_object(value)


@pytest.mark.parametrize(
    ("part", "field", "value"),
    [
        ("inertia", "engine_kgm2", -0.1),
        ("attitude", "downforce_lost_braking_pct_per_g", 90.0),
        ("tyres", "cornering_stiffness_front", 0.0),
        ("tyres", "front_reference_n", 0.0),
        ("tyres", "width_m", 2.0),
    ],
)
def test_figures_that_no_vehicle_has_are_refused_by_name(
    k4: PlanDocument, part: str, field: str, value: float
) -> None:
    document = k4.model_dump(mode="json")
    document["car"][part][field] = value
    with pytest.raises(InputRefused, match=rf"car\.{part}\.{field}: {value:g} was given"):
        plan_from_object(document)
