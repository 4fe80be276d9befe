"""What the page asks, keeps and drops, in which order, with a clock and answers held in hand."""

import json
from collections.abc import Iterator
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Request, Route, expect

from web.pages import (
    DRY_K4,
    copied_plan,
    demo_plans_of,
    drawn,
    figure,
    forget,
    grip,
    lap_seconds,
    notice,
    open_plan,
    plan_number,
    put,
    sheet,
    until,
)

#: The page lets go of a figure that was left alone for this long [ms].
PAUSE_MS = 900
#: A held key waits this long for a lap before it goes on counting [ms].
LAP_WAITED_FOR_MS = 150
STATE = "header .state"
WIND = "Wind (m/s)"
POWER = "Power (kW)"


class Posted:
    """Every write and question of a page, in the order they were sent."""

    def __init__(self, page: Page) -> None:
        self.requests: list[Request] = []
        page.on("request", self._take)

    def _take(self, request: Request) -> None:
        if request.method == "POST" and "/api/" in request.url:
            self.requests.append(request)

    def names(self) -> list[str]:
        """Last part of each address, questions asked again after each other told once."""
        said = [request.url.split("?")[0].rsplit("/", 1)[1] for request in self.requests]
        return [name for at, name in enumerate(said) if at == 0 or said[at - 1] != name]

    def bodies(self, name: str) -> list[dict[str, Any]]:
        return [
            json.loads(request.post_data or "{}")
            for request in self.requests
            if request.url.split("?")[0].endswith(name)
        ]


class Gate:
    """Holds back the answers of one address until it is opened."""

    def __init__(self, page: Page, address: str) -> None:
        self.held: list[Route] = []
        self.page, self.address = page, address
        self.open = False
        page.route(address, self._take)

    def _take(self, route: Route) -> None:
        if self.open:
            route.continue_()
        else:
            self.held.append(route)

    def wait(self, count: int) -> None:
        """Until so many are held."""
        until(self.page, lambda: len(self.held) >= count)

    def let_through(self) -> None:
        """Answer what is held, and hold nothing more."""
        held, self.held = self.held, []
        self.open = True
        for route in held:
            route.continue_()


@pytest.fixture
def posted(page: Page) -> Posted:
    return Posted(page)


