"""From a key pressed on a figure to the repainted lap, in headless Chromium."""

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


def key_to_repaint_ms(address: str, presses: int = 120) -> list[float]:
    """Times from key press to repaint [ms], sorted; the page is compared with a baseline."""
    with chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_test_id("speed-curve").wait_for()
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
