"""Retouching in the real browser: each tool with real pointer moves, then what is stored, seen and printed."""

import io
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from sutaru.core.document import Upright
from sutaru.core.fitting import upright_from_photo
from tests.api import asking
from tests.api.asking import part
from tests.browser.acting import drag, figure, held, hole, ledger, settled, until, violations
from tests.browser.given import Asked, Given
from tests.core.test_retouching import figure as figure_before_sand
from tests.core.test_straightening import leaning

SIZE = 1500, 1000
SPECK = 600, 300


@pytest.fixture
def dusty(page: Page, given: Callable, tmp_path: Path) -> Given:
    """A job whose first opening shows a grey photo with a speck at 600, 300 and a hair from 900, 500 to 1200, 520."""
    y, x = np.mgrid[: SIZE[1], : SIZE[0]]
    image = np.clip(120 + x[..., None] / 30 + np.random.default_rng(1).normal(0, 2, (*x.shape, 3)), 0, 255)
    image[np.hypot(x - SPECK[0], y - SPECK[1]) < 8] -= 70
    image[(np.abs(y - 500 - (x - 900) / 15) < 2) & (x > 900) & (x < 1200)] -= 70
    path = tmp_path / "dusty.png"
    Image.fromarray(np.clip(image, 0, 255).astype(np.uint8)).save(path)
    job = given("collage-triptych", 0, fill=False)
    photo = page.request.post(f"/api/jobs/{job.id}/photos?name=dusty.png", data=path.read_bytes()).json()["photo"]["id"]
    first = job.places()["openings"][0]["opening"]
    job.edit(op="put", sheet="print", opening=first, photo=photo)
    page.reload()
    expect(page.get_by_test_id("sheet")).to_be_visible()
    return job


def room(page: Page) -> Locator:
    hole(page, 1).click()
    page.keyboard.press("r")
    return seen(page)


def seen(page: Page) -> Locator:
    view = page.locator("[data-testid=retouch-view][data-settled]")
    expect(view).to_be_visible()
    return view


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where a point of the photo is on the screen, all of it in view."""
    box = page.get_by_test_id("retouch-view").bounding_box()
    assert box
    k = min((box["width"] - 24) / SIZE[0], (box["height"] - 24) / SIZE[1])
    return (
        box["x"] + box["width"] / 2 + (x - SIZE[0] / 2) * k,
        box["y"] + box["height"] / 2 + (y - SIZE[1] / 2) * k,
    )


def touches(page: Page, job: Given) -> list[dict]:
    settled(page)
    (tone,) = job.photo_tones().values() or ({},)
    name = tone.get("retouching")
    return part(Asked(page), "retouchings", name)["touches"] if name else []


def sheet_at(page: Page, job: Given) -> np.ndarray:
    """The sheet's first opening as it prints now, as values along it."""
    key = job.state()["marks"][0]["key"]
    picture = page.request.get(f"/api/drawn/{key}/picture?width=1600&mending=true").body()
    return np.asarray(Image.open(io.BytesIO(picture)).convert("L")).astype(int)


