"""What can be done is offered where it lies, by the right button or a key, and found by a few letters."""

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

from tests.api.asking import pile_of
from tests.browser.acting import hole, opening, until, violations
from tests.browser.given import Asked, Given
from tests.browser.test_workshop import Draft, draft  # noqa: F401


def choose(page: Page, at: Locator, entry: str) -> None:
    """Chooses an entry of the menu that a right click on something opens."""
    at.click(button="right")
    page.get_by_role("menuitem", name=re.compile(f"^{re.escape(entry)}")).click()
    expect(page.get_by_role("menu")).to_have_count(0)


def test_an_opening_offers_what_its_keys_do(page: Page, given: Callable[..., Given]) -> None:
    job = given("collage-shore", 3)
    choose(page, hole(page, 2), "Mirror")
    until(page, lambda: job.placements()[opening(page, 2).get_attribute("data-layer")]["mirror"])
    hole(page, 2).click(button="right")
    menu = page.get_by_role("menu", name="Opening 2")
    expect(menu.get_by_role("menuitem", name="Pin")).to_be_visible()
    assert violations(page) == []
    menu.get_by_role("menuitem", name="Pin").click()
    opening(page, 2).focus()
    page.keyboard.press("Shift+F10")  # by the keyboard alone
    expect(menu.get_by_role("menuitem", name="Unpin")).to_be_visible()
    page.keyboard.press("Escape")
    expect(menu).to_have_count(0)
    expect(opening(page, 2)).to_be_focused()
    choose(page, hole(page, 3), "Clear")
    until(page, lambda: len(job.placements()) == 2)
    expect(page.get_by_role("button", name=re.compile("^Opening 3, empty"))).to_be_visible()
    choose(page, hole(page, 3), "Fill this opening")
    until(page, lambda: len(job.placements()) == 3)


def test_a_menu_lies_in_the_window_wherever_it_is_opened(page: Page, given: Callable[..., Given]) -> None:
    given("collage-shore", 3)
    for high in (800, 420):
        page.set_viewport_size({"width": 1280, "height": high})
        hole(page, 3).click(button="right")
        menu = page.get_by_role("menu")
        last = menu.get_by_role("menuitem", name="Take off the sheet")
        last.scroll_into_view_if_needed()
        for part in (menu, last):
            box = part.bounding_box()
            assert box
            assert box["y"] >= 0
            assert box["y"] + box["height"] <= high
        page.keyboard.press("Escape")
        expect(menu).to_have_count(0)


def test_photos_and_sheets_offer_what_can_be_done_with_them(
    page: Page, given: Callable[..., Given], base_url: str
) -> None:
    job = given("calendar-desk", 2, fill=False)
    photo = page.locator("[data-pile] button[draggable]").first
    facts = lambda: pile_of(Asked(page), job.state())  # noqa: E731
    choose(page, photo, "Set aside")
    until(page, lambda: facts()[0].get("aside") or facts()[1].get("aside"))
    choose(page, photo, "3 stars")
    until(page, lambda: 3 in {photo.get("stars") for photo in facts()})
    sheet_count = lambda: len(page.request.get(f"/api/jobs/{job.id}").json()["marks"])  # noqa: E731
    before = sheet_count()
    strip = page.get_by_role("navigation", name="Pages")
    choose(page, strip.get_by_role("button").nth(1), "Duplicate the layout")
    until(page, lambda: sheet_count() == before + 1)
    page.goto(f"{base_url}/jobs/{job.id}/plan")
    sheets = page.get_by_role("list", name="Sheets in order").locator("[data-sheet]")
    expect(sheets).to_have_count(before + 1)
    choose(page, sheets.nth(2), "Delete")
    expect(sheets).to_have_count(before)
    choose(page, sheets.nth(2), "Open on the bench")
    expect(page.get_by_test_id("sheet")).to_be_visible()


def test_layers_offer_what_can_be_done_with_them(page: Page, draft: Callable[..., Draft]) -> None:  # noqa: F811
    here = draft(width_mm=300, height_mm=200)
    shape = here.draw("c", (40, 40), (120, 120))
    choose(page, here.shape(shape), "Duplicate")
    rows = page.get_by_role("list", name="Layers").get_by_role("listitem")
    expect(rows).to_have_count(2)
    choose(page, rows.nth(1), "Lock position")
    until(page, lambda: here.layer(shape).get("place_locked"))
    choose(page, rows.nth(1), "Hide")
    until(page, lambda: here.layer(shape).get("visible") is False)
    choose(page, rows.nth(0), "Delete")
    expect(rows).to_have_count(1)


