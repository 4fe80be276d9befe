"""Trade-offs driven as a person drives them: swept, mapped, ranked, taken, stopped."""

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from web.pages import DRY_K4, PATIENCE_MS, copied_plan, demo_plans_of, fits, notice

HEATH = "Dunlin 16, Crake Heath, dry"
DRIVEN_MS = PATIENCE_MS


@pytest.fixture
def trade(context: BrowserContext, address: str) -> Page:
    """The trade-offs of a copy of a short demo plan, over its few compounds."""
    return swept(context, address, "compound")


@pytest.fixture
def along(context: BrowserContext, address: str) -> Page:
    """The same along its final drive, which is many laps."""
    return swept(context, address, "final_drive")


def swept(context: BrowserContext, address: str, axis: str) -> Page:
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, HEATH)}/trade/one/{axis}")
    driven(page)
    return page


def driven(page: Page) -> None:
    """Until every lap of the study that is shown has been driven."""
    expect(page.get_by_role("link", name="CSV")).to_be_visible(timeout=DRIVEN_MS)
    expect(page.get_by_role("progressbar")).to_have_count(0, timeout=DRIVEN_MS)


def test_a_figure_is_swept_looked_at_and_taken_into_the_plan(along: Page) -> None:
    expect(along.get_by_test_id("sweep-said")).to_contain_text("Final drive")
    expect(along.get_by_test_id("sweep-curve")).to_be_visible()
    expect(along.get_by_test_id("sweep-band")).to_be_visible()
    point = along.get_by_test_id("sweep-point")
    slider = along.get_by_role("slider", name="Look at a value")
    slider.focus()
    slider.press("Home")
    first = point.inner_text()
    slider.press("ArrowRight")
    expect(point).not_to_have_text(first)
    along.get_by_label("Curve to draw").select_option(label="Top speed")
    expect(along.get_by_role("img", name="Top speed over Final drive")).to_be_visible()
    point.get_by_role("button", name="Apply to plan").click()
    expect(along.get_by_text("The plan has changed since this was calculated.")).to_be_visible()
    along.get_by_role("button", name="Recalculate").click()
    driven(along)
    expect(point.get_by_text("Apply to plan")).to_be_visible()
    along.get_by_role("button", name="Undo").click()
    expect(notice(along)).to_have_count(0)


def test_another_range_and_another_figure_have_addresses_and_back_goes_back(along: Page) -> None:
    along.get_by_label("Vary: number of values").fill("5")
    along.get_by_label("Vary: number of values").press("Enter")
    driven(along)
    expect(along.get_by_role("slider", name="Look at a value")).to_have_attribute(
        "max", re.compile("[45]")
    )
    along.get_by_label("Vary", exact=True).select_option("compound")
    expect(along).to_have_url(re.compile(r"trade/one/compound$"))
    expect(along.get_by_test_id("sweep-said")).to_contain_text("Tyre compound")
    along.go_back()
    expect(along).to_have_url(re.compile(r"trade/one/final_drive$"))


def test_two_figures_are_mapped_within_limits(trade: Page) -> None:
    trade.get_by_role("tab", name="Map").click()
    for label in ("Across", "Upwards"):
        trade.get_by_label(f"{label}: number of values").fill("3")
        trade.get_by_label(f"{label}: number of values").press("Enter")
    trade.get_by_role("button", name="Calculate").click()
    driven(trade)
    expect(trade.get_by_test_id("grid-said")).to_contain_text("is quickest")
    cell = trade.get_by_test_id("grid-cell")
    before = cell.inner_text()
    cell.focus()
    for key in ("ArrowRight", "ArrowUp", "ArrowLeft", "ArrowDown"):
        trade.keyboard.press(key)
    assert cell.inner_text() != before or "Not calculated" not in before
    trade.get_by_label("Top speed at least").fill("900")
    trade.get_by_label("Top speed at least").press("Enter")
    expect(trade.get_by_test_id("grid-said")).to_contain_text("within the limits")


def test_a_ranking_says_what_to_try_next_and_who_pays(trade: Page) -> None:
    trade.get_by_role("tab", name="Sensitivities").click()
    driven(trade)
    rows = trade.get_by_test_id("ranking").locator("tbody tr")
    assert rows.count() > 10
    gains = [
        float(text.replace("−", "-").replace("±", ""))
        for text in rows.locator("td.figure").all_inner_texts()
    ]
    assert gains == sorted(gains, reverse=True)
    rows.filter(has_text="Mass").get_by_role("button").click()
    expect(trade.get_by_test_id("stretch-bars")).to_be_visible()
    trade.get_by_role("button", name="vary it along its range").click()
    expect(trade).to_have_url(re.compile(r"trade/one/mass_kg$"))


