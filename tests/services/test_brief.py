"""The brief in all its forms, edits that reach it, and what is noted beside the road."""

import csv
import io
import json
import xml.etree.ElementTree as ElementTree
from typing import Any

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said as in_units
from neapfrost.formats.plan import (
    CornerNoteDocument,
    PlanDocument,
    RaceDocument,
    UncertaintyDocument,
)
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.briefs.brief import Brief, brief, brief_text
from neapfrost.services.circuits.circuit_edit import Rename
from neapfrost.services.corners.first_laps import first_laps
from neapfrost.services.plans.exchange import import_plan, kept_plan
from neapfrost.services.plans.history import history
from neapfrost.services.plans.plan_edit import OrderEdit, PlanEdit, edit_plan
from neapfrost.services.plans.workbench import OpenPlan, keep_circuit_edits, open_plan, undo
from neapfrost.store.database import Store


def edited(store: Store, edit: PlanEdit, plan_id: int = 1) -> OpenPlan:
    return edit_plan(store, plan_id, open_plan(store, plan_id).revisions, edit)


def order(corner: int, name: str, field: str, value: float | None) -> PlanEdit:
    return PlanEdit(order=OrderEdit(corner=corner, name=name, field=field, value=value))


@pytest.fixture
def sheet(store: Store) -> Brief:
    edited(store, PlanEdit(uncertainty=UncertaintyDocument(laps=30)))
    return brief(store, 1, "metric", "new", with_bands=True)


def test_every_form_names_every_corner_the_revisions_and_the_cautions(sheet: Brief) -> None:
    names = [corner.name for corner in sheet.corners]
    assert len(names) == 11
    markdown = brief_text(sheet, "md")
    rows = [line for line in markdown.splitlines() if line.startswith("|")]
    assert len(rows) == 2 + len(names)
    assert len({row.count("|") for row in rows}) == 1
    for caution in sheet.cautions:
        assert caution in markdown
    assert "car Kittiwake" not in markdown
    assert "Car Kittiwake K4 revision 1" in markdown
    read = list(csv.DictReader(io.StringIO(brief_text(sheet, "csv"))))
    assert [row["Corner"] for row in read] == names
    assert read[0]["Braking point"].startswith("13 m past 100 (±")
    assert json.loads(brief_text(sheet, "json"))["lap_time_s"] == sheet.lap_time_s
    tree = ElementTree.fromstring(brief_text(sheet, "svg"))
    words = [element.text or "" for element in tree.iter() if element.tag.endswith("text")]
    assert all(name in words for name in names)
    assert any(word.startswith("The circuit's rules") for word in words)
    right = [float(e.get("x", "0")) for e in tree.iter() if e.tag.endswith("text")]
    assert max(right) < 794.0


def test_the_brief_holds_band_build_up_and_notes(sheet: Brief) -> None:
    assert sheet.lap_band is not None
    assert sheet.lap_band.low < sheet.lap_time_s < sheet.lap_band.high
    assert "30 laps with grip ±3 %" in sheet.band
    sluice, eel = sheet.corners[0], sheet.corners[3]
    assert [step.lap for step in sluice.first_laps] == [1, 2, 3, 4]
    earlier = [step.earlier_m or 0.0 for step in sluice.first_laps]
    assert earlier == sorted(earlier, reverse=True)
    assert sluice.look_at == "the sluice gate on the far bank"
    assert eel.hazards == ["wall"]
    assert sluice.approach == "from the left"
    assert sluice.downshifts[0].startswith("5 after ")


def test_without_bands_and_in_feet_the_brief_is_plainer(store: Store) -> None:
    plain = brief(store, 1, "feet", "known", with_bands=False)
    assert plain.lap_band is None
    assert plain.band == ""
    assert all(corner.min_speed_band is None for corner in plain.corners)
    assert plain.corners[0].braking.endswith("ft past 100")
    assert "mph" in brief_text(plain, "md")


