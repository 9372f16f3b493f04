"""The first hour: a tour of one job from photos to print file, text added, a sheet for photos left over, doors of a job."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.acting import drag, hole, settled, until, violations
from tests.browser.given import Given


def tour_title(page: Page, title: str) -> None:
    expect(page.get_by_role("complementary", name="Tour").get_by_role("heading")).to_have_text(re.compile(title))


def test_the_tour_leads_from_photos_to_a_print_file(page: Page, base_url: str) -> None:
    page.goto(base_url)
    page.get_by_role("button", name="Help").click()
    page.get_by_role("menuitem", name="Take the tour").click()
    tour_title(page, "1 of 4.*Fill the openings")
    assert violations(page) == []
    page.keyboard.press("f")
    tour_title(page, "2 of 4.*Mend what is marked")
    settled(page)
    # What is undone is asked for again.
    page.keyboard.press("Control+z")
    tour_title(page, "1 of 4")
    page.keyboard.press("Control+Shift+z")
    tour_title(page, "2 of 4")
    page.get_by_role("button", name=re.compile("^kite.jpg")).first.click()
    hole(page, 1).click()
    tour_title(page, "3 of 4.*dispatch")
    # It is left, and taken again where it was.
    page.get_by_role("button", name="Leave the tour").click()
    expect(page.get_by_role("complementary", name="Tour")).to_have_count(0)
    page.get_by_role("link", name="Dispatch").click()
    page.get_by_role("button", name="Export 1 page").click()
    expect(page.get_by_role("link", name=re.compile("jpg"))).to_be_visible(timeout=60_000)
    expect(page.get_by_role("complementary", name="Tour")).to_have_count(0)


def test_text_is_added_moved_and_deleted_on_the_bench(page: Page, given: Callable[..., Given]) -> None:
    job = given("collage-shore", 3)
    before = {layer["id"] for layer in job.layers()}
    page.get_by_role("button", name="Add text").click()
    on_sheet = page.get_by_label("on the sheet")
    expect(on_sheet).to_be_focused()
    page.keyboard.type("Low tide at Skerry")
    page.keyboard.press("Escape")
    settled(page)
    [text] = [layer for layer in job.layers() if layer["id"] not in before]
    texts = {layer: words for filling in job.state()["fillings"].values() for layer, words in filling["texts"].items()}
    assert texts[text["id"]] == "Low tide at Skerry"
    box = page.locator(f"[data-layer={text['id']}]")
    area = box.bounding_box()
    assert area
    x, y = area["x"] + area["width"] / 2, area["y"] + area["height"] / 2
    drag(page, (x, y), (x - 40, y - 60))
    settled(page)
    pulled = job.layer(text["id"])["centre"]
    assert pulled[0] < text["centre"][0] - 1
    assert pulled[1] < text["centre"][1] - 1
    # Arrows shift it, each visit one step of undo; Delete takes it away, and undo brings it back with its words.
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    settled(page)
    assert abs(job.layer(text["id"])["centre"][0] - pulled[0] - 3) < 1e-6
    page.keyboard.press("Control+z")
    settled(page)
    assert job.layer(text["id"])["centre"] == pulled
    page.keyboard.press("Delete")
    until(page, lambda: text["id"] not in {layer["id"] for layer in job.layers()})
    page.keyboard.press("Control+z")
    settled(page)
    assert text["id"] in {layer["id"] for layer in job.layers()}


def test_photos_left_over_get_sheets(page: Page, given: Callable[..., Given]) -> None:
    job = given("collage-shore", 8, fill=False)
    expect(page.get_by_role("button", name=re.compile("for them$"))).to_have_count(0)  # openings are empty still
    page.keyboard.press("f")
    settled(page)
    page.get_by_role("button", name="Add 2 sheets for them").click()
    settled(page)
    until(page, lambda: len(job.state()["marks"]) == 3)
    settled(page)
    placed = [p["photo"] for filling in job.state()["fillings"].values() for p in filling["placements"].values()]
    assert len(placed) == len(set(placed)) == 8
    page.keyboard.press("Control+z")
    until(page, lambda: len(job.state()["marks"]) == 1)
