"""Kept plans in the page: undo, baseline, history, two tabs, library, files, first steps."""

import json
import math
import re
import time
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Request, expect

from neapfrost.demo.plans import demo_plans
from serving import running_server
from web.pages import (
    DRY_K4,
    copied_plan,
    drawn,
    dropped,
    escape,
    figure,
    fits,
    frames,
    grip,
    heads,
    kept,
    lap_seconds,
    notice,
    open_plan,
    plans,
    put,
    row,
    sheet,
    words,
)


def test_undo_and_redo_cross_documents_and_survive_a_reload(page: Page) -> None:
    first = lap_seconds(page)
    put(page, "Grip (μ)", "1.44")
    after_grip = lap_seconds(page)
    put(page, "Wind (m/s)", "9")
    put(page, "Radius of Sluice (m)", "31")
    after_all = lap_seconds(page)
    assert after_grip > first + 0.5
    page.reload()
    drawn(page)
    assert lap_seconds(page) == after_all
    page.keyboard.press("Control+z")
    expect(figure(page, "Radius of Sluice (m)")).to_have_value("27")
    page.keyboard.press("Control+z")
    expect(figure(page, "Wind (m/s)")).to_have_value("4")
    assert lap_seconds(page) == after_grip
    page.reload()
    drawn(page)
    page.get_by_role("button", name="Undo").click()
    expect(grip(page)).to_have_value("1.52")
    assert lap_seconds(page) == first
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    for _ in range(2):
        page.keyboard.press("Control+y")
    page.keyboard.press("Control+Shift+z")
    expect(figure(page, "Radius of Sluice (m)")).to_have_value("31")
    assert lap_seconds(page) == after_all
    expect(page.get_by_role("button", name="Redo")).to_be_disabled()


def test_the_steps_that_may_come_next_are_named_before_they_are_made(page: Page) -> None:
    """Both ways when a figure is taken up, the same way with a step."""

    def named(request: Request) -> list[float]:
        return [change["value"] for (change,) in json.loads(request.post_data or "")["ways"]]

    lap = page.get_by_test_id("lap-time")
    first = lap.inner_text()
    with page.expect_request("**/foresee") as taken_up:
        grip(page).focus()
    assert named(taken_up.value) == [1.53, 1.51]
    with page.expect_request("**/foresee") as stepped:
        page.keyboard.press("ArrowDown")
    assert named(stepped.value) == [1.5]
    expect(lap).not_to_have_text(first)
    page.keyboard.press("Tab")
    kept(page)


def test_undo_reaches_from_within_the_figure_being_edited(page: Page) -> None:
    grip(page).focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Control+z")
    expect(grip(page)).to_have_value("1.52")
    kept(page)


def test_less_grip_moves_each_braking_point_against_the_baseline(page: Page) -> None:
    before = lap_seconds(page)
    page.keyboard.press("b")
    expect(page.get_by_test_id("lap-difference")).to_have_text("±0.000")
    put(page, "Grip (μ)", "1.42")
    expect(page.get_by_test_id("baseline-curve")).to_be_attached()
    expect(page.get_by_test_id("time-difference")).to_be_attached()
    lost = float(page.get_by_test_id("lap-difference").inner_text().replace("+", ""))
    assert lost == pytest.approx(lap_seconds(page) - before, abs=0.0015)
    moved = page.get_by_test_id("brake-moved").all_inner_texts()
    assert len(moved) == 11
    assert sum("earlier" in text for text in moved) == 10
    times = page.get_by_test_id("time-row").locator("td:not(.sum)").all_inner_texts()
    assert len(times) == 11
    total = sum(float(time.replace("−", "-")) for time in times)
    assert total == pytest.approx(lost, abs=0.006)
    # The difference runs along the lap with the cursor.
    escape(page)
    page.keyboard.press("7")
    expect(page.locator(".readout")).to_contain_text("+")
    page.keyboard.press("b")
    expect(page.get_by_test_id("baseline-curve")).to_have_count(0)
    expect(page.get_by_test_id("time-row")).to_have_count(0)


