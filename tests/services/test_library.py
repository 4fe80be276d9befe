"""What is kept: found, copied, deleted, brought back; documents in and out."""

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plan, demo_plans
from neapfrost.services.laps.figures import Change
from neapfrost.services.plans.collection import (
    NewPlan,
    add_plan,
    delete,
    duplicate,
    restore,
)
from neapfrost.services.plans.exchange import import_once, import_plan, kept_plan, kept_plans
from neapfrost.services.plans.listing import listed
from neapfrost.services.plans.workbench import keep_changes, open_plan, undo
from neapfrost.store.database import Store
from neapfrost.store.items import NotThere


def test_plans_are_found_by_their_parts_as_well(store: Store) -> None:
    def names(search: str) -> list[str]:
        return [plan.name for plan in listed(store, "plan", search)]

    assert len(names("")) == 4
    assert sorted(names("garganey")) == ["Garganey Coupé, damp", "Garganey Coupé, dry"]
    assert names("FEN damp") == ["Garganey Coupé, damp"]
    assert names("nothing of the kind") == []


def test_each_kind_is_listed_with_what_one_chooses_it_by(store: Store) -> None:
    cars = {car.name: car for car in listed(store, "car")}
    assert cars["Kittiwake K4"].mass_kg == 690.0
    assert cars["Kittiwake K4"].peak_power_kw == pytest.approx(197.5, abs=0.1)
    assert sorted(cars["Garganey Coupé"].used_by) == ["Garganey Coupé, damp", "Garganey Coupé, dry"]
    circuit = listed(store, "circuit")[0]
    assert (circuit.corner_count, circuit.closed) == (11, True)
    assert circuit.length_m == pytest.approx(3988.0, abs=1.0)
    damp = next(item for item in listed(store, "conditions") if item.wetness_pct)
    assert damp.wetness_pct == 30.0
    plan = listed(store, "plan", "k4 qualifying")[0]
    assert plan.lap_time_s == pytest.approx(99.09, abs=0.01)


def test_the_list_tells_the_laps_as_they_are_and_what_was_worked_on_last(store: Store) -> None:
    before = {plan.id: plan.lap_time_s for plan in listed(store, "plan")}
    keep_changes(store, 1, open_plan(store, 1).revisions, [Change(field="grip", value=1.4)])
    plans = listed(store, "plan")
    assert plans[0].id == 1
    after = {plan.id: plan.lap_time_s for plan in plans}
    # The second plan drives the same car; nothing was done to it itself.
    for number in (1, 2):
        result = open_plan(store, number).result
        assert result is not None
        assert after[number] == pytest.approx(result.lap_time_s)
        assert result.lap_time_s > (before[number] or 0.0) + 1.0
    assert (after[3], after[4]) == (before[3], before[4])
    undo(store, 1)
    assert {plan.id: plan.lap_time_s for plan in listed(store, "plan")} == pytest.approx(before)


def test_a_copy_shares_its_parts_unless_it_is_to_have_its_own(store: Store) -> None:
    shared, own = duplicate(store, "plan", 1), duplicate(store, "plan", 1, own_parts=True)
    assert open_plan(store, shared).name == "Kittiwake K4, dry, qualifying fuel, copy"
    assert open_plan(store, own).name == "Kittiwake K4, dry, qualifying fuel, copy 2"
    keep_changes(store, 1, open_plan(store, 1).revisions, [Change(field="grip", value=1.4)])
    assert open_plan(store, shared).assumptions.figures["grip"] == 1.4
    assert open_plan(store, own).assumptions.figures["grip"] == 1.52
    assert open_plan(store, own).car.name == "Kittiwake K4, copy"
    assert open_plan(store, own).car.also_in == []
    car = duplicate(store, "car", 1)
    assert {item.id: item.name for item in listed(store, "car")}[car] == "Kittiwake K4, copy 2"


def test_what_a_plan_stands_on_cannot_be_deleted(store: Store) -> None:
    with pytest.raises(InputRefused, match='"Garganey Coupé" is used by "Garganey Coupé, damp"'):
        delete(store, "car", 2)
    for plan in listed(store, "plan", "garganey"):
        delete(store, "plan", plan.id)
    delete(store, "car", 2)
    assert [car.name for car in listed(store, "car")] == ["Kittiwake K4"]
    assert [car.name for car in listed(store, "car", deleted=True)] == ["Garganey Coupé"]