def test_a_speck_and_a_hair_go(page: Page, dusty: Given) -> None:
    before = sheet_at(page, dusty)
    room(page)
    figure(page, "Size", "36")
    page.mouse.click(*at(page, *SPECK))
    expect(page.get_by_test_id("touch")).to_have_count(1)
    (speck,) = touches(page, dusty)
    assert speck["how"] == "heal"
    assert speck["area"]["points"][0] == pytest.approx([SPECK[0] / SIZE[0], SPECK[1] / SIZE[1]], abs=0.002)
    assert speck["shift"] != [0, 0]  # its source was found by itself
    seen(page)
    page.keyboard.press("f")
    figure(page, "Size", "16")
    drag(page, at(page, 890, 500), at(page, 1210, 520))
    expect(page.get_by_test_id("touch")).to_have_count(2)
    assert [touch["how"] for touch in touches(page, dusty)] == ["heal", "fill"]
    after = sheet_at(page, dusty)
    assert (before - after).min() < -30  # where the speck and the hair were
    assert np.abs(after - before).max() > 30
    assert violations(page) == []

    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("touch")).to_have_count(1)
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_test_id("touch")).to_have_count(2)

    # The list: hidden, weaker, taken away; each undone as everything else.
    page.get_by_label("Fill, shown").uncheck()
    until(page, lambda: touches(page, dusty)[1]["on"] is False)
    page.get_by_role("button", name="2 Fill").click()
    page.get_by_label("Strength, in figures").nth(1).fill("40")
    page.keyboard.press("Enter")
    until(page, lambda: touches(page, dusty)[1]["strength"] == 40)
    page.keyboard.press("Escape")  # from the field: typing ends; from the photo: what is selected, then the room
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("selected-touch")).to_have_count(0)
    page.get_by_role("button", name="Delete Fill").click()
    expect(page.get_by_test_id("touch")).to_have_count(1)
    expect(page.get_by_test_id("retouch-view")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("retouch-view")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    assert len(touches(page, dusty)) == 2


def test_a_source_is_chosen_and_what_was_done_is_moved(page: Page, dusty: Given) -> None:
    room(page)
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("c")
    figure(page, "Size", "40")
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("s")
    page.mouse.click(*at(page, 1100, 800))
    page.mouse.move(*at(page, *SPECK))
    expect(page.get_by_test_id("source")).to_be_attached()
    drag(page, at(page, *SPECK), at(page, 640, 300))
    expect(page.get_by_test_id("touch")).to_have_count(1)
    (clone,) = touches(page, dusty)
    assert clone["how"] == "clone"
    assert clone["shift"] == pytest.approx([500 / 1500, 500 / 1000], abs=0.003)
    # It moves along: the next stroke has the same way to its source.
    drag(page, at(page, 300, 300), at(page, 340, 300))
    expect(page.get_by_test_id("touch")).to_have_count(2)
    assert touches(page, dusty)[1]["shift"] == pytest.approx(clone["shift"], abs=0.003)
    # Or stays.
    page.get_by_label("Source moves with the brush").uncheck()
    drag(page, at(page, 300, 600), at(page, 340, 600))
    expect(page.get_by_test_id("touch")).to_have_count(3)
    assert touches(page, dusty)[2]["shift"] == pytest.approx([(1100 - 300) / 1500, (800 - 600) / 1000], abs=0.003)

    page.get_by_role("button", name="3 Clone").click()
    grip = page.get_by_test_id("source-grip").bounding_box()
    assert grip
    start = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    stayed = touches(page, dusty)[2]["area"]
    drag(page, start, (start[0] - 50, start[1]))
    until(page, lambda: touches(page, dusty)[2]["shift"][0] < (1100 - 300) / 1500 - 0.02)
    assert touches(page, dusty)[2]["area"] == stayed


def test_an_area_is_changed_and_looked_at_half_and_half(page: Page, dusty: Given) -> None:
    room(page)
    page.get_by_role("button", name="Area", exact=True).click()
    page.get_by_label("Draw with").get_by_text("Round").click()
    drag(page, at(page, 400, 400), at(page, 600, 500))
    expect(page.get_by_test_id("touch")).to_have_count(1)
    (area,) = touches(page, dusty)
    assert area["area"]["kind"] == "round"
    assert area["area"]["across"] == pytest.approx([200 / 1500, 100 / 1500], abs=0.004)
    assert area["light"] == 0.5
    figure(page, "Exposure", "-1")
    figure(page, "Follow edges", "60")
    until(page, lambda: [(t["light"], t["edges"]) for t in touches(page, dusty)] == [(-1, 0.6)])
    view = seen(page)
    darker = np.asarray(Image.open(io.BytesIO(view.screenshot())).convert("L")).astype(int)
    page.get_by_role("button", name="Split view").click()
    expect(page.get_by_label("Before, left of this line")).to_be_visible()
    seen(page)
    half = np.asarray(Image.open(io.BytesIO(view.screenshot())).convert("L")).astype(int)
    middle = half.shape[1] // 2
    assert half[:, : middle - 30].mean() > darker[:, : middle - 30].mean() + 1
    page.get_by_label("Before, left of this line").focus()
    for _ in range(30):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Before, left of this line")).to_have_attribute("aria-valuenow", "0")

    # In this opening alone it is listed apart, and comes over what its photo has everywhere.
    page.get_by_label("Apply to").get_by_text("This opening only").click()
    expect(page.get_by_text("One more touch is listed under the other.")).to_be_visible()
    page.get_by_role("button", name="Split view").click()
    page.get_by_label("Draw with").get_by_text("Gradient").click()
    drag(page, at(page, 750, 100), at(page, 750, 900))
    expect(page.get_by_test_id("touch")).to_have_count(1)
    settled(page)
    (filling,) = dusty.state()["fillings"].values()
    (tone,) = filling["tones"].values()
    assert [touch["area"]["kind"] for touch in tone["retouching"]["touches"]] == ["graded"]
    assert tone["steps"] is None
    assert len(touches(page, dusty)) == 1
    assert violations(page) == []


def test_dust_is_proposed_and_taken_by_the_person(page: Page, dusty: Given) -> None:
    room(page)
    page.get_by_role("button", name="Dust", exact=True).click()
    expect(page.get_by_test_id("proposed").first).to_be_visible()
    count = page.get_by_test_id("proposed").count()
    assert touches(page, dusty) == []  # never by itself
    page.get_by_test_id("proposed").first.click()
    expect(page.get_by_test_id("proposed")).to_have_count(count - 1)
    page.get_by_role("button", name="Dismiss all").click()
    page.get_by_role("button", name="Dust", exact=True).click()
    expect(page.get_by_test_id("proposed")).to_have_count(count)
    page.get_by_role("button", name=re.compile("^Heal (it|all)")).click()
    expect(page.get_by_test_id("touch")).to_have_count(count)
    page.get_by_role("button", name="Flash in eyes").click()
    expect(page.get_by_text("Nothing of that kind was found.")).to_be_visible()


def test_all_of_it_by_the_keyboard(page: Page, dusty: Given) -> None:
    """The brush walked to the speck by arrows, set down with Enter; its size, softness and strength by keys; a grey picked."""
    room(page)
    view = page.get_by_test_id("retouch-view")
    view.focus()
    page.get_by_role("button", name="Keys").last.click()
    expect(page.get_by_text("strength 10 % to 90 %, 100 %")).to_be_visible()
    assert violations(page) == []
    page.keyboard.press("Escape")  # closes the list of keys, not the room
    expect(page.get_by_text("strength 10 % to 90 %, 100 %")).to_have_count(0)
    view.focus()
    before = page.get_by_label("Size, in figures").input_value()
    for key in ("]", "]", "]", "Shift+]", "5"):
        page.keyboard.press(key)
    assert int(page.get_by_label("Size, in figures").input_value()) > int(before)
    expect(page.get_by_label("Softness, in figures")).to_have_value("40")
    expect(page.get_by_label("Strength, in figures")).to_have_value("50")
    page.keyboard.press("0")
    page.keyboard.press("End")
    expect(page.locator("small", has_text="100 %")).to_be_visible()
    page.keyboard.press("Home")
    page.mouse.move(5, 5)
    for key, times in (("Shift+ArrowLeft", 3), ("ArrowUp", 2)):
        for _ in range(times):
            page.keyboard.press(key)
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("touch")).to_have_count(1)
    (touch,) = touches(page, dusty)
    x, y = touch["area"]["points"][0]
    assert x < 0.5
    assert y < 0.5
    # An ellipse set down and moved, a grade set down: nothing of it needs a mouse.
    page.keyboard.press("a")
    page.get_by_label("Draw with").get_by_text("Round").click()
    view.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="2 Round: lighter")).to_be_visible()
    before = touches(page, dusty)[1]["area"]["centre"]
    page.keyboard.press("Alt+ArrowRight")
    until(page, lambda: touches(page, dusty)[1]["area"]["centre"][0] > before[0])
    page.keyboard.press("Delete")
    expect(page.get_by_test_id("touch")).to_have_count(1)
    # An outline corner by corner: one that was begun is let go by Escape, the next is closed.
    page.get_by_label("Draw with").get_by_text("Outline").click()
    view.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(view).to_be_visible()
    for way, times in (("ArrowRight", 4), ("ArrowDown", 4), ("ArrowLeft", 4)):
        page.keyboard.press("Enter")
        for _ in range(times):
            page.keyboard.press(f"Shift+{way}")
    page.keyboard.press("Shift+Enter")
    expect(page.get_by_role("button", name="2 Outline: lighter")).to_be_visible()
    assert len(touches(page, dusty)[1]["area"]["points"]) == 4
    page.keyboard.press("Delete")
    expect(page.get_by_test_id("touch")).to_have_count(1)
    page.get_by_role("button", name="Pick a grey").click()
    page.mouse.click(*at(page, 200, 800))
    settled(page)
    (tone,) = dusty.photo_tones().values()
    assert [step["kind"] for step in tone["steps"]] == ["white_balance"]
    assert len(touches(page, dusty)) == 1