def test_a_few_letters_find_what_can_be_done_jobs_and_templates(
    page: Page, given: Callable[..., Given], base_url: str
) -> None:
    job = given("collage-shore", 3)
    hole(page, 1).click()
    page.keyboard.press("Control+k")
    find = page.get_by_role("textbox", name="Find")
    expect(find).to_be_focused()
    find.fill("mirr")
    expect(page.get_by_role("dialog").get_by_role("button", name="Mirror M")).to_be_visible()
    assert violations(page) == []
    page.keyboard.press("Enter")
    until(page, lambda: job.placements()[opening(page, 1).get_attribute("data-layer")]["mirror"])
    page.keyboard.press("Control+k")
    find.fill("watched fold")
    page.keyboard.press("Enter")
    expect(page).to_have_url(f"{base_url}/watched")
    page.keyboard.press("Control+k")
    find.fill("fitting")  # the job's name
    page.get_by_role("button", name=re.compile("^Fitting")).first.click()
    expect(page.get_by_test_id("sheet")).to_be_visible()
    page.keyboard.press("Control+k")
    find.fill("5x7")
    page.get_by_role("button", name=re.compile("card · 5 × 7 in")).first.click()
    expect(page.get_by_role("dialog").get_by_label("Job name")).to_be_visible()


def test_a_job_on_the_shelf_offers_what_its_dots_do(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 0, fill=False)
    job.edit(op="rename", name="Sand drift")
    page.goto(base_url)
    row = page.get_by_role("link", name=re.compile("Sand drift"))
    choose(page, row, "Archive")
    expect(row).to_have_count(0)
    card = page.get_by_role("article").first
    name = card.get_attribute("aria-label") or ""
    choose(page, card.get_by_role("button", name="New job from"), "New job…")
    expect(page.get_by_role("dialog", name=re.compile(re.escape(name)))).to_be_visible()


def test_what_is_done_with_a_design_holds_for_all_its_sizes(page: Page, base_url: str) -> None:
    def sizes_with(mark: str) -> list[str]:
        cards = page.request.get("/api/templates").json()
        return sorted(card["id"] for card in cards if card["name"] == "Bleed and three" and card[mark])

    every = [f"spread-bleed-and-three-{size}" for size in ("10x10", "11x8-5", "12x12")]
    page.goto(base_url)
    design = page.get_by_role("article", name="Bleed and three")
    choose(page, design.get_by_role("button", name="New job from Bleed and three", exact=True), "Add to favourites")
    until(page, lambda: sizes_with("favourite") == every)
    choose(page, design.get_by_role("button", name="New job from Bleed and three", exact=True), "Archive")
    expect(design).to_have_count(0)
    assert sizes_with("archived") == every
    for identity in every:  # the studio of these tests is one for all
        page.request.delete(f"{base_url}/api/templates/{identity}/archived")
        page.request.delete(f"{base_url}/api/templates/{identity}/favourite")


def test_escape_closes_a_menu_before_the_focus_has_come_to_it(page: Page, given: Callable[..., Given]) -> None:
    """On a busy machine the key is quicker than the focus."""
    given("collage-shore", 2)
    hole(page, 2).click()
    menu = page.get_by_role("menu")
    for open_menu in (
        lambda: page.get_by_role("button", name="View", exact=True).click(),
        lambda: hole(page, 2).click(button="right"),
    ):
        open_menu()
        expect(menu).to_be_visible()
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Escape")
        expect(menu).to_have_count(0)
        expect(opening(page, 2)).to_have_attribute("aria-pressed", "true")  # nothing was deselected by it


def test_the_manual_is_served_and_opens_at_the_screens_own_page(page: Page, given: Callable[..., Given]) -> None:
    given("collage-shore", 1)
    page.keyboard.press("?")
    with page.context.expect_page() as opened:
        page.get_by_role("link", name="Manual").click()
    manual = opened.value
    expect(manual).to_have_url(re.compile("/manual#fill$"))
    expect(manual.get_by_role("heading", name="Fill", exact=True)).to_be_in_viewport()
    assert violations(manual) == []
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.get_by_role("textbox", name="Find").fill("retouching")
    with page.context.expect_page() as opened:
        page.keyboard.press("Enter")
    expect(opened.value).to_have_url(re.compile("/manual#retouching$"))
