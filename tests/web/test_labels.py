"""Every label has room: on the curve and the larger map, on every demo plan and with 40 corners."""

import random
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect

from neapfrost.demo.plans import composed, demo_plans
from web.pages import demo_plans_of, escape, fits, frames, heads, imported, kept, open_plan, plans

OVERHANG = 3  # px
#: Of plans on the same circuit with the same vehicle one is enough: their labels hardly differ.
NAMES = list(
    {
        (plan.document.circuit.name, plan.document.car.name): plan.document.name
        for plan in reversed(demo_plans())
    }.values()
)


def forty_corners() -> dict[str, Any]:
    """A closed circuit of 40 corners, every second one tight, driven by a demo car."""
    document: dict[str, Any] = composed("k4-dry").model_dump(mode="json")
    segments = []
    for pair in range(20):
        for side, (direction, angle, radius, straight) in enumerate(
            (("right", 45.0, 22.0, 150.0), ("left", 27.0, 60.0, 60.0))
        ):
            number = 2 * pair + side + 1
            segments.append({"kind": "straight", "length_m": straight})
            segments.append(
                {
                    "kind": "corner",
                    "name": f"Sedge {number}",
                    "direction": direction,
                    "radius_m": radius,
                    "angle_deg": angle,
                }
            )
    circuit = document["circuit"]
    circuit.update(
        name="Forty Sedges", segments=segments, boards=[], references=[], sectors_at_m=[]
    )
    document["name"] = "Forty corners"
    return document


def drawn_by_lot(seed: int) -> dict[str, Any]:
    """An open course of 7 to 22 corners, of lengths, radii and angles drawn by lot."""
    lot = random.Random(seed)
    document: dict[str, Any] = composed("k4-dry").model_dump(mode="json")
    segments: list[dict[str, Any]] = []
    for number in range(1, lot.randint(7, 22) + 1):
        segments.append({"kind": "straight", "length_m": lot.uniform(40.0, 600.0)})
        segments.append(
            {
                "kind": "corner",
                "name": lot.choice(("Teasel", "Long Reach", "Upper Fen Drove", "Ness"))
                + f" {number}",
                "direction": lot.choice(("left", "right")),
                "radius_m": lot.uniform(14.0, 220.0),
                "angle_deg": lot.uniform(20.0, 130.0),
            }
        )
    segments.append({"kind": "straight", "length_m": lot.uniform(60.0, 400.0)})
    document["circuit"].update(
        name=f"By lot {seed}",
        closed=False,
        segments=segments,
        boards=[],
        references=[],
        sectors_at_m=[],
    )
    document["name"] = f"Drawn by lot {seed}"
    return document


@pytest.fixture(scope="module")
def forty(address: str) -> int:
    return imported(address, forty_corners())


def boxes(page: Page, selector: str) -> list[dict[str, Any]]:
    """Inner boxes of texts, with the label each belongs to."""
    found: list[dict[str, Any]] = page.evaluate(
        """(selector) => [...document.querySelectorAll(selector)].map((text) => {
             const box = text.getBBox(), owner = text.closest('[data-label]') ?? text
             return { id: owner.dataset.label ?? owner.dataset.number, left: box.x,
                      right: box.x + box.width, top: box.y + 3, bottom: box.y + box.height - 3 }
           })""",
        selector,
    )
    return found


def assert_apart(found: list[dict[str, Any]]) -> None:
    for index, a in enumerate(found):
        for b in found[index + 1 :]:
            apart = (
                a["id"] == b["id"]
                or a["right"] <= b["left"]
                or b["right"] <= a["left"]
                or a["bottom"] <= b["top"]
                or b["bottom"] <= a["top"]
            )
            assert apart, (a, b)


def assert_within(found: list[dict[str, Any]], picture: Locator) -> None:
    """Inside the picture; only the overhang of a slanted letter may pass its edge."""
    width = float(picture.get_attribute("width") or 0)
    height = float(picture.get_attribute("height") or 0)
    for box in found:
        assert min(box["left"], box["top"]) >= -OVERHANG, box
        assert max(box["right"] - width, box["bottom"] - height) <= OVERHANG, box


def check_curve(page: Page) -> None:
    """Nothing lost, nothing on top of anything else, nothing outside the picture."""
    curve = page.get_by_test_id("speed-curve")
    expect(curve).to_have_attribute("data-lost", "0")
    found = boxes(page, ".label text")
    corners = heads(page).count() or page.locator("main ol > li").count()
    assert len({box["id"] for box in found if box["id"].startswith("low-")}) == corners
    assert_apart(found)
    assert_within(found, curve)


def check_map(page: Page) -> None:
    page.keyboard.press("m")
    large = page.get_by_test_id("large-map")
    expect(large).to_have_attribute("data-lost", "0")
    found = boxes(page, "[data-testid=large-map] .map-label")
    assert len(found) == heads(page).count()
    assert_apart(found)
    assert_within(found, large)
    escape(page)
    expect(large).to_have_count(0)