def test_what_each_tool_does_is_in_the_file_that_leaves(page: Page, given: Callable, tmp_path: Path) -> None:
    """Heal, clone, fill, area and eye, each with the pointer; then the sheet is exported, and measured where they were."""
    y, x = np.mgrid[: SIZE[1], : SIZE[0]]
    image = np.clip(120 + x[..., None] / 30 + np.random.default_rng(1).normal(0, 2, (*x.shape, 3)), 0, 255)
    image[np.hypot(x - SPECK[0], y - SPECK[1]) < 8] -= 70
    image[np.hypot(x - 300, y - 300) < 12] -= 70
    image[(np.abs(y - 500 - (x - 900) / 15) < 2) & (x > 900) & (x < 1200)] -= 70
    image[np.hypot(x - 1100, y - 250) < 34] = (235, 235, 235)
    image[np.hypot(x - 1100, y - 250) < 18] = (215, 35, 40)
    path = tmp_path / "all.png"
    Image.fromarray(np.clip(image, 0, 255).astype(np.uint8)).save(path)
    job = given("collage-triptych", 0, fill=False)
    photo = page.request.post(f"/api/jobs/{job.id}/photos?name=all.png", data=path.read_bytes()).json()["photo"]["id"]
    place = job.places()["openings"][0]
    job.edit(op="put", sheet="print", opening=place["opening"], photo=photo)
    # All of it in view, so that each place of it is known on the page.
    job.edit(
        op="place",
        sheet="print",
        opening=place["opening"],
        fit="whole",
        centre=[0.5, 0.5],
        zoom=1,
        turn_deg=0,
        mirror=False,
    )
    page.reload()
    before = exported(page, job)
    room(page)
    page.keyboard.press("e")
    page.mouse.click(*at(page, 1100, 250))
    expect(page.get_by_test_id("touch")).to_have_count(1)
    page.keyboard.press("h")
    figure(page, "Size", "36")
    page.mouse.click(*at(page, *SPECK))
    expect(page.get_by_test_id("touch")).to_have_count(2)
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("f")
    figure(page, "Size", "16")
    drag(page, at(page, 890, 500), at(page, 1210, 520))
    expect(page.get_by_test_id("touch")).to_have_count(3)
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("c")
    figure(page, "Size", "50")
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("s")
    page.mouse.click(*at(page, 300, 420))
    page.mouse.click(*at(page, 300, 300))
    expect(page.get_by_test_id("touch")).to_have_count(4)
    page.keyboard.press("a")
    drag(page, at(page, 300, 800), at(page, 700, 800))
    expect(page.get_by_test_id("touch")).to_have_count(5)
    seen(page)
    assert [touch["kind"] for touch in touches(page, job)] == ["eye", "cover", "cover", "cover", "adjust"]
    after = exported(page, job)
    # Where a place of the photo is on the page: it is as wide as its opening, in its middle; a bleed of 3 mm about the sheet.
    k = place["width_mm"] / SIZE[0]
    middle = (np.min(place["shape"], axis=0) + np.max(place["shape"], axis=0)) / 2
    px = after.shape[1] / 514

    def colour(page_: np.ndarray, x: float, y: float) -> np.ndarray:
        left, top = ((middle + (np.array((x, y)) - np.array(SIZE) / 2) * k + 3) * px).round().astype(int)
        return page_[top - 1 : top + 2, left - 1 : left + 2].reshape(-1, 3).mean(axis=0)

    for dark in ((SPECK[0], SPECK[1]), (300, 300), (1050, 510)):
        around = colour(after, dark[0] - 60, dark[1] - 40).mean()
        assert colour(before, *dark).mean() < around - 20
        assert abs(colour(after, *dark).mean() - around) < 8
    red, taken = colour(before, 1100, 250), colour(after, 1100, 250)
    assert red[0] - red[1:].max() > 100
    assert taken[0] - taken[1:].max() < 30
    assert colour(after, 500, 800).mean() > colour(before, 500, 800).mean() + 15


