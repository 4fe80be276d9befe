"""What the browser tests say about the page, in its own words."""

import json
import re
from collections.abc import Callable
from functools import cache
from typing import Any

import httpx
from playwright.sync_api import Locator, Page, expect

#: How long is waited for a state: a machine may be at anything else at the same time.
PATIENCE_MS = 240_000
DRY_K4 = "Kittiwake K4, dry, qualifying fuel"
SAMPHIRE = "Garganey Coupé, Samphire Ring, fastest line"


def plans(address: str) -> dict[str, int]:
    """Number of each kept plan by its name."""
    listed: list[dict[str, Any]] = httpx.get(f"{address}api/library/plan", timeout=60).json()
    return {plan["name"]: plan["id"] for plan in listed}


@cache
def demo_plans_of(address: str) -> dict[str, int]:
    """The plans that an application began with, asked for once: the list grows with every test."""
    return plans(address)


def forget(page: Page) -> None:
    """Let a browser forget everything of the application, but that no bands are wanted.

    `page` is any of the application's own. Bands take some hundred laps for every page that
    opens; only their own tests ask for them.
    """
    page.evaluate("localStorage.clear(); localStorage.setItem('neapfrost-bands', 'off')")


def copied_plan(address: str, name: str) -> int:
    """A copy of a demo plan with its own car, circuit and conditions; its number."""
    number = demo_plans_of(address)[name]
    copy = f"{address}api/library/plan/{number}/copy?own_parts=true"
    made = httpx.post(copy, timeout=60).json()
    return int(made["id"])


def imported(address: str, document: dict[str, Any]) -> int:
    """A plan document kept by the application; its number."""
    made = httpx.post(f"{address}api/plans/import", content=json.dumps(document), timeout=60)
    assert made.status_code == 200, made.text
    return int(made.json()["plan_id"])


def open_plan(page: Page, address: str, number: int) -> None:
    """Open a plan and wait until its lap is drawn in the page's own fonts."""
    page.goto(f"{address}#/plan/{number}")
    drawn(page)


def drawn(page: Page) -> None:
    page.get_by_test_id("speed-curve").wait_for()
    page.evaluate("document.fonts.ready.then(() => true)")


def lap_seconds(page: Page) -> float:
    minutes, seconds = page.get_by_test_id("lap-time").inner_text().split(":")
    return 60 * int(minutes) + float(seconds)


def figure(page: Page, label: str) -> Locator:
    return page.get_by_role("spinbutton", name=label).first


def grip(page: Page) -> Locator:
    return figure(page, "Grip (μ)")


def put(page: Page, label: str, value: str) -> None:
    """Type a figure and let go of it; returns once it is kept."""
    field = figure(page, label)
    field.fill(value)
    field.press("Enter")
    kept(page)


def frames(page: Page) -> None:
    """Let the page draw what it was told: two frames, in the second of which the first is out."""
    page.evaluate("new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")


def kept(page: Page) -> None:
    frames(page)
    expect(page.locator("header .state")).to_have_text("saved")


def heads(page: Page) -> Locator:
    """The corners' buttons at the top of the table."""
    return page.get_by_test_id("corner-table").locator("thead button.head")


def row(page: Page, name: str) -> Locator:
    """Cells of a row of the corner table, without the sum."""
    rows = page.get_by_test_id("corner-table").locator("tbody tr")
    return rows.filter(has=page.get_by_role("rowheader", name=name)).locator("td:not(.sum)")


def words(cell: Locator) -> str:
    return re.sub(r"\s+", " ", cell.inner_text()).strip()


def sheet(page: Page) -> Locator:
    return page.get_by_role("dialog")


def escape(page: Page) -> None:
    """Press Esc; returns once no sheet is open, since the browser closes one a moment later."""
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def plan_number(page: Page) -> int:
    """Number of the plan that is open, as the address says it."""
    said = re.search(r"#/plan/(\d+)", page.url)
    assert said is not None, page.url
    return int(said[1])


def chosen(page: Page, entry: str) -> None:
    """Take an entry of the menu at the head of the page."""
    page.get_by_role("button", name="Units, night and keys").click()
    page.locator("#show-as").get_by_role("button", name=entry).click()


def notice(page: Page) -> Locator:
    return page.locator(".notice")


def dropped(page: Page, name: str, text: str) -> None:
    """Drop a file anywhere on the page."""
    page.evaluate(
        """([name, text]) => {
             const data = new DataTransfer()
             data.items.add(new File([text], name))
             document.body.dispatchEvent(
               new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }))
           }""",
        [name, text],
    )


def until(page: Page, true: Callable[[], bool]) -> None:
    """Wait, for minutes on a busy machine, until something is true of a page."""
    for _ in range(6000):
        if true():
            return
        page.evaluate("new Promise((done) => setTimeout(done, 20))")
    raise AssertionError("it has not come true")


def fits(page: Page) -> None:
    """Wait until nothing of the page is wider than its window."""
    over = "document.documentElement.scrollWidth - window.innerWidth"
    until(page, lambda: page.evaluate(over) <= 0)
