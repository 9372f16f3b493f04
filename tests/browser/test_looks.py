"""How an opening looks, in the real browser: slanted, bent, reflected, framed, masked, toned."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.acting import centre, choose, drag, figure, hole, ledger, part, settled, until, violations
from tests.browser.given import Counted

# --- surfaces -------------------------------------------------------------------------------------------------------


def test_one_is_slanted_and_reflected(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    does = Counted(page)
    does.click(page.get_by_label("What to change").get_by_text("Surface", exact=True))
    does.click(page.get_by_label("Surface", exact=True).get_by_text("Corners", exact=True))
    expect(page.get_by_test_id("corner-0-0")).to_be_visible()
    does.click(page.get_by_label("Corner constraint").get_by_text("Equal heights"))
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

    # Pulled outward they stretch the photo: it is said, wants a look, and is taken back by a button.
    for name in ("Top right, across", "Bottom right, across"):
        field = page.get_by_label(name)
        field.fill(f"{float(field.input_value()) * 1.4:g}")
        field.press("Enter")
    found = page.get_by_text(re.compile(r"^Opening 2 stretches its photo 1\.\d\d : 1\.$"))
    page.get_by_text("Findings").first.click()
    expect(found.first).to_be_visible()
    page.get_by_role("button", name="Reset proportions").click()
    expect(found).to_have_count(0)
    expect(page.get_by_role("button", name="Reset proportions")).to_have_count(0)
    settled(page)
    for _ in range(3):
        page.get_by_role("button", name="Undo", exact=True).click()
    settled(page)

    # A corner pulled across its neighbours is refused in words, and nothing is lost.
    before = job.layer("square-1")["surface"]
    page.get_by_label("Corner constraint").get_by_text("Free corners").click()
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
    expect(page.get_by_role("button", name="Reset to the photo's edge")).to_be_visible()
    echo_layer = job.layer("square-1-echo-1")
    assert echo_layer["darken"] == pytest.approx(0.3)
    assert echo_layer["floor"]["line"][0][1] == pytest.approx(echo_layer["floor"]["line"][1][1])
    # The same line by figures alone.
    figure(page, "Floor, left", "180")
    figure(page, "Floor, right", "190.5")
    settled(page)
    (_, low), (wide, lower) = job.layer("square-1-echo-1")["floor"]["line"]
    assert (low, lower) == (180, 190.5)
    assert wide > 100  # from edge to edge of the sheet
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
    page.get_by_text("Stretch and skew").click()
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
    expect(page.get_by_text("Before adjustments.")).to_be_visible()
    expect(picture).to_have_attribute("src", re.compile("mending=false"))
    page.keyboard.press("b")
    expect(picture).not_to_have_attribute("src", re.compile("mending=false"))
    page.get_by_text("This opening only").click()
    page.get_by_role("checkbox", name="Enhance", exact=True).check()
    page.get_by_role("checkbox", name="Already edited").check()
    filling = job.state()["fillings"]["print"]
    # It began as the photo is mended everywhere.
    kinds = [(step["kind"], step["on"]) for step in filling["tones"]["square-1"]["steps"]]
    assert kinds == [("enhance", True), ("exposure", False), ("black_and_white", True)]
    assert next(p for p in job.state()["photos"] if p["id"] == photo)["already_worked"]
    page.get_by_role("button", name="Reset all adjustments").click()
    expect(page.get_by_role("button", name="Reset all adjustments")).to_be_disabled()
    assert "square-1" not in job.state()["fillings"]["print"]["tones"]
    assert ledger(page, 2)[1]


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


def test_a_curve_is_drawn_by_pointer_and_keys(page: Page, given: Callable) -> None:
    """A point is added and pulled, moved by keys, taken away; the print follows it; a pull is one step to undo."""
    job = given("card-portrait", 1)
    hole(page, 1).click()
    part(page, "Tone")
    page.get_by_role("checkbox", name="Curves").check()
    plot = page.get_by_role("group", name=re.compile("^Curve of all colours"))
    plot.scroll_into_view_if_needed()
    box = plot.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    drag(page, (x, y), (x, y - box["height"] / 4))
    settled(page)
    (tones,) = job.photo_tones().values()
    (step,) = tones["steps"]
    assert step["kind"] == "curves"
    assert [point[0] for point in step["all"]] == [0, pytest.approx(128, abs=3), 255]
    assert step["all"][1][1] == pytest.approx(191, abs=4)
    points = plot.get_by_role("slider")
    expect(points).to_have_count(3)
    points.nth(1).focus()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("ArrowRight")
    settled(page)
    (moved,) = next(iter(job.photo_tones().values()))["steps"]
    assert moved["all"][1] == [step["all"][1][0] + 1, step["all"][1][1] - 10]
    page.get_by_text("Red", exact=True).click()
    expect(page.get_by_role("group", name="Curve of red; click adds a point")).to_be_visible()
    page.get_by_text("All", exact=True).first.click()
    points.nth(1).focus()
    page.keyboard.press("Delete")
    settled(page)
    (straight,) = next(iter(job.photo_tones().values()))["steps"]
    assert straight["all"] == [[0, 0], [255, 255]]
    assert violations(page) == []
    for _ in range(3):  # taken away, by keys, by pull
        page.keyboard.press("Control+z")
        settled(page)
    (empty,) = next(iter(job.photo_tones().values()))["steps"]
    assert empty["all"] == [[0, 0], [255, 255]]


def test_a_photo_takes_the_tones_of_another(page: Page, given: Callable) -> None:
    job = given("card-portrait", 2)
    hole(page, 1).click()
    part(page, "Tone")
    page.get_by_role("checkbox", name="Curves").check()
    page.get_by_role("combobox", name="Match another photo").click()
    option = page.get_by_role("option").first
    option.click()
    expect(page.get_by_role("listbox")).to_have_count(0)
    page.get_by_text("Red", exact=True).click()
    expect(
        page.get_by_role("group", name="Curve of red; click adds a point").get_by_role("slider").nth(3)
    ).to_be_attached()
    settled(page)
    (tones,) = job.photo_tones().values()
    (step,) = tones["steps"]
    assert step["all"] == [[0, 0], [255, 255]]
    assert all(len(step[colour]) > 3 for colour in ("red", "green", "blue"))
    assert violations(page) == []


def test_a_recipe_is_kept_and_laid_on_others(page: Page, given: Callable) -> None:
    job = given("collage-shore", 3)
    hole(page, 1).click()
    part(page, "Tone")
    page.get_by_role("checkbox", name="Exposure").check()
    figure(page, "Exposure", "0.7")
    page.get_by_role("button", name="Save as recipe").click()
    page.get_by_label("Recipe name").fill("Squall")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Recipe name")).to_have_count(0)
    hole(page, 2).click()
    page.get_by_role("button", name="Recipes").click()
    page.get_by_role("button", name="Squall", exact=True).click()
    settled(page)
    steps = [recipe["steps"] for recipe in job.photo_tones().values()]
    assert len(steps) == 2
    assert steps[0] == steps[1]
    assert steps[0][0]["stops"] == 0.7
    expect(page.get_by_role("list", name="Recipes")).to_have_count(0)
    page.get_by_role("button", name="Apply to all photos of this sheet").click()
    settled(page)
    assert [recipe["steps"] for recipe in job.photo_tones().values()] == [steps[0]] * 3
    page.get_by_role("button", name="Undo").click()  # one gesture
    settled(page)
    assert len(job.photo_tones()) == 2
    page.get_by_role("button", name="Recipes").click()
    page.get_by_role("button", name="Delete recipe Squall").click()
    expect(page.get_by_role("button", name="Squall")).to_have_count(0)
    assert page.request.get("/api/recipes").json() == []
    assert violations(page) == []
    shown = page.get_by_role("button", name="Late sun").get_by_role("presentation")  # those that ship, on this photo
    until(page, lambda: shown.evaluate("image => image.complete && image.naturalWidth") == 180)
    page.get_by_role("button", name="Late sun").click()
    settled(page)
    kinds = [[step["kind"] for step in recipe["steps"]] for recipe in job.photo_tones().values()]
    assert ["white_balance", "contrast", "curves"] in kinds


def test_levels_of_all_colours_and_of_one(page: Page, given: Callable) -> None:
    job = given("collage-shore", 3)
    hole(page, 1).click()
    part(page, "Tone")
    page.get_by_role("checkbox", name="Levels").check()
    figure(page, "White", "200")
    page.get_by_label("Channel").get_by_text("Blue").click()
    expect(page.get_by_label("White, in figures")).to_have_value("255")
    figure(page, "Black", "30")
    figure(page, "Midtones", "1.5")
    settled(page)
    (recipe,) = job.photo_tones().values()
    (levels,) = recipe["steps"]
    assert (levels["white"], levels["black"]) == (200, 0)
    assert levels["blue"] == {"black": 30, "white": 255, "gamma": 1.5}
    assert "red" not in levels
    page.get_by_label("Channel").get_by_text("All").click()
    expect(page.get_by_label("White, in figures")).to_have_value("200")
    assert violations(page) == []


def test_a_photo_of_another_shape_goes_on_beyond_its_edges(page: Page, given: Callable) -> None:
    job = given("collage-shore", 3)
    hole(page, 2).click()
    page.get_by_label("Cover the opening or show the whole photo").get_by_text("Mirror edges").click()
    settled(page)
    assert next(row for row in job.state()["rows"] if row["number"] == 2)["placement"]["fit"] == "continued"
    finding = page.get_by_text(re.compile("of opening 2 its photo goes on mirrored: look whether it may."))
    expect(finding.first).to_be_visible()
    page.get_by_label("Cover the opening or show the whole photo").get_by_text("Extend edges").click()
    expect(page.get_by_text(re.compile("of opening 2 its photo goes on with its own texture")).first).to_be_visible()
    expect(finding).to_have_count(0)
    page.get_by_label("Cover the opening or show the whole photo").get_by_text("Cover", exact=True).click()
    expect(page.get_by_text(re.compile("its photo goes on"))).to_have_count(0)