def test_a_baseline_stays_as_it_was_pinned(page: Page) -> None:
    page.keyboard.press("b")
    expect(page.get_by_test_id("time-row")).to_be_visible()
    put(page, "Power (kW)", "215")
    gained = page.get_by_test_id("lap-difference").inner_text()
    assert gained.startswith("−")
    page.reload()
    drawn(page)
    expect(page.get_by_test_id("lap-difference")).to_have_text(gained)


def test_any_plan_can_be_the_baseline(page: Page, address: str) -> None:
    page.keyboard.press("c")
    sheet(page).get_by_label("Search plans").fill("strong west wind")
    wanted = sheet(page).get_by_role("button", name="Compare with Kittiwake K4, race fuel")
    expect(wanted).to_be_visible()
    # Where plans are only compared with, none can be deleted by mistake.
    expect(sheet(page).get_by_role("button", name=re.compile("^Delete"))).to_have_count(0)
    wanted.click()
    expect(page.locator(".strip")).to_contain_text("race fuel, strong west wind")
    expect(page.get_by_test_id("time-row")).to_be_visible()
    # On another circuit only the lap times can be set side by side.
    page.keyboard.press("c")
    sheet(page).get_by_label("Search plans").fill("Crake Heath, dry")
    sheet(page).get_by_role(
        "button", name=re.compile("Compare with Dunlin 16, Crake Heath, dry Dunlin")
    ).click()
    expect(page.locator(".strip")).to_contain_text("Crake Heath, dry")
    expect(page.get_by_test_id("lap-difference")).to_contain_text("+")
    expect(page.get_by_test_id("time-row")).to_have_count(0)
    expect(page.get_by_test_id("baseline-curve")).to_have_count(0)


def test_the_history_says_what_each_step_was_worth_and_compares_with_any(page: Page) -> None:
    first = lap_seconds(page)
    put(page, "Grip (μ)", "1.46")
    second = lap_seconds(page)
    put(page, "Power (kW)", "210")
    third = lap_seconds(page)
    page.keyboard.press("h")
    steps = sheet(page).locator("tbody tr")
    expect(steps).to_have_count(3)
    expect(steps.first).to_contain_text("Power 197.5 to 210 kW")
    expect(steps.last).to_contain_text("Copy of")
    worth = [
        float(step.locator("td").nth(1).inner_text().replace("−", "-")) for step in steps.all()[:2]
    ]
    assert worth == pytest.approx([third - second, second - first], abs=0.0015)
    steps.nth(1).get_by_role("button", name="Compare").click()
    expect(page.get_by_test_id("lap-difference")).to_have_text(f"−{second - third:.3f}")


def test_two_tabs_never_overwrite_each_other(context: BrowserContext, address: str) -> None:
    number = copied_plan(address, DRY_K4)
    left, right = context.new_page(), context.new_page()
    open_plan(left, address, number)
    open_plan(right, address, number)
    put(left, "Grip (μ)", "1.40")
    # A tab in front of which nobody sits knows nothing of it yet.
    figure(right, "Power (kW)").fill("205")
    figure(right, "Power (kW)").press("Enter")
    dialog = right.get_by_role("dialog", name="Changed elsewhere")
    expect(dialog).to_contain_text("Grip: 1.52 to 1.4")
    right.keyboard.press("Escape")
    expect(dialog).to_be_visible()
    dialog.get_by_role("button", name="Save both").click()
    expect(dialog).not_to_be_visible()
    kept(right)
    expect(grip(right)).to_have_value("1.4")
    expect(figure(right, "Power (kW)")).to_have_value("205")

    figure(left, "Mass (kg)").fill("700")
    figure(left, "Mass (kg)").press("Enter")
    dialog = left.get_by_role("dialog", name="Changed elsewhere")
    dialog.get_by_role("button", name="Discard mine and reload").click()
    expect(figure(left, "Power (kW)")).to_have_value("205")
    expect(figure(left, "Mass (kg)")).to_have_value("690")


