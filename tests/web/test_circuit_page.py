"""The Circuit view in a real browser: the sheet and the map, closure, radius helpers, two tabs."""

import re
import time

import httpx
import pytest
from playwright.sync_api import BrowserContext, Page, expect

from web.pages import (
    DRY_K4,
    copied_plan,
    escape,
    figure,
    fits,
    heads,
    kept,
    lap_seconds,
    notice,
    open_plan,
    plan_number,
    put,
    sheet,
)


@pytest.fixture
def circuit(page: Page) -> Page:
    """The page turned to the circuit of its own plan."""
    page.get_by_role("link", name="Circuit", exact=True).click()
    expect(page.get_by_test_id("closure")).to_contain_text("misses the start")
    return page


def rows(page: Page) -> list[str]:
    found: list[str] = (
        page.get_by_test_id("segment-sheet")
        .locator("tbody tr")
        .evaluate_all("rows => rows.map(row => row.querySelector('th input')?.value ?? 'straight')")
    )
    return found


def test_a_length_moves_map_closure_and_lap(circuit: Page) -> None:
    before = circuit.locator(".lap .figure").first.inner_text()
    put(circuit, "Length of Straight after Eel Trap (m)", "250")
    expect(circuit.locator(".lap .figure").first).not_to_have_text(before)
    closure = circuit.get_by_test_id("closure")
    expect(closure).to_contain_text(re.compile(r"1[89]\.\d\d m"))
    escape(circuit)
    circuit.keyboard.press("Control+z")
    expect(circuit.locator(".lap .figure").first).to_have_text(before)
    expect(closure).to_contain_text("2.01 m")


def test_the_ring_is_closed_after_its_changes_were_shown(circuit: Page) -> None:
    put(circuit, "Length of Straight after Eel Trap (m)", "240")
    expect(circuit.get_by_test_id("closure")).to_contain_text(re.compile(r"\b(8|9|1\d)\.\d\d m"))
    circuit.get_by_role("button", name="Show what would close it").click()
    table = sheet(circuit).locator("tbody tr")
    expect(table.first).to_contain_text("°")
    moved = [
        float(text.replace("−", "-")) for text in table.locator("td:last-child").all_inner_texts()
    ]
    assert len(moved) > 20
    assert moved == sorted(moved, key=abs, reverse=True)
    sheet(circuit).get_by_role("button", name="Close the circuit").click()
    expect(circuit.get_by_test_id("closure")).to_contain_text("The circuit closes")
    expect(notice(circuit)).to_contain_text("circuit closes.")
    notice(circuit).get_by_role("button", name="Undo").click()
    expect(circuit.get_by_test_id("closure")).to_contain_text("misses the start")
    expect(figure(circuit, "Length of Straight after Eel Trap (m)")).to_have_value("240")


def test_a_ring_too_far_off_names_what_looks_wrong(circuit: Page) -> None:
    put(circuit, "Length of Straight after Eel Trap (m)", "1200")
    circuit.get_by_role("button", name="Show what would close it").click()
    expect(sheet(circuit).get_by_role("alert")).to_contain_text("more than 3 standard deviations")
    expect(sheet(circuit).get_by_role("button", name="Close the circuit")).to_be_disabled()
    expect(sheet(circuit).locator("tr.far").first).to_contain_text("too far")


def test_a_figure_known_for_certain_is_locked(circuit: Page) -> None:
    put(circuit, "Length of Straight after Eel Trap (m)", "240")
    circuit.get_by_role("tab", name="Uncertainties").click()
    unknown = "Uncertainty of the length of Straight after Eel Trap"
    circuit.get_by_role("button", name=f"{unknown}: 3").click()
    put(circuit, f"{unknown} (%)", "0")
    circuit.get_by_role("button", name="Show what would close it").click()
    expect(sheet(circuit).locator("tbody tr").nth(10)).to_be_visible()
    lengths = sheet(circuit).locator("tbody tr", has_text="Straight after Eel Trap")
    expect(lengths.filter(has_text="Length")).to_have_count(0)


