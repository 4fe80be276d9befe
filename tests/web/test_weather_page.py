"""The weather as a person uses it: along a session, several at once, typed, read, and a station."""

import re
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import BrowserContext, Page, Route, expect

from neapfrost.cli.listening import listening
from neapfrost.standins.weather.station import RunningStation, Station
from web.pages import DRY_K4, PATIENCE_MS, SAMPHIRE, copied_plan, figure, fits

DRIVEN_MS = PATIENCE_MS
#: The wind has turned by then.
AFTERNOON = datetime(2031, 5, 17, 13, 30)


def opened(context: BrowserContext, address: str, tab: str, name: str = DRY_K4) -> Page:
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, name)}/conditions/{tab}")
    return page


def test_a_session_is_driven_looked_at_and_taken(context: BrowserContext, address: str) -> None:
    page = opened(context, address, "session")
    said = page.get_by_test_id("session-said")
    expect(said).to_contain_text("Soft is quicker than Rain from", timeout=DRIVEN_MS)
    expect(page.get_by_test_id("session-roll")).to_be_visible()
    page.get_by_text(re.compile("All [0-9]+ changes")).click()
    expect(page.get_by_test_id("session-marks").get_by_role("listitem").first).to_be_visible()
    moment = page.get_by_role("slider", name="Look at a moment")
    moment.focus()
    moment.press("Home")
    point = page.get_by_test_id("session-point")
    expect(point).to_contain_text("09:00")
    expect(point).to_contain_text("measured")
    expect(page.get_by_test_id("session-calls").get_by_role("row")).to_have_count(11)
    moment.press("End")
    expect(point).to_contain_text("forecast, Dries on")
    point.get_by_role("button", name="Apply weather to plan").click()
    expect(figure(page, "Air (°C)")).not_to_have_value("9")
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_enabled()
    # The plan is another now: the session is driven along it anew.
    expect(said).to_be_visible()
    expect(page.get_by_test_id("study-progress")).to_have_count(0, timeout=DRIVEN_MS)


def test_what_is_changed_of_the_road_is_driven_along_at_once(
    context: BrowserContext, address: str
) -> None:
    page = opened(context, address, "session")
    said = page.get_by_test_id("session-said")
    expect(said).to_contain_text("Soft is quicker than Rain from 10:00", timeout=DRIVEN_MS)
    page.get_by_role("tab", name="Readings and track state").click()
    page.get_by_label("Run-off, min").fill("400")
    page.get_by_label("Run-off, min").press("Enter")
    expect(page.get_by_role("status").filter(has_text="Run-off 400 min")).to_be_visible()
    page.get_by_role("tab", name="Session timeline").click()
    expect(said).to_contain_text("Soft is quicker than Rain from", timeout=DRIVEN_MS)
    expect(said).not_to_contain_text("from 10:00")
    page.get_by_role("button", name="Undo", exact=True).last.click()
    expect(said).to_contain_text("Soft is quicker than Rain from 10:00", timeout=DRIVEN_MS)


def test_another_weather_is_chosen_and_the_address_stays(
    context: BrowserContext, address: str
) -> None:
    page = opened(context, address, "session")
    expect(page.get_by_test_id("session-said")).to_be_visible(timeout=DRIVEN_MS)
    page.get_by_label("Forecast").select_option(label="Another shower, 35 %")
    expect(page.get_by_test_id("session-said")).to_contain_text(
        "Rain is quicker than", timeout=DRIVEN_MS
    )
    expect(page).to_have_url(re.compile("/conditions/session$"))
    page.get_by_role("tab", name="Wind at each corner").click()
    expect(page).to_have_url(re.compile("/conditions/wind$"))
    # The picture's last figure is the sentence's: what this wind costs in all.
    curve = page.get_by_test_id("wind-curve")
    cost = curve.locator("text").last.text_content() or ""
    assert re.fullmatch(r"[+−]\d\.\d{3}", cost)
    expect(page.get_by_test_id("wind-said")).to_contain_text(f"{cost} s against still air")
    page.go_back()
    expect(page.get_by_test_id("session-roll")).to_be_visible()


