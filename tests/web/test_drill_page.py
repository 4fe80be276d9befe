"""The lap learned by heart in the browser: by keys alone, by touch, in true time, by its rhythm."""

import re

import numpy as np
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from neapfrost.demo.plans import composed
from web.pages import PATIENCE_MS, demo_plans_of, fits, imported
from web.test_accessibility import faults, unguarded

BANDS_MS = PATIENCE_MS


@pytest.fixture(scope="session")
def plan(address: str) -> int:
    """The plan that opens first, with few laps for its bands; every test is another driver."""
    document = composed("k4-samphire").model_dump(mode="json")
    document["name"] = "Learned by heart"
    document["uncertainty"]["laps"] = 20
    return imported(address, document)


@pytest.fixture
def drill(context: BrowserContext, address: str, plan: int, request: pytest.FixtureRequest) -> Page:
    page = context.new_page()
    page.goto(f"{address}#/plan/{plan}/drill/recall")
    expect(page.get_by_test_id("drill-said")).to_be_visible(timeout=BANDS_MS)
    driver = page.get_by_role("combobox", name="Driver")
    driver.fill(request.node.name[:40])
    driver.press("Tab")
    expect(page.get_by_text("0 due now")).to_be_visible()
    return page


def begin(page: Page, order: str, kinds: str = "must") -> None:
    page.get_by_label("In which order").select_option(order)
    if order != "map":
        page.get_by_label("What is asked").select_option(kinds)
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_test_id("drill-question")).to_be_visible()


def test_a_round_by_keys_alone(drill: Page) -> None:
    drill.locator("body").click(position={"x": 5, "y": 500})
    drill.keyboard.press("Enter")
    question, score = drill.get_by_test_id("drill-question"), drill.get_by_test_id("drill-score")
    expect(question).to_have_text("Saltern: where do you brake?")
    road = drill.get_by_test_id("drill-road")
    before = road.get_attribute("aria-valuetext")
    for _ in range(3):
        drill.keyboard.press("ArrowUp")
    drill.keyboard.press("Shift+ArrowDown")
    assert int(road.get_attribute("aria-valuenow") or 0) > 0
    assert road.get_attribute("aria-valuetext") != before
    drill.keyboard.press("Enter")
    expect(score).to_contain_text("You said")
    expect(score).to_contain_text("Look for the")
    drill.keyboard.press("Enter")
    expect(question).to_have_text("Saltern: which gear?")
    drill.keyboard.press("3")
    expect(score).to_contain_text("Right.")
    drill.keyboard.press("Enter")
    expect(question).to_have_text("Saltern: what is the minimum speed?")
    drill.keyboard.type("60")
    drill.keyboard.press("ArrowUp")
    drill.keyboard.press("Enter")
    expect(score).to_contain_text("You said 65 km/h")
    expect(score).to_contain_text("a lap")
    drill.keyboard.press("Escape")
    expect(drill.get_by_role("button", name="Start", exact=True)).to_be_visible()


def test_a_whole_round_tells_what_came_of_it(drill: Page) -> None:
    begin(drill, "weak", "gear")
    for number in range(3):
        expect(drill.get_by_test_id("drill-place")).to_have_text(f"{number + 1} of 3")
        drill.keyboard.press("6")
        expect(drill.get_by_test_id("drill-score")).to_be_visible()
        drill.keyboard.press("Enter")
    expect(drill.get_by_test_id("round-said")).to_have_text(re.compile(r"\d of 3 right"))
    expect(drill.get_by_role("row").first).to_contain_text("answered 6th; correct:")
    drill.get_by_role("tab", name="How well you know it").click()
    days = drill.get_by_test_id("drill-days").get_by_role("row")
    expect(days).to_have_count(2)
    expect(days.nth(1)).to_contain_text("3")
    row = drill.get_by_test_id("sits-table").get_by_role("row", name=re.compile("Windpump"))
    row.get_by_role("button", name="ask").click()
    expect(drill.get_by_test_id("drill-question")).to_contain_text("Windpump: what do you do?")


