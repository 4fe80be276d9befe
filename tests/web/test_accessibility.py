"""Contrast of the look's colours, and the page under an accessibility checker in both themes."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from serving import running_server
from web.pages import (
    DRY_K4,
    PATIENCE_MS,
    SAMPHIRE,
    chosen,
    copied_plan,
    demo_plans_of,
    escape,
    grip,
    open_plan,
    put,
)

WEB = Path(__file__).parent.parent.parent / "web"
AXE = WEB / "node_modules" / "axe-core" / "axe.min.js"


def theme_colours(name: str) -> dict[str, str]:
    css = (WEB / "src" / "app.css").read_text()
    block = css[css.index(f"name: '{name}'") :]
    block = block[: block.index("}")]
    return dict(re.findall(r"--color-([\w-]+): (#[0-9a-f]{6})", block))


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2)."""
    channels = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    light, dark = sorted((luminance(a), luminance(b)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("theme", ["neapfrost-day", "neapfrost-night"])
@pytest.mark.parametrize("ink", ["base-content", "secondary", "accent", "neutral", "error"])
@pytest.mark.parametrize("paper", ["base-100", "base-200"])
def test_every_ink_stands_out_from_its_paper(theme: str, ink: str, paper: str) -> None:
    colours = theme_colours(theme)
    assert contrast(colours[ink], colours[paper]) >= 4.5


def faults(page: Page, part: str = "body", at_night: bool = True) -> list[str]:
    """What the checker finds on a part of the page by day and, its colours alone, by night."""
    page.add_script_tag(path=AXE)
    found = page.evaluate(
        """async ([part, atNight]) => {
             const check = async (rules) => (await axe.run(part, {
               preload: false, resultTypes: ['violations'], ...(rules ? { runOnly: rules } : {})
             })).violations
             const day = await check(null)
             if (!atNight) return day
             const root = document.documentElement
             root.dataset.theme = 'neapfrost-night'
             const night = await check(['color-contrast'])
             root.dataset.theme = 'neapfrost-day'
             return [...day, ...night]
           }""",
        [part, at_night],
    )
    return [
        f"{fault['id']} ({fault['impact']}): {fault['nodes'][0]['html'][:160]}"
        for fault in found
        if fault["impact"] in ("serious", "critical", "moderate")
    ]


def unguarded(browser: Browser, width: int = 1280) -> Page:
    """A page whose own policy, which lets no foreign script in, is lifted for the checker.

    Nothing slides or fades in it: what is still on its way in is paler than it will be.
    """
    context = browser.new_context(
        viewport={"width": width, "height": 800}, bypass_csp=True, reduced_motion="reduce"
    )
    # Without the bands, which take some hundred laps; a blank page has nowhere to write that.
    context.add_init_script(
        "try { localStorage.setItem('neapfrost-bands', 'off') } catch { /* a blank page */ }"
    )
    return context.new_page()


@pytest.mark.parametrize("width", [1280, 390])
def test_the_lap_page_has_no_fault(browser: Browser, address: str, width: int) -> None:
    page = unguarded(browser, width)
    open_plan(page, address, copied_plan(address, DRY_K4))
    page.keyboard.press("b")
    page.keyboard.press("3")
    if width < 700:
        page.get_by_text("What the lap is based on").click()
    put(page, "Grip (μ)", "1.45")
    assert faults(page) == []
    # A refused figure is marked by more than its colour.
    grip(page).fill("-1")
    grip(page).press("Enter")
    expect(page.get_by_role("alert")).to_be_visible()
    assert faults(page) == []
    page.context.close()


def test_no_sheet_has_a_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    open_plan(page, address, copied_plan(address, DRY_K4))
    keys = ("/", "c", "h", "m", "w", "f", "?")
    for wanted in (*keys, "Car Kitti", "Circuit Sallow", "Units"):
        if wanted in keys:
            page.keyboard.press(wanted)
        elif wanted == "Units":
            chosen(page, wanted)
        else:
            page.get_by_role("button", name=wanted).first.click()
        expect(page.get_by_role("dialog")).to_be_visible()
        # All sheets are set in the same few colours; by night one of each kind is looked at.
        assert faults(page, "dialog[open]", at_night=wanted in ("c", "f", "Units")) == [], wanted
        escape(page)
        expect(page.get_by_role("dialog")).to_have_count(0)
    page.context.close()


def test_the_circuit_page_has_no_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    open_plan(page, address, copied_plan(address, SAMPHIRE))
    page.get_by_role("link", name="Circuit", exact=True).click()
    expect(page.get_by_test_id("closure")).to_contain_text("closes")
    page.keyboard.press("4")
    for tab in ("References", "Heights", "Edges", "Straights"):
        page.get_by_role("tab", name=tab).click()
        assert faults(page, "#circuit-panel" if tab != "Straights" else "body") == [], tab
    page.get_by_role("button", name="Measure radius").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page, "dialog[open]") == []
    escape(page)
    page.get_by_role("button", name="Import a circuit").click()
    assert faults(page, "dialog[open]") == []
    escape(page)
    page.get_by_role("link", name="Line", exact=True).click()
    expect(page.get_by_test_id("road-map")).to_be_visible()
    page.keyboard.press("3")
    page.get_by_role("button", name="Fix the line at a place").click()
    expect(page.get_by_text("Fixed at a place")).to_be_visible()
    assert faults(page) == []
    page.context.close()


def test_the_car_page_has_no_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    open_plan(page, address, copied_plan(address, DRY_K4))
    page.get_by_role("link", name="Car", exact=True).click()
    expect(page.get_by_test_id("plot-gears")).to_be_visible()
    seen = {
        "Performance": "car-figures",
        "Full sheet": "car-sheet",
        "Setups": "setups",
        "Compare": "differences",
        "Brakes": "brake-zones",
        "Build from known figures": "assumed",
    }
    for tab, shown in seen.items():
        page.get_by_role("tab", name=tab).click()
        expect(page.get_by_test_id(shown)).to_be_visible()
        assert faults(page, "main" if tab == "Performance" else "#car-panel") == [], tab
    page.context.close()


def test_trade_offs_and_conditions_have_no_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    number = copied_plan(address, "Dunlin 16, Crake Heath, dry")
    page.goto(f"{address}#/plan/{number}/trade/one/compound")
    seen = {
        "Sensitivities": "ranking",
        "Map": "grid-cell",
        "Sweep": "sweep-point",
    }
    for tab, shown in seen.items():
        page.get_by_role("tab", name=tab).click()
        if tab == "Map":
            page.get_by_role("button", name="Calculate").click()
            page.get_by_role("button", name="Stop").click()
        expect(page.get_by_test_id(shown)).to_be_visible(timeout=PATIENCE_MS)
        if tab != "Map":
            expect(page.get_by_role("progressbar")).to_have_count(0, timeout=PATIENCE_MS)
        assert faults(page, "#trade-panel") == [], tab
    page.get_by_role("link", name="Conditions", exact=True).click()
    weather = {
        "Session timeline": "session-calls",
        "Forecasts compared": "weathers-pairs",
        "Wind at each corner": "wind-corners",
        "Readings and track state": "readings",
    }
    for tab, shown in weather.items():
        page.get_by_role("tab", name=tab).click()
        expect(page.get_by_test_id(shown)).to_be_visible(timeout=PATIENCE_MS)
        expect(page.get_by_role("progressbar")).to_have_count(0, timeout=PATIENCE_MS)
        assert faults(page, "main") == [], tab
    page.context.close()


def test_the_logbook_has_no_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    number = demo_plans_of(address)["Dunlin 16, Crake Heath, dry"]
    page.goto(f"{address}#/plan/{number}/logbook")
    page.get_by_role("button", name=re.compile("Third run")).click()
    expect(page.get_by_test_id("corners-against")).to_be_visible(timeout=PATIENCE_MS)
    page.get_by_text("Corner observations").click()
    assert faults(page, "main") == []
    seen = {
        "Laps compared": "corners-together",
        "Corner history": "past-table",
        "Model fit": "fit-figures",
        "Debrief": "debrief",
    }
    for tab, shown in seen.items():
        page.get_by_role("tab", name=tab).click()
        if tab == "Model fit":
            page.get_by_role("button", name="Fit to Third run").click()
        expect(page.get_by_test_id(shown)).to_be_visible(timeout=PATIENCE_MS)
        assert faults(page, "#logbook-panel") == [], tab
    page.context.close()


def test_the_race_desk_has_no_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    number = demo_plans_of(address)["Garganey Coupé, Marram Bowl"]
    page.goto(f"{address}#/plan/{number}/race")
    shown = {
        "The race": "stint-roll",
        "Stops": "other-plans",
        "Fuel": "saving-corners",
        "Tyre crossover": "water-plot",
        "Overtaking": "passing-table",
        "Tyres": "work-table",
        "Lanes": "lift-ways",
    }
    for tab, part in shown.items():
        page.get_by_role("tab", name=tab, exact=True).click()
        expect(page.get_by_test_id(part)).to_be_visible(timeout=PATIENCE_MS)
        expect(page.get_by_role("progressbar")).to_have_count(0, timeout=PATIENCE_MS)
        assert faults(page, "#race-panel") == [], tab
    page.context.close()


def test_what_would_close_a_ring_has_no_fault(browser: Browser, address: str) -> None:
    page = unguarded(browser)
    open_plan(page, address, copied_plan(address, DRY_K4))
    page.get_by_role("link", name="Circuit", exact=True).click()
    page.get_by_role("button", name="Show what would close it").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page, "dialog[open]") == []
    page.context.close()


