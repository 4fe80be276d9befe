"""Every act of the page is one step: one undo takes all of it back, redo brings it again."""

import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any, get_args

import pytest

from api.client import Client
from neapfrost.demo.plans import demo_plans
from neapfrost.services.cars.edits import CarEdit
from neapfrost.services.circuits.circuit_edit import CircuitEdit
from neapfrost.services.plans.plan_edit import PlanEdit
from neapfrost.store.database import close_store, open_store

#: A route below the plan, what its body is called beside `base`, and what is sent.
Act = tuple[str, str, Any]

BOARD = {"kind": "boards", "label": "75", "corner": "Bittern", "at_m": 1990.0}
EDGE = {"side": "left", "kind": "kerb", "from_m": 100.0, "to_m": 150.0}
LANE = {"name": "High", "outside_m": 2.0}
OF_MANY = [
    {"field": "mass_kg", "value": 700.0},
    {"field": "wetness_pct", "value": 20.0},
    {"field": "radius_m", "corner": "Sluice", "value": 29.0},
]
FOUND = [{"axis": "final_drive", "value": 4.1}, {"axis": "grip", "value": 1.4}]
AIR = [{"speed_ms": 20.0, "downforce_pct": 90.0}, {"speed_ms": 60.0, "downforce_pct": 100.0}]


def circuit(op: str, **more: object) -> Act:
    return "circuit", "edits", [{"op": op, **more}]


def car(op: str, **more: object) -> Act:
    return "car", "edit", {"op": op, **more}


def edit(**more: object) -> Act:
    return "edit", "edit", more


def corner(plan: dict[str, Any], name: str) -> int:
    segments = plan["circuit"]["segments"]
    return next(n for n, one in enumerate(segments) if one.get("name") == name)


def acts(plan: dict[str, Any]) -> list[list[Act]]:
    """Every act, each behind the acts that it needs done before it."""
    sluice, straight = corner(plan, "Sluice"), 0
    race = {**plan["race"], "laps": 30, "keep_tyres": True}
    split = circuit("split", segment=straight, share=0.4)
    heights = circuit("heights", use=True)
    boards = plan["circuit"]["boards"]
    own = next(
        n for n, board in enumerate(boards) if (board["corner"], board["label"]) == ("Sluice", "50")
    )
    flap, energy = car("add_part", part="flap"), car("add_part", part="energy")
    curve = plan["car"]["engine"]["torque_curve"]
    air = plan["conditions"]
    choices = [{"name": "Renamed"}, {"rename": {"car": "Other"}}, {"pins": {"car": 1}}]
    return [
        [circuit("set", segment=sluice, figure="radius_m", value=29.0)],
        [circuit("turn", segment=sluice, direction="left")],
        [circuit("rename", segment=sluice, name="Renamed")],
        [circuit("note", segment=sluice, note="bumpy")],
        [circuit("drag", segment=sluice, outwards_m=1.0, along_m=0.0)],
        [circuit("split", segment=sluice, share=0.4), circuit("merge", segment=sluice)],
        [circuit("renumber")],
        [circuit("add", before=1, segment={"kind": "straight", "length_m": 30.0})],
        [split, circuit("remove", segment=1)],
        [split],
        [circuit("reverse")],
        [circuit("close")],
        [circuit("put_mark", **BOARD)],
        [circuit("set_mark", **{**BOARD, "number": 0})],
        [circuit("remove_mark", kind="boards", number=0)],
        [circuit("board_unit", unit="yd")],
        [
            circuit("remove_mark", kind="boards", number=own),
            circuit("usual_boards", segment=sluice),
        ],
        [circuit("sector", number=0, at_m=900.0)],
        [circuit("fact", fact="altitude_m", value=300.0)],
        [circuit("put_edge", edge=EDGE)],
        [circuit("put_edge", edge=EDGE), circuit("set_edge", number=0, edge={**EDGE, "to_m": 160})],
        [circuit("put_edge", edge=EDGE), circuit("remove_edge", number=0)],
        [circuit("put_lane", lane=LANE)],
        [circuit("put_lane", lane=LANE), circuit("set_lane", number=0, lane={**LANE, "name": "L"})],
        [circuit("put_lane", lane=LANE), circuit("remove_lane", number=0)],
        [heights],
        [heights, circuit("set_height", number=None, at_m=155.0, z_m=3.0)],
        [heights, circuit("remove_height", number=0)],
        [circuit("start", by_m=20.0)],
        [circuit("describe", segments_describe="road")],
        [car("setup", name=plan["car"]["setups"][0]["name"])],
        [car("tyre_lap", lap=6)],
        [car("set_in_row", table="compounds", row=0, field="grip_factor", value=0.98)],
        [car("add_row", table="wings")],
        [car("add_row", table="setups"), car("remove_row", table="setups", row=0)],
        [car("rename_row", table="setups", row=0, name="Renamed")],
        [car("record", setup=0, key="Toe", text="1 mm out")],
        [car("ratio", gear=1, value=2.9)],
        [car("add_gear")],
        [car("torque_point", point=1, rpm=None, torque_nm=230.0)],
        [car("add_torque_point")],
        [car("remove_torque_point", point=1)],
        [car("air_table", points=AIR)],
        [car("torque_curve", points=curve[1:])],
        [flap],
        [flap, car("flap", flap={"drag_left_pct": 80.0})],
        [energy],
        [energy, car("energy", energy=None)],
        [car("replace", car={**plan["car"], "mass_kg": 720.0})],
        [edit(order={"corner": 0, "name": "Sluice", "field": "gear", "value": 3})],
        [edit(uncertainty={**plan["uncertainty"], "grip_pct": 4.0})],
        [edit(first_laps={**plan["first_laps"], "first_m": 25.0})],
        [edit(race=race)],
        [edit(note={"corner": "Sluice", "kerb": "flat"})],
        [edit(gear_school="higher")],
        *([("choice", "choice", one)] for one in choices),
        [("changes", "changes", [{"field": "grip", "value": 1.4}])],
        [("changes", "changes", OF_MANY)],
        [("take", "settings", FOUND)],
        [("conditions", "conditions", {**air, "air_temp_c": 30.0, "wind_speed_ms": 1.0})],
    ]


