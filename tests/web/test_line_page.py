"""The Line view driven as a person drives it: lines found, compared, chosen, biased; files in."""

import json
import re
from pathlib import Path

import httpx
import numpy as np
import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from neapfrost.demo.plans import demo_plan
from neapfrost.services.maps.exports import exported
from web.pages import (
    SAMPHIRE,
    copied_plan,
    drawn,
    figure,
    fits,
    frames,
    imported,
    kept,
    lap_seconds,
    notice,
    open_plan,
    plan_number,
    sheet,
)

SEARCH_MS = 60_000


@pytest.fixture
def line(context: BrowserContext, address: str) -> Page:
    """The Line view of a copy of the demo road."""
    page = context.new_page()
    open_plan(page, address, copied_plan(address, SAMPHIRE))
    page.get_by_role("link", name="Line", exact=True).click()
    expect(page.get_by_test_id("road-map")).to_be_visible()
    return page


def prices(page: Page) -> Locator:
    return page.get_by_test_id("line-prices").locator("tbody tr")


def test_lines_are_found_compared_and_one_is_driven(line: Page) -> None:
    expect(line.get_by_text("Calculated for this car on this road")).to_be_visible()
    expect(prices(line)).to_have_count(2)  # the line driven, and its radii
    line.get_by_role("button", name="Calculate and compare all").click()
    expect(prices(line)).to_have_count(6, timeout=SEARCH_MS)
    expect(line.get_by_role("button", name="Calculate and compare all")).to_be_visible(
        timeout=SEARCH_MS
    )
    widest = prices(line).filter(has_text="Widest arcs")
    assert widest.locator("td").nth(1).inner_text().startswith("+")
    widest.get_by_role("button", name="Widest arcs").click()
    expect(line.locator("[data-testid=road-map] path[data-line=widest]")).to_have_count(1)
    widest.get_by_role("button", name="Use").click()
    expect(line.get_by_role("heading", name="Widest arcs")).to_be_visible()
    line.get_by_role("button", name="Undo").click()
    expect(line.get_by_role("heading", name="Fastest")).to_be_visible()


def test_a_changed_car_marks_the_line_and_it_can_be_renewed(line: Page) -> None:
    grip = figure(line, "Grip (μ)")
    grip.fill("1.3")
    grip.press("Enter")
    expect(line.get_by_text("Calculated before the vehicle changed")).to_be_visible()
    line.get_by_role("link", name="Lap", exact=True).click()
    expect(line.get_by_text("calculated before the vehicle changed")).to_be_visible()
    line.get_by_role("button", name="Fastest line", exact=True).click()
    expect(line.get_by_role("button", name="Calculate fastest")).to_be_enabled()


def test_a_corner_is_shown_close_and_biased(line: Page) -> None:
    road = line.get_by_test_id("road-map")
    whole = float(road.get_attribute("data-scale") or 0)
    line.keyboard.press("4")
    expect(line.get_by_role("heading", name="4 Windpump")).to_be_visible()
    assert float(road.get_attribute("data-scale") or 0) > 3 * whole
    line.get_by_role("button", name=re.compile("Set.*no earlier")).click()
    wish = figure(line, "Apex no earlier than (% of the angle)")
    expect(wish).to_have_value("60")
    expect(line.get_by_text("Calculated before its constraints changed")).to_be_visible()
    wish.fill("180")
    wish.press("Enter")
    expect(line.get_by_role("alert")).to_contain_text("100")
    wish.press("Escape")
    line.get_by_role("button", name=re.compile("Clear.*no earlier")).click()
    expect(line.get_by_text("Calculated for this car on this road")).to_be_visible()


def test_a_line_is_held_to_a_place(line: Page) -> None:
    line.keyboard.press("2")
    line.get_by_role("button", name="Fix the line at a place").click()
    offset = figure(line, "Left of the middle (m)")
    expect(offset).to_be_visible()
    offset.fill("0")
    offset.press("Enter")
    expect(line.get_by_text("Calculated before its constraints changed")).to_be_visible()
    expect(offset).to_have_value("0")
    line.get_by_role("button", name=re.compile("Clear.*of the line at")).click()
    expect(line.get_by_text("Calculated for this car on this road")).to_be_visible()


