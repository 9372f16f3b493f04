"""Keys in the real browser: each goes where the person looks, whatever was pressed before it."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.acting import drag, figure, hole, settled, tick, until
from tests.browser.given import Given
from tests.browser.test_retouching import at, dusty, room, seen  # noqa: F401
from tests.browser.test_workshop import Draft, draft  # noqa: F401


def test_what_a_colour_is_chosen_from_covers_no_field_and_closes(page: Page, draft: Callable[..., Draft]) -> None:  # noqa: F811
    here = draft(width_mm=300, height_mm=200)
    shape = here.draw("c", (40, 40), (120, 120))
    field = page.get_by_role("textbox", name="Colour", exact=True)
    chooser = page.locator(".mantine-ColorPicker-wrapper")
    field.fill("#336699")
    expect(chooser).to_have_count(0)  # who types is shown nothing over the next field
    field.press("Enter")
    until(page, lambda: here.layer(shape)["colour"] == "#336699")
    opener = page.get_by_role("button", name="Colour: choose")
    for close in (
        lambda: page.keyboard.press("Enter"),
        lambda: page.keyboard.press("Escape"),
        lambda: page.mouse.click(*here.at(20, 180)),
    ):
        here.shape(shape).click()
        opener.click()
        expect(chooser).to_be_visible()
        box, below = chooser.bounding_box(), page.get_by_role("button", name="Save as swatch").bounding_box()
        assert box
        assert below
        assert box["x"] + box["width"] <= below["x"]  # beside the panel, over none of its fields
        close()
        expect(chooser).to_have_count(0)
    # Any way to write it is understood, and what is none changes nothing.
    here.shape(shape).click()
    for said, means in (("0a0", "#00aa00"), ("rgb(1, 2, 3)", "#010203"), ("greenish", "#010203")):
        field.fill(said)
        field.press("Enter")
        until(page, lambda means=means: here.layer(shape)["colour"] == means)


def test_what_is_typed_after_a_box_is_drawn_goes_into_it_and_nothing_after_escape(
    page: Page, draft: Callable[..., Draft]  # noqa: F811
) -> None:  # fmt: skip
    here = draft(width_mm=300, height_mm=200)
    page.keyboard.press("t")
    drag(page, here.at(40, 40), here.at(160, 80))
    page.keyboard.type("Reeds at dusk")
    page.keyboard.press("Escape")
    page.keyboard.press("r")
    expect(page.get_by_role("button", name="Rectangle", exact=True)).to_have_attribute("aria-pressed", "true")
    (words,) = here.layout()["layers"]
    assert words["text"] == "Reeds at dusk"


def test_keys_go_on_after_a_tool_a_list_and_a_button(page: Page, draft: Callable[..., Draft]) -> None:  # noqa: F811
    here = draft(width_mm=300, height_mm=200)
    page.get_by_role("button", name="Rectangle", exact=True).click()
    page.keyboard.press("Enter")  # lays one in the middle; it does not press the button again
    expect(page.locator("[data-chosen]")).to_have_count(1)
    shape = here.chosen()
    page.get_by_role("combobox", name="Blend").click()
    page.get_by_role("option", name="multiply").click()
    until(page, lambda: here.layer(shape)["blend"] == "multiply")
    centre = here.layer(shape)["surface"]["centre"]
    page.keyboard.press("ArrowRight")
    until(page, lambda: here.layer(shape)["surface"]["centre"] == [centre[0] + 1, centre[1]])
    tick(page, "Cut lines")
    page.keyboard.press("ArrowRight")
    until(page, lambda: here.layer(shape)["surface"]["centre"] == [centre[0] + 2, centre[1]])


def test_keys_go_on_in_the_photo_room(page: Page, dusty: Given) -> None:  # noqa: F811
    room(page)
    page.get_by_role("button", name="Fill", exact=True).click()
    page.keyboard.press("Enter")  # sets the brush down in the middle
    expect(page.get_by_test_id("touch")).to_have_count(1)
    page.get_by_role("button", name="Dust", exact=True).click()
    page.get_by_role("button", name=re.compile("^Heal (it|all)")).click(timeout=60_000)
    settled(page)
    expect(page.get_by_test_id("touch")).not_to_have_count(1)
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("touch")).to_have_count(1)
    figure(page, "Size", "40")
    page.keyboard.press("Escape")  # out of the field; the room stays
    expect(page.get_by_test_id("retouch-view")).to_be_visible()


def test_keys_go_on_at_the_bench(page: Page, given: Callable[..., Given]) -> None:
    given("collage-shore", 6)
    hole(page, 2).click()
    tick(page, "Keep areas")
    zoom = page.get_by_label("Zoom")
    page.keyboard.press("+")
    expect(zoom).to_have_value("1.02")


def test_an_ordinary_wheel_turns_the_pile(page: Page, given: Callable[..., Given]) -> None:
    given("collage-wind", 24)

    pile = page.get_by_role("region", name="Pile")
    box = pile.bounding_box()
    assert box
    first = pile.get_by_role("button", name=re.compile(r"^festival-\d\d")).first
    left = first.bounding_box()
    assert left
    page.mouse.move(box["x"] + 300, box["y"] + box["height"] - 40)
    page.mouse.wheel(0, 240)
    until(page, lambda: (first.bounding_box() or {"x": -999})["x"] < left["x"] - 100 or first.bounding_box() is None)


def test_a_screen_says_what_it_waits_for(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 2)
    for path in ("", "/workshop", "/plan", "/dispatch", "/book"):
        page.route(re.compile(f"/api/jobs/{job.id}\\?"), lambda route: route.abort())
        page.goto(f"{base_url}/jobs/{job.id}{path}")
        expect(page.get_by_role("status").filter(has_text="does not answer")).to_be_visible()
        page.unroute_all(behavior="ignoreErrors")
        expect(page.locator("h1")).to_have_text(re.compile("."))
    page.goto(f"{base_url}/jobs/0123456789ab/plan")
    expect(page.get_by_role("alert")).to_be_visible()
    expect(page.get_by_role("link", name="To the shelf")).to_be_visible()
