"""Orders at corners: found again by name, refused by field, and said in any units."""

import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.drive import CornerOrder
from neapfrost.core.path.build import build_path
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.brief_svg import MapMark, SheetCell, brief_svg, wrapped
from neapfrost.formats.circuit_facts import corner_names
from neapfrost.formats.plan import CornerOrderDocument, PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.formats.plan_records import circuit_record
from neapfrost.formats.result import BoardCallResult
from neapfrost.services.circuits.circuit_edit import CircuitEdit, Remove, edited_circuit
from neapfrost.services.laps.on_edited_road import on_edited_road
from neapfrost.services.laps.orders import (
    lost_orders,
    order_records,
    with_driven_radii,
    with_order,
)
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.words.corners import braking_place
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


def edited(plan: PlanDocument, **edit: object) -> PlanDocument:
    """A plan with its circuit edited, as the Circuit view does it."""
    given = TypeAdapter(CircuitEdit).validate_python(edit)
    return on_edited_road(plan, edited_circuit(plan.circuit, given))[0]


def segment_of(plan: PlanDocument, name: str) -> int:
    segments = plan.circuit.segments or []
    return next(n for n, s in enumerate(segments) if getattr(s, "name", "") == name)


def asked(plan: PlanDocument) -> list[tuple[int, str]]:
    return [(one.corner, one.name) for one in plan.corners]


@pytest.fixture(scope="module")
def ordered(plan: PlanDocument) -> PlanDocument:
    orders = [order(0, "Sluice", braking=0.6), order(3, "Eel Trap", gear=2)]
    return plan.model_copy(update={"corners": orders})


def brake_effort(plan: PlanDocument) -> dict[str, float]:
    """Deceleration at the corners that are braked for, by name."""
    corners = predict_lap(plan).corners
    return {c.name: c.peak_decel_g for c in corners if c.peak_decel_g is not None}


def test_what_is_asked_stays_with_its_corner_when_the_start_line_moves(
    ordered: PlanDocument,
) -> None:
    moved = edited(ordered, op="start", by_m=1200.0)
    names = corner_names(moved.circuit)
    assert names[0] != "Sluice"
    assert {name for _, name in asked(moved)} == {"Sluice", "Eel Trap"}
    assert all(names[number] == name for number, name in asked(moved))
    before, after = brake_effort(ordered), brake_effort(moved)
    assert after["Sluice"] == pytest.approx(before["Sluice"], rel=0.02)
    assert after["Osier"] == pytest.approx(before["Osier"], rel=0.02)


def test_what_is_asked_stays_with_its_corner_the_other_way_round(ordered: PlanDocument) -> None:
    back = edited(ordered, op="reverse")
    names = corner_names(back.circuit)
    assert [names[number] for number, _ in asked(back)] == ["Eel Trap", "Sluice"]
    assert [name for _, name in asked(back)] == ["Eel Trap", "Sluice"]
    assert asked(edited(back, op="reverse")) == asked(ordered)


def test_what_is_asked_goes_along_with_every_edit_of_the_sheet(ordered: PlanDocument) -> None:
    put_in = {"kind": "corner", "name": "New", "direction": "left", "radius_m": 90, "angle_deg": 20}
    assert asked(edited(ordered, op="add", before=0, segment=put_in)) == [
        (1, "Sluice"),
        (4, "Eel Trap"),
    ]
    renamed = edited(ordered, op="rename", segment=segment_of(ordered, "Eel Trap"), name="Elver")
    assert asked(renamed) == [(0, "Sluice"), (3, "Elver")]
    assert asked(edited(ordered, op="renumber")) == [(0, "T1"), (3, "T4")]
    split = edited(ordered, op="split", segment=segment_of(ordered, "Sluice"))
    assert asked(split) == [(0, "Sluice"), (4, "Eel Trap")]
    again = edited(split, op="merge", segment=segment_of(split, "Sluice"))
    assert asked(again) == asked(ordered)
    assert len(again.circuit.segments or []) == len(ordered.circuit.segments or [])


def test_what_is_asked_at_a_corner_taken_out_is_told_as_lost(ordered: PlanDocument) -> None:
    edit = Remove(op="remove", segment=segment_of(ordered, "Sluice"))
    left, lost = on_edited_road(ordered, edited_circuit(ordered.circuit, edit))
    assert lost == ["Sluice"]
    assert (2, "Eel Trap") in asked(left)
    said = " ".join(predict_lap(left).warnings)
    assert "An override is set at Sluice, which this circuit does not have." in said
    # Another corner of that name is never asked instead.
    twin = edited(ordered, op="rename", segment=segment_of(ordered, "Osier"), name="Sluice")
    gone = edited(twin, op="remove", segment=segment_of(twin, "Sluice"))
    assert asked(gone) == [(2, "Eel Trap")]


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
    with pytest.raises(InputRefused, match="set another in the Line view"):
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
    assert braking_place(call, None, metric) == "19 m past 100"
    assert braking_place(call, None, feet) == "62 ft past 100"
    assert braking_place(None, 91.44, yards) == "100 yd before the corner"
    assert braking_place(None, -4.2, metric) == "4 m into the corner"
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