def test_weathers_stand_side_by_side_and_chances_are_changed(
    context: BrowserContext, address: str
) -> None:
    page = opened(context, address, "weathers")
    expect(page.get_by_test_id("weathers-said")).to_contain_text("Until", timeout=DRIVEN_MS)
    pairs = page.get_by_test_id("weathers-pairs")
    expect(pairs).to_contain_text("need different calls from")
    table = page.get_by_test_id("weathers-beside")
    expect(table.get_by_role("columnheader", name="Another shower")).to_be_visible()
    chance = table.get_by_label("Chance of Dries on, %")
    expect(page.get_by_test_id("study-progress")).to_have_count(0, timeout=DRIVEN_MS)
    # While all is driven anew the table stands, and the hand stays in its field.
    held: list[Route] = []
    page.route(re.compile("/api/studies/"), lambda route: held.append(route))
    chance.fill("20")
    chance.press("Enter")
    notice = page.get_by_role("status").filter(has_text="Chance of Dries on 20 %")
    expect(notice).to_be_visible()
    expect(page.get_by_test_id("study-progress")).to_be_visible()
    expect(chance).to_be_focused()
    page.unroute_all()
    for route in held:
        route.continue_()
    notice.get_by_role("button", name="Undo").click()
    expect(chance).to_have_value("65")
    chance.fill("likely")
    chance.press("Enter")
    expect(chance).to_have_value("65")


def test_readings_and_the_road_are_typed_and_taken_back(
    context: BrowserContext, address: str
) -> None:
    page = opened(context, address, "record")
    page.get_by_label("Run-off, min").fill("25")
    page.get_by_label("Run-off, min").press("Enter")
    expect(page.get_by_role("status").filter(has_text="Run-off 25 min")).to_be_visible()
    page.get_by_label("Wind at 09:10").fill("7.5")
    page.get_by_label("Wind at 09:10").press("Enter")
    expect(page.get_by_text("Wind at 09:10 changed.")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).last.click()
    expect(page.get_by_label("Wind at 09:10")).not_to_have_value("7.5")
    expect(page.get_by_label("Run-off, min")).to_have_value("25")
    # What is wrong is said with its place, and nothing changes.
    page.get_by_label("Rain at 09:05").fill("-3")
    page.get_by_label("Rain at 09:05").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("0 or more is expected")
    page.get_by_label("Air at 09:05").fill("warm")
    page.get_by_label("Air at 09:05").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("a number is expected")
    page.get_by_label("Time of reading 2").fill("10:55")
    page.get_by_label("Time of reading 2").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Readings must rise in time".lower())
    before = page.get_by_test_id("readings").get_by_role("row").count()
    page.get_by_role("button", name="add a reading").click()
    expect(page.get_by_test_id("readings").get_by_role("row")).to_have_count(before + 1)


def test_a_record_is_read_from_a_file_whose_units_are_told(
    context: BrowserContext, address: str, tmp_path: Path
) -> None:
    page = opened(context, address, "record")
    file = tmp_path / "tower.csv"
    file.write_text("time,temp,wind\n10:00,20,18\n11:00,22,36\n")
    page.get_by_label("Read a record from a file…").set_input_files(file)
    sheet = page.get_by_test_id("weather-file")
    expect(sheet).to_contain_text("2 readings")
    # What is chosen holds at once, before the preview has answered.
    held: list[Route] = []
    page.route(re.compile("/api/weather/look"), lambda route: held.append(route))
    sheet.get_by_label("Unit of Wind", exact=True).select_option("km/h")
    expect(sheet.get_by_label("Unit of Wind", exact=True)).to_have_value("km/h")
    sheet.get_by_role("button", name="Save and use it").click()
    expect(page.get_by_label("Name of the record")).to_have_value("tower")
    held[0].continue_()
    page.unroute(re.compile("/api/weather/look"))
    expect(page.get_by_label("Wind at 10:00")).to_have_value("5")
    expect(page.get_by_label("Wind at 11:00")).to_have_value("10")
    expect(sheet).to_have_count(0)
    file.write_text("time,temp\n10:00,20\n11:00,mild\n")
    page.get_by_label("Read a record from a file…").set_input_files(file)
    expect(sheet.get_by_role("alert")).to_have_text('line 3, column 2: "mild" is not a number')
    expect(sheet.get_by_role("button", name="Save and use it")).to_be_disabled()


def test_a_forecast_is_typed_in_words_and_the_race_is_planned_in_it(
    context: BrowserContext, address: str
) -> None:
    plan = copied_plan(address, "Dunlin 16, Crake Heath, dry")
    httpx.put(f"{address}api/plans/{plan}/weather", json={"weather_id": None})
    page = context.new_page()
    page.goto(f"{address}#/plan/{plan}/race/sheet")
    typed = page.get_by_label("Forecast in words")
    typed.fill("dry, then fog")
    page.get_by_role("button", name="Add forecast").click()
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text('Line 1: "then fog" is not understood')
    expect(typed).to_have_value("dry, then fog")
    typed.fill("dry, then rain from minute 5, 4 mm/h, 40 %")
    page.get_by_role("button", name="Add forecast").click()
    forecast = "Dry, then rain from minute 5, 4 mm/h"
    expect(page.locator("#race-panel")).to_contain_text(forecast, timeout=DRIVEN_MS)
    # The race begins where the minutes of the forecast do.
    began = page.get_by_label("When the race begins").input_value()
    page.goto(f"{address}#/plan/{plan}/conditions/record")
    expect(page.get_by_label("Time of reading 1")).to_have_value(began[11:16])
    which = page.get_by_label("Which readings")
    which.select_option(label=forecast)
    expect(page.get_by_label("Chance of this forecast, %")).to_have_value("40")
    which.select_option(label="As now")
    expect(page.get_by_label("Chance of this forecast, %")).to_have_value("60")