def test_a_plan_comes_back_with_its_parts(store: Store) -> None:
    plans = [plan.id for plan in listed(store, "plan", "garganey")]
    for plan_id in plans:
        delete(store, "plan", plan_id)
    delete(store, "car", 2)
    with pytest.raises(NotThere, match="was deleted; restore it"):
        open_plan(store, plans[0])
    restore(store, "plan", plans[0])
    assert open_plan(store, plans[0]).car.name == "Garganey Coupé"
    assert len(listed(store, "car")) == 2


def test_a_plan_is_made_of_kept_parts(store: Store) -> None:
    plan_id = add_plan(
        store, NewPlan(name="Heavy", car_id=2, circuit_id=1, conditions_id=1, fuel_kg=60.0)
    )
    state = open_plan(store, plan_id)
    assert (state.name, state.car.name, state.assumptions.figures["fuel_kg"]) == (
        "Heavy",
        "Garganey Coupé",
        60.0,
    )
    with pytest.raises(NotThere, match="no circuit 9"):
        add_plan(store, NewPlan(name="X", car_id=1, circuit_id=9, conditions_id=1))
    with pytest.raises(InputRefused, match="the name is empty"):
        add_plan(store, NewPlan(name=" ", car_id=1, circuit_id=1, conditions_id=1))


def test_every_demo_plan_goes_in_and_comes_out_the_same(store: Store) -> None:
    for demo in demo_plans():
        kept = import_plan(store, demo.document)
        assert kept_plan(store, kept.plan_id) == demo.document
    assert len(kept_plans(store)) == len(demo_plans())
    assert len(listed(store, "circuit")) == 5
    assert len(listed(store, "car")) == 6


def test_the_same_content_twice_is_recognised(store: Store) -> None:
    demo = demo_plan("k4-dry")
    assert demo is not None
    again = import_plan(store, demo.document)
    assert (again.plan_id, again.outcome) == (1, "known")
    assert len(listed(store, "plan")) == 4


def test_a_part_known_at_an_older_revision_is_pinned_there(store: Store) -> None:
    demo = demo_plan("k4-dry")
    assert demo is not None
    keep_changes(store, 1, open_plan(store, 1).revisions, [Change(field="grip", value=1.4)])
    kept = import_plan(store, demo.document)
    assert kept.outcome == "made"
    state = open_plan(store, kept.plan_id)
    assert (state.car.id, state.car.revision, state.car.pinned) == (1, 1, True)
    assert state.plan == demo.document
    assert len(listed(store, "car")) == 2


def test_a_part_without_a_name_gets_one_that_says_what_it_is(store: Store) -> None:
    demo = demo_plan("garganey-damp")
    assert demo is not None
    nameless = demo.document.model_copy(
        update={
            "name": "",
            "conditions": demo.document.conditions.model_copy(
                update={"name": "", "wetness_pct": 40.0}
            ),
        }
    )
    state = open_plan(store, import_plan(store, nameless).plan_id)
    assert state.name == "Imported plan"
    assert state.conditions.name == "Air 9 °C, 40 % wet, wind 4 m/s"


def test_a_plan_that_cannot_be_driven_is_not_kept(store: Store) -> None:
    demo = demo_plan("dunlin-hill")
    assert demo is not None
    value = demo.document.model_dump(mode="json")
    value["car"]["tyres"]["mu_longitudinal"] = 0.05
    from neapfrost.formats.plan_file import plan_from_object

    with pytest.raises(InputRefused, match="comes to a stop"):
        import_plan(store, plan_from_object(value))
    assert len(listed(store, "plan")) == 4
    assert "Dunlin 16" not in [car.name for car in listed(store, "car")]


def test_seeding_is_done_once_and_leaves_later_work_alone(store: Store) -> None:
    documents = [(plan.id, plan.document) for plan in demo_plans()[1:6]]
    assert import_once(store, "demo", documents) == 1  # four are there by content
    keep_changes(store, 1, open_plan(store, 1).revisions, [Change(field="grip", value=1.4)])
    delete(store, "plan", 2)
    assert import_once(store, "demo", documents) == 0
    assert len(listed(store, "plan")) == 4