def test_a_study_is_stopped_and_keeps_what_it_has(along: Page) -> None:
    along.get_by_label("Vary: number of values").fill("61")
    along.get_by_label("Vary: number of values").press("Enter")
    along.get_by_role("button", name="Stop").click()
    expect(along.get_by_text(re.compile(r"stopped after \d+ laps"))).to_be_visible()
    expect(along.get_by_role("button", name="Recalculate")).to_be_visible()


@pytest.mark.parametrize("width", [390])
def test_trade_offs_stay_on_a_phone(trade: Page, width: int) -> None:
    trade.set_viewport_size({"width": width, "height": 844})
    for name in ("Sensitivities", "Map", "Sweep"):
        trade.get_by_role("tab", name=name).click()
        fits(trade)


def test_what_the_car_has_is_ranked_and_taken(trade: Page) -> None:
    trade.get_by_role("tab", name="Available options").click()
    driven(trade)
    expect(trade.get_by_test_id("search-said")).to_contain_text("combinations")
    first = trade.get_by_test_id("search").locator("tbody tr").first
    expect(first).to_contain_text("best")
    first.get_by_role("button", name="Apply").click()
    expect(trade.get_by_text("The plan has changed since this was calculated.")).to_be_visible()


def test_gears_are_proposed_and_half_steps_priced(trade: Page) -> None:
    trade.get_by_role("tab", name="Gears", exact=True).click()
    driven(trade)
    expect(trade.get_by_test_id("gears-said")).to_contain_text("of its limit at the top speed")
    expect(trade.get_by_test_id("half-steps").locator("tbody tr")).to_have_count(5)
    trade.get_by_label("Drag that a tow takes away, in percent").fill("20")
    trade.get_by_label("Drag that a tow takes away, in percent").press("Enter")
    expect(trade.get_by_role("columnheader", name="in a tow")).to_be_visible(timeout=DRIVEN_MS)


def test_a_rival_is_set_beside_every_lap(trade: Page) -> None:
    trade.get_by_label("Rival", exact=True).select_option(label="Kittiwake K4")
    expect(trade.get_by_test_id("rival")).to_contain_text("Against Kittiwake K4", timeout=DRIVEN_MS)


def test_plans_of_one_circuit_stand_side_by_side(context: BrowserContext, address: str) -> None:
    page = context.new_page()
    page.goto(f"{address}#/plan/{demo_plans_of(address)[DRY_K4]}/trade/event")
    columns = page.get_by_test_id("event").locator("thead th")
    expect(columns).not_to_have_count(0)
    page.get_by_role("checkbox", name="Garganey Coupé, damp").check()
    expect(columns.filter(has_text="Garganey Coupé, damp")).to_be_visible()
    expect(page.get_by_text("each part on its own in this plan")).to_be_visible()
    page.get_by_role("checkbox", name="Garganey Coupé, damp").uncheck()
    expect(columns.filter(has_text="Garganey Coupé, damp")).to_have_count(0)


def test_a_rival_may_be_a_speed_alone(trade: Page) -> None:
    reached = trade.get_by_label("Speed of a rival at the end of the fastest straight")
    reached.fill("150")
    reached.press("Enter")
    expect(trade.get_by_test_id("rival")).to_contain_text("Against a rival at 150 km/h")
    expect(trade.get_by_test_id("rival")).to_contain_text("alongside and at the same exit speed")
    reached.fill("fast")
    reached.press("Enter")
    expect(reached).to_have_value("150")


def test_what_the_car_has_is_ranked_over_the_weather_that_may_come(trade: Page) -> None:
    trade.get_by_role("tab", name="Available options").click()
    for label in ("Wing step", "Gear set", "Front brake share"):
        box = trade.get_by_role("checkbox", name=label)
        if box.count() > 0:
            box.uncheck()
    trade.get_by_role("checkbox", name="over all forecasts").check()
    said = trade.get_by_test_id("search-said")
    expect(said).to_contain_text("moments of the forecasts", timeout=DRIVEN_MS)
    expect(trade.get_by_role("columnheader", name="Session mean")).to_be_visible()
