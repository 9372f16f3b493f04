"""Fitting in the real browser: hand, fill, keep areas, walk, crop and straighten, surfaces, echo, span, frame, tone.

Three jobs are done as a fitter does them, and their gestures counted: docs/gestures.md says how many they take.
"""

import re
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import APIResponse, Locator, Page, Route, expect

from sutaru.core.fitting import reading_order
from tests.api import asking
from tests.browser.test_access import violations
from tests.browser.test_order import Pile, drag, ledger, middle, opening, patience  # noqa: F401 (a fixture)
from tests.conftest import TEMPLATES

GESTURES = Path(__file__).parent.parent.parent / "docs" / "gestures.md"


class Asked:
    """The page's own requests, as the tests of the API ask."""

    def __init__(self, page: Page) -> None:
        self._request = page.request

    def get(self, path: str, params: dict | None = None) -> "Answer":
        return Answer(self._request.get(path, params=params))

    def post(self, path: str, json: object) -> "Answer":
        return Answer(self._request.post(path, data=json))


class Answer:
    def __init__(self, answer: APIResponse) -> None:
        self.status_code, self.json = answer.status, answer.json


@dataclass
class Given:
    """A job made through the API, open on the bench."""

    page: Page
    id: str

    def state(self) -> dict:
        """What is stored, once everything done on the page is."""
        expect(self.page.locator("[data-kept=true]")).to_be_attached()
        return asking.state(Asked(self.page), self.id)

    def edit(self, **edit: object) -> None:
        answer = asking.edit(Asked(self.page), self.id, **edit)
        assert answer.status_code == 200, answer.json()

    def layout(self) -> str:
        """Name of the first sheet's layout."""
        sheets = asking.part(Asked(self.page), "sheets", self.state()["job"]["sheets"])["sheets"]
        return sheets[0]["layout"]

    def layer(self, identity: str) -> dict:
        layers = asking.part(Asked(self.page), "layouts", self.layout())["layers"]
        return next(layer for layer in layers if layer["id"] == identity)

    def places(self) -> dict:
        """Where openings and echoes lie, by the same numbers as the ledger's rows."""
        return self.page.request.get(f"/api/layouts/{self.layout()}/places").json()

    def placements(self) -> dict:
        """How photos lie, by opening, as the ledger tells it."""
        return {row["opening"]: row["placement"] for row in self.state()["rows"] if row["placement"]}

    def photo_tones(self) -> dict:
        return self.state()["edition_part"].get("photo_tones", {})


@pytest.fixture
def given(page: Page, base_url: str, pile: Pile) -> Callable[..., Given]:
    def make(template: str, photos: int, fill: bool = True) -> Given:
        asked = {"template": template, "name": "Fitting", "lab": "gullwing-300"}
        job = Given(page, page.request.post(f"{base_url}/api/jobs", data=asked).json()["id"])
        for path, _ in pile[:photos]:
            page.request.post(f"{base_url}/api/jobs/{job.id}/photos?name={path.name}", data=path.read_bytes())
        if fill:
            job.edit(op="fill")
        page.goto(f"{base_url}/jobs/{job.id}")
        expect(page.get_by_test_id("sheet")).to_be_visible()
        unit = page.get_by_role("button", name="Lengths in in", exact=True)
        if unit.count():
            unit.click()  # millimetres, as the document has them
        return job

    return make