def test_an_order_is_a_step_that_can_be_taken_back(store: Store) -> None:
    before = open_plan(store, 1)
    assert before.result is not None
    after = edited(store, order(0, "Sluice", "gear", 3.0))
    assert after.result is not None
    assert after.result.corners[0].gear == 3
    assert after.result.lap_time_s > before.result.lap_time_s
    assert history(store, 1)[0].label == "Sluice: gear 3"
    assert brief(store, 1, "metric", "new", with_bands=False).corners[0].asked == ["gear 3"]
    # The other plan with the same car and circuit is not asked for anything.
    other = open_plan(store, 2)
    assert other.plan.corners == []
    more = edited(store, order(0, "Sluice", "braking", 0.8))
    assert len(more.plan.corners) == 1
    gone = edited(store, order(0, "Sluice", "gear", None))
    assert gone.plan.corners[0].gear is None
    assert gone.plan.corners[0].braking == 0.8
    back = undo(store, 1)
    assert back.plan.corners[0].gear == 3


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        (order(0, "Nowhere", "gear", 2.0), 'corner 1 is not named "Nowhere" here'),
        (order(0, "Sluice", "gear", 9.0), "use a gear from 1 to 6"),
        (order(0, "Sluice", "colour", 1.0), '"colour" cannot be set'),
    ],
)
def test_what_cannot_be_asked_for_is_refused_and_changes_nothing(
    store: Store, edit: PlanEdit, told: str
) -> None:
    before = open_plan(store, 1).revisions
    with pytest.raises(InputRefused, match=told):
        edited(store, edit)
    assert open_plan(store, 1).revisions == before


def test_uncertainty_race_and_notes_are_kept_and_told(store: Store) -> None:
    edited(store, PlanEdit(uncertainty=UncertaintyDocument(grip_pct=5.0)))
    assert history(store, 1)[0].label == "Uncertainty: grip, the whole lap 3 to 5 %"
    edited(store, PlanEdit(race=RaceDocument(fuel_kg=44.0)))
    assert in_units(history(store, 1)[0].label) == "Race: fuel on board full tank to 44 kg"
    lower = edited(store, PlanEdit(gear_school="lower"))
    assert lower.plan.driver.gear_school == "lower"
    assert history(store, 1)[0].label == "Gears in corners: the lower gear"
    note = CornerNoteDocument(corner="Osier", look_at="the far post", no_run_off=True)
    after = edited(store, PlanEdit(note=note))
    assert note in after.plan.circuit.corner_notes
    assert note in open_plan(store, 2).plan.circuit.corner_notes  # one circuit, all its plans
    emptied = edited(store, PlanEdit(note=CornerNoteDocument(corner="Osier")))
    assert "Osier" not in {one.corner for one in emptied.plan.circuit.corner_notes}
    assert history(store, 1)[0].label == "Notes on Osier removed"


def test_orders_and_notes_go_with_a_renamed_corner_and_out_as_a_file(store: Store) -> None:
    edited(store, order(3, "Eel Trap", "grip_factor", 0.9))
    opened = open_plan(store, 1)
    segment = next(
        number
        for number, one in enumerate(opened.plan.circuit.segments or [])
        if getattr(one, "name", "") == "Eel Trap"
    )
    renamed = keep_circuit_edits(
        store, 1, opened.revisions, [Rename(op="rename", segment=segment, name="Elver")]
    )
    assert renamed.plan.corners[0].name == "Elver"
    assert "Elver" in {note.corner for note in renamed.plan.circuit.corner_notes}
    document = kept_plan(store, 1)
    again = import_plan(store, document)
    assert again.outcome == "known"
    value = document.model_dump(mode="json") | {"name": "Another"}
    other = open_plan(store, import_plan(store, plan_from_object(value)).plan_id)
    assert other.plan.corners == document.corners
    assert other.plan.race == document.race


def test_documents_from_before_have_nothing_asked_and_the_usual_uncertainty(store: Store) -> None:
    value = kept_plan(store, 1).model_dump(mode="json")
    for field in ("corners", "uncertainty", "race"):
        del value[field]
    del value["circuit"]["corner_notes"]
    old = plan_from_object(value)
    assert old.corners == []
    assert old.uncertainty == UncertaintyDocument()
    assert old.race == RaceDocument()


def test_what_lies_beside_a_corner_widens_its_first_laps(store: Store) -> None:
    plan = kept_plan(store, 1)

    def with_note(**hazards: Any) -> PlanDocument:
        note = CornerNoteDocument(corner="Staithe", **hazards)
        others = [one for one in plan.circuit.corner_notes if one.corner != "Staithe"]
        circuit = plan.circuit.model_copy(update={"corner_notes": [*others, note]})
        return plan.model_copy(update={"circuit": circuit})

    plain, one, both = (
        first_laps(with_note(**hazards), "new")
        for hazards in ({}, {"wall": True}, {"wall": True, "blind": True})
    )
    for lap in range(len(plain.laps) - 1):
        speeds = [found.laps[lap].corners[7].min_speed_ms for found in (plain, one, both)]
        starts = [found.laps[lap].corners[7].earlier_m or 0.0 for found in (plain, one, both)]
        assert speeds == sorted(speeds, reverse=True)
        assert starts == sorted(starts)
        assert speeds[0] > speeds[2]
    assert one.laps[0].corners[7].widened
    assert not plain.laps[0].corners[7].widened
    assert plain.laps[-1] == one.laps[-1].model_copy(update={"corners": plain.laps[-1].corners})
