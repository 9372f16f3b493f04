"""A spread composed by hand in the real browser: larger, off the sheet, from the pile, in another layout."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.api import asking
from tests.api.asking import Pile
from tests.browser.acting import hole, opening, settled, until, violations
from tests.browser.given import Asked, Given
from tests.browser.test_book import BOOK, layout, photos


@pytest.fixture
def spread(page: Page, base_url: str, pile: Pile) -> Given:
    """A book whose second spread has five photos; two more lie in the pile."""
    body = {"name": "Dunes", "lab": "gullwing-300", "book": BOOK}
    job = Given(page, page.request.post(f"{base_url}/api/jobs", data=body).json()["id"])
    for path, _ in pile[:7]:
        page.request.post(f"{base_url}/api/jobs/{job.id}/photos?name={path.name}", data=path.read_bytes())
    page.goto(f"{base_url}/jobs/{job.id}?sheet=pages-2")
    expect(page.get_by_test_id("sheet")).to_be_visible()
    ids = [photo["id"] for photo in asking.pile_of(Asked(page), job.state())]
    assert asking.edit(Asked(page), job.id, op="compose_sheet", sheet="pages-2", add=ids[:5]).status_code == 200
    page.reload()
    expect(page.get_by_role("button", name=re.compile("^Opening"))).to_have_count(5)
    return job


def areas(job: Given) -> dict[str, float]:
    """How large each photo of the spread is, mm2."""
    lies = job.state()["placements"]["pages-2"]
    return {
        lies[layer["id"]]["photo"]: layer["outline"]["width_mm"] * layer["outline"]["height_mm"]
        for layer in layout(job, "pages-2")["layers"] if layer["kind"] == "opening"
    }  # fmt: skip


def test_photos_grow_leave_and_come_and_the_others_make_room(spread: Given, page: Page) -> None:
    before = areas(spread)
    hole(page, 2).click()
    photo = spread.state()["placements"]["pages-2"][opening(page, 2).get_attribute("data-layer")]["photo"]
    page.keyboard.press(">")
    until(page, lambda: areas(spread)[photo] >= 1.2 * before[photo])
    larger = areas(spread)
    page.keyboard.press("<")
    until(page, lambda: areas(spread)[photo] <= 0.84 * larger[photo])
    page.keyboard.press("Alt+Delete")
    until(page, lambda: photos(spread, "pages-2") == sorted(before.keys() - {photo}))
    expect(page.get_by_role("button", name=re.compile("^Opening"))).to_have_count(4)
    # One that is picked up is added by a key, and by letting it go beside all openings.
    pile = asking.pile_of(Asked(page), spread.state())
    spare = [held["name"] for held in pile if held["id"] not in before]
    prints = [
        page.locator("[data-pile]").get_by_role("button", name=re.compile(f"^{name[:-4]}")).first for name in spare
    ]
    prints[0].click()
    page.keyboard.press("+")
    until(page, lambda: len(photos(spread, "pages-2")) == 5)
    beside = page.locator("[data-stage]")
    prints[1].drag_to(beside, target_position={"x": 300, "y": 60})
    until(page, lambda: len(photos(spread, "pages-2")) == 6)
    page.keyboard.press("Control+z")
    until(page, lambda: len(photos(spread, "pages-2")) == 5)
    prints[1].click()
    paper = page.get_by_test_id("sheet").bounding_box()
    assert paper
    page.mouse.click(paper["x"] + paper["width"] - 8, paper["y"] + paper["height"] / 2)  # the right page's margin
    until(page, lambda: len(photos(spread, "pages-2")) == 6)
    came = next(held["id"] for held in pile if held["name"] == spare[1])
    lies = spread.state()["placements"]["pages-2"]
    box = next(layer for layer in layout(spread, "pages-2")["layers"] if lies.get(layer["id"], {}).get("photo") == came)
    assert box["surface"]["centre"][0] > 203.2


def test_layouts_are_drawn_with_the_photos_and_one_click_gives_one(spread: Given, page: Page) -> None:
    before = areas(spread)
    page.get_by_role("button", name="Layouts").click()
    choices = page.get_by_role("button", name=re.compile(r"^Layout \d"))
    expect(choices.first).to_be_visible()
    assert choices.first.locator("image").count() == 5
    assert violations(page) == []
    choices.nth(3).click()
    until(page, lambda: areas(spread) != before)
    expect(choices.nth(3)).to_have_attribute("aria-pressed", "true")
    given = areas(spread)
    assert given.keys() == before.keys()
    page.keyboard.press("Control+z")
    expect(choices.nth(3)).to_have_attribute("aria-pressed", "false")
    page.keyboard.press("Control+Shift+z")
    expect(choices.nth(3)).to_have_attribute("aria-pressed", "true")
    bar = page.get_by_role("region", name="Layouts")
    bar.get_by_role("button", name="More white space").click()
    until(page, lambda: sum(areas(spread).values()) <= 0.94 * sum(given.values()))
    bar.get_by_role("button", name="Less white space").click()
    settled(page)
    bar.get_by_role("button", name="Mirror layout").click()
    settled(page)
    page.keyboard.press("Escape")
    expect(bar).to_have_count(0)
    expect(page.get_by_role("region", name="Pile")).to_be_visible()


def test_what_was_in_hand_is_in_hand_again_when_the_sheet_cannot_take_it(
    page: Page, given: Callable[..., Given]
) -> None:
    given("collage-heart", 2, fill=False)
    page.locator("[data-pile] button[draggable]").first.click()
    page.keyboard.press("+")
    expect(page.get_by_text("Only rectangles that lie straight, and in no group, are composed.")).to_be_visible()
    expect(page.get_by_text("Click an opening, or the paper beside to add it.")).to_be_attached()
    hole(page, 1).click()
    expect(page.get_by_role("button", name=re.compile("^Opening 1, festival"))).to_be_visible()
