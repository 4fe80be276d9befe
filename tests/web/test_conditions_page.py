"""The wind turned by hand and by keys, what it moves at each corner, and when flat ends."""

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from web.pages import DRY_K4, PATIENCE_MS, copied_plan, fits

DRIVEN_MS = PATIENCE_MS


@pytest.fixture
def conditions(context: BrowserContext, address: str) -> Page:
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, DRY_K4)}/conditions/wind")
    expect(page.get_by_test_id("wind-corners")).to_be_visible(timeout=DRIVEN_MS)
    return page


def test_the_wind_is_turned_by_keys_and_everything_answers(conditions: Page) -> None:
    said = conditions.get_by_test_id("wind-said")
    before = said.inner_text()
    rose = conditions.get_by_role("slider", name=re.compile("^Wind"))
    rose.focus()
    expect(rose).to_have_attribute("aria-valuetext", "4 m/s from 45°")
    for _ in range(6):
        conditions.keyboard.press("ArrowRight")
    for _ in range(4):
        conditions.keyboard.press("ArrowUp")
    expect(rose).to_have_attribute("aria-valuetext", "6 m/s from 75°")
    expect(said).not_to_have_text(before)
    said.get_by_role("button", name="Reset to the plan").click()
    expect(rose).to_have_attribute("aria-valuetext", "4 m/s from 45°")


def test_the_wind_is_turned_by_hand_and_taken_into_the_plan(conditions: Page) -> None:
    rose = conditions.get_by_test_id("wind-rose")
    box = rose.bounding_box()
    assert box is not None
    # Half way out to the east of the middle.
    conditions.mouse.click(box["x"] + 0.75 * box["width"], box["y"] + 0.5 * box["height"])
    expect(rose).to_have_attribute("aria-valuetext", re.compile("from 90°$"))
    conditions.get_by_role("button", name="Apply wind to plan").click()
    expect(conditions.get_by_role("spinbutton", name="Wind from (°)").first).to_have_value("90")
    expect(conditions.get_by_role("button", name="Apply wind to plan")).to_have_count(0)


def test_gusts_have_a_band_and_flat_corners_a_curve(conditions: Page) -> None:
    conditions.get_by_label("Gusts, either way").fill("3")
    conditions.get_by_label("Gusts, either way").press("Enter")
    expect(conditions.get_by_role("columnheader", name="Lull to gust")).to_be_visible()
    conditions.get_by_role("button", name="Find the wind").click()
    expect(conditions.get_by_text("is flat inside its curve")).to_be_visible(timeout=DRIVEN_MS)
    conditions.get_by_label("Wind speed").fill("fast")
    conditions.get_by_label("Wind speed").press("Enter")
    expect(conditions.get_by_label("Wind speed")).to_have_value("4")


def test_conditions_stay_on_a_phone(conditions: Page) -> None:
    conditions.set_viewport_size({"width": 390, "height": 844})
    fits(conditions)