class Counted:
    """Mouse and keys, each press or pull one gesture."""

    def __init__(self, page: Page) -> None:
        self.page, self.count, self.start = page, 0, time.monotonic()

    def click(self, where: Locator | tuple[float, float], modifier: str | None = None) -> None:
        self.count += 1
        if isinstance(where, tuple):
            self.page.mouse.click(*where)
        else:
            where.click(modifiers=[modifier] if modifier else None)  # type: ignore[list-item]

    def press(self, key: str) -> None:
        self.count += 1
        self.page.keyboard.press(key)

    def pull(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        self.count += 1
        drag(self.page, start, end)

    def check(self, what: str) -> None:
        """The count is what the documentation says."""
        seconds = time.monotonic() - self.start
        print(f"{what}: {self.count} gestures, {seconds:.1f} s by machine")
        (row,) = [line for line in GESTURES.read_text("utf-8").splitlines() if line.startswith(f"| {what} |")]
        assert int(row.split("|")[2]) == self.count, f"docs/gestures.md is out of date: {what} takes {self.count}"


def hole(page: Page, number: int) -> Locator:
    return opening(page, number).locator("[data-opening]")


def centre(locator: Locator) -> tuple[float, float]:
    box = locator.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def part(page: Page, name: str) -> None:
    page.get_by_label("What to change").get_by_text(name, exact=True).click()


def figure(page: Page, name: str, text: str) -> None:
    """Types a figure as a person does, and keeps it with Enter."""
    field = page.get_by_label(f"{name}, in figures")
    field.click()
    field.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def choose(page: Page, name: str, what: str) -> None:
    """Chooses one of a list."""
    page.get_by_role("combobox", name=name).click()
    page.get_by_role("option", name=what, exact=True).click()


def settled(page: Page) -> None:
    """Everything done is stored, and the picture shows it."""
    expect(page.locator("[data-kept=true]")).to_be_attached()
    expect(page.get_by_test_id("draft")).to_have_count(0)


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
    expect(page.get_by_text("20 in hand")).to_be_visible()
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
    page.get_by_role("switch", name="Show the result before it is kept").check()
    page.get_by_text("in order of capture").click()
    expect(page.get_by_text("This is how it would be.")).to_be_visible()
    assert job.placements() == held  # nothing is changed yet
    page.keyboard.press("Escape")
    expect(page.get_by_text("This is how it would be.")).to_have_count(0)
    menu.click()
    page.get_by_text("in order of capture").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("This is how it would be.")).to_have_count(0)
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
    page.get_by_role("button", name="Run one photo through them").click()
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
    expect(page.get_by_role("button", name="Put back")).to_be_enabled()
    page.get_by_role("button", name="Put back").click()
    expect(page.get_by_role("button", name="Put back")).to_be_disabled()
    page.get_by_role("button", name="End the span").click()
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


