"""Editions in the real browser: two side by side, one thing taken over; a walk through all; a job begun again."""

import re
from collections.abc import Callable
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.acting import bring, let_pass, settled, until, violations
from tests.browser.given import Given, Pile

EDITIONS = "Editions of these pages"
ON_ITS_WAY = "The next sheet is on its way"


def test_two_editions_side_by_side(page: Page, given: Callable[..., Given]) -> None:
    job = given("card-portrait", 3)
    before = job.state()
    (sheet, held), *_ = [(sheet, lies) for sheet, lies in before["placements"].items() if lies]
    opening, lies = next(iter(held.items()))
    photo = next(one["id"] for one in before["photos"] if one["id"] != lies["photo"])
    job.edit(op="add_edition", id="holm", name="Holm", like="first")
    job.edit(op="add_edition", id="moor", name="Moor", like="first")
    job.edit(op="put", edition="holm", sheet=sheet, opening=opening, photo=photo)
    job.edit(op="set_copies", edition="holm", copies=25)
    page.get_by_title(EDITIONS).click()
    page.get_by_role("menuitem", name="Compare with another…").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("combobox", name="The other edition")).to_have_value("Holm")
    rows = dialog.get_by_role("list", name="Differences").get_by_role("listitem")
    expect(rows.filter(has_text="Opening 1")).to_be_visible()
    expect(rows.filter(has_text="How many to print")).to_contain_text("25")
    for edition in ("First", "Holm"):
        picture = dialog.get_by_alt_text(f"This sheet in {edition}")
        expect(picture).to_be_visible()
        assert picture.evaluate("image => image.decode().then(() => image.naturalWidth)") == 700
    expect(page.get_by_role("menu")).to_have_count(0)
    assert violations(page) == []
    rows.filter(has_text="Opening 1").get_by_role("button", name="Take over").click()
    expect(rows.filter(has_text="Opening 1")).to_have_count(0)
    expect(rows.filter(has_text="How many to print")).to_be_visible()
    dialog.get_by_role("button", name="Close").click()
    settled(page)
    assert job.state()["placements"][sheet][opening]["photo"] == photo
    page.keyboard.press("Control+z")
    settled(page)
    assert job.state()["placements"][sheet][opening] == lies


def test_a_walk_through_what_was_found_in_all_editions(page: Page, given: Callable[..., Given]) -> None:
    """From one edition to the next without a hand on the mouse; photos of the test are small, which is found of each."""
    job = given("card-portrait", 2)
    job.edit(op="add_edition", id="holm", name="Holm", like="first")
    page.get_by_role("button", name="Other ways to walk").click()
    page.get_by_role("menuitem", name="Only those with findings, through all 2 editions").click()
    walk = page.get_by_role("region", name="Walk")
    expect(walk).to_contain_text(re.compile(r"Opening \d+.*, First, 1 of \d+; sheet 1 of 2 with findings"))

    def here() -> str:
        """Where the walk has come to, nothing once it has ended."""
        return "".join(walk.locator("strong").all_inner_texts())

    seen = [here()]

    def went_on() -> bool:
        now = here()
        if now in (seen[-1], ON_ITS_WAY):
            return False
        seen.append(now)
        return True

    while seen[-1]:
        page.keyboard.press("Enter")
        until(page, went_on)
    expect(walk).to_have_count(0)
    seen.pop()
    assert [("First" in said, "Holm" in said) for said in (seen[0], seen[-1])] == [(True, False), (False, True)]
    assert len(seen) == len(set(seen))
    expect(page.get_by_title(EDITIONS)).to_have_text("Holm")


def test_a_job_is_begun_again_for_new_photos(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("card-portrait", 2)
    job.edit(op="rename", name="Winter cards", customer="Holm", order_number="S-7")
    state = job.state()
    page.goto(base_url)
    page.get_by_label("Find a job").fill("Winter cards")
    page.get_by_role("button", name="More for Winter cards").first.click()
    page.get_by_role("menuitem", name="New job from this…").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("textbox", name="Customer")).to_have_value("Holm")
    dialog.get_by_label("Job name").fill("Winter cards, Moor")
    dialog.get_by_role("textbox", name="Customer").fill("Moor")
    expect(dialog.get_by_label("Looks and words, new photos")).to_be_checked()
    expect(page.get_by_role("menu")).to_have_count(0)
    assert violations(page) == []
    dialog.get_by_role("button", name="Create job").click()
    expect(page.get_by_text("Drop photos or a folder here")).to_be_visible()
    fresh = Given(page, page.url.split("/jobs/")[1].split("?")[0]).state()
    assert fresh["photos"] == []
    assert fresh["job"]["customer"] == "Moor"
    assert fresh["job"]["sheets"] == state["job"]["sheets"]


