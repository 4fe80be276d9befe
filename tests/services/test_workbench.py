"""A plan worked on: kept, undone, redone, pinned, compared, and never overwritten unseen."""

import itertools

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import said as in_units
from neapfrost.formats.result import Revisions
from neapfrost.services.laps.figures import Change
from neapfrost.services.plans.collection import duplicate, revisions_of
from neapfrost.services.plans.conflicts import Conflicting
from neapfrost.services.plans.history import history
from neapfrost.services.plans.workbench import (
    Choice,
    choose,
    drop_baseline,
    keep_changes,
    open_plan,
    pin_baseline,
    plan_at,
    predict_at,
    redo,
    undo,
)
from neapfrost.store.database import Store, close_store, open_store
from neapfrost.store.items import NotThere

DRY, WINDY = 1, 2  # both on the Kittiwake and on Sallow Fen


def grip(value: float) -> Change:
    return Change(field="grip", value=value)


def test_letting_go_of_a_figure_makes_one_revision_of_what_it_belongs_to(store: Store) -> None:
    before = open_plan(store, DRY)
    assert before.revisions == Revisions(car=1, circuit=1, conditions=1, plan=1)
    after = keep_changes(store, DRY, before.revisions, [grip(1.42)])
    assert after.revisions == Revisions(car=2, circuit=1, conditions=1, plan=1)
    assert after.undo == "Grip 1.52 to 1.42"
    assert after.assumptions.figures["grip"] == 1.42
    assert after.result is not None
    assert after.result.revisions == after.revisions
    assert [r.remark for r in revisions_of(store, "car", 1)] == ["Grip 1.52 to 1.42", "Imported"]


def test_each_figure_goes_to_its_own_document(store: Store) -> None:
    changes = [
        grip(1.5),
        Change(field="fuel_kg", value=20.0),
        Change(field="wind_speed_ms", value=6.0),
        Change(field="radius_m", corner="Sluice", value=30.0),
        Change(field="cornering_use", value=0.95),
        Change(field="mass_kg", value=700.0),
    ]
    after = keep_changes(store, DRY, open_plan(store, DRY).revisions, changes)
    assert after.revisions == Revisions(car=2, circuit=2, conditions=2, plan=2)
    labels = [in_units(step.label) for step in history(store, DRY)]
    assert labels == [
        "Radius of Sluice 27 to 30 m",
        "Wind 4 to 6 m/s",
        "Fuel 31 to 20 kg; Grip used in corners 0.98 to 0.95",
        "Grip 1.52 to 1.5; Mass 690 to 700 kg",
        "Imported",
    ]
    steps = list(reversed(history(store, DRY)))
    for earlier, later in itertools.pairwise(steps):
        assert earlier.lap_time_s is not None
        assert later.lap_time_s is not None
        assert later.worth_s == pytest.approx(later.lap_time_s - earlier.lap_time_s)


def test_a_figure_that_ends_where_it_began_makes_no_revision(store: Store) -> None:
    before = open_plan(store, DRY)
    after = keep_changes(store, DRY, before.revisions, [grip(1.52)])
    assert after.revisions == before.revisions
    assert after.undo is None


def test_a_refused_change_keeps_nothing_of_its_company(store: Store) -> None:
    before = open_plan(store, DRY)
    with pytest.raises(InputRefused, match="mu_lateral: -1 was given"):
        keep_changes(store, DRY, before.revisions, [Change(field="fuel_kg", value=9.0), grip(-1.0)])
    assert open_plan(store, DRY).revisions == before.revisions


def test_plans_follow_the_newest_revision_of_what_they_share(store: Store) -> None:
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    windy = open_plan(store, WINDY)
    assert windy.revisions.car == 2
    assert windy.assumptions.figures["grip"] == 1.42
    assert windy.undo is None
    assert windy.car.also_in == ["Kittiwake K4, dry, qualifying fuel"]


def test_a_pinned_part_stays_and_says_why_it_cannot_be_changed(store: Store) -> None:
    pinned = choose(store, WINDY, open_plan(store, WINDY).revisions, Choice(pins={"car": 1}))
    assert pinned.undo == "Kittiwake K4 pinned at 1"
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    windy = open_plan(store, WINDY)
    assert (windy.car.revision, windy.car.newest, windy.car.pinned) == (1, 2, True)
    assert windy.assumptions.figures["grip"] == 1.52
    with pytest.raises(InputRefused, match='"Kittiwake K4" is pinned at revision 1 in this plan'):
        keep_changes(store, WINDY, windy.revisions, [grip(1.6)])
    free = choose(store, WINDY, windy.revisions, Choice(pins={"car": None}))
    assert free.assumptions.figures["grip"] == 1.42
    assert free.undo == "Kittiwake K4 follows its newest revision"
    with pytest.raises(NotThere, match="no revision 9 of car 1"):
        choose(store, WINDY, free.revisions, Choice(pins={"car": 9}))