def exported(page: Page, job: Given) -> np.ndarray:
    """The first sheet, exported as PNG."""
    asked = Asked(page)
    asking.accept_all(asked, job.id)
    begun = asked.post(f"/api/jobs/{job.id}/exports", json={"lab": "gullwing-300", "format": "png"}).json()
    done = asking.ended(asked, begun["id"])
    file = done["outcome"]["files"][0]["file"]
    body = page.request.get(f"/api/exports/{done['id']}/files/{file}").body()
    return np.asarray(Image.open(io.BytesIO(body)).convert("RGB")).astype(int)


def test_a_stroke_follows_the_pointer_before_any_answer(page: Page, dusty: Given) -> None:
    """What is drawn is drawn by the browser at once, and stays until the photo as it is then is there."""
    room(page)
    page.get_by_test_id("retouch-view").focus()
    page.keyboard.press("a")
    x, y = at(page, 300, 700)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 120, y, steps=4)
    drawn = page.evaluate(
        """() => {
          const canvas = document.querySelectorAll('[data-testid=retouch-view] canvas')[1];
          const pixels = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data;
          let count = 0;
          for (let n = 3; n < pixels.length; n += 4) count += pixels[n] > 20;
          return count;
        }"""
    )
    page.mouse.up()
    assert drawn > 500
    expect(page.get_by_test_id("touch")).to_have_count(1)
    # A lost server: the stroke waits, and is stored once; the photo is fetched as it is then.
    page.route(re.compile("/edits|/tiles/"), lambda route: route.abort())
    drag(page, at(page, 300, 300), at(page, 400, 300))
    page.wait_for_timeout(700)
    page.unroute(re.compile("/edits|/tiles/"))
    expect(page.get_by_test_id("touch")).to_have_count(2)
    assert len(touches(page, dusty)) == 2
    seen(page)


