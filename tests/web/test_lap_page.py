"""The Lap page in a real browser: what it shows, how it answers, and that nothing leaves here."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Page, expect

from browser import chromium
from serving import running_server

PLANS = ["k4-dry", "k4-race-wind", "garganey-dry", "garganey-damp"]


@pytest.fixture(scope="module")
def address() -> Iterator[str]:
    with running_server() as address:
        yield address


@pytest.fixture(scope="module")
def browser() -> Iterator[Browser]:
    with chromium() as browser:
        yield browser


@pytest.fixture
def page(browser: Browser, address: str) -> Iterator[Page]:
    """The page, opened and painted; fails on any script error."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))

    def listen(message: ConsoleMessage) -> None:
        # A refused figure is answered 422 on purpose, which the browser logs by itself.
        if message.type == "error" and "422" not in message.text:
            errors.append(message.text)

    page.on("console", listen)
    page.goto(address)
    page.get_by_test_id("speed-curve").wait_for()
    page.evaluate("document.fonts.ready.then(() => true)")
    yield page
    page.close()
    assert errors == []


def lap_seconds(page: Page) -> float:
    minutes, seconds = page.get_by_test_id("lap-time").inner_text().split(":")
    return 60 * int(minutes) + float(seconds)


def grip(page: Page) -> Any:
    return page.get_by_role("spinbutton", name="Grip")


def test_first_paint_says_where_it_brakes_and_in_which_gear(page: Page) -> None:
    assert 97 < lap_seconds(page) < 100
    table = page.get_by_test_id("corner-table")
    expect(table.locator("thead button")).to_have_count(11)
    row = table.locator("tbody tr", has=page.get_by_role("rowheader", name="Braking point"))
    assert row.locator("td").first.inner_text().split() == ["15", "past"]
    gears = table.locator("tbody tr", has=page.get_by_role("rowheader", name="Gear"))
    assert re.sub(r"\s+", " ", gears.locator("td").first.inner_text()).strip() == "6 2"
    minimum = table.locator("tbody tr", has=page.get_by_role("rowheader", name="Minimum speed"))
    assert minimum.locator("td").nth(3).inner_text().strip() == "65"
    description = page.get_by_test_id("speed-curve").get_attribute("aria-label")
    assert description is not None
    assert "Drove: flat, 201 km/h" in description


def test_less_grip_moves_each_braking_point_and_says_so(page: Page) -> None:
    before = lap_seconds(page)
    grip(page).fill("1.42")
    grip(page).press("Enter")
    expect(page.get_by_test_id("lap-difference")).to_contain_text("+")
    assert lap_seconds(page) > before + 1
    moved = page.get_by_test_id("brake-moved").all_inner_texts()
    assert len(moved) == 11
    assert sum("earlier" in text for text in moved) == 10
    expect(page.get_by_test_id("opened-curve")).to_be_attached()
    page.get_by_role("button", name="Go back to it").click()
    expect(page.get_by_test_id("opened-curve")).to_have_count(0)
    assert lap_seconds(page) == before


def test_arrows_step_a_figure_and_the_lap_follows(page: Page) -> None:
    before = lap_seconds(page)
    power = page.get_by_role("spinbutton", name="Power")
    power.focus()
    power.press("ArrowUp")
    expect(page.get_by_test_id("lap-difference")).to_contain_text("−")
    power.press("ArrowUp")
    power.press("Shift+ArrowUp")
    expect(power).to_have_attribute("aria-valuenow", re.compile(r"^208\."))
    page.wait_for_timeout(300)
    assert lap_seconds(page) < before - 0.2


def test_a_radius_changes_its_own_corner(page: Page) -> None:
    radius = page.get_by_role("spinbutton", name="Radius of Sluice")
    radius.fill("34")
    radius.press("Enter")
    expect(page.get_by_test_id("lap-difference")).to_contain_text("−")
    table = page.get_by_test_id("corner-table")
    minimum = table.locator("tbody tr", has=page.get_by_role("rowheader", name="Minimum speed"))
    texts = [re.sub(r"\s+", " ", text).strip() for text in minimum.locator("td").all_inner_texts()]
    assert texts[0].endswith("faster")
    assert texts[6] == "92 same"


@pytest.mark.parametrize(
    ("typed", "why"),
    [
        ("abc", "“abc” was typed; a number is expected."),
        ("-1", "-1 was given; more than 0 is expected."),
        ("9", "9 was given; 5 or less is expected."),
    ],
)
def test_wrong_input_is_refused_where_it_was_typed(page: Page, typed: str, why: str) -> None:
    before = lap_seconds(page)
    field = grip(page)
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
    field = grip(page)
    field.fill("x")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_be_visible()
    field.fill("1,6")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.get_by_test_id("lap-difference")).to_contain_text("−")
    expect(field).to_have_value("1.6")


