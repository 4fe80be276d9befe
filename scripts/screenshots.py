"""Current pictures of each main view, from the demo data, into docs/screenshots."""

import io
import re
import tempfile
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, Page

from browser import chromium
from neapfrost.core.path.build import build_path
from neapfrost.demo.plans import PLAN_IDS, demo_plan
from neapfrost.formats.plan_records import circuit_record
from neapfrost.formats.tracks.gpx import write_gpx
from neapfrost.formats.tracks.read_track import degrees
from serving import running_server

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
DESK = (1280, 800)
PHONE = (390, 844)
#: Colours of a picture; what differs by more levels, on more of it, is another picture.
COLOURS, SEEN_LEVELS, SEEN_SHARE = 64, 40, 5e-4
KEPT: set[Path] = set()


def opened(browser: Browser, address: str, plan: int, size: tuple[int, int] = DESK) -> Page:
    """A demo plan with its lap drawn."""
    page = browser.new_page(viewport={"width": size[0], "height": size[1]})
    page.goto(f"{address}#/plan/{plan}")
    page.get_by_test_id("speed-curve").wait_for()
    page.wait_for_timeout(500)
    return page


def number(plan_id: str) -> int:
    """What a demo plan is kept under in a store that began with them."""
    return PLAN_IDS.index(plan_id) + 1


def write(picture: Image.Image, path: Path) -> None:
    """Write a picture with a palette, unless the one that is there shows the same."""
    KEPT.add(path)
    if path.exists():
        before = Image.open(path).convert("RGB")
        if before.size == picture.size:
            off = np.abs(np.asarray(before, int) - np.asarray(picture, int)).max(axis=2)
            if float((off > SEEN_LEVELS).mean()) < SEEN_SHARE:
                return
    picture.quantize(COLOURS, dither=Image.Dither.NONE).save(path, optimize=True)


def keep(page: Page, name: str) -> None:
    """A picture of the page as it stands once its bands are driven."""
    page.get_by_text("calculating the band").wait_for(state="detached", timeout=60_000)
    page.wait_for_timeout(600)
    write(Image.open(io.BytesIO(page.screenshot())).convert("RGB"), OUT / f"{name}.png")


def put(page: Page, label: str, value: str) -> None:
    """Type a figure and let go of it."""
    page.get_by_label(label).first.fill(value)
    page.get_by_label(label).first.press("Enter")
    page.get_by_label(label).first.blur()
    page.wait_for_timeout(400)


def survey(page: Page) -> None:
    """The Circuit view."""
    page.get_by_role("link", name="Circuit", exact=True).click()
    page.keyboard.press("4")
    keep(page, "circuit")


def car(page: Page) -> None:
    """The Car view: two setups side by side, and what the car does."""
    page.get_by_role("link", name="Car", exact=True).click()
    page.get_by_test_id("plot-gears").wait_for()
    keep(page, "car")


def trade(page: Page) -> None:
    """Trade-offs: a figure swept."""
    page.get_by_role("link", name="Trade-offs").click()
    page.get_by_label("Vary", exact=True).select_option("final_drive")
    page.get_by_role("img", name="Lap time over Final drive").wait_for()
    page.get_by_role("progressbar").wait_for(state="detached", timeout=60_000)
    keep(page, "trade-one")


def conditions(page: Page) -> None:
    """The Conditions view: a session with its rain."""
    page.get_by_role("link", name="Conditions", exact=True).click()
    page.get_by_test_id("session-calls").wait_for()
    page.get_by_label("Forecast").select_option(label="Another shower, 35 %")
    page.get_by_test_id("session-said").get_by_text("Rain is quicker").wait_for(timeout=60_000)
    keep(page, "conditions")


def lines(page: Page) -> None:
    """The Line view of a road with all its lines, one corner of it, and a file on its way in."""
    page.get_by_role("link", name="Line", exact=True).click()
    page.get_by_role("button", name="Calculate and compare all").click()
    page.get_by_role("button", name="Stop, keep the best so far").wait_for()
    page.get_by_role("button", name="Calculate and compare all").wait_for(timeout=60_000)
    keep(page, "line")
    page.get_by_role("link", name="Circuit", exact=True).click()
    page.get_by_role("button", name="Import a circuit").click()
    with tempfile.TemporaryDirectory() as folder:
        log = Path(folder) / "evening-log.gpx"
        log.write_text(noisy_log())
        page.locator("dialog input[type=file]").set_input_files(log)
        page.get_by_test_id("import-map").wait_for(timeout=60_000)
    keep(page, "import")


def corner(page: Page) -> None:
    """The sheet of a corner: what to do; then the brief."""
    page.keyboard.press("7")
    page.keyboard.press("Enter")
    page.get_by_role("list", name="Calls in short").get_by_text("quickest").wait_for()
    page.get_by_test_id("band-curve").wait_for()
    keep(page, "corner")
    page.get_by_role("link", name="Brief", exact=True).click()
    page.get_by_test_id("brief").wait_for()
    page.set_viewport_size({"width": DESK[0], "height": 1000})
    keep(page, "brief")