def test_strokes_on_a_slow_line_are_kept_in_order_and_undone_one_by_one(page: Page, dusty: Given) -> None:
    room(page)
    view = page.get_by_test_id("retouch-view")
    listed = page.get_by_test_id("touch")
    view.focus()
    page.keyboard.press("f")
    page.mouse.click(*at(page, 300, 700))
    expect(listed).to_have_count(1)
    (first,) = touches(page, dusty)

    # Undone while its source is still being found: this stroke goes, not the one before it.
    let_go = held(page, r"/covered|/edits")
    view.focus()
    page.keyboard.press("h")
    page.mouse.click(*at(page, *SPECK))
    expect(listed).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(listed).to_have_count(1)
    let_go()
    seen(page)
    assert touches(page, dusty) == [first]

    # Four at once, the first of which waits longest: in order, and all on the photo until it is there with them.
    let_go = held(page, r"/covered")
    for n, key in enumerate("hfff"):
        page.keyboard.press(key)
        page.mouse.click(*at(page, 300 + 150 * n, 300))
    expect(listed).to_have_count(5)
    assert view.get_attribute("data-settled") is None
    let_go()
    seen(page)
    there = touches(page, dusty)
    assert [touch["how"] for touch in there] == ["fill", "heal", "fill", "fill", "fill"]
    across = [touch["area"]["points"][0][0] * SIZE[0] for touch in there[1:]]
    assert across == pytest.approx([300, 450, 600, 750], abs=3)

    # A stroke during an outage waits for the server, its source being found then.
    page.route(re.compile("/api/"), lambda route: route.abort())
    page.keyboard.press("h")
    page.mouse.click(*at(page, 900, 300))
    expect(listed).to_have_count(6)
    page.wait_for_timeout(700)
    page.unroute(re.compile("/api/"))
    until(page, lambda: len(touches(page, dusty)) == 6)
    assert touches(page, dusty)[-1]["shift"] != [0, 0]