#: Written by somebody else's leave, or only where layouts share a road.
ELSEWHERE = {"own"}


@pytest.fixture(scope="module")
def served(seeded: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Client]:
    folder = tmp_path_factory.mktemp("undo") / "data"
    shutil.copytree(seeded, folder)
    store = open_store(folder)
    yield Client(store)
    close_store(store)


def done(client: Client, act: Act) -> dict[str, Any]:
    route, name, body = act
    base = client.get("/api/plans/1").json()["revisions"]
    sent = {"base": base, name: body}
    if route == "conditions":
        sent["source"] = "a reading"
    answer = client.post(f"/api/plans/1/{route}", json=sent)
    assert answer.is_success, f"{act}: {answer.text}"
    return dict(answer.json())


def named(act: Act) -> str:
    """What an act is called in the list of tests."""
    route, _, body = act
    one = body[0] if isinstance(body, list) else body
    return f"{route} {one.get('op', ' '.join(one))}"


def stated(opened: dict[str, Any]) -> tuple[Any, ...]:
    """All that a plan states."""
    return opened["plan"], opened["name"], [opened[kind]["pinned"] for kind in ("car", "circuit")]


PLAN = demo_plans()[1].document.model_dump(mode="json")


@pytest.mark.parametrize("needed", acts(PLAN), ids=lambda some: named(some[-1]))
def test_one_undo_takes_back_all_that_an_act_wrote(served: Client, needed: list[Act]) -> None:
    first = served.get("/api/plans/1").json()
    for act in needed[:-1]:
        done(served, act)
    before = served.get("/api/plans/1").json()
    after = done(served, needed[-1])
    assert stated(after) != stated(before)
    undone = served.post("/api/plans/1/undo").json()
    assert stated(undone) == stated(before)
    redone = served.post("/api/plans/1/redo").json()
    assert stated(redone) == stated(after)
    for _ in needed:
        undone = served.post("/api/plans/1/undo").json()
    assert stated(undone) == stated(first)


def test_every_edit_is_among_the_acts() -> None:
    tried: dict[str, set[str]] = {"circuit": set(), "car": set(), "edit": set()}
    for needed in acts(PLAN):
        route, _, body = needed[-1]
        for one in body if isinstance(body, list) else [body]:
            if route in ("circuit", "car"):
                tried[route].add(one["op"])
            elif route == "edit":
                tried[route] |= set(one)
    assert tried["circuit"] | ELSEWHERE == ops(CircuitEdit)
    assert tried["car"] == ops(CarEdit)
    assert tried["edit"] == set(PlanEdit.model_fields)


def ops(union: Any) -> set[str]:
    """What the edits of a union are called."""
    found: set[str] = set()
    for part in get_args(union):
        fields = getattr(part, "model_fields", {})
        found |= set(get_args(fields["op"].annotation)) if "op" in fields else ops(part)
    return found
