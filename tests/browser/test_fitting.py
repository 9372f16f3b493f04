"""Fitting in the real browser: hand, fill, walk, crop and straighten, keep areas, a slow machine.

Three jobs are done as a fitter does them, and their gestures counted: docs/gestures.md says how many they take.
"""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from sutaru.core.fitting import reading_order
from tests.browser.acting import choose, drag, figure, held, hole, middle, part, settled, slowed, violations
from tests.browser.given import Counted
from tests.conftest import TEMPLATES

# --- getting photos into openings -----------------------------------------------------------------------------------


def test_eighteen_by_hand(page: Page, given: Callable) -> None:
    job = given("album-spread-18", 20, fill=False)
    does = Counted(page)
    prints = page.get_by_role("button", name=re.compile(r"^festival-\d\d"))
    does.click(prints.nth(0))
    page.get_by_role("region", name="Pile").locator("[class*=strip]").evaluate(
        "(e) => { e.scrollLeft = e.scrollWidth }"
    )
    does.click(page.get_by_role("button", name=re.compile("^festival-19")), "Shift")
    expect(page.get_by_text("Placing 20 photos")).to_be_visible()
    does.press("x")  # the first is not wanted
    for number in range(1, 19):
        does.click(middle(page, number))
    does.press("Escape")
    expect(page.get_by_text("20 photos, 2 unused")).to_be_visible()
    does.check("Fill 18 by hand")
    order = [row["photo"] for row in job.state()["rows"]]
    names = {photo["id"]: photo["name"] for photo in job.state()["photos"]}
    assert [names[photo] for photo in order] == [f"festival-{n:02d}.jpg" for n in range(1, 19)]


def test_fill_asks_how_shows_first_and_leaves_pins(page: Page, given: Callable) -> None:
    job = given("collage-wind", 12, fill=False)
    page.keyboard.press("f")
    expect(page.get_by_text("12 photos, 5 unused")).to_be_visible()
    held = job.placements()
    hole(page, 2).click()
    page.keyboard.press("p")
    expect(page.get_by_role("button", name="Pin", exact=True)).to_have_attribute("aria-pressed", "true")
    menu = page.get_by_role("button", name="Other ways to fill")
    menu.click()
    page.get_by_role("switch", name="Always preview before filling").check()
    page.get_by_text("capture order").click()
    expect(page.get_by_text("Preview. Nothing is changed yet.")).to_be_visible()
    assert job.placements() == held  # nothing is changed yet
    page.keyboard.press("Escape")
    expect(page.get_by_text("Preview. Nothing is changed yet.")).to_have_count(0)
    menu.click()
    page.get_by_text("capture order").click()
    page.get_by_role("button", name="Apply (Enter)").click()
    expect(page.get_by_text("Preview. Nothing is changed yet.")).to_have_count(0)
    after = job.placements()
    assert after["leaning-left"] == held["leaning-left"]
    photos = [photo["id"] for photo in job.state()["photos"]]
    read = [opening.id for opening in reading_order(TEMPLATES["collage-wind"].sheets[0].layout)]
    rest = [photos.index(after[opening]["photo"]) for opening in read if opening != "leaning-left"]
    assert rest == sorted(rest)