def test_the_map_moves_by_keys_by_wheel_and_by_buttons(line: Page) -> None:
    road = line.get_by_test_id("road-map")

    def scale() -> float:
        return float(road.get_attribute("data-scale") or 0)

    whole = scale()
    road.focus()
    line.keyboard.press("+")
    assert scale() > whole
    line.keyboard.press("ArrowLeft")
    line.keyboard.press("0")
    assert scale() == pytest.approx(whole)
    line.get_by_role("button", name="Closer").click()
    assert scale() > whole
    line.get_by_role("button", name="whole lap").click()
    box = road.bounding_box()
    assert box is not None
    line.mouse.move(box["x"] + 300, box["y"] + 100)
    line.mouse.wheel(0, -200)
    frames(line)
    assert scale() > whole


def test_the_view_fits_a_desk_and_a_phone(line: Page) -> None:
    fits(line)
    line.set_viewport_size({"width": 390, "height": 844})
    expect(line.get_by_test_id("line-prices")).to_be_visible()
    fits(line)


def test_a_driven_circuit_offers_to_become_a_road(page: Page) -> None:
    page.get_by_role("link", name="Line", exact=True).click()
    page.get_by_role("button", name="Use the middle of the road").click()
    expect(page.get_by_role("heading", name="Middle of the road")).to_be_visible()
    expect(page.get_by_role("button", name="Calculate fastest")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("A line needs the road")).to_be_visible()


def test_edges_and_notes_are_edited_beside_the_circuit(line: Page) -> None:
    line.get_by_role("link", name="Circuit", exact=True).click()
    line.get_by_role("tab", name="Edges").click()
    edges = line.get_by_test_id("edges").locator("tbody tr")
    expect(edges).to_have_count(8)
    line.get_by_role("button", name="Add kerb inside").click()
    expect(edges).to_have_count(9)
    line.get_by_label("Use of Kerb 9").select_option("straddle")
    expect(line.get_by_label("Use of Kerb 9")).to_have_value("straddle")
    line.get_by_role("button", name="Remove Kerb 9").click()
    expect(edges).to_have_count(8)
    line.get_by_role("tab", name="Notes").click()
    note = line.get_by_label("Note on Sea Holly")
    note.fill("look at the far mast")
    note.press("Tab")
    kept(line)
    line.reload()
    line.get_by_role("tab", name="Notes").click()
    expect(line.get_by_label("Note on Sea Holly")).to_have_value("look at the far mast")


def a_log(tmp_path: Path) -> Path:
    """A track log of an unknown circuit: the demo's small one, as its road would be logged."""
    plan = demo_plan("dunlin-heath")
    assert plan is not None
    path = tmp_path / "unknown.gpx"
    path.write_text(exported(plan.document, "gpx"))
    return path


def test_from_a_track_log_to_a_predicted_lap(page: Page, tmp_path: Path) -> None:
    page.get_by_role("link", name="Circuit", exact=True).click()
    page.get_by_role("button", name="Import a circuit").click()
    sheet(page).locator("input[type=file]").set_input_files(a_log(tmp_path))
    expect(page.get_by_test_id("import-map")).to_be_visible(timeout=SEARCH_MS)
    expect(sheet(page)).to_contain_text("One closed lap")
    found = sheet(page).get_by_role("button", name=re.compile("^split "))
    expect(found).to_have_count(9)
    sheet(page).get_by_role("button", name="split T4").click()
    expect(found).to_have_count(10, timeout=SEARCH_MS)
    sheet(page).get_by_label("Name of corner 4").fill("Far End")
    sheet(page).get_by_label("Name of corner 4").press("Tab")
    expect(sheet(page).get_by_role("button", name="split Far End")).to_be_visible()
    sheet(page).get_by_label("Name", exact=True).fill("Unknown Ring")
    sheet(page).get_by_role("button", name="Save with boards and a plan").click()
    expect(page.get_by_test_id("plan-name")).to_contain_text("at Unknown Ring", timeout=SEARCH_MS)
    # Its line is being looked for; until then the middle of the road is driven.
    page.get_by_role("button", name="Stop, keep the best so far").click()
    page.get_by_role("link", name="Lap", exact=True).click()
    drawn(page)
    assert 30 < lap_seconds(page) < 80