def test_the_first_steps_have_no_fault(browser: Browser, tmp_path: Path) -> None:
    with running_server("serve", tmp_path, solvers=0) as address:
        page = unguarded(browser)
        page.goto(address)
        for step in range(3):
            assert faults(page, "body" if step == 0 else "main") == [], step
            if step < 2:
                page.get_by_label("Name", exact=True).fill("Something")
                page.get_by_role("button", name="Next").click()
        page.context.close()


def test_the_page_is_worked_by_keys_alone(page: Page) -> None:
    """Tab reaches the figures in reading order, and a sheet gives the focus back."""
    page.locator("header .plan").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog", name="Plans")).to_be_visible()
    escape(page)
    expect(page.locator("header .plan")).to_be_focused()
    reached = []
    for _ in range(16):
        page.keyboard.press("Tab")
        reached.append(page.evaluate("document.activeElement.getAttribute('aria-label')"))
    labels = [label for label in reached if label]
    assert labels.index("Grip (μ)") < labels.index("Power (kW)") < labels.index("Mass (kg)")


def tabs_of(name: str) -> list[str]:
    """The tabs of a view as the page's own list has them."""
    places = (WEB / "src" / "lib" / "state" / "places.ts").read_text()
    block = re.search(rf"{name} = \[(.*?)\] as const", places, re.S)
    assert block is not None
    return re.findall(r"tab: '(\w+)'", block[1])


