"""Orders at corners: found again by name, refused by field, and said in any units."""

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.orders import CornerOrder
from neapfrost.core.path.build import build_path
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.brief_svg import MapMark, SheetCell, brief_svg, wrapped
from neapfrost.formats.plan import CircuitDocument, CornerOrderDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_records import circuit_record
from neapfrost.formats.result import BoardCallResult
from neapfrost.services.laps.orders import (
    lost_orders,
    order_records,
    renamed_orders,
    with_driven_radii,
    with_order,
)
from neapfrost.services.words.saying import Saying, gear_word, seconds


@pytest.fixture(scope="module")
def plan() -> PlanDocument:
    found = demo_plan("k4-dry")
    assert found is not None
    return found.document


def order(corner: int, name: str, **figures: float) -> CornerOrderDocument:
    return CornerOrderDocument.model_validate({"corner": corner, "name": name, **figures})


def test_orders_go_to_the_corner_of_their_name_wherever_it_now_is(plan: PlanDocument) -> None:
    path = build_path(circuit_record(plan.circuit), 5.0)
    orders = [
        order(0, "Sluice", gear=2),
        order(9, "Eel Trap", braking=0.8),  # it was the tenth once
        order(2, "Gone", gear=3),
        order(4, "Osier"),  # nothing is asked for
        order(5, "Drove", driven_radius_m=200.0),  # the circuit's business, not the road's
    ]
    assert order_records(orders, path) == [CornerOrder(0, gear=2), CornerOrder(3, braking=0.8)]
    assert lost_orders(orders, [corner.name for corner in path.corners]) == ["Gone"]


def test_orders_follow_a_new_name_and_stay_where_a_corner_was_put_in(plan: PlanDocument) -> None:
    value = plan.circuit.model_dump(mode="json")
    corner = next(s for s in value["segments"] if s.get("name") == "Eel Trap")
    corner["name"] = "Elver"
    after = CircuitDocument.model_validate(value)
    orders = [order(3, "Eel Trap", gear=2), order(7, "Nowhere", gear=2)]
    moved = renamed_orders(orders, plan.circuit, after)
    assert [one.name for one in moved] == ["Elver", "Nowhere"]
    longer = after.model_copy(update={"segments": [*(after.segments or []), corner_like(after)]})
    assert renamed_orders(orders, plan.circuit, longer) == orders


def corner_like(circuit: CircuitDocument) -> object:
    return next(s for s in circuit.segments or [] if s.kind == "corner").model_copy(
        update={"name": "New"}
    )


def test_a_driven_radius_moves_tangent_points_as_the_same_edit_would(plan: PlanDocument) -> None:
    asked = plan.model_copy(update={"corners": [order(6, "Bittern", driven_radius_m=50.0)]})
    changed = with_driven_radii(asked).circuit
    before, after = plan.circuit.segments or [], changed.segments or []
    number = next(n for n, s in enumerate(before) if getattr(s, "name", "") == "Bittern")
    assert getattr(after[number], "radius_m", 0.0) == 50.0
    assert getattr(after[number - 1], "length_m", 0.0) < getattr(before[number - 1], "length_m", 0)
    assert [board.at_m for board in changed.boards][:5] != []
    assert with_driven_radii(plan) is plan


def test_figures_are_asked_for_one_by_one_and_let_go(plan: PlanDocument) -> None:
    first = with_order(plan, 3, "Eel Trap", "gear", 2.0)
    both = with_order(plan.model_copy(update={"corners": first}), 3, "Eel Trap", "braking", 0.9)
    assert both == [order(3, "Eel Trap", gear=2, braking=0.9)]
    one = with_order(plan.model_copy(update={"corners": both}), 3, "Eel Trap", "gear", None)
    assert one == [order(3, "Eel Trap", braking=0.9)]
    none = with_order(plan.model_copy(update={"corners": one}), 3, "Eel Trap", "braking", None)
    assert none == []
    with pytest.raises(InputRefused, match="braking"):
        with_order(plan, 3, "Eel Trap", "braking", 4.0)
    road = demo_plan("garganey-samphire")
    assert road is not None
    with pytest.raises(InputRefused, match="ask for another in the Line view"):
        with_order(road.document, 0, "Saltern", "driven_radius_m", 50.0)


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"corners": [{"corner": 0, "name": "Sluice", "gear": 0}]}, "corners[0].gear"),
        ({"corners": [{"corner": 0, "name": "Sluice", "braking": 1.5}]}, "corners[0].braking"),
        ({"corners": [{"corner": 0, "gear": 2}]}, "corners[0].name"),
        ({"uncertainty": {"laps": 3}}, "uncertainty.laps"),
        ({"uncertainty": {"grip": 3}}, "uncertainty.grip"),
        ({"race": {"grip_left_pct": 120}}, "race.grip_left_pct"),
    ],
)
def test_wrong_documents_are_refused_by_their_field(
    plan: PlanDocument, change: dict[str, object], path: str
) -> None:
    with pytest.raises(InputRefused) as refused:
        plan_from_object({**plan.model_dump(mode="json"), **change})
    assert [fault.path for fault in refused.value.faults] == [path]


def test_places_and_costs_are_said_as_people_say_them() -> None:
    metric, feet, yards = Saying("metric"), Saying("feet"), Saying("yards")
    call = BoardCallResult(label="100", metres=19.0, side="past")
    assert metric.braking_place(call, None) == "19 m past 100"
    assert feet.braking_place(call, None) == "62 ft past 100"
    assert yards.braking_place(None, 91.44) == "100 yd before the corner"
    assert metric.braking_place(None, -4.2) == "4 m into the corner"
    assert (metric.speed(50.0), feet.speed(44.704)) == ("180 km/h", "100 mph")
    assert (metric.wind(3.04), feet.wind(4.4704)) == ("3.0 m/s", "10 mph")
    assert [gear_word(n) for n in (1, 2, 3, 4, 8)] == ["1st", "2nd", "3rd", "4th", "8th"]
    assert seconds(-0.0972) == "0.097 s"


def test_the_svg_sheet_keeps_its_words_inside_the_page() -> None:
    long = "a board with quite a long name on it that nobody would read at speed"
    rows = [[SheetCell(f"{n}"), SheetCell(long), SheetCell(long, True)] for n in range(4)]
    text = brief_svg(
        title="A & B <ring>",
        lines=[long * 3],
        lap="1:02.345",
        under_lap="",
        map_m=([0.0, 100.0, 50.0], [0.0, 0.0, 80.0]),
        marks=[MapMark(1, 100.0, 0.0)],
        heading=["", "Corner", "Braking point, m"],
        rows=rows,
        cautions=[long * 2],
    )
    assert "A &amp; B &lt;ring&gt;" in text
    assert text.count(f">{long}</text>") == 8
    lines = wrapped(long, 200.0, 11.0)
    assert " ".join(lines) == long
    assert max(map(len, lines)) <= 200.0 / (11.0 * 0.5)
    assert wrapped("", 100.0, 11.0) == []
