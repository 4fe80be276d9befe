"""The logbook driven as a person drives it: files dropped and kept, a run typed, a fit taken."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from neapfrost.demo.plans import composed
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from web.pages import DRY_K4, copied_plan, demo_plans_of, fits

READ_MS = 60_000
SAMPHIRE_K4 = "Kittiwake K4, Samphire Ring, fastest line"


@pytest.fixture(scope="module")
def log_files(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    """Two sessions of the same hidden car."""
    folder = tmp_path_factory.mktemp("logs")
    paths = []
    for seed in (8, 9):
        path = folder / f"session {seed}.csv"
        wanted = SimulatedRun(laps=5, seed=seed, truth=4, rate_hz=10)
        path.write_text(simulated_log(composed("k4-dry"), wanted))
        paths.append(path)
    return paths


@pytest.fixture
def logbook(context: BrowserContext, address: str) -> Page:
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, DRY_K4)}/logbook")
    # Until the season is there the page may still be made anew, and what was opened in it is shut.
    expect(page.get_by_test_id("season")).to_contain_text("opening test", timeout=READ_MS)
    return page


def read(page: Page, *files: Path) -> None:
    """Give files to the logbook, and keep them once their laps are found."""
    page.get_by_label("Import logger files…").set_input_files(files)
    keep = page.get_by_role("button", name=re.compile("^Save "))
    expect(keep).to_be_enabled(timeout=READ_MS)
    keep.click()
    expect(page.get_by_test_id("readings")).to_have_count(0, timeout=READ_MS)


def test_from_dropped_files_to_what_they_teach_taken_into_the_plan(
    logbook: Page, log_files: list[Path]
) -> None:
    read(logbook, *log_files)
    expect(logbook.get_by_test_id("run-said")).to_contain_text("timed laps", timeout=READ_MS)
    table = logbook.get_by_test_id("corners-against")
    expect(table.get_by_role("row")).to_have_count(12)
    expect(logbook.get_by_test_id("lap-said")).to_contain_text("than predicted")
    expect(logbook).to_have_url(re.compile(r"/logbook/\d+/\d+$"))
    expect(logbook.get_by_test_id("changed")).to_contain_text("not significant")
    logbook.get_by_test_id("laps-plot").hover()
    expect(
        logbook.get_by_test_id("laps-plot").get_by_text(re.compile(" for .* s$"))
    ).to_be_visible()
    # A benchmark: the best lap of the other run.
    against = logbook.get_by_label("What the lap is compared with")
    session = against.get_by_role("option", name=re.compile("session 8")).get_attribute("value")
    against.select_option(session)
    expect(logbook.get_by_test_id("lap-said")).to_contain_text("than lap", timeout=READ_MS)
    # Both runs together, then what they teach.
    for box in logbook.get_by_role("checkbox", name=re.compile("^Select session")).all():
        box.check()
    logbook.get_by_role("tab", name="Laps compared").click()
    expect(logbook.get_by_test_id("together-said")).to_contain_text("6 laps: best")
    expect(logbook.get_by_test_id("corners-together").get_by_role("row")).to_have_count(12)
    logbook.get_by_role("tab", name="Model fit").click()
    logbook.get_by_role("button", name="Fit to 2 runs").click()
    expect(logbook.get_by_test_id("fit-said")).to_contain_text("6 laps of 2 runs", timeout=READ_MS)
    expect(logbook.get_by_test_id("fit-figures").get_by_role("row")).to_have_count(9)
    logbook.get_by_label("Apply Drag to").select_option("car")
    drag = logbook.get_by_role("spinbutton", name="Drag (m² CdA)")
    before = drag.input_value()
    logbook.get_by_role("button", name="Apply to plan").click()
    expect(drag).not_to_have_value(before, timeout=READ_MS)
    expect(logbook.get_by_role("button", name=re.compile("^Fit of"))).to_be_visible()
    expect(logbook.get_by_text("have changed since this fit")).to_be_visible()
    logbook.get_by_role("button", name=re.compile("^Fit of")).click()
    expect(logbook.get_by_text("Applied on")).to_contain_text("drag on the car")
    # One step for each sheet that something was taken over to.
    for _ in range(4):
        with logbook.expect_response("**/undo*"):
            logbook.get_by_role("button", name="Undo", exact=True).click()
        logbook.wait_for_timeout(400)
        if drag.input_value() == before:
            break
    expect(drag).to_have_value(before)


def test_a_run_is_typed_by_keyboard_alone(logbook: Page) -> None:
    logbook.get_by_role("button", name="New event at").focus()
    logbook.keyboard.press("Enter")
    logbook.keyboard.type("Fen evening")
    logbook.keyboard.press("Enter")
    expect(logbook.get_by_test_id("season")).to_contain_text("Fen evening")
    logbook.get_by_role("button", name="Type a run").focus()
    logbook.keyboard.press("Enter")
    laps = logbook.get_by_label("Laps as typed")
    laps.focus()
    logbook.keyboard.type("o\n1:39.4 33.1 33.2 33.1\n1:38.9\n1:39.1 quick\n1:39.0")
    logbook.keyboard.press("Tab")
    expect(logbook.get_by_role("alert")).to_contain_text('line 4: "quick" is neither a time')
    expect(laps).to_have_value(re.compile("quick"))
    chosen = logbook.get_by_role("button", name="Lap 3 1:38.900", exact=True)
    chosen.focus()
    logbook.keyboard.press("t")
    expect(logbook.get_by_role("button", name="Lap 3 1:38.900 traffic")).to_be_visible()
    expect(logbook.get_by_test_id("run-said")).to_contain_text("the best 1:39.00")
    logbook.get_by_label("Event and session of the run").focus()
    logbook.keyboard.press("ArrowDown")
    logbook.keyboard.press("Tab")
    event = logbook.get_by_test_id("season").get_by_role("group").filter(has_text="Fen evening")
    expect(event).to_contain_text("1:39.000")
    braked = logbook.get_by_label("Bittern, braking point observed, against a board")
    braked.focus()
    logbook.keyboard.type("10 past the 100")
    logbook.keyboard.press("Tab")
    expect(logbook.get_by_text("90 m before it")).to_be_visible()
    logbook.get_by_label("Remarks on the run").fill("tyres past their best")
    logbook.get_by_label("Driver", exact=True).fill("Oona")
    logbook.get_by_label("Name of the run").click()
    logbook.reload()
    expect(logbook.get_by_label("Remarks on the run")).to_have_value("tyres past their best")
    expect(logbook.get_by_label("Driver", exact=True)).to_have_value("Oona")
    logbook.get_by_label("Find in the logbook").fill("oona tyres")
    logbook.get_by_label("Find in the logbook").press("Enter")
    expect(logbook.get_by_test_id("runs").get_by_role("listitem")).to_have_count(1)


def test_a_simulated_run_is_driven_and_taken_out_and_brought_back(logbook: Page) -> None:
    logbook.get_by_text("Without a logger").click()
    seed = logbook.get_by_label("Seed of the simulated run")
    seed.fill("21")
    seed.press("Enter")
    logbook.get_by_label("logs positions").uncheck()
    logbook.get_by_role("button", name="Use").click()
    expect(logbook.get_by_label("Name of the run")).to_have_value(
        "Simulated run 21", timeout=READ_MS
    )
    expect(logbook.get_by_text("Simulated: not a real run.")).to_be_visible()
    logbook.get_by_role("button", name="Remove this run").click()
    notice = logbook.get_by_role("status").filter(has_text="removed from the logbook")
    expect(notice).to_be_visible()
    notice.get_by_role("button", name="Undo").click()
    expect(logbook.get_by_test_id("corners-against")).to_be_visible(timeout=READ_MS)


def test_columns_are_chosen_where_a_file_does_not_say_and_what_is_no_log_is_refused(
    logbook: Page, log_files: list[Path], tmp_path: Path
) -> None:
    strange = tmp_path / "strange.csv"
    strange.write_text(log_files[0].read_text().replace("Time,Speed,", "Clock,Wheel,"))
    files = logbook.get_by_label("Import logger files…")
    files.set_input_files(strange)
    columns = logbook.get_by_test_id("columns")
    expect(columns).to_be_visible(timeout=READ_MS)
    expect(logbook.get_by_role("alert")).to_contain_text("Time is missing")
    logbook.get_by_label("Column of Time").select_option("0")
    expect(logbook.get_by_role("alert")).to_contain_text("Speed is missing")
    logbook.get_by_label("Column of Speed").select_option("1")
    keep = logbook.get_by_role("button", name="Save it")
    expect(keep).to_be_enabled(timeout=READ_MS)
    logbook.get_by_role("button", name="Columns").click()
    expect(logbook.get_by_role("img", name="Speed along the file", exact=True)).to_be_visible()
    logbook.get_by_role("button", name="Remove", exact=True).click()
    bad = tmp_path / "bad.csv"
    bad.write_text("nothing of the kind")
    files.set_input_files(bad)
    expect(logbook.get_by_role("alert")).to_contain_text("No table of samples was found")


def test_the_demo_season_is_looked_at_talked_over_and_remembered_by_corner(
    browser: Browser, address: str
) -> None:
    page = browser.new_page()
    page.goto(f"{address}#/plan/{demo_plans_of(address)[SAMPHIRE_K4]}/logbook")
    expect(page.get_by_label("Name of the run")).to_have_value("New set", timeout=READ_MS)
    page.get_by_role("button", name=re.compile("Fuel out, bar up")).click()
    expect(page.get_by_test_id("changed")).to_contain_text("3 things changed at once")
    expect(page.get_by_test_id("changed")).to_contain_text("not modelled")
    page.get_by_role("tab", name="Corner history").click()
    page.get_by_label("Which corner").select_option(label="7 Marl Pit")
    expect(page.get_by_test_id("past-table")).to_contain_text("over-slowed; waits for the kerb")
    expect(page.get_by_test_id("past-plot")).to_have_count(2)
    page.get_by_role("tab", name="Debrief").click()
    expect(page.get_by_test_id("debrief").get_by_role("article")).to_have_count(6, timeout=READ_MS)
    expect(page).to_have_url(re.compile(r"/logbook/debrief/\d+/\d+$"))
    page.emulate_media(media="print")
    expect(page.get_by_test_id("season")).to_be_hidden()
    expect(page.get_by_test_id("debrief").get_by_role("article").first).to_be_visible()
    page.emulate_media(media="screen")
    page.set_viewport_size({"width": 390, "height": 844})
    for tab in ("Debrief", "The run", "Laps compared", "Corner history"):
        page.get_by_role("tab", name=tab).click()
        fits(page)
    page.close()
