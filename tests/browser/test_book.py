"""Books in the real browser: from nothing to print files in few gestures; pages looked at, layouts tried, photos carried."""

import contextlib
import json
import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Browser, Error, Locator, Page, Route, expect

from tests.api import asking
from tests.api.asking import Pile
from tests.browser.acting import bring, choose, held, let_pass, settled, until, violations
from tests.browser.given import Asked, Counted, Given

BOOK = {"size": "square-8", "paper": "matt-200", "binding": "hard", "theme": "shoreline", "pages": 20, "title": "Dunes"}

WHOLE = "all => all.every((one) => one.complete && one.naturalWidth > 0)"


def sheet(page: Page, name: str) -> Locator:
    return page.locator(f"[data-name='{name}']")


def layout(job: Given, sheet: str) -> dict:
    listed = asking.part(Asked(job.page), "sheets", job.state()["job"]["sheets"])["sheets"]
    return asking.part(Asked(job.page), "layouts", next(one["layout"] for one in listed if one["id"] == sheet))


def photos(job: Given, sheet: str) -> list[str]:
    return sorted(placement["photo"] for placement in job.state()["placements"][sheet].values())


def pictured(page: Page) -> None:
    """Nothing moves any more because a picture came."""
    expect(page.locator("[data-sheet] img").first).to_be_attached()
    page.wait_for_function("() => [...document.images].every((one) => one.complete)")


@pytest.fixture
def laid(page: Page, base_url: str, pile: Pile) -> Given:
    """A book of twenty pages with twenty photos, laid out."""
    body = {"name": "Dunes", "customer": "Ola", "lab": "gullwing-300", "book": BOOK}
    job = Given(page, page.request.post(f"{base_url}/api/jobs", data=body).json()["id"])
    for path, _ in pile[:20]:
        page.request.post(f"{base_url}/api/jobs/{job.id}/photos?name={path.name}", data=path.read_bytes())
    task = page.request.post(
        f"{base_url}/api/jobs/{job.id}/plans", data={"wishes": {"pages": 20, "likes": True}}
    ).json()
    while task["state"] in ("queued", "running"):
        page.wait_for_timeout(200)
        task = page.request.get(f"{base_url}/api/tasks/{task['id']}").json()
    plan = page.request.get(f"{base_url}/api/plans/{task['id']}").json()["plan"]
    assert asking.edit(Asked(page), job.id, op="lay_book", plan=plan).status_code == 200
    return job


def test_a_book_of_24_pages_from_nothing_goes_out(page: Page, base_url: str, pile: Pile, tmp_path: Path) -> None:
    does = Counted(page)
    page.goto(base_url)
    does.click(page.get_by_role("button", name="New book"))
    page.get_by_label("Title").fill("Skerry Sands")
    does.click(page.get_by_text("Bright wind", exact=True))
    choose(page, "Binding", "Hard cover")
    page.get_by_label("Pages").fill("24")
    page.get_by_label("Pages").press("Enter")
    expect(page.get_by_text("20 to 220 pages, in steps of 4")).to_be_visible()
    expect(page.get_by_alt_text("A spread in Bright wind").first).to_be_visible()
    page.wait_for_function("() => [...document.querySelectorAll('[role=dialog] img')].every((one) => one.naturalWidth)")
    assert violations(page) == []
    does.click(page.get_by_role("button", name="Create book"))
    expect(page.get_by_role("list", name="Sheets in order").get_by_role("button")).to_have_count(14)
    page.get_by_role("link", name="Back to the bench").click()
    bring(page, [path for path, _ in pile])
    expect(page.get_by_text("24 photos brought in")).to_be_visible()
    page.get_by_role("link", name="Flat plan").click()
    does.click(page.get_by_role("button", name="Auto layout…"))
    keep = page.get_by_role("button", name="Apply layout")
    expect(keep).to_be_enabled(timeout=90_000)
    expect(page.get_by_role("status").filter(has_text="24 pages")).to_be_visible()
    assert violations(page) == []
    # Another as good comes for the asking, and the first one is not kept by mistake.
    does.click(page.get_by_role("button", name="Shuffle"))
    expect(keep).to_be_disabled()
    expect(keep).to_be_enabled(timeout=90_000)
    does.click(keep)
    settled(page)
    expect(page.get_by_text("0 of 0 openings")).to_have_count(0)
    does.check("A book of 24 pages from nothing, its photos being in")
    page.get_by_role("link", name="Dispatch").click()
    let_pass(page)
    page.get_by_role("button", name="Export 14 pages").click()
    with page.expect_download(timeout=180_000) as download:
        page.get_by_role("link", name="Skerry-Sands_01.jpg").click(timeout=180_000)
    download.value.save_as(tmp_path / "cover.jpg")
    # 24 pages: 12 leaves of 0.15 mm and 5 mm of boards; a turn-in of 18 mm all round.
    wide = 2 * (203.2 + 8) + 6.8 + 36
    with Image.open(tmp_path / "cover.jpg") as written:
        assert written.size == (round(wide / 25.4 * 300), round((203.2 + 36) / 25.4 * 300))


