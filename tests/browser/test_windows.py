"""Windows of every size, fingers instead of a mouse, dark surroundings, the colours of the system, paper."""

import re
from collections.abc import Callable, Iterator
from io import BytesIO

import pikepdf
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.acting import centre, drag, hole, opening, tick, until, violations
from tests.browser.given import Given

# A common screen enlarged to 200 %, an old one, a tablet on end.
SMALL = [(640, 400), (1024, 768), (820, 1180)]


@pytest.mark.parametrize("size", SMALL)
def test_the_sheet_has_most_of_a_small_window(
    page: Page, given: Callable[..., Given], base_url: str, size: tuple[int, int]
) -> None:
    job = given("album-spread-18", 6)
    page.set_viewport_size({"width": size[0], "height": size[1]})
    for path in ("", "/workshop"):
        page.goto(f"{base_url}/jobs/{job.id}{path}")
        sheet = page.get_by_test_id("sheet")
        expect(sheet.locator("img").first).to_be_visible()
        stage = page.locator("[data-stage]").bounding_box()
        box = sheet.bounding_box()
        assert box
        assert stage
        # All of it is in view, and it is as wide or as high as its room.
        assert box["x"] >= stage["x"]
        assert box["x"] + box["width"] <= stage["x"] + stage["width"] + 1
        assert stage["width"] * stage["height"] > 0.42 * size[0] * size[1]
        assert box["width"] > 0.5 * size[0]
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    for path in ("", f"/jobs/{job.id}", f"/jobs/{job.id}/plan", f"/jobs/{job.id}/dispatch", "/orders"):
        page.goto(base_url + path)
        expect(page.get_by_role("heading", level=1).first).to_be_attached()
        # No button's words are cut.
        for button in page.get_by_role("button").all() + page.get_by_role("link").all():
            if button.is_visible() and (text := (button.text_content() or "").strip()) and "\n" not in text:
                wide, room = button.evaluate("one => [one.scrollWidth, one.clientWidth]")
                name = button.evaluate("one => getComputedStyle(one).textOverflow === 'ellipsis'")
                assert name or wide <= room + 1 or room == 0, (path, text, wide, room)


def test_panels_of_a_small_window_are_tabs(page: Page, given: Callable[..., Given]) -> None:
    page.set_viewport_size({"width": 640, "height": 400})
    given("collage-shore", 6)
    panels = page.get_by_role("toolbar", name="Panels")
    ledger = page.get_by_role("table", name="Ledger")
    expect(ledger).to_have_count(0)
    panels.get_by_role("button", name="Ledger").click()
    expect(ledger).to_be_visible()
    page.get_by_role("row").nth(2).click()
    panels.get_by_role("button", name="Details").click()
    expect(page.get_by_role("region", name="Opening 2")).to_be_visible()
    expect(ledger).to_have_count(0)
    panels.get_by_role("button", name="Details").press("Escape")
    expect(page.get_by_role("region", name="Opening 2")).to_have_count(0)
    # Keys work on what is selected; what stood in the head is behind a button, and its menus work from there.
    zoom = "Zoom ×"
    page.keyboard.press("+")
    panels.get_by_role("button", name="Details").click()
    expect(page.get_by_label(zoom)).to_have_value("1.02")
    page.get_by_role("button", name="More").click()
    expect(page.get_by_role("link", name="Dispatch")).to_be_visible()
    page.get_by_role("button", name="View", exact=True).click()
    page.get_by_role("menuitemcheckbox", name="Keep areas").click()
    expect(page.get_by_role("menuitemcheckbox", name="Keep areas")).to_have_attribute("aria-checked", "true")
    # The photo's room fits as well, and a pull in it means as much as on the large one.
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Photos", exact=True).click()
    page.get_by_label("Search the pile by name").fill("07")
    expect(page.locator("[data-pile] button[aria-pressed] img")).to_have_count(0)