@pytest.fixture
def reader(browser: Browser) -> Iterator[Page]:
    """A page in a profile of its own, which has none of the fonts yet; fails on a script error."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on("console", lambda line: errors.append(line.text) if line.type == "error" else None)
    yield page
    context.close()
    assert errors == []


@pytest.mark.parametrize("name", NAMES)
def test_labels_never_collide_or_vanish(reader: Page, address: str, name: str) -> None:
    page = reader
    open_plan(page, address, demo_plans_of(address)[name])
    expect(page.get_by_test_id("plan-name")).to_have_text(name)
    for width in (1280, 1600, 1024):
        page.set_viewport_size({"width": width, "height": 800})
        frames(page)
        check_curve(page)
        # On a narrow window a leader may have to cross a label rather than lose one.
        assert width < 1280 or crossed_by_leaders(page) == []
    check_map(page)
    page.set_viewport_size({"width": 390, "height": 844})
    expect(heads(page)).to_have_count(0)
    check_curve(page)


def crossed_by_leaders(page: Page) -> list[list[str]]:
    """Labels whose line to their own place crosses another label, with that other one."""
    crossed: list[list[str]] = page.evaluate(
        """[...document.querySelectorAll('.label > path:first-child')].flatMap((path) => {
             const length = path.getTotalLength(), own = path.parentNode
             if (path.getAttribute('fill')) return []
             return [...document.querySelectorAll('.label')].filter((label) => {
               if (label === own) return false
               return [...label.querySelectorAll('text')].some((text) => {
                 const box = text.getBBox()
                 for (let at = 0; at <= length; at += 2) {
                   const p = path.getPointAtLength(at)
                   if (p.x > box.x && p.x < box.x + box.width && p.y > box.y + 4
                       && p.y < box.y + box.height - 4) return true
                 }
                 return false
               })
             }).map((label) => [own.dataset.label, label.dataset.label])
           })"""
    )
    return crossed


@pytest.mark.parametrize("width", [1280, 1600])
def test_forty_corners_stay_readable(
    context: BrowserContext, address: str, forty: int, width: int
) -> None:
    page = context.new_page()
    page.set_viewport_size({"width": width, "height": 800})
    open_plan(page, address, forty)
    expect(heads(page)).to_have_count(40)
    check_curve(page)
    check_map(page)
    # The table scrolls, and the page does not.
    fits(page)
    page.keyboard.press("3")
    page.keyboard.press("8")
    expect(heads(page).nth(37)).to_be_in_viewport()
    expect(heads(page).nth(37)).to_have_attribute("aria-pressed", "true")


@pytest.mark.parametrize("seed", [1, 2, 3, 4])
def test_labels_of_laps_drawn_by_lot_are_all_there_and_apart(
    context: BrowserContext, address: str, seed: int
) -> None:
    page = context.new_page()
    open_plan(page, address, imported(address, drawn_by_lot(seed)))
    expect(page.get_by_test_id("plan-name")).to_have_text(f"Drawn by lot {seed}")
    frames(page)
    check_curve(page)


def test_labels_stand_in_other_units_too(context: BrowserContext, address: str) -> None:
    page = context.new_page()
    open_plan(page, address, plans(address)[NAMES[0]])
    for _ in range(2):
        page.keyboard.press("u")
        frames(page)
        check_curve(page)


def test_a_lap_changed_by_hand_keeps_its_labels(page: Page) -> None:
    page.keyboard.press("b")
    for grip in ("1.1", "2.2", "0.7"):
        field = page.get_by_role("spinbutton", name="Grip (μ)")
        field.fill(grip)
        field.press("Enter")
        kept(page)
        check_curve(page)


@pytest.mark.parametrize("width", [1280, 390])
def test_names_without_end_stay_on_the_page(
    context: BrowserContext, address: str, width: int
) -> None:
    document: dict[str, Any] = composed("k4-dry").model_dump(mode="json")
    document["name"] = f"Plan {width} " + "x" * 110
    for part in ("car", "circuit", "conditions"):
        document[part]["name"] = f"{part}{width}" + "y" * 110
    number = imported(address, document)
    page = context.new_page()
    page.set_viewport_size({"width": width, "height": 800})
    for place, shown in (
        ("", page.get_by_test_id("speed-curve")),
        ("/brief", page.get_by_test_id("brief")),
        ("/car/setups", page.get_by_role("heading", name="Gears")),
        ("/car/compare", page.get_by_role("heading", name="What differs")),
        ("/car/build", page.get_by_role("button", name="Apply to car")),
    ):
        page.goto(f"{address}#/plan/{number}{place}")
        expect(shown).to_be_visible()
        fits(page)