def test_an_edition_in_another_variant(page: Page, given: Callable[..., Given]) -> None:
    job = given("card-portrait", 2)
    page.get_by_title(EDITIONS).click()
    page.get_by_role("menuitem", name="Duplicate edition…").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Holm")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_title(EDITIONS)).to_have_text("Holm")
    settled(page)
    page.get_by_title(EDITIONS).click()
    expect(page.get_by_role("menuitem", name="Folded card, portrait")).to_be_disabled()
    page.get_by_role("menuitem", name="Folded card, landscape").click()
    settled(page)
    expect(page.get_by_text("7 × 10 in")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Opening 1, festival"))).to_be_visible()
    state = job.state()
    assert len(state["marks"]) == 4  # the job holds both
    # The first edition has its own two sheets, as before.
    page.get_by_title(EDITIONS).click()
    page.get_by_role("menuitem", name="First").click()
    expect(page.get_by_text("10 × 7 in")).to_be_visible()
    page.get_by_title(EDITIONS).click()
    page.get_by_role("menuitem", name="Holm").click()
    expect(page.get_by_text("7 × 10 in")).to_be_visible()
    expect(page.get_by_role("menu")).to_have_count(0)
    assert violations(page) == []
    page.get_by_role("link", name="Dispatch").click()
    page.get_by_label("All 2 editions").check()
    let_pass(page)
    page.get_by_role("button", name="Export 4 pages").click()
    expect(page.get_by_role("link", name="Holm_Fitting_02.jpg")).to_be_visible(timeout=120_000)
    expect(page.get_by_role("link", name="First_Fitting_02.jpg")).to_be_visible()
    expect(page.get_by_role("link", name="Holm_Fitting_03.jpg")).to_have_count(0)


def test_a_photo_that_comes_back_is_put_in_its_places(
    page: Page, given: Callable[..., Given], pile: Pile, tmp_path: Path
) -> None:
    job = given("card-portrait", 2)
    before = job.state()
    (opening, lies), *_ = [(o, p) for held in before["placements"].values() for o, p in held.items()]
    name = next(photo["name"] for photo in before["photos"] if photo["id"] == lies["photo"])
    source = next(path for path, photo in pile if photo.name == name)
    mended = tmp_path / name
    with Image.open(source) as picture:
        picture.transpose(Image.Transpose.FLIP_LEFT_RIGHT).save(mended, quality=92)
    bring(page, [mended])
    page.get_by_role("button", name="It came back: put it in its places").click()
    settled(page)
    after = job.state()
    held = next(p for held in after["placements"].values() for o, p in held.items() if o == opening)
    assert held["photo"] != lies["photo"]
    assert {**held, "photo": ""} == {**lies, "photo": ""}
    page.keyboard.press("Control+z")
    settled(page)
    again = next(p for held in job.state()["placements"].values() for o, p in held.items() if o == opening)
    assert again == lies


def test_the_edition_in_view_stays_in_view_on_every_screen(page: Page, given: Callable[..., Given]) -> None:
    job = given("card-portrait", 1)
    job.edit(op="add_edition", id="holm", name="Holm", like="first")
    page.goto(f"/jobs/{job.id}?sheet=inside&edition=holm")
    head = page.locator("header")
    expect(head).to_contain_text("Holm")
    page.get_by_role("link", name="Edit layout").click()
    expect(head).to_contain_text("Holm")
    page.locator("[data-layer=greeting]").click()
    page.locator("#words-greeting").fill("For Ida")
    page.get_by_role("link", name="Back to the bench").click()
    expect(head).to_contain_text("Holm")
    expect(page.get_by_role("list", name="Words")).to_contain_text("For Ida")
    page.get_by_role("link", name="Flat plan").click()
    expect(head).to_contain_text("Holm")
    page.reload()
    expect(head).to_contain_text("Holm")
    page.get_by_role("link", name="Dispatch").click()
    expect(head).to_contain_text("Holm")
    page.get_by_role("link", name="Back to the bench").click()
    expect(head).to_contain_text("Holm")
    for edition, words in (("first", None), ("holm", "For Ida")):
        answer = page.request.get(f"/api/jobs/{job.id}?edition={edition}&view=inside").json()
        part = next(part for part in answer["parts"]["editions"].values() if part["id"] == edition)
        name = part["fillings"].get("inside")
        texts = answer["parts"]["fillings"][name]["texts"] if name else {}
        assert texts.get("greeting") == words
