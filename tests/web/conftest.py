"""One browser and one application for all browser tests; a plan of its own for each test."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Page, expect

from browser import chromium
from serving import running_server
from web.pages import DRY_K4, copied_plan, open_plan, without_bands

# A machine that does several things at once answers late; nothing here is timed.
expect.set_options(timeout=40_000)

#: Refusals and conflicts are answered on purpose; the browser logs them by itself.
MEANT = ("409", "422")


@pytest.fixture(scope="session")
def address() -> Iterator[str]:
    with running_server(solvers=0) as address:
        yield address


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as browser:
        yield browser


@pytest.fixture
def context(browser: Browser, address: str) -> Iterator[BrowserContext]:
    """A fresh profile; fails on any script error in any of its pages."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, storage_state=without_bands(address)
    )
    context.set_default_timeout(60_000)
    context.grant_permissions(["clipboard-read", "clipboard-write"], origin=address)
    errors: list[str] = []

    def listen(message: ConsoleMessage) -> None:
        if message.type == "error" and not any(status in message.text for status in MEANT):
            errors.append(message.text)

    context.on("weberror", lambda error: errors.append(str(error.error)))
    context.on("console", listen)
    yield context
    context.close()
    assert errors == []


@pytest.fixture
def page(context: BrowserContext, address: str) -> Page:
    """The page with a copy of the first demo plan that no other test touches."""
    page = context.new_page()
    open_plan(page, address, copied_plan(address, DRY_K4))
    return page