def test_the_pile_opens_to_a_grid(page: Page, given: Callable[..., Given]) -> None:
    job = given("collage-shore", 12, fill=False)
    prints = page.locator("[data-pile] button[aria-label*=' px']")
    stage = page.get_by_test_id("sheet").bounding_box()
    page.keyboard.press("e")
    grid = page.get_by_role("button", name="Grid of photos")
    expect(grid).to_have_attribute("aria-expanded", "true")
    expect(prints).to_have_count(12)
    tops = {round(one.bounding_box()["y"]) for one in prints.all()}  # type: ignore[index]
    assert len(tops) > 1  # lines, one below the other
    # It lies over the stage: the sheet stays where it was; Escape closes it.
    assert page.get_by_test_id("sheet").bounding_box() == stage
    page.keyboard.press("Escape")
    expect(grid).to_have_attribute("aria-expanded", "false")
    # By its edge, with the pointer and with keys.
    edge = page.get_by_role("separator", name="Height of the pile")
    x, y = centre(edge)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 300, steps=6)
    page.mouse.up()
    expect(grid).to_have_attribute("aria-expanded", "true")
    high = int(edge.get_attribute("aria-valuenow") or 0)
    assert 350 < high < 500
    edge.focus()
    page.keyboard.press("ArrowUp")
    expect(edge).to_have_attribute("aria-valuenow", str(high + 40))
    # A photo is carried out of it to an opening that it hid.
    low = max(range(1, page.locator("[data-opening]").count() + 1), key=lambda n: centre(hole(page, n))[1])
    drag(page, centre(prints.nth(3)), centre(hole(page, low)))
    until(page, lambda: len(job.placements()) == 1)
    expect(page.get_by_role("row").nth(low)).not_to_contain_text("empty")


@pytest.fixture
def tablet(browser: Browser, given: Callable[..., Given], base_url: str) -> Iterator[tuple[Page, Given]]:
    job = given("collage-shore", 6)
    context = browser.new_context(
        viewport={"width": 1024, "height": 768}, has_touch=True, is_mobile=True, locale="en-GB"
    )
    page = context.new_page()
    page.set_default_timeout(30_000)
    page.goto(f"{base_url}/jobs/{job.id}")
    expect(page.get_by_test_id("sheet").locator("img").first).to_be_visible()
    yield page, job
    context.close()


def fingers(page: Page, *tracks: tuple[tuple[float, float], tuple[float, float]]) -> None:
    """Fingers go down one after the other, move together, and are lifted."""
    client = page.context.new_cdp_session(page)

    def touch(kind: str, share: float, count: int) -> None:
        points = [
            {"x": a[0] + (b[0] - a[0]) * share, "y": a[1] + (b[1] - a[1]) * share, "id": n}
            for n, (a, b) in enumerate(tracks[:count])
        ]
        client.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    for count in range(1, len(tracks) + 1):
        touch("touchStart", 0, count)
        page.wait_for_timeout(40)
    for n in range(1, 11):
        touch("touchMove", n / 10, len(tracks))
        page.wait_for_timeout(20)
    client.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


def test_two_fingers_zoom_the_view_and_never_shove_a_photo(tablet: tuple[Page, Given]) -> None:
    page, job = tablet
    sheet = page.get_by_test_id("sheet")
    hole(page, 2).tap()
    expect(opening(page, 2)).to_have_attribute("aria-pressed", "true")
    before, wide = job.placements(), sheet.bounding_box()
    assert wide
    x, y = centre(hole(page, 2))
    fingers(page, ((x - 20, y), (x - 80, y)), ((x + 20, y), (x + 80, y)))
    until(page, lambda: (sheet.bounding_box() or wide)["width"] > 2 * wide["width"])
    # What lay between the fingers lies there still.
    assert centre(hole(page, 2)) == pytest.approx((x, y), abs=12)
    assert job.placements() == before
    # Moved together they move the sheet.
    page.wait_for_timeout(200)
    was = sheet.bounding_box()
    fingers(page, ((x - 20, y), (x - 60, y - 30)), ((x + 20, y), (x - 20, y - 30)))
    now = sheet.bounding_box()
    assert was
    assert now
    assert (now["x"] - was["x"], now["y"] - was["y"]) == pytest.approx((-40, -30), abs=8)
    assert job.placements() == before
    # One finger pulls the photo, as the mouse does.
    x, y = centre(hole(page, 2))
    page.keyboard.press("+")
    page.wait_for_timeout(600)
    before = job.placements()
    fingers(page, ((x, y), (x + 30, y)))
    until(page, lambda: job.placements() != before)


