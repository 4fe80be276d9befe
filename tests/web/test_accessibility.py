"""Contrast of the look's colours, and the page under an accessibility checker in both themes."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser

from browser import chromium
from serving import running_server

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


@pytest.fixture(scope="module")
def browser() -> Iterator[Browser]:
    with chromium() as browser:
        yield browser


@pytest.fixture(scope="module")
def address() -> Iterator[str]:
    with running_server() as address:
        yield address


@pytest.mark.parametrize("width", [1280, 390])
@pytest.mark.parametrize("night", [False, True])
def test_the_checker_finds_no_fault(
    browser: Browser, address: str, night: bool, width: int
) -> None:
    # The page's own policy lets no foreign script in, so the checker needs it lifted.
    context = browser.new_context(viewport={"width": width, "height": 800}, bypass_csp=True)
    page = context.new_page()
    page.goto(address)
    page.get_by_test_id("speed-curve").wait_for()
    if night:
        page.keyboard.press("n")
    page.keyboard.press("3")
    page.add_script_tag(path=AXE)
    found = page.evaluate("axe.run({ resultTypes: ['violations'] })")
    faults = [
        f"{fault['id']} ({fault['impact']}): {fault['nodes'][0]['html'][:120]}"
        for fault in found["violations"]
        if fault["impact"] in ("serious", "critical", "moderate")
    ]
    assert faults == []
    context.close()