def test_a_write_on_an_old_state_is_refused_and_says_what_changed(store: Store) -> None:
    old = open_plan(store, DRY).revisions
    keep_changes(store, DRY, old, [grip(1.42), Change(field="wetness_pct", value=10.0)])
    with pytest.raises(Conflicting, match="has been changed since this page read it") as caught:
        keep_changes(store, DRY, old, [Change(field="mass_kg", value=700.0)])
    conflict = caught.value.conflict
    assert conflict.reason == "stale"
    assert conflict.revisions == open_plan(store, DRY).revisions
    assert "Grip: 1.52 to 1.42" in conflict.changes
    assert "Wetness: 0 to 10 %" in conflict.changes
    # On the new state the same change goes through, and both are there.
    merged = keep_changes(store, DRY, conflict.revisions, [Change(field="mass_kg", value=700.0)])
    assert (merged.assumptions.figures["grip"], merged.assumptions.figures["mass_kg"]) == (
        1.42,
        700.0,
    )


def test_undo_and_redo_go_across_documents_and_survive_a_restart(store: Store) -> None:
    first = open_plan(store, DRY)
    state = first
    for change in (
        grip(1.42),
        Change(field="fuel_kg", value=20.0),
        Change(field="radius_m", corner="Sluice", value=30.0),
        Change(field="wind_speed_ms", value=0.0),
    ):
        state = keep_changes(store, DRY, state.revisions, [change])
    last = state
    close_store(store)
    store = open_store(store.path.parent)
    for label in ("Wind 4 to 0 m/s", "Radius of Sluice 27 to 30 m", "Fuel 31 to 20 kg"):
        assert in_units(open_plan(store, DRY).undo or "") == label
        state = undo(store, DRY)
        assert in_units(state.redo or "") == label
    state = undo(store, DRY)
    assert state.undo is None
    assert state.plan == first.plan
    assert state.result is not None
    assert first.result is not None
    assert state.result.lap_time_s == first.result.lap_time_s
    close_store(store)
    store = open_store(store.path.parent)
    for _ in range(4):
        state = redo(store, DRY)
    assert state.redo is None
    assert state.plan == last.plan
    with pytest.raises(InputRefused, match="there is nothing to redo"):
        redo(store, DRY)
    close_store(store)


def test_undo_writes_a_new_revision_and_overwrites_none(store: Store) -> None:
    kept = keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    undone = undo(store, DRY)
    assert undone.revisions.car == 3
    assert plan_at(store, DRY, kept.revisions).car.tyres.mu_lateral == 1.42
    assert [r.number for r in revisions_of(store, "car", 1)] == [3, 2, 1]


def test_a_new_change_after_undo_leaves_nothing_to_redo(store: Store) -> None:
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    state = undo(store, DRY)
    state = keep_changes(store, DRY, state.revisions, [grip(1.6)])
    assert state.redo is None
    assert [step.label for step in history(store, DRY)] == ["Grip 1.52 to 1.6", "Imported"]


def test_undo_leaves_alone_what_another_plan_changed_since(store: Store) -> None:
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    mass = Change(field="mass_kg", value=700.0)
    keep_changes(store, WINDY, open_plan(store, WINDY).revisions, [mass])
    state = undo(store, DRY)
    assert (state.assumptions.figures["grip"], state.assumptions.figures["mass_kg"]) == (
        1.52,
        700.0,
    )


def test_undo_asks_before_it_takes_back_another_plan_s_change(store: Store) -> None:
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    keep_changes(store, WINDY, open_plan(store, WINDY).revisions, [grip(1.6)])
    with pytest.raises(Conflicting, match="without undoing what was changed since") as caught:
        undo(store, DRY)
    assert caught.value.conflict.reason == "clash"
    assert "Grip: 1.42 to 1.6" in caught.value.conflict.changes
    assert open_plan(store, DRY).assumptions.figures["grip"] == 1.6
    assert undo(store, DRY, force=True).assumptions.figures["grip"] == 1.52