def test_pages_are_turned_and_a_proof_comes_back_with_remarks(
    laid: Given, page: Page, base_url: str, tmp_path: Path
) -> None:
    asked: set[str] = set()
    page.on("request", lambda request: asked.add(request.url) if "width=1600" in request.url else None)
    page.goto(f"{base_url}/jobs/{laid.id}/book")
    expect(page.get_by_text("Cover, 1 of 12")).to_be_visible()
    until(page, lambda: len(asked) == 2)  # the sheet beside is at hand before one turns to it
    expect(page.get_by_text("The inside of the cover stays blank")).to_be_visible()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("Pages 2 and 3, 3 of 12")).to_be_visible()
    page.keyboard.press("End")
    expect(page.get_by_text("Page 20, 12 of 12")).to_be_visible()
    assert violations(page) == []
    with page.expect_download() as download:
        page.get_by_role("link", name="Proof for the customer").click()
    proof, remarks = tmp_path / "proof.html", tmp_path / "remarks.json"
    download.value.save_as(proof)
    page.keyboard.press("Escape")
    expect(page).to_have_url(re.compile(r"/plan"))
    # The customer opens it from the disk, with no server.
    page.goto(proof.as_uri())
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("Pages 2 and 3, 3 of 12")).to_be_visible()
    page.locator("#sheet").click(position={"x": 300, "y": 90})
    page.keyboard.type("Please, the other kite")
    page.get_by_label("Your name").fill("Runa")
    page.reload()
    expect(page.get_by_role("textbox", name="1. Pages 2 and 3")).to_have_value("Please, the other kite")
    assert violations(page) == []
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the remarks as a file").click()
    download.value.save_as(remarks)
    assert json.loads(remarks.read_text())["remarks"][0]["sheet"] == "pages-2"
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_role("button", name="Remarks", exact=True).click()
    page.locator("aside input[type=file]").set_input_files(remarks)
    expect(page.get_by_text("Please, the other kite")).to_be_visible()
    expect(page.get_by_role("button", name="Remarks: 1 open")).to_be_visible()
    assert violations(page) == []
    page.get_by_label("Done (Runa)").click()
    expect(page.get_by_role("button", name="Remarks", exact=True)).to_be_visible()
    expect(page.get_by_label("Done (Runa)")).to_be_checked()


