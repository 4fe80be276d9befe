"""The corner sheet, the bands and the brief in a real browser: opened, changed, priced, printed."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from web.pages import (
    DRY_K4,
    SAMPHIRE,
    copied_plan,
    demo_plans_of,
    figure,
    fits,
    kept,
    lap_seconds,
    open_plan,
    put,
    row,
    words,
)
from web.test_accessibility import faults, unguarded
from web.test_outputs import pages_of

CALLS_MS = 60_000


@pytest.fixture
def sheet(page: Page) -> Page:
    """The page with the sheet of the seventh corner open."""
    page.keyboard.press("7")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("corner-sentence")).to_have_text(
        "Look for the 100 board. Brake 13 m past it for 106 m. Down 6 to 3. Turn in at 105, "
        "minimum 92, throttle 38 m after.",
        timeout=CALLS_MS,
    )
    return page


def part(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name, exact=True).click()


def test_a_corner_is_opened_turned_through_and_left_by_keys(sheet: Page) -> None:
    expect(sheet.get_by_test_id("corner-table")).to_have_count(0)
    calls = sheet.get_by_role("list", name="Calls in short")
    expect(calls).to_contain_text("2nd at 7407 rpm costs")
    expect(calls).to_contain_text("Downhill 6.0 %")
    expect(sheet.get_by_text("blind: extra margin")).to_be_visible()
    # Every label has its place, on every corner of the lap.
    for _ in range(11):
        sheet.keyboard.press("]")
        curve = sheet.get_by_test_id("corner-curve")
        expect(curve).to_have_attribute("data-missing", "")
    expect(sheet.get_by_role("heading", name=re.compile("7 Bittern"))).to_be_visible()
    sheet.keyboard.press("[")
    expect(sheet.get_by_role("heading", name=re.compile("6 Drove"))).to_be_visible()
    sheet.keyboard.press("Escape")
    expect(sheet.get_by_test_id("corner-table")).to_be_visible()
    sheet.keyboard.press("Enter")
    expect(sheet.get_by_test_id("corner-sheet")).to_be_visible()


def test_a_call_is_taken_priced_marked_and_let_go(sheet: Page) -> None:
    before = lap_seconds(sheet)
    part(sheet, "Calls")
    sheet.get_by_role("button", name="Use gear 4").click()
    kept(sheet)
    expect(sheet.get_by_role("button", name="Clear of gear 4")).to_be_visible(timeout=CALLS_MS)
    slower = lap_seconds(sheet) - before
    assert slower == pytest.approx(0.148, abs=0.002)
    part(sheet, "What to do")
    asked = sheet.get_by_test_id("asked").get_by_role("row", name=re.compile("Gear"))
    expect(asked).to_contain_text("0.148 lost", timeout=CALLS_MS)
    expect(asked).to_have_class(re.compile("own"))
    expect(sheet.get_by_test_id("corner-sentence")).to_contain_text("Down 6 to 4")
    asked.get_by_role("button", name="as calculated").click()
    expect(asked).to_contain_text("as calculated")
    expect(asked).not_to_contain_text("lost")
    kept(sheet)
    assert lap_seconds(sheet) == pytest.approx(before, abs=0.0011)


def test_figures_asked_for_here_are_typed_and_refused_in_place(sheet: Page) -> None:
    before = lap_seconds(sheet)
    put(sheet, "Braking effort at Bittern", "70")
    expect(sheet.get_by_test_id("asked")).to_contain_text("lost", timeout=CALLS_MS)
    assert lap_seconds(sheet) > before + 0.1
    field = figure(sheet, "Gear at Bittern")
    field.fill("9")
    field.press("Enter")
    expect(sheet.get_by_text("use a gear from 1 to 6")).to_be_visible()
    put(sheet, "Driven radius at Bittern", "45")
    expect(sheet.get_by_test_id("asked").locator("tr.own")).to_have_count(2)
    sheet.keyboard.press("Control+z")
    expect(sheet.get_by_test_id("asked").locator("tr.own")).to_have_count(1)


def test_every_figure_opens_to_its_arithmetic(sheet: Page) -> None:
    sheet.get_by_role("button", name="minimum speed", exact=True).click()
    working = sheet.get_by_test_id("working")
    expect(working).to_contain_text("load on the rear", timeout=CALLS_MS)
    expect(sheet.locator(".limit")).to_contain_text("91.7 km/h")
    expect(sheet.locator(".limit")).to_contain_text("100.0 % of it is in use")
    sheet.get_by_role("button", name="Braking distance", exact=True).click()
    expect(working.get_by_role("row").last).to_contain_text("106.11")
    sheet.get_by_role("button", name="Lap time", exact=True).click()
    expect(working.get_by_role("row").last).to_contain_text("99.094")


def test_worth_race_and_first_laps_stand_on_the_sheet(sheet: Page) -> None:
    part(sheet, "Worth and links")
    ranking = sheet.get_by_role("region", name="Time spent")
    expect(ranking.get_by_role("listitem").first).to_contain_text("Bittern", timeout=CALLS_MS)
    expect(sheet.get_by_text("Most time is spent in Bittern")).to_be_visible()
    part(sheet, "In a race")
    behind = sheet.get_by_role("row", name=re.compile("close behind"))
    expect(behind).to_contain_text("slower", timeout=CALLS_MS)
    put(sheet, "Downforce close behind", "100")
    put(sheet, "Drag close behind", "100")
    expect(behind).to_contain_text("±0.000", timeout=CALLS_MS)
    part(sheet, "First laps")
    steps = sheet.get_by_test_id("corner-first-laps").get_by_role("row")
    expect(steps).to_have_count(6, timeout=CALLS_MS)
    earlier = [int(words(steps.nth(n).locator("td").nth(2))) for n in (1, 2, 3, 4)]
    assert earlier == sorted(earlier, reverse=True)


def test_notes_are_kept_for_the_circuit_and_reach_the_brief(page: Page) -> None:
    page.keyboard.press("5")
    page.keyboard.press("o")
    part(page, "Notes")
    page.get_by_label("Look at").fill("the last willow")
    page.get_by_label("Look at").press("Tab")
    kept(page)
    page.get_by_label("no run-off").check()
    kept(page)
    page.get_by_role("link", name="Brief", exact=True).click()
    brief = page.get_by_test_id("brief")
    expect(brief).to_contain_text("the last willow", timeout=CALLS_MS)
    expect(brief).to_contain_text("no run-off")
    page.reload()
    expect(page.get_by_test_id("brief")).to_contain_text("the last willow", timeout=CALLS_MS)


def test_bands_are_driven_shown_everywhere_and_put_away(page: Page) -> None:
    expect(page.get_by_test_id("lap-band")).to_have_count(0)
    page.keyboard.press("k")
    band = page.get_by_test_id("lap-band")
    expect(band).to_have_text(re.compile(r"1:38\.2\d\d to 1:40\.0\d\d"), timeout=CALLS_MS)
    expect(page.get_by_test_id("band-curve")).to_have_count(1)
    expect(row(page, "Minimum speed").first).to_contain_text("±1")
    # With less known of the grip, another gear may be the quickest.
    band.click()
    put(page, "Grip, the whole lap", "6")
    page.keyboard.press("Escape")
    expect(row(page, "Gear").nth(6)).to_contain_text("or 2", timeout=CALLS_MS)
    band.click()
    put(page, "Grip, the whole lap", "0")
    page.keyboard.press("Escape")
    expect(band).not_to_have_text(re.compile(r"1:38\.2"), timeout=CALLS_MS)
    page.keyboard.press("k")
    expect(page.get_by_test_id("band-curve")).to_have_count(0)


@pytest.mark.parametrize("paper", ["A4", "A5"])
def test_the_brief_prints_on_one_page(page: Page, address: str, paper: str) -> None:
    page.get_by_role("link", name="Brief", exact=True).click()
    brief = page.get_by_test_id("brief")
    expect(brief.get_by_role("rowheader")).to_have_count(11, timeout=CALLS_MS)
    page.get_by_label(paper, exact=True).check()
    for said in ("13 m past 100", "Car revision 1", "not a promise", "licensed instructors"):
        expect(brief).to_contain_text(said)
    pdf = page.pdf(prefer_css_page_size=True)
    assert pages_of(pdf) == 1
    # A road with long words beside it does not run over either.
    page.goto(f"{address}#/plan/{demo_plans_of(address)[SAMPHIRE]}")
    expect(brief).to_contain_text("before start of the kerb", timeout=CALLS_MS)
    assert pages_of(page.pdf(prefer_css_page_size=True)) == 1
    width = {"A4": b"594", "A5": b"420"}[paper]
    assert re.search(rb"/MediaBox\s*\[\s*0 0 " + width, pdf)
    page.emulate_media(media="print")
    expect(page.locator("header nav")).not_to_be_visible()
    expect(page.locator("footer")).not_to_be_visible()
    expect(brief).to_be_visible()


def test_the_brief_leaves_as_files(page: Page) -> None:
    page.get_by_role("link", name="Brief", exact=True).click()
    expect(page.get_by_test_id("brief")).to_be_visible(timeout=CALLS_MS)
    page.get_by_label("How well the circuit is known").select_option("driven here before")
    begun = {"Markdown": "# Sallow Fen", "CSV": "number,Corner", "SVG": "<svg", "JSON": "{"}
    for name, begins in begun.items():
        with page.expect_download() as download:
            page.get_by_role("link", name=name, exact=True).click()
        text = Path(download.value.path()).read_text()
        assert text.startswith(begins)
        if name == "JSON":
            assert json.loads(text)["confidence"] == "some"


def test_the_brief_and_the_sheet_read_on_a_phone(context: BrowserContext, address: str) -> None:
    page = context.new_page()
    page.set_viewport_size({"width": 390, "height": 844})
    open_plan(page, address, copied_plan(address, SAMPHIRE))
    page.keyboard.press("4")
    page.keyboard.press("o")
    expect(page.get_by_test_id("corner-sheet")).to_be_visible()
    expect(page.get_by_test_id("corner-curve")).to_be_visible()
    fits(page)
    page.get_by_role("link", name="Brief", exact=True).click()
    brief = page.get_by_test_id("brief")
    expect(brief).to_contain_text("Windpump", timeout=CALLS_MS)
    fits(page)


def test_sheet_and_brief_pass_the_accessibility_checker(browser: Browser, address: str) -> None:
    sheet = unguarded(browser)
    open_plan(sheet, address, copied_plan(address, DRY_K4))
    sheet.keyboard.press("7")
    sheet.keyboard.press("Enter")
    expect(sheet.get_by_role("list", name="Calls in short")).to_contain_text("2nd at")
    assert faults(sheet, "[data-testid=corner-sheet]") == []
    part(sheet, "Calls")
    expect(sheet.get_by_role("button", name="Use gear 2")).to_be_visible(timeout=CALLS_MS)
    assert faults(sheet, "[data-testid=corner-sheet]") == []
    part(sheet, "Working")
    expect(sheet.get_by_test_id("working")).to_be_visible(timeout=CALLS_MS)
    assert faults(sheet, "[data-testid=corner-sheet]") == []
    sheet.get_by_role("link", name="Brief", exact=True).click()
    expect(sheet.get_by_test_id("brief")).to_contain_text("Sluice", timeout=CALLS_MS)
    assert faults(sheet, "main") == []


def test_a_corner_chosen_by_its_number_is_what_enter_opens(page: Page) -> None:
    """Also where the button or link that was pressed before still has the focus."""
    page.get_by_role("link", name="Lap", exact=True).focus()
    page.keyboard.press("7")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("corner-sentence")).to_be_visible(timeout=CALLS_MS)
