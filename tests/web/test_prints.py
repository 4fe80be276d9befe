"""Every view that prints: pages with its text and figures, one page where it says one."""

import io

import pytest
from playwright.sync_api import BrowserContext, Page, expect
from pypdf import PdfReader

from neapfrost.demo.plans import composed
from web.pages import DRY_K4, demo_plans_of, lap_seconds, open_plan

#: Sheets of paper, by their names for a stylesheet.
PAPERS = ("A4", "Letter")


def printed(page: Page, paper: str) -> list[str]:
    """The text of each page that a view prints, in black and white as any printer may."""
    pdf = page.pdf(format=paper, print_background=False)
    return [sheet.extract_text() for sheet in PdfReader(io.BytesIO(pdf)).pages]


def squeezed(text: str) -> str:
    """A text without its spaces, which a PDF places as it likes."""
    return "".join(text.split())


@pytest.fixture
def opened(context: BrowserContext, address: str) -> Page:
    page = context.new_page()
    open_plan(page, address, demo_plans_of(address)[DRY_K4])
    return page


def at(page: Page, address: str, place: str) -> None:
    number = page.url.split("/plan/")[1].split("/")[0]
    page.goto(f"{address}#/plan/{number}/{place}")


@pytest.mark.parametrize("paper", PAPERS)
def test_the_lap_prints_on_one_page_with_every_corner(opened: Page, paper: str) -> None:
    lap_s = lap_seconds(opened)
    pages = printed(opened, paper)
    assert len(pages) == 1
    text = squeezed(pages[0])
    assert f"{int(lap_s // 60)}:{lap_s % 60:06.3f}" in text
    for segment in composed("k4-dry").circuit.segments or []:
        if segment.kind == "corner":
            assert squeezed(segment.name) in text


@pytest.mark.parametrize("paper", PAPERS)
def test_the_brief_prints_on_one_page(opened: Page, address: str, paper: str) -> None:
    at(opened, address, "brief")
    lap = opened.get_by_test_id("brief").locator(".time").first
    lap.wait_for()
    shown = lap.inner_text()
    pages = printed(opened, paper)
    assert len(pages) == 1
    text = squeezed(pages[0])
    assert squeezed(shown) in text
    assert "licensed" in text
    for name in ("Sluice", "Bittern", "Icehouse"):
        assert name in text


@pytest.mark.parametrize("paper", PAPERS)
def test_the_race_prints_its_stints_and_no_empty_page(
    opened: Page, address: str, paper: str
) -> None:
    at(opened, address, "race/sheet")
    stints = opened.get_by_test_id("stints").first
    stints.wait_for()
    expect(opened.get_by_test_id("race-said")).to_contain_text("laps")
    row = [one.inner_text() for one in stints.locator("tbody tr").first.locator("th, td").all()]
    pages = printed(opened, paper)
    assert all(len(squeezed(page)) > 40 for page in pages)
    text = squeezed("".join(pages))
    for cell in row:
        assert squeezed(cell) in text


def test_the_debrief_prints_a_page_for_each_run(opened: Page, address: str) -> None:
    at(opened, address, "logbook/debrief")
    runs = opened.get_by_test_id("debrief").locator("article")
    runs.first.wait_for()
    names = runs.locator("h2, h3").all_inner_texts()
    assert names
    for paper in PAPERS:
        pages = printed(opened, paper)
        assert len(pages) == len(names), paper
        for name, page in zip(names, pages, strict=True):
            assert squeezed(name) in squeezed(page)


def test_what_is_still_unsure_prints(opened: Page, address: str) -> None:
    at(opened, address, "drill/before")
    sheet = opened.get_by_test_id("unsure")
    sheet.wait_for()
    said = sheet.inner_text()
    for paper in PAPERS:
        pages = printed(opened, paper)
        assert all(len(squeezed(page)) > 40 for page in pages)
        assert squeezed(said.splitlines()[0]) in squeezed("".join(pages))
