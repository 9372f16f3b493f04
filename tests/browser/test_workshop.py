"""The workshop in the real browser: templates drawn, arranged, turned, kept; by mouse and by keys."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.api import asking
from tests.browser.acting import centre, drag, held, slowed, until, violations
from tests.browser.given import Asked, Counted
from tests.core.test_flat_pictures import as_holes, made


class Draft:
    """A template in the workshop, open on its screen."""

    def __init__(self, page: Page, base_url: str, **asked: object) -> None:
        self.page = page
        answer = page.request.post(f"{base_url}/api/workshop", data={"name": "Dune triptych", **asked})
        assert answer.status == 201, answer.text()
        self.id = answer.json()["id"]
        page.goto(f"{base_url}/jobs/{self.id}/workshop")
        expect(page.get_by_test_id("sheet")).to_be_visible()
        unit = page.get_by_role("button", name="Lengths in in", exact=True)
        if unit.count():
            unit.click()

    def layout(self) -> dict:
        expect(self.page.locator("[data-kept=true]")).to_be_attached()
        head = asking.head(Asked(self.page), self.id)
        sheets = asking.part(Asked(self.page), "sheets", head["job"]["sheets"])["sheets"]
        return asking.part(Asked(self.page), "layouts", sheets[0]["layout"])

    def layer(self, identity: str) -> dict:
        return next(layer for layer in self.layout()["layers"] if layer["id"] == identity)

    def at(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """A point of the page on the screen."""
        box = self.page.get_by_test_id("sheet").bounding_box()
        assert box
        layout = self.layout()
        scale = box["width"] / (layout["width_mm"] + 2 * layout["bleed_mm"])
        return box["x"] + (x_mm + layout["bleed_mm"]) * scale, box["y"] + (y_mm + layout["bleed_mm"]) * scale

    def shape(self, identity: str) -> Locator:
        return self.page.locator(f"[data-layer='{identity}']")

    def draw(self, key: str, start: tuple[float, float], end: tuple[float, float]) -> str:
        """Pulls what a tool makes; its id."""
        self.page.keyboard.press(key)
        drag(self.page, self.at(*start), self.at(*end))
        return self.chosen()

    def chosen(self) -> str:
        """The id of the one layer selected."""
        expect(self.page.locator("[data-chosen]")).to_have_count(1)
        return self.page.locator("[data-chosen]").get_attribute("data-layer") or ""


@pytest.fixture
def draft(page: Page, base_url: str) -> Callable[..., Draft]:
    return lambda **asked: Draft(page, base_url, **asked)


def test_an_18_opening_spread_from_a_blank(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(lab="gullwing-300", blank="spread-12")
    does = Counted(page)
    does.press("r")
    does.pull(here.at(6, 6), here.at(96, 94))
    does.click(page.get_by_label("Rows"))
    does.press("3")
    does.press("Enter")
    does.click(page.get_by_role("button", name="Repeat"))
    expect(page.locator("[data-chosen]")).to_have_count(9)
    does.press("Control+a")
    page.keyboard.down("Control")
    does.pull(here.at(50, 50), here.at(50 + 304.8, 50))
    page.keyboard.up("Control")
    does.check("Build an 18-opening spread from a blank")
    expect(page.locator("[data-layer]")).to_have_count(18)
    layers = here.layout()["layers"]
    assert {layer["kind"] for layer in layers} == {"opening"}
    # Drawn to the safe line at 6 mm on the left, and all in one size.
    assert min(layer["surface"]["centre"][0] - layer["outline"]["width_mm"] / 2 for layer in layers) == pytest.approx(6)
    assert len({(o["outline"]["width_mm"], o["outline"]["height_mm"]) for o in layers}) == 1
    page.keyboard.press("Control+z")
    expect(page.locator("[data-layer]")).to_have_count(9)


def test_one_large_opening_for_two_small_in_a_job(page: Page, given: Callable) -> None:
    job = given("album-spread-18", 6)
    page.get_by_role("link", name="Edit layout").click()
    first, second = (page.locator(f"[data-layer='opening-{n}']") for n in (2, 3))
    page.mouse.click(*centre(first))
    does = Counted(page)
    page.keyboard.down("Shift")
    does.click(centre(second))
    page.keyboard.up("Shift")
    does.click(page.get_by_role("button", name="Merge into one opening"))
    does.check("Put one large opening for two small")
    expect(page.locator("[data-layer^='opening']")).to_have_count(17)
    assert len(job.state()["rows"]) == 17
    page.get_by_role("link", name="Back to the bench").click()
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr")).to_have_count(17)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr")).to_have_count(18)


def test_a_template_is_turned_and_kept_as_new(page: Page, draft: Callable[..., Draft], base_url: str) -> None:
    here = draft(template="card-portrait", name="Card, turned")
    before = here.layout()
    does = Counted(page)
    does.click(page.get_by_role("button", name="Rotate left"))
    does.click(page.get_by_role("button", name="Save to shelf"))
    does.click(page.get_by_role("button", name="Save as template"))
    does.check("Turn a template and keep it as new")
    expect(page.get_by_text("“Card, turned” is on the shelf: a new template.")).to_be_visible()
    after = here.layout()
    assert (after["width_mm"], after["height_mm"]) == (before["height_mm"], before["width_mm"])
    page.get_by_role("link", name="Shelf").click()
    card = page.get_by_role("article", name="Card, turned")
    expect(card).to_contain_text("the studio's")
    page.get_by_label("Find a template").fill("card, turned")
    expect(page.locator("article")).to_have_count(1)
    card.get_by_role("button", name="More for Card, turned").click()
    page.get_by_role("menuitem", name="Edit (saves a new revision)").click()
    page.get_by_role("button", name="Flip or 180°").click()
    page.get_by_role("menuitem", name="Rotate 180°").click()
    page.get_by_role("button", name="Save to shelf").click()
    page.get_by_role("button", name="Save new revision").click()
    expect(page.get_by_text("“Card, turned” is on the shelf: revision 2.")).to_be_visible()


def test_drawn_by_keys_set_by_figures_taken_back(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    for key, kind in (("r", "opening"), ("c", "fill"), ("t", "text"), ("n", "note"), ("e", "opening")):
        page.keyboard.press(key)
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name=re.compile("^Selected"))).to_contain_text(kind)
        if kind == "text":
            page.keyboard.press("Escape")  # what is typed goes into it until then
    assert [layer["kind"] for layer in here.layout()["layers"]] == ["opening", "fill", "text", "note", "opening"]
    drawn = here.chosen()
    slowed(page, r"/edits$", 400)  # each figure is typed before the server has said where those before it led
    for name, text in (("Left mm", "20"), ("Top mm", "30,5"), ("Width mm", "80"), ("Height mm", "60")):
        page.get_by_label(name).click()
        page.get_by_label(name).press("Control+a")
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    ellipse = here.layer(drawn)
    page.unroute_all(behavior="wait")
    assert (ellipse["outline"]["width_mm"], ellipse["outline"]["height_mm"]) == (80, 60)
    assert ellipse["surface"]["centre"] == pytest.approx([60, 60.5], abs=1e-6)
    page.keyboard.press("Escape")
    here.shape(drawn).focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    assert here.layer(drawn)["surface"]["centre"] == pytest.approx([61, 60.6])
    page.keyboard.press("Control+z")  # one run of keys is one step
    expect(page.get_by_label("Left mm")).to_have_value("20")
    page.keyboard.press("Delete")
    expect(here.shape(drawn)).to_have_count(0)
    assert [layer["kind"] for layer in here.layout()["layers"]] == ["opening", "fill", "text", "note"]


def test_what_is_pulled_lies_there_before_the_server_has_answered(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    drawn = here.draw("r", (40, 40), (100, 80))
    there = here.at(140, 125)
    let_go = held(page, r"/edits$")
    page.get_by_test_id("handle 1,1").hover()
    corner = page.get_by_test_id("handle 1,1")
    drag(page, centre(corner), there)
    until(page, lambda: centre(corner) == pytest.approx(there, abs=3))
    knob = centre(page.get_by_test_id("turn handle"))
    drag(page, knob, (knob[0] + 60, knob[1] + 40))
    turned = centre(page.get_by_test_id("turn handle"))
    assert turned[0] > knob[0] + 20
    shape = here.shape(drawn).bounding_box()
    let_go()
    here.layer(drawn)
    assert centre(page.get_by_test_id("turn handle")) == pytest.approx(turned, abs=1)
    assert here.shape(drawn).bounding_box() == pytest.approx(shape, abs=1)


def test_what_is_drawn_copied_and_taken_away_shows_before_the_server_has_answered(
    page: Page, draft: Callable[..., Draft]
) -> None:
    here = draft(width_mm=300, height_mm=200)
    where = here.at(20, 20), here.at(60, 60)
    let_go = held(page, r"/edits$")
    page.keyboard.press("r")
    drag(page, *where)
    drawn = here.chosen()
    stack = page.get_by_role("list", name="Layers")
    expect(stack.get_by_role("button", name="Opening 1", exact=True)).to_be_visible()
    wide = here.shape(drawn).bounding_box()
    assert wide
    # Copied twice: each beside the one before it, none on another.
    lefts = [wide["x"]]
    for number in (2, 3):
        page.keyboard.press("Control+d")
        expect(stack.get_by_role("button", name=f"Opening {number}", exact=True)).to_be_visible()
        box = here.shape(here.chosen()).bounding_box()
        assert box
        lefts.append(box["x"])
    assert lefts[2] - lefts[1] == pytest.approx(lefts[1] - lefts[0], abs=1)
    assert lefts[1] - lefts[0] > wide["width"]
    page.keyboard.press("Delete")
    expect(stack.locator("li[data-row]")).to_have_count(2)
    # Undone before it was ever sent, it is there again.
    page.keyboard.press("Control+z")
    expect(stack.locator("li[data-row]")).to_have_count(3)
    shown = page.locator("[data-layer]").evaluate_all("all => all.map(one => one.dataset.layer)")
    let_go()
    assert [layer["id"] for layer in here.layout()["layers"]] == shown
    assert [here.shape(one).bounding_box()["x"] for one in shown] == pytest.approx(lefts, abs=3)  # its line is thinner


def test_what_is_drawn_is_shown_whole_before_the_server_has_answered(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    where = here.at(40, 40), here.at(160, 120)
    let_go = held(page, r"/edits$")
    kinds = {"r": "opening", "o": "opening", "e": "opening", "c": "fill", "t": "text", "m": "dates", "n": "note"}
    for key in kinds:
        page.keyboard.press(key)
        drag(page, *where)
        chosen = page.get_by_role("region", name=re.compile("^Selected"))
        expect(chosen).to_be_visible()
        figures = chosen.locator("input").evaluate_all("all => all.map(one => one.value)")
        assert not [value for value in figures if value in ("NaN", "undefined", "null")], key
        page.keyboard.press("Escape")
        expect(page.get_by_label("on the sheet")).to_have_count(0)
        page.keyboard.press("Escape")
    expect(page.get_by_text("This screen broke")).to_have_count(0)
    let_go()
    assert {layer["kind"] for layer in here.layout()["layers"]} == set(kinds.values())


def test_pulls_size_turn_and_draw_to_lines(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    drawn = here.draw("r", (40, 40), (100, 80))
    box = here.layer(drawn)["outline"]
    page.get_by_test_id("handle 1,1").hover()
    drag(page, centre(page.get_by_test_id("handle 1,1")), here.at(140, 120))
    sized = here.layer(drawn)
    assert sized["outline"]["width_mm"] > box["width_mm"] + 30
    x = sized["surface"]["centre"][0] - sized["outline"]["width_mm"] / 2
    assert x == pytest.approx(40, abs=0.6)  # what lies opposite stayed
    # Near the page's middle it is drawn to it exactly.
    drag(
        page,
        here.at(60, 60),
        here.at(60 + 150 - sized["surface"]["centre"][0] + 1, 60 + 100 - sized["surface"]["centre"][1] - 1),
    )
    assert here.layer(drawn)["surface"]["centre"] == pytest.approx([150, 100], abs=1e-6)
    knob = centre(page.get_by_test_id("turn handle"))
    drag(page, knob, (knob[0] + 60, knob[1] + 40))
    turned = here.layer(drawn)["surface"]["turn_deg"]
    assert -90 < turned < -5
    assert turned == round(turned, 2)


def test_a_polygon_and_a_free_line_become_openings(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    page.keyboard.press("p")
    for x, y in ((40, 40), (120, 44), (90, 110)):
        page.mouse.click(*here.at(x, y))
    page.keyboard.press("Enter")
    expect(page.locator("[data-layer]")).to_have_count(1)
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    page.mouse.move(*here.at(200, 60))
    page.mouse.down()
    for x, y in ((250, 70), (260, 120), (210, 130), (190, 90)):
        page.mouse.move(*here.at(x, y), steps=4)
    page.mouse.up()
    expect(page.locator("[data-layer]")).to_have_count(2)
    assert [layer["outline"]["kind"] for layer in here.layout()["layers"]] == ["path", "path"]


def test_the_stack_list_and_the_sheet_point_at_each_other(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    first = here.draw("r", (30, 30), (100, 90))
    second = here.draw("e", (150, 30), (220, 90))
    stack = page.get_by_role("list", name="Layers")
    stack.get_by_role("button", name="Opening 1", exact=True).click()
    expect(here.shape(first)).to_have_attribute("data-chosen", "true")
    page.mouse.click(*centre(here.shape(second)))
    expect(stack.locator(f"[data-row='{second}']")).to_have_attribute("data-selected", "true")
    page.keyboard.press("[")
    expect(stack.locator("li").first).to_contain_text("Opening 1")  # it lies above now, and keeps its number
    assert [layer["id"] for layer in here.layout()["layers"]] == [second, first]
    stack.get_by_role("button", name="Place of Opening 1 locked").click()
    stack.get_by_role("button", name="Opening 2 shown").click()
    layers = {layer["id"]: layer for layer in here.layout()["layers"]}
    assert (layers[first]["place_locked"], layers[second]["visible"]) == (True, False)
    page.keyboard.press("Control+a")
    page.keyboard.press("Control+g")
    expect(stack.locator("[data-row='group-2']")).to_have_count(0)  # one of them is locked, and said so
    expect(page.get_by_text(re.compile("is locked in its place"))).to_be_visible()


def test_an_opening_is_skewed_numbered_and_locked_by_hand(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    first, second = here.draw("r", (30, 30), (100, 90)), here.draw("r", (150, 30), (220, 90))
    page.get_by_label("Number", exact=True).fill("1")
    page.keyboard.press("Enter")
    assert here.layout()["order"] == [second, first]
    page.get_by_label("Skew °").fill("12,5")
    page.keyboard.press("Enter")
    assert here.layer(second)["surface"]["skew_deg"] == 12.5
    page.get_by_label("Lock content").check()
    assert here.layer(second)["content_locked"] is True
    # A template has no customer.
    page.get_by_role("button", name="Dune triptych").click()
    expect(page.get_by_label("Name of the template")).to_be_visible()
    expect(page.get_by_label("Customer")).to_have_count(0)


def test_guides_come_out_of_the_rulers_and_draw(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=300, height_mm=200)
    ruler = page.locator("[data-pulls=x]").bounding_box()
    assert ruler
    drag(page, (ruler["x"] + 10, ruler["y"] + 200), here.at(73, 90))
    expect(page.get_by_test_id("guide x")).to_have_count(1)
    (guide,) = here.layout()["guides"]
    assert guide == {"axis": "x", "at_mm": pytest.approx(73, abs=0.4)}
    drawn = here.layer(here.draw("r", (74, 50), (130, 90)))
    assert drawn["surface"]["centre"][0] - drawn["outline"]["width_mm"] / 2 == pytest.approx(guide["at_mm"])
    page.keyboard.press("Escape")
    drag(page, here.at(guide["at_mm"], 150), here.at(-30, 150))
    expect(page.get_by_test_id("guide x")).to_have_count(0)


def test_a_flat_picture_of_nine_openings_is_read(page: Page, base_url: str, tmp_path: Path) -> None:
    truth = made(17, 1500, 1000)
    count = len(truth.shapes)
    file = tmp_path / "nine.png"
    Image.fromarray(as_holes(truth)).save(file)
    page.goto(base_url)
    does = Counted(page)
    does.click(page.get_by_role("button", name="New template"))
    with page.expect_file_chooser() as chooser:
        does.click(page.get_by_role("button", name="Import"))
    does.count += 1
    chooser.value.set_files(file)
    expect(page.get_by_text(f"{count} openings found, by holes")).to_be_visible()
    does.check("Read a flat picture of nine openings")
    expect(page.locator("[data-kind=opening]")).to_have_count(count)
    # The picture lies over the photos; openings are picked through it, and corrected as any.
    page.mouse.click(*centre(page.locator("[data-layer='opening-1']")))
    expect(page.get_by_role("region", name=re.compile("^Selected: Opening 1"))).to_be_visible()
    # Pointed at again, an area that has its opening gets no second one.
    page.keyboard.press("k")
    other = centre(page.locator("[data-layer='opening-2']"))
    for _ in range(2):
        with page.expect_response(re.compile("/areas$")):
            page.mouse.click(*other)
    expect(page.get_by_role("region", name=re.compile("^Selected: Opening 2"))).to_be_visible()
    expect(page.locator("[data-kind=opening]")).to_have_count(count)
    page.get_by_role("button", name="Save to shelf").click()
    page.get_by_role("button", name="Save as template").click()
    expect(page.get_by_text("“nine” is on the shelf: a new template.")).to_be_visible()


def test_the_workshop_is_open_to_all(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(template="card-portrait", name="For everybody")
    assert violations(page) == []
    page.mouse.click(*centre(page.locator("[data-kind=opening]").first))
    expect(page.get_by_role("region", name=re.compile("^Selected"))).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Save to shelf").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert violations(page) == []
    assert here.id
    page.goto("/")
    page.get_by_role("button", name="New template").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert violations(page) == []
