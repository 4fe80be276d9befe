"""An event: plans of one circuit side by side, what differs between them, and why."""

import csv
from collections.abc import Iterator
from pathlib import Path

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.services.briefs.event import Event, event, event_csv, event_markdown, others_of
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.plans.exchange import import_plan
from neapfrost.store.database import Store, close_store, open_store

DRY, DAMP, HILL = "dunlin-heath", "dunlin-heath-damp", "dunlin-hill"


@pytest.fixture(scope="module")
def store(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Store]:
    folder: Path = tmp_path_factory.mktemp("event")
    store = open_store(folder)
    for plan_id in (DRY, DAMP, HILL):
        import_plan(store, composed(plan_id))
    yield store
    close_store(store)


@pytest.fixture(scope="module")
def found(store: Store) -> Event:
    return event(store, 1, [2])


def test_only_plans_of_the_same_circuit_go_beside_one(store: Store) -> None:
    assert [(one.plan_id, one.same_car) for one in others_of(store, 1)] == [(2, True)]
    assert others_of(store, 3) == []
    with pytest.raises(InputRefused, match="on another circuit"):
        event(store, 1, [3])
    with pytest.raises(InputRefused, match="at most 5 plans can be"):
        event(store, 1, list(range(2, 9)))


def test_laps_and_calls_are_those_of_the_plans(found: Event) -> None:
    for plan, plan_id in zip(found.plans, (DRY, DAMP), strict=True):
        assert plan.lap_time_s == predict_lap(composed(plan_id)).lap_time_s
    damp = predict_lap(composed(DAMP))
    assert [corner.calls[1].min_speed_ms for corner in found.corners] == [
        corner.min_speed_ms for corner in damp.corners
    ]
    assert not any(corner.calls[0].differs for corner in found.corners)
    assert any(corner.calls[1].differs for corner in found.corners)


def test_why_a_lap_is_otherwise_is_told_part_by_part(found: Event) -> None:
    (why,) = found.reasons
    assert why.together_s == found.plans[1].lap_time_s - found.plans[0].lap_time_s
    dry, damp = composed(DRY), composed(DAMP)
    wet = dry.model_copy(update={"conditions": damp.conditions})
    told = {reason.part: reason.lap_s for reason in why.reasons}
    assert told["Conditions"] == predict_lap(wet).lap_time_s - predict_lap(dry).lap_time_s
    assert ("Fuel" in told) == (dry.car.fuel_kg != damp.car.fuel_kg)


def test_one_brief_for_all(found: Event) -> None:
    sheet = list(csv.reader(event_csv(found, "feet").splitlines()))
    assert sheet[0][1:] == [plan.name for plan in found.plans]
    assert {len(row) for row in sheet} == {3}
    assert any("mph" in row[0] for row in sheet)
    text = event_markdown(found)
    for corner in found.corners:
        assert corner.name in text
    assert found.cautions[0] in text