def test_the_lap_is_drawn_from_memory(drill: Page) -> None:
    begin(drill, "map")
    growing = drill.get_by_test_id("growing-map")
    expect(growing.locator("path")).to_have_count(1)
    for _ in range(2):
        drill.keyboard.press("1")
        expect(drill.get_by_test_id("drill-score")).to_be_visible()
        drill.keyboard.press("Enter")
    expect(growing.locator("path")).to_have_count(3)


def test_a_board_is_dragged_to_and_answered_by_touch_on_a_phone(
    browser: Browser, address: str, plan: int
) -> None:
    phone = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    page = phone.new_page()
    page.goto(f"{address}#/plan/{plan}/drill/recall")
    expect(page.get_by_test_id("drill-said")).to_be_visible(timeout=BANDS_MS)
    page.get_by_label("In which order").select_option("lap")
    page.get_by_label("What is asked").select_option("brake")
    page.get_by_role("button", name="Start", exact=True).tap()
    road = page.get_by_test_id("drill-road")
    expect(road).to_be_visible()
    box = road.bounding_box()
    assert box is not None
    page.touchscreen.tap(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.5)
    middle = int(road.get_attribute("aria-valuenow") or 0)
    most = int(road.get_attribute("aria-valuemax") or 0)
    assert middle == pytest.approx(most / 2, abs=3)
    page.get_by_role("button", name="Later", exact=True).tap()
    assert int(road.get_attribute("aria-valuenow") or 0) == middle + 5
    page.get_by_role("button", name="Answer").tap()
    expect(page.get_by_test_id("drill-score")).to_be_visible()
    page.get_by_role("button", name="Next").tap()
    expect(page.get_by_test_id("drill-place")).to_contain_text("2 of")
    fits(page)
    page.goto(f"{address}#/plan/{plan}/drill/run")
    page.get_by_label("tap the rhythm").check()
    page.get_by_role("button", name="Run").tap()
    page.get_by_role("button", name="brake", exact=True).tap()
    fits(page)
    phone.close()


def test_true_time_holds_over_a_lap(browser: Browser, address: str, plan: int) -> None:
    # A clock is set for all pages of a profile: this one has a profile of its own.
    drill = browser.new_page(viewport={"width": 1280, "height": 800})
    drill.clock.install()
    drill.goto(f"{address}#/plan/{plan}/drill/run")
    run = drill.get_by_test_id("run")
    expect(run).to_be_visible()
    drill.clock.pause_at(drill.evaluate("Date.now() + 1000"))
    lap = drill.evaluate(
        "fetch('/api/plans/' + location.hash.split('/')[2] + '/drill/lap')"
        ".then((answer) => answer.json())"
    )
    drill.get_by_role("button", name="Run").click()
    gone = 0.0
    # Frame by frame, and as on a machine that has other things to do for a while.
    for step_s, passes in (
        (3.0, drill.clock.run_for),
        (11.5, drill.clock.fast_forward),
        (20.0, drill.clock.run_for),
        (17.25, drill.clock.fast_forward),
    ):
        passes(int(step_s * 1000))
        gone += step_s
        told = float(run.get_attribute("data-now-s") or 0.0)
        assert told == pytest.approx(gone, abs=0.05)
        place = float(run.get_attribute("data-at-m") or 0.0)
        assert place == pytest.approx(np.interp(told, lap["t_s"], lap["s_m"]), abs=0.1)
    drill.get_by_label("Share of real speed").select_option("50")
    drill.clock.run_for(2000)
    assert float(run.get_attribute("data-now-s") or 0.0) == pytest.approx(gone + 1.0, abs=0.05)
    drill.clock.run_for(int(2000 * (lap["lap_time_s"] - gone)))
    expect(drill.get_by_role("button", name="Run")).to_be_visible()
    assert float(run.get_attribute("data-now-s") or 0.0) == pytest.approx(
        lap["lap_time_s"], abs=1e-3
    )
    drill.close()