def test_a_pinned_car_is_not_changed_until_it_follows_again(page: Page) -> None:
    put(page, "Grip (μ)", "1.45")
    page.get_by_role("button", name="Car Kittiwake").click()
    sheet(page).get_by_role("button", name="Pin revision 1").click()
    expect(page.locator(".pinned")).to_have_text("pinned at 1 of 2")
    escape(page)
    expect(grip(page)).to_have_value("1.52")
    grip(page).fill("1.6")
    grip(page).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("pinned")
    escape(page)
    page.get_by_role("button", name="Car Kittiwake").click()
    sheet(page).get_by_role("button", name="Follow the newest").click()
    escape(page)
    expect(grip(page)).to_have_value("1.45")


def test_a_figure_of_the_car_s_sheet_says_what_it_does_to_the_lap(page: Page) -> None:
    before = lap_seconds(page)
    page.get_by_role("button", name="Car Kittiwake").click()
    told = sheet(page).get_by_test_id("sheet-lap")
    expect(told).to_contain_text("±0.000")
    final = sheet(page).get_by_role("spinbutton", name="Final drive (to 1)")
    final.focus()
    final.press("ArrowUp")
    expect(told).not_to_contain_text("±0.000")
    escape(page)
    expect(sheet(page)).to_have_count(0)
    kept(page)
    assert lap_seconds(page) != before


def test_a_figure_that_is_not_stated_says_what_holds_and_can_be(page: Page, address: str) -> None:
    open_plan(page, address, copied_plan(address, "Sanderling 900, Sallow Fen, dry"))
    page.get_by_role("button", name="Car Sanderling").click()
    sheet(page).get_by_role("button", name="Maximum brake force: no limit; enter a value").click()
    force = sheet(page).get_by_role("spinbutton", name="Maximum brake force (N)")
    expect(force).to_have_value("5000")
    escape(page)
    kept(page)
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Car Sanderling").click()
    expect(sheet(page).get_by_text("no limit", exact=True)).to_be_visible()


def test_plans_are_named_found_copied_and_deleted_with_a_way_back(page: Page) -> None:
    page.keyboard.press("/")
    name = sheet(page).get_by_label("Name of this plan")
    name.fill("Evening run")
    name.press("Enter")
    expect(page.get_by_test_id("plan-name")).to_have_text("Evening run")
    search = sheet(page).get_by_label("Search plans")
    search.fill("evening")
    listed = sheet(page).get_by_role("list", name="All plans").locator("li")
    expect(listed).to_have_count(1)
    sheet(page).get_by_role("button", name="Copy Evening run").click()
    expect(page.get_by_test_id("plan-name")).to_have_text("Evening run, copy")
    expect(listed).to_have_count(2)
    sheet(page).get_by_role("button", name="Delete Evening run, copy").click()
    expect(listed).to_have_count(1)
    escape(page)
    notice(page).get_by_role("button", name="Undo").click()
    expect(notice(page)).to_contain_text("was restored")
    page.keyboard.press("/")
    sheet(page).get_by_label("Search plans").fill("evening run, copy")
    sheet(page).get_by_role("button", name="Open Evening run, copy").click()
    expect(page.get_by_test_id("plan-name")).to_have_text("Evening run, copy")


def test_another_circuit_can_be_chosen_and_undone(page: Page) -> None:
    page.get_by_role("button", name="Circuit Sallow Fen").click()
    sheet(page).get_by_role("button", name="Use Crake Heath").first.click()
    escape(page)
    expect(heads(page).first).not_to_contain_text("Sluice")
    page.keyboard.press("Control+z")
    expect(heads(page).first).to_contain_text("Sluice")


def test_a_radius_gives_or_holds_the_straights(page: Page) -> None:
    length = page.get_by_label("What the lap is based on").locator(".circuit .facts")
    expect(length).to_contain_text("3988")
    put(page, "Radius of Sluice (m)", "40")
    assert "3988" not in length.inner_text()
    page.keyboard.press("Control+z")
    expect(length).to_contain_text("3988")
    page.get_by_role("button", name="Circuit Sallow Fen").click()
    sheet(page).get_by_label("Keep straight lengths when a radius changes").check()
    escape(page)
    put(page, "Radius of Sluice (m)", "40")
    held = length.inner_text()
    page.keyboard.press("h")
    expect(sheet(page).locator("tbody")).to_contain_text("straights held")
    assert int(held.split()[0]) > 3998