def test_several_openings_at_once(page: Page, given: Callable) -> None:
    job = given("album-spread-18", 19)
    hole(page, 1).click()
    hole(page, 2).click(modifiers=["Shift"])
    page.get_by_role("table", name="Ledger").locator("tbody tr").nth(2).click(modifiers=["Control"])
    expect(page.get_by_role("heading", name="3 openings")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Spread one photo across").click()
    expect(page.get_by_label("part of a span")).to_have_count(3)
    shown = job.placements()
    assert len({shown[f"opening-{n}"]["photo"] for n in (1, 2, 3)}) == 1
    # Pulling the photo in one pulls it in all.
    hole(page, 2).click()
    page.keyboard.press("+")
    x, y = middle(page, 2)
    drag(page, (x, y), (x + 20, y))
    settled(page)
    moved = job.placements()
    assert all(moved[f"opening-{n}"] != shown[f"opening-{n}"] for n in (1, 2, 3))
    figure(page, "Nudge right", "2")
    expect(page.get_by_role("button", name="Reset nudge")).to_be_enabled()
    page.get_by_role("button", name="Reset nudge").click()
    expect(page.get_by_role("button", name="Reset nudge")).to_be_disabled()
    page.get_by_role("button", name="Separate").click()
    expect(page.get_by_label("part of a span")).to_have_count(0)


def test_the_pile_sorts_and_says_where_photos_are(page: Page, given: Callable) -> None:
    given("collage-wind", 9)
    first = page.get_by_role("button", name=re.compile(r"^festival-\d\d")).first
    choose(page, "Sorted by", "by name")
    expect(first).to_have_accessible_name(re.compile("festival-00"))
    choose(page, "Sorted by", "by orientation")
    expect(first).to_have_accessible_name(re.compile("960 by 640"))
    choose(page, "Sorted by", "by use")
    expect(first).to_have_accessible_name(re.compile("in opening"))


# --- fitting one ----------------------------------------------------------------------------------------------------


def test_five_crops_are_corrected_in_a_walk_without_the_mouse(page: Page, given: Callable) -> None:
    job = given("album-spread-18", 20)
    before = job.placements()
    does = Counted(page)
    does.press("Enter")
    expect(page.get_by_role("region", name="Walk").get_by_text("1 of 18")).to_be_visible()
    for step, keys in enumerate((["+", "ArrowLeft"], ["+", "ArrowUp"], ["+", "["], ["m"], ["2"]), 1):
        for key in keys:
            does.press(key)
        does.press("Enter")
        expect(page.get_by_role("region", name="Walk").get_by_text(f"{step + 1} of 18")).to_be_visible()
    does.press("Escape")
    expect(page.get_by_role("region", name="Pile")).to_be_visible()
    does.check("Correct five crops")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    settled(page)
    after, walked = job.placements(), sorted(job.places()["openings"], key=lambda place: place["reading"])
    changed = [row["reading"] for row in walked if after[row["opening"]] != before[row["opening"]]]
    assert changed == [1, 2, 3, 4, 5]
    assert after[walked[2]["opening"]]["turn_deg"] == pytest.approx(0.1)
    assert after[walked[4]["opening"]]["photo"] != before[walked[4]["opening"]]["photo"]


def test_a_walk_goes_through_findings_only(page: Page, given: Callable) -> None:
    job = given("collage-wind", 9)
    doubtful = {finding["layer"] for finding in job.state()["findings"]} & set(job.placements())
    assert doubtful
    page.get_by_role("button", name="Other ways to walk").click()
    page.get_by_text(re.compile("^Only the .* with findings")).click()
    expect(page.get_by_role("region", name="Walk").get_by_text(re.compile(r"1 of \d"))).to_be_visible()
    assert violations(page) == []
    page.get_by_role("list", name="Photos that fit best").get_by_role("button").first.click()
    page.get_by_role("button", name="End the walk").click()
    expect(page.get_by_role("region", name="Pile")).to_be_visible()


def test_what_was_found_in_an_opening_can_be_scrolled_by_keys(page: Page, given: Callable, base_url: str) -> None:
    job = given("collage-wind", 9)
    placed = job.placements()
    doubtful = next(finding["layer"] for finding in job.state()["findings"] if finding["layer"] in placed)
    page.goto(f"{base_url}/jobs/{job.id}?selected={doubtful}")
    found = page.get_by_role("region", name="Found here")
    expect(found).to_have_text(re.compile(r"\w"))
    found.focus()
    expect(found).to_be_focused()


def test_crop_straighten_and_keep_areas(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    page.keyboard.press("k")
    expect(page.get_by_test_id("keep-areas")).to_be_attached()
    page.keyboard.press("c")
    room = page.get_by_test_id("photo-room")
    expect(room).to_be_visible()
    assert violations(page) == []
    # What a ratio leaves bare is seen before it is chosen; a key meanwhile keeps nothing of it.
    page.get_by_role("button", name="16:9").hover()
    expect(page.get_by_text(re.compile(r"^Leaves \d+ % of the opening bare, above and below\.$"))).to_be_visible()
    expect(page.get_by_test_id("left-bare")).to_be_attached()
    expect(page.get_by_role("button", name="Opening", exact=True)).to_have_attribute("aria-pressed", "true")
    room.focus()
    page.keyboard.press("ArrowRight")
    settled(page)
    assert job.placements()["shore"]["ratio"] is None
    page.get_by_role("button", name="4:5").click()
    expect(page.get_by_role("button", name="4:5")).to_have_attribute("data-variant", "filled")
    assert job.placements()["shore"]["ratio"] == pytest.approx(5 / 4)  # it stands the way the opening does
    page.get_by_role("button", name="Swap width and height").click()
    page.get_by_role("button", name="Draw along a horizon").click()
    box = room.bounding_box()
    assert box
    drag(page, (box["x"] + 150, box["y"] + 260), (box["x"] + 550, box["y"] + 240))
    expect(page.get_by_label("Turn, in figures")).to_have_value("-2.9")
    # A keep area drawn by hand goes before what was found.
    page.get_by_role("button", name="Draw and move").click()
    drag(page, (box["x"] + 300, box["y"] + 200), (box["x"] + 380, box["y"] + 300))
    expect(page.get_by_text("Marked by hand.")).to_be_visible()
    photo = next(p for p in job.state()["photos"] if p["id"] == job.placements()["shore"]["photo"])
    assert {area["kind"] for area in photo["marked"]} == {"hand"}
    page.get_by_role("button", name="Reset to automatic").click()
    expect(page.get_by_text("Marked by hand.")).to_have_count(0)
    page.get_by_role("button", name="Opening", exact=True).click()
    # The corner of the frame zooms.
    page.get_by_role("button", name="Done").click()
    settled(page)
    lies = job.placements()["shore"]
    assert (lies["ratio"], lies["turn_deg"]) == (None, pytest.approx(-2.86, abs=0.05))


def test_the_photo_room_works_by_keys(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    page.keyboard.press("c")
    room = page.get_by_test_id("photo-room")
    room.focus()
    for key in ("+", "+", "+", "+", "+"):
        page.keyboard.press(key)
    page.keyboard.press("]")
    settled(page)
    before = job.placements()["shore"]
    assert (before["zoom"], before["turn_deg"]) == (pytest.approx(1.02**5, abs=1e-3), pytest.approx(-0.1))
    page.keyboard.press("ArrowRight")
    settled(page)
    assert job.placements()["shore"]["centre"][0] > before["centre"][0]  # the frame moves, as a pull would move it
    page.get_by_role("button", name="Add one").click()
    area = page.get_by_test_id("keep-area").last
    area.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Shift+ArrowRight")
    settled(page)

    def marked() -> list[dict]:
        photo = next(p for p in job.state()["photos"] if p["id"] == job.placements()["shore"]["photo"])
        return photo["marked"]

    several = len(marked())
    last = marked()[-1]
    sides = (last["left"], last["top"], last["width"], last["height"])
    assert (last["kind"], sides) == ("hand", pytest.approx((0.35, 0.31, 0.31, 0.3)))
    area.focus()
    page.keyboard.press("Delete")
    settled(page)
    assert len(marked()) == several - 1


def test_what_is_pulled_is_drawn_to_the_middle(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    job.edit(op="mark", photo=job.placements()["shore"]["photo"], areas=[])
    page.reload()
    hole(page, 1).click()
    page.keyboard.press("0")
    for _ in range(10):
        page.keyboard.press("+")
    page.keyboard.press("Shift+ArrowLeft")
    settled(page)
    x, y = middle(page, 1)
    drag(page, (x, y), (x + 2, y + 1))
    settled(page)
    assert job.placements()["shore"]["centre"] == pytest.approx([0.5, 0.5], abs=1e-6)
    # Alt, pressed once the pull has begun, frees it.
    page.mouse.move(x, y)
    page.mouse.down()
    page.keyboard.down("Alt")
    page.mouse.move(x + 2, y + 1, steps=4)
    page.mouse.up()
    page.keyboard.up("Alt")
    settled(page)
    assert job.placements()["shore"]["centre"] != pytest.approx([0.5, 0.5], abs=1e-6)


# --- a slow machine, a second window --------------------------------------------------------------------------------


def test_changes_in_quick_succession_are_all_kept_on_a_slow_machine(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    part(page, "Tone")
    slowed(page, r"/edits$", 700)
    page.get_by_role("checkbox", name="Exposure").check()
    figure(page, "Exposure", "1")
    page.get_by_role("checkbox", name="Black and white").check()
    page.get_by_role("checkbox", name="Contrast").check()
    assert page.locator("[data-kept=false]").count() == 1
    steps = job.photo_tones()[job.placements()["square-1"]["photo"]]["steps"]
    assert [step["kind"] for step in steps] == ["exposure", "contrast", "black_and_white"]
    assert steps[0]["stops"] == 1
    part(page, "Frame")
    page.get_by_role("checkbox", name="Border").check()
    figure(page, "Width", "7")
    page.get_by_role("checkbox", name="Shadow").check()
    choose(page, "Blend", "multiply")
    layer = job.layer("square-1")
    assert (layer["border"]["width_mm"], layer["blend"]) == (7, "multiply")
    assert layer["shadow"]


def test_an_old_answer_does_not_take_a_newer_change_back(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    part(page, "Frame")
    # Another window changes the job; while this one asks for the news, something is changed here.
    slowed(page, rf"/api/jobs/{job.id}\?", 1500)
    with page.expect_request(re.compile(rf"/api/jobs/{job.id}\?")):
        job.edit(op="rename", name="Renamed elsewhere", customer="")
    choose(page, "Blend", "screen")
    expect(page.locator("[data-kept=true]")).to_be_attached()
    page.wait_for_timeout(2000)  # the old answer has come by now
    expect(page.get_by_role("combobox", name="Blend")).to_have_value("screen")
    expect(page.get_by_role("button", name="Renamed elsewhere")).to_be_visible()


def test_an_undone_fit_goes_from_the_screen_though_pictures_are_late(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    zoom = page.get_by_label("Zoom")
    expect(zoom).to_have_value("1")
    let_go = held(page, r"/drawn/\w+/picture")
    for undo in (
        lambda: page.get_by_role("button", name="Undo", exact=True).click(),
        lambda: page.request.post(f"/api/jobs/{job.id}/undo", data={}),  # another window's
    ):
        page.locator("body").press("+")
        page.locator("body").press("+")
        expect(zoom).to_have_value("1.04")
        expect(page.locator("[data-kept=true]")).to_be_attached()
        undo()
        expect(zoom).to_have_value("1")
        expect(page.get_by_test_id("draft")).to_have_count(0)
    page.locator("body").press("ArrowRight")
    expect(page.locator("[data-kept=true]")).to_be_attached()
    assert job.placements()["square-1"]["zoom"] == 1
    let_go()