def test_parts_are_put_in_split_taken_out_and_reversed(circuit: Page) -> None:
    start = rows(circuit)
    figure(circuit, "Radius of Sluice (m)").focus()
    circuit.get_by_role("button", name="Add left", exact=True).click()
    kept(circuit)
    assert rows(circuit) == [*start[:2], "T12", *start[2:]]
    expect(circuit.get_by_role("toolbar")).to_contain_text("After T12")
    circuit.get_by_role("button", name="Remove this part").click()
    expect(circuit.get_by_test_id("segment-sheet").locator("tbody tr")).to_have_count(len(start))
    assert rows(circuit) == start
    circuit.get_by_role("button", name="Reverse direction").click()
    expect(circuit.get_by_label("Name of corner 1", exact=True)).to_have_value("Icehouse")
    assert rows(circuit) == start[::-1]
    for _ in range(3):
        circuit.keyboard.press("Control+z")
    expect(circuit.get_by_label("Name of corner 1", exact=True)).to_have_value("Sluice")
    expect(circuit.get_by_role("button", name="Undo")).to_be_disabled()


def test_boards_are_put_moved_and_taken_away_beside_the_road(circuit: Page) -> None:
    circuit.get_by_role("tab", name="References").click()
    table = circuit.get_by_test_id("roadside")
    start = table.locator("tbody tr").count()
    circuit.keyboard.press("7")
    circuit.get_by_role("button", name="add a board").click()
    expect(table.locator("tbody tr")).to_have_count(start + 1)
    kept(circuit)
    expect(circuit.get_by_role("spinbutton", name="100 before Bittern (m)")).to_have_count(2)
    field = figure(circuit, "150 before Bittern (m)")
    expect(field).to_have_value("150")
    field.fill("140")
    field.press("Enter")
    kept(circuit)
    expect(field).to_have_value("140")
    circuit.keyboard.press("h")
    expect(sheet(circuit).locator("tbody tr").first).to_contain_text("150 of Bittern now at")
    escape(circuit)
    away = circuit.get_by_role("button", name="Remove 150 of Bittern")
    away.click()
    expect(away).to_have_count(0)
    circuit.get_by_role("button", name="150, 100 and 50 before Bittern").click()
    expect(figure(circuit, "150 before Bittern (m)")).to_have_value("150")
    put(circuit, "Sector line 1 at (m)", "1400")
    circuit.get_by_role("link", name="Lap", exact=True).click()
    expect(circuit.get_by_label("Predicted lap")).to_contain_text("Sector 3")


def test_facts_of_the_whole_are_changed_where_they_stand(circuit: Page) -> None:
    circuit.get_by_role("tab", name="Circuit settings").click()
    before = lap_of(circuit)
    put(circuit, "Bearing at the start (°)", "260")
    assert lap_of(circuit) != before
    field = figure(circuit, "Altitude (m)")
    field.fill("90000")
    field.press("Enter")
    expect(circuit.get_by_role("alert")).to_contain_text(
        "90000 m was given; 6000 m or less is expected"
    )
    assert (
        circuit.get_by_role("tab", name="Circuit settings").get_attribute("aria-selected") == "true"
    )


def test_a_corner_is_named_and_turned_where_it_stands(circuit: Page) -> None:
    name = circuit.get_by_label("Name of corner 4")
    name.fill("Old Eel Trap")
    name.press("Enter")
    circuit.keyboard.press("Tab")
    expect(circuit.get_by_test_id("large-map")).to_contain_text("Old Eel Trap")
    circuit.get_by_role("button", name="Old Eel Trap turns right").click()
    expect(circuit.get_by_role("button", name="Old Eel Trap turns left")).to_be_visible()
    circuit.get_by_role("link", name="Lap", exact=True).click()
    expect(heads(circuit).nth(3)).to_contain_text("Old Eel Trap")