def test_crop_straighten_and_keep_areas(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    page.keyboard.press("k")
    expect(page.get_by_test_id("keep-areas")).to_be_attached()
    page.keyboard.press("c")
    room = page.get_by_test_id("photo-room")
    expect(room).to_be_visible()
    assert violations(page) == []
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
    page.get_by_role("button", name="Back to what was found").click()
    expect(page.get_by_text("Marked by hand.")).to_have_count(0)
    page.get_by_role("button", name="Opening", exact=True).click()
    # The corner of the frame zooms.
    page.get_by_role("button", name="Done").click()
    settled(page)
    lies = job.placements()["shore"]
    assert (lies["ratio"], lies["turn_deg"]) == (None, pytest.approx(-2.86, abs=0.05))


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


# --- surfaces -------------------------------------------------------------------------------------------------------


def test_one_is_slanted_and_reflected(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    does = Counted(page)
    does.click(page.get_by_label("What to change").get_by_text("Surface", exact=True))
    does.click(page.get_by_label("Surface", exact=True).get_by_text("Corners", exact=True))
    expect(page.get_by_test_id("corner-0-0")).to_be_visible()
    does.click(page.get_by_label("How corners help each other").get_by_text("Equal heights"))
    x, y = centre(page.get_by_test_id("corner-0-1"))
    does.pull((x, y), (x, y + 22))
    settled(page)
    does.click(page.get_by_role("button", name="Add a reflection"))
    expect(page.get_by_role("heading", name="Reflection")).to_be_visible()
    does.check("Slant one and add its reflection")
    a, b, c, d = job.layer("square-1")["surface"]["points"]
    assert c[1] - b[1] == pytest.approx(d[1] - a[1], abs=0.01)
    assert b[1] > a[1] + 3
    (echo,) = job.places()["echoes"]
    # Its upper edge, as seen, is its source's lower one: it lines up without a corner having been pulled.
    assert echo["corners"][0] == pytest.approx(d, abs=0.01)
    assert echo["corners"][1] == pytest.approx(c, abs=0.01)
    assert violations(page) == []

    # A corner pulled across its neighbours is refused in words, and nothing is lost.
    before = job.layer("square-1")["surface"]
    page.get_by_label("How corners help each other").get_by_text("Each alone").click()
    drag(page, centre(page.get_by_test_id("corner-0-0")), centre(page.get_by_test_id("corner-1-1")))
    expect(page.get_by_text("These points fold or cave in")).to_be_visible()
    assert job.layer("square-1")["surface"] == before
    # By key, and off the page.
    page.get_by_test_id("corner-1-0").focus()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Bottom left, across")).to_have_value(f"{d[0] - 1:g}")
    page.get_by_label("Bottom left, across").fill("-20")
    page.keyboard.press("Enter")
    assert job.layer("square-1")["surface"]["points"][3][0] == -20

    # The reflection's own settings; its floor is drawn with two clicks.
    figure(page, "Darken", "30")
    page.get_by_role("button", name="Draw the floor line").click()
    sheet = page.get_by_test_id("sheet").bounding_box()
    assert sheet
    page.mouse.click(sheet["x"] + 20, sheet["y"] + sheet["height"] - 40)
    page.mouse.click(sheet["x"] + 200, sheet["y"] + sheet["height"] - 40)
    expect(page.get_by_role("button", name="Back to the source's edge")).to_be_visible()
    echo_layer = job.layer("square-1-echo-1")
    assert echo_layer["darken"] == pytest.approx(0.3)
    assert echo_layer["floor"]["line"][0][1] == pytest.approx(echo_layer["floor"]["line"][1][1])
    page.get_by_role("button", name="Remove").click()
    expect(page.get_by_role("heading", name="Reflection")).to_have_count(0)


def test_an_opening_that_is_moved_is_drawn_to_its_neighbours_edges(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    part(page, "Surface")
    rows = {place["opening"]: place for place in job.places()["openings"]}

    def left(identity: str) -> float:
        x, _ = job.layer(identity)["surface"]["centre"]
        return x - rows[identity]["width_mm"] / 2

    scale = hole(page, 2).bounding_box()["width"] / rows["square-1"]["width_mm"]  # type: ignore[index]
    off = left("shore") - left("square-1")
    x, y = centre(page.get_by_test_id("corner-0-0"))
    # Three pixels beside the neighbour's edge; a line says what it was drawn to.
    end = (x + off * scale + 3, y + 7)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move((x + end[0]) / 2, (y + end[1]) / 2)
    page.mouse.move(*end)
    expect(page.get_by_test_id("edge-line").first).to_be_attached()
    expect(page.get_by_test_id("draft")).to_be_visible()
    page.mouse.up()
    settled(page)
    assert left("square-1") == pytest.approx(left("shore"), abs=0.002)
    # With Alt it goes free.
    x, y = centre(page.get_by_test_id("corner-0-0"))
    page.keyboard.down("Alt")
    drag(page, (x, y), (x + 3, y))
    page.keyboard.up("Alt")
    settled(page)
    assert left("square-1") == pytest.approx(left("shore") + 3 / scale, abs=0.35)


def test_grid_roll_and_ppi_picture(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    part(page, "Surface")
    kinds = page.get_by_label("Surface", exact=True)
    kinds.get_by_text("Grid", exact=True).click()
    expect(page.get_by_test_id("corner-3-3")).to_be_visible()
    x, y = centre(page.get_by_test_id("corner-1-1"))
    drag(page, (x, y), (x + 14, y - 18))
    before = job.layer("square-1")["surface"]["net"]
    choose(page, "Rows", "5")
    expect(page.get_by_test_id("corner-4-0")).to_be_visible()
    assert len(before) == 4
    assert len(job.layer("square-1")["surface"]["net"]) == 5
    # A net that folds is refused by the core, in words.
    drag(page, centre(page.get_by_test_id("corner-0-0")), (x + 120, y + 260))
    expect(page.get_by_text("This grid folds over itself")).to_be_visible()
    page.keyboard.press("h")
    expect(page.get_by_test_id("heat")).to_be_attached()
    expect(page.get_by_test_id("heat").get_by_text(re.compile(r"\d ppi"))).not_to_have_count(0)
    kinds.get_by_text("Roll", exact=True).click()
    figure(page, "Tilt", "25")
    assert job.layer("square-1")["surface"]["tilt_deg"] == 25
    figure(page, "Radius", "6")
    expect(page.get_by_text("reaches round to the back of its cylinder")).to_be_visible()
    kinds.get_by_text("Flat", exact=True).click()
    page.get_by_text("Stretch and skew, on purpose").click()
    figure(page, "Stretch across", "1.25")
    expect(page.get_by_role("table", name="Ledger").get_by_text("1.25 : 1")).to_be_visible()


# --- frames and tone ------------------------------------------------------------------------------------------------


def test_frame_and_mask(page: Page, given: Callable, tmp_path: Path) -> None:
    from PIL import Image, ImageDraw

    job = given("collage-shore", 6)
    hole(page, 2).click()
    part(page, "Frame")
    page.get_by_role("checkbox", name="Border").check()
    page.get_by_role("checkbox", name="Mat").check()
    page.get_by_role("checkbox", name="Shadow").check()
    page.get_by_label("Kind of shadow").get_by_text("Lifted corners").click()
    figure(page, "Rounded", "4")
    assert violations(page) == []
    picture = Image.new("L", (90, 60))
    ImageDraw.Draw(picture).ellipse((5, 5, 85, 55), fill=255)
    picture.save(tmp_path / "mask.png")
    page.get_by_test_id("choose-mask").set_input_files(tmp_path / "mask.png")
    expect(page.get_by_role("combobox", name="read by")).to_have_value("luminance")
    layer = job.layer("square-1")
    assert layer["shadow"]["kind"] == "lifted"
    assert layer["border"]
    assert layer["mat"]
    choose(page, "read by", "alpha")
    expect(page.get_by_text("shows nothing when it is read by alpha")).to_be_visible()
    choose(page, "Blend", "multiply")
    assert job.layer("square-1")["blend"] == "multiply"


def test_tone_of_a_photo_and_of_one_opening_before_and_after(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    part(page, "Tone")
    page.get_by_role("checkbox", name="Exposure").check()
    figure(page, "Exposure", "1")
    page.get_by_role("checkbox", name="Black and white").check()
    expect(page.get_by_label("Red", exact=True)).to_be_attached()
    assert violations(page) == []
    photo = job.placements()["square-1"]["photo"]
    steps = job.photo_tones()[photo]["steps"]
    assert [step["kind"] for step in steps] == ["exposure", "black_and_white"]
    page.get_by_role("checkbox", name="Exposure").uncheck()
    picture = page.get_by_alt_text("Print as it will print")
    page.keyboard.press("b")
    expect(page.get_by_text("Before mending.")).to_be_visible()
    expect(picture).to_have_attribute("src", re.compile("mending=false"))
    page.keyboard.press("b")
    expect(picture).not_to_have_attribute("src", re.compile("mending=false"))
    page.get_by_text("This opening only").click()
    page.get_by_role("checkbox", name="Enhance", exact=True).check()
    page.get_by_role("checkbox", name="Already worked on").check()
    filling = job.state()["fillings"]["print"]
    # It began as the photo is mended everywhere.
    kinds = [(step["kind"], step["on"]) for step in filling["tones"]["square-1"]["steps"]]
    assert kinds == [("enhance", True), ("exposure", False), ("black_and_white", True)]
    assert next(p for p in job.state()["photos"] if p["id"] == photo)["already_worked"]
    page.get_by_role("button", name="Take all mending off").click()
    expect(page.get_by_role("button", name="Take all mending off")).to_be_disabled()
    assert "square-1" not in job.state()["fillings"]["print"]["tones"]
    assert ledger(page, 2)[1]


# --- a slow machine, a second window --------------------------------------------------------------------------------


def slowed(page: Page, pattern: str, ms: int) -> None:
    """Answers to such requests come late; what they say is what the server knew at once."""

    def late(route: Route) -> None:
        answer = route.fetch()
        page.wait_for_timeout(ms)
        route.fulfill(response=answer)

    page.route(re.compile(pattern), late)


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


def test_a_photo_on_a_bent_surface_is_pulled_bent(page: Page, given: Callable) -> None:
    job = given("mockup-table", 6)
    mug = page.locator("[data-opening=mug]")
    mug.click()
    for _ in range(3):
        page.keyboard.press("+")
    settled(page)
    before = job.placements()["mug"]
    x, y = centre(mug)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 8, y + 3)
    page.mouse.move(x + 14, y + 6)
    canvas = page.get_by_test_id("draft").locator("canvas")
    expect(canvas).to_be_visible()
    # Something is drawn in its middle, and its lower edge sags as the mug does: nothing at the box's lower corners.
    painted = """(canvas, [fx, fy]) => {
      const at = [Math.min(canvas.width - 1, fx * canvas.width), Math.min(canvas.height - 1, fy * canvas.height)];
      return canvas.getContext("2d").getImageData(...at, 1, 1).data[3];
    }"""
    page.wait_for_function(f"(canvas) => ({painted})(canvas, [0.5, 0.5]) > 0", arg=canvas.element_handle())
    assert canvas.evaluate(painted, [0.5, 0.5]) == 255
    assert canvas.evaluate(painted, [0.5, 0.99]) > 0
    assert canvas.evaluate(painted, [0.0, 0.999]) == 0
    page.mouse.up()
    settled(page)
    assert job.placements()["mug"]["centre"] != before["centre"]