def test_a_section_by_its_rhythm_is_scored_corner_by_corner(drill: Page) -> None:
    drill.get_by_role("tab", name="Real-time lap").click()
    drill.get_by_label("tap the rhythm").check()
    drill.get_by_label("Which section").select_option("0-0")
    drill.locator("body").click(position={"x": 5, "y": 700})
    drill.keyboard.press(" ")
    call = drill.get_by_test_id("run-call")
    expect(call).to_contain_text(re.compile(r"Saltern right: brake 16 before 50, 3rd, 11\d"))
    # Near to where one brakes: a press long before it belongs to nothing.
    run = drill.get_by_test_id("run")
    for _ in range(400):
        if float(run.get_attribute("data-now-s") or 0.0) >= 7.8:
            break
        drill.wait_for_timeout(20)
    drill.keyboard.press("ArrowDown")
    said = drill.get_by_test_id("rhythm-said")
    expect(said).to_contain_text("in time with the plan", timeout=20_000)
    expect(drill.get_by_role("button", name="Run")).to_be_visible(timeout=20_000)
    table = drill.get_by_test_id("rhythm-table")
    expect(table).to_contain_text(re.compile(r"brake: (in time|\d\.\d s (early|late))"))
    expect(table).to_contain_text("throttle: not pressed")
    with drill.expect_response(lambda answer: "drill" in answer.url and answer.ok):
        drill.get_by_role("tab", name="How well you know it").click()
    expect(drill.get_by_test_id("drill-days").get_by_role("row")).to_have_count(2)


def test_before_the_car_is_gone_over_and_taken_along(drill: Page) -> None:
    drill.get_by_role("tab", name="Before you drive").click()
    corners = drill.get_by_test_id("before-corners")
    expect(corners).to_contain_text("wall")
    expect(corners).to_contain_text("least well known")
    expect(drill.get_by_test_id("unsure").get_by_role("row")).to_have_count(10)
    with drill.expect_download() as download:
        drill.get_by_role("link", name="Markdown").click()
    assert "Unsure:" in download.value.path().read_text()
    drill.get_by_role("button", name=re.compile("^Practise them")).click()
    expect(drill.get_by_test_id("drill-question")).to_be_visible()
    expect(drill).to_have_url(re.compile(r"/drill/recall$"))
    drill.go_back()
    expect(drill).to_have_url(re.compile(r"/drill/before$"))


@pytest.mark.parametrize("width", [1280, 390])
def test_no_part_of_the_drill_has_a_fault(
    browser: Browser, address: str, plan: int, width: int
) -> None:
    page = unguarded(browser, width)
    page.goto(f"{address}#/plan/{plan}/drill/recall")
    expect(page.get_by_test_id("drill-said")).to_be_visible(timeout=BANDS_MS)
    begin(page, "lap", "all")
    page.keyboard.press("2")
    expect(page.get_by_test_id("drill-score")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="Stop this round").click()
    for tab in ("Real-time lap", "Before you drive", "How well you know it"):
        page.get_by_role("tab", name=tab).click()
        expect(page.locator("#drill-panel").locator("svg, table").first).to_be_visible()
        assert faults(page, at_night=False) == [], tab
    page.context.close()


def test_the_demo_world_has_somebody_who_practises(context: BrowserContext, address: str) -> None:
    page = context.new_page()
    page.goto(f"{address}#/plan/{demo_plans_of(address)[composed('k4-samphire').name]}/drill/sits")
    # Whoever practised last is the driver, until another is named here.
    expect(page.get_by_label("Driver", exact=True)).to_have_value("Ottoline", timeout=BANDS_MS)
    expect(page.get_by_test_id("sits-said")).to_contain_text("of 9 corners")
    expect(page.get_by_test_id("drill-days").get_by_role("row")).to_have_count(4)
