"""The race desk as a person works it: planned, its rules changed, fuel saved, rain, energy."""

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Route, expect

from neapfrost.demo.plans import composed
from web.pages import PATIENCE_MS, copied_plan, demo_plans_of, fits, imported, kept

HEATH = "Turnstone Saloon, Crake Heath, race fuel, wind"
OVAL = "Garganey Coupé, Marram Bowl"
DRIVEN_MS = PATIENCE_MS


@pytest.fixture
def race(context: BrowserContext, address: str) -> Page:
    """The race of a copy of the saloon's sprint."""
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, HEATH)}/race/sheet")
    expect(page.get_by_test_id("race-said")).to_contain_text("24 laps", timeout=DRIVEN_MS)
    return page


def tab(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name, exact=True).click()


def test_a_race_is_planned_and_answers_to_its_rules(race: Page) -> None:
    stints = race.get_by_test_id("stints").get_by_role("row")
    expect(stints).to_have_count(3)
    expect(race.get_by_test_id("stint-roll")).to_be_visible()
    laps = race.get_by_role("spinbutton", name="Laps", exact=True)
    laps.fill("30")
    laps.press("Enter")
    expect(race.get_by_test_id("race-said")).to_contain_text("30 laps", timeout=DRIVEN_MS)
    race.get_by_role("button", name=re.compile("^Minimum stops: remove")).click()
    expect(race.get_by_test_id("race-said")).to_contain_text("No stop", timeout=DRIVEN_MS)
    race.get_by_role("button", name="Undo").click()
    expect(race.get_by_test_id("race-said")).to_contain_text("One stop", timeout=DRIVEN_MS)
    race.get_by_role("button", name=re.compile("^Minimum compounds: one; enter a value")).click()
    expect(race.get_by_test_id("stints")).to_contain_text("Rain", timeout=DRIVEN_MS)
    expect(race).to_have_url(re.compile(r"/race/sheet$"))
    with race.expect_download() as download:
        race.get_by_role("link", name="Markdown").click()
    assert "Stints" in download.value.path().read_text()


def test_stops_fuel_and_tyres_open_to_their_working(race: Page) -> None:
    tab(race, "Stops")
    expect(race.get_by_test_id("other-plans").get_by_role("row").nth(2)).to_be_visible()
    expect(race.get_by_test_id("moved-stops")).to_contain_text("after lap")
    expect(race.get_by_test_id("slow-plot")).to_be_visible()
    expect(race.get_by_test_id("rival-said")).to_contain_text("once both have stopped")
    tab(race, "Fuel")
    expect(race.get_by_test_id("fuel-table")).to_contain_text("Race distance exactly")
    expect(race.get_by_test_id("saving-said")).to_contain_text("5.0 %", timeout=DRIVEN_MS)
    expect(race.get_by_test_id("saving-corners").get_by_role("listitem").first).to_contain_text(
        "earlier"
    )
    expect(race.get_by_test_id("saving-plot")).to_be_visible(timeout=DRIVEN_MS)
    race.get_by_label("Share of a lap’s fuel to save, in percent").fill("3")
    race.get_by_label("Share of a lap’s fuel to save, in percent").press("Enter")
    expect(race.get_by_test_id("saving-said")).to_contain_text("3.0 %", timeout=DRIVEN_MS)
    tab(race, "Tyres")
    expect(race.get_by_test_id("work-said")).to_contain_text("works hardest", timeout=DRIVEN_MS)
    expect(race.get_by_test_id("race-tyres")).to_contain_text("Control slick")
    tab(race, "Overtaking")
    expect(race.get_by_test_id("passing-table").get_by_role("row").nth(1)).to_be_visible(
        timeout=DRIVEN_MS
    )
    braking = race.get_by_role("spinbutton", name=re.compile("^Braking later, at most"))
    braking.fill("90")
    braking.press("Enter")
    kept(race)
    expect(race.get_by_test_id("passing-said")).to_contain_text(
        "Overtaking is possible", timeout=DRIVEN_MS
    )


def test_only_what_was_asked_last_is_shown(race: Page) -> None:
    tab(race, "Fuel")
    said, share = (
        race.get_by_test_id("saving-said"),
        race.get_by_label("Share of a lap’s fuel to save, in percent"),
    )
    expect(said).to_contain_text("5.0 %", timeout=DRIVEN_MS)
    late: list[Route] = []

    def keep_back_the_first(route: Route) -> None:
        if late:
            route.continue_()
        else:
            late.append(route)

    race.route("**/savings", keep_back_the_first)
    # The first is on its way before the second is asked: else only the second is sent at all.
    with race.expect_request("**/savings"):
        share.fill("3")
        share.press("Enter")
    share.fill("4")
    share.press("Enter")
    expect(said).to_contain_text("4.0 %", timeout=DRIVEN_MS)
    # The answer to the first comes last: that study is ended, and what is shown stays.
    with race.expect_response(lambda answer: answer.request.method == "DELETE"):
        late[0].continue_()
    expect(race.get_by_role("progressbar")).to_have_count(0, timeout=DRIVEN_MS)
    expect(said).to_contain_text("4.0 %")


