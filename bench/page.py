"""From a key pressed on a figure to the repainted lap, and a page opened, in headless Chromium."""

import statistics
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import pairwise
from pathlib import Path

from playwright.sync_api import Page

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE.parent / "scripts"))

from browser import chromium  # noqa: E402 -- beside this folder, found only now

#: Notes when the key goes down, and when the frame that shows another lap time is painted.
WATCH = """() => {
  const shown = document.querySelector('[data-testid="lap-time"]')
  window.waits = []
  let pressed = 0
  addEventListener('keydown', () => (pressed = performance.now()), true)
  new MutationObserver(() => {
    const from = pressed
    requestAnimationFrame(() => {
      const channel = new MessageChannel()
      channel.port1.onmessage = () => window.waits.push(performance.now() - from)
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
    page.get_by_label("Power (kW)").first.focus()


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
        waits: list[float] = page.evaluate("window.waits")
    return sorted(waits)


#: Notes every key that goes down and every frame that shows another lap time.
WATCH_HELD = """() => {
  const shown = document.querySelector('[data-testid="lap-time"]')
  window.keys = []
  window.frames_shown = []
  addEventListener('keydown', () => window.keys.push(performance.now()), true)
  new MutationObserver(() => {
    requestAnimationFrame(() => {
      const channel = new MessageChannel()
      channel.port1.onmessage = () => window.frames_shown.push(performance.now())
      channel.port2.postMessage(0)
    })
  }).observe(shown, { childList: true, characterData: true, subtree: true })
}"""
HELD_KEYS, HELD_EVERY_S = 45, 1.0 / 30.0


def held_ms(address: str, times: int = 6) -> tuple[float, float]:
    """A key held on a figure: from one repaint to the next, and from last key to last repaint."""
    between: list[float] = []
    behind: list[float] = []
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        beside_baseline(page, address)
        page.evaluate(WATCH_HELD)
        keyboard = page.context.new_cdp_session(page)
        for number in range(times):
            key, code = (("ArrowDown", 40), ("ArrowUp", 38))[number % 2]
            page.evaluate("() => { window.keys = []; window.frames_shown = [] }")
            sent = {"key": key, "code": key, "windowsVirtualKeyCode": code}
            begun = time.perf_counter()
            for press in range(HELD_KEYS):
                keyboard.send(
                    "Input.dispatchKeyEvent",
                    {"type": "rawKeyDown", "autoRepeat": press > 0, **sent},
                )
                time.sleep(max(begun + (press + 1) * HELD_EVERY_S - time.perf_counter(), 0.0))
            keyboard.send("Input.dispatchKeyEvent", {"type": "keyUp", **sent})
            page.wait_for_timeout(2000)
            keys, frames = page.evaluate("[window.keys, window.frames_shown]")
            held = [frame for frame in frames if frame < keys[-1] + 600.0]
            between += [later - frame for frame, later in pairwise(held)]
            behind.append(held[-1] - keys[-1])
    return statistics.median(between), statistics.median(behind)
