"""The Car view in a real browser: built from a data sheet, set up, compared, drawn, edited."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from web.pages import kept, lap_seconds

FIT_MS = 40_000


@pytest.fixture
def car(page: Page) -> Page:
    """The page turned to the car of its own plan."""
    page.get_by_role("link", name="Car", exact=True).click()
    expect(page.get_by_test_id("car-figures")).to_contain_text("Top speed")
    return page


def test_six_figures_of_a_data_sheet_make_a_lap(car: Page) -> None:
    car.get_by_role("tab", name="Build from known figures").click()
    sheet = {
        "Name of the car": "Smew 200",
        "Power peaks at (rpm)": "6500",
        "Mass, without driver (kg)": "1180",
        "Peak power (kW)": "190",
        "Top speed (km/h)": "250",
        "0 to 100 km/h (s)": "5.4",
        "Lateral, in a slow corner (g)": "1.02",
        "100 km/h to 0 (m)": "35",
    }
    for label, value in sheet.items():
        car.get_by_label(label, exact=True).fill(value)
    expect(car.get_by_test_id("model-top")).to_have_text("250", timeout=FIT_MS)
    expect(car.get_by_test_id("model-sprint")).to_have_text(re.compile(r"5\.[34]"))
    expect(car.get_by_text("The figures agree")).to_be_visible()
    expect(car.get_by_test_id("assumed")).to_contain_text("Driveline efficiency")
    car.get_by_role("button", name="Save as a new car").click()
    expect(car.get_by_role("button", name="Car Smew 200")).to_be_visible(timeout=FIT_MS)
    assert 95.0 < lap_seconds(car) < 125.0


def test_two_setups_are_driven_and_set_side_by_side(car: Page) -> None:
    car.get_by_role("tab", name="Setups").click()
    car.get_by_label("Setup of this plan").select_option("Low wing")
    expect(car.locator(".strip")).to_contain_text("Low wing")
    car.get_by_role("button", name="Copy this setup").click()
    names = car.get_by_test_id("setups").get_by_role("textbox", name=re.compile("^Name of setup"))
    expect(names).to_have_count(5)
    car.get_by_label("Wing of Setup 5").select_option("Step 8")
    car.get_by_label("Springs front of Setup 5").fill("150 N/mm")
    car.get_by_label("Springs front of Setup 5").press("Tab")
    kept(car)
    # Two edits one straight after the other both hold.
    expect(car.get_by_label("Wing of Setup 5")).to_have_value("Step 8")
    expect(car.get_by_label("Springs front of Setup 5")).to_have_value("150 N/mm")
    car.get_by_role("tab", name="Compare").click()
    car.get_by_label("From: setup").select_option("Low wing")
    car.get_by_label("To: setup").select_option("Setup 5")
    effects = car.get_by_test_id("effects")
    expect(effects).to_contain_text("Wing and body")
    expect(effects).to_contain_text(re.compile(r"All together[−+]\d\.\d{3}"))
    differences = car.get_by_test_id("differences")
    expect(differences).to_contain_text(re.compile(r"Springs front\s*\(not modelled\)"))
    expect(car.get_by_test_id("corner-effects").locator("tbody tr")).to_have_count(11)
    with car.expect_download() as file:
        car.get_by_role("link", name="Markdown").click()
    assert "Setup 5" in Path(file.value.path()).read_text()


def test_the_sheet_the_torque_and_the_brakes_are_edited(car: Page, tmp_path: Path) -> None:
    before = car.get_by_test_id("car-figures").inner_text()
    car.get_by_role("tab", name="Full sheet").click()
    final = car.get_by_label("Final drive (to 1)")
    final.fill("3.5")
    final.press("Enter")
    kept(car)
    mass = car.get_by_role("tabpanel").get_by_label("Mass (kg)")
    mass.fill("-4")
    mass.press("Enter")
    refused = car.get_by_role("tabpanel").get_by_role("alert")
    expect(refused).to_contain_text("more than 0 kg is expected")
    car.keyboard.press("Escape")
    point = car.locator("[data-torque='3']")
    box = point.bounding_box()
    assert box is not None
    car.mouse.move(box["x"] + 5, box["y"] + 5)
    car.mouse.down()
    car.mouse.move(box["x"] + 5, box["y"] + 25)
    car.mouse.up()
    torque = car.get_by_test_id("torque").get_by_label("Torque of point 4 (Nm)")
    expect(torque).not_to_have_value("260")
    car.get_by_role("button", name="paste a table").click()
    car.get_by_label("Torque curve as text").fill("3000;200\n6000;oops")
    car.get_by_role("button", name="Use table", exact=True).click()
    expect(car.get_by_role("alert")).to_contain_text("line 2, column 2")
    car.get_by_label("Torque curve as text").fill("rpm;Nm\n3000;200\n6000;250\n8200;225")
    car.get_by_role("button", name="Use table", exact=True).click()
    expect(car.get_by_test_id("torque").locator("tbody tr")).to_have_count(3)
    car.get_by_role("tab", name="Brakes").click()
    rows = car.get_by_test_id("brake-costs").locator("tbody tr")
    rows.last.get_by_role("button").click()
    expect(rows.last).to_contain_text("as set")
    car.get_by_role("tab", name="Performance").click()
    expect(car.get_by_test_id("car-figures")).not_to_have_text(before)
    with car.expect_download() as file:
        car.get_by_role("link", name="CSV").first.click()
    assert Path(file.value.path()).read_text().startswith("series,speed,engine")
    car.get_by_role("tab", name="Full sheet").click()
    with car.expect_download() as file:
        car.get_by_role("link", name="a document").click()
    document = json.loads(Path(file.value.path()).read_text()) | {"name": "From a file"}
    (tmp_path / "car.json").write_text(json.dumps(document))
    car.get_by_label("Load a car document").set_input_files(tmp_path / "car.json")
    expect(car.get_by_role("button", name="Car From a file")).to_be_visible()


def lap_of(car: Page) -> float:
    """The lap as it is now, and back to where one was."""
    car.get_by_role("link", name="Lap", exact=True).click()
    found = lap_seconds(car)
    car.get_by_role("link", name="Car", exact=True).click()
    return found


def test_what_moves_a_braking_point_by_a_percent_is_stated_on_the_sheet(car: Page) -> None:
    """How the engine takes its air, what turns along, and downforce that goes with the speed."""
    expect(car.get_by_test_id("car-figures")).to_contain_text("Torque in this air")
    expect(car.get_by_test_id("gears")).to_contain_text("Rotating")
    car.get_by_role("tab", name="Full sheet").click()
    before = lap_of(car)
    intake = car.get_by_label("Engine intake")
    expect(intake.locator("option:checked")).to_have_text("naturally aspirated")
    intake.select_option(label="the same in any air")
    kept(car)
    # In cold, thick air the engine gave more than stated.
    assert lap_of(car) > before + 0.1
    car.get_by_role("button", name="Undo").click()
    expect(intake.locator("option:checked")).to_have_text("naturally aspirated")
    inertia = car.get_by_role("spinbutton", name="Inertia of engine and clutch (kg m²)")
    inertia.fill("0.3")
    inertia.press("Enter")
    kept(car)
    assert lap_of(car) > before + 0.1
    car.get_by_role("button", name="Enter by speed").click()
    table = car.get_by_test_id("air-table")
    expect(table.locator("tbody tr")).to_have_count(2)
    share = table.get_by_role("spinbutton", name="Downforce at point 2 (%)")
    share.fill("70")
    share.press("Enter")
    kept(car)
    speed = table.get_by_role("spinbutton", name=re.compile(r"^Speed of point 2"))
    speed.fill("10")
    speed.press("Enter")
    expect(car.get_by_text("the speeds must rise")).to_be_visible()
