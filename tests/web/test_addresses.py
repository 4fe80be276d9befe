"""Every plan, view, corner and tab has an address; a link can be kept, and Back works."""

import re

from playwright.sync_api import Page, expect

from web.pages import DRY_K4, copied_plan, demo_plans_of, heads, open_plan


def at(page: Page, place: str) -> None:
    """The address ends in this place of the page's own plan."""
    expect(page).to_have_url(re.compile(rf"#/plan/\d+/{place}$"))


def view(page: Page, name: str) -> None:
    page.get_by_role("link", name=name, exact=True).click()


def tab(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name).click()
    expect(page.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")


def test_views_tabs_and_corners_are_in_the_address_and_back_takes_them_back(page: Page) -> None:
    at(page, "lap")
    view(page, "Car")
    at(page, "car/does")
    tab(page, "Setups")
    at(page, "car/setups")
    view(page, "Circuit")
    tab(page, "Heights")
    at(page, "circuit/heights")
    view(page, "Lap")
    heads(page).nth(4).click()
    at(page, "lap/5")
    page.keyboard.press("o")
    at(page, "lap/5/do")
    tab(page, "Notes")
    at(page, "lap/5/notes")
    page.go_back()
    expect(page.get_by_role("tab", name="What to do")).to_have_attribute("aria-selected", "true")
    page.go_back()
    expect(page.get_by_test_id("corner-table")).to_be_visible()
    page.go_back()
    expect(page.get_by_role("tab", name="Heights")).to_have_attribute("aria-selected", "true")
    for _ in range(2):
        page.go_back()
    expect(page.get_by_role("tab", name="Setups")).to_have_attribute("aria-selected", "true")
    page.go_forward()
    expect(page.get_by_test_id("closure")).to_be_visible()


def test_choosing_corner_after_corner_leaves_no_trail(page: Page) -> None:
    before = page.evaluate("history.length")
    for key in ("2", "]", "]", "["):
        page.keyboard.press(key)
    at(page, "lap/3")
    assert page.evaluate("history.length") == before
    page.keyboard.press("Escape")
    at(page, "lap")


def test_a_kept_link_opens_where_it_was_kept(page: Page, address: str) -> None:
    number = copied_plan(address, DRY_K4)
    for place, shown in (
        (f"#/plan/{number}/lap/7/working", page.get_by_test_id("working")),
        (f"#/plan/{number}/car/brakes", page.get_by_test_id("brake-costs")),
        (f"#/plan/{number}/circuit/notes", page.get_by_test_id("notes")),
    ):
        # A new page, as from a link in a letter.
        page.goto("about:blank")
        page.goto(address + place)
        expect(shown).to_be_visible()
        expect(page).to_have_url(address + place)


def test_back_reaches_the_plan_before(page: Page, address: str) -> None:
    first = page.get_by_test_id("plan-name").inner_text()
    other = demo_plans_of(address)["Sanderling 900, Sallow Fen, dry"]
    page.goto(f"{address}#/plan/{other}/lap")
    expect(page.get_by_test_id("plan-name")).to_contain_text("Sanderling")
    page.go_back()
    expect(page.get_by_test_id("plan-name")).to_have_text(first)


def test_an_address_that_says_too_much_is_taken_as_far_as_it_goes(page: Page, address: str) -> None:
    number = copied_plan(address, DRY_K4)
    open_plan(page, address, number)
    for said, becomes in (
        (f"#plan={number}", "lap"),
        (f"#/plan/{number}/lap/99", "lap"),
        (f"#/plan/{number}/lap/3/elsewhere", "lap/3"),
        (f"#/plan/{number}/car/elsewhere", "car/does"),
        (f"#/plan/{number}/nowhere", "car/does"),
    ):
        page.goto(address + said)
        at(page, becomes)


def test_a_plan_that_is_not_there_is_said_and_the_open_one_stays(page: Page, address: str) -> None:
    here = page.url
    page.goto(f"{address}#/plan/99999/lap")
    expect(page.get_by_role("alert")).to_contain_text("99999")
    expect(page).to_have_url(here)
    expect(page.get_by_test_id("speed-curve")).to_be_visible()