def test_another_car_is_chosen_and_undone_like_a_figure(store: Store) -> None:
    before = open_plan(store, DRY)
    state = choose(store, DRY, before.revisions, Choice(car_id=2))
    assert state.car.name == "Garganey Coupé"
    assert state.undo == "Car Kittiwake K4 to Garganey Coupé"
    assert state.assumptions.figures["fuel_kg"] == 31.0  # the fuel is the plan's
    step = history(store, DRY)[0]
    assert step.worth_s is not None
    assert step.worth_s > 5.0
    assert undo(store, DRY).plan == before.plan


def test_names_are_changed_as_revisions(store: Store) -> None:
    state = open_plan(store, DRY)
    state = choose(store, DRY, state.revisions, Choice(name=" Friday "))
    assert state.name == "Friday"
    state = choose(store, DRY, state.revisions, Choice(rename={"car": "K4, new floor"}))
    assert state.car.name == "K4, new floor"
    assert open_plan(store, WINDY).car.name == "K4, new floor"
    assert undo(store, DRY).car.name == "Kittiwake K4"
    for empty in (Choice(name="  "), Choice(rename={"car": ""})):
        with pytest.raises(InputRefused, match="the name is empty"):
            choose(store, DRY, open_plan(store, DRY).revisions, empty)


def test_a_result_is_reproduced_from_the_revisions_it_names(store: Store) -> None:
    first = predict_at(store, DRY)
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [grip(1.42)])
    keep_changes(store, DRY, open_plan(store, DRY).revisions, [Change(field="fuel_kg", value=5.0)])
    again = predict_at(store, DRY, first.revisions)
    assert again == first
    assert predict_at(store, DRY).lap_time_s != first.lap_time_s


def test_a_baseline_stays_what_it_was_when_it_was_pinned(store: Store) -> None:
    before = open_plan(store, DRY)
    pinned = pin_baseline(store, DRY, DRY, before.revisions, "As imported")
    assert pinned.baseline is not None
    assert pinned.comparison is not None
    assert pinned.comparison.lap_s == 0.0
    keep_changes(store, DRY, pinned.revisions, [grip(1.42)])
    state = open_plan(store, DRY)
    assert state.baseline is not None
    assert state.baseline.title == "As imported"
    assert state.baseline.plan == before.plan
    assert state.comparison is not None
    assert state.comparison.lap_s == pytest.approx(2.017, abs=0.01)
    assert state.comparison.corners is not None
    assert sum(corner.time_s for corner in state.comparison.corners) == pytest.approx(
        state.comparison.lap_s
    )
    assert drop_baseline(store, DRY).comparison is None


def test_any_plan_serves_as_baseline(store: Store) -> None:
    state = pin_baseline(store, DRY, 3, None, None)
    assert state.baseline is not None
    assert state.baseline.title == "Garganey Coupé, dry"
    assert state.comparison is not None
    assert state.comparison.lap_s < -10.0
    with pytest.raises(NotThere, match="no plan 99"):
        pin_baseline(store, DRY, 99, None, None)


def test_a_plan_whose_lap_another_plan_made_impossible_still_opens(store: Store) -> None:
    copy = duplicate(store, "plan", DRY)
    state = choose(store, copy, open_plan(store, copy).revisions, Choice(name="Copy"))
    # The plan that shares the car drives on a bank that asks for grip.
    import neapfrost.services.plans.workbench as workbench

    def impossible(*_: object) -> None:
        raise InputRefused([Fault("car", "the vehicle comes to a stop at 5 m")])

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(workbench, "recall", impossible)
        broken = open_plan(store, copy)
    assert broken.result is None
    assert broken.trouble == "the vehicle comes to a stop at 5 m"
    assert broken.undo == state.undo


FIELDS = {
    "grip": (1.2, 1.8),
    "fuel_kg": (0.0, 60.0),
    "wind_speed_ms": (0.0, 12.0),
    "mass_kg": (600.0, 900.0),
}


@settings(max_examples=6, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_undoing_everything_gives_the_first_plan_and_redoing_the_last(
    store: Store, data: st.DataObject
) -> None:
    plan_id = duplicate(store, "plan", DRY, own_parts=True)
    first = state = open_plan(store, plan_id)
    for _ in range(data.draw(st.integers(1, 5))):
        field = data.draw(st.sampled_from(sorted(FIELDS)))
        value = data.draw(st.floats(*FIELDS[field]))
        change = Change.model_validate({"field": field, "value": value})
        state = keep_changes(store, plan_id, state.revisions, [change])
    last = state
    turns = 0
    while state.undo is not None:
        state = undo(store, plan_id)
        turns += 1
    assert state.plan == first.plan
    for _ in range(turns):
        state = redo(store, plan_id)
    assert state.plan == last.plan
