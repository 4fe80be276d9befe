"""Races, stores, flaps and lanes in documents: written and read again, older ones as they were."""

import json
from typing import Any

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_file import read_plan, write_plan

#: What documents had no word for before there were races.
NEW_IN_A_CAR = ("track_width_m", "lateral_transfer_front", "energy", "flap")
NEW_IN_A_CIRCUIT = ("lanes", "pit_lane_m", "pit_limit_ms", "pit_entry_at_m", "pit_exit_at_m")
RACE_BEFORE = ("fuel_kg", "grip_left_pct", "downforce_left_pct", "drag_left_pct")


def value(name: str) -> dict[str, Any]:
    plan: dict[str, Any] = json.loads(write_plan(composed(name)))
    return plan


def read(document: dict[str, Any]) -> Any:
    return read_plan(json.dumps(document).encode())


@pytest.mark.parametrize("name", ["phalarope-race-wind", "garganey-bowl", "k4-samphire"])
def test_a_race_and_all_it_stands_on_are_written_and_read_again(name: str) -> None:
    assert read_plan(write_plan(composed(name))) == composed(name)


def test_a_plan_of_before_is_read_with_what_is_usual() -> None:
    old = value("dunlin-heath")
    for field in NEW_IN_A_CAR:
        old["car"].pop(field, None)
    old["car"]["tyres"].pop("slip_at_limit_pct")
    for compound in old["car"]["compounds"]:
        for field in ("fade_pct_per_mj", "life_laps"):
            compound.pop(field, None)
    for field in NEW_IN_A_CIRCUIT:
        old["circuit"].pop(field, None)
    old["race"] = {field: old["race"][field] for field in RACE_BEFORE}
    plan = read(old)
    assert plan.race == composed("dunlin-heath").race
    assert plan.car.energy is None
    assert plan.car.tyres.slip_at_limit_pct == 10.0
    assert plan.circuit.lanes == []
    assert [one.life_laps for one in plan.car.compounds] == [None] * len(plan.car.compounds)


@pytest.mark.parametrize(
    ("path", "wrong", "where"),
    [
        (("race", "laps"), 0, "race.laps"),
        (("race", "litres_per_s"), 0.0, "race.litres_per_s"),
        (("race", "slow_time_pct"), 80.0, "race.slow_time_pct"),
        (("race", "flap_zones"), [{"from_m": 1.0}], "race.flap_zones[0]"),
        (("car", "energy", "efficiency"), 1.2, "car.energy.efficiency"),
        (("car", "energy", "power"), [], "car.energy.power"),
        (("car", "energy", "recovery_axle"), "middle", "car.energy.recovery_axle"),
        (("car", "track_width_m"), 0.1, "car.track_width_m"),
        (("circuit", "lanes"), [{"name": "", "outside_m": 1.0}], "circuit.lanes[0].name"),
        (("circuit", "pit_limit_ms"), 0.5, "circuit.pit_limit_ms"),
        (("race", "lapps"), 9, "race.lapps"),
    ],
)
def test_what_is_not_allowed_is_refused_where_it_stands(
    path: tuple[str, ...], wrong: object, where: str
) -> None:
    document = value("phalarope-race-wind")
    part = document
    for step in path[:-1]:
        part = part[step]
    part[path[-1]] = wrong
    with pytest.raises(InputRefused) as refused:
        read(document)
    assert any(where in str(fault) for fault in refused.value.faults), refused.value.faults
