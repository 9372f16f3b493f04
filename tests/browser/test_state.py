"""The browser's state on a bad day: late answers and pictures, a lost server, two windows, many tabs, typed numbers, undo."""

import re
import signal
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Route, expect

from sutaru.core.document import Job
from sutaru.core.formats.bundle import write_bundle
from tests.api import asking
from tests.browser.acting import figure, held, hole, is_ticked, let_pass, middle, part, settled, slowed, tick, until
from tests.browser.given import Asked, Given, Pile
from tests.conftest import SHELF
from tests.serving import Served, free_port


def zoom(page: Page, number: int) -> str:
    return (
        page.get_by_role("table", name="Ledger").locator("tbody tr").nth(number - 1).locator("td").nth(3).inner_text()
    )


# --- late answers and pictures --------------------------------------------------------------------------------------


def test_what_is_on_the_screen_is_never_older_than_what_was_done(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    slowed(page, r"/edits$", 900)
    slowed(page, r"/picture\?", 300)
    for _ in range(3):
        page.keyboard.press("+")
        page.wait_for_timeout(500)  # longer than a run of keys pauses: each is an edit of its own
        seen = page.get_by_label("Zoom ×").input_value()
        page.wait_for_timeout(120)
        assert float(page.get_by_label("Zoom ×").input_value()) >= float(seen)
    page.keyboard.press("ArrowRight")
    settled(page)
    assert job.placements()["shore"]["zoom"] == pytest.approx(1.02**3)
    assert float(page.get_by_label("Zoom ×").input_value()) == pytest.approx(1.06, abs=0.005)


def test_undo_goes_after_what_was_just_done_however_slow_the_machine(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    before = job.placements()["shore"]
    hole(page, 1).click()
    slowed(page, r"/(edits|undo)$", 600)
    page.keyboard.press("+")
    page.keyboard.press("Control+z")  # before the run of keys has even been sent
    settled(page)
    assert job.placements()["shore"] == before
    page.keyboard.press("Control+Shift+z")
    settled(page)
    assert job.placements()["shore"]["zoom"] == pytest.approx(1.02)


def late(page: Page, pattern: str, ms: int) -> None:
    """Such requests reach the server late."""

    def go_on(route: Route) -> None:
        page.wait_for_timeout(ms)
        route.continue_()

    page.route(re.compile(pattern), go_on)


def test_export_comes_after_what_was_just_done(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    part_of = job.state()["number"]
    hole(page, 1).click()
    late(page, r"/edits$", 1500)
    page.keyboard.press("+")
    page.get_by_role("link", name="Dispatch").click()
    page.get_by_role("button", name=re.compile("^Export 1 page")).wait_for()
    let_pass(page)
    page.get_by_role("button", name="Export 1 page").click()
    expect(page.get_by_role("article", name=re.compile("^Export of"))).to_be_visible()
    (task,) = [t for t in page.request.get(f"/api/jobs/{job.id}/tasks").json() if t["kind"] == "export"]
    assert task["asked"]["number"] == job.state()["number"]
    assert task["asked"]["number"] > part_of


def test_leaving_asks_while_something_is_not_stored_on_any_screen(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    let_go = held(page, r"/edits$")
    page.keyboard.press("+")
    page.get_by_role("link", name="Shelf").click()
    expect(page.get_by_role("region", name="Jobs")).to_be_visible()
    asked: list[str] = []
    page.once("dialog", lambda dialog: (asked.append(dialog.type), dialog.dismiss()))
    page.close(run_before_unload=True)
    until(page, lambda: asked == ["beforeunload"])
    let_go()  # it stayed, and sends what it has
    zoom = pytest.approx(1.02)
    until(page, lambda: asking.state(Asked(page), job.id)["placements"]["print"]["shore"]["zoom"] == zoom)


# --- a lost server --------------------------------------------------------------------------------------------------


@pytest.fixture
def own_server(tmp_path: Path) -> Iterator[list[Served]]:
    servers = [Served(tmp_path)]
    yield servers
    servers[-1].end(signal.SIGTERM)


def test_a_lost_server_loses_nothing(page: Page, own_server: list[Served], tmp_path: Path, pile: Pile) -> None:
    server = own_server[0]
    base = str(server.client.base_url).rstrip("/")
    port = int(base.rsplit(":", 1)[1])
    job = server.client.post(
        "/api/jobs", json={"template": "collage-shore", "name": "Lost", "lab": "gullwing-300"}
    ).json()["id"]
    for path, _ in pile[:4]:
        server.client.post(f"/api/jobs/{job}/photos?name={path.name}", content=path.read_bytes())
    page.goto(f"{base}/jobs/{job}")
    expect(page.get_by_test_id("sheet")).to_be_visible()
    page.keyboard.press("f")
    expect(page.get_by_text("4 photos, 1 unused")).to_be_visible()
    expect(page.locator("[data-kept=true]")).to_be_attached()
    server.end(signal.SIGKILL)
    # The bench stays and says so; what is done meanwhile waits.
    expect(page.get_by_text("Sutaru does not answer.")).to_be_visible()
    hole(page, 1).click()
    for _ in range(3):
        page.keyboard.press("+")
    page.wait_for_timeout(600)
    page.keyboard.press("Delete")
    expect(page.get_by_text("2 changes wait here and will be sent.")).to_be_visible()
    own_server.append(Served(tmp_path, port))
    expect(page.locator("[data-kept=true]")).to_be_attached()
    expect(page.get_by_text("Sutaru does not answer.")).to_have_count(0)
    history = own_server[-1].client.get(f"/api/jobs/{job}/history").json()
    assert [entry["label"] for entry in history[:2]] == ["clear 1", "fit photo in 1"]
    # It hears of changes again.
    body = {"edit": {"op": "rename", "name": "Found again", "customer": ""}}
    own_server[-1].client.post(f"/api/jobs/{job}/edits", json=body)
    expect(page.get_by_role("button", name="Found again")).to_be_visible()


# --- several windows ------------------------------------------------------------------------------------------------


def test_two_windows_on_one_job_keep_and_see_all_changes_of_both(
    page: Page,
    context: BrowserContext,
    given: Callable,
) -> None:
    job = given("collage-shore", 6)
    other = context.new_page()
    other.goto(page.url)
    expect(other.get_by_test_id("sheet")).to_be_visible()
    hole(page, 1).click()
    hole(other, 2).click()
    for one in (page, other):
        part(one, "Frame")
    page.get_by_role("checkbox", name="Border").check()
    other.get_by_role("checkbox", name="Shadow").check()
    # One sets the border of the same opening that the other blends.
    hole(other, 1).click()
    figure(page, "Width", "4")
    other.get_by_role("combobox", name="Blend").click()
    other.get_by_role("option", name="multiply", exact=True).click()
    expect(page.get_by_role("combobox", name="Blend")).to_have_value("multiply")
    expect(other.get_by_label("Width, in figures").first).to_have_value("4")
    shore = job.layer("shore")
    assert (shore["border"]["width_mm"], shore["blend"]) == (4, "multiply")
    assert job.layer("square-1")["shadow"]
    other.close()


def test_seven_tabs_work_at_once(page: Page, context: BrowserContext, given: Callable) -> None:
    job = given("collage-shore", 4)
    tabs = [context.new_page() for _ in range(7)]
    for tab in tabs:  # a browser opens six connections to a server at most: they share one stream
        tab.goto(page.url)
        expect(tab.get_by_test_id("sheet")).to_be_visible()
    hole(tabs[6], 1).click()
    tabs[6].keyboard.press("+")
    expect(tabs[6].locator("[data-kept=true]")).to_be_attached()
    assert job.placements()["shore"]["zoom"] == pytest.approx(1.02)
    for tab in (page, *tabs):
        expect(tab.get_by_role("table", name="Ledger").locator("tbody tr").first).to_contain_text("1.02")
    for tab in tabs:
        tab.close()


# --- the address, keys, typed numbers -------------------------------------------------------------------------------


def test_a_reload_comes_back_to_the_same_place(page: Page, given: Callable) -> None:
    given("card-portrait", 2)
    page.get_by_role("button", name="Page 2, Inside").click()
    page.get_by_role("button", name="Words: greeting").click()
    page.get_by_role("button", name="Larger view").click()
    assert "sheet=inside" in page.url
    assert "selected=greeting" in page.url
    page.reload()
    expect(page.get_by_role("region", name="Words of greeting")).to_be_visible()
    expect(page.get_by_role("button", name="Page 2, Inside")).to_have_attribute("aria-current", "page")
    expect(page.get_by_role("button", name="Smaller view")).to_be_enabled()
    page.go_back()
    expect(page.get_by_role("button", name="Page 1, Outside")).to_have_attribute("aria-current", "page")


def test_what_is_shown_stays_until_another_sheet_is_here(page: Page, given: Callable) -> None:
    """A screen that went blank would begin anew, its lists scrolled back; which sheet is coming is seen in the strip."""
    given("card-portrait", 2)
    first, second = (page.get_by_role("button", name=name) for name in ("Page 1, Outside", "Page 2, Inside"))
    let_go = held(page, r"/api/(parts/|layouts/|drawn/\w+/measured)")
    second.click()
    expect(second).to_have_attribute("data-coming", "true")
    expect(page.get_by_alt_text("Outside as it will print")).to_be_visible()
    expect(first).to_have_attribute("aria-current", "page")
    let_go()
    expect(page.get_by_alt_text("Inside as it will print")).to_be_visible()
    expect(second).to_have_attribute("aria-current", "page")


def test_photos_are_said_to_be_unused_once_all_sheets_are_known(page: Page, given: Callable) -> None:
    given("album-pages-8", 6)  # two pages, of four openings and of one
    counts = page.get_by_role("region", name="Pile").get_by_text(re.compile("^6 photos"))
    expect(counts).to_have_text("6 photos, 1 unused")
    let_go = held(page, r"/api/parts/fillings$")
    page.reload()
    expect(counts).to_have_text("6 photos")
    let_go()
    expect(counts).to_have_text("6 photos, 1 unused")


def test_nothing_moves_as_pictures_come(page: Page, given: Callable) -> None:
    """Of the bench's strip of sheets and of dispatch: a click that was aimed at something hits it."""
    given("card-portrait", 2)
    for open_it, what in (
        (page.reload, page.get_by_role("button", name=re.compile("^Page "))),
        (page.get_by_role("link", name="Dispatch").click, page.locator("figcaption")),
    ):
        let_go = held(page, r"/picture\?")
        open_it()
        expect(what).to_have_count(2)
        there = [one.bounding_box() for one in what.all()]
        let_go()
        for picture in page.get_by_role("img").all():
            expect(picture).not_to_have_js_property("naturalWidth", 0)
        assert [one.bounding_box() for one in what.all()] == there


@pytest.mark.parametrize(("key", "room"), [("c", "photo-room"), ("r", "retouch-view")])
def test_the_photo_room_opens_before_its_photo_is_known(page: Page, given: Callable, key: str, room: str) -> None:
    given("collage-shore", 6)
    let_go = held(page, r"/api/photos$")
    page.reload()
    hole(page, 1).click()
    page.keyboard.press(key)
    let_go()
    expect(page.get_by_test_id(room)).to_be_visible()


def test_after_a_click_on_a_tab_a_slider_or_a_tick_the_benchs_keys_work(page: Page, given: Callable) -> None:
    given("collage-shore", 6)
    hole(page, 1).click()
    for click in (
        lambda: part(page, "Tone"),
        lambda: page.get_by_role("checkbox", name="Exposure").check(),
        lambda: page.get_by_role("slider", name="Exposure").locator("xpath=../..").click(position={"x": 40, "y": 8}),
        lambda: page.get_by_text("Findings", exact=False).first.click(),
        lambda: tick(page, "Cut lines"),
    ):
        click()
        before = float(zoom(page, 1)) if page.get_by_role("table", name="Ledger").count() else None
        page.keyboard.press("+")
        page.keyboard.press("ArrowRight")
        settled(page)
        if before:
            expect(page.get_by_role("table", name="Ledger").locator("tbody tr").first).to_contain_text(
                f"{before * 1.02:.2f}"[:4]
            )
    page.keyboard.press("k")
    assert is_ticked(page, "Keep areas")


def test_typed_numbers_and_undo_inside_a_field(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    page.keyboard.press("+")
    settled(page)
    before = job.placements()["shore"]
    field = page.get_by_label("Zoom ×")
    field.click()
    field.press("Control+a")
    page.keyboard.type("1,5")
    assert job.placements()["shore"] == before  # nothing is kept while it is typed
    page.keyboard.press("Control+z")  # the typing's, not the bench's
    assert job.placements()["shore"] == before
    assert field.input_value() != "1,5"
    page.keyboard.press("Control+a")
    page.keyboard.type("1,5")
    page.keyboard.press("Enter")
    settled(page)
    assert job.placements()["shore"]["zoom"] == pytest.approx(1.5)
    for typed, kept in (("0.5", 1.0), ("120", 50.0), ("", 50.0), ("2.25", 2.25)):
        field.click()
        field.press("Control+a")
        page.keyboard.press("Delete")
        page.keyboard.type(typed)
        page.keyboard.press("Tab")
        settled(page)
        assert job.placements()["shore"]["zoom"] == pytest.approx(kept), typed
    turn = page.get_by_label("Turn °")
    turn.click()
    turn.press("Control+a")
    page.keyboard.type("-12.5")
    page.keyboard.press("Enter")
    settled(page)
    assert job.placements()["shore"]["turn_deg"] == pytest.approx(-12.5)
    # Keys of the bench are never typed into a field by mistake, nor typing taken for them.
    turn.press("m")
    assert job.placements()["shore"]["mirror"] is False


def test_escape_cancels_a_pull(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    for _ in range(8):
        page.keyboard.press("+")
    settled(page)
    before = job.placements()["shore"]
    x, y = middle(page, 1)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y + 10, steps=4)
    expect(page.get_by_test_id("draft")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("draft")).to_have_count(0)
    page.mouse.move(x + 60, y + 20)
    page.mouse.up()
    settled(page)
    assert job.placements()["shore"] == before
    expect(page.get_by_role("button", name="Mirror")).to_be_visible()  # it is still selected
    part(page, "Surface")
    knob = page.get_by_test_id("corner-0-0").bounding_box()
    assert knob
    where = job.layer("shore")["surface"]
    page.mouse.move(knob["x"] + 12, knob["y"] + 12)
    page.mouse.down()
    page.mouse.move(knob["x"] + 60, knob["y"] + 40, steps=4)
    page.keyboard.press("Escape")
    page.mouse.up()
    assert job.layer("shore")["surface"] == where


# --- history, editions, the shelf -----------------------------------------------------------------------------------


def test_history_shows_names_and_goes_back_branches_too(page: Page, given: Callable) -> None:
    job = given("collage-shore", 6)
    hole(page, 1).click()
    page.keyboard.press("m")
    settled(page)
    mirrored = job.placements()
    page.keyboard.press("Control+z")
    page.keyboard.press("Delete")
    settled(page)
    page.get_by_role("button", name="History").click()
    states = page.get_by_role("list", name="States").get_by_role("listitem")
    expect(states.first).to_contain_text("clear 1")
    expect(states.nth(1)).to_contain_text("undone")
    states.nth(1).get_by_role("button").first.click()
    page.get_by_label("Name of this state").fill("Mirrored, as Ola liked it")
    page.keyboard.press("Enter")
    expect(states.nth(1)).to_contain_text("Mirrored, as Ola liked it")
    page.get_by_role("button", name="Go to this state").click()
    expect(states.nth(1)).to_contain_text("current")
    page.get_by_role("button", name="Close").click()
    assert job.placements() == mirrored


def test_an_edition_for_the_next_customer(page: Page, given: Callable) -> None:
    job = given("card-portrait", 4)
    page.get_by_role("button", name="Page 2, Inside").click()
    page.get_by_role("button", name="Add edition").click()
    page.get_by_role("menuitem", name="Duplicate edition…").click()
    page.get_by_role("textbox", name="Name", exact=True).fill("Brandvik")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Brandvik", exact=True)).to_be_visible()
    page.get_by_role("button", name="Words: greeting").click()
    page.locator("#words-greeting").fill("For Ola")
    expect(page.locator("[data-kept=true]")).to_be_attached()
    page.reload()
    expect(page.locator("#words-greeting")).to_have_value("For Ola")
    page.get_by_role("button", name="Brandvik", exact=True).click()
    page.get_by_role("menuitem", name="First").click()
    expect(page.get_by_role("list", name="Words")).to_contain_text("greetingnot written yet")
    found = job.state()
    assert "inside" not in found["fillings"] or not found["fillings"]["inside"]["texts"]


def test_a_shelf_of_many_jobs(page: Page, base_url: str) -> None:
    body = {"template": "mockup-wall", "lab": "gullwing-300"}
    for n in range(90):
        page.request.post(f"{base_url}/api/jobs", data={**body, "name": f"Order {n:03d}", "customer": f"Family {n % 7}",
                                                        "order_number": f"S-{9000 + n}"})  # fmt: skip
    page.goto(base_url)
    jobs = page.get_by_role("region", name="Jobs")
    expect(jobs.get_by_role("link", name=re.compile("Order 089"))).to_be_visible()
    assert jobs.get_by_role("link").count() < 40  # only those in view are drawn
    page.get_by_label("Sorted by").select_option(label="by name")
    expect(jobs.get_by_role("link").first).to_be_visible()
    jobs.locator("[class*=list]").evaluate("(list) => { list.scrollTop = list.scrollHeight }")
    page.wait_for_timeout(600)
    jobs.locator("[class*=list]").evaluate("(list) => { list.scrollTop = list.scrollHeight }")
    page.get_by_label("Find a job").fill("s-9042")
    expect(jobs.get_by_role("link")).to_have_count(1)
    expect(jobs.get_by_role("link")).to_contain_text("Order 042")
    page.get_by_role("button", name="More for Order 042").click()
    page.get_by_role("menuitem", name="Archive").click()
    expect(page.get_by_text("No job matches all these words.")).to_be_visible()
    page.get_by_text("Archived", exact=True).click()
    expect(jobs.get_by_role("link")).to_contain_text("Order 042")
    page.get_by_role("button", name="More for Order 042").click()
    page.get_by_role("menuitem", name="New job from this…").click()
    page.get_by_label("Job name").fill("Order 042, next year")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Order 042, next year")).to_be_visible()


def test_the_passphrase_opens_the_door(browser: Browser, tmp_path: Path) -> None:
    port = free_port()
    server = Served(tmp_path, port, passphrase="three days of wind")
    context = browser.new_context(base_url=f"http://127.0.0.1:{port}", viewport={"width": 1280, "height": 800})
    try:
        page = context.new_page()
        page.goto("/")
        page.get_by_label("Passphrase of this studio").fill("not this one")
        page.keyboard.press("Enter")
        expect(page.get_by_text("This is not the passphrase of this studio.")).to_be_visible()
        page.get_by_label("Passphrase of this studio").fill("three days of wind")
        page.keyboard.press("Enter")
        expect(page.get_by_role("article", name="Three days of wind")).to_be_visible()
        page.reload()
        expect(page.get_by_role("article", name="Three days of wind")).to_be_visible()
    finally:
        context.close()
        server.end(signal.SIGTERM)


def test_two_hundred_sheets(page: Page, base_url: str, job_of: Callable[[str], Job], tmp_path: Path) -> None:
    """Only sheets in view are drawn and asked for; keys and reload stay where one is."""
    one = job_of("collage-shore")
    sheets = tuple(one.sheets[0].copy_with(id=f"s{n + 1:03d}", name=f"Leaf {n + 1}") for n in range(200))
    write_bundle(tmp_path / "book.sutaru", one.copy_with(sheets=sheets), lambda photo: b"", SHELF.asset)
    job = page.request.post(f"{base_url}/api/jobs/from-bundle", data=(tmp_path / "book.sutaru").read_bytes()).json()
    pictures: list[str] = []
    page.on("request", lambda request: pictures.append(request.url) if "/picture" in request.url else None)
    page.goto(f"{base_url}/jobs/{job['id']}")
    strip = page.get_by_role("navigation", name="Pages")
    expect(strip.get_by_role("button", name="Page 1, Leaf 1", exact=True)).to_have_attribute("aria-current", "page")
    assert strip.get_by_role("button").count() < 20
    assert len(set(pictures)) < 24
    strip.evaluate("(list) => { list.scrollTop = list.scrollHeight }")
    strip.get_by_role("button", name="Page 200, Leaf 200").click()
    expect(page.get_by_alt_text("Leaf 200 as it will print")).to_be_visible()
    page.keyboard.press("PageUp")
    expect(page.get_by_alt_text("Leaf 199 as it will print")).to_be_visible()
    page.reload()
    expect(page.get_by_alt_text("Leaf 199 as it will print")).to_be_visible()
    expect(strip.get_by_role("button", name="Page 199, Leaf 199")).to_be_visible()
    assert strip.get_by_role("button").count() < 20


def test_nothing_on_the_shelf_moves_once_it_can_be_clicked(page: Page, base_url: str) -> None:
    """A face that comes late would move what a hand is about to click: press and release then meet different things."""
    slowed(page, r"\.ttf$", 600)
    page.goto(base_url)
    template = page.get_by_role("article", name="Eighteen on a spread")
    template.wait_for()
    first = template.bounding_box()
    page.evaluate("() => document.fonts.ready")
    page.wait_for_timeout(1500)
    assert template.bounding_box() == first
    page.unroute_all(behavior="wait")


def test_a_menu_that_cannot_be_fetched_comes_once_it_can(
    page: Page, base_url: str, given: Callable[..., Given]
) -> None:
    """What floats over the shelf is fetched after it: a server that is away just then breaks no screen."""
    given("collage-shore", 0, fill=False)
    lost = re.compile(r"/assets/(JobMenu|TemplateMenu|Notices)-.*\.js$")
    page.route(lost, lambda route: route.abort("connectionrefused"))
    page.goto(base_url)
    expect(page.get_by_role("region", name="Jobs").get_by_role("link").first).to_be_visible()
    page.wait_for_timeout(1500)
    expect(page.get_by_text("This screen broke")).to_have_count(0)
    expect(page.get_by_role("button", name="New book")).to_be_visible()
    page.unroute(lost)
    expect(page.get_by_role("button", name=re.compile("^More for ")).first).to_be_visible(timeout=15_000)