def logbook(page: Page) -> None:
    """A run with what changed before it, and what the runs of its event teach."""
    page.get_by_role("link", name="Logbook").click()
    page.get_by_role("button", name=re.compile("Fuel out, bar up")).click()
    page.get_by_text("things changed at once").wait_for(timeout=60_000)
    page.get_by_test_id("corners-against").wait_for(timeout=60_000)
    keep(page, "logbook")
    for box in page.get_by_role("checkbox", name=re.compile("^Select ")).all():
        box.check()
    page.get_by_role("tab", name="Model fit").click()
    page.get_by_role("button", name="Fit to 6 runs").click()
    page.get_by_test_id("fit-figures").wait_for(timeout=60_000)
    keep(page, "logbook-learn")


def race(browser: Browser, address: str) -> None:
    """The Race view: an endurance race on one sheet, and where its store's energy is spent."""
    page = browser.new_page(viewport={"width": DESK[0], "height": DESK[1]})
    page.goto(f"{address}#/plan/{number('phalarope-race-wind')}/race/sheet")
    page.get_by_test_id("stints").wait_for(timeout=60_000)
    keep(page, "race")
    page.get_by_role("tab", name="Energy").click()
    page.get_by_test_id("energy-said").get_by_text("every exit").wait_for(timeout=60_000)
    page.get_by_role("progressbar").wait_for(state="detached", timeout=60_000)
    keep(page, "race-energy")


def drill(browser: Browser, address: str) -> None:
    """The Drill: a braking point answered too late, and the lap in real time."""
    page = browser.new_page(viewport={"width": DESK[0], "height": DESK[1]})
    page.goto(f"{address}#/plan/{number('k4-samphire')}/drill/recall")
    page.get_by_label("In which order").select_option("lap")
    page.get_by_role("button", name="Start", exact=True).click()
    road = page.get_by_test_id("drill-road")
    road.focus()
    while "past 50" not in (road.get_attribute("aria-valuetext") or ""):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    page.get_by_test_id("drill-score").wait_for()
    keep(page, "drill")
    page.get_by_role("button", name="Stop this round").click()
    page.get_by_role("tab", name="Real-time lap").click()
    page.get_by_label("tap the rhythm").check()
    page.locator("body").click(position={"x": 5, "y": 700})
    page.keyboard.press(" ")
    run = page.get_by_test_id("run")
    while float(run.get_attribute("data-now-s") or 0.0) < 7.9:
        page.wait_for_timeout(20)
    page.keyboard.press(" ")
    keep(page, "drill-run")


def noisy_log() -> str:
    """Six laps of a demo circuit, one point every 25 m, each a metre off."""
    plan = demo_plan("k4-dry")
    assert plan is not None
    path = build_path(circuit_record(plan.document.circuit), 1.0)
    share = path.s_m / path.length_m
    at = np.arange(20.0, 6.1 * path.length_m, 25.3) % path.length_m
    draw = np.random.default_rng(5)
    x, y = (
        np.interp(at, path.s_m, axis - share * axis[-1]) + draw.normal(0.0, 1.0, len(at))
        for axis in (path.x_m, path.y_m)
    )
    z = np.interp(at, path.s_m, path.z_m) + draw.normal(0.0, 0.5, len(at))
    return write_gpx("Evening", *degrees(x, y, (0.0, 0.0)), z)


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        running_server("serve", Path(data)) as address,
        chromium() as browser,
    ):
        start = browser.new_page(viewport={"width": DESK[0], "height": DESK[1]})
        start.goto(address)
        keep(start, "start")
    with running_server() as address, chromium() as browser:
        first = opened(browser, address, number("k4-samphire"))
        first.get_by_test_id("band-curve").wait_for()
        keep(first, "lap-day")
        # Before anything is changed: plans share their cars.
        logbook(opened(browser, address, number("k4-samphire")))
        trade(first)
        race(browser, address)
        drill(browser, address)
        conditions(opened(browser, address, number("k4-dry")))
        page = opened(browser, address, number("k4-dry"))
        page.keyboard.press("b")
        page.wait_for_timeout(500)
        put(page, "Grip (μ)", "1.46")
        put(page, "Downforce (m² ClA)", "2.6")
        put(page, "Radius of Sluice (m)", "30")
        page.keyboard.press("Escape")
        page.keyboard.press("7")
        page.mouse.move(1000, 200)
        keep(page, "lap-against-baseline")
        survey(page)
        car(page)
        corner(opened(browser, address, number("k4-dry")))
        lines(opened(browser, address, number("garganey-samphire")))
        night = opened(browser, address, number("garganey-damp"))
        night.keyboard.press("n")
        keep(night, "lap-night")
        keep(opened(browser, address, number("k4-samphire"), PHONE), "lap-phone")
    for old in set(OUT.glob("*.png")) - KEPT:
        old.unlink()


if __name__ == "__main__":
    main()