def test_two_fingers_come_closer_in_the_photo_room_and_paint_nothing(tablet: tuple[Page, Given]) -> None:
    page, job = tablet
    hole(page, 2).tap()
    expect(opening(page, 2)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("r")
    view = page.get_by_test_id("retouch-view")
    expect(view).to_be_visible()
    frame = view.locator("svg path").first
    wide = frame.bounding_box()
    assert wide
    x, y = centre(view)
    fingers(page, ((x - 20, y), (x - 60, y)), ((x + 20, y), (x + 60, y)))
    until(page, lambda: (frame.bounding_box() or wide)["width"] > 2 * wide["width"])
    page.wait_for_timeout(500)
    expect(page.get_by_test_id("touch")).to_have_count(0)
    assert job.photo_tones() == {}
    fingers(page, ((x, y), (x + 40, y + 10)))  # one finger paints
    expect(page.get_by_test_id("touch")).to_have_count(1)


def test_targets_are_large_enough_for_fingers(tablet: tuple[Page, Given]) -> None:
    page, _ = tablet
    for button in page.locator(".mantine-Button-root, .mantine-ActionIcon-root").all():
        box = button.bounding_box()
        if box:
            assert box["height"] >= 40, button.inner_text()


def test_every_target_is_24_px_at_least(page: Page, given: Callable[..., Given]) -> None:
    given("collage-shore", 6)
    hole(page, 2).click()
    small = page.evaluate("""() => [...document.querySelectorAll("button, a[href]")]
      .map((one) => [one.getAttribute("aria-label") ?? one.textContent, one.getBoundingClientRect(), one])
      .filter(([, box, one]) => box.width > 0 && (box.width < 23.9 || box.height < 23.9) && !one.closest("p"))
      .map(([name, box]) => `${name} ${box.width} x ${box.height}`)""")
    assert small == []


def test_dark_surroundings_stay_and_are_as_readable(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 6)
    tick(page, "Dark surroundings")
    assert _is_dark(page)
    hole(page, 2).click()
    for path in ("", f"/jobs/{job.id}", f"/jobs/{job.id}/workshop", f"/jobs/{job.id}/plan", f"/jobs/{job.id}/dispatch"):
        page.goto(base_url + path)
        expect(page.get_by_role("heading", level=1).first).to_be_attached()
        page.wait_for_timeout(500)
        assert _is_dark(page)
        assert violations(page) == []
    page.goto(base_url)
    page.get_by_role("button", name="Dark surroundings").click()
    assert not _is_dark(page)


def _is_dark(page: Page) -> bool:
    """Whether the ground of the page is darker than a middle grey, and of no hue."""
    red, green, blue = (
        int(part) for part in re.findall(r"\d+", page.evaluate("getComputedStyle(document.body).backgroundColor"))[:3]
    )
    assert red == green == blue
    return red < 90


def test_what_is_chosen_is_seen_in_the_colours_of_the_system(page: Page, given: Callable[..., Given]) -> None:
    page.emulate_media(forced_colors="active")
    given("collage-shore", 6)
    page.get_by_role("row").nth(2).click()
    row = page.locator("tr[data-selected]")
    assert row.evaluate("one => getComputedStyle(one).outlineStyle") == "solid"
    assert violations(page) == []


def test_the_flat_plan_prints_its_sheets_names_and_findings(
    page: Page, given: Callable[..., Given], base_url: str
) -> None:
    job = given("card-portrait", 1, fill=False)
    page.goto(f"{base_url}/jobs/{job.id}/plan")
    expect(page.get_by_role("list", name="Sheets in order").locator("img").first).to_be_visible()
    page.wait_for_timeout(1500)
    with pikepdf.open(BytesIO(page.pdf(format="A4"))) as pdf:
        assert len(pdf.pages) == 1
        images = pdf.pages[0].get_images()
        assert images
    page.emulate_media(media="print")
    sheet = page.get_by_role("list", name="Sheets in order").locator("[data-sheet]").first
    expect(sheet).to_contain_text(re.compile(r"\d+ stops?"))
    expect(page.get_by_role("button", name="Remarks")).to_be_hidden()
    expect(page.get_by_text("Fitting").first).to_be_visible()
    page.emulate_media(media="screen")


def test_numbers_and_dates_follow_the_browsers_language(
    page: Page, browser: Browser, given: Callable[..., Given], base_url: str
) -> None:
    job = given("collage-shore", 6)
    hole(page, 2).click()
    for _ in range(3):
        page.keyboard.press("[")
    job.state()
    expect(page.get_by_role("table", name="Ledger")).to_contain_text("0.3°")
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="de-DE")
    german = context.new_page()
    german.goto(f"{base_url}/jobs/{job.id}")
    ledger = german.get_by_role("table", name="Ledger")
    expect(ledger).to_contain_text("0,3°")
    hole(german, 2).click()
    german.get_by_label("Zoom").fill("1,25")
    german.keyboard.press("Enter")
    expect(ledger).to_contain_text("1,25")
    expect(german.get_by_label("Zoom")).to_have_value("1,25")
    german.keyboard.press("ArrowUp")
    expect(german.get_by_label("Zoom")).to_have_value("1,27")
    context.close()