def test_a_leaning_house_is_put_upright(page: Page, given: Callable, tmp_path: Path) -> None:
    path = tmp_path / "house.jpg"
    Image.fromarray(leaning(9, 0)[0]).save(path, quality=95)
    job = given("collage-triptych", 0, fill=False)
    photo = page.request.post(f"/api/jobs/{job.id}/photos?name=house.jpg", data=path.read_bytes()).json()["photo"]["id"]
    first = job.places()["openings"][0]["opening"]
    job.edit(op="put", sheet="print", opening=first, photo=photo)
    page.reload()
    hole(page, 1).click()
    before = float(ledger(page, 1)[4])
    page.keyboard.press("c")
    page.get_by_role("button", name="Automatic", exact=True).click()
    expect(page.get_by_label("Vertical tilt, in figures")).not_to_have_value("0")
    stored = job.photo_tones()[photo]["upright"]
    assert stored["pitch_deg"] == pytest.approx(9, abs=0.8)
    figure(page, "Lens distortion", "10")
    until(page, lambda: job.photo_tones()[photo]["upright"]["bend"] == 10)
    assert job.photo_tones()[photo]["upright"]["pitch_deg"] == stored["pitch_deg"]
    # Seen as it stands then, there and on the page, and what it is enlarged by counts.
    expect(page.locator("[data-testid=photo-room] image").first).to_have_attribute("href", re.compile("mended/picture"))
    assert violations(page) == []
    page.get_by_role("button", name="Done").click()
    settled(page)
    until(page, lambda: float(ledger(page, 1)[4]) < before)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: photo not in job.photo_tones())


def test_keep_areas_follow_a_photo_that_is_put_upright(page: Page, dusty: Given) -> None:
    """They are drawn where what they mark is seen; one that is not altered is stored exactly as it was."""
    (photo,) = {row["placement"]["photo"] for row in dusty.state()["rows"] if row["placement"]}
    areas = [
        {"kind": "hand", "left": 0.1, "top": 0.6, "width": 0.1, "height": 0.2},
        {"kind": "hand", "left": 0.7, "top": 0.3, "width": 0.1, "height": 0.2},
    ]
    dusty.edit(op="mark", photo=photo, areas=areas)
    page.reload()
    hole(page, 1).click()
    page.keyboard.press("c")
    marks = page.get_by_test_id("keep-area")
    expect(marks).to_have_count(2)
    level = marks.last.bounding_box()
    dusty.edit(op="mend_photo", photo=photo, recipe={"steps": None, "upright": {"pitch_deg": 12, "roll_deg": 5}})
    until(page, lambda: marks.last.bounding_box() != level)
    turned = upright_from_photo(Upright(pitch_deg=12, roll_deg=5), *SIZE)
    edge = page.get_by_test_id("photo-room").locator("image").last.bounding_box()
    box = marks.last.locator("path").first.bounding_box()
    assert edge
    assert box
    x, y = turned.apply([(0.75 * SIZE[0], 0.4 * SIZE[1])])[0]
    assert (box["x"] + box["width"] / 2 - edge["x"]) / edge["width"] * SIZE[0] == pytest.approx(x, abs=25)
    assert (box["y"] + box["height"] / 2 - edge["y"]) / edge["height"] * SIZE[1] == pytest.approx(y, abs=25)
    marks.first.focus()
    page.keyboard.press("Delete")
    expect(marks).to_have_count(1)
    settled(page)

    def marked() -> list[dict]:
        return next(one for one in dusty.state()["photos"] if one["id"] == photo)["marked"]

    assert marked() == [areas[1]]
    marks.first.focus()
    page.keyboard.press("ArrowRight")
    until(page, lambda: marked() != [areas[1]])
    assert marked()[0]["left"] == pytest.approx(0.7, abs=0.03)


