"""The logbook driven as a person drives it: a file dropped, a lap looked at, a run taken out."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from neapfrost.demo.plans import composed
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from web.pages import DRY_K4, copied_plan, fits

READ_MS = 60_000


@pytest.fixture(scope="module")
def log_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("logs") / "session one.csv"
    path.write_text(simulated_log(composed("k4-dry"), SimulatedRun(laps=4, seed=8, rate_hz=20)))
    return path


@pytest.fixture
def logbook(context: BrowserContext, address: str) -> Page:
    page = context.new_page()
    page.goto(f"{address}#/plan/{copied_plan(address, DRY_K4)}/logbook")
    return page


def test_a_loggers_file_is_read_and_its_laps_held_against_the_plan(
    logbook: Page, log_file: Path
) -> None:
    logbook.get_by_label("Read a logger’s file…").set_input_files(log_file)
    expect(logbook.get_by_test_id("run-said")).to_contain_text("timed laps", timeout=READ_MS)
    table = logbook.get_by_test_id("corners-against")
    expect(table.get_by_role("row")).to_have_count(12)
    expect(logbook.get_by_test_id("lap-said")).to_contain_text("than predicted")
    expect(logbook).to_have_url(re.compile(r"/logbook/\d+/\d+$"))
    said = logbook.get_by_test_id("lap-said").inner_text()
    laps = logbook.get_by_test_id("laps").get_by_role("button")
    pressed = logbook.locator("[aria-pressed=true]")
    other = laps.filter(has_text=re.compile(r"^\s*2"))
    if other.get_attribute("aria-pressed") == "true":
        other = laps.filter(has_text=re.compile(r"^\s*3"))
    other.click()
    expect(logbook.get_by_test_id("lap-said")).not_to_have_text(said)
    expect(pressed).to_have_count(1)
    logbook.get_by_test_id("laps-plot").hover()
    expect(
        logbook.get_by_test_id("laps-plot").get_by_text(re.compile(" for .* s$"))
    ).to_be_visible()
    logbook.get_by_label("Remarks on the run").fill("tyres past their best")
    logbook.get_by_label("Name of the run").click()
    logbook.reload()
    expect(logbook.get_by_label("Remarks on the run")).to_have_value("tyres past their best")


def test_a_simulated_run_is_driven_and_taken_out_and_brought_back(logbook: Page) -> None:
    seed = logbook.get_by_label("Seed of the simulated run")
    seed.fill("21")
    seed.press("Enter")
    logbook.get_by_label("logs positions").uncheck()
    logbook.get_by_role("button", name="drive it").click()
    expect(logbook.get_by_label("Name of the run")).to_have_value(
        "Simulated run 21", timeout=READ_MS
    )
    expect(logbook.get_by_text("Simulated: no vehicle drove it.")).to_be_visible()
    logbook.get_by_role("button", name="take it out").click()
    notice = logbook.get_by_role("status").filter(has_text="taken out of the logbook")
    expect(notice).to_be_visible()
    notice.get_by_role("button", name="Undo").click()
    expect(logbook.get_by_test_id("corners-against")).to_be_visible(timeout=READ_MS)


def test_a_file_that_is_no_log_is_refused_where_it_was_given(logbook: Page, tmp_path: Path) -> None:
    bad = tmp_path / "bad.csv"
    bad.write_text(
        "Time,Speed\n" + "".join(f"{n},{'fast' if n == 30 else 100}\n" for n in range(400))
    )
    logbook.get_by_label("Read a logger’s file…").set_input_files(bad)
    expect(logbook.get_by_role("alert")).to_have_text('line 32, column 2: "fast" is no number')
    bad.write_text("nothing of the kind")
    logbook.get_by_label("Read a logger’s file…").set_input_files(bad)
    expect(logbook.get_by_role("alert")).to_contain_text("No line names the channels")


def test_the_logbook_stays_on_a_phone(logbook: Page, log_file: Path) -> None:
    logbook.get_by_label("Read a logger’s file…").set_input_files(log_file)
    expect(logbook.get_by_test_id("corners-against")).to_be_visible(timeout=READ_MS)
    logbook.set_viewport_size({"width": 390, "height": 844})
    fits(logbook)