def test_a_plan_file_is_imported_once_and_a_bad_one_changes_nothing(
    page: Page, address: str, tmp_path: Path
) -> None:
    document = demo_plans()[3].document.model_dump(mode="json")
    document["name"] = "From a file"
    good, bad = tmp_path / "good.json", tmp_path / "bad.json"
    good.write_text(json.dumps(document))
    document["car"]["mass_kg"] = -5
    bad.write_text(json.dumps(document))
    broken = tmp_path / "broken.json"
    broken.write_text('{"format": \n "neapfrost')
    count = len(plans(address))
    for file, why in ((bad, "car.mass_kg"), (broken, "line 2")):
        page.keyboard.press("/")
        sheet(page).locator("input[type=file]").set_input_files(file)
        expect(sheet(page).get_by_role("alert")).to_contain_text(why)
        escape(page)
    assert len(plans(address)) == count
    for told in ("was imported", "already here"):
        page.keyboard.press("/")
        sheet(page).locator("input[type=file]").set_input_files(good)
        expect(notice(page)).to_contain_text(told)
        expect(page.get_by_test_id("plan-name")).to_have_text("From a file")
    assert len(plans(address)) == count + 1


def test_a_file_dropped_on_the_page_is_imported(page: Page) -> None:
    document = demo_plans()[4].document.model_dump(mode="json")
    document["name"] = "Dropped here"
    dropped(page, "plan.json", json.dumps(document))
    expect(page.get_by_test_id("plan-name")).to_have_text("Dropped here")
    with page.expect_download() as download:
        page.keyboard.press("/")
        sheet(page).get_by_label("Search plans").fill("dropped here")
        sheet(page).get_by_role("link", name="File of Dropped here").click()
    written = json.loads(Path(download.value.path()).read_text())
    assert written == document


def test_leaving_the_page_keeps_what_was_stepped(context: BrowserContext, address: str) -> None:
    number = copied_plan(address, DRY_K4)
    page = context.new_page()
    open_plan(page, address, number)
    grip(page).focus()
    page.keyboard.press("ArrowDown")
    page.close(run_before_unload=True)
    for _ in range(100):
        if httpx.get(f"{address}api/plans/{number}").json()["undo"]:
            break
        time.sleep(0.1)
    again = context.new_page()
    open_plan(again, address, number)
    expect(grip(again)).to_have_value("1.51")


def test_an_empty_store_offers_the_demo_world(browser: Browser, tmp_path: Path) -> None:
    with running_server("serve", tmp_path, solvers=0) as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_role("button", name="Open the demo").click()
        drawn(page)
        expect(page.get_by_test_id("plan-name")).to_have_text(demo_plans()[0].document.name)
        # What opens first has a road and a line that is drawn at once.
        page.get_by_role("link", name="Line", exact=True).click()
        expect(page.get_by_role("heading", name="Fastest")).to_be_visible()
        page.close()


def test_a_file_of_points_is_the_circuit_of_the_first_steps(
    browser: Browser, tmp_path: Path
) -> None:
    points = "\n".join(
        f"{110 * math.cos(t):.2f},{70 * math.sin(t) + 12 * math.cos(2 * t):.2f}"
        for t in (2 * math.pi * number / 200 for number in range(200))
    )
    with running_server("serve", tmp_path, solvers=0) as address:
        page = browser.new_page(viewport={"width": 390, "height": 844})
        page.goto(address)
        page.get_by_label("Name", exact=True).fill("Shed special")
        dropped(page, "pond.csv", "x,y\n" + points)
        expect(page.get_by_text("One closed lap.")).to_be_visible()
        fits(page)
        page.get_by_label("Name", exact=True).fill("Coot Pond")
        page.get_by_role("button", name="Next").click()
        page.get_by_role("button", name="Back").click()
        expect(page.get_by_text("One closed lap.")).to_be_visible()
        page.get_by_role("button", name="Next").click()
        page.get_by_role("button", name="Predict the lap").click()
        expect(page.get_by_test_id("plan-name")).to_have_text("Shed special at Coot Pond")
        # The line is looked for without being asked, and taken.
        expect(page.get_by_text("Calculated for this car on this road.")).to_be_visible()
        kept_plan = httpx.get(f"{address}api/plans/1/document").json()
        assert kept_plan["line"]["computed"]["ended"] == "settled"
        assert kept_plan["car"]["mass_kg"] == 1000.0
        page.close()


