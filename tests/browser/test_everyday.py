"""What a fitter does all day: the view, carrying photos about, the pile, one look for many, filling anew."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.acting import centre, choose, drag, figure, held, hole, middle, opening, part, settled, until
from tests.browser.given import Given


def width(page: Page) -> float:
    box = page.get_by_test_id("sheet").bounding_box()
    assert box
    return box["width"]


def test_what_lies_over_the_stage_covers_no_sheet_that_fits(page: Page, given: Callable[..., Given]) -> None:
    """Nor its lower edge when it is larger, once one has come there."""
    given("card-portrait", 1)

    def free() -> float:
        sheet = page.get_by_test_id("sheet").bounding_box()
        buttons = page.get_by_role("button", name="Larger view").bounding_box()
        assert sheet
        assert buttons
        return buttons["y"] - sheet["y"] - sheet["height"]

    assert free() > 0
    fits = width(page)
    page.get_by_role("button", name="Larger view").click()
    until(page, lambda: width(page) > fits * 1.4)
    page.mouse.move(*middle(page, 1))
    page.mouse.wheel(0, 2000)
    until(page, lambda: free() > 0)


def test_the_wheel_moves_the_view_and_never_a_crop(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 20)
    hole(page, 5).click()
    before, at = job.placements(), middle(page, 5)
    page.mouse.move(*at)
    page.mouse.wheel(0, -300)
    assert job.placements() == before
    # Ctrl enlarges about the pointer: what lay under it lies there still.
    small = width(page)
    page.keyboard.down("Control")
    page.mouse.wheel(0, -400)
    page.keyboard.up("Control")
    until(page, lambda: width(page) > small * 2)
    now = middle(page, 5)
    assert abs(now[0] - at[0]) < 3
    assert abs(now[1] - at[1]) < 3
    # Space and a pull, or the middle button, move the sheet; nothing is changed by it.
    page.keyboard.down(" ")
    drag(page, at, (at[0] - 80, at[1] - 60))
    page.keyboard.up(" ")
    moved = middle(page, 5)
    assert abs(moved[0] - now[0] + 80) < 3
    page.mouse.move(*moved)
    page.mouse.down(button="middle")
    page.mouse.move(moved[0] + 50, moved[1], steps=4)
    page.mouse.up(button="middle")
    assert abs(middle(page, 5)[0] - moved[0] - 50) < 3
    page.keyboard.press("Home")
    until(page, lambda: abs(width(page) - small) < 2)
    page.keyboard.press("End")
    # As large as it prints: 24 in and the bleed at 96 px an inch.
    until(page, lambda: abs(width(page) - (609.6 + 6) * 96 / 25.4) < 3)
    page.keyboard.press("Home")
    until(page, lambda: abs(width(page) - small) < 2)
    assert job.placements() == before
    # With Alt the wheel is a fitting tool.
    hole(page, 5).click()
    page.mouse.move(*middle(page, 5))
    page.keyboard.down("Alt")
    page.mouse.wheel(0, -300)
    page.keyboard.up("Alt")
    until(page, lambda: job.placements()["opening-5"]["zoom"] > 1.2)


def test_a_selected_photo_is_carried_by_its_handle_and_says_what_letting_go_does(
    page: Page,
    given: Callable[..., Given],
) -> None:
    job = given("album-spread-18", 17)
    before = job.placements()
    empty = next(o for o in (f"opening-{n}" for n in range(1, 19)) if o not in before)
    source = next(n for n in (10, 1, 14) if f"opening-{n}" in before)
    hole(page, source).click()
    settled(page)
    page.mouse.move(*centre(page.get_by_test_id("carry-handle")))
    page.mouse.down()
    page.mouse.move(*middle(page, 5), steps=8)
    expect(page.get_by_text("swap with 5", exact=True)).to_be_visible()
    page.mouse.move(*middle(page, int(empty.split("-")[1])), steps=8)
    expect(page.get_by_text(f"move to {empty.split('-')[1]}", exact=True)).to_be_visible()
    page.mouse.move(*middle(page, 5), steps=8)
    page.mouse.up()
    expect(opening(page, 5)).to_have_attribute("aria-pressed", "true")
    after = job.placements()
    assert after["opening-5"]["photo"] == before[f"opening-{source}"]["photo"]
    assert after[f"opening-{source}"]["photo"] == before["opening-5"]["photo"]
    # S, Tab, Enter swaps with the next opening, and nothing else.
    hole(page, 1).click()
    page.keyboard.press("s")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    settled(page)
    swapped = job.placements()
    changed = {o for o in swapped if swapped[o]["photo"] != after[o]["photo"]}
    assert len(changed) == 2
    assert "opening-1" in changed
    expect(page.get_by_role("region", name="Walk")).to_have_count(0)


def test_several_photos_of_the_pile_land_in_several_openings(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 8, fill=False)
    prints = page.locator("[data-pile] button[aria-pressed]")
    prints.nth(0).click()
    prints.nth(2).click(modifiers=["Shift"])
    prints.nth(1).drag_to(opening(page, 9).locator("[data-opening]"))
    settled(page)
    lies = job.placements()
    assert len(lies) == 3
    assert "opening-9" in lies
    page.get_by_role("button", name="Undo").click()
    settled(page)
    assert job.placements() == {}  # one gesture


def test_the_pile_is_searched_starred_and_put_aside(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 9, fill=False)
    pile = page.get_by_role("region", name="Pile")
    prints = pile.locator("button[aria-pressed]")
    expect(prints).to_have_count(9)
    page.get_by_label("Search the pile by name").fill("07")
    expect(prints).to_have_count(1)
    page.get_by_label("Search the pile by name").fill("")
    prints.nth(3).focus()
    page.keyboard.press("4")
    expect(prints.nth(3)).to_have_attribute("aria-label", re.compile("4 stars"))
    page.keyboard.press(" ")
    large = page.get_by_role("dialog")
    expect(large).to_contain_text("★★★★")
    page.keyboard.press("ArrowRight")
    expect(large).to_contain_text("5 of 9")
    page.keyboard.press("a")
    expect(large).to_contain_text("5 of 8")  # put aside, and the next one in its place
    page.keyboard.press(" ")
    expect(large).to_have_count(0)
    expect(prints).to_have_count(8)
    choose(page, "Show", "with stars")
    expect(prints).to_have_count(1)
    choose(page, "Show", "put aside")
    expect(prints).to_have_count(1)
    page.get_by_label("names", exact=True).check()
    expect(pile.get_by_text("festival-04.jpg")).to_be_visible()
    page.reload()
    expect(prints).to_have_count(1)  # as it was looked at last
    choose(page, "Show", "all")
    page.get_by_role("button", name="Fill all 18 openings").click()
    settled(page)
    stored = {photo["name"]: photo for photo in job.state()["photos"]}
    aside = next(photo for photo in stored.values() if photo.get("aside"))
    assert aside["id"] not in {p["photo"] for p in job.placements().values()}
    # A used photo put aside is told of, and stays where it lies; one taken out is told of; the way back is beside it.
    used = pile.get_by_role("button", name=re.compile(r"in opening \d")).first
    used.focus()
    page.keyboard.press("a")
    expect(page.get_by_text(re.compile("is set aside. It stays in 1 place"))).to_be_visible()
    expect(prints).to_have_count(7)
    page.get_by_role("alert").get_by_role("button", name="Undo").click()
    expect(prints).to_have_count(8)
    assert len(job.placements()) == 8
    used.focus()
    page.keyboard.press("Delete")
    told = page.get_by_text(re.compile("was removed from the pile and from 1 place"))
    expect(told).to_be_visible()
    page.get_by_role("alert").get_by_role("button", name="Undo").click()
    settled(page)
    assert len(job.placements()) == 8


def test_filling_anew_is_shown_first_and_leaves_what_a_hand_fitted(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 24)
    hole(page, 5).click()
    page.keyboard.press("+")
    settled(page)
    fitted = job.placements()
    page.get_by_role("button", name="Other ways to fill").click()
    page.get_by_role("menuitem", name="Refill all except manual fits: capture order").click()
    expect(page.get_by_text("Preview. Nothing is changed yet.")).to_be_visible()
    assert job.placements() == fitted
    page.keyboard.press("Enter")
    until(page, lambda: job.placements() != fitted)  # a filling is worked out on its own
    assert job.placements()["opening-5"] == fitted["opening-5"]


def test_one_look_for_many(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 20)
    job.edit(
        op="set_fields", sheet="spread", layers=["opening-1"], fields={"border": {"width_mm": 2.5, "colour": "#203040"}}
    )
    page.reload()
    hole(page, 1).click()
    page.keyboard.press("Control+a")
    expect(page.get_by_role("heading", name="18 openings")).to_be_visible()
    group = page.get_by_role("group", name="Copy look from opening 1")
    group.get_by_label("Zoom and turn").check()
    group.get_by_role("button", name="Apply to the other 17").click()
    settled(page)
    for identity in ("opening-2", "opening-18"):
        assert job.layer(identity)["border"]["width_mm"] == 2.5
    page.get_by_role("button", name="Undo").click()
    settled(page)
    assert job.layer("opening-18")["border"] is None  # one gesture


def test_enter_on_words_edits_them_and_focus_follows(page: Page, given: Callable[..., Given]) -> None:
    given("collage-shore", 6)
    words = page.get_by_role("button", name=re.compile("^Words: ")).first
    words.focus()
    page.keyboard.press("Enter")
    expect(page.locator("textarea:focus")).to_be_visible()
    page.keyboard.press("Escape")
    hole(page, 2).click()
    expect(opening(page, 2)).to_be_focused()
    page.keyboard.press("Tab")
    expect(opening(page, 3)).to_be_focused()


def test_a_flat_opening_is_sized_by_figures_and_by_its_sides(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 20)
    hole(page, 5).click()
    part(page, "Surface")
    wide = job.layer("opening-5")
    figure(page, "Width", "80")
    settled(page)
    assert job.layer("opening-5")["outline"]["width_mm"] == 80
    assert job.layer("opening-5")["surface"]["centre"] == wide["surface"]["centre"]
    start = centre(page.get_by_test_id("right-side"))
    drag(page, start, (start[0] + 30, start[1]))
    settled(page)
    pulled = job.layer("opening-5")
    grown = pulled["outline"]["width_mm"] - 80
    assert grown > 10
    # The left side stays where it was.
    assert abs(pulled["surface"]["centre"][0] - wide["surface"]["centre"][0] - grown / 2) < 0.02
    assert pulled["outline"]["height_mm"] == wide["outline"]["height_mm"]
    row = next(row for row in job.state()["rows"] if row["opening"] == "opening-5")
    assert row["placement"]["zoom"] == 1  # still fitted


def test_two_sides_pulled_before_the_server_answers_both_count(page: Page, given: Callable[..., Given]) -> None:
    job = given("album-spread-18", 20)
    hole(page, 5).click()
    part(page, "Surface")
    before = job.layer("opening-5")
    let_go = held(page, r"/edits$")
    for side, way in (("right-side", (30, 0)), ("lower-side", (0, 24))):
        start = centre(page.get_by_test_id(side))
        drag(page, start, (start[0] + way[0], start[1] + way[1]))
        end = centre(page.get_by_test_id(side))  # it lies where it was let go, and not where the server knows it
        assert end == pytest.approx((start[0] + way[0], start[1] + way[1]), abs=1)
    let_go()
    settled(page)
    after = job.layer("opening-5")
    for axis, name in enumerate(("width_mm", "height_mm")):
        grown = after["outline"][name] - before["outline"][name]
        assert grown > 8
        moved = after["surface"]["centre"][axis] - before["surface"]["centre"][axis]
        assert moved == pytest.approx(grown / 2, abs=0.02)  # the side opposite stayed


def test_the_shelf_asks_for_pictures_that_are_in_view_alone(page: Page, base_url: str) -> None:
    """A browser asks for six things at a time: a job that is opened must not wait for the pictures of sixty leaves."""
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "/sheets/" in request.url else None)
    page.goto(base_url)
    cards = page.get_by_role("article")
    expect(cards.first.locator("img").first).not_to_have_js_property("naturalWidth", 0, timeout=60_000)
    page.wait_for_timeout(500)  # whatever else is asked for at once
    sheets = page.locator("article img").count()
    assert sheets > 40
    assert len(asked) < sheets / 2
    last = cards.last.locator("img").first
    assert not last.evaluate("image => image.naturalWidth")
    last.scroll_into_view_if_needed()
    expect(last).not_to_have_js_property("naturalWidth", 0, timeout=60_000)
