"""What leaves the page and how it speaks: clipboard, CSV, paper, units, day and night, phone."""

import csv
import io
import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from web.pages import (
    DRY_K4,
    PATIENCE_MS,
    chosen,
    copied_plan,
    demo_plans_of,
    escape,
    figure,
    fits,
    grip,
    heads,
    lap_seconds,
    notice,
    open_plan,
    put,
)


def test_the_table_goes_to_the_clipboard_and_to_csv_alike(page: Page) -> None:
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(notice(page)).to_contain_text("Corner table copied")
    pasted = list(
        csv.reader(io.StringIO(page.evaluate("navigator.clipboard.readText()")), "excel-tab")
    )
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV").click()
    assert download.value.suggested_filename.endswith(".csv")
    saved = list(csv.reader(io.StringIO(Path(download.value.path()).read_text())))
    assert saved == pasted
    assert len(saved) == 12
    names = [line[saved[0].index("corner")] for line in saved[1:]]
    assert names[0] == "Sluice"
    assert len({len(line) for line in saved}) == 1


def test_the_whole_result_is_a_document_that_names_its_revisions(page: Page) -> None:
    put(page, "Grip (μ)", "1.5")
    with page.expect_download() as download:
        page.get_by_role("link", name="Result").click()
    result = json.loads(Path(download.value.path()).read_text())
    assert result["lap_time_s"] == pytest.approx(lap_seconds(page), abs=0.0006)
    assert result["revisions"]["car"] == 2
    assert len(result["corners"]) == 11


def pages_of(pdf: bytes) -> int:
    return len(re.findall(rb"/Type\s*/Page[^s]", pdf))


def test_the_print_is_one_page_with_cautions_and_revisions(page: Page) -> None:
    put(page, "Grip (μ)", "1.5")
    expect(page.locator(".print")).to_have_count(0)
    page.evaluate("dispatchEvent(new Event('beforeprint'))")
    page.emulate_media(media="print")
    paper = page.locator(".print")
    expect(paper).to_be_visible()
    expect(paper).to_contain_text("revision 2")
    expect(paper).to_contain_text("licensed instructors")
    expect(paper).to_contain_text("not a promise")
    expect(paper.locator("tbody tr")).to_have_count(11)
    expect(page.locator("main")).not_to_be_visible()
    page.emulate_media(media="null")  # "screen" would print the page as the screen shows it
    page.evaluate("dispatchEvent(new Event('afterprint'))")
    expect(page.locator(".print")).to_have_count(0)
    assert pages_of(page.pdf(prefer_css_page_size=True)) == 1


def test_units_change_every_figure_and_are_remembered(page: Page) -> None:
    seconds = lap_seconds(page)
    page.keyboard.press("u")
    menu = page.get_by_role("button", name="Units, night and keys")
    expect(menu).to_contain_text("mph")
    expect(page.get_by_label("What the lap is based on")).to_contain_text("13084")
    radius = figure(page, "Radius of Sluice (ft)")
    expect(radius).to_have_value("88.6")
    assert lap_seconds(page) == seconds
    put(page, "Radius of Sluice (ft)", "100")
    page.reload()
    expect(figure(page, "Radius of Sluice (ft)")).to_have_value("100")
    page.keyboard.press("u")
    expect(menu).to_contain_text("yd")
    chosen(page, "Units")
    page.get_by_role("radio", name="Metric: km/h").check()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Temperatures").select_option(label="°F")
    sheet.get_by_label("Power").select_option(label="hp")
    escape(page)
    expect(figure(page, "Radius of Sluice (m)")).to_have_value("30.5")
    expect(figure(page, "Air (°F)")).to_have_value("48.2")
    expect(figure(page, "Power (hp)")).to_have_value("264.8")
    expect(figure(page, "Mass (kg)")).to_have_value("690")
    page.reload()
    expect(figure(page, "Power (hp)")).to_have_value("264.8")


def test_day_and_night_are_remembered(page: Page) -> None:
    chosen(page, "Night")
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-night"
    page.reload()
    page.get_by_test_id("speed-curve").wait_for()
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-night"
    paper = page.evaluate("getComputedStyle(document.body).backgroundColor")
    assert paper in ("rgb(10, 27, 41)", "#0a1b29")
    page.keyboard.press("n")
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-day"


def test_on_a_phone_the_corners_are_rows_and_can_be_changed(
    context: BrowserContext, address: str
) -> None:
    page = context.new_page()
    page.set_viewport_size({"width": 390, "height": 844})
    open_plan(page, address, copied_plan(address, DRY_K4))
    expect(page.get_by_test_id("corner-table")).to_have_count(0)
    rows = page.locator("main ol > li")
    expect(rows).to_have_count(11)
    fits(page)
    expect(rows.first).to_contain_text("13 past 100")
    before = lap_seconds(page)
    put(page, "Radius of Eel Trap (m)", "26")
    assert lap_seconds(page) < before
    # The lap comes first; what it is based on is folded up over it.
    expect(grip(page)).not_to_be_visible()
    page.get_by_text("What the lap is based on").click()
    put(page, "Grip (μ)", "1.6")
    assert lap_seconds(page) < before - 1
    rows.nth(6).get_by_role("button").first.click()
    expect(rows.nth(6)).to_have_class(re.compile("chosen"))
    page.get_by_role("button", name="Plan Kittiwake").click()
    expect(page.get_by_role("dialog", name="Plans")).to_be_visible()
    fits(page)


def test_a_finger_moves_the_cursor_and_selects(context: BrowserContext, address: str) -> None:
    browser = context.browser
    assert browser is not None
    touch = browser.new_context(viewport={"width": 1280, "height": 800}, has_touch=True)
    page = touch.new_page()
    open_plan(page, address, copied_plan(address, DRY_K4))
    box = page.get_by_test_id("speed-curve").bounding_box()
    assert box is not None
    page.touchscreen.tap(box["x"] + 0.535 * box["width"], box["y"] + 150)
    expect(heads(page).nth(6)).to_have_attribute("aria-pressed", "true")
    expect(page.locator(".readout")).to_contain_text("92")
    grip(page).tap()
    expect(grip(page)).to_be_focused()
    touch.close()


def test_the_race_and_the_debrief_print_what_they_show(page: Page, address: str) -> None:
    number = demo_plans_of(address)["Dunlin 16, Crake Heath, dry"]
    page.goto(f"{address}#/plan/{number}/race/sheet")
    expect(page.get_by_test_id("stint-roll")).to_be_visible(timeout=PATIENCE_MS)
    page.emulate_media(media="print")
    panel = page.locator("#race-panel")
    expect(panel).to_be_visible()
    expect(panel).to_contain_text("20 laps, 19 min")
    expect(panel).to_contain_text("Soft")
    expect(page.locator("header").first).not_to_be_visible()
    page.emulate_media(media="null")
    assert pages_of(page.pdf(prefer_css_page_size=True)) == 1
    page.goto(f"{address}#/plan/{number}/logbook/debrief")
    page.get_by_test_id("debrief").locator("article").first.wait_for(timeout=PATIENCE_MS)
    runs = page.get_by_test_id("debrief").locator("article").count()
    # A page for each run, and none that is empty behind the last.
    assert pages_of(page.pdf(prefer_css_page_size=True)) == runs
    page.emulate_media(media="print")
    last = page.get_by_test_id("debrief").locator("article").last
    assert last.evaluate("one => getComputedStyle(one).breakAfter") == "auto"