def test_a_corner_selected_on_the_map_is_selected_in_the_sheet(circuit: Page) -> None:
    circuit.get_by_test_id("large-map").locator("[data-number='6']").click()
    row = circuit.get_by_test_id("segment-sheet").locator("tr.chosen")
    expect(row.locator("th input")).to_have_value("Bittern")
    figure(circuit, "Radius of Sluice (m)").focus()
    expect(row.locator("th input")).to_have_value("Sluice")
    mark = circuit.get_by_test_id("large-map").locator("[data-number='0']")
    expect(mark).to_have_attribute("fill", "var(--paper)")


def test_a_radius_is_measured_explained_and_used(circuit: Page) -> None:
    figure(circuit, "Radius of Eel Trap (m)").focus()
    circuit.get_by_role("button", name="Measure radius").click()
    sheet(circuit).get_by_role("textbox", name="Chord").fill("30")
    sheet(circuit).get_by_role("textbox", name="Height over its middle").fill("6")
    found = circuit.get_by_test_id("measured-radius")
    expect(found).to_contain_text("21.8")
    expect(found).to_contain_text("R = c²/(8h) + h/2")
    expect(found).to_contain_text("1 m more of height is −2.62 m of radius")
    sheet(circuit).get_by_role("radio", name="Speed and lateral g").check()
    sheet(circuit).get_by_role("textbox", name="Speed").fill("64")
    sheet(circuit).get_by_role("textbox", name="Lateral acceleration").fill("-1")
    expect(sheet(circuit).get_by_role("alert")).to_contain_text("the path is no curve")
    sheet(circuit).get_by_role("textbox", name="Lateral acceleration").fill("1,4")
    expect(found).to_contain_text("23.0")
    sheet(circuit).get_by_role("button", name="Use it for Eel Trap").click()
    expect(figure(circuit, "Radius of Eel Trap (m)")).to_have_value("23")


def test_an_impossible_figure_is_refused_and_taken_back(circuit: Page) -> None:
    field = figure(circuit, "Angle of Sluice (°)")
    field.fill("400")
    field.press("Enter")
    expect(circuit.get_by_role("alert")).to_contain_text("360 or less is expected")
    field.press("Escape")
    expect(field).to_have_value("100")
    assert lap_of(circuit) > 90


def lap_of(page: Page) -> float:
    minutes, seconds = page.locator(".lap .figure").first.inner_text().split(":")
    return 60 * int(minutes) + float(seconds)


def test_an_open_course_need_not_close(page: Page, address: str) -> None:
    open_plan(page, address, copied_plan(address, "Dunlin 16, Tarn Edge, standing start"))
    page.get_by_role("link", name="Circuit", exact=True).click()
    expect(page.get_by_test_id("closure")).to_contain_text("need not close")


def test_an_edit_that_meets_another_tab_is_merged(context: BrowserContext, address: str) -> None:
    number = copied_plan(address, DRY_K4)
    left, right = context.new_page(), context.new_page()
    for page in (left, right):
        open_plan(page, address, number)
    put(left, "Grip (μ)", "1.47")
    right.get_by_role("link", name="Circuit", exact=True).click()
    field = figure(right, "Length of Straight after Sluice (m)")
    field.fill("120")
    field.press("Enter")
    dialog = right.get_by_role("dialog", name="Changed elsewhere")
    expect(dialog).to_contain_text("Grip: 1.52 to 1.47")
    dialog.get_by_role("button", name="Save both").click()
    expect(dialog).not_to_be_visible()
    kept(right)
    expect(field).to_have_value("120")
    expect(figure(right, "Grip (μ)")).to_have_value("1.47")


