"""The first hour: a tour of one job from photos to print file, text added, a sheet for photos left over, doors of a job."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.acting import drag, hole, settled, until, violations
from tests.browser.given import Counted, Given, Pile


def tour_title(page: Page, title: str) -> None:
    expect(page.get_by_role("complementary", name="Tour").get_by_role("heading")).to_have_text(re.compile(title))


def test_the_tour_leads_from_photos_to_a_print_file(page: Page, base_url: str) -> None:
    page.goto(base_url)
    hand = Counted(page)
    hand.click(page.get_by_role("button", name="Help"))
    hand.click(page.get_by_role("menuitem", name="Take the tour"))
    tour_title(page, "1 of 4.*Fill the openings")
    hand.press("f")
    tour_title(page, "2 of 4.*Mend what is marked")
    settled(page)
    hand.click(page.get_by_role("button", name=re.compile("^kite.jpg")).first)
    hand.click(hole(page, 1))
    tour_title(page, "3 of 4.*dispatch")
    hand.click(page.get_by_role("link", name="Dispatch"))
    tour_title(page, "4 of 4.*Export")
    assert violations(page) == []
    hand.click(page.get_by_role("button", name="Export 1 page"))
    tour_title(page, "That was a whole job")
    hand.check("The tour's job, from sample photos to a print file")
    page.get_by_role("button", name="Delete this job").click()
    expect(page).to_have_url(re.compile("/$"))
    expect(page.get_by_role("link", name="A first job")).to_have_count(0)


def test_the_tour_follows_undo_and_can_be_left(page: Page, base_url: str) -> None:
    page.goto(base_url)
    page.get_by_role("button", name="Help").click()
    page.get_by_role("menuitem", name="Take the tour").click()
    tour_title(page, "1 of 4")
    page.keyboard.press("f")
    tour_title(page, "2 of 4")
    settled(page)
    page.keyboard.press("Control+z")
    tour_title(page, "1 of 4")
    page.keyboard.press("Control+Shift+z")
    tour_title(page, "2 of 4")
    # Its job deleted, it begins anew.
    first = page.url
    page.goto(base_url)
    page.get_by_role("button", name="More for A first job").first.click()
    page.get_by_role("menuitem", name="Delete").click()
    page.get_by_role("button", name="Help").click()
    page.get_by_role("menuitem", name="Take the tour").click()
    tour_title(page, "1 of 4")
    assert page.url.split("?")[0] != first.split("?")[0]
    page.get_by_role("button", name="Leave the tour").click()
    expect(page.get_by_role("complementary", name="Tour")).to_have_count(0)
    page.reload()
    expect(page.get_by_role("button", name="Walk", exact=True)).to_be_visible()
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


def test_all_openings_are_framed_at_once(page: Page, given: Callable[..., Given]) -> None:
    job = given("collage-shore", 3)
    page.keyboard.press("Control+a")  # nothing was selected, and nothing has the focus
    panel = page.get_by_role("region", name="3 openings")
    panel.get_by_text("Frame", exact=True).click()
    panel.get_by_role("checkbox", name="Border").last.check()
    figure = panel.get_by_label("Width, in figures")
    figure.fill("0.2")
    figure.press("Enter")
    settled(page)
    widths = [layer["border"]["width_mm"] for layer in job.layers() if layer["kind"] == "opening"]
    assert len(widths) == 3
    assert len(set(widths)) == 1
    page.get_by_role("link", name="Edit layout").click()
    expect(page.get_by_role("button", name="Save as template")).to_be_visible()
    page.keyboard.press("Control+a")
    page.get_by_label("Colours", exact=True).fill("#336699")
    page.get_by_label("Colours", exact=True).press("Enter")
    settled(page)
    assert {layer["border"]["colour"] for layer in job.layers() if layer["kind"] == "opening"} == {"#336699"}


def test_a_job_is_proofed_and_becomes_a_template_from_the_shelf(
    page: Page, base_url: str, given: Callable[..., Given], tmp_path: Path
) -> None:
    job = given("collage-shore", 3)
    page.goto(base_url)
    page.get_by_role("button", name="More for Fitting").first.click()
    with page.expect_download() as proof:
        page.get_by_role("menuitem", name="Proof for the customer").click()
    proof.value.save_as(tmp_path / "proof.html")
    assert "<html" in (tmp_path / "proof.html").read_text("utf-8")[:400]
    page.get_by_role("button", name="More for Fitting").first.click()
    page.get_by_role("menuitem", name="Save as template…").click()
    page.get_by_label("Name of the template").fill("Shore, as Ola likes it")
    page.get_by_role("dialog").get_by_role("button", name="Save as template").click()
    expect(page.get_by_text("“Shore, as Ola likes it” is on the shelf")).to_be_visible()
    # What the customer writes to the proof of a single sheet comes back where it is dispatched.
    page.goto(f"{base_url}/jobs/{job.id}/dispatch")
    page.get_by_text("For the customer", exact=True).click()
    expect(page.get_by_role("link", name="Proof for the customer")).to_be_visible()
    expect(page.get_by_role("button", name="Bring remarks in…")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Check a print file…").click()
    expect(page.get_by_role("dialog").get_by_label("Lab sheet")).not_to_have_value("the standard that it names, alone")


def test_a_book_begins_with_its_photos(page: Page, base_url: str, pile: Pile) -> None:
    page.goto(base_url)
    page.get_by_role("button", name="New book").click()
    page.get_by_label("Title").fill("Wind and sand")
    page.get_by_role("dialog").get_by_test_id("choose-photos").set_input_files([str(path) for path, _ in pile[:3]])
    expect(page.get_by_text("3 photos chosen")).to_be_visible()
    page.get_by_role("button", name="Create book").click()
    expect(page.get_by_text("3 photos brought in")).to_be_visible()
    page.get_by_test_id("choose-photos").set_input_files([str(pile[3][0])])  # and more of them in the plan
    expect(page.get_by_text(re.compile("4 photos in the pile"))).to_be_visible()
