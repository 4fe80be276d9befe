"""From a key pressed on a figure to the repainted lap, and a page opened, in headless Chromium."""

import statistics
import sys
from pathlib import Path

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


def page_opened_ms(address: str, times: int) -> float:
    """Median time until a page opened anew shows its curve [ms]."""
    found = []
    with chromium() as browser:
        for _ in range(times):
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.add_init_script(f"({OPENED})()")
            page.goto(address)
            page.get_by_test_id("speed-curve").wait_for()
            page.wait_for_timeout(500)
            found.append(float(page.evaluate("window.opened")))
            page.close()
    return statistics.median(found)


def key_to_repaint_ms(address: str, foreseen: bool, presses: int = 120) -> list[float]:
    """Times from key press to repaint [ms], sorted; the page is compared with a baseline.

    With `foreseen` the next step is worked out meanwhile, as always; else each comes as a surprise.
    """
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        if not foreseen:
            page.route("**/foresee", lambda route: route.fulfill(status=204))
        page.goto(address)
        page.get_by_test_id("speed-curve").wait_for()
        if page.get_by_test_id("time-difference").count() == 0:
            page.keyboard.press("b")
        page.get_by_test_id("time-difference").wait_for(state="attached")
        page.wait_for_timeout(300)
        figure = page.get_by_label("Power (kW)").first
        figure.focus()
        page.evaluate(WATCH)
        for _ in range(presses):
            page.keyboard.press("ArrowUp")
            page.wait_for_timeout(120)
        page.wait_for_timeout(300)
        waits: list[float] = page.evaluate("window.waits")
    return sorted(waits)
