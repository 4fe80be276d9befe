"""Current pictures of each main view, from the demo data, into docs/screenshots."""

from pathlib import Path

from browser import chromium
from serving import running_server

OUT = Path(__file__).parent.parent / "docs" / "screenshots"


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with running_server() as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_test_id("speed-curve").wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=OUT / "lap-day.png")

        page.get_by_label("Grip (μ)").fill("1.42")
        page.get_by_label("Grip (μ)").press("Enter")
        page.get_by_test_id("lap-difference").wait_for()
        page.get_by_label("Grip (μ)").blur()
        page.keyboard.press("7")
        page.wait_for_timeout(300)
        page.screenshot(path=OUT / "lap-changed-grip.png")

        page.keyboard.press("n")
        page.get_by_label("Plan").select_option("garganey-damp")
        page.wait_for_timeout(700)
        page.screenshot(path=OUT / "lap-night.png")

        phone = browser.new_page(viewport={"width": 390, "height": 844})
        phone.goto(address)
        phone.get_by_test_id("speed-curve").wait_for()
        phone.wait_for_timeout(500)
        phone.screenshot(path=OUT / "lap-phone.png")


if __name__ == "__main__":
    main()
