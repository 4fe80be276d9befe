"""Every text of every view: plain words, short heads of tables, and one system of units."""

import re

import httpx
from playwright.sync_api import BrowserContext, Page

from web.pages import DRY_K4, demo_plans_of, open_plan
from web.views import ViewTexts, texts_here, view_texts

#: A circuit with lanes, an oval, has what others have not.
OVAL = "Turnstone Saloon, Marram Bowl"
#: What no engineer would say; each was said once.
NEVER_SAID = re.compile(
    r"\bis told\b|\botherwise\b|\banew\b|\bof itself\b|\bheld against\b|\blaid along\b"
    r"|\bdrive it again\b|\bone may\b|\bhim\b|\b1 runs\b|\b1 laps\b|\btold apart\b|\bin hand\b"
    r"|\bnobody\b|\blearned\b|\bslow phase\b|\bat the slowest\b|\bslowest point\b|undefined|NaN",
    re.IGNORECASE,
)
#: A field of a document by its path: "car.gearbox.ratios.4", "peak_power_kw".
FIELD = re.compile(r"\b[a-z]+(?:_[a-z0-9]+)+\b|\b(?:car|circuit|conditions|plan)\.[a-z]+\b")
#: What looks like a field and is a file's name or a command.
NO_FIELDS = ("neapfrost standin", ".json", ".csv", ".md", ".svg")
HEAD_MOST = 28
#: What carries its own reference: a standard's air, a rate for so many degrees; own words.
REFERENCES = (
    *("99 kPa of dry air at 25 °C", "% for 10 °C", "a road of 20 °C", "or 0.31 m"),
    *("(not modelled)", "engine of about 200 kW"),
)
METRIC = re.compile(
    r"(?<![\w/])[-+−±]?\d[\d.,]*\s*(km/h|km|°C|kg|kW|Nm|kN|hPa|bar|l|litres?|m|m/s)(?![\w/²³^])"
    r"|\((km/h|kg|kW|Nm|hPa|m|m/s|°C|l)\)|\b(km/h|kg|kW|Nm|hPa)\b(?![ /]m²|/)"
)


def wrong_words(view: ViewTexts) -> list[str]:
    """Lines that nobody would say, fields of documents, and heads of tables that are too long."""
    found = [line for line in view.lines if NEVER_SAID.search(line)]
    for line in view.lines:
        if FIELD.search(line) and not any(known in line for known in NO_FIELDS):
            found.append(line)
    # Where plans stand side by side their own names are the heads.
    if "trade/event" not in view.place:
        found += [head for head in view.heads if len(head) > HEAD_MOST]
    return [f"{view.place}: {line}" for line in found]


def test_views_speak_as_engineers_do(context: BrowserContext, address: str) -> None:
    """The views that only an oval fills, in metric; all others are walked by the test below."""
    page = context.new_page()
    number = demo_plans_of(address)[OVAL]
    open_plan(page, address, number)
    found = []
    for place in ("circuit/sheet", "circuit/lanes", "race/lanes", "race/water", "lap"):
        page.goto(f"{address}#/plan/{number}/{place}")
        view = texts_here(page)
        assert place.split("/")[0] in view.place
        found += wrong_words(view)
    assert found == []


def test_a_reader_of_miles_and_feet_meets_no_kilometre(
    context: BrowserContext, address: str
) -> None:
    page = in_feet(context, address)
    open_plan(page, address, demo_plans_of(address)[DRY_K4])
    found = []
    for view in view_texts(page):
        found += wrong_words(view)
        found += [f"{view.place}: {line}" for line in metric_lines(view)]
    assert found == []


def in_feet(context: BrowserContext, address: str) -> Page:
    page = context.new_page()
    page.goto(f"{address}mark.svg")
    page.evaluate(
        "localStorage.setItem('neapfrost-units', 'feet');"
        "localStorage.setItem('neapfrost-temperature', 'fahrenheit')"
    )
    return page


def metric_lines(view: ViewTexts) -> list[str]:
    """Lines with metric units in them, but for references."""
    if "/working" in view.place:
        return []  # the arithmetic is shown in SI, as it is done
    return [
        line
        for line in view.lines
        if METRIC.search(line) and not any(known in line for known in REFERENCES)
    ]


def test_exports_and_refusals_speak_alike(address: str) -> None:
    number = demo_plans_of(address)[DRY_K4]
    plan = f"{address}api/plans/{number}"
    exports = [
        httpx.get(f"{plan}/{path}", timeout=120)
        for path in ("brief/md", "race.md", "race.csv", "corners", "document")
    ]
    refused = [
        httpx.get(f"{plan}/result", params={"car": 99}, timeout=120),
        httpx.post(f"{plan}/changes", json={}, timeout=120),
        httpx.post(f"{plan}/logs", params={"name": "a.zip"}, content=b"PK\x03\x04x", timeout=120),
        httpx.post(f"{address}api/plans/import", content=b"{", timeout=120),
        httpx.get(f"{address}api/plans/99999", timeout=120),
        httpx.get(f"{address}api/nothing", timeout=120),
    ]
    assert [one.status_code for one in exports] == [200] * len(exports)
    assert [one.status_code // 100 for one in refused] == [4] * len(refused)
    for answer in (*exports, *refused):
        assert answer.text.strip()
        for line in answer.text.splitlines():
            assert not NEVER_SAID.search(line), f"{answer.url}: {line}"