def test_the_view_is_remembered(circuit: Page) -> None:
    circuit.reload()
    expect(circuit.get_by_test_id("segment-sheet")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_text("A line needs the road")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_test_id("car-figures")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_test_id("session-roll")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_test_id("speed-curve")).to_be_visible()
    assert lap_seconds(circuit) > 90
    circuit.keyboard.press("v")
    expect(circuit.get_by_test_id("sweep-said")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_role("tablist", name="Parts of the race")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_test_id("brief")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_role("tablist", name="Parts of the drill")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_role("region", name="Logbook")).to_be_visible()
    circuit.keyboard.press("v")
    expect(circuit.get_by_test_id("segment-sheet")).to_be_visible()


def test_the_view_fits_a_desk_and_a_phone(circuit: Page) -> None:
    fits(circuit)
    assert circuit.evaluate("document.documentElement.scrollHeight") <= 800
    circuit.set_viewport_size({"width": 390, "height": 844})
    expect(circuit.get_by_test_id("closure")).to_be_visible()
    fits(circuit)


def test_a_figure_just_typed_is_kept_when_the_page_is_left(circuit: Page, address: str) -> None:
    field = circuit.get_by_test_id("segment-sheet").get_by_role("spinbutton").first
    before = field.input_value()
    field.focus()
    circuit.keyboard.press("ArrowUp")
    expect(circuit.locator("header .state")).to_have_text("not saved yet")
    number = plan_number(circuit)
    circuit.close()
    for _ in range(40):
        body = httpx.get(f"{address}api/plans/{number}", timeout=60).json()
        if body["undo"]:
            break
        time.sleep(0.1)
    assert body["undo"]
    assert str(before) in body["undo"]


def test_undo_in_a_figure_takes_back_that_figure(circuit: Page) -> None:
    field = circuit.get_by_test_id("segment-sheet").get_by_role("spinbutton").first
    before = field.input_value()
    field.focus()
    circuit.keyboard.press("ArrowUp")
    circuit.keyboard.press("Control+z")
    expect(field).to_have_value(before)
    expect(circuit.get_by_role("button", name="Redo")).to_be_enabled()


@pytest.mark.parametrize(("handle", "said"), [("apex", "dragged"), ("joint", "moved")])
def test_a_corner_is_dragged_on_the_map(circuit: Page, handle: str, said: str) -> None:
    circuit.keyboard.press("5")
    grip = circuit.locator(f"[data-testid=large-map] [data-handle={handle}]")
    expect(grip).to_be_visible()
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    circuit.mouse.move(x, y)
    circuit.mouse.down()
    for step in range(1, 4):
        circuit.mouse.move(x - step, y - step)
    circuit.mouse.up()
    kept(circuit)
    undo = circuit.get_by_role("button", name="Undo")
    expect(undo).to_have_attribute("title", re.compile(f"Osier.*{said}"))


def test_heights_are_given_by_points(circuit: Page) -> None:
    circuit.get_by_role("tab", name="Heights").click()
    expect(circuit.get_by_test_id("profile")).to_be_visible()
    circuit.get_by_role("button", name="Enter heights as points").click()
    heights = circuit.get_by_test_id("heights").locator("li")
    expect(heights).to_have_count(40)
    before = lap_seconds_of(circuit)
    put(circuit, "Height 17 (m)", "30")
    assert lap_seconds_of(circuit) != before
    circuit.get_by_role("button", name="add a point").click()
    expect(heights).to_have_count(41)
    circuit.get_by_role("button", name="Use grades instead").click()
    expect(heights).to_have_count(0)


def lap_seconds_of(circuit: Page) -> str:
    return circuit.locator(".lap .figure").first.inner_text()


def pulled(page: Page, selector: str, by: tuple[int, int]) -> None:
    """Take hold of something on the map and Discard elsewhere."""
    box = page.locator(selector).first.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + by[0] / 2, y + by[1] / 2)
    page.mouse.move(x + by[0], y + by[1])
    page.mouse.up()