def test_layouts_whose_answers_cross_end_with_the_one_asked_for_last(laid: Given, page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    held: list[Route] = []

    def late(route: Route) -> None:
        """The first answer is held back until a later one is here."""
        if held:
            route.continue_()
        else:
            held.append(route)

    page.route("**/plans", late)
    page.get_by_role("button", name="Auto layout…").click()
    until(page, lambda: bool(held))
    page.get_by_role("button", name="Shuffle").click()
    keep = page.get_by_role("button", name="Apply layout")
    expect(keep).to_be_enabled(timeout=90_000)
    with contextlib.suppress(Error):  # the page may have given it up already
        held[0].continue_()
    page.wait_for_timeout(1500)  # nothing of what comes late is shown, and what was asked for last is not stopped by it
    expect(keep).to_be_enabled()
    # What another window's layout of the same book has stopped is said, and asked for again.
    page.unroute("**/plans")

    first: list[str] = []  # the task that is stopped; the one that is asked for again is another

    def stopped(route: Route) -> None:
        tasks = route.fetch().json()
        for task in tasks:
            if task["kind"] == "plan" and task["asked"]["wishes"]["seed"] == 2:
                first[:] = first or [task["id"]]
                task["state"] = "stopped" if task["id"] in first else task["state"]
        route.fulfill(json=tasks)

    page.route("**/tasks", stopped)
    page.get_by_role("button", name="Shuffle").click()
    expect(page.get_by_text("Another window has asked for a layout of this book meanwhile.")).to_be_visible()
    expect(keep).to_be_disabled()
    page.get_by_role("button", name="Try again").click()
    expect(keep).to_be_enabled(timeout=90_000)
    page.unroute_all(behavior="wait")  # until what is under way is answered


def test_photos_are_carried_from_sheet_to_sheet(laid: Given, page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_label("Show photos").check()
    pictured(page)
    first = sheet(page, "Pages 2 and 3")
    rows = page.get_by_role("listitem").filter(has=first)
    taken = rows.get_by_role("button", name="Take ").first
    name = taken.get_attribute("title") or ""
    # Pulled onto the right page of another sheet.
    onto = sheet(page, "Pages 6 and 7")
    there = page.get_by_role("listitem").filter(has=onto)
    expect(there.get_by_role("button", name="Take ").first).to_be_visible()
    before = there.get_by_role("button", name="Take ").count()
    box = onto.bounding_box()
    assert box
    taken.drag_to(onto, target_position={"x": 0.75 * box["width"], "y": 60})
    expect(there.get_by_role("button", name=f"Take {name}")).to_be_visible()
    expect(there.get_by_role("button", name="Take ")).to_have_count(before + 1)
    expect(rows.get_by_role("button", name=f"Take {name}")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(rows.get_by_role("button", name=f"Take {name}")).to_be_visible()
    # Exchanged with another by clicks alone.
    rows.get_by_role("button", name=f"Take {name}").click()
    expect(page.get_by_text(f"Moving {name}")).to_be_visible()
    assert violations(page) == []
    other = there.get_by_role("button", name="Exchange with ").first
    met = other.get_attribute("title") or ""
    other.click()
    expect(rows.get_by_role("button", name=f"Take {met}")).to_be_visible()
    expect(there.get_by_role("button", name=f"Take {name}")).to_be_visible()


def test_a_key_tries_the_next_layout_and_photos_go_along(laid: Given, page: Page, base_url: str) -> None:
    # Two photos on one page: there are several ways to lay them.
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_label("Show photos").check()
    pictured(page)
    target = page.get_by_role("listitem").filter(has=sheet(page, "Pages 2 and 3"))
    source = page.get_by_role("listitem").filter(has=sheet(page, "Pages 4 and 5"))
    expect(target.get_by_role("button", name="Take ").first).to_be_visible()
    count = target.get_by_role("button", name="Take ").count()
    name = source.get_by_role("button", name="Take ").first.get_attribute("title") or ""
    source.get_by_role("button", name=f"Take {name}").click()
    sheet(page, "Pages 2 and 3").click(position={"x": 40, "y": 40})
    expect(target.get_by_role("button", name=f"Take {name}")).to_be_visible()
    expect(target.get_by_role("button", name="Take ")).to_have_count(count + 1)
    page.goto(f"{base_url}/jobs/{laid.id}?sheet=pages-2")
    expect(page.get_by_test_id("sheet")).to_be_visible()
    shown = photos(laid, "pages-2")
    page.get_by_role("button", name="Layouts").click()
    choices = page.get_by_role("button", name=re.compile(r"^Layout \d"))
    expect(choices.first).to_be_visible()
    assert choices.count() > 2
    assert violations(page) == []
    page.keyboard.press("Escape")
    expect(choices).to_have_count(0)
    seen = set()
    for _ in range(3):
        page.keyboard.press("l")
        settled(page)
        seen.add(json.dumps(layout(laid, "pages-2")["layers"]))
    assert len(seen) == 3
    page.keyboard.press("Shift+L")
    settled(page)
    assert json.dumps(layout(laid, "pages-2")["layers"]) in seen
    assert photos(laid, "pages-2") == shown


def test_themes_lie_where_they_will_be_before_their_pictures_come(laid: Given, page: Page, base_url: str) -> None:
    """Press and release of a click would meet different things otherwise."""
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    let_go = held(page, r"/themes/[^/]+/picture")
    page.get_by_role("button", name="Theme…").click()
    theme = page.get_by_text("Lantern night", exact=True)
    theme.wait_for()
    expect(page.get_by_role("dialog")).to_have_css("opacity", "1")  # it has come up; its pictures have not
    first = theme.bounding_box()
    pictures = page.get_by_role("radiogroup", name="Theme").locator("img")
    assert not pictures.evaluate_all(WHOLE)
    let_go()
    until(page, lambda: pictures.evaluate_all(WHOLE))
    assert theme.bounding_box() == first
    # What the dialog is answered by is in sight, however much there is above it.
    page.set_viewport_size({"width": 1024, "height": 600})
    expect(page.get_by_role("button", name="Apply to all pages")).to_be_in_viewport(ratio=1)


def test_a_book_is_made_longer_dressed_and_bound_otherwise(laid: Given, page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_role("button", name="Add 4 pages").click()
    page.get_by_role("menuitem", name="In the middle").click()
    expect(page.get_by_text("14 sheets")).to_be_visible()
    expect(page.get_by_role("menu")).to_have_count(0)
    page.get_by_role("button", name="Binding…").click()
    expect(page.get_by_text("The spine is 7.6 mm wide now.")).to_be_visible()
    choose(page, "Paper", "Photo 260 g, 0.28 mm a leaf")
    expect(page.get_by_text("The spine is 8.4 mm wide now.")).to_be_visible()
    assert violations(page) == []
    page.keyboard.press("Escape")
    page.get_by_label("Backgrounds and ornaments", exact=True).check()
    pictured(page)
    assert violations(page) == []
    page.get_by_role("button", name="Ground 2").drag_to(sheet(page, "Pages 4 and 5"))
    settled(page)
    assert layout(laid, "pages-3")["layers"][0]["colour"] == "swatch Soft"
    page.get_by_role("button", name="Ornament rokkaku").drag_to(
        sheet(page, "Pages 4 and 5"), target_position={"x": 60, "y": 60}
    )
    for _ in range(100):  # its drawing is asked for first
        added = layout(laid, "pages-3")["layers"][-1]
        if added["kind"] == "ornament":
            break
        page.wait_for_timeout(200)
    assert added["name"] == "rokkaku"
    assert 20 < added["centre"][0] < 150
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    settled(page)
    page.get_by_role("button", name="Theme…").click()
    page.get_by_text("Lantern night", exact=True).click()
    page.get_by_role("button", name="Apply to all pages").click()
    settled(page)
    assert layout(laid, "pages-3")["swatches"]["Paper"] == "#141d2e"
    page.keyboard.press("Control+z")
    settled(page)
    assert layout(laid, "pages-3")["swatches"]["Paper"] == "#fdfcf8"


def test_a_book_is_made_in_another_size(laid: Given, page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_role("button", name="Another size…").click()
    choose(page, "Page size", "12 × 8 in")
    name = page.get_by_role("textbox", name="Job name")
    expect(name).to_have_value(re.compile(r", 12 × 8 in$"))
    assert violations(page) == []
    page.get_by_role("button", name="Create job").click()
    page.wait_for_url(lambda url: laid.id not in url and url.endswith("/plan"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("12 × 8 in")
    expect(sheet(page, "Pages 2 and 3")).to_be_visible()


def test_a_customer_writes_and_approves_by_a_link(laid: Given, page: Page, base_url: str, browser: Browser) -> None:
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_role("button", name="Remarks", exact=True).click()
    page.get_by_role("button", name="Create link").click()
    expect(page.get_by_text("Waiting for the customer")).to_be_visible()
    link = page.evaluate("navigator.clipboard.readText()")
    assert link.startswith(f"{base_url}/p/")
    assert violations(page) == []
    phone = browser.new_context(viewport={"width": 390, "height": 780})
    customer = phone.new_page()
    customer.goto(link)
    customer.keyboard.press("ArrowRight")
    customer.keyboard.press("ArrowRight")
    customer.locator("#sheet").click(position={"x": 60, "y": 40})
    customer.keyboard.type("Please, the other kite")
    assert violations(customer) == []
    customer.get_by_role("button", name="Approve for printing").click()
    expect(customer.get_by_text("Write your name first.")).to_be_visible()
    customer.get_by_label("Your name").fill("Runa")
    customer.get_by_role("button", name="Send remarks").click()
    expect(customer.get_by_text("Sent. Thank you.")).to_be_visible()
    expect(page.get_by_text("Please, the other kite")).to_be_visible()  # with nothing done in the studio
    customer.get_by_role("button", name="Send remarks").click()
    expect(customer.get_by_text("These remarks were sent already.")).to_be_visible()
    customer.get_by_role("textbox", name="1. Pages 2 and 3").fill("No, the green one")  # after it was sent
    customer.get_by_role("button", name="Send remarks").click()
    expect(page.get_by_text("No, the green one")).to_be_visible()
    expect(page.get_by_text("Please, the other kite")).to_be_visible()
    customer.once("dialog", lambda dialog: dialog.accept())
    customer.get_by_role("button", name="Approve for printing").click()
    expect(customer.get_by_text("Thank you. The studio has your approval.")).to_be_visible()
    expect(page.get_by_text(re.compile("Approved by Runa"))).to_be_visible()
    page.get_by_role("button", name="Remove").click()
    expect(page.get_by_text(re.compile("Approved by Runa"))).to_have_count(0)
    customer.reload()
    expect(customer.get_by_text("This link is not valid any more")).to_be_visible()
    phone.close()


def test_a_style_of_layout_is_saved_and_chosen_again(laid: Given, page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/{laid.id}/plan")
    page.get_by_role("button", name="Auto layout…").click()
    page.get_by_label("Chapters with titles").check()
    page.get_by_role("slider", name="White space").focus()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    white = page.get_by_role("slider", name="White space").get_attribute("aria-valuenow")
    page.get_by_role("button", name="Save style…").click()
    page.get_by_label("Style name").fill("Airy")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("combobox", name="Style")).to_have_value("Airy")
    expect(page.get_by_role("button", name="Apply layout")).to_be_enabled()  # what is not of these settings is dimmed
    assert violations(page) == []
    page.reload()
    page.get_by_role("button", name="Auto layout…").click()
    expect(page.get_by_label("Chapters with titles")).not_to_be_checked()
    choose(page, "Style", "Airy")
    expect(page.get_by_label("Chapters with titles")).to_be_checked()
    expect(page.get_by_role("slider", name="White space")).to_have_attribute("aria-valuenow", white or "")
    page.get_by_role("button", name="Delete style Airy").click()
    expect(page.get_by_role("button", name="Delete style Airy")).to_have_count(0)