def test_the_first_steps_keep_what_was_typed_in_any_unit(browser: Browser, tmp_path: Path) -> None:
    with running_server("serve", tmp_path, solvers=0) as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        top = page.get_by_label("Top speed")
        expect(top).to_have_value("240")
        expect(page.get_by_text("Downforce at 200 km/h")).to_be_visible()
        page.get_by_label("Mass without driver").fill("820")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("u")
        # The same speed in other units, and the same car.
        expect(top).to_have_value("149.1")
        expect(page.get_by_text("Downforce at 124 mph")).to_be_visible()
        page.keyboard.press("u")
        page.keyboard.press("u")
        expect(top).to_have_value("240")
        # A motorcycle is no car of a tonne; what was typed stays.
        page.get_by_label("Kind").select_option("motorcycle")
        expect(page.get_by_label("Mass without driver")).to_have_value("820")
        expect(page.get_by_label("Peak power")).to_have_value("110")
        expect(top).to_have_value("270")
        expect(page.get_by_label("Downforce")).to_have_count(0)
        page.get_by_label("Kind").select_option("car")
        expect(page.get_by_label("Peak power")).to_have_value("180")
        # Usual figures stay untouched in any units, there and back, whatever the kind.
        usual = (("gt", "177.1", "536.4", "285"), ("single_seater", "158.4", "268.2", "255"))
        for kind, mph, hp, kmh in usual:
            page.get_by_label("Kind").select_option(kind)
            expect(top).to_have_value(kmh)
            page.evaluate("document.activeElement.blur()")
            page.keyboard.press("u")
            expect(top).to_have_value(mph)
            expect(page.get_by_label("Peak power")).to_have_value(hp)
            page.get_by_label("Kind").select_option("kart")
            expect(page.get_by_label("Peak power")).to_have_value("28.2")
            page.get_by_label("Kind").select_option(kind)
            expect(page.get_by_label("Peak power")).to_have_value(hp)
            page.evaluate("document.activeElement.blur()")
            page.keyboard.press("u")
            page.keyboard.press("u")
            expect(top).to_have_value(kmh)
        page.close()


