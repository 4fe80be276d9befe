"""The Lap page in a real browser: what it shows, how figures answer, one cursor on all of it."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

from web.pages import (
    escape,
    figure,
    fits,
    frames,
    grip,
    heads,
    kept,
    lap_seconds,
    put,
    row,
    until,
    words,
)


def test_first_paint_says_where_it_brakes_and_in_which_gear(page: Page) -> None:
    assert 97 < lap_seconds(page) < 100
    expect(heads(page)).to_have_count(11)
    assert words(row(page, "Reference").first) == "100"
    assert words(row(page, "Braking point").first) == "13 past"
    assert words(row(page, "Gear").first) == "6 2"
    assert words(row(page, "Minimum speed").nth(3)) == "65"
    description = page.get_by_test_id("speed-curve").get_attribute("aria-label")
    assert description is not None
    assert "Drove: flat, 201 km/h" in description


def test_the_lap_is_told_by_its_sectors_and_sums(page: Page) -> None:
    times = page.get_by_label("Predicted lap").locator("dd .figure").all_inner_texts()
    sectors = [float(time) for time in times[:3]]
    assert sum(sectors) == pytest.approx(lap_seconds(page), abs=0.002)
    sums = page.get_by_test_id("corner-table").locator("td.sum").all_inner_texts()
    told = " ".join(re.sub(r"\s+", " ", text) for text in sums)
    for said in ("3988 m", "MJ braking", "shifts", "mean", "% full", "top"):
        assert said in told


def test_arrows_step_a_figure_and_the_lap_follows(page: Page) -> None:
    before = lap_seconds(page)
    power = figure(page, "Power (kW)")
    power.focus()
    power.press("ArrowUp")
    power.press("ArrowUp")
    power.press("Shift+ArrowUp")
    expect(power).to_have_attribute("aria-valuenow", re.compile(r"^208\."))
    kept(page)
    assert lap_seconds(page) < before - 0.2


def test_a_stepped_figure_is_kept_as_one_revision_when_let_go_of(page: Page) -> None:
    grip(page).focus()
    for _ in range(4):
        page.keyboard.press("ArrowDown")
    expect(page.locator("header .state")).to_have_text("not saved yet")
    expect(page.locator("header .state")).to_have_text("saved", timeout=4000)
    escape(page)
    page.keyboard.press("h")
    steps = page.get_by_role("dialog").locator("tbody tr")
    expect(steps.first).to_contain_text("Grip 1.52 to 1.48")
    expect(steps.last).to_contain_text("Copy of")
    expect(steps).to_have_count(2)
    worth = float(steps.first.locator("td").nth(1).inner_text())
    assert 0.4 < worth < 2.0


def test_a_radius_changes_its_own_corner(page: Page) -> None:
    page.keyboard.press("b")
    expect(page.get_by_test_id("time-row")).to_be_visible()
    put(page, "Radius of Sluice (m)", "34")
    minimum = row(page, "Minimum speed")
    expect(minimum.first).to_contain_text("faster")
    assert words(minimum.nth(6)) == "92 same"


def test_wrong_input_is_refused_where_it_was_typed(page: Page) -> None:
    before = lap_seconds(page)
    field = grip(page)
    refused = {
        "abc": "“abc” was typed; a number is expected.",
        "-1": "-1 was given; more than 0 is expected.",
        "9": "9 was given; 5 or less is expected.",
    }
    for typed, why in refused.items():
        field.fill(typed)
        field.press("Enter")
        expect(page.get_by_role("alert")).to_have_text(why)
        expect(field).to_have_attribute("aria-invalid", "true")
        assert field.input_value() == typed
        assert lap_seconds(page) == before
        field.press("Escape")
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(field).to_have_value("1.52")


def test_a_mended_figure_is_taken(page: Page) -> None:
    before = lap_seconds(page)
    field = grip(page)
    field.fill("x")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_be_visible()
    field.fill("1,6")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    kept(page)
    assert lap_seconds(page) < before
    expect(field).to_have_value("1.6")


def test_a_corner_selected_anywhere_is_selected_everywhere(page: Page) -> None:
    columns = heads(page)
    marks = page.get_by_test_id("map").locator(".map-label")
    readout = page.locator(".readout")

    def selected(number: int) -> None:
        """In the table, on the map and on the curve, with the cursor at its lowest point."""
        expect(columns.nth(number - 1)).to_have_attribute("aria-pressed", "true")
        expect(columns.and_(page.locator("[aria-pressed=true]"))).to_have_count(1)
        mark = page.get_by_test_id("map").locator(f"[data-number='{number - 1}']")
        expect(mark).to_have_attribute("fill", "var(--paper)")
        lowest = int(words(row(page, "Minimum speed").nth(number - 1)))
        # It is reached within 0.05 m/s there, which may round to the next number.
        expect(readout).to_contain_text(re.compile(rf" ({lowest}|{lowest + 1}) km/h"))

    columns.nth(3).click()
    selected(4)
    marks.and_(page.locator("[data-number='7']")).click()
    selected(8)
    low = page.locator("[data-label='low-1'] text").first.bounding_box()
    assert low is not None
    page.mouse.click(low["x"] + low["width"] / 2, low["y"] - 12)
    expect(columns.nth(1)).to_have_attribute("aria-pressed", "true")
    page.mouse.move(4, 4)
    page.keyboard.press("]")
    selected(3)
    page.keyboard.press("[")
    page.keyboard.press("[")
    page.keyboard.press("[")
    selected(11)
    page.keyboard.press("7")
    selected(7)
    page.keyboard.press("1")
    page.keyboard.press("1")
    selected(11)
    columns.nth(3).click()
    page.keyboard.press("r")
    expect(figure(page, "Radius of Eel Trap (m)")).to_be_focused()
    escape(page)
    escape(page)
    expect(columns.and_(page.locator("[aria-pressed=true]"))).to_have_count(0)


def test_gears_in_doubt_and_moved_stay_in_their_columns(page: Page) -> None:
    """Every corner of it in doubt and moved at once, as it may come: the widest that is said."""

    def in_doubt(route: Route) -> None:
        answer = route.fetch()
        told = answer.json()
        for corner in told["corners"]:
            corner["gear_in_doubt"] = True
            corner["gears"] = [{"gear": 3, "share_pct": 40.0}, {"gear": 9, "share_pct": 20.0}]
        route.fulfill(response=answer, json=told)

    def moved(route: Route) -> None:
        answer = route.fetch()
        told = answer.json()
        for corner in told["comparison"]["corners"]:
            corner["gear_moved"] = "was 3"
        route.fulfill(response=answer, json=told)

    page.route("**/bands", in_doubt)
    page.route("**/changes", moved)
    page.evaluate("localStorage.setItem('neapfrost-bands', 'on')")
    page.reload()
    page.get_by_test_id("band-curve").wait_for()
    page.keyboard.press("b")
    expect(page.get_by_test_id("time-row")).to_be_visible()
    put(page, "Grip (μ)", "1.46")
    expect(row(page, "Gear").nth(0)).to_contain_text("or 3, 9")
    expect(row(page, "Gear").nth(0)).to_contain_text("was 3")
    cells = page.get_by_test_id("corner-table").locator("td")
    over = cells.evaluate_all("(all) => all.map((one) => one.scrollWidth - one.clientWidth)")
    assert max(over) <= 0
    heights = row(page, "Gear").evaluate_all("(cells) => cells.map((cell) => cell.offsetHeight)")
    assert max(heights) <= 29


def test_what_is_read_at_the_cursor_is_painted_over_the_curve(page: Page) -> None:
    page.keyboard.press("3")
    readout = page.locator(".readout")
    expect(readout).to_contain_text("gear")
    place = readout.bounding_box()
    assert place is not None
    frames(page)
    painted = page.screenshot(clip=place)
    readout.evaluate("(element) => (element.style.visibility = 'hidden')")
    until(page, lambda: page.screenshot(clip=place) != painted)


def test_the_cursor_follows_pointer_and_keys(page: Page) -> None:
    box = page.get_by_test_id("speed-curve").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 150)
    readout = page.locator(".readout")
    expect(readout).to_contain_text("1994 m")
    page.mouse.move(5, 5)
    page.keyboard.press("7")
    expect(readout).to_contain_text("92")
    before = readout.inner_text()
    page.keyboard.press("ArrowRight")
    expect(readout).not_to_have_text(before)


def test_the_selected_corner_is_taken_up_again(page: Page) -> None:
    page.keyboard.press("5")
    page.reload()
    page.get_by_test_id("speed-curve").wait_for()
    expect(heads(page).nth(4)).to_have_attribute("aria-pressed", "true")


def test_the_main_figures_fit_on_1280_by_800(page: Page) -> None:
    assert page.evaluate("document.documentElement.scrollHeight") <= 800
    page.keyboard.press("b")
    expect(page.get_by_test_id("time-row")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollHeight") <= 800
    fits(page)


def test_the_sheet_of_keys_opens_and_closes(page: Page) -> None:
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    expect(page.get_by_role("dialog")).to_contain_text("previous and next corner")
    escape(page)
    expect(page.get_by_role("dialog")).not_to_be_visible()
    page.keyboard.press("]")
    expect(heads(page).first).to_have_attribute("aria-pressed", "true")


def test_every_sheet_has_its_key(page: Page) -> None:
    sheets = {
        "/": "Plans",
        "c": "Compare with",
        "h": "History of this plan",
        "m": "Map",
        "w": "The lap in words",
    }
    for key, title in sheets.items():
        page.keyboard.press(key)
        expect(page.get_by_role("dialog", name=title)).to_be_visible()
        escape(page)


def test_the_lap_can_be_read_instead_of_seen(page: Page) -> None:
    page.keyboard.press("w")
    told = page.get_by_role("dialog").inner_text()
    assert told.count("minimum") == 11
    assert "Sluice" in told
    assert "13 m past 100" in told


def test_the_cautions_stand_on_the_page(page: Page) -> None:
    expect(page.locator("footer")).to_contain_text("not a promise")
    expect(page.locator("footer")).to_contain_text("on public roads none of this applies")


def test_the_first_laps_step_up_to_the_plan(page: Page) -> None:
    page.keyboard.press("f")
    table = page.get_by_test_id("first-laps")
    expect(table.locator("thead th")).to_have_count(6)
    first = table.locator("tbody tr").first.locator("td")
    speeds = [int(text) for text in first.locator(".speed").all_inner_texts()]
    assert speeds == sorted(speeds)
    assert speeds[0] < speeds[-1]
    expect(first.first).to_contain_text("earlier")
    expect(first.last).not_to_contain_text("earlier")
    page.get_by_label("How well the circuit is known").select_option("known by heart")
    expect(table.locator("thead th")).to_have_count(4)