def test_a_corner_selected_anywhere_is_selected_everywhere(page: Page) -> None:
    heads = page.get_by_test_id("corner-table").locator("thead button")
    page.keyboard.press("]")
    expect(heads.nth(0)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("[")
    expect(heads.nth(10)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("7")
    expect(heads.nth(6)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("1")
    page.keyboard.press("1")
    expect(heads.nth(10)).to_have_attribute("aria-pressed", "true")
    heads.nth(3).click()
    expect(heads.nth(3)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("r")
    expect(page.get_by_role("spinbutton", name="Radius of Eel Trap")).to_be_focused()


def test_the_cursor_follows_pointer_and_keys(page: Page) -> None:
    curve = page.get_by_test_id("speed-curve")
    box = curve.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 150)
    readout = page.locator(".readout")
    expect(readout).to_contain_text("1994 m")
    page.mouse.move(5, 5)
    page.keyboard.press("7")
    expect(readout).to_contain_text("92")
    before = readout.inner_text()
    page.keyboard.press("ArrowRight")
    assert readout.inner_text() != before


def label_boxes(page: Page) -> list[dict[str, float]]:
    boxes: list[dict[str, float]] = page.evaluate(
        """[...document.querySelectorAll('.label text')].map((text) => {
             const box = text.getBBox()
             return { id: text.parentNode.dataset.label, left: box.x, right: box.x + box.width,
                      top: box.y + 3, bottom: box.y + box.height - 3 }
           })"""
    )
    return boxes


@pytest.mark.parametrize("plan", PLANS)
@pytest.mark.parametrize("width", [1280, 1600])
def test_labels_never_collide_or_vanish(page: Page, plan: str, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 800})
    page.get_by_label("Plan").select_option(plan)
    page.wait_for_timeout(600)
    curve = page.get_by_test_id("speed-curve")
    expect(curve).to_have_attribute("data-lost", "0")
    boxes = label_boxes(page)
    assert len({box["id"] for box in boxes}) >= 20
    for index, a in enumerate(boxes):
        for b in boxes[index + 1 :]:
            if a["id"] == b["id"]:
                continue
            apart = (
                a["right"] <= b["left"]
                or b["right"] <= a["left"]
                or a["bottom"] <= b["top"]
                or b["bottom"] <= a["top"]
            )
            assert apart, (a, b)


@pytest.mark.parametrize("plan", PLANS)
def test_no_leader_crosses_a_label(page: Page, plan: str) -> None:
    page.get_by_label("Plan").select_option(plan)
    page.wait_for_timeout(600)
    crossed = page.evaluate(
        """[...document.querySelectorAll('.label > path:first-child')].flatMap((path) => {
             const length = path.getTotalLength(), own = path.parentNode
             if (path.getAttribute('fill')) return []
             return [...document.querySelectorAll('.label')].filter((label) => {
               if (label === own) return false
               return [...label.querySelectorAll('text')].some((text) => {
                 const box = text.getBBox()
                 for (let at = 0; at <= length; at += 2) {
                   const p = path.getPointAtLength(at)
                   if (p.x > box.x && p.x < box.x + box.width && p.y > box.y + 4
                       && p.y < box.y + box.height - 4) return true
                 }
                 return false
               })
             }).map((label) => [own.dataset.label, label.dataset.label])
           })"""
    )
    assert crossed == []


def test_the_main_figures_fit_on_1280_by_800(page: Page) -> None:
    assert page.evaluate("document.documentElement.scrollHeight") <= 800
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280


def test_on_a_phone_the_corners_are_rows(page: Page) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.get_by_test_id("corner-table")).to_have_count(0)
    expect(page.locator("ol > li")).to_have_count(11)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_day_and_night_are_remembered(page: Page) -> None:
    page.get_by_role("button", name="Night").click()
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-night"
    page.reload()
    page.get_by_test_id("speed-curve").wait_for()
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-night"
    paper = page.evaluate("getComputedStyle(document.body).backgroundColor")
    assert paper in ("rgb(10, 27, 41)", "#0a1b29")
    page.keyboard.press("n")
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-day"


def test_the_sheet_of_keys_opens_and_closes(page: Page) -> None:
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    expect(page.get_by_role("dialog")).to_contain_text("previous and next corner")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).not_to_be_visible()
    page.keyboard.press("]")
    expect(page.get_by_test_id("corner-table").locator("thead button").first).to_have_attribute(
        "aria-pressed", "true"
    )


def test_the_cautions_stand_on_the_page(page: Page) -> None:
    expect(page.locator("footer")).to_contain_text("not a promise")
    expect(page.locator("footer")).to_contain_text("on public roads none of this applies")


def test_no_request_leaves_the_machine(browser: Browser, address: str) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    page.goto(address)
    page.get_by_test_id("speed-curve").wait_for()
    grip(page).fill("1.4")
    grip(page).press("Enter")
    expect(page.get_by_test_id("lap-difference")).to_be_visible()
    page.get_by_label("Plan").select_option("garganey-dry")
    page.wait_for_timeout(500)
    assert len(asked) > 8
    assert [url for url in asked if not url.startswith((address, "data:"))] == []
    page.close()


def test_when_the_application_is_gone_the_page_says_so(browser: Browser) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    with running_server() as address:
        page.goto(address)
        page.get_by_test_id("speed-curve").wait_for()
        shown = lap_seconds(page)
    grip(page).fill("1.4")
    grip(page).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is it still running?")
    assert lap_seconds(page) == shown
    page.close()