def test_an_empty_store_offers_a_first_lap_in_three_steps(browser: Browser, tmp_path: Path) -> None:
    with running_server("serve", tmp_path, solvers=0) as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("Name", exact=True).fill("Shed special")
        page.get_by_label("Mass without driver").fill("820")
        page.get_by_role("button", name="Next").click()
        page.get_by_label("Name", exact=True).fill("Back field")
        page.get_by_label("Angle of part 2").fill("180")
        page.get_by_role("button", name="Add a straight").click()
        page.get_by_label("Length of part 3").fill("-4")
        page.get_by_role("button", name="Add a right").click()
        page.get_by_label("Radius of part 4").fill("40")
        page.get_by_label("Angle of part 4").fill("180")
        page.get_by_role("button", name="Next").click()
        page.get_by_role("button", name="Predict the lap").click()
        # The fault leads back to the step it belongs to, with all that was typed still there.
        expect(page.get_by_role("alert")).to_contain_text("-4")
        expect(page.get_by_label("Length of part 3")).to_have_value("-4")
        page.get_by_label("Length of part 3").fill("400")
        page.get_by_role("button", name="Next").click()
        page.get_by_role("button", name="Predict the lap").click()
        drawn(page)
        expect(heads(page)).to_have_count(2)
        expect(figure(page, "Mass (kg)")).to_have_value("820")
        assert [words(cell) for cell in row(page, "Radius").all()] == ["", ""]
        assert 15 < lap_seconds(page) < 60
        # What was stated is gone on from where more is known of the car.
        page.get_by_role("link", name="Car", exact=True).click()
        page.get_by_role("tab", name="Build from known figures").click()
        mass = page.get_by_label("Mass, without driver (kg)")
        expect(mass).to_have_value("820")
        expect(page.get_by_label("Top speed (km/h)")).to_have_value("240")
        expect(page.get_by_test_id("model-mass")).to_have_text("820")
        page.get_by_label("0 to 100 km/h (s)").fill("5.1")
        page.get_by_label("Gear ratios, first gear first").fill("2.9 2.1 1.6 1.3 1.1")
        page.get_by_label("Final drive (to 1)").fill("3.9")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("u")
        # In other units the same is stated, at the speed at which it was.
        expect(page.get_by_label("0 to 62 mph (s)")).to_have_value("5.1")
        expect(page.get_by_label("Mass, without driver (lb)")).to_have_value("1807.8")
        page.get_by_text("figures change").click()
        changes = page.get_by_test_id("build-changes")
        expect(changes).to_contain_text("to 2.9, 2.1, 1.6, 1.3, 1.1")
        expect(changes).not_to_contain_text("Mass")
        page.get_by_role("button", name="Apply to Shed special").click()
        drawn(page)
        page.keyboard.press("u")
        page.keyboard.press("u")
        expect(figure(page, "Mass (kg)")).to_have_value("820")
        # Opened once more, the form has all that was entered.
        page.get_by_role("link", name="Car", exact=True).click()
        expect(page.get_by_label("0 to 100 km/h (s)")).to_have_value("5.1")
        expect(page.get_by_label("Gear ratios, first gear first")).to_have_value(
            "2.9 2.1 1.6 1.3 1.1"
        )
        page.close()


def test_no_request_leaves_the_machine(context: BrowserContext, address: str) -> None:
    page = context.new_page()
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    open_plan(page, address, copied_plan(address, DRY_K4))
    put(page, "Grip (μ)", "1.4")
    page.keyboard.press("/")
    sheet(page).get_by_role("button", name="Open Garganey Coupé, dry").click()
    expect(page.get_by_test_id("plan-name")).to_have_text("Garganey Coupé, dry")
    assert len(asked) > 8
    assert [url for url in asked if not url.startswith((address, "data:"))] == []


def test_when_the_application_is_gone_the_page_says_so_and_keeps_what_was_typed(
    browser: Browser, tmp_path: Path
) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    with running_server("demo", tmp_path, solvers=0) as address:
        page.goto(address)
        drawn(page)
        shown = lap_seconds(page)
    grip(page).fill("1.4")
    grip(page).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is it still running?")
    assert lap_seconds(page) == shown
    expect(page.locator("header .state")).to_have_text("not saved yet")
    page.close()


def test_a_sheet_opened_as_another_closes_stays_and_the_focus_goes_back(page: Page) -> None:
    """A browser tells late of a closed dialog; the next key may have come before."""
    head = page.get_by_role("button", name="History", exact=True)
    head.focus()
    for button in (None, "header button", ".modal-backdrop button"):
        page.keyboard.press("c")
        expect(page.get_by_role("dialog", name="Compare with")).to_be_visible()
        if button is None:
            page.keyboard.press("Escape")
            expect(head).to_be_focused()
            page.keyboard.press("w")
        else:
            page.evaluate(
                """async (button) => {
                     document.querySelector(`dialog[open] ${button}`).click()
                     await null
                     document.activeElement.dispatchEvent(
                       new KeyboardEvent('keydown', { key: 'w', bubbles: true }))
                   }""",
                button,
            )
        expect(page.get_by_role("dialog", name="The lap in words")).to_be_visible()
        frames(page)
        expect(page.get_by_role("dialog", name="The lap in words")).to_be_visible()
        escape(page)
        expect(head).to_be_focused()