@pytest.fixture
def station(address: str) -> Iterator[tuple[RunningStation, int]]:
    """A station whose wind has turned, with the port it can come back on."""
    with listening(0) as listener:
        port = int(listener.getsockname()[1])
        running = RunningStation(Station("sea-breeze", AFTERNOON, seed=2, pace=60.0), listener)
        running.start()
        yield running, port
        running.stop()
    httpx.put(f"{address}api/station", json={"address": None})


def test_the_station_is_heard_gone_and_back(
    context: BrowserContext, address: str, station: tuple[RunningStation, int]
) -> None:
    running, port = station
    page = opened(context, address, "record")
    where = page.get_by_label("Address of the station")
    where.fill("http://192.0.2.7:8790")
    where.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("on this machine only")
    where.fill(running.address)
    where.press("Enter")
    now = page.get_by_test_id("station-now")
    expect(now).to_contain_text("Simulated weather station")
    expect(page.get_by_test_id("station-state")).to_contain_text("not real readings")
    first = now.inner_text()
    expect(now).not_to_have_text(first)  # a reading every second
    running.stop()
    expect(now).to_contain_text("does not answer")
    with listening(port) as listener:
        again = RunningStation(Station("sea-breeze", AFTERNOON, seed=3, pace=60.0), listener)
        again.start()
        try:
            expect(now).to_contain_text(re.compile(r"13:3\d|13:4\d"))
            page.get_by_role("button", name="Save its readings as a record").click()
            expect(page.get_by_label("Name of the record")).to_have_value(
                re.compile("^Sallow Fen.*2031-05-17 13:")
            )
        finally:
            again.stop()


def test_a_plan_that_follows_the_station_says_what_has_moved(
    context: BrowserContext, address: str, station: tuple[RunningStation, int]
) -> None:
    running, _ = station
    httpx.put(f"{address}api/station", json={"address": running.address, "threshold_m": 1.0})
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, SAMPHIRE)}/lap")
    since = page.get_by_test_id("since")
    expect(since).to_contain_text("Since this plan: wind")
    expect(since).to_contain_text("simulated station")
    before = figure(page, "Wind (m/s)").input_value()
    since.get_by_role("button", name="Use current weather").click()
    expect(figure(page, "Wind (m/s)")).not_to_have_value(before)
    page.get_by_role("button", name="History").click()
    step = re.compile("^Conditions of 13:[0-9]+ from the station$")
    expect(page.get_by_role("cell", name=step)).to_be_visible()


@pytest.mark.parametrize("tab", ["session", "weathers", "record"])
def test_the_weather_stays_on_a_phone(context: BrowserContext, address: str, tab: str) -> None:
    page = opened(context, address, tab)
    shown = {"session": "session-roll", "weathers": "weathers-plot", "record": "readings"}[tab]
    expect(page.get_by_test_id(shown)).to_be_visible(timeout=DRIVEN_MS)
    page.set_viewport_size({"width": 390, "height": 844})
    fits(page)


@pytest.mark.parametrize(
    ("tab", "plot"), [("session", "session-roll"), ("weathers", "weathers-plot")]
)
def test_a_slower_lap_is_higher(context: BrowserContext, address: str, tab: str, plot: str) -> None:
    page = opened(context, address, tab)
    drawing = page.get_by_test_id(plot)
    expect(drawing.get_by_text(re.compile(r"^\d:\d\d\.\d$")).first).to_be_visible(timeout=DRIVEN_MS)
    ticks = drawing.evaluate(
        """(svg) => [...svg.querySelectorAll('text')]
             .filter((one) => /^\\d:\\d\\d\\.\\d$/.test(one.textContent.trim()))
             .map((one) => [one.textContent.trim(), Number(one.getAttribute('y'))])"""
    )
    assert len(ticks) >= 3
    heights = [y for _, y in sorted(ticks)]
    assert heights == sorted(heights, reverse=True)