VIEWS = {
    "circuit": "CIRCUIT_TABS",
    "car": "CAR_TABS",
    "conditions": "CONDITIONS_TABS",
    "trade": "TRADE_TABS",
    "race": "RACE_TABS",
    "drill": "DRILL_TABS",
    "logbook": "LOGBOOK_TABS",
    "lap/1": "CORNER_PARTS",
}


@pytest.mark.parametrize("width", [1280, 390])
@pytest.mark.parametrize("view", VIEWS)
def test_no_tab_has_a_fault_nor_is_wider_than_the_screen(
    browser: Browser, address: str, view: str, width: int
) -> None:
    """Every tab there is, as it opens; what a study fills is looked at in the tests above."""
    page = unguarded(browser, width)
    number = demo_plans_of(address)["Dunlin 16, Crake Heath, dry"]
    for tab in tabs_of(VIEWS[view]):
        page.goto(f"{address}#/plan/{number}/{view}/{tab}")
        expect(page.get_by_role("tab", selected=True).first).to_be_visible()
        page.wait_for_load_state("networkidle")
        # What the checker looks at is the same on a phone, but for the width.
        if width > 700:
            assert faults(page, at_night=False) == [], tab
        over = page.evaluate("document.documentElement.scrollWidth - innerWidth")
        assert over <= 0, f"{tab} is {over} px too wide"
    page.context.close()
