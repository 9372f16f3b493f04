"""Takes the pictures of the bench in docs/screenshots anew, from the demo data.

``sutaru serve --demo --data FOLDER --port 8799`` first, and wait until its photos have been looked at; then
``python tools/screenshots.py``. What is changed for a picture is undone again.
"""

import re
import sys
from pathlib import Path
from tempfile import TemporaryDirectory

from PIL import Image
from playwright.sync_api import Page, expect, sync_playwright

sys.path.insert(0, str(Path(__file__).parent.parent))
from tests.browser.acting import tick
from tests.core.test_flat_pictures import as_holes, made

BASE = "http://127.0.0.1:8799"
FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync"
)


def shot(page: Page, name: str) -> None:
    """Once all is stored and drawn, or pulled and drawn."""
    page.wait_for_timeout(2500)
    page.screenshot(path=FOLDER / f"{name}.png")


def job(page: Page, name: str) -> None:
    """Opens a job of the demo."""
    jobs = {entry["name"]: entry["id"] for entry in page.request.get(f"{BASE}/api/jobs?size=100").json()["jobs"]}
    page.goto(f"{BASE}/jobs/{jobs[name]}")
    expect(page.get_by_test_id("sheet")).to_be_visible()
    page.wait_for_timeout(1500)


def part(page: Page, name: str) -> None:
    page.get_by_label("What to change").get_by_text(name, exact=True).click()


def typed(page: Page, label: str, value: str) -> None:
    field = page.get_by_label(f"{label}, in figures")
    field.fill(value)
    field.press("Enter")


def opening(page: Page, number: int) -> None:
    page.get_by_role("row").nth(number).click()


def layouts(page: Page) -> None:
    """A spread of the book whose largest photo was chosen by a key, with the other layouts there are."""
    job(page, "Skerry Sands, three days of wind")
    page.goto(f"{page.url.split('?')[0]}?sheet=pages-15")
    expect(page.get_by_role("button", name=re.compile("^Opening 5"))).to_be_visible()
    opening(page, 5)
    page.keyboard.press(">")
    page.get_by_role("button", name="Layouts").click()
    shot(page, "layouts")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    page.wait_for_timeout(1500)


def main() -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800}, locale="en-GB")
        page.goto(BASE)
        expect(page.get_by_role("link", name="Lanterns over the bay")).to_be_visible(timeout=60_000)
        page.wait_for_timeout(4000)
        shot(page, "shelf")
        job(page, "Festival album, first spread")
        opening(page, 8)
        shot(page, "bench")
        layouts(page)
        job(page, "Festival album, first spread")
        page.get_by_role("button", name="Fill the 12 empty openings").click()
        expect(page.get_by_role("button", name="Refill…")).to_be_visible()
        opening(page, 8)
        page.get_by_role("button", name="Crop and straighten").click()
        page.get_by_role("button", name="1:1").click()
        shot(page, "crop")
        page.get_by_role("button", name="Close").click()
        page.keyboard.press("Control+z")
        tick(page, "Keep areas")
        page.get_by_role("button", name="Walk", exact=True).click()
        shot(page, "walk")
        page.keyboard.press("Escape")
        tick(page, "Keep areas")
        page.keyboard.press("Control+z")
        expect(page.get_by_role("button", name="Fill the 12 empty openings")).to_be_visible()

        page.get_by_role("link", name="Edit layout").click()
        expect(page.locator("[data-layer]").first).to_be_visible()
        page.wait_for_timeout(1500)
        box = page.locator("[data-layer=opening-14]").bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 60, y - 44, steps=8)
        page.mouse.move(x - 116, y - 50, steps=8)
        shot(page, "workshop")
        page.keyboard.press("Escape")
        page.mouse.up()
        page.keyboard.press("Escape")
        job(page, "Festival album, first spread")
        page.keyboard.press("o")
        page.mouse.move(650, 270)
        shot(page, "press")
        page.keyboard.press("o")

        truth = made(17, 1500, 1000)
        with TemporaryDirectory() as folder:
            picture = Path(folder) / "nine on blue.png"
            Image.fromarray(as_holes(truth)).save(picture)
            page.goto(BASE)
            page.get_by_role("button", name="New template").click()
            page.get_by_test_id("template-file").set_input_files(picture)
            expect(page.locator("[data-kind=opening]").first).to_be_visible(timeout=20_000)
            page.locator("[data-layer=opening-2]").click()
            shot(page, "read")

        job(page, "Thank-you card")
        page.get_by_role("button", name="Page 2").click()
        page.get_by_role("link", name="Edit layout").click()
        page.locator("[data-layer=greeting]").click()
        page.get_by_role("button", name="Font: ").click()
        page.get_by_text("script", exact=True).first.click()
        shot(page, "words")
        page.keyboard.press("Escape")
        job(page, "Thank-you card")
        page.get_by_role("button", name="Preview fold").click()
        page.wait_for_timeout(2000)
        shot(page, "card")
        page.keyboard.press("Escape")
        job(page, "Skerry Sands, three days of wind")
        page.get_by_role("link", name="Flat plan").click()
        page.get_by_label("Show photos").check()
        page.wait_for_timeout(5000)
        shot(page, "plan")
        page.get_by_role("button", name="Auto layout…").click()
        expect(page.get_by_role("button", name="Apply layout")).to_be_enabled(timeout=60_000)
        shot(page, "book")
        page.get_by_role("button", name="Cancel").click()
        job(page, "Familienkalender Holm")
        page.get_by_role("link", name="Flat plan").click()
        expect(page.get_by_role("list", name="Sheets in order")).to_be_visible()
        page.wait_for_timeout(4000)
        page.locator("[data-name='Juni 2027']").dblclick()
        expect(page.get_by_test_id("sheet")).to_be_visible()
        page.get_by_role("button", name="Calendar…").click()
        shot(page, "calendar")
        page.get_by_role("button", name="Done").click()

        job(page, "From the old album")
        opening(page, 2)
        page.keyboard.press("r")
        expect(page.locator("[data-testid=retouch-view][data-settled]")).to_be_visible()
        page.get_by_role("button", name="Dust", exact=True).click()
        expect(page.get_by_test_id("proposed").first).to_be_visible()
        if (run := page.get_by_test_id("run")).count():
            run.first.get_by_role("button").first.click()  # alike touches unfold
        page.get_by_test_id("touch").first.get_by_role("button").first.click()
        shot(page, "retouch")
        page.keyboard.press("Escape")

        job(page, "For the festival stall")
        page.locator("[data-opening=print]").click()
        part(page, "Surface")
        shot(page, "surfaces")

        job(page, "From dune to pier")
        opening(page, 5)
        part(page, "Tone")
        page.get_by_role("checkbox", name="Exposure").check()
        typed(page, "Exposure", "0.4")
        page.get_by_role("checkbox", name="White balance").check()
        typed(page, "Warmth", "20")
        shot(page, "tone")
        for _ in range(4):
            page.keyboard.press("Control+z")
            page.wait_for_timeout(400)
        page.get_by_role("link", name="Dispatch").or_(page.get_by_role("button", name="Dispatch")).click()
        page.get_by_role("button", name=re.compile("^Export ")).click()
        expect(page.locator("[data-state=done]")).to_be_attached(timeout=60_000)
        shot(page, "dispatch")
        page.goto(f"{BASE}/orders")
        shot(page, "orders")
        page.goto(f"{BASE}/watched")
        expect(page.get_by_role("link", name="Ola Brandvik")).to_be_visible()
        shot(page, "watched")
        browser.close()


if __name__ == "__main__":
    main()
