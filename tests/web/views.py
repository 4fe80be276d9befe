"""Every view and tab of a plan, and all that a reader finds in them."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from playwright.sync_api import Locator, Page, expect

#: What the page says while it is at work.
AT_WORK = re.compile(
    r"\b(Calculating|Loading|Preparing|Drawing|Asking|Checking|Simulating|Reading|Fitting|"
    r"Updating|Starting)\b[^.\n]*…|\d+ of \d+ laps"
)
#: Text, and what only a screen reader or a resting pointer says; heads of tables by themselves.
READ = """() => {
  const shown = (element) => element.checkVisibility?.() ?? true
  const all = [...document.querySelectorAll('body *')].filter(shown)
  const attributes = all.flatMap((element) =>
    ['aria-label', 'title', 'placeholder'].map((name) => element.getAttribute(name) ?? ''))
  const drawn = all.filter((element) => element.tagName === 'text').map((one) => one.textContent)
  return {
    text: document.body.innerText,
    said: [...attributes, ...drawn].filter((one) => one.trim() !== ''),
    heads: [...document.querySelectorAll('thead th, thead td')].filter(shown)
      .filter((one) => one.querySelector('button, a') === null)
      .map((one) => one.innerText.replace(/\\s+/g, ' ').trim()),
  }
}"""


@dataclass(frozen=True)
class ViewTexts:
    """What stands in a view: where it is, its lines, and the heads of its tables."""

    place: str
    lines: list[str]
    heads: list[str]


def settled(page: Page) -> dict[str, object]:
    """What stands in a view once it is no longer at work and says the same again and again."""
    before: dict[str, object] = {}
    same = 0
    for _ in range(1200):
        now: dict[str, object] = page.evaluate(READ)
        same = same + 1 if now == before and not AT_WORK.search(str(now["text"])) else 0
        if same == 3:
            return now
        before = now
        page.wait_for_timeout(50)
    raise AssertionError(f"{page.url} is at work for minutes:\n{before['text']}")


def view_texts(page: Page) -> Iterator[ViewTexts]:
    """Walk all views of the plan that is open, and all tabs of each."""
    views = page.get_by_role("navigation", name="Views")
    links = views.get_by_role("link")
    for number in range(links.count()):
        links.nth(number).click()
        yield from _tabs(page, page.locator("main"))
    views.get_by_text("Lap", exact=True).click()
    page.keyboard.press("1")
    page.keyboard.press("o")
    sheet = page.get_by_role("region", name=re.compile("^Corner 1"))
    sheet.wait_for()
    yield from _tabs(page, sheet)


def texts_here(page: Page) -> ViewTexts:
    """What stands in the view that is open."""
    return _texts(page.url, settled(page))


def _tabs(page: Page, inside: Locator) -> Iterator[ViewTexts]:
    read = settled(page)
    tabs = inside.get_by_role("tab")
    if tabs.count() == 0:
        yield _texts(page.url, read)
        return
    for number in range(tabs.count()):
        tab = tabs.nth(number)
        tab.click()
        expect(tab).to_have_attribute("aria-selected", "true")
        yield _texts(f"{page.url} {tab.inner_text()}", settled(page))


def _texts(url: str, read: dict[str, object]) -> ViewTexts:
    text, said, heads = read["text"], read["said"], read["heads"]
    assert isinstance(text, str)
    assert isinstance(said, list)
    assert isinstance(heads, list)
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    return ViewTexts(url.partition("#")[2], [*lines, *said], heads)
