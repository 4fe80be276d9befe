"""Debian's Chromium, as the tests and the screenshots drive it."""

from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, sync_playwright

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # Its own surface and models, which nobody sees here, otherwise keep a processor busy.
    "--disable-features=PreloadTopChromeWebUI,OptimizationGuideModelDownloading,Translate",
]


@contextmanager
def chromium() -> Iterator[Browser]:
    """A headless Chromium with a fresh profile."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:
            yield browser
        finally:
            browser.close()