def test_a_backdrop_is_made_darker_behind_its_subject(page: Page, given: Callable, tmp_path: Path) -> None:
    path = tmp_path / "figure.png"
    Image.fromarray(figure_before_sand()[0]).save(path)
    job = given("collage-triptych", 0, fill=False)
    photo = page.request.post(f"/api/jobs/{job.id}/photos?name=figure.png", data=path.read_bytes()).json()["photo"][
        "id"
    ]
    first = job.places()["openings"][0]["opening"]
    job.edit(op="put", sheet="print", opening=first, photo=photo)
    page.reload()
    view = room(page)
    box = view.bounding_box()
    assert box
    page.get_by_role("button", name="Subject", exact=True).click()
    page.get_by_label("Use of the subject").get_by_text("Change background").click()
    figure(page, "Exposure", "-1")
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    drag(page, (x, y - 120), (x, y + 180))
    expect(page.get_by_role("button", name="1 Backdrop: darker")).to_be_visible()
    (touch,) = touches(page, job)
    assert (touch["area"]["kind"], touch["area"]["outside"], touch["light"]) == ("cut", True, -1)
    page.get_by_label("Invert area").uncheck()
    until(page, lambda: touches(page, job)[0]["area"]["outside"] is False)
    expect(page.get_by_role("button", name="1 Subject: darker")).to_be_visible()
    page.get_by_role("textbox", name="Tint").fill("#2060a0")
    page.keyboard.press("Tab")
    until(page, lambda: touches(page, job)[0].get("colour") == "#2060a0")
    figure(page, "Flat", "80")
    until(page, lambda: touches(page, job)[0].get("flat") == 0.8)
    page.get_by_role("button", name="Its own colour").click()
    until(page, lambda: "colour" not in touches(page, job)[0])
    assert violations(page) == []


def test_a_subject_stands_over_the_edge_of_its_opening(page: Page, given: Callable, tmp_path: Path) -> None:
    path = tmp_path / "figure.png"
    Image.fromarray(figure_before_sand()[0]).save(path)
    job = given("collage-triptych", 0, fill=False)
    photo = page.request.post(f"/api/jobs/{job.id}/photos?name=figure.png", data=path.read_bytes()).json()["photo"][
        "id"
    ]
    small = next(place for place in job.places()["openings"] if place["opening"] == "small-3")
    job.edit(op="put", sheet="print", opening="small-3", photo=photo)
    # So close that the head lies above the opening.
    job.edit(op="place", sheet="print", opening="small-3", centre=[0.5, 0.7], zoom=1.6, turn_deg=0, mirror=False)
    page.reload()
    expect(page.get_by_test_id("sheet")).to_be_visible()
    left, top, right, bottom = (
        pick(point[n] for point in small["shape"]) for pick, n in ((min, 0), (min, 1), (max, 0), (max, 1))
    )

    def values(box_mm: tuple[float, float, float, float]) -> np.ndarray:
        """The sheet as it prints now, within a box of it."""
        x0, y0, x1, y1 = (round((mm + 3) * 1600 / 514) for mm in box_mm)
        return sheet_at(page, job)[y0:y1, x0:x1]

    above, within = (left, top - 12, right, top - 1), (left + 1, bottom - 12, right - 1, bottom - 1)
    before = values(above)
    hole(page, small["number"]).click()
    # The room is worked by keys as soon as it is there.
    page.keyboard.press("r")
    view = seen(page)
    page.keyboard.press("u")
    page.get_by_text("This opening only").click()
    box = view.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    drag(page, (x, y - 120), (x, y + 180))
    expect(page.get_by_role("button", name="1 Subject: stands free")).to_be_visible()
    expect(page.get_by_test_id("free-down-to")).to_have_count(1)  # a level line has no height
    assert violations(page) == []

    def free() -> dict:
        settled(page)
        (touch,) = job.own_tones()["small-3"]["retouching"]["touches"]
        return touch

    assert (free()["down"], free()["backdrop"]) == (0.5, True)
    figure(page, "Free down to", "30")
    until(page, lambda: free()["down"] == 0.3)
    # One stroke more adds a piece of the backdrop, another takes it away.
    page.get_by_label("Next stroke").get_by_text("Add to subject").click()
    drag(page, (x - 300, y - 150), (x - 200, y - 150))
    until(page, lambda: len(free()["area"]["rings"]) == 2)
    page.get_by_label("Next stroke").get_by_text("Subtract").click()
    drag(page, (x - 300, y - 150), (x - 200, y - 150))
    until(page, lambda: len(free()["area"]["rings"]) == 1)
    # What is printed: a head above the opening, then the page behind it within.
    assert (np.abs(values(above) - before) > 30).mean() > 0.1
    kept = values(within)
    page.get_by_label("Show photo behind it").uncheck()
    until(page, lambda: free()["backdrop"] is False)
    expect(page.get_by_role("button", name="1 Subject: before the page")).to_be_visible()
    changed = np.abs(values(within) - kept) > 20
    assert changed[:, :20].mean() > 0.95
    assert changed[:, changed.shape[1] // 2 - 5 : changed.shape[1] // 2 + 5].mean() < 0.05