def test_boards_are_dragged_and_kerbs_painted_on_the_map(circuit: Page) -> None:
    circuit.keyboard.press("4")
    circuit.get_by_role("tab", name="References").click()
    board = circuit.get_by_test_id("roadside").locator("tbody tr").nth(7)
    before = board.locator("td").nth(4).inner_text()
    pulled(circuit, "[data-mark='boards:6'] rect", (-20, -20))
    kept(circuit)
    expect(board.locator("td").nth(4)).not_to_have_text(before)
    circuit.get_by_role("tab", name="Circuit settings").click()
    circuit.get_by_label("Radius type").select_option("road")
    circuit.get_by_role("tab", name="Edges").click()
    paint = circuit.get_by_role("button", name="Draw kerb along an edge")
    paint.click()
    expect(paint).to_have_attribute("aria-pressed", "true")
    map_box = circuit.get_by_test_id("survey-map").bounding_box()
    assert map_box is not None
    x, y = map_box["x"] + map_box["width"] / 2, map_box["y"] + map_box["height"] / 2
    circuit.mouse.move(x, y)
    circuit.mouse.down()
    circuit.mouse.move(x + 30, y + 40)
    expect(circuit.get_by_test_id("stroke")).to_be_attached()
    circuit.mouse.move(x + 60, y + 80)
    circuit.mouse.up()
    kept(circuit)
    edges = circuit.get_by_test_id("edges").locator("tbody tr")
    expect(edges).to_have_count(1)
    expect(edges.first).to_contain_text("Kerb")
    paint.click()
    ends_at = edges.first.get_by_role("spinbutton").nth(1)
    before = ends_at.input_value()
    pulled(circuit, "[data-end='0:to_m']", (-12, -12))
    kept(circuit)
    expect(ends_at).not_to_have_value(before)


def test_lanes_and_a_pit_lane_are_stated_on_the_sheet(circuit: Page) -> None:
    circuit.get_by_role("tab", name="Circuit settings").click()
    circuit.get_by_role("button", name="add a lane").click()
    lanes = circuit.get_by_test_id("lanes").get_by_role("row")
    expect(lanes).to_have_count(2)
    put(circuit, "Lane 1: offset from the radius (m)", "4.5")
    kept(circuit)
    put(circuit, "Pit-lane length (m)", "310")
    kept(circuit)
    circuit.get_by_role("button", name="Pit-lane length: remove").click()
    circuit.get_by_role("button", name=re.compile("^Pit-lane length: not stated")).click()
    expect(figure(circuit, "Pit-lane length (m)")).to_have_value("350")
    circuit.get_by_role("button", name="Remove Lane 1").click()
    expect(circuit.get_by_test_id("lanes")).to_have_count(0)


def test_another_layout_shares_its_road(circuit: Page) -> None:
    circuit.get_by_role("tab", name="Circuit settings").click()
    circuit.get_by_role("button", name="Add a layout of this venue").click()
    name = f"Short layout {time.time_ns()}"
    circuit.get_by_label("Name of the new layout").fill(name)
    circuit.keyboard.press("Enter")
    layouts = circuit.get_by_role("region", name="Layouts of the venue")
    expect(layouts).to_contain_text(f"{name}, this one")
    circuit.get_by_role("tab", name="Straights and corners").click()
    put(circuit, "Radius of Eel Trap (m)", "31")
    shared = circuit.get_by_role("button", name=re.compile("^Sluice is shared with"))
    shared.click()
    expect(shared).to_have_count(0)
    circuit.get_by_role("tab", name="Circuit settings").click()
    layouts.get_by_role("button").first.click()
    expect(layouts).not_to_contain_text(f"{name}, this one")
    expect(layouts).to_contain_text(re.compile(r"shares \d+ of the"))
    circuit.get_by_role("tab", name="Straights and corners").click()
    expect(circuit.get_by_label("Radius of Eel Trap (m)")).to_have_value("31")