def test_when_it_rains_the_next_stop_is_weighed(race: Page) -> None:
    tab(race, "Tyre crossover")
    expect(race.get_by_test_id("water-said")).to_contain_text("Rain from")
    expect(race.get_by_test_id("water-plot")).to_be_visible()
    race.get_by_role("button", name=re.compile("^Use ")).click()
    stands = race.get_by_label("Now after lap")
    stands.fill("8")
    stands.press("Enter")
    expect(race.get_by_test_id("change-said")).to_contain_text("Chance that", timeout=DRIVEN_MS)
    expect(race.get_by_test_id("change-table").get_by_role("row").nth(1)).to_be_visible()
    race.get_by_label("Compound now").select_option("Rain")
    expect(race.get_by_label("Laps on these tyres")).to_be_visible()
    race.get_by_role("button", name="Reset to the start").click()
    expect(race.get_by_test_id("change-said")).to_have_count(0, timeout=DRIVEN_MS)


def test_energy_is_given_spent_and_taken_out(context: BrowserContext, address: str) -> None:
    page = context.new_page()
    # On a short lap, since each of the ways to spend is a search of its own.
    short = composed("dunlin-heath").circuit
    plan = composed("phalarope-race-wind").model_copy(update={"circuit": short})
    number = imported(address, plan.model_dump(mode="json"))
    page.goto(f"{address}#/plan/{number}/race/energy")
    expect(page.get_by_test_id("energy-said")).to_contain_text("every exit", timeout=DRIVEN_MS)
    expect(page.get_by_test_id("energy-curve")).to_be_visible()
    tab(page, "Overtaking")
    made = page.get_by_test_id("makers-table").get_by_role(
        "row", name=re.compile("^Bracken a full")
    )
    expect(made).to_contain_text("not yet", timeout=DRIVEN_MS)
    tab(page, "Energy")
    page.get_by_role("button", name="empty").click()
    expect(page.get_by_test_id("energy-said")).not_to_contain_text("1.27 MJ", timeout=DRIVEN_MS)
    page.get_by_role("button", name="Add a flap").click()
    zones = page.get_by_label(re.compile("^Zones of the flap"))
    zones.fill("1660-1790")
    zones.press("Enter")
    expect(page.get_by_test_id("flap-said")).to_contain_text("gains", timeout=DRIVEN_MS)
    page.get_by_role("button", name="Remove the store").click()
    page.get_by_role("button", name="Add a small motor and store").click()
    expect(page.get_by_role("spinbutton", name="Store capacity (MJ)")).to_have_value(
        "1", timeout=DRIVEN_MS
    )


def test_lanes_of_the_oval_and_a_phone(browser: Browser, address: str) -> None:
    page = browser.new_page(viewport={"width": 390, "height": 844})
    number = demo_plans_of(address)[OVAL]
    page.goto(f"{address}#/plan/{number}/race/lanes")
    expect(page.get_by_test_id("lanes-table").get_by_role("row")).to_have_count(
        10, timeout=DRIVEN_MS
    )
    expect(page.get_by_test_id("lift-ways")).to_contain_text("half throttle")
    # What the pictures say at their end is what the table says.
    table = page.get_by_test_id("lanes-table")
    second = table.get_by_role("row").nth(2)
    name = second.get_by_role("button").inner_text()
    behind = second.get_by_role("cell").nth(2).inner_text()
    picture = page.get_by_test_id("lanes-run")
    assert f"{name} {behind} s" in (picture.get_attribute("aria-label") or "")
    second.get_by_role("button").click()
    expect(picture.locator("text.chosen")).to_have_text(name)
    expect(page.get_by_test_id("lanes-map")).to_be_visible()
    fits(page)
    for name in ("The race", "Stops", "Fuel", "Tyre crossover", "Energy", "Overtaking", "Tyres"):
        tab(page, name)
        expect(page.get_by_role("progressbar")).to_have_count(0, timeout=DRIVEN_MS)
        fits(page)
    expect(page.get_by_test_id("race-tyres")).to_be_visible()
    page.close()
