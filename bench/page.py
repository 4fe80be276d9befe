"""From a key pressed on a figure to the repainted lap, and a page opened, in headless Chromium."""

import json
import statistics
import sys
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

from playwright.sync_api import Page

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE.parent / "scripts"))

from browser import chromium  # noqa: E402 -- beside this folder, found only now

#: Notes every key that goes down and every frame that shows another lap time.
WATCH = """() => {
  const shown = document.querySelector('[data-testid="lap-time"]')
  window.keys = []
  window.repaints = []
  addEventListener('keydown', () => window.keys.push(performance.now()), true)
  new MutationObserver(() => {
    requestAnimationFrame(() => {
      const channel = new MessageChannel()
      channel.port1.onmessage = () => window.repaints.push(performance.now())
      channel.port2.postMessage(0)
    })
  }).observe(shown, { childList: true, characterData: true, subtree: true })
}"""


#: Notes when the frame with the curve is painted, from when the page was asked for.
OPENED = """() => {
  const look = () => {
    if (!document.querySelector('[data-testid="speed-curve"]')) return requestAnimationFrame(look)
    const channel = new MessageChannel()
    channel.port1.onmessage = () => (window.opened = performance.now())
    channel.port2.postMessage(0)
  }
  requestAnimationFrame(look)
}"""


@contextmanager
def window() -> Iterator[Page]:
    """A window of a browser that has come to rest: a new one is busy with itself for a while."""
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(f"({OPENED})()")
        page.wait_for_timeout(3000)
        yield page


def page_opened_ms(page: Page, address: str, times: int) -> float:
    """Median time until the page, of which nothing is remembered, shows its curve [ms]."""
    found = []
    cache = page.context.new_cdp_session(page)
    for _ in range(times):
        page.goto("about:blank")
        cache.send("Network.clearBrowserCache")
        page.goto(address)
        page.get_by_test_id("speed-curve").wait_for()
        page.wait_for_timeout(500)
        found.append(float(page.evaluate("window.opened")))
        page.evaluate("localStorage.clear()")
    return statistics.median(found)


def beside_baseline(page: Page, address: str) -> None:
    """Open the page with its lap compared with a baseline, and a figure in hand."""
    page.goto(address)
    page.get_by_test_id("speed-curve").wait_for()
    if page.get_by_test_id("time-difference").count() == 0:
        page.keyboard.press("b")
    page.get_by_test_id("time-difference").wait_for(state="attached")
    page.wait_for_timeout(3000)
    page.get_by_label("Grip (μ)").first.focus()


def key_to_repaint_ms(address: str, foreseen: bool, presses: int = 120) -> list[float]:
    """Times from key press to repaint [ms], sorted; the page is compared with a baseline.

    With `foreseen` the next step is worked out meanwhile, as always; else each comes as a surprise.
    """
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        if not foreseen:
            page.route("**/foresee", lambda route: route.fulfill(status=204))
        beside_baseline(page, address)
        page.evaluate(WATCH)
        for _ in range(presses):
            page.keyboard.press("ArrowUp")
            page.wait_for_timeout(120)
        page.wait_for_timeout(300)
        keys, repaints = noted(page)
    return sorted(at - max(key for key in keys if key <= at) for at in repaints)


def noted(page: Page) -> tuple[list[float], list[float]]:
    """When keys went down and when another lap was painted since this was last asked [ms]."""
    keys, repaints = page.evaluate(
        "() => { const all = [keys, repaints]; keys = []; repaints = []; return all }"
    )
    return keys, repaints


@dataclass(frozen=True)
class Hold:
    """A key held on a figure: from each repaint to the next, and from last key to last repaint."""

    between_ms: list[float]
    behind_ms: float


def hold(page: Page, key: str) -> Hold | None:
    """Hold an arrow key on the figure in hand; None where the lap does not change with it."""
    keyboard = page.context.new_cdp_session(page)
    sent = {"key": key, "code": key, "windowsVirtualKeyCode": KEY_CODES[key]}
    noted(page)
    begun = time.perf_counter()
    for press in range(HELD_KEYS):
        keyboard.send(
            "Input.dispatchKeyEvent", {"type": "rawKeyDown", "autoRepeat": press > 0, **sent}
        )
        time.sleep(max(begun + (press + 1) * HELD_EVERY_S - time.perf_counter(), 0.0))
    keyboard.send("Input.dispatchKeyEvent", {"type": "keyUp", **sent})
    page.wait_for_timeout(2000)
    keys, repaints = noted(page)
    # Letting go keeps the figure a moment later, which repaints once more.
    held = [at for at in repaints if at < keys[-1] + 600.0]
    if len(held) < 3:
        return None
    return Hold([later - at for at, later in pairwise(held)], held[-1] - keys[-1])


HELD_KEYS, HELD_EVERY_S = 45, 1.0 / 30.0
KEY_CODES = {"ArrowDown": 40, "ArrowUp": 38}


def held_ms(address: str, times: int = 6) -> tuple[float, float]:
    """A key held on the first plan: median from repaint to repaint, and from last key to last."""
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        beside_baseline(page, address)
        page.evaluate(WATCH)
        return _median(hold(page, list(KEY_CODES)[number % 2]) for number in range(times))


def slowest_held_ms(address: str) -> tuple[str, float, float]:
    """Of all plans the one on which a held key repaints most slowly: its name, and as `held_ms`.

    A page freshly opened, as whoever changes plans has it.
    """
    found: list[tuple[float, float, str]] = []
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        listed = json.loads(page.request.get(f"{address}api/library/plan").text())
        for plan in listed:
            page.goto("about:blank")
            beside_baseline(page, f"{address}#/plan/{plan['id']}")
            page.evaluate(WATCH)
            # Down and back, since several plans drive the same car.
            found.append((*_median(hold(page, key) for key in KEY_CODES), plan["name"]))
    between_ms, behind_ms, name = max(found)
    return name, between_ms, behind_ms


def _median(holds: Iterable[Hold | None]) -> tuple[float, float]:
    """Medians of several holds, without those that changed no lap."""
    found = [one for one in holds if one is not None]
    between = [gap for one in found for gap in one.between_ms]
    return statistics.median(between), statistics.median(one.behind_ms for one in found)