@pytest.fixture
def stopped(browser: Browser, address: str) -> Iterator[tuple[Page, Posted]]:
    """A page whose clock stands still unless it is moved; a clock is its whole context's."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{address}mark.svg")
    forget(page)
    page.clock.install()
    open_plan(page, address, copied_plan(address, DRY_K4))
    page.clock.pause_at(page.evaluate("Date.now()") + 60_000)
    yield page, Posted(page)
    context.close()


def kept_figures(address: str, page: Page) -> dict[str, float]:
    kept = httpx.get(f"{address}api/plans/{plan_number(page)}", timeout=60).json()
    figures: dict[str, float] = kept["assumptions"]["figures"]
    return figures


def step(page: Page, label: str, times: int = 1, key: str = "ArrowUp") -> None:
    figure(page, label).focus()
    for _ in range(times):
        page.keyboard.press(key)


def test_steps_are_asked_at_once_and_kept_as_one_after_a_pause(
    stopped: tuple[Page, Posted], address: str
) -> None:
    page, posted = stopped
    before = lap_seconds(page)
    step(page, "Grip (μ)", 3)
    expect(page.get_by_test_id("lap-time")).not_to_have_text(f"1:{before - 60:06.3f}")
    expect(page.locator(STATE)).to_have_text("not saved yet")
    page.clock.run_for(PAUSE_MS - 100)
    step(page, "Grip (μ)")
    page.clock.run_for(PAUSE_MS - 100)
    assert posted.bodies("changes") == []
    page.clock.run_for(200)
    expect(page.locator(STATE)).to_have_text("saved")
    (written,) = posted.bodies("changes")
    (change,) = written["changes"]
    assert (change["field"], change["value"]) == ("grip", pytest.approx(1.56))
    assert kept_figures(address, page)["grip"] == pytest.approx(1.56)


def test_steps_made_while_a_question_is_under_way_go_together_with_the_next(
    page: Page, posted: Posted
) -> None:
    gate = Gate(page, "**/what-if")
    step(page, "Grip (μ)")
    gate.wait(1)
    step(page, "Grip (μ)", 4)
    step(page, "Mass (kg)", 2)
    assert len(gate.held) == 1
    gate.let_through()
    expect(page.locator(STATE)).to_have_text("saved")
    asked = posted.bodies("what-if")
    assert len(asked[0]["changes"]) == 1
    # Seven steps: none was asked for itself while the first was out, and none is lost.
    assert len(asked) <= 2
    (written,) = posted.bodies("changes")
    values = {change["field"]: change["value"] for change in written["changes"]}
    assert values == {"grip": pytest.approx(1.57), "mass_kg": pytest.approx(700.0)}


def test_writes_wait_for_each_other_and_each_stands_on_the_one_before(
    page: Page, posted: Posted, address: str
) -> None:
    gate = Gate(page, "**/changes")
    wind = figure(page, WIND)
    grip(page).fill("1.4")
    grip(page).press("Enter")
    gate.wait(1)
    wind.fill("7")
    wind.press("Enter")
    page.keyboard.press("b")
    expect(page.locator(STATE)).to_have_text("saving…")
    assert len(gate.held) == 1
    gate.let_through()
    expect(page.locator(STATE)).to_have_text("saved")
    expect(page.get_by_test_id("lap-difference")).to_have_text("±0.000")
    first, second = posted.bodies("changes")
    assert [change["field"] for change in first["changes"]] == ["grip"]
    assert [change["field"] for change in second["changes"]] == ["wind_speed_ms"]
    assert second["base"]["car"] == first["base"]["car"] + 1
    assert kept_figures(address, page)["wind_speed_ms"] == 7.0


def test_a_refused_figure_goes_and_those_that_wait_with_it_are_kept(
    stopped: tuple[Page, Posted], address: str
) -> None:
    page, posted = stopped
    step(page, WIND, 2)
    expect(page.locator(STATE)).to_have_text("not saved yet")
    grip(page).fill("-1")
    grip(page).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("more than 0 is expected")
    page.clock.run_for(PAUSE_MS + 200)
    expect(page.locator(STATE)).to_have_text("saved")
    figures = kept_figures(address, page)
    assert figures["grip"] == pytest.approx(1.52)
    assert figures["wind_speed_ms"] > 4.0
    fields = [[one["field"] for one in body["changes"]] for body in posted.bodies("changes")]
    # Both together were refused for the one; the other then went alone.
    assert ["wind_speed_ms"] in fields


def test_a_step_is_shown_with_the_decimals_of_its_figure(page: Page, posted: Posted) -> None:
    gate = Gate(page, "**/what-if")
    assert figure(page, POWER).input_value() == "197.5"
    step(page, POWER)
    gate.wait(1)
    # The figure itself is not rounded.
    assert figure(page, POWER).input_value() == "202.5"
    (asked,) = posted.bodies("what-if")
    assert asked["changes"][0]["value"] == pytest.approx(202.4562, abs=1e-3)
    gate.let_through()
    expect(figure(page, POWER)).to_have_value("202.5")


def test_with_a_key_held_the_figure_is_shown_with_its_lap(stopped: tuple[Page, Posted]) -> None:
    page, _ = stopped
    gate = Gate(page, "**/what-if")
    field = grip(page)
    field.focus()

    def held(times: int) -> None:
        """The same key down again and again, as a keyboard repeats it."""
        for _ in range(times):
            page.keyboard.down("ArrowUp")

    held(4)
    gate.wait(1)
    # The first step is shown at once; those that follow wait for a lap, but not for long.
    assert field.input_value() == "1.53"
    page.clock.run_for(LAP_WAITED_FOR_MS + 10)
    expect(field).to_have_value("1.56")
    held(2)
    assert field.input_value() == "1.56"
    gate.let_through()
    expect(field).to_have_value("1.58")
    expect(field).to_have_attribute("aria-valuenow", "1.58")
    # Letting go waits for nothing.
    again = Gate(page, "**/what-if")
    held(3)
    again.wait(1)
    assert field.input_value() == "1.58"
    page.keyboard.up("ArrowUp")
    expect(field).to_have_value("1.61")
    again.let_through()
    expect(field).to_have_attribute("aria-valuenow", "1.61")


WHY_NO_WIND = "-1 m/s was given; 0 m/s or more is expected."


def test_a_step_too_far_is_refused_and_the_last_one_taken_is_kept(
    stopped: tuple[Page, Posted], address: str
) -> None:
    page, posted = stopped
    wind, lap, why = figure(page, WIND), page.get_by_test_id("lap-time"), page.get_by_role("alert")
    wind.fill("2")
    wind.press("Enter")
    expect(page.locator(STATE)).to_have_text("saved")
    step(page, WIND, 2, "ArrowDown")
    expect(wind).to_have_attribute("aria-valuenow", "0")
    calm = lap.inner_text()
    step(page, WIND, 1, "ArrowDown")
    expect(why).to_have_text(WHY_NO_WIND)
    # However long the key is held on: no figure further away, and the lap stays.
    asked = len(posted.bodies("what-if"))
    step(page, WIND, 5, "ArrowDown")
    expect(wind).to_have_value("-1")
    assert len(posted.bodies("what-if")) == asked
    assert lap.inner_text() == calm
    page.clock.run_for(PAUSE_MS + 200)
    expect(page.locator(STATE)).to_have_text("saved")
    assert kept_figures(address, page)["wind_speed_ms"] == 0.0
    assert lap.inner_text() == calm
    # What was kept does not hide that the step was not taken; steps back lead out of it.
    expect(why).to_have_text(WHY_NO_WIND)
    step(page, WIND, 2)
    expect(why).to_have_count(0)
    expect(wind).to_have_attribute("aria-valuenow", "1")


def test_a_step_that_was_refused_is_gone_once_the_figure_is_left(page: Page, address: str) -> None:
    put(page, WIND, "0")
    step(page, WIND, 1, "ArrowDown")
    expect(page.get_by_role("alert")).to_have_text(WHY_NO_WIND)
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(figure(page, WIND)).to_have_value("0")
    assert kept_figures(address, page)["wind_speed_ms"] == 0.0


def test_undo_first_keeps_what_was_just_stepped_and_then_takes_it_back(
    stopped: tuple[Page, Posted], address: str
) -> None:
    page, posted = stopped
    before = lap_seconds(page)
    step(page, "Grip (μ)", 2)
    page.keyboard.press("Control+z")
    expect(grip(page)).to_have_value("1.52")
    expect(page.locator(STATE)).to_have_text("saved")
    written = [name for name in posted.names() if name not in ("what-if", "foresee")]
    assert written == ["changes", "undo"]
    assert lap_seconds(page) == before
    page.keyboard.press("Control+y")
    expect(grip(page)).to_have_value("1.54")
    assert kept_figures(address, page)["grip"] == pytest.approx(1.54)


def test_an_answer_for_a_plan_that_is_no_longer_open_is_dropped(page: Page, address: str) -> None:
    other = demo_plans_of(address)["Sanderling 900, Sallow Fen, dry"]
    mine = plan_number(page)
    gate = Gate(page, "**/what-if")
    step(page, "Grip (μ)")
    gate.wait(1)
    page.evaluate(f"location.hash = '#/plan/{other}/lap'")
    gate.let_through()
    expect(page.get_by_test_id("plan-name")).to_contain_text("Sanderling")
    drawn(page)
    shown = lap_seconds(page)
    held = httpx.get(f"{address}api/plans/{other}", timeout=60).json()
    assert shown == pytest.approx(held["result"]["lap_time_s"], abs=6e-4)
    # What had been stepped was kept on leaving, in the plan that it was stepped in.
    left = httpx.get(f"{address}api/plans/{mine}", timeout=60).json()
    assert left["assumptions"]["figures"]["grip"] == pytest.approx(1.53)


def beside(page: Page, context: BrowserContext, address: str) -> Page:
    """A second tab on the same plan."""
    other = context.new_page()
    open_plan(other, address, plan_number(page))
    return other


def come_back(page: Page) -> None:
    page.evaluate("document.dispatchEvent(new Event('visibilitychange'))")


def test_a_tab_that_is_looked_at_again_shows_what_another_wrote(
    page: Page, context: BrowserContext, address: str
) -> None:
    other = beside(page, context, address)
    put(other, "Grip (μ)", "1.41")
    expect(grip(page)).to_have_value("1.52")
    come_back(page)
    expect(grip(page)).to_have_value("1.41")
    assert lap_seconds(page) == lap_seconds(other)


def test_units_are_asked_for_once_and_say_everything_anew(page: Page, posted: Posted) -> None:
    asked: list[str] = []

    def note(request: Request) -> None:
        if "/api/plans/" in request.url and request.method == "GET":
            asked.append(request.headers.get("neapfrost-units", "none"))

    page.on("request", note)
    page.keyboard.press("u")
    expect(page.get_by_test_id("corner-table")).to_contain_text("mph")
    page.keyboard.press("w")
    expect(sheet(page)).to_contain_text("mph")
    expect(sheet(page)).not_to_contain_text("km/h")
    assert "feet" in asked
    assert posted.bodies("changes") == []


def test_what_the_reader_chose_outlasts_a_reload(page: Page) -> None:
    page.keyboard.press("n")
    page.keyboard.press("u")
    page.keyboard.press("5")
    page.keyboard.press("Enter")
    page.get_by_role("tab", name="First laps").click()
    page.reload()
    drawn(page)
    expect(page.get_by_role("tab", name="First laps")).to_have_attribute("aria-selected", "true")
    expect(page.get_by_test_id("corner-sheet")).to_have_attribute("aria-label", "Corner 5, Osier")
    assert page.evaluate("document.documentElement.dataset.theme") == "neapfrost-night"


def test_the_lap_is_asked_for_while_the_page_is_read_and_the_rest_once_it_is_shown(
    context: BrowserContext, address: str
) -> None:
    page = context.new_page()
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url.removeprefix(address)))
    number = demo_plans_of(address)[DRY_K4]
    start, opening = Gate(page, "**/assets/start*.js"), Gate(page, "**/api/opening*")
    page.goto(f"{address}#/plan/{number}", wait_until="commit")
    start.wait(1)
    opening.wait(1)
    assert f"api/opening?plan={number}" in asked
    start.let_through()
    expect(page.get_by_text("Calculating the lap")).to_be_visible()
    page.wait_for_timeout(500)
    assert [each for each in asked if "Page" in each or "api/library" in each] == []
    opening.let_through()
    drawn(page)
    until(page, lambda: any("TradePage" in each for each in asked))


def test_a_part_that_cannot_be_read_says_so_and_the_rest_goes_on(
    browser: Browser, address: str
) -> None:
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{address}mark.svg")
    forget(page)
    page.route("**/assets/RacePage*", lambda route: route.abort())
    open_plan(page, address, demo_plans_of(address)[DRY_K4])
    page.get_by_role("link", name="Race").click()
    expect(page.get_by_role("alert")).to_contain_text("could not be loaded")
    page.get_by_role("link", name="Lap", exact=True).click()
    drawn(page)
    expect(page.get_by_role("alert")).to_have_count(0)
    context.close()


def test_the_theme_follows_the_system_until_one_is_chosen(browser: Browser, address: str) -> None:
    context = browser.new_context(color_scheme="dark", viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{address}mark.svg")
    forget(page)
    open_plan(page, address, demo_plans_of(address)[DRY_K4])
    theme = "document.documentElement.dataset.theme"
    assert page.evaluate(theme) == "neapfrost-night"
    page.emulate_media(color_scheme="light")
    until(page, lambda: page.evaluate(theme) == "neapfrost-day")
    page.keyboard.press("n")
    until(page, lambda: page.evaluate(theme) == "neapfrost-night")
    page.emulate_media(color_scheme="dark")
    page.emulate_media(color_scheme="light")
    until(page, lambda: bool(page.evaluate("matchMedia('(prefers-color-scheme: light)').matches")))
    assert page.evaluate(theme) == "neapfrost-night"
    page.reload()
    drawn(page)
    assert page.evaluate(theme) == "neapfrost-night"
    context.close()


def test_a_notice_goes_by_itself(
    stopped: tuple[Page, Posted],
) -> None:
    page, _ = stopped
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(notice(page)).to_contain_text("Corner table copied")
    page.clock.run_for(9_000)
    expect(notice(page)).to_be_visible()
    page.clock.run_for(2_000)
    expect(notice(page)).to_have_count(0)
