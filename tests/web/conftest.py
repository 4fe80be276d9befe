"""One browser and one application for all browser tests; a plan of its own for each test."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Page,
    WebError,
    expect,
)

from browser import chromium
from serving import running_server
from web.pages import DRY_K4, PATIENCE_MS, copied_plan, forget, open_plan

# A machine that does several things at once answers late; nothing here is timed.
expect.set_options(timeout=PATIENCE_MS)

#: Refusals and conflicts are answered on purpose; the browser logs them by itself.
MEANT = ("404", "409", "422")


@pytest.fixture(scope="session")
def address() -> Iterator[str]:
    with running_server(solvers=0) as address:
        yield address


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as browser:
        yield browser


@pytest.fixture(scope="session")
def profile(browser: Browser, address: str) -> BrowserContext:
    """One profile for all tests of a worker, so that the page's files are fetched only once."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    context.set_default_timeout(PATIENCE_MS)
    context.grant_permissions(["clipboard-read", "clipboard-write"], origin=address)
    # The first page stays open: through it the browser is made to forget.
    context.new_page().goto(f"{address}mark.svg")
    return context


@pytest.fixture
def context(profile: BrowserContext) -> Iterator[BrowserContext]:
    """A profile that remembers nothing but that no bands are wanted.

    Fails on any script error in any of its pages.
    """
    errors: list[str] = []

    def listen(message: ConsoleMessage) -> None:
        if message.type == "error" and not any(status in message.text for status in MEANT):
            errors.append(f"{message.text} ({message.location['url']})")

    def trouble(error: WebError) -> None:
        errors.append(str(error.error))

    forget(profile.pages[0])
    profile.on("weberror", trouble)
    profile.on("console", listen)
    yield profile
    for page in profile.pages[1:]:
        page.close()
    profile.remove_listener("weberror", trouble)
    profile.remove_listener("console", listen)
    assert errors == []


@pytest.fixture
def page(context: BrowserContext, address: str) -> Page:
    """The page with a copy of the first demo plan that no other test touches."""
    page = context.new_page()
    open_plan(page, address, copied_plan(address, DRY_K4))
    return page