def test_columns_without_names_are_asked_about(page: Page, tmp_path: Path) -> None:
    angle = np.linspace(0.0, 2.0 * np.pi, 300)[:-1]
    file = tmp_path / "points.csv"
    lines = [f"{i};{300 * np.cos(a):.2f};{220 * np.sin(a):.2f}" for i, a in enumerate(angle)]
    file.write_text("\n".join(lines).replace(".", ","))
    page.get_by_role("link", name="Circuit", exact=True).click()
    page.get_by_role("button", name="Import a circuit").click()
    sheet(page).locator("input[type=file]").set_input_files(file)
    expect(sheet(page).get_by_text("The column names are not recognised")).to_be_visible(
        timeout=SEARCH_MS
    )
    sheet(page).get_by_label("Meaning of column 1").select_option("")
    sheet(page).get_by_label("Meaning of column 2").select_option("x")
    expect(sheet(page).get_by_label("Meaning of column 2")).to_have_value("x", timeout=SEARCH_MS)
    sheet(page).get_by_label("Meaning of column 3").select_option("y")
    expect(sheet(page).get_by_text("The column names are not recognised")).to_have_count(
        0, timeout=SEARCH_MS
    )
    expect(sheet(page)).to_contain_text("One closed lap", timeout=SEARCH_MS)


def test_a_bad_file_is_refused_where_it_was_chosen(page: Page, tmp_path: Path) -> None:
    file = tmp_path / "bad.gpx"
    file.write_text("<gpx>\n <trkpt lat=1/></gpx>")
    page.get_by_role("link", name="Circuit", exact=True).click()
    page.get_by_role("button", name="Import a circuit").click()
    sheet(page).locator("input[type=file]").set_input_files(file)
    expect(sheet(page).get_by_role("alert")).to_contain_text("line 2, column")


def test_the_road_goes_out_in_open_formats(line: Page, address: str) -> None:
    line.get_by_role("link", name="Circuit", exact=True).click()
    with line.expect_download() as download:
        line.get_by_role("link", name="GeoJSON").click()
    assert re.fullmatch(r"samphire-ring[-a-z0-9]*\.geojson", download.value.suggested_filename)
    document = json.loads(Path(download.value.path()).read_text())
    assert document["features"][0]["properties"]["role"] == "centreline"
    number = plan_number(line)
    for format_, media in (("gpx", "gpx+xml"), ("svg", "svg+xml"), ("points.csv", "text/csv")):
        reply = httpx.get(f"{address}api/plans/{number}/road.{format_}", timeout=60)
        assert media in reply.headers["content-type"]
    expect(notice(line)).to_have_count(0)


@pytest.mark.parametrize(
    ("ended", "remark"),
    [
        ("settled", None),
        ("best_so_far", "best so far"),
        ("known_line", "a line known before"),
    ],
)
def test_a_line_that_may_not_be_the_fastest_is_told_where_it_is_driven(
    context: BrowserContext, address: str, ended: str, remark: str | None
) -> None:
    demo = demo_plan("garganey-samphire")
    assert demo is not None
    document = demo.document.model_dump(mode="json")
    document["line"]["computed"]["ended"] = ended
    document["name"] = f"Line that ended {ended}"
    page = context.new_page()
    open_plan(page, address, imported(address, document))
    expect(page.get_by_test_id("plan-name")).to_have_text(document["name"])
    told = page.get_by_text("a quicker one may exist")
    expect(told).to_have_count(1 if remark else 0)
    page.get_by_role("link", name="Line", exact=True).click()
    fastest = page.get_by_test_id("line-prices").get_by_role("row").filter(has_text="Fastest")
    expect(fastest).to_have_count(1)
    for word in ("best so far", "a line known before"):
        expect(fastest.get_by_text(word)).to_have_count(1 if word == remark else 0)
